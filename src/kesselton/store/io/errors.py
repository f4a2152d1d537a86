"""What can go wrong with a workshop file."""

from __future__ import annotations

from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import N_

SALVAGE = N_("Recover the readable parts, or open an earlier copy.")
"""What to do about a damaged workshop."""


class StoreError(KesseltonError):
    """A workshop file cannot be opened, read or written."""

    code = "file"


class ReadOnlyError(StoreError):
    """The file can be read, but nothing can be saved to it."""

    code = "read_only"


class LockedError(StoreError):
    """Another window has the file open."""

    code = "locked"


class ChangedError(StoreError):
    """Another program changed or exchanged the file while it was open."""

    code = "changed"


class DamagedError(StoreError):
    """The file holds something that cannot be read; what can be may be salvaged."""

    code = "damaged"


class AlteredError(InputError):
    """A part of a workshop is not what was saved: the disk, or another program, changed it."""

    code = "altered"
