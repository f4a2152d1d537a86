"""Locking a workshop file, knowing one when it is seen, and wording what goes wrong with it."""

from __future__ import annotations

import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TextIO

from kesselton.store.errors import LockedError, ReadOnlyError, StoreError
from kesselton.store.migrations import APPLICATION_ID, CURRENT_VERSION

SUFFIX = ".kesselton"


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


def identify(db: sqlite3.Connection, path: Path) -> int:
    """Version of a workshop file, after making sure it is one and is whole."""
    try:
        application = db.execute("PRAGMA application_id").fetchone()[0]
        version = int(db.execute("PRAGMA user_version").fetchone()[0])
        tables = db.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
    except sqlite3.DatabaseError as error:
        if "not a database" in str(error):
            raise StoreError(
                f"{path.name} is not a workshop file.", f"Choose a file that ends in {SUFFIX}."
            ) from None
        raise
    if application != APPLICATION_ID or tables == 0:
        raise StoreError(
            f"{path.name} belongs to another program or is empty.",
            f"Choose a file that ends in {SUFFIX}.",
        )
    if version > CURRENT_VERSION:
        raise StoreError(
            f"{path.name} was written by a newer Kesselton (version {version}).",
            f"This one reads up to version {CURRENT_VERSION}: update the program. "
            "The file was not touched.",
        )
    if db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
        raise sqlite3.DatabaseError("malformed")
    return version


@contextmanager
def speaking(path: Path) -> Iterator[None]:
    """Turn what SQLite and the system say into the technician's words."""
    try:
        yield
    except sqlite3.DatabaseError as error:
        text = str(error)
        if "full" in text or "I/O" in text:
            raise StoreError(
                f"{path.name} could not be saved: the disk is full or does not answer.",
                "Make room; your changes are kept here and are saved with the next one.",
            ) from error
        if "locked" in text:
            raise LockedError(
                f"Another program is writing to {path.name}.", "Close it and try again."
            ) from error
        if "readonly" in text or "unable to open" in text:
            raise ReadOnlyError(
                f"{path.name} cannot be written here.", "Save a copy in another place."
            ) from error
        raise StoreError(
            f"{path.name} is damaged and was not changed.",
            "Open a backup, or copy the file and repair the copy with an SQLite tool.",
        ) from error
    except OSError as error:
        raise StoreError(
            f"{path.name} cannot be used: {error.strerror}.", "Check the place and its permissions."
        ) from error
