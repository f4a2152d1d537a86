"""Right of the ladder: the number that matters now, what to set, how far it can go, one partial."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen
from PySide6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.language import _
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.ui.parts.widgets.columns import scroll, selectable
from kesselton.ui.parts.widgets.fields import mark
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Copied, Picture
from kesselton.ui.parts.widgets.theme import LIGHT, Colours, font
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.result_rows import (
    caution_words,
    drift_rows,
    interval_words,
    range_rows,
    summary_rows,
    wires_rows,
)
from kesselton.ui.tuning.heard_card import beat_of, early_words

if TYPE_CHECKING:
    import numpy as np

    from kesselton.app.bench.bench import Further
    from kesselton.app.bench.learner import OwnDrum
    from kesselton.app.bench.measuring import Planned
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.core.instrument.drum import Drum
    from kesselton.core.prediction.port import PortView
    from kesselton.core.prediction.prediction import Prediction
    from kesselton.core.prediction.speaks import Speaking


class ModePicture(Picture):
    """How both heads move in one partial: light one way, dark the other, from above."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(70)
        self.setAccessibleName(_("Shape of the partial"))
        self._images: list[QImage] = []
        self._names: tuple[str, ...] = ()

    def set_state(self, result: BenchResult | None, index: int) -> None:
        """Show partial number `index`, or nothing."""
        self._images = []
        if result is not None and index >= 0:
            self._images = mode_images(result, index, 64)
            self._names = tuple(wording.side_word(result.drum, s) for s in result.drum.sides)
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


def mode_images(result: BenchResult, index: int, size: int) -> list[QImage]:
    """A round picture of the displacement of each head, greys only."""
    import numpy as np

    found = result.prediction.partials
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

    from kesselton.core.acoustics.bessel import head_basis

    axis = (np.arange(size) + 0.5) / size * 2.0 - 1.0
    x, y = np.meshgrid(axis, axis)
    s = np.hypot(x, y)
    angle = np.cos(order * np.arctan2(x, -y))
    radius = np.linspace(0.0, 1.0, 129)
    values = head_basis(order, count).values(radius)
    spread = np.stack([np.interp(np.minimum(s, 1.0), radius, v) for v in values.T], axis=-1)
    return s, spread * angle[..., None]


def speaks_rows(found: Speaking, a4_hz: float, flats: bool) -> list[list[str]]:
    """Where the drum speaks, and what ends it there."""
    if found.low is None or found.high is None:
        return [[_("Sweet spot"), _("none: {why}").format(why=found.never)]]
    low, high = (
        _("{note} ({why})").format(
            note=note_of(end.fundamental_hz, a4_hz).name(flats), why=end.label
        )
        for end in (found.low, found.high)
    )
    return [[_("Sweet spot"), _("{low} to {high}").format(low=low, high=high)]]


def port_rows(found: PortView | None) -> list[list[str]]:
    """What the port changes against the same heads uncut, and what a microphone inside hears."""
    if found is None:
        return []
    change = _(
        "{cents:+.0f} cents, {level:+.1f} dB; early decay {early:+.0f} %, decay {ring:+.0f} %"
    ).format(
        cents=found.note_cents,
        level=found.level_db,
        early=100.0 * (found.early - 1.0),
        ring=100.0 * (found.ring - 1.0),
    )
    inside = _("{inside} at a mic inside, {outside} at 1 m").format(
        inside=wording.seconds_words(found.boom_inside_s),
        outside=wording.seconds_words(found.boom_outside_s),
    )
    return [[_("Effect of port"), change.replace("-", "−")], [_("Boom, −20 dB"), inside]]


def head_to_head_words(drum: Drum, found: Prediction) -> str:
    """The two heads against each other by tension and by turns, or what one pull leaves open."""
    from kesselton.core.measure.head_to_head import standing

    stand = standing(drum, found.tensions_n_per_m, found.lug_pitches_hz)
    share = 100.0 * abs(math.expm1(abs(math.log(stand.pull))))
    side = wording.side_word(drum, "resonant" if stand.pull > 1.0 else "batter").lower()
    most, alike = drum.one_pull, share < 0.5
    if most is not None:
        said = (
            _("equal tension, one pull; friction holds ± {most:.0f} %")
            if alike
            else _("{side} {share:.0f} % tighter, by hand; friction holds up to {most:.0f} %")
        )
        if share > 100.0 * most + 1.0:
            said = _(
                "{side} {share:.0f} % tighter, but friction holds only "
                "{most:.0f} %: read both heads again, or choose “equal pull”"
            )
        elif sum(drum.setting(one).reading is not None for one in drum.sides) == 1:
            said += _("; only one head read, included in the ±")
        return said.format(side=side, share=share, most=100.0 * most)
    turns = f"{max(1.0 / stand.turns, 1.0):.2g} : {max(stand.turns, 1.0):.2g}"
    said = (
        _("equal tension; turns {turns}")
        if alike
        else _("{side} {share:.0f} % tighter; turns {turns}")
    )
    return said.format(side=side, share=share, turns=turns)


