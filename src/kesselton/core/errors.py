"""The errors Kesselton raises on purpose, each worded for the technician."""

from __future__ import annotations

import math
import re
from collections.abc import Collection
from datetime import date, datetime

from kesselton.core.language import _

_LONG = re.compile(r"\S{80,}")
"""Words nobody reads to their end: values that were no words."""


class KesseltonError(Exception):
    """Something could not be done; the message says what, `remedy` says what to do about it.

    `code` stays the same in every language and wording: of its kind, unless a program has reason
    to tell one of a kind from another.
    """

    code = "failed"

    def __init__(self, message: str, remedy: str = "", *, code: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.remedy = remedy
        if code:
            self.code = code

    def one_line(self) -> str:
        """Message and remedy on a single line, for the shell."""
        text = f"{self.message} {self.remedy}" if self.remedy else self.message
        return _LONG.sub(lambda word: f"{word[0][:60]}…", " ".join(text.split()))


class InputError(KesseltonError):
    """A value given by the user is missing, unreadable or outside what is permitted.

    `path` names the field as the exchange file writes it ("shell.depth_m"), so that a screen can
    put the message at the field and the shell can print it.
    """

    code = "input"

    def __init__(self, message: str, remedy: str = "", path: str = "", *, code: str = "") -> None:
        super().__init__(message, remedy, code=code)
        self.path = path

    def one_line(self) -> str:
        """Message and remedy on a single line, led by the path of the field."""
        line = super().one_line()
        return f"{_LONG.sub(lambda x: f'{x[0][:60]}…', self.path)}: {line}" if self.path else line


class TooMuchWorkError(KesseltonError):
    """What is asked would take more time and memory than a technician has; said before it is
    begun."""

    code = "too_much_work"


class ConvergenceError(KesseltonError):
    """A computation did not reach its tolerance; there is no answer to show."""

    code = "not_converged"


SMALLEST_HOLE_M = 1e-4


def check_hole(value: float, widest: float, what: str, path: str) -> float:
    """Return the diameter of a hole, 0 for none, if it is one.

    Raises
    ------
    InputError
        Naming the value and the permitted range.
    """
    if 0.0 < check_range(value, 0.0, widest, what, "m", path) < SMALLEST_HOLE_M:
        raise InputError(
            _("{what} is {value:g} m: too small for a hole.").format(what=what, value=value),
            _("Enter 0 for none, or {smallest_hole_m:g} to {widest:g} m.").format(
                smallest_hole_m=SMALLEST_HOLE_M, widest=widest
            ),
            path,
        )
    return float(value)


def check_range(
    value: float, low: float, high: float, what: str, unit: str = "", path: str = ""
) -> float:
    """Return `value` if it is a finite number from `low` to `high`.

    Raises
    ------
    InputError
        Naming the value and the permitted range.
    """
    tail = f" {unit}" if unit else ""
    remedy = _("Use {low:g} to {high:g}{tail}.").format(low=low, high=high, tail=tail)
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not math.isfinite(value):
        raise InputError(
            _("{what} is {value!r}: not a number.").format(what=what, value=value), remedy, path
        )
    if not low <= value <= high:
        raise InputError(
            _("{what} is out of range: {value:g}{tail}.").format(what=what, value=value, tail=tail),
            remedy,
            path,
        )
    return float(value)


def check_known(value: str, known: Collection[str], what: str) -> None:
    """Raise InputError unless `value` is one of those known, which are listed then."""
    if value not in known:
        listed = ", ".join(text for text in known if text)
        raise InputError(
            _("There is no {what} {value!r}.").format(what=what, value=value),
            _("Options: {listed}.").format(listed=listed),
            what,
        )


def check_moment(text: str) -> None:
    """Raise InputError unless a text is a date and time in ISO 8601."""
    try:
        datetime.fromisoformat(text)
    except ValueError:
        raise InputError(
            _("“{text}” is not a date and time.").format(text=text),
            _("Enter it like 2026-11-26T19:30."),
            "on",
        ) from None


def check_day(text: str) -> None:
    """Raise InputError unless a text is a date in ISO 8601."""
    try:
        date.fromisoformat(text)
    except ValueError:
        raise InputError(
            _("“{text}” is not a date.").format(text=text), _("Enter it like 2026-11-26."), "on"
        ) from None
