"""Reads one pattern file and ends: run as a process of its own, so a broken or huge file cannot harm the server."""

import json
import sys
from pathlib import Path

from vellumcut.core.errors import CraftError
from vellumcut.formats.drawn_lines import panels_of
from vellumcut.formats.pattern_files import NO_UNIT, READERS
from vellumcut.formats.workers import BAD_INPUT, bounded


def main(source: Path, folder: Path, told: str) -> int:
    bounded()
    wanted = json.loads(told)
    try:
        drawing = READERS[wanted["kind"]](source.read_bytes())
        if drawing.unit is None and not wanted["unit"]:
            raise CraftError(NO_UNIT)
        shapes = panels_of(drawing, wanted["unit"] or 1.0)
    except CraftError as error:
        print(error.message, file=sys.stderr)
        return BAD_INPUT
    except (MemoryError, RecursionError):
        print("The pattern file is too deep or too large; save the pattern alone", file=sys.stderr)
        return BAD_INPUT
    made = {"unit": drawing.unit, "shapes": [s.model_dump(mode="json") for s in shapes]}
    (folder / "pattern.json").write_text(json.dumps(made))
    return 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3]))