class Readout(Copied):
    """The right-hand column.

    Signals
    -------
    sheet_wanted : the tuning sheet is asked for; listen_wanted : a stroke is
    """

    main = False
    sheet_wanted = Signal()
    listen_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._result: BenchResult | None = None
        self._plan: Planned | None = None
        self._further: Further | None = None
        self._own: OwnDrum | None = None
        self._heard: HeardDrum | None = None
        self._partial = -1
        self._a4, self._flats = 440.0, False
        self._colours = LIGHT
        self.note = Label("…")
        self.note.setFont(font(32, QFont.Weight.Bold))
        self.off = selectable(Label())
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
        self.facts.setHorizontalSpacing(8)
        self.facts.setColumnStretch(0, 2)
        self.facts.setColumnStretch(1, 3)
        self.table_grid = QGridLayout()
        self.table_grid.setVerticalSpacing(3)
        self.table_grid.setHorizontalSpacing(8)
        self.table_grid.setColumnStretch(1, 1)
        self.table_grid.setColumnStretch(2, 1)
        self.caution = Label()
        self.caution.setProperty("fault", True)
        self.caution.setWordWrap(True)
        self.caution.hide()
        self.assumed = self._quiet("")
        self.partial = selectable(Label())
        self.partial.setFont(font(11, QFont.Weight.DemiBold))
        self.partial_facts = self._quiet("")
        self.picture = ModePicture()
        self.sheet = Button(_("Tuning sheet…"), tip=_("What to set, on one page"))
        self.sheet.setObjectName("main")
        self.sheet.clicked.connect(self.sheet_wanted)
        self.listen = Button(_("Play (L)"), tip=_("The stroke on this drum, computed"))
        self.listen.clicked.connect(self.listen_wanted)
        numbers = QWidget()
        layout = QVBoxLayout(numbers)
        layout.setContentsMargins(0, 10, 14, 0)
        layout.setSpacing(3)
        layout.addWidget(self._quiet(_("Drum pitch")))
        layout.addLayout(head)
        layout.addSpacing(6)
        layout.addLayout(self.table_grid)  # what a hand has to set comes before what it will do
        layout.addWidget(self.caution)
        layout.addWidget(self.assumed)
        layout.addSpacing(6)
        layout.addLayout(self.facts)
        layout.addSpacing(6)
        layout.addWidget(self._quiet(_("Selected partial")))
        layout.addWidget(self.partial)
        layout.addWidget(self.partial_facts)
        layout.addWidget(self.picture)
        layout.addStretch(1)
        last = FlowLayout(spacing=6)
        last.setContentsMargins(0, 0, 14, 10)
        last.addWidget(self.sheet)
        last.addWidget(self.listen)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scroll(numbers, None, 236), 1)
        whole.addLayout(last)

    def _quiet(self, text: str) -> QLabel:
        label = Label(text)
        label.setProperty("quiet", True)
        label.setWordWrap(True)
        return label

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        self.picture.set_colours(colours)
        self.set_state(self._result, self._a4, self._flats, self._plan, self._further, self._own)

    def set_state(
        self,
        result: BenchResult | None,
        a4_hz: float,
        flats: bool,
        plan: Planned | None = None,
        further: Further | None = None,
        own: OwnDrum | None = None,
    ) -> None:
        """Show a result and the plan that belongs to it, or that there is none."""
        self._plan, self._further, self._own = plan, further, own
        self._result, self._a4, self._flats = result, a4_hz, flats
        self.sheet.setEnabled(result is not None)
        self.listen.setEnabled(result is not None)
        caution = "" if result is None else caution_words(result)
        self.caution.setText(caution)
        self.caution.setVisible(bool(caution))
        if result is None:
            self.note.setText("…")
            self.off.clear()
            self.sure.clear()
            self._fill(self.facts, [])
            self._fill(self.table_grid, [])
            self.assumed.hide()
            self.set_partial(-1)
            return
        found, drum = result.prediction, result.drum
        index = found.partials.fundamental
        note = note_of(found.fundamental_hz, a4_hz)
        self.note.setText(note.name(flats))
        self.off.setText(note.deviation())
        c = self._colours
        whole = round(note.cents)
        colour = c.ink if whole == 0 else c.sharp if whole > 0 else c.flat
        self.off.setStyleSheet(f"color: {colour}")
        self.sure.setText(
            _("{hz} ± {uncertainty_cents:.0f} cents").format(
                hz=wording.hz_words(found.fundamental_hz),
                uncertainty_cents=found.uncertainty_cents[index],
            )
        )
        decay = wording.decay_words(float(found.struck_t60_s[index]), float(found.t60_error[index]))
        rows = [[_("Decay to −60 dB"), decay]]
        if len(drum.sides) == 2:
            cents = cents_between(*found.lug_pitches_hz)
            rows.append([_("Interval"), interval_words(drum, cents)])
        if own is not None:
            rows += own_rows(own, found.fundamental_hz, a4_hz, flats)
        if further is not None:
            rows += speaks_rows(further.speaks, a4_hz, flats)
            rows += port_rows(further.port)
            rows += wires_rows(further.wires)
        if self._plan is not None:
            rows += drift_rows(self._plan, drum)
        if len(drum.sides) == 2:
            rows.append([_("Tension, turns"), head_to_head_words(drum, found)])
        rows += self._stroke_rows(found, index)
        self._fill(self.facts, rows)
        table = [[_("Targets"), *(wording.side_word(drum, s) for s in drum.sides)]]
        table += [[r.caption, *r.values] for r in summary_rows(result, a4_hz, flats, self._plan)]
        ranges = [[r.caption, *r.values] for r in range_rows(result, a4_hz, flats)]
        table += [[_("Usable range"), *("" for _unused in drum.sides)], *ranges]
        titles = (0, len(table) - len(ranges) - 1)
        assumed = wording.assumed_words(drum)
        self.assumed.setText(_("Assumed: {names}.").format(names=assumed))
        self.assumed.setVisible(bool(assumed))
        self._fill(self.table_grid, table, titles)

    def _stroke_rows(self, found: Prediction, index: int) -> list[list[str]]:
        """What the stroke makes of the drum: decay, glide, level, and a line as loud."""
        first, early = float(found.glide_cents[index]), float(found.early_glide_cents[index])
        glide = (
            _("starts {first:.0f} cents sharp ({early:.0f} after 50 ms)").format(
                first=first, early=early
            )
            if first >= 1
            else _("no audible glide")
        )
        rows = [
            [_("Early decay"), wording.seconds_words(found.decay.early_s)],
            [
                _("This stroke"),
                _("{level:.0f} dB SPL at 1 m; {glide}").format(
                    level=found.level_spl_db, glide=glide
                ),
            ],
        ]
        for other in found.partials.rival.nonzero()[0].tolist():
            hz = float(found.partials.frequency_hz[other])
            note = wording.note_words(hz, self._a4, self._flats)
            rows.append([_("Equally loud"), f"{note}, {wording.hz_words(hz)}"])
        return rows

    def table(self) -> list[tuple[str, ...]]:
        """What the drum will sound like and what is to be set, as it stands there."""
        if self._result is None:
            return []
        note = (_("Drum pitch"), self.note.text(), self.off.text(), self.sure.text())
        return [note, *_rows_of(self.facts), *_rows_of(self.table_grid)]

    def set_heard(self, heard: HeardDrum | None) -> None:
        """What was heard of the drum: said beside the partial that is named."""
        if heard is not self._heard:
            self._heard = heard
            self.set_partial(self._partial)

    def _heard_words(self, index: int) -> list[str]:
        """What was heard of a partial of the result."""
        if self._heard is None or self._result is None:
            return []
        own, heard = self._result.prediction.partials, self._heard
        p = heard.found.partials
        named = (own.order[index], own.rank[index], own.branch[index])
        out = []
        for line, match in zip(heard.lines, heard.matching.matches, strict=True):
            at = match.partial
            if at is not None and (p.order[at], p.rank[at], p.branch[at]) == named:
                beat = beat_of(line)
                out.append(
                    _("measured {hz}, {cents}{early}, decay {ring}, {chance:.0f} % sure").format(
                        hz=wording.hz_words(line.hz),
                        cents=wording.cents_words(match.cents),
                        ring=wording.seconds_words(line.t60_s),
                        chance=100.0 * match.probability,
                        early=early_words(line.hz, line.early_hz),
                    )
                    + (
                        _("; beats {beat} times a second with its neighbor").format(beat=beat)
                        if beat
                        else ""
                    )
                )
        return out

    def set_partial(self, index: int) -> None:
        """Name one partial; -1 says how to."""
        result, self._partial = self._result, index
        self.picture.set_state(result, index)
        if result is None or index < 0:
            self.partial.setText("")
            self.partial_facts.setText(
                _("Point at a partial on the ladder, or use the arrow keys.")
            )
            return
        found = result.prediction
        p = found.partials
        order, rank = int(p.order[index]), int(p.rank[index])
        branch, hz = str(p.branch[index]), float(p.frequency_hz[index])
        names = (
            wording.side_word(result.drum, "batter"),
            wording.side_word(result.drum, "resonant"),
        )
        share = float(p.batter_share[index])
        title = "air" if branch == "air" else f"({order},{rank})"
        self.partial.setText(
            f"{title}   {wording.note_words(hz, self._a4, self._flats)}   {wording.hz_words(hz)}"
        )
        lines = [
            f"{wording.partial_words(order, rank, branch)}; "
            f"{wording.branch_words(branch, share, p.together(index), names)}",
            _("± {uncertainty_cents:.0f} cents, decay {decay}").format(
                uncertainty_cents=found.uncertainty_cents[index],
                decay=wording.decay_words(float(p.t60_s[index]), float(found.t60_error[index])),
            ),
        ]
        level = float(found.levels_db[index])
        lines.append(
            _("loudest partial of this stroke")
            if level > -0.05
            else _("{level:.0f} dB below the loudest partial").format(level=-level)
        )
        first, early = float(found.glide_cents[index]), float(found.early_glide_cents[index])
        if first >= 1.0:
            lines.append(
                _("starts {first:.0f} cents sharp ({early:.0f} after 50 ms)").format(
                    first=first, early=early
                )
            )
        if len(result.drum.sides) == 2:
            lines.append(
                _("{share:.0f} % of the motion in the {names}").format(
                    share=100 * share, names=names[0].lower()
                )
            )
        lines += self._heard_words(index)
        self.partial_facts.setText("\n".join(lines))

    def _fill(self, grid: QGridLayout, rows: list[list[str]], titles: tuple[int, ...] = ()) -> None:
        """Show rows of text, reusing the labels; the row after the first title is large."""
        wrapped = grid is self.facts  # its captions are sentences, those of the table are words
        for row, values in enumerate(rows):
            for column, text in enumerate(values):
                item = grid.itemAtPosition(row, column)
                label = item.widget() if item else None
                if not isinstance(label, QLabel):
                    label = Label()
                    label.setWordWrap(wrapped or column > 0)
                    grid.addWidget(label, row, column, Qt.AlignmentFlag.AlignTop)
                title = row in titles
                mark(label, "quiet", column == 0 and not title)
                large = bool(titles) and row == titles[0] + 1 and column > 0
                weight = QFont.Weight.DemiBold if title or large else QFont.Weight.Normal
                label.setFont(font(12 if large else 10, weight))
                if label.text() != text:
                    label.setText(text)
                label.show()
        for position in range(grid.count()):
            row, column, _unused, _unused = grid.getItemPosition(position)  # type: ignore[misc]
            if row >= len(rows) or column >= len(rows[row]):
                spare = grid.itemAt(position)
                if spare is not None and (widget := spare.widget()) is not None:
                    widget.hide()


