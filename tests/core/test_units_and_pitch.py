from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.core.errors import InputError
from kesselton.core.pitch import (
    cents_between,
    check_a4,
    hz_of,
    interval_name,
    note_of,
    parse_pitch,
)
from kesselton.core.units import (
    format_inches,
    format_length,
    format_thickness,
    parse_length,
    parse_number,
)


@pytest.mark.parametrize(
    ("text", "metres"),
    [
        ("14", 0.3556),
        ("14 in", 0.3556),
        ('5 1/2"', 0.1397),
        ("5½", 0.1397),
        ("5 ½ in", 0.1397),
        ("1/2 in", 0.0127),
        ("355 mm", 0.355),
        ("35,5 cm", 0.355),
        ("10 mil", 0.000254),
        ("7.5mil", 0.0001905),
        ("23 3/4″", 0.60325),
        ("-3 in", -0.0762),
        ("0.3556 m", 0.3556),
    ],
)
def test_lengths_as_technicians_write_them(text: str, metres: float) -> None:
    assert parse_length(text) == pytest.approx(metres, rel=1e-12)


@pytest.mark.parametrize(
    "text", ["", "wide", "14 parsec", "5 1/0", "1e3", "NaN", "inf", "5 1/2 1/2"]
)
def test_what_is_no_length_says_how_to_write_one(text: str) -> None:
    with pytest.raises(InputError) as caught:
        parse_length(text)
    assert "Enter it as" in caught.value.remedy or "divides by zero" in caught.value.message


@given(st.integers(16, 16 * 60), st.booleans())
def test_a_length_shown_is_read_back(sixteenths: int, metric: bool) -> None:
    length = sixteenths / 16 * 0.0254
    shown = format_length(length, metric)
    assert parse_length(shown) == pytest.approx(length, abs=6e-5)


def test_formats() -> None:
    assert format_inches(0.1397) == "5 ½"
    assert format_inches(0.0127 / 4) == "⅛"
    assert format_length(0.355, True) == "355 mm"
    assert format_length(0.355, False) == "13.98 in"
    assert format_thickness(254e-6, False) == "10 mil"
    assert format_thickness(254e-6, True) == "0.254 mm"


def test_iso_16() -> None:
    """ISO 16:1975: the A in the treble stave is 440 Hz; equal temperament above and below."""
    assert hz_of(69) == 440.0
    assert note_of(440.0).name() == "A4"
    # Handbook values of equal temperament (from memory): middle C and B3.
    assert hz_of(60) == pytest.approx(261.6256, abs=5e-5)
    assert hz_of(59) == pytest.approx(246.9417, abs=5e-5)


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("C#4", 61),
        ("c♯4", 61),
        ("D♭4", 61),
        ("Eb3", 51),
        ("A4", 69),
        ("B3 +25 c", 59.25),
        ("E3 −19", 51.81),
    ],
)
def test_notes_are_read(text: str, number: float) -> None:
    assert parse_pitch(text) == pytest.approx(hz_of(number))


@pytest.mark.parametrize("text", ["H4", "C", "", "drum", "4 C", "-20"])
def test_what_is_no_pitch_is_refused(text: str) -> None:
    with pytest.raises(InputError):
        parse_pitch(text)


@given(st.floats(20.0, 2000.0), st.floats(415.0, 466.0), st.booleans())
def test_a_note_shown_is_read_back(hz: float, a4: float, flats: bool) -> None:
    note = note_of(hz, a4)
    assert -50.0 <= note.cents <= 50.0
    text = f"{note.name(flats)} {note.cents:+.3f}"
    assert abs(cents_between(parse_pitch(text, a4), hz)) < 0.01


def test_words_of_pitch() -> None:
    assert note_of(hz_of(52 - 0.19)).deviation() == "19 cents flat"
    assert note_of(440.0).deviation() == "in tune"
    assert interval_name(498.0) == "a fourth"
    assert interval_name(1200.0 * math.log2(1.5)) == "a fifth"
    assert interval_name(512.0) == "a fourth and 12 cents"
    assert interval_name(-40.0) == "unison and 40 cents"
    with pytest.raises(InputError, match="A4 is out of range: 400 Hz"):
        check_a4(400.0)


@pytest.mark.parametrize(
    ("text", "value"), [("1 3/4", 1.75), ("1¾ turns", 1.75), ("0,5 turn", 0.5), ("-1/8", -0.125)]
)
def test_turns_are_read_with_fractions(text: str, value: float) -> None:
    assert parse_number(text, ("turn", "turns")) == value


@pytest.mark.parametrize("text", ["5 in", "3 mm", '1 1/2"', "2 mil", "4 N m"])
def test_turns_refuse_what_is_no_turn(text: str) -> None:
    with pytest.raises(InputError, match="does not fit here") as caught:
        parse_number(text, ("turn", "turns"))
    assert "1 3/4, in turns" in caught.value.remedy
