"""Sentences of the Heads stage, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# brief_form
ROLE = "Role"
NOTE_DENSITY = "Note density"
TOUCH = "Touch"
ROOM = "Room"
AMPLIFICATION = "Amplification"
HEADS_MUST_LAST = "Head life"
BEATER = "Beater"
STRIKE_POINT_0_CENTER_1 = "Strike point (0 = center, 1 = edge)"
FROM_MIDDLE_OUTWARD_AS_PART = "From the center outward, as a fraction of the radius."
TARGET = "Target"
PITCH = "Pitch"
FEEL = "Feel"
INTERVAL_BETWEEN_HEADS = "Interval between heads"
INTERVAL = "Interval"
LAST_HEAD = "Problem with last head"
NOTHING_NOTICED = "none"
ONE_PULL_INTERVAL = "One pull tightens both heads equally: their masses set the interval."
RESONANT_OVER_BATTER_LUG_PITCH = "Resonant above batter, by lug pitch."
WORDS_IN_HEAD_S_NAME = "Search heads"
SEARCH_HEADS = "Search heads"
HEADS_TO_CHOOSE_FROM = "Heads to choose from"
BATTER_LUG_PITCH = "Batter lug pitch"
WHOLE_DRUM = "Drum pitch"

# buy_dialog
IN_STOCK = "In stock"
BUY_LIST = "{workshop}: buy list"
BUY_LIST_2 = "Buy list"
HEADS_PLANNED_FOR_THESE_DRUMS = "Heads to buy for these drums"
CLOSE = "Close"
WORDS_IN_DRUMS_NAME = "Search drums"
TICK_ALL = "Check all"
TICK_NONE = "Uncheck all"
DRUM_COLUMN = "Drum"
DRUMS_TO_HEAD = "Drums to fit with heads"
SAVE_BUY_LIST = "Save buy list"
BUY_LIST_CSV = "buy list.csv"
CSV_CSV = "CSV (*.csv)"
BUY_LIST_PDF = "buy list.pdf"
PDF_PDF = "PDF (*.pdf)"
SAVE_AS_CSV = "Save as CSV…"
SAVE_AS_PDF = "Save as PDF…"

# candidate_list
RINGS = "decay {ring}"
PAIRS_OF_HEADS_BEST_FIRST = "Head pairs, best first"

# compare
DRUMS_IN_SECTION = "Drums in cross section"
LADDERS_ON_ONE_AXIS = "Partials on one axis"
PARTIALS_OVER_TIME = "Partials over time"
SIDE_BY_SIDE = "Compare head pairs"
BACK_TO_LIST_ESC = "Back to list (Esc)"
WORKING_OUT_PARTIALS = "Computing partials…"
WHAT_PLAYER_WOULD_NOTICE = "What a player would notice"
RINGS_2 = "{note}, decay {ring}"
LISTEN = "Play"
USE_THESE = "Use"
AS = "same as A"

# criteria_panel
COMMON_PRACTICE_NOT_COMPUTED_SLIDERS = "* Common practice, not computed. Sliders set importance."
WEIGHT_OF = "Importance of {label}"

# heads_stage
SETTINGS_BY_GROUPS = (
    "{asked:,} settings searched, heads grouped within {apart:g} % in mass; {tried} of the "
    "best solved, {fit} possible on this drum"
)
SETTINGS_TRIED = "{asked} settings solved, {fit} possible on this drum"
SETTINGS_TRIED_SOME_SKIPPED = (
    "{asked} settings solved, {fit} possible on this drum; {unsettled} without solution"
)
HEADS_IN_STORE = "Heads in stock…"
WHAT_DRUM_MUST_DO = "Requirements"
STOP = "Stop"
USE_THESE_HEADS = "Use these heads"
ADD_TO_COMPARISON_C = "Add to comparison (C)"
COMPARE = "Compare"
LISTEN_L = "Play (L)"
WORKING_OUT_EVERY_PAIR = "Computing all pairs…"
OF_SETTINGS_WORKED_OUT = "{done} of {of} settings computed"
NO_PAIR_CAN_DO_THIS = "No pair meets this. Closest: {names}, {cents:.0f} cents off; {why}."
NEAREST_WHOLE_DRUM = (
    "No pair meets this. Closest: {names} at drum pitch {note}, {cents:.0f} cents off; {why}."
)
NEAREST_LUG_PITCH = (
    "No pair meets this. Closest: {names} at batter lug pitch {note}, {cents:.0f} cents off; {why}."
)
STOPPED_CHANGE_ANYTHING_TO_SEARCH = "Stopped. Change any field to search again."
DRUM_WILL_SOUND_LOWEST_PARTIAL = (
    "Drum pitch {note}, {hz}; the fundamental decays 60 dB in {seconds}."
)
COMPARE_2 = "Compare {count}"

# store_dialog
HEADS_IN_STORE_2 = "Heads in stock"
HEADS_OF_IN = "{size:g} in heads"
NAME_OF_YOUR_HEAD = "name of the head"
NAME_OF_YOUR_HEAD_2 = "Name of the head"
MATERIAL = "Material"
WEIGHT_ON_SCALE = "Weight on scale"
OF_WHICH_FLESH_HOOP = "Flesh hoop weight"
FILM_HOOP_TO_HOOP = "Film diameter"
OR_BESIDE_KNOWN_HEAD = "Or compare with head"
REFERENCE_PITCH = "Its lug pitch"
WHERE_THIS_ONE_SOUNDS = "Lug pitch of this one"
ADD_THIS_HEAD = "Add head"
HEAD_OF_YOUR_OWN_WEIGH = "Custom head: weigh it, or compare its pitch at the same gauge reading"
KG_M_ADDED = "Added {name}: {base_density_kg_per_m2:.3f} kg/m²."
TYPICAL_CHARACTER = "Typical character"
KG_M = "{character} · {base_density_kg_per_m2:.2f} kg/m²"
FAVORITE_COLUMN = "Favorite"
HEAD_COLUMN = "Head"
HEADS_LISTED = "Available heads"
HEAD_HAS_NO_NAME = "The head has no name."
GIVE_IT_ONE = "Enter one."
THERE_IS_HEAD_ALREADY = "The head {name!r} exists already."
GIVE_IT_ANOTHER_NAME = "Choose another name."
NEITHER_WEIGHT_NOR_TWO_PITCHES = "Neither a weight nor two lug pitches are entered."
WEIGH_HEAD_OR_CHOOSE_KNOWN = "Weigh the head, or choose a known head and enter both pitches."

# tradeoff
TWO_CRITERIA_AGAINST_EACH_OTHER = "Trade-off between two criteria"
BETTER = "{label}, better →"
ON_LINE_NO_OTHER_PAIR = "On the line: no other pair beats it on both axes."
X_AXIS = "X axis"
Y_AXIS = "Y axis"
CHANGE_BRIEF = "Change role, touch, room…"
FOLD_BRIEF = "Show less"
WISH = "{wish}"
WISH_NOTES = "{wish} notes"
WISH_TOUCH = "{wish} touch"
WISH_ROOM = "{wish} room"
WISH_HEADS = "heads for {wish}"

# like a stroke
NO_STROKE_IN_HAND = (
    "No stroke to match. Analyze one in Tuning (J) or select one in the Log, then click “Match "
    "stroke”."
)
LIKE_STROKE = "Stroke on {name}: {note}, decay {ring:.2f} s, {lines} peaks"
OUT_OF_REACH = "No head pair on this shell reaches {what}."
HEADS_IN_STORE_TIP = "Heads in stock, and heads of your own"
USE_THESE_HEADS_TIP = "Make the chosen pair and its settings the plan of this drum"
ADD_TO_COMPARISON_C_TIP = "Mark the chosen pair"
COMPARE_TIP = "The marked pairs side by side"
LISTEN_L_TIP = "The stroke on the chosen pair, computed"
