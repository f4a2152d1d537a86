"""Places where a wrong factor would go unseen on the screen: each is worked out a second way."""

from __future__ import annotations

import json
import math
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from kesselton.app.bench.clearing import in_cents
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.acoustics.solver.partials import drum_system
from kesselton.core.clear.clearing_records import Round, at_rod
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import choose, nearest_brief
from kesselton.core.instrument.gauge import DialPair
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.reading import Reading
from kesselton.core.measure.gauges import fit_dial
from kesselton.core.measure.readings import Observation, forward
from kesselton.core.prediction.usable import EDGE_PLAY_M, RESHAPED, tension_limits
from tests.conftest import SINGLE, make_drum

TOM = demo_workshop().entries[1].drum


@pytest.mark.parametrize("over_mm", [0.6, 1.2, 2.4])
def test_an_edge_too_large_asks_for_the_tension_that_draws_the_film_out(over_mm: float) -> None:
    """Equal strain both ways takes T = E h e / (1 - nu) (any textbook on plates), a share of which
    reshapes the collar; 10 mil film of 4.5 GPa and 0.38 (data-sheet orders, from memory)."""
    half = 0.5 * TOM.shell.head_diameter_m
    shell = replace(TOM.shell, contact_radius_m=half + 1e-3 * over_mm)
    limits = tension_limits(SINGLE, shell, "tom", "batter").lower
    (found,) = [limit for limit in limits if limit.name == "edge_fit"]
    strain = (1e-3 * over_mm - EDGE_PLAY_M) / shell.radius_m
    drawn = 4.5e9 * 254e-6 * strain / (1.0 - 0.38)
    assert found.tension_n_per_m == pytest.approx(RESHAPED * drawn, rel=1e-9)
    assert 200.0 < found.tension_n_per_m < 12000.0  # N/m: of the order of a playing tension
    skin = Head("hide", material="calf_skin", plies_m=(4e-4,))
    assert not [
        x for x in tension_limits(skin, shell, "tom", "batter").lower if x.name == "edge_fit"
    ]


def test_the_strip_shows_cents_of_pitch_whatever_was_read() -> None:
    """Ten cents of pitch are twenty of tension: pitch goes with its root."""
    ten = 2.0 ** (10.0 / 1200.0)
    heard = Round((at_rod("lug_pitch", 1, 200.0), at_rod("lug_pitch", 2, 200.0 * ten)))
    found = in_cents(heard, "lug_pitch", None, 254e-6)
    assert found[2] - found[1] == pytest.approx(10.0)
    assert found[1] + found[2] == pytest.approx(0.0, abs=1e-9)
    pairs = [DialPair(92.0 - 30000.0 / t, t, 254e-6) for t in (800.0, 1600.0, 3200.0)]
    shown = [92.0 - 30000.0 / t for t in (1600.0, 1600.0 * ten**2)]
    read = Round(tuple(at_rod("dial", rod, value) for rod, value in enumerate(shown, start=1)))
    by_dial = in_cents(read, "dial", fit_dial(pairs), 254e-6)
    assert by_dial[2] - by_dial[1] == pytest.approx(10.0, rel=2e-2)
    plain = Round((at_rod("dial", 1, 80.0), at_rod("dial", 2, 81.0)))
    # one division is a per cent of tension, 8.6 cents of pitch
    assert in_cents(plain, "dial", None, 254e-6)[2] == pytest.approx(0.5 * 8.656, rel=1e-3)


@pytest.mark.parametrize("asked_hz", [700.0, 25.0])
def test_the_nearest_brief_moves_by_what_was_missed_and_no_more(asked_hz: float) -> None:
    brief = replace(typical_brief(TOM), target="note", fundamental_hz=asked_hz, school="unison")
    heads = [SINGLE]
    found = choose(TOM, brief, heads, heads)
    missed, nearer = found.nearest(), nearest_brief(found)
    assert missed is not None
    assert nearer is not None
    assert nearer.fundamental_hz is not None
    moved = abs(1200.0 * math.log2(nearer.fundamental_hz / asked_hz))
    assert moved == pytest.approx(missed[1] + 5.0, abs=1e-6)
    assert (nearer.fundamental_hz < asked_hz) == (asked_hz > 100.0)


