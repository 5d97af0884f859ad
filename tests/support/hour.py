"""An hour in front of a class, played by real keys on a real screen: started by a test on a virtual one, with a folder
to write in. Nothing here calls a command of the window; it only looks whether what should be there is there."""

from __future__ import annotations

import faulthandler
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar, cast

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QWidget

from eelgrass.desktop.tabs.cases_view import CasesView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.window.main_window import MainWindow

_PATIENCE_S = 90.0
_MOST_RETURNS = 4
_STUCK_S = 500.0
_Seen = TypeVar("_Seen")
_MAIN = """\
import parties
SEATS = int(open("seats.txt").read())
aboard = 0
names = parties.ask()
for name in names:
    size = len(name.split("+"))
    if aboard + size < SEATS:
        aboard = aboard + size
        print(name, "come aboard:", aboard)
print(aboard, "of", SEATS)
"""
_PARTIES = """\
def ask():
    found = []
    while True:
        name = input("Party? ")
        if not name:
            return found
        found.append(name)
"""


class _Shown(QObject):
    """In the place of a window manager: what is shown gets the keys, and what is left when it goes."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and isinstance(watched, (QDialog, MainWindow)):
            if event.type() == QEvent.Type.Show:
                _activate(watched)
            elif event.type() == QEvent.Type.Hide and isinstance(watched, QDialog):
                _activate(next((its for its in QApplication.topLevelWidgets() if isinstance(its, MainWindow)), None))
        return False


def _activate(widget: QWidget | None) -> None:
    handle = widget.windowHandle() if widget is not None else None
    if handle is not None:
        handle.requestActivate()


class _Looks(QObject):
    """Looks at the window on its own thread, for who types on another."""

    asked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.seen: object = None
        self.asked.connect(self._look, Qt.ConnectionType.BlockingQueuedConnection)

    def _look(self, look: Callable[[], object]) -> None:
        self.seen = look()


class Hour:
    """The window, and somebody at the keyboard, who is on another thread: dialogs do not let the window's go on."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder / "ferry"
        self.folder.mkdir()
        for name, text in (("main.py", _MAIN), ("parties.py", _PARTIES), ("seats.txt", "6\n")):
            (self.folder / name).write_text(text)
        self.window = MainWindow()
        self.window.resize(1280, 800)
        self.window.show()
        self._looks = _Looks()
        self.trouble = ""

    def see(self, look: Callable[[], _Seen]) -> _Seen:
        """What is seen on the window's thread."""
        self._looks.asked.emit(look)
        return cast("_Seen", self._looks.seen)

    def until(self, is_so: Callable[[], object], what: str) -> None:
        """Waits until something is so."""
        end = time.monotonic() + _PATIENCE_S
        while not self.see(is_so):
            if time.monotonic() > end:
                raise AssertionError(f"This did not come: {what}. {self.see(self._what_there_is)}")
            time.sleep(0.005)

    def _what_there_is(self) -> str:
        keys, dialog = QApplication.focusWidget(), QApplication.activeModalWidget()
        written = f" (“{keys.text()}”)" if isinstance(keys, QLineEdit) else ""
        above = f"“{dialog.windowTitle()}” is above the window" if dialog is not None else "no dialog is shown"
        active = type(QApplication.activeWindow()).__name__
        run = f"the run {'waits' if self.window.models.run.is_waiting else 'does not wait'}; it printed “{self.output}”"
        said = self.window.notice_bar.text()
        return f"The keys are at {type(keys).__name__}{written} of {active}; {above}; “{said}” is said; {run}."

    def press(self, *keys: str) -> None:
        """Real keys, one after the other, each when what the one before did is done."""
        for key in keys:
            subprocess.run(["xdotool", "key", "--clearmodifiers", key], check=True)
            self._settle()

    def write(self, text: str) -> None:
        """Writes a text, letter by letter; at the end of a line comes Enter."""
        if letters := text.removesuffix("\n"):
            subprocess.run(["xdotool", "type", "--delay", "4", letters], check=True)
            self.until(lambda: _is_written(letters), f"“{letters}” where it is written")
        if text.endswith("\n"):
            self.press("Return")

    def agree(self) -> None:
        """Return, until the dialog goes: the list of what fits takes the first one."""
        for _ in range(_MOST_RETURNS):
            self.until(lambda: self.dialog() or QApplication.activeModalWidget() is None, "the keys at the dialog")
            if self.see(QApplication.activeModalWidget) is None:
                return
            self.press("Return")
        self.until(lambda: QApplication.activeModalWidget() is None, "the end of the dialog")

    def _settle(self) -> None:
        for _ in range(4):
            self.see(lambda: None)  # what came before it is done
            time.sleep(0.01)

    # What is on the screen

    @property
    def line(self) -> int:
        """The line about to run."""
        session = self.window.models.parts.session
        return session.recording.trace.line_of(session.step) if session.recording is not None else 0

    @property
    def output(self) -> str:
        """All that the program printed."""
        return self.window.view(OutputView).toPlainText()

    def dialog(self) -> bool:
        """Whether a dialog has the keys. That it is shown is not enough: letters would go to what had them before."""
        dialog, focus = QApplication.activeModalWidget(), QApplication.focusWidget()
        if not isinstance(dialog, QDialog) or focus is None:
            return False
        active = QApplication.activeWindow()  # the list of what fits what is written can be it, too
        return dialog.isAncestorOf(focus) and active in (dialog, QApplication.activePopupWidget())

    def is_home(self) -> bool:
        """Whether the keys are those of the moves."""
        return self.window.layout_.hasFocus() and QApplication.activeModalWidget() is None


