"""The modules by which a program finds the board: one of our own, and those by which programs for such boards usually
know theirs. A module of the program, or one that is installed, comes first."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Sequence
from importlib.machinery import ModuleSpec
from types import ModuleType
from typing import Any

from eelgrass.recorder.board import outputs, pins
from eelgrass.recorder.board.board import Board
from eelgrass.recorder.desk.person import Person
from eelgrass.recorder.desk.telling import Telling

_TICKS = 1 << 30


def _named(name: str, base: type) -> type:
    """The same part under the name that a program knows it by."""
    return type(name, (base,), {"__doc__": base.__doc__})


class FrameBuffer(outputs.Dots):
    """Dots to be drawn on, which are not shown themselves."""

    def __init__(self, _buffer: Any, width: int, height: int, _format: int = 0, *_more: Any) -> None:
        super().__init__(width, height)


def _switched_off(*_given: Any) -> None:
    """The program would begin anew; here, that is its end."""
    pins.Part.board.switch_off()


#: What is in each module. Those that only have another name for one of Python's own are in `SAME`.
_PINS = {"Pin": pins.Pin, "Signal": pins.Signal, "Timer": pins.Timer}
_BUSES = {name: _named(name, pins.Bus) for name in ("I2C", "SoftI2C", "SPI", "SoftSPI")}
_MODULES: dict[str, dict[str, Any]] = {
    "tidepost": {
        **_PINS,
        **{"Analog": pins.Analog, "Pulse": pins.Pulse, "Bus": pins.Bus, "Strip": outputs.Strip},
        **{"Pixels": outputs.Pixels, "Characters": outputs.Characters},
        **{"Climate": outputs.Climate, "Distance": outputs.Distance},
    },
    "machine": {
        **_PINS,
        **_BUSES,
        **{"ADC": _named("ADC", pins.Analog), "PWM": _named("PWM", pins.Pulse)},
        **{"reset": _switched_off, "soft_reset": _switched_off, "freq": lambda *_given: 125_000_000},
        **{"unique_id": lambda: b"linnet-1", "disable_irq": lambda: 0, "enable_irq": lambda *_given: None},
    },
    "neopixel": {"NeoPixel": _named("NeoPixel", outputs.Strip)},
    "ssd1306": {name: _named(name, outputs.Pixels) for name in ("SSD1306", "SSD1306_I2C", "SSD1306_SPI")},
    "framebuf": {"FrameBuffer": FrameBuffer, "MONO_VLSB": 0, "MONO_HLSB": 3, "MONO_HMSB": 4},
    "i2c_lcd": {"I2cLcd": _named("I2cLcd", outputs.Characters)},
    "dht": {name: _named(name, outputs.Climate) for name in ("DHT11", "DHT22")},
    "hcsr04": {"HCSR04": _named("HCSR04", outputs.Distance)},
    "micropython": {
        **{"const": lambda value: value, "native": lambda function: function, "viper": lambda function: function},
        **{"schedule": lambda function, argument: function(argument)},
        **{"alloc_emergency_exception_buf": lambda _size: None},
    },
}
SAME = {"utime": "time", "ujson": "json", "urandom": "random", "uos": "os", "ure": "re", "ustruct": "struct"}
SAME |= {"ucollections": "collections", "uasyncio": "asyncio", "ubinascii": "binascii", "uio": "io"}


class Finder:
    """Finds these modules, where nobody else does; `set_up()` is called before the first."""

    def __init__(self, set_up: Callable[[], None]) -> None:
        self._set_up = set_up
        self._is_set_up = False

    def find_spec(self, name: str, _path: Sequence[str] | None = None, _target: Any = None) -> ModuleSpec | None:
        """The module of a name."""
        if name not in _MODULES and name not in SAME:
            return None
        if not self._is_set_up:
            self._is_set_up = True
            self._set_up()
        return ModuleSpec(name, self)  # type: ignore[arg-type]

    def create_module(self, spec: ModuleSpec) -> ModuleType:
        """An empty one."""
        return ModuleType(spec.name)

    def exec_module(self, module: Any) -> None:
        """Fills a module."""
        if module.__name__ in SAME:
            same = __import__(SAME[module.__name__])
            module.__dict__.update({name: its for name, its in vars(same).items() if not name.startswith("__")})
            return
        for name, part in _MODULES[module.__name__].items():
            setattr(module, name, part)
        if module.__name__ == "tidepost":
            its: Any = time
            module.sleep, module.sleep_ms, module.ticks_ms = its.sleep, its.sleep_ms, its.ticks_ms


def set_up(
    person: Person,
    tell: Callable[[str], None],
    tell_cause: Callable[[str], None],
    say: Callable[[str], None],
    stop: Callable[[], None],
) -> Board:
    """From now on parts are on one board, which is given; the program asks there what time it is."""
    board = pins.Part.board = Board(person, Telling(tell, tell_cause), say, stop)
    its: Any = time

    def ticks_ms() -> int:
        board.look()
        return int(board.person.now) % _TICKS

    def ticks_us() -> int:
        board.look()
        return int(board.person.now * 1000) % _TICKS

    its.ticks_ms, its.ticks_us, its.ticks_cpu = ticks_ms, ticks_us, ticks_us
    its.sleep_ms = lambda milliseconds: board.live(max(float(milliseconds), 0.0))
    its.sleep_us = lambda microseconds: board.live(max(float(microseconds), 0.0) / 1000)
    its.ticks_add = lambda ticks, delta: (ticks + delta) % _TICKS
    its.ticks_diff = lambda one, other: ((one - other + _TICKS // 2) % _TICKS) - _TICKS // 2
    return board


def put_in_reach(set_up_board: Callable[[], None]) -> None:
    """From now on a program finds the modules of the board; `set_up_board()` is called before the first."""
    sys.meta_path.append(Finder(set_up_board))
