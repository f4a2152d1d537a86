"""The drum in section, to scale: the picture that is also the form."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.constants import SIDES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.shell import HOOPS
from kesselton.core.language import _
from kesselton.core.units import format_thickness
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font
from kesselton.ui.parts.words import wording

PARTS = ("beater", "batter", "shell", "resonant")
WALL = 12
"""Kept clear of the walls of the shell on either side."""


class SectionView(Picture):
    """The section of the drum on the bench. Click a part, or walk with the arrow keys, to set it.

    Signals
    -------
    part_chosen(str) : one of PARTS
    """

    part_chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(_("Drum in cross section"))
        self._drum: Drum | None = None
        self._metric = False
        self._place = 0.3
        self._stresses: tuple[str, ...] = ()
        self._part = "shell"
        self._hover = ""
        self._zones: dict[str, QRectF] = {}

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(340, 300)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(216, 190)

    @property
    def part(self) -> str:
        """The part chosen now."""
        return self._part

    def zone(self, part: str) -> QRectF:
        """Where a part was drawn last."""
        return self._zones.get(part, QRectF())

    def set_state(
        self, drum: Drum | None, metric: bool, place: float, stresses: tuple[str, ...]
    ) -> None:
        """Show a drum; `stresses` are the lines under the names of its heads."""
        self._drum, self._metric, self._place, self._stresses = drum, metric, place, stresses
        self.update()

    def set_part(self, part: str) -> None:
        """Mark a part as the one that is set."""
        self._part = part
        self.update()

    def _paint(self, p: QPainter) -> None:
        if self._drum is None:
            return
        c, drum = self._colours, self._drum
        unit = self.fontMetrics().height()
        label = 2.6 * unit
        box = QRectF(0, label + unit, self.width(), self.height() - 2 * label - unit)
        shell = drum.shell
        scale = min(
            (self.width() - 72) / shell.head_diameter_m,
            (box.height() - 36) / max(shell.depth_m, 0.05),
        )
        self._zones = paint_section(p, box, drum, c, scale)
        width = shell.head_diameter_m * scale
        top = box.center().y() - shell.depth_m * scale / 2
        self._paint_beater(p, box.center().x() + self._place * width / 2, top - 9)
        self._paint_names(p, scale, label, unit)
        for part, quiet in ((self._hover, True), (self._part, False)):
            if part in self._zones:
                pen = QPen(QColor(c.accent), 1 if quiet else 2)
                pen.setStyle(Qt.PenStyle.DotLine if quiet else Qt.PenStyle.SolidLine)
                if not quiet and not self.hasFocus():
                    pen.setWidthF(1.2)
                p.setPen(pen)
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(self._zones[part].adjusted(-3, -3, 3, 3), 5, 5)

    def _paint_beater(self, p: QPainter, x: float, y: float) -> None:
        c = self._colours
        p.setPen(QPen(QColor(c.soft_ink), 3, c=Qt.PenCapStyle.RoundCap))
        p.drawLine(QPointF(x + 5, y - 5), QPointF(x + 40, y - 24))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.soft_ink))
        p.drawEllipse(QPointF(x, y), 6, 6)
        self._zones["beater"] = QRectF(x - 9, y - 27, 54, 36)

    def _paint_names(self, p: QPainter, scale: float, label: float, unit: float) -> None:
        c, drum = self._colours, self._drum
        assert drum is not None
        lines = {"batter": 0.0, "resonant": self.height() - label}
        for index, side in enumerate(SIDES):
            where = QRectF(0, lines[side], self.width(), label)
            p.setPen(QColor(c.ink))
            p.setFont(font(10, QFont.Weight.DemiBold))
            name = wording.side_word(drum, side)
            if side == "resonant" and drum.resonant is None:
                p.drawText(
                    where, Qt.AlignmentFlag.AlignHCenter, _("{name}: none").format(name=name)
                )
                self._zones["resonant"] = self._zones["resonant"].united(
                    where.adjusted(40, 4, -40, 0)
                )
                continue
            head = drum.setting(side).head
            text = p.fontMetrics().elidedText(
                f"{name}: {head.name}", Qt.TextElideMode.ElideRight, self.width() - 8
            )
            p.drawText(where, Qt.AlignmentFlag.AlignHCenter, text)
            p.setPen(QColor(c.soft_ink))
            p.setFont(font(9))
            detail = _("{base_density_kg_per_m2:.2f} kg/m²").format(
                base_density_kg_per_m2=head.base_density_kg_per_m2
            )
            if index < len(self._stresses) and self._stresses[index]:
                detail += f" · {self._stresses[index]}"
            elif head.plies_m:
                detail += f" · {format_thickness(head.film_thickness_m, self._metric)}"
            p.drawText(where.adjusted(0, 1.15 * unit, 0, 0), Qt.AlignmentFlag.AlignHCenter, detail)
        p.setPen(QColor(c.ink))
        p.setFont(font(11, QFont.Weight.DemiBold))
        middle = self._zones["shell"]
        size = QRectF(0, middle.center().y() - 1.2 * unit, self.width(), 1.3 * unit)
        p.drawText(size, Qt.AlignmentFlag.AlignHCenter, wording.size_words(drum, self._metric))
        p.setPen(QColor(c.soft_ink))
        p.setFont(font(9))
        # between the walls, in two lines where the shell is narrow
        inside = size.translated(0, 1.3 * unit)
        away = 0.5 * (self.width() - drum.shell.head_diameter_m * scale) + WALL
        p.drawText(
            inside.adjusted(away, 0, -away, 1.3 * unit),
            Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap,
            _("{rods}, {label} hoops").format(
                rods=drum.rod_count, label=HOOPS[drum.shell.hoop].label
            ),
        )

    def _part_at(self, point: QPointF) -> str:
        for part in PARTS:
            if part in self._zones and self._zones[part].contains(point):
                return part
        return ""

    @safe_override
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        part = self._part_at(event.position())
        if part != self._hover:
            self._hover = part
            shape = Qt.CursorShape.PointingHandCursor if part else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            self.update()

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        part = self._part_at(event.position())
        if part:
            self.part_chosen.emit(part)

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        place = PARTS.index(self._part) + step
        if 0 <= place < len(PARTS):
            self.part_chosen.emit(PARTS[place])
