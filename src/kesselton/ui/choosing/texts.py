"""Sentences of the Heads stage, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# brief_form
ROLE = "Role"
NOTE_DENSITY = "Note density"
TOUCH = "Touch"
ROOM = "Room"
AMPLIFICATION = "Amplification"
HEADS_MUST_LAST = "Heads must last"
BEATER = "Beater"
STRIKE_POINT_0_CENTER_1 = "Strike point (0 center, 1 edge)"
FROM_MIDDLE_OUTWARD_AS_PART = "From the middle outward, as a part of the radius."
TARGET = "Target"
PITCH = "Pitch"
FEEL = "Feel"
INTERVAL_BETWEEN_HEADS = "Interval between heads"
INTERVAL = "Interval"
LAST_HEAD = "The last head was"
NOTHING_NOTICED = "as it should be"
ONE_PULL_INTERVAL = (
    "One pull draws both heads: the interval between them follows from their masses."
)
RESONANT_OVER_BATTER_LUG_PITCH = "Resonant over batter lug pitch."
WORDS_IN_HEAD_S_NAME = "words in a head’s name"
SEARCH_HEADS = "Search heads"
HEADS_TO_CHOOSE_FROM = "Heads to choose from"
BATTER_LUG_PITCH = "Batter lug pitch"
WHOLE_DRUM = "Whole drum"

# buy_dialog
IN_STOCK = "in stock"
BUY_LIST = "{workshop}: buy list"
BUY_LIST_2 = "Buy list"
HEADS_PLANNED_FOR_THESE_DRUMS = "Heads planned for these drums"
CLOSE = "Close"
WORDS_IN_DRUMS_NAME = "words in the drum’s name"
TICK_ALL = "Tick all"
TICK_NONE = "Tick none"
DRUM_COLUMN = "drum"
DRUMS_TO_HEAD = "Drums to be headed"
SAVE_BUY_LIST = "Save the buy list"
BUY_LIST_CSV = "buy list.csv"
CSV_CSV = "CSV (*.csv)"
BUY_LIST_PDF = "buy list.pdf"
PDF_PDF = "PDF (*.pdf)"
SAVE_AS_CSV = "Save as CSV …"
SAVE_AS_PDF = "Save as PDF …"

# candidate_list
RINGS = "rings {ring}"
PAIRS_OF_HEADS_BEST_FIRST = "Pairs of heads, best first"

# compare
DRUMS_IN_SECTION = "Drums in section"
LADDERS_ON_ONE_AXIS = "Ladders on one axis"
PARTIALS_OVER_TIME = "Partials over time"
SIDE_BY_SIDE = "Side by side"
BACK_TO_LIST_ESC = "Back to the list (Esc)"
WORKING_OUT_PARTIALS = "working out the partials …"
WHAT_PLAYER_WOULD_NOTICE = "what a player would notice"
RINGS_2 = "{note}, rings {ring}"
LISTEN = "Listen"
USE_THESE = "Use these"
AS = "as A"

# criteria_panel
COMMON_PRACTICE_NOT_COMPUTED_SLIDERS = (
    "* common practice, not computed. Sliders: how much it counts."
)
WEIGHT_OF = "Weight of {label}"

# heads_stage
SETTINGS_BY_GROUPS = (
    "{asked:,} settings: heads within {apart:g} % of each other’s mass spoke for each other; of "
    "the most promising, {tried}, all were tried and {fit} are possible on this drum"
)
SETTINGS_TRIED = "{asked} settings tried, {fit} possible on this drum"
SETTINGS_TRIED_SOME_SKIPPED = (
    "{asked} settings tried, {fit} possible on this drum; {unsettled} skipped, no solution"
)
HEADS_IN_STORE = "Heads in store …"
WHAT_DRUM_MUST_DO = "What the drum must do"
STOP = "Stop"
USE_THESE_HEADS = "Use these heads"
ADD_TO_COMPARISON_C = "Add to comparison (C)"
COMPARE = "Compare"
LISTEN_L = "Listen (L)"
WORKING_OUT_EVERY_PAIR = "working out every pair …"
OF_SETTINGS_WORKED_OUT = "{done} of {of} settings worked out"
NO_PAIR_CAN_DO_THIS = "No pair can do this. Nearest: {names}, {cents:.0f} cents away; {why}."
NEAREST_WHOLE_DRUM = (
    "No pair can do this. Nearest: {names} at whole drum {note}, {cents:.0f} cents away; {why}."
)
NEAREST_LUG_PITCH = (
    "No pair can do this. Nearest: {names} at batter lug pitch {note}, {cents:.0f} cents away; "
    "{why}."
)
STOPPED_CHANGE_ANYTHING_TO_SEARCH = "stopped; change anything to search again"
DRUM_WILL_SOUND_LOWEST_PARTIAL = (
    "The drum will sound {note}, {hz}; the lowest partial rings {seconds} to −60 dB."
)
COMPARE_2 = "Compare {count}"

# store_dialog
HEADS_IN_STORE_2 = "Heads in store"
HEADS_OF_IN = "Heads of {size:g} in"
NAME_OF_YOUR_HEAD = "name of your head"
NAME_OF_YOUR_HEAD_2 = "Name of your head"
MATERIAL = "Material"
WEIGHT_ON_SCALE = "Weight on the scale"
OF_WHICH_FLESH_HOOP = "of which flesh hoop"
FILM_HOOP_TO_HOOP = "Film, hoop to hoop"
OR_BESIDE_KNOWN_HEAD = "or beside a known head"
REFERENCE_PITCH = "reference pitch"
WHERE_THIS_ONE_SOUNDS = "where this one sounds"
ADD_THIS_HEAD = "Add this head"
HEAD_OF_YOUR_OWN_WEIGH = "A head of your own: weigh it, or read its pitch at the same dial reading"
KG_M_ADDED = "{name}: {base_density_kg_per_m2:.3f} kg/m², added."
TYPICAL_CHARACTER = "typical character"
KG_M = "{character} · {base_density_kg_per_m2:.2f} kg/m²"
FAVORITE_COLUMN = "favorite"
HEAD_COLUMN = "head"
HEADS_LISTED = "Heads on offer"
HEAD_HAS_NO_NAME = "The head has no name."
GIVE_IT_ONE = "Give it one."
THERE_IS_HEAD_ALREADY = "There is a head {name!r} already."
GIVE_IT_ANOTHER_NAME = "Give it another name."
NEITHER_WEIGHT_NOR_TWO_PITCHES = "Neither a weight nor two pitches are given."
WEIGH_HEAD_OR_CHOOSE_KNOWN = "Weigh the head, or choose a known one and give both pitches."

# tradeoff
TWO_CRITERIA_AGAINST_EACH_OTHER = "Two criteria against each other"
BETTER = "{label}: better →"
ON_LINE_NO_OTHER_PAIR = "On the line: no other pair is better in both."
X_AXIS = "X axis"
Y_AXIS = "Y axis"
CHANGE_BRIEF = "Change role, touch, room …"
FOLD_BRIEF = "Fold up"
WISH = "{wish}"
WISH_NOTES = "{wish} notes"
WISH_TOUCH = "{wish} touch"
WISH_ROOM = "{wish} room"
WISH_HEADS = "heads for {wish}"

# like a stroke
NO_STROKE_IN_HAND = (
    "No stroke is in hand. Hear one in Tuning (J) or choose one in the Log, and press “Like this "
    "stroke”."
)
LIKE_STROKE = "Stroke of {name}: {note}, rings {ring:.2f} s, {lines} lines"
OUT_OF_REACH = "No pair on this shell reaches {what}."
HEADS_IN_STORE_TIP = "What lies on the shelf, and heads of your own"
USE_THESE_HEADS_TIP = "Make the chosen pair and its settings the plan of this drum"
ADD_TO_COMPARISON_C_TIP = "Mark the chosen pair"
COMPARE_TIP = "The marked pairs side by side"
LISTEN_L_TIP = "The stroke on the chosen pair, computed"
