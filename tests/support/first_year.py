"""Programs like those of a first year, made from a number: each is a few pieces of the kind that exercises are made of,
with names, constants, decisions and nesting drawn anew. And their judge."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file
from support.judges import AS_PLAIN, assert_agree, photographs, plain

_NAMES = ("reef", "pier", "mud", "sluice", "north", "ferry", "gauge", "tern", "eel", "kelp", "buoy", "wrack")


@dataclass(frozen=True)
class FirstYear:
    """`typed` is what is typed; the turns that threads take are nobody's to know."""

    text: str
    typed: bytes
    has_threads: bool


class _Draw(random.Random):
    """Draws names that are new, numbers, expressions and small statements."""

    def __init__(self, seed: int) -> None:
        super().__init__(seed)
        self.taken = 0
        self.typed: list[str] = []
        self.has_threads = False

    def name(self) -> str:
        self.taken += 1
        return f"{self.choice(_NAMES)}_{self.taken}"

    def number(self) -> str:
        return str(self.randint(-4, 12))

    def text(self) -> str:
        return repr(self.choice((*_NAMES, "", "a b", "Linnet Bay", "x, y")))

    def value(self) -> str:
        return self.choice((self.number, self.number, self.text, lambda: "2.5", lambda: "None", lambda: "True"))()

    def numbers(self) -> str:
        return f"[{', '.join(self.number() for _ in range(self.randint(0, 7)))}]"

    def whole(self, *names: str, depth: int = 2) -> str:
        """An expression that gives a whole number, of names that hold such."""
        if depth == 0 or self.random() < 0.3:
            return self.choice((*names, self.number()))
        left, right = self.whole(*names, depth=depth - 1), self.whole(*names, depth=depth - 1)
        decided = f"({left} if {self.test(*names)} else {right})"
        chosen = f"{self.choice(('min', 'max'))}({left}, {right})"
        added = f"({left} {self.choice('+-*+-')} {right})"
        return self.choice((decided, chosen, f"abs({left})", added, added, added, added))

    def test(self, *names: str) -> str:
        one, other = self.choice(names), self.choice((*names, self.number()))
        plain = f"{one} {self.choice(('<', '>', '==', '!=', '<=', '>='))} {other}"
        return self.choice((plain, plain, f"not {plain}", f"{plain} and {one} % 2 == 0", f"{plain} or {one} > 5"))


def _indented(lines: list[str], by: int = 1) -> list[str]:
    return ["    " * by + line for line in lines]


def _loops(d: _Draw) -> list[str]:
    total, step, rows = d.name(), d.name(), d.name()
    inner = d.choice(
        (
            [f"{total} += {d.whole(step, total, depth=1)} % 50"],
            [f"if {d.test(step, total)}:", f"    {total} -= 1", "else:", f"    {total} = {total} + {step}"],
            [f"if {d.test(step)}:", f"    {d.choice(('continue', 'break'))}", f"{total} += 1"],
        )
    )
    lines = [f"{total} = {d.number()}", f"{rows} = {d.numbers()}"]
    header = d.choice((f"for {step} in range({d.randint(1, 8)}):", f"for {step} in {rows}:"))
    lines += [header, *_indented(inner)]
    if d.random() < 0.4:
        lines += ["else:", f"    {total} += 100"]
    left = d.name()
    lines += [f"{left} = {d.randint(0, 9)}", f"while {left} > 0:", f"    {left} -= {d.randint(1, 3)}"]
    lines += _indented(d.choice(([f"{rows}.append({left})"], [f"if {d.test(left)}:", f"    {rows}.insert(0, {left})"])))
    return [*lines, f"print({total}, {rows}, {left})"]


