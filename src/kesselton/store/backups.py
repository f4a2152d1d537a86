"""Earlier states of a workshop: one file a day in a folder beside it, the last seven kept."""

from __future__ import annotations

import os
import re
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from kesselton.store import rows
from kesselton.store.connection import SUFFIX, connect, identify, translate_errors, translate_values
from kesselton.store.errors import StoreError
from kesselton.store.holdings import Workshop
from kesselton.store.schema import present_content
from kesselton.store.whole_file import copy_whole, free_name, write_file

KEPT = 7
LARGE_BYTES, KEPT_LARGE = 300_000_000, 2
"""Of a workshop with many sounds fewer states are kept: each is a whole copy."""
ANOTHER = "Choose another state."
_DAY = re.compile(r"\d{4}-\d\d-\d\d$")


@dataclass(frozen=True)
class Backup:
    """What a workshop held before the first change of a day."""

    path: Path
    day: date


def backup_folder(path: Path) -> Path:
    """Where the backups of a workshop lie."""
    return path.with_name(f"{path.stem} backups")


def backups(path: Path) -> list[Backup]:
    """Backups of a workshop, the newest first."""
    try:
        found = sorted(backup_folder(path).glob(f"*{SUFFIX}"), reverse=True)
    except OSError:
        return []
    return [Backup(f, date.fromisoformat(f.stem)) for f in found if _DAY.match(f.stem)]


def keep_daily(path: Path, today: date) -> bool:
    """Copy a workshop that lies still, unless today's copy is there; True if one was made.

    Raises
    ------
    OSError
        If the place cannot be written; no half copy is left.
    """
    target = backup_folder(path) / f"{today.isoformat()}{SUFFIX}"
    if target.exists():
        return False
    target.parent.mkdir(exist_ok=True)
    copy_whole(path, target)
    many = KEPT if path.stat().st_size < LARGE_BYTES else KEPT_LARGE
    for old in backups(path)[many:]:
        old.path.unlink(missing_ok=True)
    return True


def keep_aside(path: Path, version: int) -> Path:
    """A copy of a file as it is, under a name that is free, before another takes its place.

    Raises
    ------
    OSError
        If it cannot be written.
    """
    target = free_name(path.with_name(f"{path.name}.v{version}.bak"))
    copy_whole(path, target)
    return target


def copy_beside(backup: Backup, path: Path) -> Path:
    """A copy of a backup beside its workshop, under a name that is free, to go on with.

    Raises
    ------
    KesseltonError
        If it cannot be read or written.
    """
    target = free_name(path.with_name(f"{path.stem} of {backup.day.isoformat()}{SUFFIX}"))
    with translate_errors(backup.path):
        held = backup.path.read_bytes()
    write_file(target, held)
    return target


def read_backup(path: Path) -> Workshop:
    """What a backup, or any workshop file of this or an older version, holds; it is not changed.

    Raises
    ------
    StoreError
        If it is missing, no workshop, damaged, or from a newer program.
    """
    with _content(path) as db, translate_values(path):
        return rows.load(db, at_once=True)


def count_held(path: Path) -> tuple[int, int]:
    """How many drums and readings a backup holds, without reading them.

    Raises
    ------
    StoreError
        As `read_backup`.
    """
    with _content(path) as db:
        drums, readings = db.execute(
            "SELECT (SELECT count(*) FROM drum), (SELECT count(*) FROM reading)"
        ).fetchone()
        return drums, readings


@contextmanager
def _content(path: Path) -> Iterator[sqlite3.Connection]:
    """The content of a workshop file in memory, in the present version."""
    if not os.access(path, os.R_OK):
        raise StoreError(f"{path.name} cannot be read.", ANOTHER)
    with translate_errors(path):
        source = connect(path, write=False)
        try:
            db = present_content(source, identify(source, path))
        finally:
            source.close()
        try:
            yield db
        finally:
            db.close()
