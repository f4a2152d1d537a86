"""The schema of the workshop file, step by step. One transaction a step; never executescript."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from kesselton.store.workshop import log_index, played

APPLICATION_ID = 0x4B535457  # "KSTW"
TRIAL_ID = 0x4B53544E
"""Of files from before the first release, which are not read."""

_OF_DRUM = "drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE"
_NOTE = """CREATE TABLE {} (
        drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
        json TEXT NOT NULL)"""
_NUMBERED = """CREATE TABLE {} (
        id INTEGER PRIMARY KEY,
        position INTEGER NOT NULL,
        name TEXT NOT NULL,
        json TEXT NOT NULL)"""

_VERSION_1 = (
    """CREATE TABLE workshop (
        id INTEGER PRIMARY KEY CHECK (id = 1),
        name TEXT NOT NULL)""",
    """CREATE TABLE drum (
        id INTEGER PRIMARY KEY,
        position INTEGER NOT NULL,
        name TEXT NOT NULL,
        kind TEXT NOT NULL,
        head_diameter_m REAL NOT NULL,
        json TEXT NOT NULL)""",
    """CREATE TABLE library_head (
        position INTEGER PRIMARY KEY,
        name TEXT NOT NULL,
        json TEXT NOT NULL)""",
    """CREATE TABLE shelf (
        head_name TEXT NOT NULL,
        size_in REAL NOT NULL,
        stock INTEGER NOT NULL CHECK (stock >= 0),
        favourite INTEGER NOT NULL CHECK (favourite IN (0, 1)),
        PRIMARY KEY (head_name, size_in))""",
    """CREATE TABLE dial (
        id INTEGER PRIMARY KEY,
        position INTEGER NOT NULL,
        name TEXT NOT NULL UNIQUE)""",
    """CREATE TABLE dial_pair (
        dial_id INTEGER NOT NULL REFERENCES dial(id) ON DELETE CASCADE,
        position INTEGER NOT NULL,
        dial REAL NOT NULL,
        tension_n_per_m REAL NOT NULL,
        thickness_m REAL NOT NULL,
        name TEXT NOT NULL,
        PRIMARY KEY (dial_id, position))""",
    """CREATE TABLE torque_key (
        position INTEGER PRIMARY KEY,
        name TEXT NOT NULL UNIQUE,
        friction TEXT NOT NULL,
        most_nm REAL NOT NULL)""",
    *(_NOTE.format(name) for name in ("brief", "inspected", "fittings")),
    f"""CREATE TABLE reading (
        {_OF_DRUM},
        position INTEGER NOT NULL,
        kind TEXT NOT NULL,
        value REAL NOT NULL,
        side TEXT NOT NULL,
        other_head TEXT NOT NULL,
        rod INTEGER NOT NULL,
        gauge TEXT NOT NULL,
        hz REAL,
        noted_on TEXT NOT NULL,
        PRIMARY KEY (drum_id, position)) WITHOUT ROWID""",
    f"""CREATE TABLE clearing (
        {_OF_DRUM},
        position INTEGER NOT NULL,
        side TEXT NOT NULL CHECK (side IN ('batter', 'resonant')),
        json TEXT NOT NULL,
        PRIMARY KEY (drum_id, side)) WITHOUT ROWID""",
    """CREATE TABLE clearing_round (
        drum_id INTEGER NOT NULL,
        side TEXT NOT NULL,
        round INTEGER NOT NULL,
        turns TEXT NOT NULL,
        PRIMARY KEY (drum_id, side, round),
        FOREIGN KEY (drum_id, side) REFERENCES clearing(drum_id, side) ON DELETE CASCADE)
        WITHOUT ROWID""",
    """CREATE TABLE rod_reading (
        drum_id INTEGER NOT NULL,
        side TEXT NOT NULL,
        round INTEGER NOT NULL,
        position INTEGER NOT NULL,
        kind TEXT NOT NULL,
        rod INTEGER NOT NULL,
        value REAL NOT NULL,
        spread REAL NOT NULL,
        PRIMARY KEY (drum_id, side, round, position),
        FOREIGN KEY (drum_id, side, round) REFERENCES clearing_round(drum_id, side, round)
        ON DELETE CASCADE) WITHOUT ROWID""",
    f"""CREATE TABLE kept (
        {_OF_DRUM},
        position INTEGER NOT NULL,
        noted_on TEXT NOT NULL,
        json TEXT NOT NULL,
        PRIMARY KEY (drum_id, position)) WITHOUT ROWID""",
    *log_index.TABLES,
    *played.TABLES,
    "CREATE TABLE attachment (digest TEXT PRIMARY KEY, content BLOB NOT NULL)",
    *(_NUMBERED.format(name) for name in ("kit", "show", "repair", "pupil")),
    """CREATE TABLE checksum (
        owner INTEGER NOT NULL,
        part TEXT NOT NULL,
        sum BLOB NOT NULL,
        PRIMARY KEY (owner, part)) WITHOUT ROWID""",
    """CREATE TABLE aside (
        what TEXT NOT NULL,
        reason TEXT NOT NULL,
        content TEXT NOT NULL)""",
)


def _first(db: sqlite3.Connection) -> None:
    for statement in _VERSION_1:
        db.execute(statement)


MIGRATIONS: tuple[Callable[[sqlite3.Connection], None], ...] = (_first,)
"""Each takes a file from a version to the next; what was released is never changed."""


def current_version() -> int:
    """Of the files this program writes."""
    return len(MIGRATIONS)


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[None]:
    """All of it, or nothing."""
    db.execute("BEGIN IMMEDIATE")
    try:
        yield
        db.execute("COMMIT")
    except BaseException:
        if db.in_transaction:
            db.execute("ROLLBACK")
        raise


def migrate(db: sqlite3.Connection, version: int, to: int | None = None) -> None:
    """Bring a file from a version to another, or the present one, each step in one transaction."""
    for number, step in enumerate(MIGRATIONS[version:to], start=version + 1):
        with transaction(db):
            step(db)
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            db.execute(f"PRAGMA user_version = {number}")
