"""Answers about undo and safe-keeping."""

from vellumcut.api.schemas import Out


class CopyOut(Out):
    """why: what it was taken for. taken_at: seconds since 1970. size: bytes."""

    name: str
    why: str
    taken_at: float
    size: int


class CopiesOut(Out):
    folder: str
    copies: list[CopyOut]


class NextChangeOut(Out):
    """words: empty when there is nothing. elsewhere: made in another window, or before this one was opened."""

    id: int
    words: str
    elsewhere: bool


class UndoOut(Out):
    undo: NextChangeOut
    redo: NextChangeOut
