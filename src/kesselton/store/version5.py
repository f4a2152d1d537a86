"""The step from tables of parts (versions 1 to 4) to one document a drum (version 5)."""

from __future__ import annotations

import json
import sqlite3
from typing import Any

_TABLES = (
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
    """CREATE TABLE brief (
        drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
        json TEXT NOT NULL)""",
    """CREATE TABLE inspected (
        drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
        json TEXT NOT NULL)""",
    """CREATE TABLE fitting (
        drum_id INTEGER PRIMARY KEY REFERENCES drum(id) ON DELETE CASCADE,
        json TEXT NOT NULL)""",
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
        PRIMARY KEY (drum_id, position)) WITHOUT ROWID""",
    """CREATE TABLE clearing (
        drum_id INTEGER NOT NULL REFERENCES drum(id) ON DELETE CASCADE,
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
)
RENAMED = {
    "textured fibre 14 mil": "textured fiber 14 mil",
    "single 10 mil, centre dot": "single 10 mil, center dot",
}
"""Heads that shipped under another spelling: the shelf and the library find them by name."""
_OLD = (
    "clearing", "fitting", "inspected", "brief", "reading", "muffler", "setting", "drum",
    "head_ply", "head_addition", "head",
)  # fmt: skip


def to_documents(db: sqlite3.Connection) -> None:
    """Exchange the tables; what belongs to no drum or head any more is left behind."""
    heads = _heads(db)
    for head in heads.values():
        head["name"] = RENAMED.get(head["name"], head["name"])
    for old, new in RENAMED.items():
        db.execute("UPDATE shelf SET head_name = ? WHERE head_name = ?", (new, old))
    library = [
        heads[number]
        for (number,) in db.execute(
            "SELECT id FROM head WHERE library_position IS NOT NULL ORDER BY library_position"
        )
    ]
    drums = _drums(db, heads)
    known = {drum["id"] for drum in drums}
    kept = {
        table: [row for row in db.execute(f"SELECT * FROM {table}") if row[0] in known]
        for table in ("brief", "inspected", "fitting", "reading", "clearing")
    }
    for table in _OLD:  # children first: dropping a parent empties what hangs on it
        db.execute(f"DROP TABLE {table}")
    for statement in _TABLES:
        db.execute(statement)
    for position, head in enumerate(library):
        values = (position, head["name"], _text(head))
        db.execute("INSERT INTO library_head VALUES (?, ?, ?)", values)
    for drum in drums:
        file, shell = drum["file"], drum["file"]["shell"]
        db.execute(
            "INSERT INTO drum VALUES (?, ?, ?, ?, ?, ?)",
            (
                drum["id"], drum["position"], file["name"], file["kind"],
                shell["head_diameter_m"], _text(file),
            ),
        )  # fmt: skip
    for table in ("brief", "inspected", "fitting"):
        db.executemany(f"INSERT INTO {table} VALUES (?, ?)", kept[table])
    db.executemany("INSERT INTO reading VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", kept["reading"])
    for drum_id, text in kept["clearing"]:
        for position, one in enumerate(json.loads(text)["clearings"]):
            _clearing(db, drum_id, position, one)


def _text(data: Any) -> str:
    return json.dumps(data, ensure_ascii=False, allow_nan=False)


def _heads(db: sqlite3.Connection) -> dict[int, dict[str, Any]]:
    plies: dict[int, list[float]] = {}
    for number, ply in db.execute(
        "SELECT head_id, thickness_m FROM head_ply ORDER BY head_id, position"
    ):
        plies.setdefault(number, []).append(ply)
    names = ("kind", "inner_radius_m", "outer_radius_m", "thickness_m")
    additions: dict[int, list[dict[str, Any]]] = {}
    for number, *values in db.execute(
        f"SELECT head_id, {', '.join(names)} FROM head_addition ORDER BY head_id, position"
    ):
        additions.setdefault(number, []).append(dict(zip(names, values, strict=True)))
    columns = (
        "name", "material", "areal_density_kg_per_m2", "coating_kg_per_m2", "port_diameter_m",
        "interlayer", "edge_vents", "edge_vent_diameter_m",
    )  # fmt: skip
    return {
        number: {
            **dict(zip(columns, values, strict=True)),
            "plies_m": plies.get(number, []),
            "additions": additions.get(number, []),
        }
        for number, *values in db.execute(f"SELECT id, {', '.join(columns)} FROM head")
    }


def _drums(db: sqlite3.Connection, heads: dict[int, dict[str, Any]]) -> list[dict[str, Any]]:
    settings: dict[int, dict[str, Any]] = {}
    for drum_id, side, head_id, tension, pitch, other, centre in db.execute(
        "SELECT drum_id, side, head_id, tension_n_per_m, lug_pitch_hz, other_head, centre "
        "FROM setting"
    ):
        setting: dict[str, Any] = {"head": heads[head_id]}
        if pitch is None:
            setting["tension_n_per_m"] = tension
        else:
            setting["reading"] = {
                "kind": "lug_pitch", "hz": pitch, "other_head": other, "centre": centre,
            }  # fmt: skip
        settings.setdefault(drum_id, {})[side] = setting
    mufflers: dict[int, list[dict[str, Any]]] = {}
    for drum_id, kind, side, place, rod in db.execute(
        "SELECT drum_id, kind, side, place, rod FROM muffler ORDER BY drum_id, position"
    ):
        one = {"kind": kind, "side": side, "place": place, "rod": rod}
        mufflers.setdefault(drum_id, []).append(one)
    shell = (
        "head_diameter_m", "contact_radius_m", "depth_m", "rods", "hoop", "shell_note_hz",
        "vent_diameter_m", "rod_thread",
    )  # fmt: skip
    air = ("temperature_c", "relative_humidity", "pressure_pa")
    made = []
    for drum_id, position, name, kind, *values in db.execute(
        f"SELECT id, position, name, kind, {', '.join(shell + air)} FROM drum ORDER BY position"
    ):
        sides = settings.get(drum_id, {})
        file = {
            "format": "kesselton/drum",
            "version": 1,
            "name": name,
            "kind": kind,
            "shell": dict(zip(shell, values[: len(shell)], strict=True)),
            "air": dict(zip(air, values[len(shell) :], strict=True)),
            "batter": sides.get("batter"),
            "resonant": sides.get("resonant"),
            "mufflers": mufflers.get(drum_id, []),
        }
        made.append({"id": drum_id, "position": position, "file": file})
    return made


def _clearing(db: sqlite3.Connection, drum_id: int, position: int, one: dict[str, Any]) -> None:
    side = one.pop("side", "batter")
    rounds = one.pop("rounds", [{}])
    values = (drum_id, position, side, _text(one))
    db.execute("INSERT OR REPLACE INTO clearing VALUES (?, ?, ?, ?)", values)
    for number, each in enumerate(rounds):
        turns = _text(each.get("turns", []))
        db.execute("INSERT INTO clearing_round VALUES (?, ?, ?, ?)", (drum_id, side, number, turns))
        db.executemany(
            "INSERT INTO rod_reading VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (drum_id, side, number, i, t["kind"], t["rod"], t["value"], t.get("spread", 0.0))
                for i, t in enumerate(each.get("taps", []))
            ],
        )
