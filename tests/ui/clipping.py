"""Finds text that is cut off, runs into other text or leaves the window, in widgets and pictures."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap, QTextDocument
from PySide6.QtWidgets import (
    QAbstractScrollArea,
    QComboBox,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollBar,
    QStackedWidget,
    QWidget,
)

from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.picture import Picture

SLACK = 1.5
"""Pixels nobody sees: metrics round."""


def faults(window: QWidget) -> list[str]:
    """What is wrong with what a window shows now, in words."""
    found = [*_widgets(window), *_overlaps(window)]
    for picture in window.findChildren(Picture):
        if picture.isVisible() and not picture.visibleRegion().isEmpty():
            found += _picture(picture)
    return found


def _named(widget: QWidget) -> str:
    text = getattr(widget, "text", lambda: "")()
    return f"{type(widget).__name__} {widget.accessibleName() or text!r}"


def _widgets(window: QWidget) -> Iterator[str]:
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or isinstance(widget, QMenu | QScrollBar) or widget.isWindow():
            continue
        if type(widget) is QWidget or isinstance(widget, QAbstractScrollArea):
            continue  # what stands in it is looked at
        beyond = _beyond(widget, window)
        if beyond > SLACK:
            yield f"{_named(widget)} is {beyond:.0f} px out of sight"
        short = _short(widget)
        if short > SLACK:
            yield f"{_named(widget)} lacks {short:.0f} px"


def _beyond(widget: QWidget, window: QWidget) -> float:
    """How far it sticks out across, or out of what does not scroll."""
    rect = QRect(widget.mapTo(window, QPoint(0, 0)), widget.size())
    shown, inside = QRect(QPoint(0, 0), window.size()), widget.parentWidget()
    scrolls = False
    while inside is not None and inside is not window:
        place = QRect(inside.mapTo(window, QPoint(0, 0)), inside.size())
        area = inside.parentWidget()
        if isinstance(area, QAbstractScrollArea):
            off = Qt.ScrollBarPolicy.ScrollBarAlwaysOff
            if area.horizontalScrollBarPolicy() != off and area.horizontalScrollBar().maximum() > 0:
                return 0.0  # both ways
            scrolls = True
            if place.left() > rect.left() + SLACK or place.right() < rect.right() - SLACK:
                return float(max(place.left() - rect.left(), rect.right() - place.right()))
            shown = shown.intersected(
                QRect(place.left(), shown.top(), place.width(), shown.height())
            )
        inside = inside.parentWidget()
    across = max(shown.left() - rect.left(), rect.right() - shown.right())
    down = 0 if scrolls else max(shown.top() - rect.top(), rect.bottom() - shown.bottom())
    return float(max(across, down))


def _short(widget: QWidget) -> float:
    """How many pixels its text lacks."""
    if isinstance(widget, Elided):
        whole = (
            widget.fontMetrics().horizontalAdvance(widget.text()) <= widget.contentsRect().width()
        )
        if not whole and not widget.toolTip():
            return 99.0
        return float(widget.fontMetrics().height() - widget.height())
    if isinstance(widget, QLabel) and widget.text() and widget.pixmap().isNull():
        return _label(widget)
    if isinstance(widget, QPushButton) and widget.text():
        need = widget.fontMetrics().horizontalAdvance(widget.text().replace("&", "")) + 6
        high = widget.fontMetrics().height()
        return float(max(need - widget.width(), high - widget.height()))
    if isinstance(widget, QComboBox):
        high = widget.fontMetrics().height() + 2
        return float(high - widget.height())
    if isinstance(widget, QLineEdit):
        return float(widget.fontMetrics().height() - widget.height())
    return 0.0


def _label(label: QLabel) -> float:
    room = label.contentsRect()
    if "<b>" in label.text() or "<br>" in label.text():
        document = QTextDocument()
        document.setDefaultFont(label.font())
        document.setDocumentMargin(0)
        document.setHtml(label.text())
        if label.wordWrap():
            document.setTextWidth(room.width())
            return float(document.size().height() - room.height())
        return float(document.idealWidth() - room.width())
    flags = Qt.TextFlag.TextWordWrap if label.wordWrap() else Qt.TextFlag.TextExpandTabs
    box = label.fontMetrics().boundingRect(
        QRect(0, 0, room.width() if label.wordWrap() else 10_000, 10_000), flags, label.text()
    )
    return float(max(box.width() - room.width(), box.height() - room.height()))


def _overlaps(window: QWidget) -> Iterator[str]:
    """Widgets with text that lie on each other."""
    for parent in [window, *window.findChildren(QWidget)]:
        if not parent.isVisible() or isinstance(parent, QStackedWidget):
            continue
        children = [
            w for w in parent.children()
            if isinstance(w, QLabel | QPushButton | QComboBox | QLineEdit) and w.isVisible()
        ]  # fmt: skip
        for i, one in enumerate(children):
            for other in children[i + 1 :]:
                both = one.geometry().intersected(other.geometry())
                if both.width() > SLACK and both.height() > SLACK:
                    yield f"{_named(one)} lies on {_named(other)}"


@contextmanager
def _listening(said: list[tuple[str, QRectF, QRectF]]) -> Iterator[None]:
    """Note every text that is painted: itself, where it is, and the room it was given."""
    real = QPainter.drawText

    def noted(p: QPainter, *args: object) -> object:
        text = next((a for a in args if isinstance(a, str)), "")
        if text.strip() and p.opacity() > 0.0:
            first = args[0]
            if isinstance(first, QRectF | QRect):
                room = QRectF(first)
                flags = next(
                    (a for a in args[1:] if not isinstance(a, str)), Qt.AlignmentFlag.AlignLeft
                )
                flags = flags if isinstance(flags, int) else flags.value
                box = QRectF(p.boundingRect(room, flags, text))
            else:
                at = (
                    QPointF(first)
                    if isinstance(first, QPointF | QPoint)
                    else QPointF(args[0], args[1])
                )  # type: ignore[arg-type]
                box = QRectF(p.fontMetrics().boundingRect(text)).translated(at)
                room = box
            # ink, not the height of the line: capitals may stand close
            ink = box.adjusted(1, 0.16 * box.height(), -1, -0.16 * box.height())
            shape = p.combinedTransform()
            said.append((text, shape.mapRect(ink), shape.mapRect(room)))
        return real(p, *args)

    QPainter.drawText = noted  # type: ignore[assignment, method-assign]
    try:
        yield
    finally:
        QPainter.drawText = real  # type: ignore[method-assign]


def painted(picture: Picture) -> list[str]:
    """Every text a picture paints."""
    return [text for text, _ink, _there in _painted(picture)[1]]


def _painted(picture: Picture) -> tuple[QPixmap, list[tuple[str, QRectF, QRectF]]]:
    said: list[tuple[str, QRectF, QRectF]] = []
    kept = getattr(picture, "_kept", None)
    if kept is not None:
        picture._kept = None  # type: ignore[attr-defined]  # paint all of it
    with _listening(said):
        return picture.grab(), said


def _picture(picture: Picture) -> list[str]:
    shot, said = _painted(picture)
    whole = QRectF(0, 0, shot.width(), shot.height())
    found = []
    for text, ink, _ in said:
        if not whole.adjusted(-SLACK, -SLACK, SLACK, SLACK).contains(ink):
            found.append(f"{type(picture).__name__}: {text!r} leaves the picture")
    for i, (text, ink, _) in enumerate(said):
        for other, there, _ in said[i + 1 :]:
            both = ink.intersected(there)
            if text != other and both.width() > SLACK and both.height() > SLACK:
                found.append(f"{type(picture).__name__}: {text!r} runs into {other!r}")
    return found
