"""The set on one sheet: a target for each drum, the order of work, what clashes."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from kesselton.core.cautions import RODS_UNDER_LOAD
from kesselton.core.language import N_, _, each
from kesselton.core.sets.model.kit import Kit, interval_words
from kesselton.ui.parts.words import wording
from kesselton.ui.printing.listing import (
    Listing,
    Section,
    write_markdown,
    write_pdf,
    write_svg,
)
from kesselton.ui.sets import words

if TYPE_CHECKING:
    from kesselton.core.sets.search.plan import Plan
    from kesselton.core.sets.search.whole import SolvedSet

SHEET_CAPTIONS = (
    N_("Drum"),
    N_("Size"),
    N_("Drum pitch"),
    N_("Batter, lug pitch"),
    N_("Resonant, lug pitch"),
    N_("Heads"),
)
SHEET_ORDER_CAPTIONS = ("", N_("Drum"), N_("Each rod, from its present position"))
SHEET_CONFLICT_CAPTIONS = (N_("Struck"), N_("Responds"), N_("How"))

LOUD_DB = -20.0
"""An answer louder than this under its stroke is named on the sheet; assumed."""


@dataclass(frozen=True, eq=False)
class SetSheet:
    """What the sheet shows; `plan` None: the set as it is."""

    kit: Kit
    solved_set: SolvedSet
    plan: Plan | None
    workshop: str
    a4_hz: float
    flats: bool
    metric: bool
    on: date


def listing(sheet: SetSheet, show: Callable[[float], str]) -> Listing:
    """The sheet as tables; `show` words a pitch in cents over C1."""
    solved_set, plan = sheet.solved_set, sheet.plan
    kind = words.plan_title(plan, show) if plan is not None else _("Now")
    return Listing(
        sheet.kit.name,
        _("{workshop}, {isoformat} · {kind} · A4 = {a4_hz:.0f} Hz").format(
            workshop=sheet.workshop, isoformat=sheet.on.isoformat(), kind=kind, a4_hz=sheet.a4_hz
        ),
        (
            Section(_("Targets"), _targets(sheet, show), (3, 2, 3, 3, 3, 4)),
            Section(
                _("Work order"),
                _order(sheet),
                (1, 3, 8),
                f"{_('Work order: low drums first, snare drum last.')} {_(RODS_UNDER_LOAD)}",
            ),
            Section(
                _("Sympathetic response now"),
                _conflicts(solved_set),
                (3, 3, 8),
                _("Turns are estimates until the drum has a log: trust the pitch, not the turn."),
            ),
        ),
    )


def _targets(sheet: SetSheet, show: Callable[[float], str]) -> tuple[tuple[str, ...], ...]:
    rows: list[tuple[str, ...]] = [each(SHEET_CAPTIONS)]
    for number, member in enumerate(sheet.solved_set.members):
        if sheet.plan is not None:
            tuning = sheet.plan.drums[number]
            note, interval, pitches = tuning.note_cents, tuning.interval_cents, tuning.pitches_hz
        else:
            spot = sheet.solved_set.spots[number]
            note, interval = spot.note, spot.interval
            pitches = sheet.solved_set.predictions[number].lug_pitches_hz
        results = [
            f"{wording.note_words(hz, sheet.a4_hz, sheet.flats)} · {wording.hz_words(hz)}"
            for hz in pitches
        ]
        rows.append(
            (
                member.name,
                wording.size_words(member.drum, sheet.metric),
                show(note),
                results[0],
                results[1] if len(results) > 1 else _("no resonant head"),
                "" if math.isnan(interval) else interval_words(interval),
            )
        )
    return tuple(rows)


def _order(sheet: SetSheet) -> tuple[tuple[str, ...], ...]:
    from kesselton.core.sets.search.reasons import turns_between

    rows: list[tuple[str, ...]] = [each(SHEET_ORDER_CAPTIONS)]
    for number, member in enumerate(sheet.solved_set.members):
        what = _("no change")
        if sheet.plan is not None and not sheet.plan.drums[number].as_is:
            before = sheet.solved_set.predictions[number].tensions_n_per_m
            turns = turns_between(member.drum, before, sheet.plan.drums[number].tensions_n_per_m)
            what = words.turn_words(member, turns)
        rows.append((str(number + 1), member.name, what))
    return tuple(rows)


def _conflicts(solved_set: SolvedSet) -> tuple[tuple[str, ...], ...]:
    rows: list[tuple[str, ...]] = [each(SHEET_CONFLICT_CAPTIONS)]
    for line in solved_set.answers:
        for answer in line:
            if answer is not None and (answer.wires_over or answer.level_db > LOUD_DB):
                names = [solved_set.members[n].name for n in (answer.struck, answer.answering)]
                rows.append((*names, words.answer_words(answer)))
    return tuple(rows)


def write_set_sheet(path: Path, sheet: SetSheet, show: Callable[[float], str]) -> Path:
    """Write the sheet by the ending of its name: PDF, SVG or Markdown.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    result = listing(sheet, show)
    ending = path.suffix.lower()
    write = {".svg": write_svg, ".md": write_markdown}.get(ending, write_pdf)
    target = path if ending in (".svg", ".md", ".pdf") else path.with_name(f"{path.name}.pdf")
    write(target, result)
    return target
