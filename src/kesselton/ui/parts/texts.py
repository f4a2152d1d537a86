"""Sentences of the shared parts, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# fields
TO = "{format_length} to {format_length_2}"
IS_OUTSIDE_WHAT_DRUM_CAN = "{strip} is outside what a drum can be."
PERMITTED = "Permitted: {span}."
IS_OUTSIDE_WHAT_IS_POSSIBLE = "{strip} is outside what is possible."
IS_NOT_WHOLE_NUMBER = "{strip} is not a whole number."
IS_OUTSIDE_WHAT_DRUM_SOUNDS = "{strip} is outside what a drum sounds."
PERMITTED_TO_HZ = "Permitted: {low_hz:g} to {high_hz:g} Hz."
IS_NOT_NUMBER = "“{strip}” is not a number."
WRITE_IT_AS = "Write it as {low:g}."
PERMITTED_TO = "Permitted: {low:g} to {high:g} {unit}."

# fit_picture
DRAWING_OF_THIS_STEP = "Drawing of this step"
ROD = "rod {rod}"

# messages
TRY_AGAIN = "Try again"
DISMISS = "Dismiss"
SOMETHING_UNEXPECTED_HAPPENED = "Something unexpected happened: {name}: {error}."
COPY_REPORT = "Copy a report"
REPORT_COPIED = "Report copied"

# result_rows
LUG_PITCH = "lug pitch"
HIGHER = "{name}, {higher} higher"
FILM_STRESS = "film stress"
SHARE_OF_YIELD = "share of yield"
PULL_AT_EAR = "pull at an ear"
IN_ROPE = "in the rope"
BOTH_HEADS = "both heads {cents}"
WRITE_IT_AS_AIR = "Write it as 20 °C, 50 %."
WRITE_IT_AS_MASS = "Write it as 3.2 kg or 7 lb."
PLUS_MINUS = "{cents} ± {half:.0f}"
SIGN_NOT_KNOWN = "{low} to {high} cents"
ONE_HEAD = "{head} {cents}"
ABOVE_ITS_RANGE = "{name} above its range ({label}). {caution}"
MPA = "{s:.1f} MPa"
SET_AT_A_PRICE = "{name} is beyond “{label}”: {why}."

BELOW_ITS_RANGE_NO_CLEAR = "{name} below its range ({label}): no clear tone."

# beds_text
BEDS_NOT_UNDERSTOOD = "“{text}” is not understood as snare beds."
BEDS_WRITTEN_AS = "Write: rod 1.5, 1.5 mm deep, 70 mm wide; the other bed is opposite."
BEDS_LINE = "rod {rod}, {depth} deep, {width} wide"

# sound_bar
ONE_BEFORE_B = "The one before (B)"
SAVE_SOUND = "Save the sound …"
CLOSE = "Close"
HEARD = "Heard: {names}"
ASSUMED_WORDS = {
    "shell.material": "shell material",
    "shell.mass_kg": "mass",
    "shell.mount": "how held",
    "shell.edge": "edge",
    "shell.depth_m": "depth",
    "batter.head.plies_m": "batter plies",
    "resonant.head.plies_m": "resonant plies",
}

# said_bar
UNDO = "Undo"

# picture
COPY_AS_PICTURE = "Copy as a picture"
COPY_AS_TABLE = "Copy as a table"

# entry_text
NOTHING_TO_NOTE = "There is nothing to note."
SAY_READING = (
    "Write C4, 262 Hz, 3: 82 div, 1/2 turn, 0.8 Nm or 1.5 mm; “drum F3” for the whole drum."
)

# lengths_text
LENGTHS_MISSING = "{missing} of {many} are still to be measured."
MEASURE_THE_REST = "The next is number {place}; Escape brings back what was there before."
LENGTH_CANNOT_BE = "“{part}” is {value}, which cannot be."
LENGTHS_THAT_CAN_BE = "Permitted: {low} to {high}; for example {example} (mm)."
MORE_THAN_ONE_LENGTH = "There is more than one length."
GIVE_ONE_LENGTH = "Give one."

# log
ONE_ENTRY = "1 entry"
ENTRIES = "{count} entries"
WIRES_ANSWER = "wires answer"
WIRES_FROM = "from {share:.1f} % of a medium stroke: {verdict}"
WIRES_VERDICTS = {
    "loose": "loose, they rattle on",
    "right": "right for soft strokes",
    "dull": "dull, the heads do not move them",
    "choked": "choked, pulled too hard",
}
WIRES_LYING = "wires lying on"
WIRES_LYING_VALUE = "{lines} Hz; off {bare} Hz"
WIRES_THROWN_OFF = "thrown off; on, {value}"
WIRES_HANG = "they hang off the head"
WIRES_NOT = "not worked out: {why}"
IS_NOT_TAKEN_YET = "“{text}” is not kept yet."
GO_ON_HERE = "Go on writing"
THROW_AWAY = "Throw it away"
TAKEN_OF = "{count} of {all} taken."
LEVEL = "Level at the microphone"
