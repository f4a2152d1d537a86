"""Sums over what a workshop holds, so that a value the disk has changed is noticed.

A sum is over all rows of one part of one drum, or (owner 0) of the workshop itself, in their order.
SQLite sees broken pages; it does not see another digit in a whole one.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from hashlib import blake2b
from itertools import groupby
from operator import itemgetter

import msgspec

OWN_PARTS: dict[str, tuple[str, ...]] = {
    "drum": ("SELECT id, name, kind, head_diameter_m, json FROM drum WHERE {owner} ORDER BY id",),
    "notes": tuple(
        f"SELECT drum_id, '{table}', json FROM {table} WHERE {{owner}} ORDER BY drum_id"
        for table in ("brief", "inspected", "fittings")
    ),
    "reading": ("SELECT * FROM reading WHERE {owner} ORDER BY drum_id, position",),
    "clearing": (
        "SELECT drum_id, 'clearing', position, side, json FROM clearing WHERE {owner} "
        "ORDER BY drum_id, side",
        "SELECT drum_id, 'round', side, round, turns FROM clearing_round WHERE {owner} "
        "ORDER BY drum_id, side, round",
        "SELECT * FROM rod_reading WHERE {owner} ORDER BY drum_id, side, round, position",
    ),
    "kept": ("SELECT * FROM kept WHERE {owner} ORDER BY drum_id, position",),
}
"""Parts of a drum: rows that begin with its number."""
COMMON_PARTS: dict[str, tuple[str, ...]] = {
    "title": ("SELECT 0, name FROM workshop",),
    "rack": ("SELECT 0, id FROM drum ORDER BY position, id",),
    "library": ("SELECT 0, position, name, json FROM library_head ORDER BY position",),
    "kits": ("SELECT 0, * FROM kit ORDER BY position, id",),
    "shows": ("SELECT 0, * FROM show ORDER BY position, id",),
    "repairs": ("SELECT 0, * FROM repair ORDER BY position, id",),
    "pupils": ("SELECT 0, * FROM pupil ORDER BY position, id",),
    "shelf": ("SELECT 0, * FROM shelf ORDER BY head_name, size_in",),
    "gauges": (
        "SELECT 0, * FROM dial ORDER BY id",
        "SELECT 0, * FROM dial_pair ORDER BY dial_id, position",
        "SELECT 0, * FROM torque_key ORDER BY position",
    ),
}
AT_ONCE = ("drum", "notes")
"""Parts that are read when a workshop is opened; the others when somebody looks."""
Part = tuple[int, str]


def sums(db: sqlite3.Connection, part: str, owner: int | None = None) -> dict[int, bytes]:
    """Sums of a part of one owner, or of all that have rows of it."""
    results: dict[int, object] = {}
    for query in COMMON_PARTS.get(part) or OWN_PARTS[part]:
        column = "id" if part == "drum" else "drum_id"
        where = "1" if owner is None or part in COMMON_PARTS else f"{column} = {int(owner)}"
        for number, rows in groupby(db.execute(query.format(owner=where)), key=itemgetter(0)):
            result = results.setdefault(number, blake2b(digest_size=8))
            for row in rows:
                result.update(msgspec.json.encode(row))  # type: ignore[attr-defined]
    return {number: result.digest() for number, result in results.items()}  # type: ignore[attr-defined]


def write_sums(db: sqlite3.Connection, touched: Iterable[Part]) -> None:
    """Keep the sums of what was written, in the transaction that wrote it."""
    for owner, part in touched:
        result = sums(db, part, owner).get(owner)
        if result is None:
            db.execute("DELETE FROM checksum WHERE owner = ? AND part = ?", (owner, part))
        else:
            db.execute("INSERT OR REPLACE INTO checksum VALUES (?, ?, ?)", (owner, part, result))


def write_all_sums(db: sqlite3.Connection) -> None:
    """Keep the sums of everything there is."""
    db.execute("DELETE FROM checksum")
    for part in (*OWN_PARTS, *COMMON_PARTS):
        rows = [(owner, part, result) for owner, result in sums(db, part).items()]
        db.executemany("INSERT INTO checksum VALUES (?, ?, ?)", rows)


def changed(db: sqlite3.Connection, part: str, owner: int | None = None) -> list[int]:
    """Owners whose rows are not those that were written; all of the part, or one."""
    where = "" if owner is None else f" AND owner = {int(owner)}"
    kept = dict(db.execute(f"SELECT owner, sum FROM checksum WHERE part = ?{where}", (part,)))
    here = sums(db, part, owner)
    return sorted(n for n in kept.keys() | here.keys() if kept.get(n) != here.get(n))


def sums_held(db: sqlite3.Connection) -> bytes:
    """One sum over all that are kept: another one whenever the program has changed anything."""
    whole = blake2b(digest_size=16)
    for row in db.execute("SELECT owner, part, sum FROM checksum ORDER BY owner, part"):
        whole.update(msgspec.json.encode(row))
    return whole.digest()
