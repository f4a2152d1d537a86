"""The gauges of the workshop: calibrate a dial by pairs of dial and pitch; the torque key."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from kesselton.app.bench.measuring import calibration
from kesselton.core import constants as const
from kesselton.core.cautions import RODS_UNDER_LOAD
from kesselton.core.constants import SIGMAS_90
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, DialPair, TorqueKey
from kesselton.core.language import N_, _, choices, each, figures
from kesselton.store.workshop.holdings import Workshop
from kesselton.ui.parts.widgets.columns import (
    clear,
    column,
    fault_label,
    narrow,
    scroll,
    selectable,
)
from kesselton.ui.parts.widgets.fields import Choice, number_field, pitch_field
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.inputs import AddLine, Button, Line
from kesselton.ui.parts.widgets.labels import Label, MarkedLabel
from kesselton.ui.parts.widgets.picture import Picture, hint, ticks
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.measure.gauges import DialFit

PAIR_CAPTIONS = (N_("div"), N_("N/m"), N_("mm"), N_("read on"))

LEFT, BOTTOM, TOP, RIGHT = 58.0, 34.0, 12.0, 14.0
RESIDUALS = 70.0
FRICTION_WORDS = (("lubricated", N_("lubricated")), ("dry", N_("dry")))

REACH = 16.0
WORD = 32.0
"""Pixels a number takes."""


class DialPicture(Picture):
    """Reading against tension: the pairs, the curve with its doubt, what is left over below.

    Signals
    -------
    taken_out(int place) : a pair is to be taken out
    """

    taken_out = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Gauge calibration"))
        self.setMinimumHeight(280)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._dial: Dial | None = None
        self._fit: DialFit | None = None
        self._placed: list[QPointF] = []
        self._chosen = -1

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(460, 380)

    def set_state(self, dial: Dial | None, fit: DialFit | None) -> None:
        """Show a dial."""
        self._dial, self._fit = dial, fit
        self._placed = []
        self.update()

    @safe_override
    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click takes a pair in hand; Delete takes it out."""
        away = [(point - event.position()).manhattanLength() for point in self._placed]
        near = [place for place, far in enumerate(away) if far < REACH]
        self._chosen = min(near, key=lambda place: away[place]) if near else -1
        self.setFocus()
        self.update()

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        order = sorted(range(len(self._placed)), key=lambda place: self._placed[place].x())
        if event.key() in steps and order:
            at = order.index(self._chosen) + steps[Qt.Key(event.key())] if self._chosen >= 0 else 0
            self._chosen = order[min(max(at, 0), len(order) - 1)]
            self.update()
        elif event.key() == Qt.Key.Key_Delete and self._chosen >= 0:
            place, self._chosen = self._chosen, -1
            self.taken_out.emit(place)
        else:
            super().keyPressEvent(event)

    def table(self) -> list[tuple[str, ...]]:
        """The pairs."""
        pairs = self._dial.pairs if self._dial else ()
        rows = [
            (f"{x.dial:g}", f"{x.tension_n_per_m:.0f}", f"{1e3 * x.thickness_m:.3f}", x.name)
            for x in pairs
        ]
        return [each(PAIR_CAPTIONS), *rows] if rows else []

    def _paint(self, p: QPainter) -> None:
        c = self._colours
        pairs = self._dial.pairs if self._dial else ()
        box = QRectF(
            LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM - RESIDUALS
        )
        p.fillRect(box, QColor(c.panel))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawRect(box)
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        if not pairs:
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, _("No pairs yet"))
            return
        tensions = [pair.tension_n_per_m for pair in pairs]
        low, high = 0.8 * min(tensions), 1.2 * max(tensions)
        readings = [pair.dial for pair in pairs]
        bottom, top = min(readings) - 6.0, max(readings) + 6.0

        def at(tension: float, dial: float) -> QPointF:
            x = box.left() + (tension - low) / (high - low) * box.width()
            y = box.bottom() - (dial - bottom) / (top - bottom) * box.height()
            return QPointF(x, y)

        middle = Qt.AlignmentFlag.AlignHCenter
        for tension in ticks(low, high, max(int(box.width() / 72), 1)):
            x = at(tension, bottom).x()
            p.fillRect(QRectF(x - 0.5, box.top(), 1, box.height()), QColor(c.line))
            p.drawText(QRectF(x - 40, box.bottom() + 4, 80, 16), middle, figures(tension, ".0f"))
        for dial in ticks(bottom, top, 8):
            y = at(low, dial).y()
            p.fillRect(QRectF(box.left(), y - 0.5, box.width(), 1), QColor(c.line))
            p.drawText(
                QRectF(0, y - 8, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight, figures(dial, ".0f")
            )
        p.drawText(QRectF(0, box.bottom() + 16, self.width(), 16), middle, _("Tension, N/m"))
        fit = self._fit
        if fit is not None:
            self._paint_fit(p, box, fit, [low + (high - low) * i / 60 for i in range(61)], at)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.ink))
        self._placed = [at(pair.tension_n_per_m, pair.dial) for pair in pairs]
        for point in self._placed:
            p.drawEllipse(point, 4, 4)
        if 0 <= self._chosen < len(self._placed):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(c.accent), 2))
            p.drawEllipse(self._placed[self._chosen], 9, 9)
            p.setPen(QColor(c.soft_ink))
            p.drawText(
                box.adjusted(8, 6, -8, 0), Qt.AlignmentFlag.AlignLeft, _("Delete removes this pair")
            )
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(c.accent), 1.5))
            p.drawRect(box)
        if fit is not None:
            self._paint_left_over(p, box, fit, [at(t, bottom).x() for t in tensions])

    def _paint_fit(
        self,
        p: QPainter,
        box: QRectF,
        fit: DialFit,
        steps: list[float],
        at: Callable[[float, float], QPointF],
    ) -> None:
        """The curve over tensions, and how sure it is."""
        thick = sum(fit.thicknesses_m) / 2.0
        band = QColor(self._colours.accent)
        band.setAlphaF(0.14)
        upper = [at(t, fit.reading(t, thick) + SIGMAS_90 * fit.spread(t, thick)) for t in steps]
        lower = [at(t, fit.reading(t, thick) - SIGMAS_90 * fit.spread(t, thick)) for t in steps]
        p.save()
        p.setClipRect(box)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(band)
        p.drawPolygon([*upper, *reversed(lower)])
        p.setPen(QPen(QColor(self._colours.accent), 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline([at(t, fit.reading(t, thick)) for t in steps])
        p.restore()

    def _paint_left_over(self, p: QPainter, box: QRectF, fit: DialFit, x: list[float]) -> None:
        """What the curve leaves of each pair, in divisions, as stems."""
        c = self._colours
        zero = self.height() - RESIDUALS / 2.0
        scale = (RESIDUALS / 2.0 - 8.0) / max(2.0, float(abs(fit.residual).max()))
        p.setPen(QPen(QColor(c.line), 1))
        p.drawLine(QPointF(box.left(), zero), QPointF(box.right(), zero))
        p.setFont(font(8.5))
        p.setPen(QColor(c.soft_ink))
        title = QRectF(6, zero - 40, self.width() - 12, 16)  # over what it is of: words differ
        p.drawText(title, Qt.AlignmentFlag.AlignLeft, _("Residuals"))
        taken = {True: -1e3, False: -1e3}  # where the last word over and under the line ends
        for place, rest in sorted(zip(x, fit.residual.tolist(), strict=True)):
            p.setPen(QPen(QColor(c.sharp if rest > 0 else c.flat), 2))
            p.drawLine(QPointF(place, zero), QPointF(place, zero - rest * scale))
            if place - WORD / 2 < taken[rest > 0]:
                continue  # no room: the stem says it
            taken[rest > 0] = place + WORD / 2
            p.drawText(
                QRectF(place - 20, zero - rest * scale - (14 if rest > 0 else -1), 40, 14),
                Qt.AlignmentFlag.AlignHCenter,
                figures(rest, "+.1f"),
            )


class GaugesPage(QWidget):
    """Register of dials and torque keys; the first of each is the one in hand.

    Signals
    -------
    gauges_changed(str label, tuple of Dial, tuple of TorqueKey)
    renamed(str old, str new) : a gauge, also in the readings taken by it
    said(str in words) : a gauge was removed
    """

    gauges_changed = Signal(str, object, object)
    renamed = Signal(str, str)
    notice = Signal(str)

    def __init__(
        self, a4: Callable[[], float], show: Callable[[float], str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._workshop: Workshop | None = None
        self._drum: Drum | None = None
        self._drum_id = 0
        self._waits: dict[int, tuple[float | None, float | None]] = {}
        self._side = "batter"
        self.picture = DialPicture()
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(20)
        across.addWidget(narrow(scroll(self._make_dial(a4, show)), 480), 36)
        across.addWidget(scroll(self._make_fit()), 44)
        across.addWidget(narrow(scroll(self._make_key()), 360), 26)

    def _make_dial(self, a4: Callable[[], float], show: Callable[[float], str]) -> QWidget:
        part, box = column(_("Tension gauge"))
        self.dial = Choice(_("Gauge"))
        self.dial.chosen.connect(self._on_dial)
        self.name = AddLine()
        self.name.setPlaceholderText(_("name of new gauge"))
        self.name.setAccessibleName(_("Name of new gauge"))
        self.name.returnPressed.connect(self.add_dial)
        self.reading = number_field(_("Gauge reading"), 0.0, 200.0, "", 1)
        self.side = Choice(_("On head"))
        self.side.chosen.connect(self._on_side)
        self.pitch = pitch_field(
            _("Lug pitch"), const.LOWEST_PITCH_HZ, const.HIGHEST_PITCH_HZ, a4, show, optional=True
        )
        for field in (self.reading, self.pitch):
            field.edited.connect(field.set_state)
        self.reading.entered.connect(self.pitch.line.setFocus)
        self.pitch.entered.connect(self.add_pair)
        self.picture.taken_out.connect(self.remove_pair)
        add = Button(
            _("Add pair"), tip=_("Gauge reading and lug pitch of this head calibrate the gauge")
        )
        add.clicked.connect(self.add_pair)
        self.fault = fault_label()
        hint = Label(
            _(
                "Read the gauge 25 mm (1 in) from the edge at a rod, then the "
                "lug pitch there, other head muted. You need at least two "
                "tensions a whole step apart; four, on heads of two "
                "thicknesses, also calibrate for thickness."
            )
        )
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        grid = QGridLayout()
        grid.addWidget(self.dial, 0, 0)
        grid.addWidget(self.name, 0, 1, Qt.AlignmentFlag.AlignBottom)
        grid.addLayout(self._dial_buttons(), 1, 0, 1, 2)
        grid.addWidget(self.reading, 2, 0)
        grid.addWidget(self.side, 2, 1)
        grid.addWidget(self.pitch, 3, 0)
        grid.addWidget(add, 3, 1, Qt.AlignmentFlag.AlignBottom)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        box.addLayout(grid)
        box.addWidget(self.fault)
        box.addWidget(hint)
        self.rows = QGridLayout()
        self.rows.setColumnStretch(0, 1)
        box.addLayout(self.rows)
        box.addStretch(1)
        return part

    def _dial_buttons(self) -> FlowLayout:
        new = Button(_("Add gauge"), tip=_("New gauge with the name entered beside"))
        new.clicked.connect(self.add_dial)
        self.rename, self.drop = (
            Button(
                _("Rename"), tip=_("Rename this gauge to the name entered, in its readings too")
            ),
            Button(_("Remove gauge"), tip=_("Remove this gauge; Undo restores it")),
        )
        self.rename.clicked.connect(self.rename_dial)
        self.drop.clicked.connect(self.remove_dial)
        ways = FlowLayout(spacing=6)
        for button in (new, self.rename, self.drop):
            ways.addWidget(button)
        return ways

    def _make_fit(self) -> QWidget:
        part, box = column(_("Calibration"))
        self.result = selectable(MarkedLabel())
        self.result.setWordWrap(True)
        box.addWidget(self.result)
        box.addWidget(self.picture, 1)
        return part

    def _make_key(self) -> QWidget:
        part, box = column(_("Torque key"))
        self.key_name = Line()
        self.key_name.setPlaceholderText(_("name of key"))
        self.key_name.setAccessibleName(_("Name of torque key"))
        self.key_name.editingFinished.connect(self._on_key)
        self.friction = Choice(_("Rod threads"))
        self.friction.set_options(list(choices(FRICTION_WORDS)))
        self.friction.chosen.connect(self._on_friction)
        self.most = number_field(_("Full scale"), 0.1, 20.0, "N m", 1)
        self.most.edited.connect(self._on_most)
        note = Label(
            _(
                "Friction takes most of the torque and varies by a quarter, so "
                "a torque key is the least reliable gauge. Use it to get "
                "close, never to clear a head. "
            )
            + _(RODS_UNDER_LOAD)
        )
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        self.key = Choice(_("Current torque key"))
        self.key.chosen.connect(self._on_key_chosen)
        new, drop = (
            Button(_("Add key"), tip=_("Another torque key")),
            Button(_("Remove key"), tip=_("Remove this key; Undo restores it")),
        )
        new.clicked.connect(self.add_key)
        drop.clicked.connect(self.remove_key)
        ways = FlowLayout(spacing=6)
        ways.addWidget(new)
        ways.addWidget(drop)
        box.addWidget(self.key)
        box.addLayout(ways)
        for widget in (self.key_name, self.friction, self.most, note):
            box.addWidget(widget)
        box.addStretch(1)
        return part

    def stop(self) -> None:
        """Nothing runs here."""

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.picture.set_colours(colours)

    def set_state(self, drum: Drum | None, drum_id: int, workshop: Workshop) -> None:
        """Show the register; half a pair that was read on another drum waits for that."""
        if drum_id != self._drum_id:
            self.fault.hide()
            half = (self.reading.value, self.pitch.value)
            if half != (None, None):
                self._waits[self._drum_id] = half
            for field, value in zip(
                (self.reading, self.pitch), self._waits.pop(drum_id, (None, None)), strict=True
            ):
                field.set_state(value)
                field.revert()
        self._drum, self._drum_id, self._workshop = drum, drum_id, workshop
        current = workshop.dials[0] if workshop.dials else None
        self.dial.set_options([(dial.name, dial.name) for dial in workshop.dials])
        self.dial.set_state(current.name if current else None)
        if drum is not None:
            self.side.set_options([(s, wording.side_word(drum, s)) for s in drum.sides])
            if self._side not in drum.sides:
                self._side = "batter"
            self.side.set_state(self._side)
        key = workshop.keys[0] if workshop.keys else TorqueKey("")
        self.key.set_options([(torque_key.name, torque_key.name) for torque_key in workshop.keys])
        self.key.set_state(key.name)
        if not self.key_name.unsent:
            self.key_name.show_text(key.name)
        self.friction.set_state(key.friction)
        self.most.set_state(key.most_nm)
        self._fill(current)

    def _fill(self, dial: Dial | None) -> None:
        clear(self.rows)
        for row, pair in enumerate(dial.pairs if dial else ()):
            text = MarkedLabel(
                _("<b>{dial:g}</b> at {tension_n_per_m:.0f} N/m · {name}"),
                dial=pair.dial,
                tension_n_per_m=pair.tension_n_per_m,
                name=pair.name,
            )
            text.setWordWrap(True)
            drop = Button(_("Remove"))
            drop.setAccessibleName(_("Remove pair {number}").format(number=row + 1))
            drop.clicked.connect(lambda _unused=False, place=row: self.remove_pair(place))
            self.rows.addWidget(text, row, 0)
            self.rows.addWidget(drop, row, 1)
        if dial is None:
            self.result.say(_("Add a gauge and two pairs of reading and pitch."))
            self.picture.set_state(None, None)
            return
        fit = calibration(dial)
        if isinstance(fit, str):
            self.result.say("{fault}", fault=fit)
            self.picture.set_state(dial, None)
            return
        d0, kappa = float(fit.terms[0]), float(fit.terms[1])
        thick = (
            _(" + {terms:.1f} × (thickness/10 mil − 1)").format(terms=fit.terms[2])
            if len(fit.terms) > 2
            else ""
        )
        self.result.say(
            _(
                "<b>reading = {d0:.1f} − {kappa:,.0f} / "
                "tension{thick}</b><br>A reading is good to ± {SIGMAS_90:.1f} "
                "divisions (90 %), from {low_n_per_m:.0f} to "
                "{high_n_per_m:.0f} N/m. Targets outside are marked."
            ),
            d0=d0,
            kappa=kappa,
            thick=thick,
            SIGMAS_90=SIGMAS_90 * fit.noise,
            low_n_per_m=0.9 * fit.low_n_per_m,
            high_n_per_m=1.1 * fit.high_n_per_m,
        )
        self.picture.set_state(dial, fit)

    # intents

    def leave_drum(self) -> None:
        """Another drum comes: a whole pair that stands here was read on this one."""
        if self.reading.value is not None and self.pitch.value is not None:
            self.add_pair()

    def take_key(self, event: QKeyEvent) -> bool:
        """Figures pressed where nothing is typed are a gauge reading."""
        return event.text().isdecimal() and self.reading.line.take_key(event)

    def forget_said(self) -> None:
        """What was complained of is no longer so."""
        self.fault.hide()

    def _emit(self, label: str, dials: tuple[Dial, ...], keys: tuple[TorqueKey, ...]) -> None:
        self.fault.hide()
        self.gauges_changed.emit(label, dials, keys)

    def _complain(self, error: KesseltonError) -> None:
        self.fault.setText(f"{error.message} {error.remedy}")
        self.fault.show()

    def _on_dial(self, name: str) -> None:
        assert self._workshop is not None
        first = [dial for dial in self._workshop.dials if dial.name == name]
        rest = [dial for dial in self._workshop.dials if dial.name != name]
        self._emit(_("the current gauge"), (*first, *rest), self._workshop.keys)

    def _on_side(self, side: str) -> None:
        self._side = side
        self.side.set_state(side)

    def add_dial(self) -> None:
        """Add a dial and take it in hand."""
        assert self._workshop is not None
        try:
            dial = Dial(self._new_name())
        except KesseltonError as error:
            self._complain(error)
            return
        self.name.clear()
        self._emit(
            _("gauge {name}").format(name=dial.name),
            (dial, *self._workshop.dials),
            self._workshop.keys,
        )

    def _new_name(self) -> str:
        """What stands in the line of names.

        Raises
        ------
        InputError
            If it is empty or taken.
        """
        assert self._workshop is not None
        name = self.name.text().strip()
        dials, keys = self._workshop.dials, self._workshop.keys
        if not name:
            raise InputError(_("The gauge has no name."), _("Enter it next to the current gauge."))
        if name in {*(dial.name for dial in dials), *(key.name for key in keys)}:
            raise InputError(
                _("The gauge {name!r} exists already.").format(name=name), _("Choose another name.")
            )
        return name

    def rename_dial(self) -> None:
        """The dial in hand is called otherwise, in all readings too."""
        assert self._workshop is not None
        if self._workshop.dials:
            self._rename(self._workshop.dials[0].name)

    def _rename(self, old: str) -> None:
        try:
            new = self._new_name()
        except InputError as error:
            self._complain(error)
            return
        self.name.clear()
        self.fault.hide()
        self.renamed.emit(old, new)

    def remove_dial(self) -> None:
        """The dial in hand leaves the register; undo brings it back."""
        assert self._workshop is not None
        if self._workshop.dials:
            first, *rest = self._workshop.dials
            self._emit(_("remove {name}").format(name=first.name), tuple(rest), self._workshop.keys)
            self.notice.emit(_("Gauge “{name}” removed.").format(name=first.name))

    def add_key(self) -> None:
        """Another torque key, taken in hand; its name can be changed."""
        assert self._workshop is not None
        taken = {key.name for key in self._workshop.keys}
        numbers = (f"{_('torque key')} {n}" for n in range(1, len(taken) + 2))
        key = TorqueKey(next(name for name in (_("torque key"), *numbers) if name not in taken))
        self._emit(_("torque key"), self._workshop.dials, (key, *self._workshop.keys))
        self.key_name.setFocus()
        self.key_name.selectAll()

    def remove_key(self) -> None:
        """The torque key in hand leaves the register; undo brings it back."""
        assert self._workshop is not None
        if self._workshop.keys:
            first, *rest = self._workshop.keys
            self._emit(
                _("remove {name}").format(name=first.name), self._workshop.dials, tuple(rest)
            )
            self.notice.emit(_("Gauge “{name}” removed.").format(name=first.name))

    def _on_key_chosen(self, name: str) -> None:
        assert self._workshop is not None
        keys = self._workshop.keys
        ordered = sorted(keys, key=lambda key: key.name != name)
        self._emit(_("torque key"), self._workshop.dials, tuple(ordered))

    def add_pair(self) -> None:
        """Add a pair read on the head on the bench."""
        from kesselton.core.acoustics.solver.lug import tension_from_pitch

        assert self._workshop is not None
        try:
            if not self._workshop.dials:
                raise InputError(_("There is no gauge to calibrate."), _("Add one first."))
            if self._drum is None:
                raise InputError(_("No drum is selected."), _("Select one in the drum list."))
            if self.reading.value is None or self.pitch.value is None:
                raise InputError(
                    _("A pair needs a gauge reading and a lug pitch."), _("Enter both.")
                )
            drum, side = self._drum, self._side
            tension = tension_from_pitch(drum, side, self.pitch.value)
            name = f"{drum.name}, {wording.side_inside(drum, side)}"
            thickness = drum.setting(side).head.film_thickness_m
            pair = DialPair(self.reading.value, tension, thickness, name)
        except KesseltonError as error:
            self._complain(error)
            return
        first, *rest = self._workshop.dials
        changed = replace(first, pairs=(*first.pairs, pair))
        for field in (self.reading, self.pitch):
            field.set_state(None)
        self.reading.line.setFocus()
        self._emit(
            _("pair for {name}").format(name=first.name), (changed, *rest), self._workshop.keys
        )

    def remove_pair(self, place: int) -> None:
        """Take a pair out; undo brings it back."""
        assert self._workshop is not None
        first, *rest = self._workshop.dials
        left = list(first.pairs)
        del left[place]
        self._emit(
            _("remove pair"), (replace(first, pairs=tuple(left)), *rest), self._workshop.keys
        )

    def _key(self) -> TorqueKey:
        assert self._workshop is not None
        return self._workshop.keys[0] if self._workshop.keys else TorqueKey(_("torque key"))

    def _keep_key(self, key: TorqueKey) -> None:
        assert self._workshop is not None
        self._emit(_("torque key"), self._workshop.dials, (key, *self._workshop.keys[1:]))

    def _on_key(self) -> None:
        name = self.key_name.text().strip()
        self.key_name.sent = self.key_name.text()
        old = self._key().name
        assert self._workshop is not None
        if not name or name == old:
            self.key_name.show_text(old if self._workshop.keys else "")
        elif self._workshop.keys:
            self.renamed.emit(old, name)
        else:
            self._keep_key(replace(self._key(), name=name))

    def _on_friction(self, friction: str) -> None:
        self._keep_key(replace(self._key(), friction=friction))

    def _on_most(self, most: float) -> None:
        self._keep_key(replace(self._key(), most_nm=most))
