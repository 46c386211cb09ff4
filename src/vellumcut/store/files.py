"""Files beside the database: written whole, named by their content, and never without the row that wants them.

A file arrives under a name that says what it will be called; only once its row is on the disk does it get that name.
What a crash leaves half way is finished or swept away when the folder is next opened.
"""

import hashlib
import itertools
import os
import shutil
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from pathlib import Path

ARRIVING = "incoming-"
SCRATCH = ".scratch-"
"""How names of what is only on its way begin, and of what is thrown away at the next start."""
_numbers = itertools.count()


class Arriving:
    """A file on its way in. path: where it lies meanwhile; name: what it will be called, known once all is written."""

    def __init__(self, folder: Path, kind: str) -> None:
        """kind: the ending of its name."""
        self._folder, self._kind = folder, kind
        self._digest = hashlib.sha256()
        self.size = 0
        self.path = folder / f"{ARRIVING}{os.getpid()}x{next(_numbers)}.{kind}"
        self._file = self.path.open("wb")

    @property
    def name(self) -> str:
        """By its content, so that the same file is kept once."""
        return f"{self._digest.hexdigest()[:24]}.{self._kind}"

    def write(self, block: bytes) -> None:
        self._digest.update(block)
        self.size += len(block)
        self._file.write(block)

    def complete(self) -> None:
        """All of it is here and on the disk; still under its arriving name, which now tells the final one."""
        self._file.flush()
        os.fsync(self._file.fileno())
        self._file.close()
        told = self._folder / f"{self.path.stem}-{self.name}"
        self.path.rename(told)
        self.path = told

    def settle(self) -> Path:
        """Give it its name. One that was there is written over: a crash may have left it short."""
        final = self._folder / self.name
        self.path.replace(final)
        _sync_folder(self._folder)
        return final

    def discard(self) -> None:
        self._file.close()
        self.path.unlink(missing_ok=True)


@contextmanager
def arriving(folder: Path, kind: str, content: bytes = b"") -> Iterator[Arriving]:
    """A file that is settled when the block ends well, and gone when it does not. content: all of it, if it is
    known."""
    file = Arriving(folder, kind)
    try:
        if content:
            file.write(content)
            file.complete()
        yield file
        file.settle()
    finally:
        file.discard()


def file_in(folder: Path, name: str) -> Path | None:
    """A file that a row names, if it is in its folder: a row may come from a stranger's bundle or backup, and names no
    other file of this machine."""
    path = (folder / name).resolve()
    return path if path.parent == folder.resolve() and path.is_file() else None


def sweep(folder: Path, wanted: Collection[str]) -> None:
    """Finish or throw away what was on its way in when the program ended. wanted: names of files that rows name."""
    for path in folder.glob(f"{ARRIVING}*"):
        name = path.name.rsplit("-", 1)[-1]
        if path.name.count("-") > 1 and name in wanted:
            path.replace(folder / name)
        else:
            path.unlink()


def clear_scratch(folder: Path) -> None:
    """Throw away what work that was broken off has left."""
    for path in folder.glob(f"{SCRATCH}*"):
        if path.is_dir():
            shutil.rmtree(path)
        else:
            path.unlink()


def _sync_folder(folder: Path) -> None:
    """Have the folder's own entries on the disk; Windows opens no folder, and keeps them by its own journal."""
    if os.name == "nt":
        return
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
