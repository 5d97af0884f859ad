"""One case of a program: what it is started with, what is typed, and, if that is known, what should come of it."""

from __future__ import annotations

import msgspec

from eelgrass.runs.order import OWN_DESK, OWN_TURNS, Desk, Turns, Typed


class Case(msgspec.Struct, frozen=True, omit_defaults=True):
    """`output` is the standard output expected, `pattern` the same with `*` for any characters. With `call`, only
    this expression of the program's own functions is worked out, and should give the Python literal `result`.
    `claims` should hold whenever their names are there. `ends_input`: after the lines of `input` there are no more;
    else whoever runs it in the window is asked, if the program wants more. Its threads take `turns`; what is done
    with its windows stands in `desk`. What is None or empty is not asked for."""

    name: str
    arguments: tuple[str, ...] = ()
    input: tuple[str, ...] = ()
    ends_input: bool = False
    output: str | None = None
    pattern: str | None = None
    call: str | None = None
    result: str | None = None
    claims: tuple[str, ...] = ()
    turns: Turns = OWN_TURNS
    desk: Desk = OWN_DESK

    @property
    def is_plain(self) -> bool:
        """Whether the program is run as it is, with nothing given and nothing typed."""
        is_usual = (self.turns, self.desk) == (OWN_TURNS, OWN_DESK)
        return is_usual and not (self.arguments or self.input or self.ends_input or self.call)

    @property
    def typed(self) -> Typed:
        """What is typed into the program."""
        return Typed(self.input, self.ends_input)

    @property
    def expects(self) -> bool:
        """Whether anything is said about what should come of it."""
        return self.output is not None or self.pattern is not None or self.result is not None or bool(self.claims)


#: What a program has before anything is kept.
USUAL = Case("usual")
