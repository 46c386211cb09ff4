"""A floating skirt of hung plates on a ring that stands off the hips."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

RING = stack("resin", {"kind": "resin", "coats": 3}, "acrylic", "satin clear", on="thermoplastic")
SHELF = piece(
    "faulds",
    "Shelf",
    foam=10,
    sizes={"below waist": 60, "depth": 70, "shelf": 45, "front gap": 0, "back gap": 0},
    making={
        "finishes": [RING],
        "details": [
            detail("plates", "hanging plate", "square plates", count=12),
            detail("cell", "light cell", "battery and phone"),
        ],
    },
)

JOB = Job(
    "04",
    "Floating skirt",
    wearer(104, "Maud Ferrow"),
    (piece("belt", "Belt", sizes={"width": 50}), SHELF),
    (
        kind("belt low on the hips under the ring", s.says("low on the hips")),
        kind("ring whose depth differs front, side and back", s.panels(2, "Shelf", 10), s.says("gap to the body")),
        kind("fins as brackets", s.any_step(r"\bfins?\b")),
        kind(
            "square plates hung, straps at the outer edge",
            s.step("apart-join", "square plates"),
            s.step("apart-join", "Hang"),
            s.says("outer edge"),
        ),
        kind("hung plates just touch", s.any_step("just touch")),
        kind("space for a phone and a battery", s.step("cell", "battery and phone"), s.any_step("can the cell")),
        kind("thermoplastic over what must stay stiff", s.any_step("thermoplastic")),
        kind("brushed resin till smooth", s.step("coat-smooth", "resin")),
        kind("goes on over the hips, no opening", s.says("hips .* passes")),
        kind("sitting is judged", s.any_step("sit")),
        kind("no webbing across gaps that are none", s.part("hidden belt, all round", 1, "Shelf")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
