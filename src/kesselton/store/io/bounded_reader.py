"""Files opened to be read, without waiting for ever for one nobody writes."""

from __future__ import annotations

import os
import select
import stat
from pathlib import Path
from typing import BinaryIO

from kesselton.core.errors import InputError
from kesselton.core.language import _

WAITS_S = 2.0
"""So long a pipe may take until something is in it."""


def open_to_read(path: Path) -> BinaryIO:
    """A file, a device or a pipe somebody writes, opened.

    Raises
    ------
    InputError
        If it is a pipe and nobody writes into it.
    OSError
        If it cannot be opened.
    """
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        if stat.S_ISFIFO(os.fstat(handle).st_mode):
            waiting = select.poll()
            waiting.register(handle, select.POLLIN)
            if not waiting.poll(1e3 * WAITS_S):
                raise InputError(
                    _("Nothing is writing to {name}.").format(name=path.name), _("Choose a file.")
                )
        os.set_blocking(handle, True)
        return os.fdopen(handle, "rb")
    except BaseException:
        os.close(handle)
        raise


def read_whole(path: Path, what: str, most: int) -> bytes:
    """All of a file that is no larger than such files can be.

    Raises
    ------
    InputError
        If it cannot be read, or is larger.
    """
    try:
        with open_to_read(path) as stream:
            data = stream.read(most + 1)  # of a device too, which has no size to ask for
    except OSError as error:
        raise InputError(
            _("{name} cannot be read: {strerror}.").format(name=path.name, strerror=error.strerror),
            _("Check the file and its permissions."),
        ) from None
    if len(data) > most:
        raise InputError(
            _("{name} is too large for a {what}.").format(name=path.name, what=what),
            _("Choose another file."),
        )
    return data
