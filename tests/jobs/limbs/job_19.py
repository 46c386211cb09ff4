"""Robot feet in eight weeks."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, wearer

FOOT = piece(
    "sabaton cap",
    "Feet",
    foam=6,
    rig={"way": "on the shoe"},
    making={
        "details": [
            detail("band", "strip round", "band", length=260),
            detail("rivets", "rivets", "embossed rivets", count=16, size=8),
        ]
    },
    foam_work={"folds": [{"key": "lame-1", "way": "set back"}]},
)

JOB = Job(
    "19",
    "Robot feet in eight weeks",
    wearer(119, "Ansel Pike"),
    (FOOT,),
    (
        kind("on a shoe", s.costume("shoes"), s.strap("hook on the shoe"), s.dressing("hangs on the shoe")),
        kind("boxes with hinge grooves, one wall upright", s.any_step("one upright|upright wall|box")),
        kind("cones", s.says(r"\bcones?\b")),
        kind("strips left long, cut where they meet", s.step("strip-round", "where its ends meet")),
        kind("inset strip set deeper", s.any_step("deeper")),
        kind("embossed rivets by number", s.step("lay-on", "embossed rivets"), s.any_step("16")),
        kind("soles and toes clear the ground", s.says("clear the ground")),
        kind("elastic behind", s.strap("elastic", 40, 500)),
        kind("hooks on the shoe, loops on foam", s.part("hook")),
        kind("each small part worn before the next", s.order("dry-fit", "(seam|dart):|strip-round")),
        kind("eight weeks of dates", s.says("week")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
