"""The schema of the workshop file, step by step. One transaction a step; never executescript."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable

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


MIGRATIONS: tuple[Callable[[sqlite3.Connection], None], ...] = (_first,)
CURRENT_VERSION = len(MIGRATIONS)
