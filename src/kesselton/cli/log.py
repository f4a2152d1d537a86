"""`kesselton log`: what is kept in the log of a workshop."""

from __future__ import annotations

import argparse
from pathlib import Path

from kesselton.cli.shell import Command, print_text
from kesselton.core.language import N_, _


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("workshop", help=_("a workshop file"))
    parser.add_argument("--drum", help=_("print this drum only"))
    kind = parser.add_mutually_exclusive_group()
    kind.add_argument("--json", action="store_true", help=_("JSON lines (default)"))
    kind.add_argument("--csv", action="store_true", help=_("a table"))


def _log(given: argparse.Namespace) -> None:
    from kesselton.core.errors import InputError
    from kesselton.store.formats.log_file import as_csv, as_lines
    from kesselton.store.workshop.peek import look_into

    workshop = look_into(Path(given.workshop))
    entries = workshop.entries
    if given.drum is not None:
        entries = tuple(entry for entry in entries if entry.drum.name == given.drum)
        if not entries:
            known = ", ".join(entry.drum.name for entry in workshop.entries) or "none"
            raise InputError(
                _("Drum “{drum}” does not exist.").format(drum=given.drum),
                _("Options: {known}.").format(known=known),
                "drum",
            )
    kept = sorted(
        (log_entry for entry in entries for log_entry in entry.kept), key=lambda item: item.on
    )
    print_text(as_csv(kept) if given.csv else as_lines(kept))


COMMANDS = (Command("log", N_("print the log of a workshop"), _arguments, _log),)