def _containers(d: _Draw) -> list[str]:
    counts, rows, seen, word = d.name(), d.name(), d.name(), d.name()
    words = [d.text() for _ in range(d.randint(2, 6))]
    count = d.choice(
        (
            [f"{counts}[{word}] = {counts}.get({word}, 0) + 1"],
            [f"if {word} in {counts}:", f"    {counts}[{word}] += 1", "else:", f"    {counts}[{word}] = 1"],
            [f"{counts}.setdefault({word}, 0)", f"{counts}[{word}] += len({word})"],
        )
    )
    lines = [f"{counts} = {{}}", f"{seen} = set()", f"{rows} = [{', '.join(words)}]", f"for {word} in {rows}:"]
    lines += _indented([*count, f"{seen}.{d.choice(('add', 'discard'))}({word})"])
    change = d.choice(
        (
            f"{rows}.sort()",
            f"{rows}.sort(key=len, reverse=True)",
            f"{rows}[1:3] = [{d.value()}, {d.value()}]",
            f"{rows} = {rows}[::-1]",
            f"{rows}.remove({words[0]})",
            f"del {rows}[0]",
            f"{rows} += [{d.value()}]",
            f"{rows}.extend({rows})",
        )
    )
    grid, place = d.name(), d.name()
    lines += [change, f"{grid} = [[0] * {d.randint(1, 4)} for {place} in range({d.randint(1, 3)})]"]
    lines += [f"{grid}[0][-1] = {d.number()}", f"{grid}[-1].append({d.value()})"]
    alias = d.name()
    lines += [f"{alias} = {d.choice((rows, grid, f'{rows}[:]', f'list({grid})'))}", f"{alias}.append({d.value()})"]
    pair, its = d.name(), d.name()
    lines += [f"for {pair}, {its} in {counts}.items():", f"    print({pair}, {its}, {rows}[:2])"]
    return [*lines, f"print({rows}, {grid}, {alias}, sorted({seen}))"]


def _recursion(d: _Draw) -> list[str]:
    name, n = d.name(), "n"
    way = d.randrange(4)
    if way == 0:
        body = [f"if {n} <= {d.randint(0, 2)}:", f"    return {d.number()}"]
        body += [f"return {name}({n} - 1) {d.choice('+-')} {d.choice((f'{name}({n} - 2)', n))}"]
        return [f"def {name}({n}):", *_indented(body), f"print({name}({d.randint(1, 7)}))"]
    if way == 1:
        body = ["total = 0", "for part in rows:", "    if isinstance(part, list):", f"        total += {name}(part)"]
        body += ["    else:", "        total += part", "return total"]
        nested = f"[{d.number()}, [{d.number()}, [{d.number()}]], {d.numbers()}]"
        return [f"def {name}(rows):", *_indented(body), f"print({name}({nested}))"]
    if way == 2:
        body = ["if not rest:", "    found.append(so_far[:])", "    return", "for place in range(len(rest)):"]
        body += ["    so_far.append(rest[place])", f"    {name}(rest[:place] + rest[place + 1:], so_far, found)"]
        body += ["    so_far.pop()"]
        lines = [f"def {name}(rest, so_far, found):", *_indented(body), "found = []"]
        return [*lines, f"{name}({[d.randint(1, 9) for _ in range(3)]}, [], found)", "print(len(found), found[-1])"]
    told = d.choice(([], [f"print('dive', {n})"], [f"print([{n}], str({n}), sep='-')"]))
    ends = d.choice((f"{name}({n} + 1)", f"[{name}({n} + 1)]", f"1 + {name}({n} + 1)", f"max({n}, {name}({n} + 1))"))
    body = [*told, f"return {ends}"]
    calm = ["try:", f"    {name}(0)", "except RecursionError as error:", "    print('too deep:', error)"]
    return [f"def {name}({n}):", *_indented(body), *calm]


