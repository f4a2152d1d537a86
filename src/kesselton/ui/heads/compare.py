"""Two to four pairs of heads side by side: section, ladders on one axis, decay, what differs."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QPainter, QPen
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.host.jobs import Latest
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _, figures
from kesselton.core.pitch import hz_of, note_of
from kesselton.ui.parts.pictures.section_picture import paint_section
from kesselton.ui.parts.widgets.columns import clear, scroll
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label, MarkedLabel, marked
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.result_rows import wires_rows

if TYPE_CHECKING:
    from kesselton.core.heads.choose import Candidates
    from kesselton.core.prediction.prediction import Prediction
    from kesselton.core.prediction.wires import WiresView

LETTERS = "ABCD"
HIGHEST_HZ = 1000.0
QUIETEST_DB = -50.0
SECONDS = 1.6
LEFT = 150.0


class _Columns(Picture):
    """A picture with one column for each pair."""

    def __init__(self, height: int, name: str) -> None:
        super().__init__()
        self.setMinimumHeight(height)
        self.setAccessibleName(name)
        self.predictions: list[Prediction] = []
        self.wires: list[WiresView | None] = []
        self.a4_hz, self.flats = 440.0, False

    def set_state(self, predictions: list[Prediction], a4_hz: float, flats: bool) -> None:
        """Show predictions."""
        self.predictions, self.a4_hz, self.flats = predictions, a4_hz, flats
        self.update()

    def column(self, place: int) -> QRectF:
        """Where a pair's column lies."""
        wide = (self.width() - LEFT) / max(len(self.predictions), 1)
        return QRectF(LEFT + place * wide, 0, wide - 12, self.height())


class _Sections(_Columns):
    def __init__(self) -> None:
        super().__init__(84, _("Drums in cross section"))

    def _paint(self, p: QPainter) -> None:
        for place, prediction in enumerate(self.predictions):
            shell = prediction.drum.shell
            box = self.column(place)
            scale = min(
                (box.width() - 60) / shell.head_diameter_m,
                (box.height() - 30) / max(shell.depth_m, 0.05),
            )
            paint_section(p, box, prediction.drum, self._colours, scale)


class _Ladders(_Columns):
    """Lug pitches, and the partials of the whole drum, on one axis."""

    def __init__(self) -> None:
        super().__init__(200, _("Partials on one axis"))

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(700, 210)

    def _span(self) -> tuple[float, float]:
        low = min(float(f.partials.frequency_hz[f.partials.fundamental]) for f in self.predictions)
        high = max(max(f.lug_pitches_hz) for f in self.predictions)
        return 0.85 * low, 2.2 * high

    def level(self, hz: float) -> float:
        """Height of a pitch."""
        low, high = self._span()
        share = math.log(hz / low) / math.log(high / low)
        return self.height() - 8 - share * (self.height() - 16)

    def _paint(self, p: QPainter) -> None:
        if not self.predictions:
            return
        c = self._colours
        low, high = self._span()
        p.setFont(font(8.5))
        for number in range(
            math.ceil(69 + 12 * math.log2(low / self.a4_hz)),
            math.floor(69 + 12 * math.log2(high / self.a4_hz)) + 1,
        ):
            hz = hz_of(number, self.a4_hz)
            name = note_of(hz, self.a4_hz).name(self.flats)
            if len(name) != 2:
                continue
            p.setPen(QPen(QColor(c.line), 1))
            p.drawLine(QPointF(LEFT - 8, self.level(hz)), QPointF(self.width(), self.level(hz)))
            if name[0] in "CEGA":
                p.setPen(QColor(c.soft_ink))
                p.drawText(
                    QRectF(0, self.level(hz) - 8, LEFT - 14, 16),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    name,
                )
        for place, prediction in enumerate(self.predictions):
            self._paint_one(p, self.column(place), prediction, high)

    def _paint_one(self, p: QPainter, box: QRectF, prediction: Prediction, high: float) -> None:
        c = self._colours
        for index in range(len(prediction.partials)):
            hz = float(prediction.partials.frequency_hz[index])
            level = max(float(prediction.levels_db[index]), QUIETEST_DB)
            if hz > high:
                break
            half = 4.0 + 0.22 * box.width() * (1.0 - level / QUIETEST_DB)
            ink = QColor(c.accent if index == prediction.partials.fundamental else c.ink)
            ring = math.log(max(float(prediction.partials.t60_s[index]), 0.03) / 0.03) / math.log(
                70.0
            )
            ink.setAlphaF(min(1.0, 0.2 + 0.8 * ring))
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(ink)
            p.drawRoundedRect(
                QRectF(box.center().x() - half, self.level(hz) - 2.0, 2.0 * half, 4.0), 2, 2
            )
        p.setFont(font(8.5, QFont.Weight.DemiBold))
        for side, hz in enumerate(prediction.lug_pitches_hz):
            x = box.left() + (0.02 if side == 0 else 0.80) * box.width()
            pill = QRectF(x, self.level(hz) - 9, 0.18 * box.width() + 6, 18)
            p.setPen(QPen(QColor(c.accent), 1.5))
            p.setBrush(QColor(c.panel))
            p.drawRoundedRect(pill, 9, 9)
            p.setPen(QColor(c.accent))
            p.drawText(pill, Qt.AlignmentFlag.AlignCenter, note_of(hz, self.a4_hz).name(self.flats))


