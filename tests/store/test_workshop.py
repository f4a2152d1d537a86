from __future__ import annotations

import random
import signal
import sqlite3
import subprocess
import sys
from contextlib import closing
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.instrument.drum import LugPitch
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.practice.pupil import Pupil, Session, Trial
from kesselton.core.shows.repair import Repair
from kesselton.core.shows.show import Show
from kesselton.store.io.errors import DamagedError, LockedError, StoreError
from kesselton.store.workshop.backups import backups, read_backup
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.migrations import current_version
from kesselton.store.workshop.sums import write_all_sums
from kesselton.store.workshop.workshop import WorkshopFile
from tests.conftest import make_drum


def sum_up(path: Path) -> None:
    """As if a program had saved what is in the file now."""
    with closing(sqlite3.connect(path, isolation_level=None)) as db:
        write_all_sums(db)


def one_drum(name: str = "drum") -> Workshop:
    return Workshop("store", (Entry(1, replace(make_drum(), name=name)),), ())


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "w.kesselton"


def test_everything_comes_back(path: Path) -> None:
    workshop = demo_workshop()
    with WorkshopFile.create(path, workshop) as file:
        assert file.load() == workshop
    with WorkshopFile.open(path) as file:
        assert file.load() == workshop
        assert not file.read_only


drums = st.builds(
    lambda name, depth, tension, hz, other, open_below, added: replace(
        make_drum(depth_m=depth, resonant=None if open_below else Head("r", plies_m=(1e-4,))),
        name=name,
    ).with_setting(
        "batter",
        replace(
            make_drum().batter,
            head=Head("h", plies_m=(1e-4, 2e-4), additions=added),
            tension_n_per_m=None if hz else tension,
            reading=LugPitch(hz, other) if hz else None,
        ),
    ),
    name=st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=20),
    depth=st.floats(0.05, 1.0),
    tension=st.floats(10.0, 5000.0),
    hz=st.one_of(st.none(), st.floats(50.0, 400.0)),
    other=st.sampled_from(["muted", "free"]),
    open_below=st.booleans(),
    added=st.sampled_from([(), (Addition("dot", 0.0, 0.05, 1e-4),)]),
)


@given(st.lists(drums, min_size=0, max_size=4), st.lists(drums, min_size=0, max_size=4))
def test_saving_the_difference_is_saving_the_state(before: list, after: list) -> None:
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        first = Workshop("a", tuple(Entry(i + 1, d) for i, d in enumerate(before)))
        second = Workshop("b", tuple(Entry(i + 2, d) for i, d in enumerate(after)))
        with WorkshopFile.create(Path(folder) / "w.kesselton", first) as file:
            file.write(first, second)
            assert file.load() == second
            file.write(second, first)
            assert file.load() == first


def test_heads_no_drum_uses_are_forgotten_and_the_library_kept(path: Path) -> None:
    workshop = demo_workshop()
    with WorkshopFile.create(path, workshop) as file:
        own = Head("own", plies_m=(9e-5,))
        entry = workshop.entries[0]
        odd = entry.drum.with_setting("batter", replace(entry.drum.batter, head=own))
        changed = replace(workshop, entries=(Entry(entry.id, odd), *workshop.entries[1:]))
        file.write(workshop, changed)
        file.write(changed, workshop)
        assert file.load().library == workshop.library
    with sqlite3.connect(path) as db:
        held = db.execute("SELECT json FROM drum UNION ALL SELECT json FROM library_head")
        assert not any('"own"' in text for (text,) in held)


def test_it_reads_without_this_program(path: Path) -> None:
    WorkshopFile.create(path, demo_workshop()).close()
    with sqlite3.connect(path) as db:
        row = db.execute(
            "SELECT name, json_extract(json, '$.shell.depth_m'), "
            "json_extract(json, '$.batter.head.name'), json_extract(json, '$.batter.lug_pitch_hz') "
            "FROM drum ORDER BY position"
        ).fetchone()
    assert row == ("Pit snare", 0.1397, "single 10 mil, coated", 261.63)


