"""`kesselton even` and `kesselton tap`: turns from readings, a lug pitch from a sound."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from kesselton.cli.shell import Command, print_json, refusal, rounded, sound_of, standard_input
from kesselton.core.constants import SIGMAS_90
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.store.formats.readings_file import Readings


def _readings_argument(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("readings", help=_("a readings file, or - for standard input"))


def _even(given: argparse.Namespace) -> None:
    from kesselton.store.formats.drum_file import read_text
    from kesselton.store.formats.readings_file import read_readings

    name = given.readings
    if name == "-":
        readings = read_readings(standard_input("a readings file"), _("Standard input"))
    else:
        readings = read_readings(read_text(Path(name), "readings file"), name)
    print_json(even_answer(readings))


def even_answer(given: Readings) -> dict[str, Any]:
    """What `kesselton even` prints (docs/formats.md)."""
    from kesselton.app.bench.clearing import cleared
    from kesselton.core.instrument.gauge import Dial
    from kesselton.store.workshop.holdings import Entry, Workshop

    dials = (Dial("dial", given.dial_pairs),) if given.dial_pairs else ()
    clearing = cleared(Entry(1, given.drum), Workshop("", dials=dials), given.clearing)
    state, plan = clearing.state, clearing.plan
    return {
        "side": given.clearing.side,
        "tension_n_per_m": rounded(state.tension_n_per_m),
        "rods": [
            {
                "rod": i + 1,
                "turns": rounded(float(plan.turns[i])),
                "degrees": rounded(360.0 * float(plan.turns[i])),
                "expected_pitch_cents": rounded(float(plan.pitch_cents[i])),
                "expected_tension_cents": rounded(float(plan.local_cents[i])),
                "tension_cents": rounded(float(state.local_cents[i])),
                "tension_uncertainty_cents": rounded(SIGMAS_90 * float(state.local_doubt[i])),
            }
            for i in range(given.drum.shell.rods)
        ],
        "order": list(clearing.order),
        "all_rods_turns": rounded(plan.all_turns),
        "expected_spread_cents": rounded(plan.spread_cents),
        "unseen_cents": rounded(state.unseen_cents),
        "unseen": clearing.unseen,
        "notes": [*clearing.notes, *([clearing.ask_why] if clearing.ask_why else [])],
    }


def _sound_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("sound", help=_("a WAV or FLAC file, or - for standard input"))
    parser.add_argument("--near", type=float, help=_("approximate lug pitch, Hz"))


def _tap(given: argparse.Namespace) -> None:
    samples, rate = sound_of(given.sound)
    print_json(tap_answer(samples, rate, given.near))


def tap_answer(samples: Any, rate_hz: float, near_hz: float | None) -> dict[str, Any]:
    """What `kesselton tap` prints (docs/formats.md).

    Raises
    ------
    InputError
        If no tap in it can be named.
    """
    from kesselton.core.clear.taps.tap import hear_all, pooled, pooled_middle_cents
    from kesselton.core.errors import InputError, check_range

    if near_hz is not None:
        check_range(near_hz, 20.0, 1500.0, _("Expected pitch"), "Hz", "near")
    heard, left = hear_all(samples, rate_hz, near_hz)
    if not heard:
        raise InputError(left[0].words(), code=left[0].error.code)
    hz, spread = pooled(heard)
    best = max(heard, key=lambda item: item.confidence)
    return {
        "lug_pitch_hz": rounded(hz),
        "uncertainty_cents": rounded(SIGMAS_90 * max(spread, pooled_middle_cents(heard))),
        "partials": [
            {
                "frequency_hz": rounded(line.hz),
                "t60_s": rounded(line.t60_s),
                "level_db": rounded(line.level_db),
            }
            for line in best.lines
        ],
        "taps": [
            {
                "at_s": rounded(tap.at_s),
                "lug_pitch_hz": rounded(tap.lug_pitch_hz),
                "middle_hz": rounded(tap.middle_hz),
                "uncertainty_cents": rounded(SIGMAS_90 * tap.middle_spread_cents),
                "confidence": rounded(tap.confidence),
            }
            for tap in heard
        ],
        "refused": [refusal(left_out.error, left_out.words()) for left_out in left],
    }


COMMANDS = (
    Command(
        "even",
        N_("print the turns that clear a head, from a readings file"),
        _readings_argument,
        _even,
    ),
    Command("tap", N_("print the lug pitch of the taps in a recording"), _sound_arguments, _tap),
)
