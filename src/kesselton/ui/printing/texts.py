"""Sentences of the printed sheets, whole and with named gaps: the one place to translate."""

from __future__ import annotations

# fit_sheet
TOOLS = "Tools"
MATERIALS = "Materials"

# sheet
CARRIED_BY = "Mainly in"
EVERY_ROOM_IS_NEW_SHEET = (
    "{RODS_UNDER_LOAD} Every room differs: use this sheet as a starting point. ± is 90 %, from "
    "assumed tolerances."
)
S_HOOPS_DEG_C_A4 = (
    "{size} · {rods} {rod_word}s · {label} hoops · {temperature_c:g} °C · A4 = {a4_hz:g} Hz"
)
DRUM_WILL_SOUND = "Drum pitch"
PLUS_MINUS_CENTS = "{deviation}, {hz} ± {doubt:.0f} cents"
RINGS_TO_MINUS_60_DB = "decay {decay} to −60 dB"
LUG_PITCH_TAP_25_MM = "Lug pitch: tap 25 mm (1 in) from the edge at each rod, other head muted."
FROM_FINGER_TIGHT_EVERY_ROD = (
    "From finger-tight, turn every rod equally: {heads}; check after each round. New heads "
    "keep stretching: check again after a day."
)
SNARE_SIDE_SOME_TECHNICIANS_SET = (
    "Snare side: some technicians set rods {low}, beside the beds, {down:.0f} cents lower and "
    "the other rods {up:.0f} cents higher; others set all rods even."
)
SHELL_NOTE_SOME_TECHNICIANS_STAY = (
    "Shell note: some technicians stay between {low} and {high}; others find the best range by ear."
)
AIR_IN_SHELL = "air mode"
SETTINGS = "{name}: settings"
INTERVAL_BETWEEN_HEADS = "Interval between heads: {interval}"
PITCH = "{caption} pitch"
LIMITS_IN_N_M = "{name}, limits in N/m: {join}."
QUARTERS = "{head} {count} × ¼"
QUARTERS_AND_REST = "{head} {count} × ¼ and {rest}"
PRINTER_DOES_NOT_ANSWER = "The printer does not respond."
SAVE_SHEET_AS_PDF_INSTEAD = "Save the sheet as a PDF instead."
DB = "{levels_db:.0f} dB"
GLIDE = "This stroke starts {first:.0f} cents sharp ({early:.0f} after 50 ms)."
ON_STAGE = "Changes on stage and with time: {changes}."
ASSUMED_OF_DRUM = "Assumed: {names}."
