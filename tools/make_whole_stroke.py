"""Learns to tell a stroke on a whole drum from a tap, from recorded strokes and made taps.

    python -m tools.make_whole_stroke          writes src/kesselton/core/data/whole_stroke.npz
    python -m tools.make_whole_stroke judge    leaves one kit out after another

Strokes are those of benchmarks/recorded/table.json that are installed, each also as a worse
microphone has it; taps those of both makers. Of each only what `hear` would name without this
counts. Needs requirements/bench.lock.
"""

from __future__ import annotations

import sys
from typing import Any

import numpy as np
from benchmarks import taps, taps2
from benchmarks.recorded.confidence import disturbed
from benchmarks.recordings import strokes

from kesselton.core.clear.taps import tap
from kesselton.core.clear.taps.tap_naming import Expected
from kesselton.core.clear.taps.tap_sound import checked, tap_start
from kesselton.core.clear.taps.whole_stroke import WHOLE, evidence_whole
from kesselton.core.errors import InputError
from tools.forests import fitted, write

FIRST_TAPS, SECOND_TAPS = range(3000, 3500), range(90000, 90900)
KITS, KINDS = "BCFGMNS", ("tom", "snare", "bass", "cbass")
OVER_LUG = 1.58
"""Lug pitch over fundamental, about."""
OFF_CENTS, VERSIONS, SEED = 300.0, 14, 1000
AS_RECORDED, FASTER_OCTAVES = 6, 0.45
"""So many versions are as fast as they were played; the others sound as on a smaller or larger drum
of the same make, up to so much higher or lower."""


def named(sound: np.ndarray, rate: float, near: Any) -> np.ndarray | None:
    """Evidence, where it is named as a tap; None where it is refused anyhow."""
    try:
        heard = tap.hear(sound, rate, near)
    except InputError:
        return None
    whole = checked(sound, rate)
    return evidence_whole(whole, rate, tap_start(whole, rate), heard.lug_pitch_hz, near is not None)


def of_taps() -> list[tuple[str, np.ndarray]]:
    """Of both makers, each without and with what is expected."""
    out = []
    for seed in FIRST_TAPS:
        sound, _, near = taps.one_tap(seed)
        out += [("tap", named(sound, taps.RATE_HZ, one)) for one in (None, near)]
    for seed in SECOND_TAPS:
        made = taps2.one_tap(seed)
        both = (None, Expected(made.near_hz, tones=made.tones))
        out += [("tap", named(made.samples, taps2.RATE_HZ, one)) for one in both]
    return [(name, row) for name, row in out if row is not None]


def of_strokes() -> list[tuple[str, np.ndarray]]:
    """Of recorded whole strokes, by kit."""
    out = []
    for number, (drum, fit, sound) in enumerate(strokes(tuple(KITS), KINDS)):
        rng = np.random.default_rng(SEED + number)
        for version in range(VERSIONS):
            x, faster = sound.samples, 1.0
            if version:
                x = disturbed(x, sound.rate, rng, [])
            if version >= AS_RECORDED:
                faster = 2.0 ** rng.uniform(-FASTER_OCTAVES, FASTER_OCTAVES)
            own = OVER_LUG * fit["hz"] * faster
            for near in (None, own, own * 2.0 ** (rng.normal(0.0, OFF_CENTS) / 1200.0)):
                row = named(x, sound.rate * faster, None if near is None else Expected(near))
                if row is not None:
                    out.append((drum["kit"], row))
    return out


def main(words: list[str]) -> None:
    """Learn, or judge."""
    tap.SEARCH_WHOLE = False
    made = of_taps() + of_strokes()
    kits = np.array([name for name, _ in made])
    rows, whole = np.array([row for _, row in made]), kits != "tap"
    if words != ["judge"]:
        write(WHOLE, fitted(rows, whole))
        return
    from kesselton.core.forest import forest

    half = np.arange(len(kits)) % 2 == 0
    for kit in KITS:
        learn = (kits != kit) & (whole | half)
        write(WHOLE, fitted(rows[learn], whole[learn]))
        forest.cache_clear()  # type: ignore[attr-defined]
        share = forest(WHOLE).share(rows)
        known = rows[:, 16] > 0.5
        for sure in (0.05, 0.12, 0.27, 0.5):
            said = share > sure
            print(
                kit, sure, "taken for taps", int((~said & (kits == kit)).sum()), "of",
                int((kits == kit).sum()),
                "taps refused, known", round(100.0 * float(said[~whole & ~half & known].mean()), 2),
                "unknown", round(100.0 * float(said[~whole & ~half & ~known].mean()), 2),
            )  # fmt: skip


if __name__ == "__main__":
    main(sys.argv[1:])
