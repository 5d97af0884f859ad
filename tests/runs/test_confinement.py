"""What confinement may not change, and what a person can let a program reach."""

from __future__ import annotations

import json
import re
import socket
from pathlib import Path

import pytest
from click.testing import CliRunner
from support.judges import CORPUS
from support.runs import lines_for

from eelgrass.cli.main import main
from eelgrass.recorder.confinement.numbers import NUMBERS
from eelgrass.runs import confinement
from eelgrass.runs.order import Leave, Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Texts, Trace

confined = pytest.mark.skipif(not confinement.is_confining(), reason=confinement.missing_words())

#: What people's programs do with the system, which all goes on as before.
_EVERYDAY = """\
import asyncio, concurrent.futures, json, multiprocessing, os, shutil, signal, socket, sqlite3, subprocess, sys
import tempfile, threading, time
from pathlib import Path

print(open("gauges.txt").read(), (Path(__file__).parent / "gauges.txt").read_text(), os.listdir())
Path("made").mkdir()
shutil.copy("gauges.txt", "made/copy.txt")
os.chmod("made/copy.txt", 0o640)
with tempfile.NamedTemporaryFile("w+") as file, tempfile.TemporaryDirectory() as folder:
    file.write("low tide")
    print(Path(folder).exists())
with sqlite3.connect("tides.db") as tides:
    tides.execute("create table tide (level)")
    tides.execute("insert into tide values (3)")
    print(tides.execute("select * from tide").fetchall())


async def serve():
    async def answer(reader, writer):
        writer.write(await reader.readline())
        writer.close()

    child = await asyncio.create_subprocess_exec(sys.executable, "-c", "print(6 * 7)", stdout=subprocess.PIPE)
    return (await child.communicate())[0], await asyncio.to_thread(str, 5)


if __name__ == "__main__":
    print(asyncio.run(serve()))
    print(subprocess.run(["sort"], input="b\\na\\n", capture_output=True, text=True).stdout.split())
    if "pools" in sys.argv:
        with multiprocessing.get_context("fork").Pool(2) as pool:
            print(pool.map(abs, [-1, 2]))
        print(oct(os.stat("made/copy.txt").st_mode))
    with concurrent.futures.ThreadPoolExecutor() as threads:
        print(list(threads.map(abs, [-3])))
    one, other = socket.socketpair()
    one.send(b"reef")
    print(other.recv(9), time.localtime().tm_year > 2000, os.cpu_count() > 0, os.getuid() >= 0)
    signal.signal(signal.SIGALRM, lambda number, frame: print("alarm", number))
    signal.setitimer(signal.ITIMER_REAL, 0.01)
    time.sleep(0.1)
    child = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    child.terminate()
    print(child.wait(), Path("/usr").is_dir(), json.loads("[1]"))
"""


def ran(
    program: Path, leave: Leave | None, *layers: str, typed: list[str] | None = None, argument: str = "a reason"
) -> Trace:
    run = Run(Order(program, arguments=(argument,), leave=leave, seed=1, layers=layers or None))
    run.start()
    return run.fed(typed or [])


def told(trace: Trace) -> tuple[object, ...]:
    """What a run printed and how it ended, but for addresses and folders of its own."""
    printed = "".join(its for channel in (Texts.OUTPUT, Texts.ERRORS) for its in trace.texts.of(channel))
    own = re.sub(r"0x[0-9a-f]+|/tmp/\S*|eelgrass-run-\w+|\b\d{4,}\b", "…", printed)
    return own, trace.outcome.outcome, trace.outcome.exit_status, len(trace.steps)


@confined
@pytest.mark.parametrize("layers", [(), ("resources", "landlock", "filter")], ids=["all layers", "no namespaces"])
def test_everyday_programs_go_on_as_before(layers: tuple[str, ...], tmp_path: Path) -> None:
    (tmp_path / "gauges.txt").write_text("3 4")
    program = tmp_path / "everyday.py"
    program.write_text(_EVERYDAY)
    argument = "" if layers or "namespaces" not in confinement.layers() else "pools"
    trace, plain = ran(program, Leave(), *layers, argument=argument), ran(program, None, argument=argument)
    assert told(trace)[:3] == told(plain)[:3]
    assert [its["name"] for its in trace.case["written"]] == ["made/copy.txt", "tides.db"]


@confined
@pytest.mark.parametrize("name", ["ferry_input", "async_tides", "two_modules/main", "threads", "uncaught", "lifetimes"])
def test_recordings_are_as_without(name: str) -> None:
    program = CORPUS / f"{name}.py"
    assert told(ran(program, Leave(), typed=lines_for(program))) == told(ran(program, None, typed=lines_for(program)))


