"""The bench: the open workshop, the drum on it, how it is struck, and what is computed of it.

Whoever shows a result asks here for it: a result is handed out for the drum it was computed for and
for no other.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.after_answer import Further, FurtherAnswers, PlanAnswers
from kesselton.app.bench.measuring import Planned
from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.app.prediction.predictor import (
    HIGHEST_HZ,
    BenchResult,
    Hold,
    Predictor,
    Question,
    check,
)
from kesselton.app.workshop.document import Document
from kesselton.core.errors import KesseltonError
from kesselton.core.heads.apart import Apart
from kesselton.core.heads.brief import TOUCHES, Brief
from kesselton.core.instrument.beater import BEATERS, TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.store.workshop.holdings import Entry, removed_words

if TYPE_CHECKING:
    from kesselton.core.prediction.speaks import Speaking


@dataclass(frozen=True)
class Strike:
    """What the technician strikes with, and where; `beater` "" is the typical one of the drum."""

    place: float = 0.3
    beater: str = ""

    def beater_on(self, drum: Drum) -> str:
        """The beater, or the typical one where the chosen one does not fit the kind of drum."""
        chosen = BEATERS.get(self.beater)
        return self.beater if chosen and drum.kind in chosen.kinds else TYPICAL_BEATER[drum.kind]

    def on(self, drum: Drum, touch: float) -> Stroke:
        """The stroke on a drum, with an impulse of `touch` medium ones."""
        return Stroke(self.place, self.beater_on(drum), touch)


class Bench(QObject):
    """The one place where document, settings, predictor and plan meet.

    Signals
    -------
    changed : committed state, drum on the bench, strike or settings are others
    answered(BenchResult) : of the drum on the bench, or of the setting a held grip asks for
    spoken(Further) : where the drum on the bench speaks, and what its port does
    planned(Planned) : what gauges must read for the drum on the bench
    refused(KesseltonError) : what was asked cannot be; the drum is as it was
    failed(KesseltonError, str topic) : something about the drum on the bench was not computed
    accepted : what was refused or failed before no longer holds
    rack_pitch(int drum id, float hertz or None)
    went(str in words) : what was noted of the drum and went with a change of it
    """

    changed = Signal()
    answered = Signal(object)
    planned = Signal(object)
    spoken = Signal(object)
    refused = Signal(object)
    failed = Signal(object, str)
    accepted = Signal()
    listed_pitch = Signal(object, object)
    went = Signal(str)

    def __init__(
        self, document: Document, settings: SettingsStore, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.settings_store = settings
        self.strike = Strike()
        self.keep_pitch = False  # the drum keeps its pitch while one head is moved
        self.previewing = False
        self.predictor = Predictor(self)
        self._plans = PlanAnswers(self)
        self._plans.answered.connect(self._on_planned)
        self._plans.failed.connect(self._on_plan_failed)
        self._further = FurtherAnswers(self)
        self._further.answered.connect(self._on_spoken)
        self._further.failed.connect(lambda error: self.failed.emit(error, "plan"))
        self._result: BenchResult | None = None
        self._wish: tuple[int, Callable[[], None]] | None = None
        self._planless: Drum | None = None  # what no plan can be made of
        self._pitch: tuple[Drum, float] | None = None
        self._asked_hold: tuple[Drum, Hold] | None = None  # by the last preview, of which drum
        self._to_hold: tuple[Drum, Hold, str] | None = None  # to be set once it is worked out
        document.changed.connect(self._on_changed)
        settings.changed.connect(self._on_changed)
        self.predictor.answered.connect(self._on_answered)
        self.predictor.failed.connect(self._on_failed)
        self.predictor.listed_pitch.connect(self.listed_pitch)

    # what holds

    @property
    def settings(self) -> Settings:
        """How things are shown."""
        return self.settings_store.values

    @property
    def entry(self) -> Entry | None:
        """What is kept of the drum on the bench."""
        return self.document.entry

    @property
    def drum(self) -> Drum | None:
        """The drum on the bench."""
        return self.document.drum

    @property
    def result(self) -> BenchResult | None:
        """The last result of the drum on the bench, be it of how it was set a moment ago."""
        result = self._result
        return result if result is not None and result.drum_id == self.document.current_id else None

    @property
    def settled(self) -> BenchResult | None:
        """The result of the drum on the bench as it is set and struck, None while computed."""
        result = self.result
        return result if result is not None and self._holds(result) else None

    @property
    def plan(self) -> Planned | None:
        """What gauges must read for the drum on the bench as it is set, None while that or the
        result it belongs to is computed: the two are of one state."""
        if self.settled is None or self.entry is None:
            return None
        plan = self._plans.of(self.entry, self.document.workshop, self.settings)
        return plan if plan is not None and plan.drum_id == self.document.current_id else None

    @property
    def planning(self) -> bool:
        """Whether a plan of the drum on the bench is still to come."""
        return self.drum is not None and self.plan is None and self._planless != self.drum

    @property
    def brief(self) -> Brief | None:
        """What the drum on the bench must do."""
        return self.entry.brief if self.entry else None

    @property
    def wanted_hz(self) -> float | None:
        """The whole-drum note the brief asks for."""
        brief = self.brief
        return brief.note_hz if brief else None

    @property
    def touch(self) -> float:
        """Impulse of the strokes the brief asks for, against a medium one."""
        brief = self.brief
        return TOUCHES[brief.touch].value if brief else 1.0

    def stroke(self, drum: Drum) -> Stroke:
        """How a drum is struck now."""
        return self.strike.on(drum, self.touch)

    # what the technician does

    def commit_drum(self, label: str, drum: Drum) -> bool:
        """Check a changed drum and make it the state; `refused` says why if it cannot be."""
        self.finish_hold()
        self.previewing = False
        try:
            check(drum)
        except KesseltonError as error:
            self.refused.emit(error)
            return False
        self.accepted.emit()
        before = self.entry
        if drum.one_pull is not None:
            try:
                drum = self._drawn(drum)
            except KesseltonError as error:
                self.refused.emit(error)
                return False
        self.document.replace_drum(label, drum)
        gone = removed_words(before, self.entry)
        if gone:
            self.went.emit(gone)
        return True

    def _drawn(self, drum: Drum) -> Drum:
        """One pull draws both heads: the other has moved along."""
        from kesselton.core.measure.head_to_head import together

        return together(self.drum, drum)

    def preview_pitch(self, side: str, hz: float, highest_hz: float) -> None:
        """Ask for the drum as it would be with a lug pitch; nothing is committed."""
        self.finish_hold()
        if self.drum is not None:
            self.previewing = True
            hold = self._hold(side, hz)
            drawn = hold is not None and hold.note_hz is None
            self._ask(self.drum if drawn else self._at_pitch(side, hz), highest_hz, hold)

    def set_pitch(self, side: str, hz: float, label: str) -> None:
        """Set a head to a lug pitch; the other follows where the drum keeps its pitch."""
        self.finish_hold()
        drum = self.drum
        self.previewing = False
        if drum is None:
            return
        moved, hold = self._at_pitch(side, hz), self._hold(side, hz)
        if hold is not None and hold.note_hz is not None:
            ready = self._held_already(hold)
            if ready is None:  # it is worked out beside the screen, and set then
                self._to_hold, self.previewing = (drum, hold, label), True
                self._ask(moved, HIGHEST_HZ, hold)
                return
            moved = ready
        if not self.commit_drum(label, moved):
            self.refresh()

    def finish_hold(self) -> None:
        """Set at once what waits to be set with its note held: something else comes now."""
        if self._to_hold is None:
            return
        (drum, hold, label), self._to_hold = self._to_hold, None
        if drum != self.drum:
            return
        try:
            moved = self._held_now(drum, hold)
        except KesseltonError as error:
            self.refused.emit(error)
            return
        self.commit_drum(label, moved)

    def _held_already(self, hold: Hold) -> Drum | None:
        """The drum as it was worked out while the grip was moved, if that was just so."""
        result = self._result
        if result is None or result.drum_id != self.document.current_id or self.drum is None:
            return None
        if self._asked_hold != (self.drum, hold) or result.hold != hold:
            return None
        return result.drum

    @staticmethod
    def _held_now(drum: Drum, hold: Hold) -> Drum:
        from kesselton.core.measure.plan import hold_fundamental

        assert hold.note_hz is not None
        return hold_fundamental(drum, hold.side, hold.hz, hold.note_hz)

    def set_apart(self, apart: Apart, label: str) -> None:
        """Set the heads so far apart, in the measure that is meant."""
        from kesselton.core.measure.head_to_head import at_apart

        self.finish_hold()
        if self.drum is None:
            return
        note = self.pitch_hz() if self.keep_pitch and self.drum.one_pull is None else None
        try:
            moved = at_apart(self.drum, apart, note)
        except KesseltonError as error:
            self.refused.emit(error)
            return
        self.commit_drum(label, moved)

    def set_strike(self, strike: Strike) -> None:
        """Strike it otherwise from now on; not part of the drum, nothing to undo."""
        self.strike = strike
        self.refresh()

    def set_air(self, temperature_c: float, humidity: float | None, label: str) -> None:
        """All drums of the workshop stand in this air; None leaves the humidity as it is."""
        workshop = self.document.workshop

        def moved(drum: Drum) -> Drum:
            damp = drum.air.relative_humidity if humidity is None else humidity
            air = replace(drum.air, temperature_c=temperature_c, relative_humidity=damp)
            return replace(drum, air=air)

        entries = tuple(replace(e, drum=moved(e.drum)) for e in workshop.entries)
        self.document.commit(label, replace(workshop, entries=entries))

    def when_settled(self, run: Callable[[], None]) -> bool:
        """Do something with answer and plan of the drum as it is set: now, or (False) once they are
        there; never if another drum comes to the bench or they fail."""
        self._wish = None
        if self.settled is not None and not self.planning:
            run()
            return True
        self._wish = (self.document.current_id, run)
        return False

    def _grant(self) -> None:
        wish = self._wish
        if wish is not None and self.settled is not None and not self.planning:
            self._wish = None
            if wish[0] == self.document.current_id:
                wish[1]()

    def refresh(self) -> None:
        """Show and compute once more what holds."""
        self._on_changed()

    def stop(self) -> None:
        """End every thread."""
        self.finish_hold()
        self.predictor.stop()
        self._plans.stop()
        self._further.stop()

    def pitch_hz(self) -> float | None:
        """Whole-drum note of the drum without its muffling; `refused` says why if there is none."""
        from kesselton.core.acoustics.solver.lug import tensions
        from kesselton.core.acoustics.solver.partials import fundamental_hz

        drum = self.drum
        if drum is None:
            return None
        if self._pitch is None or self._pitch[0] != drum:
            try:
                self._pitch = (drum, fundamental_hz(drum, tensions(drum)))
            except KesseltonError as error:
                self.refused.emit(error)
                return None
        return self._pitch[1]

    def _at_pitch(self, side: str, hz: float) -> Drum:
        assert self.drum is not None
        return self.drum.with_setting(side, self.drum.setting(side).at_pitch(hz))

    def _hold(self, side: str, hz: float) -> Hold | None:
        """What is kept while a grip moves: the note of the drum as it is set."""
        if self.drum is None or self.drum.resonant is None:
            return None
        if self.drum.one_pull is not None:
            return Hold(side, hz, None)
        if not self.keep_pitch:
            return None
        note = self.pitch_hz()
        return None if note is None else Hold(side, hz, note)

    # what is computed

    def _on_changed(self) -> None:
        self.previewing = False
        self.changed.emit()
        if self.drum is not None:
            self._ask(self.drum)

    def _ask(self, drum: Drum, highest_hz: float = HIGHEST_HZ, hold: Hold | None = None) -> None:
        number = self.document.current_id
        self._asked_hold = None if self.drum is None or hold is None else (self.drum, hold)
        self.predictor.ask(Question(number, drum, self.stroke(drum), highest_hz, hold))

    def _holds(self, result: BenchResult) -> bool:
        """Whether it is of the drum as it is set and struck now."""
        return result.drum == self.drum and result.stroke == self.stroke(result.drum)

    def _on_answered(self, result: BenchResult) -> None:
        if result.drum_id != self.document.current_id or self.drum is None:
            return
        if self._to_hold is not None and self._to_hold[:2] == (self.drum, result.hold):
            label = self._to_hold[2]
            self._to_hold, self._result = None, result
            if not self.commit_drum(label, result.drum):
                self.refresh()
            return
        if not self.previewing and not self._holds(result):
            return  # it was set or struck otherwise since: that answer is on its way
        self._result = result
        self.accepted.emit()
        self.answered.emit(result)
        if not self.previewing:
            if self.entry is not None:
                self._plans.ask(result, self.entry, self.document.workshop, self.settings)
            self._further.ask(result, self.settings)
            # the rest of the drum list is worked out once the bench has its answer
            self.predictor.ask_rack([(e.id, e.drum) for e in self.document.workshop.entries])

    def _on_failed(self, question: Question, error: KesseltonError) -> None:
        of_this = question.drum_id == self.document.current_id
        if of_this and self._to_hold is not None and question.hold == self._to_hold[1]:
            self._to_hold = None
            self.refused.emit(error)
            self.refresh()
            return
        if of_this and (self.previewing or question.drum == self.drum):
            self._planless = question.drum
            self._wish = None
            self.failed.emit(error, "drum")

    def _on_spoken(self, further: Further) -> None:
        if self.further is not None:
            self.spoken.emit(further)

    @property
    def further(self) -> Further | None:
        """Where the drum on the bench speaks as it is set and struck, and what its port does; None
        while that is worked out."""
        result = self.settled
        if result is None or self.previewing:
            return None
        return self._further.of(result, self.settings)

    @property
    def speaks(self) -> Speaking | None:
        """The first of `further`."""
        further = self.further
        return None if further is None else further.speaks

    def _on_planned(self, of: BenchResult, terms: tuple[object, ...], plan: Planned) -> None:
        if of is self._result and not self.previewing:
            self._plans.keep(plan, terms)
            if self.plan is not None:
                self.planned.emit(plan)
                self._grant()

    def _on_plan_failed(self, of: BenchResult, error: KesseltonError) -> None:
        if of is self._result:
            self._plans.keep(None)
            self._planless = of.drum
            self.failed.emit(error, "plan")
            self._grant()
