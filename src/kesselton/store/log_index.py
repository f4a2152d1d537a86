"""Finding entries of all logs by words, by drum and by sound, without reading them all."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from kesselton.core.instrument.kept import Kept
from kesselton.store.log_file import entry_of

MOST = 100
SAME_SIZE_M = 0.013
COLUMNS = """drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            noted_on TEXT NOT NULL,
            kind TEXT NOT NULL,
            head_diameter_m REAL NOT NULL,
            hz REAL,
            words TEXT NOT NULL,
            sound BLOB,
            PRIMARY KEY (drum_id, position)"""


@dataclass(frozen=True)
class Hit:
    """An entry that was found, and where it stands: drum and place in its log."""

    drum_id: int
    position: int
    kept: Kept


def index_row(drum_id: int, position: int, kept: Kept) -> tuple[Any, ...]:
    """What is looked for in an entry."""
    import numpy as np

    from kesselton.core.learning.likeness import fingerprint

    print_ = fingerprint(kept)
    sound = None if print_ is None else print_.astype(np.float32).tobytes()
    hz = kept.heard_hz if kept.heard_hz is not None else kept.computed_hz
    shell = kept.drum.shell
    return (
        drum_id, position, kept.on, kept.drum.kind, shell.head_diameter_m, hz, kept.words(), sound,
    )  # fmt: skip


def write_index(db: sqlite3.Connection, rows: Iterable[tuple[int, int, Kept]]) -> None:
    """Keep what is looked for in entries."""
    made = [index_row(*row) for row in rows]
    db.executemany("INSERT OR REPLACE INTO kept_index VALUES (?, ?, ?, ?, ?, ?, ?, ?)", made)


def with_words(db: sqlite3.Connection, words: str, most: int = MOST) -> list[Hit]:
    """Entries in which every word is found, the newest first."""
    wanted = words.casefold().split()
    where = " AND ".join("instr(words, ?) > 0" for _ in wanted) or "1"
    found = db.execute(
        f"SELECT drum_id, position FROM kept_index WHERE {where} "
        "ORDER BY noted_on DESC, drum_id, position DESC LIMIT ?",
        (*wanted, most),
    )
    return _read(db, found.fetchall())


def of_such_drums(
    db: sqlite3.Connection, kind: str, head_diameter_m: float, hz: float | None, most: int = MOST
) -> list[Hit]:
    """Entries of drums of a kind and size, those nearest to a note first, else the newest."""
    order = "abs(coalesce(hz, 0) - ?)" if hz is not None else "noted_on DESC"
    given = (kind, head_diameter_m, SAME_SIZE_M, *(() if hz is None else (hz,)), most)
    found = db.execute(
        "SELECT drum_id, position FROM kept_index WHERE kind = ? AND abs(head_diameter_m - ?) < ? "
        f"ORDER BY {order} LIMIT ?",
        given,
    )
    return _read(db, found.fetchall())


def like_sound(db: sqlite3.Connection, kept: Kept, most: int = MOST) -> list[tuple[Hit, float]]:
    """Entries with a stroke, those most like the stroke of one first, and how unlike they are."""
    import numpy as np

    from kesselton.core.learning.likeness import SIZE, fingerprint, unlike

    wanted = fingerprint(kept)
    rows = db.execute("SELECT drum_id, position, sound FROM kept_index WHERE sound IS NOT NULL")
    all_ = [row for row in rows if len(row[2]) == 4 * SIZE]
    if wanted is None or not all_:
        return []
    table = np.frombuffer(b"".join(row[2] for row in all_), dtype=np.float32).reshape(-1, SIZE)
    far = unlike(wanted, table.astype(np.float64))
    best = np.argsort(far, kind="stable")[:most].tolist()
    hits = _read(db, [all_[n][:2] for n in best])
    return list(zip(hits, far[best].tolist(), strict=True))


def _read(db: sqlite3.Connection, places: Iterable[tuple[int, int]]) -> list[Hit]:
    out = []
    for drum_id, position in places:
        row = db.execute(
            "SELECT json FROM kept WHERE drum_id = ? AND position = ?", (drum_id, position)
        ).fetchone()
        if row is not None:
            out.append(Hit(drum_id, position, entry_of(row[0])))
    return out
