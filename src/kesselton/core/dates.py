"""Days as the language in use writes them (Unicode CLDR by Babel)."""

from __future__ import annotations

from datetime import date, datetime

from kesselton.core.language import tag


def day_words(day: date) -> str:
    """A day of this year or the next: "Nov 27".

    >>> day_words(date(2026, 11, 27))
    'Nov 27'
    """
    return _skeleton(day, "MMMd")


def year_words(day: date) -> str:
    """A day with its year: "Nov 27, 2026"."""
    return _skeleton(day, "yMMMd")


def weekday_words(day: date) -> str:
    """A day in full: "Friday, November 27, 2026"."""
    from babel.dates import format_date

    return format_date(day, "full", locale=tag())


def moment_words(at: datetime) -> str:
    """A day and a time of it by 24 hours: "Nov 27, 19:30"."""
    return f"{day_words(at)}, {at:%H:%M}"


def _skeleton(day: date, skeleton: str) -> str:
    from babel.dates import format_skeleton

    return format_skeleton(skeleton, day, locale=tag())
