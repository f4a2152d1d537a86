"""Files of the version before are brought over: with a next version made here."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from kesselton.app.workshop.transfer import import_workshop
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.store.io.errors import DamagedError, StoreError
from kesselton.store.workshop import migrations, schema
from kesselton.store.workshop.backups import read_backup
from kesselton.store.workshop.holdings import Workshop
from kesselton.store.workshop.migrations import TRIAL_ID, current_version
from kesselton.store.workshop.peek import look_into
from kesselton.store.workshop.salvage import salvage, salvage_beside
from kesselton.store.workshop.workshop import WorkshopFile
from tests.store.test_one_writer import opened_elsewhere


def _further(db: sqlite3.Connection) -> None:
    """A table of lamps, one over each drum."""
    db.execute("CREATE TABLE lamp (id INTEGER PRIMARY KEY, name TEXT NOT NULL)")
    db.execute("INSERT INTO lamp SELECT id, name FROM drum")


@pytest.fixture
def old(tmp_path: Path) -> Path:
    """A workshop of the version that is released now."""
    path = tmp_path / "old.kesselton"
    WorkshopFile.create(path, demo_workshop()).close()
    return path


@pytest.fixture
def later(old: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """The program a version further on; the version."""
    monkeypatch.setattr(migrations, "MIGRATIONS", (*migrations.MIGRATIONS, _further))
    yield current_version()
    for kept in (schema.own_schema, schema._own_columns):
        kept.cache_clear()


def test_what_an_old_file_holds_is_there_in_the_new_and_the_old_is_beside(
    old: Path, later: int
) -> None:
    before = old.read_bytes()
    with WorkshopFile.open(old) as file:
        assert file.load(at_once=True) == demo_workshop()
        assert not file.notices
    with closing(sqlite3.connect(old)) as db:
        assert db.execute("PRAGMA user_version").fetchone() == (later,)
        lamps = [name for (name,) in db.execute("SELECT name FROM lamp ORDER BY id")]
    assert lamps == [entry.drum.name for entry in demo_workshop().entries]
    beside = old.with_name(f"old.kesselton.v{later - 1}.bak")
    assert beside.read_bytes() == before
    assert read_backup(beside) == demo_workshop()
    with WorkshopFile.open(old) as file:
        held = file.load(at_once=True)
        file.write(held, Workshop("another"))
        assert file.load().name == "another"


def test_an_old_file_is_only_read_where_it_is_only_looked_into(old: Path, later: int) -> None:
    before, names = old.read_bytes(), set(old.parent.iterdir())
    assert look_into(old) == demo_workshop()
    here, _, brought = import_workshop(Workshop("w"), old)
    assert len(here.entries) == len(demo_workshop().entries)
    assert brought
    assert old.read_bytes() == before
    assert set(old.parent.iterdir()) == names


def test_an_old_file_is_exchanged_only_once_it_could_be_read(old: Path, later: int) -> None:
    """And what was kept beside before is not overwritten."""
    sound = old.read_bytes()
    with closing(sqlite3.connect(old)) as db, db:
        db.execute("UPDATE drum SET json = json_replace(json, '$.shell.depth_m', -1.0)")
    before = old.read_bytes()
    with pytest.raises(DamagedError):
        WorkshopFile.open(old)
    assert old.read_bytes() == before
    assert list(old.parent.iterdir()) == [old]
    mine = old.with_name(f"old.kesselton.v{later - 1}.bak")
    mine.write_bytes(b"mine")
    old.write_bytes(sound)
    old.chmod(0o640)
    with WorkshopFile.open(old) as file:
        assert file.load(at_once=True) == demo_workshop()
        assert opened_elsewhere(old) == "LockedError"
    assert mine.read_bytes() == b"mine"
    assert old.with_name(f"old.kesselton.v{later - 1} (2).bak").read_bytes() == sound
    assert old.stat().st_mode & 0o777 == 0o640
    assert len(list(old.parent.iterdir())) == 3


def test_what_others_left_without_its_owner_is_cleared_on_the_way(old: Path, later: int) -> None:
    with closing(sqlite3.connect(old)) as db:  # without foreign keys, as such programs opened it
        db.execute("DELETE FROM drum WHERE position = 0")
        db.execute("DELETE FROM checksum")
        db.commit()
        assert db.execute("PRAGMA foreign_key_check").fetchall()
    found = salvage(old)
    assert found.workshop.entries[0].drum.name == "Rack tom"
    assert "parts of unreadable items" in found.words()


def test_a_version_that_the_tables_are_not_of_is_damage(old: Path, later: int) -> None:
    with closing(sqlite3.connect(old)) as db:
        db.execute(f"PRAGMA user_version = {later}")
    before = old.read_bytes()
    with pytest.raises(DamagedError):
        WorkshopFile.open(old)
    assert old.read_bytes() == before
    with salvage_beside(old) as file:
        assert file.load(at_once=True) == demo_workshop()


def test_tables_of_the_next_version_in_a_file_of_this_are_damage(old: Path, later: int) -> None:
    with closing(sqlite3.connect(old)) as db, db:
        db.execute("CREATE TABLE lamp (id INTEGER PRIMARY KEY, name TEXT NOT NULL)")
    with pytest.raises(DamagedError):
        WorkshopFile.open(old)
    assert salvage(old).workshop == demo_workshop()


def test_a_step_that_fails_leaves_the_file_as_it_was(
    old: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = old.read_bytes()

    def fails(db: sqlite3.Connection) -> None:
        _further(db)
        error = sqlite3.OperationalError("what it says is of no account")
        error.sqlite_errorcode = sqlite3.SQLITE_IOERR  # type: ignore[misc]
        raise error

    monkeypatch.setattr(migrations, "MIGRATIONS", (*migrations.MIGRATIONS, fails))
    with pytest.raises(StoreError, match="disk is full"):
        WorkshopFile.open(old)
    assert list(old.parent.iterdir()) == [old]
    assert old.read_bytes() == before


def test_a_file_from_before_the_first_release_is_refused_in_words(old: Path) -> None:
    with closing(sqlite3.connect(old)) as db:
        db.execute(f"PRAGMA application_id = {TRIAL_ID}")
        db.execute("PRAGMA user_version = 12")
    before = old.read_bytes()
    with pytest.raises(StoreError, match="from a trial of Kesselton") as caught:
        WorkshopFile.open(old)
    assert not isinstance(caught.value, DamagedError)
    assert old.read_bytes() == before
