"""How far a piece is: what can be done now, what waits, what was carried over, what became wrong."""

import pytest

from tests.core.pieces_to_make import CUPS, inked, planned
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.order import step_keys
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import Plan
from vellumcut.core.make.progress import Tick, batches_of, became_wrong, carried, states_of


def test_what_can_be_done_now_what_waits_and_what_is_blocked():
    piece, now = planned(CUPS), 1_000_000.0
    states = states_of(piece, {}, Owned(), now)
    ready = [k for k, s in states.items() if s.state == "ready"]
    assert ready[0] == "number"
    assert not {"cut", "cup:cup", "test-fit", "coat-primer:rest.flexible primer"} & set(ready)
    assert next(x.first for x in states["cup:cup"].blocked_by if x.hard) in (
        "dry-fit",
        "dust-glue",
        "dart:cup dart 1",
        "dart:cup dart 2",
    )
    done = {
        k: Tick(k, now - 60, title=k)
        for k in piece.plan.keys
        if piece.depth[k] < piece.depth["coat-colour:rest.acrylic"]
    }
    waits = states_of(piece, done, Owned(), now)["coat-colour:rest.acrylic"]
    assert waits.state == "waiting"
    assert waits.until == pytest.approx(4 * 3600 - 60)
    set_back = states_of(piece, done, Owned(), now - 7200)["coat-colour:rest.acrylic"]
    assert set_back.until == pytest.approx(4 * 3600), "a clock that was set back ends no wait early"
    one = {**done, "coat-colour:rest.acrylic": Tick("coat-colour:rest.acrylic", parts={"1": now - 10})}
    second = states_of(piece, one, Owned(), now + 4 * 3600)["coat-colour:rest.acrylic"]
    assert (second.coats_done, second.state) == (1, "ready")
    assert states_of(piece, one, Owned(), now)["coat-colour:rest.acrylic"].until == pytest.approx(4 * 3600 - 60)
    asked = {"number": Tick("number", answer="no")}
    assert states_of(piece, asked, Owned(), now)["number"].state == "mend"
    sprayed = CUPS.model_copy(update={"making": Making(schools={"primer": "sprayed"})})
    poor = Owned(kit=("heat gun",), dry_days=False)
    lacks = states_of(planned(sprayed), {}, poor, now)["coat-primer:rest.rubbery primer"].lacks
    assert "spray cans" in lacks
    assert "a booth or a dry day" in lacks


def test_done_stays_done_and_what_became_wrong_is_pointed_out():
    collar = Detail(key="collar", kind="collar", name="collar", length=300.0)
    first = planned(CUPS.model_copy(update={"making": Making(details=(collar,))}))
    ticks = {
        s.key: Tick(s.key, 5.0, title=s.title, figures={v.word: v.amount for v in s.measures}) for s in first.ordered
    }
    assert became_wrong(first, ticks) == []
    longer = planned(CUPS.model_copy(update={"making": Making(details=(collar.model_copy(update={"length": 306.0}),))}))
    assert "“Glue the collar” was done; its edge is 6 mm longer now." in became_wrong(longer, ticks)
    assert all("collar" in w for w in became_wrong(longer, ticks))
    assert all(s.done for s in states_of(longer, ticks, Owned(), 9e9).values())
    gone = planned(CUPS)
    assert any("no such step any more" in w and "collar" in w for w in became_wrong(gone, ticks))
    plain = planned(starter_design("breastplate"))
    assert any("Set in the cup" in w for w in became_wrong(plain, ticks))


def test_ticks_of_older_builds_mean_what_they_meant():
    old = {k: Tick(k, 7.0) for k in ("trace", "cut", "heat-seal", "bevel", "form", "dry-fit", "glue", "close")}
    mine = carried(step_keys(inked("breastplate", front="cups")), old)
    done = {k for k, t in mine.items() if t.done_at == 7.0}
    assert done == {
        "number",
        "cut-paper",
        "warm-flat",
        "trace",
        "cut",
        "keep-pattern",
        "heat-seal",
        "bevel",
        "form:1",
        "form:2",
        "dry-fit",
        "dust-glue",
        "dart:cup dart 1",
        "dart:cup dart 2",
        "cup:cup",
        "sub-fit",
        "surplus",
        "beds",
        "dust-beds",
        "close",
    }
    new = {"cut": Tick("cut", 7.0, title="Cut out")}
    assert carried(["keep-pattern"], new)["keep-pattern"].done_at is None, "a new tick means itself alone"


def test_parts_of_several_pieces_go_in_one_session():
    primer = planned(CUPS.model_copy(update={"making": Making(schools={"primer": "sprayed"})})).steps[
        "coat-primer:rest.rubbery primer"
    ]
    cut = planned(CUPS).steps["cut"]
    spray, cutting = batches_of([(1, primer), (2, primer), (1, cut), (2, cut), (3, cut)])
    assert spray.title == "One spray session"
    assert spray.items == ((1, primer.key), (2, primer.key))
    assert cutting.minutes == pytest.approx(3 * (cut.minutes - cut.setup) + cut.setup), "the mat is laid out once"
    assert batches_of([(1, cut)]) == []


def test_the_longest_way_is_as_long_as_its_steps_and_waits():
    piece = planned(CUPS)
    whole, path = piece.longest
    assert path[-1] == "final-fit"
    spans = {s.key: s.hands_on + (s.coats - 1) * s.between + s.wait for s in piece.ordered}
    assert whole == pytest.approx(sum(spans[k] for k in path))
    assert whole > max(spans.values())
    assert isinstance(piece.plan, Plan)
