"""Zip archives from strangers: whatever is wrong with one is a refusal in words."""

import errno
import lzma
import struct
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from vellumcut.core.errors import CraftError

_DAMAGE = (
    zipfile.BadZipFile,
    zlib.error,
    lzma.LZMAError,
    struct.error,
    EOFError,
    NotImplementedError,
    RuntimeError,
    KeyError,
    OverflowError,
    ValueError,
)
"""What the library raises by the place of the damage: in a checksum, a method, a length, an offset, a name."""


@contextmanager
def open_archive(file: Path | IO[bytes], refusal: str) -> Iterator[zipfile.ZipFile]:
    """An archive to read from. Raises CraftError with ``refusal`` wherever in the block it turns out to be damaged."""
    try:
        with zipfile.ZipFile(file) as archive:
            yield archive
    except CraftError:
        raise
    except OSError as error:
        # An offset before the file's start, or a packed stream that is none; a full disk is no damage.
        if error.errno not in (None, errno.EINVAL):
            raise
        raise CraftError(refusal, "file") from None
    except _DAMAGE:
        raise CraftError(refusal, "file") from None