def _classes(d: _Draw) -> list[str]:
    base, derived, field, method, thing = d.name().title(), d.name().title(), d.name(), d.name(), d.name()
    lines = [f"class {base}:", "    made = 0", f"    def __init__(self, {field}):", f"        self.{field} = {field}"]
    lines += ["        self.rows = []", f"        {base}.made += 1", f"    def {method}(self, by={d.number()}):"]
    lines += _indented(
        d.choice(
            (
                [f"self.{field} += by", "self.rows.append(by)", f"return self.{field}"],
                [f"if by > {d.number()}:", "    self.rows.insert(0, by)", "return len(self.rows)"],
                [f"for n in range({d.randint(1, 4)}):", f"    self.{field} = self.{field} + n * by", "return self"],
            )
        ),
        2,
    )
    special = d.choice(("__repr__", "__str__", "__len__", "__eq__", "__lt__"))
    lines += {
        "__repr__": ["    def __repr__(self):", f"        return f'<{{self.{field}}} {{self.rows}}>'"],
        "__str__": ["    def __str__(self):", f"        return 'has ' + str(self.{field})"],
        "__len__": ["    def __len__(self):", "        return len(self.rows)"],
        "__eq__": ["    def __eq__(self, other):", f"        return self.{field} == other.{field}"],
        "__lt__": ["    def __lt__(self, other):", f"        return self.{field} < other.{field}"],
    }[special]
    if d.random() < 0.5:
        lines += ["    @property", "    def twice(self):", f"        return self.{field} * 2"]
    lines += [f"class {derived}({base}):", f"    def {method}(self, by=1):", f"        super().{method}(by)"]
    lines += [f"        return self.{field}"]
    lines += [f"{thing} = [{base}({d.number()}), {derived}({d.number()}), {derived}({d.number()})]"]
    lines += [
        f"for one in {thing}:",
        f"    one.{method}({d.number()})",
        f"    print(one.{field}, one.rows, {base}.made)",
    ]
    shown = {"__len__": "len(one)", "__eq__": f"one == {thing}[0]", "__lt__": f"one < {thing}[0]"}
    return [*lines, f"print({shown.get(special, f'{special[2:-2]}(one)')})"]


def _closures(d: _Draw) -> list[str]:
    make, count, add, rows = d.name(), d.name(), d.name(), d.name()
    lines = [f"def {make}({count}={d.number()}):", f"    def {add}(by):", f"        nonlocal {count}"]
    lines += [f"        {count} = {d.whole(count, 'by', depth=1)}", f"        return {count}", f"    return {add}"]
    lines += [f"{rows} = [{make}(), {make}({d.number()})]", f"print([one({d.number()}) for one in {rows}])"]
    lines += [f"def into(item, {rows}=[]):", f"    {rows}.append(item)", f"    return {rows}"]
    lines += [f"into({d.value()})", f"print(into({d.value()}))"]
    late = d.name()
    lines += [f"{late} = []", "for k in range(3):", f"    {late}.append(lambda: k * {d.number()})"]
    lines += [f"print([one() for one in {late}], sorted({d.numbers()}, key=lambda n: {d.whole('n', depth=1)}))"]
    return [*lines, f"print(list(map(lambda n: n + 1, {d.numbers()})), [n for n in {d.numbers()} if {d.test('n')}])"]


def _generators(d: _Draw) -> list[str]:
    readings, above, total = d.name(), d.name(), d.name()
    lines = [f"def {readings}(count):", "    for n in range(count):", f"        yield {d.whole('n', depth=1)}"]
    lines += [f"def {above}(rows, least):", "    for row in rows:", "        if row > least:", "            yield row"]
    lines += d.choice(
        (
            [
                f"{total} = 0",
                f"for one in {above}({readings}({d.randint(1, 8)}), {d.number()}):",
                f"    {total} += one",
            ],
            [f"{total} = sum(one for one in {above}({readings}(6), {d.number()}))"],
            [f"{total} = list({readings}(4))", f"{total}.extend({above}({readings}(5), 0))"],
            [f"its = {readings}(2)", f"{total} = [next(its), next(its, None), next(its, None)]"],
            ["def both():", f"    yield from {readings}(2)", "    yield 7", f"{total} = dict(zip('abc', both()))"],
        )
    )
    return [*lines, f"print({total})"]


