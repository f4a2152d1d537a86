"""What every painted view has in common."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cache

from PySide6.QtCore import (
    QCoreApplication,
    QEvent,
    QObject,
    QPoint,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
    QTimer,
)
from PySide6.QtGui import (
    QContextMenuEvent,
    QFontMetrics,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
)
from PySide6.QtWidgets import QMenu, QWidget
from shiboken6 import isValid

from kesselton.core.language import _
from kesselton.ui.parts.widgets.clipboard import copy_picture, copy_table
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import (
    LIGHT,
    Colours,
    enlarged,
    font,
    painting,
    px,
    scale,
)


class Copied(QWidget):
    """What can be taken along as a picture or as a table, by a menu where it is clicked."""

    main = True
    """Whether it is what somebody means who copies what is on the screen."""

    def table(self) -> list[tuple[str, ...]]:
        """Its numbers as rows, the first one the captions; empty where it has none."""
        return []

    def copy_picture(self) -> None:
        """Itself to the clipboard, as an image and as SVG."""
        copy_picture(self)

    def copy_table(self) -> None:
        """Its numbers to the clipboard, as text with tabs and as CSV."""
        copy_table(self.table())

    def menu(self) -> QMenu:
        """What can be done with it."""
        menu = QMenu(self)
        menu.addAction(_("Copy picture"), self.copy_picture)
        menu.addAction(_("Copy table"), self.copy_table).setEnabled(bool(self.table()))
        return menu

    @safe_override
    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = self.menu()
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(event.globalPos())


class _Turns(QObject):
    """Whose turn it is to be painted anew.

    One thing done changes several pictures; painted together they would be felt as one, while
    keys and mouse wait. So each waits until the one before is painted, and the keys come between.
    """

    OVERDUE_MS = 40
    """After so long the next one is not waited for: what was hidden meanwhile is never painted."""

    def __init__(self, parent: QObject | None) -> None:
        super().__init__(parent)
        self._now: Picture | None = None
        self._waiting: list[Picture] = []
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.timeout.connect(self._next)

    def ask(self, picture: Picture) -> bool:
        """Whether it may be painted now; if not, its turn will come."""
        if not self._clock.isActive():
            self._begin(picture)
        elif picture is not self._now and picture not in self._waiting:
            self._waiting.append(picture)
        return picture is self._now

    def painted(self, picture: Picture) -> None:
        """One is done, in its turn or because it came on screen."""
        if picture is self._now:
            self._now = None
        elif picture in self._waiting:
            self._waiting.remove(picture)
        if self._now is None:
            if self._waiting:
                self._clock.start(1)  # not 0, which would wait until no key and no mouse does
            else:
                self._clock.stop()

    def _begin(self, picture: Picture) -> None:
        self._now = picture
        self._clock.start(self.OVERDUE_MS)

    def _next(self) -> None:
        self._now = None
        while self._waiting:
            picture = self._waiting.pop(0)
            if isValid(picture) and picture.isVisible():
                self._begin(picture)
                QWidget.update(picture)
                return


@cache
def _turns(app: QCoreApplication | None) -> _Turns:
    return _Turns(app)


def _all_turns() -> _Turns:
    return _turns(QCoreApplication.instance())


class Picture(Copied):
    """A widget that paints itself in the colours of the theme; subclasses override `_paint`.

    It is painted, and pointed at, in pixels of the source, and enlarged as a whole where the
    desktop's font is larger: `width`, `height`, `rect` and mouse events are in these.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = LIGHT
        self._exposed = QRectF()  # what has to be painted now

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.update()

    def update(self, *part: object) -> None:
        """Be painted anew soon, in a turn of its own."""
        if part or not self.isVisible() or _all_turns().ask(self):
            super().update(*part)

    # sizes in pixels of the source

    def width(self) -> int:
        return round(super().width() / enlarged())

    def height(self) -> int:
        return round(super().height() / enlarged())

    def rect(self) -> QRect:
        return QRect(0, 0, self.width(), self.height())

    def fontMetrics(self) -> QFontMetrics:
        with painting():
            return QFontMetrics(font())

    def setMinimumHeight(self, height: int) -> None:
        super().setMinimumHeight(px(height))

    def setFixedHeight(self, height: int) -> None:
        super().setFixedHeight(px(height))

    def setMinimumSize(self, width: int, height: int) -> None:  # type: ignore[override]
        super().setMinimumSize(px(width), px(height))

    def at(self, point: QPoint | QPointF) -> QPointF:
        """A place on the screen's widget in pixels of the source."""
        return QPointF(point) / enlarged()

    @safe_override
    def event(self, event: QEvent) -> bool:
        if isinstance(event, QMouseEvent) and scale() != 1.0:
            here = QMouseEvent(
                event.type(), self.at(event.position()), event.globalPosition(),
                event.button(), event.buttons(), event.modifiers(),
            )  # fmt: skip
            done = super().event(here)
            event.setAccepted(here.isAccepted())
            return done
        return super().event(event)

    @safe_override
    def paintEvent(self, event: QPaintEvent) -> None:
        large = scale()
        with QPainter(self) as p, painting():  # closed even when painting fails, or Qt would crash
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.scale(large, large)
            self._exposed = QRectF(event.rect())
            self._exposed = QRectF(self._exposed.topLeft() / large, self._exposed.size() / large)
            self._paint(p)
        _all_turns().painted(self)

    def _paint(self, p: QPainter) -> None:
        raise TypeError(f"{type(self).__name__} does not say what to paint.")


def one_by_one(pictures: list[Picture]) -> None:
    """Paint each in a turn of its own: what all must paint anew would be felt as one."""
    for picture in pictures:
        picture.setUpdatesEnabled(False)
    _paint_next(list(pictures))


def _paint_next(pictures: list[Picture]) -> None:
    while pictures:
        picture = pictures.pop(0)
        if isValid(picture):
            picture.setUpdatesEnabled(True)
            QTimer.singleShot(0, lambda: _paint_next(pictures))
            return


def sharpness(p: QPainter) -> float:
    """Pixels of the device in one of the source."""
    return p.worldTransform().m11() * p.device().devicePixelRatioF()


def painted(
    width: float,
    height: float,
    factor: float,
    paint: Callable[[QPainter], object],
    over: tuple[float, float] = (0.0, 0.0),
) -> QPixmap:
    """A picture of so many pixels of the source, to be kept: `over` says on what part of a device's
    pixel it will lie, or lines would blur."""
    size = (
        math.ceil(side * factor + part) for side, part in zip((width, height), over, strict=True)
    )
    qpixmap = QPixmap(*size)
    qpixmap.fill(Qt.GlobalColor.transparent)
    with QPainter(qpixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(*over)
        painter.scale(factor, factor)
        paint(painter)
    return qpixmap


def elided(p: QPainter, text: str, width: float) -> str:
    """As much of a text as there is room for."""
    return p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))


def hint(width: float, height: float) -> QSize:
    """A size in pixels of the source as a hint for a layout."""
    return QSize(px(width), px(height))


def ticks(low: float, high: float, most: int = 5) -> list[float]:
    """Round values between two ends, at most so many: steps of 1, 2 or 5 times a power of ten."""
    rough = (high - low) / most
    ten = 10.0 ** math.floor(math.log10(rough))
    step = next(part * ten for part in (1.0, 2.0, 5.0, 10.0) if part * ten >= rough)
    first = math.ceil(low / step)
    return [step * place for place in range(first, math.floor(high / step) + 1)]
