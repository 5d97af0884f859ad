"""What is on the board and what a person does there; its time, which passes only as the program looks or sleeps."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.telling import Telling

if TYPE_CHECKING:
    from eelgrass.recorder.board.pins import Pin
    from eelgrass.recorder.desk.person import Person

#: To look at a pin, or to ask the clock, takes so long, in milliseconds.
LOOK_MS = 0.05
#: What sensors feel, as long as nobody says otherwise: degrees Celsius, percent, centimetres.
_USUAL = {"temperature": 20.0, "humidity": 50.0, "distance": 100.0}
#: What an analog pin gives at most.
FULL = 65_535


class Board:
    """One board. `stop()` ends the run at once, in the midst of a statement, as switching off does."""

    is_over = False

    def __init__(self, person: Person, telling: Telling, say: Callable[[str], None], stop: Callable[[], None]) -> None:
        self.person, self.telling = person, telling
        self._say, self._stop = say, stop
        self.senses = dict(_USUAL)
        self._pressed: set[str] = set()
        self._shares: dict[str, float] = {}
        self._listening: dict[str, list[Pin]] = {}
        self._is_interrupted = False
        self._counted: dict[str, int] = {}
        person.meet_board(self)

    # Time

    def look(self) -> None:
        """The program looks at something, which takes a moment."""
        self.live(LOOK_MS)

    def live(self, milliseconds: float) -> None:
        """Time passes; what is due happens, but for what would interrupt a handler. The board is switched off when
        nothing more is to be done there for some time."""
        if self._is_interrupted:
            self.person.sleep(milliseconds / 1000)
        elif not self.person.live(milliseconds):
            self.switch_off()

    def switch_off(self) -> None:
        """The run ends here."""
        self.telling.say("@off", json.dumps({"kind": "off", "words": f"{self.person.now / 1000:g} s"}))
        self._stop()

    def run_callback(self, function: Callable[..., Any], *given: Any) -> None:
        """Calls a function of the program that is to interrupt it."""
        before, self._is_interrupted = self._is_interrupted, True
        try:
            function(*given)
        finally:
            self._is_interrupted = before

    # What is there

    def tell(self, part: str, **state: Any) -> None:
        """A part looks like this now."""
        self.telling.say(f"@{part}", json.dumps(state))

    def one_more(self, kind: str) -> str:
        """What one more part of a kind is called."""
        self._counted[kind] = self._counted.get(kind, 0) + 1
        return kind if self._counted[kind] == 1 else f"{kind} {self._counted[kind]}"

    def listen(self, pin: Pin) -> None:
        """A pin may be pressed."""
        its = self._listening.setdefault(pin.name, [])
        if pin not in its:
            its.append(pin)

    def is_pressed(self, pin: str) -> bool:
        """Whether the button at a pin is pressed."""
        return pin in self._pressed

    def share(self, pin: str) -> float:
        """What an analog pin feels, from 0 to 1."""
        return self._shares.get(pin, 0.5)

    # What is done

    def do(self, act: dict[str, Any]) -> None:
        """A person does something there."""
        what, on, at = str(act.get("do", "")), str(act.get("on", "")), float(act.get("at", 0))
        if what == "set":
            self._set(on, str(act.get("text", "")), at)
            return
        pin = pin_name(on)
        (self._pressed.add if what == "press" else self._pressed.discard)(pin)
        if pin not in self._listening:
            self._say(f"At {at:g} ms nothing listens at pin {pin}.")
        self.telling.because(f"pin {pin} {what}{'d' if what.endswith('e') else 'ed'} at {at:g} ms")
        for its in list(self._listening.get(pin, ())):
            its.changed()
        self.telling.because("")

    def _set(self, on: str, text: str, at: float) -> None:
        try:
            value = float(text.removesuffix("%"))
        except ValueError:
            self._say(f"At {at:g} ms “{text}” is nothing that “{on}” can be set to.")
            return
        if on in self.senses:
            self.senses[on] = value
            self.tell(on, kind="sense", value=value)
        else:
            share = value / 100 if text.endswith("%") else value / FULL
            self._shares[pin_name(on)] = min(max(share, 0.0), 1.0)
            self.tell(f"pin {pin_name(on)}", kind="analog", share=round(self.share(pin_name(on)), 4))


def pin_name(called: Any) -> str:
    """What a pin is called here: by its number, or its name; GP2 and pin 2 are 2."""
    name = str(called).strip().removeprefix("pin ").strip()
    bare = name.upper().removeprefix("GPIO").removeprefix("GP")
    return bare if bare.isdecimal() else name