def _files(d: _Draw) -> list[str]:
    name, rows, total = f"{d.name()}.txt", d.name(), d.name()
    lines = [
        "import os",
        f"with open({name!r}, 'w') as out:",
        f"    for n in {d.numbers()}:",
        "        out.write(f'{n}\\n')",
    ]
    lines += [f"{rows} = []", f"with open({name!r}) as source:", "    for line in source:"]
    lines += [f"        {rows}.append({d.choice(('line.strip()', 'int(line)', 'line'))})", f"{total} = len({rows})"]
    lines += ["try:", f"    open({d.choice((name, 'nothere.txt'))!r}).{d.choice(('read()', 'write(1)'))}"]
    lines += ["except (OSError, ValueError) as error:", "    print(type(error).__name__)"]
    return [*lines, f"os.remove({name!r})", f"print({rows}, {total})"]


def _input(d: _Draw) -> list[str]:
    answer, rows = d.name(), d.name()
    typed = [d.choice(("4", "x", "12", "-3", "")) for _ in range(d.randint(1, 4))]
    d.typed += [*typed, "end"]
    lines = [
        f"{rows} = []",
        "while True:",
        f"    {answer} = input({d.text()})",
        f"    if {answer} == 'end':",
        "        break",
    ]
    lines += ["    try:", f"        {rows}.append(int({answer}))", "    except ValueError:"]
    return [*lines, f"        print('no number:', {answer})", f"print(sum({rows}), {rows})"]


def _exceptions(d: _Draw) -> list[str]:
    check, error, value = d.name(), d.name().title(), d.name()
    lines = [f"class {error}(Exception):", f"    def __init__(self, {value}):", f"        super().__init__({value})"]
    lines += [f"        self.{value} = {value}", f"def {check}(n):"]
    fails = d.choice(
        (f"raise {error}(n)", "raise ValueError('small') from None", "[][n]", "{}[n]", "1 // 0", "int('x')", "None.x")
    )
    lines += _indented([f"if n > {d.number()}:", f"    {fails}", "return n"])
    lines += [f"for n in {d.numbers()}:", "    try:", f"        print({check}(n))", f"    except {error} as its:"]
    lines += [f"        print('ours', its.{value}, its.args)", "    except (ValueError, LookupError) as its:"]
    lines += ["        print(type(its).__name__, its)", "    except Exception as its:", "        print(its)"]
    if d.random() < 0.5:
        lines += ["    else:", "        print('well')", "    finally:", "        print('done', n)"]
    return lines


def _threads(d: _Draw) -> list[str]:
    d.has_threads = True
    work, rows, lock = d.name(), d.name(), d.name()
    lines = ["import threading", f"{rows} = []", f"{lock} = threading.Lock()", f"def {work}(n):"]
    lines += [
        "    total = 0",
        f"    for k in range({d.randint(1, 300)}):",
        f"        total += {d.whole('k', 'n', depth=1)}",
    ]
    lines += [f"    with {lock}:", f"        {rows}.append(total)"]
    start = d.choice((f"threading.Thread(target={work}, args=(n,))", f"threading.Thread(target=lambda n=n: {work}(n))"))
    lines += [f"threads = [{start} for n in range({d.randint(1, 4)})]", "for one in threads:", "    one.start()"]
    return [*lines, "for one in threads:", "    one.join()", f"print(sorted({rows}))"]


def _texts(d: _Draw) -> list[str]:
    word, out, letter = d.name(), d.name(), d.name()
    lines = [f"{word} = {d.text()}", f"{out} = ''", f"for {letter} in {word}:"]
    lines += _indented(
        d.choice(
            (
                [f"{out} = {letter} + {out}"],
                [f"if {letter} in 'aeiou':", f"    {out} += {letter}.upper()", "else:", f"    {out} += {letter}"],
                [f"{out} += chr((ord({letter}) + {d.randint(1, 5)}) % 128)"],
            )
        )
    )
    how = d.choice((".split()", ".replace('e', 'E')", "[::-1]", "[1:3]", ".center(12, '*')", ".find('e')", ".title()"))
    return [*lines, f"print(repr({out}), {word}{how}, f'{{{word}!r:>12}} {{len({out}):03}}')"]


