"""Notebooks as programs: the code of their cells, one after the other, without what came of them."""

from __future__ import annotations

from pathlib import Path

from eelgrass.runs.order import CannotRunError

SUFFIX = ".ipynb"
#: With what came of its cells; pictures can be large.
_MOST_BYTES = 64 << 20
#: A notebook's own commands, which are no Python: for a cell, for a line, for a line at its end, and of the shell.
_CELL_COMMAND, _COMMAND, _HELP, _SHELL = "%%", "%", "?", "!"
#: Commands for a whole cell after which Python comes all the same.
_PYTHON_AFTER = ("%%time", "%%timeit", "%%capture", "%%prun")


def program_text(notebook: Path) -> str:
    """The program that a notebook's code cells make, each under a line with its number; what is no Python is left as a
    comment. Raises CannotRunError."""
    import nbformat  # which loads much that other programs do not need

    try:
        if notebook.stat().st_size > _MOST_BYTES:
            raise CannotRunError(f"“{notebook.name}” is too large: it has more than {_MOST_BYTES >> 20} MiB.")
        read = nbformat.read(notebook, as_version=4)  # type: ignore[no-untyped-call]
        cells = [str(cell.source) for cell in read.cells if cell.cell_type == "code"]
    except CannotRunError:
        raise
    except OSError as error:
        raise CannotRunError(f"“{notebook.name}” cannot be read: {error.strerror}.") from error
    except Exception as error:  # the package has many for what is no notebook, and not all of a family
        raise CannotRunError(f"“{notebook.name}” is no notebook that can be read.") from error
    if not any(map(str.strip, cells)):
        raise CannotRunError(f"“{notebook.name}” has no code in it: there is nothing to run.")
    return "\n".join(f"# Cell {number}\n{_as_python(cell)}\n" for number, cell in enumerate(cells, 1))


def _as_python(cell: str) -> str:
    lines = cell.rstrip().split("\n")
    if lines[0].startswith(_CELL_COMMAND) and not lines[0].startswith(_PYTHON_AFTER):
        return "\n".join(f"# {line}" for line in lines)
    return "\n".join(map(_line_as_python, lines))


def _line_as_python(line: str) -> str:
    if line.lstrip().startswith(_SHELL):
        indent = line[: len(line) - len(line.lstrip())]
        return f"{indent}pass  # {line.lstrip()}" if indent else f"# {line}"
    return f"# {line}" if line.startswith(_COMMAND) or line.endswith(_HELP) else line
