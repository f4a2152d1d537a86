"""Settings of the program: one frozen dataclass, kept as versioned JSON beside no workshop."""

from __future__ import annotations

import json
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from kesselton.app.host.places import base_dir
from kesselton.core.constants import STANDARD_A4_HZ
from kesselton.core.errors import InputError, KesseltonError, check_range
from kesselton.core.instrument.air import COLDEST_C, HOTTEST_C
from kesselton.core.language import _
from kesselton.core.pitch import check_a4
from kesselton.core.prediction.tempo import FASTEST_BPM, SLOWEST_BPM, USUAL_BPM
from kesselton.store.io.atomic_file import replace_whole
from kesselton.store.io.bounded_reader import open_to_read

VERSION = 1
THEMES = ("system", "light", "dark")


@dataclass(frozen=True)
class Settings:
    """What the technician likes, the same for every workshop, and where the work was left.

    Attributes
    ----------
    recent : workshops used last, the last one first
    window : width and height
    drums : "number path": which drum was on the bench of which workshop, the last one first
    read_by : how rods are read while clearing, "" for the usual way
    opened : "kind of drum:row" of Tuning, rows that are open
    gone_to : keys of what was chosen from the list of everything, the last one first
    tempo_bpm : quarters a minute of the fastest part
    outlast_share, glide_share : how strict the band is in which a drum speaks, against the usual
    """

    metric: bool = False
    a4_hz: float = STANDARD_A4_HZ
    theme: str = "system"
    flats: bool = False
    last_workshop: str = ""
    stage_c: float = 12.0
    stage_rh: float = 0.5
    recent: tuple[str, ...] = ()
    window: tuple[int, ...] = ()
    maximized: bool = False
    page: str = "tuning"
    drums: tuple[str, ...] = ()
    read_by: str = ""
    tempo_bpm: float = USUAL_BPM
    outlast_share: float = 1.0
    glide_share: float = 1.0
    opened: tuple[str, ...] = ()
    gone_to: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        check_a4(self.a4_hz)
        check_range(self.stage_c, COLDEST_C, HOTTEST_C, _("Temperature on stage"), "°C")
        check_range(self.stage_rh, 0.0, 1.0, _("Relative humidity on stage"), "")
        check_range(self.tempo_bpm, SLOWEST_BPM, FASTEST_BPM, _("Tempo"), _("beats/min"))
        check_range(self.outlast_share, *STRICT, _("Fundamental decay lead"), "")
        check_range(self.glide_share, *STRICT, _("Allowed pitch glide"), "")
        if not all(
            isinstance(text, str)
            for text in (*self.recent, *self.drums, *self.opened, *self.gone_to)
        ):
            raise InputError(_("The list of recent workshops cannot be read."))
        if self.window and (len(self.window) != 2 or any(type(n) is not int for n in self.window)):
            raise InputError(
                _("The window cannot be as large as {window!r}.").format(window=self.window)
            )
        if self.theme not in THEMES:
            raise InputError(
                _("{theme!r} is not a theme.").format(theme=self.theme),
                (_("Options: {themes}.").format(themes=", ".join(THEMES))),
            )


STRICT = (0.3, 3.0)
MOST_BYTES = 1_000_000
MANY = 12
"""Workshops that are remembered."""


def with_recent(values: Settings, path: str, drum_id: int) -> dict[str, object]:
    """The workshop and the drum on its bench, before those of other workshops."""
    rest = tuple(text for text in values.recent if text != path)
    others = tuple(drum for drum in values.drums if drum.partition(" ")[2] != path)
    return {"recent": (path, *rest)[:MANY], "drums": (f"{drum_id} {path}", *others)[:MANY]}


def drum_left(values: Settings, path: str) -> int:
    """The drum that was on the bench of a workshop; 0 if that is not known."""
    for drum in values.drums:
        number, _unused, where = drum.partition(" ")
        if where == path and number.isdecimal():
            return int(number)
    return 0


def config_dir() -> Path:
    """Where settings live (XDG base directories)."""
    return base_dir("XDG_CONFIG_HOME", ".config") / "kesselton"


def data_dir() -> Path:
    """Where workshops live unless the technician says otherwise (XDG base directories)."""
    return base_dir("XDG_DATA_HOME", ".local/share") / "kesselton"


class SettingsStore(QObject):
    """The settings, one for all windows; each change is saved by itself.

    Signals
    -------
    changed : some setting is another
    failed(KesseltonError) : they could not be saved, or a part of the file could not be used
    """

    changed = Signal()
    failed = Signal(object)

    def __init__(
        self,
        values: Settings | None = None,
        path: Path | None = None,
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self.path = path or config_dir() / "settings.json"
        self.fault = ""
        """What was wrong with the file, in words; "" if nothing."""
        if values is None:
            values, self.fault = load_settings(self.path)
        self.values = values

    def change(self, **values: object) -> None:
        """Change some settings and save those.

        Raises
        ------
        InputError
            If a value is none the program knows; nothing is changed.
        """
        new = replace(self.values, **values)  # type: ignore[arg-type]
        if new == self.values:
            return
        self.values = new
        try:
            save_settings(values, self.path)
        except KesseltonError as error:
            self.failed.emit(error)
        self.changed.emit()


def load_settings(path: Path) -> tuple[Settings, str]:
    """Settings from disk, and what was wrong with them in words ("" if nothing).

    A value that cannot be used is replaced by its default, and the message says so.
    """
    data, fault = _read(path)
    settings, faults = Settings(), [fault] if fault else []
    for field in fields(Settings):
        if field.name not in data:
            continue
        value = data[field.name]
        if isinstance(value, list):
            value = tuple(value)
        try:
            if type(value) is not type(getattr(settings, field.name)):
                raise InputError(_("{name} is {value!r}.").format(name=field.name, value=value))
            settings = replace(settings, **{field.name: value})
        except InputError as error:
            faults.append(error.message)
    return settings, " ".join(faults)


def save_settings(changed: dict[str, object], path: Path) -> None:
    """Write some settings into the file, whole or not at all, and leave the others as they are.

    A file that cannot be read, or of another version, is kept aside under another name.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        data, fault = _read(path)
        if fault:
            path.replace(_aside(path))
        text = json.dumps({**data, "version": VERSION, **changed}, indent=1) + "\n"
        replace_whole(path, text.encode())
    except OSError as error:
        raise KesseltonError(
            _("The settings cannot be saved: {strerror}.").format(strerror=error.strerror),
            _("Check {parent}.").format(parent=path.parent),
        ) from None


def _read(path: Path) -> tuple[dict[str, Any], str]:
    """What a settings file holds, and what is wrong with it as a whole."""
    try:
        with open_to_read(path) as stream:
            data = json.loads(stream.read(MOST_BYTES))
    except FileNotFoundError:
        return {}, ""
    except (OSError, ValueError, RecursionError, InputError):
        return {}, _("The settings in {path} cannot be read; defaults are used.").format(path=path)
    if not isinstance(data, dict) or data.get("version") != VERSION:
        return {}, _("The settings in {path} are from another version; defaults are used.").format(
            path=path
        )
    return data, ""


def _aside(path: Path) -> Path:
    """A name beside it that is free."""
    names = (path.with_name(f"{path.stem}.aside{n or ''}.json") for n in range(1000))
    return next(name for name in names if not name.exists())
