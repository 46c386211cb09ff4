"""The web application: the API under /api, the built front end for everything else."""

from collections.abc import Callable
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException

from vellumcut import __version__
from vellumcut.api.body import scans, traces, wearers
from vellumcut.api.deps import LARGEST
from vellumcut.api.guard import LARGEST_BODY, Guard
from vellumcut.api.keeping import builds, keeping, logbook, workshop
from vellumcut.api.making import bench, finish, foam
from vellumcut.api.pattern import darts, flats, ink, laid, patterns, pictures, regrade, solids, versions
from vellumcut.api.problems import install_problems
from vellumcut.api.rigging import rigs
from vellumcut.api.schemas import ProblemOut
from vellumcut.api.shop import cut_list, cutter, nest, supplies
from vellumcut.api.turns import Turns
from vellumcut.store.database import Store

_SHIPPED = Path(__file__).parents[1] / "pages"
FRONT_END = _SHIPPED if _SHIPPED.is_dir() else Path(__file__).parents[3] / "web" / "dist"
"""The built pages: in the package where it was built as a wheel, beside the sources otherwise."""
FOR_EVER = {"cache-control": "public, max-age=31536000, immutable"}


def create_app(store: Store, front_end: Path = FRONT_END) -> FastAPI:
    """store: an open data folder. front_end: folder of the built pages; may be missing in tests."""
    app = FastAPI(
        title="Vellumcut", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json"
    )
    app.state.store = store
    for part in (
        wearers,
        scans,
        traces,
        flats,
        builds,
        ink,
        pictures,
        patterns,
        versions,
        darts,
        laid,
        solids,
        cut_list,
        nest,
        cutter,
        supplies,
        foam,
        regrade,
        rigs,
        bench,
        finish,
        logbook,
        keeping,
        workshop,
    ):
        app.router.routes += part.router.routes
    install_problems(app)
    _describe_problems(app)
    app.add_middleware(Turns)
    app.add_middleware(Guard, largest=_bounds(app))

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        if path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address")
        wanted = _file_at(front_end, path)
        if wanted is not None:
            return FileResponse(wanted, headers=FOR_EVER if "assets" in wanted.parts else {})
        if not (front_end / "index.html").is_file():
            raise HTTPException(404, "The front end is not built yet; run make demo")
        return FileResponse(front_end / "index.html", headers={"cache-control": "no-cache"})

    return app


def _bounds(app: FastAPI) -> Callable[[str, str], int]:
    """The largest body that each route takes, as it says itself, bytes."""
    takers = [r for r in app.routes if isinstance(r, APIRoute) and LARGEST in (r.openapi_extra or {})]
    bounds = [(r.methods or set(), r.path_regex, int((r.openapi_extra or {})[LARGEST])) for r in takers]

    def largest(method: str, path: str) -> int:
        found = (most for methods, where, most in bounds if method in methods and where.match(path))
        return next(found, LARGEST_BODY)

    return largest


def _file_at(folder: Path, path: str) -> Path | None:
    """A file of the built pages; None for any other address, however odd."""
    try:
        wanted = (folder / path).resolve()
        return wanted if path and wanted.is_file() and wanted.is_relative_to(folder.resolve()) else None
    except (OSError, ValueError):
        return None


def _describe_problems(app: FastAPI) -> None:
    """Put the problem answer into the schema, which no route returns by itself."""
    plain = app.openapi

    def described() -> dict[str, object]:
        schema = plain()
        problem = ProblemOut.model_json_schema(ref_template="#/components/schemas/{model}")
        inner = problem.pop("$defs", {})
        schema["components"]["schemas"].update({**inner, "ProblemOut": problem})
        return schema

    app.openapi = described  # type: ignore[method-assign]
