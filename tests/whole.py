"""``make test``: lint and types, the tests, the journeys; how long each took, and the ten slowest tests, at the end."""

import re
import subprocess
import sys
import time
from collections.abc import Callable

SLOW = 20.0
"""Seconds: a test that takes longer belongs to ``make deep``, or says why not."""
PYTEST = (sys.executable, "-m", "pytest", "-n", "2", "--dist", "worksteal", "--durations=25", "--durations-min=1")
PARTS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("lint, types and the pages' own tests", ("make", "--no-print-directory", "-j2", "-O", "lint")),
    ("wheel", ("make", "--no-print-directory", "wheel")),
    ("core, formats, API, journeys", (*PYTEST, "tests/journeys", "tests/core", "tests/formats", "tests/api")),
)
_SLOWEST = re.compile(r"^([0-9.]+)s (call|setup)\s+(\S+)", re.M)


def main(say: Callable[[str], None] = print) -> int:
    """Run all parts; the first that fails ends it. The exit code."""
    took, slowest = [], []
    for word, command in PARTS:
        begin = time.monotonic()
        code, out = _run(command)
        took.append((word, time.monotonic() - begin))
        slowest += [(float(s), f"{name} ({kind})") for s, kind, name in _SLOWEST.findall(out)]
        if code:
            say(f"{word} failed")
            return code
    say("")
    for word, seconds in took:
        say(f"{_clock(seconds)}  {word}")
    say(f"{_clock(sum(s for _, s in took))}  in all; the ten slowest tests:")
    for seconds, name in sorted(slowest, reverse=True)[:10]:
        say(f"{seconds:7.1f} s  {name}{'  <- over ' + format(SLOW, '.0f') + ' s' if seconds > SLOW else ''}")
    return 0


def _run(command: tuple[str, ...]) -> tuple[int, str]:
    """A command whose output is shown as it comes, and kept."""
    lines = []
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True) as process:
        for line in process.stdout or ():
            print(line, end="", flush=True)
            lines.append(line)
    return process.returncode, "".join(lines)


def _clock(seconds: float) -> str:
    return f"{int(seconds) // 60:3d} min {int(seconds) % 60:02d} s"


if __name__ == "__main__":
    sys.exit(main())
