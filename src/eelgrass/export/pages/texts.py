"""Texts as HTML: a program's lines with their words told apart, and Markdown without anything from elsewhere."""

from __future__ import annotations

from html import escape
from typing import Any

from markdown_it import MarkdownIt
from pygments.lexers.python import PythonLexer
from pygments.token import Comment, Keyword, Number, Operator, String

#: Words of a line that look otherwise, by what they are; the first that fits.
_CLASSES = ((Keyword, "k"), (Operator.Word, "k"), (String, "s"), (Number, "n"), (Comment, "c"))
#: Tags are shown as they are written; there is nowhere to go and nothing to fetch.
_MARKDOWN = MarkdownIt("commonmark", {"html": False}).enable("table").disable(["link", "image", "autolink"])


def code_lines(source: str) -> list[str]:
    """Each line of a program in HTML."""
    lines = [""]
    lexer = PythonLexer(stripnl=False, ensurenl=False)
    for token, value in lexer.get_tokens(source.removesuffix("\n")):
        mark = _class(token)
        for place, part in enumerate(value.split("\n")):
            if place:
                lines.append("")
            shown = escape(part)
            lines[-1] += f'<span class="{mark}">{shown}</span>' if mark and shown else shown
    return lines


def _class(token: Any) -> str:
    return next((mark for kind, mark in _CLASSES if token in kind), "")


def markdown(text: str) -> str:
    """Markdown of somebody else in HTML."""
    html: str = _MARKDOWN.render(text)
    return html
