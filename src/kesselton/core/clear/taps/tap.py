"""The pitch of a tap beside a rod: damped lines found, the (1,1) among them named (theory 21)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from kesselton.core.arrays import BoolArray, ComplexArray, FloatArray, IndexArray
from kesselton.core.clear.taps.damped_lines import (
    FittedLines,
    Line,
    damped_lines,
    refined,
    waves,
)
from kesselton.core.clear.taps.tap_doubt import (
    evidence,
    evidence_known,
    struck_whole,
    trust,
    trust_known,
)
from kesselton.core.clear.taps.tap_naming import (
    ALIKE,
    NEAR_SD,
    PAIR,
    TELLING,
    TYPICAL_TONES,
    WIDER,
    Expected,
    Naming,
    Tones,
    name_each,
    name_lines,
    said_by_others,
    second_partial,
)
from kesselton.core.clear.taps.tap_sound import (
    SHORTEST_S,
    checked,
    onsets,
    reduced,
    refuse_clipped,
    ringing,
    tap_start,
)
from kesselton.core.clear.taps.whole_stroke import is_whole_stroke
from kesselton.core.constants import CENTS_PER_NEPER as CENTS
from kesselton.core.errors import InputError
from kesselton.core.language import N_, _

__all__ = ["TYPICAL_TONES", "HeardTap", "Line", "Tones", "hear", "hear_all", "pooled"]

HIGH_HZ = 1350.0
LONGEST_RING_S = 0.40
BAND, MIN_BAND_HZ = 3.6, 200.0
"""Where the lug pitch is known about, nothing further above it is looked at: a large drum has too
many tones for one look."""
SKIP_S = 0.0085
"""The click of the stick is over after this; what rings is left."""


class _Listened(NamedTuple):
    """What of a tap is listened to: from when after the blow, up to where over the lug pitch that
    is expected, for how long at least."""

    skip_s: float = SKIP_S
    band: float = BAND
    longest_s: float = LONGEST_RING_S


USUALLY = _Listened()
OTHERWISE = (
    _Listened(skip_s=0.016),
    _Listened(band=2.5),
    _Listened(longest_s=0.22),
    _Listened(skip_s=0.004),
    _Listened(band=3.0, longest_s=0.6),
)
"""How else a tap is listened to that tells nothing for certain."""
AGREED, ALIKE_CENTS = 3, 60.0
"""So many of those must then tell the same; of 450 taps of `benchmarks/taps2.py` that nothing was
learned from four that are refused at first are told so, all of them rightly."""
PERIODS = 36.0
"""A low tone is listened to for so many periods at least, if the recording has them."""
FAINTEST = 10.0**-2.4
"""A lug pitch so far under the loudest line, in energy, is not to be trusted where the drum is not
known."""
SURE, SURE_UNKNOWN = 0.94, 0.76
"""Share of the likelihood from which an answer is given, where the drum is known and where not."""
OF_PAIR = 0.5
"""Share from which a line beside it is taken for the other one of the pair."""
WHOLE, WHOLE_KNOWN = 0.5, 0.5
"""Share from which it was a stroke on the whole drum, by its patterns, and by what was learned
where the drum is known: there the patterns alone refuse one tap in fifty."""
ONE_LINE_CENTS, TWO_LINES_CENTS = 30.0, 21.0
"""How uncertain the middle of a pair is, one standard deviation, where one of its lines was heard
and where two were: films split it by up to 8 % (recordings), and a weak line is easily mistaken;
from trials on `benchmarks/taps2.py`."""
TELLING_TAPS = 4
EARLY_GLIDE_CENTS = 2.0
"""A tap starts so much sharp, one standard deviation; assumed."""
SPLIT_GAIN = 12.0
DRIFT = 0.008
"""A line that refining moves so far, ln f, was not one line."""
HIDDEN_SPLIT = 0.006
"""Half of the gap from which two lines are looked for where one was found."""
PIECES = 0.013
"""Lines nearer to each other than this, ln f, may be pieces of one, where a third stands apart."""
LIKE_SD = 0.4
"""The two of a pair decay alike to this, ln, one standard deviation; assumed."""
GAP_SD, PARTNER = 0.035, -7.0
"""How far a film parts the two, ln f, one standard deviation (recordings); and the log likelihood
under which what stands beside a line is as likely of something else: of one line the middle is
better known than of one and a stranger."""
FAINT_PARTNER, FAINTEST_PARTNER = 0.125, 0.05
"""A partner fainter than this share of the other, in amplitude, is as likely of something else;
fainter than the second it is none."""
SEARCH_WHOLE = True
"""Whether what was named is asked once more if it is a stroke on the whole drum; not while that is
learned."""
WHOLE_WORDS = N_("This sounds like a stroke on the drum, not a tap at a rod.")
MUTE_WORDS = N_("Mute the other head, touch the center and tap near one rod.")
MAX_TAPS = 200
"""More strokes than so many in one sound are no round of taps."""


@dataclass(frozen=True)
class HeardTap:
    """What one tap says.

    Attributes
    ----------
    lug_pitch_hz : of the (1,1), its two lines weighted by the energy the tap gave them
    middle_hz : the middle of its two lines
    spread_cents, middle_spread_cents : standard deviations of the two
    confidence : how likely the line named is the (1,1), from 0 to 1, see `tap_doubt`
    second_hz : of the (2,1), None if it was not heard
    lines : all lines, low to high
    at_s : when it was
    """

    lug_pitch_hz: float
    middle_hz: float
    spread_cents: float
    middle_spread_cents: float
    confidence: float
    second_hz: float | None
    lines: tuple[Line, ...]
    at_s: float = 0.0


@dataclass(frozen=True)
class LeftOut:
    """A tap of a recording that gave no pitch: when it begins, seconds, and why it gave none."""

    at_s: float
    error: InputError

    def words(self) -> str:
        """In the language in use."""
        return _("At {seconds:.1f} s: {message} {remedy}").format(
            seconds=self.at_s, message=self.error.message, remedy=self.error.remedy
        )


def hear_all(
    samples: FloatArray,
    rate_hz: float,
    near_hz: float | Expected | None = None,
    tones: Tones = TYPICAL_TONES,
) -> tuple[list[HeardTap], list[LeftOut]]:
    """Every tap of a recording, of one head, and those that were left out; parameters as of `hear`.

    Raises
    ------
    InputError
        If there is no tap in it at all.
    """
    sound = checked(samples, rate_hz)
    starts = onsets(sound, rate_hz)
    if not starts:
        raise InputError(
            _("No tap found in this sound."),
            _("Tap louder, or closer to the microphone."),
            code="no_tap",
        )
    if len(starts) > MAX_TAPS:
        raise InputError(
            _(
                "This sound has {starts} strokes: it is playing or speech, not one round of taps."
            ).format(starts=len(starts)),
            _("Trim it to one round, one tap per rod."),
            code="playing",
        )
    known = _known(near_hz, tones)
    heard: list[HeardTap] = []
    left = []
    for start, stop in zip(starts, [*starts[1:], len(sound)], strict=True):
        try:
            values = sound[max(start - int(0.02 * rate_hz), 0) : stop]
            heard.append(_hear_after(values, rate_hz, known, heard, start / rate_hz))
        except InputError as error:
            left.append(LeftOut(start / rate_hz, error))
    return heard, left


def hear(
    samples: FloatArray,
    rate_hz: float,
    near_hz: float | Expected | None = None,
    tones: Tones = TYPICAL_TONES,
    at_s: float = 0.0,
) -> HeardTap:
    """The lug pitch of one tap.

    Parameters
    ----------
    samples : (N,) one tap, from just before it
    near_hz : what is expected of this drum, None if the drum is not known
    tones : where the model has the others, where only a pitch is given

    Raises
    ------
    InputError
        If it is clipped, too short, or the (1,1) cannot be named with confidence: better no number
        than a wrong one.

    Notes
    -----
    Theory eqs. 48 to 50.

    References
    ----------
    Roy and Kailath, ESPRIT, IEEE Trans. ASSP 37, 1989 (from memory).
    """
    sound = checked(samples, rate_hz)
    refuse_clipped(sound)
    start = tap_start(sound, rate_hz)
    known = _known(near_hz, tones)
    try:
        tap = _heard(sound, rate_hz, start, known, at_s, USUALLY)
    except InputError:
        again = None
        if known is not None:
            again = _heard_otherwise(sound, rate_hz, start, known, at_s)
        if again is None:
            raise
        tap = again
    if SEARCH_WHOLE and is_whole_stroke(sound, rate_hz, start, tap.lug_pitch_hz, known is not None):
        raise InputError(_(WHOLE_WORDS), _(MUTE_WORDS), code="whole_stroke")
    return tap


def _known(near_hz: float | Expected | None, tones: Tones) -> Expected | None:
    if near_hz is None or isinstance(near_hz, Expected):
        return near_hz
    return Expected(near_hz, tones=tones)


def _hear_after(
    samples: FloatArray,
    rate_hz: float,
    known: Expected | None,
    before: Sequence[HeardTap],
    at_s: float,
) -> HeardTap:
    """A tap of a round, by those before it; a rod that stands far off them as if it were alone."""
    if known is not None and len(before) >= TELLING:
        hz, sd = said_by_others([tap.lug_pitch_hz for tap in before])
        expected = replace(known, hz=hz, sd=sd)
        while expected.sd < NEAR_SD:
            try:
                return hear(samples, rate_hz, expected, at_s=at_s)
            except InputError:
                expected = expected.widened(WIDER)
    return hear(samples, rate_hz, known, at_s=at_s)


def _heard_otherwise(
    sound: FloatArray, rate_hz: float, start: int, known: Expected, at_s: float
) -> HeardTap | None:
    """What most other ways to listen to a tap agree on, as the one in their middle has it."""
    heard_taps: list[HeardTap] = []
    for listened in OTHERWISE:
        try:
            heard_taps.append(_heard(sound, rate_hz, start, known, at_s, listened))
        except InputError:
            continue
    if len(heard_taps) < AGREED:
        return None
    heard_taps.sort(key=lambda tap: tap.lug_pitch_hz)
    middle = heard_taps[len(heard_taps) // 2]
    off = [abs(math.log(tap.lug_pitch_hz / middle.lug_pitch_hz)) * CENTS for tap in heard_taps]
    return middle if sum(each < ALIKE_CENTS for each in off) >= AGREED else None


class Ringing(NamedTuple):
    """What rings of a tap: samples (N,) and their rate; frequency, decay in neper a second and
    amplitude of its lines (L,), and the density of the noise."""

    x: FloatArray
    rate: float
    hz: FloatArray
    decay: FloatArray
    amplitude: ComplexArray
    density: float

    @property
    def energy(self) -> FloatArray:
        """(L,) of each line."""
        out: FloatArray = np.abs(self.amplitude) ** 2 / (4.0 * self.decay)
        return out


def lines_of_tap(
    sound: FloatArray,
    rate_hz: float,
    start: int,
    near_hz: float | None,
    listened: _Listened = USUALLY,
) -> Ringing:
    """What rings of a tap that begins at a sample: where the lug pitch is known about, nothing far
    above it is listened to, and so many periods of a low one.

    Raises
    ------
    InputError
        If nothing rings.
    """
    high, longest = HIGH_HZ, listened.longest_s
    if near_hz is not None:
        high = min(HIGH_HZ, max(listened.band * near_hz, MIN_BAND_HZ))
        longest *= max(1.0, PERIODS / near_hz / LONGEST_RING_S)
    x, rate = reduced(sound, rate_hz, start + int(listened.skip_s * rate_hz), high, longest)
    x = x[: ringing(x, rate, longest)]
    if len(x) < SHORTEST_S * rate:
        raise InputError(
            _("The tap was cut off or damped."), _("Tap again and let it ring."), code="cut_off"
        )
    values = Ringing(x, rate, *damped_lines(x, rate, high))
    if len(values.hz) == 0:
        raise InputError(
            _("No tone found above the noise."),
            _("Tap again, louder or closer to the microphone."),
            code="no_tone",
        )
    return values


def _expected(
    rings: Ringing, known: Expected, named: Naming, each: Sequence[Naming]
) -> tuple[Naming, float]:
    """Which line of a tap is the one that is expected, and how sure that is."""
    hz, decay, energy = rings.hz, rings.decay, rings.energy
    if not each:
        raise InputError(
            _("The tone at {far:.0f} Hz is far from the expected {hz:.0f} Hz.").format(
                far=hz[named.place], hz=known.hz
            ),
            _("Check which head you tapped, or correct its lug pitch in Tuning; tap again."),
            code="far_from_expected",
        )
    shares = trust_known(
        np.array([evidence_known(hz, decay, energy, naming, known) for naming in each])
    )
    named, confidence = each[int(np.argmax(shares))], float(shares.max())
    trusted = [naming.place for naming, share in zip(each, shares, strict=True) if share > OF_PAIR]
    own = named.own & np.isin(np.arange(len(hz)), [named.place, *trusted])
    return named._replace(own=own), confidence


def _heard(
    sound: FloatArray,
    rate_hz: float,
    start: int,
    known: Expected | None,
    at_s: float,
    listened: _Listened,
) -> HeardTap:
    """A tap that begins at a sample, listened to in one way; see `hear`."""
    rings = lines_of_tap(sound, rate_hz, start, None if known is None else known.hz, listened)
    x, rate, hz, decay, amplitude, density = rings
    energy = rings.energy
    if known is not None:
        named, each = name_each(hz, decay, energy, known)
        heard = evidence_known(hz, decay, energy, named, known)
        whole = struck_whole(heard) > WHOLE_KNOWN
    else:
        named = name_lines(hz, decay, energy, None)
        heard = evidence(hz, decay, energy, named)
        whole, confidence = named.whole > WHOLE, trust(heard)
    if whole:
        raise InputError(_(WHOLE_WORDS), _(MUTE_WORDS), code="whole_stroke")
    if known is not None:
        named, confidence = _expected(rings, known, named, each)
    if confidence < (SURE_UNKNOWN if known is None else SURE):
        raise InputError(
            _("More than one tone could be the lug pitch."),
            _("Mute the other head, touch the center, and tap again."),
            code="ambiguous",
        )
    place, own = named.place, named.own
    if known is None and energy[place] < FAINTEST * energy.max():
        raise InputError(
            _("Higher tones mask the lug pitch."), _("Use a softer tool."), code="masked"
        )
    pitch, middle, spread, of_middle = _refine(x, rate, hz, decay, amplitude, own, density)
    level = 10.0 * np.log10(energy / energy.max())
    lines = tuple(
        Line(float(f), float(d), float(v)) for f, d, v in zip(hz, decay, level, strict=True)
    )
    return HeardTap(
        pitch,
        middle,
        spread,
        of_middle,
        confidence,
        second_partial(hz, energy, pitch, TYPICAL_TONES if known is None else known.tones),
        lines,
        at_s,
    )


def _refine(
    x: FloatArray,
    rate: float,
    hz: FloatArray,
    decay: FloatArray,
    amplitude: ComplexArray,
    own: BoolArray,
    density: float,
) -> tuple[float, float, float, float]:
    """Pitch, middle and standard deviations of both in cents, of the (1,1) as one line or two.

    What other lines give is taken away; then Gauss and Newton on one line, and on two, which
    count only where they explain much more.
    """
    others = np.logical_not(own)
    left = x
    if others.any():
        columns = waves(len(x), rate, hz[others], decay[others])
        left = x - columns @ np.concatenate((amplitude[others].real, amplitude[others].imag))
    lines = FittedLines(hz[own], decay[own], amplitude[own], np.inf)
    energy = np.abs(lines.amplitude) ** 2 / (4.0 * lines.decay)
    pair, sure = _two_of(lines.hz, lines.decay, energy)
    noise = density * rate / 2.0
    best = _one_or_two(left, rate, lines, pair, noise)
    fitted = best if sure else _one_or_two(left, rate, lines, pair[:1], noise)
    # over the tapped rod a line is as loud as the square of its shape there, and so is the share of
    # the tap's energy that it gets
    pitch = math.exp(float(np.average(np.log(best.hz), weights=np.abs(best.amplitude))))
    share = np.abs(fitted.amplitude)
    of_pair = fitted.hz
    if float(share.min() / share.max()) <= FAINT_PARTNER:
        of_pair = fitted.hz[[int(np.argmax(share))]]
    middle = math.exp(_middle(of_pair))
    loud = float((np.abs(best.amplitude) ** 2 / (4.0 * best.decay)).sum())
    strength = math.sqrt(max(2.0 * loud / density, 1.0))
    bound = 2.2 * float(best.decay[0]) / math.log(1000.0) / strength / pitch * CENTS
    own_cents = max(1.5 * bound, 0.5)
    split = ONE_LINE_CENTS if len(of_pair) == 1 else TWO_LINES_CENTS
    return pitch, middle, own_cents, math.hypot(own_cents, split, EARLY_GLIDE_CENTS)


def _one_or_two(
    left: FloatArray, rate: float, lines: FittedLines, pair: IndexArray, noise: float
) -> FittedLines:
    """The loudest line refined alone, or the pair (of one found, the two it may hide), which counts
    only where it explains much more; what was found stands where refining goes astray."""
    top = pair[:1]
    start = lines.hz[pair]
    if len(pair) == 1:
        start = lines.hz[top] * np.array([1.0 - HIDDEN_SPLIT, 1.0 + HIDDEN_SPLIT])
    fitted = refined(left, rate, lines.hz[top], lines.decay[top])
    two = refined(left, rate, start, np.broadcast_to(lines.decay[pair], 2).copy())
    at = math.log(float(lines.hz[top[0]]))
    strayed = len(pair) == 1 and abs(_middle(two.hz) - at) > DRIFT
    if (fitted.rest - two.rest) / noise > SPLIT_GAIN and _is_pair(two) and not strayed:
        return two
    if abs(math.log(float(fitted.hz[0])) - at) <= DRIFT:
        return fitted
    fitted_lines = FittedLines(
        lines.hz[pair], lines.decay[pair], lines.amplitude[pair], fitted.rest
    )
    first = FittedLines(lines.hz[top], lines.decay[top], lines.amplitude[top], fitted.rest)
    return fitted_lines if len(pair) == 2 and _is_pair(fitted_lines) else first


def _middle(hz: FloatArray) -> float:
    return float(np.mean(np.log(hz)))


def _two_of(hz: FloatArray, decay: FloatArray, energy: FloatArray) -> tuple[IndexArray, bool]:
    """The loudest line, and the loudest that is no piece of it and dies like it: a line that does
    not die evenly is found as two side by side. And whether the two are surely one pair: at a rod
    both are heard as its pitch anyhow, for the middle of the pair a stranger is worse than none."""
    top = int(np.argmax(energy))
    apart = np.flatnonzero(np.abs(np.log(hz / hz[top])) > PIECES)
    if len(apart) == 0:  # two so near each other are the pair of a head nearly even
        return np.argsort(-energy)[:2], True
    unlike = np.log(decay[apart] / decay[top]) / LIKE_SD
    gap = np.log(hz[apart] / hz[top]) / GAP_SD
    likely = np.log(energy[apart] / energy[top]) - 0.5 * (unlike**2 + gap**2)
    best = int(np.argmax(likely))
    return np.array([top, apart[best]]), bool(likely[best] > PARTNER)


def _is_pair(fitted: FittedLines) -> bool:
    """True if two lines are two and of one kind."""
    gap = abs(math.log(float(fitted.hz[0] / fitted.hz[1])))
    alike = abs(math.log(float(fitted.decay[0] / fitted.decay[1]))) < ALIKE
    share = np.abs(fitted.amplitude)
    return 0.0008 < gap < PAIR and alike and float(share.min() / share.max()) > FAINTEST_PARTNER


def pooled_middle_cents(heard: list[HeardTap]) -> float:
    """Standard deviation in cents of the middle of the pair from several taps: each may have missed
    the same line, so more than four add nothing."""
    best = min(tap.middle_spread_cents for tap in heard)
    return best / math.sqrt(min(len(heard), TELLING_TAPS))


def pooled(heard: list[HeardTap]) -> tuple[float, float]:
    """Lug pitch and its standard deviation in cents from several taps at one rod.

    Raises
    ------
    InputError
        If there are none.
    """
    if not heard:
        raise InputError(_("No tap found."), _("Tap the rod."), code="no_tap")
    value = np.log([h.lug_pitch_hz for h in heard])
    if len(heard) == 1:
        return float(np.exp(value[0])), heard[0].spread_cents
    middle = float(np.median(value))
    own = float(np.sqrt(1.0 / np.sum(1.0 / np.array([h.spread_cents for h in heard]) ** 2)))
    scatter = CENTS * 1.48 * float(np.median(np.abs(value - middle))) / math.sqrt(len(heard))
    return math.exp(middle), max(own, scatter, 0.3)
