"""Sentences of the stage Practice, whole and with named gaps: the one place to translate."""

from __future__ import annotations

PRACTICE = "Practice"
WHO = "Trainee"
REMOVE_WHO, EXPORT_WHO = "Remove", "Export…"
ADD_NAME = "New name, Enter"
NOBODY = "A few minutes a day train the ear. Add your name: your results are shown to no one else."
NEXT_UP = "Next: {title} ({why})"
EXERCISES = "Exercises, in order of difficulty"
GROUP = "{number}. {title}"
HANDS_GROUP = "With your hands"
BY_EAR_TITLE = "Clear a head by ear"
BY_EAR_LISTEN = (
    "A head with hidden faults. Tap a rod, turn it, and hear whether it gets closer to the "
    "others. The gauge is shown only at the end."
)
SING_TITLE = "Sing the note"
SING_LISTEN = "A tone is played. Sing or hum it, hold it for a second, and see how close you are."
STANDS = "{threshold} {unit}"
STANDS_SHARE = "{share} % correct"
BEGIN = "Start (Space)"
AGAIN = "Play again (A)"
CANNOT_TELL = "cannot tell (0)"
ANSWER_KEY = "{label} ({number})"
NEXT = "Next (Space)"
STOP = "Stop (Esc)"
MAKING = "Preparing next question…"
LISTEN = "Listen: {listen}"
LOOK = "Look: {listen}"
OUTCOMES = {
    "right": "Correct.",
    "wrong": "No: {right}.",
    "unsure": "It was {right}. On a drum, turn a little and hear whether the two get closer.",
}
COUNT = "question {count}"
NOW = "so far {threshold} {unit} ({low} to {high})"
SHARE_NOW = "{right} of {count} correct"
LOUDNESS = "Volume"
LOUDNESS_TEXT = (
    "“Test” plays a stroke: set a comfortable volume. Nothing after it is louder. Long or loud "
    "listening harms hearing: keep it low, and rest."
)
TRY_LOUDNESS = "Test"
LOUDER_WARNING = "Louder than your first setting: use the lowest volume you hear clearly."
HELP_WITH = "Hint: {what}"
TODAY = "{minutes} of 5 minutes today"
TODAY_DONE = "Five minutes done: enough for you and your ears. More tomorrow."
AFTER_LINES = "Partials: first sound above, second below"
TRACE = "Answers this session: filled correct, open wrong, dash cannot tell"
PROGRESS = "Progress by week"
# hands
BY_EAR_KEYS = "← → rod, T tap, ↑ ↓ ⅛ turn, Shift 1/32; wheel 1/32. E: show result."
ROD_NOW = "Rod {rod}"
TURNED_SO = "turned {turn} so far"
TAP, TIGHTEN, LOOSEN = "Tap (T)", "Tighten ⅛ (↑)", "Loosen ⅛ (↓)"
SHOW_SCORE = "Show result (E)"
SCORE = (
    "Spread between rods: {begun} cents at first, {left} now. Solver after three rounds: {solver}."
)
SCORE_MORE = "Turns {turns}, taps {taps}, minutes {minutes}; tension spread {tension} cents."
REPLAY = "Turn by turn: {steps}"
REPLAY_CAPTIONS = ("Rod", "Cents now", "Your turns", "Solver’s turns")
# voice
SING_NOW = "Sing {note}"
SING_BUTTON, SING_SIMULATED = "Sing: microphone (M)", "Simulated voice (V)"
TONE_BUTTON = "Play tone (A)"
SUNG = "{note}: {cents} of the tone, steady to ± {sway} cents"
LISTENING = "Listening: sing now"
TUNE_TO_IT = "Tune a head to it (N)"
ALL_UP, ALL_DOWN, SHOW_NOTE = "Tighten all 1/32 (↑)", "Loosen all 1/32 (↓)", "Show result (E)"
TUNED_TO = "The head is {cents} of the note you sang, after {turns} turns of all rods."
CAUTION = "Hearing: keep the volume low, rest after ten minutes; ringing ears are a warning."
SAVE_PRACTICE = "Save practice results"
PRACTICE_FILE = "{name} practice.csv"
PRACTICE_KINDS = "CSV (*.csv);;JSON (*.json)"
ADDED = "{name} added."
REMOVED = "{name} and all results removed."
EYE_CAPTIONS = {
    "hoop": "hoop and shell, unrolled",
    "head": "head in its hoop, from above",
    "collar": "collar under the hoop, cross section",
    "wrinkles": "head from above, lit from the side",
    "rope": "shell and rope, unrolled",
    "hide": "hide on the bench, one corner folded over",
}
REMOVE_WHO_TIP = "This person and all their weeks"
EXPORT_WHO_TIP = "The weeks of this person as a file"
TRY_LOUDNESS_TIP = "A tone as loud as the questions"
