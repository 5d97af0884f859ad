"""What the board shows: strips of lights, displays of dots, displays of letters; and what its sensors feel."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from eelgrass.recorder.board.board import pin_name
from eelgrass.recorder.board.pins import Part, Pin


class Strip(Part):
    """A strip of lights, each a colour of (red, green, blue) from 0 to 255; shown when it is written."""

    ORDER = (1, 0, 2, 3)

    def __init__(self, pin: Any, n: int, bpp: int = 3, timing: int = 1) -> None:
        self.n, self.bpp = n, bpp
        self._pin = pin.name if isinstance(pin, Pin) else pin_name(pin)
        self._lights: list[tuple[int, ...]] = [(0,) * bpp] * n
        self.write()

    def __len__(self) -> int:
        return self.n

    def __setitem__(self, place: int, colour: Iterable[int]) -> None:
        its = tuple(int(part) & 255 for part in colour)
        if len(its) < self.bpp:
            raise IndexError("a light is set to (red, green, blue)")
        self._lights[place] = its[: self.bpp]

    def __getitem__(self, place: int) -> tuple[int, ...]:
        return self._lights[place]

    def fill(self, colour: Iterable[int]) -> None:
        """Sets all of them."""
        its = tuple(colour)
        for place in range(self.n):
            self[place] = its

    def write(self) -> None:
        """Shows them."""
        self.board.look()
        lights = ["#{:02x}{:02x}{:02x}".format(*its[:3]) for its in self._lights]
        self.board.tell(f"strip at pin {self._pin}", kind="strip", lights=lights)


class Dots(Part):
    """Dots that are on or off, with letters of 8 by 8, to be drawn on."""

    def __init__(self, width: int, height: int) -> None:
        self.width, self.height = int(width), int(height)
        self._rows = [bytearray(self.width) for _ in range(self.height)]
        self._texts: list[tuple[int, int, str, int]] = []

    def fill(self, colour: int) -> None:
        """All dots on or off."""
        self._texts.clear()
        for row in self._rows:
            row[:] = bytes((1 if colour else 0,)) * self.width

    def pixel(self, x: int, y: int, colour: int | None = None) -> int | None:
        """Sets, or gives, one dot."""
        is_within = 0 <= x < self.width and 0 <= y < self.height
        if colour is None:
            return self._rows[int(y)][int(x)] if is_within else 0
        if is_within:
            self._rows[int(y)][int(x)] = 1 if colour else 0
        return None

    def hline(self, x: int, y: int, width: int, colour: int) -> None:
        """A line to the right."""
        for place in range(width):
            self.pixel(x + place, y, colour)

    def vline(self, x: int, y: int, height: int, colour: int) -> None:
        """A line downwards."""
        for place in range(height):
            self.pixel(x, y + place, colour)

    def line(self, x1: int, y1: int, x2: int, y2: int, colour: int) -> None:
        """A line between two dots (Bresenham, 1965)."""
        across, down = abs(x2 - x1), -abs(y2 - y1)
        step_x, step_y, error = (1 if x1 < x2 else -1), (1 if y1 < y2 else -1), across + down
        while True:
            self.pixel(x1, y1, colour)
            if (x1, y1) == (x2, y2):
                return
            twice = 2 * error
            if twice >= down:
                error, x1 = error + down, x1 + step_x
            if twice <= across:
                error, y1 = error + across, y1 + step_y

    def rect(self, x: int, y: int, width: int, height: int, colour: int, f: bool = False) -> None:
        """A rectangle; with `f` a filled one."""
        if f:
            self.fill_rect(x, y, width, height, colour)
            return
        for row in (y, y + height - 1):
            self.hline(x, row, width, colour)
        for column in (x, x + width - 1):
            self.vline(column, y, height, colour)

    def fill_rect(self, x: int, y: int, width: int, height: int, colour: int) -> None:
        """A filled rectangle; letters that begin in it are gone."""
        self._texts = [its for its in self._texts if not (x <= its[0] < x + width and y <= its[1] < y + height)]
        for row in range(height):
            self.hline(x, y + row, width, colour)

    def text(self, text: str, x: int, y: int, colour: int = 1) -> None:
        """Letters from a dot on."""
        self._texts.append((int(x), int(y), str(text), 1 if colour else 0))

    def scroll(self, across: int, down: int) -> None:
        """Moves all dots; those that come in are as before."""
        old = [bytes(row) for row in self._rows]
        for y in range(self.height):
            for x in range(self.width):
                if 0 <= x - across < self.width and 0 <= y - down < self.height:
                    self._rows[y][x] = old[y - down][x - across]
        self._texts = [(x + across, y + down, text, colour) for x, y, text, colour in self._texts]

    def blit(self, other: Dots, x: int, y: int, without: int = -1) -> None:
        """Draws others onto these, but for dots of one colour."""
        for row in range(other.height):
            for column in range(other.width):
                colour = other.pixel(column, row)
                if colour != without:
                    self.pixel(x + column, y + row, colour)
        self._texts += [(x + across, y + down, text, colour) for across, down, text, colour in other._texts]


class Pixels(Dots):
    """A display of dots; what is drawn shows when it is told to `show`."""

    def __init__(self, width: int, height: int, *_bus: Any, **_more: Any) -> None:
        super().__init__(width, height)
        self._name = self.board.one_more("display")
        self.show()

    def show(self) -> None:
        """Shows what is drawn."""
        self.board.look()
        rows = ["".join("1" if dot else "0" for dot in row) for row in self._rows]
        told = [f"{int(row or '0', 2):x}" for row in rows]
        self.board.tell(self._name, kind="dots", size=[self.width, self.height], rows=told, texts=self._texts)

    def _nothing(self, *_given: Any) -> None:
        """Makes no difference here."""

    contrast = invert = poweron = poweroff = init_display = rotate = _nothing


class Characters(Part):
    """A display of letters in rows and columns; shows at once."""

    def __init__(self, bus: Any = None, address: int = 0, rows: int = 2, columns: int = 16) -> None:
        self.rows, self.columns = rows, columns
        self._lines = [[" "] * columns for _ in range(rows)]
        self._row = self._column = 0
        self._name = self.board.one_more("letters")
        self._tell()

    def _tell(self) -> None:
        self.board.look()
        self.board.tell(self._name, kind="letters", lines=["".join(line) for line in self._lines])

    def clear(self) -> None:
        """Nothing is written there any more."""
        self._lines = [[" "] * self.columns for _ in range(self.rows)]
        self._row = self._column = 0
        self._tell()

    def move_to(self, column: int, row: int) -> None:
        """Where the next letter goes."""
        self._row, self._column = row % self.rows, column % self.columns

    def putstr(self, text: str) -> None:
        """Writes, on in the next row at the end of one."""
        for letter in str(text):
            if letter != "\n":
                self._lines[self._row][self._column] = letter
            self._column += 1
            if letter == "\n" or self._column >= self.columns:
                self._row, self._column = (self._row + 1) % self.rows, 0
        self._tell()

    putchar = putstr

    def _nothing(self, *_given: Any) -> None:
        """Makes no difference here."""

    backlight_on = backlight_off = display_on = display_off = show_cursor = hide_cursor = blink_cursor_on = _nothing
    blink_cursor_off = custom_char = _nothing


class Climate(Part):
    """Feels how warm and how damp it is."""

    def __init__(self, pin: Any = None) -> None:
        self._felt = self._now()

    def _now(self) -> tuple[float, float]:
        senses = self.board.senses
        for name in ("temperature", "humidity"):
            self.board.tell(name, kind="sense", value=senses[name])
        return senses["temperature"], senses["humidity"]

    def measure(self) -> None:
        """Feels it now."""
        self.board.look()
        self._felt = self._now()

    def temperature(self) -> float:
        """In degrees Celsius, as it was measured last."""
        return self._felt[0]

    def humidity(self) -> float:
        """In percent, as it was measured last."""
        return self._felt[1]


class Distance(Part):
    """Feels how far it is to what lies before it."""

    def __init__(self, *_pins: Any, **_named: Any) -> None:
        self.board.tell("distance", kind="sense", value=self.board.senses["distance"])

    def distance_cm(self) -> float:
        """In centimetres."""
        self.board.look()
        return self.board.senses["distance"]

    def distance_mm(self) -> int:
        """In millimetres."""
        return round(self.distance_cm() * 10)
