"""What stands beside the prediction on the Settings stage: schools, the note held, the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING

from kesselton.app.jobs import Latest
from kesselton.app.measuring import Planned
from kesselton.app.predictor import Answer, Hold
from kesselton.core.brief import TOUCHES
from kesselton.core.drum import Drum
from kesselton.core.errors import KesseltonError
from kesselton.ui.school_bar import SchoolBar

if TYPE_CHECKING:
    from kesselton.ui.main_window import MainWindow

HOURS = 24.0
"""After fitting: when a new head is looked at again."""


class Planning:
    """Schools over the ladder, and what gauges must read."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self._noted: tuple[Drum, float] | None = None
        self.schools = SchoolBar()
        self.planner = Latest(window)
        self.planned: Planned | None = None
        self.schools.school_chosen.connect(self._on_school)
        self.planner.done.connect(self._on_planned)

    def touch(self) -> float:
        """Impulse of the strokes the brief asks for, against a medium one."""
        entry = self._window.document.entry
        brief = entry.brief if entry else None
        return TOUCHES[brief.touch].value if brief else 1.0

    def hold(self, side: str, hz: float) -> Hold | None:
        """What is to be held while a grip moves: the note of the drum as it is set."""
        drum = self._window.document.drum
        if not self.schools.hold.isChecked() or drum is None or drum.resonant is None:
            return None
        note = self.note_hz(drum)
        return None if note is None else Hold(side, hz, note)

    def note_hz(self, drum: Drum) -> float | None:
        """Whole-drum note of a drum without its muffling, None if it cannot be worked out."""
        from kesselton.core.lug import tensions
        from kesselton.core.partials import fundamental_hz

        if self._noted is None or self._noted[0] != drum:
            try:
                self._noted = (drum, fundamental_hz(drum, tensions(drum)))
            except KesseltonError as error:
                self._window.complain(error)
                return None
        return self._noted[1]

    def _on_school(self, cents: float) -> None:
        from kesselton.core.plan import at_interval

        drum = self._window.document.drum
        if drum is None:
            return
        note = self.note_hz(drum) if self.schools.hold.isChecked() else None
        try:
            moved = at_interval(drum, cents, note)
        except KesseltonError as error:
            self._window.complain(error)
            return
        self._window.commit_drum("head to head", moved)

    def ask(self, answer: Answer) -> None:
        """What gauges must read, worked out once the grips rest."""
        entry = self._window.document.entry
        workshop, stage_c = self._window.document.workshop, self._window.settings.stage_c
        if entry is None:
            return
        self.planned = None
        by_k = entry.drum.air.temperature_c - stage_c

        def work() -> Planned:
            from kesselton.app.measuring import plan

            return plan(entry, workshop, answer.prediction, by_k, HOURS)

        self.planner.request(answer, work)

    def _on_planned(self, answer: Answer, planned: Planned) -> None:
        if answer is not self._window.answer or self._window.ladder.dragging:
            return
        self.planned = planned
        self._window.readout.set_plan(planned)
        short = ("on stage", "after a day")
        ghosts = tuple(
            (label, dict(zip(answer.drum.sides, outlook.lug_pitches_hz, strict=True)))
            for label, outlook in zip(short, planned.outlooks, strict=True)
        )
        self._window.ladder.set_notes(ghosts, self.wanted_hz())

    def wanted_hz(self) -> float | None:
        entry = self._window.document.entry
        brief = entry.brief if entry else None
        return brief.fundamental_hz if brief and brief.target == "note" else None

    def stop(self) -> None:
        """End the thread."""
        self.planner.stop()
