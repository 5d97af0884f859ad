"""The blocks of a child's stream that have arrived and wait to be built."""

from __future__ import annotations

from queue import Empty, SimpleQueue
from typing import NamedTuple

from eelgrass.recorder import wire
from eelgrass.trace.building.stream import joined

#: Chunks are joined up to so many bytes.
_ENOUGH_BYTES = 1 << 16


class Arrived(NamedTuple):
    """A block, or several chunks in a row, of a kind."""

    kind: int
    payloads: list[bytes]

    @property
    def arrived(self) -> int:
        """How many bytes these are."""
        return sum(map(len, self.payloads))

    def payload(self) -> bytes:
        """All of it as one. Raises StreamError where chunks are none."""
        return joined(self.payloads)


class ArrivedBlocks:
    """Put in by one thread, taken out by another."""

    def __init__(self) -> None:
        self._queue: SimpleQueue[tuple[int, bytes] | None] = SimpleQueue()
        self._held: list[tuple[int, bytes] | None] = []  # taken out too early

    def __len__(self) -> int:
        return self._queue.qsize() + len(self._held)

    def put(self, block: tuple[int, bytes] | None) -> None:
        """One more; None for the end."""
        self._queue.put(block)

    def take(self) -> Arrived | None:
        """The next one, when there is one; small chunks that are there already together, and None at the end."""
        block = self._held.pop() if self._held else self._queue.get()
        if block is None:
            return None
        kind, payload = block
        if kind != wire.CHUNK:
            return Arrived(kind, [payload])
        payloads, size = [payload], len(payload)
        while size < _ENOUGH_BYTES:
            try:
                following = self._queue.get_nowait()
            except Empty:
                break
            if following is None or following[0] != wire.CHUNK:
                self._held.append(following)
                break
            payloads.append(following[1])
            size += len(following[1])
        return Arrived(kind, payloads)
