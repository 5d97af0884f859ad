"""The command `eelgrass`. `docs/cli.md` says what each command promises.

Exit status: 0 when it did what was asked, 1 when what was asked about is not there, 2 for wrong use. Errors are one
line on standard error.
"""

from __future__ import annotations

import contextlib
import importlib
import json
import os
import signal
import sys
from itertools import chain
from pathlib import Path
from typing import Any

import click

from eelgrass import __version__
from eelgrass.cli.common import Refused, load, print_rows, recording_argument, require_confinement, save, write
from eelgrass.cli.desktop_entry import desktop_entry
from eelgrass.cli.doctor import doctor
from eelgrass.cli.hand_outs.pages import page
from eelgrass.cli.hand_outs.sheets import sheet
from eelgrass.cli.lessons.checks import check
from eelgrass.cli.lessons.classes import class_
from eelgrass.cli.questions.asking import ask
from eelgrass.cli.questions.clues import clues
from eelgrass.cli.questions.comparing import compare
from eelgrass.cli.questions.threads import threads
from eelgrass.cli.questions.trails import kept_out, trail
from eelgrass.cli.questions.turns import TurnsType, desk_of, search_turns
from eelgrass.cli.questions.what_ifs import what_if
from eelgrass.export import json_rows
from eelgrass.runs import order as orders
from eelgrass.runs.child.child_process import speed_of_recording
from eelgrass.runs.order import CannotRunError, Leave, Order, Turns, kept_clock
from eelgrass.runs.programs.finding import SeveralProgramsError, find_program
from eelgrass.trace.model import Trace


@click.group(invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="eelgrass", message=f"%(prog)s %(version)s ({speed_of_recording()})")
@click.pass_context
def main(context: click.Context) -> None:
    """Record a program's whole run and walk through it, forward and back.

    Without a command, opens the window with what was open last; at the very first start, with the demo lesson.
    """
    if context.invoked_subcommand is None:
        context.exit(_desktop("open_last"))


def _desktop(entry: str, *arguments: Any) -> int:
    """Starts the windows; nothing outside `eelgrass.desktop` imports them, so they are found by name."""
    app = importlib.import_module("eelgrass.desktop.app")
    status: int = getattr(app, entry)(*arguments)
    return status


@main.command()
@click.pass_context
def demo(context: click.Context) -> None:
    """Open the demo lesson."""
    context.exit(_desktop("open_demo"))


@main.command("open")
@click.argument("path", type=click.Path(path_type=Path))
@click.pass_context
def open_(context: click.Context, path: Path) -> None:
    """Open a program, a folder or a recording in the window."""
    try:
        find_program(path)
    except SeveralProgramsError:
        pass  # which one, the window asks
    except CannotRunError as error:
        raise Refused(str(error)) from error
    context.exit(_desktop("open_path", path))


@main.command()
@click.argument("outdir", type=click.Path(file_okay=False, path_type=Path))
@click.pass_context
def tour(context: click.Context, outdir: Path) -> None:
    """Drive the window through the demo lesson, without a monitor; pictures and recordings go to OUTDIR."""
    context.exit(_desktop("tour", outdir))


_COUNT, _SECONDS = click.IntRange(0), click.FloatRange(0)
#: The limits of a run: option, field of `Order`, type, default, and what happens.
_LIMITS = (
    ("--max-steps", "max_steps", _COUNT, orders.MAX_STEPS, "Stop after so many steps"),
    ("--max-seconds", "max_seconds", _SECONDS, 0.0, "Stop after so many seconds, without waiting for input"),
    ("--max-processor", "max_processor_seconds", _SECONDS, 0.0, "Stop after so many seconds of processor time"),
    ("--max-waiting", "max_waiting_seconds", _SECONDS, 0.0, "Stop after waiting so many seconds for input"),
    ("--max-memory", "max_memory_mib", _COUNT, 0, "Stop above so many MiB of memory"),
    ("--max-output", "max_output", _COUNT, orders.MAX_OUTPUT_CHARACTERS, "Stop when more characters are written"),
    ("--max-elements", "max_elements", _COUNT, orders.MAX_ELEMENTS, "Record so many elements of a container"),
    ("--max-recording", "max_recording_mib", _COUNT, orders.MAX_RECORDING_MIB, "Be brief above so many MiB of values"),
)


def _limits(command: Any) -> Any:
    """Gives a command the options that limit a run."""
    for option, field, type_, default, what in reversed(_LIMITS):
        told = f"{what}; 0 = no limit."
        command = click.option(option, field, type=type_, default=default, show_default=bool(default), help=told)(
            command
        )
    return command


