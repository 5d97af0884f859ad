"""One case of a program: what it is started with, what is typed, and, if that is known, what should come of it."""

from __future__ import annotations

import msgspec

from eelgrass.runs.acts import read_acts
from eelgrass.runs.order import OWN_TURNS, Desk, Leave, Turns, Typed


class Case(msgspec.Struct, frozen=True, omit_defaults=True):
    """`output` is the standard output expected, `pattern` the same with `*` for any characters. With `call`, only
    this expression of the program's own functions is worked out, and should give the Python literal `result`.
    `claims` should hold whenever their names are there. `ends_input`: after the lines of `input` there are no more;
    else whoever runs it in the window is asked, if the program wants more. Its threads take `turns`; what is done
    with its windows is told by `acts`, a line each. What is None or empty is not asked for."""

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
    acts: tuple[str, ...] = ()

    @property
    def is_plain(self) -> bool:
        """Whether the program is run as it is, with nothing given and nothing typed."""
        is_given = self.arguments or self.input or self.ends_input or self.call or self.acts
        return not is_given and self.turns == OWN_TURNS

    @property
    def typed(self) -> Typed:
        """What is typed into the program."""
        return Typed(self.input, self.ends_input)

    def desk(self, leave: Leave | None) -> Desk | None:
        """The desk at which the program's windows are simulated; None where it may show them, and nothing is done.
        Raises CannotRunError for acts that are none."""
        is_shown = leave is not None and leave.display and not self.acts
        return None if is_shown else Desk(read_acts(self.acts))

    @property
    def expects(self) -> bool:
        """Whether anything is said about what should come of it."""
        return self.output is not None or self.pattern is not None or self.result is not None or bool(self.claims)


#: What a program has before anything is kept.
USUAL = Case("usual")
