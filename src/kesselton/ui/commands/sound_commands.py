"""Commands on sound: strokes played and heard, a reference tone."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QApplication

from kesselton.core.language import _
from kesselton.store.io.atomic_file import with_suffix
from kesselton.ui.commands.group import CommandGroup, Hands, guarded
from kesselton.ui.parts.widgets.fields import Field

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum


class SoundCommands(CommandGroup):
    """Sound of the drum on the bench.

    Signals
    -------
    pair_wanted : the chosen pair of heads is to be played
    hear_wanted : a stroke is to be recorded
    heard_wanted : the stroke heard last is to be shown
    """

    pair_wanted = Signal()
    hear_wanted = Signal()
    heard_wanted = Signal()

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands)
        self.choosing_pairs: Callable[[], bool] = lambda: False
        """Whether pairs of heads are on show: then a stroke is one on the chosen pair."""

    def play(self) -> None:
        """Play a stroke on the drum on the bench, or on the pair that is chosen."""
        drum = self._bench.drum
        if self.choosing_pairs():
            self.pair_wanted.emit()
        elif drum is not None:
            name = _("{name}, current setting").format(name=drum.name)
            self._listener.hear(name, drum, self._bench.stroke(drum))

    def play_other(self) -> None:
        """Play the other of the last two strokes, equally loud."""
        self._listener.swap()

    def save(self) -> None:
        """Write the stroke heard last as WAV or FLAC."""
        heard = self._listener.last
        name = f"{heard[-1].name}.wav" if heard else "stroke.wav"
        path = self._asking.save(_("Save sound"), name, _("Sound (*.wav *.flac)"))
        if path is not None:
            path = path if path.suffix.lower() == ".flac" else with_suffix(path, ".wav")
            with guarded(self.told):
                self._listener.save(path)
                self.notice.emit(_("Saved: {path}").format(path=path), False)

    def reference_tone(self) -> None:
        """A tone of the pitch in hand: of the field that has the focus, else of the drum."""
        from kesselton.ui.dialogs.tone_dialog import ToneDialog

        self._open_dialog(
            ToneDialog(
                self._pitch_in_hand(), self._display.a4_hz, self._display.note,
                self._listener.player, self._hands.colours, self._parent,
            )
        )  # fmt: skip

    def _pitch_in_hand(self) -> float | None:
        """The pitch that stands where the focus is, or what the whole drum sounds."""
        at = QApplication.focusWidget()
        while at is not None:
            if isinstance(at, Field) and at.is_pitch and isinstance(at.value, float):
                return at.value
            hz = getattr(at, "pitch_in_hand", None)
            if hz is not None and hz() is not None:
                return float(hz())
            at = at.parentWidget()
        result = self._bench.result
        return result.prediction.fundamental_hz if result is not None else None

    def show_heard(self, heard: HeardDrum | None) -> None:
        """The two as pictures, or why there are none."""
        from kesselton.ui.dialogs.heard_dialog import HeardDialog

        if heard is None:
            self.notice.emit(
                _("No stroke analyzed at this setting yet. Analyze a stroke (J) first."),
                False,
            )
            return
        dialog = HeardDialog(heard, self._display.a4_hz(), self._hands.colours, self._parent)
        name = heard.drum.name
        dialog.play_heard.clicked.connect(
            lambda: self._listener.play_again(_("{name}, measured").format(name=name))
        )
        dialog.play_computed.clicked.connect(
            lambda: self._listener.play_again(_("{name}, current setting").format(name=name))
        )
        self._open_dialog(dialog)
