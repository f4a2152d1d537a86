"""What can go wrong with a workshop file."""

from kesselton.core.errors import KesseltonError


class StoreError(KesseltonError):
    """A workshop file cannot be opened, read or written."""


class ReadOnlyError(StoreError):
    """The file can be read, but nothing can be saved to it."""


class LockedError(StoreError):
    """Another window has the file open."""
