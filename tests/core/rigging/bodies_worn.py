"""Bodies of several builds, and everything that can be worn on them."""

from tests.bodies import CALF, FOREARM, THIGH, UPPER_ARM, WEARER, measures, trunk
from tests.core.pieces_to_make import worn
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.rig.costume import Costume

SLIM = measures(FOREARM, CALF).model_copy(update={"torso": trunk(bust=790, waist=620, hip=850, neck=320)})
BROAD = measures(UPPER_ARM, THIGH).model_copy(
    update={"torso": trunk("round", bust=1180, underbust=1090, waist=1100, hip=1160)}
)
FULL = measures().model_copy(
    update={"torso": trunk("straight", bust=1090, underbust=860, waist=800, hip=1090, neck=365)}
)
BODIES = {"usual": WEARER, "slim": SLIM, "broad": BROAD, "full": FULL}
ALL: dict[str, Costume] = {}


def everything(body: str) -> Costume:
    """Every template of the library on one body."""
    if body not in ALL:
        ALL[body] = worn(
            *(
                starter_design(t).model_copy(update={"closure": "buckles"} if TEMPLATES[t].lay is None else {})
                for t in TEMPLATES
            ),
            readings=BODIES[body],
        )
    return ALL[body]
