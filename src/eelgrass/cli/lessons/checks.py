"""The command `eelgrass check`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import Refused, write


@click.command()
@click.argument("exercise", type=click.Path(path_type=Path))
@click.argument("programs", nargs=-1, type=click.Path(path_type=Path))
@click.option("--junit", type=click.Path(dir_okay=False, path_type=Path), help="Write JUnit XML for other tools.")
@click.option("--format", "form", type=click.Choice(["text", "json"]), default="text", show_default=True)
@click.option("--jobs", type=click.IntRange(1), help="So many runs at a time [default: one more than there are cores].")
@click.option("--unit-tests", type=click.Path(dir_okay=False, path_type=Path), help="Write the cases as unit tests.")
@click.option("--itself", is_flag=True, help="Say what is missing in the exercise, or contradicts itself, instead.")
@click.option("--unconfined", is_flag=True, help="Let the programs reach all that you can; see docs/safety.md.")
def check(
    exercise: Path,
    programs: tuple[Path, ...],
    junit: Path | None,
    form: str,
    jobs: int | None,
    unit_tests: Path | None,
    itself: bool,
    unconfined: bool,
) -> None:
    """Run all cases of EXERCISE with its own program, or with each of PROGRAMS in its place.

    Exit status 1 when a case is not passed.
    """
    from tempfile import TemporaryDirectory

    with TemporaryDirectory(prefix="eelgrass-exercise-") as folder:
        context = click.get_current_context()
        if itself:
            context.exit(0 if _check_itself(exercise, Path(folder)) else 1)
        context.exit(0 if _check(exercise, programs, junit, form, jobs, unit_tests, unconfined, Path(folder)) else 1)


def _check_itself(path: Path, folder: Path) -> bool:
    """Whether an exercise is as it should be; says what is not."""
    from eelgrass.lessons.exercises import exercise as exercises
    from eelgrass.lessons.making.faults import faults

    try:
        exercise = exercises.open_either(path, folder)
    except exercises.ExerciseError as error:
        raise Refused(str(error)) from error
    found = faults(exercise)
    write(f"{fault}\n" for fault in found)
    return not found


def _check(
    path: Path,
    programs: tuple[Path, ...],
    junit: Path | None,
    form: str,
    jobs: int | None,
    unit_tests: Path | None,
    unconfined: bool,
    folder: Path,
) -> bool:
    """Whether every case of every program is passed."""
    from eelgrass.export import reports
    from eelgrass.export.unittests import test_file
    from eelgrass.lessons.exercises import exercise as exercises
    from eelgrass.lessons.judging.judging import judge_all
    from eelgrass.runs.confinement import hide_from_programs, is_confining, missing_words
    from eelgrass.runs.order import Leave
    from eelgrass.runs.texts import source_text

    if not unconfined and not is_confining():
        raise Refused(f"{missing_words()} To run them all the same, say --unconfined.")
    leave = None if unconfined else Leave()
    hide_from_programs()
    try:
        exercise = exercises.open_either(path, folder)
        texts = [(str(program), source_text.read(program)) for program in programs or (exercise.program,)]
        if unit_tests is not None:
            unit_tests.write_text(test_file(exercise), encoding="utf-8")
        told = []
        for name, results in judge_all(exercise, texts, jobs, leave):
            told.append((name, results))
            write([reports.as_json(name, results)] if form == "json" else reports.text_lines(name, results))
        if junit is not None:
            junit.write_bytes(reports.junit(exercise.title, told))
    except exercises.ExerciseError as error:
        raise Refused(str(error)) from error
    except OSError as error:
        raise Refused(f"“{error.filename}” cannot be read or written: {error.strerror}.") from error
    return all(result.is_passed for _, results in told for result in results)
