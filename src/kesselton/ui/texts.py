"""Sentences of the window and its menus, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# commands
WORKSHOPS = "Workshops (*{SUFFIX})"
DRUM_FILES_DRUM_JSON_JSON = "Drum files (*.drum.json *.json)"
RECORDING_OF_STROKES = "A recording of strokes"
HEARD_OF = "{name} as it was heard"
RECORDING_OF_TAPS = "A recording of taps"
SOUND_WAV_FLAC = "Sound (*.wav *.flac)"
NOT_SAVED = "Not saved"
LAST_CHANGES_COULD_NOT_BE = (
    "The last changes could not be saved to this file. Close and lose them?\n“No” keeps the "
    "window open: save a copy in another place."
)
NEW_WORKSHOP = "New workshop"
WORKSHOP = "workshop{SUFFIX}"
OPEN_WORKSHOP = "Open workshop"
SAVE_COPY_AS = "Save a copy as"
TUNING_SHEET = "Tuning sheet"
PDF_PDF = "PDF (*.pdf)"
ADD_DRUM = "add a drum"
IMPORT_DRUM = "Import a drum"
EXPORT_THIS_DRUM = "Export this drum"
BRIEF = "the brief"
FITTING_SHEET = "Fitting sheet"
PDF_PDF_MARKDOWN_MD = "PDF (*.pdf);;Markdown (*.md)"
DATES_FOR_CALENDAR = "Dates for a calendar"
CALENDAR_ICS = "Calendar (*.ics)"
SAVE_SOUND = "Save the sound"
SHORTCUTS = "Shortcuts"
TUNING_PDF = "{name} tuning.pdf"
DRUM_JSON = "{name}.drum.json"
THERE_IS_FILE_ALREADY = "There is a file {name} already."
CHOOSE_ANOTHER_NAME = "Choose another name."
RESTORE_STATE_OF = "restore the state of {day}"
HEADS_IN_STORE = "heads in store"
HEAD = "head {name}"
IMPORT = "import {name}"
ICS = "{name}.ics"
AS_IT_IS_SET = "{name} as it is set"
PAIR_AT_PITCHES = "{names} ({pitches} Hz)"
WAV = "{name}.wav"
PDF = "{title}.pdf"

# main_window
KESSELTON = "{name} — Kesselton"
TEMPERATURE_AT_BENCH = "temperature at the bench"
USE_HEADS = "use heads"
BARE_SHELL = "the bare shell"
READINGS = "readings"
EDGE_AS_FOUND = "edge as found"
APPLY_READINGS_TO_HEADS = "apply readings to heads"
THEME = "theme_{theme}"

# start
WINDOW_NEEDS_LIBRARIES_THAT_THIS = "The window needs libraries that this system lacks."
TYPE_SUDO_APT_GET_INSTALL = "Type: sudo apt-get install {join}"
THERE_IS_NO_SCREEN_TO = "There is no screen to open a window on (DISPLAY is not set)."
START_KESSELTON_FROM_DESKTOP_KESSELTON = (
    "Start Kesselton from a desktop; kesselton predict and range work without one."
)
EVERYTHING_ELSE_WORKS = "Everything else works as usual."
CHOOSE_THEM_AGAIN_IN_VIEW = "Choose them again in the View menu."

# unexpected
YOUR_WORK_IS_SAVED = "{remedy} Your work is saved in {path}: the file was read to make sure."
YOUR_LAST_CHANGES_ARE_NOT_SAVED = (
    "{remedy} Your last changes are not in {path} yet: press Try again, or save a copy in another "
    "place."
)
READ_ONLY_NOTHING_IS_SAVED = "{remedy} {path} is open to look at only: changes are not saved."

# start_failure
KESSELTON_COULD_NOT_START = "Kesselton could not open the workshop"
SCREEN_DOES_NOT_ANSWER = "The screen {display} does not answer, or does not let this program in."
FONTS_MISSING = "These letters of the program could not be read: {names}. The desktop’s are used."
FILE_IS_DAMAGED = "{name} is damaged; what can be read of it opens in a file of its own."
OPEN_WHAT_CAN_BE_READ = "Open what can be read of it"
TRY_AGAIN = "Try again"
OPEN_ANOTHER_WORKSHOP = "Open another workshop …"
OPEN_COPY_OF_DAY = "Open the copy of {day}"
QUIT = "Quit"
SHEET_FOLLOWS = "The drum is being worked out; the sheet follows."
WRITTEN = "Written: {path}"
DRUM_REMOVED = "“{name}” was removed from the rack."
DRUM_IMPORTED = "“{name}” stands in the rack now."
COPY_IS_OPEN = "The copy is written and open: {path}"
TYPED_NOT_TAKEN = "“{text}” in “{name}” is typed and cannot be taken."
CORRECT_OR_QUIT_AGAIN = "Correct it, or quit once more and leave it."
USUAL_VALUES = "usual values"
KIND_IS_NOW = "“{name}” is a {kind} now."
TAKE_USUAL = "Take the usual heads, hoops and tuning of a {kind}"
RENAME_WORKSHOP = "Rename the workshop"
RENAME_WORKSHOP_2 = "rename the workshop"
NAME = "Name"
BEGIN_EMPTY_WORKSHOP = "Begin an empty workshop"
PICTURE_COPIED = "Copied as a picture: {name}"
TABLE_COPIED = "Copied as a table: {name}"
NOTHING_TO_COPY = "There is no picture here to copy."
SHOW_STAGE_WITH_PICTURE = "Go to Tuning, Clear or Gauges."
CANNOT_TAKE_FILE = "{name} is none of the files that can be dropped here."
FILES_THAT_ARE_TAKEN = (
    "Taken are workshops (*.kesselton), drums (*.drum.json), recordings of taps (*.wav, *.flac)."
)

# help
HANDBOOK = "Handbook"
WORDS_TO_LOOK_FOR = "Words to look for"
NEXT_PLACE = "Next place"
NOT_IN_HANDBOOK = "“{text}” does not stand in the handbook."
ABOUT = "About Kesselton"
KESSELTON_VERSION = "Kesselton {version}"
ABOUT_TEXT = (
    "Computes what a drum will do before anything is unwrapped, leads through fitting and "
    "clearing its heads, and keeps what was read.\n\nFree software under the Apache License 2.0. "
    "It is built with Python, Qt for Python (LGPL 3), NumPy and SciPy (BSD), and others named in "
    "its lock file; its letters are Inter (OFL 1.1) and DejaVu Sans.\n\nNothing you note leaves "
    "this computer."
)

# preferences
PREFERENCES = "Preferences"
THEME_CAPTION = "Colors"
AS_DESKTOP = "as the desktop"
LIGHT = "light"
DARK = "dark"
UNITS = "Units"
INCHES_AND_MIL = "inches and mil"
MILLIMETERS = "millimeters"
NOTE_OUTLASTS = "Note outlasts overtones"
NOTE_OUTLASTS_WHY = (
    "Where a drum speaks: how much longer the note must ring than its overtones, against the usual."
)
NOTE_GLIDES = "Glide that is still clear"
NOTE_GLIDES_WHY = (
    "Where a drum speaks: how far sharp a stroke may start, against the usual for its kind."
)
AIR_ON_STAGE = "Air on stage"
WRITE_FLATS = "write flats (D♭) instead of sharps (C♯)"
LETTERS_FOLLOW_DESKTOP = "Letters are as large as your desktop’s font, from 9 to 16 pt."
RECENT = "Open one used lately"
NONE_YET = "none yet"
RENAME_GAUGE = "rename {old}"

# tone_dialog
REFERENCE_TONE = "Reference tone"
TONE_NOTE = "Note"
TONE_AGAINST = "Beside it (if any)"
TONE_AGAINST_WHY = "A second note at the same time: how fast they beat is how far they are apart."
TONE_SECONDS = "Length"
CENT_LOWER = "− 1 cent"
CENT_HIGHER = "+ 1 cent"
SOUND_IT = "Sound it (Space)"
STOP_IT = "Stop (Space)"
THE_TONE = "the reference tone"
ONE_TONE = "Arrow keys: a cent up or down; page keys: ten."
TWO_TONES = "{beat:.2f} beats a second, {cents:+.0f} cents apart: turn until the beat stands still."
TOO_FAR_TO_BEAT = "{cents:+.0f} cents apart: two notes, too far from each other to beat."
BEAT_PICTURE = "How the two tones beat"
TWO_SECONDS = "two seconds"
HEARD_AND_COMPUTED = "{name}: heard and computed"
AS_HEARD = "as heard"
AS_COMPUTED = "as computed"
LOUDER_IS_DARKER = (
    "The louder the darker, 60 dB in all. Ticks at the left are the computed partials."
)
PLAY_HEARD = "Play what was heard"
PLAY_COMPUTED = "Play what was computed"
SECONDS_AT = "{seconds:.1f} s"
NOTHING_HEARD_YET = "Nothing was heard of this drum as it is set."
HEAR_FIRST = "Hear a stroke (J) first."
