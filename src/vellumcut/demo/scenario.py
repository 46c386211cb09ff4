"""A made-up costume, eleven weeks before a made-up event, loaded through the same use cases a maker uses."""

from datetime import date, timedelta

from vellumcut.core.body.measures import LimbReading, Measurements
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import SegmentName
from vellumcut.core.body.torso import TorsoGirth, TorsoLength, TorsoReading
from vellumcut.core.design.finish import Stack, ZoneFinish
from vellumcut.core.design.making import Detail, Making, MotifRing, ReferenceCheck
from vellumcut.core.design.parts import Border, Plate, Row, Scales
from vellumcut.core.design.piece import EndDesign, PieceDesign, TemplateName
from vellumcut.core.finish.recipes import RECIPES
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.worn.fit import FitFinding
from vellumcut.service.body import wearers
from vellumcut.service.keeping import builds, logbook, settings
from vellumcut.service.making import bench
from vellumcut.service.pattern import versions
from vellumcut.store.database import Store
from vellumcut.store.models import Wearer

WEEKS_TO_EVENT = 11
Station = tuple[str, float, float, float | None]

_NOW: dict[SegmentName, tuple[list[Station], float | None]] = {
    "forearm": ([("wrist", 0, 163, 0.76), ("belly", 138, 248, 0.93), ("elbow", 232, 258, 0.95)], 222),
    "upper arm": ([("above elbow", 0, 262, 0.96), ("biceps", 112, 304, 1.04), ("armpit", 188, 332, 1.08)], None),
    "lower leg": ([("ankle", 0, 224, 1.16), ("calf", 196, 366, 1.06), ("knee", 318, 352, 1.02)], 326),
    "thigh": ([("above knee", 0, 402, 1.04), ("mid thigh", 128, 486, 1.08), ("top", 262, 566, 1.1)], None),
}
_TRUNK: dict[TorsoGirth, float] = {"neck": 384, "bust": 968, "underbust": 858, "waist": 812, "hip": 992}
_TRUNK_LENGTHS: dict[TorsoLength, float] = {"back length": 418, "front length": 352, "shoulder width": 402}
_TWO_YEARS_AGO = {
    "belly": -9.0,
    "elbow": -7.0,
    "biceps": -14.0,
    "calf": -6.0,
    "mid thigh": -17.0,
    "top": -21.0,
    "bust": -24.0,
    "waist": -31.0,
}


def load_demo(store: Store) -> int:
    """Fill an empty store; returns the number of the build."""
    today = date.today()
    wearer = _measured(store, today)
    event = today + timedelta(weeks=WEEKS_TO_EVENT)
    build = builds.add_build(store, "Bell-Warden of the Drowned Light", wearer.id, "Lanternmoot, Harrow Quay", event)
    bracer = builds.add_piece(store, build.id, "Bracers", PieceDesign(template="bracer", closure="lacing"))
    greave = builds.add_piece(
        store,
        build.id,
        "Greaves",
        PieceDesign(
            template="greave",
            closure="buckles",
            foam=5,
            upper=EndDesign(shape="pointed", point=45),
            making=Making(details=(_KEEL,)),
        ),
    )
    rerebrace = PieceDesign(
        template="rerebrace",
        side="left",
        closure="hook-and-loop",
        foam=5,
        making=Making(details=(_FISH_SCALES,)),
    )
    builds.add_piece(store, build.id, "Rerebrace with the bell crest", rerebrace)
    builds.add_piece(store, build.id, "Cuisses", PieceDesign(template="cuisse", closure="none", foam=8, gap=150))
    _add_drawn(store, build.id)
    versions.keep_now(store, bracer.id, "Drawn from the newest measures")
    logbook.write_entry(
        store, build.id, "Bracers first: small, quick, and they show whether the ease is right.", bracer.id
    )
    logbook.note_fit(
        store,
        bracer.id,
        (
            FitFinding(station="wrist", feel="good"),
            FitFinding(station="belly", feel="tight", by=8),
            FitFinding(station="elbow", feel="tight", by=5),
        ),
        "Dry fit in paper over the undershirt, elbow bent.",
    )
    for step in ("number", "cut-paper", "warm-flat", "trace", "cut"):
        bench.mark_step(store, greave.id, step, bench.Mark(done=True, answer="yes"))
    logbook.write_entry(store, build.id, "Greaves traced and cut from one roll end. Calf wants warm foam.", greave.id)
    settings.begin_here(store)
    return build.id


