"""Files that leave the program: written beside, looked at again, moved over, or not at all."""

from __future__ import annotations

import contextlib
import errno
import os
import shutil
import stat
import tempfile
from pathlib import Path

from kesselton.core.errors import KesseltonError
from kesselton.core.language import _

NAME_LETTERS = 60
"""Of a file's own name in that of the one beside it: names must not grow too long."""
USUAL_MODE = 0o666


def write_file(path: Path, data: bytes) -> None:
    """Write a file whole, or leave what was there.

    Raises
    ------
    KesseltonError
        If it cannot be written: what lies there is what lay there before.
    """
    try:
        replace_whole(path, data)
    except OSError as error:
        full = error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
        raise KesseltonError(
            _("{name} cannot be written: {strerror}.").format(
                name=path.name, strerror=error.strerror
            ),
            (
                _("Nothing was changed. Free some space, or choose another place.")
                if full
                else _("Choose another place.")
            ),
        ) from None


def replace_whole(path: Path, data: bytes) -> None:
    """The same with the system's own errors.

    The file beside gets a name nobody can have planted, and is looked at before it is moved over:
    some disks say only then that they are full. What is no file, as /dev/stdout, is written into.

    Raises
    ------
    OSError
        If it cannot be written.
    """
    target = Path(os.path.realpath(path))  # through a link, as an editor would
    mode = _mode_of(target)
    if mode is not None and not stat.S_ISREG(mode):
        with target.open("wb") as stream:
            stream.write(data)
        return
    start = target.name.encode(errors="surrogateescape")[:NAME_LETTERS].decode(errors="ignore")
    handle, name = tempfile.mkstemp(prefix=f".{start}.", dir=target.parent)
    beside = Path(name)
    try:
        with os.fdopen(handle, "w+b") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
            stream.seek(0)
            if stream.read() != data:
                raise OSError(errno.EIO, _("the file differs from what was written"))
        beside.chmod(stat.S_IMODE(mode) if mode is not None else new_mode(USUAL_MODE))
        beside.replace(target)
    except BaseException:
        beside.unlink(missing_ok=True)
        raise
    sync_folder(target.parent)


def copy_whole(source: Path, target: Path) -> None:
    """A copy of a file with its mode, whole or not at all, whatever its size.

    Raises
    ------
    OSError
        If it cannot be written.
    """
    handle, name = tempfile.mkstemp(prefix=COPY, dir=target.parent)
    beside = Path(name)
    try:
        with os.fdopen(handle, "w+b") as stream, source.open("rb") as of:
            shutil.copyfileobj(of, stream, COPY_BYTES)
            stream.flush()
            os.fsync(stream.fileno())
            stream.seek(0)
            of.seek(0)
            while part := of.read(COPY_BYTES):
                if stream.read(len(part)) != part:
                    raise OSError(errno.EIO, _("the file differs from what was written"))
        beside.chmod(stat.S_IMODE(source.stat().st_mode))
        beside.replace(target)
    except BaseException:
        beside.unlink(missing_ok=True)
        raise
    sync_folder(target.parent)


COPY = ".copy."
COPY_BYTES = 4_000_000


def unused_name(path: Path) -> Path:
    """This name, or with a number behind it the first that is free."""
    numbered = (path.with_name(f"{path.stem} ({n}){path.suffix}") for n in range(2, 10_000))
    return next(name for name in (path, *numbered) if not os.path.lexists(name))


def sync_folder(folder: Path) -> None:
    """Let the names in a folder outlive a power cut, where its file system can do that."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _mode_of(path: Path) -> int | None:
    try:
        return path.stat().st_mode
    except FileNotFoundError:
        return None


def new_mode(wanted: int) -> int:
    """What a new file may be; asking for the umask the usual way would change it for a moment."""
    for line in Path("/proc/self/status").read_text(encoding="utf-8").splitlines():
        if line.startswith("Umask:"):
            return wanted & ~int(line.split()[1], 8)
    return wanted & 0o700


def with_suffix(path: Path, suffix: str) -> Path:
    """The path with its suffix; one that is not there is added, and no other is taken away."""
    if path.suffix.lower() == suffix.lower():
        return path
    return path.with_name(path.name + suffix)
