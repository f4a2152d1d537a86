"""Measure, write benchmarks/results.json, and make docs/benchmarks.md from it.

Every figure is taken together with the thing it is compared with, in one run on one machine.
"""

from __future__ import annotations

import compileall
import json
import os
import platform
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import date
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np

from benchmarks.coverage import coverage_figures
from benchmarks.even import even_figures
from benchmarks.hear import hear_figures
from benchmarks.learn import learn_figures
from benchmarks.log_find import log_find_figures
from benchmarks.real import real_figures
from benchmarks.recordings import recordings_figures, sound_figures
from benchmarks.scale import scale_figures
from benchmarks.sets import set_drag_figures, set_plan_figures, set_render_figures
from benchmarks.stage import stage_figures
from benchmarks.stalls import stall_figures
from benchmarks.strangers import stranger_figures
from benchmarks.sweep import sweep_figures
from benchmarks.tables import as_markdown
from benchmarks.tap_figures import second_maker_figures, tap_figures
from benchmarks.window import window_figures

HERE = Path(__file__).parent
RESULTS = HERE / "results.json"
TABLE = HERE.parent / "docs" / "benchmarks.md"


@dataclass(frozen=True)
class Result:
    """One figure, and how it stands against a named alternative."""

    name: str
    value: float
    unit: str
    against: str
    ratio: float
    machine: str
    date: str


def machine() -> str:
    """Processor and Python, as far as the system tells."""
    model = platform.processor() or platform.machine()
    info = Path("/proc/cpuinfo")
    if info.exists():
        for line in info.read_text().splitlines():
            if line.startswith("model name"):
                model = line.split(":", 1)[1].strip()
                break
    return f"{model}, {os.cpu_count()} cores, CPython {platform.python_version()}"


def median_ms(run: Callable[[], object], repeat: int = 21, batches: int = 9) -> float:
    """Median wall time of a call, milliseconds: of the least disturbed of several batches.

    The machine is shared: whole seconds run at half speed. A median within a batch keeps single
    lucky calls out, the choice among batches keeps the neighbours out.
    """
    run()
    medians = []
    for _ in range(batches):
        times = []
        for _ in range(repeat):
            start = time.perf_counter()
            run()
            times.append(time.perf_counter() - start)
        medians.append(float(np.median(times)))
        time.sleep(0.3)
    return 1e3 * min(medians)


def rack_tom() -> tuple[object, tuple[float, ...]]:
    """The two-headed drum all solver figures are about."""
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.acoustics.solver.lug import tensions

    drum = demo_workshop().entries[1].drum
    return drum, tensions(drum)


def scan_ms(highest_hz: float, orders: int) -> float:
    """The plain alternative: look for sign changes of the determinant on a 1 Hz grid."""
    from kesselton.core.acoustics.solver.partials import drum_system

    drum, tension = rack_tom()
    system = drum_system(drum, tension, tuple(range(orders)))  # type: ignore[arg-type]
    grid = 2.0 * np.pi * np.arange(40.0, highest_hz, 1.0)

    def scan() -> None:
        for order in range(orders):
            row = np.full(len(grid), order)
            value, _ = system.matrices(row, grid.astype(complex))
            np.linalg.slogdet(value.real)

    return median_ms(scan, repeat=1, batches=5)


def partials10_ms() -> list[tuple[str, float, str, str, float]]:
    """Ten lowest partials of a two-headed drum."""
    from kesselton.core.acoustics.solver.partials import partials

    drum, tension = rack_tom()
    value = median_ms(lambda: partials(drum, tension, lowest=10))  # type: ignore[arg-type]
    other = scan_ms(500.0, 6)
    return [("partials10_ms", value, "ms", "determinant on a 1 Hz grid to 500 Hz", other / value)]


def partials2k_ms() -> list[tuple[str, float, str, str, float]]:
    """All partials to m = 8, four circles, 2 kHz."""
    from kesselton.core.acoustics.solver.partials import partials

    drum, tension = rack_tom()
    value = median_ms(lambda: partials(drum, tension), repeat=9)  # type: ignore[arg-type]
    other = scan_ms(2000.0, 9)
    return [("partials2k_ms", value, "ms", "determinant on a 1 Hz grid to 2 kHz", other / value)]


