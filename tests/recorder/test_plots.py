"""Plots that a program shows are pictures in its recording, and its plotting goes on as when a window is closed."""

from __future__ import annotations

import struct

import pytest
from conftest import Record

from eelgrass.reading.state.output import pieces, png_of
from eelgrass.trace.model import Texts

_SOURCE = """
import os
os.environ.pop("DISPLAY", None)
import matplotlib.pyplot as plt
plt.figure(figsize=(3, 2), dpi=100)
plt.plot([4, 7, 2])
print(plt.show())
print(plt.get_fignums(), plt.show.__module__)
plt.figure(figsize=(2, 1), dpi=100)
plt.figure(figsize=(1, 1), dpi=100)
plt.show(block=False)
print(plt.get_fignums())
"""


@pytest.fixture
def small_plotting(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """A package of the plotting package's build, which draws nothing but the size of each figure."""
    root = tmp_path_factory.mktemp("packages")
    package = root / "site-packages" / "matplotlib"
    package.mkdir(parents=True)
    (package / "__init__.py").write_text(
        "_backend = 'tkagg'\ndef use(name):\n    global _backend\n    _backend = name\n"
        "def get_backend():\n    return _backend\n"
    )
    (package / "_pylab_helpers.py").write_text(
        "class Gcf:\n    figs = {}\n    @classmethod\n"
        "    def get_all_fig_managers(cls):\n        return list(cls.figs.values())\n"
    )
    (package / "pyplot.py").write_text(
        "import struct\nimport matplotlib\nfrom matplotlib import _pylab_helpers\n"
        "class Manager:\n    def __init__(self, size):\n        self.canvas, self.size = self, size\n"
        "    def print_figure(self, room, format):\n"
        "        room.write(b'\\x89PNG\\r\\n\\x1a\\n' + struct.pack('>I4sII', 13, b'IHDR', *self.size))\n"
        "def figure(figsize, dpi):\n    figs = _pylab_helpers.Gcf.figs\n"
        "    figs[len(figs) + 1] = Manager([int(side * dpi) for side in figsize])\n"
        "def plot(levels):\n    pass\ndef get_fignums():\n    return list(_pylab_helpers.Gcf.figs)\n"
        "def close(which):\n    _pylab_helpers.Gcf.figs.clear()\n"
        "def show(*, block=None):\n    raise RuntimeError('there is no window')\n"
    )
    monkeypatch.setenv("PYTHONPATH", str(package.parent))


@pytest.mark.usefixtures("small_plotting")
def test_a_shown_plot_is_a_picture_in_the_recording(record: Record) -> None:
    recording = record(_SOURCE)
    trace = recording.trace
    assert (
        "".join(piece.text for piece in pieces(trace) if piece.channel == 1) == "None\n[] matplotlib.pyplot\n[1, 2]\n"
    )
    shown = [piece for piece in pieces(trace) if piece.channel == Texts.PICTURE]
    assert [struct.unpack(">II", png_of(piece)[16:24]) for piece in shown] == [(300, 200), (200, 100), (100, 100)]
    assert [trace.line_of(piece.step) for piece in shown] == [7, 11, 11]
    note = recording.line_notes.of_line(0, 11, len(trace.steps) - 1)
    assert note is not None
    assert note.did == "showed 2 pictures"
