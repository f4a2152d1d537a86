"""Seeded simulated taps: damped inharmonic partials in pairs, click, hum, rattle, noise."""

from __future__ import annotations

import numpy as np

RATE_HZ = 48000
RATIOS = {(0, 1): 0.53, (1, 1): 1.0, (2, 1): 1.48, (0, 2): 1.55, (3, 1): 1.92, (1, 2): 2.08,
          (4, 1): 2.36, (2, 2): 2.59, (5, 1): 2.78, (3, 2): 3.1, (6, 1): 3.2}  # fmt: skip
PLACE = {(0, 1): 0.25, (1, 1): 0.45, (2, 1): 0.62, (0, 2): 0.45, (3, 1): 0.72, (1, 2): 0.6,
         (4, 1): 0.7, (2, 2): 0.6, (5, 1): 0.65, (3, 2): 0.5, (6, 1): 0.5}  # fmt: skip
"""How strongly a tap near the rim starts each, from memory of the mode shapes there."""


def one_tap(seed: int) -> tuple[np.ndarray, float, float]:
    """Samples, the middle of the (1,1) pair and what a model expects of the drum (three half steps
    either way)."""
    rng = np.random.default_rng(seed)
    base = float(np.exp(rng.uniform(np.log(75.0), np.log(400.0))))
    seconds = 1.2
    time = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    begin = 0.12
    ring = np.maximum(time - begin, 0.0)
    on = time >= begin
    damped_centre = rng.random() < 0.6
    contact = rng.uniform(0.8e-3, 3.0e-3)
    t60_base = float(np.exp(rng.uniform(np.log(0.15), np.log(1.5))))
    stretch = 1.0 + 0.02 * rng.standard_normal()
    sound = np.zeros(len(time))
    for (m, n), ratio in RATIOS.items():
        hz = base * (1.0 + (ratio - 1.0) * stretch) * (1.0 + 0.012 * rng.standard_normal())
        if (m, n) == (1, 1):
            hz = base
        if (m, n) == (0, 1):
            hz = base * rng.uniform(0.5, 0.68)
        strength = PLACE[m, n] * np.exp(0.5 * rng.standard_normal())
        strength *= abs(np.sinc(hz * contact * 0.6)) + 0.02
        t60 = t60_base * (hz / base) ** -0.5 * np.exp(0.25 * rng.standard_normal())
        if m == 0:
            t60 *= 0.25 if damped_centre else 0.6
            strength *= 0.3 if damped_centre else 1.0
        split = rng.uniform(0.0, 0.03) if m else 0.0
        turn = rng.uniform(0.0, 2.0 * np.pi)
        for half, share in ((-0.5, np.cos(turn)), (0.5, np.sin(turn))):
            if m == 0 and half > 0:
                continue
            f = hz * (1.0 + half * split)
            phase = rng.uniform(-0.4, 0.4)
            own = strength * (share if m else 1.0) * np.exp(-6.91 * ring / t60)
            sound += own * on * np.sin(2.0 * np.pi * f * ring + phase)
    level = float(np.sqrt(np.mean(sound[on][: int(0.15 * RATE_HZ)] ** 2)))
    click = rng.standard_normal(len(time)) * on * np.exp(-ring / 0.0012)
    sound += rng.uniform(0.5, 3.0) * level * click
    to_noise = rng.uniform(10.0, 40.0)
    noise = rng.standard_normal(len(time)) * level * 10.0 ** (-to_noise / 20.0)
    mains = rng.choice([50.0, 60.0])
    for harmonic in (1, 2, 3):
        noise += (
            0.3
            * level
            * 10.0 ** (-to_noise / 20.0)
            * rng.random()
            * np.sin(2.0 * np.pi * mains * harmonic * time + rng.uniform(0, 6.28))
        )
    if rng.random() < 0.3:
        rattle = rng.standard_normal(len(time)) * on * np.exp(-ring / 0.08)
        noise += 0.3 * level * rattle * (0.5 + 0.5 * np.sin(2.0 * np.pi * base * ring))
    sound = sound + noise
    sound *= 0.5 / np.abs(sound).max()
    near = base * 2.0 ** (np.clip(1.5 * rng.standard_normal(), -3.0, 3.0) / 12.0)
    return sound, base, float(near)
