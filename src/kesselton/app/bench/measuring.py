"""From notes to numbers: calibrations, lines of turns, tensions, plan and drift of a drum."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from kesselton.app.workshop.log_entries import lately
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, TorqueKey
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, _
from kesselton.store.workshop.holdings import Entry, Workshop

if TYPE_CHECKING:
    from kesselton.core.measure.drift import Drift
    from kesselton.core.measure.gauges import DialFit, TurnFit
    from kesselton.core.measure.plan import HeadPlan
    from kesselton.core.measure.readings import Estimate, Observation
    from kesselton.core.measure.turn_line import TurnLine
    from kesselton.core.prediction.prediction import Prediction

NO_DIAL = N_("no gauge yet: see Gauges")


@dataclass(frozen=True, eq=False)
class Planned:
    """What the Tuning stage shows beside the prediction, and the drum it is of."""

    drum_id: int
    drum: Drum
    heads: list[HeadPlan]
    drifts: list[Drift]
    turns: dict[str, TurnFit]
    own_turns: dict[str, float]

    def turns_to_setting(self) -> dict[str, float]:
        """Turns past finger tight to the setting, where notes or the log have taught the line."""
        results = dict(self.own_turns)
        for side, line in self.turns.items():
            reading = self.drum.setting(side).reading if side in self.drum.sides else None
            if reading is not None:
                results[side] = line.turns_to(reading.hz)
        return results


@dataclass(frozen=True, eq=False)
class Measured:
    """What the readings of a drum say together, and what could not be used and why.

    `numbers` are those of the readings that were used, on the list of the drum, from 1.
    """

    readings: Sequence[Reading]
    numbers: tuple[int, ...]
    estimate: Estimate | None
    lug_pitches_hz: tuple[float, ...]
    contradiction: str
    left_out: tuple[str, ...]
    turns: dict[str, TurnFit]


def dial_in_hand(workshop: Workshop) -> Dial | None:
    """The first dial of the register."""
    return workshop.dials[0] if workshop.dials else None


def key_in_hand(workshop: Workshop) -> TorqueKey:
    """The first torque key of the register; a lubricated rod if there is none."""
    return workshop.keys[0] if workshop.keys else TorqueKey("")


def calibration(dial: Dial | None) -> DialFit | str:
    """A dial's calibration, or in words why there is none."""
    from kesselton.core.measure.gauges import fit_dial

    if dial is None:
        return _(NO_DIAL)
    try:
        return fit_dial(dial.pairs)
    except KesseltonError as error:
        return f"{error.message} {error.remedy}"


def turn_fits(entry: Entry) -> tuple[dict[str, TurnFit], list[str]]:
    """Per side, the line of pitch squared against turns, where the log has one; why it has none."""
    from kesselton.core.measure.gauges import fit_turns

    results, out = {}, []
    for side in entry.drum.sides:
        points = [
            (r.value, r.hz)
            for r in entry.readings
            if r.kind == "turns" and r.side == side and r.hz is not None
        ]
        if points:
            try:
                results[side] = fit_turns(points)
            except KesseltonError as error:
                out.append(
                    _("Turns of the {side} head: {message} {remedy}").format(
                        side=side, message=error.message, remedy=error.remedy
                    )
                )
    return results, out


def observations(
    entry: Entry, workshop: Workshop
) -> tuple[list[Observation], list[int], list[str]]:
    """Readings with their calibrations; indices of those used; why others are left out."""
    from kesselton.core.log.turns import turn_lines
    from kesselton.core.measure.readings import Observation

    dials = {dial.name: calibration(dial) for dial in workshop.dials}
    keys = {key.name: key for key in workshop.keys}
    lines, out = turn_fits(entry)
    own = turn_lines(entry.drum, lately(entry))
    used, index = [], []
    for place, reading in enumerate(entry.readings):
        fit: DialFit | TurnFit | TurnLine | None = None
        if reading.side not in entry.drum.sides and reading.kind != "fundamental":
            out.append(
                _("Reading {place}: the drum has no {side} head now.").format(
                    place=place + 1, side=reading.side
                )
            )
            continue
        if reading.kind == "dial":
            got = dials.get(reading.gauge, _(NO_DIAL))
            if isinstance(got, str):
                out.append(
                    _("Reading {place}, gauge {gauge}: {got}").format(
                        place=place + 1, gauge=reading.gauge, got=got
                    )
                )
                continue
            fit = got
        if reading.kind == "turns":
            if reading.hz is not None:
                continue  # of the log: it teaches the line, and says nothing of the present
            fit = lines.get(reading.side) or own.get(reading.side)
        try:
            used.append(
                Observation(
                    reading,
                    fit,
                    keys.get(reading.gauge, TorqueKey("")).friction,
                    entry.drum.shell.rod_thread,
                )
            )
            index.append(place)
        except KesseltonError as error:
            out.append(
                _("Reading {place}: {message} {remedy}").format(
                    place=place + 1, message=error.message, remedy=error.remedy
                )
            )
    return used, index, out


def combine_readings(entry: Entry, workshop: Workshop) -> Measured:
    """What the readings of a drum say together.

    Raises
    ------
    KesseltonError
        If the search does not settle.
    """
    from kesselton.core.acoustics.solver.lug import lug_pitch
    from kesselton.core.measure.readings import contradiction_words, estimate

    used, places, out = observations(entry, workshop)
    if not used:
        return Measured(entry.readings, (), None, (), "", tuple(out), turn_fits(entry)[0])
    result = estimate(entry.drum, used)
    words, numbers = "", tuple(place + 1 for place in places)
    if result.contradiction is not None:
        words = contradiction_words(used, result.contradiction, numbers)
    pitches = tuple(lug_pitch(entry.drum, s, result.tensions_n_per_m) for s in entry.drum.sides)
    return Measured(
        entry.readings, numbers, result, pitches, words, tuple(out), turn_fits(entry)[0]
    )


def plan(
    entry: Entry, workshop: Workshop, prediction: Prediction, stage: Air, hours: float
) -> Planned:
    """What gauges must read for the setting of a drum, and what becomes of it."""
    from kesselton.core.instrument.threads import THREADS
    from kesselton.core.log.turns import turn_lines
    from kesselton.core.measure.drift import drifts
    from kesselton.core.measure.plan import head_plans

    lines, _unused = turn_fits(entry)
    own = turn_lines(entry.drum, lately(entry))
    pairs = zip(entry.drum.sides, prediction.tensions_n_per_m, strict=True)
    own_turns = {side: own[side].turns_to(tension) for side, tension in pairs if side in own}
    heads = head_plans(
        entry.drum,
        prediction,
        calibration(dial_in_hand(workshop)),
        key_in_hand(workshop).friction,
        THREADS[entry.drum.shell.rod_thread],
        {**own, **lines},
    )
    return Planned(
        entry.id, entry.drum, heads, drifts(entry.drum, prediction, stage, hours), lines, own_turns
    )
