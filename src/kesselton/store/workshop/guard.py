"""One writer for one workshop file, by whatever name it is opened, and nobody else unnoticed."""

from __future__ import annotations

import errno
import fcntl
import os
from dataclasses import dataclass
from pathlib import Path

from kesselton.core.language import _
from kesselton.store.io.errors import ChangedError, LockedError

NO_WRITING = (errno.EACCES, errno.EPERM, errno.EROFS)
TRIES = 3


@dataclass(frozen=True)
class Lock:
    """An open handle on a workshop file; `held` is False where the file system has no locks."""

    handle: int
    held: bool


def take_lock(path: Path) -> Lock | None:
    """Lock the file itself, so that links and other names find it locked; None where nothing can
    be written.

    The lock (flock) is of another kind than those SQLite takes. SQLite's own would be dropped when
    this handle is closed, so the connection is closed first.

    Raises
    ------
    LockedError
        If another window has it.
    """
    if not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
        return None  # a transaction needs room beside the file
    for _unused in range(TRIES):
        try:
            handle = os.open(path, os.O_RDWR | os.O_CLOEXEC)
        except OSError as error:
            if error.errno in NO_WRITING:
                return None
            raise
        lock = Lock(handle, _locked(path, handle))
        there, here = path.stat(), os.fstat(handle)
        if (there.st_dev, there.st_ino) == (here.st_dev, here.st_ino):
            return lock
        release_lock(lock)  # it was exchanged meanwhile
    raise LockedError(
        _("{name} is being replaced by another program.").format(name=path.name), _("Try again.")
    )


def _locked(path: Path, handle: int) -> bool:
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        raise LockedError(
            _("{name} is open in another window.").format(name=path.name),
            _("Go to that window, or close it first."),
        ) from None
    except OSError:
        return False
    return True


def release_lock(lock: Lock) -> None:
    """Let others have it."""
    os.close(lock.handle)


Mark = tuple[int, int, int, int]


def mark_of(path: Path) -> Mark:
    """What tells a file and its state: device, inode, size, time of change.

    Raises
    ------
    ChangedError
        If there is none any more.
    """
    try:
        stat_result = path.stat()
    except OSError:
        raise ChangedError(
            _("{name} is no longer in {parent}: it was moved or deleted.").format(
                name=path.name, parent=path.parent
            ),
            _("Your work is kept here. Put the file back, or save a copy."),
        ) from None
    return stat_result.st_dev, stat_result.st_ino, stat_result.st_size, stat_result.st_mtime_ns
