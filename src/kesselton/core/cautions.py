"""Cautions that several places show, in one wording (common practice, no published source)."""

from __future__ import annotations

from kesselton.core.language import N_

RODS_UNDER_LOAD = N_(
    "Rods, hoops and ropes under load can fail suddenly: keep your face clear and never exceed the "
    "manufacturer’s limit."
)
SHARED = {"load": RODS_UNDER_LOAD}
"""By the name a procedure file asks for them."""
