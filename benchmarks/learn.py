"""How soon a log narrows the ± of a drum, on drums drawn from everything unstated at once.

What is learned from is made by `coverage`: a drum that is not as it is said to be, set anew for
every entry by lug pitches that are read a little wrong, heard a little wrong.
"""

from __future__ import annotations

import sys
import time
from dataclasses import replace

import numpy as np

from benchmarks.coverage import SEED, Case, cases
from kesselton.core.acoustics.solver.lug import lug_pitch
from kesselton.core.acoustics.solver.partials import fundamental_hz
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.log.own_note import (
    computed,
    computed_then,
    heads_now,
    of_this_drum,
    own_note,
    point,
)
from kesselton.core.measure.readings import Observation, estimate
from kesselton.core.measure.rods import give_of, tension_per_turn
from kesselton.core.measure.turn_line import learn_turns

COUNT, FEWER, ENTRIES = 120, 40, 8
HEARD_SD = 1.0


def season(case: Case, rng: np.random.Generator) -> list[Kept]:
    """Entries of one drum, each set elsewhere; the last is only asked about."""
    out = []
    for day in range(ENTRIES + 1):
        pair = tuple(t * float(np.exp(rng.normal(0.0, 0.25))) for t in case.tensions_n_per_m)
        said = case.said
        for side in said.sides:
            hz = lug_pitch(case.real, side, pair, outside=case.outside)
            read = hz * 2.0 ** (rng.normal(0.0, 3.0) / 1200.0)
            said = said.with_setting(side, said.setting(side).at_pitch(read))
        real = fundamental_hz(case.real, pair, case.outside)
        heard = real * 2.0 ** (rng.normal(0.0, HEARD_SD) / 1200.0)
        out.append(
            Kept(f"2026-03-{day + 1:02d}T10:00", said, heard_hz=heard, heard_half_cents=1.645)
        )
    return out


SCATTERS_CENTS, WRONG_FIRST_CENTS, WRONG_SECOND_CENTS = 12.0, 150.0, 40.0


def disturbed(log: list[Kept], how: str, rng: np.random.Generator) -> list[Kept]:
    """A log whose entries scatter, or of which one is wrong; the last, which is asked about, is what
    the drum does."""

    def moved(one: Kept, cents: float) -> Kept:
        assert one.heard_hz is not None
        return replace(one, heard_hz=one.heard_hz * 2.0 ** (cents / 1200.0))

    if how == "scatter":
        return [*(moved(one, rng.normal(0.0, SCATTERS_CENTS)) for one in log[:-1]), log[-1]]
    sign = float(rng.choice([-1.0, 1.0]))
    wrong = {"first": (0, WRONG_FIRST_CENTS), "second": (1, WRONG_SECOND_CENTS)}
    if how in wrong:
        at, cents = wrong[how]
        return [moved(one, sign * cents) if i == at else one for i, one in enumerate(log)]
    return log


def measure(
    count: int, seed: int, how: str = "plain"
) -> dict[int, tuple[float, float, float, float]]:
    """By entries: rms, median half-width, how often it held in per cent, half-width over before."""
    rng = np.random.default_rng(seed + 5)
    off: dict[int, list[float]] = {}
    half: dict[int, list[float]] = {}
    ratio: dict[int, list[float]] = {}
    for case in cases(count, seed):
        try:
            log = disturbed(season(case, rng), how, rng)
            asked = log.pop()
            now = computed(asked.drum)
            true = 1200.0 * float(np.log2(asked.heard_hz / now.hz))
            for entries in (0, 1, 2, 3, 4, 8):
                part = log[:entries]
                points = [point(k, h, computed_then(k)) for k, h in of_this_drum(part, asked.drum)]
                own = own_note(points, now, heads_now(part, asked.drum))
                mean, width = (0.0, now.half_cents) if own is None else (own.cents, own.total_cents)
                off.setdefault(entries, []).append(true - mean)
                half.setdefault(entries, []).append(width)
                ratio.setdefault(entries, []).append(width / now.half_cents)
        except KesseltonError:
            continue
    return {
        n: (
            float(np.sqrt(np.mean(np.square(off[n])))),
            float(np.median(half[n])),
            100.0 * float(np.mean(np.abs(off[n]) < half[n])),
            float(np.median(ratio[n])),
        )
        for n in off
    }