def test_a_second_window_is_told(path: Path) -> None:
    with WorkshopFile.create(path, one_drum()) as file:
        with pytest.raises(LockedError, match="open in another window"):
            WorkshopFile.open(path)
        file.write(one_drum(), one_drum("still mine"))
    with WorkshopFile.open(path) as file:
        assert file.load() == one_drum("still mine")


def test_what_is_no_workshop_is_refused_and_not_touched(tmp_path: Path) -> None:
    text = tmp_path / "notes.kesselton"
    text.write_text("a list of sticks\n" * 200)
    foreign = tmp_path / "foreign.kesselton"
    with sqlite3.connect(foreign) as db:
        db.execute("CREATE TABLE other (x)")
    empty = tmp_path / "empty.kesselton"
    empty.touch()
    for file, words in ((text, "not a workshop"), (foreign, "another program"), (empty, "empty")):
        before = file.read_bytes()
        with pytest.raises(StoreError, match=words):
            WorkshopFile.open(file)
        assert file.read_bytes() == before
    with pytest.raises(StoreError, match="file"):
        WorkshopFile.open(tmp_path / "absent.kesselton")


def test_a_newer_file_is_refused_and_not_touched(path: Path) -> None:
    WorkshopFile.create(path, one_drum()).close()
    with sqlite3.connect(path) as db:
        db.execute(f"PRAGMA user_version = {current_version() + 1}")
    before = path.read_bytes()
    with pytest.raises(StoreError, match="newer Kesselton") as caught:
        WorkshopFile.open(path)
    assert "The file was not changed" in caught.value.remedy
    assert path.read_bytes() == before


def test_a_damaged_file_is_refused_and_not_touched(path: Path) -> None:
    WorkshopFile.create(path, demo_workshop()).close()
    whole = path.read_bytes()
    path.write_bytes(whole[:4096] + b"\xff" * 4096 + whole[8192:])
    before = path.read_bytes()
    with pytest.raises(StoreError, match="damaged"):
        WorkshopFile.open(path).load()
    assert path.read_bytes() == before


def test_an_impossible_value_in_the_file_is_named(path: Path) -> None:
    WorkshopFile.create(path, one_drum()).close()
    with sqlite3.connect(path) as db:
        db.execute("UPDATE drum SET json = json_replace(json, '$.shell.depth_m', -1.0)")
    with WorkshopFile.open(path) as file, pytest.raises(DamagedError, match="not as saved"):
        file.load()
    sum_up(path)
    with (
        WorkshopFile.open(path) as file,
        pytest.raises(DamagedError, match=r"shell.depth_m.*: The value is -1.0"),
    ):
        file.load()


def test_a_weighed_head_does_not_take_plies_and_dot_of_the_one_before(path: Path) -> None:
    dot = Head("two", plies_m=(178e-6, 178e-6), additions=(Addition("dot", 0.0, 0.05, 254e-6),))
    weighed = Head("weighed", areal_density_kg_per_m2=0.41)
    states = [
        Workshop("w", (Entry(1, make_drum(batter=head, resonant=None)),)) for head in (dot, weighed)
    ]
    WorkshopFile.create(path, states[0]).close()
    with WorkshopFile.open(path) as file:
        file.write(*states)
    with WorkshopFile.open(path) as file:
        assert file.load() == states[1]


def test_a_fault_of_the_program_is_not_called_damage(path: Path) -> None:
    with WorkshopFile.create(path, one_drum()) as file:
        file._db.execute(
            "CREATE TRIGGER no BEFORE INSERT ON workshop BEGIN SELECT RAISE(ABORT, 'x'); END"
        )
        with pytest.raises(StoreError, match="program error") as caught:
            file.write(one_drum(), replace(one_drum(), name="other"))
        assert "damaged" not in caught.value.one_line()
        assert file.load() == one_drum()


def run_child(body: str, *args: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", body, *args], capture_output=True, text=True, check=False
    )