def _is_written(letters: str) -> bool:
    """Whether a line with the keys ends so; what is no line is looked at by what comes of it."""
    focus = QApplication.focusWidget()
    return not isinstance(focus, QLineEdit) or focus.text().endswith(letters)


def play(hour: Hour) -> None:
    """The hour."""
    window = hour.window
    hour.until(lambda: QApplication.activeWindow() is window, "the window")
    # Open a folder; it asks for input, and the keys are there.
    hour.press("ctrl+o")
    hour.until(hour.dialog, "a dialog that asks what to open")
    hour.write(str(hour.folder / "main.py"))
    hour.agree()
    hour.until(lambda: window.models.run.is_waiting and window.input_line.line.hasFocus(), "the place to type")
    for party in ("Ada+Ben+Cy", "Dov", "Eli+Fay", ""):
        hour.write(f"{party}\n")
    hour.until(lambda: "4 of 6" in hour.output and not window.models.run.is_running, "the end of the run")
    hour.until(hour.is_home, "the keys back at the moves")
    # Step: on, into the call, every line, out again.
    hour.press("Home", "Right", "Right", "Right")
    hour.until(lambda: hour.line == 4, "line 4")
    hour.press("Down", "Right")
    hour.until(lambda: window.source.file.endswith("parties.py"), "the other module")
    hour.press("Up")
    hour.until(lambda: hour.line in (4, 5), "the caller")
    hour.press("Down", "Down", "Down")
    # Ask, and come back.
    hour.press("a")
    hour.until(lambda: window.view(WatchView).line.hasFocus(), "the line of Ask")
    hour.write("aboard + size\n")
    hour.until(lambda: len(window.models.parts.watches.expressions) == 1, "the question")
    hour.press("Escape")
    hour.until(hour.is_home, "the keys back from Ask")
    # A stop, a note, and the way of a value.
    hour.press("period", "End", "Prior")
    hour.until(lambda: hour.line == 8, "the breakpoint")
    hour.press("n")
    hour.until(hour.dialog, "the dialog of a note")
    hour.write("here it is decided\n")
    hour.until(hour.is_home, "the keys back from the note")
    hour.press("o")
    hour.until(lambda: bool(window.models.trails.title) or QApplication.focusWidget() is not None, "the trail")
    hour.press("Escape")
    # Walk the rows of Depths by keys.
    hour.press("F6", "F6", "Down", "Return", "Escape")
    hour.until(hour.is_home, "the keys back from Depths")
    # Keep the case, mend, run it again, at the same place.
    hour.press("ctrl+k")
    hour.until(hour.dialog, "the dialog for a case")
    hour.press("ctrl+a")
    hour.write("three parties\n")
    hour.until(lambda: [its.name for its in window.models.launch.cases] == ["three parties"], "the case")
    hour.until(hour.is_home, "the keys back from the dialog")
    hour.press("Home")
    hour.press("e")
    hour.until(lambda: window.source.is_editing, "the text to write in")
    for _ in range(6):
        hour.press("Down")
    hour.press("End", "BackSpace", *["Left"] * 6)
    hour.write("=")
    hour.press("End")
    hour.write(":")
    hour.press("Escape", "ctrl+r")
    hour.until(lambda: "6 of 6" in hour.output and not window.models.run.is_running, "the mended program's output")
    hour.press("ctrl+t")
    hour.until(lambda: bool(window.models.kept_cases.outcomes), "what came of all cases")
    item = window.view(CasesView).list.item
    hour.until(lambda: (its := item(0)) is not None and " – differs: " in its.text(), "the case that differs")
    # Present, and back; the keys; nothing was lost.
    size = hour.see(window.size)
    hour.press("Escape", "p")
    hour.until(lambda: window.is_presenting, "presenting")
    hour.press("Home", "Right", "p")
    hour.until(lambda: not window.is_presenting, "back from presenting")
    assert hour.see(window.size) == size
    hour.press("F1")
    hour.until(hour.dialog, "the sheet of keys")
    hour.press("Escape")
    hour.until(hour.is_home, "the keys back from the sheet")
    assert "<= SEATS" in (hour.folder / "main.py").read_text()


def main(folder: Path) -> None:
    """Plays the hour; says that it is over, or what went wrong."""
    faulthandler.dump_traceback_later(_STUCK_S, exit=True)  # a window that hangs says where
    application = QApplication([])
    shown = _Shown()
    application.installEventFilter(shown)
    hour = Hour(folder)

    def type_it() -> None:
        try:
            play(hour)
        except BaseException as error:
            print(error, file=sys.stderr)
            if len(sys.argv) > 2:
                hour.see(lambda: (QApplication.activeModalWidget() or hour.window).grab().save(sys.argv[2]))
            os._exit(1)
        print("the hour is over", flush=True)
        os._exit(0)

    threading.Thread(target=type_it, daemon=True).start()
    application.exec()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
