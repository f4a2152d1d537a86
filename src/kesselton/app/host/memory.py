"""Memory that was used once and is free again goes back to the system."""

from __future__ import annotations

import ctypes

ARENA_MAX, MMAP_THRESHOLD, TRIM_THRESHOLD = -8, -3, -1
LARGE = 1 << 20


def release_memory() -> None:
    """Ask the C library for one heap for all threads, and large arrays outside it.

    Each thread that computes would keep a heap of its own, as large as the largest it ever was;
    they are never busy at the same time, since the interpreter runs one. A C library that cannot be
    asked does as it likes.
    """
    ask = getattr(ctypes.CDLL(None), "mallopt", None)
    if ask is not None:
        for what, value in ((ARENA_MAX, 1), (MMAP_THRESHOLD, LARGE), (TRIM_THRESHOLD, LARGE)):
            ask(what, value)
