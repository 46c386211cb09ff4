"""Creased shoulder and shin plates."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

HAMMERED = stack(
    "dark iron",
    {"kind": "rubbery primer", "faces": "both"},
    {"kind": "hammered metal", "name": "hammered iron"},
    "matt clear",
    weathering=["dark edges", "overlap soot"],
)
CREASED = {"foam_work": {"folds": [{"key": "ridge", "way": "crease"}]}}
NUMBERED = [detail("inner", "support", "inner support"), *(detail(f"l{n}", "layer", f"layer {n}") for n in (1, 2, 3))]

JOB = Job(
    "09",
    "Creased shoulder and shin plates",
    wearer(109, "Bram Okoro"),
    (
        piece("pauldron", "Shoulders", foam=4, making={"finishes": [HAMMERED], "details": NUMBERED}, **CREASED),
        piece("ridged greave", "Shins", foam=4, choices={"ridge": "fold"}, making={"finishes": [HAMMERED]}, **CREASED),
    ),
    (
        kind("mirrored templates", s.step("trace", "Turn|turn the pattern over")),
        kind(
            "heat crease without groove",
            s.step("form", "warm the line only", "Shins"),
            s.no_step("Cut the grooves", "Shins"),
        ),
        kind("inner support shape", s.step("support", "keep its shape")),
        kind(
            "layers glued in numbered order",
            s.order("lay-on:l1", "lay-on:l2", "Shoulders"),
            s.order("lay-on:l2", "lay-on:l3", "Shoulders"),
        ),
        kind("hammered metal", s.step("coat-metal", "hammered")),
        kind("matt black on edges and overlaps", s.step("weather", "Matt black dusted")),
        kind(
            "two straps at the calf",
            s.strap("calf|under the knee|ankle", 60, 500, "Shins"),
            s.part("webbing", 2, "Shins"),
        ),
        kind("the straps are found on the leg", s.step("temp-rig", "", "Shins"), s.order("temp-rig", "rig", "Shins")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
