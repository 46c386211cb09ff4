"""Errors as RFC 9457 problem details, in sentences."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import ValidationError
from starlette.exceptions import HTTPException

from vellumcut.api.schemas import ProblemField, ProblemOut
from vellumcut.core.body.readings import Question
from vellumcut.core.errors import CraftError
from vellumcut.formats.problems import Problem, describe, plain_problems
from vellumcut.service.errors import NotFound, Overtaken, Unsure

ANSWERS: dict[int | str, dict[str, Any]] = {
    status: {
        "description": words,
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemOut"}}},
    }
    for status, words in (
        (400, "Not JSON"),
        (403, "Not from this machine"),
        (404, "Not here"),
        (412, "Changed in another window"),
        (413, "Too large"),
        (422, "Cannot be used"),
    )
}


AS_ANSWER = "problem-as-answer"
"""``Prefer`` of our own pages: browsers write every refused request on their console as an error, but a question
to the maker is none. The body is the same problem; only the status line says 200."""


def _answer(
    request: Request, status: int, title: str, problems: list[Problem], questions: list[Question] | None = None
) -> JSONResponse:
    detail = "; ".join(p.message for p in problems)
    body = ProblemOut(
        title=title,
        status=status,
        detail=detail,
        fields=[ProblemField(field=p.field, message=p.message) for p in problems],
        questions=questions or [],
    )
    shown = 200 if status in (409, 412, 422) and request.headers.get("prefer") == AS_ANSWER else status
    return JSONResponse(body.model_dump(mode="json"), shown, media_type="application/problem+json")


def install_problems(app: FastAPI) -> None:
    """Teach the application to answer every refusal the same way."""

    @app.exception_handler(CraftError)
    async def craft(request: Request, error: CraftError) -> JSONResponse:
        return _answer(request, 422, "This cannot be made", plain_problems(error))

    @app.exception_handler(NotFound)
    async def missing(request: Request, error: NotFound) -> JSONResponse:
        return _answer(request, 404, "Not here", [Problem("", str(error))])

    @app.exception_handler(Overtaken)
    async def overtaken(request: Request, error: Overtaken) -> JSONResponse:
        return _answer(request, 412, "Changed in another window", [Problem(error.what, str(error))])

    @app.exception_handler(Unsure)
    async def unsure(request: Request, error: Unsure) -> JSONResponse:
        problems = [Problem(q.field, q.message) for q in error.questions]
        return _answer(request, 422, "Is this right?", problems, error.questions)

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        items = error.errors()
        if any(item["type"] == "json_invalid" for item in items):
            return _answer(request, 400, "Not JSON", [Problem("", "What was sent is not valid JSON")])
        return _answer(request, 422, "This cannot be used", list(dict.fromkeys(describe(item) for item in items)))

    @app.exception_handler(ValidationError)
    async def stored(request: Request, error: ValidationError) -> JSONResponse:
        return _answer(request, 422, "This cannot be used", plain_problems(error))

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        return _answer(request, error.status_code, "Not possible", [Problem("", str(error.detail))])
