"""Sentences of the stage Set, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# the ladder
SET_LADDER = "Pitch ladder of the set"
ROOT, THIRD, FIFTH = "root", "third", "fifth"
LOCKED_MARK = "(locked)"
BEAT = "{beats:.0f} beats/s"
WAKES = "{name} excites the wires"
TABLE_CAPTIONS = ("Drum", "Drum pitch, Hz", "Batter, Hz", "Resonant, Hz", "Remark")
SAYS = {
    "": "",
    "above": "too high to speak",
    "below": "too low to speak",
    "nowhere": "no sweet spot",
    "shell": "at its shell note",
    "far": "far from shell note",
}
# head
SETS = "Sets"
NEW_SET = "New set…"
REMOVE_SET = "Remove set"
DRUMS_OF_SET = "Drums…"
NO_SET = (
    "A set is a group of drums played together. Kesselton plans them as one chord and shows "
    "which drum makes which respond. Make one from your drums."
)
NO_DRUMS = "This set has no drums. Choose some under “Drums…”."
WORKING = "Computing every drum in the set…"
HOLD_NOTE = "Keep pitch (H)"
HOLD_TIP = "On: dragging a lug pitch keeps the drum pitch. Off: the drum pitch follows."
FAILED = "Not computed: {why}"
# wish
CHORD = "Chord"
SHORT_CHORDS = {
    "major": "major",
    "minor": "minor",
    "fourths": "in fourths",
    "fifths": "in fifths",
    "intervals": "by custom intervals",
}
SCHOOL = "Interval between heads"
LISTENER = "Listener"
DENSITY = "Note density"
TOUCH = "Touch"
ROOT_NOTE = "Root (optional)"
OWN_INTERVALS = "Cents above lowest"
MUSIC_NOTES = "Notes in the music"
AVOID = "Avoid notes"
AGREE = "Match notes"
NO_NUMBERS = "“{text}” is not a list of numbers."
WRITE_NUMBERS = "Enter them like 0 400 700."
WRITE_NOTES = "Enter them like C E♭ G."
NOT_NOTE = "“{text}” is not a note."
MORE_WISHES, FEWER_WISHES = "More requirements", "Show less"
WISH_SAID = "{chord}; {school}; for {listener}; {density} playing, {touch} touch."
# plans
PLANS = "Plans, best first"
PLAN_LINE = "{root} {chord}"
EVEN_LINE = "{root}, steps of {step:.0f} cents"
FITS = "fits"
STRETCHED = "{name} out of range"
TOUCHED = "{count} to retune"
NOTHING_TO_DO = "no changes"
USE_PLAN = "Use these targets"
PLANNING = "Searching chords, roots and intervals…"
HELPS_HEAD = "{drum} would speak there with {head}."
HELPS_HEAD_NEARER = "{drum} would come within {cents:.0f} cents with {head}."
NO_HEAD_HELPS = "No head in the library brings {drum} closer."
FEW = "Five minutes: best changes"
FEW_STEP = "{number}  {name}: {what}"
FEW_NOTHING = "No change is worth the time."
FEW_USE = "Use the first {count}"
FEW_USE_ONE = "Use the first"
NOTE_AND_INTERVAL = "{note}, {interval}"
SIDE_TURN = "{side} {turn}"
NO_TURN = "no change"
ORDER = "Work order: low drums first, snare drum last."
# who sets whom talking
MATRIX = "Struck → responding (dB)"
MATRIX_WORDS = "{struck} struck: {answering} responds"
ANSWER_WORDS = "{level:.0f} dB, {time:.1f} s, mainly at {led:.0f} Hz"
WIRES_OVER = "; wires {over:.0f} dB above lift-off, for {ms:.0f} ms, at {hz:.0f} Hz"
WIRES_UNDER = "; wires stay on, {under:.0f} dB below lift-off"
WIRES_LOOSE = "; wires hang clear: everything rattles them"
WIRES_MARK = "wires"
CHOOSE_CELL = "Click a pair in the table to see what helps."
CURES = "Remedies, best first"
CURING = "Computing remedies…"
CURE_WORDS = {
    "interval": "{name}: {interval}, drum pitch kept",
    "note": "{name}: drum pitch {cents:.0f} cents {way}",
    "damp": "{name}: gel near the edge",
    "side": "{name}: snare side {cents:.0f} cents {way}",
    "strainer": "{name}: strainer to {pull:.0f} N",
    "off": "{name}: strainer off during rests",
}
HIGHER, LOWER = "higher", "lower"
HELPS = "{db:.0f} dB quieter"
HELPS_LITTLE = "only {db:.0f} dB quieter"
HELPS_ALL = "silent"
CANNOT = "not possible: {why}"
USE_CURE = "Apply"
TONE_AGAINST = "Room tone and wires"
TONE_WORDS = "{note} at {db:.0f} dB SPL: {words}"
TONE_UNDER = "wires stay on, {under:.0f} dB below lift-off"
TONE_OVER = "wires buzz, {over:.0f} dB above lift-off"
ROUGHEST = "Roughest pairs now"
ROUGH_PAIR = "{number}  {one} and {other}: {rough:.2f}"
ROUGH_MIND = "A ranking only: differences between drums are small."
# from above
FROM_ABOVE = "Kit from above (drag drums)"
PLAYER = "player"
METRE = "1 m"
# balance
AT_EAR = "Level by listening position"
BALANCE_AT = "Position"
BALANCE_SURE = "From distance and the nearer head only; room and direction ignored (± 3 dB)."
NOT_THERE = "not applicable"
NEAR_HEAD = "{db:.0f} dB, {share:.0f} % batter"
# sound
GROOVE = "Groove"
PLAY = "Play (G)"
ONE_BY_ONE = "One by one"
PLAY_PLANNED = "Play plan (Shift+G)"
MUTE = "Mute"
NONE_MUTED = "none"
# labels of undo steps
MOVED_NOTES = "change in set"
USED_PLAN = "set targets"
USED_FEW = "set changes"
USED_CURE = "set remedy"
WISH_CHANGED = "set requirements"
MOVED_SEAT = "position in set"
PANELS = (("plan", "Plan"), ("talk", "Response"), ("hear", "Play"))
SHEET = "Set sheet…"
# which drums
DRUMS_TITLE = "Drums in the set"
SET_NAME = "Set name"
DRUMS_CAPTIONS = ("In set", "Drum", "Locked", "Not in chord")
DRUMS_ABOUT = (
    "A drum can be in several sets. Locked drums count but are not retuned. A snare drum stays "
    "out of the chord: its batter is set by feel; its snare side may move."
)
DONE, CANCEL = "Done", "Cancel"
NAME_WRONG = "A set needs a name of up to 80 characters."
NAME_RIGHT = "Enter one."
SET_REMOVED = "Set {name} removed; its drums stay."
TARGETS_SET = "Targets set for {count} drums."
NO_WIRES = "no wires in this set"
# the sheet
SHEET_AS_IT_IS = "Now"
SHEET_TARGETS = "Targets"
SHEET_CAPTIONS = ("Drum", "Size", "Drum pitch", "Batter, lug pitch", "Resonant, lug pitch", "Heads")
SHEET_NO_HEAD = "no resonant head"
SHEET_ORDER = "Work order"
SHEET_ORDER_CAPTIONS = ("", "Drum", "Each rod, from its present position")
SHEET_CONFLICTS = "Sympathetic response now"
SHEET_CONFLICT_CAPTIONS = ("Struck", "Responds", "How")
SHEET_MIND = "Turns are estimates until the drum has a log: trust the pitch, not the turn."
DRUMS_CHOSEN = "The choice of drums"
USE_PLAN_TIP = "Set every drum to the chosen plan"
FEW_USE_ONE_TIP = "Set the first of these drums"
USE_CURE_TIP = "Apply the remedy chosen above"
PLAY_PLANNED_TIP = "The groove with the drums as planned"
DRUMS_OF_SET_TIP = "Which drums belong to the set, and which stay as they are"
NEW_SET_TIP = "A new set of drums"
REMOVE_SET_TIP = "Remove this set; its drums stay. Undo restores it"
SHEET_TIP = "Targets and turns of the whole set on one page"
