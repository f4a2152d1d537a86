"""Why a pair stands where it stands: every criterion with value, wish, weight and reason."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.widgets.inputs import Slider
from kesselton.ui.parts.widgets.labels import Label, plain_tip
from kesselton.ui.parts.widgets.theme import font, px

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.heads.choose import Candidates

STEPS = 10
"""Steps of a slider in a unit of weight."""


class CriteriaPanel(QWidget):
    """The criteria of the chosen pair, a slider for the weight of each.

    Signals
    -------
    moved(dict of weights), while a slider moves; kept(dict of weights), when it is let go
    """

    moved = Signal(object)
    kept = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.sliders: dict[str, Slider] = {}
        self._labels: dict[str, tuple[QLabel, QLabel]] = {}
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(1)
        self._grid.setColumnStretch(0, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 0)
        layout.addLayout(self._grid)
        note = Label(_("* Common practice, not computed. Sliders set importance."))
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        layout.addWidget(note)
        layout.addStretch(1)

    @property
    def weights(self) -> dict[str, float]:
        """What the sliders say."""
        return {key: slider.value() / STEPS for key, slider in self.sliders.items()}

    def build(self) -> None:
        """Make the rows, once the core is there."""
        if self.sliders:
            return
        from kesselton.core.heads.criteria import COMMON_PRACTICE, CRITERIA, HEAVIEST_WEIGHT

        for row, criterion in enumerate(CRITERIA):
            star = " *" if criterion.source == COMMON_PRACTICE else ""
            title = Label(f"{criterion.label[0].upper()}{criterion.label[1:]}{star}")
            title.setFont(font(9.5, QFont.Weight.DemiBold))
            title.setWordWrap(True)
            detail = Label()
            detail.setProperty("quiet", True)
            detail.setFont(font(9))
            detail.setWordWrap(True)
            slider = Slider()
            slider.setRange(0, int(HEAVIEST_WEIGHT * STEPS))
            slider.setPageStep(STEPS)
            slider.setFixedWidth(px(84))
            slider.setAccessibleName(_("Importance of {label}").format(label=criterion.label))
            title.setBuddy(slider)
            slider.valueChanged.connect(lambda _unused: self._on_moved())
            slider.sliderReleased.connect(lambda: self.kept.emit(self.weights))
            self._grid.addWidget(title, 2 * row, 0)
            self._grid.addWidget(detail, 2 * row + 1, 0)
            self._grid.addWidget(slider, 2 * row, 1, 2, 1)
            self.sliders[criterion.key] = slider
            self._labels[criterion.key] = (title, detail)

    def _on_moved(self) -> None:
        self.moved.emit(self.weights)
        held = any(slider.isSliderDown() for slider in self.sliders.values())
        if not held:
            self.kept.emit(self.weights)

    def set_weights(self, weight: np.ndarray) -> None:
        """Put the sliders where the brief says."""
        for slider, value in zip(self.sliders.values(), weight, strict=True):
            if not slider.isSliderDown():
                with QSignalBlocker(slider):
                    slider.setValue(round(float(value) * STEPS))

    def set_state(self, found: Candidates | None, number: int) -> None:
        """Show one candidate."""
        if found is None:
            for _unused, detail in self._labels.values():
                detail.setText("")
            return
        from kesselton.core.heads.choose import reason_words
        from kesselton.core.heads.criteria import CRITERIA

        for row, criterion in enumerate(CRITERIA):
            title, detail = self._labels[criterion.key]
            judged = math.isfinite(float(found.scores.value[row][0])) if len(found) else False
            for widget in (title, detail, self.sliders[criterion.key]):
                widget.setVisible(judged)
            if number >= 0 and judged:
                text = reason_words(found, number, row)
                detail.setText(text)
                detail.setToolTip(plain_tip(text))
