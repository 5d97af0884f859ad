"""Writes an exercise into its folder. What an instructor wrote into `exercise.toml` by hand, with comments, stays where
it has not changed."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec
import tomlkit
from tomlkit.exceptions import TOMLKitError
from tomlkit.items import AoT, Array, Item

from eelgrass.atomic_write import replace_file
from eelgrass.lessons.exercises.exercise import FORMAT, MANIFEST, SEALED_FILE, SEALED_FOLDER, Exercise, Sealed

SEALED_MANIFEST = "sealed.toml"
#: Of a list with something longer than this, each stands on a line of its own.
_LONG = 40


def save(exercise: Exercise) -> None:
    """Writes all of an exercise but its program and data files, each file in one go. Raises OSError."""
    told: dict[str, Any] = {
        "format": FORMAT,
        "title": exercise.title,
        "program": exercise.program.relative_to(exercise.folder).as_posix(),
        "task": exercise.task,
        "hints": list(exercise.hints),
        "trails_after": exercise.trails_after,
        "first_wrong_after": "" if exercise.first_wrong_after is None else exercise.first_wrong_after,
        "clues_after": exercise.clues_after,
        "case": _tables(exercise.cases),
        "point": _tables(exercise.points),
        "stop": _tables(exercise.stops),
        "desk_check": _tables(exercise.desk_checks),
    }
    _write(exercise.folder / MANIFEST, told)
    if exercise.sealed is not None:
        _save_sealed(exercise, exercise.sealed)
    (exercise.folder / SEALED_FILE).unlink(missing_ok=True)  # what was handed out sealed is in the open now


def _save_sealed(exercise: Exercise, sealed: Sealed) -> None:
    folder = exercise.folder / SEALED_FOLDER
    folder.mkdir(exist_ok=True)
    name = exercise.program.relative_to(exercise.folder).as_posix()
    told: dict[str, Any] = {"lines": list(sealed.lines), "reason": sealed.reason}
    if name in sealed.model:
        model = folder / exercise.program.name
        replace_file(model, sealed.model[name].encode("utf-8", "surrogatepass"))
        told["model"] = model.name
    told["elsewhere"] = _tables(sealed.elsewhere)
    _write(folder / SEALED_MANIFEST, told)


def _tables(parts: Sequence[msgspec.Struct]) -> list[dict[str, Any]]:
    return [msgspec.json.decode(msgspec.json.encode(part)) for part in parts]  # with lists, as a file has them


def _write(path: Path, told: dict[str, Any]) -> None:
    """Puts values into a file of them, changing only what is different."""
    try:
        document = tomlkit.parse(path.read_text(encoding="utf-8"))
    except (OSError, ValueError, TOMLKitError):
        document = tomlkit.document()
    before = document.unwrap()
    for key, value in told.items():
        is_there = value not in ([], "") or key == "title"
        if not is_there:
            document.pop(key, None)
        elif before.get(key) != value:
            document[key] = _item(value)
    replace_file(path, tomlkit.dumps(document).encode("utf-8", "surrogatepass"))


def _item(value: Any) -> Item:
    if isinstance(value, str):
        return tomlkit.string(value, multiline="\n" in value)
    if isinstance(value, list) and value and isinstance(value[0], dict):
        tables = AoT([])
        for its in value:
            table = tomlkit.table()
            for key, inner in its.items():
                table[key] = _item(inner)
            tables.append(table)
        return tables
    made: Item = tomlkit.item(value)
    return made.multiline(any(len(str(inner)) > _LONG for inner in value)) if isinstance(made, Array) else made
