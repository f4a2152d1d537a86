"""Sentences of the bench, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# forms
NAME = "Name"
KIND = "Kind"
HEAD_DIAMETER = "Head diameter"
SHELL_DEPTH = "Shell depth"
RODS = "Rods"
HOOP = "Hoop"
SHELL_NOTE_IF_KNOWN = "Shell note, if known"
VENT_IN_SHELL = "Vent in the shell"
ROD_THREAD = "Rod thread"
GUESS_WITH_QUESTION_MARK = "Add a question mark if this is a guess: the ± grows by what it moves."
SHELL_MATERIAL = "Material"
SHELL_MASS = "Mass without heads"
HOW_HELD = "Held"
BEARING_EDGE = "Bearing edge"
SHELL_MATERIAL_2 = "shell material"
SHELL_MASS_2 = "mass"
HOW_HELD_2 = "how it is held"
BEARING_EDGE_2 = "bearing edge"
ABOUT = "about {value}"
IS_ASSUMED = "{caption} (assumed)"
USUAL = "{value}, usual"
WITHOUT_HEADS_WITH_HOOPS = "Shell, hoops and hardware, weighed without the heads; empty: estimated."
MEASURED_FROM_INSIDE_OF_HOOP = "Measured from inside of hoop to inside of hoop, head on."
HEAD = "Head"
PLIES = "Plies"
MATERIAL = "Material"
COATING = "Coating"
DOT_RING_OR_PORT = "Dot, ring or port"
DOT_4_IN_7_MIL = "dot 4 in, 7 mil; port 5 in"
LUG_PITCH = "Lug pitch"
OTHER_HEAD_DURING_READING = "Other head during reading"
TENSION = "Tension"
MUFFLING = "Muffling"
TAPE_ROD_1_5_80 = "tape, rod 1.5, 80 %; ring"
OPEN_BELOW = "Open below"
LUG_PITCH_2 = "lug pitch"
READING_CONDITION = "reading condition"
BEATER = "Beater"
FROM_CENTER_TO_EDGE = "From center to edge"
TEXT_0_PERCENT_IS_CENTER_67 = (
    "0 % is the center, 67 % a third in from the rim. The lengths of the rungs on the ladder "
    "follow."
)
DRUM_NEEDS_NAME = "A drum needs a name."
TYPE_ONE = "Type one."
THAT_NAME_IS_TOO_LONG = "That name is too long."
PERMITTED_80_CHARACTERS = "Permitted: 80 characters."
HEAD_DIAMETER_2 = "head diameter"
SHELL_DEPTH_2 = "shell depth"
NUMBER_OF_RODS = "number of rods"
SHELL_NOTE = "shell note"
ROD_THREAD_2 = "rod thread"
OPEN_BELOW_2 = "open below"
RESONANT_HEAD = "resonant head"
HEAD_HAS_AT_MOST_FOUR = "A head has at most four plies."
WRITE_10_MIL_OR_7 = "Write 10 mil or 7 + 7 mil."
FREE_TO_SOUND = "free to sound"
DOT_RING_OR_PORT_2 = "dot, ring or port"
OWN = "{name} (own)"
THERE_IS_NO_LUG_PITCH = "There is no lug pitch yet."
TYPE_PITCH_THAT_IS_HEARD = "Type the pitch that is heard."
PLY_OF_CANNOT_BE_HEAD = "A ply of {format_thickness} cannot be a head."
PERMITTED_TO = "Permitted: {format_thickness} to {format_thickness_2}."

# ladder_picture
WANTED = "wanted {name}"
SHELL = "shell {name}"
PITCH_LADDER = "Pitch ladder"
COMPUTING = "computing …"
WHOLE_DRUM = "Whole drum"

# rack
RACK_IS_EMPTY_ADD_DRUM = "The rack is empty. Add a drum with Ctrl+N."

# readout
SHAPE_OF_PARTIAL = "Shape of the partial"
TUNING_SHEET = "Tuning sheet …"
LISTEN_L = "Listen (L)"
PLUS_MINUS_CENTS = "{hz} ± {uncertainty_cents:.0f} cents"
PLUS_MINUS_CENTS_RINGS = "± {uncertainty_cents:.0f} cents, rings {decay}"
DRUM_WILL_SOUND = "The drum will sound"
THIS_PARTIAL = "This partial"
RINGS_TO_MINUS_60_DB = "rings (to −60 dB)"
TARGETS = "Targets"
USABLE_RANGE = "Usable range"
EARLY_AND_LATE = "first 10 dB as if"
THIS_STROKE = "this stroke"
STROKE_VALUE = "about {level:.0f} dB SPL at 1 m, {glide}"
GLIDE_VALUE = "starts about {first:.0f} cents sharp ({early:.0f} after 50 ms)"
NO_GLIDE = "no glide to speak of"
TWO_LINES = "shares its note with"
ASSUMED_OF_DRUM = "Assumed: {names}."
POINT_AT_RUNG_OF_LADDER = "Point at a rung of the ladder, or walk to it with the keys."
LOUDEST_FROM_THIS_STROKE = "loudest from this stroke"
DB_UNDER_LOUDEST_FROM_THIS = "{level:.0f} dB under the loudest from this stroke"
PERCENT_OF_MOVEMENT_ON = "{share:.0f} % of the movement on the {names}"
INTERVAL_BETWEEN_HEADS = "interval between heads"

# restore_dialog
KESSELTON_KEEPS_COPY_OF_WORKSHOP = (
    "Kesselton keeps a copy of the workshop from before the first change of each of the last "
    "seven days you worked. Restoring one is a step like any other: undo brings the present "
    "state back."
)
THERE_IS_NO_EARLIER_STATE = (
    "There is no earlier state yet: the first one is kept with the first change tomorrow."
)
RESTORE_EARLIER_STATE = "Restore an earlier state"
EARLIER_STATES = "Earlier states"
RESTORE_THIS_STATE = "Restore this state"
DDDD_D_MMMM_YYYY = "dddd d MMMM yyyy"
DRUMS_READINGS = "{day}: drums {count}, readings {readings}"
COPIES_ARE_IN = "The copies are in {backup_folder}"

# school_bar
SNARE_SIDE_THIRD_OVER_BATTER = (
    "Snare side a third over the batter: the heads closer, the sound fatter."
)
SNARE_SIDE_FOURTH_OVER_BATTER = "Snare side a fourth over the batter: more crack."
SNARE_SIDE_FIFTH_OVER_BATTER = "Snare side a fifth over the batter: driest and quickest."
THIRD = "a third"
FOURTH = "a fourth"
FIFTH = "a fifth"
BATTER_HIGHER = "batter higher"
RESONANT_HIGHER = "resonant higher"
KEEP_DRUM_PITCH = "Keep drum pitch"
OTHER_HEAD_FOLLOWS_WHOLE_DRUM = (
    "The other head follows: the whole drum keeps its note while the interval opens."
)

# section
DRUM_IN_SECTION = "Drum in section"
KG_M = "{base_density_kg_per_m2:.2f} kg/m²"
S_HOOPS = "{rods} {rod_word}s, {label} hoops"
OPEN = "{name}: open"

# topbar
MEASURE = "Measure"
HEADS = "Heads"
TUNING = "Tuning"
FIT = "Fit"
CLEAR = "Clear"
GAUGES = "Gauges"
AT_BENCH = "bench"
ON_STAGE = "on stage"
STAGE = "stage"
UNITS = "Units"
INCHES_AND_MIL = "inches and mil"
READ_ONLY_SAVE_COPY_TO = "read-only: save a copy to keep changes"

# tuning_stage
SHELL_2 = "Shell"
AFTER_DAY = "after a day"
LUG_PITCH_3 = "{side_word} lug pitch"
MPA = "{s:.1f} MPa"

# add_drum
ADD_DRUM = "Add a drum"
SIZE = "Size"
ADD_IT = "Add it"
ONE_LIKE = "One like “{name}”"
FROM_FILE = "From a file …"
CANCEL = "Cancel"
USUAL_DRUM = (
    "{rods} {rod_word}s a head. {heads}. As most of its kind are; everything can be changed after."
)

# first_drum
NO_DRUM_YET = "There is no drum here yet"
FIRST_DRUM_BEGINS = (
    "Say what stands on the bench: its kind and size. Kesselton then shows what its heads can do, "
    "and leads through fitting and clearing them."
)
ADD_FIRST_DRUM = "Add the first drum"
IMPORT_DRUM_FILE = "Read a drum file …"
LOOK_AT_DEMO = "Look at the demo workshop"
TYPED_DROPPED = "“{text}” in “{name}” could not be taken and was dropped with its drum."
NO_DRUM_FOUND = "No drum of the rack is called so, or is of this kind or size."
FIND_DRUM = "Find a drum"
ADD_DRUM_BUTTON = "Add a drum …"
LADDER_CAPTIONS = "what|Hz|note, cents|T60, s|level, dB"
LUG_PITCH_OF = "{side} lug pitch"
RACK_OF_DRUMS = "Rack of drums"
DRUM_IN_SECTION = "The drum in section"
