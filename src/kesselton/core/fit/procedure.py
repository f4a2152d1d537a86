"""Fitting a head, step by step: steps, orders, numbers and cautions for this drum and this plan."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from kesselton.core.cautions import SHARED
from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.errors import InputError
from kesselton.core.fit.rope import PASSES
from kesselton.core.fit.tightening_sequence import across_order, star_order
from kesselton.core.instrument.drum import Drum, head_of
from kesselton.core.instrument.library import head_size_in, hide_size_in, is_snare_side
from kesselton.core.language import N_, Worded, _
from kesselton.core.units import format_inches

ROUND_TURNS = 0.25
SOAK_MIN, DRY_DAYS = 40.0, 2.5
"""35 to 45 minutes, 2 to 3 days in ordinary air; common practice, no published source."""
ORDINARY_C, ORDINARY_RH = 20.0, 0.5
COLD_WATER = 0.03
"""Longer soaking for each degree under 20; assumed."""
MIN_TURN = 1.0 / 16.0
ORDERS = ("star", "across")
PRESS = Worded({"bass": N_("your knee"), "concert_bass": N_("the knee")})
FEWEST_FOR_BEDS = 6
FIRST_OF_OTHERS = N_(
    "If both heads are new, fit the resonant head first: the batter is tuned to it. Some "
    "technicians start with the batter."
)
FIRST_HEAD = Worded(
    {
        "concert_bass": N_("Playing head first, by feel; then the other, starting at unison."),
        "bass": N_(
            "Batter first, while the front is open and you can see pedal and beater through it."
        ),
        "rope": N_("Fit both heads together: one rope tightens both."),
    }
)
PAINT = N_(" Put a cloth between a painted shell and tape, rope or ears.")
BEDS = N_(
    " Two shallow spots opposite each other are the snare beds, cut for the wires: not damage, "
    "do not fill or file them."
)
PORT_PLACE = N_(
    " Turn the head until its port lies off center, clear of the pedal line and the lowest {rod}s."
)
GATES = N_(" Line up the hoop’s snare gates with the beds.")
NUMBERS = dict(enumerate(("four", "five", "six", "seven", "eight", "nine", "ten"), start=4))
ALONE_TO_M = 22.5 * METRE_PER_INCH
"""A kit bass drum up to 22 in is laid down by one person; common practice, no published source."""
WET_HIDE, FLESH_PLAY_M = 1.6, 0.002
"""A soaked hide is so much thicker, and a flesh hoop has so much play all round; assumed."""
PATCH_AT = 0.5
"""Beater height over the bottom rim as a share of the diameter: the middle, or a little below."""


@dataclass(frozen=True)
class Ask:
    """A question at a step; the wrong answer has advice, and may end the procedure."""

    question: str
    good: str
    otherwise: str
    ends: bool = False


@dataclass(frozen=True)
class Step:
    """One step as it is shown.

    Attributes
    ----------
    key : name that stays: progress is kept by it
    picture : "", "order", "mark", "section", "thirds" or "quarters"
    order : rods in the order they are turned, where the picture is "order"
    timer_label, timer_minutes : "" and 0 for none
    seconds : what it takes against the clock, 0 where nobody counts
    never_skipped : against the clock too
    after : work for after the show if it is skipped, "" for none
    left_out : it is skipped from the start, unless somebody wants it
    """

    key: str
    title: str
    text: str
    cautions: tuple[str, ...] = ()
    picture: str = ""
    order: tuple[int, ...] = ()
    ask: Ask | None = None
    timer_label: str = ""
    timer_minutes: float = 0.0
    seconds: float = 0.0
    never_skipped: bool = False
    after: str = ""
    left_out: bool = False


@dataclass(frozen=True)
class Procedure:
    """All steps for one head on one drum, with what must lie ready; `turns` past finger tight are
    those the steps were made for."""

    name: str
    side: str
    steps: tuple[Step, ...]
    tools: tuple[str, ...]
    materials: tuple[str, ...]
    turns: float = 0.0

    def index(self, key: str) -> int:
        """Place of a step, 0 if it is not there any more."""
        return next((i for i, step in enumerate(self.steps) if step.key == key), 0)


@dataclass(frozen=True)
class Choices:
    """What the technician chooses: order of the rods, size of a round, whether a skin is mounted
    on its hoop already, whether there is only time for what is never left out, and whether a head
    is seated by three half turns each (another school: once half to one turn), and of repairs on a
    stage which way is taken."""

    order: str = "star"
    round_turns: float = ROUND_TURNS
    mounted: bool = False
    quick: bool = False
    halves: bool = False
    way: str = "head"

    def __post_init__(self) -> None:
        if self.order not in ORDERS:
            raise InputError(
                _("The order is {order!r}.").format(order=self.order),
                _("Options: {orders}.").format(orders=", ".join(ORDERS)),
            )
        if not 0.05 <= self.round_turns <= 1.0:
            raise InputError(
                _("{round_turns:g} turns per pass is out of range.").format(
                    round_turns=self.round_turns
                ),
                _("Use 0.05 to 1 turn."),
            )


@dataclass(frozen=True)
class Numbers:
    """What the plan says for this head: turns past finger tight, and pitches in words.

    `round_pitches` are what to expect after each round, worded by the caller, "" for no tone;
    shorter than the
    rounds if the model did not answer. `day_cents` is how much a new head moves in its first day.
    `rope_m` is what is drawn out of a rope drum from hand-tight to the plan.
    """

    turns: float
    plan_pitch: str
    round_pitches: tuple[str, ...] = ()
    day_cents: float = 0.0
    rope_m: float = 0.0


@dataclass(frozen=True)
class _Build:
    facts: dict[str, Any]
    words: dict[str, str]
    order: tuple[int, ...]
    rounds: tuple[float, ...]
    numbers: Numbers
    data: Mapping[str, Any] = field(repr=False)

    @property
    def cautions(self) -> dict[str, str]:
        """Those of the file, and those the program shows everywhere."""
        return {**SHARED, **self.data["cautions"]}


def round_sizes(turns: float, step: float) -> tuple[float, ...]:
    """Turns past finger tight in equal rounds; what is left comes last, if it can be turned."""
    count = int(max(turns, 0.0) / step + 1e-9)
    left = turns - count * step
    return (step,) * count + ((left,) if left >= MIN_TURN else ())


def soak_minutes(temperature_c: float) -> float:
    """How long a hide soaks: longer in cold water."""
    return SOAK_MIN * (1.0 + COLD_WATER * max(0.0, ORDINARY_C - temperature_c))


def dry_days(temperature_c: float, relative_humidity: float) -> float:
    """How long a tucked skin dries on the drum: longer in damp and cold air.

    Notes
    -----
    In proportion to how dry the air is, and twice as fast for every 10 °C; assumed.
    """
    damp = (1.0 - ORDINARY_RH) / max(1.0 - relative_humidity, 0.1)
    return float(DRY_DAYS * damp * 2.0 ** ((ORDINARY_C - temperature_c) / 10.0))


def facts(drum: Drum, side: str, choices: Choices) -> dict[str, Any]:
    """What the conditions of the steps are about."""
    head = drum.setting(side).head
    return {
        "kind": drum.kind,
        "side": side,
        "roped": is_roped(drum),
        "wood": drum.shell.hoop in ("wood", "rope"),
        "skin": head.is_skin,
        "mounted": choices.mounted,
        "ported": head.port_diameter_m > 0.0,
        "patch": drum.kind == "bass" and side == "batter",
        "wired": drum.kind == "snare" or (drum.kind == "rope" and _snares(drum)),
        "beds": drum.kind == "snare" and drum.shell.rods >= FEWEST_FOR_BEDS,
        "heavy": _is_heavy(drum),
        "quick": choices.quick,
        "halves": choices.halves,
        "way": choices.way,
    }


def _is_heavy(drum: Drum) -> bool:
    """True if nobody should lift it alone."""
    if drum.kind == "concert_bass":
        return True
    return drum.kind == "bass" and drum.shell.head_diameter_m > ALONE_TO_M


def is_roped(drum: Drum) -> bool:
    """True if a rope draws its hoops: it has no rods to turn."""
    return drum.kind == "rope" or drum.shell.hoop == "rope"


def _snares(drum: Drum) -> bool:
    """True if the far head is one that snares lie on."""
    return drum.resonant is not None and is_snare_side(
        drum.resonant.head.film_thickness_m, drum.resonant.head.material
    )


def build(
    drum: Drum,
    side: str,
    data: Mapping[str, Any],
    numbers: Numbers,
    choices: Choices,
    more: Mapping[str, str] | None = None,
) -> Procedure:
    """The procedure for one head.

    Parameters
    ----------
    data : a procedure file (docs/formats.md)
    more : words its texts may name besides

    Raises
    ------
    InputError
        If the drum has no such head, or a rod count that cannot be.
    """
    known = facts(drum, side, choices)
    if choices.quick and known["skin"]:
        raise InputError(
            _("A skin head cannot be quick-fitted: it dries for days."),
            _("Use the full procedure, or a film head."),
            "quick",
        )
    order = (star_order if choices.order == "star" else across_order)(drum.shell.rods)
    rounds = round_sizes(numbers.turns, choices.round_turns)
    words = {**_words(drum, side, known, numbers, rounds), **(more or {})}
    left_out = [
        _(str(raw["after"])).format(**words)
        for raw in data["steps"]
        if "after" in raw and _only_left_out(raw.get("when", {}), known)
    ]
    words["left_out"] = ", ".join(left_out)
    context = _Build(known, words, order, rounds, numbers, data)
    steps: list[Step] = []
    tools: dict[str, None] = {}
    materials: dict[str, None] = {}
    for raw in data["steps"]:
        if not _applies(raw.get("when", {}), known):
            continue
        for kind, where in (("tools", tools), ("materials", materials)):
            for text in raw.get(kind, ()):
                where[_(text).format(**context.words)] = None
        steps += _steps(raw, context)
    return Procedure(
        _(str(data["name"])), side, tuple(steps), tuple(tools), tuple(materials), numbers.turns
    )


def _applies(when: Mapping[str, Any], known: Mapping[str, Any]) -> bool:
    return all(known[name] in allowed for name, allowed in when.items())


def _only_left_out(when: Mapping[str, Any], known: Mapping[str, Any]) -> bool:
    """True if a step is left out for want of time and nothing else."""
    return not _applies(when, known) and _applies(when, {**known, "quick": False})


def _steps(raw: Mapping[str, Any], context: _Build) -> list[Step]:
    """One step, or one for every round."""
    if raw.get("repeat") != "rounds":
        return [_step(raw, str(raw["id"]), context, {})]
    out = []
    for number, turn in enumerate(context.rounds, start=1):
        pitches = context.numbers.round_pitches
        more = {
            "round": str(number),
            "rounds": str(len(context.rounds)),
            "round_turn": turn_text(turn),
            "round_expect": _expected(
                pitches[number - 1] if number <= len(pitches) else _("the target")
            ),
        }
        out.append(_step(raw, f"{raw['id']}_{number}", context, more))
    return out


def _expected(pitch: str) -> str:
    if not pitch:
        return _("No tone yet.")
    return _("Expect a lug pitch near {pitch}.").format(pitch=pitch)


def _step(raw: Mapping[str, Any], key: str, context: _Build, more: Mapping[str, str]) -> Step:
    words = {**context.words, **more}
    ask = raw.get("ask")
    timer = context.data["timers"][raw["timer"]] if "timer" in raw else None
    minutes = float(str(timer["minutes"]).format(**words)) if timer else 0.0
    picture = str(raw.get("picture", ""))
    return Step(
        key,
        _(str(raw["title"])).format(**words),
        " ".join(_(str(raw["text"])).format(**words).split()),
        tuple(_(context.cautions[name]).format(**words) for name in raw.get("cautions", ())),
        picture,
        context.order if picture == "order" else (),
        _asked(ask, words) if ask else None,
        _(str(timer["label"])).format(**words) if timer else "",
        minutes,
        float(raw.get("seconds", 0.0)),
        bool(raw.get("never_skipped", False)),
        _(str(raw.get("after", ""))).format(**words),
        bool(raw.get("left_out", False)),
    )


def _asked(ask: Mapping[str, Any], words: Mapping[str, str]) -> Ask:
    question, otherwise = (_(str(ask[name])).format(**words) for name in ("question", "otherwise"))
    return Ask(question, str(ask["good"]), otherwise, bool(ask.get("ends", False)))


def _words(
    drum: Drum, side: str, known: Mapping[str, Any], numbers: Numbers, rounds: tuple[float, ...]
) -> dict[str, str]:
    """Quantities, worded for the texts."""
    air = drum.air
    soak = soak_minutes(air.temperature_c)
    days = dry_days(air.temperature_c, air.relative_humidity)
    size = head_size_in(drum)
    wood = (
        _(" With wood hoops the mark is critical: each hoop has shaped itself to its drum.")
        if known["wood"]
        else _(" Useful with a metal hoop, critical with a wood one.")
    )
    middle = PATCH_AT * drum.shell.head_diameter_m
    return {
        "head": _("{name}, {size:g} in").format(name=drum.setting(side).head.name, size=size),
        "size_in": f"{size:g} in",
        "hide_in": f"{hide_size_in(drum):g} in",
        "wood_mark": wood,
        "soak_minutes": f"{soak:.0f}",
        "soak_text": _("{soak:.0f} to {soak2:.0f} minutes").format(
            soak=0.875 * soak, soak2=1.125 * soak
        ),
        "dry_minutes": f"{1440.0 * days:.0f}",
        "dry_text": _("{days} to {days2} days at this humidity").format(
            days=_days(0.8 * days), days2=_days(1.2 * days)
        ),
        "seat_turn": "½" if len(rounds) < 4 else _("½ to 1"),
        "press": PRESS.get(drum.kind, _("your palm")),
        "plan_pitch": numbers.plan_pitch,
        "patch_text": _both(middle, 0.5),
        "day_after": _day_after(numbers.day_cents),
        "rods_out": "" if drum.kind == "bass" else _("; then remove the rods"),
        "port_place": _(PORT_PLACE).format(rod=drum.rod_word) if known["ported"] else "",
        "rope_more": _rope_more(numbers.rope_m),
        **_flesh_words(drum, side),
        "wires_off": _(", wires off") if known["wired"] else "",
        "rod": drum.rod_word,
        "a_rod": f"{'an' if drum.rod_word[0] in 'aeiou' else 'a'} {drum.rod_word}",
        "rods": NUMBERS.get(drum.shell.rods, str(drum.shell.rods)),
        "name": drum.name,
        "side_word": head_of(side),
        "first_head": FIRST_HEAD.get(drum.kind, _(FIRST_OF_OTHERS)),
        "paint": _(PAINT) if known["wood"] else "",
        "beds": _(BEDS) if drum.kind == "snare" and side == "resonant" else "",
        "gates": _(GATES) if drum.kind == "snare" and side == "resonant" else "",
        "bed_rods": bed_rods(drum) if known["beds"] else "",
    }


def _flesh_words(drum: Drum, side: str) -> dict[str, str]:
    """How large a flesh hoop must be for this shell, as measured if it was, and its wet hide."""
    shell = drum.shell
    outside = 2.0 * (shell.radius_m + shell.usual_edge.inset_m)
    around = 2.0 * (WET_HIDE * drum.setting(side).head.film_thickness_m + FLESH_PLAY_M)
    return {
        "shell_outside": _both(outside),
        "flesh_inside": _both(outside + around),
        "flesh_room": _both(around),
    }


def _both(length_m: float, finest_in: float = 1.0 / 16.0) -> str:
    """A length to a part of an inch and to a millimetre, for whoever has either rule."""
    finest_m = finest_in * METRE_PER_INCH
    return _("{inches} in ({mm:.0f} mm)").format(
        inches=format_inches(round(length_m / finest_m) * finest_m), mm=1000.0 * length_m
    )


def _rope_more(rope_m: float) -> str:
    """What is drawn out on each pass after the slack, in words; nothing where it is not known."""
    if rope_m <= 0.0:
        return ""
    first, second, third = (100.0 * share * rope_m for share in PASSES)
    return _(
        " After that, from hand-tight to this target, about {all:.0f} cm ({inches:.1f} in) comes "
        "out in all: {first:.0f}, {second:.0f} and {third:.0f} cm on three passes."
    ).format(
        all=100.0 * rope_m, inches=rope_m / METRE_PER_INCH, first=first, second=second, third=third
    )


WORTH_A_WORD = 4.0
"""Cents a day."""


def _day_after(cents: float) -> str:
    """What becomes of a new head overnight; nothing where that is little."""
    if cents > -WORTH_A_WORD:
        return ""
    return _(
        " A new head goes about {cents:.0f} cents flat in a day: leave it that much above the "
        "target, or bring it back tomorrow."
    ).format(cents=-cents)


def bed_rods(drum: Drum) -> str:
    """The rods beside the beds: "1, 2, 5 and 6"."""
    from kesselton.core.measure.plan import bed_pattern  # heavy; the window comes first

    pattern = bed_pattern(drum.shell.rods, drum.shell.beds_at)
    low = [str(i + 1) for i, share in enumerate(pattern) if share < 1.0]
    return f"{', '.join(low[:-1])} and {low[-1]}"


def _days(days: float) -> str:
    return f"{days:.0f}" if days >= 3 else f"{math.ceil(2.0 * days) / 2.0:g}"


def turn_text(turns: float) -> str:
    """A turn in eighths: "¼"."""
    eighths = max(1, round(turns * 8.0))
    whole, rest = divmod(eighths, 8)
    part = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")[rest]
    return f"{whole} {part}".strip() if whole else part
