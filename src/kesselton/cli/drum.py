"""`kesselton predict`, `range` and `choose`: what a drum will do, and which heads to buy for it."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from kesselton.cli.shell import Command, print_json, rounded, standard_input
from kesselton.core.constants import SIDES
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.core.heads.choose import Candidates
    from kesselton.core.instrument.beater import Stroke
    from kesselton.core.instrument.drum import Drum
    from kesselton.store.formats.brief_file import Order


def _drum_argument(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("drum", help=_("a drum file, or - for standard input"))


def drum_text(name: str, what: str = "drum file") -> tuple[str, str]:
    """The text of a file, and what to call it in a message."""
    from kesselton.store.formats.drum_file import read_text

    if name == "-":
        return standard_input(f"a {what}"), _("Standard input")
    return read_text(Path(name), what), Path(name).name


def _read(name: str) -> Drum:
    from kesselton.store.formats.drum_file import read_drum

    return read_drum(*drum_text(name))


def _brief_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "brief", help=(_("a brief file that includes the drum, or - for standard input"))
    )
    parser.add_argument("--top", type=int, default=10, help=_("how many candidates to print"))


def _choose(given: argparse.Namespace) -> None:
    from kesselton.store.formats.brief_file import load_order, read_order

    if given.brief == "-":
        order = read_order(standard_input(_("a brief file")), _("Standard input"))
    else:
        order = load_order(Path(given.brief))
    print_json(choose_answer(order, max(1, given.top)))


def choose_answer(order: Order, top: int) -> dict[str, Any]:
    """What `kesselton choose` prints (docs/formats.md)."""

    from kesselton.app.workshop.head_stock import offers
    from kesselton.core.heads.choose import choose, nearest_brief
    from kesselton.store.formats.brief_file import brief_to_data
    from kesselton.store.workshop.holdings import Workshop

    empty = Workshop("")
    batters, resonants = order.heads or tuple(
        [offer.head for offer in offers(order.drum, empty, side)] for side in SIDES
    )
    result = choose(order.drum, order.brief, batters, resonants)
    ranked = result.order()
    candidates = [_candidate(result, number) for number in ranked[:top].tolist()]
    missed, nearest = result.nearest(), nearest_brief(result)
    return {
        "tried": result.asked,
        "assumed": list(order.drum.assumed),
        "possible": len(ranked),
        "candidates": candidates,
        "nearest": None
        if missed is None or nearest is None
        else {
            "heads": [head.name for head in result.heads[missed[0]]],
            "beyond_cents": rounded(missed[1]),
            "limit": missed[2],
            "brief": brief_to_data(nearest),
        },
    }


def _candidate(candidates: Candidates, number: int) -> dict[str, Any]:
    """One pair of heads, its settings, and how it does in each criterion."""
    import numpy as np

    from kesselton.core.heads.choose import reason_words
    from kesselton.core.heads.criteria import CRITERIA
    from kesselton.store.formats.drum_file import head_to_data

    scores, measures = candidates.scores, candidates.measures
    settings = {
        side: {
            "head": head_to_data(candidates.heads[number][place]),
            "tension_n_per_m": rounded(candidates.solved.tensions_n_per_m[number, place]),
            "lug_pitch_hz": rounded(candidates.solved.lug_pitches_hz[number, place]),
            "stress_share": rounded(measures.stress_share[number, place]),
        }
        for place, side in enumerate(candidates.drum.sides)
    }
    judged = [
        {
            "criterion": criterion.key,
            "value": rounded(scores.value[row, number]),
            "wanted": rounded(scores.wanted[row]) if np.isfinite(scores.wanted[row]) else None,
            "score": rounded(scores.score[row, number]),
            "weight": rounded(scores.weight[row]),
            "source": criterion.source,
            "reason": f"{criterion.label}: " + reason_words(candidates, number, row),
        }
        for row, criterion in enumerate(CRITERIA)
        if np.isfinite(scores.value[row, number])
    ]
    return {
        "score": rounded(float(scores.total()[number])),
        **settings,
        "interval_cents": rounded(candidates.wishes.interval_cents[number]),
        "fundamental_hz": rounded(measures.fundamental_hz[number]),
        "fundamental_t60_s": rounded(measures.fundamental_t60_s[number]),
        "ring_s": rounded(measures.ring_s[number]),
        "reasons": judged,
    }


def _predict(given: argparse.Namespace) -> None:
    from kesselton.store.formats.drum_file import read_struck_drum

    print_json(predict_answer(*read_struck_drum(*drum_text(given.drum))))


def _touch_name(touch: float) -> str | float:
    """Its word in a brief, or the number where it has none."""
    from kesselton.core.heads.brief import TOUCHES

    names = [name for name, option in TOUCHES.items() if option.value == touch]
    return names[0] if names else rounded(touch)


def predict_answer(drum: Drum, stroke: Stroke | None = None) -> dict[str, Any]:
    """What `kesselton predict` prints (docs/formats.md)."""
    from kesselton.core.prediction.prediction import predict

    prediction = predict(drum, stroke)
    p = prediction.partials
    first = p.fundamental
    answer: dict[str, Any] = {
        "fundamental_hz": rounded(prediction.fundamental_hz),
        "fundamental_uncertainty_cents": rounded(prediction.uncertainty_cents[first]),
        "shares_note_with_hz": [rounded(hz) for hz in p.frequency_hz[p.rival]],
        "stroke": {
            "beater": prediction.stroke.beater,
            "place": rounded(prediction.stroke.place),
            "touch": _touch_name(prediction.stroke.touch),
        },
        "level_db_spl": rounded(prediction.level_spl_db),
        "early_decay_s": rounded(prediction.decay.early_s),
        "late_decay_s": rounded(prediction.decay.late_s),
        "glide_cents": rounded(prediction.glide_cents[first]),
        "glide_50_ms_cents": rounded(prediction.early_glide_cents[first]),
        "assumed": list(drum.assumed),
    }
    for index, side in enumerate(drum.sides):
        answer[side] = {
            "tension_n_per_m": rounded(prediction.tensions_n_per_m[index]),
            "lug_pitch_hz": rounded(prediction.lug_pitches_hz[index]),
        }
    if drum.resonant is None:
        answer["resonant"] = None
    answer["modes"] = [
        {
            "order": int(p.order[i]),
            "rank": int(p.rank[i]),
            "branch": str(p.branch[i]),
            "frequency_hz": rounded(p.frequency_hz[i]),
            "t60_s": rounded(p.t60_s[i]),
            "batter_share": rounded(p.batter_share[i]),
            "uncertainty_cents": rounded(prediction.uncertainty_cents[i]),
            "t60_uncertainty": rounded(prediction.t60_error[i]),
            "level_db": rounded(prediction.levels_db[i]),
            "recoil_share": rounded(p.recoil_share[i]),
        }
        for i in range(len(p))
    ]
    return answer


def range_answer(drum: Drum) -> dict[str, Any]:
    """What `kesselton range` prints (docs/formats.md)."""
    from kesselton.core.prediction.usable import head_range

    answer: dict[str, Any] = {"assumed": list(drum.assumed)}
    for side in drum.sides:
        usable = head_range(drum, side)
        clear, keeps = usable.clear_from, usable.keeps_to
        answer[side] = {
            "clear_from_n_per_m": rounded(clear.tension_n_per_m),
            "keeps_to_n_per_m": rounded(keeps.tension_n_per_m),
            "lowest": {
                "tension_n_per_m": rounded(usable.lowest.tension_n_per_m),
                "lug_pitch_hz": rounded(usable.lowest_pitch_hz),
                "limit": usable.lowest.name,
                "reason": usable.lowest.reason,
            },
            "highest": {
                "tension_n_per_m": rounded(usable.highest.tension_n_per_m),
                "lug_pitch_hz": rounded(usable.highest_pitch_hz),
                "limit": usable.highest.name,
                "reason": usable.highest.reason,
            },
            "limits": [
                {
                    "limit": limit.name,
                    "side": "lower" if limit in usable.lower else "upper",
                    "tension_n_per_m": rounded(limit.tension_n_per_m),
                    "reason": limit.reason,
                }
                for limit in usable.lower + usable.upper
            ],
        }
    if drum.resonant is None:
        answer["resonant"] = None
    answer["speaks"] = _speaks_answer(drum)
    return answer


def _speaks_answer(drum: Drum) -> dict[str, Any]:
    """Where the whole drum speaks, its heads moved together from where they are set."""
    from kesselton.core.acoustics.solver.lug import tensions
    from kesselton.core.prediction.speaks import End, speaking

    sweet_spot = speaking(drum, tensions(drum))

    def end(end: End | None) -> dict[str, Any] | None:
        if end is None:
            return None
        return {
            "fundamental_hz": rounded(end.fundamental_hz),
            "lug_pitches_hz": [rounded(hz) for hz in end.lug_pitches_hz],
            "limit": end.name,
            "reason": end.reason,
        }

    never = {"code": sweet_spot.code, "message": sweet_spot.never} if sweet_spot.never else None
    return {"lowest": end(sweet_spot.low), "highest": end(sweet_spot.high), "never": never}


COMMANDS = (
    Command(
        "predict",
        N_("print partials, pitches and decay of a drum"),
        _drum_argument,
        _predict,
    ),
    Command(
        "range",
        N_("print the usable range of each head, and its limits"),
        _drum_argument,
        lambda given: print_json(range_answer(_read(given.drum))),
    ),
    Command("choose", N_("print the best heads for a drum, and why"), _brief_arguments, _choose),
)
