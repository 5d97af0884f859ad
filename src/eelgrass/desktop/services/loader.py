"""Reads recordings from files on a thread of its own, so that the window stays alive."""

from __future__ import annotations

import threading
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.translation import tr
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file


class Loader(QObject):
    """Signal: `loaded(path, result)`, on the window's thread; the result is a Recording, or a sentence about why there
    is none."""

    loaded = pyqtSignal(object, object)

    def load(self, path: Path) -> None:
        """Begins to read a file."""
        threading.Thread(target=self._load, args=(path,), name="eelgrass-load", daemon=True).start()

    def _load(self, path: Path) -> None:
        try:
            recording = Recording(recording_file.load(path))
            recording.prepare()
            self.loaded.emit(path, recording)
        except recording_file.RecordingError as error:
            self.loaded.emit(path, str(error))
        except OSError as error:
            self.loaded.emit(path, tr("“{0}” cannot be read: {1}.").format(path.name, error.strerror))
