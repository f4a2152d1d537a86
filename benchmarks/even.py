"""Clearing simulated drums: this solver against two methods of the hand, round by round."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import numpy as np

from benchmarks.tables import keep
from kesselton.core.clear.clearing import assess
from kesselton.core.clear.clearing_records import LIMITS, Clearing, at_rod
from kesselton.core.clear.rim import rim_of
from kesselton.core.clear.simulated import SimulatedHead, random_faults
from kesselton.core.clear.turning import plan_turns
from kesselton.core.fit.tightening_sequence import star_order
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell
from kesselton.core.measure.gauges import DIAL_NOISE

CENTS = 1200.0 / np.log(2.0)
DRUMS = int(os.environ.get("KESSELTON_BENCH_DRUMS", "200"))
ROUNDS = 3
MAX_ROUNDS = 8
CLEAR_CENTS = 10.0
HOOPS = ("flanged_1_6mm", "flanged_2_3mm", "die_cast")
SIZES = {6: (0.3048, 1600.0), 8: (0.3556, 2400.0), 10: (0.3556, 3300.0)}
"""Head diameter and tension by rods: a 12 in tom, a 14 in tom, a 14 in snare."""
HAND_STEP, HAND_MOST, HAND_LEAST = 1.0 / 32.0, 0.25, 1.0 / 48.0
METHODS = ("dial", "pitch", "dial and pitch", "dial twice and pitch", "hand, dial", "hand, pitch")


def drum_of(rods: int, hoop: str) -> Drum:
    """The drum all of one column are like."""
    diameter, tension = SIZES[rods]
    head = Head("single 10 mil", plies_m=(254e-6,))
    return Drum(
        "drum", "tom", Shell(diameter, 0.18, rods, hoop),
        HeadSetting(head, tension), HeadSetting(head, 1.2 * tension),
    )  # fmt: skip


def spreads(head: SimulatedHead) -> tuple[float, float]:
    """Cents between the extremes: of lug pitch, of tension beside the rods."""
    return float(np.ptp(CENTS * np.log(head.pitches()))), float(np.ptp(head.local_cents()))


Spreads = tuple[float, float]


def by_solver(head: SimulatedHead, kinds: tuple[str, ...]) -> Iterator[Spreads]:
    """Rounds as the program leads them."""
    clearing = Clearing()
    while True:
        if "pitch" in kinds:
            for rod, hz in enumerate(head.read_pitches(), start=1):
                clearing = clearing.with_tap(at_rod("lug_pitch", rod, float(hz)))
        times = 2 if "dial twice" in kinds else int("dial" in kinds)
        if times:
            seen = np.mean([head.read_dial() for _ in range(times)], axis=0)
            for rod, value in enumerate(seen, start=1):
                if value >= LIMITS["dial"][0]:  # else it stands at its stop
                    tap = at_rod("dial", rod, float(value), DIAL_NOISE / times**0.5)
                    clearing = clearing.with_tap(tap)
        turns = plan_turns(assess(head.drum, clearing), clearing.step).turns
        head.turn(turns)
        clearing = clearing.turned(tuple(turns.tolist()))
        yield spreads(head)


def by_hand(head: SimulatedHead, kind: str) -> Iterator[Spreads]:
    """Rounds in star order: read a rod, turn it towards the mean of the round, go on.

    The hand knows well what one rod does to its own reading; it does not reckon with the others.
    """
    rim = rim_of(head.drum, "batter", 1.0, 1.0)
    rods = rim.rods
    if kind == "dial":
        effect = 100.0 * float(rim.dial_rows[0, 0]) / head.start_n_per_m  # divisions a turn
    else:
        effect = CENTS * float(rim.pitch_rows[0, 0]) / head.start_n_per_m

    def read() -> np.ndarray:
        return head.read_dial() if kind == "dial" else CENTS * np.log(head.read_pitches())

    while True:
        wanted = float(read().mean())
        for rod in star_order(rods):
            turn = (wanted - float(read()[rod - 1])) / effect
            turn = float(np.clip(HAND_STEP * round(turn / HAND_STEP), -HAND_MOST, HAND_MOST))
            if abs(turn) >= HAND_LEAST:
                turns = np.zeros(rods)
                turns[rod - 1] = turn
                head.turn(turns)
        yield spreads(head)


def one(case: tuple[int, str, int, str]) -> tuple[list[Spreads], int, int]:
    """One drum by one method: spreads after every round, rods moved in three rounds, and until all
    lug pitches first lay within ten cents."""
    rods, hoop, seed, method = case
    drum = drum_of(rods, hoop)
    hidden = random_faults(rods, np.random.default_rng(seed))
    head = SimulatedHead(drum, "batter", replace(hidden), seed)
    if method.startswith("hand"):
        going = by_hand(head, "dial" if "dial" in method else "pitch")
    else:
        going = by_solver(head, tuple(method.split(" and ")))
    out: list[Spreads] = []
    in_three = to_clear = 0
    for found in itertools.islice(going, MAX_ROUNDS):
        out.append(found)
        if len(out) <= ROUNDS:
            in_three = head.moves
        if not to_clear and found[0] <= CLEAR_CENTS:
            to_clear = head.moves
        if to_clear and len(out) >= ROUNDS:
            break
    return out[:ROUNDS], in_three, to_clear or head.moves


def even_figures() -> list[tuple[str, float, str, str, float]]:
    """Share within ten cents after three rounds, what is left in tension, rods moved."""
    table: dict[tuple[int, str], tuple[np.ndarray, float, float]] = {}
    rounds: list[list[str]] = []
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for rods in SIZES:
            for method in METHODS:
                cases = [(rods, h, s, method) for h in HOOPS for s in range(DRUMS)]
                found = list(pool.map(one, cases, chunksize=25))
                spread = np.array([f[0] for f in found])
                moves, to_clear = (float(np.mean([f[i] for f in found])) for i in (1, 2))
                table[rods, method] = (spread, moves, to_clear)
                within = 100.0 * np.mean(spread[:, :, 0] <= CLEAR_CENTS, axis=0)
                pitch = np.median(spread[:, :, 0], axis=0)
                local = np.median(spread[:, :, 1], axis=0)
                row = [str(rods), method, _three(within, 1), _three(pitch, 1), _three(local, 0),
                       f"{moves:.1f}", f"{to_clear:.1f}"]  # fmt: skip
                rounds.append(row)
                print("  " + ", ".join(row), flush=True)
    _keep_rounds(rounds)
    out = []
    for rods in SIZES:
        hand = _within(table[rods, "hand, dial"][0])
        for method, name in (("dial and pitch", "dial"), ("dial", "dialonly")):
            value = _within(table[rods, method][0])
            out.append((f"even_{name}_within10_r3_{rods}rods_percent", value, "%",
                        f"the hand with the dial, {hand:.0f} %", value / hand))  # fmt: skip
        hand = _within(table[rods, "hand, pitch"][0])
        value = _within(table[rods, "pitch"][0])
        out.append((f"even_pitch_within10_r3_{rods}rods_percent", value, "%",
                    f"the hand by pitch, {hand:.0f} %", value / hand))  # fmt: skip
        local = float(np.median(table[rods, "dial and pitch"][0][:, -1, 1]))
        by = float(np.median(table[rods, "hand, dial"][0][:, -1, 1]))
        out.append((f"even_local_spread_r3_{rods}rods_cents", local, "cents",
                    f"the hand with the dial, {by:.0f} cents", by / local))  # fmt: skip
        twice = float(np.median(table[rods, "dial twice and pitch"][0][:, -1, 1]))
        out.append((f"even_local_spread_read_twice_r3_{rods}rods_cents", twice, "cents",
                    f"the hand with the dial, {by:.0f} cents", by / twice))  # fmt: skip
        unseen = float(np.median(table[rods, "pitch"][0][:, -1, 1]))
        by = float(np.median(table[rods, "hand, pitch"][0][:, -1, 1]))
        out.append((f"even_pitch_unseen_r3_{rods}rods_cents", unseen, "cents",
                    f"the hand by pitch, {by:.0f} cents", by / unseen))  # fmt: skip
    ours, by = (
        float(np.median(np.concatenate([table[rods, m][0][:, -1, 1] for rods in SIZES])))
        for m in ("dial and pitch", "hand, dial")
    )
    out.append(("even_local_spread_r3_cents", ours, "cents",
                f"the hand with the dial, {by:.0f} cents", by / ours))  # fmt: skip
    for name, column in (("even_moves_vs_hand_ratio", 1), ("even_moves_to_clear_ratio", 2)):
        moved = np.mean([table[rods, "dial and pitch"][column] for rods in SIZES])
        hand = np.mean([table[rods, "hand, dial"][column] for rods in SIZES])
        out.append((name, float(moved / hand), "of the hand's moves",
                    f"the hand with the dial, {hand:.1f}", float(hand / moved)))  # fmt: skip
    return out


def _three(values: np.ndarray, digits: int) -> str:
    return " / ".join(f"{value:.{digits}f}" for value in values)


def _keep_rounds(rows: list[list[str]]) -> None:
    keep(
        "Clearing, round by round",
        f"{len(HOOPS) * DRUMS} simulated drums each, three hoops, after rounds 1 / 2 / 3: rods out by "
        "0.12 turn, a hand inexact by 15 %, dial 0.75 divisions of a per cent, pitch 3.5 cents; "
        "hidden hoop, collar and lugs, second head and air, film not alike both ways, a dent in the "
        "edge of a tenth. Spreads are medians, largest less smallest. The last column counts rods "
        "turned until all lug pitches first lie within ten cents, eight rounds at most. The hand "
        "reads again before every rod.",
        ["rods", "read by", "within 10 cents, %", "lug pitch, cents", "tension at the rods, cents",
         "rods turned in three rounds", "until within 10 cents"],
        rows,
    )  # fmt: skip


def _within(spread: np.ndarray) -> float:
    return float(100.0 * np.mean(spread[:, -1, 0] <= CLEAR_CENTS))
