"""A real window without a monitor, for the tests of the desktop alone."""

from __future__ import annotations

import gc
import os
from collections.abc import Iterator

import pytest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


@pytest.fixture(scope="session")
def qapp() -> object:
    """The application as people start it, with all that it takes care of."""
    from eelgrass.desktop.app import application

    return application()


@pytest.fixture(autouse=True)
def nothing_left_for_other_threads() -> Iterator[None]:
    """A window that is gone leaves cycles of Python's; they are taken apart here, on the thread that Qt runs on."""
    yield
    gc.collect()


@pytest.fixture
def window(qtbot: object) -> Iterator[object]:
    """The real window, shown."""
    from eelgrass.desktop.window.main_window import MainWindow

    made = MainWindow()
    qtbot.addWidget(made)  # type: ignore[attr-defined]
    made.show()
    yield made
    made.models.run.runner.stop()