def membrane_vs_fe_ratio() -> list[tuple[str, float, str, str, float]]:
    """One head in vacuo with a dot: ten lowest modes, against scikit-fem at equal accuracy."""
    from tests.validation.test_membranes import fem_frequencies

    from kesselton.core.acoustics.film.mass_matrix import vacuum_frequencies
    from kesselton.core.instrument.head import Addition, Head

    head = Head("x", plies_m=(254e-6,), additions=(Addition("dot", 0.0, 0.05, 254e-6),))
    orders = 6

    def lowest(parts: list[np.ndarray]) -> np.ndarray:
        return np.sort(np.concatenate(parts))[:10]

    def ours(functions: int) -> np.ndarray:
        return lowest(
            [
                vacuum_frequencies(head, 0.1524, 1500.0, m, functions, bending=False)[:4]
                for m in range(orders)
            ]
        )

    def theirs(elements: int) -> np.ndarray:
        return lowest(
            [fem_frequencies(head, 0.1524, 1500.0, m, 4, elements) for m in range(orders)]
        )

    truth = theirs(600)
    error = float(np.abs(ours(12) / truth - 1.0).max())
    elements = next(
        n
        for n in (8, 12, 16, 24, 32, 48, 64, 96)
        if float(np.abs(theirs(n) / truth - 1.0).max()) <= error
    )
    other = median_ms(lambda: theirs(elements), repeat=3, batches=5)
    value = median_ms(lambda: ours(12))
    against = f"scikit-fem, {elements} quadratic elements, both within {error:.1e} of 600"
    return [("membrane_vs_fe_ratio", other / value, "times faster", against, other / value)]


def start_figures() -> list[tuple[str, float, str, str, float]]:
    """CPU seconds from a cold process to the painted rack and to the computed ladder.

    In turn with a bare window that has the same fonts, so that a slow minute slows both; with the
    program's bytecode at hand, as it is from the second start on.
    """
    compileall.compile_dir(HERE.parent / "src", quiet=1)
    runs = []
    for _ in range(7):
        with tempfile.TemporaryDirectory() as home:
            env = {**os.environ, "XDG_DATA_HOME": home, "XDG_CONFIG_HOME": home}
            found: list[float] = []
            for script in ("bare.py", "start.py"):
                done = subprocess.run(
                    [sys.executable, "-c", (HERE / script).read_text()],
                    env=env, capture_output=True, text=True, check=True,
                )  # fmt: skip
                found += [float(x) for x in done.stdout.split()]
        runs.append(found)
    bare, drum_list, ladder, eager = np.median(np.array(runs), axis=0)
    first, window = (
        "the same with every package imported first",
        "a bare window with the same fonts",
    )
    return [
        ("start_rack_cpu_s", float(drum_list), "s CPU", first, float(eager / drum_list)),
        (
            "start_ladder_cpu_s",
            float(ladder),
            "s CPU",
            first,
            float((eager + ladder - drum_list) / ladder),
        ),
        (
            "start_rack_vs_bare_ratio",
            float(drum_list / bare),
            "times",
            window,
            float(bare / drum_list),
        ),
        ("start_ladder_vs_bare_ratio", float(ladder / bare), "times", window, float(bare / ladder)),
    ]


