"""A stroke as it was heard and as it was computed, side by side over time and pitch."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.hearing.heard_drum import HeardDrum
from kesselton.core.hearing.over_time import OverTime
from kesselton.core.language import _
from kesselton.core.pitch import hz_of, note_of
from kesselton.ui.parts.widgets.dialogs import Dialog, close_box, size_dialog
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font

LEFT, FOOT, HEAD = 40.0, 22.0, 20.0


class OverTimePicture(Picture):
    """Time to the right, pitch upwards, the louder the darker; computed rungs are ticks at the
    left edge."""

    def __init__(self, title: str, seen: OverTime, rungs: list[float], a4_hz: float) -> None:
        super().__init__()
        self.setAccessibleName(title)
        self._title, self._seen, self._rungs, self._a4 = title, seen, rungs, a4_hz
        self.setMinimumSize(200, 200)

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(420, 460)

    def _box(self) -> QRectF:
        return QRectF(LEFT, HEAD, self.width() - LEFT - 6, self.height() - HEAD - FOOT)

    def _y(self, hz: float) -> float:
        seen, box = self._seen, self._box()
        share = math.log(hz / seen.low_hz) / math.log(seen.high_hz / seen.low_hz)
        return box.bottom() - share * box.height()

    def _image(self) -> QImage:
        ground, ink = QColor(self._colours.panel), QColor(self._colours.ink)
        level = np.flipud(self._seen.level)[..., None] ** 1.4
        dim, full = (np.array([c.red(), c.green(), c.blue()], dtype=float) for c in (ground, ink))
        rgb = np.ascontiguousarray((dim + level * (full - dim)).astype(np.uint8))
        high, wide, _unused = rgb.shape
        return QImage(rgb.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()

    def _paint(self, p: QPainter) -> None:
        c, box, seen = self._colours, self._box(), self._seen
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.drawImage(box, self._image())
        p.setPen(QPen(QColor(c.line), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)
        p.setFont(font(9, QFont.Weight.DemiBold))
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(LEFT, 0, box.width(), HEAD - 2), Qt.AlignmentFlag.AlignLeft, self._title)
        p.setFont(font(8))
        for octave in range(1, 7):
            hz = hz_of(12 * (octave + 1), self._a4)
            if seen.low_hz < hz < seen.high_hz:
                y = self._y(hz)
                p.setPen(QPen(QColor(c.line), 1, Qt.PenStyle.DotLine))
                p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
                p.setPen(QColor(c.soft_ink))
                where = QRectF(0, y - 8, LEFT - 12, 16)
                aside = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
                p.drawText(where, aside, note_of(hz, self._a4).name(False))
        p.setPen(QPen(QColor(c.accent), 1.5))
        for hz in self._rungs:
            if seen.low_hz < hz < seen.high_hz:
                p.drawLine(QPointF(box.left() - 7, self._y(hz)), QPointF(box.left(), self._y(hz)))
        p.setPen(QColor(c.soft_ink))
        for tenth in range(0, int(10 * seen.seconds) + 1, 2):
            x = box.left() + tenth / 10.0 / seen.seconds * box.width()
            text = _("{seconds:.1f} s").format(seconds=tenth / 10.0)
            where = QRectF(min(x - 24, self.width() - 44.0), box.bottom() + 3, 48, 16)
            p.drawText(where, Qt.AlignmentFlag.AlignHCenter, text)


class HeardDialog(Dialog):
    """Both pictures on the same axes; each can be played."""

    def __init__(
        self, heard: HeardDrum, a4_hz: float, colours: Colours, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(_("{name}: measured and computed").format(name=heard.drum.name))
        rungs = heard.prediction.partials.frequency_hz.tolist()
        self.pictures = [
            OverTimePicture(title, seen, rungs, a4_hz)
            for title, seen in zip((_("measured"), _("computed")), heard.seen, strict=True)
        ]
        across = QHBoxLayout()
        for picture in self.pictures:
            picture.set_colours(colours)
            across.addWidget(picture, 1)
        hint_ = Label(_("Darker is louder, over 60 dB. Ticks on the left: computed partials."))
        hint_.setProperty("quiet", True)
        hint_.setWordWrap(True)
        self.play_heard, self.play_computed = (
            Button(_("Play measured")),
            Button(_("Play computed")),
        )
        buttons = close_box()
        buttons.rejected.connect(self.reject)
        foot = QHBoxLayout()
        foot.addWidget(self.play_heard)
        foot.addWidget(self.play_computed)
        foot.addStretch(1)
        foot.addWidget(buttons)
        layout = QVBoxLayout(self)
        layout.addLayout(across, 1)
        layout.addWidget(hint_)
        layout.addLayout(foot)
        size_dialog(self, 900, 560)
