"""A workshop looked at and not opened: it may be open elsewhere, and is not changed."""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

from kesselton.store import rows
from kesselton.store.connection import connect, translate_errors
from kesselton.store.errors import StoreError
from kesselton.store.holdings import Workshop
from kesselton.store.migrations import APPLICATION_ID, CURRENT_VERSION


def look_into(path: Path) -> Workshop:
    """Everything a workshop file holds.

    Raises
    ------
    StoreError
        If it cannot be read, or is of another version.
    """
    if not path.is_file():
        raise StoreError(f"{path} does not exist.", "Check the name.")
    with translate_errors(path), closing(connect(path, write=False)) as db:
        application = db.execute("PRAGMA application_id").fetchone()[0]
        version = int(db.execute("PRAGMA user_version").fetchone()[0])
        if application != APPLICATION_ID:
            raise StoreError(f"{path.name} is no workshop.", "Choose another file.")
        if version != CURRENT_VERSION:
            raise StoreError(
                f"{path.name} is of version {version}; this program reads {CURRENT_VERSION}.",
                "Open it once in the program."
                if version < CURRENT_VERSION
                else "Get a newer program.",
            )
        return rows.load(db, at_once=True)
