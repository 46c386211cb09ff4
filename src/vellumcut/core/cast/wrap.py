"""Planning the wrap: tubes to make, film and tape to have in reach, who helps, where to cut off."""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.body.segments import SEGMENTS, BodyPart, Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.notes import Note, Value

PAST_THE_EDGE = 80.0
"""How far a wrap goes past the outermost stations, mm: a hand's width; an edge can be cut back but not grown."""
FILM_WIDTH, FILM_LAYERS, FILM_OVERLAP = 300.0, 2, 1.5
TAPE_WIDTH, TAPE_LAYERS, TAPE_OVERLAP = 48.0, 2, 1.3
"""Widths in mm, layers, and turns that lie over each other (est.)."""
WEARING_LIMIT = 30 * 60.0
"""Longest time in one tube, seconds (est.)."""
WARN_BEFORE = 5 * 60.0
TAPE_PACE = 0.09
"""m2 of one taped layer a careful pair of hands lays in a minute (est.)."""

_HELPER: dict[BodyPart, str] = {
    "forearm": "Alone is possible with the other hand; a helper is quicker and the back of the arm comes out truer.",
    "upper arm": "A helper is needed: one hand cannot pass a roll round its own upper arm.",
    "lower leg": "Alone is possible, seated with the foot on a stool; a helper for the back of the calf.",
    "thigh": "Alone is possible standing; a helper keeps the tape level behind.",
    "shoulder": "A helper is needed: the cast runs over the shoulder to the neck.",
    "foot": "Alone is possible, seated; tape over an old shoe or a bagged one.",
    "knee": "Alone is possible, seated, the leg nearly straight.",
    "neck": "A helper is needed, and never tight: two fingers must pass under the film all round.",
    "torso": "A helper is needed, for the back and to cut you out.",
}
_EXTEND: dict[BodyPart, str] = {
    "forearm": "a hand's width past the wrist on to the hand, and up to the elbow crease but not over it",
    "upper arm": "from just above the elbow to as high as the armpit lets you, and over the shoulder on the outside",
    "lower leg": "a hand's width past the ankle on to the foot, and up to the kneecap but not over it",
    "thigh": "from just above the kneecap to as high as is comfortable",
    "shoulder": "from a hand's width down the arm over the shoulder to the neck, front and back",
    "foot": "from the toe tips over the instep and round the ankle; leave the sole open",
    "knee": "a hand's width past the kneecap both ways",
    "neck": "from the collar bones to below the jaw, loose; never over the face",
    "torso": "from the hips over the shoulders, and a hand's width on to both upper arms",
}
_CUT_OFF: dict[BodyPart, str] = {
    "forearm": "along the inside of the forearm, thumb side up, where the closure will hide",
    "upper arm": "along the inside of the arm, facing the body",
    "lower leg": "straight down the back of the calf",
    "thigh": "straight down the back of the thigh",
    "shoulder": "under the arm, from the elbow side up",
    "foot": "along the middle of the sole",
    "knee": "straight down the hollow of the knee",
    "neck": "straight down the nape",
    "torso": "straight down the middle of the back; a full breath must fit before the last strip",
}


@dataclass(frozen=True)
class WrapTube:
    """One tube to wrap. Lengths in mm, minutes of taping, area in mm2."""

    segment: BodyPart
    side: Side
    area: float
    film: float
    tape: float
    minutes: float
    helper: str
    extend: str
    cut_off: str
    notes: tuple[Note, ...]


def plan_wrap(tube: TubeSurface, segment: BodyPart, side: Side) -> WrapTube:
    """Film, tape and hands for one limb, from the area of its tube carried past both ends."""
    z = np.linspace(tube.at[0] - PAST_THE_EDGE, tube.at[-1] + PAST_THE_EDGE, 2)
    low, high = (float(v) for v in tube.along(z))
    area = tube.area(low, high)
    word = "Torso" if segment == "torso" else SEGMENTS[segment].word
    film, film_note = _roll("Film", area, FILM_WIDTH, FILM_LAYERS, FILM_OVERLAP, "film snug, not tight")
    tape, tape_note = _roll(
        "Tape", area, TAPE_WIDTH, TAPE_LAYERS, TAPE_OVERLAP, "short strips laid on, not pulled, crossing"
    )
    minutes = area / 1e6 * TAPE_LAYERS * TAPE_OVERLAP / TAPE_PACE + 4
    return WrapTube(
        segment=segment,
        side=side,
        area=area,
        film=film,
        tape=tape,
        minutes=float(minutes),
        helper=_HELPER[segment],
        extend=f"{word}: {_EXTEND[segment]}.",
        cut_off=_CUT_OFF[segment],
        notes=(film_note, tape_note),
    )


def _roll(word: str, area: float, width: float, layers: int, overlap: float, how: str) -> tuple[float, Note]:
    length = area / width * layers * overlap
    note = Note(
        title=f"{word} off the roll",
        result=Value("length", length),
        formula="{0} area / {1} wide x {2} layers x {3} overlap",
        values=(
            Value("area", area, "mm2"),
            Value("width", width),
            Value("layers", layers, "count"),
            Value("overlap", overlap, "ratio"),
        ),
        reason=f"The cast goes {PAST_THE_EDGE:.0f} mm past the outer stations; {how}.",
        change="A wider roll, fewer layers.",
        about=word.lower(),
    )
    return length, note
