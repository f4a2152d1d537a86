"""Joins a drum to what was heard of it: strokes, their lines, and what they are beside the plan."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray
    from kesselton.core.heads.like import Like
    from kesselton.core.hearing.matching import Matching
    from kesselton.core.hearing.note import Note
    from kesselton.core.hearing.over_time import OverTime
    from kesselton.core.hearing.stroke_lines import HeardStroke, StrokeLine
    from kesselton.core.instrument.beater import Stroke
    from kesselton.core.prediction.prediction import Prediction
    from kesselton.core.prediction.render import Sound

SIMULATED_CENTS = 8.0
"""How far a simulated head stands off its plan (sd): ears, and what was not measured."""
SIMULATED_SPLIT = 0.02
SIMULATED_NOISE_DB = 46.0


@dataclass(frozen=True, eq=False)
class Take:
    """Strokes at one place with one beater, and what was computed of the drum struck so."""

    prediction: Prediction
    strokes: tuple[HeardStroke, ...]


@dataclass(frozen=True, eq=False)
class HeardDrum:
    """What was heard, laid beside the drum it is of.

    Attributes
    ----------
    drum, prediction : the drum on the bench and what was computed of it, struck as it was last
    lines, matching : of all strokes together
    note : the fundamental, told apart from the lines; None where it cannot be
    faults : what is wrong with the sound of the last stroke (`core.hearing.sound_faults`)
    may_be : what each line may be that was told no partial (`core.hearing.unmatched`)
    takes : the strokes, by place and beater
    samples, rate_hz : the sound of the last
    computed : the same stroke as it was computed
    seen : both over time and pitch, heard first
    """

    drum: Drum
    prediction: Prediction
    lines: tuple[StrokeLine, ...]
    matching: Matching
    note: Note | None
    faults: tuple[str, ...]
    may_be: tuple[tuple[str, ...], ...]
    takes: tuple[Take, ...]
    samples: FloatArray
    rate_hz: float
    computed: Sound
    seen: tuple[OverTime, OverTime]

    @property
    def on_wires(self) -> int:
        """How many lines stand where the head sounds with its wires lying on it."""
        from kesselton.core.hearing.unmatched import WIRES

        return sum(WIRES in names for names in self.may_be)

    @property
    def disagree_hz(self) -> tuple[float, ...]:
        """The notes of all strokes, where they do not agree on one."""
        notes = sorted(note.hz for note in _notes(self.takes))
        return tuple(notes) if self.note is None and not self.on_wires else ()

    @property
    def strokes(self) -> int:
        """How many they were."""
        return sum(len(take.strokes) for take in self.takes)

    @property
    def places(self) -> int:
        """At how many places, or with how many beaters, it was struck."""
        return len(self.takes)


MOST_STROKES = 24
"""Older ones are forgotten."""


def hear_drum(
    samples: FloatArray,
    rate_hz: float,
    drum: Drum,
    stroke: Stroke | None = None,
    before: HeardDrum | None = None,
) -> HeardDrum:
    """Hear the strokes in a sound of a drum, together with those heard of it before.

    Parameters
    ----------
    before : what was heard of the same drum as it is set

    Raises
    ------
    KesseltonError
        If the drum cannot be computed, or there is no stroke to be heard: in words, why.
    """
    from kesselton.core.hearing.matching import match, with_note
    from kesselton.core.hearing.note import pooled_note
    from kesselton.core.hearing.over_time import over_time
    from kesselton.core.hearing.pairs import paired
    from kesselton.core.hearing.stroke_lines import pooled, together
    from kesselton.core.hearing.strokes import hear_strokes
    from kesselton.core.hearing.unmatched import WIRES, may_be
    from kesselton.core.prediction.close_sound import close_stroke
    from kesselton.core.prediction.prediction import predict

    prediction = predict(drum, stroke)
    strokes = hear_strokes(samples, rate_hz, prediction.fundamental_hz)
    takes = _taken(() if before is None else before.takes, prediction, strokes)
    lines = paired(together([pooled(take.strokes) for take in takes]))
    matching = match(lines, _as_loud(prediction, takes))
    other = may_be(lines, matching, prediction)
    heard_notes = _notes(takes)
    # as wires that lie there load the head, its lowest line is not the note of the drum
    note = None if any(WIRES in names for names in other) else pooled_note(heard_notes)
    if heard_notes and note is None:
        matching = replace(matching, fundamental_hz=None, fundamental_half_cents=math.inf)
    matching = with_note(matching, lines, note, prediction)
    faults = strokes[-1].faults
    computed = close_stroke(prediction, prediction.stroke, ring=_ring_heard(note, prediction))
    first = max(strokes, key=lambda item: len(item.lines)).at_s
    seen = (
        over_time(samples, rate_hz, first),
        over_time(computed.samples, computed.rate_hz, 0.0),
    )
    return HeardDrum(
        drum,
        prediction,
        lines,
        matching,
        note,
        faults,
        other,
        takes,
        samples,
        rate_hz,
        computed,
        seen,
    )


def _ring_heard(note: Note | None, prediction: Prediction) -> float:
    """How many times as long as computed the note rings; 1 where that was not told."""
    if note is None or not note.near or math.isnan(note.t60_s):
        return 1.0
    computed = float(prediction.partials.t60_s[prediction.partials.fundamental])
    return min(max(note.t60_s / computed, 0.2), 5.0)


def _notes(takes: Sequence[Take]) -> list[Note]:
    """Of all strokes that told one."""
    return [stroke.note for take in takes for stroke in take.strokes if stroke.note is not None]


def _taken(
    before: tuple[Take, ...], prediction: Prediction, strokes: Sequence[HeardStroke]
) -> tuple[Take, ...]:
    """All takes with the newest strokes among them."""
    same = next((take for take in before if take.prediction.stroke == prediction.stroke), None)
    rest = tuple(take for take in before if take is not same)
    of_this = (*(() if same is None else same.strokes), *strokes)[-MOST_STROKES:]
    return (*rest, Take(prediction, of_this))


def _as_loud(prediction: Prediction, takes: Sequence[Take]) -> Prediction:
    """What was computed, each partial as loud as at the place that gives it most."""
    import numpy as np

    levels = np.max([take.prediction.levels_db for take in takes], axis=0)
    return replace(prediction, levels_db=levels)


def like_heard(heard: HeardDrum) -> Like:
    """What was heard as a stroke another drum or setting shall be like.

    Raises
    ------
    InputError
        If its note was not told.
    """
    from kesselton.core.errors import InputError
    from kesselton.core.heads.like import like_of

    note = heard.note
    hz = heard.matching.fundamental_hz if note is None else note.hz
    if hz is None:
        raise InputError(
            _("No fundamental was identified in this stroke, so it cannot be matched."),
            _("Strike the center, let it ring, and analyze again."),
        )
    lines = [(float(x.hz), x.t60_s, x.level_db) for x in heard.lines]
    return like_of(heard.drum.name, float(hz), lines)


def simulated_stroke(
    drum: Drum, stroke: Stroke, seed: int, take: int = 0
) -> tuple[FloatArray, float]:
    """A stroke on the drum that is not there: its heads a little off what they were set to, pairs
    split, a room's hiss, its wires on it where a soft stroke leaves them. Samples and their rate.

    Parameters
    ----------
    seed : of the drum, which stays as it is; take : of the stroke

    Raises
    ------
    KesseltonError
        If the drum cannot be computed.
    """
    import numpy as np

    from kesselton.core.prediction.prediction import predict
    from kesselton.core.prediction.render import RATE_HZ, edges, lying_wires, sounding

    rng = np.random.default_rng(seed)
    prediction = predict(drum, stroke)
    moved = drum
    for side, tension in zip(drum.sides, prediction.tensions_n_per_m, strict=True):
        off = float(np.exp(2.0 * rng.normal(0.0, SIMULATED_CENTS) / 1731.0))
        moved = moved.with_setting(side, moved.setting(side).at_tension(tension * off))
    there = predict(moved, stroke)
    time = np.arange(int(2.0 * RATE_HZ)) / RATE_HZ
    ring = np.maximum(time - 0.1, 0.0)
    sound, blow = np.zeros(len(time)), np.random.default_rng([seed, take])
    on = None if moved.lying_wires is None else lying_wires(there)
    hz, decay, amplitude, _unused = sounding(there, stroke, on)
    for f, d, a in zip(hz, decay, amplitude, strict=True):
        gap = abs(rng.normal(0.0, SIMULATED_SPLIT)) * (f != there.fundamental_hz)
        share = float(np.clip(rng.uniform(0.2, 0.8) + blow.normal(0.0, 0.05), 0.1, 0.9))
        for half, part in ((-0.5, share), (0.5, 1.0 - share)):
            wave = np.sin(2.0 * np.pi * f * (1.0 + half * gap) * ring + blow.uniform(0.0, 6.28))
            sound += a * np.sqrt(part) * np.exp(-d * ring) * wave
    begin = int(0.1 * RATE_HZ)
    sound[:begin] = 0.0
    sound[begin:] *= edges(len(sound) - begin, RATE_HZ, 0.004)
    level = float(np.sqrt(np.mean(sound[begin : begin + RATE_HZ // 5] ** 2)))
    sound += blow.standard_normal(len(sound)) * level * 10.0 ** (-SIMULATED_NOISE_DB / 20.0)
    return 0.5 * sound / float(np.abs(sound).max()), RATE_HZ
