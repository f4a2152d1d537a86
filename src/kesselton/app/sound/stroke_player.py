"""Renders strokes beside the screen and plays them; keeps the last two to go to and fro between."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.jobs import Latest
from kesselton.app.sound.player import Player
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.core.instrument.beater import Stroke
    from kesselton.core.prediction.render import Sound


@dataclass(frozen=True, eq=False)
class RenderedStroke:
    """A rendered stroke and what it is of."""

    name: str
    sound: Sound
    other: RenderedStroke | None = None
    """The same with the wires the other way, to go to and fro between."""


WIRES_ON, WIRES_OFF = N_("wires on"), N_("wires off")


class StrokePlayer(QObject):
    """The strokes asked for last.

    Signals
    -------
    state_changed(str) in words; rendered(RenderedStroke); failed(KesseltonError)
    """

    state_changed = Signal(str)
    rendered = Signal(object)
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.player = Player(self)
        self.player.state_changed.connect(self.state_changed)
        self.last: list[RenderedStroke] = []  # the one heard now last, at most two
        self._jobs = Latest(self._on_done, lambda key, error: self.failed.emit(error), self)

    def hear(self, name: str, drum: Drum, stroke: Stroke) -> None:
        """Render a stroke on a drum, and play it where that can be."""
        self.state_changed.emit(_("Computing the sound…"))
        own = drum.own_wires

        def work() -> RenderedStroke:
            from kesselton.core.prediction.close_sound import close_stroke
            from kesselton.core.prediction.prediction import predict

            prediction = predict(drum, stroke)
            if own is None:
                return RenderedStroke(name, close_stroke(prediction, stroke))
            both = [close_stroke(prediction, stroke, on) for on in (not own.engaged, own.engaged)]
            words = (_(WIRES_ON), _(WIRES_OFF)) if own.engaged else (_(WIRES_OFF), _(WIRES_ON))
            other = RenderedStroke(f"{name}, {words[1]}", both[0])
            return RenderedStroke(f"{name}, {words[0]}", both[1], other)

        self._jobs.request(name, work)

    def hear_sound(self, name: str, make: Callable[[], Sound]) -> None:
        """Play a sound that takes a while to make."""
        self.state_changed.emit(_("Computing the sound…"))
        self._jobs.request(name, lambda: RenderedStroke(name, make()))

    def _on_done(self, name: str, heard: RenderedStroke) -> None:
        others = [stroke for stroke in self.last if stroke.name != heard.name]
        if heard.other is not None and not any(other.name == heard.other.name for other in others):
            others.append(heard.other)
        self.last = [*others, heard][-2:]
        self.rendered.emit(heard)
        self._play(heard)

    def remember(self, name: str, sound: Sound) -> None:
        """Keep a sound that was heard: it is played beside a computed one, equally loud."""
        others = [stroke for stroke in self.last if stroke.name != name]
        self.last = [*others, RenderedStroke(name, sound)][-2:]

    def play_again(self, name: str) -> None:
        """Play one of the last two by its name, equally loud as the other."""
        for stroke in self.last:
            if stroke.name == name:
                self._play(stroke)

    def swap(self) -> bool:
        """Play the other of the last two, equally loud; False if there are not two."""
        if len(self.last) < 2:
            return False
        self.last.reverse()
        self._play(self.last[-1])
        return True

    def _play(self, heard: RenderedStroke) -> None:
        from kesselton.core.prediction.render import match_all

        sound = heard.sound
        if len(self.last) == 2:
            level = match_all([stroke.sound for stroke in self.last])
            sound = level[self.last.index(heard)]
        tail = _(", wires approximate") if sound.approximate else ""
        self.player.play(sound, f"{heard.name}{tail}")

    def save(self, path: Path) -> None:
        """Write the stroke heard last as WAV or FLAC.

        Raises
        ------
        KesseltonError
            If nothing was rendered yet, or the place cannot be written.
        """
        from kesselton.store.exports.sound_file import write_sound

        if not self.last:
            raise KesseltonError(_("There is no sound yet."), _("Play a stroke first."))
        write_sound(path, self.last[-1].sound)

    def stop(self) -> None:
        """Be quiet, and end the thread."""
        self.player.close()
        self._jobs.stop()
