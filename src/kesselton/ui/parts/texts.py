"""Sentences of the shared parts, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# fields
TO = "{format_length} to {format_length_2}"
IS_OUTSIDE_WHAT_DRUM_CAN = "{strip} is outside the range for drums."
PERMITTED = "Use {span}."
IS_OUTSIDE_WHAT_IS_POSSIBLE = "{strip} is out of range."
IS_NOT_WHOLE_NUMBER = "{strip} is not a whole number."
IS_OUTSIDE_WHAT_DRUM_SOUNDS = "{strip} is outside the pitch range of drums."
PERMITTED_TO_HZ = "Use {low_hz:g} to {high_hz:g} Hz."
IS_NOT_NUMBER = "“{strip}” is not a number."
WRITE_IT_AS = "Enter it as {low:g}."
PERMITTED_TO = "Use {low:g} to {high:g} {unit}."

# fit_picture
DRAWING_OF_THIS_STEP = "Drawing for this step"
ROD = "rod {rod}"

# messages
TRY_AGAIN = "Try again"
DISMISS = "Dismiss"
SOMETHING_UNEXPECTED_HAPPENED = "Unexpected error: {name}: {error}."
COPY_REPORT = "Copy report"
REPORT_COPIED = "Report copied"

# result_rows
LUG_PITCH = "Lug pitch"
HIGHER = "{name}, {higher} higher"
FILM_STRESS = "Film stress"
SHARE_OF_YIELD = "Share of yield"
BELOW_SCALE = "below scale"
PULL_AT_EAR = "Pull per ear"
IN_ROPE = "Rope tension"
BOTH_HEADS = "both heads {cents}"
WRITE_IT_AS_AIR = "Enter it as 20 °C, 50 %."
WRITE_IT_AS_MASS = "Enter it as 3.2 kg or 7 lb."
PLUS_MINUS = "{cents} ± {half:.0f}"
SIGN_NOT_KNOWN = "either way, {low} to {high} cents"
EITHER_WAY = "may go either way: {heads}"
EITHER_WAY_HEAD = "{head} {low} to {high} cents"
ONE_HEAD = "{head} {cents}"
ABOVE_ITS_RANGE = "{name} above its usable range ({label}). {caution}"
MPA = "{s:.1f} MPa"
SET_AT_A_PRICE = "{name} past “{label}”: {why}."

BELOW_ITS_RANGE_NO_CLEAR = "{name} below its usable range ({label}): no clear tone."

# beds_text
BEDS_NOT_UNDERSTOOD = "“{text}” does not describe snare beds."
BEDS_WRITTEN_AS = "Enter: rod 1.5, 1.5 mm deep, 70 mm wide; second bed opposite."
BEDS_LINE = "rod {rod}, {depth} deep, {width} wide"

# sound_bar
ONE_BEFORE_B = "Previous (B)"
SAVE_SOUND = "Save sound…"
CLOSE = "Close"
HEARD = "Played: {names}"
ASSUMED_WORDS = {
    "shell.material": "shell material",
    "shell.mass_kg": "mass",
    "shell.mount": "support",
    "shell.edge": "edge",
    "shell.depth_m": "depth",
    "batter.head.plies_m": "batter plies",
    "resonant.head.plies_m": "resonant plies",
}

# said_bar
UNDO = "Undo"

# picture
COPY_AS_PICTURE = "Copy picture"
COPY_AS_TABLE = "Copy table"

# entry_text
NOTHING_TO_NOTE = "Nothing was entered."
SAY_READING = (
    "Enter C4, 262 Hz, 3: 82 div, 1/2 turn, 0.8 Nm or 1.5 mm; “drum F3” for the drum pitch."
)

# lengths_text
LENGTHS_MISSING = "{missing} of {many} still to measure."
MEASURE_THE_REST = "Next: number {place}. Escape restores the previous values."
LENGTH_CANNOT_BE = "“{part}” is {value}: not possible."
LENGTHS_THAT_CAN_BE = "Use {low} to {high}; for example {example} (mm)."
MORE_THAN_ONE_LENGTH = "More than one length is entered."
GIVE_ONE_LENGTH = "Enter one."

# log
ONE_ENTRY = "1 entry"
ENTRIES = "{count} entries"
WIRES_ANSWER = "Wire response"
WIRES_FROM = "from {share:.1f} % of a medium stroke: {verdict}"
WIRES_VERDICTS = {
    "loose": "loose, they keep rattling",
    "right": "good for soft strokes",
    "dull": "dull, heads barely move them",
    "choked": "choked, strainer too tight",
}
WIRES_LYING = "With wires on"
WIRES_LYING_VALUE = "{lines} Hz; off: {bare} Hz"
WIRES_THROWN_OFF = "off; on: {value}"
WIRES_HANG = "they hang clear of the head"
WIRES_NOT = "not computed: {why}"
IS_NOT_TAKEN_YET = "“{text}” is not kept yet."
GO_ON_HERE = "Go on writing"
THROW_AWAY = "Throw it away"
TAKEN_OF = "{count} of {all} taken."
LEVEL = "Level at the microphone"
