"""Sentences of the stage Stage, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# the night
NIGHT = "Stage repair"
WHICH_DRUM, WHICH_HEAD, WHAT_HAPPENED = "Which drum?", "Which head?", "What happened?"
HOW_LONG, WHICH_WAY = "Minutes to curtain?", "Which repair?"
CHOOSE_KEYS = "Type its number, or ↑ ↓ and Space.  Backspace: back. Escape: leave."
MINUTES_KEYS = "↑ ↓ change by one, or type; Space accepts."
WAYS_WAIT = "Computing time and sound of each repair…"
STEPS_WAIT = "Preparing the steps…"
ADVICE_WAIT = "Computing the best next move…"
ABOUT = "{drum}, {side}: {cause}"
ABOUT_WAY = "{drum}, {side}: {way}"
LEFT_OF = "left of {minutes}"
NEEDS = "left of {minutes}; steps need {needed}"
NEEDS_ASSUMED = "{needs} (estimated)"
TOO_LONG = "{needs}: {over} too long"
CURTAIN = "curtain up"
THEN = "next"
SKIPPED = "skipped until after the show: {names}"
DONE_BUTTON, BACK_BUTTON, SKIP_BUTTON, LEAVE_BUTTON = (
    "Done (Space)",
    "Back (⌫)",
    "Skip (S)",
    "Abandon",
)
WAIT_BUTTON = "…"
TAKE_BUTTON = "Choose (Space)"
READ_BUTTON, ENTER_BUTTON, TURNED_BUTTON = "Read (Space)", "Enter (Space)", "Turned (Space)"
GO_ON_BUTTON, CLOSE_BUTTON = "Continue (Space)", "Close (Space)"
YES_BUTTON, NO_BUTTON = "Yes (Y)", "No (N)"
ANSWER = "Answer with Y or N."
MAY_SKIP = "To save time, skip: {names}"
WAY_TIME = "{time} ({low} to {high}); {chance} likely in time"
WAY_NO = "not possible: {why}"
WAY_SOUND = "{note}, decay {ring:.1f} s: {sounds}"
WAY_STOCK = "{count} in stock"
WAY_HEADING = {"head": "Change head", "drum": "Swap drum", "nurse": "Stopgap"}
READ_ROD = "Rod {rod}: {how}"
BY_DIAL, BY_PITCH = "gauge", "tap, pitch"
TURN_ROD = "Rod {rod}: {turn}"
ENOUGH = "Good enough"
NOW = "If the curtain rose now: within {cents} cents; worst rod {rod}, {away}"
NOW_UNREAD = "Not read yet: rods are usually about {cents} cents apart"
THEN_CENTS = "after the planned turns: about {cents} cents"
SHARP, FLAT = "{cents} sharp", "{cents} flat"
SOURCES = {
    "dial": "gauge, entered",
    "pitch": "pitch in Hz, entered",
    "both": "gauge or pitch, entered",
    "bench": "simulated head, band playing",
    "microphone": "microphone: tap with the key",
}
SOURCE = "read by: {source} (R to change)"
TYPED = "{text}▏"
WAITING_FOR_TAP = "Listening: tap rod {rod}"
READING = "Reading…"
TYPE_READING = "Type the reading, then Space. R changes the reading method."
OVER = {"done": "Done in {time}", "broken off": "Abandoned after {time}"}
AFTER_TITLE = "After the show:"
NOTHING_LEFT = "No work left for after the show."
NO_DRUMS = "The workshop has no drums to repair."
SEATING_KEYS = "H switches: three half turns each, or ½ to 1 turn"
LEAVE_AGAIN = "Press Escape again to abandon the repair; open work is listed after the show."

# by day
SHOWS = "Shows"
NEW_SHOW, REMOVE_SHOW = "New show…", "Remove show"
NIGHT_BUTTON = "Repair now (Insert)"
NO_SHOW = (
    "A show lists what must be ready: spare heads, keys, tape, and the target readings of each "
    "head. Make one for tonight."
)
PANELS = (("before", "Before the show"), ("house", "House drums"), ("after", "After the show"))
READY = "{there} of {all} ready"
MISSING = "{count} spare heads not in stock"
STOCK, WANTED, NONE_IN_STORE = "{stock} in stock", ", {needed} needed", "none in stock"
TO_BUY = "Add missing heads to buy list"
ADD_THING = "Add item, Enter"
DATE, MINUTES = "Date", "Repair minutes"
TARGETS = "Targets per head: turns from finger-tight, gauge at every rod"
TARGET_CAPTIONS = ("Drum", "Head", "Lug pitch", "Turns", "Gauge")
TARGETS_WAIT = "Computing targets…"
NO_DIAL = "–"
RENAME = "Name"
CAUTION = (
    "Electrical and rigging work on stage is for qualified people; local rules come first. "
    "Never work under moving scenery. Stay away from lamps and dimmers, keep walkways clear, "
    "and protect your hearing near a band."
)
PACE_ASSUMED = "Times are estimates until this workshop has logged a repair."
PACE_LEARNED = "From {count} repairs: {factor:.2g} × the estimated times."
# after
NO_WORK = "No work left from stage repairs."
WORK_OF = "{drum}, {when}"
SKIPS = "Work left from repairs: check off what is done"
PAST = "Repairs"
PAST_LINE = "{when}  {drum}, {side}: {way}, {time} of {minutes}"
# house drums
HOUSE_TEXT = (
    "For unfamiliar drums: enter kind and size of each and strike each once in the center. The "
    "most useful changes are listed, best first."
)
KIND_AND_SIZE = "Kind and size"
ADD_STRANGER, REMOVE_STRANGER, STRIKE = "Add", "Remove", "Strike (T)"
STRIKE_NEXT = "Strike: {name}"
ALL_HEARD = "All analyzed in {seconds} s"
HEARD = "{note}, {hz:.0f} Hz ± {cents:.0f} cents"
NOT_HEARD = "not struck yet"
STRIKE_BY = "Source"
STRIKE_SOURCES = (
    ("bench", "simulated drums"),
    ("microphone", "microphone"),
    ("file", "recording…"),
)
HOUSE_WAIT = "Computing the best changes…"
CHANGE_LINE = "{number}. {name}: {note}"
NOTHING_HELPS = "No single change is worth the time."
KEEP_THEM = "Add as drums and a set"
NEW_SHOW_TIP = "A show with its own list and targets"
REMOVE_SHOW_TIP = "Remove this show; Undo restores it"
NIGHT_BUTTON_TIP = "The dark screen: what broke, and the quickest way"
TO_BUY_TIP = "Add what is missing to the buy list"
ADD_STRANGER_TIP = "A house drum"
STRIKE_TIP = "Analyze one stroke on this drum"
KEEP_THEM_TIP = "The house drums become drums and a set of this workshop"
