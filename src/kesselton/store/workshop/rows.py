"""Rows of a workshop file as things of the core, and back; transactions are the caller's.

What was read, turned and fitted is kept as rows; a drum, a brief or an inspection is one document.
Writing compares with what the file holds, so that a gesture costs what it changes.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import AbstractContextManager, contextmanager, nullcontext
from dataclasses import dataclass
from functools import partial
from itertools import groupby, zip_longest
from operator import itemgetter
from typing import Any, TypeVar

import msgspec

from kesselton.core.clear.clearing_records import Clearing, Round
from kesselton.core.errors import InputError
from kesselton.core.fit.fitting import Fitting
from kesselton.core.fit.procedure import Choices
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, DialPair, Inspected, TorqueKey
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.practice.pupil import Pupil
from kesselton.core.sets.model.kit import Kit
from kesselton.core.shows.repair import Repair
from kesselton.core.shows.show import Show
from kesselton.store.formats.brief_file import brief_to_data
from kesselton.store.formats.drum_file import (
    drum_from_model,
    drum_to_model,
    head_from_model,
    head_to_model,
    read_model,
    values_of,
)
from kesselton.store.formats.log_file import entry_of, entry_text
from kesselton.store.formats.models import (
    BriefFile,
    ChoicesModel,
    DrumFile,
    FittingModel,
    HeadModel,
    InspectedModel,
    KeptClearing,
    KitModel,
    PupilModel,
    RepairModel,
    RodReadingModel,
    SessionModel,
    ShowModel,
    TrialModel,
)
from kesselton.store.formats.readings_file import clearing_to_model
from kesselton.store.formats.set_file import kit_to_model
from kesselton.store.io.errors import SALVAGE, AlteredError
from kesselton.store.workshop.holdings import Entry, Shelved, Workshop
from kesselton.store.workshop.lazy_rows import Stored
from kesselton.store.workshop.log_index import write_index
from kesselton.store.workshop.played import write_played
from kesselton.store.workshop.sums import (
    AT_ONCE,
    COMMON_PARTS,
    OWN_PARTS,
    Part,
    changed,
    write_sums,
)

M = TypeVar("M")
T = TypeVar("T")
Row = tuple[Any, ...]

PART_WORDS = {
    "drum": "The drum “{name}” is",
    "notes": "The notes of “{name}” are",
    "reading": "The readings of “{name}” are",
    "clearing": "The clearing rounds of “{name}” are",
    "kept": "The log of “{name}” is",
    "title": "The name of the workshop is",
    "rack": "The order of drums is",
    "library": "The library of heads is",
    "shelf": "The head stock is",
    "kits": "The sets are",
    "shows": "The shows are",
    "repairs": "The repairs are",
    "pupils": "The practice results are",
    "gauges": "The gauges are",
}
READING = "kind, value, side, other_head, rod, gauge, hz, noted_on"


def load(
    db: sqlite3.Connection,
    at_once: bool = False,
    worded: Callable[[], AbstractContextManager[None]] = nullcontext,
) -> Workshop:
    """Everything the file holds; readings when they are looked at, or all `at_once`.

    What goes wrong when they are looked at is told by `worded`.

    Raises
    ------
    InputError
        Naming the value that cannot be.
    """
    read = db.execute
    _check_sums(db)
    results = {name: _documents(db, name) for name in DOCUMENTS}
    entries = []
    for drum_id, name, text in read("SELECT id, name, json FROM drum ORDER BY position"):
        drum = drum_of(name, text)
        parts = {
            table: documents[drum_id]
            for table, documents in results.items()
            if drum_id in documents
        }
        readings = Stored(partial(_looked_at, worded, "reading", readings_of, db, drum_id))
        clearings = Stored(partial(_looked_at, worded, "clearing", clearings_of, db, drum_id))
        kept = Stored(
            partial(_looked_at, worded, "kept", kept_of, db, drum_id),
            partial(_last_kept, worded, db, drum_id),
            partial(_count_kept, worded, db, drum_id),
        )
        entry = Entry(drum_id, drum, readings=readings, clearings=clearings, kept=kept, **parts)
        entries.append(entry.fetched() if at_once else entry)
    library = []
    for name, text in read("SELECT name, json FROM library_head ORDER BY position"):
        library.append(head_of(name, text))
    pairs = _grouped(
        read(
            "SELECT dial_id, dial, tension_n_per_m, thickness_m, name FROM dial_pair "
            "ORDER BY dial_id, position"
        ),
        DialPair,
    )
    dials = read("SELECT id, name FROM dial ORDER BY position")
    keys = read("SELECT name, friction, most_nm FROM torque_key ORDER BY position")
    shelf = read("SELECT head_name, size_in, stock, favourite FROM shelf")
    title = read("SELECT name FROM workshop").fetchone()
    return Workshop(
        title[0] if title else "",
        tuple(entries),
        tuple(library),
        tuple(
            sorted((Shelved(a, b, n, bool(liked)) for a, b, n, liked in shelf), key=Shelved.place)
        ),
        tuple(Dial(name, pairs.get(number, ())) for number, name in dials),
        tuple(TorqueKey(*row) for row in keys),
        **{part: kind.all_of(db) for part, kind in NUMBERED.items()},
    )


def drum_of(name: str, text: str) -> Drum:
    """A drum from its document.

    Raises
    ------
    InputError
        Naming the drum and the value that cannot be.
    """
    with _named(name):
        return drum_from_model(_parsed(text, DrumFile))


def head_of(name: str, text: str) -> Head:
    """A head of the library from its document.

    Raises
    ------
    InputError
        Naming the head and the value that cannot be.
    """
    with _named(name):
        return head_from_model(_parsed(text, HeadModel), "")


def kit_of(number: int, name: str, text: str) -> Kit:
    """A set from its document.

    Raises
    ------
    InputError
        Naming the set and the value that cannot be.
    """
    with _named(name):
        return _parsed(text, KitModel).kit(number, name)


def check_entry(entry: Entry) -> None:
    """Raise InputError if something of a drum could not be written and read again."""
    _text(drum_to_model(entry.drum))
    for table in DOCUMENTS:
        if value := getattr(entry, table):
            encoded(table, value)
    for kept in entry.kept:
        _log_text(kept)


def write(db: sqlite3.Connection, before: Workshop, after: Workshop) -> None:
    """Write what is different in `after` from `before`, which is what the file holds.

    Raises
    ------
    InputError
        If something could not be read again as it would be written.
    """
    touched: set[Part] = set()
    if before.name != after.name:
        touched.add((0, "title"))
        db.execute("INSERT OR REPLACE INTO workshop (id, name) VALUES (1, ?)", (after.name,))
    if before.library != after.library:
        touched.add((0, "library"))
        _write_list(db, "library_head", (), _heads(before.library), _heads(after.library))
    old = {entry.id: (place, entry) for place, entry in enumerate(before.entries)}
    new = {entry.id: (place, entry) for place, entry in enumerate(after.entries)}
    for gone in old.keys() - new.keys():
        old[gone][1].fetched()  # undo will want it
        db.execute("DELETE FROM drum WHERE id = ?", (gone,))
        touched |= {(gone, part) for part in OWN_PARTS}
    if [e.id for e in before.entries] != [e.id for e in after.entries]:
        touched.add((0, "rack"))
    for drum_id, (place, entry) in new.items():
        was_at, was = old.get(drum_id, (None, None))
        if was is not entry:
            _write_entry(db, place, was, entry, touched)
        elif was_at != place:
            db.execute("UPDATE drum SET position = ? WHERE id = ?", (place, drum_id))
    if (before.dials, before.keys) != (after.dials, after.keys):
        _write_gauges(db, after)
        touched.add((0, "gauges"))
    if before.shelf != after.shelf:
        touched.add((0, "shelf"))
        db.execute("DELETE FROM shelf")
        rows = [(s.head_name, s.size_in, s.stock, int(s.favourite)) for s in after.shelf]
        db.executemany("INSERT INTO shelf VALUES (?, ?, ?, ?)", rows)
    for part, kind in NUMBERED.items():
        was, now = getattr(before, part), getattr(after, part)
        if was != now:
            touched.add((0, part))
            _write_numbered(db, kind, was, now)
    write_sums(db, sorted(touched))


def kit_text(kit: Kit) -> str:
    """A set as its document."""
    return _text(kit_to_model(kit))


@dataclass(frozen=True)
class Numbered:
    """Documents of the workshop under numbers that stay: their table, and how one is written and
    read; `read` raises InputError naming the value that cannot be."""

    table: str
    word: str
    text: Callable[[Any], str]
    read: Callable[[int, str, str], Any]

    def all_of(self, db: sqlite3.Connection) -> tuple[Any, ...]:
        """All of them in their order."""
        cursor = db.execute(f"SELECT id, name, json FROM {self.table} ORDER BY position, id")
        return tuple(self.read(*row) for row in cursor)


def _read_show(number: int, name: str, text: str) -> Show:
    with _named(name):
        return _parsed(text, ShowModel).show(number, name)


def _read_repair(number: int, name: str, text: str) -> Repair:
    with _named(name):
        return _parsed(text, RepairModel).repair(number, name)


def _read_pupil(number: int, name: str, text: str) -> Pupil:
    with _named(name):
        return _parsed(text, PupilModel).pupil(number, name)


def _show_text(show: Show) -> str:
    own = values_of(show)
    del own["id"], own["name"]
    return _text(ShowModel(**own))


def _repair_text(repair: Repair) -> str:
    own = {**values_of(repair), "clearing": clearing_to_model(repair.clearing)}
    del own["id"], own["drum_name"]
    return _text(RepairModel(**own))


def _pupil_text(pupil: Pupil) -> str:
    sessions = []
    for session in pupil.sessions:
        trials = tuple(TrialModel(trial.level, trial.outcome) for trial in session.trials)
        sessions.append(SessionModel(**{**values_of(session), "trials": trials}))
    return _text(PupilModel(tuple(sessions)))


NUMBERED = {
    "kits": Numbered("kit", "set", kit_text, kit_of),
    "shows": Numbered("show", "show", _show_text, _read_show),
    "repairs": Numbered("repair", "repair of", _repair_text, _read_repair),
    "pupils": Numbered("pupil", "practice of", _pupil_text, _read_pupil),
}
"""Fields of a Workshop that are such documents."""


def _write_numbered(
    db: sqlite3.Connection, kind: Numbered, was: Sequence[Any], now: Sequence[Any]
) -> None:
    """Write what is different of one kind: a step of a repair costs one row."""
    old = {item.id: (n, item) for n, item in enumerate(was)}
    new = {item.id: (n, item) for n, item in enumerate(now)}
    db.executemany(
        f"DELETE FROM {kind.table} WHERE id = ?", [(n,) for n in old.keys() - new.keys()]
    )
    for number, placed in new.items():
        if old.get(number) != placed:
            place, candidate = placed
            row = (number, place, candidate.name, kind.text(candidate))
            db.execute(f"INSERT OR REPLACE INTO {kind.table} VALUES (?, ?, ?, ?)", row)


def _check_sums(db: sqlite3.Connection) -> None:
    """Raise AlteredError if something that is read at once is not what was written."""
    for part in COMMON_PARTS:
        if changed(db, part):
            raise altered(part, "")
    names = dict(db.execute("SELECT id, name FROM drum"))
    for part in AT_ONCE:
        for owner in changed(db, part):
            raise altered(part, str(names.get(owner, _("number {owner}").format(owner=owner))))


def altered(part: str, name: str) -> AlteredError:
    """What to say of a part that is not what was saved."""
    return AlteredError(
        _("{format} not as saved.").format(format=PART_WORDS[part].format(name=name)),
        _(SALVAGE),
    )


def _write_entry(
    db: sqlite3.Connection, place: int, was: Entry | None, entry: Entry, touched: set[Part]
) -> None:
    drum = entry.drum
    touched.add((entry.id, "drum"))
    db.execute(
        "INSERT INTO drum VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET "
        "position = excluded.position, name = excluded.name, kind = excluded.kind, "
        "head_diameter_m = excluded.head_diameter_m, json = excluded.json",
        (
            entry.id, place, drum.name, drum.kind, drum.shell.head_diameter_m,
            _text(drum_to_model(drum)),
        ),
    )  # fmt: skip
    if was is None or any(getattr(was, table) != getattr(entry, table) for table in DOCUMENTS):
        touched.add((entry.id, "notes"))
    for table in DOCUMENTS:
        value = getattr(entry, table)
        if not value:
            db.execute(f"DELETE FROM {table} WHERE drum_id = ?", (entry.id,))
        elif was is None or getattr(was, table) != value:
            row = (entry.id, encoded(table, value))
            db.execute(f"INSERT OR REPLACE INTO {table} VALUES (?, ?)", row)
    old: Sequence[Reading] = () if was is None else was.readings
    if old is not entry.readings:
        _write_list(db, "reading", (entry.id,), _readings(old), _readings(entry.readings))
        touched.add((entry.id, "reading"))
    if was is None or was.kept is not entry.kept:
        _write_kept(db, entry, () if was is None else was.kept)
        touched.add((entry.id, "kept"))
    if was is None or was.clearings is not entry.clearings:
        _write_clearings(db, entry, was)
        touched.add((entry.id, "clearing"))


def _write_list(
    db: sqlite3.Connection, table: str, key: Row, old: Sequence[Row], new: Sequence[Row]
) -> None:
    """Make the rows of a list, kept by key and position, from `old` to `new`."""
    changed = [
        (*key, place, *row)
        for place, (was, row) in enumerate(zip_longest(old, new))
        if row is not None and row != was
    ]
    if changed:
        marks = ", ".join("?" * len(changed[0]))
        db.executemany(f"INSERT OR REPLACE INTO {table} VALUES ({marks})", changed)
    if len(old) > len(new):
        where = "drum_id = ? AND position >= ?" if key else "position >= ?"
        db.execute(f"DELETE FROM {table} WHERE {where}", (*key, len(new)))


def _heads(heads: Iterable[Head]) -> list[Row]:
    return [(head.name, _text(head_to_model(head))) for head in heads]


def _readings(readings: Iterable[Reading]) -> list[Row]:
    return [(r.kind, r.value, r.side, r.other_head, r.rod, r.gauge, r.hz, r.on) for r in readings]


def _write_kept(db: sqlite3.Connection, entry: Entry, was: Sequence[Kept]) -> None:
    """Only what was added, where nothing else is different: a log grows at its end."""
    old, new = tuple(was), tuple(entry.kept)
    same = 0
    while same < min(len(old), len(new)) and old[same] == new[same]:
        same += 1
    for table in ("kept", "kept_index", "kept_sound", "kept_played"):
        db.execute(f"DELETE FROM {table} WHERE drum_id = ? AND position >= ?", (entry.id, same))
    db.executemany(
        "INSERT INTO kept VALUES (?, ?, ?, ?)",
        [
            (entry.id, n, log_entry.on, _log_text(log_entry))
            for n, log_entry in enumerate(new[same:], start=same)
        ],
    )
    fresh = [(entry.id, n, log_entry) for n, log_entry in enumerate(new[same:], start=same)]
    write_index(db, fresh)
    write_played(db, fresh)


def _log_text(kept: Kept) -> str:
    text = entry_text(kept)
    entry_of(text)  # it can be read again
    return text


def _write_clearings(db: sqlite3.Connection, entry: Entry, was: Entry | None) -> None:
    if was is not None and tuple(was.clearings) == tuple(entry.clearings):
        return
    db.execute("DELETE FROM clearing WHERE drum_id = ?", (entry.id,))
    for position, clearing in enumerate(entry.clearings):
        row = (entry.id, position, clearing.side, _text(KeptClearing.of(clearing)))
        db.execute("INSERT INTO clearing VALUES (?, ?, ?, ?)", row)
        for number, each in enumerate(clearing.rounds):
            key = (entry.id, clearing.side, number)
            db.execute(
                "INSERT INTO clearing_round VALUES (?, ?, ?, ?)",
                (*key, _text(each.turns, tuple[float, ...])),
            )
            db.executemany(
                "INSERT INTO rod_reading VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                [(*key, i, *RodReadingModel.of(t).row()) for i, t in enumerate(each.taps)],
            )


def _looked_at(
    worded: Callable[[], AbstractContextManager[None]],
    part: str,
    read: Callable[[sqlite3.Connection, int], tuple[T, ...]],
    db: sqlite3.Connection,
    drum_id: int,
) -> tuple[T, ...]:
    with worded():
        if changed(db, part, drum_id):
            name = db.execute("SELECT name FROM drum WHERE id = ?", (drum_id,)).fetchone()
            raise altered(part, name[0] if name else _("number {drum_id}").format(drum_id=drum_id))
        return read(db, drum_id)


def kept_of(db: sqlite3.Connection, drum_id: int) -> tuple[Kept, ...]:
    """The log of a drum, oldest first."""
    rows = db.execute("SELECT json FROM kept WHERE drum_id = ? ORDER BY position", (drum_id,))
    return tuple(entry_of(text) for (text,) in rows)


def _last_kept(
    worded: Callable[[], AbstractContextManager[None]],
    db: sqlite3.Connection,
    drum_id: int,
    count: int,
) -> tuple[Kept, ...]:
    """The end of a log; its sum is looked at with the whole of it."""
    with worded():
        rows = db.execute(
            "SELECT json FROM kept WHERE drum_id = ? ORDER BY position DESC LIMIT ?",
            (drum_id, count),
        ).fetchall()
        return tuple(entry_of(text) for (text,) in reversed(rows))


def _count_kept(
    worded: Callable[[], AbstractContextManager[None]], db: sqlite3.Connection, drum_id: int
) -> int:
    with worded():
        result = db.execute("SELECT count(*) FROM kept WHERE drum_id = ?", (drum_id,)).fetchone()
        return int(result[0])


def readings_of(db: sqlite3.Connection, drum_id: int) -> tuple[Reading, ...]:
    rows = db.execute(
        f"SELECT {READING} FROM reading WHERE drum_id = ? ORDER BY position", (drum_id,)
    )
    return tuple(Reading(*row) for row in rows)


def clearings_of(db: sqlite3.Connection, drum_id: int) -> tuple[Clearing, ...]:
    taps: dict[tuple[str, int], list[Reading]] = {}
    for side, number, *values in db.execute(
        "SELECT side, round, kind, rod, value, spread FROM rod_reading WHERE drum_id = ? "
        "ORDER BY side, round, position",
        (drum_id,),
    ):
        taps.setdefault((side, number), []).append(RodReadingModel(*values).reading())
    rounds: dict[str, list[Round]] = {}
    for side, number, turns in db.execute(
        "SELECT side, round, turns FROM clearing_round WHERE drum_id = ? ORDER BY side, round",
        (drum_id,),
    ):
        read = tuple(taps.get((side, number), ()))
        rounds.setdefault(side, []).append(Round(read, _parsed(turns, tuple[float, ...])))
    return tuple(
        Clearing(side, tuple(rounds.get(side, [Round()])), **_parsed(text, KeptClearing).values())
        for side, text in db.execute(
            "SELECT side, json FROM clearing WHERE drum_id = ? ORDER BY position", (drum_id,)
        )
    )


def _write_gauges(db: sqlite3.Connection, after: Workshop) -> None:
    for table in ("dial", "torque_key"):
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


def _grouped(rows: Iterable[Row], make: Callable[..., T]) -> dict[int, tuple[T, ...]]:
    """Rows in the order of their owner, as what they are, by owner."""
    return {
        owner: tuple(make(*row[1:]) for row in group)
        for owner, group in groupby(rows, key=itemgetter(0))
    }


def _documents(db: sqlite3.Connection, table: str) -> dict[int, Any]:
    rows = db.execute(f"SELECT drum_id, json FROM {table}")
    return {drum_id: decoded(table, text) for drum_id, text in rows}


def decoded(table: str, text: str) -> Any:
    """A brief, an inspection or the progress of a fitting from its text.

    Raises
    ------
    InputError
        If it is none.
    """
    model, from_model, _unused = DOCUMENTS[table]
    return from_model(_parsed(text, model))


def encoded(table: str, value: Any) -> str:
    """The same as text."""
    return _text(DOCUMENTS[table][2](value), DOCUMENTS[table][0])


def _text(model: Any, kind: Any = None) -> str:
    """A model as text, which can be read again: it is tried."""
    text = msgspec.json.encode(model).decode()
    _parsed(text, kind or type(model))
    return text


def _parsed(text: str, kind: type[M]) -> M:
    try:
        return msgspec.json.decode(text, type=kind)
    except msgspec.ValidationError:
        return read_model(msgspec.json.decode(text), kind)  # which words the fault
    except msgspec.DecodeError as error:
        raise InputError(f"{error}.") from None


@contextmanager
def _named(name: str) -> Iterator[None]:
    """Lead a fault with the name of what has it."""
    try:
        yield
    except InputError as error:
        where = f" ({error.path})" if error.path else ""
        raise InputError(f"{name}{where}: {error.message}", error.remedy) from None


def _fitting(model: FittingModel) -> Fitting:
    return Fitting(**{**model.values(), "choices": Choices(**model.choices.values())})


def _fitting_model(fitting: Fitting) -> FittingModel:
    choices = ChoicesModel(**values_of(fitting.choices))
    return FittingModel(**{**values_of(fitting), "choices": choices})


DOCUMENTS: dict[str, tuple[type[Any], Callable[[Any], Any], Callable[[Any], Any]]] = {
    "brief": (BriefFile, BriefFile.brief, brief_to_data),
    "inspected": (
        InspectedModel,
        lambda model: Inspected(**model.values()),
        lambda result: InspectedModel(**values_of(result)),
    ),
    "fittings": (
        tuple[FittingModel, ...],
        lambda models: tuple(_fitting(model) for model in models),
        lambda fittings: [_fitting_model(fitting) for fitting in fittings],
    ),
}
"""By table, which is the field of an entry: its model, from the model, and to it."""
