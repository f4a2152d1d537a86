"""Readings files: a drum, the rounds of clearing one of its heads, and pairs of a dial."""

from __future__ import annotations

import json
from dataclasses import dataclass

from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import DialPair
from kesselton.store.formats.drum_file import (
    check_format,
    drum_from_model,
    drum_to_data,
    parse_object,
    read_model,
    to_data,
)
from kesselton.store.formats.models import (
    READINGS_FORMAT,
    VERSION,
    ClearingModel,
    ClearingTerms,
    ReadingsFile,
    RodReadingModel,
    RoundModel,
)


@dataclass(frozen=True)
class Readings:
    """A readings file for the shell: the drum, its rounds, and pairs that calibrate the dial."""

    drum: Drum
    clearing: Clearing
    dial_pairs: tuple[DialPair, ...]


def read_readings(text: str, where: str = "The readings file") -> Readings:
    """Rounds with their drum from JSON text.

    Raises
    ------
    InputError
        With the name of the field, the value and what is known.
    """
    data = parse_object(text, where, "readings file")
    check_format(data, where, READINGS_FORMAT, VERSION)
    file = read_model(data, ReadingsFile)
    drum = drum_from_model(file.drum, "drum")
    clearing = file.clearing.clearing()
    clearing.check(drum.shell.rods)
    return Readings(
        drum, clearing, tuple(DialPair(**dial_pair.values()) for dial_pair in file.dial_pairs)
    )


def clearing_to_model(clearing: Clearing) -> ClearingModel:
    """A clearing as a file holds it."""
    rounds = tuple(
        RoundModel(tuple(RodReadingModel.of(tap) for tap in record.taps), record.turns)
        for record in clearing.rounds
    )
    terms = {name: getattr(clearing, name) for name in ClearingTerms.__struct_fields__}
    return ClearingModel(side=clearing.side, rounds=rounds, **terms)


def readings_to_text(drum: Drum, clearing: Clearing) -> str:
    """A readings file."""
    data = {
        "format": READINGS_FORMAT,
        "version": VERSION,
        "drum": drum_to_data(drum),
        "clearing": to_data(clearing_to_model(clearing)),
    }
    return json.dumps(data, ensure_ascii=False, allow_nan=False, indent=1)
