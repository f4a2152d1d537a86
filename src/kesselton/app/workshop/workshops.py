"""Opening, making and filling workshop files."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

from kesselton.app.host.settings import data_dir
from kesselton.app.workshop.head_stock import shipped_heads
from kesselton.core.instrument.gauge import Dial, DialPair, Inspected, TorqueKey
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.practice.pupil import Pupil
from kesselton.core.sets.model.kit import Kit
from kesselton.core.shows.repair import Repair
from kesselton.core.shows.show import Show
from kesselton.resources import resource, text_of
from kesselton.store.formats.drum_file import drum_from_data, read_model
from kesselton.store.formats.models import (
    ClearingModel,
    KitModel,
    PupilModel,
    RepairModel,
    ShowModel,
)
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.connection import SUFFIX
from kesselton.store.workshop.holdings import Entry, Shelved, Workshop
from kesselton.store.workshop.workshop import WorkshopFile


def demo_workshop() -> Workshop:
    """The percussion store of the Tern Island Opera, invented for demonstration."""
    data = json.loads(text_of("demo/tern-island-opera.json"))
    readings, inspected = data["readings"], data["inspected"]
    entries = tuple(
        Entry(
            number,
            drum_from_data(drum),
            None,
            tuple(Reading(**item) for item in readings.get(drum["name"], ())),
            _inspected(inspected.get(drum["name"])),
            (),
            tuple(
                read_model(item, ClearingModel).clearing()
                for item in data["clearing"].get(drum["name"], ())
            ),
        )
        for number, drum in enumerate(data["drums"], start=1)
    )
    dials = tuple(
        Dial(item["name"], tuple(DialPair(**pair) for pair in item["pairs"]))
        for item in data["dials"]
    )
    keys = tuple(TorqueKey(**item) for item in data["keys"])
    numbers = {entry.drum.name: entry.id for entry in entries}
    kits = tuple(_kit(number, item, numbers) for number, item in enumerate(data["sets"], start=1))
    return Workshop(
        data["name"], entries, shipped_heads(), _shelf(data), dials, keys, kits,
        tuple(_show(number, item, numbers) for number, item in enumerate(data["shows"], start=1)),
        tuple(
            _repair(number, item, numbers) for number, item in enumerate(data["repairs"], start=1)
        ),
        tuple(_pupil(number, item) for number, item in enumerate(data["pupils"], start=1)),
    )  # fmt: skip


def _pupil(number: int, data: dict[str, Any]) -> Pupil:
    return read_model({"sessions": data["sessions"]}, PupilModel).pupil(number, data["name"])


def _shelf(data: dict[str, Any]) -> tuple[Shelved, ...]:
    return tuple(sorted((Shelved(*item) for item in data["shelf"]), key=Shelved.place))


def _show(number: int, data: dict[str, Any], numbers: dict[str, int]) -> Show:
    rest = {key: value for key, value in data.items() if key not in ("name", "drums")}
    drums = [numbers[name] for name in data["drums"]]
    return read_model({**rest, "drum_ids": drums}, ShowModel).show(number, data["name"])


def _repair(number: int, data: dict[str, Any], numbers: dict[str, int]) -> Repair:
    rest = {key: value for key, value in data.items() if key != "drum"}
    model = read_model({**rest, "drum_id": numbers[data["drum"]]}, RepairModel)
    return model.repair(number, data["drum"])


def demo_season() -> Workshop:
    """The same with the log of a season."""
    from kesselton.store.formats.log_file import entries_of

    plain, log = (
        demo_workshop(),
        entries_of(text_of("demo/tern-island-season.jsonl"), _("The demo")),
    )
    kept: dict[str, list[Kept]] = {}
    for log_entry in log:
        kept.setdefault(log_entry.drum.name, []).append(log_entry)
    entries = (replace(entry, kept=tuple(kept.get(entry.drum.name, ()))) for entry in plain.entries)
    return replace(plain, entries=tuple(entries))


def demo_sounds() -> list[bytes]:
    """The strokes that are kept with the log."""
    return [path.read_bytes() for path in sorted(resource("demo/sounds").glob("*.flac"))]


def _kit(number: int, data: dict[str, Any], numbers: dict[str, int]) -> Kit:
    seats = [
        {"drum_id": numbers[name], "x_m": x, "y_m": y, "height_m": z,
         "apart": name == "Pit snare"}
        for name, x, y, z in data["seats"]
    ]  # fmt: skip
    model = read_model({"seats": seats, "wish": data["wish"]}, KitModel)
    return model.kit(number, data["name"])


def _inspected(data: dict[str, list[float]] | None) -> Inspected | None:
    if data is None:
        return None
    return Inspected(tuple(data["diameters_m"]), tuple(data["gaps_m"]))


def empty_workshop(name: str) -> Workshop:
    """A new workshop: the shipped heads, and no drum yet."""
    return Workshop(name, (), shipped_heads())


def fresh_path() -> Path:
    """Where another empty workshop may lie: a name that is free in the data folder."""
    names = (data_dir() / f"workshop{n or ''}{SUFFIX}" for n in (0, *range(2, 1000)))
    return next(path for path in names if not path.exists())


def path_of(name: str | None, last: str) -> Path:
    """Where the workshop lies that is opened by a name, "demo" or (None) as the one used last."""
    if name == "demo":
        return data_dir() / f"demo{SUFFIX}"
    if name is not None:
        return Path(name).expanduser()
    return Path(last) if last and Path(last).exists() else data_dir() / f"workshop{SUFFIX}"


def open_demo() -> WorkshopFile:
    """The demo workshop in the technician's data folder, made there the first time."""
    return _open_or_create(path_of("demo", ""), demo_season, demo_sounds)


def open_workshop(name: str) -> WorkshopFile:
    """A workshop by file name; a name that does not exist yet is made, if it ends as it should."""
    path = Path(name).expanduser()
    if not path.exists() and path.suffix == SUFFIX:
        return _open_or_create(path, partial(empty_workshop, path.stem))
    return WorkshopFile.open(path)


def open_default(last: str) -> WorkshopFile:
    """The workshop used last, or a new one in the data folder."""
    return _open_or_create(path_of(None, last), partial(empty_workshop, _("My workshop")))


def _open_or_create(
    path: Path,
    content: Callable[[], Workshop],
    attached: Callable[[], list[bytes]] = list,
) -> WorkshopFile:
    if path.exists():
        return WorkshopFile.open(path)
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreError(
            _("The folder {parent} cannot be created: {strerror}.").format(
                parent=path.parent, strerror=error.strerror
            ),
            _("Choose another place."),
        ) from None
    return WorkshopFile.create(path, content(), attached())
