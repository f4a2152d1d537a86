"""A workshop is one SQLite file, saved as you go, each gesture in one transaction."""

from __future__ import annotations

import fcntl
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TextIO

from kesselton.core.air import Air
from kesselton.core.drum import Drum, HeadSetting, Reading, Shell
from kesselton.core.errors import InputError
from kesselton.core.head import Addition, Head
from kesselton.store.errors import LockedError, ReadOnlyError, StoreError
from kesselton.store.migrations import APPLICATION_ID, CURRENT_VERSION, MIGRATIONS

SUFFIX = ".kesselton"
_DRUM_COLUMNS = (
    "name, kind, head_diameter_m, contact_radius_m, depth_m, rods, hoop, shell_note_hz, "
    "vent_diameter_m, temperature_c, relative_humidity, pressure_pa"
)


@dataclass(frozen=True)
class Entry:
    """A drum of the workshop under a number that stays with it."""

    id: int
    drum: Drum


@dataclass(frozen=True)
class Workshop:
    """All that a workshop file holds: drums in rack order, and the library of heads."""

    name: str
    entries: tuple[Entry, ...] = ()
    library: tuple[Head, ...] = ()

    def entry(self, drum_id: int) -> Entry | None:
        """The entry under a number, or None."""
        return next((entry for entry in self.entries if entry.id == drum_id), None)

    def next_id(self) -> int:
        """A number no entry has."""
        return max((entry.id for entry in self.entries), default=0) + 1


