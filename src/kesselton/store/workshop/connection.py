"""The one place that opens a connection to a workshop file, and words what SQLite says of it."""

from __future__ import annotations

import logging
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path

from kesselton.core.errors import InputError
from kesselton.core.language import _
from kesselton.store.io.errors import (
    SALVAGE,
    AlteredError,
    DamagedError,
    LockedError,
    ReadOnlyError,
    StoreError,
)
from kesselton.store.workshop.migrations import APPLICATION_ID, TRIAL_ID, current_version
from kesselton.store.workshop.schema import harden, misfit

SUFFIX = ".kesselton"
LARGEST_BYTES = 2_000_000_000
"""A hundred thousand readings are 7 MB."""
COPIES = 5
"""So often a copy is begun anew while another program writes."""
BUSY_S = 2.0
"""So long another program's transaction is waited for."""


MADE_OF_NONSENSE = (
    LookupError,
    TypeError,
    ValueError,
    AttributeError,
    OverflowError,
    RecursionError,
)
"""What reading makes of values that nobody wrote: a number where a text was, text that is none."""
OF_DAMAGE = (
    "decode to UTF-8",
    "unsupported file format",
    "no such column",
    "no such table",
    "malformed",
)
"""In what SQLite says of files whose tables are no longer what was written."""
log = logging.getLogger(__name__)


def connect(path: Path, write: bool, still: bool = True) -> sqlite3.Connection:
    """Open a connection with what every connection needs.

    One that only reads takes the file to lie `still`, unless it says that others may write it
    meanwhile. Foreign keys are off in SQLite until a connection asks for them, so nothing else may
    open one.
    """
    if not write and still and _journal_of(path).exists():
        return _recovered(path)
    return _opened(path, "rw" if write else "ro&immutable=1" if still else "ro")


def _opened(path: Path, mode: str) -> sqlite3.Connection:
    db = sqlite3.connect(
        f"{path.resolve().as_uri()}?mode={mode}",
        uri=True,
        isolation_level=None,
        timeout=BUSY_S,
        check_same_thread=False,  # readings are fetched by whoever looks first; SQLite serializes
    )
    try:
        db.execute("PRAGMA foreign_keys = ON")
        db.execute("PRAGMA synchronous = FULL")
        harden(db)
    except BaseException:
        db.close()
        raise
    return db


def _journal_of(path: Path) -> Path:
    path = Path(os.path.realpath(path))
    return path.with_name(f"{path.name}-journal")


def _recovered(path: Path) -> sqlite3.Connection:
    """A file that is only read, with what a program that died in the middle of writing had begun
    taken back: done on a copy, which is gone with the connection.

    Raises
    ------
    OSError
        If there is no room for the copy.
    """
    path, journal = Path(os.path.realpath(path)), _journal_of(path)
    with tempfile.TemporaryDirectory(prefix="kesselton-") as folder:
        beside = Path(folder) / path.name
        for _unused in range(COPIES):
            before = path.stat().st_mtime_ns
            shutil.copyfile(path, beside)
            with suppress(FileNotFoundError):  # whoever wrote is done meanwhile
                shutil.copyfile(journal, _journal_of(beside))
            if path.stat().st_mtime_ns == before:
                break
        with closing(_opened(beside, "rw")) as source:
            db = _opened(Path("/dev/null"), "memory")
            source.backup(db)
    return db


