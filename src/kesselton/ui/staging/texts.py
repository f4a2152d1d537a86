"""Sentences of the stage Stage, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# the night
NIGHT = "Repair on stage"
WHICH_DRUM, WHICH_HEAD, WHAT_HAPPENED = "Which drum?", "Which head?", "What happened?"
HOW_LONG, WHICH_WAY = "Minutes to the curtain?", "Which way?"
CHOOSE_KEYS = "Its number, or ↑ ↓ and Space.  Backspace goes back, Escape leaves."
MINUTES_KEYS = "↑ ↓ by one, or type them; Space takes them."
WAYS_WAIT = "Working out what each way takes and how it will sound …"
STEPS_WAIT = "Making the steps …"
ADVICE_WAIT = "Working out what gains most …"
ABOUT = "{drum}, {side}: {cause}"
ABOUT_WAY = "{drum}, {side}: {way}"
LEFT_OF = "left of {minutes}"
NEEDS = "left of {minutes}; the steps need {needed}"
NEEDS_ASSUMED = "{needs} (times assumed)"
TOO_LONG = "{needs}: too long by {over}"
CURTAIN = "the curtain is up"
THEN = "then"
SKIPPED = "skipped, for after the show: {names}"
DONE_BUTTON, BACK_BUTTON, SKIP_BUTTON, LEAVE_BUTTON = (
    "Done (Space)",
    "Back (⌫)",
    "Skip (S)",
    "Give up",
)
WAIT_BUTTON = "…"
TAKE_BUTTON = "Take it (Space)"
READ_BUTTON, ENTER_BUTTON, TURNED_BUTTON = "Read (Space)", "Enter (Space)", "Turned (Space)"
GO_ON_BUTTON, CLOSE_BUTTON = "Go on (Space)", "Close (Space)"
YES_BUTTON, NO_BUTTON = "Yes (Y)", "No (N)"
ANSWER = "Answer with Y or N."
MAY_SKIP = "To save time skip: {names}"
WAY_TIME = "{time}, {low} to {high}; {chance} in time"
WAY_NO = "not: {why}"
WAY_SOUND = "{note}, rings {ring:.1f} s: {sounds}"
WAY_STOCK = "{count} in store"
WAY_HEADING = {"head": "change the head", "drum": "change the drum", "nurse": "nurse it"}
READ_ROD = "Rod {rod}: {how}"
BY_DIAL, BY_PITCH = "dial", "tap, its pitch"
TURN_ROD = "Rod {rod}: {turn}"
ENOUGH = "Leave it so"
NOW = "If the curtain rose now: within {cents} cents; worst rod {rod}, {away}"
NOW_UNREAD = "Not read yet: rods lie about {cents} cents apart as a rule"
THEN_CENTS = "with all that is planned: about {cents} cents"
SHARP, FLAT = "{cents} sharp", "{cents} flat"
SOURCES = {
    "dial": "dial, typed",
    "pitch": "pitch in Hz, typed",
    "both": "dial or pitch, typed",
    "bench": "the simulated head, a band playing",
    "microphone": "microphone: tap with the key",
}
SOURCE = "read by: {source} (R changes it)"
TYPED = "{text}▏"
WAITING_FOR_TAP = "listening: tap rod {rod}"
READING = "reading …"
TYPE_READING = "Type what it reads, then Space. R changes how rods are read."
OVER = {"done": "Done in {time}", "broken off": "Given up after {time}"}
AFTER_TITLE = "For after the show:"
NOTHING_LEFT = "Nothing is left for after the show."
NO_DRUMS = "There is no drum in the workshop: nothing can be repaired."
SEATING_KEYS = "H: three half turns each, or ½ to 1 turn"
LEAVE_AGAIN = "Press Escape again to give the repair up; what is not done comes up after the show."

# by day
SHOWS = "Shows"
NEW_SHOW, REMOVE_SHOW = "New show …", "Remove show"
NIGHT_BUTTON = "Repair now (Insert)"
NO_SHOW = (
    "A show is a list of what must lie ready: spare heads, keys, tape, and what each head must "
    "read. Make one for tonight."
)
PANELS = (("before", "Before the show"), ("house", "House drums"), ("after", "After the show"))
READY = "{there} of {all} lie ready"
MISSING = "{count} spare heads are not in store"
STOCK, WANTED, NONE_IN_STORE = "{stock} in store", ", {needed} wanted", "none in store"
TO_BUY = "Put what is missing on the buy list"
ADD_THING = "Add a thing, Enter"
DATE, MINUTES = "Date", "Minutes for a repair"
TARGETS = "What each head must read: turns from finger tight, dial at every rod"
TARGET_CAPTIONS = ("drum", "head", "lug pitch", "turns", "dial")
TARGETS_WAIT = "Working out what each head must read …"
NO_DIAL = "–"
RENAME = "Name"
CAUTION = (
    "Electrical and rigging work on stage is for qualified people; local rules come first. Nothing "
    "is done under a moving set. Keep away from lamps and dimmers, keep ways clear for people, and "
    "protect your hearing beside a band."
)
PACE_ASSUMED = "Times are assumed; after a repair they are this workshop’s own."
PACE_LEARNED = "From {count} repairs: {factor:.2g} times the assumed times."
# after
NO_WORK = "No work is left from repairs on stage."
WORK_OF = "{drum}, {when}"
SKIPS = "Work left from repairs: tick what is done"
PAST = "Repairs"
PAST_LINE = "{when}  {drum}, {side}: {way}, {time} of {minutes}"
# house drums
HOUSE_TEXT = (
    "Drums nobody knows: give each its kind and size, strike each once in the middle. The few "
    "changes that help most come in their order."
)
KIND_AND_SIZE = "Kind and size"
ADD_STRANGER, REMOVE_STRANGER, STRIKE = "Add", "Remove", "Strike (T)"
STRIKE_NEXT = "Strike: {name}"
ALL_HEARD = "All are heard: {seconds} s"
HEARD = "{note}, {hz:.0f} Hz ± {cents:.0f} cents"
NOT_HEARD = "not struck yet"
STRIKE_BY = "Heard by"
STRIKE_SOURCES = (
    ("bench", "simulated drums"),
    ("microphone", "microphone"),
    ("file", "recording …"),
)
HOUSE_WAIT = "Working out what helps most …"
CHANGE_LINE = "{number}. {name}: {note}"
NOTHING_HELPS = "No single change helps by as much as it costs."
KEEP_THEM = "Add them to the rack as a set"
NEW_SHOW_TIP = "A show with its own list and targets"
REMOVE_SHOW_TIP = "This show goes; undo brings it back"
NIGHT_BUTTON_TIP = "The dark screen: what broke, and the quickest way"
TO_BUY_TIP = "What the list lacks goes on the buy list"
ADD_STRANGER_TIP = "A drum that nobody here knows"
STRIKE_TIP = "Hear one stroke on this drum"
KEEP_THEM_TIP = "The house drums become drums and a set of this workshop"
