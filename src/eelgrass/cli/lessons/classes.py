"""The command `eelgrass class`."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import AbstractContextManager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import click

from eelgrass.cli.common import Refused, put, require_confinement, write

if TYPE_CHECKING:
    from eelgrass.lessons.class_sets.class_runs import Workers
    from eelgrass.lessons.class_sets.class_set import ClassSet
    from eelgrass.lessons.class_sets.decisions import Decisions


@dataclass(frozen=True)
class _Files:
    """What to write besides, and what was decided before."""

    junit: Path | None
    pages: Path | None
    with_names: bool
    decisions: Path | None
    by_moment: bool
    by_clue: bool


@click.command("class")
@click.argument("exercise", type=click.Path(path_type=Path))
@click.argument("answers", nargs=-1, required=True, type=click.Path(path_type=Path, exists=True))
@click.option("--format", "form", type=click.Choice(["text", "json", "csv"]), default="text", show_default=True)
@click.option("--jobs", type=click.IntRange(1), help="So many runs at a time [default: one more than there are cores].")
@click.option("--scheduler", metavar="ADDRESS", help="Send the runs to the workers of a Dask scheduler.")
@click.option("--anew", is_flag=True, help="Run what ran before, too.")
@click.option("--decisions", type=click.Path(dir_okay=False, path_type=Path), help="Names, comments, points: a file.")
@click.option("--by-moment", is_flag=True, help="Part groups by where they first go wrong in the model, too.")
@click.option("--by-clue", is_flag=True, help="Part groups by what looks like a usual mistake in them, too.")
@click.option("--junit", type=click.Path(dir_okay=False, path_type=Path), help="Write JUnit XML for other tools.")
@click.option("--pages", type=click.Path(file_okay=False, path_type=Path), help="Write a page for each into a folder.")
@click.option("--names", "with_names", is_flag=True, help="With their names, not only numbers, on the pages.")
def class_(
    exercise: Path,
    answers: tuple[Path, ...],
    form: str,
    jobs: int | None,
    scheduler: str | None,
    anew: bool,
    decisions: Path | None,
    by_moment: bool,
    by_clue: bool,
    junit: Path | None,
    pages: Path | None,
    with_names: bool,
) -> None:
    """Run all cases of EXERCISE with each of ANSWERS (programs, answers, folders and zips of them), and group them by
    what they do. Of several of the same name, the last one counts."""
    from tempfile import TemporaryDirectory

    require_confinement()  # on a cluster, too: where each group goes wrong is looked at here
    with TemporaryDirectory(prefix="eelgrass-exercise-") as folder:
        its = _class_set(exercise, answers, _workers(scheduler, jobs), anew, Path(folder))
        _write(its, form, _Files(junit, pages, with_names, decisions, by_moment, by_clue))


def _workers(scheduler: str | None, jobs: int | None) -> Callable[[], AbstractContextManager[Workers]]:
    from eelgrass.lessons.class_sets.class_runs import own_cores
    from eelgrass.runs.order import Leave

    if scheduler is not None:
        from eelgrass.lessons.class_sets.cluster import workers_at

        return lambda: workers_at(scheduler)
    return lambda: own_cores(jobs, Leave())


def _class_set(
    path: Path,
    answers: tuple[Path, ...],
    workers: Callable[[], AbstractContextManager[Workers]],
    anew: bool,
    folder: Path,
) -> ClassSet:
    from eelgrass.errors import EelgrassError
    from eelgrass.lessons.class_sets.class_set import class_set
    from eelgrass.lessons.class_sets.hand_ins import hand_ins
    from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes, usual_file
    from eelgrass.lessons.exercises import exercise as exercises

    kept = KeptOutcomes(None if anew else usual_file())
    try:
        exercise = exercises.open_either(path, folder)
        handed = hand_ins(answers, exercise)
        if not handed:
            raise Refused("Nothing was handed in there.")
        with workers() as those:
            return class_set(exercise, handed, those, kept)
    except EelgrassError as error:
        raise Refused(str(error)) from error
    except OSError as error:
        raise Refused(f"“{error.filename}” cannot be read: {error.strerror}.") from error
    finally:
        kept.close()


def _write(its: ClassSet, form: str, files: _Files) -> None:
    from eelgrass.export import class_reports
    from eelgrass.lessons.class_sets.decisions import arranged
    from eelgrass.lessons.class_sets.failures import Failures, by_clue, by_moment, parted
    from eelgrass.runs.order import Leave

    decisions, failures = _decisions(files.decisions), Failures(its.exercise, Leave())
    if files.by_moment:
        decisions = decisions.with_keys(parted(its.groups, failures, by_moment))
    if files.by_clue:
        decisions = decisions.with_keys(parted(arranged(its.groups, decisions), failures, by_clue))
    groups = arranged(its.groups, decisions)
    if files.junit is not None:
        put(files.junit, class_reports.junit(its))
    if files.pages is not None:
        with suppress(OSError):  # which putting something there says
            files.pages.mkdir(parents=True, exist_ok=True)
        for name, data in class_reports.handed_back(its, groups, decisions, files.with_names):
            put(files.pages / name, data)
    told: Iterable[str] = class_reports.csv(its, groups, decisions)
    if form != "csv":
        found = {group.key: failures.of(group.typical) for group in groups}
        told = class_reports.text(its, groups, found) if form == "text" else [class_reports.as_json(its, groups, found)]
    write(told)


def _decisions(path: Path | None) -> Decisions:
    from eelgrass.lessons.class_sets.decisions import Decisions, DecisionsError, load

    try:
        return load(path) if path is not None else Decisions()
    except DecisionsError as error:
        raise Refused(str(error)) from error
    except OSError as error:
        raise Refused(f"“{path}” cannot be read: {error.strerror}.") from error
