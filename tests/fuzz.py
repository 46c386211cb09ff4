"""Requests made from the schema and files with random damage, sent to a real server: what of ``make attack`` is about
input."""

import contextlib
import io
import itertools
import random
import time
import zipfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import httpx
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable

from tests.api.test_ink_and_scans import packed
from tests.api.test_schema import NOT_MEANT
from tests.damage import damaged
from tests.formats.test_build_file import EXAMPLE
from tests.journeys.browser import Server
from tests.pictures import picture
from vellumcut.standins.made_up_body import BodyShape, made_up_body

PATIENCE = 60
"""Longest wait for one answer, s; what is promised is 10, and the slowest is printed."""


def fuzz(server: Server, requests: int) -> str:
    """As many requests as asked, spread over all operations; each answer must keep the schema, none may be a
    mistake."""
    schema = schemathesis.openapi.from_url(f"{server.address}/api/openapi.json")
    operations = [found.ok() for found in schema.get_all_operations()]
    answers: Counter[int] = Counter()
    slowest = 0.0

    def ask(case: schemathesis.Case) -> None:
        nonlocal slowest
        start = time.perf_counter()
        response = case.call(base_url=server.address, timeout=PATIENCE)
        slowest = max(slowest, time.perf_counter() - start)
        answers[response.status_code] += 1
        case.validate_response(response, excluded_checks=NOT_MEANT)

    each = settings(
        max_examples=-(-requests // (4 * len(operations))),
        deadline=None,
        database=None,
        suppress_health_check=list(HealthCheck),
        phases=[Phase.generate],
    )
    for operation in itertools.cycle(operations):
        if answers.total() >= requests:
            break
        with contextlib.suppress(Unsatisfiable):
            each(given(operation.as_strategy())(ask))()
    mistakes = sum(n for status, n in answers.items() if status >= 500)
    return f"{answers.total()} fuzzed requests: {mistakes} server errors, slowest answer {slowest:.1f} s"


def break_files(server: Server, count: int) -> str:
    """Whole files of every kind that is taken in, each damaged another way; answers are counted."""
    luck = random.Random(5)
    answers: Counter[int] = Counter()
    slowest = 0.0
    with httpx.Client(base_url=server.address, timeout=PATIENCE) as web:
        kinds = list(_whole_files(web))
        for path, whole in kinds:
            assert _send(web, path, whole).is_success, f"{path} refuses a whole file"
        for n in range(count):
            path, whole = kinds[n % len(kinds)]
            start = time.perf_counter()
            answer = _send(web, path, damaged(whole, luck))
            slowest = max(slowest, time.perf_counter() - start)
            answers[answer.status_code] += 1
            if answer.status_code >= 500:
                print(f"{path}: {answer.status_code} {answer.text[:200]}", flush=True)
    taken = sum(n for status, n in answers.items() if status < 300)
    mistakes = sum(n for status, n in answers.items() if status >= 500)
    return f"{count} broken files: {mistakes} server errors, {taken} harmless and taken, slowest answer {slowest:.1f} s"


def _send(web: httpx.Client, path: str, content: bytes) -> httpx.Response:
    """Tables go as the text that the browser reads out of the file, all else as it is."""
    if path.endswith("csv"):
        return web.post(path, json={"text": content.decode(errors="replace")})
    return web.post(path, content=content)


def _whole_files(web: httpx.Client) -> Iterator[tuple[str, bytes]]:
    build = web.get("/api/builds").json()[0]
    wearer, piece = build["wearer_id"], build["pieces"][0]["id"]
    points, faces = made_up_body(BodyShape(), 40.0)
    obj = "".join("v {:.1f} {:.1f} {:.1f}\n".format(*p) for p in points)
    obj += "".join("f {} {} {}\n".format(*(f + 1)) for f in faces)
    table = web.get(f"/api/wearers/{wearer}/measurements.csv").content
    bundle = packed(web, build["id"])
    yield "/api/builds/from-file", EXAMPLE.encode()
    yield "/api/builds/from-bundle", bundle
    yield "/api/builds/from-bundle", _packed_anew(bundle)
    yield "/api/backup/restore", web.get("/api/backup").content
    yield f"/api/wearers/{wearer}/measurements/from-csv", table
    yield f"/api/wearers/{wearer}/scans?name=broken.obj", obj.encode()
    yield f"/api/pieces/{piece}/picture?name=broken.png", picture()


def _packed_anew(archive: bytes) -> bytes:
    """Without compression, so that damage reaches what is inside."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(archive)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as new:
        for name in old.namelist():
            new.writestr(name, old.read(name))
    return out.getvalue()


def most_memory(server: Server) -> str:
    """What the server's own process held at most."""
    told = Path(f"/proc/{server.process.pid}/status").read_text()
    most = next(int(line.split()[1]) for line in told.splitlines() if line.startswith("VmHWM"))
    return f"the server held {most / 1024:.0f} MB at most"
