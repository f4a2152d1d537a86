"""Only our own tables are believed: what else a file holds is left where it is."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from functools import lru_cache

from kesselton.store.workshop.migrations import current_version, migrate

LONGEST_VALUE = 64_000_000
"""Bytes of one value; a note of fitting has some ten thousand."""


def harden(db: sqlite3.Connection) -> None:
    """What every connection to a file of unknown origin gets.

    A schema may hold functions that run when a table is read; damaged cells are looked for.
    """
    db.execute("PRAGMA trusted_schema = OFF")
    db.execute("PRAGMA cell_size_check = ON")
    db.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LONGEST_VALUE)


@lru_cache(maxsize=16)
def own_schema(version: int) -> dict[str, tuple[str, str]]:
    """Kind and definition of everything in a workshop of a version, by name."""
    with closing(empty(version)) as db:
        return _schema(db)


def empty(version: int) -> sqlite3.Connection:
    """A workshop of a version in memory, without content."""
    db = sqlite3.connect(":memory:", isolation_level=None, check_same_thread=False)
    migrate(db, 0, version)
    return db


def _schema(db: sqlite3.Connection) -> dict[str, tuple[str, str]]:
    rows = db.execute("SELECT name, type, sql FROM sqlite_master WHERE sql IS NOT NULL")
    return {str(name): (str(kind), str(sql)) for name, kind, sql in rows}


def not_ours(db: sqlite3.Connection, version: int) -> list[str]:
    """What of a file is not as we made it, in words: triggers, views, other tables."""
    ours, here = own_schema(version), _schema(db)
    return [
        f"{here[name][0]} {name}" if name in here else f"table {name} is missing"
        for name in sorted(ours.keys() | here.keys())
        if ours.get(name) != here.get(name)
    ]


def misfit(db: sqlite3.Connection, version: int) -> str:
    """Why tables are not those of a version, "" if they are: one is missing, or lacks a column, or
    is of another version of ours. Such a file is damaged; what others added is not looked at."""
    ours, here = own_schema(version), _schema(db)
    for name, columns in _own_columns(version).items():
        if here.get(name, ("", ""))[0] != "table":
            return f"the table {name} is missing"
        there = {str(row[1]) for row in db.execute(f"PRAGMA table_xinfo('{name}')")}
        lacks = [column for column in columns if column not in there]
        if lacks:
            return f"the table {name} has no {lacks[0]}"
    more = here.keys() - ours.keys()
    others = (name for number in range(1, current_version() + 1) for name in own_tables(number))
    strays = sorted(more & set(others)) if more else []
    return f"the table {strays[0]} is of another version" if strays else ""


@lru_cache(maxsize=16)
def _own_columns(version: int) -> dict[str, tuple[str, ...]]:
    """Names of the columns of each table of a version."""
    with closing(empty(version)) as model:
        return {
            name: tuple(str(row[1]) for row in model.execute(f"PRAGMA table_info('{name}')"))
            for name in own_tables(version)
        }


def fitting_version(db: sqlite3.Connection) -> int:
    """The newest version whose tables a file has; 0 for none."""
    versions = range(current_version(), 0, -1)
    return next((number for number in versions if not misfit(db, number)), 0)


def own_tables(version: int) -> list[str]:
    """Names of the tables of a version."""
    return [name for name, (kind, _) in own_schema(version).items() if kind == "table"]


def own_content(source: sqlite3.Connection, version: int) -> sqlite3.Connection:
    """The rows of our own tables in memory, in a workshop of the same version.

    Nothing of the other's schema comes along; rows whose owner is gone do not either: they would
    join the next drum of that number.

    Raises
    ------
    sqlite3.Error
        If they cannot be read, or are not what such a table can hold.
    """
    db = empty(version)
    try:
        here = _schema(source)
        for table in own_tables(version):
            if here.get(table, ("", ""))[0] != "table":
                continue
            info = list(db.execute(f"PRAGMA table_info('{table}')"))
            known = [str(row[1]) for row in info]
            there = {str(row[1]) for row in source.execute(f"PRAGMA table_xinfo('{table}')")}
            columns = [f'"{name}"' for name in known if name in there]
            if not columns:
                continue
            marks = ", ".join("?" * len(columns))
            names = ", ".join(columns)
            rows = source.execute(f'SELECT {names} FROM "{table}"')
            db.executemany(f'INSERT INTO "{table}" ({names}) VALUES ({marks})', rows)
        clear_orphans(db)
    except BaseException:
        db.close()
        raise
    return db


def clear_orphans(db: sqlite3.Connection) -> int:
    """Remove rows whose owner is gone; how many there were."""
    count = 0
    while gone := _orphans(db):
        count += len(gone)
        for table, row, _, _ in gone:
            db.execute(f'DELETE FROM "{table}" WHERE rowid = ?', (row,))
    rest = len(list(db.execute("PRAGMA foreign_key_check")))
    _without_rowid_orphans(db)
    return count + rest


def _orphans(db: sqlite3.Connection) -> list[tuple[str, int | None, str, int]]:
    return [row for row in db.execute("PRAGMA foreign_key_check") if row[1] is not None]


def _without_rowid_orphans(db: sqlite3.Connection) -> None:
    """The same in tables that have no row numbers to name them by."""
    tables = {str(row[0]) for row in db.execute("PRAGMA foreign_key_check")}
    for table in ("reading", "clearing"):
        if table in tables:
            db.execute(f"DELETE FROM {table} WHERE drum_id NOT IN (SELECT id FROM drum)")
    if "clearing_round" in tables:
        db.execute(
            "DELETE FROM clearing_round WHERE NOT EXISTS (SELECT 1 FROM clearing c WHERE "
            "c.drum_id = clearing_round.drum_id AND c.side = clearing_round.side)"
        )
    if tables & {"clearing_round", "rod_reading"}:
        db.execute(
            "DELETE FROM rod_reading WHERE NOT EXISTS (SELECT 1 FROM clearing_round r WHERE "
            "r.drum_id = rod_reading.drum_id AND r.side = rod_reading.side "
            "AND r.round = rod_reading.round)"
        )


def has_orphans(db: sqlite3.Connection) -> bool:
    """Whether rows are there whose owner is gone."""
    return db.execute("PRAGMA foreign_key_check").fetchone() is not None


def present_content(source: sqlite3.Connection, version: int) -> sqlite3.Connection:
    """The content of a file in memory, brought to the present version; the file is only read."""
    db = own_content(source, version)
    try:
        db.execute("PRAGMA foreign_keys = ON")
        migrate(db, version)
    except BaseException:
        db.close()
        raise
    return db
