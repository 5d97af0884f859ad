"""What is printed, typed and shown, as it comes."""

from __future__ import annotations

from eelgrass.trace.columns import Column
from eelgrass.trace.model import Texts


class TextBuilder:
    """Takes pieces in order; `reads`: how often something was read."""

    def __init__(self) -> None:
        self.step, self.channel = Column("i4"), Column("u1")
        self.pieces: list[str] = []
        self.reads = 0

    def add(self, step: int, channel: int, text: str) -> None:
        """One more piece."""
        self.reads += channel == Texts.TYPED
        self.step.append(step)
        self.channel.append(channel)
        self.pieces.append(text)

    def view(self) -> Texts:
        """All of them so far."""
        return Texts(self.step.view(), self.channel.view(), list(self.pieces))
