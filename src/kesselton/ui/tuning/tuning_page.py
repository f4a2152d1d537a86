"""The Tuning stage: the drum in section with its forms, the ladder, and what to set."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QFont, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.learner import Learner
from kesselton.app.bench.measuring import Planned
from kesselton.app.hearing.heard_drum import HeardDrum
from kesselton.app.hearing.stroke_listener import StrokeListener, Struck
from kesselton.app.prediction.predictor import BenchResult
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.ui.parts.widgets.columns import scroll
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import wording
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.forms import PartForms
from kesselton.ui.tuning.heard_card import HeardCard
from kesselton.ui.tuning.ladder import LadderView
from kesselton.ui.tuning.readout import Readout
from kesselton.ui.tuning.school_bar import SchoolBar
from kesselton.ui.tuning.section import PARTS, SectionView


class TuningPage(QWidget):
    """Shows what the bench holds of one drum, and hands what is edited to it.

    Signals
    -------
    sheet_wanted, listen_wanted, keep_wanted : by the buttons of the readout
    kind_changed(Drum) : it is of another kind now
    typed_dropped(str in words) : something typed could not be taken, and its drum went
    """

    sheet_wanted = Signal()
    listen_wanted = Signal()
    keep_wanted = Signal()
    kind_changed = Signal(object)
    typed_dropped = Signal(str)

    def __init__(
        self,
        bench: Bench,
        display: DisplayFormat,
        ask_sound: Callable[[], Path | None],
        learner: Learner,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._bench, self._ask_sound, self._learner = bench, ask_sound, learner
        self.ears = StrokeListener(self)
        self._hear_later: tuple[int, Drum, str] | None = None
        self._others: dict[int, float] = {}  # notes of the drums of the drum list, by number
        self._shown = 0  # number of the drum on show
        self._behind = (
            True  # nothing is shown yet  # something came while another stage was on show
        )
        self._unsolved: Drum | None = None  # as it was set when it could not be worked out
        self.part_title = Label()
        self.section = SectionView()
        self.forms = PartForms(display)
        self.ladder = LadderView()
        self.schools = SchoolBar()
        self.readout = Readout()
        self.heard_card = HeardCard()
        self._lay_out()
        self._connect()
        self.choose_part("batter")

    def _lay_out(self) -> None:
        self.part_title.setFont(font(11, QFont.Weight.DemiBold))
        form_box = QWidget()
        form_layout = QVBoxLayout(form_box)
        form_layout.setContentsMargins(0, 0, 8, 0)
        form_layout.addWidget(self.part_title)
        form_layout.addWidget(self.forms)
        left = QVBoxLayout()
        left.setContentsMargins(16, 8, 0, 8)
        left.addWidget(self.section, 5)
        left.addWidget(scroll(form_box), 6)
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 12, 0, 12)
        middle.addWidget(self.schools)
        middle.addWidget(self.ladder, 1)
        middle.addWidget(self.heard_card)
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(12)
        across.addLayout(left, 31)
        across.addLayout(middle, 42)
        across.addWidget(self.readout, 33)

    def _connect(self) -> None:
        bench = self._bench
        self.section.part_chosen.connect(self.choose_part)
        for form in (self.forms.shell, self.forms.batter, self.forms.resonant):
            form.edited.connect(self._on_edited)
            form.refused.connect(self._on_refused)
        self.forms.beater.changed.connect(bench.set_strike)
        self.ladder.pitch_moved.connect(
            lambda side, hz: bench.preview_pitch(side, hz, self.ladder.axis().high_hz)
        )
        self.ladder.pitch_set.connect(
            lambda side, hz: bench.set_pitch(
                side, hz, _("{side_word} lug pitch").format(side_word=self._side_word(side))
            )
        )
        self.ladder.cancelled.connect(bench.refresh)
        self.ladder.rung_named.connect(self.readout.set_partial)
        self.schools.school_chosen.connect(lambda apart: bench.set_apart(apart, _("Interval")))
        self.schools.hold.toggled.connect(self._on_keep_pitch)
        self.readout.sheet_wanted.connect(self.sheet_wanted)
        self.readout.listen_wanted.connect(self.listen_wanted)
        self.readout.keep_wanted.connect(self.keep_wanted)
        self.readout.opened.connect(self._on_opened)
        self.heard_card.hear_wanted.connect(self.hear)
        self.heard_card.anew_wanted.connect(self._hear_anew)
        self.ears.heard.connect(lambda result: self._show_heard())
        self.ears.refused.connect(self._on_not_heard)
        self.ears.state_changed.connect(self._on_ears)
        self.ears.microphone.level_changed.connect(self.heard_card.level.set_level)
        bench.listed_pitch.connect(self._on_listed_pitch)
        bench.changed.connect(self.show_bench)
        bench.answered.connect(self._on_answered)
        bench.planned.connect(self._on_planned)
        bench.spoken.connect(self._on_spoken)
        self._learner.learned.connect(self._on_learned)
        bench.refused.connect(lambda error: self.ladder.let_go())
        bench.failed.connect(self._on_failed)

    def _on_refused(self, error: KesseltonError) -> None:
        """What was chosen cannot be: the lists go back to what is."""
        drum = self._bench.drum
        if drum is not None:
            self._show_drum(drum)
        self._bench.refused.emit(error)

    def _on_edited(self, label: str, drum: Drum) -> None:
        before = self._bench.drum
        taken = self._bench.commit_drum(label, drum)
        if taken and before is not None and before.kind != drum.kind:
            self.kind_changed.emit(drum)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        for view in (self.section, self.ladder, self.readout, self.heard_card.level):
            view.set_colours(colours)

    def stop(self) -> None:
        """Close the ears."""
        self.ears.stop()

    def hear(self, source: str = "") -> None:
        """Hear a stroke on the drum on the bench; at the microphone, listen or stop."""
        bench, drum = self._bench, self._bench.drum
        if self.ears.listening:
            self.ears.stop_listening()
            self._show_heard()
            return
        if drum is None:
            return
        if bench.settled is None:  # heard as soon as there is something to lay it beside
            self._hear_later = (bench.document.current_id, drum, source)
            self.heard_card.say(_("Computing…"))
            return
        what = Struck(bench.document.current_id, drum, bench.settled.stroke)
        source = source or self.heard_card.chosen
        if source == "microphone":
            self.ears.listen(what)
            self._show_heard()
        elif source == "recording":
            path = self._ask_sound()
            if path is not None:
                self.ears.hear_file(path, what)
        else:
            self.ears.strike_simulated(what)

    @property
    def heard(self) -> HeardDrum | None:
        """What was heard of the drum on the bench as it is set; None if nothing was."""
        bench = self._bench
        return self.ears.of(bench.document.current_id, bench.drum)

    def _show_heard(self) -> None:
        bench, heard = self._bench, self.heard
        if self.ears.listening and not self._struck_still():
            self.ears.stop_listening()  # the drum changed: what comes now is of another setting
        # other drums are looked at only where lines may be of them: this runs while dragging
        others = {} if heard is None else self._notes_of_others()
        self.heard_card.set_state(heard, others, self.ears.listening, bench.settled is not None)
        self.ladder.set_heard(heard)
        self.readout.set_heard(heard)

    def _hear_anew(self) -> None:
        """What was heard of this setting so far is not taken together with what comes."""
        self.ears.forget()
        self._show_heard()

    def _notes_of_others(self) -> dict[str, float]:
        """By name, the notes of the other drums of the drum list, as far as they are computed."""
        document, notes = self._bench.document, self._others
        return {
            entry.drum.name: notes[entry.id]
            for entry in document.workshop.entries
            if entry.id != document.current_id and entry.id in notes
        }

    def _struck_still(self) -> bool:
        """Whether the drum the microphone is open for is on the bench as it was."""
        bench = self._bench
        return self.ears.struck == (bench.document.current_id, bench.drum)

    def _on_not_heard(self, error: KesseltonError) -> None:
        self._show_heard()
        self.heard_card.refuse(error)

    def _on_ears(self, words: str) -> None:
        if words:
            self.heard_card.say(words)

    def _on_listed_pitch(self, number: int, hz: float | None) -> None:
        if hz is None:
            self._others.pop(number, None)
        else:
            self._others[number] = hz

    def choose_part(self, part: str) -> None:
        """Show the form of one part of the drum."""
        assert part in PARTS
        self.section.set_part(part)
        self.forms.show_part(part)
        self._title_part()

    def complain(self, error: KesseltonError) -> bool:
        """Put an error at the field it is about; False if that cannot be seen."""
        return isinstance(error, InputError) and any(
            form.complain(error) and form.isVisible()
            for form in (self.forms.batter, self.forms.resonant)
        )

    def show_bench(self) -> None:
        """Show the drum on the bench and what is known of it; while another stage is on show, only
        what was typed for another drum is let go of, the rest when this one is."""
        number = self._bench.document.current_id
        if number != self._shown:
            self._shown = number
            for name, text in self.forms.let_go():
                self.typed_dropped.emit(
                    _("“{text}” in “{name}” was not valid and was discarded with its drum.").format(
                        text=text, name=name
                    )
                )
        if self._wanted():
            self._show_all()

    def _wanted(self) -> bool:
        """Whether anybody sees this stage; if not, it is brought up to date when it is shown. Of a
        drum that is gone it lets go at once."""
        self._behind = self._bench.drum is not None and not self.isVisible()
        return not self._behind

    @safe_override
    def showEvent(self, event: QShowEvent) -> None:
        """Catch up on what came meanwhile."""
        super().showEvent(event)
        if self._behind:
            self._behind = False
            self._show_all()

    def _show_all(self) -> None:
        bench, settings = self._bench, self._bench.settings
        drum = bench.drum
        self.schools.set_state(drum)
        self.forms.setEnabled(drum is not None)
        for form in (self.forms.batter, self.forms.resonant):
            form.set_library(bench.document.workshop.library)
        if bench.result is None:
            self.ladder.let_go()
        if drum is None:
            self.section.set_state(None, settings.metric, bench.strike.place, ())
        else:
            self._show_drum(drum)
        self._show_result()
        self._title_part()
        if drum is not None and drum == self._unsolved and bench.settled is None:
            self.ladder.set_stale()

    def _show_drum(self, drum: Drum) -> None:
        bench = self._bench
        stresses: tuple[str, ...] = ()
        solved: dict[str, tuple[float, float]] = {}
        if bench.settled is not None:
            prediction = bench.settled.prediction
            stresses = tuple(_("{s:.1f} MPa").format(s=s / 1e6) for s in prediction.stresses_pa)
            solved = {
                side: (prediction.lug_pitches_hz[i], prediction.tensions_n_per_m[i])
                for i, side in enumerate(drum.sides)
            }
        self.section.set_state(drum, bench.settings.metric, bench.strike.place, stresses)
        self.forms.shell.set_state(drum)
        self.forms.beater.set_state(bench.strike, drum)
        for side, form in (("batter", self.forms.batter), ("resonant", self.forms.resonant)):
            form.set_state(drum, *solved.get(side, (None, None)))

    def _show_result(self) -> None:
        bench, settings = self._bench, self._bench.settings
        self.ladder.set_state(bench.result, settings.a4_hz, settings.flats)
        if bench.drum is not None and bench.settled is None and not bench.previewing:
            self.ladder.expect(bench.drum)
        self._show_readout(bench.plan)
        self._show_plan(bench.plan)
        self.readout.set_partial(self.ladder.rung)
        self._show_heard()

    def _show_plan(self, plan: Planned | None) -> None:
        ghosts: tuple[tuple[str, dict[str, float]], ...] = ()
        if plan is not None and not self._bench.previewing:
            short = (_("on stage"), _("after a day"), _("more humid"))
            ghosts = tuple(
                (label, dict(zip(plan.drum.sides, drift.lug_pitches_hz, strict=True)))
                for label, drift in zip(short, plan.drifts, strict=False)
            )
        self.ladder.set_notes(ghosts, self._bench.wanted_hz, self._bench.speaks)

    def _on_answered(self, result: BenchResult) -> None:
        drum = self._bench.drum
        if self._wanted():
            if drum is not None and not self._bench.previewing:
                self._show_drum(drum)
            self._show_result()
        later = self._hear_later
        if later is not None and self._bench.settled is not None:
            self._hear_later = None
            if later[:2] == (self._bench.document.current_id, drum):
                self.hear(later[2])

    def _on_planned(self, plan: Planned | None) -> None:
        if self._wanted():
            self._show_readout(plan)
            self._show_plan(plan)

    def _on_opened(self, keys: tuple[str, ...]) -> None:
        """Rows stay open for drums of a kind."""
        drum, store = self._bench.drum, self._bench.settings_store
        if drum is not None:
            others = (text for text in store.values.opened if not text.startswith(f"{drum.kind}:"))
            store.change(opened=(*others, *(f"{drum.kind}:{key}" for key in keys)))

    def _show_readout(self, plan: Planned | None) -> None:
        bench, settings = self._bench, self._bench.settings
        if bench.drum is not None:
            kind = f"{bench.drum.kind}:"
            mine = (text.removeprefix(kind) for text in settings.opened if text.startswith(kind))
            self.readout.set_opened(frozenset(mine))
        self.readout.tempo_bpm = settings.tempo_bpm
        self.readout.set_state(
            bench.result, settings.a4_hz, settings.flats, plan, bench.further, self._learner.own
        )

    def _on_learned(self) -> None:
        if self._wanted():
            self._show_readout(self._bench.plan)

    def _on_spoken(self, result: object) -> None:
        self._on_planned(self._bench.plan)

    def _on_failed(self, error: KesseltonError, topic: str) -> None:
        if topic == "drum":
            self._unsolved = self._bench.drum
            self.ladder.set_stale()

    def _on_keep_pitch(self, on: bool) -> None:
        self._bench.keep_pitch = on

    def _side_word(self, side: str) -> str:
        drum = self._bench.drum
        return wording.side_inside(drum, side) if drum is not None else side

    def _title_part(self) -> None:
        part, drum = self.section.part, self._bench.drum
        titled = {"shell": _("Shell"), "beater": _("Beater")}
        if part in titled or drum is None:
            self.part_title.setText(titled.get(part, ""))
        else:
            self.part_title.setText(wording.side_word(drum, part))
