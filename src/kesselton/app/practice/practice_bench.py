"""Practising: who practises, which question, what was answered; kept in the workshop."""

from __future__ import annotations

import csv
import io
import json
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.bench import Bench
from kesselton.app.host.jobs import Latest
from kesselton.app.sound.player import Player
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.escape import inert_cell
from kesselton.core.language import N_, _
from kesselton.core.practice.pupil import (
    HELPED,
    MOST_PUPILS,
    MOST_TRIALS,
    RIGHT,
    UNSURE,
    WRONG,
    Pupil,
    Session,
    Trial,
)
from kesselton.store.io.atomic_file import write_file
from kesselton.store.workshop.holdings import Workshop, next_number

if TYPE_CHECKING:
    from kesselton.core.practice.by_ear import EarBench, Score
    from kesselton.core.practice.question import Question
    from kesselton.core.practice.threshold import Estimate, Quest
    from kesselton.core.prediction.render import Sound

ADDED, RENAMED, REMOVED, DONE = (
    N_("add {name}"),
    N_("rename {name}"),
    N_("remove {name}"),
    "practice",
)
CLEAR_BY_EAR = "by_ear"
"""Key of the exercise that is worked with the hands."""
SING = "sing"
"""Key of the exercise that is sung."""
GAP_S = 0.45
FEWEST = 3
"""A session of fewer answers is kept, but has no threshold."""


@dataclass(frozen=True)
class Told:
    """What came of an answer."""

    outcome: str
    question: Question


