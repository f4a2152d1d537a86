"""Brief files: what a drum must do, with the drum and the heads to choose from."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from kesselton.core.errors import InputError
from kesselton.core.heads.brief import Brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.language import _
from kesselton.store.formats.drum_file import (
    check_format,
    drum_from_model,
    head_from_model,
    parse_object,
    read_model,
    read_text,
)
from kesselton.store.formats.models import BRIEF_FORMAT, VERSION, HeadModel, OrderFile


def brief_to_data(brief: Brief) -> dict[str, Any]:
    """A brief as a brief file writes it; what does not apply is left out."""
    values = {key: value for key, value in asdict(brief).items() if value not in (None, {})}
    return {"format": BRIEF_FORMAT, "version": VERSION, **values}


@dataclass(frozen=True)
class Order:
    """A brief file for the shell: the drum, what it must do, and the heads to choose from.

    `heads` (batter, resonant) is None for all that ship with the program.
    """

    drum: Drum
    brief: Brief
    heads: tuple[list[Head], list[Head]] | None


def read_order(text: str, where: str = "The brief file") -> Order:
    """A brief with its drum from JSON text.

    Raises
    ------
    InputError
        With the name of the field, the value and what is known.
    """
    data = parse_object(text, where, _("brief file"))
    if "drum" not in data:
        raise InputError(
            _("{where} has no drum.").format(where=where), _('Add the drum as "drum".'), "drum"
        )
    check_format(data, where, BRIEF_FORMAT, VERSION)
    check_format(data["drum"], _("The drum"), "kesselton/drum", VERSION)
    file = read_model(data, OrderFile)
    heads = None
    if file.heads is not None:
        heads = (_heads(file.heads.batter, "batter"), _heads(file.heads.resonant, "resonant"))
    return Order(drum_from_model(file.drum, "drum"), file.brief(), heads)


def _heads(models: tuple[HeadModel, ...], side: str) -> list[Head]:
    return [head_from_model(model, f"heads.{side}.{i}") for i, model in enumerate(models)]


def load_order(path: Path) -> Order:
    """Read a brief file from disk.

    Raises
    ------
    InputError
        If it cannot be read or is not a brief file.
    """
    return read_order(read_text(path, _("brief file")), path.name)
