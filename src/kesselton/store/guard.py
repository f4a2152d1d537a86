"""Locking a workshop file, and whether it can be written."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path
from typing import TextIO

from kesselton.store.errors import LockedError


def take_lock(path: Path) -> TextIO | None:
    """Lock a file beside the workshop; None where nothing can be written.

    Beside, because closing a second handle on the file itself would drop SQLite's own locks.
    """
    try:
        handle = path.with_name(f".{path.name}.lock").open("a+", encoding="utf-8")
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        handle.close()
        raise LockedError(
            f"{path.name} is open in another window.", "Go to that window, or close it first."
        ) from None
    return handle


def give_lock(handle: TextIO) -> None:
    handle.close()  # the lock file stays: removing it would race with the next window


def writable(path: Path) -> bool:
    return os.access(path, os.W_OK)