@main.command(context_settings={"ignore_unknown_options": True, "allow_interspersed_args": False})
@click.option("-m", "as_module", is_flag=True, help="PROGRAM is the name of a module, as with python -m.")
@click.option(
    "-o",
    "--output",
    type=click.Path(dir_okay=False, path_type=Path),
    help="The recording to write [default: the program's name with .eelrec, in the current folder].",
)
@click.option("--summary", type=click.Path(dir_okay=False, path_type=Path), help="Write a summary of the run as JSON.")
@_limits
@click.option("--seed", type=int, help="Seed for random numbers and hashing.")
@click.option("--keep-clock", is_flag=True, help="Keep what the functions of the module time say, in the recording.")
@click.option(
    "--clock", type=click.Path(dir_okay=False, path_type=Path), help="Let the clock say what it said in this recording."
)
@click.option(
    "--turns", type=TurnsType(), default="0", help="Order in which threads take turns: number, REC or `free`."
)
@click.option(
    "--acts",
    type=click.Path(dir_okay=False, exists=True, path_type=Path),
    help="Simulate the windows of tkinter and turtle; what is done there stands in this file, an act a line.",
)
@click.option("--scratch", is_flag=True, help="Run in a copy of the current folder, which is not altered then.")
@click.option(
    "--open-library", multiple=True, metavar="MODULE", help="Record inside this library module or package too."
)
@click.option(
    "--python",
    type=click.Path(path_type=Path),
    help="The Python that runs the program [default: that of its folder; see docs/cli.md].",
)
@click.option("--confined", is_flag=True, help="Keep the program to this folder; see docs/safety.md.")
@click.option("--allow", multiple=True, type=click.Choice(["display", "network"]), help="With --confined: let it.")
@click.option(
    "--allow-folder",
    multiple=True,
    type=click.Path(exists=True, file_okay=False, path_type=Path),
    help="With --confined: let it read and write there.",
)
@click.argument("program")
@click.argument("arguments", nargs=-1, type=click.UNPROCESSED)
def record(
    as_module: bool,
    output: Path | None,
    summary: Path | None,
    seed: int | None,
    keep_clock: bool,
    clock: Path | None,
    turns: Turns | None,
    acts: Path | None,
    scratch: bool,
    open_library: tuple[str, ...],
    python: Path | None,
    confined: bool,
    allow: tuple[str, ...],
    allow_folder: tuple[Path, ...],
    program: str,
    arguments: tuple[str, ...],
    **limits: Any,
) -> None:
    """Run PROGRAM and record it. Input, output and exit status are the program's own."""
    from eelgrass.runs.child.scratch import Scratch
    from eelgrass.runs.pythons.choosing import Choice, choice
    from eelgrass.runs.pythons.interpreters import interpreter
    from eelgrass.runs.pythons.libraries import check_libraries
    from eelgrass.runs.run import STOPPED, Run

    if not confined and (allow or allow_folder):
        raise click.UsageError("--allow and --allow-folder widen --confined, which is not asked for.")
    if confined:
        require_confinement()
    folders = tuple(its.resolve() for its in allow_folder)
    try:
        file = None if as_module else find_program(Path(program))
        folder = file.parent if file else Path.cwd()
        runs_it, found = Choice(interpreter(python), "--python") if python else choice(folder)
        order = Order(
            program=file,
            module=program if as_module else None,
            arguments=arguments,
            seed=seed,
            clock=kept_clock(load(clock).case) if clock else {} if keep_clock else None,
            open_libraries=open_library,
            turns=turns,
            desk=None if acts is None else desk_of(acts),
            python=runs_it.python,
            python_found=found,
            leave=Leave("display" in allow, "network" in allow, folders) if confined else None,
            **limits,
        )
        check_libraries(open_library, folder, runs_it.path)
    except CannotRunError as error:
        raise Refused(str(error)) from error
    run = Run(order)
    try:
        trace = run.record(Scratch(Path.cwd()) if scratch else None)
    except CannotRunError as error:
        raise Refused(str(error)) from error
    stem = program.rpartition(".")[2] if as_module else Path(order.name).stem
    target = output or Path(f"{stem}.eelrec")
    save(trace, target)
    if summary is not None:
        try:
            summary.write_text(json.dumps(_summary(trace, target)) + "\n")
        except OSError as error:
            raise Refused(f"The summary could not be written to “{summary}”: {error.strerror}.") from error
    if trace.outcome.outcome == "stopped":
        click.echo(f"eelgrass: {trace.outcome.reason} {_where(trace)}", err=True)
    if run.ended_by:
        _end_as(-run.ended_by)
    _end_as(STOPPED if trace.outcome.exit_status == STOPPED else run.returncode or 0)


