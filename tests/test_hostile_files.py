"""Files of strangers end in a sentence, or in something that can be looked at."""

from __future__ import annotations

import resource
from pathlib import Path

import pytest
from support.hostile_files import bomb, outcomes

from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.trace.files import recording_file


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("first", range(0, 2_000, 500))
def test_damaged_files_end_in_a_sentence(first: int, tmp_path: Path) -> None:
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    found = list(outcomes(tmp_path, range(first, first + 500)))
    assert [its for its in found if its[1].startswith("WRONG")] == []
    assert 20 < sum(its == "loaded" for _, its in found) < 250, "most are damaged, and some can be read all the same"
    assert (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) >> 10 < 1_024


def test_what_would_unpack_to_more_than_there_is_is_not_unpacked(tmp_path: Path) -> None:
    path = tmp_path / "bomb.eelrec"
    path.write_bytes(bomb(1_500))
    with pytest.raises(recording_file.RecordingError):
        recording_file.load(path)
    packed = path.rename(tmp_path / "bomb.eelx")
    (tmp_path / "out").mkdir()
    with pytest.raises(exercises.ExerciseError, match="too much"):
        exercises.unpack(packed, tmp_path / "out")
