"""What every painted view has in common."""

from __future__ import annotations

from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from kesselton.ui.theme import LIGHT, Colours


class Picture(QWidget):
    """A widget that paints itself in the colours of the theme; subclasses override `_paint`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = LIGHT

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as p:  # closed even when painting fails, or Qt would crash
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint(p)

    def _paint(self, p: QPainter) -> None:
        raise TypeError(f"{type(self).__name__} does not say what to paint.")
