"""A gauntlet from a wrap, and one from an unfolded model."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, kind, piece, wearer

JOB = Job(
    "07",
    "Gauntlet from a wrap, and a model unfolded",
    wearer(107, "Pell Sorrel"),
    (
        piece(
            "bracer", "Gauntlet", foam=10, ease=6, gap=25, lower={"flare": 12}, upper={"shape": "pointed", "point": 40}
        ),
    ),
    (
        kind("10 mm foam, its outline for its thickness", s.panels(2, "Gauntlet", 10)),
        kind("rolled warm past its curve", s.step("form", "past|Warm")),
        kind(
            "how long the gun takes for 10 mm, and turned at a hand's pace",
            s.step("form", "every|s "),
            s.silent("turn it over 1[0-9] times"),
        ),
        kind("a flare is told as strain or dart", s.says("dart|give|strain")),
        kind("paper copy kept", s.step("keep-pattern", "Paper or cast")),
        kind("left and right", s.step("trace", "turn the pattern over")),
        kind("a model as a mesh, scaled to the forearm", s.file(r"model.*\.(svg|json)")),
        kind("unfolded into panels with letters at matching edges", s.says("unfold")),
        kind("hours that a maker knows", s.hours("Gauntlet", 5, 12)),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
