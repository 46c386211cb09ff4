"""Refusals that use cases make, apart from the core's own."""

from vellumcut.core.body.readings import Question


class NotFound(LookupError):
    """What was asked for is not here (any more)."""


class Unsure(Exception):
    """Readings that are unlikely: nothing was saved until the maker confirms them."""

    def __init__(self, questions: list[Question]) -> None:
        super().__init__("Some readings look unlikely")
        self.questions = questions
