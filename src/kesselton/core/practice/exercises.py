"""What is practised, in order of difficulty, and how each question is made from solved drums.

Every question comes of its seed and its level: the same again is the same question. What is asked
is decided by chance, what is right by the solved drum.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.clear.simulated import SimulatedHead
from kesselton.core.constants import METRE_PER_INCH
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import N_, Worded, _, both, choices, worded
from kesselton.core.measure.plan import at_interval, hold_fundamental
from kesselton.core.pitch import cents_between, note_of, ratio_of
from kesselton.core.practice import drums as d
from kesselton.core.practice.question import Lines, Question, Seen
from kesselton.core.practice.threshold import Scale
from kesselton.core.prediction.prediction import Prediction
from kesselton.core.prediction.render import Sound, match_all, matched, strike_samples
from kesselton.core.prediction.tone import tone
from kesselton.core.prediction.wires import wires_response

FIRST, SECOND = "first", "second"
HIGHER, LOWER, SAME, OTHER = "higher", "lower", "same", "other"
TWO = ((FIRST, N_("the first")), (SECOND, N_("the second")))
UP_DOWN = ((HIGHER, N_("higher")), (LOWER, N_("lower")))
A4 = 440.0
TRIES = 6
"""A drawn drum that cannot be set so is drawn again, so often."""
INTERVALS = ((100.0, N_("half step")), (300.0, N_("minor third")), (400.0, N_("major third")),
             (500.0, N_("fourth")), (700.0, N_("fifth")))  # fmt: skip
TONE_S = 1.2
AIDS = {"damped": Muffler("hand", "batter", 0.0), "muted": Muffler("pillow", "resonant", 0.3)}
"""What lies on the drum as a help."""
HELPS = Worded(
    {
        "damped": N_("center damped"),
        "muted": N_("other head muted"),
        "tone": N_("reference tone first"),
        "lines": N_("show the spectrum"),
    }
)


@worded("title", "listen", "unit")
@dataclass(frozen=True)
class Exercise:
    """One exercise.

    Attributes
    ----------
    key, group : name that stays; which of the ten of the trade's order, from 1
    title, listen : what it is, and what to listen or look for
    unit : of its levels; "" where it has none: then the share of right answers counts
    scale : of its levels, None where every question is as hard as another
    helps : keys of HELPS that can be had
    """

    key: str
    group: int
    title: str
    listen: str
    make: Callable[[Ask], Question]
    unit: str = ""
    scale: Scale | None = None
    helps: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Ask:
    """What a question is made for."""

    exercise: str
    seed: int
    level: float
    helps: frozenset[str]
    rng: np.random.Generator

    def question(
        self,
        asks: str,
        answers: tuple[tuple[str, str], ...],
        right: str,
        truth: str,
        sounds: tuple[Sound, ...] = (),
        lines: tuple[Lines, ...] = (),
        seen: Seen | None = None,
    ) -> Question:
        """The question, its sounds equally loud."""
        level = tuple(match_all(list(sounds))) if len(sounds) > 1 else sounds
        return Question(
            self.exercise, self.seed, self.level, asks, answers, right, truth, level,
            lines, seen,
        )  # fmt: skip

    @property
    def coin(self) -> bool:
        """Either, by chance."""
        return bool(self.rng.random() < 0.5)


# 1 to 3: taps


def _higher(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    rod = int(ask.rng.integers(1, head.rim.rods + 1))
    one, seen = d.tap_sound(head, rod, ask.rng), d.tap_seen("first", head, rod)
    before = float(head.pitches()[rod - 1])
    up = ask.coin
    d.shifted(head, ask.level if up else -ask.level)
    two = d.tap_sound(head, rod, ask.rng)
    cents = cents_between(before, float(head.pitches()[rod - 1]))
    return ask.question(
        _("Two taps. Is the second higher or lower?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("The second is {cents:.0f} cents higher.")
            if cents > 0
            else _("The second is {cents:.0f} cents lower.")
        ).format(cents=abs(cents)),
        (one, two),
        (seen, d.tap_seen("second", head, rod)),
    )


def _same(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    one, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen("first", head, 1)
    before, differs = float(head.pitches()[0]), ask.coin
    if differs:
        d.shifted(head, ask.level if ask.coin else -ask.level)
    two = d.tap_sound(head, 1, ask.rng)
    cents = abs(cents_between(before, float(head.pitches()[0])))
    return ask.question(
        _("Two taps. Same pitch or not?"), ((SAME, _("the same")), (OTHER, _("not the same"))),
        OTHER if differs else SAME, _("They are {cents:.0f} cents apart.").format(cents=cents),
        (one, two), (seen, d.tap_seen("second", head, 1)),
    )  # fmt: skip


def _rod_of(ask: Ask, rods: tuple[int, ...], head: SimulatedHead, asks: str) -> Question:
    at = int(ask.rng.integers(len(rods)))
    off = d.with_rod_off(head, rods[at], ask.level if ask.coin else -ask.level)
    sounds = tuple(d.tap_sound(head, rod, ask.rng) for rod in rods)
    lines = tuple(d.tap_seen(_("rod {rod}").format(rod=rod), head, rod) for rod in rods)
    answers = tuple((str(rod), _("rod {rod}").format(rod=rod)) for rod in rods)
    said = (
        _("Rod {rods} is {off:.0f} cents above the rest.")
        if off > 0
        else _("Rod {rods} is {off:.0f} cents under the rest.")
    ).format(rods=rods[at], off=abs(off))
    return ask.question(asks, answers, str(rods[at]), said, sounds, lines)


def _third(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    rods = (1, 1 + head.rim.rods // 3, 1 + 2 * head.rim.rods // 3)
    return _rod_of(ask, rods, head, _("Three rods. Which one is off?"))


def _guilty(ask: Ask) -> Question:
    head = d.even_head(ask.rng)
    rods = tuple(range(1, head.rim.rods + 1))
    return _rod_of(ask, rods, head, _("All rods. Which one is off?"))


def _follow(ask: Ask) -> Question:
    """The lug tone moves, the drum’s note stays: only the high one is followed."""
    drum = d.some_drum(ask.rng)
    found = d.struck(drum, 0.86)
    up = ask.coin
    setting = drum.batter.reading
    assert setting is not None
    wanted = setting.hz * ratio_of(ask.level if up else -ask.level)
    moved = d.struck(hold_fundamental(drum, "batter", wanted, found.fundamental_hz), 0.86)
    mute = tuple(lying for key, lying in AIDS.items() if key in ask.helps)
    if mute:
        found, moved = (d.struck(replace(x.drum, mufflers=mute), 0.86) for x in (found, moved))
    cents = cents_between(found.lug_pitches_hz[0], moved.lug_pitches_hz[0])
    low = abs(cents_between(found.fundamental_hz, moved.fundamental_hz))
    return ask.question(
        _("The low note stays. Did the high lug tone go up or down?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("The lug tone went {cents:.0f} cents up; the low note moved by {low:.0f}.")
            if cents > 0
            else _("The lug tone went {cents:.0f} cents down; the low note moved by {low:.0f}.")
        ).format(cents=abs(cents), low=low),
        (d.stroke_sound(found), d.stroke_sound(moved)),
        (d.stroke_seen("first", found), d.stroke_seen("second", moved)),
    )


def _muted(ask: Ask) -> Question:
    """The other head muted or ringing, in a room."""
    drum = d.some_drum(ask.rng)
    quiet = replace(drum, mufflers=(Muffler("pillow", "resonant", 0.3),))
    muted_first = ask.coin
    pair = [d.struck(x, 0.86) for x in ((quiet, drum) if muted_first else (drum, quiet))]
    sounds = tuple(_in_room(d.stroke_sound(x), ask) for x in pair)
    return ask.question(
        _("Taps near the edge. In which is the other head muted?"),
        choices(TWO),
        FIRST if muted_first else SECOND,
        (
            _("Decay muted {fundamental_t60_s:.2f} s, free {fundamental_t60_s2:.2f} s.").format(
                fundamental_t60_s=pair[0 if muted_first else 1].fundamental_t60_s,
                fundamental_t60_s2=pair[1 if muted_first else 0].fundamental_t60_s,
            )
        ),
        sounds,
        (d.stroke_seen("first", pair[0]), d.stroke_seen("second", pair[1])),
    )


def _in_room(sound: Sound, ask: Ask) -> Sound:
    """With noise so many decibels under the first fifth of a second."""
    early = sound.samples[: int(0.2 * sound.rate_hz)]
    level = float(np.sqrt(np.mean(early**2))) * 10.0 ** (-ask.level / 20.0)
    noise = ask.rng.standard_normal(len(sound.samples))
    smooth = np.convolve(noise, np.ones(8) / math.sqrt(8.0), "same")
    loud = sound.samples + level * smooth
    return Sound(loud * min(1.0, 0.89 / float(np.abs(loud).max())), sound.rate_hz, False)


# 4, 5: notes and intervals


def _tone(ask: Ask) -> Question:
    found = d.struck(d.some_drum(ask.rng))
    up = ask.coin
    cents = ask.level if up else -ask.level
    reference = found.fundamental_hz * ratio_of(-cents)
    return ask.question(
        _("A tone, then a drum. Is the drum higher or lower than the tone?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _(
                "The tone is {reference:.0f} Hz, the drum {fundamental_hz:.0f} "
                "Hz: {cents:.0f} cents higher."
            )
            if up
            else _(
                "The tone is {reference:.0f} Hz, the drum {fundamental_hz:.0f} "
                "Hz: {cents:.0f} cents lower."
            )
        ).format(reference=reference, fundamental_hz=found.fundamental_hz, cents=abs(cents)),
        (tone(reference, TONE_S), d.stroke_sound(found)),
        (d.tone_seen("tone", reference), d.stroke_seen("drum", found)),
    )


def _name(ask: Ask) -> Question:
    """Which of four notes; the drum is set to one of them exactly."""
    step = max(100.0, 100.0 * round(ask.level / 100.0))
    drum = d.some_drum(ask.rng)
    near = note_of(d.struck(drum).fundamental_hz, A4)
    hz = d.struck(drum).fundamental_hz * ratio_of(-near.cents)
    found = d.struck(at_interval(drum, _interval(drum), hz))
    place = int(ask.rng.integers(4))
    names = [note_of(hz * ratio_of(step * (n - place)), A4).name(False) for n in range(4)]
    sounds: tuple[Sound, ...] = (d.stroke_sound(found),)
    if "tone" in ask.helps:
        sounds = (tone(A4 / 2.0, TONE_S), *sounds)
    return ask.question(
        _("Which note is the drum?"),
        tuple((name, name) for name in names),
        names[place],
        _("It is {names}, {hz:.1f} Hz.").format(names=names[place], hz=hz),
        sounds,
        (d.stroke_seen("drum", found),),
    )


def _heads(ask: Ask) -> Question:
    """The interval between the lug pitches of the two heads."""
    at = int(ask.rng.integers(len(INTERVALS)))
    cents, name = INTERVALS[at]
    head = d.even_head(ask.rng)
    low, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen("batter", head, 1)
    before = float(head.pitches()[0])
    d.shifted(head, cents)
    made = cents_between(before, float(head.pitches()[0]))
    return ask.question(
        _("Batter head, then resonant head. Which interval?"),
        tuple((one, _(one)) for _unused, one in INTERVALS),
        name,
        _("A {name}: {made:.0f} cents.").format(name=name, made=made),
        (low, d.tap_sound(head, 1, ask.rng)),
        (seen, d.tap_seen("resonant", head, 1)),
    )


def _chord(ask: Ask) -> Question:
    """Root, third and fifth of a set, low to high."""
    major = ask.coin
    drum = d.some_drum(ask.rng)
    root = d.struck(drum).fundamental_hz
    found = [
        d.struck(at_interval(drum, _interval(drum), root * ratio_of(cents - 350.0)))
        for cents in (0.0, 400.0 if major else 300.0, 700.0)
    ]
    hz = ", ".join(f"{x.fundamental_hz:.0f}" for x in found)
    return ask.question(
        _("Root, third, fifth. Major or minor?"), (("major", "major"), ("minor", "minor")),
        "major" if major else "minor", f"{'Major' if major else 'Minor'}: {hz} Hz.",
        tuple(d.stroke_sound(x) for x in found),
        tuple(
            d.stroke_seen(name, x)
            for name, x in zip(("root", "third", "fifth"), found, strict=True)
        ),
    )  # fmt: skip


# 6, 7: clear or not, pressing


def _clear(ask: Ask) -> Question:
    """One head clear, the other with a rod off: it wobbles."""
    head = d.even_head(ask.rng)
    rod = int(ask.rng.integers(1, head.rim.rods + 1))
    clean, seen = d.tap_sound(head, rod, ask.rng), d.tap_seen("clear", head, rod)
    off = abs(d.with_rod_off(head, 1 + rod % head.rim.rods, ask.level))
    split = d.tap_sound(head, rod, ask.rng)
    first = ask.coin
    other = d.tap_seen(_("not clear"), head, rod)
    return ask.question(
        _("Which of these heads is clear?"), choices(TWO), FIRST if first else SECOND,
        _("On the other, one rod is {off:.0f} cents off.").format(off=off),
        (clean, split) if first else (split, clean), (seen, other) if first else (other, seen),
    )  # fmt: skip


def _pressed(ask: Ask) -> Question:
    """Before and after the head was pressed: has it dropped?"""
    head = d.even_head(ask.rng)
    one, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen("before", head, 1)
    before, dropped = float(head.pitches()[0]), ask.coin
    if dropped:
        d.shifted(head, -ask.level)
    cents = cents_between(before, float(head.pitches()[0]))
    return ask.question(
        _("Before and after pressing. Did the pitch drop?"),
        (("yes", _("it dropped")), ("no", _("it stayed"))),
        "yes" if dropped else "no",
        _("It dropped by {cents:.0f} cents.").format(cents=abs(cents))
        if dropped
        else _("It stayed."),
        (one, d.tap_sound(head, 1, ask.rng)),
        (seen, d.tap_seen("after", head, 1)),
    )


def _first_tone(ask: Ask) -> Question:
    """Finger tight there is no tone; the first real one comes a little later."""
    head = d.even_head(ask.rng)
    start = head.turns.copy()
    head.turns = FIRST_TONE * start
    toned, seen = d.tap_sound(head, 1, ask.rng), d.tap_seen("toned", head, 1)
    hz = float(head.pitches()[0])
    slack = _slack(toned, ask)
    first = ask.coin
    order = (toned, slack) if first else (slack, toned)
    return ask.question(
        _("One head is only finger-tight. Which one has a tone?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("The tone is {hz:.0f} Hz; the other head is finger-tight.").format(hz=hz),
        order,
        (seen,),
    )


FIRST_TONE = 0.3
"""Of the turns of a head at pitch, where a first tone is heard; assumed."""


def _slack(toned: Sound, ask: Ask) -> Sound:
    """A slack head: the knock and a flap, nothing that rings. The higher the level the less of the
    tone of the other lies in it."""
    count = len(toned.samples)
    time = np.arange(count) / toned.rate_hz
    knock = ask.rng.standard_normal(count) * np.exp(-time / 0.012)
    knock *= float(np.abs(toned.samples).max()) / max(float(np.abs(knock).max()), 1e-12)
    share = 10.0 ** (-ask.level / 20.0)
    dead = toned.samples * np.exp(-time / 0.03)
    made = (1.0 - share) * knock + share * dead
    return Sound(made, toned.rate_hz, False)


# 8: blind, at equal note and loudness


def _contrast(
    ask: Ask, one: Drum, two: Drum, asks: str, what: str, places: tuple[float, float] = (0.25, 0.25)
) -> Question:
    """Which of two is `one`; both at one note where the second can be brought there."""
    pair = [d.struck(one, places[0]), d.struck(two, places[1])]
    first = ask.coin
    order = pair if first else pair[::-1]
    notes = both(
        [
            _("{fundamental_hz:.0f} Hz, decay {fundamental_t60_s:.1f} s").format(
                fundamental_hz=x.fundamental_hz, fundamental_t60_s=x.fundamental_t60_s
            )
            for x in order
        ]
    )
    return ask.question(
        asks,
        choices(TWO),
        FIRST if first else SECOND,
        (
            _("{what} is the first: {notes}.") if first else _("{what} is the second: {notes}.")
        ).format(what=what, notes=notes),
        tuple(d.stroke_sound(x, x.stroke) for x in order),
        (d.stroke_seen("first", order[0]), d.stroke_seen("second", order[1])),
    )


def _schools(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    note = d.struck(drum).fundamental_hz
    unison, fourth = at_interval(drum, 0.0, note), at_interval(drum, 500.0, note)
    asks = _("Same drum pitch: heads in unison or a fourth apart. Which is the unison?")
    return _contrast(ask, unison, fourth, asks, _("The unison"))


def _plies(ask: Ask) -> Question:
    single = Head("single 10 mil", plies_m=(254e-6,))
    double = Head("two-ply 7 + 7 mil", plies_m=(177.8e-6, 177.8e-6))
    drum = d.with_batter(d.some_drum(ask.rng), single)
    return _held(
        ask, drum, d.with_batter(drum, double), _("Which is the two-ply head?"), _("The two-ply")
    )


def _coat(ask: Ask) -> Question:
    plain = Head("single 10 mil, clear", plies_m=(254e-6,))
    coated = Head("single 10 mil, coated", plies_m=(254e-6,), coating_kg_per_m2=0.05)
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    return _held(
        ask, drum, d.with_batter(drum, coated), _("Which is the coated head?"), _("The coated")
    )


def _dot(ask: Ask) -> Question:
    plain = Head("single 10 mil", plies_m=(254e-6,))
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    dot = Addition("dot", 0.0, 0.3 * drum.shell.radius_m, 254e-6)
    dotted = Head("single 10 mil, center dot", plies_m=(254e-6,), additions=(dot,))
    return _held(
        ask, drum, d.with_batter(drum, dotted), _("Which has the center dot?"), _("The dot")
    )


def _ringed(ask: Ask) -> Question:
    plain = Head("single 10 mil", plies_m=(254e-6,))
    drum = d.with_batter(d.some_drum(ask.rng), plain)
    r = drum.shell.radius_m
    ring = Addition("ring", 0.86 * r, 0.985 * r, 254e-6)
    ringed = Head("single 10 mil, ring", plies_m=(254e-6,), additions=(ring,))
    return _held(
        ask, drum, d.with_batter(drum, ringed), _("Which has the damping ring?"), _("The ring")
    )


def _muffled(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    muffled = replace(drum, mufflers=(Muffler("tape", "batter", 0.8),))
    return _contrast(
        ask, muffled, drum, _("Which is muffled by a flap of tape?"), _("The muffled one")
    )


def _held(ask: Ask, drum: Drum, other: Drum, asks: str, what: str) -> Question:
    """The other is brought to the note of the first."""
    note = d.struck(drum).fundamental_hz
    return _contrast(ask, at_interval(other, _interval(other), note), drum, asks, what)


# 9: places, beaters


def _place(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    near = float(ask.rng.uniform(0.05, max(0.06, 0.9 - 0.01 * ask.level)))
    far = min(near + 0.01 * ask.level, 0.95)
    first = ask.coin
    places = (far, near) if first else (near, far)
    found = [d.struck(drum, place) for place in places]
    return ask.question(
        _("One drum, two strike points. Which is closer to the rim?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("At {places:.0f} and {places2:.0f} % of the radius.").format(
            places=100.0 * places[0], places2=100.0 * places[1]
        ),
        tuple(d.stroke_sound(x, x.stroke) for x in found),
        (d.stroke_seen("first", found[0]), d.stroke_seen("second", found[1])),
    )


def _beater(ask: Ask) -> Question:
    drum = d.some_drum(ask.rng)
    hard, soft = ("nylon_tip", "wood_tip")[int(ask.coin)], ("rods", "mallet")[int(ask.coin)]
    first = ask.coin
    found = [d.struck(drum, 0.3, beater) for beater in ((hard, soft) if first else (soft, hard))]
    return ask.question(
        _("One drum, two beaters. Which is harder?"),
        choices(TWO),
        FIRST if first else SECOND,
        _("{label}, then {label2}.").format(
            label=found[0].stroke.made.label, label2=found[1].stroke.made.label
        ),
        tuple(d.stroke_sound(x, x.stroke) for x in found),
        (d.stroke_seen("first", found[0]), d.stroke_seen("second", found[1])),
    )


PULLS = (
    ("slack", N_("slack: keep rattling")),
    ("right", N_("right")),
    ("choked", N_("choked: too tight")),
)
PULL_SHARES = {"slack": 0.12, "right": 1.0, "choked": 9.0}
"""Pull of the strainer over the usual one; assumed."""


def _wires(ask: Ask) -> Question:
    """A snare drum with its strainer at one of three places."""
    from kesselton.core.instrument.wires import Wires

    wanted = list(PULL_SHARES)[int(ask.rng.integers(3))]
    usual = Wires().laid(0.3556, None)
    cents = 120.0 * float(np.clip(ask.rng.standard_normal(), -1.5, 1.5))
    drum = d.some_snare(cents, Wires(pull_n=usual.pull_n * PULL_SHARES[wanted]))
    found = d.struck(drum, 0.3)
    at = wires_response(found)
    touch = math.nan if at is None else at.from_touch
    sound = Sound(strike_samples(found, found.stroke, True, d.RATE_HZ), d.RATE_HZ, True)
    level = Sound(matched(sound.samples, d.RATE_HZ), d.RATE_HZ, True)
    return ask.question(
        _("A snare drum. How are the wires set?"),
        choices(PULLS),
        wanted,
        (
            _(
                "Strainer pull {pull_shares:.0f} N; wires respond from "
                "{touch:.2g} of a medium stroke. The rattle is approximate."
            ).format(pull_shares=usual.pull_n * PULL_SHARES[wanted], touch=touch)
        ),
        (level,),
        (d.stroke_seen("heads", found),),
    )


GROOVE_S = (0.0, 0.25, 0.5, 0.625, 0.75, 1.0, 1.25, 1.5, 1.625, 1.75)
TOM_AT = (0.5, 0.75, 1.5, 1.75)


def _groove(ask: Ask) -> Question:
    """The same groove twice: in which does the tom lie higher?"""
    tom, other = d.some_drum(ask.rng), d.some_drum(ask.rng)
    up = ask.coin
    cents = ask.level if up else -ask.level
    note = d.struck(tom).fundamental_hz
    moved = d.struck(at_interval(tom, _interval(tom), note * ratio_of(cents)))
    accompanied = d.struck(set_far(other, note))
    first, second = (_played(d.struck(tom), accompanied), _played(moved, accompanied))
    return ask.question(
        _("The same groove twice. Is the tom higher or lower the second time?"),
        choices(UP_DOWN),
        HIGHER if up else LOWER,
        (
            _("{cents:.0f} cents higher: {note:.0f} and {fundamental_hz:.0f} Hz.")
            if up
            else _("{cents:.0f} cents lower: {note:.0f} and {fundamental_hz:.0f} Hz.")
        ).format(cents=abs(cents), note=note, fundamental_hz=moved.fundamental_hz),
        (first, second),
        (d.stroke_seen("first", d.struck(tom)), d.stroke_seen("second", moved)),
    )


def set_far(drum: Drum, note_hz: float) -> Drum:
    """Another drum of the groove, out of the way: a fifth under a note."""
    return at_interval(drum, _interval(drum), note_hz * ratio_of(-700.0))


def _played(tom: Prediction, other: Prediction) -> Sound:
    """Two drums in a bar."""
    high, low = (d.stroke_sound(one, one.stroke).samples for one in (tom, other))
    out = np.zeros(int((GROOVE_S[-1] + 0.9) * d.RATE_HZ))
    for at in GROOVE_S:
        one = high if at in TOM_AT else 0.6 * low
        start = int(at * d.RATE_HZ)
        count = min(len(one), len(out) - start)
        out[start : start + count] += one[:count] * np.minimum(
            1.0, np.arange(count)[::-1] / (0.02 * d.RATE_HZ)
        )
    return Sound(matched(out, d.RATE_HZ), d.RATE_HZ, False)


# 10: by eye

SIDES = (("top", "rod 1"), ("right", "right"), ("bottom", "opposite rod 1"), ("left", "left"))


def _eye(kind: str, asks: str, words: str, biggest_m: float) -> Callable[[Ask], Question]:
    """A picture of a fault of so many millimetres at one of four places."""

    def make(ask: Ask) -> Question:
        drum = d.some_drum(ask.rng)
        at = int(ask.rng.integers(4))
        size = min(1e-3 * ask.level, biggest_m)
        shell = drum.shell
        seen = Seen(
            kind, shell.head_diameter_m, shell.depth_m, shell.rods, 0.5 * math.pi * at, size
        )
        return ask.question(
            asks, SIDES, SIDES[at][0], words.format(where=SIDES[at][1], mm=1e3 * size), seen=seen
        )

    return make


def _hide(ask: Ask) -> Question:
    """A hide with a corner turned over: which side is rough?"""
    flap = ask.coin
    where = 0.0 if flap else math.pi
    seen = Seen("hide", 0.4572, 0.0, 0, where, 0.01 * ask.level)
    return ask.question(
        _("A hide, one corner folded over. Which side is rough (the underside)?"),
        (("flat", _("the upper side")), ("flap", _("the folded corner"))),
        "flap" if flap else "flat",
        (_("The corner is rough.") if flap else _("The side that lies up is rough.")),
        seen=seen,
    )


def _collar(ask: Ask) -> Question:
    """A collar of half an inch, or not."""
    drum = d.some_drum(ask.rng)
    half = 0.5 * METRE_PER_INCH
    right = ask.coin
    size = half if right else half + 1e-3 * ask.level * (1.0 if ask.coin else -1.0)
    shell = drum.shell
    seen = Seen(
        "collar", shell.head_diameter_m, shell.depth_m, shell.rods, math.nan, max(size, 1e-3)
    )
    return ask.question(
        _("Is this collar half an inch tall?"),
        (("yes", "yes"), ("no", "no")),
        "yes" if right else "no",
        _("It is {size:.1f} mm; half an inch is 12.7 mm.").format(size=1000.0 * size),
        seen=seen,
    )


def _interval(drum: Drum) -> float:
    one, other = drum.batter.reading, drum.setting("resonant").reading
    assert one is not None
    assert other is not None
    return cents_between(one.hz, other.hz)


CENTS = Scale(1.0, 100.0, 20.0)
EXERCISES: dict[str, Exercise] = {
    one.key: one
    for one in (
        Exercise(
            "same",
            1,
            N_("Same or not"),
            N_("Two taps. Listen to the tone after the knock."),
            _same,
            N_("cents"),
            CENTS,
            ("lines",),
        ),
        Exercise(
            "higher",
            1,
            N_("Higher or lower"),
            N_("Two taps. Sing the first, then the second."),
            _higher,
            N_("cents"),
            CENTS,
            ("lines",),
        ),
        Exercise(
            "third",
            1,
            N_("Which of three"),
            N_("Three rods; two match."),
            _third,
            N_("cents"),
            replace(CENTS, guess=1.0 / 3.0),
            ("lines",),
        ),
        Exercise(
            "follow",
            2,
            N_("Follow the high tone"),
            N_("The drum’s low note stays; the rod’s tone above it moves."),
            _follow,
            N_("cents"),
            Scale(4.0, 250.0, 60.0),
            ("damped", "muted", "lines"),
        ),
        Exercise(
            "muted",
            3,
            N_("Other head muted"),
            N_(
                "With the other head muted the tone is plain and short. Room noise makes it harder."
            ),
            _muted,
            N_("dB above room noise"),
            Scale(0.5, 40.0, 8.0),
        ),
        Exercise(
            "tone",
            4,
            N_("Against a tone"),
            N_("Hum the tone, then decide whether the drum is above it."),
            _tone,
            N_("cents"),
            Scale(2.0, 300.0, 50.0),
            ("lines",),
        ),
        Exercise(
            "name",
            4,
            N_("Name the note"),
            N_("Count up or down from a tone you know."),
            _name,
            N_("cents between answers"),
            Scale(100.0, 400.0, 200.0, 0.25),
            ("tone",),
        ),
        Exercise(
            "heads",
            5,
            N_("Interval between the heads"),
            N_("Half step: rough. Thirds: sweet. Fourth and fifth: open."),
            _heads,
        ),
        Exercise(
            "chord",
            5,
            N_("Major or minor"),
            N_("The middle drum decides."),
            _chord,
        ),
        Exercise(
            "clear",
            6,
            N_("Clear or not"),
            N_("A clear head decays as one tone; the other wavers."),
            _clear,
            N_("cents"),
            Scale(2.0, 200.0, 40.0),
            ("lines",),
        ),
        Exercise(
            "guilty",
            6,
            N_("Find the rod that is off"),
            N_("All rods, once round."),
            _guilty,
            N_("cents"),
            Scale(1.0, 150.0, 20.0, 1.0 / 7.0),
            ("lines",),
        ),
        Exercise(
            "pressed",
            7,
            N_("Drop after pressing"),
            N_("Pressing lowers a new head; a settled one stays."),
            _pressed,
            N_("cents"),
            CENTS,
        ),
        Exercise(
            "first_tone",
            7,
            N_("First tone"),
            N_("A finger-tight head only knocks; tighten it further and it has a tone."),
            _first_tone,
            N_("dB less tone when slack"),
            Scale(0.5, 30.0, 8.0),
        ),
        Exercise(
            "schools",
            8,
            N_("Unison or fourth"),
            N_("Unison decays longest; a fourth speaks faster and rounder."),
            _schools,
        ),
        Exercise("plies", 8, N_("One ply or two"), N_("Two plies: shorter, more attack."), _plies),
        Exercise("coat", 8, N_("Clear or coated"), N_("Coated: warmer, softer attack."), _coat),
        Exercise("dot", 8, N_("Center dot"), N_("A dot is drier; the edge stays open."), _dot),
        Exercise("ringed", 8, N_("Damping ring"), N_("A ring damps the edge overtones."), _ringed),
        Exercise("muffled", 8, N_("Tape"), N_("A tape flap damps the high tones first."), _muffled),
        Exercise(
            "place",
            9,
            N_("Strike point"),
            N_("Near the rim: thinner, more high tones."),
            _place,
            N_("% of the radius"),
            Scale(3.0, 85.0, 30.0),
        ),
        Exercise(
            "beater", 9, N_("Which beater"), N_("Harder: more high tones in the attack."), _beater
        ),
        Exercise(
            "wires",
            9,
            N_("Wires: slack, right, choked"),
            N_("Slack wires rattle after the note; choked ones barely respond."),
            _wires,
        ),
        Exercise(
            "groove",
            9,
            N_("In a groove"),
            N_("Follow only the tom."),
            _groove,
            N_("cents"),
            Scale(3.0, 300.0, 60.0),
        ),
        Exercise(
            "hoop",
            10,
            N_("Is the hoop level"),
            N_("Compare the hoop with the shell’s edge on both sides, and the gap at the rods."),
            _eye("hoop", "Where is this hoop low?", "Low at {where}, by {mm:.1f} mm.", 0.02),
            N_("mm"),
            Scale(0.4, 15.0, 3.0, 0.25),
        ),
        Exercise(
            "head",
            10,
            N_("Is the head centered"),
            N_("From above: is the gap between head rim and hoop even all round?"),
            _eye(
                "head", "Which way is the head off center?", "Toward {where}, {mm:.1f} mm.", 0.012
            ),
            N_("mm"),
            Scale(0.4, 10.0, 3.0, 0.25),
        ),
        Exercise(
            "wrinkles",
            10,
            N_("Wrinkles"),
            N_("Light from the side shows them first."),
            _eye("wrinkles", "Where are the wrinkles?", "At {where}, {mm:.1f} mm deep.", 0.006),
            N_("mm"),
            Scale(0.1, 5.0, 1.0, 0.25),
        ),
        Exercise(
            "rope",
            10,
            N_("Find the slack rope"),
            N_("A tight run is straight; a slack one sags, and its ear leans."),
            _eye("rope", "Where is the rope slack?", "At {where}, sag {mm:.1f} mm.", 0.03),
            N_("mm"),
            Scale(0.8, 25.0, 6.0, 0.25),
        ),
        Exercise(
            "hide",
            10,
            N_("Rough side of a hide"),
            N_("The rough side has grain; it goes underneath."),
            _hide,
            N_("% of grain"),
            Scale(2.0, 60.0, 15.0),
        ),
        Exercise(
            "collar",
            10,
            N_("Half-inch collar"),
            N_("Compare with a rod washer: about half an inch."),
            _collar,
            N_("mm"),
            Scale(0.4, 9.0, 3.0),
        ),
    )
}
"""In the order of the trade (common practice, no published source)."""
GROUPS = Worded(
    {
        1: N_("Same or not, higher or lower"),
        2: N_("High tone over low"),
        3: N_("Muting"),
        4: N_("Tone, voice, drum"),
        5: N_("Intervals"),
        6: N_("Clear or not"),
        7: N_("Pressing"),
        8: N_("Blind, equal pitch and level"),
        9: N_("Strike points and beaters"),
        10: N_("By eye"),
    }
)


def make_question(
    exercise: str, seed: int, level: float | None = None, helps: frozenset[str] = frozenset()
) -> Question:
    """A question of an exercise.

    Parameters
    ----------
    seed : the same question again with the same seed and level
    level : how hard, in the exercise’s unit; None where it has none, or as for a beginner

    Raises
    ------
    InputError
        If there is no such exercise or the level is outside its scale.
    """
    if exercise not in EXERCISES:
        raise InputError(
            _("{exercise!r} is not an exercise.").format(exercise=exercise),
            (_("Options: {exercises}.").format(exercises=", ".join(EXERCISES))),
        )
    one = EXERCISES[exercise]
    asked = 1.0
    if one.scale is not None:
        asked = one.scale.start if level is None else level
        if not 0.999 * one.scale.hardest <= asked <= 1.001 * one.scale.easiest:
            raise InputError(
                _("A level of {asked:g} {unit} is outside this exercise.").format(
                    asked=asked, unit=one.unit
                ),
                _("Use {hardest:g} to {easiest:g}.").format(
                    hardest=one.scale.hardest, easiest=one.scale.easiest
                ),
            )
    fault: Exception | None = None
    for again in range(TRIES):
        rng = np.random.default_rng([seed, again, *exercise.encode()])
        try:
            return one.make(Ask(exercise, seed, asked, helps, rng))
        except (InputError, ConvergenceError) as error:
            fault = error  # this drum cannot be set so: another one
    assert fault is not None
    raise fault
