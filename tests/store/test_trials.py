"""What was found by breaking workshops on purpose: each with the file as it was found."""

from __future__ import annotations

import json
import os
import shutil
import signal
import sqlite3
import stat
import subprocess
import sys
import time
from contextlib import closing
from dataclasses import replace
from datetime import date, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
import soundfile

from kesselton.app.workshop.document import Document
from kesselton.app.workshop.transfer import import_log
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import KesseltonError
from kesselton.core.fit.schedule import Date
from kesselton.core.instrument.kept import Kept
from kesselton.store.exports.calendar_file import calendar_text
from kesselton.store.formats.drum_file import save_drum
from kesselton.store.formats.log_file import as_lines, entries_of
from kesselton.store.io.errors import ChangedError, DamagedError
from kesselton.store.workshop import backups as kept_backups
from kesselton.store.workshop.attachments import attached
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.peek import look_into
from kesselton.store.workshop.salvage import salvage, salvage_beside
from kesselton.store.workshop.workshop import WorkshopFile
from tests.conftest import make_drum


@pytest.fixture
def path(tmp_path: Path) -> Path:
    made = tmp_path / "w.kesselton"
    WorkshopFile.create(made, demo_workshop()).close()
    return made


@pytest.mark.parametrize("version", [-1, 0])
def test_a_version_that_the_tables_do_not_fit_is_damage(path: Path, version: int) -> None:
    """Four bytes of the first page; the workshop opened empty and was exchanged for that."""
    with closing(sqlite3.connect(path)) as db:
        db.execute(f"PRAGMA user_version = {version}")
    before = path.read_bytes()
    with pytest.raises(DamagedError):
        WorkshopFile.open(path)
    assert path.read_bytes() == before
    with salvage_beside(path) as file:
        assert file.load(at_once=True) == demo_workshop()


@pytest.mark.parametrize(
    "break_it",
    [
        lambda db: db.execute("ALTER TABLE kept RENAME COLUMN json TO yson"),
        lambda db: db.execute("DROP TABLE repair"),
    ],
)
def test_tables_that_are_not_ours_any_more_are_damage(path: Path, break_it: object) -> None:
    with closing(sqlite3.connect(path)) as db, db:
        break_it(db)  # type: ignore[operator]
    with pytest.raises(DamagedError):
        WorkshopFile.open(path)
    assert len(salvage(path).workshop.entries) == len(demo_workshop().entries)


def test_salvage_never_raises(path: Path, tmp_path: Path) -> None:
    whole = path.read_bytes()
    for number, data in enumerate((
        b"", b"x" * 5000, whole[:100], whole[:5000], b"\0" * 100 + whole[100:],
        whole[:44] + b"\xff\xff\xff\xff" + whole[48:],  # "unsupported file format"
    )):  # fmt: skip
        broken = tmp_path / f"b{number}.kesselton"
        broken.write_bytes(data)
        found = salvage(broken)
        assert found.lost
    assert salvage(tmp_path / "none").nothing
    with pytest.raises(KesseltonError, match="Nothing can be read of b0\\.kesselton:"):
        salvage_beside(tmp_path / "b0.kesselton")


def test_an_unsupported_format_is_damage(path: Path) -> None:
    data = bytearray(path.read_bytes())
    data[44:48] = b"\x00\x00\x00\x63"
    path.write_bytes(bytes(data))
    with pytest.raises(DamagedError):
        WorkshopFile.open(path)


def test_sounds_are_not_put_into_a_file_of_others(path: Path) -> None:
    with WorkshopFile.open(path) as file:
        file.load()
        other = path.with_name("other")
        shutil.copy(path, other)
        other.replace(path)
        acts = (
            lambda: file.attach(b"fLaC"),
            lambda: file.let_go(["x"]),
            lambda: file.put_aside([("a", "b", "c")]),
        )
        for act in acts:
            with pytest.raises(ChangedError, match="changed by another"):
                act()
        path.unlink()
        for act in acts:
            with pytest.raises(ChangedError, match="no longer"):
                act()


def test_a_touched_file_is_still_ours_and_a_rewritten_one_is_not(path: Path) -> None:
    with WorkshopFile.open(path) as file:
        held = file.load()
        os.utime(path, (1, 1))
        file.write(held, replace(held, name="a"))
        with closing(sqlite3.connect(path)) as db, db:
            db.execute("UPDATE drum SET name = 'x' WHERE id = 1")
        with pytest.raises(ChangedError):
            file.write(replace(held, name="a"), replace(held, name="b"))


def test_backups_are_for_the_same_eyes(path: Path) -> None:
    path.chmod(0o640)
    kept_backups.keep_daily(path, date(2026, 1, 5))
    [made] = kept_backups.backups(path)
    assert stat.S_IMODE(made.path.stat().st_mode) == 0o640
    assert stat.S_IMODE(made.path.parent.stat().st_mode) == 0o700
    aside = kept_backups.keep_aside(path, 3)
    assert stat.S_IMODE(aside.stat().st_mode) == 0o640


def test_a_folder_of_backups_that_is_a_link_is_refused(path: Path, tmp_path: Path) -> None:
    elsewhere = tmp_path / "elsewhere"
    elsewhere.mkdir()
    kept_backups.backup_folder(path).symlink_to(elsewhere)
    with pytest.raises(OSError, match="link"):
        kept_backups.keep_daily(path, date(2026, 1, 5))
    assert list(elsewhere.iterdir()) == []


