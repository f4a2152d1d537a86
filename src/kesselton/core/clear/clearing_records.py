"""Rounds of reading and turning while a head is cleared, as they are noted."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.clear.walk import Walk
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.reading import KINDS, LIMITS, Reading
from kesselton.core.language import N_, Worded, _

ROD_KINDS = ("lug_pitch", "second_partial", "dial", "torque")
MIN_DIAL, MIN_TORQUE_NM = 0.5, 0.01
"""At its stop a dial says nothing, and a key on a slack rod neither."""
PATTERNS = Worded(
    {"even": N_("even all round"), "beds": N_("lower beside the snare beds"), "own": N_("custom")}
)
MAX_TURN = 2.0
MIN_SHARE, MAX_SHARE = 0.5, 1.5
FINEST_STEP, COARSEST_STEP = 0.002, 0.25


def at_rod(kind: str, rod: int, value: float, spread: float = 0.0) -> Reading:
    """A reading at one rod while a head is cleared.

    Raises
    ------
    InputError
        If a rod is not read so, or the gauge says nothing there.
    """
    if kind not in ROD_KINDS:
        raise InputError(
            _("{kind!r} is not a kind of reading.").format(kind=kind),
            _("Options: {rod_kinds}.").format(rod_kinds=", ".join(ROD_KINDS)),
        )
    low = {"dial": MIN_DIAL, "torque": MIN_TORQUE_NM}.get(kind)
    if low is not None:
        _unused, high, unit = LIMITS[kind]
        check_range(
            value,
            low,
            high,
            _("Rod {rod}’s {kinds}").format(rod=rod, kinds=KINDS[kind]),
            unit,
            "value",
        )
    return Reading(kind, value, rod=rod, spread=spread)


@dataclass(frozen=True)
class Round:
    """Readings once round, then what was turned: turns per rod, empty until it is done."""

    taps: tuple[Reading, ...] = ()
    turns: tuple[float, ...] = ()


@dataclass(frozen=True)
class Clearing:
    """A head being cleared.

    Attributes
    ----------
    side : which head
    rounds : oldest first; the last one is being read
    pattern : one of PATTERNS; `wanted` holds tension over the mean per rod for "own"
    target_hz : lug pitch to end at, None to keep the one there is
    step : finest turn of the key
    learned : what earlier rounds on this head taught of its rim: collar, lugs, hoop, ln, then
        their doubts; empty before anything is
    walk : where the technician stands on the way round
    """

    side: str = "batter"
    rounds: tuple[Round, ...] = field(default_factory=lambda: (Round(),))
    pattern: str = "even"
    wanted: tuple[float, ...] = ()
    target_hz: float | None = None
    step: float = 1.0 / 64.0
    learned: tuple[float, ...] = ()
    walk: Walk = field(default_factory=Walk)

    @property
    def as_read(self) -> Clearing:
        """What an answer depends on: all but where the technician stands."""
        return replace(self, walk=Walk())

    @property
    def begun(self) -> bool:
        """Whether anything was read or turned."""
        return len(self.rounds) > 1 or bool(self.now.taps)

    def reads(self, kind: str, rods: int) -> int:
        """The rod that a reading of a kind belongs to now."""
        return self.walk.reads(self.now.taps, kind, rods)

    def missing(self, kind: str, rods: int) -> int:
        """How many rods have no reading of a kind yet."""
        return self.walk.missing(self.now.taps, kind, rods)

    @property
    def now(self) -> Round:
        """The round being read."""
        return self.rounds[-1]

    def with_tap(self, tap: Reading) -> Clearing:
        """A reading more; one of the same kind at the same rod is replaced."""
        kept = tuple(t for t in self.now.taps if (t.kind, t.rod) != (tap.kind, tap.rod))
        return self._now(replace(self.now, taps=(*kept, tap)))

    def without_last(self) -> Clearing:
        """The last reading taken back, and the second partial that was heard with it."""
        if not self.now.taps:
            return self
        rod, kept = self.now.taps[-1].rod, self.now.taps[:-1]
        if kept and (kept[-1].kind, kept[-1].rod) == ("second_partial", rod):
            kept = kept[:-1]
        return self._now(replace(self.now, taps=kept))

    def turned(self, turns: tuple[float, ...]) -> Clearing:
        """What was turned ends a round; the next one begins."""
        ended = replace(self.now, turns=turns)
        rounds = (*self.rounds[:-1], ended, Round())
        return replace(self, rounds=rounds, walk=Walk())

    def begun_again(self) -> Clearing:
        """The same wishes, nothing read or turned yet."""
        return replace(self, rounds=(Round(),), walk=Walk())

    def _now(self, changed: Round) -> Clearing:
        return replace(self, rounds=(*self.rounds[:-1], changed))

    def check(self, rods: int) -> None:
        """Refuse what does not belong to a drum with so many rods.

        Raises
        ------
        InputError
            Readings or turns for the wrong number of rods, or turns no hand makes.
        """
        for number, record in enumerate(self.rounds, start=1):
            for tap in record.taps:
                if not 1 <= tap.rod <= rods:
                    raise InputError(
                        _(
                            "Round {number} has a reading at rod {rod}, but the drum has {rods}."
                        ).format(number=number, rod=tap.rod, rods=rods),
                        _("Check the drum, or the reading."),
                        "rod",
                    )
            if record.turns and len(record.turns) != rods:
                raise InputError(
                    _("Round {number} turns {turns} rods, but the drum has {rods}.").format(
                        number=number, turns=len(record.turns), rods=rods
                    ),
                    _("Enter a turn for every rod, 0 for no turn."),
                    "turns",
                )
            for turn in record.turns:
                check_range(turn, -MAX_TURN, MAX_TURN, _("A turn"), "turns", "turns")
        if self.pattern not in PATTERNS:
            raise InputError(
                _("{pattern!r} is not a pattern.").format(pattern=self.pattern),
                _("Options: {patterns}.").format(patterns=", ".join(PATTERNS)),
            )
        if self.pattern == "own" and len(self.wanted) != rods:
            raise InputError(
                _("The pattern has {wanted} values, but the drum has {rods} rods.").format(
                    wanted=len(self.wanted), rods=rods
                ),
                _("Enter each rod’s tension relative to the mean, 1 for even."),
                "wanted",
            )
        for share in self.wanted:
            check_range(share, MIN_SHARE, MAX_SHARE, _("Relative tension"), "", "wanted")
        if not self.walk.fits(rods):
            raise InputError(
                _("The rod order names a rod beyond {rods}.").format(rods=rods),
                _("Restart clearing."),
                "walk",
            )
