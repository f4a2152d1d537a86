"""How plans, answers and cures are worded; on the screen and on the set sheet."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING

from kesselton.core.language import N_, _
from kesselton.core.sets.model.kit import CHORDS, Member, interval_words
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.core.sets.search.plan import Plan, Tuned
    from kesselton.core.sets.search.reasons import Helping
    from kesselton.core.sets.together.answering import Answer
    from kesselton.core.sets.together.cures import Cure

CURE_WORDS = {
    "interval": N_("{name}: {interval}, drum pitch kept"),
    "note": N_("{name}: drum pitch {cents:.0f} cents {way}"),
    "damp": N_("{name}: gel near the edge"),
    "side": N_("{name}: snare side {cents:.0f} cents {way}"),
    "strainer": N_("{name}: strainer to {pull:.0f} N"),
    "off": N_("{name}: strainer off during rests"),
}
SHORT_CHORDS = {
    "major": N_("major"),
    "minor": N_("minor"),
    "fourths": N_("in fourths"),
    "fifths": N_("in fifths"),
    "intervals": N_("by custom intervals"),
}

Show = Callable[[float], str]
"""A pitch in cents over C1, in words."""


def plan_title(plan: Plan, show: Show) -> str:
    """The chord and its root."""
    frame = plan.frame
    name, root = CHORDS[frame.chord], show(frame.root_cents)
    if frame.chord == "even" and len(frame.tones) > 1:
        step = frame.tones[1] - frame.tones[0]
        return _("{root}, steps of {step:.0f} cents").format(step=step, root=root)
    if frame.chord == "notes":
        return name
    return _("{root} {chord}").format(chord=_(SHORT_CHORDS[frame.chord]), root=root)


def plan_state(plan: Plan) -> str:
    """Whether it fits, and how much there is to do."""
    from kesselton.core.sets.search.reasons import stretched

    worst = stretched(plan)
    fits = (
        _("fits") if worst is None else _("{name} out of range").format(name=plan.drums[worst].name)
    )
    count = sum(not drum.as_is for drum in plan.drums)
    todo = _("{count} to retune").format(count=count) if count else _("no changes")
    return f"{fits} · {todo}"


def helping_words(helping: Helping | None, plan: Plan) -> str:
    """Which head would help the stretched drum; "" where none is stretched."""
    from kesselton.core.sets.search.reasons import stretched

    worst = stretched(plan)
    if worst is None:
        return ""
    if helping is None:
        return _("No head in the library brings {drum} closer.").format(drum=plan.drums[worst].name)
    if helping.outside_cents <= 0.0:
        return _("{drum} would speak there with {head}.").format(
            head=helping.head, drum=helping.drum
        )
    return _("{drum} would come within {cents:.0f} cents with {head}.").format(
        head=helping.head, drum=helping.drum, cents=helping.outside_cents
    )


def tuned_words(tuning: Tuned, show: Show) -> str:
    """Note and interval of a drum in a plan."""
    note = show(tuning.note_cents)
    if math.isnan(tuning.interval_cents):
        return note
    return _("{note}, {interval}").format(note=note, interval=interval_words(tuning.interval_cents))


def turn_words(member: Member, turns: list[float]) -> str:
    """What to turn, per head: "batter tighten ¼, resonant loosen ⅛"."""
    results = [
        _("{side} {turn}").format(side=side, turn=turn)
        for side, turn in wording.head_turns(member.drum, turns)
    ]
    return ", ".join(results) or _("no change")


def answer_words(answer: Answer) -> str:
    """How a drum answers."""
    message = _("{level:.0f} dB, {time:.1f} s, mainly at {led:.0f} Hz").format(
        level=answer.level_db, time=answer.time_s, led=answer.led_by_hz
    )
    if math.isinf(answer.wires_db):
        return message + _("; wires hang clear: everything rattles them")
    if answer.wires_over:
        return message + _(
            "; wires {over:.0f} dB above lift-off, for {ms:.0f} ms, at {hz:.0f} Hz"
        ).format(over=answer.wires_db, ms=1e3 * answer.wires_s, hz=answer.wires_hz)
    if not math.isnan(answer.wires_db):
        return message + _("; wires stay on, {under:.0f} dB below lift-off").format(
            under=-answer.wires_db
        )
    return message


def cure_title(cure: Cure, name: str) -> str:
    """What is done."""
    way = _("higher") if cure.amount > 0 else _("lower")
    sentence = _(CURE_WORDS[cure.kind])
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
        return _("not possible: {why}").format(why=cure.why_not)
    if math.isinf(cure.help_db):
        helps = _("silent")
    elif cure.little:
        helps = _("only {db:.0f} dB quieter").format(db=cure.help_db)
    else:
        helps = _("{db:.0f} dB quieter").format(db=cure.help_db)
    return f"{helps} · {cure.price}" if cure.price else helps
