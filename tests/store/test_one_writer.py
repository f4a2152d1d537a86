"""One file has one writer, by whatever name it is opened; what others do to it is noticed."""

from __future__ import annotations

import errno
import fcntl
import os
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.fit.fitting import Fitting
from kesselton.core.instrument.reading import Reading
from kesselton.store.io.errors import ChangedError, DamagedError, LockedError, StoreError
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.salvage import salvage, salvage_beside
from kesselton.store.workshop.sums import write_all_sums
from kesselton.store.workshop.workshop import WorkshopFile
from tests.conftest import make_drum


def named(name: str) -> Workshop:
    return Workshop(name, (Entry(1, make_drum()),))


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "w.kesselton"


def opened_elsewhere(path: Path) -> str:
    """What another process is told that opens a file."""
    body = (
        "import sys; from pathlib import Path\n"
        "from kesselton.store.workshop.workshop import WorkshopFile\n"
        "from kesselton.core.errors import KesseltonError\n"
        "try: WorkshopFile.open(Path(sys.argv[1])); print('open')\n"
        "except KesseltonError as error: print(type(error).__name__)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", body, str(path)], capture_output=True, text=True, check=True
    )
    return done.stdout.strip()


def test_links_and_other_names_find_it_locked(path: Path, tmp_path: Path) -> None:
    soft, hard = tmp_path / "soft.kesselton", tmp_path / "hard.kesselton"
    with WorkshopFile.create(path, named("a")) as file:
        soft.symlink_to(path)
        hard.hardlink_to(path)
        for rest in tmp_path.glob(".*"):
            rest.unlink()  # a lock file, were there one
        for name in (path, soft, hard):
            assert opened_elsewhere(name) == "LockedError"
            with pytest.raises(LockedError):
                WorkshopFile.open(name)
        file.write(named("a"), named("b"))
    with WorkshopFile.open(soft) as file:
        assert file.path == path
        assert file.load().name == "b"
    assert opened_elsewhere(hard) == "open"


def test_what_another_program_wrote_is_not_overwritten(path: Path) -> None:
    with WorkshopFile.create(path, named("a")) as file:
        with closing(sqlite3.connect(path, isolation_level=None)) as db:  # which asks for no lock
            db.execute("UPDATE workshop SET name = 'theirs'")
            write_all_sums(db)
        with pytest.raises(ChangedError, match="changed by another program") as caught:
            file.write(named("a"), named("mine"))
        assert "Save a copy" in caught.value.remedy
    with WorkshopFile.open(path) as file:
        assert file.load().name == "theirs"


def test_a_touched_file_that_holds_the_same_is_written_on(path: Path) -> None:
    with WorkshopFile.create(path, named("a")) as file:
        os.utime(path, (1, 1))
        file.write(named("a"), named("b"))
        file.write(named("b"), named("c"))
        assert file.load().name == "c"


@pytest.mark.parametrize("how", ["exchanged", "removed", "copied over"])
def test_a_file_that_is_another_now_is_noticed(path: Path, tmp_path: Path, how: str) -> None:
    other = tmp_path / "other.kesselton"
    WorkshopFile.create(other, named("other")).close()
    with WorkshopFile.create(path, named("a")) as file:
        if how == "removed":
            path.unlink()
        elif how == "exchanged":
            other.replace(path)
        else:
            shutil.copyfile(other, path)
        with pytest.raises(ChangedError):
            file.write(named("a"), named("mine"))
    if how != "removed":
        with WorkshopFile.open(path) as file:
            assert file.load().name == "other"


