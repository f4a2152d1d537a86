"""`kesselton hear`: the lines of strokes on a whole drum, beside what was computed of it."""

from __future__ import annotations

import argparse
import math
from typing import TYPE_CHECKING, Any

from kesselton.cli.drum import drum_text
from kesselton.cli.shell import Command, print_json, refusal, rounded, sound_of
from kesselton.core.language import N_, _
from kesselton.core.pitch import cents_between, cents_words

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.core.errors import KesseltonError
    from kesselton.core.hearing.note import Note
    from kesselton.core.hearing.stroke_lines import StrokeLine

NOT_SURE = N_("Peaks cannot be matched to partials: a match by chance would be as good.")


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "sound",
        nargs="+",
        help=_("WAV or FLAC files, or - for standard input: strokes on one drum"),
    )
    parser.add_argument("--drum", required=True, help=_("drum file of the struck drum"))


def _hear(given: argparse.Namespace) -> None:
    from kesselton.app.hearing.heard_drum import hear_drum
    from kesselton.core.errors import InputError, KesseltonError
    from kesselton.store.formats.drum_file import read_struck_drum

    if "-" in given.sound and (given.drum == "-" or len(given.sound) > 1):
        raise InputError(_("Only one thing can come on standard input."), _("Name files."))
    drum, stroke = read_struck_drum(*drum_text(given.drum))
    heard: HeardDrum | None = None
    refused: list[KesseltonError] = []
    for name in given.sound:
        try:
            heard = hear_drum(*sound_of(name), drum, stroke, heard)
        except KesseltonError as error:
            refused.append(error)
    if heard is None:
        raise refused[0]
    answer = hear_answer(heard)
    answer["refused"] += [refusal(error, error.one_line()) for error in refused]
    print_json(answer)


def hear_answer(heard: HeardDrum) -> dict[str, Any]:
    """What `kesselton hear` prints (docs/formats.md)."""
    p, matching = heard.prediction.partials, heard.matching
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
                "pair": _pair(line),
                "may_be": list(names),
            }
        )
    hz, cents = matching.fundamental_hz, matching.cents(heard.prediction)
    note = heard.note
    results = None
    if note is not None:
        results = {
            "frequency_hz": rounded(note.hz),
            "uncertainty_cents": rounded(note.half_cents),
            "at_50ms_hz": rounded(note.early_hz),
            "t60_first_s": _or_none(note.first_t60_s),
            "t60_late_s": _or_none(note.t60_s),
            "probability": rounded(note.confidence),
            "near_plan": note.near,
            "said": _said(note, heard.prediction.fundamental_hz),
        }
    return {
        "strokes": heard.strokes,
        "note": results,
        "sound": list(heard.faults),
        "lines": lines,
        "fundamental_hz": None if hz is None else rounded(hz),
        "against_plan_cents": None if cents is None else rounded(cents),
        "refused": []
        if matching.sure or not heard.lines
        else [{"code": "not_sure", "message": _(NOT_SURE)}],
    }


def _said(note: Note, plan_hz: float) -> str:
    """Where the note stands from the plan, in words."""
    if not note.near:
        return _("not near the plan: {hz:.0f} Hz").format(hz=note.hz)
    cents = round(cents_between(plan_hz, note.hz))
    if cents == 0:
        return _("at the plan")
    return _("{cents} of the plan").format(cents=cents_words(cents))


def _pair(line: StrokeLine) -> dict[str, float] | None:
    if line.pair is None:
        return None
    return {
        "split_hz": rounded(line.pair.split_hz),
        "beat_hz": rounded(line.pair.split_hz),
        "t60_s": rounded(line.pair.t60_s),
    }


def _or_none(seconds: float) -> float | None:
    return None if math.isnan(seconds) else rounded(seconds)


COMMANDS = (
    Command(
        "hear",
        N_("print the peaks of recorded strokes and the matching partials"),
        _arguments,
        _hear,
    ),
)
