"""Make the table of the air outside a free cylinder.

    python -m tools.radiation_table

writes radiation.npz and radiation_high.npz into src/kesselton/core/data (see docs/theory.md,
section 3). Solving takes about seven minutes on two cores and is kept in build/radiation_raw.npz;
with `--pack` only the last step, from there to the table, is done again.
"""

from __future__ import annotations

import hashlib
import json
import multiprocessing
import os
import sys
import time
from itertools import pairwise
from pathlib import Path

os.environ["OPENBLAS_NUM_THREADS"] = "1"

import numpy as np
from numpy.typing import NDArray

from tools.radiation_table import cylinder

FloatArray = NDArray[np.float64]
VERSION = 1
ORDERS = 9
SHALLOWEST, DEEPEST, SHAPES = 0.15, 4.0, 16
KA_FIRST, KA_MAX = 0.004, 12.0
NARROW_TO, NARROW, WIDE = 6, 8, 9  # points per panel of 0.5 up to ka = 6, and of 1 beyond
TOLERANCE = 5e-5
MAX_IMBALANCE = 5e-4
ROOT = Path(__file__).resolve().parents[2]
RAW = ROOT / "build/radiation_raw.npz"
DATA = ROOT / "src/kesselton/core/data"
FILES = {"radiation_high.npz": ("high",), "radiation.npz": ()}
"""What lies in files of its own, each below 4 MiB; the rest in the last."""


def shapes() -> FloatArray:
    """Shell depths over radius: Chebyshev points in 1 / (1 + L / a)."""
    angle = (np.arange(SHAPES) + 0.5) * np.pi / SHAPES
    low, high = 1.0 / (1.0 + DEEPEST), 1.0 / (1.0 + SHALLOWEST)
    return 1.0 / (low + 0.5 * (high - low) * (1.0 + np.cos(angle))) - 1.0


def panels() -> FloatArray:
    """Bounds of the panels in ka."""
    narrow = np.arange(0.0, NARROW_TO, 0.5)
    narrow[0] = KA_FIRST
    return np.concatenate((narrow, np.arange(NARROW_TO, KA_MAX + 0.5, 1.0)))


def ka_points() -> FloatArray:
    """Points in ka: Chebyshev with both ends on every panel, shared between neighbours."""
    bounds = panels()
    points = [bounds[:1]]
    for start, stop in pairwise(bounds):
        count = NARROW if stop <= NARROW_TO else WIDE
        angle = np.pi * np.arange(count) / (count - 1)
        points.append((start + 0.5 * (stop - start) * (1.0 - np.cos(angle)))[1:])
    return np.concatenate(points)


def switch(order: int) -> int:
    """ka from which self and cross terms are stored instead of parities."""
    return int(np.ceil(1.5 + 0.7 * order))


def one_shape(depth_ratio: float) -> tuple[np.ndarray, float]:
    """Work of one process."""
    return cylinder.solve_cylinder(depth_ratio, ka_points(), ORDERS)


def solve_all() -> None:
    """Solve every shape, with progress, and keep the result."""
    start = time.monotonic()
    values, worst = [], 0.0
    with multiprocessing.Pool(os.cpu_count()) as pool:
        for done, (value, imbalance) in enumerate(pool.imap(one_shape, shapes()), start=1):
            values.append(value)
            worst = max(worst, imbalance)
            spent = time.monotonic() - start
            left = spent / done * (SHAPES - done)
            print(
                f"shape {done} of {SHAPES}, {spent:.0f} s, about {left:.0f} s left,"
                f" imbalance {imbalance:.1e}",
                flush=True,
            )
    if worst > MAX_IMBALANCE:
        raise SystemExit(f"power does not balance ({worst:.1e}): the elements are too coarse")
    RAW.parent.mkdir(exist_ok=True)
    np.savez(RAW, value=np.array(values), imbalance=worst)


def pack() -> None:
    """Compress the raw solution into the table that ships."""
    with np.load(RAW) as raw:
        value, imbalance = raw["value"], float(raw["imbalance"])
    depth, ka = shapes(), ka_points()
    rows, cols = np.triu_indices(value.shape[-1])
    packed = value[..., rows, cols]  # (shapes, parity, ka, orders, pairs)
    arrays: dict[str, np.ndarray] = {"depth_ratio": depth, "ka": ka, "panels": panels()}
    ranks: list[int] = []
    flat: dict[str, list[np.ndarray]] = {"basis": [], "low": [], "high": []}
    for order in range(ORDERS):
        parities = packed[:, :, :, order]
        low = np.empty((*parities.shape[:1], len(ka), 4, len(rows)))
        for number in (0, 1):
            power = 2 * order + 1 + 2 * number
            ease = (ka**power / (1.0 + ka**power))[:, None]
            low[:, :, 2 * number] = parities[:, number].real
            low[:, :, 2 * number + 1] = -parities[:, number].imag / ease
        own = 0.5 * (parities[:, 0] + parities[:, 1])
        cross = 0.5 * (parities[:, 0] - parities[:, 1])
        cross = cross * np.exp(1j * ka * depth[:, None])[..., None]
        high = np.stack((own.real, -own.imag, cross.real, -cross.imag), axis=2)
        start = switch(order)
        low, high = low[:, ka <= start + 1.0 + 1e-9], high[:, ka >= start - 1e-9]
        together = np.concatenate([part.reshape(-1, len(rows)) for part in (low, high)])
        _, weight, basis = np.linalg.svd(together, full_matrices=False)
        rank = int(np.sum(weight > TOLERANCE * np.sqrt(len(together))))
        basis = basis[:rank]
        print(f"order {order}: {rank} of {len(rows)} columns")
        ranks.append(rank)
        for name, part in (("basis", basis), ("low", low @ basis.T), ("high", high @ basis.T)):
            flat[name].append(part.astype(np.float32).ravel())
    for name, parts in flat.items():
        arrays[name] = np.concatenate(parts)
    arrays["rank"] = np.array(ranks)
    arrays["switch"] = np.array([switch(m) for m in range(ORDERS)])
    arrays["functions"] = np.array([cylinder.HEADS, cylinder.OPENINGS])
    arrays["version"] = np.array(VERSION)
    arrays["parameters"] = np.array(
        json.dumps({"tolerance": TOLERANCE, "imbalance": imbalance, "inside": cylinder.INSIDE})
    )
    digest = hashlib.sha256()
    for name in sorted(arrays):
        digest.update(arrays[name].tobytes())
    arrays["sha256"] = np.array(digest.hexdigest())
    for name, own in FILES.items():
        np.savez(DATA / name, **{key: arrays.pop(key) for key in own or tuple(arrays)})
        print(f"{name}: {(DATA / name).stat().st_size / 1e6:.2f} MB")


if __name__ == "__main__":
    if "--pack" not in sys.argv:
        solve_all()
    pack()
