"""Recorded strokes, where there are any: lines, slope of decay, glide, and whether they pass for taps.

The recordings are those of Debian's package `hydrogen-drumkits` (free licences; nothing of it is in
the project), or any folder of WAV or FLAC files of single strokes named in KESSELTON_REAL_DRUMS. Heads,
depth and muffling are unknown: only what holds whatever they are is looked at. Without recordings the
benchmark is skipped and says so.
"""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np

from kesselton.core.clear.taps.damped_lines import damped_lines
from kesselton.core.clear.taps.tap import HIGH_HZ, SKIP_S, hear
from kesselton.core.clear.taps.tap_sound import checked, reduced, ringing, tap_start
from kesselton.core.errors import InputError

PLACES = (Path("/usr/share/hydrogen/data/drumkits"), Path("/usr/share/hydrogen/drumkits"))
KITS = ("ColomboAcousticDrumkit", "ForzeeStereo")
LONGEST_S, LEAST_LINES = 1.2, 4


def recordings() -> list[Path]:
    """Files of single tom strokes, [] where there are none."""
    named = os.environ.get("KESSELTON_REAL_DRUMS")
    if named:
        return sorted(p for p in Path(named).rglob("*") if p.suffix.lower() in (".wav", ".flac"))
    return sorted(
        path
        for place in PLACES
        for kit in KITS
        for path in (place / kit).glob("*")
        if "tom" in path.name.lower() and path.suffix.lower() in (".wav", ".flac")
    )


def real_figures() -> list[tuple[str, float, str, str, float]]:
    """Slope of log T60 on log f, ceiling of f T60, glide against the square of the swing, refusals."""
    files = recordings()
    if not files:
        print(
            "real: skipped, no recordings: install hydrogen-drumkits or name a folder in "
            "KESSELTON_REAL_DRUMS"
        )
        return []
    import soundfile

    x, y, longest, taken, slopes, found = [], [], [], 0, [], 0
    for path in files:
        samples, rate = soundfile.read(path, always_2d=True)
        sound = samples.mean(axis=1)
        try:
            hear(sound, rate)
            taken += 1
        except InputError:
            pass
        try:
            sound = checked(sound, rate)
        except InputError:
            continue
        start = tap_start(sound, rate) + int(SKIP_S * rate)
        part, low_rate = reduced(sound, rate, start, HIGH_HZ, LONGEST_S)
        part = part[: ringing(part, low_rate, LONGEST_S)]
        hz, decay, amplitude, _ = damped_lines(part, low_rate, HIGH_HZ)
        found += len(hz)
        if len(hz) < LEAST_LINES:
            continue
        t60 = np.log(1000.0) / decay
        x += list(np.log(hz) - np.log(hz).mean())
        y += list(np.log(t60) - np.log(t60).mean())
        longest.append(float((hz * t60).max()))
        slopes.append(_glide_power(part, low_rate, float(hz[np.argmax(np.abs(amplitude))])))
    slope = float(np.polyfit(x, y, 1)[0]) if len(x) > LEAST_LINES else float("nan")
    power = float(np.nanmedian(slopes)) if slopes else float("nan")
    ceiling = float(np.median(longest)) if longest else float("nan")
    share = 100.0 * taken / len(files)
    return [
        ("real_lines", float(found), "lines", f"{len(files)} recordings", found / len(files)),
        ("real_t60_slope", slope, "", "-0.42 of the first look", slope / -0.42),
        ("real_longest_hz_s", ceiling, "Hz s", "550 of the model", ceiling / 550.0),
        ("real_glide_power", power, "", "2 of Berger's law", power / 2.0),
        ("real_named_as_tap_percent", share, "%", "70 % once", share / 70.0),
    ]


def _glide_power(part: np.ndarray, rate: float, hz: float) -> float:
    """Power of the amplitude with which the pitch of the strongest line lies over its last."""
    time = np.arange(len(part)) / rate
    width = int(max(0.04 * rate, 3.0 * rate / hz))
    window = np.hanning(width)
    low = np.convolve(part * np.exp(-2j * np.pi * hz * time), window / window.sum(), "valid")
    phase = np.unwrap(np.angle(low))
    offset = np.gradient(phase) * rate / (2.0 * np.pi)
    size = np.abs(low)
    good = size > 0.03 * size.max()
    if good.sum() < 50:
        return float("nan")
    best, power = np.inf, float("nan")
    for trial in np.linspace(0.6, 4.0, 35):
        columns = np.stack((np.ones(int(good.sum())), (size[good] / size.max()) ** trial), axis=1)
        weighted = columns * size[good][:, None]
        fitted, rest, *_ = np.linalg.lstsq(weighted, offset[good] * size[good], rcond=None)
        if fitted[1] > 0.001 * hz and len(rest) and float(rest[0]) < best:
            best, power = float(rest[0]), float(trial)
    return power
