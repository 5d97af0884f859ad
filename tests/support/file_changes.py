"""Programs that read and change files in every way, made from a number; and the folder that they run in."""

from __future__ import annotations

import random
from pathlib import Path

_HEAD = """\
import os, shutil, sqlite3
from pathlib import Path
def told(call):
    try:
        return call()
    except Exception as error:
        return type(error).__name__
def size(path):
    return sorted(os.listdir(path)) if os.path.isdir(path) else open(path, "rb").read()
"""
_THERE = ("gauge.txt", "beds/low.txt", "beds/deep/old.txt", "beds/deep/seeds.db", "crabs/tags.txt")
_NAMES = (*_THERE, "new.txt", "beds/new.txt")
_FOLDERS = ("beds", "beds/deep", "crabs", "made", "beds/made")
_CALLS = (
    "print(told(lambda: size({a!r})))",
    "print(told(lambda: open({a!r}, 'a').write('more')))",
    "print(told(lambda: open({a!r}, 'r+').write('x')))",
    "print(told(lambda: Path({a!r}).write_text('told anew')))",
    "print(told(lambda: os.close(os.open({a!r}, os.O_RDWR | os.O_TRUNC))))",
    "print(told(lambda: os.truncate({a!r}, 2)))",
    "print(told(lambda: os.remove({a!r})))",
    "print(told(lambda: os.rename({a!r}, {b!r})))",
    "print(told(lambda: os.replace({a!r}, {b!r})))",
    "print(told(lambda: shutil.copy({a!r}, {b!r})))",
    "print(told(lambda: shutil.move({a!r}, {b!r})))",
    "print(told(lambda: os.chmod({a!r}, 0o600)), oct(os.stat({a!r}).st_mode & 0o777) if os.path.exists({a!r}) else '')",
    "print(told(lambda: os.utime({a!r}, (1, 1))))",
    "print(told(lambda: sqlite3.connect({a!r}).execute('create table if not exists t (kind)').fetchall()))",
    "print(told(lambda: os.mkdir({f!r})))",
    "print(told(lambda: os.rmdir({f!r})))",
    "print(told(lambda: shutil.rmtree({f!r})))",
    "print(told(lambda: os.rename({f!r}, {g!r})))",
    "print(told(lambda: shutil.copytree({f!r}, {g!r})) in ({g!r}, 'Error', 'FileExistsError', 'FileNotFoundError'))",
    "print([(at, sorted(inner), sorted(files)) for at, inner, files in sorted(os.walk('.'))])",
    "print(sorted(map(str, Path('.').rglob('*.txt'))), os.path.isdir({f!r}), os.path.exists({a!r}))",
)


def program(seed: int) -> str:
    """The program of a number."""
    draw = random.Random(seed)
    lines = []
    for _ in range(draw.randint(4, 14)):
        a, b, f, g = (draw.choice(its) for its in (_NAMES, _NAMES, _FOLDERS, _FOLDERS))
        lines.append(draw.choice(_CALLS).format(a=a, b=b, f=f, g=g))
    return _HEAD + "\n".join([*lines, _CALLS[-2], ""])


def fill(folder: Path, text: str) -> dict[str, bytes]:
    """Makes the folder with the program in it; gives what is in its files."""
    for name in _THERE:
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_text("" if name.endswith(".db") else f"in {name}")
        (folder / name).chmod(0o644)
    (folder / "main.py").write_text(text)
    return contents(folder)


def contents(folder: Path) -> dict[str, bytes]:
    """What is in the files of a folder, by name."""
    return {str(path.relative_to(folder)): path.read_bytes() for path in sorted(folder.rglob("*")) if path.is_file()}
