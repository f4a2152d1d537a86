"""`kesselton install-desktop`: put the program into the user's menu."""

from __future__ import annotations

import os
import shlex
import shutil
import sys
from importlib.resources import files
from pathlib import Path

from kesselton.core.errors import KesseltonError

APP_ID = "org.tern_island.Kesselton"


def install() -> str:
    """Write the menu entry, icon and metadata to the user's data folder; returns what was done.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    base = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    program = shutil.which("kesselton") or f"{shlex.quote(sys.executable)} -m kesselton"
    source = files("kesselton.resources")
    targets = {
        base / "applications" / f"{APP_ID}.desktop": source.joinpath(f"{APP_ID}.desktop"),
        base / "metainfo" / f"{APP_ID}.metainfo.xml": source.joinpath(f"{APP_ID}.metainfo.xml"),
        base / "icons/hicolor/scalable/apps" / f"{APP_ID}.svg": source.joinpath(
            "icons/kesselton.svg"
        ),
    }
    try:
        for target, origin in targets.items():
            target.parent.mkdir(parents=True, exist_ok=True)
            text = origin.read_text(encoding="utf-8")
            if target.suffix == ".desktop":
                text = text.replace("Exec=kesselton", f"Exec={program}")
            target.write_text(text, encoding="utf-8")
    except OSError as error:
        raise KesseltonError(
            f"The menu entry cannot be written: {error.strerror}.", f"Check {base}."
        ) from None
    return "Installed for this user:\n" + "\n".join(f"  {target}" for target in targets)
