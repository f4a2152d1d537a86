"""A drum on the bench: shell, air, two heads and how each is set."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ, SIDES
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import MAX_MUFFLERS, Muffler
from kesselton.core.instrument.shell import Shell
from kesselton.core.instrument.wires import Laid, Wires
from kesselton.core.language import N_, Worded, _, begin, ngettext

KINDS = Worded(
    {
        "tom": N_("tom"),
        "snare": N_("snare drum"),
        "bass": N_("bass drum"),
        "concert_bass": N_("concert bass drum"),
        "rope": N_("rope drum"),
    }
)
OTHER_HEAD = ("muted", "free")
CENTRE = ("damped", "free")
GUESSABLE = {
    "depth": "shell.depth_m",
    "batter_plies": "batter.head.plies_m",
    "resonant_plies": "resonant.head.plies_m",
}
"""What may be given as a guess, and what it is called among what was assumed."""
LOWEST_TENSION_N_PER_M, HIGHEST_TENSION_N_PER_M = 1.0, 60000.0
WIRED = ("snare", "rope")
"""Kinds of drum under which wires may lie; a snare drum has some unless it is said otherwise."""


@dataclass(frozen=True)
class LugPitch:
    """How a head is set: by a lug pitch, together with the condition it is heard under."""

    hz: float
    other_head: str = "muted"
    centre: str = "damped"

    def __post_init__(self) -> None:
        check_range(self.hz, LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, _("Lug pitch"), "Hz", "hz")
        for value, known, name in (
            (self.other_head, OTHER_HEAD, "other_head"),
            (self.centre, CENTRE, "centre"),
        ):
            if value not in known:
                raise InputError(
                    _("{capitalize} is {value!r}.").format(
                        capitalize=begin(name.replace("_", " ")), value=value
                    ),
                    _("Options: {known}.").format(known=", ".join(known)),
                    name,
                )


@dataclass(frozen=True)
class HeadSetting:
    """A head on the drum, set by exactly one of tension or lug-pitch reading."""

    head: Head
    tension_n_per_m: float | None = None
    reading: LugPitch | None = None

    def __post_init__(self) -> None:
        if (self.tension_n_per_m is None) == (self.reading is None):
            raise InputError(
                _("The head {name!r} needs one setting value.").format(name=self.head.name),
                _("Give exactly one of tension, lug pitch and reading."),
                "tension_n_per_m",
            )
        if self.tension_n_per_m is not None:
            check_range(
                self.tension_n_per_m,
                LOWEST_TENSION_N_PER_M,
                HIGHEST_TENSION_N_PER_M,
                _("Tension"),
                "N/m",
                "tension_n_per_m",
            )

    def at_tension(self, tension_n_per_m: float) -> HeadSetting:
        """The same head set by tension."""
        return replace(self, tension_n_per_m=tension_n_per_m, reading=None)

    def at_pitch(self, hz: float) -> HeadSetting:
        """The same head set by a lug pitch, heard under its present condition."""
        reading = replace(self.reading, hz=hz) if self.reading else LugPitch(hz)
        return replace(self, tension_n_per_m=None, reading=reading)


@dataclass(frozen=True)
class Drum:
    """Everything the computation needs to know; `resonant` None is a drum open below.

    `mufflers` lie on the heads and count for what is heard, not for lug pitches: those are read
    before muffling. `guessed` names what was given without knowing: it makes intervals wider.
    `wires` None: nothing is said of them, see `own_wires`.
    """

    name: str
    kind: str
    shell: Shell
    batter: HeadSetting
    resonant: HeadSetting | None
    air: Air = field(default_factory=Air)
    mufflers: tuple[Muffler, ...] = ()
    guessed: tuple[str, ...] = ()
    wires: Wires | None = None

    def __post_init__(self) -> None:
        if self.wires is not None and (self.kind not in WIRED or self.resonant is None):
            raise InputError(
                _("{name!r} cannot have snare wires.").format(name=self.name),
                _("Only snare and rope drums with a resonant head can."),
                "wires",
            )
        for name in self.guessed:
            if name not in GUESSABLE:
                raise InputError(
                    _("{name!r} cannot be marked as a guess.").format(name=name),
                    _("Options: {guessable}.").format(guessable=", ".join(GUESSABLE)),
                    "guessed",
                )
        if self.kind not in KINDS:
            raise InputError(
                _("{kind!r} is not a kind of drum.").format(kind=self.kind),
                _("Options: {kinds}.").format(kinds=", ".join(KINDS)),
                "kind",
            )
        if not self.name.strip():
            raise InputError(_("The drum has no name."), _("Enter one."), "name")
        if len(self.mufflers) > MAX_MUFFLERS:
            raise InputError(
                _("There are {mufflers} pieces of muffling.").format(mufflers=len(self.mufflers)),
                _("Use up to {max_mufflers}.").format(max_mufflers=MAX_MUFFLERS),
                "mufflers",
            )
        for muffler in self.mufflers:
            if muffler.side not in self.sides:
                raise InputError(
                    _("There is muffling on the {side} head, but the drum has none.").format(
                        side=muffler.side
                    ),
                    _("Remove the muffling first."),
                    "mufflers",
                )
            if muffler.rod >= self.shell.rods + 1:
                raise InputError(
                    _("Muffling is at rod {rod:g} of {rods}.").format(
                        rod=muffler.rod, rods=self.shell.rods
                    ),
                    _("Use 1 to just under {rods}.").format(rods=self.shell.rods + 1),
                    "mufflers.rod",
                )
        for side in self.sides:
            setting = self.setting(side)
            try:
                setting.head.check_fits(self.shell.radius_m)
            except InputError as error:
                error.path = f"{side}.head.{error.path}"
                raise

    @property
    def assumed(self) -> tuple[str, ...]:
        """Names of what was not said, and of what was guessed."""
        return (*self.shell.assumed, *(GUESSABLE[name] for name in self.guessed))

    @property
    def own_wires(self) -> Wires | None:
        """Its wires: as they are said, those usual for a snare drum, or None."""
        if self.wires is not None:
            return self.wires
        return Wires() if self.kind == "snare" and self.resonant is not None else None

    @property
    def laid_wires(self) -> Laid | None:
        """Its wires with every value, engaged or not."""
        beds, own = self.shell.beds, self.own_wires
        depth = None if beds is None else beds.depth_m
        return None if own is None else own.laid(self.shell.head_diameter_m, depth)

    @property
    def lying_wires(self) -> Laid | None:
        """The same where the strainer is on; None where nothing lies on the head."""
        own = self.own_wires
        return self.laid_wires if own is not None and own.engaged else None

    def guessing(self, name: str, guessed: bool) -> Drum:
        """The same drum with one thing marked as a guess, or as known."""
        others = [other for other in self.guessed if other != name]
        return replace(self, guessed=tuple(sorted([*others, name] if guessed else others)))

    @property
    def one_pull(self) -> float | None:
        """Where one pull draws both heads: the share that may lie between their tensions."""
        return None if self.resonant is None else self.shell.usual_drawn.friction

    @property
    def rod_word(self) -> str:
        """What draws its hoops: a rope drum has ears."""
        return _("ear") if self.kind == "rope" else _("rod")

    @property
    def rods_word(self) -> str:
        """The same of many."""
        return _("ears") if self.kind == "rope" else _("rods")

    @property
    def rod_count(self) -> str:
        """How many there are, in words: "6 rods"."""
        count = self.shell.rods
        if self.kind == "rope":
            return ngettext("{count} ear", "{count} ears", count).format(count=count)
        return ngettext("{count} rod", "{count} rods", count).format(count=count)

    @property
    def sides(self) -> tuple[str, ...]:
        """The heads there are: "batter", and "resonant" unless the drum is open below."""
        return SIDES[:1] if self.resonant is None else SIDES

    def setting(self, side: str) -> HeadSetting:
        """The head setting of a side.

        Raises
        ------
        InputError
            If the drum has no head there.
        """
        setting = self.batter if side == "batter" else self.resonant
        if setting is None or side not in SIDES:
            raise InputError(_("{name!r} has no {side} head.").format(name=self.name, side=side))
        return setting

    def with_setting(self, side: str, setting: HeadSetting | None) -> Drum:
        """The same drum with one side's head or setting exchanged."""
        if side == "batter":
            if setting is None:
                raise InputError(_("A drum needs a batter head."), _("Choose one."), "batter")
            return replace(self, batter=setting)
        if setting is None:  # what lay on the head goes with it
            kept = tuple(m for m in self.mufflers if m.side != "resonant")
            return replace(self, resonant=None, mufflers=kept, wires=None)
        return replace(self, resonant=setting)

    def turned_over(self) -> Drum:
        """The drum with its heads exchanged."""
        if self.resonant is None:
            raise InputError(
                _("{name!r} has one head only and cannot be turned over.").format(name=self.name)
            )
        other = {"batter": "resonant", "resonant": "batter"}
        turned = tuple(replace(m, side=other[m.side]) for m in self.mufflers)
        swapped = {"batter_plies": "resonant_plies", "resonant_plies": "batter_plies"}
        guessed = tuple(sorted(swapped.get(name, name) for name in self.guessed))
        return replace(
            self, batter=self.resonant, resonant=self.batter, mufflers=turned, guessed=guessed
        )


def place_of(drum: Drum, side: str) -> str:
    """A head of a drum, named: "Rack tom batter"."""
    if side == "batter":
        return _("{drum} batter").format(drum=drum.name)
    return _("{drum} resonant").format(drum=drum.name)


def head_of(side: str) -> str:
    """A head, named: "batter head"."""
    return _("batter head") if side == "batter" else _("resonant head")
