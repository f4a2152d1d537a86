"""Where files of a user live (XDG base directories)."""

from __future__ import annotations

import os
from pathlib import Path

from kesselton.core.errors import KesseltonError
from kesselton.core.language import _


def base_dir(variable: str, usual: str) -> Path:
    """The folder a variable names, or the usual one in the home of the user.

    Raises
    ------
    KesseltonError
        If there is neither.
    """
    base = os.environ.get(variable)
    if base:
        return Path(base)
    try:
        return Path.home() / usual
    except RuntimeError:
        raise KesseltonError(
            _("No home folder: your files cannot be found."),
            _("Set HOME, or {variable}, and start again.").format(variable=variable),
        ) from None