def own_rows(own: OwnDrum, model_hz: float, a4_hz: float, flats: bool) -> list[list[str]]:
    """What the drum's own log says of its note and its ring, in words."""
    note = own.note
    if note is None:
        return []
    hz = model_hz * ratio_of(note.cents)
    rows = [
        [
            _("Log ({entries})").format(entries=wording.entries_words(note.count)),
            _("{note}, {hz} ± {total:.0f} cents; {cents} ± {half:.0f} cents off model").format(
                cents=wording.signed_words(note.cents),
                half=note.half_cents,
                note=wording.note_words(hz, a4_hz, flats),
                hz=wording.hz_words(hz),
                total=note.total_cents,
            ),
        ]
    ]
    if note.ring is not None:
        low, high = (note.ring * math.exp(side * note.ring_half) for side in (-1.0, 1.0))
        rows.append(
            [
                _("Decay ({entries})").format(entries=wording.entries_words(note.ring_count)),
                _("{factor:.2f} × model ({low:.2f} to {high:.2f})").format(
                    factor=note.ring, low=low, high=high
                ),
            ]
        )
    return rows


def _rows_of(grid: QGridLayout) -> list[tuple[str, ...]]:
    """What is to be read in a grid of labels, row by row."""
    rows = []
    for row in range(grid.rowCount()):
        items = (grid.itemAtPosition(row, column) for column in range(grid.columnCount()))
        labels = [item.widget() for item in items if item is not None]
        words = [x.text() for x in labels if isinstance(x, QLabel) and not x.isHidden()]
        if words:
            rows.append(tuple(words))
    return rows
