"""Sentences of the stage Set, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# the ladder
SET_LADDER = "Ladder of the set"
ROOT, THIRD, FIFTH = "root", "third", "fifth"
LOCKED_MARK = "(locked)"
BEAT = "beat {beats:.0f} a second"
WAKES = "{name} wakes the wires"
TABLE_CAPTIONS = ("drum", "note Hz", "batter Hz", "resonant Hz", "remark")
SAYS = {
    "": "",
    "above": "too high to speak",
    "below": "too low to speak",
    "nowhere": "speaks nowhere so",
    "shell": "on its shell note",
    "far": "far from shell note",
}
# head
SETS = "Sets"
NEW_SET = "New set …"
REMOVE_SET = "Remove set"
DRUMS_OF_SET = "Drums …"
NO_SET = (
    "A set is a few drums that are played together: they are planned as one chord, and it is seen "
    "which sets which talking. Make one of the drums in the rack."
)
NO_DRUMS = "There is no drum in this set. Choose some under “Drums …”."
WORKING = "Working out every drum of the set …"
HOLD_NOTE = "Hold the note (H)"
HOLD_TIP = "While a lug pitch is moved the drum keeps its note, or (off) follows."
FAILED = "Not worked out: {why}"
# wish
CHORD = "Chord"
SHORT_CHORDS = {
    "major": "major",
    "minor": "minor",
    "fourths": "in fourths",
    "fifths": "in fifths",
    "intervals": "by own intervals",
}
SCHOOL = "Between the heads"
LISTENER = "Who listens"
DENSITY = "Note density"
TOUCH = "Touch"
ROOT_NOTE = "Root, if given"
OWN_INTERVALS = "Cents over the lowest"
MUSIC_NOTES = "Notes of the music"
AVOID = "Keep away from"
AGREE = "Agree with"
NO_NUMBERS = "“{text}” is not a list of numbers."
WRITE_NUMBERS = "Write them as in 0 400 700."
WRITE_NOTES = "Write them as in C E♭ G."
NOT_NOTE = "“{text}” is not a note."
MORE_WISHES, FEWER_WISHES = "Change the wish", "Fold the wish"
WISH_SAID = "{chord}; {school}; for {listener}; {density} playing, {touch} touch."
# plans
PLANS = "Plans, best first"
PLAN_LINE = "{root} {chord}"
EVEN_LINE = "{root}, steps of {step:.0f} cents"
FITS = "fits"
STRETCHED = "{name} is stretched"
TOUCHED = "{count} to retune"
NOTHING_TO_DO = "nothing to do"
USE_PLAN = "Use these targets"
PLANNING = "Looking through chords, roots and intervals …"
HELPS_HEAD = "{head} on {drum} would speak there."
HELPS_HEAD_NEARER = "{head} on {drum} would come within {cents:.0f} cents."
NO_HEAD_HELPS = "No head of the library would bring {drum} nearer."
FEW = "Five minutes: what helps most"
FEW_STEP = "{number}  {name}: {what}"
FEW_NOTHING = "Nothing helps as much as it costs to touch a drum."
FEW_USE = "Use the first {count}"
FEW_USE_ONE = "Use the first"
NOTE_AND_INTERVAL = "{note}, {interval}"
SIDE_TURN = "{side} {turn}"
NO_TURN = "as it is"
ORDER = "Order of work: low drums first, the snare drum last."
# who sets whom talking
MATRIX = "Struck → answering"
MATRIX_WORDS = "{struck} struck: {answering} answers"
ANSWER_WORDS = "{level:.0f} dB, {time:.1f} s, led by {led:.0f} Hz"
WIRES_OVER = "; wires {over:.0f} dB over what lifts them, for {ms:.0f} ms, by {hz:.0f} Hz"
WIRES_UNDER = "; wires stay on, {under:.0f} dB under what lifts them"
WIRES_LOOSE = "; wires hang off: they rattle with everything"
WIRES_MARK = "wires"
CHOOSE_CELL = "Choose a pair in the table to see what helps."
CURES = "What helps, in order"
CURING = "Trying each way …"
CURE_WORDS = {
    "interval": "{name}: {interval}, note held",
    "note": "{name}: note {cents:.0f} cents {way}",
    "damp": "{name}: a piece of gel near the edge",
    "side": "{name}: snare side {cents:.0f} cents {way}",
    "strainer": "{name}: strainer to {pull:.0f} N",
    "off": "{name}: wires off in the rests",
}
HIGHER, LOWER = "higher", "lower"
HELPS = "{db:.0f} dB quieter"
HELPS_LITTLE = "helps little: {db:.0f} dB"
HELPS_ALL = "silent"
CANNOT = "cannot be: {why}"
USE_CURE = "Do this"
TONE_AGAINST = "Tone in the room against the wires"
TONE_WORDS = "{note} at {db:.0f} dB SPL: {words}"
TONE_UNDER = "wires stay on, {under:.0f} dB under"
TONE_OVER = "wires buzz, {over:.0f} dB over"
ROUGHEST = "Roughest together, as it is"
ROUGH_PAIR = "{number}  {one} and {other}: {rough:.2f}"
ROUGH_MIND = "A ranking, no verdict: between drums it varies little."
# from above
FROM_ABOVE = "The kit from above, drag"
PLAYER = "player"
METRE = "1 m"
# balance
AT_EAR = "How loud, where"
BALANCE_AT = "At"
BALANCE_SURE = "By distance and the nearer head only; rooms and directions are left out (± 3 dB)."
NOT_THERE = "not there"
NEAR_HEAD = "{db:.0f} dB, {share:.0f} % batter"
# sound
GROOVE = "Groove"
PLAY = "Listen (G)"
ONE_BY_ONE = "one by one"
PLAY_PLANNED = "As planned (Shift+G)"
MUTE = "Mute"
NONE_MUTED = "nobody"
# labels of undo steps
MOVED_NOTES = "move in the set"
USED_PLAN = "targets of the set"
USED_FEW = "a few changes of the set"
USED_CURE = "a cure of the set"
WISH_CHANGED = "wish of the set"
MOVED_SEAT = "place in the set"
PANELS = (("plan", "Plan"), ("talk", "Clashes"), ("hear", "Listen"))
SHEET = "Set sheet …"
# which drums
DRUMS_TITLE = "Drums of the set"
SET_NAME = "Name of the set"
DRUMS_CAPTIONS = ("in it", "drum", "stays as it is", "apart from the chord")
DRUMS_ABOUT = (
    "A drum may be in several sets. What stays as it is counts for the others but is not moved. "
    "A snare drum stands apart: its batter head stays by feel, its snare side may be moved."
)
DONE, CANCEL = "Done", "Cancel"
NAME_WRONG = "A set needs a name of up to 80 letters."
NAME_RIGHT = "Give it one."
SET_REMOVED = "The set {name} was removed; its drums stay."
TARGETS_SET = "{count} drums have their targets."
NO_WIRES = "no wires in this set"
# the sheet
SHEET_AS_IT_IS = "as it is"
SHEET_TARGETS = "Targets"
SHEET_CAPTIONS = ("drum", "size", "note", "batter, lug pitch", "resonant, lug pitch", "heads")
SHEET_NO_HEAD = "open below"
SHEET_ORDER = "Order of work"
SHEET_ORDER_CAPTIONS = ("", "drum", "each rod, from where it is now")
SHEET_CONFLICTS = "Who sets whom talking, as it is now"
SHEET_CONFLICT_CAPTIONS = ("struck", "answers", "how")
SHEET_MIND = "Turns are before anything is learned of a drum: trust the pitch, not the turn."
DRUMS_CHOSEN = "The choice of drums"
USE_PLAN_TIP = "Set every drum of the set as the chosen plan says"
FEW_USE_ONE_TIP = "Set the first of these drums"
USE_CURE_TIP = "Do what is chosen above"
PLAY_PLANNED_TIP = "The groove with the drums as planned"
DRUMS_OF_SET_TIP = "Which drums belong to the set, and which stay as they are"
NEW_SET_TIP = "A new set of drums"
REMOVE_SET_TIP = "This set goes, its drums stay; undo brings it back"
SHEET_TIP = "Targets and turns of the whole set on one page"
