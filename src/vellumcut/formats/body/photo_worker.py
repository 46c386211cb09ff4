"""Traces one photograph and ends: run as a process of its own, so a broken or huge file cannot harm the server."""

import json
import sys
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.trace import Trace, look_at_floor, trace_picture
from vellumcut.core.trace.view.join import joined, shown
from vellumcut.formats.body.photographs import BOUNDS, Picture, open_photograph
from vellumcut.formats.body.trace_json import trace_data
from vellumcut.formats.workers import BAD_INPUT, say

MOST_SHOWN = 2600
"""Pixels along the longer side of the view from above as it is kept to be looked at."""


def main(source: Path, folder: Path, told: str) -> int:
    BOUNDS.hold()
    wanted = json.loads(told)
    try:
        picture = open_photograph(source.read_bytes())
        if wanted["others"]:
            say(0.0, "Joining the photographs")
            others = [open_photograph(Path(p).read_bytes()) for p in wanted["others"]]
            picture = joined([picture, *others], wanted["side"])
        ground = shown(picture) if wanted["others"] or wanted["joined"] else None
        floor = _floor_picture(wanted["floor"])
        if wanted["bare"]:
            trace = look_at_floor(picture, wanted["side"], say)
        else:
            trace = trace_picture(picture, wanted["side"], say, ground, floor)
    except CraftError as error:
        print(error.message, file=sys.stderr)
        return BAD_INPUT
    except MemoryError:
        print("The photograph needs more memory than is allowed; send a smaller one", file=sys.stderr)
        return BAD_INPUT
    above, scale = _shown(trace)
    data = trace_data(trace, picture.shape[1::-1], scale) | {"joined": ground is not None, "bare": wanted["bare"]}
    shapes = [shape_of(p, k).model_dump(mode="json") for k, p in enumerate(trace.pieces, 1)]
    (folder / "trace.json").write_text(json.dumps({"data": data, "shapes": shapes}))
    (folder / "above.jpg").write_bytes(above)
    _keep(picture, folder / "photograph.jpg")
    if floor is not None:
        _keep(floor, folder / "floor.jpg")
    return 0


def _floor_picture(path: str) -> Picture | None:
    """The photograph of the floor. Raises CraftError that says which of the two it is about."""
    if not path:
        return None
    try:
        return open_photograph(Path(path).read_bytes())
    except CraftError as error:
        raise CraftError(f"The photograph of the floor: {error.message}", "ground") from None


def _keep(picture: Picture, path: Path) -> None:
    Image.fromarray(picture).save(path, quality=95, subsampling=0)


def _shown(trace: Trace) -> tuple[bytes, float]:
    """The view from above, and how many mm one of its pixels is."""
    full = trace.above.picture
    shrink = max(1.0, max(full.shape) / MOST_SHOWN)
    small = cv2.resize(full, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA) if shrink > 1 else full
    _, packed = cv2.imencode(".jpg", cv2.cvtColor(np.asarray(small), cv2.COLOR_RGB2BGR), [cv2.IMWRITE_JPEG_QUALITY, 86])
    return packed.tobytes(), trace.above.per * full.shape[1] / small.shape[1]


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3]))