def _searches(d: _Draw) -> list[str]:
    search, rows = d.name(), d.name()
    if d.random() < 0.5:
        body = ["low, high = 0, len(rows)", f"while low < high{d.choice(('', ' and high > 0'))}:"]
        body += ["    middle = (low + high) // 2", "    if rows[middle] < wanted:", "        low = middle + 1"]
        body += ["    else:", "        high = middle", "return low"]
        return [
            f"def {search}(rows, wanted):",
            *_indented(body),
            f"print({search}(sorted({d.numbers()}), {d.number()}))",
        ]
    body = ["for last in range(len(rows) - 1, 0, -1):", "    for place in range(last):"]
    body += ["        if rows[place] > rows[place + 1]:"]
    body += ["            rows[place], rows[place + 1] = rows[place + 1], rows[place]"]
    return [f"def {search}(rows):", *_indented(body), f"{rows} = {d.numbers()}", f"{search}({rows})", f"print({rows})"]


def _structures(d: _Draw) -> list[str]:
    node, head, seen = d.name().title(), d.name(), d.name()
    lines = [f"class {node}:", "    def __init__(self, value, after=None):", "        self.value = value"]
    lines += [
        "        self.after = after",
        f"{head} = None",
        f"for n in {d.numbers()}:",
        f"    {head} = {node}(n, {head})",
    ]
    lines += [f"{seen} = []", f"its = {head}", "while its is not None:", f"    {seen}.append(its.value)"]
    lines += ["    its = its.after", f"print({seen})"]
    graph, queue = d.name(), d.name()
    lines += [f"{graph} = {{0: [1, 2], 1: [3], 2: [{d.randint(0, 3)}], 3: []}}", f"{queue} = [0]", "reached = set()"]
    lines += [f"while {queue}:", f"    place = {queue}.pop({d.choice(('0', ''))})", "    if place in reached:"]
    lines += ["        continue", "    reached.add(place)", f"    {queue}.extend({graph}[place])"]
    return [*lines, "print(sorted(reached))"]


_PIECES: tuple[Callable[[_Draw], list[str]], ...] = (
    *(_loops, _containers, _recursion, _classes, _closures, _generators, _files, _input, _exceptions, _threads, _texts),
    *(_searches, _structures),
)


def program(seed: int) -> FirstYear:
    """The program of a number."""
    d = _Draw(seed)
    lines: list[str] = []
    for piece in d.sample(_PIECES, d.randint(2, 4)):
        its = piece(d)
        wrapped = d.random()
        if wrapped < 0.25 and piece is not _closures:
            name = d.name()
            its = [f"def {name}():", *_indented(its), f"{name}()"]
        elif wrapped < 0.4:
            its = ["try:", *_indented(its), "except Exception as error:", "    print(type(error).__name__, error)"]
        lines += its
    if d.random() < 0.3:
        lines.append(
            d.choice(("print(missing)", "[1, 2][5]", "raise SystemExit(3)", "int('mud')", "1 / 0", "assert 0, 'no'"))
        )
    return FirstYear("\n".join(lines) + "\n", "".join(f"{line}\n" for line in d.typed).encode(), d.has_threads)


def judge(seed: int, folder: Path) -> None:
    """Fails where the recording of a program differs from the plain run, from the oracle, or from itself once saved."""
    its = program(seed)
    if "too deep" in its.text and not AS_PLAIN:
        return
    file = folder / "program.py"
    file.write_text(its.text)
    bare = plain(file, its.typed)
    run = Run(Order(file), on_waiting=lambda _trace: answer())
    waiting = its.typed.decode().splitlines()

    def answer() -> None:
        if waiting:
            run.type_line(waiting.pop(0))
        else:
            run.end_input()

    run.start()
    trace = run.wait()
    for channel, told in ((1, bare.stdout), (2, bare.stderr)):
        assert "".join(
            its for its, of in zip(trace.texts.pieces, trace.texts.channel, strict=True) if of == channel
        ) == (told.decode())
    assert trace.outcome.exit_status == bare.returncode
    recording_file.save(trace, folder / "run.eelrec")
    trace = recording_file.load(folder / "run.eelrec")
    # The oracle's own calls need room on the stack, and its threads take turns at any moment.
    if not its.has_threads and "too deep" not in its.text:
        assert_agree(trace, photographs(file, folder / "oracle.jsonl", its.typed))