@confined
def test_what_a_person_lets_a_program_reach(tmp_path: Path) -> None:
    place, other = tmp_path / "place", tmp_path / "other"
    place.mkdir()
    other.mkdir()
    (other / "reef.txt").write_text("7")
    program = place / "reads.py"
    program.write_text(
        f"print(open({str(other / 'reef.txt')!r}).read())\nopen({str(other / 'new.txt')!r}, 'w').close()\n"
    )
    assert ran(program, Leave()).outcome.outcome == "raised"
    assert ran(program, Leave(folders=(other,))).texts.of(Texts.OUTPUT)[0] == "7"
    assert (other / "new.txt").exists()
    with socket.socket() as server:
        server.bind(("127.0.0.1", 0))
        server.listen()
        port = server.getsockname()[1]
        program.write_text(f"import socket\nsocket.create_connection(('127.0.0.1', {port})).send(b'tide')\n")
        assert ran(program, Leave()).outcome.outcome == "raised"
        assert ran(program, Leave(network=True)).outcome.outcome == "finished"


def test_the_shell_says_what_holds_and_confines(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    doctor = CliRunner().invoke(main, ["doctor"])
    assert doctor.exit_code == (0 if confinement.is_confining() else 1)
    assert all(f"confinement, {layer}: " in doctor.output for layer in confinement.LAYERS)
    monkeypatch.chdir(tmp_path)
    (tmp_path / "a.py").write_text("print(open('/etc/hostname').read())\n")
    if confinement.is_confining():
        assert CliRunner().invoke(main, ["record", "--confined", "a.py"]).exit_code == 1
    wrong = CliRunner().invoke(main, ["record", "--allow", "network", "a.py"])
    assert wrong.exit_code == 2
    monkeypatch.setattr(confinement, "is_confining", lambda: False)
    refused = CliRunner().invoke(main, ["record", "--confined", "a.py"])
    assert refused.exit_code == 1
    assert "cannot keep programs from your files" in refused.output
    program = tmp_path / "a.py"
    assert ran(program, Leave()).outcome.reason == confinement.UNGUARDED
    assert ran(program, Leave(unguarded=True)).outcome.outcome == "raised"


def test_numbers_of_calls_are_those_of_the_kernels_headers() -> None:
    for header, column in (("x86_64-linux-gnu/asm/unistd_64.h", 0), ("asm-generic/unistd.h", 1)):
        path = Path("/usr/include") / header
        if not path.exists():
            pytest.skip("the kernel's headers are not here")
        found = {name: int(number) for name, number in re.findall(r"#define __NR\w*?_(\w+)\s+(\d+)", path.read_text())}
        ours = {name: its[column] for name, its in NUMBERS.items()}
        assert {name: number for name, number in ours.items() if name in found and found[name] != number} == {}
        assert sum(name in found for name, number in ours.items() if number is not None) > 90
    assert json.dumps(NUMBERS)


@confined
@pytest.mark.parametrize("layers", [(), ("resources", "landlock", "filter")], ids=["all layers", "no namespaces"])
def test_what_an_exercise_knows_is_nothing_for_its_program(layers: tuple[str, ...], tmp_path: Path) -> None:
    for name in ("exercise.toml", "sealed.txt", "sealed/model.py", "tides.txt", "gauge.py"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text("level = 3\n")
    program = tmp_path / "tides.py"
    program.write_text(
        "import os, gauge\nprint(open('tides.txt').read(), gauge.level)\nhere = os.path.dirname(__file__)\n"
        "for folder in (here, '.'):\n    for name in ('exercise.toml', 'sealed.txt', 'sealed/model.py'):\n"
        "        try:\n            print('REACHED', open(os.path.join(folder, name)).read())\n"
        "        except OSError:\n            pass\n"
    )
    trace = ran(program, Leave(), *layers)
    assert "".join(trace.texts.of(Texts.OUTPUT)) == "level = 3\n 3\n"


@confined
@pytest.mark.parametrize("layers", [(), ("resources", "landlock", "filter")], ids=["all layers", "no namespaces"])
def test_a_program_in_the_home_itself_gets_the_files_beside_it(
    layers: tuple[str, ...], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("HOME", str(tmp_path))
    for name in (".ssh/key", ".netrc", "Letters/one.txt", "tides.txt"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text("level")
    program = tmp_path / "tides.py"
    names = [str(tmp_path / name) for name in (".ssh/key", ".netrc", "Letters/one.txt")]
    tries = "    try:\n        print('REACHED', open(name).read())\n    except OSError:\n        pass\n"
    program.write_text(f"print(open('tides.txt').read())\nfor name in {names}:\n{tries}")
    assert "".join(ran(program, Leave(), *layers).texts.of(Texts.OUTPUT)) == "level\n"


@confined
def test_packages_find_what_they_keep_in_a_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    kept = tmp_path / "home" / ".cache" / "matplotlib"
    kept.mkdir(parents=True)
    (kept / "fontlist-v1.json").write_text("[]")
    (kept / "letters.txt").write_text("not for everybody")
    program = tmp_path / "place" / "plots.py"
    program.parent.mkdir()
    shows = "print(os.listdir(place), os.access(place, os.W_OK))\n"
    program.write_text(f"import os\nplace = os.environ['MPLCONFIGDIR']\n{shows}")
    assert "".join(ran(program, Leave()).texts.of(Texts.OUTPUT)) == "['fontlist-v1.json'] True\n"