def drag_fps() -> list[tuple[str, float, str, str, float]]:
    """Answers painted per second while a grip of the real ladder is dragged."""
    from PySide6.QtCore import QPointF, Qt
    from PySide6.QtGui import QMouseEvent
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from kesselton.app.host.settings import Settings, SettingsStore
    from kesselton.app.prediction.predictor import Question, answer
    from kesselton.core.instrument.beater import Stroke
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.window.start import open_window

    with tempfile.TemporaryDirectory() as home:
        os.environ["XDG_DATA_HOME"] = os.environ["XDG_CONFIG_HOME"] = home
        app = QApplication.instance() or QApplication([])
        theme.load_fonts()
        window = open_window("demo", SettingsStore(Settings()))
        window.resize(1280, 800)
        while window.result is None or len(window.drum_list.notes) < 6:
            app.processEvents()
            time.sleep(0.002)
        ladder, answers = window.tuning.ladder, []
        window.bench.predictor.answered.connect(lambda a: answers.append(time.perf_counter()))
        grip = ladder.grip_rect("batter").center()
        QTest.mousePress(ladder, Qt.MouseButton.LeftButton, pos=grip.toPoint())
        start = time.perf_counter()
        while time.perf_counter() - start < 10.0:
            sway = 60.0 * np.sin(2.0 * (time.perf_counter() - start))
            point = grip + QPointF(0.0, sway)
            QApplication.sendEvent(
                ladder,
                QMouseEvent(
                    QMouseEvent.Type.MouseMove,
                    point,
                    ladder.mapToGlobal(point),
                    Qt.MouseButton.NoButton,
                    Qt.MouseButton.LeftButton,
                    Qt.KeyboardModifier.NoModifier,
                ),
            )
            app.processEvents()
            time.sleep(0.004)
        # answers in each second after the first; the least disturbed second counts
        late = np.array(answers) - start
        fps = max(int(np.sum((late >= s) & (late < s + 1.0))) for s in np.arange(1.0, 9.1, 0.25))
        QTest.mouseRelease(ladder, Qt.MouseButton.LeftButton, pos=grip.toPoint())
        drum = window.document.drum
        assert drum is not None
        full = 1e3 / median_ms(lambda: answer(Question(1, drum, Stroke())), repeat=9)
        window.close()
    return [
        (
            "drag_fps",
            float(fps),
            "a second",
            "all partials to 2 kHz for every frame, no screen",
            fps / full,
        )
    ]


def inverse_ms() -> list[tuple[str, float, str, str, float]]:
    """Lug pitch to tension, other head muted."""
    from scipy.optimize import brentq

    from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch

    drum, tension = rack_tom()
    pitches = iter(np.linspace(150.0, 260.0, 400))  # a new one each time: answers are remembered
    value = median_ms(lambda: tension_from_pitch(drum, "batter", next(pitches)))  # type: ignore[arg-type]
    other = median_ms(
        lambda: brentq(
            lambda t: lug_pitch(drum, "batter", (t, tension[1])) - 196.0, 100.0, 9000.0, rtol=1e-7
        ),  # type: ignore[arg-type]
        repeat=3,
        batches=5,
    )
    return [("inverse_ms", value, "ms", "Brent's method on the forward model", other / value)]


def choose_figures() -> list[tuple[str, float, str, str, float]]:
    """2,000 pair-and-target problems for a two-headed drum, and putting them in order again."""
    from dataclasses import replace

    from PySide6.QtWidgets import QApplication

    from kesselton.app.workshop.head_stock import offers
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.acoustics.solver.lug import tension_from_pitch
    from kesselton.core.acoustics.solver.partials import partials
    from kesselton.core.heads.brief import typical_brief
    from kesselton.core.heads.choose import choose
    from kesselton.core.heads.criteria import KEYS
    from kesselton.core.instrument.head import Head
    from kesselton.ui.heads.candidate_list import CandidateList

    workshop = demo_workshop()
    drum = workshop.entries[1].drum
    batters = [o.head for o in offers(drum, workshop, "batter")]
    below = [Head(f"{mil:g} mil", plies_m=(mil * 25.4e-6,)) for mil in np.linspace(5.0, 14.0, 16)]
    brief = replace(typical_brief(drum), target="note", fundamental_hz=115.0)
    choose(drum, brief, batters[:3], below[:2])
    seconds = []
    for _ in range(7):
        start = time.perf_counter()
        found = choose(drum, brief, batters, below)
        seconds.append((time.perf_counter() - start) * 2000.0 / found.asked)
        time.sleep(0.3)
    value = min(seconds)
    assert 1700 < found.asked < 2600
    rng = np.random.default_rng(500)
    own = [Head(f"own {n}", plies_m=(float(rng.uniform(1.4e-4, 5e-4)),)) for n in range(500)]
    start = time.perf_counter()
    among = choose(drum, typical_brief(drum), [*batters, *own], [*below, *own])
    many = time.perf_counter() - start

    def alone(number: int) -> None:
        """The plain way: secants on the exact solution until the note is met."""
        pair = found.heads[number]
        hz = 115.0 * np.array([1.5, 1.6])
        notes = []
        for pitch in (*hz, None):
            if pitch is None:
                slope = np.log(notes[1] / notes[0]) / np.log(hz[1] / hz[0])
                pitch = float(hz[1] * (115.0 / notes[1]) ** (1.0 / slope))
            ratio = 2.0 ** (float(found.wishes.interval_cents[number]) / 1200.0)
            fitted = drum
            tension = []
            for side, head, tone in zip(drum.sides, pair, (pitch, pitch * ratio), strict=True):
                fitted = fitted.with_setting(side, replace(fitted.setting(side), head=head))
                tension.append(tension_from_pitch(fitted, side, tone))
            solved = partials(fitted, tuple(tension), lowest=12)
            notes.append(float(solved.frequency_hz[solved.fundamental]))

    some = np.random.default_rng(1).choice(len(found), 25, replace=False).tolist()
    start = time.perf_counter()
    for number in some:
        alone(number)
    one_by_one = (time.perf_counter() - start) / len(some) * 2000.0
    app = QApplication.instance() or QApplication([])
    shown = CandidateList()
    shown.resize(480, 400)
    shown.show()
    rng = np.random.default_rng(2)

    def rerank() -> None:
        weight = rng.uniform(0.0, 5.0, len(KEYS))
        order = found.order(weight).tolist()
        shown.set_state(found, order, found.scores.total(weight), order[0])
        app.processEvents()

    again = median_ms(rerank)
    return [
        ("choose2000_s", value, "s", "one drum at a time, three secants", one_by_one / value),
        ("rerank_ms", again, "ms", "searching again", 1e3 * value / again),
        (
            "choose500_s",
            many,
            "s",
            f"each of {among.asked} settings for itself",
            value / 2000.0 * among.asked / many,
        ),
    ]


