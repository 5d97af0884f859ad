"""The output as it stood at a step, and which step printed each piece."""

from __future__ import annotations

from base64 import b64decode
from bisect import bisect_left
from dataclasses import dataclass

from eelgrass.trace.model import Texts, Trace


@dataclass(frozen=True)
class Piece:
    """A piece that passed during `step`. `channel`: as in `Texts`."""

    text: str
    channel: int
    step: int


def pieces(trace: Trace) -> list[Piece]:
    """Everything printed, typed and shown in the whole run, in order; texts of one step and channel are joined."""
    joined: list[Piece] = []
    columns = zip(trace.texts.step.tolist(), trace.texts.channel.tolist(), trace.texts.pieces, strict=True)
    for step, channel, text in columns:
        if channel > Texts.PICTURE:
            continue
        piece = Piece(text, channel, step)
        if channel != Texts.PICTURE and joined and (joined[-1].step, joined[-1].channel) == (piece.step, piece.channel):
            joined[-1] = Piece(joined[-1].text + piece.text, piece.channel, piece.step)
        else:
            joined.append(piece)
    return joined


def png_of(piece: Piece) -> bytes:
    """The bytes of a piece that is a picture; none where its text is not base 64."""
    try:
        return b64decode(piece.text, validate=True)
    except ValueError:
        return b""


def piece_words(trace: Trace, piece: Piece) -> str:
    """Where a piece was printed or typed."""
    line = trace.line_of(min(piece.step, len(trace.steps) - 1))
    how = "Typed at" if piece.channel == Texts.TYPED else "Printed by"
    return f"{how} line {line}, step {piece.step:,}"


def number_past(trace: Trace, all_pieces: list[Piece], step: int) -> int:
    """How many of the pieces have passed when `step` is shown. What comes after the last step belongs to the end."""
    if step >= len(trace.steps) - 1:
        return len(all_pieces)
    return bisect_left(all_pieces, step, key=lambda piece: piece.step)


def piece_with(all_pieces: list[Piece], character: int) -> Piece | None:
    """The piece that a character of standard output, counted from 0, is in."""
    for piece in all_pieces:
        if piece.channel == Texts.OUTPUT:
            if character < len(piece.text):
                return piece
            character -= len(piece.text)
    return None


def prompt(trace: Trace) -> str:
    """What the program printed last, on one line and since the person last typed: the prompt, when it waits."""
    text = ""
    for channel, piece in zip(trace.texts.channel[::-1].tolist(), reversed(trace.texts.pieces), strict=True):
        if channel > Texts.PICTURE:
            continue
        if channel not in (Texts.OUTPUT, Texts.ERRORS) or "\n" in text:
            break
        text = piece + text
    return text.rpartition("\n")[2]
