"""How plans, answers and cures are worded; on the screen and on the set sheet."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING

from kesselton.core.sets.kit import CHORDS, Member, interval_words
from kesselton.ui.parts import wording
from kesselton.ui.sets import texts

if TYPE_CHECKING:
    from kesselton.core.sets.answering import Answer
    from kesselton.core.sets.cures import Cure
    from kesselton.core.sets.plan import Plan, Tuned
    from kesselton.core.sets.reasons import Helping

Show = Callable[[float], str]
"""A pitch in cents over C1, in words."""


def plan_title(plan: Plan, show: Show) -> str:
    """The chord and its root."""
    frame = plan.frame
    name, root = CHORDS[frame.chord], show(frame.root_cents)
    if frame.chord == "even" and len(frame.tones) > 1:
        step = frame.tones[1] - frame.tones[0]
        return texts.EVEN_LINE.format(step=step, root=root)
    if frame.chord == "notes":
        return name
    return texts.PLAN_LINE.format(chord=texts.SHORT_CHORDS[frame.chord], root=root)


def plan_state(plan: Plan) -> str:
    """Whether it fits, and how much there is to do."""
    from kesselton.core.sets.reasons import stretched

    worst = stretched(plan)
    fits = texts.FITS if worst is None else texts.STRETCHED.format(name=plan.drums[worst].name)
    count = sum(not one.as_is for one in plan.drums)
    todo = texts.TOUCHED.format(count=count) if count else texts.NOTHING_TO_DO
    return f"{fits} · {todo}"


def helping_words(helping: Helping | None, plan: Plan) -> str:
    """Which head would help the stretched drum; "" where none is stretched."""
    from kesselton.core.sets.reasons import stretched

    worst = stretched(plan)
    if worst is None:
        return ""
    if helping is None:
        return texts.NO_HEAD_HELPS.format(drum=plan.drums[worst].name)
    if helping.outside_cents <= 0.0:
        return texts.HELPS_HEAD.format(head=helping.head, drum=helping.drum)
    return texts.HELPS_HEAD_NEARER.format(
        head=helping.head, drum=helping.drum, cents=helping.outside_cents
    )


def tuned_words(one: Tuned, show: Show) -> str:
    """Note and interval of a drum in a plan."""
    note = show(one.note_cents)
    if math.isnan(one.interval_cents):
        return note
    return texts.NOTE_AND_INTERVAL.format(note=note, interval=interval_words(one.interval_cents))


def turn_words(member: Member, turns: list[float]) -> str:
    """What to turn, per head: "batter tighten ¼, resonant loosen ⅛"."""
    said = [
        texts.SIDE_TURN.format(side=side, turn=turn)
        for side, turn in wording.head_turns(member.drum, turns)
    ]
    return ", ".join(said) or texts.NO_TURN


def answer_words(one: Answer) -> str:
    """How a drum answers."""
    said = texts.ANSWER_WORDS.format(level=one.level_db, time=one.time_s, led=one.led_by_hz)
    said = said.replace("-", "−")
    if math.isinf(one.wires_db):
        return said + texts.WIRES_LOOSE
    if one.wires_over:
        return said + texts.WIRES_OVER.format(
            over=one.wires_db, ms=1e3 * one.wires_s, hz=one.wires_hz
        )
    if not math.isnan(one.wires_db):
        return said + texts.WIRES_UNDER.format(under=-one.wires_db)
    return said


def cure_title(cure: Cure, name: str) -> str:
    """What is done."""
    way = texts.HIGHER if cure.amount > 0 else texts.LOWER
    sentence = texts.CURE_WORDS[cure.kind]
    return sentence.format(
        name=name,
        interval="" if cure.kind != "interval" else interval_words(cure.amount),
        cents=abs(cure.amount),
        way=way,
        pull=cure.amount,
    )


def cure_state(cure: Cure) -> str:
    """How much it helps, and its price."""
    if cure.why_not:
        return texts.CANNOT.format(why=cure.why_not)
    if math.isinf(cure.help_db):
        helps = texts.HELPS_ALL
    elif cure.little:
        helps = texts.HELPS_LITTLE.format(db=cure.help_db).replace("-", "−")
    else:
        helps = texts.HELPS.format(db=cure.help_db)
    return f"{helps} · {cure.price}" if cure.price else helps
