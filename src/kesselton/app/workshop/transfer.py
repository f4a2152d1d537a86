"""Drums and logs from another workshop or a file into this one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from kesselton.app.workshop.usual_drums import unused_name
from kesselton.core.errors import InputError
from kesselton.core.instrument.kept import MOST_SETS, Kept
from kesselton.core.language import _
from kesselton.core.sets.model.kit import Kit
from kesselton.store.formats.drum_file import read_text
from kesselton.store.formats.log_file import entries_of
from kesselton.store.formats.set_file import load_set
from kesselton.store.workshop.backups import read_workshop
from kesselton.store.workshop.holdings import Entry, Workshop

MOST_BYTES = 500_000_000


def import_workshop(here: Workshop, path: Path) -> tuple[Workshop, list[bytes], str]:
    """This workshop with all drums of another and their notes and logs, under free names; contents
    of pictures and sounds; names of the drums.

    Raises
    ------
    KesseltonError
        If the other cannot be read, or holds no drum.
    """
    there, contents = read_workshop(path)  # whatever its version: it is not changed
    if not there.entries:
        raise InputError(
            _("{name} contains no drum.").format(name=path.name), _("Choose another workshop.")
        )
    taken = {entry.drum.name for entry in here.entries}
    number, results, new_id = here.next_id(), [], {}
    for entry in there.entries:
        name = unused_name(entry.drum.name, taken)
        taken.add(name)
        results.append(replace(entry, id=number, drum=replace(entry.drum, name=name)))
        new_id[entry.id] = number
        number += 1
    names = ", ".join(entry.drum.name for entry in results)
    here = replace(here, entries=(*here.entries, *results))
    for kit in there.kits:
        seats = tuple(
            replace(s, drum_id=new_id[s.drum_id]) for s in kit.seats if s.drum_id in new_id
        )
        here = _with_set(here, replace(kit, seats=seats))
    return here, contents, names


def import_set(here: Workshop, path: Path) -> tuple[Workshop, str]:
    """This workshop with a set of a file; a drum that is here just so is taken for that one, the
    others come under free names. And the name of the set.

    Raises
    ------
    KesseltonError
        If it is no set file.
    """
    whole = load_set(path)
    entries, number, seats = list(here.entries), here.next_id(), []
    taken = {entry.drum.name for entry in entries}
    for member in whole.members:
        same = next((entry for entry in entries if entry.drum == member.drum), None)
        if same is None:
            name = unused_name(member.drum.name, taken)
            taken.add(name)
            same = Entry(number, replace(member.drum, name=name))
            entries.append(same)
            number += 1
        seats.append(replace(member.seat, drum_id=same.id))
    kit = Kit(0, whole.name, tuple(seats), whole.wish)
    here = _with_set(replace(here, entries=tuple(entries)), kit)
    return here, here.kits[-1].name


def _with_set(here: Workshop, kit: Kit) -> Workshop:
    """The workshop with a set under a number and a name of its own.

    Raises
    ------
    InputError
        If there are too many.
    """
    if len(here.kits) >= MOST_SETS:
        raise InputError(
            _("There are {most_sets} sets.").format(most_sets=MOST_SETS),
            _("Remove one first."),
            "sets",
        )
    name = unused_name(kit.name, {kit.name for kit in here.kits})
    return here.with_kit(replace(kit, id=here.next_kit_id(), name=name))


def import_log(here: Workshop, path: Path) -> tuple[Workshop, str]:
    """This workshop with the entries of a file in the logs of the drums they are of; a drum that is
    not here is made as it was last. An entry that is there already is not doubled.

    Raises
    ------
    KesseltonError
        If the file cannot be read or holds no entry.
    """
    log = entries_of(read_text(path, "log", MOST_BYTES), path.name)
    if not log:
        raise InputError(
            _("{name} contains no log entries.").format(name=path.name), _("Export the log again.")
        )
    by_name: dict[str, list[Kept]] = {}
    for entry in sorted(log, key=lambda kept: kept.on):
        by_name.setdefault(entry.drum.name, []).append(replace(entry, attached=()))
    entries, number = list(here.entries), here.next_id()
    for name, more in by_name.items():
        place = next((n for n, e in enumerate(entries) if e.drum.name == name), None)
        if place is None:
            entries.append(Entry(number, more[-1].drum, kept=tuple(more)))
            number += 1
        else:
            entries[place] = replace(entries[place], kept=_joined(entries[place].kept, more))
    return replace(here, entries=tuple(entries)), ", ".join(by_name)


def _joined(old: Sequence[Kept], more: Sequence[Kept]) -> tuple[Kept, ...]:
    """Both, by time; what stands in both once."""
    there = {replace(entry, attached=()) for entry in old}
    fresh = [entry for entry in more if entry not in there]
    return tuple(sorted((*old, *fresh), key=lambda kept: kept.on))
