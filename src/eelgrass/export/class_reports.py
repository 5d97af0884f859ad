"""A class set for others: text, JSON, CSV, JUnit XML, and a page for each student.

Names are in what an instructor reads; a page holds nothing of anybody else.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from html import escape

import msgspec

from eelgrass.colours import LIGHT
from eelgrass.export import reports
from eelgrass.export.documents import document
from eelgrass.export.tables import csv_line
from eelgrass.lessons.answering.answer import SUFFIX, encoded
from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.class_sets.class_set import ClassSet
from eelgrass.lessons.class_sets.decisions import Decisions, points_words
from eelgrass.lessons.class_sets.failures import Wrong
from eelgrass.lessons.class_sets.grouping import Group
from eelgrass.lessons.class_sets.outcomes import as_result

_STYLE = f"""
body {{ font: 16px/1.5 sans-serif; max-width: 46em; margin: 2em auto; padding: 0 1em; }}
body {{ color: {LIGHT.ink}; background: {LIGHT.foam}; }}
table {{ border-collapse: collapse; }}
td, th {{ border: 1px solid {LIGHT.sand_edge}; padding: 4px 10px; text-align: left; }}
pre {{ background: {LIGHT.sand}; padding: 10px; overflow-x: auto; }}
"""


def text(its: ClassSet, groups: Sequence[Group], wrong: Mapping[str, Wrong]) -> Iterator[str]:
    """Lines for people. `wrong`: by a group's key, what is wrong with its typical program."""
    for group in groups:
        yield f"{_many(len(group.members))}: {group.name} {wrong.get(group.key, Wrong()).words}".rstrip() + "\n"
        yield f"    smallest: {group.typical.hand_in.name}\n"
        yield from (f"    {name}\n" for name in group.names if name != group.typical.hand_in.name)
    if its.ways:
        yield "Handed in several times:\n"
        for name, way in its.ways.items():
            yield f"    {name}: {', then '.join(f'{one.passed} of {len(one.outcomes)} passed' for one in way)}\n"
    for names in its.same_texts:
        yield f"The same program but for names and layout, as small ones may be: {', '.join(names)}\n"
    if its.as_given:
        yield f"The program as it was given: {', '.join(its.as_given)}\n"


def _wrong(its: Wrong) -> dict[str, str | None]:
    return {"first_difference": its.first.sentence or None, "clue": its.clue.kind if its.clue is not None else None}


def _many(number: int) -> str:
    return f"{number:,} hand-ins" if number > 1 else "1 hand-in"


def as_json(its: ClassSet, groups: Sequence[Group], wrong: Mapping[str, Wrong]) -> str:
    """One line of JSON, by the contract of the shell."""
    rows = [
        {
            **{"name": group.name, "size": len(group.members), "members": group.names},
            **{"typical": group.typical.hand_in.name, "results": group.results},
            **_wrong(wrong.get(group.key, Wrong())),
        }
        for group in groups
    ]
    ways = {name: [{one.case: one.word for one in turn.outcomes} for turn in way] for name, way in its.ways.items()}
    told = {"answers": len(its.judged), "groups": rows, "ways": ways, "same_text": its.same_texts}
    return json.dumps({**told, "as_given": its.as_given}) + "\n"


def csv(its: ClassSet, groups: Sequence[Group], decisions: Decisions) -> Iterator[str]:
    """A row for each hand-in, with its name as it came, its group, its results, points and comment."""
    cases = [case.name for case in its.exercise.cases]
    yield csv_line(["hand-in", "group", *cases, "what it does", "marked", "reason", "points", "comment"])
    for number, group in enumerate(groups, 1):
        told = decisions.of(group.key)
        for one in group.members:
            words = [outcome.word for outcome in one.outcomes]
            row = [one.hand_in.name, str(number), *words, group.name, "; ".join(one.hand_in.marked), one.hand_in.reason]
            row += [points_words(told.points), told.comment]
            yield csv_line(row)


def junit(its: ClassSet) -> bytes:
    """All hand-ins as one JUnit XML document: a suite each, with its cases."""
    suites = [(one.hand_in.name, [as_result(outcome) for outcome in one.outcomes]) for one in its.judged]
    return reports.junit(its.exercise.title, suites)


def page(its: ClassSet, one: Judged, group: Group, decisions: Decisions, heading: str) -> str:
    """What one student gets back, as an HTML document: what came of each case, points and comment."""
    told = decisions.of(group.key)
    rows = "\n".join(
        f"<tr><th scope='row'>{escape(out.case)}</th><td>{escape(out.word)}</td><td>{escape(out.why)}</td></tr>"
        for out in one.outcomes
    )
    comment = f"<h2>Comment</h2>\n<p>{escape(told.comment).replace(chr(10), '<br>')}</p>" if told.comment else ""
    points = f"<p>Points: {points_words(told.points)}</p>" if told.points is not None else ""
    return document(
        f"{its.exercise.title}: {heading}",
        _STYLE,
        f"<h1>{escape(its.exercise.title)}</h1>\n<p>{escape(heading)}</p>",
        points,
        comment,
        f"<h2>Cases</h2>\n<table>\n{rows}\n</table>",
        f"<h2>Program</h2>\n<pre>{escape(one.hand_in.text)}</pre>",
    )


def handed_back(
    its: ClassSet, groups: Sequence[Group], decisions: Decisions, with_names: bool
) -> Iterator[tuple[str, bytes]]:
    """(file name, what is in it) for each student: a page, and an answer with its comment where it was one; by number,
    in the order in which they came, unless `with_names`."""
    numbers = {one.hand_in: number for number, one in enumerate(its.judged, 1)}
    for group in groups:
        comment = decisions.of(group.key).comment
        for one in group.members:
            number = f"{numbers[one.hand_in]:04}"
            safe = "".join(sign if sign.isalnum() or sign in " -_." else "_" for sign in one.hand_in.name)
            name = (f"{number} {safe}" if with_names else number).strip(". ")
            heading = one.hand_in.name if with_names else f"Hand-in {numbers[one.hand_in]}"
            yield f"{name}.html", page(its, one, group, decisions, heading).encode("utf-8", "replace")
            if one.hand_in.answer is not None and comment:
                commented = msgspec.structs.replace(one.hand_in.answer, comment=comment)
                yield f"{name.removesuffix(SUFFIX)}{SUFFIX}", encoded(commented)
