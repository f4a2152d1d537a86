"""Numbers and days as a language writes them."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime
from gettext import NullTranslations

import numpy as np
import pytest
from babel import Locale
from babel.numbers import format_decimal

from kesselton.core import dates, language
from kesselton.core.language import Figures, _, figures
from kesselton.core.units import format_length, format_thickness

GERMAN = Figures("de", ",", ".")


@pytest.fixture(params=["en", "de", "es"])
def tag(request: pytest.FixtureRequest) -> Iterator[str]:
    signs = Locale.parse(request.param).number_symbols["latn"]
    language.use(NullTranslations(), Figures(request.param, signs["decimal"], signs["group"]))
    yield request.param
    language.use(NullTranslations())


@pytest.mark.parametrize("value", [0.0, 3.14159, -12.5, 98765.4321])
def test_numbers_in_gaps_are_written_as_babel_writes_them(tag: str, value: float) -> None:
    """Babel as the other way; its minus is the hyphen, ours the sign."""
    wanted = format_decimal(value, "#,##0.0", locale=tag).replace("-", "−")
    assert _("{value:,.1f}").format(value=value) == wanted
    assert _("{value:,.1f}").format(value=np.float64(value)) == wanted
    assert figures(value, ",.1f") == wanted


def test_texts_in_gaps_stay_as_they_are(tag: str) -> None:
    assert _("{name}: {count}").format(name="1.5-ply, A", count=-3) == "1.5-ply, A: −3"


def test_lengths_drop_zeros_whatever_the_decimal_sign_is() -> None:
    language.use(NullTranslations(), GERMAN)
    try:
        said = format_length(0.3556, True), format_length(0.4, True), format_thickness(2e-4, True)
    finally:
        language.use(NullTranslations())
    assert said == ("355,6 mm", "400 mm", "0,2 mm")


def test_days_are_written_as_the_language_writes_them(tag: str) -> None:
    """Examples of Unicode CLDR 45 for 27 November 2026, from memory."""
    day = date(2026, 11, 27)
    short = {"en": "Nov 27", "de": "27. Nov.", "es": "27 nov"}[tag]
    assert dates.day_words(day) == short
    assert dates.weekday_words(day).startswith({"en": "Fri", "de": "Frei", "es": "vier"}[tag])
    assert dates.moment_words(datetime(2026, 11, 27, 19, 30)) == f"{short}, 19:30"