def identify(db: sqlite3.Connection, path: Path) -> int:
    """Version of a workshop file, after making sure it is one and is whole.

    Raises
    ------
    StoreError
        If it is another program's, from a newer Kesselton, or damaged.
    """
    if path.stat().st_size > LARGEST_BYTES:
        raise StoreError(
            _("{name} is too large for a workshop.").format(name=path.name),
            _("Choose a file up to {largest_bytes:.0f} MB.").format(
                largest_bytes=LARGEST_BYTES / 1e6
            ),
        )
    application = db.execute("PRAGMA application_id").fetchone()[0]
    version = int(db.execute("PRAGMA user_version").fetchone()[0])
    tables = db.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
    if application == TRIAL_ID:
        raise StoreError(
            _("{name} is from a trial of Kesselton before the first release.").format(
                name=path.name
            ),
            _("It cannot be read; the file was not changed."),
        )
    if application != APPLICATION_ID or tables == 0:
        raise StoreError(
            _("{name} belongs to another program or is empty.").format(name=path.name),
            _("Choose a file that ends in {suffix}.").format(suffix=SUFFIX),
        )
    if version < 1:
        raise _damaged(path)
    if version > current_version():
        raise StoreError(
            _("{name} was written by a newer Kesselton (version {version}).").format(
                name=path.name, version=version
            ),
            (
                _(
                    "This one reads up to version {current_version}: update "
                    "Kesselton. The file was not changed."
                ).format(current_version=current_version())
            ),
        )
    if db.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
        raise _damaged(path)
    if misfit(db, version):
        raise _damaged(path)
    return version


def _damaged(path: Path) -> DamagedError:
    return DamagedError(
        _("{name} is damaged and was not changed.").format(name=path.name),
        _(SALVAGE),
    )


def _worded(error: sqlite3.Error, path: Path) -> StoreError:
    """What an error of SQLite means to the technician, by its code."""
    code = getattr(error, "sqlite_errorcode", sqlite3.SQLITE_ERROR) & 0xFF
    if code in (sqlite3.SQLITE_FULL, sqlite3.SQLITE_IOERR):
        return StoreError(
            _("{name} could not be saved: the disk is full or does not respond.").format(
                name=path.name
            ),
            _("Free some space; your changes are kept and saved with the next one."),
        )
    if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
        return LockedError(
            _("Another program is writing to {name}.").format(name=path.name),
            _("Close it and try again."),
        )
    if code in (sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM):
        return ReadOnlyError(
            _("{name} cannot be written here.").format(name=path.name), _("Save a copy elsewhere.")
        )
    if code == sqlite3.SQLITE_NOTADB:
        return StoreError(
            _("{name} is not a workshop file.").format(name=path.name),
            _("Open another. If it was your workshop, it is damaged: open an earlier copy."),
        )
    broken = any(words in str(error) for words in OF_DAMAGE)
    if broken or code in (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_TOOBIG, sqlite3.SQLITE_FORMAT):
        return _damaged(path)
    return StoreError(
        _("{name} could not be used ({error}): program error.").format(name=path.name, error=error),
        _("The file was not changed. Save a copy elsewhere and report the error."),
    )


@contextmanager
def translate_values(path: Path) -> Iterator[None]:
    """Say of a value that no drum can have which file holds it, and what to do about it."""
    try:
        yield
    except AlteredError as error:
        raise DamagedError(
            _("{name} is damaged and was not changed: {message}").format(
                name=path.name, message=error.message
            ),
            error.remedy,
        ) from None
    except InputError as error:
        raise DamagedError(
            _("{name} contains a value no drum can have: {error}").format(
                name=path.name, error=error
            ),
            _(SALVAGE),
        ) from None
    except MADE_OF_NONSENSE as error:
        log.exception("%s cannot be read", path)
        raise _damaged(path) from error


@contextmanager
def translate_errors(path: Path) -> Iterator[None]:
    """Turn what SQLite and the system say into the technician's words."""
    try:
        yield
    except UnicodeDecodeError as error:  # even what SQLite says of it cannot be read
        raise _damaged(path) from error
    except UnicodeEncodeError:
        raise StoreError(
            _("{name} could not be saved: a name or note contains an invalid character.").format(
                name=path.name
            ),
            _("Undo, or retype that text."),
        ) from None
    except sqlite3.Error as error:
        raise _worded(error, path) from error
    except OSError as error:
        raise StoreError(
            _("{name} cannot be used: {strerror}.").format(name=path.name, strerror=error.strerror),
            (_("Check the location and its permissions.")),
        ) from error
