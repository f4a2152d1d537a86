"""Mains hum under a stroke: taken out by what it is before it, and nothing else with it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.core.hearing.mains import without_mains

RATE, BEGIN = 44100, 22050


def stroke(hz: float, rng: np.random.Generator) -> np.ndarray:
    """A tone that begins at BEGIN and dies away, in a quiet room."""
    time = np.maximum(np.arange(2 * RATE) - BEGIN, 0) / RATE
    return 0.3 * np.exp(-4.0 * time) * np.sin(2.0 * np.pi * hz * time) + 1e-4 * (
        rng.standard_normal(2 * RATE)
    )


def hum(mains: float, rng: np.random.Generator) -> np.ndarray:
    time = np.arange(2 * RATE) / RATE
    return sum(
        a * np.sin(2.0 * np.pi * mains * k * time + rng.uniform(0.0, 6.3))
        for k, a in ((1, 0.03), (2, 0.015), (3, 0.01))
    )


@given(
    st.sampled_from([50.0, 60.0]), st.floats(-0.3, 0.3), st.floats(40.0, 400.0), st.integers(0, 99)
)
def test_hum_goes_and_the_stroke_stays(mains: float, off: float, hz: float, seed: int) -> None:
    rng = np.random.default_rng(seed)
    bare = stroke(hz, rng)
    wave = hum(mains + off, rng)
    left = without_mains(bare + wave, RATE, BEGIN) - bare
    assert np.mean(left[: int(1.2 * RATE)] ** 2) < 0.02 * np.mean(wave**2)


def test_what_does_not_hum_is_not_touched() -> None:
    rng = np.random.default_rng(5)
    bare = stroke(64.0, rng)
    assert without_mains(bare, RATE, BEGIN) is bare
    assert without_mains(np.zeros(RATE), RATE, BEGIN).max() == 0.0


@pytest.mark.parametrize("begin", [0, 100, 4000])
def test_where_hum_was_not_heard_alone_nothing_is_done(begin: int) -> None:
    rng = np.random.default_rng(6)
    sound = stroke(64.0, rng) + hum(60.0, rng)
    assert without_mains(sound, RATE, begin) is sound
