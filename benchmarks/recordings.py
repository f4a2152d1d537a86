"""Recorded strokes on real drums: is the note told, and rightly; and does a stroke pass for a tap?

    python -m benchmarks recordings

Careful fits stand in benchmarks/recorded/table.json, made by code that shares nothing with the ears
of the program. Kits G, N and S judge, of the others the confidence was learned. Recordings are those
that are installed (`found.INSTALL` says which); none are fetched, none are in the project.
"""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from itertools import combinations
from typing import Any

import numpy as np

from benchmarks.recorded.confidence import with_note
from benchmarks.recorded.fits import TABLE
from benchmarks.recorded.found import INSTALL, Recording, recording
from benchmarks.sound_distance import distance, from_onset, spectra
from kesselton.app.workshop.usual_drums import USUAL, usual_drum
from kesselton.core.clear.taps.tap import hear
from kesselton.core.clear.taps.tap_naming import Expected
from kesselton.core.errors import InputError
from kesselton.core.hearing.note import Note
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.close_sound import close_stroke
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.render import render
from kesselton.core.shows.strangers import taken_for

JUDGES = ("G", "N", "S")
OFF_CENTS = (-150.0, -60.0, 0.0, 60.0, 150.0)
"""Where the plan stands from the note."""
FAR_CENTS = (-500.0, -300.0, 300.0, 500.0)
NEAR_SD_CENTS = 300.0
SEED = 5
RING_SHARE = 0.2
INCHES = {"tom1": 12.0, "tom1a": 10.0, "tom2": 13.0, "tom3": 16.0, "tom4": 16.0}
"""As such kits have them, where nothing is told."""


def strokes(kits: tuple[str, ...], kinds: tuple[str, ...]) -> Iterator[tuple[Any, Any, Recording]]:
    """Drum, fit and sound of every stroke whose note is known, of those installed."""
    for drum in json.loads(TABLE.read_text())["drums"]:
        if drum["kit"] in kits and drum["kind"] in kinds:
            for stroke in drum["strokes"]:
                sound = recording(stroke["sum"])
                if sound is not None and with_note(drum, stroke["fit"]):
                    yield drum, stroke["fit"], sound


def cents(a: float, b: float) -> float:
    """From a to b."""
    return 1200.0 * math.log2(b / a)


def note_of(sound: Recording, plan_hz: float) -> Note | None:
    """As the program tells it of the first stroke."""
    try:
        return hear_strokes(sound.samples, sound.rate, plan_hz)[0].note
    except InputError:
        return None


def like(drum: dict[str, Any], hz: float) -> Drum:
    """A usual drum of the size, set to a note."""
    kind = "concert_bass" if drum["kind"] == "cbass" else drum["kind"]
    inches = INCHES.get(drum["drum"])
    size = None
    if inches is not None:
        size = min(USUAL[kind].sizes, key=lambda one: abs(one.diameter_in - inches))
    return taken_for(usual_drum(kind, size), hz, 10.0).drum


PLACES_TRIED, TOUCHES_TRIED = (0.0, 0.25, 0.5, 0.75), (0.3, 1.0, 2.0)


def sound_figures() -> list[tuple[str, float, str, str, float]]:
    """How near computed strokes on a usual drum at the heard note come to recorded ones: distance
    over that of two strokes on one drum, with the ring heard, without it, and by partials alone."""
    drums: dict[tuple[str, str], list[tuple[dict[str, Any], list[np.ndarray]]]] = {}
    for drum, fit, sound in strokes(("B", "C", "F", "G", "M", "N", "S"), ("tom",)):
        picture = spectra(from_onset(sound.samples, sound.rate), sound.rate)
        drums.setdefault((drum["kit"], drum["drum"]), []).append((fit, picture))
    if not drums:
        return []
    own = [
        float(np.mean([distance(a, b) for (_, a), (_, b) in combinations(rows, 2)]))
        for rows in drums.values() if len(rows) > 1
    ]  # fmt: skip
    unit = float(np.mean(own))
    ways: dict[str, list[float]] = {"ring": [], "plain": [], "partials": [], "deep": []}
    for (_, name), rows in drums.items():
        hz = float(np.median([fit["hz"] for fit, _ in rows]))
        prediction = predict(like({"kind": "tom", "drum": name}, hz))
        computed = float(prediction.partials.t60_s[prediction.partials.fundamental])
        ring = float(np.median([fit["t60_s"] for fit, _ in rows])) / computed
        tried = [Stroke(p, TYPICAL_BEATER["tom"], t) for p in PLACES_TRIED for t in TOUCHES_TRIED]
        made = {
            "ring": [close_stroke(prediction, one, ring=ring) for one in tried],
            "plain": [close_stroke(prediction, one) for one in tried],
            "partials": [render(prediction, one) for one in tried],
        }
        for way, sounds in made.items():
            pictures = [spectra(one.samples, one.rate_hz) for one in sounds]
            nearest = [min(distance(one, heard) for one in pictures) for _, heard in rows]
            ways[way].append(float(np.mean(nearest)) / unit)
        if prediction.drum.shell.radius_m > 0.19:
            ways["deep"].append(ways["ring"][-1])
    mean = {way: float(np.mean(values)) for way, values in ways.items()}
    middle = float(np.median(ways["ring"]))
    before, many = mean["partials"], f"{len(drums)} drums"
    return [
        (
            "sound_distance_ratio",
            mean["ring"],
            "",
            f"partials alone, {many}",
            before / mean["ring"],
        ),
        ("sound_distance_median", middle, "", "1.4 aimed at", 1.4 / middle),
        ("sound_distance_no_ring", mean["plain"], "", "partials alone", before / mean["plain"]),
        ("sound_distance_16_in", mean["deep"], "", "1.8 aimed at", 1.8 / mean["deep"]),
    ]


