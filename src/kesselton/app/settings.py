"""Settings of the program: one frozen dataclass, kept as versioned JSON beside no workshop."""

from __future__ import annotations

import json
import os
from dataclasses import asdict, dataclass, fields, replace
from pathlib import Path

from kesselton.core.air import COLDEST_C, HOTTEST_C
from kesselton.core.constants import STANDARD_A4_HZ
from kesselton.core.errors import InputError, KesseltonError, check_range
from kesselton.core.pitch import check_a4

VERSION = 1
THEMES = ("system", "light", "dark")


@dataclass(frozen=True)
class Settings:
    """What the technician likes, the same for every workshop."""

    metric: bool = False
    a4_hz: float = STANDARD_A4_HZ
    theme: str = "system"
    flats: bool = False
    last_workshop: str = ""
    stage_c: float = 12.0

    def __post_init__(self) -> None:
        check_a4(self.a4_hz)
        check_range(self.stage_c, COLDEST_C, HOTTEST_C, "Temperature on stage", "°C")
        if self.theme not in THEMES:
            raise InputError(f"There is no theme {self.theme!r}.", f"Known: {', '.join(THEMES)}.")


def config_dir() -> Path:
    """Where settings live (XDG base directories)."""
    base = os.environ.get("XDG_CONFIG_HOME") or str(Path.home() / ".config")
    return Path(base) / "kesselton"


def data_dir() -> Path:
    """Where workshops live unless the technician says otherwise (XDG base directories)."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "kesselton"


def load_settings(path: Path | None = None) -> tuple[Settings, str]:
    """Settings from disk, and what was wrong with them in words ("" if nothing).

    A value that cannot be used is replaced by its default, and the message says so.
    """
    path = path or config_dir() / "settings.json"
    try:
        data = json.loads(path.read_text(encoding="utf-8"))
    except FileNotFoundError:
        return Settings(), ""
    except (OSError, ValueError):
        return Settings(), f"The settings in {path} cannot be read; the usual ones are in force."
    if not isinstance(data, dict) or data.get("version") != VERSION:
        return Settings(), f"The settings in {path} are of another version and were left aside."
    settings, faults = Settings(), []
    for field in fields(Settings):
        if field.name not in data:
            continue
        value = data[field.name]
        try:
            if type(value) is not type(getattr(settings, field.name)):
                raise InputError(f"{field.name} is {value!r}.")
            settings = replace(settings, **{field.name: value})
        except InputError as error:
            faults.append(error.message)
    return settings, " ".join(faults)


def save_settings(settings: Settings, path: Path | None = None) -> None:
    """Write settings, whole or not at all.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    path = path or config_dir() / "settings.json"
    part = path.with_suffix(".part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        part.write_text(json.dumps({"version": VERSION, **asdict(settings)}, indent=1) + "\n")
        part.replace(path)
    except OSError as error:
        raise KesseltonError(
            f"The settings cannot be saved: {error.strerror}.", f"Check {path.parent}."
        ) from None
