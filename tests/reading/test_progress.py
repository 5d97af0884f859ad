"""How a thread that works lets the window's go on."""

from __future__ import annotations

import threading
import time

import pytest

from eelgrass.reading import progress


def test_only_a_thread_beside_the_main_one_gives_way_and_longer_while_the_window_draws(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    rested: list[float] = []
    now = [100.0]
    monkeypatch.setattr(time, "sleep", rested.append)
    monkeypatch.setattr(time, "perf_counter", lambda: now[0])

    def work() -> None:
        progress.give_way()
        progress.give_way()  # it has just rested
        now[0] += 1
        progress.window_draws()
        progress.give_way()
        assert progress.Progress().goes_on(0.5)

    work()
    assert rested == [], "the main thread has nobody to wait for"
    now[0] += 1
    thread = threading.Thread(target=work)
    thread.start()
    thread.join()
    short, long = rested
    assert 0 < short < 0.001 < long < 0.1
