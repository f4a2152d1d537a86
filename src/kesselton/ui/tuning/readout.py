"""Right of the ladder: the number that matters now, what to set, how far it can go, one partial."""

from __future__ import annotations

import itertools
import math
from functools import lru_cache, partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QVBoxLayout, QWidget

from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.language import N_, _, figures
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.core.prediction.tempo import USUAL_BPM, falls
from kesselton.ui.parts.pictures.range_bar import RangeBar
from kesselton.ui.parts.widgets.columns import scroll, selectable
from kesselton.ui.parts.widgets.fields import mark
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.fold import Fold
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Copied, Picture
from kesselton.ui.parts.widgets.theme import LIGHT, Colours, font
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.result_rows import (
    Row,
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

    from kesselton.app.bench.after_answer import Further
    from kesselton.app.bench.learner import OwnDrum
    from kesselton.app.bench.measuring import Planned
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.core.instrument.drum import Drum
    from kesselton.core.prediction.port import PortView
    from kesselton.core.prediction.prediction import Prediction
    from kesselton.core.prediction.speaks import Speaking


Below = tuple[str, str, str, tuple[tuple[str, ...], ...]]
"""Of a row that opens: key, title, gist, cells."""
TURNED = ("pitch", "hz", "gauge", "turns", "pull", "rope")
"""What a hand reads or turns: it stands on the card, the rest below."""
LONGEST_S = 4.0
"""A decay that fills its bar."""
BECAUSE = {
    "film_mass": N_("mass of the heads"),
    "tension": N_("tension"),
    "radius": N_("edge and diameter"),
    "outside": N_("air outside"),
    "inside": N_("air inside"),
    "numeric": N_("rounding"),
    "recoil": N_("shell"),
    "guessed": N_("guessed fields"),
}
"""Parts of the budget, in words."""


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
            self._names = tuple(wording.side_inside(result.drum, s) for s in result.drum.sides)
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
            p.drawText(QRectF(x + 68, 18, 58, 34), Qt.TextFlag.TextWordWrap, self._names[place])


def mode_images(result: BenchResult, index: int, size: int) -> list[QImage]:
    """A round picture of the displacement of each head, greys only."""
    import numpy as np

    partials = result.prediction.partials
    order = int(partials.order[index])
    system = partials.system
    s, functions = _disc(order, system.ends[0].functions, size)
    shapes = []
    for part, end in zip(system.slices, system.ends, strict=True):
        if end.head is None:
            continue
        shapes.append(functions @ partials.shape[index, part].real)
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


def sweet_words(sweet_spot: Speaking, a4_hz: float, flats: bool) -> str:
    """From where to where the drum speaks, and what ends it there."""
    assert sweet_spot.low is not None
    assert sweet_spot.high is not None
    low, high = (
        _("{note} ({why})").format(
            note=note_of(end.fundamental_hz, a4_hz).name(flats), why=end.label
        )
        for end in (sweet_spot.low, sweet_spot.high)
    )
    return _("{low} to {high}").format(low=low, high=high)


def why_words(prediction: Prediction) -> tuple[str, tuple[tuple[str, ...], ...]]:
    """What makes the drum pitch unsure: the largest three in a line, and all of them."""
    budget, at = prediction.budget, prediction.partials.fundamental
    parts = sorted(
        ((float(cents[at]), _(BECAUSE[name])) for name, cents in vars(budget).items()), reverse=True
    )
    results = [(cents, why) for cents, why in parts if cents >= 0.5]
    gist = ", ".join(f"{why} {figures(cents, '.0f')}" for cents, why in results[:3])
    cells = tuple((why, _("{cents:.0f} cents").format(cents=cents)) for cents, why in results)
    return gist, cells


def port_rows(port_view: PortView | None) -> list[list[str]]:
    """What the port changes against the same heads uncut, and what a microphone inside hears."""
    if port_view is None:
        return []
    change = _(
        "{cents:+.0f} cents, {level:+.1f} dB; early decay {early:+.0f} %, decay {ring:+.0f} %"
    ).format(
        cents=port_view.note_cents,
        level=port_view.level_db,
        early=100.0 * (port_view.early - 1.0),
        ring=100.0 * (port_view.ring - 1.0),
    )
    inside = _("{inside} at a mic inside, {outside} at 1 m").format(
        inside=wording.seconds_words(port_view.boom_inside_s),
        outside=wording.seconds_words(port_view.boom_outside_s),
    )
    return [[_("Effect of port"), change.replace("-", "−")], [_("Boom, −20 dB"), inside]]


def head_to_head_words(drum: Drum, prediction: Prediction) -> str:
    """The two heads against each other by tension and by turns, or what one pull leaves open."""
    from kesselton.core.measure.head_to_head import standing

    stand = standing(drum, prediction.tensions_n_per_m, prediction.lug_pitches_hz)
    share = 100.0 * abs(math.expm1(abs(math.log(stand.pull))))
    side = wording.side_inside(drum, "resonant" if stand.pull > 1.0 else "batter")
    most, alike = drum.one_pull, share < 0.5
    if most is not None:
        message = (
            _("equal tension, one pull; friction holds ± {most:.0f} %")
            if alike
            else _("{side} {share:.0f} % tighter, by hand; friction holds up to {most:.0f} %")
        )
        if share > 100.0 * most + 1.0:
            message = _(
                "{side} {share:.0f} % tighter, but friction holds only "
                "{most:.0f} %: read both heads again, or choose “equal pull”"
            )
        elif sum(drum.setting(side).reading is not None for side in drum.sides) == 1:
            message += _("; only one head read, included in the ±")
        return message.format(side=side, share=share, most=100.0 * most)
    turns = (
        f"{figures(max(1.0 / stand.turns, 1.0), '.2g')} : {figures(max(stand.turns, 1.0), '.2g')}"
    )
    message = (
        _("equal tension; turns {turns}")
        if alike
        else _("{side} {share:.0f} % tighter; turns {turns}")
    )
    return message.format(side=side, share=share, turns=turns)


def _level_words(db: float) -> str:
    """A level against another: "−5 dB", "same"."""
    return _("same") if abs(db) < 0.5 else _("{db:+.0f} dB").format(db=db)


class Readout(Copied):
    """The right-hand column.

    Signals
    -------
    sheet_wanted : the tuning sheet is asked for; listen_wanted : a stroke is
    keep_wanted : the setting is to be added to the log
    opened(tuple keys) : a row was opened or closed; all that are open now
    """

    main = False
    sheet_wanted = Signal()
    listen_wanted = Signal()
    keep_wanted = Signal()
    opened = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._start_empty()
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
        self._make_targets()
        card = QVBoxLayout(self.targets)
        card.setContentsMargins(12, 10, 12, 10)
        card.setSpacing(6)
        card.addLayout(self.table_grid)
        card.addWidget(self.interval)
        card.addWidget(self.caution)
        self.decay = RangeBar(_("Decay"), _("Time to −60 dB"))
        self.sweet = RangeBar(_("Sweet spot"))
        self.folds: dict[str, Fold] = {}
        self._opened: frozenset[str] = frozenset()
        self._folds = QVBoxLayout()
        self._folds.setSpacing(0)
        self._make_foot()
        numbers = QWidget()
        layout = QVBoxLayout(numbers)
        layout.setContentsMargins(0, 10, 14, 0)
        layout.setSpacing(4)
        layout.addWidget(self._quiet(_("Drum pitch")))
        layout.addLayout(head)
        layout.addSpacing(4)
        layout.addWidget(self.targets)  # what a hand has to set comes before what it will do
        layout.addSpacing(4)
        layout.addWidget(self.decay)
        layout.addWidget(self.sweet)
        layout.addLayout(self._folds)
        layout.addWidget(self.assumed)
        layout.addSpacing(4)
        layout.addWidget(self.partial)
        layout.addWidget(self.partial_facts)
        layout.addWidget(self.picture)
        layout.addStretch(1)
        last = FlowLayout(spacing=6)
        last.setContentsMargins(0, 0, 14, 10)
        for button in (self.sheet, self.listen, self.keep):
            last.addWidget(button)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scroll(numbers, None, 236), 1)
        whole.addLayout(last)

    def _start_empty(self) -> None:
        self._result: BenchResult | None = None
        self._plan: Planned | None = None
        self._further: Further | None = None
        self._own: OwnDrum | None = None
        self._heard: HeardDrum | None = None
        self._partial = -1
        self._a4, self._flats = 440.0, False
        self._colours = LIGHT
        self.tempo_bpm = USUAL_BPM

    def _make_foot(self) -> None:
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
        self.keep = Button(_("Add to log (K)"), tip=_("Keep this setting in the log of the drum"))
        self.keep.clicked.connect(self.keep_wanted)

    def _make_targets(self) -> None:
        self.caution = Label()
        self.caution.setProperty("fault", True)
        self.caution.setWordWrap(True)
        self.caution.hide()
        self.interval = Label()
        self.interval.setWordWrap(True)
        self.targets = QFrame()
        self.targets.setObjectName("card")
        self.table_grid = QGridLayout()
        self.table_grid.setVerticalSpacing(3)
        self.table_grid.setHorizontalSpacing(8)
        for column, share in enumerate((4, 5, 5)):
            self.table_grid.setColumnStretch(column, share)

    def _quiet(self, text: str) -> QLabel:
        label = Label(text)
        label.setProperty("quiet", True)
        label.setWordWrap(True)
        return label

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        for picture in (self.picture, self.decay, self.sweet):
            picture.set_colours(colours)
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
        for part in (self.targets, self.decay, self.sweet):
            part.setVisible(result is not None)
        if result is None:
            self.note.setText("…")
            self.off.clear()
            self.sure.clear()
            self._fill(self.table_grid, [])
            self._show_folds([])
            self.assumed.hide()
            self.set_partial(-1)
            return
        prediction, drum = result.prediction, result.drum
        index = prediction.partials.fundamental
        note = note_of(prediction.fundamental_hz, a4_hz)
        self.note.setText(note.name(flats))
        self.off.setText(note.deviation())
        c = self._colours
        whole = round(note.cents)
        colour = c.ink if whole == 0 else c.sharp if whole > 0 else c.flat
        self.off.setStyleSheet(f"color: {colour}")
        self.sure.setText(
            _("{hz} ± {uncertainty_cents:.0f} cents").format(
                hz=wording.hz_words(prediction.fundamental_hz),
                uncertainty_cents=prediction.uncertainty_cents[index],
            )
        )
        self._show_bars(prediction, index)
        two = len(drum.sides) == 2
        cents = cents_between(*prediction.lug_pitches_hz) if two else 0.0
        self.interval.setText(interval_words(drum, cents) if two else "")
        self.interval.setVisible(two)
        names = [wording.side_word(drum, side) for side in drum.sides]
        rows = summary_rows(result, a4_hz, flats, self._plan)
        hands = [row for row in rows if row.key in TURNED]
        table = [[_("Set to"), *names], *([row.caption, *row.values] for row in hands)]
        self._fill(self.table_grid, table)
        self._show_folds(self._rows_below(result, [row for row in rows if row.key not in TURNED]))
        assumed = wording.assumed_words(drum)
        self.assumed.setText(_("Assumed: {names}.").format(names=assumed))
        self.assumed.setVisible(bool(assumed))

    def _show_bars(self, prediction: Prediction, index: int) -> None:
        """How long it rings, and where it stands within what it speaks in."""
        seconds, error = float(prediction.struck_t60_s[index]), float(prediction.t60_error[index])
        self.decay.set_state(
            wording.decay_words(seconds, error), 0.0, min(seconds / LONGEST_S, 1.0)
        )
        speaks = None if self._further is None else self._further.speaks
        if speaks is None:
            self.sweet.set_state("…", math.nan, math.nan)
        elif speaks.low is None or speaks.high is None:
            self.sweet.set_state(_("none: {why}").format(why=speaks.never), math.nan, math.nan)
        else:
            low, high, now = (
                math.log2(hz)
                for hz in (
                    speaks.low.fundamental_hz, speaks.high.fundamental_hz,
                    prediction.fundamental_hz,
                )
            )  # fmt: skip
            least, most = min(low, now) - 0.25, max(high, now) + 0.25
            shares = ((x - least) / (most - least) for x in (low, high, now))
            self.sweet.set_state(sweet_words(speaks, self._a4, self._flats), *shares)

    def _rows_below(self, result: BenchResult, more: list[Row]) -> list[Below]:
        """What is told in rows that open: key, title, gist, cells."""
        drum, prediction = result.drum, result.prediction
        index = prediction.partials.fundamental
        names = tuple(wording.side_word(drum, side) for side in drum.sides)
        out: list[Below] = []
        if self._own is not None:
            out += [
                (f"log{place}", title, text, ())
                for place, (title, text) in enumerate(
                    own_rows(self._own, prediction.fundamental_hz, self._a4, self._flats)
                )
            ]
        further = self._further
        if further is not None:
            if further.recut is not None:
                out.append(self._recut_row(prediction, further))
            wires, port = wires_rows(further.wires), port_rows(further.port)
            for key, rows in (("wires", wires), ("port", port)):
                if rows:
                    cells = () if len(rows) == 1 else tuple(tuple(row) for row in rows)
                    out.append((key, rows[0][0], rows[0][1], cells))
        if self._plan is not None:
            for place, (title, text) in enumerate(drift_rows(self._plan, drum)):
                out.append((f"drift{place}", title, text, ()))
        if len(drum.sides) == 2:
            out.append(("heads", _("Head against head"), head_to_head_words(drum, prediction), ()))
        tensions = next((row for row in more if row.key == "tension"), None)
        if tensions is not None:
            cells = (("", *names), *((row.caption, *row.values) for row in more))
            out.append(
                ("tension", _("Tension, torque, stress"), " | ".join(tensions.values), cells)
            )
        ranges = range_rows(result, self._a4, self._flats)
        gist = " | ".join(
            _("{low} to {high}").format(low=low.partition(",")[0], high=high.partition(",")[0])
            for high, low in zip(*(row.values for row in ranges), strict=True)
        )
        cells = (("", *names), *((row.caption, *row.values) for row in ranges))
        out.append(("range", _("Usable range"), gist, cells))
        out.append(self._tempo_row(prediction))
        if further is not None and further.strokes:
            out.append(self._passage_row(prediction, further))
        stroke = self._stroke_rows(prediction, index)
        out.append(("stroke", _("This stroke"), stroke[1][1], tuple(tuple(row) for row in stroke)))
        out.append(("sure", _("How sure, and why"), *why_words(prediction)))
        return out

    def _tempo_row(self, prediction: Prediction) -> Below:
        """What is left of a stroke when the next comes, at the tempo of the fastest part."""
        rows = falls(prediction.decay.early_s, self.tempo_bpm)
        last = rows[-1]
        gist = _("{note} fall {db:.0f} dB: {words}").format(
            note=last.note, db=last.db, words=last.words
        )
        cells = tuple(
            (candidate.note, _("{ms:.0f} ms").format(ms=1e3 * candidate.seconds),
             _("{db:.0f} dB").format(db=candidate.db), candidate.words)
            for candidate in rows
        )  # fmt: skip
        title = _("At {tempo:.0f} beats a minute").format(tempo=self.tempo_bpm)
        more = (_("The tempo is set on the page Set, and in Preferences."),)
        return ("tempo", title, gist, (*cells, more))

    def _passage_row(self, prediction: Prediction, further: Further) -> Below:
        """Beater and strike point for a passage, with what they change against the stroke now."""
        from kesselton.core.prediction.passage import ATTACKS, LEVELS, proposed

        cells = [(_("Passage"), _("Beater"), _("Level"), _("Decay"))]
        for attack, level in itertools.product(ATTACKS, LEVELS):
            best = proposed(further.strokes, attack, level)[0]
            beater = _(BEATERS[best.stroke.beater].label)
            cells.append(
                (
                    _("{attack}, {level}").format(attack=ATTACKS[attack], level=LEVELS[level]),
                    _("{beater}, {place}").format(
                        beater=beater, place=wording.place_words(best.stroke.place)
                    ),
                    _level_words(best.level_db - prediction.level_spl_db),
                    wording.seconds_words(best.early_s),
                )
            )
        gist = _("articulate and soft: {stroke}").format(stroke=cells[1][1])
        more = (_("At the touch set here. Levels against the stroke as it is now."),)
        return ("passage", _("Beater for a passage"), gist, (*cells, more))

    def _recut_row(self, prediction: Prediction, further: Further) -> Below:
        """What a proper edge would buy, before and after."""
        assert further.recut is not None
        then = further.recut
        seconds = [
            wording.seconds_words(value)
            for value in (
                float(prediction.struck_t60_s[prediction.partials.fundamental]),
                then.ring_s,
            )
        ]
        bands = [
            _("none: {why}").format(why=sweet_spot.never)
            if sweet_spot.low is None
            else sweet_words(sweet_spot, self._a4, self._flats)
            for sweet_spot in (further.speaks, then.speaks)
        ]
        pitches = [
            wording.hz_words(value) for value in (prediction.fundamental_hz, then.fundamental_hz)
        ]
        gist = _("decay {now} to {then}").format(now=seconds[0], then=seconds[1])
        cells = (
            ("", _("as it is"), _("with a sound edge")),
            (_("Decay"), *seconds),
            (_("Sweet spot"), *bands),
            (_("Drum pitch"), *pitches),
            (_("A cut takes wood for good: leave it to someone who cuts edges."),),
        )
        return ("recut", _("What a proper edge would buy"), gist, cells)

    def _show_folds(self, rows: list[Below]) -> None:
        """One row each, in order; those of before are used again."""
        before, self.folds = self.folds, {}
        for place, (key, title, gist, cells) in enumerate(rows):
            fold = before.pop(key, None)
            if fold is None:
                fold = Fold(title)
                fold.set_open(key in self._opened)
                fold.turned.connect(partial(self._on_turned, key))
            if self._folds.indexOf(fold) != place:
                self._folds.insertWidget(place, fold)
            self.folds[key] = fold
            fold.set_state(title, gist, cells)
        for fold in before.values():
            self._folds.removeWidget(fold)
            fold.hide()
            fold.deleteLater()

    def set_opened(self, keys: frozenset[str]) -> None:
        """Which rows are open."""
        self._opened = keys
        for key, fold in self.folds.items():
            if fold.is_open != (key in keys):
                fold.set_open(key in keys)

    def _on_turned(self, key: str, on: bool) -> None:
        self._opened = self._opened | {key} if on else self._opened - {key}
        self.opened.emit(tuple(sorted(self._opened)))

    def _stroke_rows(self, prediction: Prediction, index: int) -> list[list[str]]:
        """What the stroke makes of the drum: decay, glide, level, and a line as loud."""
        first, early = (
            float(prediction.glide_cents[index]),
            float(prediction.early_glide_cents[index]),
        )
        glide = (
            _("starts {first:.0f} cents sharp ({early:.0f} after 50 ms)").format(
                first=first, early=early
            )
            if first >= 1
            else _("no audible glide")
        )
        rows = [
            [_("Early decay"), wording.seconds_words(prediction.decay.early_s)],
            [
                _("This stroke"),
                _("{level:.0f} dB SPL at 1 m; {glide}").format(
                    level=prediction.level_spl_db, glide=glide
                ),
            ],
        ]
        for other in prediction.partials.rival.nonzero()[0].tolist():
            hz = float(prediction.partials.frequency_hz[other])
            note = wording.note_words(hz, self._a4, self._flats)
            rows.append([_("Equally loud"), f"{note}, {wording.hz_words(hz)}"])
        return rows

    def table(self) -> list[tuple[str, ...]]:
        """What the drum will sound like and what is to be set, as it stands there."""
        if self._result is None:
            return []
        note = (_("Drum pitch"), self.note.text(), self.off.text(), self.sure.text())
        interval = (_("Interval"), self.interval.text())
        below = [
            (fold.title, *row) if len(row) == 1 else row
            for fold in self.folds.values()
            for row in fold.rows
        ]
        bars = [row for bar in (self.decay, self.sweet) for row in bar.table()]
        return [note, *_rows_of(self.table_grid), interval, *bars, *below]

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
        p = heard.prediction.partials
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
        prediction = result.prediction
        p = prediction.partials
        order, rank = int(p.order[index]), int(p.rank[index])
        branch, hz = str(p.branch[index]), float(p.frequency_hz[index])
        names = (
            wording.side_inside(result.drum, "batter"),
            wording.side_inside(result.drum, "resonant"),
        )
        share = float(p.batter_share[index])
        title = _("air") if branch == "air" else f"({order},{rank})"
        self.partial.setText(
            f"{title}   {wording.note_words(hz, self._a4, self._flats)}   {wording.hz_words(hz)}"
        )
        lines = [
            f"{wording.partial_words(order, rank, branch)}; "
            f"{wording.branch_words(branch, share, p.together(index), names)}",
            _("± {uncertainty_cents:.0f} cents, decay {decay}").format(
                uncertainty_cents=prediction.uncertainty_cents[index],
                decay=wording.decay_words(
                    float(p.t60_s[index]), float(prediction.t60_error[index])
                ),
            ),
        ]
        level = float(prediction.levels_db[index])
        lines.append(
            _("loudest partial of this stroke")
            if level > -0.05
            else _("{level:.0f} dB below the loudest partial").format(level=-level)
        )
        first, early = (
            float(prediction.glide_cents[index]),
            float(prediction.early_glide_cents[index]),
        )
        if first >= 1.0:
            lines.append(
                _("starts {first:.0f} cents sharp ({early:.0f} after 50 ms)").format(
                    first=first, early=early
                )
            )
        if len(result.drum.sides) == 2:
            lines.append(
                _("{share:.0f} % of the motion in the {names}").format(
                    share=100 * share, names=names[0]
                )
            )
        lines += self._heard_words(index)
        self.partial_facts.setText("\n".join(lines))

    def _fill(self, grid: QGridLayout, rows: list[list[str]]) -> None:
        """Show rows of text, reusing the labels; the row after the title is large."""
        for row, values in enumerate(rows):
            for column, text in enumerate(values):
                item = grid.itemAtPosition(row, column)
                label = item.widget() if item else None
                if not isinstance(label, QLabel):
                    label = Label()
                    label.setWordWrap(True)
                    grid.addWidget(label, row, column, Qt.AlignmentFlag.AlignTop)
                large = row == 1 and column > 0
                title = row == 0 and column == 0
                mark(label, "quiet", column == 0 and not title)
                weight = QFont.Weight.DemiBold if row == 0 or large else QFont.Weight.Normal
                label.setFont(font(13 if large else 10, weight))
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
