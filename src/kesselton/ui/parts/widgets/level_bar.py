"""How loud it is at the microphone, while it is open."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter

from kesselton.core.language import _
from kesselton.ui.parts.widgets.picture import Picture

LOWEST_DB = -60.0
QUIET_DB, LOUD_DB = -40.0, -1.0
"""Under the first a stroke is not recorded well, over the second it is about to be clipped."""
FALLS = 0.85


class LevelBar(Picture):
    """A line that fills; it falls slowly, so that a blow is seen."""

    def __init__(self) -> None:
        super().__init__()
        self._level = 0.0
        self.setFixedHeight(8)
        self.setAccessibleName(_("Level at the microphone"))

    def set_level(self, level: float) -> None:
        """Greatest sample of late, 0 to 1."""
        self._level = max(level, FALLS * self._level)
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        db = 20.0 * math.log10(max(self._level, 1e-6))
        share = min(max(1.0 - db / LOWEST_DB, 0.0), 1.0)
        color = c.sharp if db > LOUD_DB else c.accent if db > QUIET_DB else c.metal
        p.fillRect(QRectF(0, 0, self.width(), self.height()), QColor(c.line))
        p.fillRect(QRectF(0, 0, self.width() * share, self.height()), QColor(color))
