"""What the log of a drum taught, in words."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from kesselton.app.bench.learner import OwnDrum
from kesselton.core.constants import CENTS_PER_OCTAVE
from kesselton.core.language import _
from kesselton.ui.log.entry_words import when_words
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.log.life import Outlook
    from kesselton.core.measure.turn_line import TurnLine


def outlook_words(own: OwnDrum, left: Outlook) -> str:
    """What is left of a head in use."""
    side = wording.side_word(own.drum, left.life.side)
    text = _(
        "{side}: {shows:.0f} shows on this head, about {left:.0f} more ({low:.0f} to {high:.0f})"
    ).format(side=side, shows=left.life.shows, left=left.left, low=left.low, high=left.high)
    dates = left.due(own.shows_a_day)
    if dates is not None:
        text += _(", half are worn by {half:%Y-%m-%d}, check from {first:%Y-%m-%d}").format(
            half=dates[0], first=dates[1]
        )
    return text + (
        _(". Based on {count} worn heads.").format(count=left.seen)
        if left.seen
        else _(". Assumed: no worn heads yet.")
    )


def own_gist(own: OwnDrum | None) -> str:
    """The same in a few words."""
    if own is None or own.note is None:
        return ""
    return _("drum pitch ± {total:.0f} cents, from {entries}").format(
        total=own.note.total_cents, entries=wording.entries_words(own.note.count)
    )


def own_words(own: OwnDrum | None, tensions_n_per_m: Sequence[float] = ()) -> str:
    """What a drum's log taught, in words.

    Parameters
    ----------
    tensions_n_per_m : of its heads as they are set; empty while that is worked out
    """
    if own is None:
        return ""
    results, note = [], own.note
    if note is not None:
        results.append(
            _(
                "Fundamental learned from {entries}: {cents} ± {half:.0f} "
                "cents off the model. Now known to ± {total:.0f} cents, before "
                "± {before:.0f}."
            ).format(
                entries=wording.entries_words(note.count),
                cents=wording.signed_words(note.cents),
                half=note.half_cents,
                before=note.before_cents,
                total=note.total_cents,
            )
        )
        if note.ring is not None:
            results.append(_("Decay is {factor:.2f} × the model.").format(factor=note.ring))
        if note.changed is not None:
            when, cents = note.changed
            results.append(
                _("Did something change on {when}? Since then it stands {cents}.").format(
                    when=when_words(when), cents=wording.cents_words(cents)
                )
            )
        results += [
            _("The entry of {when} is an outlier and is ignored.").format(when=when_words(point.on))
            for point in note.odd
        ]
    for side, line in own.turns.items():
        tension = dict(zip(own.drum.sides, tensions_n_per_m, strict=False)).get(side)
        if tension is None:
            continue
        results.append(
            _(
                "{side}, from {notes}{with_it}: a quarter turn of every rod raises "
                "the lug pitch by {cents:.0f} cents, after {first} turn of take-up."
            ).format(
                side=wording.side_word(own.drum, side),
                notes=_("1 turn reading")
                if line.count == 1
                else _("{count} turn readings").format(count=line.count),
                with_it=_with_it(line),
                cents=quarter_turn_cents(line, tension),
                first=wording.fine_turn_words(max(line.take_up, 0.0)),
            )
        )
    results += [
        _("The entry of {when} cannot be computed and is ignored: {why}").format(
            when=when_words(on), why=why
        )
        for on, why in own.unsolved
    ]
    return "\n".join(results)


def quarter_turn_cents(line: TurnLine, tension_n_per_m: float) -> float:
    """What a quarter turn of every rod does to the lug pitch, which goes with the root of the
    tension."""
    return 0.5 * CENTS_PER_OCTAVE * math.log2(1.0 + line.gained(0.25) / tension_n_per_m)


def _with_it(line: TurnLine) -> str:
    """How many notes are of the head that lies there: they say most; nothing where all are."""
    if line.of_this_head == line.count:
        return ""
    if line.of_this_head == 0:
        return _(", none with the current head")
    return _(", {count} with the current head").format(count=line.of_this_head)
