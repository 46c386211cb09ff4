"""Photographs: read within bounds, turned as they were held, and traced in a process of its own."""

import io
import json
import struct
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from vellumcut.core.design.flat import FlatShape
from vellumcut.core.errors import CraftError
from vellumcut.formats.workers import Bounds, worked

Picture = NDArray[np.uint8]

LARGEST_PHOTOGRAPH = 40_000_000
"""Bytes."""
MOST_PIXELS = 60_000_000
BOUNDS = Bounds(seconds=90, patience=240, memory=6_000_000_000)
FEWEST_PIXELS = 300_000
MOST_KEPT = 4400
"""Pixels along the longer side that are traced: 12 MP and a little. Of more, four are made one, which is less noisy."""
MOST_JOINED = 6
"""Photographs of one ground."""
FORMATS = ("JPEG", "PNG", "WEBP", "HEIF")
ENDINGS = {"JPEG": "jpg", "PNG": "png", "WEBP": "webp", "HEIF": "heic"}
NOT_ONE = "The file is not a JPEG, PNG, WebP or HEIC photograph, or is broken"


@dataclass(frozen=True)
class HowTaken:
    """others: photographs that are joined with the first. joined: it was joined so before. floor: a photograph of the
    floor and its cards before the pieces were laid down. bare: this is one."""

    others: Sequence[Path] = ()
    joined: bool = False
    floor: Path | None = None
    bare: bool = False


AS_IT_IS = HowTaken()


@dataclass(frozen=True, eq=False)
class Traced:
    """What the process found. data: as ``trace_json`` writes it. shapes: its pieces as panels. above: the view from
    above, photograph, floor: what was traced, and the floor beneath if there is a picture of it, upright and without
    what the camera wrote beside it; all JPEG.
    """

    data: dict[str, Any]
    shapes: tuple[FlatShape, ...]
    above: bytes
    photograph: bytes
    floor: bytes = b""


def check_bytes(size: int) -> None:
    """Raises CraftError for a file that is too large or empty."""
    if size > LARGEST_PHOTOGRAPH:
        raise CraftError(f"The photograph is larger than {LARGEST_PHOTOGRAPH // 1_000_000} MB", "file")
    if size == 0:
        raise CraftError("The file is empty", "file")


def open_photograph(content: bytes) -> Picture:
    """(h, w, 3) red first, upright. What else the file tells, such as where it was taken, is dropped.

    Raises CraftError for anything but a picture within bounds.
    """
    check_bytes(len(content))
    try:
        if content[4:8] == b"ftyp":
            from pi_heif import register_heif_opener  # noqa: PLC0415 - few files want it

            register_heif_opener(thumbnails=False)
        image = Image.open(io.BytesIO(content), formats=FORMATS if content[4:8] == b"ftyp" else FORMATS[:3])
        pixels = image.size[0] * image.size[1]
        if pixels > MOST_PIXELS:
            raise CraftError(f"The photograph has over {MOST_PIXELS // 1_000_000} million pixels", "file")
        if pixels < FEWEST_PIXELS:
            raise CraftError("The photograph is too small to measure by: send it as the camera took it", "file")
        turned = ImageOps.exif_transpose(image) or image
        if max(turned.size) > MOST_KEPT:
            turned.thumbnail((MOST_KEPT, MOST_KEPT), Image.Resampling.BOX)
        return np.asarray(turned.convert("RGB"), np.uint8)
    except CraftError:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        KeyError,
        struct.error,
        Image.DecompressionBombError,
    ):
        raise CraftError(NOT_ONE, "file") from None


def trace_file(
    path: Path,
    side: float,
    report: Callable[[float, str], None] = lambda s, w: None,
    how: HowTaken = AS_IT_IS,
) -> Traced:
    """Trace a photograph in a process with limits on time and memory. side: mm of the cards' black squares. report: may
    raise to stop it. Raises CraftError in plain words.
    """
    if len(how.others) >= MOST_JOINED:
        raise CraftError(f"At most {MOST_JOINED} photographs are joined", "photograph")
    wanted = {"side": side, "others": [str(p) for p in how.others]}
    told = json.dumps(wanted | {"joined": how.joined, "floor": str(how.floor) if how.floor else "", "bare": how.bare})
    with worked("vellumcut.formats.body.photo_worker", BOUNDS, path, told, "photograph", report) as folder:
        made = json.loads((folder / "trace.json").read_text())
        shapes = tuple(FlatShape.model_validate(x) for x in made["shapes"])
        above, photograph = ((folder / f"{name}.jpg").read_bytes() for name in ("above", "photograph"))
        floor = folder / "floor.jpg"
        return Traced(made["data"], shapes, above, photograph, floor.read_bytes() if floor.exists() else b"")
