"""The output as it stood at a step, and which step printed each piece."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

from eelgrass.trace.model import Trace


@dataclass(frozen=True)
class Piece:
    """A piece of text that passed during `step`. `channel`: 0 typed by the person, 1 output, 2 error output."""

    text: str
    channel: int
    step: int


def pieces(trace: Trace) -> list[Piece]:
    """Everything printed and typed in the whole run, in order; pieces of one step and channel are joined."""
    joined: list[Piece] = []
    columns = zip(trace.texts.step.tolist(), trace.texts.channel.tolist(), trace.texts.pieces, strict=True)
    for step, channel, text in columns:
        piece = Piece(text, channel, step)
        if joined and (joined[-1].step, joined[-1].channel) == (piece.step, piece.channel):
            joined[-1] = Piece(joined[-1].text + piece.text, piece.channel, piece.step)
        else:
            joined.append(piece)
    return joined


def number_past(trace: Trace, all_pieces: list[Piece], step: int) -> int:
    """How many of the pieces have passed when `step` is shown. What comes after the last step belongs to the end."""
    if step >= len(trace.steps) - 1:
        return len(all_pieces)
    return bisect_left(all_pieces, step, key=lambda piece: piece.step)


def prompt(trace: Trace) -> str:
    """What the program printed last, on one line and since the person last typed: the prompt, when it waits."""
    text = ""
    for channel, piece in zip(trace.texts.channel[::-1].tolist(), reversed(trace.texts.pieces), strict=True):
        if channel == 0 or "\n" in text:
            break
        text = piece + text
    return text.rpartition("\n")[2]
