"""Nothing typed is lost, whatever a person, other programs and the disk do, in any order that hypothesis makes up."""

from __future__ import annotations

import itertools
import os
import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule, run_state_machine_as_test

from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.session.edited_texts import EditedTexts
from eelgrass.desktop.workspace import text_files
from eelgrass.desktop.workspace.text_files import ConflictError, TextFiles
from eelgrass.errors import FileError

NAMES = ("main.py", "shelf.py")
name = st.sampled_from(NAMES)


class OneProgram(RuleBasedStateMachine):
    """`typed`: what the person wrote last in each text and has not given up. `seen`: what of each file the person has
    seen, or has chosen to write over. `loaded`: what the window read of each file when it began."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path(tempfile.mkdtemp())
        self.token = itertools.count()
        self.typed: dict[str, str] = {}
        self.seen: dict[str, str] = {}
        self.loaded: dict[str, str] = {}
        self.is_full = False
        for file in NAMES:
            (self.folder / file).write_text(f"{file} = 0\n")
            self.seen[file] = f"{file} = 0\n"
        self.begin()

    def begin(self) -> None:
        self.texts, self.writer = EditedTexts(), DiskWriter()
        self.files = TextFiles(self.texts, self.writer)
        assert self.files.open(self.folder / "main.py", keeps=True) == ""
        self.loaded = {file: self.on_disk(file) for file in NAMES}
        for file in NAMES:
            self.files.watch([self.path(file)])
            if file not in self.typed:
                self.seen[file] = self.shown(file)

    def path(self, file: str) -> str:
        return str(self.folder / file)

    def on_disk(self, file: str) -> str:
        path = self.folder / file
        return path.read_text() if path.exists() else ""

    def shown(self, file: str) -> str:
        """What the window shows of a file."""
        edited = self.texts.of(self.path(file))
        return edited.text if edited is not None else self.loaded[file]

    @rule(file=name)
    def type(self, file: str) -> None:
        before = self.shown(file)
        self.typed[file] = f"{before[:20]}typed {next(self.token)}\n"
        self.files.edit(self.path(file), self.typed[file], before)

    @rule(file=name, replaces=st.booleans())
    def others_write(self, file: str, replaces: bool) -> None:
        new = self.folder / f"{file}.elsewhere"
        new.write_text(f"elsewhere {next(self.token)}\n")
        if replaces:
            new.replace(self.folder / file)
        else:
            (self.folder / file).write_text(new.read_text())

    @rule(file=name)
    def others_remove(self, file: str) -> None:
        (self.folder / file).unlink(missing_ok=True)

    @rule()
    def the_window_comes_back(self) -> None:
        self.files.look_at_all()
        for file in NAMES:
            if file not in self.typed:
                self.seen[file] = self.on_disk(file)

    @rule(file=name)
    def save(self, file: str) -> None:
        before = self.on_disk(file)
        try:
            if not self.files.save(self.path(file)):
                return
        except ConflictError:
            assert self.path(file) in self.files.conflicts
            return
        except FileError:
            assert self.is_full
            return
        assert before in ("", self.seen[file], self.on_disk(file)), "nothing newer is written over"
        assert self.on_disk(file) == self.typed.get(file, self.on_disk(file))
        self.seen[file] = self.on_disk(file)
        self.typed.pop(file, None)

    @precondition(lambda self: self.files.conflicts)
    @rule(keep_mine=st.booleans())
    def choose(self, keep_mine: bool) -> None:
        path = next(iter(self.files.conflicts))
        file = Path(path).name
        conflict = self.files.conflicts[path]
        try:
            beside = self.files.resolve(path, keep_mine)
        except FileError:
            assert self.is_full
            return
        assert keep_mine or beside is None or beside.read_text() == conflict.mine
        if keep_mine:
            self.seen[file] = self.on_disk(file)
        elif beside is not None:
            self.typed.pop(file, None)
            self.seen[file] = self.on_disk(file)

    @rule(is_full=st.booleans())
    def the_disk_fills_up_or_not(self, is_full: bool) -> None:
        self.is_full = is_full
        os.environ["TEST_DISK_IS_FULL"] = "1" if is_full else ""

    @precondition(lambda self: not self.is_full)
    @rule()
    def the_window_dies_when_all_is_written(self) -> None:
        assert self.writer.flush()
        self.begin()

    @invariant()
    def what_was_typed_is_there(self) -> None:
        for file, text in self.typed.items():
            assert text in (self.shown(file), self.on_disk(file)), f"{file} has lost {text!r}"

    def teardown(self) -> None:
        os.environ["TEST_DISK_IS_FULL"] = ""
        self.writer.flush()


def test_nothing_typed_is_lost_whatever_happens(qapp: object, monkeypatch: pytest.MonkeyPatch) -> None:
    from eelgrass.desktop.services import disk_writer

    plainly = text_files.replace_file

    def replace_file(path: Path, data: bytes) -> None:
        if os.environ.get("TEST_DISK_IS_FULL"):
            raise OSError(28, "No space left on device")
        plainly(path, data)

    monkeypatch.setattr(text_files, "replace_file", replace_file)
    monkeypatch.setattr(disk_writer, "replace_file", replace_file)
    run_state_machine_as_test(  # type: ignore[no-untyped-call]
        OneProgram,
        settings=settings(
            max_examples=int(os.environ.get("EELGRASS_EXAMPLES", "40")),
            stateful_step_count=30,
            deadline=None,
            derandomize=True,
            suppress_health_check=list(HealthCheck),
        ),
    )
