"""How long a strap is cut for its path: anchors, turn-overs, overlap and tail, by its kind."""

from collections.abc import Sequence

from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.anchors import BED
from vellumcut.core.rig.costume import Worn
from vellumcut.core.rig.rows import Fastening, StrapRow

TURN_OVER = 30.0
"""Webbing turned back round a ring or buckle bar and stitched, mm."""
TAIL = 80.0
"""Strap past its closure to pull and adjust by, mm."""
SEW_ON = 25.0
"""Overlap of elastic on webbing for two rows of stitches, mm."""
HOOK_OVERLAP = 60.0
"""Hook-and-loop that meets, mm."""
BELT_STEP = 40.0
"""A belt's extra overlap: one step more than it needs on the stand, mm (est.)."""
RINGS: dict[Fastening, int] = {
    "side-release buckle": 2,
    "ring": 1,
    "hook-and-loop": 0,
    "sewn": 0,
    "tack": 0,
    "snaps": 0,
    "ratchet": 0,
    "hook": 1,
}
"""Turn-overs round rings and buckle bars."""
ADJUSTS: tuple[Fastening, ...] = ("side-release buckle", "ring", "hook-and-loop", "ratchet")


def cut_length(piece: Worn, row: StrapRow, standing: float, more: Sequence[Value]) -> tuple[Note, float]:
    """How long a strap is cut for a path, mm, and how that was made."""
    longest = standing + sum(v.amount for v in more)
    rows = [Value("path, standing", standing), *more]
    formula = " + ".join(f"{{{k}}} {v.word}" for k, v in enumerate(rows))
    extra: list[tuple[str, float]] = []
    if row.one_belt:
        cut = longest
    elif row.material == "elastic":
        stretch = piece.design.rig.stretch
        rows.append(Value("stretch", stretch, "ratio"))
        formula = f"({formula}) / (1 + {{{len(rows) - 1}}} stretch)"
        cut = longest / (1 + stretch)
        extra = [("sewn on, two ends", 2 * SEW_ON)]
    else:
        cut = longest
        extra = [("anchor", BED), ("doubled end", TURN_OVER)] if row.tab else [("anchors, two ends", 2 * BED)]
        if not row.tab and RINGS[row.fastening]:
            extra.append((f"turned over {RINGS[row.fastening]} x", RINGS[row.fastening] * TURN_OVER))
        if row.fastening in ADJUSTS:
            extra.append(("tail", TAIL))
    if row.fastening == "hook-and-loop" and not row.one_belt:
        extra.append(("overlap", HOOK_OVERLAP + (BELT_STEP if piece.design.template == "belt" else 0.0)))
    for word, amount in extra:
        formula += f" + {{{len(rows)}}} {word}"
        rows.append(Value(word, amount))
        cut += amount
    note = Note(
        row.words[0].upper() + row.words[1:], Value("cut length", cut), formula, tuple(rows),
        "It lies on the outside of everything beneath it, and is cut for the posture that asks for most; measured on "
            "the body it comes out short.",
        "Thicker foam, more ease or another anchor changes it.", about="strap",
    )  # fmt: skip
    return note, cut
