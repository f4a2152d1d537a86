"""Sentences about a head being cleared, whole and with named gaps: the one place to translate."""

from __future__ import annotations

TIGHT = "{cents:.0f} cents too tight; turn gives {here} cents here, {beside} at the neighbors."
SLACK = "{cents:.0f} cents too slack; turn gives {here} cents here, {beside} at the neighbors."
TIGHT_FOR_OTHERS = (
    "{cents:.0f} cents too tight, but this turn evens the others: {here} cents here, {beside} "
    "at the neighbors."
)
SLACK_FOR_OTHERS = (
    "{cents:.0f} cents too slack, but this turn evens the others: {here} cents here, {beside} "
    "at the neighbors."
)
AS_WANTED = (
    "Tension on target; this turn evens the others: {here} cents here, {beside} at the neighbors."
)
ALL_SEEN = "These readings show the tension at every rod."
DIAL_READ_EVERYWHERE = (
    "The gauge was read at every {place}, but not finely enough: tension may still differ by "
    "about {hidden:.0f} cents from {place} to {place}. Read once more all round; readings at "
    "the same {place} are averaged."
)
BY_PITCH_ALONE = (
    "Not known yet: a tap sounds opposite {place}s together, such as {first} and {second}, so "
    "pitch alone cannot show how they share the tension. They may well be even. One gauge "
    "reading at {place} {rod} answers most of it."
)
NOT_EVERYTHING = (
    "Not known yet: how some {place}s share the tension. One gauge reading at {place} {rod} "
    "answers most of it; one at every {place} answers the rest."
)
CANNOT_BE_EXPLAINED = (
    "Tension cannot explain {place} {rod}: check for a bent hoop, a dented edge or a badly "
    "seated head before you go on."
)
FRICTION_OF_RODS = (
    "The head moved only {share:.0f} % of the way: the rods bind. Clean and lubricate the "
    "threads, turn past the mark and back."
)
FRICTION_OF_ROPE = (
    "The head moved only {share:.0f} % of the way: the rope binds. Tap the hoop all round and "
    "work the slack along."
)
NEARLY_SLACK = "{place} {rods} is nearly slack: bring all {places} up a little first."

NOT_ONE_HEAD = (
    "These readings cannot come from one head: tension at rod {rod} would have to be zero or "
    "many times too high."
)
READ_BY_ONE_MEANS = (
    "Read that rod again. If you mixed gauges, remove one gauge’s readings or calibrate it first."
)
HIGHER, LOWER = "higher", "lower"
HEARD_OFF = "Heard {way} here than at the other {place}s."
ASK_AGAIN = (
    "{Place} {rod} is {way}, {place} {across} opposite is not: read {place} {again} once more."
)