class _Decays(_Columns):
    """Partials over time: every partial a line that thins and fades as it dies away."""

    def __init__(self) -> None:
        super().__init__(110, _("Partials over time"))

    def _paint(self, p: QPainter) -> None:
        if not self.predictions:
            return
        c = self._colours
        low = min(float(f.partials.frequency_hz[f.partials.fundamental]) for f in self.predictions)
        span = math.log(HIGHEST_HZ / (0.8 * low))
        steps = 24
        p.setFont(font(8.5))
        for place, prediction in enumerate(self.predictions):
            box = self.column(place).adjusted(0, 4, 0, -18)
            p.fillRect(box, QColor(c.panel))
            p.setPen(QPen(QColor(c.line), 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            for second in (0.0, 0.5, 1.0, 1.5):
                x = box.left() + second / SECONDS * box.width()
                p.setPen(QColor(c.soft_ink))
                p.drawText(
                    QRectF(x - 16, box.bottom() + 2, 32, 14), 0x84, f"{figures(second, 'g')} s"
                )
            for index in range(len(prediction.partials)):
                hz = float(prediction.partials.frequency_hz[index])
                if hz > HIGHEST_HZ:
                    break
                y = box.bottom() - math.log(hz / (0.8 * low)) / span * box.height()
                fall = 60.0 / float(prediction.partials.t60_s[index])
                for step in range(steps):
                    level = float(prediction.levels_db[index]) - fall * SECONDS * step / steps
                    if level < QUIETEST_DB:
                        break
                    share = 1.0 - level / QUIETEST_DB
                    ink = QColor(c.accent if index == prediction.partials.fundamental else c.ink)
                    ink.setAlphaF(max(0.05, share))
                    p.setPen(QPen(ink, 0.6 + 3.0 * share))
                    x = box.left() + step / steps * box.width()
                    p.drawLine(QPointF(x, y), QPointF(x + box.width() / steps, y))


class ComparePage(QWidget):
    """The page; worked out beside the screen when it is opened.

    Signals
    -------
    back(), listen_wanted(int candidate), taken(int candidate)
    """

    back = Signal()
    listen_wanted = Signal(int)
    taken = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self._jobs = Latest(self._on_done, self._on_failed, self)
        self._candidates: Candidates | None = None
        self._numbers: list[int] = []
        self._a4, self._flats = 440.0, False
        self.predictions: list[Prediction] = []
        self.title = Label(_("Compare head pairs"))
        self.title.setFont(font(11, QFont.Weight.DemiBold))
        self.state = Label()
        self.state.setProperty("quiet", True)
        close = Button(_("Back to list (Esc)"))
        close.clicked.connect(self.back)
        top = QHBoxLayout()
        top.addWidget(self.title)
        top.addWidget(self.state, 1)
        top.addWidget(close)
        self.pictures: tuple[_Columns, ...] = (_Sections(), _Ladders(), _Decays())
        self.table = QGridLayout()
        self.table.setHorizontalSpacing(12)
        self.table.setVerticalSpacing(2)
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(0, 0, 8, 0)
        self.heads = QGridLayout()
        self.heads.setHorizontalSpacing(12)
        inside.addLayout(self.heads)
        inside.addWidget(self.pictures[0])
        inside.addLayout(self.table)
        inside.addSpacing(8)
        inside.addWidget(self.pictures[1])
        inside.addWidget(self.pictures[2])
        inside.addStretch(1)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 12, 10)
        layout.addLayout(top)
        layout.addWidget(scroll(body), 1)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for picture in self.pictures:
            picture.set_colours(colours)

    def show_pairs(
        self, candidates: Candidates, numbers: list[int], a4_hz: float, flats: bool
    ) -> None:
        """Work out and show some candidates."""
        self._candidates, self._numbers = candidates, numbers
        self._a4, self._flats = a4_hz, flats
        self.predictions = []
        self._fill()
        self.state.setText(_("Computing partials…"))
        drums: list[Drum] = [candidates.fitted(n) for n in numbers]
        stroke = candidates.brief.stroke

        def work() -> tuple[list[Prediction], list[WiresView | None]]:
            from kesselton.core.prediction.prediction import predict
            from kesselton.core.prediction.wires import wires_view

            predictions = [predict(drum, stroke) for drum in drums]
            return predictions, [wires_view(prediction) for prediction in predictions]

        self._jobs.request(tuple(numbers), work)

    def stop(self) -> None:
        """End the thread."""
        self._jobs.stop()

    def _on_done(
        self, key: object, answer: tuple[list[Prediction], list[WiresView | None]]
    ) -> None:
        predictions, self.wires = answer
        if key != tuple(self._numbers):
            return
        self.predictions = predictions
        self.state.setText("")
        for picture in self.pictures:
            picture.set_state(predictions, self._a4, self._flats)
        self._fill()

    def _on_failed(self, key: object, error: KesseltonError) -> None:
        self.state.setText(f"{error.message} {error.remedy}")

    def _fill(self) -> None:
        from kesselton.core.heads.differences import differences

        clear(self.heads)
        clear(self.table)
        candidates = self._candidates
        if candidates is None:
            return
        self.heads.setColumnMinimumWidth(0, int(LEFT))
        for place, number in enumerate(self._numbers):
            drum = candidates.drum
            names = [
                f"{wording.side_word(drum, side)}: {head.name}"
                for side, head in zip(drum.sides, candidates.heads[number], strict=True)
            ]
            label = MarkedLabel("<b>{letter}</b>  ", letter=LETTERS[place])
            label.setText(label.text() + "<br>".join(marked("{name}", name=name) for name in names))
            label.setWordWrap(True)
            buttons = QHBoxLayout()
            holder = QWidget()
            holder.setLayout(buttons)
            buttons.setContentsMargins(0, 0, 0, 0)
            listen, take = Button(_("Play")), Button(_("Use"))
            listen.clicked.connect(lambda _unused=False, n=number: self.listen_wanted.emit(n))
            take.clicked.connect(lambda _unused=False, n=number: self.taken.emit(n))
            buttons.addWidget(listen)
            buttons.addWidget(take)
            buttons.addStretch(1)
            self.heads.addWidget(label, 0, place + 1)
            self.heads.addWidget(holder, 1, place + 1)
            self.heads.setColumnStretch(place + 1, 1)
        self._put(0, 0, _("What a player would notice"), quiet=True)
        first = self._numbers[0]
        for place, number in enumerate(self._numbers):
            hz = float(candidates.measures.fundamental_hz[number])
            ring = wording.seconds_words(float(candidates.measures.ring_s[number]))
            text = _("{note}, decay {ring}").format(
                note=wording.note_words(hz, self._a4, self._flats), ring=ring
            )
            self._put(0, place + 1, text, bold=True)
            for row, line in enumerate(differences(candidates.measures, first, number), start=1):
                if place == 0:
                    self._put(row, 0, line.what, quiet=True)
                same = _("same as A") if number != first else "—"
                self._put(row, place + 1, line.words or same, quiet=not line.words)
            self.table.setColumnStretch(place + 1, 1)
        below = self.table.rowCount()
        for place, view in enumerate(self.wires[: len(self._numbers)] if self.predictions else ()):
            for row, (caption, value) in enumerate(wires_rows(view), start=below):
                if place == 0:
                    self._put(row, 0, caption, quiet=True)
                self._put(row, place + 1, value)
        self.table.setColumnMinimumWidth(0, int(LEFT))

    def _put(
        self, row: int, column: int, text: str, quiet: bool = False, bold: bool = False
    ) -> None:
        label = Label(text)
        label.setProperty("quiet", quiet)
        if bold:
            label.setFont(font(10, QFont.Weight.DemiBold))
        self.table.addWidget(label, row, column)

    @safe_override
    def keyPressEvent(self, event: object) -> None:
        if event.key() == Qt.Key.Key_Escape:  # type: ignore[attr-defined]
            self.back.emit()
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]
