"""Readings as technicians write them, and as they are shown again."""

from __future__ import annotations

from kesselton.core.errors import InputError
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import N_, Worded, _, figures
from kesselton.core.pitch import parse_pitch
from kesselton.core.units import parse_length, parse_number
from kesselton.ui.parts.words import wording

KINDS = Worded(
    {
        "lug_pitch": N_("lug pitch"),
        "fundamental": N_("drum pitch"),
        "dial": N_("gauge"),
        "torque": N_("torque"),
        "turns": N_("turns past finger-tight"),
        "gap": N_("hoop travel"),
    }
)
SHELL_KINDS = Worded(
    {
        "diameter": N_("diameter of the bare shell"),
        "edge": N_("gap under a flat plate"),
    }
)
"""What is read of the bare shell, rod by rod."""
EXAMPLES = {
    "lug_pitch": "C4 or 261.6",
    "fundamental": "F♯3 or 180",
    "dial": "78",
    "torque": "0.5",
    "turns": "1 3/4",
    "gap": "1.5 mm",
    "diameter": "355.6 mm",
    "edge": "0.1 mm",
}


UNITS = {
    "dial": ("div", "divisions"),
    "torque": ("nm", "n·m", "n m"),
    "turns": ("turn", "turns"),
}


def read_value(kind: str, text: str, a4_hz: float) -> float:
    """The value of a reading from text.

    Raises
    ------
    InputError
        If it cannot be read.
    """
    if not text.strip():
        raise InputError(
            _("Nothing was entered."), _("Enter {examples}.").format(examples=EXAMPLES[kind])
        )
    if kind in ("lug_pitch", "fundamental"):
        return parse_pitch(text, a4_hz)
    if kind == "gap" or kind in SHELL_KINDS:
        return parse_length(text, "mm")
    return parse_number(text, UNITS[kind], EXAMPLES[kind])


def show_value(noted: Reading, a4_hz: float, flats: bool) -> str:
    """A reading's value in words."""
    if noted.kind in ("lug_pitch", "fundamental"):
        note = wording.note_words(noted.value, a4_hz, flats)
        return f"{note} · {wording.hz_words(noted.value)}"
    if noted.kind == "gap":
        return f"{figures(1000.0 * noted.value, '.1f')} mm"
    if noted.kind == "turns":
        heard = "" if noted.hz is None else f", {wording.hz_words(noted.hz)}"
        return f"{wording.turn_words(noted.value)}{heard}"
    return (
        f"{figures(noted.value, 'g')} N m" if noted.kind == "torque" else figures(noted.value, "g")
    )
