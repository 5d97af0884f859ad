"""Files of strangers: recordings, exercises, answers, notebooks and programs, damaged in every way that chance and a
few unkind ideas give. Whatever they hold, loading ends in a sentence, or in something that can be looked at."""

from __future__ import annotations

import contextlib
import io
import json
import signal
import struct
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from random import Random
from types import FrameType
from typing import Any

from eelgrass.errors import EelgrassError
from eelgrass.export import json_rows
from eelgrass.lessons.answering import answer as answers
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.stated.stated_claims import stated_claims
from eelgrass.reading.watches import watch
from eelgrass.runs.order import Order, check_text
from eelgrass.runs.programs.finding import check_content
from eelgrass.runs.programs.notebooks import program_text
from eelgrass.runs.repeating import again
from eelgrass.runs.texts import source_text
from eelgrass.trace.files import recording_file
from support.runs import run_of_text

#: An input takes no longer than this, with all that is looked at of it.
SECONDS = 20
_PROGRAM = """\
class Bed:
    def __init__(self, shoots):
        self.shoots = shoots
def total(beds):
    found = 0
    for bed in beds:
        found += bed.shoots
    return found
beds = [Bed(3), Bed(2**70), Bed(1)]
beds.insert(1, Bed(9))
odd = ("a", 1.5, None, {"reef": b"x"}, {4}, [[0] * 3] * 2)
print(total(beds), [bed.shoots for bed in beds])
def tides():
    for tide in "abc":
        yield tide
print(list(tides()))
try:
    beds[7]
except IndexError as error:
    print(error)
"""
_ODD_TEXTS = (
    "",
    "\0",
    "\u202e",
    "../../etc/passwd",
    "/dev/zero",
    "a" * 5_000,
    "<img src='/dev/stdin'>",
    "\ud800",
    "é",
    "1e999",
)
_ODD_NUMBERS = (0, -1, 1, 2, 255, 256, 1 << 31, (1 << 31) - 1, 1 << 32, 1 << 63, -(1 << 63), 10**40, 0.5, 1e308, True)
_ENCODINGS = (
    "punycode",
    "undefined",
    "utf-7",
    "idna",
    "rot13",
    "zip",
    "utf-16",
    "latin-1",
    "unicode_escape",
    "none such",
)


class TooSlowError(Exception):
    """An input that took too long."""


def _deep(random: Random) -> str:
    depth = random.choice((10, 200, 2_000, 100_000))
    return random.choice(("[" * depth + "]" * depth, '{"a":' * depth + "1" + "}" * depth, "[" * depth))


def odd_value(random: Random) -> Any:
    """Something that nobody expects where it stands."""
    return random.choice(
        (
            lambda: random.choice(_ODD_NUMBERS),
            lambda: random.choice(_ODD_TEXTS),
            lambda: [odd_value(random) for _ in range(random.randrange(3))],
            lambda: {random.choice(_ODD_TEXTS): random.choice(_ODD_NUMBERS)},
            lambda: None,
        )
    )()


def changed_json(told: Any, random: Random) -> Any:
    """JSON in which one thing is another."""
    if isinstance(told, dict) and told and random.random() < 0.9:
        name = random.choice(list(told))
        if random.random() < 0.1:
            return {key: its for key, its in told.items() if key != name}
        return {**told, name: changed_json(told[name], random)}
    if isinstance(told, list) and told and random.random() < 0.9:
        place = random.randrange(len(told))
        kept = told[: random.choice((len(told), place))]
        return [changed_json(its, random) if number == place else its for number, its in enumerate(kept)]
    return odd_value(random)


def changed_bytes(data: bytes, random: Random) -> bytes:
    """Bytes of which some are others, gone, or there again."""
    made = bytearray(data)
    for _ in range(random.choice((1, 1, 2, 8))):
        place = random.randrange(len(made) or 1)
        match random.randrange(5):
            case 0 if made:
                made[place] ^= 1 << random.randrange(8)
            case 1:
                del made[place : place + random.choice((1, 8, 1000))]
            case 2:
                made[place:place] = random.randbytes(random.choice((1, 4, 100)))
            case 3:
                made[place:place] = made[: random.choice((4, 100, 5000))]
            case 4:
                made[place : place + 8] = struct.pack("<q", random.choice((0, -1, 1 << 31, 1 << 62, 7)))
    return bytes(made)


