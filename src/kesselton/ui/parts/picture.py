"""What every painted view has in common."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from kesselton.ui.parts.theme import LIGHT, Colours


class Picture(QWidget):
    """A widget that paints itself in the colours of the theme; subclasses override `_paint`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = LIGHT
        self._exposed = QRectF()  # what has to be painted now

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        self._exposed = QRectF(event.rect())
        with QPainter(self) as p:  # closed even when painting fails, or Qt would crash
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint(p)

    def _paint(self, p: QPainter) -> None:
        raise TypeError(f"{type(self).__name__} does not say what to paint.")


def ticks(low: float, high: float, most: int = 5) -> list[float]:
    """Round values between two ends, at most so many: steps of 1, 2 or 5 times a power of ten."""
    rough = (high - low) / most
    ten = 10.0 ** math.floor(math.log10(rough))
    step = next(part * ten for part in (1.0, 2.0, 5.0, 10.0) if part * ten >= rough)
    first = math.ceil(low / step)
    return [step * place for place in range(first, math.floor(high / step) + 1)]
