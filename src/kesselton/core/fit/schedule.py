"""Dates that follow from fitting a head: drying, a second look, replacement."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from kesselton.core.dates import day_words, year_words
from kesselton.core.fit.procedure import dry_days
from kesselton.core.heads.brief import DURABILITIES, Brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _

SECOND_LOOK = timedelta(days=1)
SEASON_DAYS = 180
"""Life of a head that must last a season; assumed, to be learned from the log."""
SKIN_DAYS = 720


@dataclass(frozen=True)
class Date:
    """One entry for a calendar."""

    key: str
    title: str
    at: datetime
    text: str


def dates(drum: Drum, side: str, fitted: datetime, brief: Brief | None = None) -> list[Date]:
    """What to look at again, and when.

    Notes
    -----
    After a day because new heads keep stretching (common practice); replacement by how long the
    brief wants heads to last (assumed).
    """
    head = drum.setting(side).head
    skin = head.is_skin
    out = []
    look_from = fitted
    if skin:
        days = dry_days(drum.air.temperature_c, drum.air.relative_humidity)
        look_from = fitted + timedelta(days=days)
        out.append(
            Date(
                "dry",
                _("{name}: {side} skin is dry").format(name=drum.name, side=side),
                look_from,
                _("{name}, tucked {fitted}. Bring it up to pitch in small steps.").format(
                    name=head.name, fitted=day_words(fitted)
                ),
            )
        )
    out.append(
        Date(
            "look",
            _("{name}: check the {side} head").format(name=drum.name, side=side),
            look_from + SECOND_LOOK,
            _("New heads keep stretching: read every rod and bring the head back to pitch."),
        )
    )
    lasts = DURABILITIES[brief.durability].value if brief else 1.0
    days_on = (SKIN_DAYS if skin else SEASON_DAYS) * lasts
    out.append(
        Date(
            "replace",
            _("{name}: {side} head may be due").format(name=drum.name, side=side),
            fitted + timedelta(days=days_on),
            _(
                "{name}, fitted {fitted}. Replace it sooner if it is "
                "pitted, worn or will not clear."
            ).format(name=head.name, fitted=year_words(fitted)),
        )
    )
    return out