class HostileFiles:
    """Makes such files in a folder, each from its seed, and loads them."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        recording_file.save(run_of_text(_PROGRAM, (), folder), folder / "good.eelrec")
        self.exercise = demo_lesson().exercises[0]
        exercises.pack(self.exercise, folder / "good.eelx")
        self.kinds: tuple[Callable[[Random], None], ...] = (
            *(self._recording_parts,) * 4,
            *(self._recording_bytes, self._exercise, self._exercise, self._packed, self._answer, self._sealed),
            *(self._notebook, self._program),
        )

    def load(self, seed: int) -> str:
        """What comes of one file: "loaded", or the sentence. Raises whatever should not be raised."""
        random = Random(seed)

        def late(_number: int, _frame: FrameType | None) -> None:
            raise TooSlowError(f"seed {seed} takes longer than {SECONDS} seconds")

        before = signal.signal(signal.SIGALRM, late)
        signal.alarm(SECONDS)
        try:
            random.choice(self.kinds)(random)
        except EelgrassError as error:
            sentence = str(error)
            assert len(sentence) < 1_000, f"seed {seed}: {len(sentence)} characters"
            return sentence
        except OSError as error:
            return str(error)  # which who opens files tells
        finally:
            signal.alarm(0)
            signal.signal(signal.SIGALRM, before)
        return "loaded"

    # One for each kind of file

    def _parts(self, name: str) -> dict[str, bytes]:
        with zipfile.ZipFile(self.folder / name) as archive:
            return {its: archive.read(its) for its in archive.namelist()}

    def _pack(self, parts: dict[str, bytes], name: str) -> Path:
        with zipfile.ZipFile(self.folder / name, "w", zipfile.ZIP_DEFLATED) as archive:
            for its, data in parts.items():
                archive.writestr(its, data)
        return self.folder / name

    def _recording_parts(self, random: Random) -> None:
        parts = self._parts("good.eelrec")
        for _ in range(random.choice((1, 1, 2, 3))):
            name = random.choice(list(parts))
            if name.endswith(".json") and random.random() < 0.8:
                with contextlib.suppress(ValueError):  # it has been damaged before
                    parts[name] = json.dumps(changed_json(json.loads(parts[name]), random)).encode()
            elif name.endswith(".npy") and random.random() < 0.8:
                parts[name] = self._changed_column(parts[name], random)
            elif name.endswith("l") and random.random() < 0.5:
                lines = parts[name].splitlines()
                lines[random.randrange(len(lines))] = random.choice(
                    (_deep(random), json.dumps(odd_value(random)), json.dumps(_deep(random)))
                ).encode()
                parts[name] = b"\n".join(lines) + b"\n"
            else:
                parts[name] = changed_bytes(parts[name], random)
        self._look(self._pack(parts, "bad.eelrec"))

    def _changed_column(self, data: bytes, random: Random) -> bytes:
        """A column with other numbers in it, or another head."""
        head, body = data[:128], bytearray(data[128:])
        if random.random() < 0.15:
            other = random.choice(("(2147483647,)", "(10000000000000,)", "(1,1)", "()", "(-1,)"))
            said = f"{{'descr': '<i4', 'fortran_order': False, 'shape': {other}, }}"
            return b"\x93NUMPY\x01\x00v\x00" + said.ljust(117).encode() + b"\n" + bytes(body)
        for _ in range(random.choice((1, 1, 3))):
            if body:
                place = random.randrange(len(body)) // 4 * 4
                body[place : place + 4] = struct.pack(
                    "<i", random.choice((0, 1, -1, 5, 1 << 20, (1 << 31) - 1, -(1 << 31)))
                )
        return head + bytes(body[: len(data) - 128])

    def _recording_bytes(self, random: Random) -> None:
        path = self.folder / "bad.eelrec"
        path.write_bytes(changed_bytes((self.folder / "good.eelrec").read_bytes(), random))
        self._look(path)

    def _look(self, path: Path) -> None:
        """What a window would look at first, of a recording that could be read."""
        trace = recording_file.load(path)
        recording = Recording(trace)
        recording.prepare()
        steps = len(trace.steps)
        for step in {0, steps // 3, steps // 2, steps - 1} if steps else ():
            recording.stack_rows.at(step)
            recording.timeline.words(step)
            recording.worked_lines.at(step)
            module, line = recording.module_at(step), trace.line_of(step)
            recording.line_notes.of_line(module, line, step)
            watch.at(recording, parse_expression("len(beds) + 1"), recording.stepping.frame_of(step), step)
            for move in ("next_line", "into", "out"):
                getattr(recording.stepping, move)(step)
        for _row, _ in zip(json_rows.dump(trace), range(50), strict=False):
            pass
        watch.over(recording, parse_expression("found > 3"))
        recording_file.save(trace, self.folder / "saved.eelrec")
        again(trace)
        find_clues(recording)
        stated_claims(trace)

    def _exercise(self, random: Random) -> None:
        folder = self.folder / "exercise"
        folder.mkdir(exist_ok=True)
        exercises.copy_files(exercises.all_files(self.exercise.folder), self.exercise.folder, folder)
        path = random.choice([folder / exercises.MANIFEST, folder / exercises.SEALED_FOLDER / "sealed.toml"])
        path.write_bytes(self._changed_toml(path.read_bytes(), random))
        list(exercises.load(folder).files())

    def _changed_toml(self, data: bytes, random: Random) -> bytes:
        lines = data.split(b"\n")
        place = random.randrange(len(lines))
        match random.randrange(7):
            case 0:
                lines[place] = b"a" + b".a" * random.choice((5, 50, 5_000, 80_000)) + b" = 1"
            case 1:
                lines.insert(place, b"deep = " + _deep(random).encode())
            case 2:
                lines.insert(place, b"[" + b"x." * random.choice((3, 60, 50_000)) + b"x]")
            case 3:
                lines.insert(place, b"in = {a" + b".b" * random.choice((3, 70, 60_000)) + b" = 1}")
            case 4:
                name = random.choice((b"program", b"title", b"format", b"task", b"trails_after"))
                lines.insert(0, name + b" = " + json.dumps(odd_value(random)).encode())
            case _:
                return changed_bytes(data, random)
        return b"\n".join(lines)

    def _packed(self, random: Random) -> None:
        parts = self._parts("good.eelx")
        match random.randrange(4):
            case 0:
                parts[random.choice(("../out.txt", "/tmp/out.txt", "a\\b", "x" * 300, "a/" * 100 + "b", "a\0b"))] = b"x"
            case 1:
                parts[random.choice(list(parts))] = bytes(random.choice((10, 60 << 20)))
            case _:
                name = random.choice(list(parts))
                parts[name] = changed_bytes(parts[name], random)
        path = self._pack(parts, "bad.eelx")
        if random.random() < 0.5:
            path.write_bytes(changed_bytes(path.read_bytes(), random))
        target = self.folder / f"unpacked{random.randrange(1 << 40)}"
        target.mkdir()
        exercises.unpack(path, target)

    def _answer(self, random: Random) -> None:
        told = json.loads(answers.encoded(answers.Answer(exercise="gauge_report")))
        data = json.dumps(changed_json({**told, "results": {"a": ["passed", ""]}}, random)).encode()
        answers.decoded(random.choice((data, changed_bytes(data, random), _deep(random).encode())), "one.eela")

    def _sealed(self, random: Random) -> None:
        data = exercises.seal(self.exercise.sealed) if self.exercise.sealed is not None else b""
        exercises.unseal(changed_bytes(data, random))

    def _notebook(self, random: Random) -> None:
        told = {"cells": [{"cell_type": "code", "source": ["x = 1"], "metadata": {}, "outputs": []}], "nbformat": 4}
        path = self.folder / "tides.ipynb"
        data = json.dumps(changed_json({**told, "nbformat_minor": 5, "metadata": {}}, random)).encode()
        path.write_bytes(random.choice((data, changed_bytes(data, random), _deep(random).encode())))
        program_text(path)

    def _program(self, random: Random) -> None:
        path = self.folder / "odd.py"
        encoding = f"# coding: {random.choice(_ENCODINGS)}\n".encode() if random.random() < 0.5 else b""
        path.write_bytes(encoding + changed_bytes(_PROGRAM.encode(), random))
        check_content(path)
        text = source_text.read(path)
        check_text(path)
        with contextlib.suppress(ValueError):  # which is how it says that it cannot
            source_text.encoded(text, path.read_bytes())
        Order(path)


def outcomes(folder: Path, seeds: range) -> Iterator[tuple[int, str]]:
    """(seed, what came of it), or for what should not be, the exception."""
    files = HostileFiles(folder)
    for seed in seeds:
        try:
            yield seed, files.load(seed)
        except Exception as error:
            yield seed, f"WRONG {type(error).__name__}: {str(error)[:300]}"


def bomb(times: int) -> bytes:
    """A ZIP whose one part is so many MiB of nothing."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", bytes(times << 20))
    return made.getvalue()
