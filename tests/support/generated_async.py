"""Programs of coroutines, made from a number: tasks that take turns in loops, blocks and comprehensions that wait."""

from __future__ import annotations

import random
from collections.abc import Callable

_HEAD = """\
import asyncio
class Lock:
    def __init__(self, name, hides):
        self.name, self.hides = name, hides
    async def __aenter__(self):
        await asyncio.sleep(0)
        return self.name
    async def __aexit__(self, kind, error, _trace):
        await asyncio.sleep(0)
        return self.hides and kind is KeyError
class Tides:
    def __init__(self, many):
        self.left = many
    def __aiter__(self):
        return self
    async def __anext__(self):
        if not self.left:
            raise StopAsyncIteration
        self.left -= 1
        await asyncio.sleep(0)
        return self.left
async def steps(many):
    try:
        for step in range(many):
            if step % 2:
                await asyncio.sleep(0)
            yield step
    finally:
        await asyncio.sleep(0)
async def weigh(crab):
    await asyncio.sleep(0)
    if crab == 5:
        raise KeyError(crab)
    return crab * 2
"""


class _Draw(random.Random):
    """Draws statements of a coroutine whose number is `boat` and which adds up `total`."""

    def over(self) -> str:
        return self.choice((f"steps({self.randint(0, 4)})", f"Tides({self.randint(0, 3)})"))

    def lock(self) -> str:
        return f"Lock({self.randint(1, 9)}, {self.random() < 0.5})"

    def body(self, depth: int, in_loop: bool) -> list[str]:
        return [line for _ in range(self.randint(1, 3)) for line in self.statement(depth, in_loop)]

    def statement(self, depth: int, in_loop: bool) -> list[str]:
        kinds: list[Callable[[int, bool], list[str]]] = [self.plain, self.plain, self.waiting, self.made]
        if depth:
            kinds += [self.loop, self.loop, self.block, self.block, self.trial, self.decision]
        return self.choice(kinds)(depth, in_loop)

    def plain(self, _depth: int, in_loop: bool) -> list[str]:
        return [self.choice((f"total += {self.randint(1, 9)}", "total = total * 2 + boat", *["continue"] * in_loop))]

    def waiting(self, _depth: int, _in_loop: bool) -> list[str]:
        return [self.choice(("await asyncio.sleep(0)", f"total += await weigh({self.randint(0, 5)})"))]

    def made(self, _depth: int, _in_loop: bool) -> list[str]:
        return [
            self.choice(
                (
                    f"made = [boat + step async for step in {self.over()}]",
                    f"made = {{step: boat async for step in {self.over()} if step != 1}}",
                    f"made = [await weigh(crab + boat) for crab in range({self.randint(0, 3)})]",
                    f"made = sum([step async for step in {self.over()}])",
                )
            )
        ]

    def loop(self, depth: int, _in_loop: bool) -> list[str]:
        head = self.choice((f"async for step in {self.over()}:", f"for step in range({self.randint(0, 3)}):"))
        its = [head, *_indented(self.body(depth - 1, in_loop=True))]
        if self.random() < 0.3:
            its += ["    if total > 40:", "        break"]
        return [*its, "else:", *_indented(self.body(0, in_loop=False))] if self.random() < 0.3 else its

    def block(self, depth: int, in_loop: bool) -> list[str]:
        two = f", {self.lock()} as second" if self.random() < 0.3 else ""
        # An `if` that ends such a block is told again by the interpreter, with the line of what was not run.
        ends = self.choice(("return total", *["total += 1"] * 4))
        return [f"async with {self.lock()} as name{two}:", *_indented([*self.body(depth - 1, in_loop), ends])]

    def trial(self, depth: int, in_loop: bool) -> list[str]:
        its = ["try:", *_indented(self.body(depth - 1, in_loop))]
        ends = self.random()
        if ends < 0.7:
            its += ["except KeyError as error:", *_indented(self.body(0, in_loop))]
        return its if ends < 0.4 else [*its, "finally:", *_indented(self.body(0, in_loop=False))]

    def decision(self, depth: int, in_loop: bool) -> list[str]:
        return [f"if (total + boat) % {self.randint(2, 3)}:", *_indented(self.body(depth - 1, in_loop))]


def program(seed: int) -> str:
    """The program of a number."""
    draw = _Draw(seed)
    lines = []
    for number in range(draw.randint(1, 2)):
        lines += [f"async def walk_{number}(boat):", "    total = 0", *_indented(draw.body(3, in_loop=False))]
        lines.append("    return total")
    tasks = ", ".join(f"walk_{draw.randrange(number + 1)}({boat})" for boat in range(draw.randint(2, 4)))
    lines += ["async def station():", f"    print(await asyncio.gather({tasks}, return_exceptions=True))"]
    return _HEAD + "\n".join([*lines, "asyncio.run(station())", ""])


def _indented(lines: list[str]) -> list[str]:
    return [f"    {line}" for line in lines]
