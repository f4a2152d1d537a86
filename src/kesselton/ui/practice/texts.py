"""Sentences of the stage Practice, whole and with named gaps: the one place to translate."""

from __future__ import annotations

PRACTICE = "Practice"
WHO = "Who practises"
REMOVE_WHO, EXPORT_WHO = "Remove", "Export …"
ADD_NAME = "New name, Enter"
NOBODY = (
    "Ears get better by few minutes a day. Add who practises: what one does is shown to nobody "
    "else."
)
NEXT_UP = "Next: {title} ({why})"
EXERCISES = "Exercises, in order of difficulty"
GROUP = "{number}. {title}"
HANDS_GROUP = "With the hands"
BY_EAR_TITLE = "Clear a head by ear"
BY_EAR_LISTEN = (
    "A head with hidden faults. Tap a rod, turn it, hear whether it comes nearer to the others. "
    "The gauge is shown only at the end."
)
SING_TITLE = "Sing the note"
SING_LISTEN = "A tone is played. Sing or hum it, hold it for a second, see how near you came."
STANDS = "{threshold} {unit}"
STANDS_SHARE = "{share} % right"
BEGIN = "Begin (Space)"
AGAIN = "Hear it again (A)"
CANNOT_TELL = "cannot tell (0)"
ANSWER_KEY = "{label} ({number})"
NEXT = "Next (Space)"
STOP = "Stop here (Esc)"
MAKING = "Making the next question …"
LISTEN = "Listen: {listen}"
LOOK = "Look: {listen}"
OUTCOMES = {
    "right": "Right.",
    "wrong": "Not so: {right}.",
    "unsure": "It was {right}. Turn a little, and hear whether it becomes more or less alike.",
}
COUNT = "answer {count}"
NOW = "so far {threshold} {unit}, {low} to {high}"
SHARE_NOW = "{right} of {count} right"
LOUDNESS = "Loudness"
LOUDNESS_TEXT = (
    "“Try it” plays a stroke: set the loudness so that it is comfortable. Nothing that follows is "
    "louder. Long or loud listening harms hearing: keep it low, and rest."
)
TRY_LOUDNESS = "Try it"
LOUDER_WARNING = "Louder than it was set at the beginning: begin with the quietest that is clear."
HELP_WITH = "Help: {what}"
TODAY = "{minutes} of 5 minutes today"
TODAY_DONE = "Five minutes today: enough, and enough for ears. Tomorrow again."
AFTER_LINES = "What sounded: first above, second below"
TRACE = "Answers of this session: filled right, open not, dash cannot tell"
PROGRESS = "Over weeks"
# hands
BY_EAR_KEYS = "← → rod, T tap, ↑ ↓ ⅛ turn, with Shift 1/32; the wheel 1/32. E: show how it went."
ROD_NOW = "Rod {rod}"
TURNED_SO = "turned {turn} so far"
TAP, TIGHTEN, LOOSEN = "Tap (T)", "Tighten ⅛ (↑)", "Loosen ⅛ (↓)"
SHOW_SCORE = "Show how it went (E)"
SCORE = (
    "{begun} cents between rods at first, {left} left. The solver, after three rounds: {solver}."
)
SCORE_MORE = "Turns {turns}, taps {taps}, minutes {minutes}; tension {tension} cents between rods."
REPLAY = "Turn by turn: {steps}"
REPLAY_CAPTIONS = ("rod", "cents now", "you turned", "the solver")
# voice
SING_NOW = "Sing {note}"
SING_BUTTON, SING_SIMULATED = "Sing now: microphone (M)", "Simulated voice (V)"
TONE_BUTTON = "Hear the tone (A)"
SUNG = "{note}: {cents} of the tone, steady to ± {sway} cents"
LISTENING = "listening: sing now"
TUNE_TO_IT = "Tune a head to it (N)"
ALL_UP, ALL_DOWN, SHOW_NOTE = "All rods up 1/32 (↑)", "All rods down (↓)", "Show how near (E)"
TUNED_TO = "The head is {cents} of the note you sang, after {turns} turns of all rods."
CAUTION = "Hearing: keep the level low, rest after ten minutes; ringing ears are a warning."
SAVE_PRACTICE = "Save what was practised"
PRACTICE_FILE = "{name} practice.csv"
PRACTICE_KINDS = "CSV (*.csv);;JSON (*.json)"
ADDED = "{name} practises."
REMOVED = "{name} and what was practised is removed."
EYE_CAPTIONS = {
    "hoop": "hoop and shell, all round, unrolled",
    "head": "head in its hoop, from above",
    "collar": "collar under the hoop, cut",
    "wrinkles": "head from above, light from the side",
    "rope": "shell all round, unrolled",
    "hide": "hide on the bench, one corner turned over",
}
REMOVE_WHO_TIP = "This person and all their weeks"
EXPORT_WHO_TIP = "The weeks of this person as a file"
TRY_LOUDNESS_TIP = "A tone as loud as the questions"
