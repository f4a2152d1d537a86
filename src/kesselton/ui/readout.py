"""Right of the ladder: the number that matters now, what to set, how far it can go, one partial."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.predictor import Answer
from kesselton.core.pitch import cents_between, interval_name, note_of
from kesselton.ui import words
from kesselton.ui.fields import mark
from kesselton.ui.picture import Picture
from kesselton.ui.theme import LIGHT, Colours, font

if TYPE_CHECKING:
    import numpy as np

    from kesselton.app.measuring import Planned
    from kesselton.core.drum import Drum
    from kesselton.core.plan import Need

OUTSIDE = 1.001  # a hair beyond a limit is still at the limit


@dataclass(frozen=True)
class Row:
    """One line of a table: caption and a value per head."""

    caption: str
    values: tuple[str, ...]


def summary_rows(
    answer: Answer, a4_hz: float, flats: bool, planned: Planned | None = None
) -> list[Row]:
    """What to set, per head (also on the sheet)."""
    found, drum = answer.prediction, answer.drum
    rows = [
        Row(
            "lug pitch",
            tuple(words.note_words(hz, a4_hz, flats) for hz in found.lug_pitches_hz),
        ),
        Row("", tuple(words.hz_words(hz) for hz in found.lug_pitches_hz)),
        Row("tension", tuple(f"{t:.0f} N/m" for t in found.tensions_n_per_m)),
    ]
    yields = [drum.setting(side).head.substance.yield_pa.value for side in drum.sides]
    shares = [100.0 * s / y for s, y in zip(found.stresses_pa, yields, strict=True)]
    rows.append(Row("film stress", tuple(f"{s / 1e6:.1f} MPa" for s in found.stresses_pa)))
    rows.append(Row("of its yield", tuple(f"{share:.0f} %" for share in shares)))
    if planned is not None:
        rows[3:3] = gauge_rows(planned, drum)
    return rows


def gauge_rows(planned: Planned, drum: Drum) -> list[Row]:
    """What dial, turns and torque must read."""
    heads = planned.heads
    rows = []
    if any(math.isfinite(plan.dial.value) for plan in heads):
        rows.append(
            Row("dial", tuple(_need(f"{p.dial.value:.0f}", p.dial, "{:.0f}") for p in heads))
        )
    if drum.kind == "rope":
        rows.append(Row("pull at an ear", tuple(f"{p.rod_force_n:.0f} N" for p in heads)))
        rows.append(Row("in the rope", tuple(f"{p.rope_n:.0f} N" for p in heads)))
        return rows
    rows.append(
        Row(
            "turns",
            tuple(
                f"{words.turn_words(p.turns.value)} ± {words.turn_words(p.turns.half)}"
                for p in heads
            ),
        )
    )
    torque = tuple(f"{p.torque.value:.2f} ± {p.torque.half:.1f} N\u00a0m" for p in heads)
    rows.append(Row("torque", torque))
    return rows


def _need(text: str, need: Need, half: str) -> str:
    if not math.isfinite(need.value):
        return "–"
    doubt = " ?" if need.mind else ""
    return f"{text} ± {half.format(need.half)}{doubt}"


def outlook_rows(planned: Planned, drum: Drum) -> list[list[str]]:
    """What becomes of the setting, in words."""
    out = []
    for outlook in planned.outlooks:
        parts = [
            f"{words.side_word(drum, side).lower()} {words.cents_words(cents)}"
            for side, cents in zip(drum.sides, outlook.lug_cents, strict=True)
        ]
        if len({p.split(" ", 1)[1] for p in parts}) == 1 and len(parts) == 2:
            parts = [f"both heads {words.cents_words(outlook.lug_cents[0])}"]
        out.append([outlook.label, ", ".join(parts)])
    return out


def range_rows(answer: Answer, a4_hz: float, flats: bool) -> list[Row]:
    """Usable range, per head."""
    low = tuple(
        f"{note_of(r.lowest_pitch_hz, a4_hz).name(flats)}, {r.lowest.label}" for r in answer.ranges
    )
    high = tuple(
        f"{note_of(r.highest_pitch_hz, a4_hz).name(flats)}, {r.highest.label}"
        for r in answer.ranges
    )
    return [Row("highest", high), Row("lowest", low)]


def caution_words(answer: Answer) -> str:
    """What to mind when a head is set outside its usable range; "" inside."""
    lines = []
    for side, hz, found in zip(
        answer.drum.sides, answer.prediction.lug_pitches_hz, answer.ranges, strict=True
    ):
        name = words.side_word(answer.drum, side)
        if hz > found.highest_pitch_hz * OUTSIDE:
            lines.append(
                f"{name} above its range ({found.highest.label}): never beyond the maker's limit, "
                "and never the face over a loaded rod."
            )
        elif hz * OUTSIDE < found.lowest_pitch_hz:
            lines.append(f"{name} below its range ({found.lowest.label}): no clear tone.")
    return "\n".join(lines)


class ModePicture(Picture):
    """How both heads move in one partial: light one way, dark the other, from above."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(70)
        self.setAccessibleName("Shape of the partial")
        self._images: list[QImage] = []
        self._names: tuple[str, ...] = ()

    def set_state(self, answer: Answer | None, index: int) -> None:
        """Show partial number `index`, or nothing."""
        self._images = []
        if answer is not None and index >= 0:
            self._images = mode_images(answer, index, 64)
            self._names = tuple(words.side_word(answer.drum, s) for s in answer.drum.sides)
        self.update()

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        for place, image in enumerate(self._images):
            x = 2 + place * 128
            p.drawImage(QPointF(x, 2), image)
            p.setPen(QPen(QColor(c.soft_ink), 1.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(QRectF(x, 2, 64, 64))
            p.setPen(QColor(c.soft_ink))
            p.setFont(font(8))
            p.drawText(
                QRectF(x + 68, 18, 58, 34), Qt.TextFlag.TextWordWrap, self._names[place].lower()
            )


def mode_images(answer: Answer, index: int, size: int) -> list[QImage]:
    """A round picture of the displacement of each head, greys only."""
    import numpy as np

    found = answer.prediction.partials
    order = int(found.order[index])
    system = found.system
    s, functions = _disc(order, system.ends[0].functions, size)
    shapes = []
    for part, end in zip(system.slices, system.ends, strict=True):
        if end.head is None:
            continue
        shapes.append(functions @ found.shape[index, part].real)
    most = max(np.abs(shape).max() for shape in shapes) or 1.0
    images = []
    for shape in shapes:
        grey = np.clip(132.0 + 118.0 * shape / most, 0, 255).astype(np.uint8)
        alpha = np.clip((1.0 - s) * size / 2.0 + 0.5, 0.0, 1.0)
        pixels = np.empty((size, size, 4), dtype=np.uint8)
        pixels[..., :3] = grey[..., None]
        pixels[..., 3] = (255 * alpha).astype(np.uint8)
        image = QImage(pixels.tobytes(), size, size, 4 * size, QImage.Format.Format_RGBA8888)
        images.append(image.copy())
    return images


@lru_cache(maxsize=16)
def _disc(order: int, count: int, size: int) -> tuple[np.ndarray, np.ndarray]:
    """Radius and head functions on a square of pixels: (size, size) and (size, size, count)."""
    import numpy as np

    from kesselton.core.bessel import head_basis

    axis = (np.arange(size) + 0.5) / size * 2.0 - 1.0
    x, y = np.meshgrid(axis, axis)
    s = np.hypot(x, y)
    angle = np.cos(order * np.arctan2(x, -y))
    radius = np.linspace(0.0, 1.0, 129)
    values = head_basis(order, count).values(radius)
    spread = np.stack([np.interp(np.minimum(s, 1.0), radius, v) for v in values.T], axis=-1)
    return s, spread * angle[..., None]


class Readout(QWidget):
    """The right-hand column.

    Signals
    -------
    sheet_wanted : the settings sheet is asked for; listen_wanted : a stroke is
    """

    sheet_wanted = Signal()
    listen_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._answer: Answer | None = None
        self._planned: Planned | None = None
        self._a4, self._flats = 440.0, False
        self._colours = LIGHT
        self.note = QLabel("…")
        self.note.setFont(font(32, QFont.Weight.Bold))
        self.off = QLabel()
        self.off.setFont(font(11, QFont.Weight.DemiBold))
        self.sure = self._quiet("")
        head = QGridLayout()
        head.setHorizontalSpacing(10)
        head.setVerticalSpacing(0)
        head.addWidget(self.note, 0, 0, 2, 1)
        head.addWidget(self.off, 0, 1, Qt.AlignmentFlag.AlignBottom)
        head.addWidget(self.sure, 1, 1, Qt.AlignmentFlag.AlignTop)
        head.setColumnStretch(1, 1)
        self.facts = QGridLayout()
        self.facts.setVerticalSpacing(4)
        self.facts.setColumnStretch(1, 1)
        self.table = QGridLayout()
        self.table.setVerticalSpacing(3)
        self.table.setHorizontalSpacing(8)
        self.table.setColumnStretch(1, 1)
        self.table.setColumnStretch(2, 1)
        self.caution = QLabel()
        self.caution.setProperty("fault", True)
        self.caution.setWordWrap(True)
        self.caution.hide()
        self.partial = QLabel()
        self.partial.setFont(font(11, QFont.Weight.DemiBold))
        self.partial_facts = self._quiet("")
        self.picture = ModePicture()
        self.sheet = QPushButton("Settings sheet …")
        self.sheet.setObjectName("main")
        self.sheet.clicked.connect(self.sheet_wanted)
        self.listen = QPushButton("Listen (L)")
        self.listen.clicked.connect(self.listen_wanted)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 10, 14, 10)
        layout.setSpacing(3)
        layout.addWidget(self._quiet("The drum will sound"))
        layout.addLayout(head)
        layout.addSpacing(6)
        layout.addLayout(self.facts)
        layout.addSpacing(6)
        layout.addLayout(self.table)
        layout.addWidget(self.caution)
        layout.addSpacing(6)
        layout.addWidget(self._quiet("This partial"))
        layout.addWidget(self.partial)
        layout.addWidget(self.partial_facts)
        layout.addWidget(self.picture)
        layout.addStretch(1)
        last = QHBoxLayout()
        last.addWidget(self.sheet, 3)
        last.addWidget(self.listen, 2)
        layout.addLayout(last)

    def _quiet(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setProperty("quiet", True)
        label.setWordWrap(True)
        return label

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.picture.set_colours(colours)
        self.set_state(self._answer, self._a4, self._flats)

    def set_state(self, answer: Answer | None, a4_hz: float, flats: bool) -> None:
        """Show an answer of the core, or that there is none."""
        if answer is not self._answer:
            self._planned = None
        self._answer, self._a4, self._flats = answer, a4_hz, flats
        self.sheet.setEnabled(answer is not None)
        self.listen.setEnabled(answer is not None)
        caution = "" if answer is None else caution_words(answer)
        self.caution.setText(caution)
        self.caution.setVisible(bool(caution))
        if answer is None:
            self.note.setText("…")
            self.off.clear()
            self.sure.clear()
            self._fill(self.facts, [])
            self._fill(self.table, [])
            self.set_partial(-1)
            return
        found, drum = answer.prediction, answer.drum
        index = found.partials.fundamental
        note = note_of(found.fundamental_hz, a4_hz)
        self.note.setText(note.name(flats))
        self.off.setText(note.deviation())
        c = self._colours
        whole = round(note.cents)
        colour = c.ink if whole == 0 else c.sharp if whole > 0 else c.flat
        self.off.setStyleSheet(f"color: {colour}")
        self.sure.setText(
            f"{words.hz_words(found.fundamental_hz)} ± {found.uncertainty_cents[index]:.0f} cents"
        )
        decay = words.decay_words(float(found.partials.t60_s[index]), float(found.t60_error[index]))
        rows = [["rings (to −60 dB)", decay]]
        if len(drum.sides) == 2:
            cents = cents_between(*found.lug_pitches_hz)
            text = interval_name(cents)
            if abs(cents) >= 50:
                higher = words.side_word(drum, "resonant" if cents > 0 else "batter").lower()
                text += f", {higher} higher"
            rows.append(["head to head", text])
        if self._planned is not None:
            rows += outlook_rows(self._planned, drum)
        self._fill(self.facts, rows)
        table = [["Set it to", *(words.side_word(drum, s) for s in drum.sides)]]
        table += [[r.caption, *r.values] for r in summary_rows(answer, a4_hz, flats, self._planned)]
        table += [["Usable range", *("" for _ in drum.sides)]]
        table += [[r.caption, *r.values] for r in range_rows(answer, a4_hz, flats)]
        self._fill(self.table, table, strong=(1, 2))

    def set_plan(self, planned: Planned | None) -> None:
        """Add what gauges must read and what becomes of the setting."""
        self._planned = planned
        self.set_state(self._answer, self._a4, self._flats)

    def set_partial(self, index: int) -> None:
        """Name one partial; -1 says how to."""
        answer = self._answer
        self.picture.set_state(answer, index)
        if answer is None or index < 0:
            self.partial.setText("")
            self.partial_facts.setText(
                "Point at a rung of the ladder, or walk to it with the keys."
            )
            return
        found = answer.prediction
        p = found.partials
        order, rank = int(p.order[index]), int(p.rank[index])
        branch, hz = str(p.branch[index]), float(p.frequency_hz[index])
        names = (words.side_word(answer.drum, "batter"), words.side_word(answer.drum, "resonant"))
        share = float(p.batter_share[index])
        title = "air" if branch == "air" else f"({order},{rank})"
        self.partial.setText(
            f"{title}   {words.note_words(hz, self._a4, self._flats)}   {words.hz_words(hz)}"
        )
        lines = [
            f"{words.partial_words(order, rank, branch)}; "
            f"{words.branch_words(branch, share, p.together(index), names)}",
            f"± {found.uncertainty_cents[index]:.0f} cents, rings "
            f"{words.decay_words(float(p.t60_s[index]), float(found.t60_error[index]))}",
        ]
        level = float(found.levels_db[index])
        lines.append(
            "loudest from this stroke"
            if level > -0.05
            else f"{-level:.0f} dB under the loudest from this stroke"
        )
        if len(answer.drum.sides) == 2:
            lines.append(f"{100 * share:.0f} % of the movement on the {names[0].lower()}")
        self.partial_facts.setText("\n".join(lines))

    def _fill(self, grid: QGridLayout, rows: list[list[str]], strong: tuple[int, ...] = ()) -> None:
        """Show rows of text, reusing the labels there are."""
        for row, values in enumerate(rows):
            for column, text in enumerate(values):
                item = grid.itemAtPosition(row, column)
                label = item.widget() if item else None
                if not isinstance(label, QLabel):
                    label = QLabel()
                    label.setWordWrap(column > 0)
                    grid.addWidget(label, row, column, Qt.AlignmentFlag.AlignTop)
                title = bool(strong) and (row == 0 or values[0] == "Usable range")
                mark(label, "quiet", column == 0 and not title)
                large = row in strong[:1] and column > 0
                weight = QFont.Weight.DemiBold if title or large else QFont.Weight.Normal
                label.setFont(font(12 if large else 10, weight))
                if label.text() != text:
                    label.setText(text)
                label.show()
        for position in range(grid.count()):
            row, column, _, _ = grid.getItemPosition(position)  # type: ignore[misc]
            if row >= len(rows) or column >= len(rows[row]):
                spare = grid.itemAt(position)
                if spare is not None and (widget := spare.widget()) is not None:
                    widget.hide()
