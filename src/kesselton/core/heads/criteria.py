"""How well a pair of heads does what the brief asks: one open score for every criterion."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kesselton.core import constants as const
from kesselton.core.arrays import BoolArray, FloatArray
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import (
    DENSITIES,
    DURABILITIES,
    FEELS,
    MICROPHONES,
    ROOMS,
    TOUCHES,
    Brief,
)
from kesselton.core.heads.custom import controlled, judged, pair_of
from kesselton.core.heads.like import Like
from kesselton.core.heads.measures import Measures
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import snare_side_mil
from kesselton.core.language import N_, _, figures, worded

COMPUTED, COMMON_PRACTICE = "computed", "common practice"
HEAVIEST_WEIGHT = 5.0

TYPICAL_RING_S = {"snare": 0.45, "tom": 0.8, "bass": 0.8, "concert_bass": 1.8, "rope": 0.7}
"""Ring of a medium stroke that suits a medium part in a dry room; assumed."""
TYPICAL_STIFFNESS_N_PER_M = {
    "snare": 6500.0, "tom": 2200.0, "bass": 1800.0, "concert_bass": 2000.0, "rope": 4000.0,
}  # fmt: skip
"""Of the batter head under the usual beater; assumed."""
LARGE_ROOM = 3.0
"""A large room wants the snare side of a touch so much harder; the figure is assumed."""
RETUNE_CENTS = 300.0
"""Room to either side from which more is of no use; assumed."""


@worded("label", "unit")
@dataclass(frozen=True)
class Criterion:
    """One thing a pair is judged by.

    Attributes
    ----------
    key, label, unit : its name, in words, and the unit of its value
    source : COMPUTED, or COMMON_PRACTICE where a rule of the trade decides
    digits : after the point
    """

    key: str
    label: str
    unit: str
    source: str = COMPUTED
    digits: int = 1


CRITERIA: tuple[Criterion, ...] = (
    Criterion("like_ring", N_("decay, as measured"), N_("s"), digits=2),
    Criterion("like_bright", N_("brightness, as measured"), N_("Hz"), digits=0),
    Criterion("like_partials", N_("overtones, as measured"), N_("cents off"), digits=0),
    Criterion("like_lengths", N_("overtone decay, as measured"), N_("% off"), digits=0),
    Criterion("ring", N_("decay"), N_("s"), digits=2),
    Criterion("attack", N_("attack"), N_("% in the first 30 ms"), digits=0),
    Criterion("response", N_("response to soft strokes"), N_("dB"), digits=1),
    Criterion("wires", N_("wire response to soft strokes"), N_("dB"), digits=1),
    Criterion("clear", N_("free of beats"), N_("% beat"), digits=0),
    Criterion("feel", N_("feel under the stick"), N_("kN/m"), digits=1),
    Criterion("reserve", N_("stress margin"), N_("%"), digits=0),
    Criterion("speaks", N_("speaks at this setting"), "", digits=0),
    Criterion("retune", N_("room to retune"), N_("cents"), digits=0),
    Criterion("wear", N_("head life"), N_("× a single 10 mil"), COMMON_PRACTICE, 1),
    Criterion("open", N_("no built-in muffling"), "", COMMON_PRACTICE, 0),
    Criterion("control", N_("built-in muffling"), "", COMMON_PRACTICE, 0),
    Criterion("balance", N_("snare side suits batter, touch"), N_("mil"), COMMON_PRACTICE, 1),
    Criterion("custom", N_("common practice"), "", COMMON_PRACTICE, 0),
    Criterion("bright", N_("brightness"), N_("Hz"), digits=0),
    Criterion("warm", N_("warmth"), N_("Hz"), digits=0),
)
KEYS = tuple(criterion.key for criterion in CRITERIA)
LIKE_KEYS = ("like_ring", "like_bright", "like_partials", "like_lengths")
"""How near a pair comes to a stroke that was heard, where that is the target."""


@dataclass(frozen=True, eq=False)
class Scores:
    """Scores of C pairs.

    Attributes
    ----------
    score : (K, C) from 0 to 1, in the order of CRITERIA
    value : (K, C) in the criterion's unit
    wanted : (K,) in the same unit, nan where more (or less) is simply better
    weight : (K,) as the brief sets them
    """

    score: FloatArray
    value: FloatArray
    wanted: FloatArray
    weight: FloatArray

    def total(self, weight: FloatArray | None = None) -> FloatArray:
        """Weighted mean of the scores, (C,)."""
        w = self.weight if weight is None else weight
        if float(w.sum()) <= 0.0:
            return np.zeros(self.score.shape[1])
        out: FloatArray = (w @ self.score) / w.sum()
        return out


def wanted_ring_s(drum: Drum, brief: Brief) -> float:
    """Ring that suits part, room and microphones."""
    return (
        TYPICAL_RING_S[drum.kind]
        * DENSITIES[brief.density].value
        * ROOMS[brief.room].value
        * MICROPHONES[brief.microphones].value
    )


def wanted_stiffness(drum: Drum, brief: Brief) -> float:
    """Stiffness under the stick that suits the feel asked for, N/m."""
    return TYPICAL_STIFFNESS_N_PER_M[drum.kind] * FEELS[brief.feel].value


def wanted_snare_side_mil(batter: Head, brief: Brief) -> float:
    """See `library.snare_side_mil`."""
    carry = LARGE_ROOM if brief.room == "large" else 1.0
    return snare_side_mil(batter, carry * TOUCHES[brief.touch].value)


def typical_weights(drum: Drum, brief: Brief) -> dict[str, float]:
    """What counts how much for a brief, before the technician moves a slider (assumed)."""
    touch = TOUCHES[brief.touch].value
    soft = 2.0 if touch < 0.4 else 1.5 if touch < 0.8 else 1.0 if touch < 1.5 else 0.3
    snare = drum.kind == "snare" and drum.resonant is not None
    versatile = brief.role == "versatile"
    weights = {
        "ring": 2.0,
        "attack": 1.0 if brief.density == "busy" or brief.microphones == "close" else 0.3,
        "response": soft,
        "wires": soft if snare else 0.0,
        "clear": 1.0,
        "feel": 0.0 if brief.target == "feel" else 1.0,
        "reserve": 1.5 if brief.durability == "long" else 1.0,
        "speaks": 1.5,
        "retune": 1.5 if versatile else 0.3,
        "wear": {"short": 0.3, "normal": 1.0, "long": 2.0}[brief.durability],
        "open": (1.0 if versatile else 0.0) + (0.7 if touch < 0.8 else 0.0),
        "control": 0.0,
        "balance": 1.0 if snare else 0.0,
        "custom": 3.0,
        "bright": 0.0,
        "warm": 0.0,
        **dict.fromkeys(LIKE_KEYS, 0.0),
    }
    if brief.like is not None:  # what is wanted is that sound; only heads that bear it
        weights = {**dict.fromkeys(weights, 0.0), "reserve": 0.3, **dict.fromkeys(LIKE_KEYS, 2.0)}
    return {**weights, **brief.weights}


def score(
    drum: Drum,
    brief: Brief,
    measures: Measures,
    heads: list[tuple[Head, ...]],
    cents: FloatArray,
    among: BoolArray,
) -> Scores:
    """Score measured pairs.

    Parameters
    ----------
    heads : (C) theirs, batter first
    cents : (C,) resonant over batter lug pitch
    among : (C,) which of them set the scale where more is simply better

    Raises
    ------
    InputError
        If the brief weighs something that is not judged.
    """
    weights = typical_weights(drum, brief)
    unknown = set(weights) - set(KEYS)
    if unknown:
        raise InputError(
            _("{unknown!r} is not a criterion.").format(unknown=sorted(unknown)[0]),
            _("Options: {keys}.").format(keys=", ".join(KEYS)),
            "weights",
        )
    count = len(measures.ring_s)
    value = np.full((len(KEYS), count), np.nan)
    points = np.zeros((len(KEYS), count))
    wanted = np.full(len(KEYS), np.nan)
    at = {key: index for index, key in enumerate(KEYS)}

    def put(key: str, values: FloatArray, scores: FloatArray, want: float = np.nan) -> None:
        value[at[key]], points[at[key]], wanted[at[key]] = values, scores, want

    ring = wanted_ring_s(drum, brief)
    put("ring", measures.ring_s, near(measures.ring_s / ring, 2.0), ring)
    put("attack", 100.0 * measures.attack, _ranked(measures.attack, among))
    put("response", measures.response_db, _ranked(measures.response_db, among))
    if np.isfinite(measures.wires_db).any():
        put("wires", measures.wires_db, _ranked(measures.wires_db, among))
    put("clear", 100.0 * measures.beat_depth, 1.0 - np.clip(measures.beat_depth, 0.0, 1.0))
    feel = wanted_stiffness(drum, brief)
    put(
        "feel", measures.stiffness_n_per_m / 1e3, near(measures.stiffness_n_per_m / feel, 1.6),
        feel / 1e3,
    )  # fmt: skip
    stress = measures.stress_share.max(axis=1)
    put("reserve", 100.0 * (1.0 - stress), np.clip(1.0 - stress, 0.0, 1.0))
    put("speaks", measures.speaks, np.exp(2.0 * measures.speaks))
    room = np.minimum(measures.up_cents, measures.down_cents).min(axis=1)
    put("retune", room, np.clip(room / RETUNE_CENTS, 0.0, 1.0), RETUNE_CENTS)
    life = DURABILITIES[brief.durability].value
    put("wear", measures.wear, np.clip(measures.wear / life, 0.0, 1.0), life)
    built_in = np.array([_built_in(pair[0]) for pair in heads], dtype=float)
    put("open", 1.0 - built_in, 1.0 - built_in)
    control = np.array([controlled(pair[0]) for pair in heads], dtype=float)
    put("control", control, control)
    if drum.kind == "snare" and drum.resonant is not None:
        below = np.array([pair[1].film_thickness_m / const.METRE_PER_MIL for pair in heads])
        suits = np.array([wanted_snare_side_mil(pair[0], brief) for pair in heads])
        put("balance", below, np.exp(-(((below - suits) / 1.5) ** 2)), float(np.median(suits)))
    pairs = zip(heads, cents.tolist(), strict=True)
    by_custom = np.array([judged(pair_of(drum, brief, *pair))[0] for pair in pairs])
    put("custom", by_custom, by_custom)
    put("bright", measures.brightness_hz, _ranked(measures.brightness_hz, among))
    put("warm", measures.brightness_hz, _ranked(-measures.brightness_hz, among))
    if brief.like is not None:
        _put_like(brief.like, measures, put)
    weight = np.array([weights[key] for key in KEYS])
    return Scores(points, value, wanted, weight)


def _put_like(like: Like, measures: Measures, put: Callable[..., None]) -> None:
    """Scores of how near each pair comes to a stroke; what counts as far is assumed."""
    put("like_ring", measures.fundamental_t60_s, near(measures.fundamental_t60_s / like.t60_s, 1.5),
        like.t60_s)  # fmt: skip
    bright = measures.like_brightness_hz
    put("like_bright", measures.brightness_hz, near(measures.brightness_hz / bright, 1.3),
        float(np.median(bright)))  # fmt: skip
    put("like_partials", measures.like_cents, np.exp(-((measures.like_cents / 40.0) ** 2)), 0.0)
    percent = 100.0 * np.expm1(measures.like_length)
    put("like_lengths", percent, np.exp(-((measures.like_length / 0.5) ** 2)), 0.0)


def near(ratio: FloatArray, factor: float) -> FloatArray:
    """1 where a ratio is 1, 1/e where it is off by `factor` either way."""
    out: FloatArray = np.exp(-((np.log(np.maximum(ratio, 1e-9)) / np.log(factor)) ** 2))
    return out


def _ranked(values: FloatArray, among: BoolArray) -> FloatArray:
    """0 for the least of those on offer, 1 for the most."""
    finite = values[np.isfinite(values) & among]
    if len(finite) == 0 or float(np.ptp(finite)) == 0.0:
        return np.full(len(values), 0.5)
    low, high = finite.min(), finite.max()
    out: FloatArray = np.clip(np.nan_to_num((values - low) / (high - low)), 0.0, 1.0)
    return out


def _built_in(head: Head) -> float:
    """How much control is built in, 0..1: it can be made deader, never more open."""
    rings = sum(1 for a in head.additions if a.kind != "dot")
    dots = sum(1 for a in head.additions if a.kind == "dot")
    fluid = 0.7 if head.interlayer == "fluid" else 0.3 if head.interlayer == "film" else 0.0
    vents = 0.5 if head.edge_vents else 0.0
    return min(1.0, 0.7 * rings + 0.4 * dots + fluid + vents)


def say(criterion: Criterion, value: float) -> str:
    """A value with its unit."""
    text = figures(value, f".{criterion.digits}f")
    return f"{text} {criterion.unit}".strip()


def reason(criterion: Criterion, value: float, want: float, points: float) -> str:
    """How one pair does in one criterion, in words (label not repeated)."""
    if criterion.key == "open":
        return _("none") if value > 0.9 else _("built-in muffling: cannot be opened up")
    if criterion.key == "control":
        return _("yes") if value > 0.5 else _("none")
    if criterion.key == "speaks":
        return (
            _("clear, outlasts its overtones") if points > 0.95 else (_("outside the sweet spot"))
        )
    if criterion.key == "custom":
        return _("yes") if points > 0.95 else _("no")
    if criterion.key == "clear":
        return _("no beats") if value < 5.0 else f"{say(criterion, value)}"
    if criterion.key == "retune":
        return _("{say} to the nearest limit").format(say=say(criterion, value))
    text = say(criterion, value)
    if np.isfinite(want):
        return _("{text}, target {want}").format(text=text, want=f"{want:.{criterion.digits}f}")
    if points > 0.8:
        return _("{text}, among the highest").format(text=text)
    return _("{text}, among the lowest").format(text=text) if points < 0.2 else text
