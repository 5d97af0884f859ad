"""The house keeps its rules: sizes, what knows no widgets, and where it is decided how far one may see."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import eelgrass

DESKTOP = Path(eelgrass.__file__).parent / "desktop"
WITHOUT_WIDGETS = ("session", "services", "workspace", "activities")
VIEWS = ("beside", "tabs", "source", "timeline", "call_stack", "exercise", "window")
#: What tells of the whole run; views ask `Session.visible` for it.
WHOLE_RUN = frozenset(("horizon", "exceptions", "line_notes", "counts", "pass_at", "odd", "outcome"))

#: What has parts by the same names, and tells of nothing that is to come; what the timeline paints of it is covered.
OTHERS = ("self", "timeline", "gutter", "self.gutter", "self._owner", "worked", "menu")


def texts(*folders: str) -> Iterator[tuple[str, ast.Module]]:
    for folder in folders:
        for path in sorted((DESKTOP / folder).rglob("*.py")):
            yield f"{path.relative_to(DESKTOP)}", ast.parse(path.read_text())


def test_owners_of_state_know_no_widgets() -> None:
    modules = [*texts(*WITHOUT_WIDGETS), ("models.py", ast.parse((DESKTOP / "models.py").read_text()))]
    imports = [
        (name, its.module) for name, tree in modules for its in ast.walk(tree) if isinstance(its, ast.ImportFrom)
    ]
    assert len(imports) > 100
    assert [its for its in imports if its[1] in ("PyQt6.QtWidgets", "PyQt6.Qsci")] == []


def test_views_ask_one_place_how_far_one_may_see() -> None:
    asked = []
    for name, tree in texts(*VIEWS):
        for its in ast.walk(tree):
            if isinstance(its, ast.Attribute) and its.attr in WHOLE_RUN:
                owner = ast.unparse(its.value)
                if not owner.endswith("visible") and owner not in OTHERS:
                    asked.append((name, f"{owner}.{its.attr}"))
    assert asked == []


def test_folders_files_and_classes_of_the_desktop_stay_small() -> None:
    folders = [DESKTOP, *(path for path in DESKTOP.rglob("*") if path.is_dir() and path.name != "__pycache__")]
    assert {path.name: len([*path.glob("*.py")]) for path in folders if len([*path.glob("*.py")]) > 15} == {}
    lines = {path.name: path.read_text().count("\n") for path in DESKTOP.rglob("*.py")}
    assert {name: count for name, count in lines.items() if count > 400} == {}
    classes = [(name, its) for name, tree in texts("") for its in ast.walk(tree) if isinstance(its, ast.ClassDef)]
    assert [(name, its.name) for name, its in classes if (its.end_lineno or 0) - its.lineno >= 300] == []


def test_trees_are_made_by_one_thread_at_a_time() -> None:
    source = Path(eelgrass.__file__).parent
    made = {path.relative_to(source).as_posix() for path in source.rglob("*.py") if "ast.parse(" in path.read_text()}
    elsewhere = {its for its in made if not its.startswith("recorder/")}  # which is the program's own process
    assert elsewhere == {"parsing.py", "export/unittests.py"}
