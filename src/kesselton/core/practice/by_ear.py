"""Clearing by ear: hidden faults, one’s own hands on the rods, no gauge until the end."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.arrays import FloatArray
from kesselton.core.clear.clearing import assess
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.core.clear.turning import plan_turns
from kesselton.core.constants import CENTS_PER_NEPER
from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.practice.drums import some_drum, tap_sound
from kesselton.core.prediction.render import Sound

USUAL_CENTS = 100.0
"""A half step between rods is usual before clearing (common practice, no published source)."""
LEAST_TURN, MOST_TURN = 1.0 / 128.0, 1.0
SOLVER_ROUNDS = 3


@dataclass(frozen=True)
class Act:
    """Something that was done: a tap ("tap") or a turn ("turn") at a rod, and when."""

    what: str
    rod: int
    turns: float
    at_s: float


@dataclass(frozen=True, eq=False)
class Score:
    """How it went, looked at only at the end.

    Attributes
    ----------
    begun_cents, left_cents : between the extremes of lug pitch, at the beginning and now
    tension_cents : between the extremes of tension beside the rods, as cents of pitch
    turns : rods turned; taps : rods heard; seconds : it took
    solver_cents, solver_turns : what the solver leaves on the same head after three rounds, and the
        rods it turns
    pitches_cents : (N,) each rod against the mean; turned : (N,) turns of each rod in all
    wanted : (N,) turns the solver would have given at the beginning
    replay : everything that was done, and what lay between the extremes after it
    """

    begun_cents: float
    left_cents: float
    tension_cents: float
    turns: int
    taps: int
    seconds: float
    solver_cents: float
    solver_turns: int
    pitches_cents: FloatArray
    turned: FloatArray
    wanted: FloatArray
    replay: tuple[tuple[Act, float], ...]


class EarBench:
    """A head that is not there, under one's own hands.

    Parameters
    ----------
    seed : the same head again
    out : how far rods are out, over what is usual
    """

    def __init__(self, seed: int, out: float = 1.0) -> None:
        if not 0.1 <= out <= 3.0:
            raise InputError(
                _("Rods out {out:g} times the usual.").format(out=out), _("Use 0.1 to 3.")
            )
        self.seed = seed
        rng = np.random.default_rng([seed, 1])
        self._drum = some_drum(rng)
        faults = random_faults(self._drum.shell.rods, rng, 0.1)
        self._faults = replace(faults, stick=0.0, hand=0.0)
        for _unused in range(3):  # until rods lie about a half step apart
            share = out * USUAL_CENTS / max(self._spread(self._made()), 1.0)
            turn = tuple(share * turn for turn in self._faults.turn)
            self._faults = replace(self._faults, turn=turn)
        self.head = self._made()
        self._begun = self._spread(self.head)
        self.acts: list[Act] = []
        self._rng = np.random.default_rng([seed, 3])

    def _made(self) -> SimulatedHead:
        """The head as it was at first."""
        return SimulatedHead(self._drum, "batter", self._faults, self.seed)

    @property
    def rods(self) -> int:
        """How many rods it has."""
        return self.head.rim.rods

    def tap(self, rod: int, at_s: float = 0.0) -> Sound:
        """Hear a rod.

        Raises
        ------
        InputError
            If there is no such rod.
        """
        self._check(rod)
        self.acts.append(Act("tap", rod, 0.0, at_s))
        return tap_sound(self.head, rod, self._rng)

    def turn(self, rod: int, turns: float, at_s: float = 0.0) -> None:
        """Turn a rod; positive tightens.

        Raises
        ------
        InputError
            If there is no such rod, or no hand turns so.
        """
        self._check(rod)
        if not LEAST_TURN <= abs(turns) <= MOST_TURN:
            raise InputError(
                _("A turn of {turns:g} is out of range.").format(turns=turns), _("Use 1/128 to 1.")
            )
        every = np.zeros(self.rods)
        every[rod - 1] = turns
        self.head.turn(every)
        self.acts.append(Act("turn", rod, turns, at_s))

    def score(self) -> Score:
        """How it went, against what the solver does with the same head.

        Raises
        ------
        KesseltonError
            If the solver cannot say.
        """
        solver = self._made()
        clearing, wanted = Clearing(), np.zeros(self.rods)
        for number in range(SOLVER_ROUNDS):
            for rod, hz in enumerate(solver.read_pitches(), start=1):
                clearing = clearing.with_tap(at_rod("lug_pitch", rod, float(hz)))
            turns = plan_turns(assess(solver.drum, clearing), clearing.step).turns
            if number == 0:
                wanted = turns
            solver.turn(turns)
            clearing = clearing.turned(tuple(turns.tolist()))
        pitches = CENTS_PER_NEPER * np.log(self.head.pitches())
        turned = np.zeros(self.rods)
        for act in self.acts:
            turned[act.rod - 1] += act.turns
        return Score(
            self._begun,
            self._spread(self.head),
            float(np.ptp(self.head.local_cents())),
            sum(act.what == "turn" for act in self.acts),
            sum(act.what == "tap" for act in self.acts),
            self.acts[-1].at_s if self.acts else 0.0,
            self._spread(solver),
            solver.moves,
            pitches - pitches.mean(),
            turned,
            wanted,
            tuple(self.replayed()),
        )

    def replayed(self) -> list[tuple[Act, float]]:
        """Everything that was done, and what lay between the extremes after it."""
        head, out = self._made(), []
        for act in self.acts:
            if act.what == "turn":
                every = np.zeros(self.rods)
                every[act.rod - 1] = act.turns
                head.turn(every)
            out.append((act, self._spread(head)))
        return out

    def _check(self, rod: int) -> None:
        if not 1 <= rod <= self.rods:
            raise InputError(
                _("Rod {rod} does not exist.").format(rod=rod),
                _("This head has {rods}.").format(rods=self.rods),
                "rod",
            )

    @staticmethod
    def _spread(head: SimulatedHead) -> float:
        return float(np.ptp(CENTS_PER_NEPER * np.log(head.pitches())))
