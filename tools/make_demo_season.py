"""Make the log of the demo: a season of the invented Tern Island Opera, sixty entries, six drums.

The drums behind it are not quite as they are said to be, strokes are those of the drum that is not
there, heard by the program itself; invented like everything in the demo. Run
`python -m tools.make_demo_season` (half a minute) and look at what it wrote.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np

from kesselton.app.hearing.heard_drum import hear_drum, simulated_stroke
from kesselton.app.prediction.predictor import BenchResult, usable_ranges
from kesselton.app.workshop.log_entries import Said, current_entry
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.beater import TYPICAL_BEATER, Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Attached, Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.measure.rods import give_of, tension_per_turn
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.store.formats.log_file import as_lines
from kesselton.store.workshop.attachments import digest_of, flac_of
from kesselton.store.workshop.holdings import Entry

OUT = Path(__file__).resolve().parents[1] / "src/kesselton/resources/demo/tern-island-season.jsonl"
SOUNDS = OUT.parent / "sounds"
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
WEARS = (
    ("fitted", 0.0), ("next_day", -31.0), ("set", 0.0), ("broken", 0.0), ("fitted", 0.0),
    ("next_day", -35.0), ("set", 20.0), ("drifted", -24.0), ("retuned", 0.0), ("set", 0.0),
)  # fmt: skip
"""The same of the drum that is played hardest: its batter head goes in the middle."""
ENDS_ON = {"first percussion": 0.0, "second percussion": 70.0}
"""Cents each player adds to the resonant head."""
SLIPPED = (2, 6)
"""Of the second drum the entry in which a rod had slipped: it does not fit the others."""
KEPT_S, READ_CENTS = 1.2, 2.5


def real_of(drum: Drum, rng: np.random.Generator) -> Callable[[Drum], Drum]:
    """What the drum truly is, whatever it is set to: its films and its shell are not as said."""
    factors = {side: 1.0 + float(rng.normal(0.0, 0.018)) for side in drum.sides}
    mass = drum.shell.own_mass(drum.kind)[0] * float(np.exp(rng.normal(0.0, 0.2)))

    def real(said: Drum) -> Drum:
        out = replace(said, shell=replace(said.shell, mass_kg=round(mass, 2)))
        for side, factor in factors.items():
            setting = out.setting(side)
            heavy = round(factor * setting.head.base_density_kg_per_m2, 5)
            head = replace(setting.head, areal_density_kg_per_m2=heavy)
            out = out.with_setting(side, replace(setting, head=head))
        return out

    return real


def season_of(entry: Entry, rng: np.random.Generator) -> tuple[list[Kept], bytes]:
    """Ten entries of one drum, and the sound of the last stroke."""
    out: list[Kept] = []
    sound = b""
    when = BEGINS + timedelta(days=int(rng.integers(0, 5)), hours=entry.id)
    events = WEARS if entry.id == 1 else EVENTS
    real = real_of(entry.drum, np.random.default_rng([1903, entry.id]))
    damp = 0.5
    for take, (event, cents) in enumerate(events):
        player = PLAYERS[int(rng.integers(2))]
        apart = ENDS_ON[player] if event in ("set", "retuned") else 0.0
        drum = _moved(entry.drum, cents + float(rng.normal(0.0, 6.0)), apart)
        damp = 0.65 if event == "drifted" else 0.5
        degrees = 18.0 + 2.0 * float(rng.integers(0, 4))
        drum = replace(drum, air=replace(drum.air, temperature_c=degrees, relative_humidity=damp))
        stroke = Stroke(0.3, TYPICAL_BEATER[drum.kind], 1.0)
        there = real(_moved(drum, float(rng.normal(0.0, READ_CENTS)), 0.0))
        if (entry.id, take) == SLIPPED:
            there = real(_moved(drum, -70.0, 0.0))
        samples, rate = simulated_stroke(there, stroke, entry.id, take)
        try:
            heard = hear_drum(samples, rate, drum, stroke)
        except KesseltonError:
            heard = None
        prediction = predict(drum, stroke)
        result = BenchResult(entry.id, drum, prediction, usable_ranges(drum, stroke), stroke)
        work, music = WORKS[int(rng.integers(len(WORKS)))]
        verdict, marks, fits = VERDICTS[int(rng.integers(len(VERDICTS)))]
        side = "batter" if event in ("fitted", "pressed", "broken") else ""
        if event == "broken":
            verdict, marks, fits = "broke at the stick spot, pits all around it", (), ""
        signs = ("pits",) if event == "broken" else ()
        if (entry.id, take) == SLIPPED:
            verdict, marks, fits = "rod 3 had slipped, seen too late", (), "low"
        said = Said(
            event=event,
            side=side,
            what_for=work,
            verdict=verdict,
            music=music,
            player=player,
            room=ROOMS[int(rng.integers(3))],
            marks=marks,
            fits=fits,
            wires="strainer at 6 of 10, 20 strands" if drum.kind == "snare" else "",
            shows=float(rng.integers(1, 5)) if take else 0.0,
            signs=signs,
        )
        readings = _turns(prediction, rng) if event in ("fitted", "retuned") else ()
        attached: list[Attached] = []
        if take == len(events) - 1 and heard is not None:
            sound = flac_of(samples[: int(KEPT_S * rate)], rate)
            attached = [Attached("stroke.flac", "flac", digest_of(sound))]
        made = replace(entry, drum=drum, readings=readings)
        out.append(current_entry(made, result, heard, said, when, attached))
        when += timedelta(days=int(rng.integers(4, 11)))
        when = when.replace(hour=int(rng.integers(10, 19)), minute=5 * int(rng.integers(12)))
    return out, sound


def _turns(found: Prediction, rng: np.random.Generator) -> tuple[Reading, ...]:
    """Turns past finger tight as they were counted: lugs give a quarter more than is assumed."""
    drum = found.drum
    if drum.kind == "rope":
        return ()
    thread, out = THREADS[drum.shell.rod_thread], []
    for place, side in enumerate(drum.sides):
        gained = tension_per_turn(drum, drum.setting(side).head, thread)
        turns = give_of(drum).take_up + 1.25 * found.tensions_n_per_m[place] / gained
        turns *= 1.0 + float(rng.normal(0.0, 0.05))
        eighths = max(round(8.0 * turns), 1) / 8.0
        out.append(Reading("turns", eighths, side, hz=round(found.lug_pitches_hz[place], 1)))
    return tuple(out)


def _moved(drum: Drum, cents: float, apart: float) -> Drum:
    out = drum
    prediction = predict(drum)
    for place, (side, hz) in enumerate(zip(drum.sides, prediction.lug_pitches_hz, strict=True)):
        ratio = 2.0 ** ((cents + place * apart) / 1200.0)
        out = out.with_setting(side, out.setting(side).at_pitch(round(hz * ratio, 2)))
    return out


def main() -> None:
    rng = np.random.default_rng(1903)
    made = [season_of(entry, rng) for entry in demo_workshop().entries]
    log = [one for kept, _ in made for one in kept]
    OUT.write_text(as_lines(log))
    SOUNDS.mkdir(exist_ok=True)
    for old in SOUNDS.glob("*.flac"):
        old.unlink()
    for _, sound in made:
        if sound:
            (SOUNDS / f"{digest_of(sound)}.flac").write_bytes(sound)
    heard = sum(one.heard_hz is not None for one in log)
    print(f"{len(log)} entries, {heard} with their fundamental heard, {OUT.stat().st_size} bytes")


if __name__ == "__main__":
    main()
