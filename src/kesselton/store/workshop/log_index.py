"""Finding entries of all logs by words, by drum and by sound, without reading them all.

What is looked for lies beside the entries, in the order it is looked through: the newest first, and
strokes by their note.
"""

from __future__ import annotations

import sqlite3
from array import array
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from kesselton.core.hearing.likeness import ALIKE, ALIKE_OCTAVES, SIZE, fingerprint, unlike
from kesselton.core.instrument.kept import EVENTS, Kept
from kesselton.store.formats.log_file import entry_of

MOST = 60
SAME_SIZE_M = 0.013
TABLES = (
    """CREATE TABLE kept_index (
            noted_on TEXT NOT NULL,
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            kind TEXT NOT NULL,
            head_diameter_m REAL NOT NULL,
            hz REAL,
            title TEXT NOT NULL,
            words TEXT NOT NULL,
            PRIMARY KEY (noted_on DESC, drum_id, position)) WITHOUT ROWID""",
    "CREATE INDEX kept_index_place ON kept_index (drum_id, position)",
    """CREATE TABLE kept_sound (
            octave REAL NOT NULL,
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            sound BLOB NOT NULL,
            PRIMARY KEY (octave, drum_id, position)) WITHOUT ROWID""",
    "CREATE INDEX kept_sound_place ON kept_sound (drum_id, position)",
)


@dataclass(frozen=True)
class Hit:
    """An entry that was found: where it stands, and what is said of it in a list."""

    drum_id: int
    position: int
    on: str
    title: str


def title_of(kept: Kept) -> str:
    """What an entry is called in a list."""
    return kept.what_for or kept.verdict or EVENTS[kept.event]


def hit_of(drum_id: int, position: int, kept: Kept) -> Hit:
    """An entry as one that was found."""
    return Hit(drum_id, position, kept.on, title_of(kept))


def write_index(db: sqlite3.Connection, rows: Iterable[tuple[int, int, Kept]]) -> None:
    """Keep what is looked for in entries."""
    all_ = list(rows)
    db.executemany(
        "INSERT OR REPLACE INTO kept_index VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        [_row(*row) for row in all_],
    )
    heard = [row for row in (_sound_row(*row) for row in all_) if row is not None]
    db.executemany("INSERT OR REPLACE INTO kept_sound VALUES (?, ?, ?, ?)", heard)


def _row(drum_id: int, position: int, kept: Kept) -> tuple[Any, ...]:
    size, title = kept.drum.shell.head_diameter_m, title_of(kept)
    return (kept.on, drum_id, position, kept.drum.kind, size, kept.note_hz, title, kept.words())


def _sound_row(drum_id: int, position: int, kept: Kept) -> tuple[Any, ...] | None:
    result = fingerprint(kept)
    if result is None:
        return None
    return (result[0], drum_id, position, array("f", result).tobytes())


def with_words(db: sqlite3.Connection, words: str, most: int = MOST) -> list[Hit]:
    """Entries in which every word is found, the newest first."""
    wanted = words.casefold().split()
    where = " AND ".join("instr(words, ?) > 0" for _ in wanted) or "1"
    cursor = db.execute(
        f"SELECT drum_id, position, noted_on, title FROM kept_index WHERE {where} "
        "ORDER BY noted_on DESC, drum_id, position LIMIT ?",
        (*wanted, most),
    )
    return [Hit(*row) for row in cursor]


def of_such_drums(
    db: sqlite3.Connection, kind: str, head_diameter_m: float, hz: float | None, most: int = MOST
) -> list[tuple[Hit, Kept]]:
    """Entries of drums of a kind and size, those nearest to a note first, else the newest."""
    order = "abs(coalesce(hz, 0) - ?)" if hz is not None else "noted_on DESC"
    given = (kind, head_diameter_m, SAME_SIZE_M, *(() if hz is None else (hz,)), most)
    cursor = db.execute(
        "SELECT drum_id, position, noted_on, title FROM kept_index "
        f"WHERE kind = ? AND abs(head_diameter_m - ?) < ? ORDER BY {order} LIMIT ?",
        given,
    )
    hits = [Hit(*row) for row in cursor.fetchall()]
    return [(hit, entry_at(db, hit.drum_id, hit.position)) for hit in hits]


def like_sound(db: sqlite3.Connection, kept: Kept, most: int = MOST) -> list[tuple[Hit, float]]:
    """Entries whose stroke is like that of one, the most alike first, and how unlike they are."""
    import numpy as np

    wanted = fingerprint(kept)
    if wanted is None:
        return []
    rows = db.execute(
        "SELECT drum_id, position, sound FROM kept_sound WHERE octave BETWEEN ? AND ?",
        (wanted[0] - ALIKE_OCTAVES, wanted[0] + ALIKE_OCTAVES),
    )
    all_ = [row for row in rows if len(row[2]) == 4 * SIZE]
    if not all_:
        return []
    table = np.frombuffer(b"".join(row[2] for row in all_), dtype=np.float32).reshape(-1, SIZE)
    far = unlike(wanted, table.astype(np.float64))
    best = [n for n in np.argsort(far, kind="stable")[:most].tolist() if far[n] < ALIKE]
    query = (
        "SELECT drum_id, position, noted_on, title FROM kept_index "
        "WHERE drum_id = ? AND position = ?"
    )
    hits = [(db.execute(query, all_[n][:2]).fetchone(), float(far[n])) for n in best]
    return [(Hit(*row), apart) for row, apart in hits if row is not None]


def entry_at(db: sqlite3.Connection, drum_id: int, position: int) -> Kept:
    """One entry of the log of a drum."""
    row = db.execute(
        "SELECT json FROM kept WHERE drum_id = ? AND position = ?", (drum_id, position)
    ).fetchone()
    return entry_of(row[0])