def test_a_read_only_place_opens_to_look_at(path: Path, tmp_path: Path) -> None:
    WorkshopFile.create(path, one_drum()).close()
    path.chmod(0o444)
    tmp_path.chmod(0o555)
    # root may write anywhere: look as nobody
    body = """
import os, sys
import kesselton.store.workshop.workshop as w, kesselton.app.workshop.workshops
from pathlib import Path
if os.geteuid() == 0:
    os.setgid(65534); os.setuid(65534)
f = w.WorkshopFile.open(Path(sys.argv[1]))
assert f.read_only and f.load().entries
try:
    f.write(f.load(), w.Workshop("x"))
except w.ReadOnlyError as error:
    print(error.one_line())
"""
    for parent in tmp_path.parents:
        if "pytest-of" in str(parent):
            parent.chmod(0o755)
    try:
        done = run_child(body, str(path))
    finally:
        tmp_path.chmod(0o755)
    assert "w.kesselton is not writable. Save a copy elsewhere" in done.stdout, done.stderr


def test_a_place_that_cannot_be_looked_into_is_said(tmp_path: Path) -> None:
    closed = tmp_path / "closed"
    closed.mkdir()
    WorkshopFile.create(closed / "w.kesselton", one_drum()).close()
    closed.chmod(0o000)
    body = """
import os, sys
import kesselton.store.workshop.workshop as w
from pathlib import Path
if os.geteuid() == 0:
    os.setgid(65534); os.setuid(65534)
try:
    w.WorkshopFile.open(Path(sys.argv[1]))
except w.StoreError as error:
    print(error.one_line())
"""
    for parent in tmp_path.parents:
        if "pytest-of" in str(parent):
            parent.chmod(0o755)
    try:
        done = run_child(body, str(closed / "w.kesselton"))
    finally:
        closed.chmod(0o755)
    assert "Permission denied" in done.stdout, done.stderr


def test_a_full_disk_is_said_and_the_file_stays_whole(path: Path) -> None:
    """A limit on file size stands in for a full disk."""
    with WorkshopFile.create(path, one_drum()) as file:
        size = path.stat().st_size
        assert file.load()
    body = """
import resource, signal, sys
from pathlib import Path
from dataclasses import replace
import kesselton.store.workshop.workshop as w
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.holdings import Entry
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
f = w.WorkshopFile.open(Path(sys.argv[1]))
resource.setrlimit(resource.RLIMIT_FSIZE, (int(sys.argv[2]),) * 2)
before = f.load()
many = tuple(Entry(i, replace(before.entries[0].drum, name="n" * 80)) for i in range(1, 2000))
try:
    f.write(before, w.Workshop("full", many))
except StoreError as error:
    print(error.one_line())
assert f.load() == before
"""
    done = run_child(body, str(path), str(size + 8192))
    assert "the disk is full or does not respond" in done.stdout, done.stderr
    with WorkshopFile.open(path) as file:
        assert file.load() == one_drum()


KILLED = """
import sys
from pathlib import Path
from dataclasses import replace
import kesselton.store.workshop.workshop as w
from kesselton.store.workshop.holdings import Entry
f = w.WorkshopFile.open(Path(sys.argv[1]))
state = f.load()
print("ready", flush=True)
for number in range(100000):
    drum = replace(state.entries[0].drum, name=f"state {number}")
    new = replace(state, entries=tuple(Entry(e.id, replace(drum)) for e in state.entries))
    f.write(state, new)
    state = new
    print(number, flush=True)
"""


