"""What the tests share: recordings of small programs, and a state of their own."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from importlib.machinery import EXTENSION_SUFFIXES
from pathlib import Path

import pytest
from hypothesis import settings
from support.runs import run_of_text

import eelgrass.recorder
from eelgrass.reading.recording import Recording

Record = Callable[..., Recording]

# A verdict is one of the commit: what is made up is the same each time. `EELGRASS_LONG` looks for what nobody has seen.
settings.register_profile("same each time", derandomize=True, deadline=None)
settings.register_profile("looking", deadline=None, max_examples=5_000)
settings.load_profile("looking" if os.environ.get("EELGRASS_LONG") else "same each time")


def pytest_configure() -> None:
    """What is tested is what is written: compiled hooks are those of their sources."""
    for compiled in Path(eelgrass.recorder.__file__).parent.rglob(f"*{EXTENSION_SUFFIXES[0]}"):
        stem = compiled.with_name(compiled.name.partition(".")[0])
        # Of a module that stands there twice, the one in Python is for where nothing is compiled.
        sources = [stem.with_suffix(".pyx" if stem.with_suffix(".pyx").exists() else ".py"), stem.with_suffix(".pxd")]
        if any(source.exists() and source.stat().st_mtime > compiled.stat().st_mtime for source in sources):
            pytest.exit(f"{sources[0].name} has changed since it was compiled: ./test compiles it anew.", returncode=1)


@pytest.fixture(autouse=True)
def own_state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test sees or changes what the person at this machine had open or wrote; every child hashes alike, and programs
    are run by the Python that the tests are run by."""
    monkeypatch.setenv("EELGRASS_PYTHON", sys.executable)
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))  # which says where documents are
    monkeypatch.setenv("XDG_DOCUMENTS_DIR", str(tmp_path / "documents"))
    monkeypatch.setenv("PYTHONHASHSEED", "0")  # or sets would come in another order in each process


@pytest.fixture
def record(tmp_path: Path) -> Record:
    """Records a program given as text, in a child process as always; `typed` lines are its input."""

    def make(text: str, *typed: str, **order: object) -> Recording:
        return Recording(run_of_text(text, typed, tmp_path, **order))

    return make
