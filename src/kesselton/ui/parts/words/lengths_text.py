"""Lengths typed in a row, answered in the unit they were typed in."""

from __future__ import annotations

import re

from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.core.units import METRE_PER, parse_length, unit_of_length

TYPED = re.compile(r"(mm|cm|mil|in\b|inch|\"|″)", re.IGNORECASE)
SPACED = re.compile(r"(?<=[\d.])\s+(?=(?:mm|cm|mil|in)\b)", re.IGNORECASE)
MISSING = "–"
"""Stands where a length is still to be measured."""
DIGITS = {"mm": 2, "cm": 3, "mil": 1, "in": 4}


class LengthsText:
    """One length, or several with spaces or semicolons between, in a unit that may be typed."""

    def __init__(self, many: bool, unit: str, low_m: float, high_m: float, example: str) -> None:
        self._many, self._unit, self._usual = many, unit, unit
        self._low_m, self._high_m, self._example = low_m, high_m, example

    def read(self, text: str) -> object:
        """Metres, as a tuple where there may be several, None for an empty one.

        Raises
        ------
        InputError
            If one cannot be: in the unit it was typed in, with one that can be.
        """
        parts = SPACED.sub("", text.replace(";", " ").replace(",", ".")).split()
        if MISSING in parts:
            raise InputError(
                _("{missing} of {many} still to measure.").format(
                    missing=parts.count(MISSING), many=len(parts)
                ),
                _("Next: number {place}. Escape restores the previous values.").format(
                    place=parts.index(MISSING) + 1
                ),
            )
        typed = TYPED.findall(text)
        unit = unit_of_length(typed[0]) if typed else self._usual
        values = tuple(parse_length(part, unit) for part in parts)
        for part, value in zip(parts, values, strict=True):
            if not self._low_m <= value <= self._high_m:
                raise InputError(
                    _("“{part}” is {value}: not possible.").format(
                        part=part, value=self._said(value, unit)
                    ),
                    _("Use {low} to {high}; for example {example} (mm).").format(
                        low=self._said(self._low_m, unit),
                        high=self._said(self._high_m, unit),
                        example=self._example,
                    ),
                )
        if not self._many and len(values) > 1:
            raise InputError(_("More than one length is entered."), _("Enter one."))
        self._unit = unit
        if self._many:
            return values
        return values[0] if values else None

    def write(self, value: object) -> str:
        """In the unit that was typed last."""
        if value is None:
            return ""
        values: tuple[float, ...] = value if self._many else (value,)  # type: ignore[assignment]
        tail = "" if self._unit == self._usual else f" {self._unit}"
        return " ".join(f"{self.number(one, self._unit)}{tail}" for one in values)

    def _said(self, metres: float, unit: str) -> str:
        return f"{self.number(metres, unit)} {unit}"

    @staticmethod
    def number(metres: float, unit: str) -> str:
        """A length in a unit, no more digits than can be measured."""
        text = f"{metres / METRE_PER[unit]:.{DIGITS[unit]}f}"
        return text.rstrip("0").rstrip(".") if "." in text else text