class WorkshopFile:
    """An open workshop file. Use `WorkshopFile.open` or `WorkshopFile.create`."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: TextIO | None) -> None:
        self.path = path
        self.read_only = lock is None
        self._db = db
        self._lock = lock

    @classmethod
    def create(cls, path: Path, workshop: Workshop) -> WorkshopFile:
        """Make a new file holding `workshop`.

        Raises
        ------
        StoreError
            If there is a file already or the place cannot be written.
        """
        if path.exists():
            raise StoreError(f"There is a file {path.name} already.", "Choose another name.")
        with _speaking(path):
            lock = _lock(path)
            if lock is None:
                raise StoreError(
                    f"Nothing can be written in {path.parent}.", "Choose another place."
                )
            db = sqlite3.connect(path, isolation_level=None)
            try:
                file = cls(path, db, lock)
                file._prepare(0)
                file.write(Workshop(""), workshop)
            except BaseException:
                db.close()
                _unlock(lock)
                path.unlink(missing_ok=True)
                raise
        return file

    @classmethod
    def open(cls, path: Path) -> WorkshopFile:
        """Open a file, migrating an older version after a backup.

        A file or place that cannot be written opens read-only (see `read_only`).

        Raises
        ------
        LockedError
            If another window has it.
        StoreError
            If it is missing, no workshop, damaged, or from a newer program.
        """
        if not path.is_file():
            raise StoreError(f"There is no workshop file {path}.", "Check the name and the place.")
        with _speaking(path):
            lock = _lock(path)
            db: sqlite3.Connection | None = None
            try:
                if lock is not None and not _writable(path):
                    _unlock(lock)
                    lock = None
                mode = "rw" if lock else "ro&immutable=1"
                db = sqlite3.connect(
                    f"{path.resolve().as_uri()}?mode={mode}", uri=True, isolation_level=None
                )
                version = _identify(db, path)
                file = cls(path, db, lock)
                if version < CURRENT_VERSION:
                    if lock is None:
                        raise ReadOnlyError(
                            f"{path.name} is of an older version and cannot be written here.",
                            "Copy it to a place of your own and open the copy.",
                        )
                    if version > 0:
                        shutil.copy2(path, path.with_name(f"{path.name}.v{version}.bak"))
                    file._prepare(version)
            except BaseException:
                if db is not None:
                    db.close()
                if lock is not None:
                    _unlock(lock)
                raise
        return file

    def close(self) -> None:
        """Close the file and let others open it."""
        self._db.close()
        if self._lock is not None:
            _unlock(self._lock)
            self._lock = None

    def __enter__(self) -> WorkshopFile:
        return self

    def __exit__(self, *exc: object) -> None:
        self.close()

    def _prepare(self, version: int) -> None:
        db = self._db
        db.execute("PRAGMA foreign_keys = ON")
        for number, migrate in enumerate(MIGRATIONS[version:], start=version + 1):
            with self._transaction():
                migrate(db)
                db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                db.execute(f"PRAGMA user_version = {number}")

    @contextmanager
    def _transaction(self) -> Iterator[None]:
        with _speaking(self.path):
            self._db.execute("BEGIN IMMEDIATE")
            try:
                yield
                self._db.execute("COMMIT")
            except BaseException:
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
                raise

    def load(self) -> Workshop:
        """Read everything.

        Raises
        ------
        StoreError
            If the file is damaged or holds a value no drum can have.
        """
        db = self._db
        with _speaking(self.path):
            try:
                heads = {
                    row[0]: self._head(row)
                    for row in db.execute(
                        "SELECT id, name, material, areal_density_kg_per_m2, coating_kg_per_m2 "
                        "FROM head"
                    )
                }
                library = tuple(
                    heads[row[0]]
                    for row in db.execute(
                        "SELECT id FROM head WHERE library_position IS NOT NULL "
                        "ORDER BY library_position"
                    )
                )
                entries = tuple(
                    Entry(row[0], self._drum(row, heads))
                    for row in db.execute(f"SELECT id, {_DRUM_COLUMNS} FROM drum ORDER BY position")
                )
                name = db.execute("SELECT name FROM workshop").fetchone()
            except (InputError, KeyError) as error:
                raise StoreError(
                    f"{self.path.name} holds a value that no drum can have: {error}",
                    "Open a backup, or correct the value with an SQLite tool.",
                ) from None
        return Workshop(name[0] if name else "", entries, library)

    def _head(self, row: tuple[object, ...]) -> Head:
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
        return Head(str(row[1]), str(row[2]), plies, row[3], row[4], additions)  # type: ignore[arg-type]

    def _drum(self, row: tuple[object, ...], heads: dict[int, Head]) -> Drum:
        drum_id, name, kind, diameter, contact, depth, rods, hoop, note, vent, *air = row
        sides: dict[str, HeadSetting] = {}
        for side, head_id, tension, pitch, other, centre in self._db.execute(
            "SELECT side, head_id, tension_n_per_m, lug_pitch_hz, other_head, centre "
            "FROM setting WHERE drum_id = ?",
            (drum_id,),
        ):
            reading = None if pitch is None else Reading(pitch, other, centre)
            sides[side] = HeadSetting(heads[head_id], tension, reading)
        shell = Shell(diameter, depth, rods, hoop, contact, note, vent)  # type: ignore[arg-type]
        return Drum(
            str(name),
            str(kind),
            shell,
            sides["batter"],
            sides.get("resonant"),
            Air(*air),  # type: ignore[arg-type]
        )

    def write(self, before: Workshop, after: Workshop) -> None:
        """Save what changed from `before` (what the file holds) to `after`, or nothing at all.

        Raises
        ------
        ReadOnlyError
            If the file was opened read-only.
        StoreError
            If the disk is full or the file cannot be written; it then still holds `before`.
        """
        if self.read_only:
            raise ReadOnlyError(
                f"{self.path.name} cannot be written here.", "Save a copy in another place."
            )
        db = self._db
        with self._transaction():
            if before.name != after.name:
                db.execute(
                    "INSERT INTO workshop (id, name) VALUES (1, ?) "
                    "ON CONFLICT (id) DO UPDATE SET name = excluded.name",
                    (after.name,),
                )
            old = {entry.id: (place, entry.drum) for place, entry in enumerate(before.entries)}
            new = {entry.id: (place, entry.drum) for place, entry in enumerate(after.entries)}
            for gone in old.keys() - new.keys():
                db.execute("DELETE FROM drum WHERE id = ?", (gone,))
            known = self._known_heads()
            if before.library != after.library:
                db.execute("UPDATE head SET library_position = NULL")
                for position, head in enumerate(after.library):
                    db.execute(
                        "UPDATE head SET library_position = ? WHERE id = ?",
                        (position, self._head_id(head, known)),
                    )
            for drum_id, placed in new.items():
                if old.get(drum_id) != placed:
                    self._write_drum(drum_id, *placed, known)
            db.execute(
                "DELETE FROM head WHERE library_position IS NULL "
                "AND id NOT IN (SELECT head_id FROM setting)"
            )

    def _write_drum(self, drum_id: int, place: int, drum: Drum, known: dict[Head, int]) -> None:
        db, shell, air = self._db, drum.shell, drum.air
        db.execute(
            f"REPLACE INTO drum (id, position, {_DRUM_COLUMNS}) VALUES ({','.join('?' * 14)})",
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
            ),
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
                    self._head_id(setting.head, known),
                    setting.tension_n_per_m,
                    reading.hz if reading else None,
                    reading.other_head if reading else None,
                    reading.centre if reading else None,
                ),
            )

    def _known_heads(self) -> dict[Head, int]:
        rows = self._db.execute(
            "SELECT id, name, material, areal_density_kg_per_m2, coating_kg_per_m2 FROM head"
        ).fetchall()
        return {self._head(row): row[0] for row in rows}

    def _head_id(self, head: Head, known: dict[Head, int]) -> int:
        """Number of an equal head in the file, stored now if there is none."""
        if head in known:
            return known[head]
        db = self._db
        cursor = db.execute(
            "INSERT INTO head (name, material, areal_density_kg_per_m2, coating_kg_per_m2) "
            "VALUES (?, ?, ?, ?)",
            (head.name, head.material, head.areal_density_kg_per_m2, head.coating_kg_per_m2),
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


def _lock(path: Path) -> TextIO | None:
    """Lock a file beside the workshop; None where nothing can be written.

    Beside, because closing a second handle on the file itself would drop SQLite's own locks.
    """
    try:
        handle = path.with_name(f".{path.name}.lock").open("a+", encoding="utf-8")
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        handle.close()
        raise LockedError(
            f"{path.name} is open in another window.", "Go to that window, or close it first."
        ) from None
    return handle


def _unlock(handle: TextIO) -> None:
    handle.close()  # the lock file stays: removing it would race with the next window


def _writable(path: Path) -> bool:
    import os

    return os.access(path, os.W_OK)


def _identify(db: sqlite3.Connection, path: Path) -> int:
    """Version of a workshop file, after making sure it is one and is whole."""
    try:
        application = db.execute("PRAGMA application_id").fetchone()[0]
        version = int(db.execute("PRAGMA user_version").fetchone()[0])
        tables = db.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
    except sqlite3.DatabaseError as error:
        if "not a database" in str(error):
            raise StoreError(
                f"{path.name} is not a workshop file.", f"Choose a file that ends in {SUFFIX}."
            ) from None
        raise
    if application != APPLICATION_ID or tables == 0:
        raise StoreError(
            f"{path.name} belongs to another program or is empty.",
            f"Choose a file that ends in {SUFFIX}.",
        )
    if version > CURRENT_VERSION:
        raise StoreError(
            f"{path.name} was written by a newer Kesselton (version {version}).",
            f"This one reads up to version {CURRENT_VERSION}: update the program. "
            "The file was not touched.",
        )
    if db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
        raise sqlite3.DatabaseError("malformed")
    return version


@contextmanager
def _speaking(path: Path) -> Iterator[None]:
    """Turn what SQLite and the system say into the technician's words."""
    try:
        yield
    except sqlite3.DatabaseError as error:
        text = str(error)
        if "full" in text or "I/O" in text:
            raise StoreError(
                f"{path.name} could not be saved: the disk is full or does not answer.",
                "Make room; your changes are kept here and are saved with the next one.",
            ) from error
        if "locked" in text:
            raise LockedError(
                f"Another program is writing to {path.name}.", "Close it and try again."
            ) from error
        if "readonly" in text or "unable to open" in text:
            raise ReadOnlyError(
                f"{path.name} cannot be written here.", "Save a copy in another place."
            ) from error
        raise StoreError(
            f"{path.name} is damaged and was not changed.",
            "Open a backup, or copy the file and repair the copy with an SQLite tool.",
        ) from error
    except OSError as error:
        raise StoreError(
            f"{path.name} cannot be used: {error.strerror}.", "Check the place and its permissions."
        ) from error
