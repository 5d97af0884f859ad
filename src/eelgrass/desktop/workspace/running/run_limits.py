"""The limits of runs: as the settings have them, or wider for the open program."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from eelgrass.desktop.services.messages import Choice
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.services.translation import tr
from eelgrass.reading.recording import Recording

#: Those that settings have, by their names in an order.
LIMITS = ("max_steps", "max_seconds", "max_processor_seconds", "max_memory_mib", "max_output")
_TIMES = 10


class RunLimits:
    """`run_again` runs the open program once more."""

    def __init__(self, settings: Settings, run_again: Callable[[], None]) -> None:
        self._settings = settings
        self._run_again = run_again
        self._wider: dict[str, int] = {}  # how many times each limit is as wide as the setting

    def as_usual(self) -> None:
        """Another program is open."""
        self._wider = {}

    def of_order(self) -> dict[str, Any]:
        """The limits of the next run, by their names in its order."""
        values = self._settings.values
        return {name: getattr(values, name) * self._wider.get(name, 1) for name in LIMITS}

    def after(self, recording: Recording) -> tuple[Choice, ...]:
        """What can be done about a run that has ended: one that a limit stopped can go further."""
        limit = recording.trace.outcome.limit
        if limit not in LIMITS:
            return ()
        return (Choice(tr("Go on with ten times as much"), lambda: self._widen(limit)),)

    def _widen(self, limit: str) -> None:
        self._wider[limit] = _TIMES * self._wider.get(limit, 1)
        self._run_again()
