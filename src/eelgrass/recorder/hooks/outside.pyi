from collections.abc import Callable
from types import CodeType

class Outside:
    """`called(caller, code)` is told of each function of the program that is called by code which is none of it."""

    def __init__(self, called: Callable[[CodeType, CodeType], None]) -> None: ...
    def own(self, code: CodeType) -> None:
        """Code of the program: so is all that has the same file."""

    def look(self) -> None:
        """A frame of the program begins."""
