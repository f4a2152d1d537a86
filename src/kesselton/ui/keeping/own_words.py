"""What the log of a drum taught, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

from kesselton.app.learner import OwnDrum
from kesselton.ui.keeping import texts
from kesselton.ui.keeping.entry_words import when_words
from kesselton.ui.parts import wording

if TYPE_CHECKING:
    from kesselton.core.learning.life import Outlook
    from kesselton.core.measuring.turn_line import TurnLine


def outlook_words(own: OwnDrum, left: Outlook) -> str:
    """What is left of a head in use."""
    side = wording.side_word(own.drum, left.life.side)
    text = texts.OUTLOOK.format(
        side=side, shows=left.life.shows, left=left.left, low=left.low, high=left.high
    )
    dates = left.due(own.shows_a_day)
    if dates is not None:
        text += texts.OUTLOOK_DATES.format(half=dates[0], first=dates[1])
    return text + (texts.OUTLOOK_SEEN.format(count=left.seen) if left.seen else texts.OUTLOOK_PRIOR)


def own_words(own: OwnDrum | None) -> str:
    """What a drum's log taught, in words."""
    if own is None:
        return ""
    said, note = [], own.note
    if note is not None:
        said.append(
            texts.OWN_WORDS.format(
                entries=wording.entries_words(note.count),
                cents=wording.signed_words(note.cents),
                half=note.half_cents,
                before=note.before_cents,
                total=note.total_cents,
            )
        )
        if note.ring is not None:
            said.append(texts.OWN_RING_WORDS.format(factor=note.ring))
        if note.changed is not None:
            when, cents = note.changed
            said.append(
                texts.CHANGED_ON.format(when=when_words(when), cents=wording.cents_words(cents))
            )
        said += [texts.DOES_NOT_FIT.format(when=when_words(one.on)) for one in note.odd]
    for side, line in own.turns.items():
        said.append(
            texts.OWN_TURNS.format(
                side=wording.side_word(own.drum, side),
                notes=texts.ONE_NOTE if line.count == 1 else texts.NOTES.format(count=line.count),
                with_it=_with_it(line),
                gained=line.gained(1.0),
                first=wording.fine_turn_words(max(line.take_up, 0.0)),
            )
        )
    said += [texts.NOT_SOLVED.format(when=when_words(on), why=why) for on, why in own.unsolved]
    return "\n".join(said)


def _with_it(line: TurnLine) -> str:
    """How many notes are of the head that lies there: they say most; nothing where all are."""
    if line.of_this_head == line.count:
        return ""
    if line.of_this_head == 0:
        return texts.NONE_WITH_IT
    return texts.SOME_WITH_IT.format(count=line.of_this_head)
