"""What is practised, in order of difficulty.

Every question comes from its seed and its level: the same again is the same question. What is asked
is decided by chance, what is right by the solved drum.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.language import N_, Worded, _, worded
from kesselton.core.practice import blind, eye, notes, strokes, taps
from kesselton.core.practice.asking import Ask
from kesselton.core.practice.question import Question
from kesselton.core.practice.threshold import Scale

TRIES = 6
"""A drawn drum that cannot be set so is drawn again, so often."""


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


CENTS = Scale(1.0, 100.0, 20.0)


EXERCISES: dict[str, Exercise] = {
    exercise.key: exercise
    for exercise in (
        Exercise(
            "same",
            1,
            N_("Same or not"),
            N_("Two rods. Listen to the tone after the knock."),
            taps.same_or_not,
            N_("cents"),
            CENTS,
            ("lines",),
        ),
        Exercise(
            "higher",
            1,
            N_("Higher or lower"),
            N_("Two rods. Sing the first, then the second."),
            taps.higher_or_lower,
            N_("cents"),
            CENTS,
            ("lines",),
        ),
        Exercise(
            "third",
            1,
            N_("Which of three"),
            N_("Three rods; two match."),
            taps.one_of_three,
            N_("cents"),
            replace(CENTS, guess=1.0 / 3.0),
            ("lines",),
        ),
        Exercise(
            "follow",
            2,
            N_("Follow the high tone"),
            N_("The drum’s low note stays; the rod’s tone above it moves."),
            notes.follow_high_tone,
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
            notes.other_head_muted,
            N_("dB above room noise"),
            Scale(0.5, 40.0, 8.0),
        ),
        Exercise(
            "tone",
            4,
            N_("Against a tone"),
            N_("Hum the tone, then decide whether the drum is above it."),
            notes.against_tone,
            N_("cents"),
            Scale(2.0, 300.0, 50.0),
            ("lines",),
        ),
        Exercise(
            "name",
            4,
            N_("Name the note"),
            N_("Count up or down from a tone you know."),
            notes.name_note,
            N_("cents between answers"),
            Scale(100.0, 400.0, 200.0, 0.25),
            ("tone",),
        ),
        Exercise(
            "heads",
            5,
            N_("Interval between the heads"),
            N_("Half step: rough. Thirds: sweet. Fourth and fifth: open."),
            notes.interval_of_heads,
        ),
        Exercise(
            "chord",
            5,
            N_("Major or minor"),
            N_("The middle drum decides."),
            notes.major_or_minor,
        ),
        Exercise(
            "clear",
            6,
            N_("Clear or not"),
            N_("A clear head decays as one tone; the other wavers."),
            taps.clear_or_not,
            N_("cents"),
            Scale(2.0, 200.0, 40.0),
            ("lines",),
        ),
        Exercise(
            "guilty",
            6,
            N_("Find the rod that is off"),
            N_("All rods, once round."),
            taps.one_of_all,
            N_("cents"),
            Scale(1.0, 150.0, 20.0, 1.0 / 7.0),
            ("lines",),
        ),
        Exercise(
            "pressed",
            7,
            N_("Drop after pressing"),
            N_("Pressing lowers a new head; a settled one stays."),
            taps.dropped_or_not,
            N_("cents"),
            CENTS,
        ),
        Exercise(
            "first_tone",
            7,
            N_("First tone"),
            N_("A finger-tight head only knocks; tighten it further and it has a tone."),
            taps.first_tone,
            N_("dB less tone when slack"),
            Scale(0.5, 30.0, 8.0),
        ),
        Exercise(
            "schools",
            8,
            N_("Unison or fourth"),
            N_("Unison decays longest; a fourth speaks faster and rounder."),
            blind.unison_or_fourth,
        ),
        Exercise(
            "plies",
            8,
            N_("One ply or two"),
            N_("Two plies: shorter, more attack."),
            blind.one_ply_or_two,
        ),
        Exercise(
            "coat",
            8,
            N_("Clear or coated"),
            N_("Coated: warmer, softer attack."),
            blind.clear_or_coated,
        ),
        Exercise(
            "dot", 8, N_("Center dot"), N_("A dot is drier; the edge stays open."), blind.center_dot
        ),
        Exercise(
            "ringed",
            8,
            N_("Damping ring"),
            N_("A ring damps the edge overtones."),
            blind.damping_ring,
        ),
        Exercise(
            "muffled", 8, N_("Tape"), N_("A tape flap damps the high tones first."), blind.tape
        ),
        Exercise(
            "place",
            9,
            N_("Strike point"),
            N_("Near the rim: thinner, more high tones."),
            strokes.strike_point,
            N_("% of the radius"),
            Scale(3.0, 85.0, 30.0),
        ),
        Exercise(
            "beater",
            9,
            N_("Which beater"),
            N_("Harder: more high tones in the attack."),
            strokes.which_beater,
        ),
        Exercise(
            "wires",
            9,
            N_("Wires: slack, right, choked"),
            N_("Slack wires rattle after the note; choked ones barely respond."),
            strokes.strainer,
        ),
        Exercise(
            "groove",
            9,
            N_("In a groove"),
            N_("Follow only the tom."),
            strokes.tom_in_groove,
            N_("cents"),
            Scale(3.0, 300.0, 60.0),
        ),
        Exercise(
            "hoop",
            10,
            N_("Is the hoop level"),
            N_("Compare the hoop with the shell’s edge on both sides, and the gap at the rods."),
            eye.fault_at(
                "hoop", N_("Where is this hoop low?"), N_("Low at {where}, by {mm:.1f} mm."), 0.02
            ),
            N_("mm"),
            Scale(0.4, 15.0, 3.0, 0.25),
        ),
        Exercise(
            "head",
            10,
            N_("Is the head centered"),
            N_("From above: is the gap between head rim and hoop even all round?"),
            eye.fault_at(
                "head",
                N_("Which way is the head off center?"),
                N_("Toward {where}, {mm:.1f} mm."),
                0.012,
            ),
            N_("mm"),
            Scale(0.4, 10.0, 3.0, 0.25),
        ),
        Exercise(
            "wrinkles",
            10,
            N_("Wrinkles"),
            N_("Light from the side shows them first."),
            eye.fault_at(
                "wrinkles",
                N_("Where are the wrinkles?"),
                N_("At {where}, {mm:.1f} mm deep."),
                0.006,
            ),
            N_("mm"),
            Scale(0.1, 5.0, 1.0, 0.25),
        ),
        Exercise(
            "rope",
            10,
            N_("Find the slack rope"),
            N_("A tight run is straight; a slack one sags, and its ear leans."),
            eye.fault_at(
                "rope", N_("Where is the rope slack?"), N_("At {where}, sag {mm:.1f} mm."), 0.03
            ),
            N_("mm"),
            Scale(0.8, 25.0, 6.0, 0.25),
        ),
        Exercise(
            "hide",
            10,
            N_("Rough side of a hide"),
            N_("The rough side has grain; it goes underneath."),
            eye.rough_side,
            N_("% of grain"),
            Scale(2.0, 60.0, 15.0),
        ),
        Exercise(
            "collar",
            10,
            N_("Half-inch collar"),
            N_("Compare with a rod washer: about half an inch."),
            eye.half_inch_collar,
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
    kind = EXERCISES[exercise]
    asked = 1.0
    if kind.scale is not None:
        asked = kind.scale.start if level is None else level
        if not 0.999 * kind.scale.hardest <= asked <= 1.001 * kind.scale.easiest:
            raise InputError(
                _("A level of {asked:g} {unit} is outside this exercise.").format(
                    asked=asked, unit=kind.unit
                ),
                _("Use {hardest:g} to {easiest:g}.").format(
                    hardest=kind.scale.hardest, easiest=kind.scale.easiest
                ),
            )
    fault: Exception | None = None
    for again in range(TRIES):
        rng = np.random.default_rng([seed, again, *exercise.encode()])
        try:
            return kind.make(Ask(exercise, seed, asked, helps, rng))
        except (InputError, ConvergenceError) as error:
            fault = error  # this drum cannot be set so: another one
    assert fault is not None
    raise fault
