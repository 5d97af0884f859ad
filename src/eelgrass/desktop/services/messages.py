"""The one channel through which the person is told something, and the one place where failures become sentences."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import wraps
from typing import Concatenate, ParamSpec, Protocol, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.errors import EelgrassError

_Arguments = ParamSpec("_Arguments")


@dataclass(frozen=True)
class Choice:
    """Something that the person can do about a message: a button's title, and what it calls."""

    title: str
    call: Callable[[], None]


@dataclass(frozen=True)
class Message:
    """A sentence, whether it is about trouble, and what can be done about it."""

    text: str
    is_trouble: bool = False
    choices: tuple[Choice, ...] = ()


class Messages(QObject):
    """What is said now and gone with the next sentence, and what stands until it is over: a save that failed, a file
    that somebody else changed. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.latest = Message("")
        self.standing: dict[Hashable, Message] = {}

    @property
    def shown(self) -> list[Message]:
        """All that there is to say now, what stands first."""
        return [*self.standing.values(), *([self.latest] if self.latest.text else [])]

    def say(self, text: str, is_trouble: bool = False, choices: tuple[Choice, ...] = ()) -> None:
        """Says a sentence in the place of the one before; '' takes that away."""
        message = Message(text, is_trouble, choices)
        if message != self.latest:
            self.latest = message
            self.changed.emit()

    def fail(self, error: EelgrassError) -> None:
        """Says why something could not be done."""
        self.say(str(error), is_trouble=True)

    def stand(self, key: Hashable, message: Message) -> None:
        """Says something that stays said until it is over."""
        if self.standing.get(key) != message:
            self.standing[key] = message
            self.changed.emit()

    def over(self, key: Hashable) -> None:
        """What was said under this key is over."""
        if self.standing.pop(key, None) is not None:
            self.changed.emit()


class _Tells(Protocol):
    messages: Messages


_Owner = TypeVar("_Owner", bound=_Tells)
_Method = Callable[Concatenate[_Owner, _Arguments], None]


def told(method: _Method[_Owner, _Arguments]) -> _Method[_Owner, _Arguments]:
    """A method of an owner that has `messages`: its failures are said there. A signal that carries more than the method
    takes has to be connected through a lambda, since Qt cannot see what it takes."""

    @wraps(method)
    def guarded(owner: _Owner, /, *arguments: _Arguments.args, **named: _Arguments.kwargs) -> None:
        try:
            method(owner, *arguments, **named)
        except EelgrassError as error:
            owner.messages.fail(error)

    return guarded
