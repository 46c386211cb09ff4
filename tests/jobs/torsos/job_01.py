"""A collared breastplate from a bought flat pattern."""

from pathlib import Path

from typer.testing import CliRunner

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, star, wearer
from vellumcut.cli import app

BOUGHT = """<svg xmlns="http://www.w3.org/2000/svg" width="560mm" height="470mm" viewBox="0 0 560 470">
<path d="M20 20 L240 30 L262 180 L250 300 L244 420 L20 440 Z" fill="none" stroke="black"/>
<path d="M300 30 L520 20 L520 440 L298 420 L292 300 L280 180 Z" fill="none" stroke="black"/></svg>"""


def _bought(folder: Path) -> None:
    """A stranger's pattern, fitted to this wearer."""
    drawing = folder / "bought.svg"
    drawing.write_text(BOUGHT)
    to = folder / "fitted"
    CliRunner().invoke(
        app,
        ["fit", str(drawing), str(folder / "BUILD.json"), "--out", str(to), "--share", "0.5", "--piece", "Breastplate"],
    )
    for made in to.glob("*") if to.exists() else ():
        made.rename(folder / f"fitted {made.name}")


FINISH = (
    stack("steel", {"kind": "rubbery primer", "faces": "both"}, {"kind": "metallic", "name": "steel"}, "satin clear"),
    stack(
        "gold",
        {"kind": "rubbery primer", "faces": "both"},
        {"kind": "acrylic", "name": "brown"},
        {"kind": "metallic", "name": "gold", "taped": True},
        "satin clear",
        zones=("2",),
        weathering=["dark edges"],
    ),
)

CREST = {"form": "plate", "at": [0.06, 3.0], "wide": 60, "foam": 4}
BREAST = piece(
    "breastplate",
    "Breastplate",
    foam=4,
    choices={"front": "cross-fold"},
    making={
        "finishes": FINISH,
        "details": [
            detail("yoke", "trim", "yoke trim", length=420, panels=[1], flush=True),
            detail("arms", "spanning trim", "arm trims", length=640, count=2),
            detail("crest", "emblem", "lantern emblem", apart=True, motif=star(6, 70), shape=CREST),
            detail(
                "flame", "emblem", "flame on the lantern", motif=star(6, 40), shape={**CREST, "wide": 36, "foam": 2}
            ),
            detail("waist", "sliding plate", "waist plate", apart=True),
            detail("ribbons", "hanging plate", "wired ribbons", count=4),
            detail("back", "zip", "back zip", length=380),
        ],
    },
)

JOB = Job(
    "01",
    "Collared breastplate from a bought flat pattern",
    wearer(101, "Ona Quill"),
    (
        BREAST,
        piece("backplate", "Back", foam=4, choices={"closure": "back"}, closure="zip", sizes={"opening": 10}),
        piece("gorget", "Collar", foam=4),
    ),
    (
        kind("a pattern file brought in and fitted", s.file(r"^fitted .*\.(svg|json|pdf)$")),
        kind("panels bevelled ridge and valley", s.step("bevel"), s.panels(2, "Breastplate", 4)),
        kind("V-grooves that cross at the front", s.step("groove", "cross|groove", "Breastplate")),
        kind("both faces sealed", s.step("heat-seal", "both faces"), s.order("cut$", "heat-seal", "Breastplate")),
        kind(
            "trims on one panel before joining, spanning ones after",
            s.order("trim:", "(seam|dart|span-trim):", "Breastplate"),
            s.order("(seam|dart|dust-glue)", "span-trim:", "Breastplate"),
        ),
        kind(
            "edge thinned for the flush trim",
            s.step("thin", "", "Breastplate"),
            s.order("thin", "trim:", "Breastplate"),
        ),
        kind("collar and neck plate", s.step("seam", "", "Collar"), s.part("hook-and-loop|webbing", 1, "Collar")),
        kind("emblem of 2 + 4 mm, cut from its outline", s.any_step("lantern emblem"), s.panels(1, thick=2)),
        kind("emblem painted apart and put on after clear", s.order("coat-clear", "apart-join:crest", "Breastplate")),
        kind(
            "waist plate slides: tacked after clear, corners only",
            s.step("apart-join", "corners only.*slides.*\\d+ mm of it lie behind the hem"),
            s.order("coat-clear", "apart-join:waist", "Breastplate"),
        ),
        kind(
            "zip after paint, slid at once",
            s.order("coat-", "zip-first", "Breastplate"),
            s.order("zip-first", "zip-slide", "Breastplate"),
            s.order("zip-slide", "zip-second", "Breastplate"),
        ),
        kind("zip on two foam strips", s.part("zip", 1, "Back"), s.part("strips of 2 mm foam", 2, "Back")),
        kind("two metals and a colour by masks", s.step("coat-metal", "tape|hand", "Breastplate"), s.file("masks")),
        kind("wired-ribbon hangings", s.step("apart-join", "wired ribbons")),
        kind("hours that a maker knows", s.hours("Breastplate", 15, 40)),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
    before=_bought,
)
