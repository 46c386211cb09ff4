"""Refusals that use cases make, apart from the core's own."""

from vellumcut.core.body.readings import Question


class NotFound(LookupError):
    """What was asked for is not here (any more)."""


class Overtaken(Exception):
    """The same thing was changed in another window meanwhile, or has moved on since it was looked at."""

    def __init__(self, what: str) -> None:
        super().__init__(
            f"Another window changed the same thing meanwhile ({_in_words(what)}). It is shown as it is now; yours "
            "was not kept"
            if what
            else "This has changed too much since it was opened here. It is shown as it is now; yours was not kept"
        )
        self.what = what


def _in_words(path: str) -> str:
    """A path such as "design, base_layer" as a maker says it."""
    parts = [p.replace("_", " ") for p in path.split(", ")]
    return (
        ", ".join(p for p in parts if p not in ("design", "readings", "ink", "strokes", "limbs", "stations"))
        or parts[-1]
    )


class Unsure(Exception):
    """Readings that are unlikely: nothing was saved until the maker confirms them."""

    def __init__(self, questions: list[Question]) -> None:
        super().__init__("Some readings look unlikely")
        self.questions = questions
