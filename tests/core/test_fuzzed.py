"""What was found by drawing drums and readings at random, kept as cases; seeds in the torture."""

from __future__ import annotations

import numpy as np
import pytest
from benchmarks.sweep import draw

from kesselton.app.bench.clearing import cleared
from kesselton.app.workshop.head_stock import offers
from kesselton.core.acoustics.solver.modes import _solved
from kesselton.core.clear.clearing_records import Clearing, Round, at_rod
from kesselton.core.clear.simulated import LIGHTEST, _positive
from kesselton.core.constants import SIDES
from kesselton.core.errors import ConvergenceError, InputError
from kesselton.core.heads.brief import typical_brief
from kesselton.core.heads.choose import choose, nearest_brief
from kesselton.store.workshop.holdings import Entry, Workshop
from tests.conftest import make_drum


def test_an_exact_root_is_no_dead_end() -> None:
    """D is singular where a search hits a root to the last digit ("hold the note" did)."""
    value = np.array([[[1.0, 2.0], [2.0, 4.0]], [[2.0, 0.0], [0.0, 3.0]]], dtype=complex)
    push = np.ones((2, 2, 1), dtype=complex)
    out = _solved(value, push)
    assert np.all(np.isfinite(out))
    assert out[1, :, 0] == pytest.approx([0.5, 1 / 3], rel=1e-6)
    assert np.abs(out[0]).max() > 1e10  # towards the root, as a step that converged asks
    with pytest.raises(ConvergenceError):
        _solved(np.zeros((1, 2, 2), dtype=complex), push[:1])


def test_a_mass_near_a_swing_of_the_air_is_made_light() -> None:
    """The simulated torque key and dial died of one that was negative."""
    good = np.diag([1.0, 2.0])
    assert _positive(good) is good
    made = _positive(np.array([[1.0, 0.0], [0.0, -0.3]]))
    assert np.linalg.eigvalsh(made)[0] == pytest.approx(LIGHTEST)


def test_readings_of_no_head_are_refused() -> None:
    """An uncalibrated dial that contradicts a torque key, and a pattern of one's own: −3014 cents
    once."""
    drum, rng = make_drum(), np.random.default_rng(3)
    rods = range(1, drum.shell.rods + 1)
    taps = [at_rod("dial", n, float(np.clip(90 + rng.normal(0, 60), 1, 199)), 0.0) for n in rods]
    taps += [at_rod("torque", n, float(np.clip(0.9 + rng.normal(0, 0.5), 0.05, 3)), 0.0)
             for n in rods]  # fmt: skip
    wanted = np.exp(rng.normal(0.0, 0.1, len(rods)))
    clearing = Clearing(
        "batter", (Round(tuple(taps)),), "own", tuple((wanted / wanted.mean()).tolist())
    )
    with pytest.raises(InputError, match="cannot come from one head"):
        cleared(Entry(1, drum), Workshop(""), clearing)


@pytest.mark.parametrize("seed", range(6))
def test_few_heads_are_judged_as_many_are(seed: int) -> None:
    """A filter may leave one pair; the search once hung on it for ever."""
    rng = np.random.default_rng(seed)
    drum = draw(rng)
    heads = {s: [one.head for one in offers(drum, Workshop(""), s)] for s in SIDES}
    for many in (1, 2):
        found = choose(drum, typical_brief(drum), heads["batter"][:many], heads["resonant"][:1])
        assert len(found.order()) <= len(found)
        if not len(found.feasible) and len(found):
            assert nearest_brief(found) is not None