def test_a_place_without_locks_is_said(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    WorkshopFile.create(path, named("a")).close()

    def cannot(handle: int, how: int) -> None:
        raise OSError(errno.ENOLCK, "No locks available")

    monkeypatch.setattr(fcntl, "flock", cannot)
    with WorkshopFile.open(path) as file:
        assert "cannot lock files" in file.notices[0].message
        file.write(named("a"), named("b"))


def test_a_strangers_schema_is_left_where_it_is(path: Path) -> None:
    WorkshopFile.create(path, demo_workshop()).close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("CREATE TRIGGER spy AFTER UPDATE ON drum BEGIN DELETE FROM reading; END")
        db.execute("CREATE VIEW other AS SELECT randomblob(1000000000)")
        db.execute("CREATE TABLE more (x)")
    with WorkshopFile.open(path) as file:
        held = file.load(at_once=True)
        assert "trigger spy" in file.notices[0].message
        assert held == demo_workshop()
        drum = replace(held.entries[0].drum, name="other")
        after = replace(held, entries=(held.entries[0].with_drum(drum), *held.entries[1:]))
        file.write(held, after)
        assert file.load(at_once=True) == after
    with closing(sqlite3.connect(path)) as db:
        rows = db.execute("SELECT name FROM sqlite_master WHERE type IN ('view', 'trigger')")
        assert rows.fetchall() == []


def test_a_view_in_the_place_of_a_table_is_not_read(path: Path) -> None:
    WorkshopFile.create(path, named("a")).close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("DROP TABLE shelf")
        db.execute("CREATE VIEW shelf AS SELECT 'x' head_name, 1 size_in, 1 stock, 1 favourite")
    with pytest.raises(DamagedError):
        WorkshopFile.open(path)
    found = salvage(path)
    assert found.workshop.shelf == ()
    assert "the table “shelf”" in [one.what for one in found.lost]


def test_what_can_be_read_is_salvaged_and_the_rest_is_named(path: Path) -> None:
    saved = demo_workshop()
    WorkshopFile.create(path, saved).close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE drum SET json = json_replace(json, '$.shell.depth_m', -1) WHERE id = 3")
        db.execute("UPDATE reading SET value = 'x' WHERE drum_id = 1 AND position = 1")
        db.execute("UPDATE drum SET json = replace(json, 'mineral', 'minreal') WHERE id = 2")
        db.execute("UPDATE dial_pair SET dial = dial + 1 WHERE dial_id = 1 AND position = 0")
    before = path.read_bytes()
    with WorkshopFile.open(path) as file, pytest.raises(DamagedError):
        file.load()
    found = salvage(path)
    told = [one.what for one in found.lost]
    assert [e.drum.name for e in found.workshop.entries] == [
        e.drum.name for e in saved.entries if e.id != 3
    ]
    assert len(found.workshop.entries[0].readings) == len(saved.entries[0].readings) - 1
    assert "the drum “Floor tom”" in told
    assert "reading 2 of “Pit snare”" in told
    assert "The gauges are not as saved" in told
    assert found.workshop.entries[-1] == saved.entries[-1]
    with salvage_beside(path) as file:
        assert file.path.name == "w salvaged.kesselton"
        assert "Floor tom" in file.notices[0].message
        assert file.load(at_once=True) == found.workshop
    with closing(sqlite3.connect(file.path)) as db:
        kept = dict(db.execute("SELECT what, content FROM aside"))
    assert '"depth_m":-1' in kept["the drum “Floor tom”"]
    assert path.read_bytes() == before
    with salvage_beside(path) as again:
        assert again.path.name == "w salvaged (2).kesselton"


def test_a_lost_page_costs_what_stood_on_it(path: Path) -> None:
    saved = demo_workshop()
    many = tuple(Reading("lug_pitch", 200.0 + 0.01 * n) for n in range(3000))
    saved = replace(saved, entries=(replace(saved.entries[0], readings=many), *saved.entries[1:]))
    WorkshopFile.create(path, saved).close()
    data = bytearray(path.read_bytes())
    at = len(data) // 2 // 4096 * 4096
    data[at : at + 4096] = b"\xff" * 4096
    path.write_bytes(bytes(data))
    with pytest.raises(DamagedError):
        WorkshopFile.open(path).load()
    found = salvage(path)
    assert "a part of the table “reading”" in [one.what for one in found.lost]
    assert 1500 < len(found.workshop.entries[0].readings) < 3000
    assert found.workshop.entries[1:] == saved.entries[1:]


def test_what_can_be_saved_can_be_opened(path: Path) -> None:
    """Notes as long as a line takes, to every step: they once saved and opened no more."""
    long = "note " * 6553
    notes = tuple((f"step_{n}", long) for n in range(60))
    entry = Entry(1, make_drum(), fittings=(Fitting("batter", notes=notes),))
    saved = Workshop("w" * 30_000, (entry,))
    WorkshopFile.create(path, saved).close()
    with WorkshopFile.open(path) as file:
        assert file.load() == saved


def test_a_text_that_is_none_is_refused_and_nothing_is_lost(path: Path) -> None:
    with WorkshopFile.create(path, named("a")) as file:
        for wrong in (
            named("\ud800"),
            Workshop("a", (Entry(1, replace(make_drum(), name="\udfff")),)),
            Workshop(
                "a", (Entry(1, make_drum(), fittings=(Fitting("batter", outcome="\ud800"),)),)
            ),
        ):
            with pytest.raises(StoreError, match="invalid character"):
                file.write(named("a"), wrong)
        assert file.load() == named("a")
