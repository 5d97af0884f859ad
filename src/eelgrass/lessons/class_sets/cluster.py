"""Runs of a class set on the workers of a Dask scheduler, each confined there as here.

The scheduler sees to it that what a lost worker was at is begun again by another, and that each run is told of once.
"""

from __future__ import annotations

import atexit
import importlib
import shutil
import tempfile
from collections.abc import Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

from eelgrass.errors import EelgrassError
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.class_sets.outcomes import Outcome, run_case
from eelgrass.lessons.exercises.exercise import Exercise, pack, unpack
from eelgrass.runs.confinement import hide_from_programs, is_confining, missing_words
from eelgrass.runs.order import Leave

_PATIENCE_SECONDS = 10
_MISSING = "What sends runs to other machines is not installed: pip install 'eelgrass[cluster]'."


class ClusterError(EelgrassError):
    """Runs that cannot be sent elsewhere; the message is a sentence for the person."""


class ClusterWorkers:
    """The workers of a scheduler."""

    def __init__(self, client: Any) -> None:
        self._client = client
        self._executor = client.get_executor(retries=3, pure=False)
        self._packed: dict[Path, Any] = {}

    def submit(self, exercise: Exercise, case: Case, text: str) -> Future[Outcome]:
        """Has some worker begin a run; the exercise goes to each of them once, without its sealed part."""
        if exercise.folder not in self._packed:
            self._packed[exercise.folder] = self._client.scatter(_packed(exercise), broadcast=True)
        future: Future[Outcome] = self._executor.submit(run_packed, self._packed[exercise.folder], case, text)
        return future


@contextmanager
def workers_at(address: str) -> Iterator[ClusterWorkers]:
    """The workers of the scheduler at an address. Raises ClusterError."""
    try:
        distributed = importlib.import_module("distributed")
    except ImportError as error:
        raise ClusterError(_MISSING) from error
    try:
        client = distributed.Client(address, timeout=_PATIENCE_SECONDS, set_as_default=False)
    except (OSError, ValueError) as error:
        raise ClusterError(f"No scheduler answers at “{address}”.") from error
    with client:
        yield ClusterWorkers(client)


def run_packed(packed: bytes, case: Case, text: str) -> Outcome:
    """What a worker does: a run of a case with a program of this text. Raises ClusterError where programs cannot be
    confined there."""
    if not is_confining():
        raise ClusterError(missing_words())
    hide_from_programs()
    return run_case(_unpacked(packed), case, text, Leave())


@cache
def _unpacked(packed: bytes) -> Exercise:
    """The exercise in a folder of this worker's own, which goes when it ends."""
    folder = Path(tempfile.mkdtemp(prefix="eelgrass-exercise-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    (folder / "packed.eelx").write_bytes(packed)
    return unpack(folder / "packed.eelx", folder / "exercise")


def _packed(exercise: Exercise) -> bytes:
    with tempfile.TemporaryDirectory(prefix="eelgrass-exercise-") as folder:
        file = Path(folder) / "packed.eelx"
        pack(exercise, file, with_sealed=False)
        return file.read_bytes()
