"""Sentences about a head being cleared, whole and with named gaps: the one place to translate."""

from __future__ import annotations

TIGHT = "Tension here is {cents:.0f} cents tight: {here} cents here, {beside} at its neighbors."
SLACK = "Tension here is {cents:.0f} cents slack: {here} cents here, {beside} at its neighbors."
TIGHT_FOR_OTHERS = (
    "Tension here is {cents:.0f} cents tight; this turn evens the others: {here} cents here, "
    "{beside} at its neighbors."
)
SLACK_FOR_OTHERS = (
    "Tension here is {cents:.0f} cents slack; this turn evens the others: {here} cents here, "
    "{beside} at its neighbors."
)
AS_WANTED = (
    "Tension here is as wanted; this turn evens the others: {here} cents here, {beside} at its "
    "neighbors."
)
ALL_SEEN = "These readings show the tension at every rod."
DIAL_READ_EVERYWHERE = (
    "The dial was read at every {place}, but only to this precision: tension may differ by about "
    "{hidden:.0f} cents from {place} to {place}. Read it once more all round: readings at one "
    "{place} are taken together."
)
BY_PITCH_ALONE = (
    "Not seen yet: a tap sounds opposite {place}s together, such as {first} and {second}, so pitch "
    "alone does not say how they share their tension. It may be quite even. One dial reading, at "
    "{place} {rod}, tells most of it."
)
NOT_EVERYTHING = (
    "Not everything is seen yet: the readings leave open how some {place}s share their tension. "
    "One dial reading, at {place} {rod}, tells most of it; one at every {place} the rest."
)
CANNOT_BE_EXPLAINED = (
    "{place} {rod} cannot be explained by tension: look for a bent hoop, a dent in the edge or a "
    "badly seated head there before turning on."
)
FRICTION_OF_RODS = (
    "The head went only {share:.0f} % of the way: limited by friction. Clean and lubricate the "
    "threads, turn past the mark and back."
)
FRICTION_OF_ROPE = (
    "The head went only {share:.0f} % of the way: limited by friction. Tap the hoop all round and "
    "work the slack along the rope."
)
NEARLY_SLACK = "{place} {rods} is nearly slack: bring all {places} up a little first."

NOT_ONE_HEAD = (
    "These readings cannot be of one head: beside rod {rod} it would have to be slack, or tight "
    "many times over."
)
READ_BY_ONE_MEANS = (
    "Read that rod again; leave out what another gauge said, or calibrate the dial first."
)
HIGHER, LOWER = "higher", "lower"
HEARD_OFF = "Heard {way} here than at the other {place}s."
ASK_AGAIN = (
    "{Place} {rod} is {way}, {place} {across} opposite is not: read {place} {again} once more."
)
