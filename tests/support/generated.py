"""Programs made up by hypothesis: loops that end, lists and dictionaries that change, calls, exceptions."""

from __future__ import annotations

from hypothesis import strategies as st

NAMES = ("low", "high", "beds", "counts", "tag")

numbers = st.integers(-3, 9).map(str)
texts = st.sampled_from(("'mo'", "'ti'", "''"))


@st.composite
def expressions(draw: st.DrawFn, depth: int = 2) -> str:
    """An expression over the names; it may fail when it is run, which is part of the game.

    What it makes is never larger than what it is made from by more than a little, or loops would fill the memory.
    """
    plain = st.one_of(numbers, texts, st.sampled_from(NAMES), st.just("None"))
    if depth == 0:
        return draw(plain)
    inner = expressions(depth - 1)
    form = draw(st.integers(0, 9))
    if form < 3:
        return draw(plain)
    small = st.one_of(numbers, texts)
    if form == 3:
        return f"({draw(inner)} {draw(st.sampled_from(('+', '-', '//', '%')))} {draw(small)})"
    if form == 4:
        return f"[{draw(small)}, {draw(small)}]"
    if form == 5:
        return f"{{{draw(texts)}: {draw(small)}, {draw(numbers)}: {draw(small)}}}"
    if form == 6:
        return f"{draw(st.sampled_from(NAMES))}[{draw(inner)}]"
    if form == 7:
        return f"helper({draw(inner)}, {draw(inner)})"
    if form == 8:
        return f"({draw(inner)} if {draw(inner)} else {draw(inner)})"
    return f"({draw(small)}, {draw(inner)})"


@st.composite
def conditions(draw: st.DrawFn) -> str:
    """A condition with a name in it: CPython decides others when it compiles, and reports no line for them."""
    return f"{draw(st.sampled_from(NAMES))} {draw(st.sampled_from(('==', 'is not', '!=')))} {draw(expressions(1))}"


@st.composite
def simple(draw: st.DrawFn) -> list[str]:
    """One statement without a body."""
    name, value = draw(st.sampled_from(NAMES)), draw(expressions())
    other = draw(st.sampled_from(NAMES))
    return [
        draw(
            st.sampled_from(
                (
                    f"{name} = {value}",
                    f"{name} += {draw(st.one_of(numbers, texts))}",
                    f"{name} += [{draw(texts)}]",
                    f"{name}, {other} = {other}, {value}",
                    f"{name} = {other} = {value}",
                    f"{name}[{draw(expressions(1))}] = {value}",
                    f"{name}[0] += {draw(numbers)}",
                    f"{name}[:1] = [{draw(numbers)}, {draw(texts)}]",
                    f"{name}.append({value})",
                    f"{name}.insert(0, {value})",
                    f"{name}.pop()",
                    f"{name}.update({value})",
                    f"del {name}[0]",
                    f"del {name}",
                    f"print({value})",
                    f"{name} = [shell for shell in {value}]",
                    f"{name}.reverse()",
                    "pass",
                )
            )
        )
    ]


@st.composite
def block(draw: st.DrawFn, depth: int, in_loop: bool, in_function: bool) -> list[str]:
    """Lines of a body, indented."""
    lines: list[str] = []
    for _ in range(draw(st.integers(1, 3))):
        lines += draw(statement(depth, in_loop, in_function))
    return ["    " + line for line in lines]


@st.composite
def statement(draw: st.DrawFn, depth: int, in_loop: bool = False, in_function: bool = False) -> list[str]:
    """One statement with everything in it."""
    if depth == 0 or draw(st.booleans()):
        if in_loop and draw(st.integers(0, 5)) == 0:
            return [draw(st.sampled_from(("break", "continue")))]
        if in_function and draw(st.integers(0, 5)) == 0:
            return [f"return {draw(expressions(1))}"]
        return draw(simple())
    condition = draw(conditions())
    inner, looped = block(depth - 1, in_loop, in_function), block(depth - 1, True, in_function)
    form = draw(st.integers(0, 5))
    if form == 0:
        return [f"if {condition}:", *draw(inner), "else:", *draw(inner)]
    if form == 1:
        return [f"if {condition}:", *draw(inner), f"elif {draw(conditions())}:", *draw(inner)]
    if form == 2:
        return [f"for {draw(st.sampled_from(NAMES))} in [*{draw(expressions())}][:4]:", *draw(looped)]
    if form == 3:
        return ["for tag in range(3):", *draw(looped), "else:", *draw(inner)]
    if form == 4:
        clock = f"clock_{depth}"
        return [f"{clock} = 0", f"while {clock} < 3:", f"    {clock} += 1", *draw(looped)]
    return ["try:", *draw(inner), "except Exception as error:", *draw(inner), "finally:", *draw(inner)]


@st.composite
def programs(draw: st.DrawFn) -> str:
    """A whole program, with a function that its expressions call."""
    helper = ["def helper(low, high):", "    beds = []", *draw(block(2, False, True)), "    return low"]
    # A call from within the helper would seldom come to an end.
    helper = [line.replace("helper(", "max(") if number else line for number, line in enumerate(helper)]
    start = ["low, high, tag = 1, 5, 'mo'", "beds = [2, 3]", "counts = {'mo': 1}"]
    body = [line for _ in range(draw(st.integers(2, 6))) for line in draw(statement(2))]
    return "\n".join([*helper, *start, *body]) + "\n"
