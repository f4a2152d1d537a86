"""A drum on the bench: shell, air, two heads and how each is set."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from kesselton.core import constants as const
from kesselton.core.constants import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ, SIDES
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import MAX_MUFFLERS, Muffler
from kesselton.core.instrument.threads import THREADS

KINDS = {
    "tom": "tom",
    "snare": "snare drum",
    "bass": "bass drum",
    "concert_bass": "concert bass drum",
    "rope": "rope drum",
}
OTHER_HEAD = ("muted", "free")
CENTRE = ("damped", "free")
SMALLEST_HEAD_M, LARGEST_HEAD_M = 0.10, 1.20
SHALLOWEST_M, DEEPEST_M = 0.03, 1.50
LOWEST_TENSION_N_PER_M, HIGHEST_TENSION_N_PER_M = 1.0, 60000.0
LOWEST_SHELL_NOTE_HZ, HIGHEST_SHELL_NOTE_HZ = 20.0, 2000.0
WIDEST_VENT_M = 0.4


@dataclass(frozen=True)
class Hoop:
    """A counterhoop by construction, with the load one rod may put on it and its lug.

    `edge_loss` is what hoop and bearing edge take from the head, as a share of its restoring force.
    """

    name: str
    label: str
    rod_load_n: float
    height_m: float
    thickness_m: float
    edge_loss: float


HOOPS: dict[str, Hoop] = {
    h.name: h
    for h in (
        # Loads are assumed: orders a careful technician stays under, no published source. So are
        # the losses: a heavy hoop holds the rim stiller, a wooden one works in its joint.
        Hoop("flanged_1_6mm", "flanged 1.6 mm", 1200.0, 0.028, 0.0016, 0.002),
        Hoop("flanged_2_3mm", "flanged 2.3 mm", 1800.0, 0.030, 0.0023, 0.002),
        Hoop("die_cast", "die-cast", 2000.0, 0.030, 0.0040, 0.001),
        Hoop("wood", "wood", 900.0, 0.040, 0.0120, 0.004),
        Hoop("rope", "wood, roped", 500.0, 0.042, 0.0120, 0.005),
    )
}


@dataclass(frozen=True)
class Shell:
    """The shell and its hardware. `contact_radius_m` None: half the head diameter."""

    head_diameter_m: float
    depth_m: float
    rods: int
    hoop: str = "flanged_1_6mm"
    contact_radius_m: float | None = None
    shell_note_hz: float | None = None
    vent_diameter_m: float = 0.0
    rod_thread: str = "no12_24"

    def __post_init__(self) -> None:
        check_range(
            self.head_diameter_m,
            SMALLEST_HEAD_M,
            LARGEST_HEAD_M,
            "Head diameter",
            "m",
            "shell.head_diameter_m",
        )
        check_range(self.depth_m, SHALLOWEST_M, DEEPEST_M, "Shell depth", "m", "shell.depth_m")
        check_range(self.rods, const.MIN_RODS, const.MAX_RODS, "Number of rods", "", "shell.rods")
        if not isinstance(self.rods, int):
            raise InputError(
                f"Number of rods is {self.rods!r}.", "Give a whole number.", "shell.rods"
            )
        if self.rod_thread not in THREADS:
            raise InputError(
                f"There is no thread {self.rod_thread!r}.", f"Known: {', '.join(THREADS)}.",
                "shell.rod_thread",
            )  # fmt: skip
        if self.hoop not in HOOPS:
            raise InputError(
                f"There is no hoop {self.hoop!r}.", f"Known: {', '.join(HOOPS)}.", "shell.hoop"
            )
        if self.contact_radius_m is not None:
            half = self.head_diameter_m / 2.0
            check_range(
                self.contact_radius_m,
                0.9 * half,
                1.02 * half,
                "Contact radius",
                "m",
                "shell.contact_radius_m",
            )
        if self.shell_note_hz is not None:
            check_range(
                self.shell_note_hz, LOWEST_SHELL_NOTE_HZ, HIGHEST_SHELL_NOTE_HZ, "Shell note", "Hz",
                "shell.shell_note_hz",
            )  # fmt: skip
        check_range(
            self.vent_diameter_m, 0.0, WIDEST_VENT_M, "Vent diameter", "m", "shell.vent_diameter_m"
        )

    @property
    def radius_m(self) -> float:
        """Radius of the circle on which the heads bear."""
        if self.contact_radius_m is not None:
            return self.contact_radius_m
        return self.head_diameter_m / 2.0


@dataclass(frozen=True)
class LugPitch:
    """How a head is set: by a lug pitch, together with the condition it is heard under."""

    hz: float
    other_head: str = "muted"
    centre: str = "damped"

    def __post_init__(self) -> None:
        check_range(self.hz, LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ, "Lug pitch", "Hz", "hz")
        for value, known, name in (
            (self.other_head, OTHER_HEAD, "other_head"),
            (self.centre, CENTRE, "centre"),
        ):
            if value not in known:
                raise InputError(
                    f"{name.replace('_', ' ').capitalize()} is {value!r}.",
                    f"Known: {', '.join(known)}.",
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
                f"The head {self.head.name!r} is set by none or by two values.",
                "Give exactly one of tension, lug pitch and reading.",
                "tension_n_per_m",
            )
        if self.tension_n_per_m is not None:
            check_range(
                self.tension_n_per_m,
                LOWEST_TENSION_N_PER_M,
                HIGHEST_TENSION_N_PER_M,
                "Tension",
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
    before muffling.
    """

    name: str
    kind: str
    shell: Shell
    batter: HeadSetting
    resonant: HeadSetting | None
    air: Air = field(default_factory=Air)
    mufflers: tuple[Muffler, ...] = ()

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise InputError(
                f"There is no kind of drum {self.kind!r}.", f"Known: {', '.join(KINDS)}.", "kind"
            )
        if not self.name.strip():
            raise InputError("The drum has no name.", "Give it one.", "name")
        if len(self.mufflers) > MAX_MUFFLERS:
            raise InputError(
                f"There are {len(self.mufflers)} pieces of muffling.",
                f"Permitted: up to {MAX_MUFFLERS}.",
                "mufflers",
            )
        for muffler in self.mufflers:
            if muffler.side not in self.sides:
                raise InputError(
                    f"There is muffling on the {muffler.side} head, but no such head.",
                    "Take the muffling off first.",
                    "mufflers",
                )
            if muffler.rod >= self.shell.rods + 1:
                raise InputError(
                    f"Muffling lies at rod {muffler.rod:g} of {self.shell.rods}.",
                    f"Permitted: 1 to just under {self.shell.rods + 1}.",
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
    def rod_word(self) -> str:
        """What draws its hoops: a rope drum has ears."""
        return "ear" if self.kind == "rope" else "rod"

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
            raise InputError(f"The drum {self.name!r} has no {side} head.")
        return setting

    def with_setting(self, side: str, setting: HeadSetting | None) -> Drum:
        """The same drum with one side's head or setting exchanged."""
        if side == "batter":
            if setting is None:
                raise InputError("A drum needs a batter head.", "Choose one.", "batter")
            return replace(self, batter=setting)
        if setting is None:  # what lay on the head goes with it
            kept = tuple(m for m in self.mufflers if m.side != "resonant")
            return replace(self, resonant=None, mufflers=kept)
        return replace(self, resonant=setting)

    def turned_over(self) -> Drum:
        """The drum with its heads exchanged."""
        if self.resonant is None:
            raise InputError(f"The drum {self.name!r} is open below and cannot be turned over.")
        other = {"batter": "resonant", "resonant": "batter"}
        turned = tuple(replace(m, side=other[m.side]) for m in self.mufflers)
        return replace(self, batter=self.resonant, resonant=self.batter, mufflers=turned)