class PracticeBench(QObject):
    """One pupil, one exercise, one question at a time.

    Signals
    -------
    changed : anything that is shown
    asked(Question) : the next question is made
    refused(KesseltonError) : it could not be
    """

    changed = Signal()
    asked = Signal(object)
    refused = Signal(object)

    def __init__(
        self,
        bench: Bench,
        now: Callable[[], datetime] = datetime.now,
        clock: Callable[[], float] = time.monotonic,
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._bench, self._now, self._clock = bench, now, clock
        self._pupil_id = 0
        self.player = Player(self)
        self.exercise = "same"
        self.helps: frozenset[str] = frozenset()
        self.level_share = 0.5
        """Loudness, of full: set at the beginning, and nothing is ever louder."""
        self.question: Question | None = None
        self.told: Told | None = None
        self.quest: Quest | None = None
        self.ear: EarBench | None = None
        self.score: Score | None = None
        self._trials: list[Trial] = []
        self._helped: frozenset[str] = frozenset()
        self._begun = 0.0
        self._seed = 0
        self._number = 0
        self._jobs = Latest(self._on_made, self._on_failed, self)
        bench.changed.connect(self.changed)

    # who

    @property
    def workshop(self) -> Workshop:
        """Where it is kept."""
        return self._bench.document.workshop

    @property
    def pupil(self) -> Pupil | None:
        """Who practises; the first where nobody was chosen."""
        pupils = self.workshop.pupils
        return self.workshop.pupil(self._pupil_id) or (pupils[0] if pupils else None)

    def choose_pupil(self, number: int) -> None:
        """Somebody else practises; what was begun is kept for who began it."""
        self.finish()
        self._pupil_id = number
        self.changed.emit()

    def add_pupil(self, name: str) -> None:
        """Somebody new practises.

        Raises
        ------
        InputError
            If there are too many, or the name cannot be.
        """
        if len(self.workshop.pupils) >= MOST_PUPILS:
            raise InputError(
                _("There are {most_pupils} people.").format(most_pupils=MOST_PUPILS),
                _("Remove one first."),
            )
        pupil = Pupil(next_number(self.workshop.pupils), name.strip())
        self.finish()
        self._pupil_id = pupil.id
        self._commit(_(ADDED).format(name=pupil.name), self.workshop.with_pupil(pupil))

    def remove_pupil(self) -> None:
        """Who practises goes, with everything that was practised."""
        pupil = self.pupil
        if pupil is not None:
            self._stop_session()
            rest = tuple(
                candidate for candidate in self.workshop.pupils if candidate.id != pupil.id
            )
            text = _(REMOVED).format(name=pupil.name)
            self._commit(text, replace(self.workshop, pupils=rest))

    # which

    def choose(self, exercise: str) -> None:
        """Another exercise; what was begun is kept."""
        if exercise != self.exercise:
            self.finish()
            self.exercise = exercise
            self.helps = frozenset()
            self.changed.emit()

    def next_up(self) -> tuple[str, str] | None:
        """What to practise next, and why; None while nobody practises."""
        from kesselton.core.practice.exercises import EXERCISES
        from kesselton.core.practice.progress import next_exercise

        if self.pupil is None:
            return None
        order = [(exercise.key, exercise.group, exercise.scale) for exercise in EXERCISES.values()]
        return next_exercise(self.pupil, order, self._now())

    @property
    def running(self) -> bool:
        """Whether a session has begun."""
        return bool(self._trials) or self.question is not None or self.ear is not None

    @property
    def count(self) -> int:
        """Answers of this session."""
        return len(self._trials)

    @property
    def seconds(self) -> float:
        """Of this session."""
        return max(self._clock() - self._begun, 0.0) if self.running else 0.0

    @property
    def trials(self) -> tuple[Trial, ...]:
        """Of this session."""
        return tuple(self._trials)

    # a session

    def begin(self, seed: int | None = None) -> None:
        """The first question of the exercise; `seed` repeats a session."""
        self.finish()
        if seed is None:
            seed = int(self._now().timestamp() * 1000.0) % 2**31
        self._seed, self._number, self._begun = seed, 0, self._clock()
        self._trials, self.told, self._helped = [], None, frozenset()
        if self.exercise == CLEAR_BY_EAR:
            self._begin_by_ear()
            return
        if self.exercise == SING:
            return
        self._ask_next()

    def _ask_next(self) -> None:
        exercise, helps, number = self.exercise, self.helps, self._number
        seed = (self._seed + 7919 * number) % 2**31
        trials = tuple(self._trials)
        self.question = self.told = None
        self.changed.emit()

        def work() -> tuple[Quest | None, Question]:
            from kesselton.core.practice.exercises import EXERCISES, make_question
            from kesselton.core.practice.threshold import Quest

            scale = EXERCISES[exercise].scale
            quest = None if scale is None else Quest(scale, trials)
            level = None if quest is None else quest.next_level()
            return quest, make_question(exercise, seed, level, helps)

        self._jobs.request((exercise, number, self._seed), work)

    def _on_made(self, key: tuple[str, int, int], result: tuple[Quest | None, Question]) -> None:
        if key == (self.exercise, self._number, self._seed):
            self.quest, self.question = result
            self.asked.emit(self.question)
            self.changed.emit()
            self.play()

    def _on_failed(self, key: object, error: KesseltonError) -> None:
        self.refused.emit(error)

    def play(self) -> None:
        """Hear the question, or once more: its sounds one after the other."""
        if self.question is not None and self.question.sounds:
            self.sound(_joined(self.question.sounds))

    def sound(self, sound: Sound) -> None:
        """Play a sound at the level that was set: nothing is louder."""
        self.player.play(replace(sound, samples=self.level_share * sound.samples), "practice")

    def try_loudness(self) -> None:
        """A stroke as loud as any that follows, to set the level by."""
        from kesselton.core.practice.exercises import make_question

        self.sound(make_question("beater", 1).sounds[0])

    def answer(self, given: str) -> None:
        """Answer the question; nothing is told before."""
        question = self.question
        if question is None or self.told is not None:
            return
        outcome = UNSURE if given == UNSURE else RIGHT if given == question.right else WRONG
        self._trials.append(Trial(question.level, outcome))
        self._helped |= self.helps
        self.told = Told(outcome, question)
        if self.quest is not None:
            self.quest.add(self._trials[-1])
        if len(self._trials) >= MOST_TRIALS:
            self.finish()
        self.changed.emit()

    def go_on(self) -> None:
        """The next question, once this one is answered."""
        if self.told is not None:
            self._number += 1
            self._ask_next()

    @property
    def estimate(self) -> Estimate | None:
        """Where the threshold is, as far as this session tells."""
        if self.quest is None or not self._trials:
            return None
        return self.quest.estimate()

    def finish(self) -> None:
        """The session is over; what was answered is kept with who practises."""
        pupil, trials = self.pupil, tuple(self._trials)
        if pupil is not None and trials and self.exercise != CLEAR_BY_EAR:
            estimate = self.estimate if len(trials) >= FEWEST else None
            done = Session(
                self.exercise,
                self._now().isoformat(timespec="seconds"),
                self._seed,
                self.seconds,
                trials,
                None if estimate is None else estimate.threshold,
                None if estimate is None else estimate.low,
                None if estimate is None else estimate.high,
                ((HELPED, float(len(self._helped))),) if self._helped else (),
            )
            self._stop_session()
            self._commit(DONE, self.workshop.with_pupil(pupil.with_session(done)))
        else:
            self._stop_session()

    def _stop_session(self) -> None:
        self._trials, self.question, self.told, self.quest = [], None, None, None
        self.ear, self.score = None, None
        self._number = -1
        self.player.stop()
        self.changed.emit()

    # with the hands

    def _begin_by_ear(self) -> None:
        from kesselton.core.practice.by_ear import EarBench

        easy = 0.6 if not (self.pupil and self.pupil.of(CLEAR_BY_EAR)) else 1.0
        self.ear, self.score = EarBench(self._seed, easy), None
        self.changed.emit()

    def tap(self, rod: int) -> None:
        """Hear a rod of the head in hand."""
        if self.ear is not None and self.score is None:
            self.sound(self.ear.tap(rod, self.seconds))
            self.changed.emit()

    def turn(self, rod: int, turns: float) -> None:
        """Turn a rod of it."""
        if self.ear is not None and self.score is None:
            self.ear.turn(rod, turns, self.seconds)
            self.changed.emit()

    def end_by_ear(self) -> None:
        """The gauge at last: how it went, kept with who practises.

        Raises
        ------
        KesseltonError
            If the solver cannot say.
        """
        ear, pupil = self.ear, self.pupil
        if ear is None or self.score is not None:
            return
        seconds = self.seconds
        self.score = score = ear.score()
        if pupil is not None and ear.acts:
            measures = (
                ("begun_cents", score.begun_cents), ("left_cents", score.left_cents),
                ("tension_cents", score.tension_cents), ("turns", float(score.turns)),
                ("taps", float(score.taps)), ("solver_cents", score.solver_cents),
            )  # fmt: skip
            done = Session(
                CLEAR_BY_EAR, self._now().isoformat(timespec="seconds"), self._seed, seconds,
                measures=measures,
            )  # fmt: skip
            self._commit(DONE, self.workshop.with_pupil(pupil.with_session(done)))
        self.changed.emit()

    def keep_measures(self, seconds: float, measures: tuple[tuple[str, float], ...]) -> None:
        """What was measured of an exercise without questions, with who practises."""
        pupil = self.pupil
        if pupil is not None:
            on = self._now().isoformat(timespec="seconds")
            done = Session(self.exercise, on, self._seed, seconds, measures=measures)
            self._commit(DONE, self.workshop.with_pupil(pupil.with_session(done)))

    # out

    def export(self, path: Path) -> None:
        """What the pupil practised, as CSV or JSON by the name of the file.

        Raises
        ------
        KesseltonError
            If nobody practises, or the place cannot be written.
        """
        pupil = self.pupil
        if pupil is None:
            raise InputError(_("No trainee yet."), _("Add a name first."))
        if path.suffix.lower() == ".json":
            text = json.dumps(_as_data(pupil), indent=1, ensure_ascii=False)
        else:
            text = _as_csv(pupil)
        write_file(path, f"{text}\n".encode())

    def _commit(self, label: str, workshop: Workshop) -> None:
        self._bench.document.commit(label, workshop)

    def stop(self) -> None:
        """Keep what was answered, and end every thread."""
        self.finish()
        self.player.close()
        self._jobs.stop()


def _joined(sounds: tuple[Sound, ...]) -> Sound:
    """One after the other."""
    import numpy as np

    rate = sounds[0].rate_hz
    gap = np.zeros(int(GAP_S * rate))
    parts = [part for sound in sounds for part in (sound.samples, gap)][:-1]
    return replace(sounds[0], samples=np.concatenate(parts))


def _as_data(pupil: Pupil) -> dict[str, object]:
    return {
        "format": "kesselton/practice",
        "version": 1,
        "name": pupil.name,
        "sessions": [
            {
                "exercise": session.exercise, "on": session.on,
                "seed": session.seed, "seconds": session.seconds,
                "trials": [[trial.level, trial.outcome] for trial in session.trials],
                "threshold": session.threshold, "low": session.low, "high": session.high,
                "measures": dict(session.measures),
            }
            for session in pupil.sessions
        ],
    }  # fmt: skip


def _as_csv(pupil: Pupil) -> str:
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(
        ("exercise", "on", "seed", "seconds", "answers", "right", "threshold", "low", "high")
    )
    for session in pupil.sessions:
        right = sum(trial.outcome == RIGHT for trial in session.trials)
        rows.writerow(
            [
                inert_cell(session.exercise),
                session.on,
                session.seed,
                f"{session.seconds:.0f}",
                len(session.trials),
                right,
            ]
            + [
                "" if x is None else f"{x:.4g}"
                for x in (session.threshold, session.low, session.high)
            ]
        )
    return out.getvalue().rstrip("\n")
