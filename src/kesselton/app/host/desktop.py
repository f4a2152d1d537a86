"""`kesselton install-desktop`: the program into the user’s menu, its files into the desktop."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

from kesselton.app.host.places import base_dir
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _
from kesselton.resources import text_of
from kesselton.store.io.atomic_file import replace_whole

APP_ID = "org.tern_island.Kesselton"
MIME_ICON = "application-x-kesselton"
_RESERVED = set(" \t\n\"'\\><~|&;$*?#()`")


def exec_word(word: str) -> str:
    """A word of a command as the Exec key of a desktop entry wants it.

    References
    ----------
    Desktop Entry Specification 1.4, sections "The Exec key" (quoting) and "Possible value types"
    (a backslash in a string is written twice); from memory.
    """
    text = word.replace("%", "%%")
    if not _RESERVED & set(text):
        return text
    for sign in '\\`$"':
        text = text.replace(sign, "\\" + sign)
    return '"' + text.replace("\\", "\\\\") + '"'


def command() -> list[str]:
    """How this installation is started."""
    program = shutil.which("kesselton")
    return [str(Path(program).absolute())] if program else [sys.executable, "-m", "kesselton"]


def install() -> str:
    """Write menu entry, file type, icons and metadata to the user’s data folder; says what.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    base = base_dir("XDG_DATA_HOME", ".local/share")
    icons = base / "icons/hicolor/scalable"
    targets = {
        base / "applications" / f"{APP_ID}.desktop": f"{APP_ID}.desktop",
        base / "metainfo" / f"{APP_ID}.metainfo.xml": f"{APP_ID}.metainfo.xml",
        base / "mime/packages" / f"{APP_ID}.xml": f"{APP_ID}.mime.xml",
        icons / "apps" / f"{APP_ID}.svg": "icons/kesselton.svg",
        icons / "mimetypes" / f"{MIME_ICON}.svg": "icons/workshop-file.svg",
    }
    try:
        for target, origin in targets.items():
            target.parent.mkdir(parents=True, exist_ok=True)
            text = text_of(origin)
            if target.suffix == ".desktop":
                line = " ".join(exec_word(word) for word in command())
                text = text.replace("Exec=kesselton", f"Exec={line}")
            replace_whole(target, text.encode())
    except OSError as error:
        raise KesseltonError(
            _("The menu entry could not be written: {strerror}.").format(strerror=error.strerror),
            _("Check {base}.").format(base=base),
        ) from None
    _tell_desktop(base)
    return "Installed for this user:\n" + "\n".join(f"  {target}" for target in targets)


def _tell_desktop(base: Path) -> None:
    """Let the desktop take note of what is new, where it has the programs for that."""
    for program, folder in (
        ("update-mime-database", base / "mime"),
        ("update-desktop-database", base / "applications"),
    ):
        message = shutil.which(program)
        if message is not None:
            subprocess.run([message, str(folder)], check=False, capture_output=True)
