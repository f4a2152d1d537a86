"""Earlier states of a workshop: one file a day in a folder beside it, the last seven kept."""

from __future__ import annotations

import errno
import os
import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from kesselton.core.language import N_, _
from kesselton.store.io.atomic_file import copy_whole, unused_name, write_file
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop import attachments, rows
from kesselton.store.workshop.connection import (
    SUFFIX,
    connect,
    identify,
    translate_errors,
    translate_values,
)
from kesselton.store.workshop.holdings import Workshop
from kesselton.store.workshop.schema import present_content

KEPT = 7
LARGE_BYTES, KEPT_LARGE = 300_000_000, 2
"""Of a workshop with many sounds fewer states are kept: each is a whole copy."""
ANOTHER = N_("Choose another state.")
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
    """Backups of a workshop, the newest first; what has no day for a name is none."""
    results = []
    try:
        for file in backup_folder(path).glob(f"*{SUFFIX}"):
            with suppress(ValueError):  # as of February 30
                if _DAY.match(file.stem):
                    results.append(Backup(file, date.fromisoformat(file.stem)))
    except OSError:
        return []
    return sorted(results, key=lambda item: item.day, reverse=True)


def keep_daily(path: Path, today: date) -> bool:
    """Copy a workshop that lies still, unless today's copy is there; True if one was made.

    The folder is for the owner's eyes, the copy for those of whoever may read the workshop.

    Raises
    ------
    OSError
        If the place cannot be written, or is a link to somewhere else; no half copy is left.
    """
    folder = backup_folder(path)
    target = folder / f"{today.isoformat()}{SUFFIX}"
    if folder.is_symlink():
        raise OSError(errno.ELOOP, _("{name} is a link to another place").format(name=folder.name))
    if target.exists():
        return False
    folder.mkdir(mode=0o700, exist_ok=True)
    folder.chmod(0o700)
    copy_whole(path, target)
    for old in _too_many(path, today):
        old.path.unlink(missing_ok=True)
    return True


def _too_many(path: Path, today: date) -> list[Backup]:
    """Copies to let go of. Those of days to come were made while the clock was wrong, or it is
    wrong now: they neither push out the others nor are pushed out by them."""
    many = KEPT if path.stat().st_size < LARGE_BYTES else KEPT_LARGE
    results = backups(path)
    past = [backup for backup in results if backup.day <= today]
    ahead = [backup for backup in results if backup.day > today]
    return past[many:] + ahead[many:]


def keep_aside(path: Path, version: int) -> Path:
    """A copy of a file as it is, under a name that is free, before another takes its place.

    Raises
    ------
    OSError
        If it cannot be written.
    """
    target = unused_name(path.with_name(f"{path.name}.v{version}.bak"))
    copy_whole(path, target)
    return target


def copy_beside(backup: Backup, path: Path) -> Path:
    """A copy of a backup beside its workshop, under a name that is free, to go on with.

    Raises
    ------
    KesseltonError
        If it cannot be read or written.
    """
    target = unused_name(
        path.with_name(
            _("{stem} of {isoformat}{suffix}").format(
                stem=path.stem, isoformat=backup.day.isoformat(), suffix=SUFFIX
            )
        )
    )
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


def read_workshop(path: Path) -> tuple[Workshop, list[bytes]]:
    """The same with pictures and sounds.

    Raises
    ------
    StoreError
        As `read_backup`.
    """
    with _content(path) as db, translate_values(path):
        return rows.load(db, at_once=True), list(attachments.whole_ones(db))


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
        raise StoreError(_("{name} cannot be read.").format(name=path.name), _(ANOTHER))
    with translate_errors(path):
        with closing(connect(path, write=False)) as source:
            db = present_content(source, identify(source, path))
        try:
            yield db
        finally:
            db.close()
