"""The drum in section, to scale: the picture that is also the form."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from kesselton.core.drum import HOOPS, Drum
from kesselton.core.head import Head
from kesselton.core.units import format_thickness
from kesselton.ui import words
from kesselton.ui.picture import Picture
from kesselton.ui.theme import Colours, font

PARTS = ("beater", "batter", "shell", "resonant")
SHELL_M = 0.008


def paint_section(
    p: QPainter, box: QRectF, drum: Drum, colours: Colours, scale: float, thick: float = 1.0
) -> dict[str, QRectF]:
    """Draw a drum in section, centred in `box`, `scale` pixels a metre; returns where parts lie.

    Film is drawn thicker than it is, in proportion to its mass, so that it can be seen.
    """
    shell = drum.shell
    hoop = HOOPS[shell.hoop]
    width, depth = shell.head_diameter_m * scale, shell.depth_m * scale
    left, top = box.center().x() - width / 2, box.center().y() - depth / 2
    right, bottom = left + width, top + depth
    wall = max(SHELL_M * scale, 2.0)
    inside = QColor(colours.wood)
    inside.setAlphaF(0.22)
    p.fillRect(QRectF(left, top, width, depth), inside)
    p.setPen(QPen(QColor(colours.metal), 1))
    p.setBrush(QColor(colours.wood))
    p.drawRect(QRectF(left, top, wall, depth))
    p.drawRect(QRectF(right - wall, top, wall, depth))
    if shell.vent_diameter_m > 0:
        hole = max(shell.vent_diameter_m * scale, 2.0)
        p.fillRect(QRectF(right - wall, top + (depth - hole) / 2, wall, hole), colours.panel)
    p.setPen(Qt.PenStyle.NoPen)
    edge = max(hoop.thickness_m * scale * 1.5, 2.0)
    tall = max(hoop.height_m * scale, 4.0)
    wooden = shell.hoop in ("wood", "rope")
    p.setBrush(QColor(colours.wood if wooden else colours.metal))
    sides = [top] if drum.resonant is None else [top, bottom]
    for level in sides:
        start = level - tall * 0.62 if level == top else level - tall * 0.38
        for x in (left - edge - 3 * thick, right + 3 * thick):
            p.drawRect(QRectF(x, start, edge, tall))
    if thick >= 1.0:
        p.setPen(QPen(QColor(colours.ink), 1.5))
        for x in (left - edge / 2 - 3 * thick, right + edge / 2 + 3 * thick):
            if drum.resonant is None:
                p.drawLine(QPointF(x, top), QPointF(x, top + min(depth * 0.4, 40)))
            else:
                p.drawLine(QPointF(x, top + tall * 0.4), QPointF(x, bottom - tall * 0.4))
    _paint_head(p, drum.batter.head, left, right, top, -1, scale, colours, thick)
    if drum.resonant is not None:
        _paint_head(p, drum.resonant.head, left, right, bottom, 1, scale, colours, thick)
        if drum.kind == "snare":
            pen = QPen(QColor(colours.soft_ink), 1.5 * thick)
            pen.setDashPattern([1.5, 1.5])
            p.setPen(pen)
            y = bottom + 7 * thick
            p.drawLine(QPointF(left + width * 0.22, y), QPointF(right - width * 0.22, y))
    _paint_mufflers(p, drum, left, right, top, bottom, scale, colours)
    reach = max(tall, 12.0)
    return {
        "batter": QRectF(left - reach, top - reach, width + 2 * reach, reach + 7),
        "shell": QRectF(left - reach, top + 8, width + 2 * reach, depth - 16),
        "resonant": QRectF(left - reach, bottom - 7, width + 2 * reach, reach + 4),
    }


def _paint_head(
    p: QPainter,
    head: Head,
    left: float,
    right: float,
    level: float,
    out: int,
    scale: float,
    colours: Colours,
    thick: float,
) -> None:
    """Plies as lines outwards from the edge, dots and rings as thicker pieces on them."""
    ink = QColor(colours.ink)
    middle = (left + right) / 2
    solid = [(left - 2, right + 2)]
    if head.port_diameter_m > 0:  # cut off centre, as is usual; the place does not count
        hole = head.port_diameter_m * scale
        start = min(middle + 0.25 * (right - left) - hole / 2, right - 0.03 * (right - left) - hole)
        solid = [(left - 2, start), (start + hole, right + 2)]
    y = level
    for ply in head.plies_m or (head.film_thickness_m,):
        width = max(1.2, ply * 1e4 * thick)
        p.setPen(QPen(ink, width, c=Qt.PenCapStyle.FlatCap))
        for start, stop in solid:
            p.drawLine(QPointF(start, y), QPointF(stop, y))
        y += out * (width + 1.6 * thick)
    p.setPen(QPen(QColor(colours.accent), 2.5 * thick, c=Qt.PenCapStyle.FlatCap))
    for add in head.additions:
        for sign in (-1, 1):
            p.drawLine(
                QPointF(middle + sign * add.inner_radius_m * scale, y),
                QPointF(middle + sign * add.outer_radius_m * scale, y),
            )
    if head.coating_kg_per_m2 > 0 and thick >= 1.0:
        pen = QPen(QColor(colours.soft_ink), 1.4)
        pen.setDashPattern([0.8, 2.2])
        p.setPen(pen)
        y += out * 1.5
        for start, stop in solid:
            p.drawLine(QPointF(max(start, left), y), QPointF(min(stop, right), y))


def _paint_mufflers(
    p: QPainter,
    drum: Drum,
    left: float,
    right: float,
    top: float,
    bottom: float,
    scale: float,
    colours: Colours,
) -> None:
    """Muffling as blocks on the outside of its head (a pillow inside), turned into the section."""
    middle, half = (left + right) / 2, (right - left) / 2
    p.setPen(QPen(QColor(colours.soft_ink), 1))
    fill = QColor(colours.accent)
    fill.setAlphaF(0.35)
    p.setBrush(fill)
    for one in drum.mufflers:
        level = top if one.side == "batter" else bottom
        tall = 6.0 if one.kind != "pillow" else 0.25 * (bottom - top)
        outside = (one.side == "batter") != (one.kind == "pillow")
        y = level - tall - 3 if outside else level + 3
        if one.made.reach_m == 0.0:
            for sign in (-1, 1):
                p.drawRect(QRectF(middle + sign * 0.9 * half - 0.06 * half, y, 0.12 * half, tall))
            continue
        wide = max(one.made.reach_m * scale, 4.0)
        sign = 1 if math.cos(one.angle(drum.shell.rods)) >= 0 else -1
        p.drawRoundedRect(QRectF(middle + sign * one.place * half - wide, y, 2 * wide, tall), 2, 2)


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
        self.setAccessibleName("Drum in section")
        self._drum: Drum | None = None
        self._metric = False
        self._place = 0.3
        self._stresses: tuple[str, ...] = ()
        self._part = "shell"
        self._hover = ""
        self._zones: dict[str, QRectF] = {}

    def sizeHint(self) -> QSize:
        return QSize(340, 300)

    def minimumSizeHint(self) -> QSize:
        return QSize(260, 220)

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
        self._paint_names(p, box, label, unit)
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

    def _paint_names(self, p: QPainter, box: QRectF, label: float, unit: float) -> None:
        c, drum = self._colours, self._drum
        assert drum is not None
        lines = {"batter": 0.0, "resonant": self.height() - label}
        for index, side in enumerate(("batter", "resonant")):
            where = QRectF(0, lines[side], self.width(), label)
            p.setPen(QColor(c.ink))
            p.setFont(font(10, QFont.Weight.DemiBold))
            name = words.side_word(drum, side)
            if side == "resonant" and drum.resonant is None:
                p.drawText(where, Qt.AlignmentFlag.AlignHCenter, f"{name}: open")
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
            detail = f"{head.base_density_kg_per_m2:.2f} kg/m²"
            if index < len(self._stresses) and self._stresses[index]:
                detail += f" · {self._stresses[index]}"
            elif head.plies_m:
                detail += f" · {format_thickness(head.film_thickness_m, self._metric)}"
            p.drawText(where.adjusted(0, 1.15 * unit, 0, 0), Qt.AlignmentFlag.AlignHCenter, detail)
        p.setPen(QColor(c.ink))
        p.setFont(font(11, QFont.Weight.DemiBold))
        middle = self._zones["shell"]
        size = QRectF(0, middle.center().y() - 1.2 * unit, self.width(), 1.3 * unit)
        p.drawText(size, Qt.AlignmentFlag.AlignHCenter, words.size_words(drum, self._metric))
        p.setPen(QColor(c.soft_ink))
        p.setFont(font(9))
        p.drawText(
            size.translated(0, 1.3 * unit),
            Qt.AlignmentFlag.AlignHCenter,
            f"{drum.shell.rods} {drum.rod_word}s, {HOOPS[drum.shell.hoop].label} hoops",
        )

    def _part_at(self, point: QPointF) -> str:
        for part in PARTS:
            if part in self._zones and self._zones[part].contains(point):
                return part
        return ""

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        part = self._part_at(event.position())
        if part != self._hover:
            self._hover = part
            shape = Qt.CursorShape.PointingHandCursor if part else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        part = self._part_at(event.position())
        if part:
            self.part_chosen.emit(part)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        place = PARTS.index(self._part) + step
        if 0 <= place < len(PARTS):
            self.part_chosen.emit(PARTS[place])
