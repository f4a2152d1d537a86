"""The brief as a form: what the drum must do, before any head is bought."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from kesselton.app.workshop.head_stock import FILTERS
from kesselton.core.errors import InputError
from kesselton.core.heads import brief as b
from kesselton.core.heads.advice import SIGNS, advice, next_brief
from kesselton.core.heads.apart import INTERVALS
from kesselton.core.heads.like import Like
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.language import N_, _, begin
from kesselton.ui.parts.widgets.fields import Choice, Field, number_field, pitch_field
from kesselton.ui.parts.widgets.inputs import Button, Finder
from kesselton.ui.parts.widgets.labels import Label

_CHOICES: tuple[tuple[str, str, dict[str, b.BriefOption]], ...] = (
    ("role", N_("Role"), b.ROLES),
    ("density", N_("Note density"), b.DENSITIES),
    ("touch", N_("Touch"), b.TOUCHES),
    ("room", N_("Room"), b.ROOMS),
    ("microphones", N_("Amplification"), b.MICROPHONES),
    ("durability", N_("Head life"), b.DURABILITIES),
)
WISHES = {
    "role": N_("{wish}"),
    "density": N_("{wish} notes"),
    "touch": N_("{wish} touch"),
    "room": N_("{wish} room"),
    "microphones": N_("{wish}"),
    "durability": N_("heads for {wish}"),
}
"""How each wish stands in a sentence."""
DEFAULT_INTERVAL_CENTS = 500.0


class BriefForm(QWidget):
    """Edits a brief; what contradicts itself is said below and the last brief stays in force.

    Signals
    -------
    edited(Brief), filtered(str text, str filter)
    """

    edited = Signal(object)
    filtered = Signal(str, str)

    def __init__(
        self, a4: Callable[[], float], show: Callable[[float], str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._brief = b.Brief()
        self._pitch_hz: float | None = None
        self._like: Like | None = None  # the stroke in hand, for whichever drum it is wanted
        self.choices: dict[str, Choice] = {}
        self.rest = QWidget()
        grid, rest = QGridLayout(), QGridLayout(self.rest)
        for qgrid_layout in (grid, rest):
            qgrid_layout.setContentsMargins(0, 0, 0, 0)
            qgrid_layout.setHorizontalSpacing(10)
            qgrid_layout.setVerticalSpacing(8)
            qgrid_layout.setColumnStretch(0, 1)
            qgrid_layout.setColumnStretch(1, 1)
        for place, (name, caption, known) in enumerate(_CHOICES):
            choice = Choice(caption)
            choice.set_options([(key, option.label) for key, option in known.items()])
            choice.chosen.connect(lambda key, name=name: self._change(**{name: key}))
            self.choices[name] = choice
            rest.addWidget(choice, place // 2, place % 2)
        self.beater = Choice(_("Beater"))
        self.beater.chosen.connect(lambda key: self._change(beater=key))
        self.place = number_field(_("Strike point (0 = center, 1 = edge)"), 0.0, 0.98, "", 2)
        self.place.setToolTip(_("From the center outward, as a fraction of the radius."))
        self.place.edited.connect(lambda value: self._change(place=value))
        self.target = Choice(_("Target"))
        self.target.set_options(list(b.TARGETS.items()))
        self.target.chosen.connect(self._on_target)
        self.pitch: Field = pitch_field(_("Pitch"), b.LOWEST_WISH_HZ, b.HIGHEST_WISH_HZ, a4, show)
        self.pitch.edited.connect(self._on_pitch)
        self.feel = Choice(_("Feel"))
        self.feel.set_options([(key, option.label) for key, option in b.FEELS.items()])
        self.feel.chosen.connect(lambda key: self._change(feel=key))
        self.school = Choice(_("Interval between heads"))
        self.school.set_options(_schools())
        self.school.chosen.connect(self._on_school)
        self.interval = number_field(_("Interval"), -b.WIDEST_CENTS, b.WIDEST_CENTS, "cents", 0)
        self.interval.setToolTip(_("Resonant above batter, by lug pitch."))
        self.interval.edited.connect(lambda cents: self._change(interval_cents=cents))
        row = len(_CHOICES) // 2
        rest.addWidget(self.beater, row, 0, 1, 2)
        rest.addWidget(self.place, row + 1, 0, 1, 2)
        grid.addWidget(self.target, 0, 0, 1, 2)
        grid.addWidget(self.pitch, 1, 0)
        grid.addWidget(self.feel, 1, 1)
        self._show = show
        self.like = Label()
        self.like.setWordWrap(True)
        grid.addWidget(self.like, 2, 0, 1, 2)
        grid.addWidget(self.school, 3, 0, 1, 2)
        grid.addWidget(self.interval, 4, 0, 1, 2)
        self._make_sentence()
        self._make_sign_and_filter()
        self._lay_out(grid)
        self.unfold(False)

    def _lay_out(self, grid: QGridLayout) -> None:
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 8, 0)
        layout.setSpacing(8)
        layout.addLayout(grid)
        layout.addWidget(self.sentence)
        layout.addWidget(self.rest)
        layout.addWidget(self.open)
        layout.addWidget(self.fault)
        layout.addWidget(self.last)
        layout.addWidget(self.advice)
        layout.addSpacing(4)
        layout.addWidget(self.filter)
        layout.addWidget(self.search)
        layout.addStretch(1)

    def _make_sign_and_filter(self) -> None:
        self.last = Choice(_("Problem with last head"))
        self.last.set_options(
            [("", _("none")), *((key, sign.label) for key, sign in SIGNS.items())]
        )
        self.last.set_state("")
        self.last.chosen.connect(self._on_sign)
        self.advice = Label()
        self.advice.setProperty("quiet", True)
        self.advice.setWordWrap(True)
        self._sign, self._of = "", ""
        self._signed: tuple[b.Brief, b.Brief] | None = None  # before what was noticed, and after
        self.offered: Callable[[], Sequence[Head]] = tuple  # batters that advice may name
        self.filter_key = "all"
        self.search = Finder(_("Search heads"), _("Search heads"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda text: self.filtered.emit(text, self.filter_key))
        self.filter = Choice(_("Heads to choose from"))
        self.filter.set_options(list(FILTERS.items()))
        self.filter.set_state("all")
        self.filter.chosen.connect(self._on_filter)

    def _make_sentence(self) -> None:
        self.sentence = Label()
        self.sentence.setWordWrap(True)
        self.open = Button()
        self.open.clicked.connect(lambda: self.unfold(self.rest.isHidden()))
        self.fault = Label()
        self.fault.setProperty("fault", True)
        self.fault.setWordWrap(True)
        self.fault.hide()

    def unfold(self, on: bool) -> None:
        """Show every wish of the brief as a list to choose from, or (False) all as one sentence."""
        self.rest.setVisible(on)
        self.sentence.setVisible(not on)
        self.open.setText(_("Show less") if on else _("Change role, touch, room…"))

    def _say_brief(self) -> None:
        wishes = [
            _(WISHES[name]).format(wish=known[getattr(self._brief, name)].label)
            for name, _unused, known in _CHOICES
        ]
        wishes.append(BEATERS[self._brief.beater].label)
        said = ", ".join(wishes)
        self.sentence.setText(f"{begin(said)}.")

    @property
    def brief(self) -> b.Brief:
        """The brief in force."""
        return self._brief

    def set_state(self, drum: Drum, brief: b.Brief, suggestion_hz: float | None) -> None:
        """Show a brief for a drum; `suggestion_hz` is the note it would sound as it is."""
        if drum.name != self._of:
            self._of, self._sign, self._signed = drum.name, "", None
            self.last.set_state("")
        self._brief = brief
        self._pitch_hz = suggestion_hz
        self._advise()
        for name, choice in self.choices.items():
            choice.set_state(getattr(brief, name))
        self.beater.set_options(
            [(key, x.label) for key, x in BEATERS.items() if drum.kind in x.kinds]
        )
        self.beater.set_state(brief.beater)
        self._say_brief()
        self.place.set_state(brief.place)
        self.target.set_state(brief.target)
        hz = brief.note_hz if brief.note_hz is not None else brief.batter_hz
        self.like.setVisible(brief.like is not None)
        if brief.like is not None:
            self._like = brief.like
            self.like.setText(like_words(brief.like, self._show))
        self.pitch.caption.setText(
            _("Batter lug pitch") if brief.target == "batter" else _("Drum pitch")
        )
        self.pitch.setEnabled(brief.target in ("note", "batter"))
        self.pitch.set_state(hz)
        self.feel.setEnabled(brief.target == "feel")
        self.feel.set_state(brief.feel)
        cents = brief.interval_cents
        self.school.set_state(brief.school if cents not in INTERVALS else cents)
        free = drum.one_pull is None or brief.school != "all"
        self.school.setEnabled(drum.resonant is not None and free)
        self.school.setToolTip(
            _("One pull tightens both heads equally: their masses set the interval.")
            if drum.one_pull is not None
            else ""
        )
        self.interval.setEnabled(brief.school == "interval")
        self.interval.set_state(brief.interval_cents)
        self.complain("")

    def _on_sign(self, sign: str) -> None:
        """What was noticed of the last head changes what the next must do."""
        before = self._brief
        if self._signed is not None and self._signed[1] == before:  # not changed by hand since
            before = self._signed[0]
        self._sign = sign
        brief = next_brief(before, sign) if sign else before
        self._signed = (before, brief) if sign else None
        if brief != self._brief:
            self.edited.emit(brief)
        self._advise()

    def _advise(self) -> None:
        message = advice(self._brief, self._sign, self.offered() if self._sign else ())
        self.advice.setText(message)
        self.advice.setVisible(bool(message))

    def suggest(self, hz: float) -> None:
        """The note to begin with when a target is chosen: what the drum sounds now."""
        self._pitch_hz = hz

    def complain(self, text: str) -> None:
        """Say what is wrong with the brief; "" takes it back."""
        self.fault.setText(text)
        self.fault.setVisible(bool(text))

    def _change(self, **values: object) -> None:
        try:
            brief = replace(self._brief, **values)  # type: ignore[arg-type]
        except InputError as error:
            self.complain(f"{error.message} {error.remedy}")
            return
        self.complain("")
        if brief != self._brief:
            self.edited.emit(brief)

    def take_in_hand(self, like: Like) -> None:
        """A stroke that may become the target of any drum."""
        self._like = like

    def _on_target(self, target: str) -> None:
        if target == "stroke":
            if self._like is None:
                self.target.set_state(self._brief.target)
                self.complain(
                    _(
                        "No stroke to match. Analyze one in Tuning (J) or select one "
                        "in the Log, then click “Match stroke”."
                    )
                )
            else:
                self.edited.emit(b.like_brief(self._brief, self._like))
            return
        hz = self._brief.note_hz or self._brief.batter_hz or self._pitch_hz or 200.0
        self._change(
            like=None,
            weights={} if self._brief.like is not None else self._brief.weights,
            target=target,
            fundamental_hz=hz if target == "note" else None,
            batter_hz=hz if target == "batter" else None,
        )

    def _on_pitch(self, hz: float) -> None:
        if self._brief.target == "note":
            self._change(fundamental_hz=hz)
        else:
            self._change(batter_hz=hz)

    def _on_school(self, school: str | float) -> None:
        if isinstance(school, float):
            self._change(school="interval", interval_cents=school)
            return
        cents = self._brief.interval_cents
        if school == "interval" and cents is None:
            cents = DEFAULT_INTERVAL_CENTS
        self._change(school=school, interval_cents=cents if school == "interval" else None)

    def _on_filter(self, key: str) -> None:
        self.filter_key = key
        self.filtered.emit(self.search.text(), key)


def like_words(like: Like, show: Callable[[float], str]) -> str:
    """A stroke that is the target, in words."""
    return _("Stroke on {name}: {note}, decay {ring:.2f} s, {lines} peaks").format(
        name=like.name,
        note=show(like.fundamental_hz),
        ring=like.t60_s,
        lines=len(like.lines),
    )


def _schools() -> list[tuple[str | float, str]]:
    """Schools, every interval of the list, and an interval of one's own."""
    own = "interval"
    schools = [(key, label) for key, label in b.SCHOOLS.items() if key != own]
    return [*schools, *INTERVALS.items(), (own, b.SCHOOLS[own])]