def settings_figures() -> list[tuple[str, float, str, str, float]]:
    """Plan and drift of a drum, and how often stated intervals hold."""
    from kesselton.app.bench.measuring import plan
    from kesselton.app.workshop.workshops import demo_workshop
    from kesselton.core.instrument.gauge import DialPair
    from kesselton.core.instrument.reading import Reading
    from kesselton.core.measure.gauges import DIAL_NOISE, PITCH_NOISE_CENTS, fit_dial
    from kesselton.core.measure.readings import Observation, estimate
    from kesselton.core.prediction.prediction import predict

    workshop = demo_workshop()
    entry = workshop.entries[0]
    prediction = predict(entry.drum)
    stage = replace(entry.drum.air, temperature_c=12.0)
    value = median_ms(lambda: plan(entry, workshop, prediction, stage, 24.0))
    other = median_ms(lambda: [predict(entry.drum) for _ in range(2)], repeat=5)
    drum = workshop.entries[1].drum
    thick = drum.batter.head.film_thickness_m
    rng = np.random.default_rng(5)
    inside, total = 0, 1000
    cents = 2.0 * PITCH_NOISE_CENTS * np.log(2.0) / 1200.0
    for _ in range(total):
        truth = float(rng.uniform(900.0, 3500.0))
        pairs = [
            DialPair(
                92.0 - 30000.0 / t + rng.normal(0.0, DIAL_NOISE),
                t * float(np.exp(rng.normal(0.0, cents))),
                thick,
            )
            for t in (800.0, 1600.0, 3200.0)
        ]
        shown = 92.0 - 30000.0 / truth + rng.normal(0.0, DIAL_NOISE)
        low, high = estimate(
            drum, [Observation(Reading("dial", shown), fit=fit_dial(pairs))]
        ).interval(0)
        inside += low < truth < high
    covered = 100.0 * inside / total
    return [
        ("settings_refresh_ms", value, "ms", "the same by two whole predictions", other / value),
        ("coverage90_percent", covered, "%", "the 90 % that are stated", covered / 90.0),
    ]


BENCHMARKS: dict[str, Callable[[], list[tuple[str, float, str, str, float]]]] = {
    "partials10_ms": partials10_ms,
    "partials2k_ms": partials2k_ms,
    "membrane_vs_fe_ratio": membrane_vs_fe_ratio,
    "start": start_figures,
    "drag_fps": drag_fps,
    "inverse_ms": inverse_ms,
    "choose": choose_figures,
    "settings": settings_figures,
    "even": even_figures,
    "tap": tap_figures,
    "tap2": second_maker_figures,
    "hear": hear_figures,
    "learn": learn_figures,
    "log_find": log_find_figures,
    "set_plan": set_plan_figures,
    "set_drag": set_drag_figures,
    "set_render": set_render_figures,
    "coverage": coverage_figures,
    "sweep": sweep_figures,
    "real": real_figures,
    "recordings": recordings_figures,
    "sound": sound_figures,
    "scale": scale_figures,
    "stalls": stall_figures,
    "stage": stage_figures,
    "strangers": stranger_figures,
    "window": window_figures,
}


