"""Make the log of the demo: a season of the invented Tern Island Opera, sixty entries, six drums.

Strokes are those of the drum that is not there, heard by the program itself: run
`python -m tools.make_demo_season` (half a minute) and look at what it wrote.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np

from kesselton.app.hearing import hear_drum, simulated_stroke
from kesselton.app.keeping import Said, entry_now
from kesselton.app.predictor import BenchResult, usable_ranges
from kesselton.app.workshops import demo_workshop
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.prediction.prediction import predict
from kesselton.store.holdings import Entry
from kesselton.store.log_file import as_lines

OUT = Path(__file__).resolve().parents[1] / "src/kesselton/resources/demo/tern-island-season.jsonl"
BEGINS = datetime(2026, 9, 3, 14, 30)
WORKS = (
    ("The Lighthouse Keeper, overture", "march"),
    ("The Lighthouse Keeper, second act", "storm scene"),
    ("Nine Tides, rehearsal", "dance"),
    ("Nine Tides, first night", "dance"),
    ("school matinee", "songs"),
)
PLAYERS = ("first percussion", "second percussion")
ROOMS = ("the house, pit", "rehearsal room, hard floor", "the house, stage")
VERDICTS = (
    ("clear, speaks at once", (("response", 2), ("warmth", 0)), "right"),
    ("a little dull under the strings", (("attack", -1), ("ring", 1)), "low"),
    ("warm, leaves room", (("warmth", 2), ("ring", -1)), "right"),
    ("too bright beside the horns", (("warmth", -1), ("attack", 1)), "high"),
    ("as the last time", (), "right"),
)
EVENTS = (
    ("fitted", 0.0), ("pressed", -25.0), ("next_day", -38.0), ("retuned", 0.0), ("set", 0.0),
    ("set", 30.0), ("drifted", -18.0), ("retuned", 0.0), ("set", -45.0), ("set", 0.0),
)  # fmt: skip
"""What happens to a drum in a season, and cents off its usual setting."""


def season_of(entry: Entry, rng: np.random.Generator) -> list[Kept]:
    """Ten entries of one drum."""
    out = []
    when = BEGINS + timedelta(days=int(rng.integers(0, 5)), hours=entry.id)
    for take, (event, cents) in enumerate(EVENTS):
        drum = _moved(entry.drum, cents + float(rng.normal(0.0, 6.0)))
        degrees = 18.0 + 2.0 * float(rng.integers(0, 4))
        drum = replace(drum, air=replace(drum.air, temperature_c=degrees))
        stroke = Stroke(0.3, TYPICAL_BEATER[drum.kind], 1.0)
        samples, rate = simulated_stroke(drum, stroke, entry.id, take)
        try:
            heard = hear_drum(samples, rate, drum, stroke)
        except KesseltonError:
            heard = None
        found = predict(drum, stroke)
        result = BenchResult(entry.id, drum, found, usable_ranges(drum, stroke), stroke)
        work, music = WORKS[int(rng.integers(len(WORKS)))]
        verdict, marks, fits = VERDICTS[int(rng.integers(len(VERDICTS)))]
        said = Said(
            event, work, verdict, music, PLAYERS[int(rng.integers(2))],
            ROOMS[int(rng.integers(3))], marks, fits,
        )  # fmt: skip
        out.append(entry_now(replace(entry, drum=drum, readings=()), result, heard, said, when))
        when += timedelta(days=int(rng.integers(4, 11)))
        when = when.replace(hour=int(rng.integers(10, 19)), minute=5 * int(rng.integers(12)))
    return out


def _moved(drum: Drum, cents: float) -> Drum:
    ratio = 2.0 ** (cents / 1200.0)
    out = drum
    found = predict(drum)
    for side, hz in zip(drum.sides, found.lug_pitches_hz, strict=True):
        out = out.with_setting(side, out.setting(side).at_pitch(round(hz * ratio, 2)))
    return out


def main() -> None:
    rng = np.random.default_rng(1903)
    log = [kept for entry in demo_workshop().entries for kept in season_of(entry, rng)]
    OUT.write_text(as_lines(log))
    heard = sum(one.heard_hz is not None for one in log)
    print(f"{len(log)} entries, {heard} with their fundamental heard, {OUT.stat().st_size} bytes")


if __name__ == "__main__":
    main()
