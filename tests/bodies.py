"""Made-up limbs and designs that many tests measure."""

from datetime import date

from vellumcut.core.body.measures import LimbReading, Measurements
from vellumcut.core.body.readings import StationReading
from vellumcut.core.body.segments import SEGMENTS, SegmentName
from vellumcut.core.body.torso import TorsoReading
from vellumcut.core.design.piece import EndDesign, PieceDesign
from vellumcut.core.ink.library.table import TEMPLATES

EDGE_AT_STATION = EndDesign(inset=0.0)


def limb(
    segment: SegmentName, at: tuple, girths: tuple, ratios: tuple = (None, None, None), side="both", gate=None
) -> LimbReading:
    names = [s.name for s in SEGMENTS[segment].stations]
    rows = zip(names, at, girths, ratios, strict=True)
    stations = {n: StationReading(at=a, girth=g, ratio=r) for n, a, g, r in rows}
    return LimbReading(segment=segment, side=side, stations=stations, gate=gate)


def measures(*limbs: LimbReading, confirmed: tuple[str, ...] = ()) -> Measurements:
    return Measurements(taken_on=date(2026, 11, 2), limbs=limbs, confirmed=confirmed)


FOREARM = limb("forearm", (0, 138, 240), (168, 252, 262), (0.76, 0.93, 0.95), gate=232)
CALF = limb("lower leg", (0, 200, 325), (225, 372, 352), (1.15, 1.06, 1.02), gate=328)
UPPER_ARM = limb("upper arm", (0, 110, 190), (268, 308, 335))
THIGH = limb("thigh", (0, 130, 265), (405, 490, 570))


def trunk(posture="usual", lengths=None, **girths) -> TorsoReading:
    return TorsoReading(
        girths={n: StationReading(girth=g) for n, g in girths.items()}, lengths=lengths or {}, posture=posture
    )


TRUNK = trunk(bust=940, underbust=810, waist=760, hip=980, neck=370)
WEARER = measures(FOREARM, CALF, UPPER_ARM, THIGH).model_copy(update={"torso": TRUNK})
SHELLS = [name for name, t in TEMPLATES.items() if t.lay is None]


def bare(template="bracer", **change) -> PieceDesign:
    """A design whose edges lie exactly on the end stations."""
    return PieceDesign(template=template, **{"lower": EDGE_AT_STATION, "upper": EDGE_AT_STATION, **change})


EXTREMES = {
    "usual": {"bust": 940, "underbust": 810, "waist": 760, "hip": 980, "neck": 370},
    "full": {"bust": 1080, "underbust": 820, "waist": 760, "hip": 1010, "neck": 360},
    "heavy": {"bust": 1180, "underbust": 1080, "waist": 1150, "hip": 1150, "neck": 430},
    "slight": {"bust": 800, "underbust": 730, "waist": 640, "hip": 840, "neck": 330},
}
