"""Pins: switched, felt, measured, pulsed; and what calls a function as time passes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar

from eelgrass.recorder.board.board import FULL, Board, pin_name


class Part:
    """Something on the board of this run."""

    board: ClassVar[Board]


class Pin(Part):
    """A pin by its number or name. What is switched is an output; what is felt, an input: its button, pressed, joins
    it with the other end than its resistor does."""

    IN, OUT, OPEN_DRAIN = 0, 1, 2
    PULL_UP, PULL_DOWN = 1, 2
    IRQ_FALLING, IRQ_RISING, IRQ_LOW_LEVEL, IRQ_HIGH_LEVEL = 2, 1, 4, 8

    def __init__(self, id: Any, mode: int = -1, pull: int | None = -1, *, value: Any = None, **_more: Any) -> None:
        self.name = pin_name(id)
        self.mode = ""  # as long as nothing is said of it
        self.level = 0
        self._pull = 0
        self._heard: tuple[Callable[[Pin], None] | None, int] = None, 0
        self.init(mode, pull, value=value)

    def __repr__(self) -> str:
        return f"Pin({self.name}, {self.mode}, {self.level})"

    def init(self, mode: int = -1, pull: int | None = -1, *, value: Any = None, **_more: Any) -> None:
        """Makes it an input or output."""
        if mode not in (-1, self.IN, self.OUT, self.OPEN_DRAIN):
            raise ValueError("invalid pin mode")
        self.mode = "out" if mode in (self.OUT, self.OPEN_DRAIN) else "in" if mode == self.IN else self.mode
        self._pull = pull if pull in (self.PULL_UP, self.PULL_DOWN) else 0
        if not self.mode:
            return
        if self.mode == "in":
            self.board.listen(self)
        self.level = int(bool(value)) if value is not None and self.mode == "out" else self._felt()
        self._tell()

    def _felt(self) -> int:
        if self.mode == "out":
            return self.level
        is_pressed = self.board.is_pressed(self.name)
        return int(not is_pressed if self._pull == self.PULL_UP else is_pressed)

    def _tell(self) -> None:
        pressed = {} if self.mode == "out" else {"pressed": self.board.is_pressed(self.name)}
        self.board.tell(f"pin {self.name}", kind="pin", mode=self.mode, level=self.level, **pressed)

    def value(self, level: Any = None) -> int | None:
        """Switches it, or says how it is."""
        self.board.look()
        if level is None:
            self.level = self._felt()
            return self.level
        if self.mode == "out":
            self.level = int(bool(level))
            self._tell()
        return None

    __call__ = value

    def on(self) -> None:
        """Switches it on."""
        self.value(1)

    def off(self) -> None:
        """Switches it off."""
        self.value(0)

    high, low = on, off

    def toggle(self) -> None:
        """Switches it over."""
        self.value(not self.level)

    def irq(self, handler: Callable[[Pin], None] | None = None, trigger: int = 3, **_more: Any) -> None:
        """Has a function called when it is felt to change."""
        self._heard = handler, trigger

    def changed(self) -> None:
        """Its button was pressed or let go."""
        before, self.level = self.level, self._felt()
        self._tell()
        handler, trigger = self._heard
        edge = self.IRQ_RISING if self.level else self.IRQ_FALLING
        if handler is not None and before != self.level and trigger & edge:
            self.board.telling.cause("")
            self.board.run_callback(handler, self)


class Signal(Part):
    """A pin that may be on when it is low."""

    def __init__(self, pin: Any, *more: Any, invert: bool = False, **named: Any) -> None:
        self.pin = pin if isinstance(pin, Pin) else Pin(pin, *more, **named)
        self.invert = invert

    def value(self, level: Any = None) -> int | None:
        """Switches it, or says whether it is on."""
        if level is not None:
            return self.pin.value(bool(level) != self.invert)
        return int(bool(self.pin.value()) != self.invert)

    __call__ = value

    def on(self) -> None:
        """Switches it on."""
        self.value(1)

    def off(self) -> None:
        """Switches it off."""
        self.value(0)


class Analog(Part):
    """Measures how much there is at a pin."""

    ATTN_0DB, ATTN_2_5DB, ATTN_6DB, ATTN_11DB = 0, 1, 2, 3
    WIDTH_9BIT, WIDTH_10BIT, WIDTH_11BIT, WIDTH_12BIT = 9, 10, 11, 12

    def __init__(self, pin: Any, **_more: Any) -> None:
        self.name = pin.name if isinstance(pin, Pin) else pin_name(pin)
        self._bits = 12
        self._tell()

    def _tell(self) -> None:
        self.board.tell(f"pin {self.name}", kind="analog", share=round(self.board.share(self.name), 4))

    def __repr__(self) -> str:
        return f"{type(self).__name__}({self.name})"

    def read_u16(self) -> int:
        """From 0 to 65,535."""
        self.board.look()
        return round(self.board.share(self.name) * FULL)

    def read(self) -> int:
        """In so many bits as were said, 12 if none were."""
        return self.read_u16() >> (16 - self._bits)

    def read_uv(self) -> int:
        """In millionths of a volt, of 3.3."""
        return round(self.read_u16() / FULL * 3_300_000)

    def atten(self, *_given: Any) -> None:
        """Makes no difference here."""

    def width(self, bits: int = 12) -> None:
        """How many bits `read` gives."""
        self._bits = bits if 9 <= bits <= 16 else 12


class Pulse(Part):
    """Pulses a pin: how often in a second, and for which share of the time it is on."""

    def __init__(self, pin: Any, freq: int = 0, duty_u16: int = 0, duty: int = 0, **_more: Any) -> None:
        self.name = pin.name if isinstance(pin, Pin) else pin_name(pin)
        self._freq, self._duty = freq, duty_u16 or duty * FULL // 1023
        self._tell()

    def __repr__(self) -> str:
        return f"{type(self).__name__}({self.name}, freq={self._freq}, duty_u16={self._duty})"

    def _tell(self) -> None:
        self.board.look()
        self.board.tell(f"pin {self.name}", kind="pulse", share=round(self._duty / FULL, 4), hertz=self._freq)

    def init(self, freq: int | None = None, duty_u16: int | None = None, **_more: Any) -> None:
        """Sets both."""
        self._freq = self._freq if freq is None else int(freq)
        self._duty = self._duty if duty_u16 is None else min(max(int(duty_u16), 0), FULL)
        self._tell()

    def freq(self, hertz: int | None = None) -> int | None:
        """Sets, or gives, how often."""
        if hertz is None:
            return self._freq
        self.init(freq=hertz)
        return None

    def duty_u16(self, share: int | None = None) -> int | None:
        """Sets, or gives, the share, of 65,535."""
        if share is None:
            return self._duty
        self.init(duty_u16=share)
        return None

    def duty(self, share: int | None = None) -> int | None:
        """The same, of 1,023."""
        if share is None:
            return self._duty * 1023 // FULL
        self.init(duty_u16=share * FULL // 1023)
        return None

    def deinit(self) -> None:
        """Ends it."""
        self.init(0, 0)


class Timer(Part):
    """Calls a function once after some time, or again and again."""

    ONE_SHOT, PERIODIC = 0, 1

    def __init__(self, id: int = -1, **given: Any) -> None:
        self._waiting = ""
        if given:
            self.init(**given)

    def init(
        self,
        *,
        mode: int = PERIODIC,
        period: float = -1,
        freq: float = 0,
        callback: Callable[[Timer], Any] | None = None,
        **_more: Any,
    ) -> None:
        """Begins; `period` in milliseconds, or `freq` in times a second."""
        self.deinit()
        every, is_periodic = 1000 / freq if freq else max(float(period), 1.0), mode == self.PERIODIC
        words = f"every {every:g} ms" if is_periodic else ""

        def call() -> None:
            self._waiting = self.board.person.after(self.board, every, call, words) if is_periodic else ""
            if callback is not None:
                callback(self)

        self._waiting = self.board.person.after(self.board, every, call, words)

    def deinit(self) -> None:
        """Ends it."""
        if self._waiting:
            self.board.person.cancel(self._waiting)
            self._waiting = ""


class Bus(Part):
    """What displays and sensors are joined to; nobody else answers there."""

    def __init__(self, *_given: Any, **_named: Any) -> None:
        pass

    def scan(self) -> list[int]:
        """The addresses of who answers."""
        return [0x27, 0x3C]

    def init(self, *_given: Any, **_named: Any) -> None:
        """Nothing to be done."""

    deinit = init

    def _nobody(self, *_given: Any, **_named: Any) -> Any:
        raise OSError(19, "nothing here answers on the bus but through its own module")

    writeto = readfrom = readfrom_mem = writeto_mem = readfrom_into = write = read = readinto = _nobody
