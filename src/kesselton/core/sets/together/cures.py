"""What helps against one drum setting another talking: each way computed, ranked by help and price
(theory section 26)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.wires import Wires
from kesselton.core.language import N_, Worded, _
from kesselton.core.measure.plan import at_interval
from kesselton.core.pitch import ratio_of
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.wires import wires_response
from kesselton.core.sets.model.curve import present_interval
from kesselton.core.sets.together.answering import Answer, Ready, answer, ready

LITTLE_DB = 2.0
"""Help under this is little."""
NEARLY_DB = -6.0
"""Wires so near to leaving the head are what is to be quieted."""
OTHER_INTERVALS = (0.0, 100.0, 300.0, 500.0)
NOTE_MOVES = (-60.0, -30.0, 30.0, 60.0)
SIDE_MOVES = (-60.0, 60.0)
PULLS = (1.5, 2.0)
SAME_CENTS = 40.0
SECONDS_PER_ROD = 6.0
"""For a head that is drawn or let down a little, looked over once; assumed."""
KINDS: dict[str, str] = Worded(
    {
        "interval": N_("interval between heads, drum pitch kept"),
        "note": N_("drum pitch moved"),
        "damp": N_("damping"),
        "side": N_("snare side"),
        "strainer": N_("strainer"),
        "off": N_("strainer off during rests"),
    }
)
"""In the order in which the trade tries them (common practice)."""


@dataclass(frozen=True)
class Cure:
    """One way to quiet an answer.

    Attributes
    ----------
    kind : key of KINDS
    drum : number of the drum that is changed; `changed` is that drum as it would be
    amount : what is done: cents between the heads, cents the note moves, N of pull
    help_db : by how much the answer is quieter, of the wires if they are what talks
    seconds : what it takes to do
    price : what is lost by it, in words, ""
    why_not : why it cannot be done or was not computed, ""
    """

    kind: str
    drum: int
    amount: float
    help_db: float
    seconds: float
    changed: Drum | None = None
    price: str = ""
    why_not: str = ""

    @property
    def little(self) -> bool:
        """Whether it helps little."""
        return not self.why_not and self.help_db < LITTLE_DB


def of_wires(candidate: Answer) -> bool:
    """Whether the wires are what talks."""
    return not math.isnan(candidate.wires_db) and candidate.wires_db > NEARLY_DB


def talk_db(candidate: Answer, wires: bool) -> float:
    """What is to be made quieter: the wires over their threshold, or the heads."""
    return candidate.wires_db if wires else candidate.level_db


def cures(
    struck: Ready, answering: Ready, stroke: Stroke, distance_m: float, pair: tuple[int, int]
) -> list[Cure]:
    """All ways that can be tried, the best help for its price first, the rest after.

    Notes
    -----
    Every one is a whole solution of the drum that is changed. Of several amounts of one kind on one
    drum the best is kept.
    """
    now = answer(struck, answering, stroke, distance_m, pair)
    wires = of_wires(now)
    before = talk_db(now, wires)

    def after(number: int, done: Ready) -> float:
        both = (done, answering) if number == 0 else (struck, done)
        candidate = answer(*both, stroke, distance_m, pair)
        return (
            talk_db(candidate, wires)
            if wires == (not math.isnan(candidate.wires_db))
            else -math.inf
        )

    best: dict[tuple[str, int], tuple[Cure, Ready | None]] = {}
    for kind, number, amount, make, seconds in _tries(struck, answering, wires):
        key, done = (kind, pair[number]), None
        try:
            drum, quieter = make(), math.inf
            if kind != "off":
                done = ready(predict(drum, (struck, answering)[number].prediction.stroke))
                quieter = before - after(number, done)
            if math.isinf(before):
                quieter = math.inf if kind in ("off", "strainer") else 0.0
            cure = Cure(kind, pair[number], amount, quieter, seconds, drum)
        except KesseltonError as error:
            cure = Cure(kind, pair[number], amount, math.nan, seconds, why_not=error.one_line())
        old = best[key][0] if key in best else None
        if old is None or old.why_not or (not cure.why_not and cure.help_db > old.help_db):
            best[key] = (cure, done)
    priced = [
        _priced(cure, (struck, answering)[pair.index(cure.drum)], done)
        for cure, done in best.values()
    ]
    return sorted(priced, key=_rank)


def _rank(cure: Cure) -> tuple[bool, float]:
    """Help for a minute's work, the order of the trade between equals."""
    if cure.why_not:
        return (True, 0.0)
    help_db = min(cure.help_db, 25.0)
    order = 0.1 * list(KINDS).index(cure.kind)
    price = 20.0 if cure.kind == "off" else 0.0  # no snare drum while they are off
    return (False, -(help_db - price) / (1.0 + cure.seconds / 60.0) + order)


