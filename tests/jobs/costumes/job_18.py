"""A creature over a body double, with armour over the suit."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, kind, piece, wearer

PADDED = {"padding": {"ankle": 10, "calf": 30, "knee": 12}}

JOB = Job(
    "18",
    "Creature over a body double",
    wearer(118, "Wim Tarn"),
    (
        piece("greave", "Shin over the suit", **PADDED),
        piece("breastplate", "Chest over the suit", padding={"bust": 25, "waist": 30}),
    ),
    (
        kind("the wearer's double padded to a creature", s.panels(2, "Shin over the suit"), s.says("padding|padded")),
        kind("armour drawn over the suit", s.panels(1, "Chest over the suit")),
        kind("legs of the creature", s.says("creature leg|hind leg")),
        kind("tail on tapering hoops", s.says(r"\btail\b.*hoop|hoop.*\btail\b")),
        kind("hollow claws", s.says(r"\bclaws?\b")),
        kind("wings on a frame", s.says(r"\bwings?\b")),
        kind("stencilled scales", s.says("scales")),
        kind("armour goes on last", s.dressing("over the suit")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
