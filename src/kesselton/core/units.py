"""Lengths and thicknesses as technicians write them."""

from __future__ import annotations

import re

from kesselton.core import constants as const
from kesselton.core.errors import InputError
from kesselton.core.language import _, figures

METRE_PER = {
    "in": const.METRE_PER_INCH,
    "mm": 1e-3,
    "cm": 1e-2,
    "m": 1.0,
    "mil": const.METRE_PER_MIL,
    "µm": 1e-6,
}
_ALIASES = {
    '"': "in",
    "″": "in",
    "”": "in",
    "''": "in",
    "inch": "in",
    "inches": "in",
    "um": "µm",
    "μm": "µm",
    "micron": "µm",
    "microns": "µm",
    "mils": "mil",
    "thou": "mil",
}
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUMBER = re.compile(
    r"^\s*(?P<sign>[-−]?)\s*(?:(?P<whole>\d+(?:[.,]\d+)?|[.,]\d+)(?:[\s-]+(?P<a>\d+)/(?P<b>\d+))?"
    r"|(?P<c>\d+)/(?P<d>\d+))\s*(?P<unit>[^\d\s/.,-][^\d]*)?\s*$"
)


def parse_number(text: str, words: tuple[str, ...] = (), example: str = "1 3/4") -> float:
    """Read "1.75", "1 3/4", "1¾" or the same with one of `words` behind it ("1 3/4 turns").

    Raises
    ------
    InputError
        If it is no number, or carries another unit: a length is not taken for turns.

    Examples
    --------
    >>> parse_number("1 3/4")
    1.75
    """
    value, unit = _number(text, "number", _("Enter {example}.").format(example=example))
    if unit and unit.casefold() not in words:
        wanted = (
            _("Enter {example}, in {words}.").format(example=example, words=words[-1])
            if words
            else _("Enter {example}.").format(example=example)
        )
        raise InputError(
            _("“{strip}” is in {unit}; that unit does not fit here.").format(
                strip=text.strip(), unit=unit
            ),
            wanted,
        )
    return value


def unit_of_length(word: str) -> str:
    """A unit of METRE_PER under any of the names it is written by; another word as it is."""
    word = word.lower()
    return _ALIASES.get(word, word)


def parse_length(text: str, default_unit: str = "in") -> float:
    """Read "14", "14 in", '5 1/2"', "5½", "355 mm", "10 mil" as metres.

    Parameters
    ----------
    default_unit : unit of a bare number

    Raises
    ------
    InputError
        If it is not a length; the message shows how to write one.

    Examples
    --------
    >>> round(parse_length("23 3/4"), 5)
    0.60325
    >>> parse_length("254 mm")
    0.254
    """
    how = _("Enter it as 14, 5 1/2 in, 355 mm or 10 mil.")
    value, unit = _number(text, "length", how)
    unit = unit_of_length(unit or default_unit)
    if unit not in METRE_PER:
        raise InputError(_("“{unit}” is not a known unit of length.").format(unit=unit), how)
    return value * METRE_PER[unit]


def _number(text: str, what: str, how: str) -> tuple[float, str]:
    """A number with or without a fraction, and the unit behind it, "" for none."""
    plain = text
    for sign, fraction in _VULGAR.items():
        plain = plain.replace(sign, f" {fraction}")
    match = _NUMBER.match(plain)
    if not match:
        raise InputError(_("“{strip}” is not a {what}.").format(strip=text.strip(), what=what), how)
    top, bottom = (match["a"], match["b"]) if match["a"] else (match["c"], match["d"])
    value = float((match["whole"] or "0").replace(",", "."))
    if top is not None:
        if int(bottom) == 0:
            raise InputError(_("“{strip}” divides by zero.").format(strip=text.strip()), how)
        value += int(top) / int(bottom)
    return (-value if match["sign"] else value), (match["unit"] or "").strip()


def format_inches(length_m: float, finest: int = 16) -> str:
    """Inches with the nearest binary fraction if that is exact to 0.1 mm, else decimals.

    Examples
    --------
    >>> format_inches(0.3556)
    '14'
    """
    inches = length_m / const.METRE_PER_INCH
    parts = round(inches * finest)
    if abs(parts / finest - inches) * const.METRE_PER_INCH > 1e-4:
        return _short(inches, 2)
    whole, rest = divmod(parts, finest)
    if rest == 0:
        return str(whole)
    bottom = finest
    while rest % 2 == 0:
        rest, bottom = rest // 2, bottom // 2
    glyph = {v: k for k, v in _VULGAR.items()}.get(f"{rest}/{bottom}", f"{rest}/{bottom}")
    return f"{whole} {glyph}" if whole else glyph


def format_length(length_m: float, metric: bool) -> str:
    """A drum dimension: "14 in" or "356 mm".

    Examples
    --------
    >>> format_length(0.3556, metric=True)
    '355.6 mm'
    """
    if metric:
        return f"{_short(length_m * 1e3, 1)} mm"
    return f"{format_inches(length_m)} in"


def format_thickness(thickness_m: float, metric: bool) -> str:
    """A film thickness: "10 mil" or "0.254 mm".

    Examples
    --------
    >>> format_thickness(254e-6, metric=False)
    '10 mil'
    """
    if metric:
        return f"{_short(thickness_m * 1e3, 3)} mm"
    return f"{_short(thickness_m / const.METRE_PER_MIL, 2)} mil"


def _short(value: float, digits: int) -> str:
    """At most so many digits after the point, without zeros at the end."""
    return figures(round(value, digits) + 0.0, f".{digits}f").rstrip("0").rstrip(".,")
