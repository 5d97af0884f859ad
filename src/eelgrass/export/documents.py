"""The outer parts of a plain HTML document, in which nothing comes from elsewhere."""

from __future__ import annotations

from html import escape


def document(title: str, style: str, *parts: str) -> str:
    """A document of some parts of a body, one below the other; empty ones are left out."""
    body = "\n".join(part for part in parts if part)
    return (
        f'<!DOCTYPE html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<title>{escape(title)}</title>\n'
        f"<style>{style}</style>\n</head>\n<body>\n{body}\n</body>\n</html>\n"
    )
