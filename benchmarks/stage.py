"""Clearing against the clock on simulated heads: by what is gained a second, against going round."""

from __future__ import annotations

import os
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from benchmarks.even import CENTS, HAND_LEAST, HAND_MOST, HAND_STEP, HOOPS, SIZES, drum_of
from kesselton.core.clear.clearing_records import MIN_DIAL, Clearing, at_rod
from kesselton.core.clear.rim import rim_of
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.core.fit.tightening_sequence import star_order
from kesselton.core.shows import race

DRUMS = int(os.environ.get("KESSELTON_BENCH_DRUMS", "200")) // 8
MINUTES = 4.0
WAYS = (("dial", "stage_spread"), ("lug_pitch", "stage_pitch_spread"))
"""What is read, and what the figure is called."""
Case = tuple[int, str, int, str, str]


def head_of(case: Case) -> SimulatedHead:
    """One drum among many, as it comes from being fitted."""
    rods, hoop, seed, _, _ = case
    return SimulatedHead(
        drum_of(rods, hoop), "batter", random_faults(rods, np.random.default_rng(seed)), seed
    )


def spread(head: SimulatedHead) -> float:
    """Cents between the extremes of lug pitch."""
    return float(np.ptp(CENTS * np.log(head.pitches())))


def one(case: Case) -> tuple[float, float]:
    """Spread at the beginning and when the curtain rises."""
    head = head_of(case)
    begun = spread(head)
    if case[3] == "gain":
        by_gain(head, (case[4],))
    else:
        by_hand(head, case[4], case[3] == "sharp")
    return begun, spread(head)


def _reads(head: SimulatedHead, kind: str, rod: int) -> float:
    """One reading on a stage."""
    if kind == "dial":
        return max(float(head.read_dial()[rod - 1]), MIN_DIAL)  # at its stop
    noise = race.STAGE_PITCH_CENTS * head.rng.standard_normal()
    return float(head.pitches()[rod - 1] * np.exp(noise / CENTS))


def by_gain(head: SimulatedHead, kinds: tuple[str, ...]) -> None:
    """As the program leads it."""
    clearing, rods, left = Clearing(), head.rim.rods, 60.0 * MINUTES
    while True:
        advice = race.advise(head.drum, clearing, left, kinds)
        if advice.what == race.ENOUGH:
            return
        if advice.what == race.READ:
            left -= race.READ_S
            value = _reads(head, advice.kind, advice.rod)
            clearing = race.read(clearing, at_rod(advice.kind, advice.rod, value), advice.state)
            continue
        left -= race.TURN_S
        turns = np.zeros(rods)
        turns[advice.rod - 1] = advice.turns
        head.turn(turns)
        clearing = race.done(clearing, rods, advice.rod, advice.turns)


def by_hand(head: SimulatedHead, kind: str, sharp: bool) -> None:
    """Going round by hand until the curtain rises.

    As in `even`: all rods are read for their mean, then rod after rod in star order is read and
    turned towards it, and so on; the hand knows what a rod does to its own reading. A `sharp` hand
    reads no rod twice in the first round, and afterwards keeps the mean in mind instead of reading
    all rods for it.
    """
    rim = rim_of(head.drum, "batter", 1.0, 1.0)
    rods, left = rim.rods, 60.0 * MINUTES
    if kind == "dial":
        effect = 100.0 * float(rim.dial_rows[0, 0]) / head.start_n_per_m
    else:
        effect = CENTS * float(rim.pitch_rows[0, 0]) / head.start_n_per_m
    known = np.full(rods, np.nan)
    first = True
    while True:
        if first or not sharp:
            for rod in star_order(rods):
                if left < race.READ_S:
                    return
                known[rod - 1] = _seen(_reads(head, kind, rod), kind)
                left -= race.READ_S
            wanted = float(known.mean())
        for rod in star_order(rods):
            if not (first and sharp):
                if left < race.READ_S:
                    return
                known[rod - 1] = _seen(_reads(head, kind, rod), kind)
                left -= race.READ_S
            if sharp:
                wanted = float(known.mean())
            turn = (wanted - known[rod - 1]) / effect
            turn = float(np.clip(HAND_STEP * round(turn / HAND_STEP), -HAND_MOST, HAND_MOST))
            if abs(turn) < HAND_LEAST:
                continue
            if left < race.TURN_S:
                return
            turns = np.zeros(rods)
            turns[rod - 1] = turn
            head.turn(turns)
            known[rod - 1] += effect * turn
            left -= race.TURN_S
        first = False


def _seen(value: float, kind: str) -> float:
    return value if kind == "dial" else CENTS * float(np.log(value))


def stage_figures(drums: int = DRUMS) -> list[tuple[str, float, str, str, float]]:
    """`stage_spread_ratio`: what is left after four minutes over what going round leaves, by dial;
    the same by key taps over a band, and against a sharper hand."""
    rows = []
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for kind, name in WAYS:
            left: dict[str, list[float]] = {}
            for who in ("gain", "hand", "sharp"):
                cases = [(r, h, s, who, kind) for r in SIZES for h in HOOPS for s in range(drums)]
                left[who] = [end for _, end in pool.map(one, cases, chunksize=5)]
            for place, rods in enumerate(SIZES):
                part = slice(place * len(HOOPS) * drums, (place + 1) * len(HOOPS) * drums)
                mine, hand = (float(np.median(left[who][part])) for who in ("gain", "hand"))
                against = f"going round by hand, {hand:.1f} cents"
                rows.append((f"{name}_{rods}rods_cents", mine, "cents", against, hand / mine))
            for who, more in (("hand", "ratio"), ("sharp", "sharp_hand_ratio")):
                ratio = float(np.median(left["gain"]) / np.median(left[who]))
                against = f"a goal of 0.6; {np.median(left['gain']):.1f} cents are left"
                what = "of going round by hand" if who == "hand" else "of a sharper hand"
                rows.append((f"{name}_{more}", ratio, what, against, 0.6 / ratio))
    return rows