def main(names: list[str]) -> None:
    unknown = [n for n in names if not any(n in (k, *_also(k)) for k in BENCHMARKS)]
    if unknown:
        raise SystemExit(f"unknown: {', '.join(unknown)}; known: {', '.join(BENCHMARKS)}")
    known = {}
    if RESULTS.exists():
        known = {r["name"]: r for r in json.loads(RESULTS.read_text())}
    where, today = machine(), date.today().isoformat()
    for key, run in BENCHMARKS.items():
        if names and not any(n in (key, *_also(key)) for n in names):
            continue
        for name, value, unit, against, ratio in run():
            result = Result(
                name, float(f"{value:.4g}"), unit, against, float(f"{ratio:.3g}"), where, today
            )
            known[name] = asdict(result)
            print(f"{name}: {result.value:g} {unit} ({result.ratio:g} times against {against})")
    results = [known[name] for name in sorted(known)]
    RESULTS.write_text(json.dumps(results, indent=1, ensure_ascii=False) + "\n")
    lines = [
        "# Benchmarks",
        "",
        "Made by `./run bench`; figures from `benchmarks/results.json`. The ratio says how much"
        " better the figure is than the alternative, measured in the same run. Times are medians"
        " of the least disturbed of several batches, frames those of the least disturbed second,"
        " because the machine is shared. Machines differ: on one half as fast the ten lowest partials"
        " took 6.2 ms, 2 kHz 29 ms, a plan 32 ms, 2,000 pairs 2.7 s, at 34 frames a second. Start-up"
        " is the median of seven cold processes.",
        "",
        "| name | value | unit | against | ratio | machine | date |",
        "|---|---|---|---|---|---|---|",
    ]
    lines += [
        f"| {r['name']} | {r['value']:g} | {r['unit']} | {r['against']} | {r['ratio']:g} | "
        f"{r['machine']} | {r['date']} |"
        for r in results
    ]
    TABLE.write_text("\n".join([*lines, *as_markdown()]) + "\n")


def _also(key: str) -> tuple[str, ...]:
    """Names of the contract that one measurement yields together."""
    together = {
        "start": (
            "start_rack_cpu_s",
            "start_ladder_cpu_s",
            "start_rack_vs_bare_ratio",
            "start_ladder_vs_bare_ratio",
        ),
        "choose": ("choose2000_s", "rerank_ms", "choose500_s"),
        "settings": ("settings_refresh_ms", "coverage90_percent"),
        "set_plan": ("set_plan_s",),
        "set_drag": ("set_drag_ms",),
        "set_render": ("set_render_ratio",),
        "even": ("even_dial_within10_r3_6rods_percent", "even_moves_vs_hand_ratio"),
        "stalls": ("stall_theme_ms", "stall_drag_ms", "stall_drag_held_ms", "stall_tap_ms"),
        "scale": ("scale_open_s", "scale_save_ms", "scale_memory_mb", "scale_stall_ms"),
        "tap2": (
            "tap2_gross_percent",
            "tap2_refused_percent",
            "tap2_known_gross_percent",
            "tap2_known_refused_percent",
            "tap2_round_gross_percent",
            "tap2_round_refused_percent",
            "coverage90_tap_percent",
            "halfwidth_tap",
        ),
        "coverage": (
            "coverage90_fundamental_percent",
            "coverage90_tension_pitch_percent",
            "coverage90_tension_dial_percent",
            "coverage90_tension_torque_percent",
            "coverage90_tension_turns_percent",
            "coverage90_tension_pitch_dial_percent",
            "coverage90_tension_all_percent",
        ),
        "sweep": ("sweep_failures", "sweep_worst_ms"),
        "hear": ("hear_found_percent", "hear_median_cents", "hear_false_percent", "hear_ms"),
        "tap": ("tap_ms", "tap_gross_percent", "tap_median_cents"),
    }
    return together.get(key, ())


if __name__ == "__main__":
    main(sys.argv[1:])
