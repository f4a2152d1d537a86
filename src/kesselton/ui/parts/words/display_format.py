"""How values are shown: units, A4, spelling. Asked for each time, so it is never stale."""

from __future__ import annotations

from collections.abc import Callable

from kesselton.app.host.settings import Settings
from kesselton.ui.parts.words import wording


class DisplayFormat:
    """What fields and pictures need to know of the settings."""

    def __init__(self, settings: Callable[[], Settings]) -> None:
        self._settings = settings

    def metric(self) -> bool:
        """True for millimeters."""
        return self._settings().metric

    def a4_hz(self) -> float:
        """Pitch of A4."""
        return self._settings().a4_hz

    def flats(self) -> bool:
        """True where D♭ is written for C♯."""
        return self._settings().flats

    def note(self, hz: float) -> str:
        """A pitch as note and hertz: "E3 −19 · 163.0 Hz"."""
        note = wording.note_words(hz, self.a4_hz(), self.flats())
        return f"{note} · {wording.hz_words(hz)}"
