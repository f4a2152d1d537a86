"""A workshop looked at and not opened: it may be open elsewhere, and is not changed."""

from __future__ import annotations

from pathlib import Path

from kesselton.core.language import _
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.backups import read_backup
from kesselton.store.workshop.holdings import Workshop


def look_into(path: Path) -> Workshop:
    """Everything a workshop file of this or an older version holds.

    Raises
    ------
    StoreError
        If it cannot be read.
    """
    if not path.is_file():
        raise StoreError(_("{path} does not exist.").format(path=path), _("Check the name."))
    return read_backup(path)