def _tries(
    struck: Ready, answering: Ready, wires: bool
) -> Iterator[tuple[str, int, float, Callable[[], Drum], float]]:
    for number, candidate in enumerate((struck, answering)):
        drum = candidate.drum
        per_head = SECONDS_PER_ROD * drum.shell.rods
        if drum.resonant is not None and drum.one_pull is None:
            note = candidate.prediction.fundamental_hz
            present = present_interval(drum)
            if number == 0 or not wires:
                for cents in OTHER_INTERVALS:
                    if abs(cents - present) > SAME_CENTS:
                        yield (
                            "interval", number, cents,
                            _made(at_interval, drum, cents, note), 2.0 * per_head,
                        )  # fmt: skip
            if number == 0:
                for move in NOTE_MOVES:
                    yield (
                        "note", number, move,
                        _made(at_interval, drum, present, note * ratio_of(move)), 2.0 * per_head,
                    )  # fmt: skip
        place = Muffler("gel", "batter", 0.75, 1.5)
        yield "damp", number, 0.0, _made(_with_muffler, drum, place), 15.0
    if not wires:
        return
    drum = answering.drum
    hz = answering.prediction.lug_pitches_hz[1]
    own, laid = drum.own_wires, drum.laid_wires
    if own is None or laid is None or drum.resonant is None:
        return
    for move in SIDE_MOVES:
        setting = drum.resonant.at_pitch(hz * ratio_of(move))
        yield (
            "side", 1, move,
            _made(drum.with_setting, "resonant", setting), SECONDS_PER_ROD * drum.shell.rods,
        )  # fmt: skip
    for factor in PULLS:
        pull = factor * laid.pull_n
        yield "strainer", 1, pull, _made(_with_wires, drum, replace(own, pull_n=pull)), 5.0
    yield "off", 1, 0.0, _made(_with_wires, drum, own.thrown_off()), 5.0


def _made(make: Callable[..., Drum], *values: object) -> Callable[[], Drum]:
    return lambda: make(*values)


def _with_muffler(drum: Drum, muffler: Muffler) -> Drum:
    return replace(drum, mufflers=(*drum.mufflers, muffler))


def _with_wires(drum: Drum, wires: Wires) -> Drum:
    return replace(drum, wires=wires)


def _priced(cure: Cure, before: Ready, done: Ready | None) -> Cure:
    """The cure with what is lost by it; `done` is its drum, solved."""
    if cure.why_not or cure.changed is None:
        return cure
    if cure.kind == "off":
        return replace(cure, price=_("no snare sound until switched on"))
    if cure.kind == "damp":
        return replace(cure, price=_("shorter at every stroke"))
    if cure.kind == "note":
        return replace(
            cure, price=_("{amount:.0f} cents off the chord").format(amount=abs(cure.amount))
        )
    if cure.kind in ("side", "strainer") and done is not None:
        was, now = wires_response(before.prediction), wires_response(done.prediction)
        if was is not None and now is not None:
            message = _("wires respond from {from_touch:.1f} % of a medium stroke").format(
                from_touch=100.0 * now.from_touch
            )
            return replace(
                cure,
                price=_("{said}, {from_touch:.1f} % before ({verdict})").format(
                    said=message, from_touch=100.0 * was.from_touch, verdict=now.verdict
                ),
            )
    return cure
