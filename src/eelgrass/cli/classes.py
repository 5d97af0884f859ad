"""The command `eelgrass class`."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from eelgrass.cli.common import Refused, write
from eelgrass.export.tables import csv_line

if TYPE_CHECKING:
    from eelgrass.lessons.class_sets.grouping import Group


@click.command("class")
@click.argument("exercise", type=click.Path(path_type=Path))
@click.argument("answers", nargs=-1, required=True, type=click.Path(path_type=Path, exists=True))
@click.option("--format", "form", type=click.Choice(["text", "json", "csv"]), default="text", show_default=True)
@click.option("--jobs", type=click.IntRange(1), help="So many runs at a time [default: one more than there are cores].")
def class_(exercise: Path, answers: tuple[Path, ...], form: str, jobs: int | None) -> None:
    """Run all cases of EXERCISE with each of ANSWERS (programs, answers, folders and zips of them), and group them by
    what they do."""
    from tempfile import TemporaryDirectory

    with TemporaryDirectory(prefix="eelgrass-exercise-") as folder:
        groups = _groups(exercise, answers, jobs, Path(folder))
    write({"text": _text, "json": _json, "csv": _csv}[form](groups))


def _groups(path: Path, answers: tuple[Path, ...], jobs: int | None, folder: Path) -> list[Group]:
    from eelgrass.lessons.class_sets.grouping import grouped, with_differences
    from eelgrass.lessons.class_sets.hand_ins import hand_ins
    from eelgrass.lessons.exercises import exercise as exercises
    from eelgrass.lessons.judging.judging import Result, judge_all
    from eelgrass.runs.confinement import hide_from_programs, is_confining, missing_words
    from eelgrass.runs.order import Leave

    if not is_confining():
        raise Refused(missing_words())
    hide_from_programs()
    try:
        exercise = exercises.open_either(path, folder)
        handed = hand_ins(answers, exercise.program.name)
    except exercises.ExerciseError as error:
        raise Refused(str(error)) from error
    except OSError as error:
        raise Refused(f"“{error.filename}” cannot be read: {error.strerror}.") from error
    if not handed:
        raise Refused("Nothing was handed in there.")
    judged = []
    programs = [its for its in handed if not its.trouble]
    texts = [(its.name, its.text) for its in programs]
    for its, (_, results) in zip(programs, judge_all(exercise, texts, jobs, Leave()), strict=True):
        judged.append((its, results))
    for its in handed:
        if its.trouble:
            judged.append((its, [Result(case.name, "cannot run", its.trouble) for case in exercise.cases]))
    return with_differences(grouped(judged), exercise, Leave())


def _text(groups: Sequence[Group]) -> Iterator[str]:
    for its in groups:
        many = f"{len(its.members):,} hand-ins" if len(its.members) > 1 else "1 hand-in"
        yield f"{many}: {its.name} {its.first_difference}".rstrip() + "\n"
        yield f"    smallest: {its.typical.name}\n"
        others = [name for name in its.members if name != its.typical.name]
        yield from (f"    {name}\n" for name in others)


def _json(groups: Sequence[Group]) -> Iterator[str]:
    rows = [
        {
            **{"name": its.name, "size": len(its.members), "members": its.members, "typical": its.typical.name},
            **{"results": its.results, "first_difference": its.first_difference or None, "clue": None},
        }
        for its in groups
    ]
    yield json.dumps({"answers": sum(len(its.members) for its in groups), "groups": rows}) + "\n"


def _csv(groups: Sequence[Group]) -> Iterator[str]:
    cases = list(groups[0].results)
    yield csv_line(["hand-in", "group", *cases, "what it does"])
    for number, its in enumerate(groups, 1):
        for name in its.members:
            yield csv_line([name, str(number), *(its.results[case] for case in cases), its.name])
