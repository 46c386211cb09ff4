"""Thigh, knee, hips, belt and bandolier."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

POLISH = stack(
    "worn red",
    {"kind": "rubbery primer", "faces": "both"},
    {"kind": "acrylic", "colour": "#7A2420"},
    "acrylic wash",
    "shoe polish",
    "gloss clear",
    weathering=["chips"],
)
THIGH = piece(
    "cuisse",
    "Thighs",
    foam=12,
    making={
        "finishes": [POLISH],
        "details": [
            detail("border", "trim", "4 mm border", length=700),
            detail("window", "layer", "windowed 2 mm layer"),
        ],
    },
)

JOB = Job(
    "10",
    "Thigh, knee, hips, belt, bandolier",
    wearer(110, "Runa Castell"),
    (
        THIGH,
        piece("poleyn", "Knees"),
        piece("tasset", "Hip plates", sizes={"below the top": -40}),
        piece("belt", "Belt", rig={"way": "ratchet"}, sizes={"below waist": 90}),
        piece(
            "bandolier",
            "Bandolier",
            making={
                "details": [
                    detail("loops", "holder", "loops", count=6),
                    detail("props", "light cell", "two lit props", count=2),
                    detail("hold", "magnet", "prop magnets", count=4),
                ]
            },
        ),
    ),
    (
        kind(
            "12 mm base with a border and a windowed layer",
            s.panels(2, "Thighs", 12),
            s.step("trim", "4 mm border"),
            s.step("lay-on", "windowed"),
        ),
        kind("hip plates after the belt", s.between("Belt", "Hip plates"), s.put_on("Belt", "Hip plates")),
        kind("hip plates' straps no longer than they need", s.strap("hanging strap", 10, 240, "Hip plates")),
        kind("leg plates on the trousers", s.costume("trousers")),
        kind("knee tied to its own thigh", s.strap("tack", 0, 250, "Knees")),
        kind("thighs hang on the belt", s.strap("to the belt", 10, 400, "Thighs")),
        kind("pouch for a phone", s.any_step("pouch.*phone|phone.*pouch")),
        kind(
            "two lit props with cells, changed while worn", s.step("cell", "two lit props"), s.any_step("can the cell")
        ),
        kind("props hold by magnet", s.step("magnet-in", "prop magnets"), s.order("coat-", "magnet-in", "Bandolier")),
        kind("owned ratchet buckle", s.part("ratchet", 1, "Belt")),
        kind("bandolier loops", s.step("holder", "loops", "Bandolier")),
        kind(
            "polish as weathering under gloss clear",
            s.any_step("polish"),
            s.order("coat-weather", "coat-clear", "Thighs"),
        ),
        kind("chips", s.step("weather", "chips|blotches", "Thighs")),
        kind("put on in an order that works", s.dressing("Thighs")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