def recordings_figures() -> list[tuple[str, float, str, str, float]]:
    """Notes of strokes on toms with plans that are off, their intervals and rings; of snare and bass
    drums where a careful fit finds one; whole strokes that pass for taps."""
    known = list(strokes(JUDGES, ("tom",)))
    if not known:
        print(f"recordings: skipped, none of them is here: {INSTALL}")
        return []
    told, within, false, held, rings, first, all_notes = 0, 0, 0, 0, [], [], 0
    for _, fit, sound in known:
        for off in OFF_CENTS:
            all_notes += 1
            note = note_of(sound, fit["hz"] * 2.0 ** (off / 1200.0))
            if note is None or not note.near:
                continue
            told += 1
            away = abs(cents(fit["hz"], note.hz))
            within += away < 20.0
            false += away > 100.0
            held += away < note.half_cents
            if off == 0.0:
                rings += _alike(fit["t60_s"], note.t60_s)
                first += _alike(fit["first_t60_s"], note.first_t60_s)
    far_wrong, far = 0, 0
    for _, fit, sound in known:
        for off in FAR_CENTS:
            note = note_of(sound, fit["hz"] * 2.0 ** (off / 1200.0))
            far += 1
            far_wrong += note is not None and (note.near or abs(cents(fit["hz"], note.hz)) > 100.0)
    others = list(strokes(("B", "C", "F", "G", "M", "N", "S"), ("snare", "bass", "cbass")))
    of_others = sum(
        (note := note_of(sound, fit["hz"])) is not None and abs(cents(fit["hz"], note.hz)) < 50.0
        for _, fit, sound in others
    )
    tried, taken = whole_strokes()
    many = f"{len(known)} strokes, 5 plans each"
    return [
        ("real_judged", float(len(known)), "strokes", "72 of the first trial", len(known) / 72.0),
        ("real_note_told_percent", 100.0 * told / all_notes, "%", f"95, {many}", told / all_notes / 0.95),
        ("real_note_within20_percent", 100.0 * within / told, "%", "90 aimed at", within / told / 0.9),
        ("real_note_false_percent", 100.0 * false / told, "%", "0 aimed at", 1.0 - false / told),
        ("real_note_held_percent", 100.0 * held / told, "%", "90 stated", held / told / 0.9),
        ("real_t60_within20_percent", 100.0 * float(np.mean(rings)), "%", "85 aimed at", float(np.mean(rings)) / 0.85),
        ("real_first_t60_within20_percent", 100.0 * float(np.mean(first)), "%", "85 aimed at", float(np.mean(first)) / 0.85),
        ("real_far_plan_wrong_percent", 100.0 * far_wrong / far, "%", f"of {far} with plans 300 and 500 cents off", 1.0 - far_wrong / far),
        ("real_other_note_told_percent", 100.0 * of_others / len(others), "%", f"90, {len(others)} strokes on snare and bass drums", of_others / len(others) / 0.9),
        ("real_stroke_as_tap_percent", 100.0 * taken / tried, "%", "51 % once, 2 aimed at", taken / tried / 0.51),
    ]  # fmt: skip


def _alike(fitted: float | None, told: float) -> list[bool]:
    if fitted is None:
        return []
    return [not math.isnan(told) and abs(math.log(told / fitted)) < math.log(1.0 + RING_SHARE)]


def whole_strokes() -> tuple[int, int]:
    """How many whole strokes were heard as taps, blind and with the lug pitch about known, and how
    many of them got a lug pitch."""
    rng = np.random.default_rng(SEED)
    tried = taken = 0
    kits = tuple("BCFGMNS")
    for drum, fit, sound in strokes(kits, ("tom", "snare", "bass", "cbass")):
        prediction = predict(like(drum, fit["hz"]))
        own = float(prediction.lug_pitches_hz[0])
        off = float(rng.normal(0.0, NEAR_SD_CENTS))
        for near in (None, own, own * 2.0 ** (off / 1200.0)):
            tried += 1
            try:
                known = None if near is None else Expected(near)
                hear(sound.samples, sound.rate, known)
                taken += 1
            except InputError:
                pass
    return tried, taken
