"""Everything that Eelgrass can say, as one table: the strings of its code that are shown to people (printed by this
module), and what is said of a recording, step by step."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from eelgrass.reading.error_values import error_values
from eelgrass.reading.expressions.expression import ExpressionError, parse_expression
from eelgrass.reading.lines.error_explanations import explained
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.kept_out import kept_out
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.sentences import Sentences
from eelgrass.reading.trails.trail import NoTrailError, trail_of_visit
from eelgrass.reading.watches import watch
from eelgrass.trace.model import StepKind

SOURCE = Path(__file__).parents[2] / "src" / "eelgrass"
#: What is said to programmers alone, or is a program itself.
_OTHERS = ("recorder/hooks", "recorder/weaving", "desktop/tour", "lessons/demo/")


@dataclass(frozen=True)
class Sentence:
    """`text` has “…” where a value is put in."""

    file: str
    line: int
    text: str


def sentences() -> list[Sentence]:
    """All strings of at least two words, but for docstrings, style sheets and patterns."""
    found = []
    for path in sorted(SOURCE.rglob("*.py")):
        name = path.relative_to(SOURCE).as_posix()
        if not name.startswith(_OTHERS):
            tree = ast.parse(path.read_text())
            found += [Sentence(name, line, text) for line, text in _strings(tree) if _is_said(text)]
    return found


#: One of many, twice the same, an empty place, Python's own words; texts and containers of the program do not count.
SLIPS = re.compile(
    r"(?<![\d.,:#])\b1 (?:times|steps|passes|elements|characters|lines|values|links|calls|names|others|moments)\b"
    r"|\b(is true|is false|is|of|in|the|a)\b \1\b|“”|(?<![\w\.])\.\.$|[.?!][.;,]"
    r"|^(None|True|False) is (?:true|false|\2)\b|<built-in|\bNoneType\b|NOT_SET"
)
QUOTED = re.compile(r"""'[^']*'|"[^"]*"|\{[^}]*\}|“[^”]+”""")


def slips(said: str) -> bool:
    """Whether something in a sentence is not as it should be."""
    return SLIPS.search(QUOTED.sub("…", said)) is not None


def said_of(recording: Recording, most: int = 400) -> Iterator[str]:
    """What is said of a run beside its lines, of how they work out, of the tide line, the call stack, trails, lines
    that did not run, exceptions, and questions: of so many steps."""
    trace, origins, sentences = recording.trace, Origins(recording), Sentences(recording)
    asked: set[str] = set()
    for step in range(0, len(trace.steps), max(len(trace.steps) // most, 1)):
        yield recording.timeline.words(step)
        for layer in recording.stack_rows.at(step):
            yield f"{layer.title}: {layer.detail}"
        if trace.steps.kind[step] != StepKind.LINE:
            continue
        note, worked = recording.line_notes.of_visit(step, step + 1), recording.worked_lines.at(step)
        yield note.whole if note else ""
        for part in worked.parts if worked else ():
            asked.add(part.text)
        yield worked.outcome if worked else ""
        try:
            trail = trail_of_visit(origins, step)
            yield from (sentences.of(trail.links[number]) for number, _ in zip(trail.walk(), range(6), strict=False))
        except NoTrailError as error:
            yield str(error)
    for line in range(1, len(recording.trace.program.modules[0].source.splitlines()) + 1):
        yield kept_out(origins, 0, line).text
    for path in recording.exceptions:
        yield explained(path.type, path.message, recording.trace.case)
        yield error_values(recording, path)
    for text in sorted(asked)[:most]:
        try:
            answer = watch.at(recording, parse_expression(text), 0, len(trace.steps) - 1)
        except ExpressionError as error:
            yield str(error)
            continue
        yield "" if answer.known else answer.text


def _strings(tree: ast.AST) -> Iterator[tuple[int, str]]:
    """The strings and formatted strings below a node, without docstrings."""
    for node in ast.iter_child_nodes(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            continue
        if isinstance(node, ast.JoinedStr):
            parts = [its.value if isinstance(its, ast.Constant) else "…" for its in node.values]
            yield node.lineno, "".join(map(str, parts))
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.lineno, node.value
        else:
            yield from _strings(node)


def _is_said(text: str) -> bool:
    words = [word for word in text.split() if word.strip("….,:;()“”").isalpha()]
    return len(words) >= 2 and not any(sign in text for sign in ("{\n", "; }", "px", "(?", "\\", "<svg", "select "))


if __name__ == "__main__":
    for its in sentences():
        print(f"{its.file}:{its.line}: {its.text!r}")
