"""`kesselton hear`: the lines of strokes on a whole drum, beside what was computed of it."""

from __future__ import annotations

import argparse
import math
from typing import TYPE_CHECKING, Any

from kesselton.cli.drum import drum_text
from kesselton.cli.shell import Command, print_json, rounded, sound_of

if TYPE_CHECKING:
    from kesselton.app.hearing import HeardDrum

NOT_SURE = "Which line is which partial cannot be told: chance would fit as well."


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("sound", help="a WAV or FLAC file, or - for standard input")
    parser.add_argument("--drum", required=True, help="the drum file of the drum that is struck")


def _hear(given: argparse.Namespace) -> None:
    from kesselton.app.hearing import hear_drum
    from kesselton.core.errors import InputError
    from kesselton.store.exchange import read_struck_drum

    if given.sound == "-" == given.drum:
        raise InputError("Sound and drum cannot both come on standard input.", "Name one file.")
    drum, stroke = read_struck_drum(*drum_text(given.drum))
    samples, rate = sound_of(given.sound)
    print_json(hear_answer(hear_drum(samples, rate, drum, stroke)))


def hear_answer(heard: HeardDrum) -> dict[str, Any]:
    """What `kesselton hear` prints (docs/formats.md)."""
    p, matching = heard.found.partials, heard.matching
    lines = []
    for line, match, names in zip(heard.lines, matching.matches, heard.may_be, strict=True):
        at = match.partial
        mode = None
        if at is not None:
            mode = {
                "order": int(p.order[at]),
                "rank": int(p.rank[at]),
                "branch": str(p.branch[at]),
                "probability": rounded(match.probability),
                "cents": rounded(match.cents),
            }
        lines.append(
            {
                "frequency_hz": rounded(line.hz),
                "frequency_uncertainty_cents": rounded(line.half_cents),
                "early_hz": rounded(line.early_hz),
                "t60_s": rounded(line.t60_s),
                "t60_uncertainty": rounded(line.t60_doubt),
                "level_db": rounded(line.level_db),
                "mode": mode,
                "may_be": list(names),
            }
        )
    hz, cents = matching.fundamental_hz, matching.cents(heard.found)
    note = heard.note
    told = None
    if note is not None:
        told = {
            "frequency_hz": rounded(note.hz),
            "uncertainty_cents": rounded(note.half_cents),
            "at_50ms_hz": rounded(note.early_hz),
            "t60_first_s": _or_none(note.first_t60_s),
            "t60_late_s": _or_none(note.t60_s),
            "probability": rounded(note.confidence),
            "near_plan": note.near,
        }
    return {
        "strokes": heard.strokes,
        "note": told,
        "sound": list(heard.faults),
        "lines": lines,
        "fundamental_hz": None if hz is None else rounded(hz),
        "against_plan_cents": None if cents is None else rounded(cents),
        "refused": [] if matching.sure or not heard.lines else [NOT_SURE],
    }


def _or_none(seconds: float) -> float | None:
    return None if math.isnan(seconds) else rounded(seconds)


COMMANDS = (
    Command("hear", "print the lines of strokes on a drum, beside its partials", _arguments, _hear),
)
