"""What follows from a log, in words: one sentence a rule."""

from __future__ import annotations

from typing import Any

from kesselton.core.language import N_, _
from kesselton.core.log.conclusions import Conclusion
from kesselton.core.pitch import interval_name

SENTENCES = {
    "first_day_holds": N_("New heads hold their pitch on the first day."),
    "first_day_drops": N_(
        "On the first day pitch drops {cents:.0f} cents: tune it that much high."
    ),
    "first_day_rises": N_("On the first day pitch rises {cents:.0f} cents on its own."),
    "falls_by_damp": N_("Per 10 % more humidity pitch falls about {cents:.0f} cents."),
    "rises_by_damp": N_("Per 10 % more humidity pitch rises about {cents:.0f} cents."),
    "early_pits_batter": N_(
        "Early pits or break of the batter head: use a tougher head, two plies or a dot."
    ),
    "early_pits_resonant": N_("Early pits or break of the resonant head: use a tougher head."),
    "early_pits_both": N_(
        "Early pits or break of both heads: use tougher heads, two plies or a dot."
    ),
    "always_muffled_batter": N_(
        "The batter head is always muffled: a head with a ring, a dot or two plies is drier, but "
        "never more open."
    ),
    "always_muffled_resonant": N_(
        "The resonant head is always muffled: a head with a ring or two plies is drier, but never "
        "more open."
    ),
    "dead_when_low": N_("Dead at low tension: a thinner head would still respond."),
    "weak_low_end": N_(
        "Weak low end, or pitch wanders from rod to rod: check bearing edge and head size "
        "(Measure, Bare shell)."
    ),
    "often_retuned": N_("Retuned {times} times in {days} days: check edge, rods and hoop."),
    "heads_differ_batter": N_(
        "Two batter heads of the same kind differ by {cents:.0f} cents on this drum: do not reuse "
        "numbers from the last head."
    ),
    "heads_differ_resonant": N_(
        "Two resonant heads of the same kind differ by {cents:.0f} cents on this drum: do not "
        "reuse numbers from the last head."
    ),
    "ends_on": N_("{name} settles on {interval} (± {half:.0f} cents)."),
    "ends_on_hz": N_("{name} settles on {interval} (± {half:.0f} cents), at {hz:.1f} Hz."),
    "ends_on_ring": N_("{name} settles on {interval} (± {half:.0f} cents), decay {t60_s:.1f} s."),
    "ends_on_hz_ring": N_(
        "{name} settles on {interval} (± {half:.0f} cents), at {hz:.1f} Hz, decay {t60_s:.1f} s."
    ),
}
INTERVALS = {
    "batter": N_("{interval}, batter higher"),
    "resonant": N_("{interval}, resonant higher"),
}
NEAR_UNISON_CENTS = 50.0


def conclusion_words(conclusion: Conclusion) -> str:
    """One conclusion as a sentence."""
    values: dict[str, Any] = dict(conclusion.values)
    code = conclusion.code
    if "sides" in values:
        code += "_both" if len(values["sides"]) > 1 else f"_{values['sides'][0]}"
    elif "side" in values:
        code += f"_{values['side']}"
    elif code == "ends_on":
        code += ("_hz" if values["hz"] is not None else "") + (
            "_ring" if values["t60_s"] is not None else ""
        )
        values["interval"] = _interval(values["apart"])
    return _(SENTENCES[code]).format(**values)


def _interval(cents: float) -> str:
    name = interval_name(cents)
    if abs(cents) < NEAR_UNISON_CENTS:
        return name
    return _(INTERVALS["resonant" if cents > 0 else "batter"]).format(interval=name)
