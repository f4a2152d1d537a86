"""What the program did, to be found out later: rotating files in the state folder."""

from __future__ import annotations

import logging
import platform
import sys
import traceback
from pathlib import Path

from kesselton import __version__
from kesselton.app.host.places import base_dir
from kesselton.core.errors import KesseltonError
from kesselton.core.language import _

MAX_BYTES, FILES = 300_000, 3
REPORTED_LINES = 60
log = logging.getLogger("kesselton")


def state_dir() -> Path:
    """Where logs live (XDG base directories)."""
    return base_dir("XDG_STATE_HOME", ".local/state") / "kesselton"


def log_file() -> Path:
    """The file that is written now."""
    return state_dir() / "kesselton.log"


def start_logging() -> str:
    """Log to the state folder; in words, why that cannot be done, "" if it can."""
    from logging.handlers import RotatingFileHandler

    if any(isinstance(handler, RotatingFileHandler) for handler in log.handlers):
        return ""
    log.setLevel(logging.INFO)
    try:
        log_file().parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(
            log_file(), maxBytes=MAX_BYTES, backupCount=FILES - 1, encoding="utf-8"
        )
    except KesseltonError as error:
        return _("The program log cannot be written. {one_line}").format(one_line=error.one_line())
    except OSError as error:
        return _("The program log cannot be written in {state_dir}: {strerror}.").format(
            state_dir=state_dir(), strerror=error.strerror
        )
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    log.addHandler(handler)
    log.info("Kesselton %s, %s", __version__, about_system())
    return ""


def stop_logging() -> None:
    """Close the file."""
    for handler in list(log.handlers):
        log.removeHandler(handler)
        handler.close()


def about_system() -> str:
    """What runs underneath, in one line."""
    binding = sys.modules.get("PySide6")
    qt = f", PySide6 {binding.__version__}" if binding is not None else ""
    return f"Python {platform.python_version()}{qt}, {platform.platform()}"


def report(error: BaseException) -> str:
    """Everything a developer asks for: what happened where, on what, and what came before."""
    message = "".join(traceback.format_exception(error))
    try:
        before = log_file().read_text(encoding="utf-8").splitlines()[-REPORTED_LINES:]
    except OSError:
        before = [_("(no log)")]
    return "\n".join(
        [
            _("Kesselton {version}").format(version=__version__),
            about_system(),
            "",
            message,
            "Log:",
            *before,
            "",
        ]
    )
