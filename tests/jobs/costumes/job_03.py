"""One plate held by magnets in each seat."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, kind, piece, wearer

SEATS = ("slot", "front pocket", "back pocket", "sandwich", "underlap strip")


def _plate(seat: str) -> dict:
    row = {"edge": "lower edge", "size": 12, "thick": 3, "seat": seat, "washers": seat == "sandwich", "load": 260}
    foam = 10 if seat == "slot" else 6
    return piece("tasset", f"Plate, {seat}", side="left", foam=foam, rig={"magnets": [row]})


JOB = Job(
    "03",
    "Magnets",
    wearer(103, "Sela Brandt"),
    (piece("belt", "Belt"), *(_plate(x) for x in SEATS)),
    (
        *(kind(f"seat: {x}", s.magnets(2, x)) for x in SEATS),
        kind("washer opposite", s.says("washer")),
        kind("size and number from weight and the foam between", s.says("holds|couples"), s.magnets(10)),
        kind("pocket before paint", s.order("magnet-pocket", "coat-primer")),
        kind(
            "magnets out for spray, because of the halo", s.order("magnet-out", "coat-"), s.step("magnet-out", "halo")
        ),
        kind(
            "in after clear, flooded and smeared over the rim",
            s.order("coat-clear", "magnet-in"),
            s.step("magnet-in", "flood.*rim"),
        ),
        kind("one glue, not two", s.silent("instant glue, a drop of hot glue")),
        kind("poles marked", s.step("magnet-pocket", "pole"), s.says("pole")),
        kind("on the list to buy", s.says(r"\d+ x magnets?|magnets? to buy")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