@pytest.mark.parametrize("apart", [0.9, 0.98, 0.999, 1.001, 1.02, 1.1])
def test_slopes_of_the_equations_hold_on_both_sides_of_a_resonance_of_the_cavity(
    apart: float,
) -> None:
    """D and dD/dw at a complex frequency near the first duct resonance of order 1, against
    differences of D: a wrong sign or a lost term shows there first."""
    system = drum_system(TOM, tensions(TOM), (1,))
    pole = float(np.min(system.cavity_poles(2.0e4).omega))
    omega = np.array([apart * pole * (1.0 + 0.002j)])
    row = np.array([0])
    step = 2e-6 * pole
    _, slope = system.matrices(row, omega)
    ahead, _ = system.matrices(row, omega + step)
    behind, _ = system.matrices(row, omega - step)
    by_differences = (ahead - behind) / (2.0 * step)
    scale = np.abs(by_differences).max()
    assert np.abs(slope - by_differences).max() < 2e-5 * scale


@pytest.mark.parametrize("kind", ["lug_pitch", "fundamental"])
@pytest.mark.parametrize("side", ["batter", "resonant"])
def test_slopes_of_a_free_head_reading_are_those_of_its_value(kind: str, side: str) -> None:
    """Both heads move a pitch heard with the other head free: by cents a neper of each tension."""
    drum = make_drum(tensions=(1500.0, 1650.0))
    reading = Observation(Reading(kind, 200.0, side, "free"))
    here = (1500.0, 1650.0)
    found = forward(drum, reading, here)
    for head in range(2):
        wide = 4e-3
        ends = []
        for sign in (-1.0, 1.0):
            there = list(here)
            there[head] *= math.exp(sign * wide)
            ends.append(forward(drum, reading, tuple(there)).value)
        assert found.slope[head] == pytest.approx(
            (ends[1] - ends[0]) / (2.0 * wide), rel=2e-2, abs=2.0
        )
    assert np.all(found.slope > 20.0)  # neither head is without a say
    assert found.slope.sum() == pytest.approx(0.5 * 1200.0 / math.log(2.0), rel=0.25)


def test_work_is_estimated_before_it_is_taken(tmp_path: Path) -> None:
    """A film that nothing weighs, very tight over a deep shell: 16.6 GB and two minutes once; others
    that no rule refuses, and that never settle, took eight seconds."""
    kinds = (
        ("tom", 0.1, 0.5, 0.0138, 19538.0, 0.000254),
        ("rope", 0.1, 1.5, 0.0138, 19538.0, 0.000254),
        ("concert_bass", 0.1077685, 0.16648036, 0.31346, 225.85, 0.002293),
        ("snare", 0.15149416, 0.07568073, 0.0856, 17270.5, 0.0021487),
    )
    for kind, wide, deep, density, tension, thick in kinds:
        head = {"name": "x", "plies_m": [thick], "areal_density_kg_per_m2": density}
        drum = {
            "format": "kesselton/drum", "version": 1, "name": "b", "kind": kind,
            "shell": {"head_diameter_m": wide, "depth_m": deep, "rods": 10, "hoop": "wood"},
            "batter": {"head": {**head, "material": "polyester_film"}, "tension_n_per_m": tension},
            "resonant": None,
        }  # fmt: skip
        file = tmp_path / "d.json"
        file.write_text(json.dumps(drum))
        for command in ("predict", "range"):
            done = subprocess.run(
                [sys.executable, "-c", LIMITED, command, str(file)],
                capture_output=True, text=True, check=False, timeout=20,
            )  # fmt: skip
            assert done.returncode in (0, 2), done.stderr
            assert len(done.stderr.splitlines()) == (done.returncode == 2), done.stderr


LIMITED = """
import resource
resource.setrlimit(resource.RLIMIT_CPU, (8, 8))
resource.setrlimit(resource.RLIMIT_AS, (1 << 30, 1 << 30))
from kesselton.cli import main
raise SystemExit(main())
"""
