"""The schema of the workshop file, step by step. One transaction a step; never executescript."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from kesselton.store import log_index, played
from kesselton.store.log_file import entry_of
from kesselton.store.sums import write_all_sums
from kesselton.store.version5 import to_documents

APPLICATION_ID = 0x4B53544E  # "KSTN"

_VERSION_1 = (
    """CREATE TABLE workshop (
        id INTEGER PRIMARY KEY CHECK (id = 1),
        name TEXT NOT NULL)""",
    """CREATE TABLE head (
        id INTEGER PRIMARY KEY,
        name TEXT NOT NULL,
        material TEXT NOT NULL,
        areal_density_kg_per_m2 REAL,
        coating_kg_per_m2 REAL NOT NULL DEFAULT 0,
        library_position INTEGER)""",
    """CREATE TABLE head_ply (
        head_id INTEGER NOT NULL REFERENCES head(id) ON DELETE CASCADE,
        position INTEGER NOT NULL,
        thickness_m REAL NOT NULL,
        PRIMARY KEY (head_id, position))""",
    """CREATE TABLE head_addition (
        head_id INTEGER NOT NULL REFERENCES head(id) ON DELETE CASCADE,
        position INTEGER NOT NULL,
        kind TEXT NOT NULL,
        inner_radius_m REAL NOT NULL,
        outer_radius_m REAL NOT NULL,
        thickness_m REAL NOT NULL,
        PRIMARY KEY (head_id, position))""",
    """CREATE TABLE drum (
        id INTEGER PRIMARY KEY,
        position INTEGER NOT NULL,
        name TEXT NOT NULL,
        kind TEXT NOT NULL,
        head_diameter_m REAL NOT NULL,
        contact_radius_m REAL,
        depth_m REAL NOT NULL,
        rods INTEGER NOT NULL,
        hoop TEXT NOT NULL,
        shell_note_hz REAL,
        vent_diameter_m REAL NOT NULL,
        temperature_c REAL NOT NULL,
        relative_humidity REAL NOT NULL,
        pressure_pa REAL NOT NULL)""",
    """CREATE TABLE setting (
        drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
        side TEXT NOT NULL CHECK (side IN ('batter', 'resonant')),
        head_id INTEGER NOT NULL REFERENCES head(id),
        tension_n_per_m REAL,
        lug_pitch_hz REAL,
        other_head TEXT,
        centre TEXT,
        PRIMARY KEY (drum_id, side),
        CHECK ((tension_n_per_m IS NULL) <> (lug_pitch_hz IS NULL)))""",
)


def _first(db: sqlite3.Connection) -> None:
    for statement in _VERSION_1:
        db.execute(statement)


def _second(db: sqlite3.Connection) -> None:
    """Ports in heads."""
    db.execute("ALTER TABLE head ADD COLUMN port_diameter_m REAL NOT NULL DEFAULT 0")


def _third(db: sqlite3.Connection) -> None:
    """Heads with extras, stock, muffling, briefs; gauges, readings and inspections."""
    db.execute("ALTER TABLE head ADD COLUMN interlayer TEXT NOT NULL DEFAULT ''")
    db.execute("ALTER TABLE head ADD COLUMN edge_vents INTEGER NOT NULL DEFAULT 0")
    db.execute("ALTER TABLE head ADD COLUMN edge_vent_diameter_m REAL NOT NULL DEFAULT 0")
    db.execute(
        """CREATE TABLE shelf (
            head_name TEXT NOT NULL,
            size_in REAL NOT NULL,
            stock INTEGER NOT NULL CHECK (stock >= 0),
            favourite INTEGER NOT NULL CHECK (favourite IN (0, 1)),
            PRIMARY KEY (head_name, size_in))"""
    )
    db.execute(
        """CREATE TABLE muffler (
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            kind TEXT NOT NULL,
            side TEXT NOT NULL,
            place REAL NOT NULL,
            rod REAL NOT NULL,
            PRIMARY KEY (drum_id, position))"""
    )
    db.execute("ALTER TABLE drum ADD COLUMN rod_thread TEXT NOT NULL DEFAULT 'no12_24'")
    db.execute(
        """CREATE TABLE dial (
            id INTEGER PRIMARY KEY,
            position INTEGER NOT NULL,
            name TEXT NOT NULL UNIQUE)"""
    )
    db.execute(
        """CREATE TABLE dial_pair (
            dial_id INTEGER NOT NULL REFERENCES dial(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            dial REAL NOT NULL,
            tension_n_per_m REAL NOT NULL,
            thickness_m REAL NOT NULL,
            name TEXT NOT NULL,
            PRIMARY KEY (dial_id, position))"""
    )
    db.execute(
        """CREATE TABLE torque_key (
            position INTEGER PRIMARY KEY,
            name TEXT NOT NULL UNIQUE,
            friction TEXT NOT NULL,
            most_nm REAL NOT NULL)"""
    )
    db.execute(
        """CREATE TABLE reading (
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            kind TEXT NOT NULL,
            value REAL NOT NULL,
            side TEXT NOT NULL,
            other_head TEXT NOT NULL,
            rod INTEGER NOT NULL,
            gauge TEXT NOT NULL,
            hz REAL,
            noted_on TEXT NOT NULL,
            PRIMARY KEY (drum_id, position))"""
    )
    db.execute(
        """CREATE TABLE fitting (
            drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
            json TEXT NOT NULL)"""
    )
    db.execute(
        """CREATE TABLE inspected (
            drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
            json TEXT NOT NULL)"""
    )
    db.execute(
        """CREATE TABLE brief (
            drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
            json TEXT NOT NULL)"""
    )


def _fourth(db: sqlite3.Connection) -> None:
    """Rounds of clearing."""
    db.execute(
        """CREATE TABLE clearing (
            drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
            json TEXT NOT NULL)"""
    )


def _sixth(db: sqlite3.Connection) -> None:
    """Each head of a drum keeps its own progress of fitting."""
    db.execute("ALTER TABLE fitting RENAME TO fittings")
    db.execute("UPDATE fittings SET json = '[' || json || ']'")


def _seventh(db: sqlite3.Connection) -> None:
    """Sums over what is kept, and room for what of a damaged file could not be read."""
    db.execute(
        """CREATE TABLE checksum (
            owner INTEGER NOT NULL,
            part TEXT NOT NULL,
            sum BLOB NOT NULL,
            PRIMARY KEY (owner, part)) WITHOUT ROWID"""
    )
    db.execute(
        """CREATE TABLE aside (
            what TEXT NOT NULL,
            reason TEXT NOT NULL,
            content TEXT NOT NULL)"""
    )
    write_all_sums(db, later=("kept", "kits", "shows", "repairs", "pupils"))


def _eighth(db: sqlite3.Connection) -> None:
    """The log of each drum."""
    db.execute(
        """CREATE TABLE kept (
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            noted_on TEXT NOT NULL,
            json TEXT NOT NULL,
            PRIMARY KEY (drum_id, position)) WITHOUT ROWID"""
    )


def _ninth(db: sqlite3.Connection) -> None:
    """What is looked for in the logs, and pictures and sounds that belong to them."""
    for made in log_index.TABLES:
        db.execute(made)
    db.execute("CREATE TABLE attachment (digest TEXT PRIMARY KEY, content BLOB NOT NULL)")
    old = db.execute("SELECT drum_id, position, json FROM kept").fetchall()
    log_index.write_index(db, ((number, n, entry_of(text)) for number, n, text in old))


def _tenth(db: sqlite3.Connection) -> None:
    """Sets: drums that are played together."""
    db.execute(
        """CREATE TABLE kit (
            id INTEGER PRIMARY KEY,
            position INTEGER NOT NULL,
            name TEXT NOT NULL,
            json TEXT NOT NULL)"""
    )


def _eleventh(db: sqlite3.Connection) -> None:
    """Shows, repairs on a stage, and who practises."""
    for table in ("show", "repair", "pupil"):
        db.execute(
            f"""CREATE TABLE {table} (
                id INTEGER PRIMARY KEY,
                position INTEGER NOT NULL,
                name TEXT NOT NULL,
                json TEXT NOT NULL)"""
        )


def _twelfth(db: sqlite3.Connection) -> None:
    """How much was played on which heads."""
    for made in played.TABLES:
        db.execute(made)
    old = db.execute("SELECT drum_id, position, json FROM kept").fetchall()
    played.write_played(db, ((number, n, entry_of(text)) for number, n, text in old))


MIGRATIONS: tuple[Callable[[sqlite3.Connection], None], ...] = (
    _first, _second, _third, _fourth, to_documents, _sixth, _seventh, _eighth, _ninth,
    _tenth, _eleventh, _twelfth,
)  # fmt: skip
CURRENT_VERSION = len(MIGRATIONS)


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
