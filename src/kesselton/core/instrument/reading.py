"""A reading: what was read on a drum, where, by what, and how sure it is."""

from __future__ import annotations

from dataclasses import dataclass

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ
from kesselton.core.errors import InputError, check_range
from kesselton.core.language import N_, Worded, _, begin

MAX_DIVISIONS = 200.0
_PITCH = (LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, "Hz")
KINDS = Worded(
    {
        "lug_pitch": N_("lug pitch"),
        "second_partial": N_("second partial"),
        "fundamental": N_("drum pitch"),
        "dial": N_("gauge"),
        "torque": N_("torque"),
        "turns": N_("turns"),
        "gap": N_("hoop travel"),
    }
)
LIMITS: dict[str, tuple[float, float, str]] = {
    "lug_pitch": _PITCH,
    "second_partial": _PITCH,
    "fundamental": _PITCH,
    "dial": (0.0, MAX_DIVISIONS, "divisions"),
    "torque": (0.0, 20.0, "N m"),
    "turns": (0.0, 20.0, "turns"),
    "gap": (0.0, 0.05, "m"),
}
"""By kind: lowest, highest, unit."""


@dataclass(frozen=True, slots=True)
class Reading:
    """One reading, whatever it was taken for.

    Attributes
    ----------
    kind : one of KINDS
    value : hertz, hertz, hertz, divisions, newton meter, turns past finger tight, meters the hoop
        has gone down since finger tight
    side : which head; of no matter for "fundamental"
    other_head, centre : condition of a pitch, as in `drum.OTHER_HEAD` and `drum.CENTRE`
    rod : which rod, 0 for all of them or their mean
    gauge : name of the dial or torque key, "" for none
    hz : lug pitch heard at so many turns, if both were noted
    on : date, ISO 8601
    spread : standard deviation in cents, cents, cents, divisions, newton meter; 0 where only the
        typical one is known
    """

    kind: str
    value: float
    side: str = "batter"
    other_head: str = "muted"
    rod: int = 0
    gauge: str = ""
    hz: float | None = None
    on: str = ""
    spread: float = 0.0
    centre: str = "damped"

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise InputError(
                _("{kind!r} is not a kind of reading.").format(kind=self.kind),
                (_("Options: {kinds}.").format(kinds=", ".join(KINDS))),
            )
        low, high, unit = LIMITS[self.kind]
        what = KINDS[self.kind]
        name = _("Rod {rod}’s {what}").format(rod=self.rod, what=what) if self.rod else begin(what)
        check_range(self.value, low, high, name, unit, "value")

    @property
    def words(self) -> str:
        """What it is, for a message."""
        if self.rod:
            return _("rod {rod}’s {what} ({side})").format(
                rod=self.rod, what=KINDS[self.kind], side=self.side
            )
        return _("the {what} ({side})").format(what=KINDS[self.kind], side=self.side)

    @property
    def in_full(self) -> str:
        """The same with its value."""
        _unused, _unused, unit = LIMITS[self.kind]
        value, unit = (1000.0 * self.value, "mm") if unit == "m" else (self.value, unit)
        message = (
            _("rod {rod}’s {what} ({side}), {value:.4g} {unit}")
            if self.rod
            else _("{what} ({side}), {value:.4g} {unit}")
        )
        return message.format(
            rod=self.rod, what=KINDS[self.kind], side=self.side, value=value, unit=unit
        )
