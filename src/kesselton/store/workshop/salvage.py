"""What can be read of a damaged workshop: every drum, note and reading by itself.

The damaged file is only read. What could be read goes into a new file beside it, and what could not
is named there and kept aside, as far as there is anything of it.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar

from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.gauge import Dial, DialPair, TorqueKey
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.store.formats.log_file import entry_of
from kesselton.store.io.atomic_file import unused_name
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop import attachments, rows
from kesselton.store.workshop.connection import MADE_OF_NONSENSE, SUFFIX, connect
from kesselton.store.workshop.holdings import Entry, Shelved, Workshop
from kesselton.store.workshop.migrations import APPLICATION_ID, current_version, migrate
from kesselton.store.workshop.schema import (
    clear_orphans,
    empty,
    fitting_version,
    misfit,
    own_tables,
)
from kesselton.store.workshop.sums import AT_ONCE, COMMON_PARTS, OWN_PARTS, changed
from kesselton.store.workshop.workshop import WorkshopFile

T = TypeVar("T")
Row = tuple[Any, ...]
SHOWN = 6
"""So many losses are told; all are in the file."""
EVERYTHING = "the whole file"
BROKEN = (sqlite3.Error, KesseltonError, *MADE_OF_NONSENSE)
"""What a value that cannot be used makes of itself."""


@dataclass(frozen=True)
class Lost:
    """Something that could not be read: what, why, and what is left of it."""

    what: str
    reason: str
    content: str = ""
    altered: bool = False
    """It could be read, but is not what was saved."""


@dataclass
class Salvaged:
    """What could be read, and what could not."""

    workshop: Workshop
    lost: list[Lost] = field(default_factory=list)
    contents: list[bytes] = field(default_factory=list)
    """Pictures and sounds that are as they were kept."""

    @property
    def nothing(self) -> bool:
        """Whether nothing at all could be read."""
        return any(loss.what == EVERYTHING for loss in self.lost)

    def words(self) -> str:
        """What is lost, in a sentence or two."""
        if not self.lost:
            return _("Everything was recovered.")
        gone = [loss.what for loss in self.lost if not loss.altered]
        other = [loss.what for loss in self.lost if loss.altered]
        text = _("Not recovered: {listed}. ").format(listed=_listed(gone)) if gone else ""
        return f"{text}{_listed(other)}." if other else text.strip()


def _listed(words: list[str]) -> str:
    more = len(words) - SHOWN
    return "; ".join(words[:SHOWN]) + (_("; and {more} more").format(more=more) if more > 0 else "")


def salvage(path: Path) -> Salvaged:
    """Read what can be read; the file is not changed. It never raises: where nothing can be read,
    that is what is lost."""
    try:
        with closing(connect(path, write=False)) as source:
            source.text_factory = lambda text: text.decode(errors="replace")
            return _salvaged(source)
    except (*BROKEN, OSError, MemoryError) as error:
        message = error.one_line() if isinstance(error, KesseltonError) else str(error)
        return Salvaged(Workshop(""), [Lost(EVERYTHING, message)])


def _salvaged(source: sqlite3.Connection) -> Salvaged:
    version = _version(source)
    lost: list[Lost] = []
    with closing(_rescued(source, version, lost)) as db:
        if version < current_version() and (gone := clear_orphans(db)):
            lost.append(
                Lost(
                    _("{gone} parts of unreadable items").format(gone=gone),
                    _("their owner is lost"),
                )
            )
        migrate(db, version)
        return Salvaged(_read(db, lost), lost, _contents(db, lost))


def salvage_beside(path: Path) -> WorkshopFile:
    """A new file beside a damaged one with what could be read of it, open; it says what is lost.

    Raises
    ------
    StoreError
        If nothing can be read, or the place cannot be written.
    """
    salvaged = salvage(path)
    if salvaged.nothing:
        raise StoreError(
            _("Nothing can be read of {name}: {reason}.").format(
                name=path.name, reason=salvaged.lost[0].reason
            ),
            _("Open an earlier copy."),
        )
    target = unused_name(path.with_name(f"{path.stem} salvaged{SUFFIX}"))
    file = WorkshopFile.create(target, salvaged.workshop, salvaged.contents)
    file.put_aside([(loss.what, loss.reason, loss.content) for loss in salvaged.lost])
    file.notices.append(
        StoreError(
            _("Recovered from {name}. {words}").format(name=path.name, words=salvaged.words()),
            _("The damaged file is unchanged, in the same folder."),
        )
    )
    return file


def _contents(db: sqlite3.Connection, lost: list[Lost]) -> list[bytes]:
    """Pictures and sounds; one that is not what was kept is named."""
    whole = list(attachments.whole_ones(db))
    missing = db.execute("SELECT count(*) FROM attachment").fetchone()[0] - len(whole)
    if missing:
        lost.append(
            Lost(
                _("pictures and sounds: {missing} are damaged").format(missing=missing),
                _("not as saved"),
            )
        )
    return whole


def _version(source: sqlite3.Connection) -> int:
    """The version a file says it is of, if its tables agree; else the one they are of.

    Raises
    ------
    StoreError
        If they are of none.
    """
    application = source.execute("PRAGMA application_id").fetchone()[0]
    number = int(source.execute("PRAGMA user_version").fetchone()[0])
    if 1 <= number <= current_version() and not misfit(source, number):
        version = number
    else:
        version = fitting_version(source)
    if not version:
        ours = application == APPLICATION_ID and 1 <= number <= current_version()
        version = number if ours else 0
    if not version:
        raise StoreError(_("it does not start like a workshop"))
    return version


def _rescued(source: sqlite3.Connection, version: int, lost: list[Lost]) -> sqlite3.Connection:
    """Every row that can be read, in memory; of tables with broken pages those before and after."""
    db = empty(version)
    kinds = dict(source.execute("SELECT name, type FROM sqlite_master"))
    for table in own_tables(version):
        if kinds.get(table) != "table":  # a view of strangers is not looked at
            lost.append(Lost(_("the table “{table}”").format(table=table), _("it is not there")))
            continue
        info = list(db.execute(f"PRAGMA table_info('{table}')"))
        names = [f'"{row[1]}"' for row in info]
        key = [f'"{row[1]}"' for row in sorted(info, key=lambda row: row[5]) if row[5]]
        marks = ", ".join("?" * len(names))
        seen: set[Row] = set()
        whole = True
        for order in ("ASC", "DESC"):
            by = ", ".join(f"{name} {order}" for name in key) or f"rowid {order}"
            query = f'SELECT {", ".join(names)} FROM "{table}"'
            try:
                for row in source.execute(query if order == "ASC" else f"{query} ORDER BY {by}"):
                    if row in seen:
                        break
                    seen.add(row)
                    try:
                        db.execute(f'INSERT INTO "{table}" VALUES ({marks})', row)
                    except BROKEN as error:
                        lost.append(
                            Lost(_("a row of {table}").format(table=table), str(error), repr(row))
                        )
                else:
                    break
            except sqlite3.Error as error:
                whole = False
                reason = str(error)
        if not whole:
            lost.append(Lost(_("a part of the table “{table}”").format(table=table), reason))
    return db


def _tell_altered(
    db: sqlite3.Connection, names: dict[int, str], lost: list[Lost], tried: Tried
) -> None:
    """Parts that are not what was saved."""
    for part in COMMON_PARTS:
        with tried(_("the checksum of {part}").format(part=part)):
            if changed(db, part):
                words = rows.PART_WORDS[part].format(name="")
                lost.append(
                    Lost(_("{words} not as saved").format(words=words), _("check it"), altered=True)
                )
    for part in OWN_PARTS:
        for owner in changed(db, part):
            name = names.get(owner, _("number {owner}").format(owner=owner))
            if owner in names or part in AT_ONCE:
                words = rows.PART_WORDS[part].format(name=name)
                lost.append(
                    Lost(
                        _("{words} not what was saved").format(words=words),
                        _("look at it"),
                        altered=True,
                    )
                )


def _tell_orphans(
    db: sqlite3.Connection, kept: set[int], names: dict[int, str], lost: list[Lost]
) -> None:
    """Rows whose drum cannot be read."""
    for table in ("reading", "clearing", "kept", *rows.DOCUMENTS):
        for row in db.execute(f"SELECT * FROM {table}"):
            if row[0] not in kept:
                whose = names.get(row[0], _("drum {row}").format(row=row[0]))
                lost.append(
                    Lost(
                        _("{table} of “{whose}”").format(table=table, whose=whose),
                        _("its drum cannot be read"),
                        repr(row),
                    )
                )


def _read(db: sqlite3.Connection, lost: list[Lost]) -> Workshop:
    """The workshop out of rows each of which may be wrong."""
    names = dict(db.execute("SELECT id, name FROM drum"))

    @contextmanager
    def tried(what: str, content: object = "") -> Iterator[None]:
        try:
            yield
        except BROKEN as error:
            message = error.one_line() if isinstance(error, KesseltonError) else str(error)
            lost.append(Lost(what, message, content if isinstance(content, str) else repr(content)))

    _tell_altered(db, names, lost, tried)
    entries = []
    for drum_id, name, text in db.execute("SELECT id, name, json FROM drum ORDER BY position"):
        with tried(_("the drum “{name}”").format(name=name), text):
            entries.append(_entry(db, drum_id, rows.drum_of(name, text), tried))
    _tell_orphans(db, {entry.id for entry in entries}, names, lost)
    library: list[Head] = []
    for name, text in db.execute("SELECT name, json FROM library_head ORDER BY position"):
        with tried(_("the head “{name}”").format(name=name), text):
            library.append(rows.head_of(name, text))
    shelf: dict[tuple[str, float], Shelved] = {}
    for row in db.execute("SELECT head_name, size_in, stock, favourite FROM shelf"):
        with tried(_("the stock of “{row}”").format(row=row[0]), row):
            shelved = Shelved(str(row[0]), float(row[1]), int(row[2]), bool(row[3]))
            shelf[shelved.place()] = shelved
    dials, keys = _gauges(db, tried)
    numbered: dict[str, list[Any]] = {}
    for part, kind in rows.NUMBERED.items():
        results = numbered[part] = []
        query = f"SELECT id, name, json FROM {kind.table} ORDER BY position, id"
        for number, name, text in db.execute(query):
            with tried(_("the {word} “{name}”").format(word=kind.word, name=name), text):
                results.append(kind.read(number, name, text))
    title = db.execute("SELECT name FROM workshop").fetchone()
    return Workshop(
        title[0] if title else "",
        tuple(entries),
        tuple(library),
        tuple(shelf[place] for place in sorted(shelf)),
        tuple(dials),
        tuple(keys),
        **{part: tuple(results) for part, results in numbered.items()},
    )


Tried = Callable[..., Any]


def _entry(db: sqlite3.Connection, drum_id: int, drum: Any, tried: Tried) -> Entry:
    parts: dict[str, Any] = {}
    for table in rows.DOCUMENTS:
        for (text,) in db.execute(f"SELECT json FROM {table} WHERE drum_id = ?", (drum_id,)):
            with tried(_("{table} of “{name}”").format(table=table, name=drum.name), text):
                parts[table] = rows.decoded(table, text)
    readings: list[Reading] = []
    query = f"SELECT {rows.READING} FROM reading WHERE drum_id = ? ORDER BY position"
    for place, row in enumerate(db.execute(query, (drum_id,)), start=1):
        with tried(_("reading {place} of “{name}”").format(place=place, name=drum.name), row):
            reading = Reading(*row)
            if reading.rod <= drum.shell.rods:
                readings.append(reading)
    clearings: tuple[Any, ...] = ()
    content = list(db.execute("SELECT * FROM rod_reading WHERE drum_id = ?", (drum_id,)))
    with tried(_("the clearing rounds of “{name}”").format(name=drum.name), content):
        clearings = rows.clearings_of(db, drum_id)
    log: list[Kept] = []
    query = "SELECT position, json FROM kept WHERE drum_id = ? ORDER BY position"
    for place, text in db.execute(query, (drum_id,)):
        with tried(
            _("entry {place} of the log of “{name}”").format(place=place + 1, name=drum.name), text
        ):
            log.append(entry_of(text))
    entry = Entry(
        drum_id, drum, readings=tuple(readings), clearings=clearings, kept=tuple(log), **parts
    )
    rows.check_entry(entry)
    return entry


def _gauges(db: sqlite3.Connection, tried: Tried) -> tuple[list[Dial], list[TorqueKey]]:
    dials: list[Dial] = []
    for number, name in db.execute("SELECT id, name FROM dial ORDER BY position"):
        pairs: list[DialPair] = []
        query = (
            "SELECT dial, tension_n_per_m, thickness_m, name FROM dial_pair "
            "WHERE dial_id = ? ORDER BY position"
        )
        for row in db.execute(query, (number,)):
            with tried(_("a pair of “{name}”").format(name=name), row):
                pairs.append(DialPair(*row))
        with tried(_("the gauge “{name}”").format(name=name)):
            dials.append(Dial(name, tuple(pairs)))
    keys: list[TorqueKey] = []
    for row in db.execute("SELECT name, friction, most_nm FROM torque_key ORDER BY position"):
        with tried(_("the torque key “{row}”").format(row=row[0]), row):
            keys.append(TorqueKey(*row))
    return dials, keys
