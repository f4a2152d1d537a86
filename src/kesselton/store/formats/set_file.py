"""Set files: drums that are played together, where they stand and what they must do."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from kesselton.core.instrument.drum import Drum
from kesselton.core.sets.model.kit import Kit, Member, Seat, Wish, ordered
from kesselton.store.formats.drum_file import (
    check_format,
    drum_from_model,
    drum_to_model,
    parse_object,
    read_model,
    read_text,
    to_data,
    values_of,
)
from kesselton.store.formats.models import (
    SET_FORMAT,
    VERSION,
    KitModel,
    SeatModel,
    SetFile,
    SetMemberModel,
    WishModel,
)
from kesselton.store.io.atomic_file import write_file


@dataclass(frozen=True)
class WholeSet:
    """A set with its drums, low to high."""

    name: str
    members: tuple[Member, ...]
    wish: Wish


def kit_to_model(kit: Kit) -> KitModel:
    """A set as a workshop keeps it."""
    seats = tuple(SeatModel(**values_of(seat)) for seat in kit.seats)
    return KitModel(seats, WishModel(**values_of(kit.wish)))


def set_to_data(kit: Kit, drums: Mapping[int, Drum]) -> dict[str, Any]:
    """A set with its drums as a set file writes it."""
    members = []
    for seat in kit.seats:
        if seat.drum_id in drums:
            values = values_of(seat)
            del values["drum_id"]
            members.append(SetMemberModel(drum=drum_to_model(drums[seat.drum_id]), **values))
    wish = WishModel(**values_of(kit.wish))
    data: dict[str, Any] = to_data(SetFile(SET_FORMAT, VERSION, kit.name, tuple(members), wish))
    return data


def read_set(text: str, where: str = "The set file") -> WholeSet:
    """A set from the text of a set file.

    Raises
    ------
    InputError
        With the path of the first fault, the value and what is permitted.
    """
    data = parse_object(text, where, "set file")
    check_format(data, where, SET_FORMAT, VERSION)
    file = read_model(data, SetFile)
    results = []
    for number, set_member_model in enumerate(file.drums):
        values = set_member_model.values()
        del values["drum"]
        drum = drum_from_model(set_member_model.drum, f"drums.{number}.drum")
        results.append(Member(drum, Seat(number + 1, **values)))
    return WholeSet(file.name, ordered(results), file.wish.wish())


def load_set(path: Path) -> WholeSet:
    """Read a set file from disk.

    Raises
    ------
    InputError
        If it cannot be read or is not a set file.
    """
    return read_set(read_text(path, "set file"), path.name)


def save_set(path: Path, kit: Kit, drums: Mapping[int, Drum]) -> None:
    """Write a set file, whole or not at all.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    text = json.dumps(set_to_data(kit, drums), indent=1, ensure_ascii=False, allow_nan=False)
    write_file(path, f"{text}\n".encode())
