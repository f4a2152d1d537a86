"""A set of six drums: planned, dragged on the screen, heard."""

from __future__ import annotations

import itertools
import math
import os
import statistics
import time

from kesselton.core.instrument.drum import Drum
from kesselton.core.sets.model.kit import Member, Seat, Wish, ordered, usual_seat

REPEAT = 5
STEPS = 40


def six_drums() -> tuple[Member, ...]:
    """Bass, two floor toms, two rack toms, snare drum, each as it usually is."""
    from kesselton.app.workshop.usual_drums import USUAL, usual_drum

    wanted = (("bass", 22), ("tom", 16), ("tom", 14), ("tom", 12), ("tom", 10), ("snare", 14))
    drums: list[Drum] = []
    for kind, inches in wanted:
        size = next(s for s in USUAL[kind].sizes if s.diameter_in == inches)
        drums.append(usual_drum(kind, size, f"{kind} {inches}"))
    seats: tuple[Seat, ...] = ()
    for number, drum in enumerate(drums, start=1):
        seats = (*seats, usual_seat(number, drum, seats))
    return ordered([Member(d, s) for d, s in zip(drums, seats, strict=True)])


def set_plan_figures() -> list[tuple[str, float, str, str, float]]:
    """Three intervals a drum, all roots in steps of 10 cents, nothing worked out before; beside
    every choice of settings tried."""
    from kesselton.core.sets.model.curve import drum_curves
    from kesselton.core.sets.search.planner import Planner

    # what each drum is set to now is the third
    members = six_drums()
    wish = Wish(chord="major", school="third")
    took = []
    for _ in range(REPEAT):
        drum_curves.cache_clear()  # type: ignore[attr-defined]
        began = time.perf_counter()
        planner = Planner(members, wish)
        planner.best()
        took.append(time.perf_counter() - began)
    again = []
    for _ in range(REPEAT):
        began = time.perf_counter()
        Planner(members, wish).best()
        again.append(time.perf_counter() - began)
    count, frame = 0, planner.frames()[0]
    for one in planner.frames():
        count += math.prod(len(rows) for rows, _ in planner.framed(one))
    rows = [mine for mine, _ in planner.framed(frame)]
    sample = list(itertools.islice(itertools.product(*rows), 400))
    began = time.perf_counter()
    for chosen in sample:
        planner.cost_of(frame, chosen)
    all_s = (time.perf_counter() - began) / len(sample) * count
    plan_s = statistics.median(took)
    against = f"each of {count} choices by itself"
    return [
        ("set_plan_s", plan_s, "s", against, all_s / plan_s),
        ("set_plan_again_s", statistics.median(again), "s", against, all_s / min(again)),
    ]


def set_drag_figures() -> list[tuple[str, float, str, str, float]]:
    """One step of dragging the whole chord: worked out and painted; beside solving each drum."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtWidgets import QApplication

    from kesselton.core.acoustics.solver.lug import tensions
    from kesselton.core.acoustics.solver.partials import partials
    from kesselton.core.sets.search.whole import set_to, solve
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.sets.set_ladder import SetLadder
    from kesselton.ui.sets.set_picture import CHORD, NOTE

    app = QApplication.instance() or QApplication([])
    theme.load_fonts()
    members = six_drums()
    found = solve(members, Wish(chord="major"), 440.0)
    picture = SetLadder()
    picture.resize(740, 450)
    picture.set_state(found, "", 440.0, False, False)
    picture.show()
    app.processEvents()
    took = []
    for step in range(STEPS):
        began = time.perf_counter()
        picture.drag(CHORD, NOTE, 60.0 * math.sin(step / 5.0))
        picture.repaint()
        app.processEvents()
        took.append(1000.0 * (time.perf_counter() - began))
    began = time.perf_counter()
    for member, spot in zip(members, found.spots, strict=True):
        drum = set_to(member.drum, spot, 440.0)
        partials(drum, tensions(drum), lowest=10)
    solved = 1000.0 * (time.perf_counter() - began)
    picture.close()
    worst = sorted(took)[-2]
    return [("set_drag_ms", worst, "ms", "every drum solved anew", solved / worst)]


def set_render_figures() -> list[tuple[str, float, str, str, float]]:
    """Seconds of groove a second; beside every partial of every stroke to its end by its sine."""
    import numpy as np

    from kesselton.core.prediction.prediction import predict
    from kesselton.core.prediction.render import RATE_HZ, lines_of
    from kesselton.core.sets.together.groove import groove, render_hits

    members = six_drums()
    found = {number: predict(member.drum) for number, member in enumerate(members)}
    hits = groove(members, "dense")
    render_hits(found, hits)  # imports
    took = []
    for _ in range(REPEAT):
        began = time.perf_counter()
        sound = render_hits(found, hits)
        took.append(time.perf_counter() - began)
    began = time.perf_counter()
    for hit in hits[:4]:
        one = found[hit.drum]
        hz, decay, amplitude, _ = lines_of(one, one.stroke)
        at = np.arange(int(2.0 * RATE_HZ)) / RATE_HZ
        for f, d, a in zip(hz, decay, amplitude, strict=True):
            _ = a * np.exp(-d * at) * np.sin(2.0 * np.pi * f * at)
    plain = (time.perf_counter() - began) / 4.0 * len(hits)
    ratio = sound.seconds / statistics.median(took)
    against = "every stroke by itself, sine by sine"
    return [("set_render_ratio", ratio, "times", against, plain / statistics.median(took))]


if __name__ == "__main__":
    for figures in (set_plan_figures, set_drag_figures, set_render_figures):
        for row in figures():
            print(row)