def _measured(store: Store, today: date) -> Wearer:
    """The wearer, measured three times in two years."""
    wearer = wearers.add_wearer(store, "Perrin Vale", "Measured over the padded undershirt and leggings.")
    wearers.add_set(store, wearer.id, _set(today - timedelta(days=760), _TWO_YEARS_AGO))
    wearers.add_set(
        store,
        wearer.id,
        _set(today - timedelta(days=390), {"belly": -4.0, "calf": -2.0, "mid thigh": -8.0, "top": -9.0}),
    )
    wearers.add_set(store, wearer.id, _set(today - timedelta(days=20), {}))
    return wearer


def _add_drawn(store: Store, build: int) -> None:
    drawn: tuple[tuple[str, TemplateName, dict[str, str]], ...] = (
        ("Breastplate", "breastplate", {"front": "centre ridge"}),
        ("Gorget", "gorget", {}),
        ("Pauldrons", "pauldron", {}),
        ("Faulds shelf", "faulds", {}),
        ("Lantern belt", "belt", {}),
    )
    for name, template, choices in drawn:
        own = {"choices": choices, "making": _MAKING.get(name, Making()), "over": _OVER.get(name, ())}
        design = starter_design(template).model_copy(update=own)
        builds.add_piece(store, build, name, design)


_OVER = {"Faulds shelf": ("Breastplate",), "Lantern belt": ("Breastplate", "Faulds shelf")}
"""What lies over what on the trunk."""


def _recipe(key: str) -> Stack:
    return next(r.rigid for r in RECIPES if r.key == key)


_FISH_SCALES = Detail(
    key="scales",
    kind="scales",
    name="fish scales",
    shape=Scales(lines=("lower edge",), wide=26.0, high=32.0, foam=2.0, pack=100),
)
_KEEL = Detail(
    key="keel",
    kind="trim",
    name="keel trim",
    shape=Border(lines=("lower edge",), inset=6.0, width=12.0, foam=8.0, profile="triangular"),
)
_BELL = (
    (36.0, 0.0), (44.0, 1.5), (48.0, 8.0), (72.0, 10.0), (70.0, 17.0), (64.0, 22.0), (60.0, 32.0), (57.0, 48.0),
    (52.0, 60.0), (44.0, 67.0), (41.0, 76.0), (31.0, 76.0), (28.0, 67.0), (20.0, 60.0), (15.0, 48.0), (12.0, 32.0),
    (8.0, 22.0), (2.0, 17.0), (0.0, 10.0), (24.0, 8.0), (28.0, 1.5),
)  # fmt: skip
"""A bell with its clapper, mm."""
_MAKING = {
    "Breastplate": Making(
        details=(
            Detail(
                key="hem-border",
                kind="trim",
                name="wave border along the hem",
                shape=Border(lines=("hem",), width=22.0, foam=4.0, profile="rounded"),
            ),
            Detail(
                key="bell",
                kind="emblem",
                name="bell crest",
                apart=True,
                motif=(MotifRing(points=_BELL),),
                shape=Plate(at=(0.085, 3.25), wide=72.0, foam=4.0, layers=3, step=6.0),
            ),
            Detail(
                key="rivets",
                kind="rivets",
                name="border rivets",
                size=9.0,
                shape=Row(lines=("neckline", "shoulder edge", "armhole"), inset=12.0, pitch=28.0, clear=True, pack=50),
            ),
        ),
        checklist=(
            ReferenceCheck(text="the ridge ends two fingers above the hem"),
            ReferenceCheck(text="the border is as wide as a thumb"),
        ),
        finishes=(ZoneFinish(stack=_recipe("painted metal")),),
    ),
    "Gorget": Making(finishes=(ZoneFinish(stack=_recipe("warm gold")),)),
    "Lantern belt": Making(finishes=(ZoneFinish(stack=_recipe("leather look")),)),
}
"""What goes on the drawn pieces, and how they are painted."""


def _set(taken_on: date, change: dict[str, float]) -> Measurements:
    limbs = tuple(
        LimbReading(
            segment=segment,
            stations={
                n: StationReading(at=at, girth=girth + change.get(n, 0.0), ratio=ratio) for n, at, girth, ratio in rows
            },
            gate=gate,
        )
        for segment, (rows, gate) in _NOW.items()
    )
    girths = {n: StationReading(girth=g + change.get(n, 0.0)) for n, g in _TRUNK.items()}
    torso = TorsoReading(girths=girths, lengths=_TRUNK_LENGTHS)
    return Measurements(taken_on=taken_on, limbs=limbs, torso=torso)
