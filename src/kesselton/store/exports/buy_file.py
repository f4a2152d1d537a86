"""The buy list as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from kesselton.core.escape import inert_cell
from kesselton.core.heads.buying import BuyLine
from kesselton.store.io.atomic_file import write_file

COLUMNS = ("what", "size", "needed", "stock", "buy", "for_drums", "note")


def buy_csv(lines: Sequence[BuyLine]) -> str:
    """Text of the CSV file: a header, then one row a line."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for line in lines:
        writer.writerow([inert_cell(getattr(line, name)) for name in COLUMNS])
    return out.getvalue()


def write_buy_csv(path: Path, lines: Sequence[BuyLine]) -> None:
    """Write the CSV file.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    write_file(path, buy_csv(lines).encode())
