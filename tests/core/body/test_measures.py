import math

import pytest

from tests.bodies import FOREARM, limb, measures
from vellumcut.core.body.guess import complete_limb, usual_girth
from vellumcut.core.body.measures import LimbReading, changes_since, check_possible, question_measures
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import SEGMENTS
from vellumcut.core.cast.stations import build_tube, guess_findings
from vellumcut.core.errors import CraftError


def test_a_foam_strip_reads_pi_times_its_thickness_too_much():
    reading = StationReading(girth=300, tool="foam", strip=6)
    assert reading.body_girth == pytest.approx(300 - math.pi * 6)
    assert StationReading(girth=300, strip=6).body_girth == 300


def test_ordinary_readings_raise_no_question():
    assert question_measures(measures(FOREARM)) == []


@pytest.mark.parametrize(
    ("girths", "word"),
    [((270, 250, 180), "swapped"), ((0, 250, 262), "very small"), ((9000, 9100, 9200), "very large")],
)
def test_the_unlikely_is_questioned_until_confirmed(girths, word):
    odd = limb("forearm", (0, 138, 240), girths)
    questions = question_measures(measures(odd))
    assert any(word in q.message for q in questions)
    assert question_measures(measures(odd, confirmed=tuple(q.key for q in questions))) == []


def test_confirming_one_value_does_not_confirm_the_next():
    first = question_measures(measures(limb("forearm", (0, 138, 240), (9000, 9100, 9200))))
    later = measures(limb("forearm", (0, 138, 240), (9001, 9100, 9200)), confirmed=tuple(q.key for q in first))
    assert [q.field for q in question_measures(later)] == ["limbs.forearm.both.wrist.girth"]


@pytest.mark.parametrize(
    ("odd", "words"),
    [
        (limb("forearm", (0, 240, 138), (168, 252, 262)), "distances grow along the limb"),
        (LimbReading(segment="forearm", stations={"knee": StationReading(girth=200)}), 'no station "knee"'),
        (
            LimbReading(segment="forearm", stations={"wrist": StationReading(girth=10, tool="foam", strip=8)}),
            "strip alone",
        ),
    ],
)
def test_the_impossible_is_refused_with_the_reason(odd, words):
    with pytest.raises(CraftError, match=words):
        check_possible(measures(odd))


def test_left_and_right_apart_or_shared():
    left = limb("forearm", (0, 138, 240), (170, 260, 270), side="left")
    both = measures(FOREARM, left)
    assert both.limb("forearm", "left") is left
    assert both.limb("forearm", "right") is FOREARM
    with pytest.raises(CraftError, match="given twice"):
        check_possible(measures(FOREARM, FOREARM))


def test_changes_are_told_largest_first():
    then = measures(limb("forearm", (0, 138, 240), (168, 240, 262.4)))
    assert [f.message for f in changes_since(then, measures(FOREARM))] == ["Belly grew by 12 mm"]


def test_a_missing_station_is_guessed_by_proportion_and_said():
    half = measures(LimbReading(segment="forearm", stations={"wrist": StationReading(girth=168)}))
    full = complete_limb(half, "forearm", "left")
    assert full.guessed == ("belly", "elbow")
    shares = [full.reading.stations[s.name].girth / usual_girth(s) for s in SEGMENTS["forearm"].stations]
    assert shares == pytest.approx([shares[0]] * 3, rel=1e-3)
    assert "belly, elbow" in guess_findings(half, "forearm", "left")[0].message
    assert build_tube(half, "forearm", "left").station_girths[0] == pytest.approx(168, abs=1e-6)
    with pytest.raises(CraftError, match="left forearm has not been measured"):
        build_tube(measures(), "forearm", "left")


def test_a_tube_too_small_for_foam_is_refused():
    with pytest.raises(CraftError, match="too small to wrap foam round"):
        build_tube(measures(limb("forearm", (0, 138, 240), (0, 252, 262))), "forearm", "left")
