"""Worked-out results kept on disk from one start of the program to the next: bounded, never in a backup.

They lie in the data folder's ``kept``, in a folder named by the code that made them, so that another version of the
program, or of what it computes with, begins afresh. A file is the digest of its content, then the content.
"""

import hashlib
import logging
import os
import shutil
import sys
import tempfile
import threading
from functools import cache
from importlib.metadata import version
from pathlib import Path

log = logging.getLogger("vellumcut")

FOLDER = "kept"
FORMAT = 1
MOST_BYTES = 200_000_000
"""All results together; the oldest read go first."""
SWEPT_TO = 0.7
"""A sweep leaves so much of the bound, so that it is not needed at every write."""
LEAST_FREE = 1_000_000_000
"""Bytes that are left to the maker: on a fuller disk nothing is kept that can be worked out again."""
_DIGEST = 32
_MADE_WITH = ("numpy", "scipy", "libigl", "shapely", "pydantic")


@cache
def code_stamp() -> str:
    """Names the code that makes results: every source file of ours, the libraries it computes with, and Python."""
    ours = Path(__file__).parents[1]
    digest = hashlib.sha256(f"{FORMAT} {sys.version} {[version(x) for x in _MADE_WITH]}".encode())
    for name in ("core", "service", "formats", "standins"):
        for path in sorted((ours / name).rglob("*.py")):
            digest.update(path.relative_to(ours).as_posix().encode() + path.read_bytes())
    return digest.hexdigest()[:24]


class Results:
    """The results of one data folder, read and written by the program and its helper at the same time."""

    def __init__(self, data: Path, most: int = MOST_BYTES) -> None:
        """data: the data folder. most: bytes to hold. What other code has left is thrown away."""
        self.folder = data / FOLDER / code_stamp()
        self._most = most
        self._written = 0
        self._guard = threading.Lock()
        self._works = True
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            for other in (data / FOLDER).iterdir():
                if other != self.folder:
                    shutil.rmtree(other, ignore_errors=True)
            self.sweep()
        except OSError as error:
            self._stop(error)

    def read(self, shelf: str, key: str) -> bytes | None:
        """The content that was kept for a key; None where there is none, or none that is whole."""
        path = self._path(shelf, key)
        try:
            held = path.read_bytes()
            digest, content = held[:_DIGEST], held[_DIGEST:]
            if hashlib.sha256(content).digest() != digest:
                path.unlink(missing_ok=True)
                return None
            os.utime(path)
        except OSError:
            return None
        return content

    def write(self, shelf: str, key: str, content: bytes) -> None:
        """Keep a content. On a disk that is full or gone nothing more is kept; the program goes on without."""
        if not self._works:
            return
        try:
            if shutil.disk_usage(self.folder).free < LEAST_FREE:
                return
            with tempfile.NamedTemporaryFile(dir=self.folder, prefix="new-", delete=False) as file:
                file.write(hashlib.sha256(content).digest() + content)
            os.replace(file.name, self._path(shelf, key))
        except OSError as error:
            self._stop(error)
            return
        with self._guard:
            self._written += len(content)
            full = self._written > (1 - SWEPT_TO) * self._most
        if full:
            self.sweep()

    def sweep(self) -> None:
        """Throw away what was read longest ago, and what a killed program left half written, till the rest fits."""
        with self._guard:
            self._written = 0
            rows = []
            for path in self.folder.iterdir():
                try:
                    rows.append((path.stat().st_mtime, path.stat().st_size, path))
                except OSError:
                    continue  # the helper was quicker
            whole = sum(size for _, size, _ in rows)
            keep = self._most if whole <= self._most else SWEPT_TO * self._most
            for _, size, path in sorted(rows, key=lambda r: r[:2]):
                if whole <= keep:
                    break
                path.unlink(missing_ok=True)
                whole -= size

    def _path(self, shelf: str, key: str) -> Path:
        return self.folder / f"{shelf}-{hashlib.sha256(key.encode()).hexdigest()}"

    def _stop(self, error: OSError) -> None:
        self._works = False
        log.warning("Worked-out results cannot be kept on disk: %s", error)
