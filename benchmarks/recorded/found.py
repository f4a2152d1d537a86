"""Recordings of drums that are installed here, each known by the sum of what is in it.

Nothing is fetched, and nothing of a recording is in the project: only sums, and figures read off.
"""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np

PLACES = (Path("/usr/share/hydrogen/data/drumkits"), Path("/usr/share/hydrogen/drumkits"))
SOUNDFONTS = (Path("/usr/share/sounds/sf2"),)
SUFFIXES = (".wav", ".flac", ".aiff")
INSTALL = "install hydrogen-drumkits, hydrogen-data and fluid-soundfont-gm"
LEFT, RIGHT = "(L)", "(R)"
SUM = 16


@dataclass(frozen=True, eq=False)
class Recording:
    """Samples (N,) of one channel, from -1 to 1, and their rate."""

    samples: np.ndarray
    rate: float


@cache
def places() -> dict[str, tuple[Path, str]]:
    """File, and name within it, of every recording by its sum."""
    out: dict[str, tuple[Path, str]] = {}
    for place in PLACES:
        for path in sorted(place.rglob("*")):
            if path.suffix.lower() in SUFFIXES:
                out[hashlib.sha256(path.read_bytes()).hexdigest()[:SUM]] = (path, "")
    for place in SOUNDFONTS:
        for path in sorted(place.glob("*.sf2")):
            if path.is_symlink():
                continue
            for name, samples, _ in soundfont(path):
                out[hashlib.sha256(samples.tobytes()).hexdigest()[:SUM]] = (path, name)
    return out


def recording(number: str) -> Recording | None:
    """The recording with that sum, None where it is not installed."""
    import soundfile

    there = places().get(number)
    if there is None:
        return None
    path, name = there
    if name:
        samples, rate = _of_soundfont(path)[name]
        return Recording(samples.astype(float) / 32768.0, rate)
    wave, rate = soundfile.read(path, always_2d=True)
    return Recording(wave.mean(axis=1), float(rate))


@cache
def _of_soundfont(path: Path) -> dict[str, tuple[np.ndarray, float]]:
    return {name: (samples, rate) for name, samples, rate in soundfont(path)}


def soundfont(path: Path) -> Iterator[tuple[str, np.ndarray, float]]:
    """Name, samples (N,) of 16 bits and rate of every sound in a SoundFont 2 file; of a pair the
    middle of left and right. Its two chunks `smpl` and `shdr` are read, no instruments."""
    data = path.read_bytes()
    chunks = dict(_chunks(data, 12, len(data)))
    begin, size = chunks["smpl"]
    wave = np.frombuffer(data, dtype="<i2", count=size // 2, offset=begin)
    begin, size = chunks["shdr"]
    heads = {}
    for at in range(begin, begin + size - 46, 46):  # the last one only ends the list
        name = data[at : at + 20].split(b"\0")[0].decode("latin-1")
        first, last, _, _, rate = struct.unpack_from("<5I", data, at + 20)
        heads[name] = (first, last, rate)
    for name, (first, last, rate) in heads.items():
        if name.endswith(RIGHT):
            continue
        samples = wave[first:last]
        other = heads.get(name.removesuffix(LEFT) + RIGHT)
        if name.endswith(LEFT) and other is not None:
            many = min(last - first, other[1] - other[0])
            pair = samples[:many].astype(np.int32) + wave[other[0] : other[0] + many]
            samples = (pair // 2).astype("<i2")
        yield name.removesuffix(LEFT).strip(), samples, float(rate)


def _chunks(data: bytes, at: int, end: int) -> Iterator[tuple[str, tuple[int, int]]]:
    while at + 8 <= end:
        name, size = data[at : at + 4].decode("latin-1"), struct.unpack_from("<I", data, at + 4)[0]
        if name == "LIST":
            yield from _chunks(data, at + 12, at + 8 + size)
        else:
            yield name, (at + 8, size)
        at += 8 + size + size % 2
