"""The API attacked with inputs made from its own schema, on a real database with the demo in it."""

import tempfile
from collections import Counter
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.specs.openapi.checks import missing_required_header, positive_data_acceptance, unsupported_method

from tests.depth import DEEP
from vellumcut.api.app import create_app
from vellumcut.demo.scenario import load_demo
from vellumcut.service.keeping import builds
from vellumcut.store.database import Store

NOT_MEANT = [missing_required_header, unsupported_method, positive_data_acceptance]
"""The craft refuses much that has the right shape, so "valid data is accepted" does not hold and need not."""

EXAMPLES = 6
"""Of each operation; `make attack` sends many more to a real server."""

FIRST, THEN = 120, 10
"""Of the cases that cover every bound of an operation's schema, ``make test`` asks so many and then one in so many: the
design of a piece alone has 2,200, and is taken in by two operations. ``make deep`` asks all."""

PATIENCE = 120
"""The first rig of a costume lays every piece of it: seconds for that on a machine that is busy."""

store = Store(Path(tempfile.mkdtemp(prefix="vellumcut-schema-")))
load_demo(store)
if not DEEP:
    # A costume of four pieces is laid sooner than one of nine, and asks the same of every operation.
    for piece in builds.list_pieces(store, 1):
        if piece.id not in (1, 2, 5, 8):
            builds.remove_piece(store, piece.id)
app = create_app(store)
schema = schemathesis.openapi.from_dict(app.openapi())
schema.app = app


seen: Counter[str] = Counter()


@schema.parametrize()
@settings(max_examples=EXAMPLES if DEEP else 1, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_input_breaks_the_server_and_answers_keep_the_schema(case):
    seen[case.operation.label] += 1
    nth = seen[case.operation.label]
    if not DEEP and nth > FIRST and nth % THEN:
        return
    response = case.call(base_url="http://127.0.0.1:8765", timeout=PATIENCE)
    assert response.status_code < 500
    case.validate_response(response, excluded_checks=NOT_MEANT)