def test_killed_while_writing_again_and_again(path: Path) -> None:
    """Whatever the moment, the file holds the last acknowledged state or the one in hand."""
    three = tuple(Entry(i, replace(make_drum(), name="start")) for i in (1, 2, 3))
    WorkshopFile.create(path, Workshop("k", three)).close()
    dice = random.Random(7)
    for _ in range(25):
        child = subprocess.Popen(
            [sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE, text=True
        )
        assert child.stdout is not None
        assert child.stdout.readline() == "ready\n"
        for _ in range(dice.randrange(1, 12)):
            child.stdout.readline()
        # a moment somewhere inside a transaction
        pause = dice.random() * 0.002
        try:
            child.wait(timeout=pause)
        except subprocess.TimeoutExpired:
            child.send_signal(signal.SIGKILL)
        rest = child.stdout.read()
        child.wait()
        child.stdout.close()
        with WorkshopFile.open(path) as file:
            names = {entry.drum.name for entry in file.load().entries}
        assert len(names) == 1, names  # all three drums of one gesture, or none
        acknowledged = [line for line in rest.splitlines() if line.isdigit()]
        if acknowledged:
            last = int(acknowledged[-1])
            assert names.pop() in {f"state {last}", f"state {last + 1}"}


def test_a_day_leaves_a_backup_and_seven_are_kept(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from kesselton.store.workshop import workshop as module

    class Calendar(date):
        now = 1

        @classmethod
        def today(cls) -> date:
            return date(2026, 11, cls.now)

    WorkshopFile.create(path, one_drum("day 0")).close()
    monkeypatch.setattr(module, "date", Calendar)
    state = one_drum("day 0")
    for day in range(1, 12):
        Calendar.now = day
        with WorkshopFile.open(path) as file:
            for time in ("morning", "evening"):
                new = one_drum(f"day {day} {time}")
                file.write(state, new)
                state = new
    found = backups(path)
    assert [one.day.day for one in found] == [11, 10, 9, 8, 7, 6, 5]
    assert read_backup(found[0].path) == one_drum("day 10 evening")
    found[0].path.write_bytes(b"no workshop")
    with pytest.raises(StoreError, match="not a workshop"):
        read_backup(found[0].path)


def test_work_is_saved_where_no_backup_can_be_made(path: Path) -> None:
    WorkshopFile.create(path, one_drum()).close()
    path.with_name("w backups").write_text("in the way")
    with WorkshopFile.open(path) as file:
        file.write(one_drum(), one_drum("saved"))
        assert "Your changes are saved" in file.notices[0].remedy
        assert file.load() == one_drum("saved")


def test_a_reading_that_cannot_be_is_told_when_it_is_looked_at(path: Path) -> None:
    WorkshopFile.create(path, demo_workshop()).close()
    with sqlite3.connect(path) as db:
        db.execute("UPDATE reading SET kind = 'weight' WHERE drum_id = 1 AND position = 0")
    sum_up(path)
    with WorkshopFile.open(path) as file:
        entry = file.load().entries[0]
        with pytest.raises(StoreError, match="contains a value no drum can have"):
            len(entry.readings)
        with pytest.raises(StoreError, match="contains a value no drum can have"):
            file.load(at_once=True)
    with pytest.raises(StoreError, match="could not be used"):
        len(entry.readings)  # the file is shut


def test_shows_repairs_and_practice_are_written_one_by_one_and_read_again(tmp_path: Path) -> None:
    """What is changed is written, what goes is gone, the order stays; a second opening has it."""
    path = tmp_path / "w.kesselton"
    clearing = Clearing("batter").with_tap(at_rod("dial", 2, 71.5, 0.8)).turned((0.0, 0.125) * 4)
    first = Repair(1, 1, "Drum", clearing=clearing, started="2026-11-26T20:41:00")
    before = Workshop(
        "W",
        (Entry(1, make_drum()),),
        shows=(Show(1, "one", "2026-11-27", (1,), own=("torch",)), Show(2, "two")),
        repairs=(first, replace(first, id=2, side="resonant")),
        pupils=(
            Pupil(
                1,
                "A",
                (
                    Session(
                        "same", "2026-11-26T18:00", 5, 60.0, (Trial(3.5, "right"),), 3.0, 2.0, 4.0
                    ),
                ),
            ),
        ),
    )
    WorkshopFile.create(path, before).close()
    after = replace(
        before.with_show(before.shows[1].tick("key", True)),
        repairs=(before.repairs[1], replace(first, id=3, after=("a", "b"), ticked=("a",))),
    ).with_pupil(Pupil(2, "B"))
    with WorkshopFile.open(path) as file:
        held = file.load(at_once=True)
        assert held == before
        file.write(held, after)
    with WorkshopFile.open(path) as file:
        assert file.load(at_once=True) == after
    with sqlite3.connect(path) as db:
        db.execute("UPDATE repair SET json = replace(json, 'batter', 'bottom') WHERE id = 3")
    with (
        WorkshopFile.open(path) as file,
        pytest.raises(StoreError, match=("The repairs are not as saved")),
    ):
        file.load()
