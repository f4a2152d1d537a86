"""Pictures and sounds that belong to entries of a log: kept in the workshop by what is in them."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Iterator
from hashlib import blake2b
from io import BytesIO
from typing import TYPE_CHECKING

from kesselton.core.errors import InputError
from kesselton.core.instrument.kept import ATTACHED, Attached
from kesselton.core.language import _
from kesselton.store.io.errors import StoreError

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray

MOST_BYTES = 20_000_000
BEGINNINGS = {
    "png": (b"\x89PNG\r\n\x1a\n",),
    "jpg": (b"\xff\xd8\xff",),
    "flac": (b"fLaC",),
    "wav": (b"RIFF",),
}
"""By what a file begins with: a name may lie."""


def attached(name: str, content: bytes) -> Attached:
    """What an entry notes of a picture or sound.

    Raises
    ------
    InputError
        If it is neither, empty or too large.
    """
    if len(content) > MOST_BYTES:
        raise InputError(
            _("{name} is {content:.0f} MB.").format(name=name, content=len(content) / 1e6),
            _("Use up to {most_bytes:.0f} MB.").format(most_bytes=MOST_BYTES / 1e6),
        )
    kind = next((kind for kind, begins in BEGINNINGS.items() if content.startswith(begins)), None)
    if kind is None:
        raise InputError(
            _("{name} is not a picture or sound.").format(name=name),
            _("Use {attached}.").format(attached=", ".join(ATTACHED)),
        )
    return Attached(name, kind, digest_of(content))


def digest_of(content: bytes) -> str:
    """The name under which content is kept."""
    return blake2b(content, digest_size=16).hexdigest()


def flac_of(samples: FloatArray, rate_hz: float) -> bytes:
    """A sound as FLAC, 16 bit."""
    import soundfile

    whole = BytesIO()
    soundfile.write(whole, samples, int(rate_hz), "PCM_16", format="FLAC")
    return whole.getvalue()


def put(db: sqlite3.Connection, content: bytes) -> None:
    """Keep content, once."""
    db.execute("INSERT OR IGNORE INTO attachment VALUES (?, ?)", (digest_of(content), content))


def get(db: sqlite3.Connection, digest: str) -> bytes:
    """Content by its name.

    Raises
    ------
    StoreError
        If it is not there, or not what was kept.
    """
    row = db.execute("SELECT content FROM attachment WHERE digest = ?", (digest,)).fetchone()
    if row is None or digest_of(row[0]) != digest:
        raise StoreError(
            _("This picture or sound is missing from the workshop, or damaged."),
            _("An earlier backup may have it: Workshop, Restore an earlier state."),
        )
    return bytes(row[0])


def whole_ones(db: sqlite3.Connection) -> Iterator[bytes]:
    """All that is there as it was kept."""
    for digest, content in db.execute("SELECT digest, content FROM attachment"):
        if isinstance(content, bytes) and digest_of(content) == digest:
            yield content


def drop(db: sqlite3.Connection, digests: Iterable[str]) -> None:
    """Let go of those that no entry names any more."""
    for digest in digests:
        named = db.execute("SELECT 1 FROM kept WHERE instr(json, ?) > 0 LIMIT 1", (digest,))
        if named.fetchone() is None:
            db.execute("DELETE FROM attachment WHERE digest = ?", (digest,))
