"""Documents on paper."""

from __future__ import annotations

from pytestqt.qtbot import QtBot

from eelgrass.desktop.paper import as_pdf


def test_a_document_is_as_many_pages_as_it_needs(qtbot: QtBot) -> None:
    short, long = as_pdf("<h1>Beds</h1>"), as_pdf("<h1>Beds</h1>" + "<p>reef</p>" * 200)
    assert short.startswith(b"%PDF-")
    assert short.rstrip().endswith(b"%%EOF")
    assert short.count(b"/Type /Page\n") == 1
    assert long.count(b"/Type /Page\n") > 3
