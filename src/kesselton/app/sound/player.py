"""Plays a stroke where there is something to play it on; where there is not, says so."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.sound.sound_device import LOST, NO_DEVICE, NO_HELPER, Output
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.core.prediction.render import Sound

SAID = {
    NO_DEVICE: N_("No speakers found: save the sound as a file instead"),
    NO_HELPER: N_("The sound helper cannot start: save the sound as a file instead"),
    LOST: N_("Sound output does not respond: play again, or save the sound as a file"),
}


class Player(QObject):
    """One sound at a time through the system's own output.

    Signals
    -------
    state_changed(str) : what it does now, in words; "" when it is quiet
    """

    state_changed = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._output = Output(self)
        self._output.ended.connect(lambda: self.state_changed.emit(""))
        self._output.failed.connect(lambda why: self.state_changed.emit(_(SAID[why])))

    @property
    def playing(self) -> bool:
        """True while a sound is played."""
        return self._output.running

    def play(self, sound: Sound, name: str) -> None:
        """Play a sound from its start; `state_changed` says if it cannot be."""
        import numpy as np

        self._output.play(np.round(sound.samples * 32767.0).astype("<i2").tobytes(), sound.rate_hz)
        self.state_changed.emit(_("Playing {name}").format(name=name))

    def stop(self) -> None:
        """Be quiet."""
        self._output.stop()
        self.state_changed.emit("")

    def close(self) -> None:
        """Be quiet for good."""
        self._output.close()
