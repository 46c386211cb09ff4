"""What the rings of a scanned trunk hold besides the trunk, and what is to be said of it: arms that lie against it, and
loose clothes."""

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.sections import Loop, cut_levels

Array = NDArray[np.float64]

FREE = 0.6
"""Of the way from hip to neck up to which the trunk is seen free of arms that are held out by 30 degrees or more (on
made-up bodies: 0.63 to 0.70 at 40 to 58 degrees, 0.57 to 0.60 at 28, where a full bust is read up to 60 mm short)."""
HANG = 0.23
"""Of the body's height that arms reach aside of its middle at most where they hang; held up, they are not looked for
beside the trunk."""
BESIDE = 0.08
"""Of the body's height beyond which the middle of a ring is an arm's."""
AN_ARM = 110.0
"""mm round the least of an arm."""
LEVELS = 0.0, 0.08, 0.16, 0.24, 0.32
"""Of the way from hip to neck: where hands, forearms and elbows hang."""

AGAINST_IT = (
    "From {0:.0f} to {1:.0f} mm over the hip an arm is not seen by itself beside the trunk. If it lies against it, "
    "girths there hold it too: scan with the arms held out by 40 degrees, or type in what a tape reads."
)
UNDER_THE_ARMS = (
    "The arms were held near to the trunk, which is seen free of them only up to {0:.0f} mm over the hip: what lies "
    "higher, bust and chest, may be read too small. Hold a tape to those, or scan with the arms held out by 40 degrees."
)
HEM_RISE, HEM = 12.0, 0.04
"""mm up within which a ring grows by so much of its girth where clothes begin (est.): bodies without them grow by 0.025
there at most, a shirt that lies off by 8 mm by 0.05."""
SKIN_UP_TO = 0.45
"""Of the way from hip to neck up to which a hem is looked for: higher, a chest stands out as steeply."""
CLOTHES = (
    "The trunk grows by {0:.0f} % within {1:.0f} mm {2}: a hem? Loose clothes count as the body here. Scan in tight "
    "ones, or type in what a tape reads."
)


def said_of_trunk(mesh: BodyMesh, levels: Array, loops: list[Loop], free: int, neck: float) -> tuple[str, ...]:
    """What is to be said of a trunk in its own axes. levels, loops: its rings, mm over the hip; free: index of the last
    one that is the trunk alone. neck: of its base."""
    return (*_arms(mesh, float(levels[free]), neck), *_clothes(levels, loops[: free + 1], neck))


def _clothes(levels: Array, loops: list[Loop], neck: float) -> tuple[str, ...]:
    step = max(1, round(HEM_RISE / float(levels[1] - levels[0])))
    girth = np.array([x.length for x in loops])[levels[: len(loops)] < SKIN_UP_TO * neck]
    if len(girth) <= step:
        return ()
    grows = girth[step:] / girth[:-step] - 1
    k = int(grows.argmax())
    if grows[k] < HEM:
        return ()
    at = float(levels[k])
    where = f"{at:.0f} mm over the hip" if at > 0 else f"{-at:.0f} mm under the hip"
    return (CLOTHES.format(100 * float(grows[k]), HEM_RISE, where),)


def _arms(mesh: BodyMesh, free: float, neck: float) -> tuple[str, ...]:
    if not mesh.whole:
        return ()
    z = mesh.vertices[:, 2]
    beside = np.abs(mesh.vertices[(z > 0) & (z < LEVELS[-1] * neck), 0])
    if len(beside) and beside.max() < HANG * mesh.height:
        cuts = zip(LEVELS, cut_levels(mesh, z, np.array(LEVELS) * neck), strict=True)
        lost = [share * neck for share, loops in cuts if not _both_arms(loops, mesh.height)]
        if lost:
            return (AGAINST_IT.format(min(lost), max(lost)),)
    return (UNDER_THE_ARMS.format(free),) if free < FREE * neck else ()


def _both_arms(loops: list[Loop], height: float) -> bool:
    """Whether an arm is seen by itself on both sides of the trunk."""
    aside = [x.middle[0] for x in loops if x.length > AN_ARM]
    return all(any(sign * x > BESIDE * height for x in aside) for sign in (1, -1))
