"""A drum in section, to scale, on any paper."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import HOOPS
from kesselton.ui.parts.widgets.theme import Colours

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
    if shell.beds is not None and drum.resonant is not None:
        deep = max(shell.beds.depth_m * scale, 2.5)
        half = 0.5 * shell.beds.width_m * scale
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colours.panel)
        p.drawPie(QRectF(left + width / 2 - half, bottom - deep, 2 * half, 2 * deep), 0, 180 * 16)
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
    for muffler in drum.mufflers:
        level = top if muffler.side == "batter" else bottom
        tall = 6.0 if muffler.kind != "pillow" else 0.25 * (bottom - top)
        outside = (muffler.side == "batter") != (muffler.kind == "pillow")
        y = level - tall - 3 if outside else level + 3
        if muffler.made.reach_m == 0.0:
            for sign in (-1, 1):
                p.drawRect(QRectF(middle + sign * 0.9 * half - 0.06 * half, y, 0.12 * half, tall))
            continue
        wide = max(muffler.made.reach_m * scale, 4.0)
        sign = 1 if math.cos(muffler.angle(drum.shell.rods)) >= 0 else -1
        p.drawRoundedRect(
            QRectF(middle + sign * muffler.place * half - wide, y, 2 * wide, tall), 2, 2
        )