@pytest.mark.parametrize("wrong", [date(1970, 1, 1), date(2061, 3, 4)])
def test_a_clock_that_is_years_off_costs_no_backup(path: Path, wrong: date) -> None:
    days = [date(2026, 1, 1) + timedelta(days=n) for n in range(7)]
    for day in days:
        kept_backups.keep_daily(path, day)
    (kept_backups.backup_folder(path) / "2026-02-30.kesselton").write_bytes(b"")
    for more in range(5):
        kept_backups.keep_daily(path, wrong + timedelta(days=more))
    right = [date(2026, 1, 8) + timedelta(days=n) for n in range(3)]
    for day in right:
        kept_backups.keep_daily(path, day)
    held = [one.day for one in kept_backups.backups(path)]
    assert set(right) <= set(held)
    assert len(held) <= 14


def test_text_that_looks_like_the_end_of_a_line_comes_back(tmp_path: Path) -> None:
    said = "one\u2028two\u2029three\u0085four\x0bfive\x1csix"
    log = [
        Kept("2026-01-01T10:00:00", make_drum(), verdict=said),
        Kept("2026-01-02T10:00:00", make_drum()),
    ]
    assert entries_of(as_lines(log), "log") == log
    file = tmp_path / "log.jsonl"
    file.write_text(as_lines(log), encoding="utf-8")
    here, _ = import_log(Workshop("w"), file)
    assert [one.verdict for one in here.entries[0].kept] == [said, ""]


def test_no_two_dates_have_one_name() -> None:
    at = datetime(2026, 1, 1, 10)
    dates = [
        Date("look", "Look", at, "text"),
        Date("look", "Look", at, "text"),
        Date("look", "Again", at, "t"),
    ]

    def uids(owner: str) -> list[bytes]:
        lines = calendar_text(dates, owner, at).splitlines()
        return [line for line in lines if line.startswith(b"UID:")]

    assert len(set(uids("A B") + uids("A-B"))) == 6
    assert uids("A B") == uids("A B")  # written again, they are the same dates


DIES_WHILE_WRITING = """
import os, sqlite3, sys
db = sqlite3.connect(sys.argv[1], isolation_level=None)
db.execute("PRAGMA cache_size = 2")  # pages go to the file before the end
db.execute("BEGIN IMMEDIATE")
db.execute("UPDATE drum SET json = '{}', name = 'half written'")
db.execute("CREATE TABLE heap (x)")
for n in range(400):
    db.execute("INSERT INTO heap VALUES (zeroblob(4000))")
os.kill(os.getpid(), 9)
"""


def test_what_a_dead_writer_had_begun_is_taken_back_by_whoever_only_reads(path: Path) -> None:
    done = subprocess.run([sys.executable, "-c", DIES_WHILE_WRITING, str(path)], check=False)
    assert done.returncode == -signal.SIGKILL
    journal = path.with_name(f"{path.name}-journal")
    assert journal.exists()
    before = path.read_bytes()
    assert look_into(path) == demo_workshop()
    said = subprocess.run(
        [sys.executable, "-c", "from kesselton.cli import main; raise SystemExit(main())", "log", str(path)],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert said.returncode == 0, said.stderr
    assert all(json.loads(line)["drum"] for line in said.stdout.splitlines())
    assert path.read_bytes() == before
    assert journal.exists()


def test_what_an_exchange_left_behind_is_cleared(path: Path) -> None:
    old, new = path.with_name(".exchange.old"), path.with_name(".exchange.new")
    for left in (old, new):
        left.write_bytes(b"x")
    os.utime(old, (time.time() - 3600,) * 2)
    WorkshopFile.open(path).close()
    assert not old.exists()
    assert new.exists()  # somebody may be writing it


def test_one_missing_picture_does_not_block_an_export(tmp_path: Path) -> None:
    content = b"\x89PNG\r\n\x1a\n" + bytes(50)
    entry = Entry(1, make_drum(), kept=(Kept("2026-01-01T10:00:00", make_drum(), attached=(
        attached("there.png", content), attached("gone.png", content + b"x"))),))  # fmt: skip
    file = WorkshopFile.create(tmp_path / "w.kesselton", Workshop("w", (entry,)), [content])
    document = Document(file)
    assert document.export_alone(entry, tmp_path / "alone.kesselton") == 1
    document.close()
    with WorkshopFile.open(tmp_path / "alone.kesselton") as alone:
        assert alone.contents() == [content]
        assert alone.load().entries[0].kept[0].attached == entry.kept[0].attached


@pytest.mark.parametrize("kind", ["tap", "hear"])
def test_whatever_is_wrong_is_said_in_one_line(tmp_path: Path, kind: str) -> None:
    """NumPy warned on standard error about sounds of nothing, or of no numbers."""
    rng = np.random.default_rng(1)
    drum = tmp_path / "d.drum.json"
    save_drum(make_drum(), drum)
    for number, samples in enumerate((
        np.zeros(20000), np.full(20000, 1e-300), np.full(30000, np.nan), np.full(30000, np.inf),
        1e30 * rng.standard_normal(30000), np.r_[np.zeros(9000), 1.0, np.zeros(9000)], np.zeros(3),
        np.sign(rng.standard_normal(30000)),
    )):  # fmt: skip
        sound = tmp_path / f"{number}.wav"
        soundfile.write(sound, samples, 48000, "FLOAT")
        more = ["--drum", str(drum)] if kind == "hear" else []
        done = subprocess.run(
            [sys.executable, "-c", "from kesselton.cli import main; raise SystemExit(main())", kind, str(sound), *more],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode in (0, 2), (number, done.stderr)
        assert len(done.stderr.splitlines()) == (done.returncode == 2), (number, done.stderr)
