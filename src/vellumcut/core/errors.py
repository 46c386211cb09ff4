"""The one error the core raises for input that the craft cannot work with."""


class CraftError(ValueError):
    """Something a maker gave that cannot be worked with, in a sentence a maker understands.

    field: dotted path of what to change, such as ``"design.gap"``; empty when it is no single field.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field
