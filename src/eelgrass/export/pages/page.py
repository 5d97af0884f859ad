"""The page itself: one HTML file with all that it needs, that asks no network for anything.

Its own script and style are the only ones that a browser takes (a policy names them by their hashes), so that nothing
in a program, its values or its output can become a part of the page.
"""

from __future__ import annotations

import base64
import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, fields
from html import escape
from pathlib import Path
from string import Template

import msgspec

from eelgrass.colours import DARK, LIGHT, Palette
from eelgrass.export.pages.content import PageRun
from eelgrass.export.pages.runs import Chosen, page_run
from eelgrass.export.pages.texts import code_lines, markdown
from eelgrass.reading.recording import Recording

_HERE = Path(__file__).parent


@dataclass(frozen=True)
class ToShow:
    """A run that is to be on a page."""

    recording: Recording
    chosen: Chosen


def page(title: str, runs: Sequence[ToShow], task: str = "") -> str:
    """The page of some runs of a program, with a task in Markdown above them."""
    made = [page_run(its.recording, its.chosen) for its in runs]
    script = _asset("answers.js") + _asset("page.js")
    style = _asset("page.css").replace("/*light*/", _variables(LIGHT)).replace("/*dark*/", _variables(DARK))
    policy = f"default-src 'none'; img-src data:; script-src '{_hash(script)}'; style-src '{_hash(style)}'"
    return Template(_asset("page.html")).substitute(
        title=escape(title),
        policy=escape(policy, quote=True),
        style=style,
        script=script,
        task=f'<section class="task" aria-label="Task">\n{markdown(task)}</section>' if task else "",
        cases=_choice(made),
        texts="\n".join(_texts(number, its.recording) for number, its in enumerate(runs)),
        data=_data(made),
    )


def _asset(name: str) -> str:
    return (_HERE / name).read_text(encoding="utf-8")


def _hash(text: str) -> str:
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()


def _variables(colours: Palette) -> str:
    named = ((its.name, getattr(colours, its.name)) for its in fields(colours))
    return " ".join(f"--{name.replace('_', '-')}: {colour};" for name, colour in named if isinstance(colour, str))


def _data(runs: list[PageRun]) -> str:
    """As JSON in which nothing ends the element that it stands in."""
    told = json.dumps(msgspec.to_builtins(runs, str_keys=True), separators=(",", ":"), ensure_ascii=False)
    return told.replace("<", "\\u003c").replace("\u2028", "\\u2028").replace("\u2029", "\\u2029")


def _choice(runs: list[PageRun]) -> str:
    if len(runs) < 2:
        return ""
    options = "".join(f'<option value="{number}">{escape(its.title)}</option>' for number, its in enumerate(runs))
    return f'<label class="cases">Case <select id="case">{options}</select></label>'


def _texts(run: int, recording: Recording) -> str:
    modules = recording.trace.program.modules
    tables = (
        _text(f"{run}-{number}", its.source, its.file.rpartition("/")[2], is_shown=run == number == 0)
        for number, its in enumerate(modules)
    )
    return "\n".join(tables)


def _text(key: str, source: str, name: str, is_shown: bool) -> str:
    rows = "\n".join(
        f'<tr data-line="{number}"><th scope="row"><button type="button" class="go" disabled>{number}</button></th>'
        f'<td class="visits"></td><td class="code"><code>{line or "&#8203;"}</code></td><td class="note"></td></tr>'
        for number, line in enumerate(code_lines(source), 1)
    )
    hidden = "" if is_shown else " hidden"
    heads = "".join(f'<th scope="col">{its}</th>' for its in ("Line", "Visits", "Text", "What it did"))
    return (
        f'<table class="text" id="text-{key}"{hidden}>\n<caption>{escape(name)}</caption>\n'
        f"<thead><tr>{heads}</tr></thead>\n<tbody>\n{rows}\n</tbody>\n</table>"
    )
