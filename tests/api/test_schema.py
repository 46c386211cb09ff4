"""The API attacked with inputs made from its own schema, on a real database with the demo in it."""

import json
from collections import Counter
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.generation.feedback import FeedbackSources
from schemathesis.pytest._test_builder import build_operation_test
from schemathesis.specs.openapi.checks import missing_required_header, positive_data_acceptance, unsupported_method

from tests.depth import DEEP, long
from vellumcut.api.app import create_app
from vellumcut.demo.scenario import load_demo
from vellumcut.service.body import traces
from vellumcut.service.keeping import builds
from vellumcut.standins.casts import demo_scene
from vellumcut.store.database import Store

NOT_MEANT = [missing_required_header, unsupported_method, positive_data_acceptance]
"""The craft refuses much that has the right shape, so "valid data is accepted" does not hold and need not."""

EXAMPLES = 6
"""Of each operation; `make attack` sends many more to a real server."""

FIRST, THEN = 25, 25
"""Of the cases that cover every bound of an operation's schema, ``make test`` asks so many and then one in so many: the
design of a piece alone has 2,200, and is taken in by two operations. ``make deep`` asks all."""

PATIENCE = 120
"""The first rig of a costume lays every piece of it: seconds for that on a machine that is busy."""

ROUTES = [
    pytest.param(path, method, id=f"{method.upper()} {path}")
    for path, route in json.loads((Path(__file__).parents[2] / "web" / "openapi.json").read_text())["paths"].items()
    for method in route
]
"""Of the file that ``make lint`` holds against the program: who looks for tests needs no program for it."""

seen: Counter[str] = Counter()


@pytest.fixture(scope="module")
def schema(tmp_path_factory):
    store = Store(tmp_path_factory.mktemp("schema"))
    load_demo(store)
    if not DEEP:
        # A costume of four pieces is laid sooner than one of nine, and asks the same of every operation.
        for piece in builds.list_pieces(store, 1):
            if piece.id not in (1, 2, 5, 8):
                builds.remove_piece(store, piece.id)
    monkeypatch = pytest.MonkeyPatch()
    # Every cast that is asked for is photographed: small pictures, or most of this file's time goes into light.
    monkeypatch.setattr(traces, "demo_scene", lambda seed: demo_scene(seed).with_shot(size=(1200, 900)))
    app = create_app(store)
    made = schemathesis.openapi.from_dict(app.openapi())
    made.app = app
    yield made
    monkeypatch.undo()
    store.close()


def test_every_route_is_attacked(schema):
    assert {o.ok().label for o in schema.get_all_operations()} == {r.id for r in ROUTES}


@long
@pytest.mark.parametrize(("path", "method"), ROUTES)
def test_no_input_breaks_the_server_and_answers_keep_the_schema(schema, path, method):
    # What ``schema.parametrize`` does, but when the test runs: the cases of all operations take long to make, and every
    # process that looks for tests would make them all.
    build_operation_test(
        config=schema.config,
        operation=schema[path][method],
        test_func=ask,
        given_kwargs={},
        feedback=FeedbackSources(),
        explicit_settings=settings(
            max_examples=EXAMPLES if DEEP else 1, deadline=None, suppress_health_check=list(HealthCheck)
        ),
    )()


def ask(case: schemathesis.Case) -> None:
    seen[case.operation.label] += 1
    nth = seen[case.operation.label]
    if not DEEP and nth > FIRST and nth % THEN:
        return
    response = case.call(base_url="http://127.0.0.1:8765", timeout=PATIENCE)
    assert response.status_code < 500
    case.validate_response(response, excluded_checks=NOT_MEANT)
