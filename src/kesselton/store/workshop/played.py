"""How much was played on the heads of all drums, beside the entries of the logs, so that none of a
hundred thousand has to be read for it."""

from __future__ import annotations

import sqlite3
from collections import deque
from collections.abc import Iterable, Iterator
from itertools import groupby
from operator import itemgetter

import msgspec

from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept, Played
from kesselton.store.formats.drum_file import head_from_model, head_to_model
from kesselton.store.formats.models import HeadModel

TABLES = (
    "CREATE TABLE kept_head (id INTEGER PRIMARY KEY, json TEXT NOT NULL UNIQUE)",
    """CREATE TABLE kept_played (
            drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
            position INTEGER NOT NULL,
            noted_on TEXT NOT NULL,
            event TEXT NOT NULL,
            side TEXT NOT NULL,
            shows REAL NOT NULL,
            hours REAL NOT NULL,
            batter INTEGER NOT NULL REFERENCES kept_head(id),
            resonant INTEGER REFERENCES kept_head(id),
            PRIMARY KEY (drum_id, position)) WITHOUT ROWID""",
)


def write_played(db: sqlite3.Connection, rows: Iterable[tuple[int, int, Kept]]) -> None:
    """Keep what of entries tells how long heads last."""
    numbers: dict[Head, int] = {}

    def number_of(head: Head | None) -> int | None:
        if head is None:
            return None
        if head not in numbers:
            text = msgspec.json.encode(head_to_model(head)).decode()
            db.execute("INSERT OR IGNORE INTO kept_head (json) VALUES (?)", (text,))
            query = "SELECT id FROM kept_head WHERE json = ?"
            numbers[head] = int(db.execute(query, (text,)).fetchone()[0])
        return numbers[head]

    results = []
    for drum_id, position, kept in rows:
        played = Played.of(kept)
        heads = (number_of(played.heads.get(side)) for side in ("batter", "resonant"))
        results.append(
            (
                drum_id,
                position,
                played.on,
                played.event,
                played.side,
                played.shows,
                played.hours,
                *heads,
            )
        )
    db.executemany("INSERT OR REPLACE INTO kept_played VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", results)


def played_lately(db: sqlite3.Connection, count: int) -> Iterator[tuple[int, list[Played]]]:
    """Drum by drum, what was played by its newest `count` entries, the oldest of them first.

    Raises
    ------
    InputError, ValueError
        If a head among them is none.
    """
    heads = {
        number: head_from_model(msgspec.json.decode(text, type=HeadModel), "head")
        for number, text in db.execute("SELECT id, json FROM kept_head")
    }
    pairs: dict[tuple[int, int | None], dict[str, Head]] = {}
    query = (
        "SELECT drum_id, noted_on, event, side, shows, hours, batter, resonant FROM kept_played "
        "ORDER BY drum_id, position"
    )
    for drum_id, rows in groupby(db.execute(query), key=itemgetter(0)):
        results = []
        for _, on, event, side, shows, hours, *numbers in deque(rows, maxlen=count):
            pair = pairs.get(tuple(numbers))
            if pair is None:
                both = zip(("batter", "resonant"), numbers, strict=True)
                pair = {name: heads[number] for name, number in both if number is not None}
                pairs[tuple(numbers)] = pair
            results.append(Played(on, event, side, pair, shows, hours))
        yield drum_id, results
