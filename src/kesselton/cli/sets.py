"""`kesselton set`: the best plans of a set, and who sets whom talking."""

from __future__ import annotations

import argparse
import math
from pathlib import Path
from typing import TYPE_CHECKING, Any

from kesselton.cli.drum import drum_text
from kesselton.cli.shell import Command, print_json, rounded
from kesselton.core.language import N_, _

if TYPE_CHECKING:
    from kesselton.core.sets.search.plan import Plan, Tuned
    from kesselton.core.sets.search.reasons import Reason
    from kesselton.core.sets.search.whole import Planned, SolvedSet
    from kesselton.store.formats.set_file import WholeSet

CLASH_ROUGH, CLASH_TALK_DB = 0.35, -15.0
"""From which a pair of drums is named as a conflict; roughness ranks, it does not judge."""


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("set", help=_("a set file, a workshop file, or - for standard input"))
    parser.add_argument("--name", help=_("set in a workshop file (default: the first)"))


def _set(given: argparse.Namespace) -> None:
    from kesselton.core.sets.search.whole import plan, solve

    whole = _read(given.set, given.name)
    a4 = 440.0
    planned = plan(whole.members, whole.wish, (), a4)
    print_json(set_answer(planned, solve(whole.members, whole.wish, a4), a4))


def _read(name: str, wanted: str | None) -> WholeSet:
    from kesselton.cli import SUFFIX
    from kesselton.core.errors import InputError
    from kesselton.core.sets.model.kit import members
    from kesselton.store.formats.set_file import WholeSet, read_set
    from kesselton.store.workshop.peek import look_into

    if not name.endswith(SUFFIX):
        if wanted is not None:
            raise InputError(_("A set file contains only one set."), _("Leave --name out."), "name")
        return read_set(*drum_text(name, "set file"))
    workshop = look_into(Path(name))
    kits = [kit for kit in workshop.kits if wanted in (None, kit.name)]
    if not kits:
        known = ", ".join(kit.name for kit in workshop.kits) or "none"
        raise InputError(
            _("Set {wanted!r} does not exist.").format(wanted=wanted),
            _("Options: {known}.").format(known=known),
            "name",
        )
    drums = {entry.id: entry.drum for entry in workshop.entries}
    return WholeSet(kits[0].name, members(kits[0], drums), kits[0].wish)


def set_answer(planned: Planned, solved_set: SolvedSet, a4_hz: float) -> dict[str, Any]:
    """What `kesselton set` prints (docs/formats.md)."""
    names = [member.name for member in solved_set.members]
    return {
        "plans": [_plan(plan, planned, a4_hz) for plan in planned.plans],
        "few_changes": [_plan(plan, planned, a4_hz) for plan in planned.few],
        "answering": [
            {
                "struck": names[answer.struck],
                "answering": names[answer.answering],
                "level_db": rounded(answer.level_db),
                "time_s": rounded(answer.time_s),
                "led_by_hz": rounded(answer.led_by_hz),
                "wires_over": answer.wires_over,
                "wires_db": rounded(answer.wires_db) if math.isfinite(answer.wires_db) else None,
            }
            for row in solved_set.answers
            for answer in row
            if answer is not None
        ],
    }


def _plan(plan: Plan, planned: Planned, a4_hz: float) -> dict[str, Any]:
    from kesselton.core.sets.model.chords import hz_of
    from kesselton.core.sets.search.reasons import reasons

    names = [member.name for member in planned.members]
    return {
        "root_hz": rounded(hz_of(plan.frame.root_cents, a4_hz)),
        "chord": plan.frame.chord,
        "fits": plan.fits,
        "drums": [
            _drum(each, reasons(each, member), a4_hz)
            for each, member in zip(plan.drums, planned.members, strict=True)
        ],
        "conflicts": [
            {
                "drums": [names[clash.one], names[clash.other]],
                "roughness": rounded(clash.rough),
                "answer_db": rounded(clash.talk_db),
            }
            for clash in plan.clashes
            if clash.rough > CLASH_ROUGH or clash.talk_db > CLASH_TALK_DB
        ],
        "score": rounded(plan.cost),
    }


def _drum(tuning: Tuned, why: tuple[Reason, ...], a4_hz: float) -> dict[str, Any]:
    from kesselton.core.sets.model.chords import hz_of
    from kesselton.core.sets.search.reasons import reason_words

    heads = [
        {"lug_pitch_hz": rounded(hz), "tension_n_per_m": rounded(tension)}
        for hz, tension in zip(tuning.pitches_hz, tuning.tensions_n_per_m, strict=True)
    ]
    return {
        "name": tuning.name,
        "fundamental_hz": rounded(hz_of(tuning.note_cents, a4_hz)),
        "batter": heads[0],
        "resonant": heads[1] if len(heads) > 1 else None,
        "interval_cents": None
        if math.isnan(tuning.interval_cents)
        else rounded(tuning.interval_cents),
        "reasons": [
            {
                "code": reason.code,
                "value": None if math.isnan(reason.value) else rounded(reason.value),
                "message": reason_words(reason),
            }
            for reason in why
        ],
    }


COMMANDS = (
    Command(
        "set", N_("print the best plans for a set and its sympathetic response"), _arguments, _set
    ),
)
