"""The picture of the ladder: one logarithmic pitch axis for everything that has a pitch."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPixmap
from PySide6.QtWidgets import QWidget

from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.library import shell_band
from kesselton.core.language import N_, _, each, figures
from kesselton.core.pitch import cents_between, hz_of, nearest_interval, note_of, ratio_of
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import enlarged, font, px
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.core.prediction.speaks import End, Speaking

LADDER_CAPTIONS = (
    N_("partial"),
    N_("Hz"),
    N_("note, cents"),
    N_("T60, s"),
    N_("level, dB"),
)

HEADER, FOOTER = 34, 14
HEARD_AT = 72.0  # right of the middle column
HALF_STEP_OF_TEXT = 11.0
BAND = 46
QUIETEST_DB = -60.0
PILL = QSize(66, 26)
COLUMNS = ("batter", "drum", "resonant")


@dataclass(frozen=True)
class Axis:
    """Pitch against height: `top` pixels is `high_hz`, `bottom` pixels `low_hz`."""

    low_hz: float
    high_hz: float
    top: float
    bottom: float

    def y(self, hz: float) -> float:
        """Height of a pitch."""
        share = math.log(hz / self.low_hz) / math.log(self.high_hz / self.low_hz)
        return self.bottom - share * (self.bottom - self.top)

    def hz(self, y: float) -> float:
        """Pitch at a height."""
        share = (self.bottom - y) / (self.bottom - self.top)
        return self.low_hz * math.exp(share * math.log(self.high_hz / self.low_hz))


def span_of(result: BenchResult) -> tuple[float, float]:
    """Lowest and highest pitch the ladder shows: it stands still while a grip moves."""
    low = min(r.lowest_pitch_hz for r in result.ranges)
    high = max(r.highest_pitch_hz for r in result.ranges)
    lowest = float(result.prediction.partials.frequency_hz[0])  # the air in a port may be deep
    return min(0.5 * low, 0.94 * lowest), 1.55 * high


def _same_rung(result: BenchResult, named: tuple[int, int, str] | tuple[()]) -> int:
    """Index of the partial called `named`, or of the fundamental."""
    p = result.prediction.partials
    if named:
        order, rank, branch = named
        hit = (p.order == order) & (p.rank == rank) & (p.branch == branch)
        if hit.any():
            return int(hit.argmax())
    return p.fundamental


SMALL_LETTERS = 130
"""A hundred pixels of the source on the screen, up to which there is room beside the ladder."""


class LadderPicture(Picture):
    """Batter left, resonant head right, the whole drum between them; nothing to take hold of."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(_("Pitch ladder"))
        self._result: BenchResult | None = None
        self._stale = False
        self._a4, self._flats = 440.0, False
        self._column = "batter"
        self._rung = -1
        self._held: dict[str, float] = {}  # pitches of grips that are away from the result
        self._let: dict[str, float] = {}  # of grips let go, until what is set has come
        self._named: tuple[int, int, str] | tuple[()] = ()
        self._named_drum = -1
        self._span = (50.0, 900.0)
        self._ghosts: tuple[tuple[str, dict[str, float]], ...] = ()
        self._wanted: float | None = None
        self._speaks: Speaking | None = None
        self._heard: HeardDrum | None = None
        self._kept: tuple[tuple[object, ...], QPixmap] | None = None

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(380, 680)

    @safe_override
    def minimumSizeHint(self) -> QSize:
        return hint(286 if px(100) <= SMALL_LETTERS else 250, 330)

    @property
    def rung(self) -> int:
        """Index of the partial that is named now, -1 for none."""
        return self._rung

    def set_state(self, result: BenchResult | None, a4_hz: float, flats: bool) -> None:
        """Show an answer of the core."""
        self._a4, self._flats = a4_hz, flats
        if result is None or result.hold is None:
            self._let.clear()
        if result is not None and not self._held:
            self._span = span_of(result)
        if result is not None:
            named = self._named if result.drum_id == self._named_drum else ()
            self._rung = _same_rung(result, named)
            self._remember(result)
        self._result = result
        self._stale = False
        if result is not None and result.drum.resonant is None and self._column == "resonant":
            self._column = "drum"
        self.update()

    def _remember(self, result: BenchResult) -> None:
        """Keep which partial is named: its place in the list may change with the drum."""
        p = result.prediction.partials
        self._named_drum = result.drum_id
        self._named = (
            (int(p.order[self._rung]), int(p.rank[self._rung]), str(p.branch[self._rung]))
            if 0 <= self._rung < len(p)
            else ()
        )

    def set_notes(
        self,
        ghosts: tuple[tuple[str, dict[str, float]], ...],
        wanted_hz: float | None,
        speaks: Speaking | None = None,
    ) -> None:
        """Show where lug pitches will be (per label and side), the note that is wanted, and where
        the drum speaks."""
        self._ghosts, self._wanted, self._speaks = ghosts, wanted_hz, speaks
        self.update()

    def set_heard(self, heard: HeardDrum | None) -> None:
        """Show the lines that were heard of this drum."""
        self._heard = heard
        self.update()

    @property
    def stale(self) -> bool:
        """Whether what is shown is of the drum as it was before."""
        return self._stale

    def set_stale(self) -> None:
        """Show that what is drawn is no longer what is set."""
        self._stale = True
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """The lug pitches, then every partial."""
        result = self._result
        if result is None:
            return []
        prediction = result.prediction
        rows: list[tuple[str, ...]] = [each(LADDER_CAPTIONS)]
        for side, hz in zip(result.drum.sides, prediction.lug_pitches_hz, strict=True):
            name = _("{side} lug pitch").format(side=wording.side_word(result.drum, side))
            rows.append((name, f"{hz:.2f}", self._note(hz), "", ""))
        partials = prediction.partials
        for i, hz in enumerate(partials.frequency_hz.tolist()):
            name = f"{partials.order[i]},{partials.rank[i]} {partials.branch[i]}"
            ring, level = partials.t60_s[i], prediction.levels_db[i]
            rows.append((name, f"{hz:.2f}", self._note(hz), f"{ring:.2f}", f"{level:.1f}"))
        for line in self._heard.lines if self._heard is not None else ():
            parts = (f"{line.hz:.2f}", self._note(line.hz), f"{line.t60_s:.2f}")
            rows.append((_("measured"), *parts, f"{line.level_db:.1f}"))
        return rows

    def _note(self, hz: float) -> str:
        note = note_of(hz, self._a4)
        return f"{note.name(self._flats)} {figures(note.cents, '+.0f')}"

    # geometry

    def axis(self) -> Axis:
        """The pitch axis as it is drawn now."""
        return Axis(*self._span, HEADER + 8.0, self.height() - FOOTER - 8.0)

    def _column_x(self, column: str) -> float:
        inner = self.width() - 84.0
        return 40.0 + inner * {"batter": 0.15, "drum": 0.5, "resonant": 0.86}[column]

    def expect(self, drum: Drum) -> None:
        """A drum that is being worked out: its grips stand where they were set meanwhile, and a key
        moves them from there."""
        read = {side: drum.setting(side).reading for side in drum.sides}
        self._let = {
            side: lug_pitch.hz for side, lug_pitch in read.items() if lug_pitch is not None
        }
        self.update()

    def grip_hz(self, side: str) -> float | None:
        """Pitch at which a grip is drawn."""
        if side in self._held:
            return self._held[side]
        if side in self._let:
            return self._let[side]
        if self._result is None or side not in self._result.drum.sides:
            return None
        return self._result.prediction.lug_pitches_hz[self._result.drum.sides.index(side)]

    def grip_rect(self, side: str) -> QRectF:
        """Where a grip can be taken."""
        hz = self.grip_hz(side)
        if hz is None:
            return QRectF()
        centre = QPointF(self._column_x(side), self.axis().y(hz))
        return QRectF(
            centre.x() - PILL.width() / 2,
            centre.y() - PILL.height() / 2,
            PILL.width(),
            PILL.height(),
        )

    def rung_rect(self, index: int) -> QRectF:
        """Where a partial is drawn."""
        assert self._result is not None
        prediction = self._result.prediction
        level = max(float(prediction.levels_db[index]), QUIETEST_DB)
        half = 6.0 + 50.0 * (1.0 - level / QUIETEST_DB)
        y = self.axis().y(float(prediction.partials.frequency_hz[index]))
        return QRectF(self._column_x("drum") - half, y - 2.5, 2.0 * half, 5.0)

    def _rungs_shown(self) -> list[int]:
        """Partials within the ladder's span, low to high."""
        if self._result is None:
            return []
        low, high = self._span
        freq = self._result.prediction.partials.frequency_hz
        return [i for i in range(len(freq)) if low <= freq[i] <= high]

    # painting

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        p.setPen(QPen(QColor(c.line), 1))
        p.setBrush(QColor(c.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
        if self._result is None:
            p.setPen(QColor(c.soft_ink))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, _("Computing…"))
            return
        axis = self.axis()
        p.drawPixmap(0, 0, self._ground(axis))
        p.setClipRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        if self._stale and not self._held:
            p.setOpacity(0.35)
        self._paint_fundamental(p, axis)
        self._paint_rungs(p)
        self._paint_heard(p, axis)
        p.setOpacity(1.0)
        if len(self._result.drum.sides) == 2:
            self._paint_interval(p, axis)
        self._paint_ghosts(p, axis)
        if self._wanted is not None:
            self._paint_wanted(p, axis, self._wanted)
        for side in self._result.drum.sides:
            self._paint_grip(p, side)

    def _paint_ghosts(self, p: QPainter, axis: Axis) -> None:
        """Where each head will be on stage, or tomorrow: ticks outside the grips, named below."""
        c = self._colours
        words_, x0 = [], 46.0
        for place, (label, pitches) in enumerate(self._ghosts):
            pen = QPen(QColor(c.soft_ink), 2.0)
            if place:
                pen.setDashPattern([1.5, 1.5])
            for side, hz in pitches.items():
                if axis.low_hz < hz < axis.high_hz:
                    out = 1 if side == "resonant" else -1
                    start = self._column_x(side) + out * (PILL.width() / 2 + 4)
                    p.setPen(pen)
                    far = min(max(start + out * 14, 43.0), self.width() - 45.0)
                    p.drawLine(QPointF(start, axis.y(hz)), QPointF(far, axis.y(hz)))
            words_.append((label, pen))
        p.setFont(font(7.5))
        for label, pen in words_:
            y = self.height() - 10.0
            p.setPen(pen)
            p.drawLine(QPointF(x0, y), QPointF(x0 + 14, y))
            p.setPen(QColor(c.soft_ink))
            p.drawText(QRectF(x0 + 18, y - 8, 90, 16), Qt.AlignmentFlag.AlignVCenter, label)
            x0 += 30 + p.fontMetrics().horizontalAdvance(label)

    def _paint_wanted(self, p: QPainter, axis: Axis, hz: float) -> None:
        """The note the brief asks for: a flag on the column of the whole drum."""
        if not axis.low_hz < hz < axis.high_hz:
            return
        c = self._colours
        x, y = self._column_x("drum"), axis.y(hz)
        p.setPen(QPen(QColor(c.ink), 1.5))
        p.setBrush(QColor(c.ink))
        p.drawPolygon([QPointF(x - 66, y), QPointF(x - 78, y - 6), QPointF(x - 78, y + 6)])
        p.setFont(font(8.5, QFont.Weight.DemiBold))
        text = _("target {name}").format(name=note_of(hz, self._a4).name(self._flats))
        p.drawText(QRectF(x - 150, y - 18, 84, 14), Qt.AlignmentFlag.AlignRight, text)

    def _ground(self, axis: Axis) -> QPixmap:
        """All that stands still while a grip moves, painted once and kept."""
        assert self._result is not None
        drum, ratio = self._result.drum, self.devicePixelRatioF()
        key = (
            axis, self.size().toTuple(), ratio, self._a4, self._flats, self._colours,
            self._result.ranges, drum.shell.shell_note_hz, drum.kind, drum.sides, self._column,
            self.hasFocus(), self._speaks,
        )  # fmt: skip
        if self._kept is None or self._kept[0] != key:
            qpixmap = QPixmap(self.size() * ratio)
            qpixmap.setDevicePixelRatio(ratio * enlarged())
            qpixmap.fill(Qt.GlobalColor.transparent)
            with QPainter(qpixmap) as p:
                p.setRenderHint(QPainter.RenderHint.Antialiasing)
                self._paint_notes(p, axis)
                for side in drum.sides:
                    self._paint_band(p, axis, side)
                if drum.shell.shell_note_hz:
                    self._paint_shell_note(p, axis, drum.shell.shell_note_hz)
                self._paint_header(p)
            self._kept = (key, qpixmap)
        return self._kept[1]

    def _paint_header(self, p: QPainter) -> None:
        assert self._result is not None
        c = self._colours
        drum = self._result.drum
        for column in COLUMNS:
            if column == "drum":
                text = _("Whole drum")
            elif column in drum.sides:
                text = wording.side_word(drum, column)
            else:
                text = "open"
            on = self.hasFocus() and column == self._column
            apart = self._column_x("drum") - self._column_x("batter") - 16.0
            p.setFont(font(10, QFont.Weight.DemiBold))
            if p.fontMetrics().horizontalAdvance(text) > apart:
                p.setFont(font(8, QFont.Weight.DemiBold))
            p.setPen(QColor(c.accent if on else c.ink))
            where = QRectF(self._column_x(column) - 70, 8, 140, 20)
            p.drawText(where, Qt.AlignmentFlag.AlignCenter, text)
            if on:
                width = p.fontMetrics().horizontalAdvance(text)
                p.fillRect(QRectF(where.center().x() - width / 2, 28, width, 2), QColor(c.accent))

    def _paint_notes(self, p: QPainter, axis: Axis) -> None:
        c = self._colours
        first = math.ceil(69 + 12 * math.log2(axis.low_hz / self._a4))
        last = math.floor(69 + 12 * math.log2(axis.high_hz / self._a4))
        step = (axis.bottom - axis.top) / max(1, 12 * math.log2(axis.high_hz / axis.low_hz))
        for number in range(first, last + 1):
            name = note_of(hz_of(number, self._a4), self._a4).name(self._flats)
            y = axis.y(hz_of(number, self._a4))
            natural = len(name) == 2
            is_c = natural and name[0] == "C"
            if step < 5 and not natural:
                continue
            line = QColor(c.line)
            line.setAlphaF(1.0 if is_c else 0.55 if natural else 0.25)
            p.setPen(QPen(line, 1))
            p.drawLine(QPointF(42, y), QPointF(self.width() - 44, y))
            crowded = step < HALF_STEP_OF_TEXT and name[0] in "EB"  # under F and C
            if natural and not crowded and (step >= 7 or is_c or name[0] in "FA"):
                p.setPen(QColor(c.ink if is_c else c.soft_ink))
                p.setFont(font(8.5, QFont.Weight.DemiBold if is_c else QFont.Weight.Normal))
                text = name if is_c or name[0] == "A" else name[0]
                p.drawText(
                    QRectF(4, y - 8, 32, 16),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    text,
                )
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        right = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        for hz in (20, 30, 40, 50, 60, 80, 100, 120, 150, 200, 250, 300, 400, 500, 600, 800, 1000):
            if axis.low_hz * 1.03 < hz < axis.high_hz * 0.97:
                y = axis.y(hz)
                p.drawLine(QPointF(self.width() - 44, y), QPointF(self.width() - 39, y))
                p.drawText(QRectF(self.width() - 36, y - 8, 34, 16), right, str(hz))
        p.drawText(QRectF(self.width() - 36, HEADER - 12, 34, 16), right, "Hz")

    def _paint_shell_note(self, p: QPainter, axis: Axis, hz: float) -> None:
        c = self._colours
        pen = QPen(QColor(c.wood).darker(110), 1.2)
        pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        y = axis.y(hz)
        p.drawLine(QPointF(42, y), QPointF(self.width() - 44, y))
        if self._result is not None and self._result.drum.kind == "tom":
            low, high = shell_band(hz)  # that school keeps the drum within
            x = self.width() - 46.0
            p.drawLine(QPointF(x, axis.y(low)), QPointF(x, axis.y(high)))
            for end in (low, high):
                p.drawLine(QPointF(x - 5, axis.y(end)), QPointF(x, axis.y(end)))
        p.setFont(font(8))
        p.setPen(QColor(c.soft_ink))
        text = _("shell {name}").format(name=note_of(hz, self._a4).name(self._flats))
        right = self._column_x("resonant") - BAND / 2 - 3
        p.drawText(QRectF(right - 90, y - 15, 90, 14), Qt.AlignmentFlag.AlignRight, text)

    def _paint_band(self, p: QPainter, axis: Axis, side: str) -> None:
        assert self._result is not None
        c = self._colours
        head_range = self._result.ranges[self._result.drum.sides.index(side)]
        x = self._column_x(side)
        top, bottom = axis.y(head_range.highest_pitch_hz), axis.y(head_range.lowest_pitch_hz)
        p.fillRect(QRectF(x - BAND / 2, top, BAND, bottom - top), QColor(c.band))
        self._paint_speaks(p, axis, side, x)
        p.setPen(QPen(QColor(c.accent), 1.5))
        p.drawLine(QPointF(x - BAND / 2, top), QPointF(x + BAND / 2, top))
        p.drawLine(QPointF(x - BAND / 2, bottom), QPointF(x + BAND / 2, bottom))
        p.setFont(font(8))
        p.setPen(QColor(c.soft_ink))
        middle = Qt.AlignmentFlag.AlignCenter
        p.drawText(QRectF(x - 60, top - 16, 120, 14), middle, head_range.highest.label)
        p.drawText(QRectF(x - 60, bottom + 2, 120, 14), middle, head_range.lowest.label)

    def speaks_ends(self) -> list[End]:
        """The ends of the band in which the drum speaks, if they are known."""
        sweet_spot = self._speaks
        return (
            [end for end in (sweet_spot.low, sweet_spot.high) if end]
            if sweet_spot is not None
            else []
        )

    def _paint_speaks(self, p: QPainter, axis: Axis, side: str, x: float) -> None:
        """The part of the band in which the drum speaks, when both heads move together."""
        ends = self.speaks_ends()
        if not ends or self._result is None:
            return
        index = self._result.drum.sides.index(side)
        bottom, top = (axis.y(end.lug_pitches_hz[index]) for end in ends)
        inner = QColor(self._colours.accent)
        inner.setAlphaF(0.22)
        p.fillRect(QRectF(x - BAND / 2, top, BAND, bottom - top), inner)

    def _paint_fundamental(self, p: QPainter, axis: Axis) -> None:
        """The lowest rung boxed, with the band it is sure to within."""
        assert self._result is not None
        c, prediction = self._colours, self._result.prediction
        index = prediction.partials.fundamental
        hz, sure = prediction.fundamental_hz, float(prediction.uncertainty_cents[index])
        x = self._column_x("drum")
        top, bottom = axis.y(hz * ratio_of(sure)), axis.y(hz * ratio_of(-sure))
        band = QColor(c.accent)
        band.setAlphaF(0.14)
        p.fillRect(QRectF(x - 58, top, 116, bottom - top), band)
        p.setPen(QPen(QColor(c.ink), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        box = QRectF(x - 62, min(top, axis.y(hz) - 9) - 2, 124, 0)
        box.setBottom(max(bottom, axis.y(hz) + 9) + 2)
        p.drawRoundedRect(box, 5, 5)
        p.setFont(font(9, QFont.Weight.DemiBold))
        text = wording.note_words(hz, self._a4, self._flats)
        if " " in text:
            text += " c"
        p.drawText(
            QRectF(x - 100, box.bottom() + 2, 200, 16),
            Qt.AlignmentFlag.AlignCenter,
            f"{text} · {wording.hz_words(hz)} ± {figures(sure, '.0f')} c",
        )

    def _paint_rungs(self, p: QPainter) -> None:
        assert self._result is not None
        c, prediction = self._colours, self._result.prediction
        p.setPen(Qt.PenStyle.NoPen)
        for index in self._rungs_shown():
            rect = self.rung_rect(index)
            ink = QColor(c.ink)
            ring = math.log(max(float(prediction.partials.t60_s[index]), 0.03) / 0.03) / math.log(
                70.0
            )
            ink.setAlphaF(min(1.0, 0.18 + 0.82 * ring))
            if index == self._rung:
                ink = QColor(c.accent)
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.setPen(QPen(ink, 1.5))
                p.drawRoundedRect(rect.adjusted(-5, -4, 5, 4), 5, 5)
                p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(ink)
            p.drawRoundedRect(rect, 2.5, 2.5)

    def _paint_heard(self, p: QPainter, axis: Axis) -> None:
        """Lines that were heard, beside the rungs: filled and tied to its rung what is told, hollow
        what is of something else or not told."""
        if self._heard is None:
            return
        c, heard = self._colours, self._heard
        computed = heard.prediction.partials.frequency_hz
        x = self._column_x("drum") + HEARD_AT
        ink = QColor(c.sharp)
        for line, match in zip(heard.lines, heard.matching.matches, strict=True):
            if not axis.low_hz < line.hz < axis.high_hz:
                continue
            y, size = axis.y(line.hz), 2.2 + 2.3 * max(0.0, 1.0 + line.level_db / 36.0)
            p.setPen(QPen(ink, 1.2))
            p.setBrush(ink if match.partial is not None else Qt.BrushStyle.NoBrush)
            if match.partial is not None:
                rung = axis.y(float(computed[match.partial]))
                p.drawLine(QPointF(x - 14, rung), QPointF(x - size, y))
            p.drawEllipse(QPointF(x, y), size, size)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setFont(font(7.5))
        p.setPen(ink)
        where = QRectF(x - 26, HEADER - 8, 52, 12)
        p.drawText(where, Qt.AlignmentFlag.AlignCenter, _("measured"))

    def _paint_interval(self, p: QPainter, axis: Axis) -> None:
        pitches = self.grip_hz("batter"), self.grip_hz("resonant")
        if pitches[0] is None or pitches[1] is None:
            return
        c = self._colours
        x = self._column_x("batter") + PILL.width() / 2 + 12
        y0, y1 = axis.y(pitches[0]), axis.y(pitches[1])
        p.setPen(QPen(QColor(c.accent), 1.5))
        p.drawLine(QPointF(x, y0), QPointF(x, y1))
        pen = QPen(QColor(c.accent), 1.2)
        pen.setStyle(Qt.PenStyle.DotLine)
        p.setPen(pen)
        p.drawLine(QPointF(x - 11, y0), QPointF(x + 6, y0))
        p.drawLine(QPointF(x - 2, y1), QPointF(self._column_x("resonant") - PILL.width() / 2, y1))
        p.setPen(QColor(c.accent))
        p.setFont(font(8.5))
        short = nearest_interval(cents_between(pitches[0], pitches[1]))
        width = QFontMetricsF(p.font()).horizontalAdvance(short) + 6
        y = (y0 + y1) / 2
        if abs(y1 - y0) < 36:
            y = min(y0, y1) - 14
        x = max(x, self._column_x("batter") + PILL.width() / 2 + 5 + width / 2)
        p.fillRect(QRectF(x - width / 2, y - 8, width, 16), QColor(c.panel))
        p.drawText(QRectF(x - width / 2, y - 8, width, 16), Qt.AlignmentFlag.AlignCenter, short)

    def _paint_grip(self, p: QPainter, side: str) -> None:
        hz = self.grip_hz(side)
        if hz is None:
            return
        c, rect = self._colours, self.grip_rect(side)
        head_range = (
            self._result.ranges[self._result.drum.sides.index(side)] if self._result else None
        )
        inside = head_range is None or (
            head_range.lowest_pitch_hz * 0.999 <= hz <= head_range.highest_pitch_hz * 1.001
        )
        p.setPen(QPen(QColor(c.accent), 2))
        p.setBrush(QColor(c.accent if inside else c.panel))
        p.drawRoundedRect(rect, 13, 13)
        p.setPen(QColor(c.on_accent if inside else c.accent))
        p.setFont(font(9.5, QFont.Weight.Bold))
        text = wording.note_words(hz, self._a4, self._flats)
        p.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)
        if self.hasFocus() and self._column == side:
            p.setPen(QPen(QColor(c.ink), 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(rect.adjusted(-3, -3, 3, 3), 15, 15)
