"""How things are shown, all in one place; each change holds at once."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.app.host.settings import STRICT, SettingsStore
from kesselton.core import constants as const
from kesselton.core.language import N_, _, choices
from kesselton.core.prediction.tempo import FASTEST_BPM, SLOWEST_BPM
from kesselton.ui.parts.widgets.dialogs import Dialog, close_box
from kesselton.ui.parts.widgets.fields import Choice, air_field, number_field
from kesselton.ui.parts.widgets.inputs import Tick
from kesselton.ui.parts.widgets.labels import Label

THEMES = (("system", N_("same as desktop")), ("light", N_("light")), ("dark", N_("dark")))
UNITS = ((False, N_("inches and mil")), (True, N_("millimeters")))


class PreferencesDialog(Dialog):
    """Edits the settings of the program."""

    def __init__(self, settings: SettingsStore, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("Preferences"))
        self._settings = settings
        self.theme, self.units = Choice(_("Theme")), Choice(_("Units"))
        self.theme.set_options(list(choices(THEMES)))
        self.units.set_options(list(choices(UNITS)))
        self.a4 = number_field("A4", const.A4_LOW_HZ, const.A4_HIGH_HZ, "Hz", 0)
        self.stage = air_field(_("Air on stage"))
        self.outlast = number_field(_("Fundamental decay lead"), *STRICT, "×", 2)
        self.outlast.setToolTip(
            _(
                "Sweet spot: how much longer than the overtones the "
                "fundamental must decay, relative to typical."
            )
        )
        self.glide = number_field(_("Allowed pitch glide"), *STRICT, "×", 2)
        self.glide.setToolTip(
            _("Sweet spot: how far sharp a stroke may start, relative to typical for the kind.")
        )
        self.flats = Tick(_("use flats (D♭), not sharps (C♯)"))
        note = Label(_("Font size follows the desktop, from 9 to 16 pt."))
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        self.tempo = number_field(
            _("Tempo of the fastest part"), SLOWEST_BPM, FASTEST_BPM, _("beats/min"), 0
        )
        self.tempo.setToolTip(_("Whether strokes stay apart in sixteenths is told at this tempo."))
        fields = (
            self.theme, self.units, self.a4, self.stage, self.outlast, self.glide, self.tempo,
        )  # fmt: skip
        for place, widget in enumerate(fields):
            grid.addWidget(widget, place // 2, place % 2)
        buttons = close_box()
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addLayout(grid)
        layout.addWidget(self.flats)
        layout.addWidget(note)
        layout.addWidget(buttons)
        self.theme.chosen.connect(lambda key: settings.change(theme=key))
        self.units.chosen.connect(lambda on: settings.change(metric=on))
        self.a4.edited.connect(lambda hz: settings.change(a4_hz=hz))
        self.stage.edited.connect(self._on_stage)
        self.outlast.edited.connect(lambda share: settings.change(outlast_share=share))
        self.glide.edited.connect(lambda share: settings.change(glide_share=share))
        self.tempo.edited.connect(lambda bpm: settings.change(tempo_bpm=bpm))
        self.flats.clicked.connect(lambda on: settings.change(flats=on))
        settings.changed.connect(self._show)
        self._show()

    def _on_stage(self, air: tuple[float, float | None]) -> None:
        damp = {} if air[1] is None else {"stage_rh": air[1]}
        self._settings.change(stage_c=air[0], **damp)

    def _show(self) -> None:
        values = self._settings.values
        self.theme.set_state(values.theme)
        self.units.set_state(values.metric)
        self.a4.set_state(values.a4_hz)
        self.stage.set_state((values.stage_c, values.stage_rh))
        self.outlast.set_state(values.outlast_share)
        self.glide.set_state(values.glide_share)
        self.tempo.set_state(values.tempo_bpm)
        self.flats.setChecked(values.flats)
