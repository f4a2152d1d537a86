"""Rows of a workshop file as things of the core, and back."""

from __future__ import annotations

import sqlite3

from kesselton.core.air import Air
from kesselton.core.drum import Drum, HeadSetting, Reading, Shell
from kesselton.core.gauge import DialPair, Noted
from kesselton.core.head import Addition, Head
from kesselton.core.muffler import Muffler
from kesselton.store.brief_file import brief_to_text, inspected_to_text
from kesselton.store.clearing_file import clearings_to_text
from kesselton.store.fitting_file import fitting_to_text
from kesselton.store.holdings import Entry, Workshop

HEAD_COLUMNS = (
    "name, material, areal_density_kg_per_m2, coating_kg_per_m2, port_diameter_m, interlayer, "
    "edge_vents, edge_vent_diameter_m"
)
DRUM_COLUMNS = (
    "name, kind, head_diameter_m, contact_radius_m, depth_m, rods, hoop, shell_note_hz, "
    "vent_diameter_m, temperature_c, relative_humidity, pressure_pa, rod_thread"
)


class Rows:
    """Reads and writes rows through one connection; transactions are the caller's."""

    def __init__(self, db: sqlite3.Connection) -> None:
        self._db = db

    def readings(self, drum_id: int) -> tuple[Noted, ...]:
        """What was read on a drum."""
        rows = self._db.execute(
            "SELECT kind, value, side, other_head, rod, gauge, hz, noted_on FROM reading "
            "WHERE drum_id = ? ORDER BY position",
            (drum_id,),
        )
        return tuple(Noted(*row) for row in rows)

    def pairs(self, dial_id: int) -> tuple[DialPair, ...]:
        """Pairs of a dial."""
        rows = self._db.execute(
            "SELECT dial, tension_n_per_m, thickness_m, name FROM dial_pair "
            "WHERE dial_id = ? ORDER BY position",
            (dial_id,),
        )
        return tuple(DialPair(*row) for row in rows)

    def head(self, row: tuple[object, ...]) -> Head:
        """A head from its row."""
        db, head_id = self._db, row[0]
        plies = tuple(
            r[0]
            for r in db.execute(
                "SELECT thickness_m FROM head_ply WHERE head_id = ? ORDER BY position", (head_id,)
            )
        )
        additions = tuple(
            Addition(*r)
            for r in db.execute(
                "SELECT kind, inner_radius_m, outer_radius_m, thickness_m FROM head_addition "
                "WHERE head_id = ? ORDER BY position",
                (head_id,),
            )
        )
        name, material, density, coating, port, between, vents, vent = row[1:]
        return Head(
            str(name),
            str(material),
            plies,
            density,  # type: ignore[arg-type]
            coating,  # type: ignore[arg-type]
            additions,
            port,  # type: ignore[arg-type]
            str(between),
            vents,  # type: ignore[arg-type]
            vent,  # type: ignore[arg-type]
        )

    def drum(self, row: tuple[object, ...], heads: dict[int, Head]) -> Drum:
        """A drum from its row."""
        drum_id, name, kind, diameter, contact, depth, rods, hoop, note, vent, *rest = row
        *air, rod_thread = rest
        sides: dict[str, HeadSetting] = {}
        for side, head_id, tension, pitch, other, centre in self._db.execute(
            "SELECT side, head_id, tension_n_per_m, lug_pitch_hz, other_head, centre "
            "FROM setting WHERE drum_id = ?",
            (drum_id,),
        ):
            reading = None if pitch is None else Reading(pitch, other, centre)
            sides[side] = HeadSetting(heads[head_id], tension, reading)
        made = (diameter, depth, rods, hoop, contact, note, vent, rod_thread)
        shell = Shell(*made)  # type: ignore[arg-type]
        return Drum(
            str(name),
            str(kind),
            shell,
            sides["batter"],
            sides.get("resonant"),
            Air(*air),  # type: ignore[arg-type]
            tuple(
                Muffler(*m)
                for m in self._db.execute(
                    "SELECT kind, side, place, rod FROM muffler WHERE drum_id = ? "
                    "ORDER BY position",
                    (drum_id,),
                )
            ),
        )

    def write_drum(self, place: int, entry: Entry, known: dict[Head, int]) -> None:
        """Write a drum with everything that belongs to it."""
        db, drum_id, drum = self._db, entry.id, entry.drum
        shell, air = drum.shell, drum.air
        db.execute(
            f"REPLACE INTO drum (id, position, {DRUM_COLUMNS}) VALUES ({','.join('?' * 15)})",
            (
                drum_id,
                place,
                drum.name,
                drum.kind,
                shell.head_diameter_m,
                shell.contact_radius_m,
                shell.depth_m,
                shell.rods,
                shell.hoop,
                shell.shell_note_hz,
                shell.vent_diameter_m,
                air.temperature_c,
                air.relative_humidity,
                air.pressure_pa,
                shell.rod_thread,
            ),
        )
        for table in ("brief", "muffler", "reading", "inspected", "fitting", "clearing"):
            db.execute(f"DELETE FROM {table} WHERE drum_id = ?", (drum_id,))
        db.executemany(
            "INSERT INTO reading VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (
                    drum_id, place, r.kind, r.value, r.side, r.other_head, r.rod, r.gauge, r.hz,
                    r.on,
                )
                for place, r in enumerate(entry.readings)
            ],
        )  # fmt: skip
        if entry.clearings:
            text = clearings_to_text(entry.clearings)
            db.execute("INSERT INTO clearing VALUES (?, ?)", (drum_id, text))
        if entry.fitting is not None:
            text = fitting_to_text(entry.fitting)
            db.execute("INSERT INTO fitting VALUES (?, ?)", (drum_id, text))
        if entry.inspected is not None:
            text = inspected_to_text(entry.inspected)
            db.execute("INSERT INTO inspected VALUES (?, ?)", (drum_id, text))
        if entry.brief is not None:
            db.execute("INSERT INTO brief VALUES (?, ?)", (drum_id, brief_to_text(entry.brief)))
        db.executemany(
            "INSERT INTO muffler VALUES (?, ?, ?, ?, ?, ?)",
            [
                (drum_id, position, m.kind, m.side, m.place, m.rod)
                for position, m in enumerate(drum.mufflers)
            ],
        )
        db.execute("DELETE FROM setting WHERE drum_id = ?", (drum_id,))
        for side in drum.sides:
            setting = drum.setting(side)
            reading = setting.reading
            db.execute(
                "INSERT INTO setting VALUES (?, ?, ?, ?, ?, ?, ?)",
                (
                    drum_id,
                    side,
                    self.head_id(setting.head, known),
                    setting.tension_n_per_m,
                    reading.hz if reading else None,
                    reading.other_head if reading else None,
                    reading.centre if reading else None,
                ),
            )

    def write_gauges(self, after: Workshop) -> None:
        """Write the register of gauges anew."""
        db = self._db
        for table in ("dial_pair", "dial", "torque_key"):
            db.execute(f"DELETE FROM {table}")
        for number, dial in enumerate(after.dials, start=1):
            db.execute("INSERT INTO dial VALUES (?, ?, ?)", (number, number, dial.name))
            db.executemany(
                "INSERT INTO dial_pair VALUES (?, ?, ?, ?, ?, ?)",
                [
                    (number, place, p.dial, p.tension_n_per_m, p.thickness_m, p.name)
                    for place, p in enumerate(dial.pairs)
                ],
            )
        db.executemany(
            "INSERT INTO torque_key VALUES (?, ?, ?, ?)",
            [(n, key.name, key.friction, key.most_nm) for n, key in enumerate(after.keys)],
        )

    def known_heads(self) -> dict[Head, int]:
        """Every head in the file and its number."""
        rows = self._db.execute(f"SELECT id, {HEAD_COLUMNS} FROM head").fetchall()
        return {self.head(row): row[0] for row in rows}

    def head_id(self, head: Head, known: dict[Head, int]) -> int:
        """Number of an equal head in the file, stored now if there is none."""
        if head in known:
            return known[head]
        db = self._db
        cursor = db.execute(
            f"INSERT INTO head ({HEAD_COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (
                head.name,
                head.material,
                head.areal_density_kg_per_m2,
                head.coating_kg_per_m2,
                head.port_diameter_m,
                head.interlayer,
                head.edge_vents,
                head.edge_vent_diameter_m,
            ),
        )
        head_id = cursor.lastrowid
        assert head_id is not None
        db.executemany(
            "INSERT INTO head_ply VALUES (?, ?, ?)",
            [(head_id, place, ply) for place, ply in enumerate(head.plies_m)],
        )
        db.executemany(
            "INSERT INTO head_addition VALUES (?, ?, ?, ?, ?, ?)",
            [
                (head_id, place, a.kind, a.inner_radius_m, a.outer_radius_m, a.thickness_m)
                for place, a in enumerate(head.additions)
            ],
        )
        known[head] = head_id
        return head_id