def measure_turns(count: int, seed: int, stays: bool) -> dict[int, tuple[float, float]]:
    """By notes of turns: median half-width of the batter's tension in per cent by turns alone, and
    how often it held. With one head that `stays` on, or with another one for every note."""
    rng = np.random.default_rng(seed + 9)
    half: dict[int, list[float]] = {}
    held: dict[int, list[bool]] = {}
    for case in cases(count, seed):
        real, true = case.real, case.tensions_n_per_m[0]
        give = give_of(real)
        per_turn = tension_per_turn(real, real.batter.head, THREADS[case.said.shell.rod_thread])
        factor = float(np.exp(rng.normal(0.0, give.sd)))
        first = give.take_up + rng.normal(0.0, give.take_up_sd)
        # from one fitting to the next, and from one reading to the next, as nobody knows it
        of_fitting, of_reading = rng.uniform(0.035, 0.1), rng.uniform(0.015, 0.05)
        seat = rng.normal(0.0, of_fitting)
        notes = []
        for _ in range(5):
            tension = true * float(np.exp(rng.normal(0.0, 0.25)))
            if not stays:
                seat = rng.normal(0.0, of_fitting)
            give_now = factor * (1.0 + seat + rng.normal(0.0, of_reading))
            turns = first + give_now * tension / per_turn
            told = tension * float(np.exp(rng.normal(0.0, 0.02)))
            notes.append((float(np.clip(turns + rng.normal(0.0, 0.05), 0.01, 20.0)), told, tension))
        asked = notes.pop()
        for entries in (0, 1, 2, 4):
            noted = [(turns, told) for turns, told, _ in notes[:entries]]
            fittings = [noted] if stays else [*([one] for one in noted), []]
            line = learn_turns(case.said, "batter", fittings)
            one = Observation(Reading("turns", asked[0]), line, thread=case.said.shell.rod_thread)
            low, high = estimate(case.said, [one]).interval(0)
            half.setdefault(entries, []).append(50.0 * float(np.log(high / low)))
            held.setdefault(entries, []).append(low < asked[2] < high)
    return {n: (float(np.median(half[n])), 100.0 * float(np.mean(held[n]))) for n in half}


def update_ms() -> tuple[float, float]:
    """One more entry among sixty, as the worker takes it, against all of them anew: medians."""
    rng = np.random.default_rng(SEED)
    case = next(iter(cases(1, SEED)))
    log = [*season(case, rng), *season(case, rng)]
    asked, rest = log[-1], log[:-1]
    now = computed(asked.drum)
    points = [point(one, h, computed_then(one)) for one, h in of_this_drum(rest, asked.drum)]
    many = (points * 4)[:59]
    heads = heads_now(log, asked.drum)

    def once() -> None:
        own_note([*many, point(asked, heads, computed_then(asked))], now, heads)

    def anew() -> None:
        for one in rest:
            computed_then(one)

    times = []
    for run in (once, anew):
        took = []
        for _ in range(7):
            began = time.perf_counter()
            run()
            took.append(1000.0 * (time.perf_counter() - began))
        times.append(float(np.median(took)))
    return times[0], times[1] * 60.0 / len(rest)


def learn_figures() -> list[tuple[str, float, str, str, float]]:
    """How much narrower after four entries, whether that holds, and what an update takes."""
    note = measure(COUNT, SEED)
    turns, others = (measure_turns(COUNT, SEED, stays) for stays in (True, False))
    scattered, wrong = (measure(FEWER, SEED, how)[4] for how in ("scatter", "first"))
    took, anew = update_ms()
    goal = "half of the ± before"
    return [
        ("learn_halfwidth_ratio_4", note[4][3], "of before", goal, note[4][3] / 0.5),
        ("learn_coverage90_percent", note[4][2], "%", "the 90 % stated", note[4][2] / 90.0),
        ("learn_rms_4_cents", note[4][0], "cents", "before anything", note[4][0] / note[0][0]),
        ("learn_scatter_coverage90_percent", scattered[2], "%", "the 90 % stated",
         scattered[2] / 90.0),
        ("learn_wrong_first_coverage90_percent", wrong[2], "%", "the 90 % stated",
         wrong[2] / 90.0),
        ("learn_turns_ratio_2", turns[2][0] / turns[0][0], "of before", "a third of the ± before",
         3.0 * turns[2][0] / turns[0][0]),
        ("learn_turns_coverage90_percent", turns[2][1], "%", "the 90 % stated", turns[2][1] / 90.0),
        ("learn_turns_refitted_ratio_2", others[2][0] / others[0][0], "of before",
         "one head that stays on", turns[2][0] * others[0][0] / turns[0][0] / others[2][0]),
        ("learn_turns_refitted_coverage90_percent", others[2][1], "%", "the 90 % stated",
         others[2][1] / 90.0),
        ("learn_ms", took, "ms", "sixty entries solved anew", took / anew),
    ]  # fmt: skip


if __name__ == "__main__":
    number = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    for how in ("plain", "scatter", "first", "second"):
        for n, row in measure(number, SEED, how).items():
            print(how, n, "rms {:.1f} half {:.1f} held {:.0f} ratio {:.2f}".format(*row))
    for stays in (True, False):
        for n, two in measure_turns(number, SEED, stays).items():
            print(n, "turns, stays" if stays else "turns, refitted",
                  "half {:.1f} held {:.0f}".format(*two))  # fmt: skip
    print(update_ms())
