"""Runs from the parent's side: input, stopping, limits, and programs that cannot run or end badly."""

from __future__ import annotations

import json
import os
import queue
import subprocess
import sys
import tempfile
from pathlib import Path

import pytest
from conftest import Record
from support import file_changes
from support.judges import AS_PLAIN

from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.reading.state.value_text import text as value_text
from eelgrass.runs.order import CannotRunError, Order, check_text, kept_clock
from eelgrass.runs.programs.finding import find_program
from eelgrass.runs.pythons.libraries import check_libraries
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Trace


def test_the_program_tells_when_it_waits_and_goes_on_with_what_is_typed(tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text("size = int(input('People? '))\nprint(size * 2)\n")
    waiting: queue.Queue[Trace] = queue.Queue()
    run = Run(Order(program), on_waiting=waiting.put)
    run.start()
    trace = waiting.get(timeout=30)
    assert trace.waiting
    assert trace.texts.pieces == ["People? "]
    run.type_line("4")
    final = run.wait()
    assert final.texts.pieces == ["People? ", "4\n", "8", "\n"]
    assert (final.outcome.outcome, final.outcome.exit_status, final.waiting) == ("finished", 0, False)


def test_a_stopped_run_keeps_what_was_recorded(tmp_path: Path) -> None:
    program = tmp_path / "endless.py"
    program.write_text("tide = 0\nprint(input())\nwhile True:\n    tide += 1\n")
    waiting: queue.Queue[Trace] = queue.Queue()
    run = Run(Order(program), on_waiting=waiting.put)
    run.start()
    waiting.get(timeout=30)
    run.stop()
    trace = run.wait()
    assert (trace.outcome.outcome, trace.outcome.exit_status) == ("stopped", 3)
    assert "stopped" in (trace.outcome.reason or "")
    assert [trace.line_of(step) for step in range(len(trace.steps))] == [1, 1, 2]


@pytest.mark.parametrize(
    ("limits", "reason"),
    [
        ({"max_steps": 20_000}, "20,000 steps"),
        ({"max_seconds": 0.3}, "longer than 0.3"),
        ({"max_processor_seconds": 0.3}, "0.3 seconds of processor time"),
        ({"max_memory_mib": 1}, "memory"),
        ({}, "1,000,000 steps"),
    ],
)
def test_limits_stop_a_program_that_runs_away(record: Record, limits: dict[str, float], reason: str) -> None:
    recording = record("tide = 0\nwhile True:\n    tide += 1\n", **limits)
    assert recording.trace.outcome.outcome == "stopped"
    assert reason in (recording.trace.outcome.reason or "")
    assert len(recording.trace.steps) > 1000
    assert len(recording.trace.steps) <= limits.get("max_steps", 1_000_000)


@pytest.mark.skipif(not AS_PLAIN, reason="only compiled code is heard within a call of C")
@pytest.mark.parametrize(
    "last",
    [
        "from itertools import count; print(max(count()))",
        "import re; re.match('(a+)+b', 'a' * 40)",
        "import threading as t, itertools as i; its = t.Thread(target=lambda: max(i.count())); its.start(); its.join()",
    ],
)
def test_a_program_that_does_not_come_back_from_c_is_stopped_with_all_that_it_did(record: Record, last: str) -> None:
    recording = record(f"for tide in range(10):\n    print(tide)\n{last}\n", max_seconds=0.2)
    assert "took longer" in (recording.trace.outcome.reason or "")
    assert (recording.trace.outcome.exit_status, len(recording.visits.of_line(0, 2))) == (3, 10)


def test_a_program_that_writes_without_end_is_stopped(record: Record) -> None:
    trace = record("while True:\n    print('mud' * 99)\n", max_output=5000).trace
    assert "more than 5,000 characters" in (trace.outcome.reason or "")
    assert sum(map(len, trace.texts.pieces)) == 5000


def test_a_program_that_only_waits_is_stopped_with_all_that_it_did(tmp_path: Path) -> None:
    program = tmp_path / "asleep.py"
    program.write_text("import time\nlevel = 7\nprint(input())\ntime.sleep(1000)\n")
    run = Run(Order(program, max_seconds=0.3))
    run.start()
    run.type_line("go")
    trace = run.wait()
    assert "longer than 0.3 seconds" in (trace.outcome.reason or "")
    assert [trace.line_of(step) for step in range(len(trace.steps))] == [1, 1, 2, 3, 4]


def test_a_program_that_nobody_answers_is_stopped(tmp_path: Path) -> None:
    program = tmp_path / "asks.py"
    program.write_text("print('asks')\ninput('People? ')\n")
    run = Run(Order(program, max_waiting_seconds=0.2))
    run.start()
    trace = run.wait()
    assert "waited for input for more than 0.2 seconds" in (trace.outcome.reason or "")
    assert "".join(trace.texts.pieces) == "asks\nPeople? "


def test_a_program_in_the_folder_for_temporary_files_runs(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(tempfile, "tempdir", str(tmp_path))
    (tmp_path / "gauge.py").write_text("print(open('level.txt').read())\n")
    (tmp_path / "level.txt").write_text("3")
    run = Run(Order(tmp_path / "gauge.py"))
    run.start()
    assert "".join(run.wait().texts.pieces) == "3\n"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["gauge.py", "level.txt"]


_CHANGES = """\
import os, sqlite3, shutil
print(open("levels.txt").read(), sorted(os.listdir(".")), os.path.exists("deep/er/tide.txt"))
open("levels.txt", "a").write(" 5")
with open("deep/er/tide.txt", "w") as file:
    file.write("in")
os.remove("deep/old.txt")
os.rename("deep/er/crab.txt", "crab.txt")
sqlite3.connect("deep/seeds.db").execute("create table seeds (kind text)")
os.truncate("deep/er/long.txt", 1)
shutil.copy("levels.txt", "deep/copy.txt")
print(open("levels.txt").read(), open("crab.txt").read(), sorted(os.listdir("deep")))
"""


@pytest.mark.parametrize("most_links", [0, 100])
def test_what_is_too_much_to_be_copied_is_there_all_the_same_and_stays_as_it_is(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, most_links: int
) -> None:
    files = {"levels.txt": "3 4", "deep/old.txt": "old", "deep/seeds.db": ""}
    files |= {"deep/er/tide.txt": "out", "deep/er/crab.txt": "edible", "deep/er/long.txt": "longer"}
    for name, text in {**files, "big.py": _CHANGES}.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    (tmp_path / "link.txt").symlink_to("levels.txt")
    monkeypatch.setattr("eelgrass.runs.child.scratch.MOST_FILES", 0)
    monkeypatch.setattr("eelgrass.runs.child.scratch.MOST_LINKS", most_links)
    run = Run(Order(tmp_path / "big.py"))
    run.start()
    trace = run.wait()
    assert trace.outcome.outcome == "finished", trace.outcome.reason
    assert "".join(trace.texts.pieces).splitlines() == [
        "3 4 ['big.py', 'deep', 'levels.txt', 'link.txt'] True",
        "3 4 5 edible ['copy.txt', 'er', 'seeds.db']",
    ]
    assert {name: (tmp_path / name).read_text() for name in files} == files
    told = {row["name"]: row["change"] for row in trace.case["written"]}
    assert told["levels.txt"] == told["deep/er/tide.txt"] == told["deep/er/long.txt"] == "changed"
    assert told["deep/copy.txt"] == told["crab.txt"] == "new"


@pytest.mark.parametrize(
    ("last", "status"),
    [
        ("os._exit(4)", 4),
        ("os.kill(os.getpid(), 9)", 128 + 9),
        ("import ctypes\nctypes.string_at(0)", 128 + 11),
        ("if os.fork() == 0:\n    print('fork')\nelse:\n    os.wait()\n    os._exit(0)", 0),
    ],
)
def test_what_happened_before_a_sudden_end_is_kept(record: Record, last: str, status: int) -> None:
    trace = record(f"import os\nlevel = 7\n{last}\n").trace
    assert trace.outcome.exit_status == status
    assert "process" in (trace.outcome.reason or "")
    assert trace.line_of(len(trace.steps) - 1) >= 3


def test_a_long_text_that_grows_does_not_fill_the_recording(record: Record) -> None:
    recording = record("text = ''\nfor turn in range(9000):\n    text += 'x' * 10\nprint(len(text))\n")
    assert recording.trace.texts.pieces[0] == "90000"
    assert sum(map(len, recording.trace.values.texts)) < 25_000_000
    rows = {row.name: row for row in recording.stack_rows.at(recording.stepping.last())[0].rows}
    assert rows["text"].type_word == "text"
    value = bindings_of(recording.trace, 0, recording.stepping.last())[0].value
    assert "90,000 characters" in value_text(recording.trace, value, recording.stepping.last())


SAME = """\
import random, time
class Crab: pass
crabs = {Crab(): random.random() for _ in range(3)}
names = {"reef", "mud", "pier", "sluice"}
print(list(names), sorted(crabs.values()), hash("mud"), time.time(), random.sample(range(99), 5))
"""


def test_the_same_run_again_is_the_same_event_for_event(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("PYTHONHASHSEED")
    program = tmp_path / "draw.py"
    program.write_text(SAME)

    def run(seed: int, clock: dict[str, list[float]]) -> Trace:
        made = Run(Order(program, seed=seed, clock=clock))
        made.start()
        return made.wait()

    first = run(5, {})
    again = run(5, first.case["clock"])
    for group, name, _ in recording_file.COLUMNS:
        ours, theirs = (getattr(getattr(trace, group), name) for trace in (first, again))
        assert ours.tolist() == theirs.tolist(), f"{group}.{name}"
    assert (first.values.texts, first.texts.pieces) == (again.values.texts, again.texts.pieces)
    assert run(6, first.case["clock"]).texts.pieces != first.texts.pieces


def test_a_run_alters_no_file_of_the_programs_folder(tmp_path: Path) -> None:
    program = tmp_path / "writer.py"
    (tmp_path / "levels.txt").write_text("4\n")
    (tmp_path / "old.txt").write_text("old")
    program.write_text(
        "import os\nprint(open('levels.txt').read(), sorted(os.listdir()))\n"
        "open('levels.txt', 'w').write('9')\nos.remove('old.txt')\nopen('new.txt', 'w').write('fresh')\n"
    )
    run = Run(Order(program))
    run.start()
    trace = run.wait()
    assert trace.texts.pieces[0] == "4\n"
    assert (tmp_path / "levels.txt").read_text() == "4\n"
    assert sorted(path.name for path in tmp_path.glob("*.txt")) == ["levels.txt", "old.txt"]
    told = {row["name"]: (row["change"], row.get("text")) for row in trace.case["written"]}
    assert told == {"levels.txt": ("changed", "9"), "new.txt": ("new", "fresh"), "old.txt": ("removed", None)}


@pytest.mark.parametrize(
    ("ending", "outcome"),
    [
        ("import sys; sys.exit(7)", ("exited", 7)),
        ("import os; os._exit(5)", ("exited", 5)),
        ("import os; os.kill(os.getpid(), 9)", ("stopped", 137)),
        ("raise ValueError('low tide')", ("raised", 1)),
    ],
)
def test_every_way_to_end_has_its_outcome(record: Record, ending: str, outcome: tuple[str, int]) -> None:
    told = record(f"level = 1\n{ending}\n").trace.outcome
    assert (told.outcome, told.exit_status) == outcome


def test_an_error_of_ours_ends_the_recording_and_not_the_run(record: Record, monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(*_: object) -> None:
        raise ZeroDivisionError("a mistake of ours")

    reported: list[BaseException] = []
    monkeypatch.setattr(sys, "excepthook", lambda _kind, error, _trace: reported.append(error))
    monkeypatch.setattr("eelgrass.trace.building.builder.Builder.chunk", fail)
    outcome = record("for level in range(100_000):\n    print(level)\n").trace.outcome
    assert outcome.outcome == "stopped"
    assert "a mistake of ours" in (outcome.reason or "")
    assert [type(error) for error in reported] == [ZeroDivisionError]


def test_more_input_than_there_is_ends_in_a_plain_sentence(record: Record) -> None:
    recording = record("first = input()\nsecond = input()\n", "only one")
    assert recording.trace.outcome.reason == "EOFError: EOF when reading a line, at line 2."


def test_programs_that_cannot_run_say_why(tmp_path: Path) -> None:
    with pytest.raises(CannotRunError, match=r"no file or folder called .*nowhere"):
        find_program(tmp_path / "nowhere.py")
    with pytest.raises(CannotRunError, match="no Python program"):
        find_program(tmp_path)
    broken = tmp_path / "broken.py"
    broken.write_text("level = 1\nif level\n    print(level)\n")
    assert find_program(tmp_path) == broken
    with pytest.raises(CannotRunError, match=r"line 2 \(“if level”\): A colon is missing") as caught:
        check_text(broken)
    assert caught.value.line == 2
    with pytest.raises(CannotRunError, match=r"line 3 \(“while level”\)"):
        check_text(broken, "level = 1\n\nwhile level\n")  # and not what stands there in the file
    with pytest.raises(CannotRunError, match="nested too deeply"):
        check_text(broken, "-" * 200_000 + "1")
    broken.write_bytes(b"level = '\xff'\n")
    with pytest.raises(CannotRunError, match="cannot run"):
        check_text(broken)
    (tmp_path / "other.py").write_text("")
    with pytest.raises(CannotRunError, match="several programs"):
        find_program(tmp_path)


def eelgrass(*arguments: str, cwd: Path, given: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "eelgrass.cli", *arguments],
        capture_output=True,
        text=True,
        cwd=cwd,
        input=given,
        check=False,
        timeout=60,
    )


def test_the_shell_records_and_answers(tmp_path: Path) -> None:
    (tmp_path / "tide.py").write_text(
        "import sys\ndef high(level):\n    return level > 2\nprint(high(3), sys.argv[1])\n"
    )
    made = eelgrass("record", "-o", "t.eelrec", "--summary", "s.json", "tide.py", "--reef", cwd=tmp_path)
    assert (made.stdout, made.stderr, made.returncode) == ("True --reef\n", "", 0)
    summary = json.loads((tmp_path / "s.json").read_text())
    assert (summary["outcome"], summary["steps"], summary["frames"]) == ("finished", 8, 2)
    assert summary["recording_bytes"] == (tmp_path / "t.eelrec").stat().st_size
    steps = [
        json.loads(line) for line in eelgrass("steps", "t.eelrec", "--from", "4", cwd=tmp_path).stdout.splitlines()
    ]
    assert [(step["step"], step["line"], step["kind"], step["depth"]) for step in steps] == [
        (4, 2, "call", 1),
        (5, 3, "line", 1),
        (6, 3, "return", 1),
        (7, 4, "return", 0),
    ]
    state = json.loads(eelgrass("state", "t.eelrec", "5", cwd=tmp_path).stdout)
    assert state["frames"][1]["scopes"]["parameters"]["level"] == {"type": "int", "text": "3", "object": None}
    dump = [json.loads(line) for line in eelgrass("dump", "t.eelrec", cwd=tmp_path).stdout.splitlines()]
    assert dump[5]["variables"]["level"]["text"] == "3"


@pytest.mark.parametrize(
    ("arguments", "status", "sentence"),
    [
        (("record", "nowhere.py"), 1, "There is no file or folder called “nowhere.py”."),
        (("record", "."), 1, "has no Python program in it"),
        (("state", "no.eelrec", "1"), 1, "cannot be read"),
        (("steps", "text.eelrec"), 1, "is not a recording"),
        (("open", "nowhere.py"), 1, "There is no file or folder called"),
        (("sing",), 2, "No such command"),
    ],
)
def test_what_cannot_be_done_is_said_in_one_line(
    tmp_path: Path, arguments: tuple[str, ...], status: int, sentence: str
) -> None:
    (tmp_path / "text.eelrec").write_text("nothing")
    told = eelgrass(*arguments, cwd=tmp_path)
    assert told.returncode == status
    assert sentence in told.stderr
    assert "Traceback" not in told.stderr
    assert told.stdout == ""


def test_a_module_by_name_and_a_text_that_does_not_compile(tmp_path: Path) -> None:
    (tmp_path / "broken.py").write_text("level = (1\n")
    plain = subprocess.run([sys.executable, "broken.py"], capture_output=True, text=True, cwd=tmp_path, check=False)
    ours = eelgrass("record", "broken.py", cwd=tmp_path)
    assert (ours.stderr, ours.returncode) == (plain.stderr, plain.returncode)
    (tmp_path / "bay.py").write_text("print(__name__, __file__)\n")
    ours = eelgrass("record", "-m", "bay", cwd=tmp_path)
    assert ours.stdout == f"__main__ {tmp_path / 'bay.py'}\n"
    assert (tmp_path / "bay.eelrec").exists()


def test_a_test_file_run_by_name_is_recorded_with_its_tests_and_not_the_package_that_runs_it(tmp_path: Path) -> None:
    (tmp_path / "test_tides.py").write_text("def test_levels():\n    levels = [3, 1]\n    assert max(levels) == 4\n")
    ended = eelgrass("record", "-o", "run.eelrec", "-m", "pytest", "-q", "test_tides.py", cwd=tmp_path)
    assert (ended.returncode, "1 failed" in ended.stdout, ended.stderr) == (1, True, "")
    trace = recording_file.load(tmp_path / "run.eelrec")
    files = [Path(module.file).name for module in trace.program.modules]
    assert files == ["__main__.py", "test_tides.py"]
    lines = [trace.line_of(step) for step in range(len(trace.steps)) if trace.statement_of(step)]
    assert lines[-4:-1] == [2, 3, 3]


def test_a_lower_recursion_limit_ends_a_program_as_in_a_plain_run(tmp_path: Path) -> None:
    program = tmp_path / "shallow.py"
    program.write_text(
        "import sys\nsys.setrecursionlimit(120)\n"
        "def dive(depth):\n    rows = [depth]\n    return dive(depth + 1) + rows[0]\n"
        "try:\n    dive(0)\nexcept RecursionError as error:\n    print(error, sys.getrecursionlimit())\n"
        "try:\n    sys.setrecursionlimit(-1)\nexcept ValueError as error:\n    print(error)\ndive(0)\n"
    )

    def ends(*command: str) -> tuple[str, str, int]:
        whole = [sys.executable, *command, str(program)]
        done = subprocess.run(whole, capture_output=True, text=True, cwd=tmp_path, check=False, timeout=60)
        return done.stdout, done.stderr, done.returncode

    assert ends("-m", "eelgrass.cli", "record") == ends("-B")


def test_a_program_may_set_its_own_recursion_limit(record: Record) -> None:
    recording = record(
        "import sys\nsys.setrecursionlimit(2500)\ndef dive(depth):\n    return depth and dive(depth - 1)\n"
        "print(dive(2300))\ntry:\n    dive(2600)\nexcept RecursionError as error:\n    print(error)\n"
    )
    assert "".join(recording.trace.texts.pieces) == "0\nmaximum recursion depth exceeded\n"
    assert int(recording.trace.depths.max()) in range(2490, 2510)


@pytest.mark.parametrize(
    ("name", "trouble"),
    [
        ("json", ""),
        ("json.decoder", ""),
        ("nothere", "no module called"),
        ("json.nothere", "no module called"),
        ("math", "cannot be looked into"),
        ("sys", "part of the interpreter"),
        ("", "no module called"),
    ],
)
def test_libraries_are_looked_into_where_that_is_possible(name: str, trouble: str, tmp_path: Path) -> None:
    if not trouble:
        return check_libraries((name,), tmp_path)
    with pytest.raises(CannotRunError, match=trouble):
        check_libraries((name,), tmp_path)


def test_a_package_is_looked_into_with_its_submodules(record: Record) -> None:
    recording = record("import json\nprint(json.loads('[1]'))\n", open_libraries=("json",))
    files = {Path(module.file).name for module in recording.trace.program.modules}
    assert {"decoder.py", "scanner.py"} <= files


_CHANCE = """\
import datetime, os, random, secrets, time, uuid
print(time.time(), datetime.date.today(), random.random(), random.SystemRandom().random(), secrets.token_hex(4))
print(uuid.uuid4(), uuid.uuid1(), os.urandom(3), datetime.datetime.today())
class Tide(datetime.datetime):
    pass
print(type(Tide.now()), Tide.now(datetime.timezone.utc).tzinfo)
"""
_AS_PLAINLY = "print(datetime.datetime.now(), Tide.now(), os.urandom, time.time)\n"


def test_time_and_chance_are_given_again(tmp_path: Path) -> None:
    (tmp_path / "chance.py").write_text(_CHANCE + _AS_PLAINLY * AS_PLAIN)

    def told(seed: int, clock: dict[str, list[float]]) -> Trace:
        run = Run(Order(tmp_path / "chance.py", seed=seed, clock=clock))
        run.start()
        return run.wait()

    first = told(1, {})
    assert first.outcome.outcome == "finished", first.outcome.reason
    again = told(1, kept_clock(first.case))
    other = told(2, {})
    plainly = ["".join(its.texts.pieces) for its in (first, again, other)]
    assert plainly[0] == plainly[1]
    lines = [text.splitlines() for text in plainly]
    assert all(one != two for one, two in zip(lines[0][:2], lines[2][:2], strict=True))
    if AS_PLAIN:
        assert lines[0][3].endswith("<built-in function urandom> <built-in function time>")


def test_links_in_the_place_of_copies_change_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def ran(seed: int, most_files: int, most_links: int) -> tuple[str, list[dict[str, object]]]:
        monkeypatch.setattr("eelgrass.runs.child.scratch.MOST_FILES", most_files)
        monkeypatch.setattr("eelgrass.runs.child.scratch.MOST_LINKS", most_links)
        folder = tmp_path / f"{seed} {most_files} {most_links}"
        folder.mkdir()
        before = file_changes.fill(folder, file_changes.program(seed))
        run = Run(Order(folder / "main.py"))
        run.start()
        trace = run.wait()
        assert trace.outcome.outcome == "finished", trace.outcome.reason
        assert file_changes.contents(folder) == before, "the originals stay as they are"
        return "".join(trace.texts.pieces), trace.case["written"]

    for seed in range(12):
        copied = ran(seed, 2_000, 50_000)
        for most_files, most_links in ((0, 100), (0, 0), (2, 1)):
            assert ran(seed, most_files, most_links) == copied, seed


def test_a_pipe_with_the_name_of_a_program_is_none(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "main.py")
    (tmp_path / "ferry.py").write_text("boats = 3\n")
    assert find_program(tmp_path) == tmp_path / "ferry.py"
    with pytest.raises(CannotRunError, match="neither a file nor a folder"):
        find_program(tmp_path / "main.py")
