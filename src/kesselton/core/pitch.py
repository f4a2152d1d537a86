"""Hertz, cents and note names in equal temperament."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from kesselton.core import constants as const
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import N_, _, ngettext

NAMES_SHARP = ("C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B")
NAMES_FLAT = ("C", "D♭", "D", "E♭", "E", "F", "G♭", "G", "A♭", "A", "B♭", "B")
INTERVALS = (
    N_("unison"), N_("a half step"), N_("a whole step"), N_("a minor third"), N_("a major third"),
    N_("a fourth"), N_("a tritone"), N_("a fifth"), N_("a minor sixth"), N_("a major sixth"),
    N_("a minor seventh"), N_("a major seventh"), N_("an octave"),
)  # fmt: skip
_NOTE = re.compile(
    r"^\s*([A-Ga-g])\s*([#♯sb♭]?)\s*(-?\d)\s*(?:([+\-−]\s*\d+(?:\.\d+)?)\s*(?:c|cents?|ct)?)?\s*$"
)
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}


@dataclass(frozen=True)
class Note:
    """The nearest note of a pitch: `number` counts semitones (A4 = 69), `cents` the rest."""

    number: int
    cents: float

    def name(self, flats: bool = False) -> str:
        """Note name with octave, as in "C♯4" (middle C is C4)."""
        names = NAMES_FLAT if flats else NAMES_SHARP
        return f"{names[self.number % 12]}{self.number // 12 - 1}"

    def deviation(self) -> str:
        """How far off in words: "in tune", "7 cents sharp"."""
        whole = round(self.cents)
        if whole == 0:
            return _("in tune")
        return cents_words(whole)


def ratio_of(cents: float) -> float:
    """Ratio of two frequencies so many cents apart.

    Examples
    --------
    >>> ratio_of(1200.0)
    2.0
    """
    return float(2.0 ** (cents / const.CENTS_PER_OCTAVE))


def cents_between(low_hz: float, high_hz: float) -> float:
    """Interval from `low_hz` up to `high_hz` in cents.

    Examples
    --------
    >>> round(cents_between(220.0, 330.0), 1)
    702.0
    """
    return const.CENTS_PER_OCTAVE * math.log2(high_hz / low_hz)


def note_of(hz: float, a4_hz: float = const.STANDARD_A4_HZ) -> Note:
    """The nearest note to a pitch, and how many cents above it lies.

    References
    ----------
    ISO 16:1975 for A4 = 440 Hz; equal temperament.

    Examples
    --------
    >>> note = note_of(147.5)
    >>> note.name(False), round(note.cents, 1)
    ('D3', 7.9)
    """
    position = 69.0 + 12.0 * math.log2(hz / a4_hz)
    number = math.floor(position + 0.5)
    return Note(number, 100.0 * (position - number))


def hz_of(number: float, a4_hz: float = const.STANDARD_A4_HZ) -> float:
    """Pitch of a note number (A4 = 69; fractions are cents / 100).

    Examples
    --------
    >>> round(hz_of(60.0), 2)  # middle C
    261.63
    """
    return a4_hz * math.exp2((number - 69.0) / 12.0)


def parse_pitch(text: str, a4_hz: float = const.STANDARD_A4_HZ) -> float:
    """Read "C#4", "E♭3 -12", "220", "220 Hz" as hertz.

    Raises
    ------
    InputError
        If it is neither a note nor a frequency.

    Examples
    --------
    >>> round(parse_pitch("D3 +8"), 1)
    147.5
    >>> parse_pitch("147,5 Hz")
    147.5
    """
    bare = text.strip()
    match = _NOTE.match(bare)
    if match:
        letter, accidental, octave, cents = match.groups()
        number = _STEPS[letter.upper()] + 12 * (int(octave) + 1)
        number += {"#": 1, "♯": 1, "s": 1, "b": -1, "♭": -1}.get(accidental, 0)
        offset = float(cents.replace("−", "-").replace(" ", "")) if cents else 0.0
        return hz_of(number + offset / 100.0, a4_hz)
    digits = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(?:hz|hertz)?", bare, re.IGNORECASE)
    if digits:
        return float(digits.group(1).replace(",", "."))
    raise InputError(
        _("“{strip}” is neither a note nor a frequency.").format(strip=text.strip()),
        (_("Enter C♯4, Eb3 −12 or 220 Hz.")),
    )


def cents_words(cents: float) -> str:
    """A change of pitch: "24 cents flat"."""
    whole = round(cents)
    if whole == 0:
        return _("0 cents")
    count = abs(whole)
    if whole > 0:
        message = ngettext("{count} cent sharp", "{count} cents sharp", count)
    else:
        message = ngettext("{count} cent flat", "{count} cents flat", count)
    return message.format(count=count)


def nearest_interval(cents: float) -> str:
    """The interval nearest to so many cents, as in "a fourth"; octaves where it is wider."""
    size = abs(cents)
    step = round(size / 100.0)
    if step > 12:
        return _("{octaves:.1f} octaves").format(octaves=size / const.CENTS_PER_OCTAVE)
    return _(INTERVALS[step])


def interval_name(cents: float) -> str:
    """The interval of so many cents in words, as in "a fourth" or "a fourth less 12 cents".

    Examples
    --------
    >>> interval_name(498.0)
    'a fourth'
    """
    size, name = abs(cents), nearest_interval(cents)
    rest = round(size - 100.0 * round(size / 100.0))
    if abs(rest) < 5 or size > 1250.0:
        return name
    if rest > 0:
        return _("{interval} and {cents} cents").format(interval=name, cents=rest)
    return _("{interval} less {cents} cents").format(interval=name, cents=-rest)


def check_a4(a4_hz: float) -> float:
    """Return `a4_hz` if it is a pitch orchestras use."""
    return check_range(a4_hz, const.A4_LOW_HZ, const.A4_HIGH_HZ, _("A4"), "Hz", "a4_hz")