def _where(trace: Trace) -> str:
    if not len(trace.steps):
        return "It had not begun."
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.standing_place import standing_place

    return f"It was {standing_place(Recording(trace))}."


def _end_as(code: int) -> None:
    """Ends this process as the program's process ended, also by the same signal."""
    if code < 0:
        sys.stdout.flush()
        with contextlib.suppress(OSError):  # nobody can choose what SIGKILL does
            signal.signal(-code, signal.SIG_DFL)
        os.kill(os.getpid(), -code)
    sys.exit(code)


def _summary(trace: Trace, recording: Path) -> dict[str, Any]:
    return {
        "outcome": trace.outcome.outcome,
        "reason": trace.outcome.reason,
        "exit_status": trace.outcome.exit_status,
        "python": trace.case.get("python"),
        "steps": len(trace.steps),
        "frames": len(trace.frames),
        "modules": [module.file for module in trace.program.modules],
        "seconds": trace.outcome.seconds,
        "recording_bytes": recording.stat().st_size,
    }


@main.command()
@recording_argument
@click.option("--from", "first", type=int, default=0, help="First step.")
@click.option("--to", "last", type=int, help="Last step.")
def steps(recording: Path, first: int, last: int | None) -> None:
    """The steps, one JSON object a line."""
    trace = load(recording)
    print_rows(json_rows.steps(trace, first, len(trace.steps) if last is None else last + 1))


@main.command()
@recording_argument
@click.argument("step", type=int)
def state(recording: Path, step: int) -> None:
    """All frames, scopes and values just before STEP runs, as JSON."""
    trace = load(recording)
    try:
        print_rows([json_rows.full_state(trace, step)])
    except IndexError as error:
        raise Refused(f"“{recording.name}” has {len(trace.steps)} steps, from 0; there is no step {step}.") from error


@main.command()
@recording_argument
def dump(recording: Path) -> None:
    """Each step with the variables of its frame, one JSON object a line."""
    print_rows(json_rows.dump(load(recording)))


@main.command()
@recording_argument
@click.argument("name")
def history(recording: Path, name: str) -> None:
    """Every value that NAME ever had, in whatever frame, one JSON object a line."""
    rows = json_rows.history(load(recording), name)
    try:
        first = next(rows, None)
    except KeyError as error:
        raise Refused(f"No frame of “{recording.name}” ever has a name “{name}”.") from error
    print_rows(chain([] if first is None else [first], rows))


@main.command()
@recording_argument
@click.option("--function", help="The function whose call to tell [default: the module].")
@click.option("--call", type=click.IntRange(1), default=1, show_default=True, help="Which of its calls.")
@click.option("--loop", type=click.IntRange(1), metavar="LINE", help="A row for each pass of the loop at this line.")
@click.option("--round", "round_", type=click.IntRange(1), default=1, show_default=True, help="Which time it runs.")
@click.option("--whole-run", is_flag=True, help="A row for every step of the run.")
@click.option("--with-calls", is_flag=True, help="With the steps of the calls made.")
@click.option("--add", "expressions", multiple=True, metavar="EXPRESSION", help="A column for an expression.")
@click.option("--format", "form", type=click.Choice(["csv", "md", "json"]), default="csv", show_default=True)
def table(
    recording: Path,
    function: str | None,
    call: int,
    loop: int | None,
    round_: int,
    whole_run: bool,
    with_calls: bool,
    expressions: tuple[str, ...],
    form: str,
) -> None:
    """The trace table of a call, of the passes of a loop, or of the whole run."""
    from eelgrass.export.tables import FORMATS
    from eelgrass.reading.expressions.expression import ExpressionError
    from eelgrass.reading.recording import Recording
    from eelgrass.reading.tables import trace_table as tables

    asked_of = Recording(load(recording))
    try:
        if loop is not None:
            made = tables.of_loop_at(asked_of, loop, round_)
        elif whole_run:
            made = tables.of_run(asked_of)
        else:
            made = tables.of_call_named(asked_of, function, call, with_calls)
        for text in expressions:
            made = tables.added(made, text)
    except LookupError as error:
        raise Refused(str(error.args[0])) from error
    except ExpressionError as error:
        raise click.UsageError(str(error)) from error
    write(FORMATS[form](made))


for _command in (
    *(ask, check, class_, compare, desktop_entry, doctor, kept_out),
    *(clues, page, search_turns, sheet, threads, trail, what_if),
):
    main.add_command(_command)
