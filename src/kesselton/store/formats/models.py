"""The published file formats as models: what a key is called, of what type, in what range.

One place says it for reading, for writing and for the JSON Schemas in docs/. What only the core can
judge (a dot that fits its head, exactly one of pitch and tension) is left to the core.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import msgspec
from msgspec import UNSET, Meta, Struct, UnsetType, field

from kesselton.core import constants as const
from kesselton.core.clear import clearing_records as r
from kesselton.core.clear.walk import Walk
from kesselton.core.constants import SIDES
from kesselton.core.heads import brief as b
from kesselton.core.heads import like as lk
from kesselton.core.instrument import air as a
from kesselton.core.instrument import drum as d
from kesselton.core.instrument import head as h
from kesselton.core.instrument import kept as k
from kesselton.core.instrument import shell as sh
from kesselton.core.instrument import wires as w
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.materials import MATERIALS
from kesselton.core.instrument.muffler import MAX_MUFFLERS, MUFFLERS
from kesselton.core.instrument.reading import LIMITS, MAX_DIVISIONS, Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.practice import pupil as pp
from kesselton.core.sets.model import kit as ks
from kesselton.core.shows import repair as rp
from kesselton.core.shows import show as sw

DRUM_FORMAT, BRIEF_FORMAT = "kesselton/drum", "kesselton/brief"
SET_FORMAT = "kesselton/set"
LOG_FORMAT = "kesselton/log-entry"
READINGS_FORMAT, PROCEDURE_FORMAT = "kesselton/readings", "kesselton/procedure"
VERSION = 1
"""Of each of them."""
ROD_KINDS_IN_FILES = {
    "lug_pitch": "pitch", "second_partial": "second", "dial": "dial", "torque": "torque",
}  # fmt: skip
"""What files call a kind of reading at a rod."""
ROD_KINDS = tuple(ROD_KINDS_IN_FILES.values())
_KIND_OF = {name: kind for kind, name in ROD_KINDS_IN_FILES.items()}


def _one_of(words: Iterable[str]) -> Any:
    """One of some words, in their own order in the schema."""
    known = tuple(words)
    return Annotated[Literal[known], Meta(extra_json_schema={"order": list(known)})]


def _fixed(value: object) -> Meta:
    return Meta(extra_json_schema={"const": value})


if TYPE_CHECKING:  # one of the words the core knows
    Side = str
    AdditionKind = str
    MaterialName = str
    Interlayer = str
    ReadingKind = str
    OtherHead = str
    Centre = str
    HoopName = str
    ThreadName = str
    ShellMaterialName = str
    MountName = str
    EdgeName = str
    DrawnName = str
    LugsName = str
    WearName = str
    GuessName = str
    MufflerName = str
    DrumKind = str
    RodReadingKind = str
    Pattern = str
    Role = str
    Density = str
    Touch = str
    BeaterName = str
    Room = str
    Microphones = str
    Durability = str
    Target = str
    Feel = str
    School = str
    YesNo = str
    Picture = str
    Repeat = str
    EventName = str
    FitsName = str
    SignName = str
    ChordName = str
    ListenerName = str
    SetSchool = str
    SeatSchool = str
else:
    ChordName = _one_of(ks.CHORDS)
    ListenerName = _one_of(ks.LISTENERS)
    SetSchool = _one_of(ks.SCHOOLS)
    SeatSchool = _one_of(("", *ks.SCHOOLS))
    EventName = _one_of(k.EVENTS)
    FitsName = _one_of(k.FITS)
    SignName = _one_of(k.SIGNS)
    Side = _one_of(SIDES)
    AdditionKind = _one_of(h.ADDITION_KINDS)
    MaterialName = _one_of(MATERIALS)
    Interlayer = _one_of(h.INTERLAYERS)
    ReadingKind = _one_of(("lug_pitch",))
    OtherHead = _one_of(d.OTHER_HEAD)
    Centre = _one_of(d.CENTRE)
    HoopName = _one_of(sh.HOOPS)
    ThreadName = _one_of(THREADS)
    ShellMaterialName = _one_of(sh.SHELL_MATERIALS)
    MountName = _one_of(sh.MOUNTS)
    EdgeName = _one_of(sh.EDGES)
    DrawnName = _one_of(sh.DRAWN)
    LugsName = _one_of(sh.LUGS)
    WearName = _one_of(sh.WEARS)
    GuessName = _one_of(d.GUESSABLE)
    MufflerName = _one_of(MUFFLERS)
    DrumKind = _one_of(d.KINDS)
    RodReadingKind = _one_of(ROD_KINDS)
    Pattern = _one_of(r.PATTERNS)
    Role = _one_of(b.ROLES)
    Density = _one_of(b.DENSITIES)
    Touch = _one_of(b.TOUCHES)
    BeaterName = _one_of(BEATERS)
    Room = _one_of(b.ROOMS)
    Microphones = _one_of(b.MICROPHONES)
    Durability = _one_of(b.DURABILITIES)
    Target = _one_of(b.TARGETS)
    Feel = _one_of(b.FEELS)
    School = _one_of(b.SCHOOLS)
    YesNo = _one_of(
        (
            "yes",
            "no",
        )
    )
    Picture = _one_of(
        (
            "",
            "order",
            "mark",
            "section",
            "thirds",
            "quarters",
        )
    )
    Repeat = _one_of(("rounds",))
VersionOne = Annotated[int, _fixed(VERSION)]
Name = Annotated[str, Meta(min_length=1, max_length=80)]
Words = Annotated[str, Meta(min_length=1)]
Pitch = Annotated[float, Meta(ge=const.LOWEST_PITCH_HZ, le=const.HIGHEST_PITCH_HZ)]
Thickness = Annotated[float, Meta(ge=h.THINNEST_PLY_M, le=h.THICKEST_PLY_M)]
Radius = Annotated[float, Meta(ge=0.0, le=1.0)]


class _Model(Struct, frozen=True, forbid_unknown_fields=True):
    """A part of a file; a key nobody knows is an error."""

    def values(self) -> dict[str, Any]:
        """Its values by name, not deeper."""
        return {name: getattr(self, name) for name in self.__struct_fields__}


class AdditionModel(_Model, frozen=True):
    kind: AdditionKind
    inner_radius_m: Radius
    outer_radius_m: Radius
    thickness_m: Thickness


class HeadModel(_Model, frozen=True):
    name: Name
    material: MaterialName = "polyester_film"
    plies_m: Annotated[tuple[Thickness, ...], Meta(max_length=4)] = ()
    areal_density_kg_per_m2: Annotated[float, Meta(ge=0.01, le=5.0)] | None = None
    coating_kg_per_m2: Annotated[float, Meta(ge=0.0, le=0.5)] = 0.0
    additions: Annotated[tuple[AdditionModel, ...], Meta(max_length=8)] = ()
    port_diameter_m: Annotated[float, Meta(ge=0.0, le=h.LARGEST_PORT_M)] = 0.0
    interlayer: Interlayer = ""
    edge_vents: Annotated[int, Meta(ge=0, le=h.MAX_EDGE_VENTS)] = 0
    edge_vent_diameter_m: Annotated[float, Meta(ge=0.0, le=h.LARGEST_EDGE_VENT_M)] = 0.0

    def head(self) -> h.Head:
        """The head it describes."""
        values = self.values()
        values["additions"] = tuple(h.Addition(**addition.values()) for addition in self.additions)
        return h.Head(**values)


class ReadingModel(_Model, frozen=True):
    hz: Pitch
    kind: ReadingKind = "lug_pitch"
    other_head: OtherHead = "muted"
    centre: Centre = "damped"


class SettingModel(_Model, frozen=True, omit_defaults=True):
    head: HeadModel
    tension_n_per_m: (
        Annotated[float, Meta(ge=d.LOWEST_TENSION_N_PER_M, le=d.HIGHEST_TENSION_N_PER_M)] | None
    ) = None
    lug_pitch_hz: Pitch | None = None
    reading: ReadingModel | None = None


class BedsModel(_Model, frozen=True):
    rod: Annotated[float, Meta(ge=1.0, le=const.MAX_RODS + 0.999)] = 1.5
    depth_m: Annotated[float, Meta(ge=sh.BED_DEPTHS_M[0], le=sh.BED_DEPTHS_M[1])] = 0.0015
    width_m: Annotated[float, Meta(ge=sh.BED_WIDTHS_M[0], le=sh.BED_WIDTHS_M[1])] = 0.07


class ShellModel(_Model, frozen=True):
    head_diameter_m: Annotated[float, Meta(ge=sh.SMALLEST_HEAD_M, le=sh.LARGEST_HEAD_M)]
    depth_m: Annotated[float, Meta(ge=sh.SHALLOWEST_M, le=sh.DEEPEST_M)]
    rods: Annotated[int, Meta(ge=const.MIN_RODS, le=const.MAX_RODS)]
    hoop: HoopName = "flanged_1_6mm"
    contact_radius_m: (
        Annotated[float, Meta(ge=0.45 * sh.SMALLEST_HEAD_M, le=0.51 * sh.LARGEST_HEAD_M)] | None
    ) = None
    shell_note_hz: (
        Annotated[float, Meta(ge=sh.LOWEST_SHELL_NOTE_HZ, le=sh.HIGHEST_SHELL_NOTE_HZ)] | None
    ) = None
    vent_diameter_m: Annotated[float, Meta(ge=0.0, le=sh.WIDEST_VENT_M)] = 0.0
    rod_thread: ThreadName = "no12_24"
    material: ShellMaterialName | None = None
    mass_kg: Annotated[float, Meta(ge=sh.LIGHTEST_KG, le=sh.HEAVIEST_KG)] | None = None
    mount: MountName | None = None
    edge: EdgeName | None = None
    drawn: DrawnName | None = None
    lugs: LugsName | None = None
    wear: WearName | None = None
    beds: BedsModel | None = None


class AirModel(_Model, frozen=True):
    temperature_c: Annotated[float, Meta(ge=a.COLDEST_C, le=a.HOTTEST_C)] = 20.0
    relative_humidity: Annotated[float, Meta(ge=0.0, le=1.0)] = 0.5
    pressure_pa: Annotated[float, Meta(ge=5e4, le=1.2e5)] = const.STANDARD_PRESSURE_PA


class MufflerModel(_Model, frozen=True):
    kind: MufflerName
    side: Side = "batter"
    place: Annotated[float, Meta(ge=0.0, le=0.98)] = 0.8
    rod: Annotated[float, Meta(ge=1.0, le=40.0)] = 1.5


class WiresModel(_Model, frozen=True):
    strands: Annotated[int, Meta(ge=w.STRANDS[0], le=w.STRANDS[1])] | None = None
    length_m: Annotated[float, Meta(ge=w.LENGTHS_M[0], le=w.LENGTHS_M[1])] | None = None
    width_m: Annotated[float, Meta(ge=w.WIDTHS_M[0], le=w.WIDTHS_M[1])] | None = None
    mass_kg: Annotated[float, Meta(ge=w.MASSES_KG[0], le=w.MASSES_KG[1])] | None = None
    pull_n: Annotated[float, Meta(ge=w.PULLS_N[0], le=w.PULLS_N[1])] | None = None
    sag_m: Annotated[float, Meta(ge=w.SAGS_M[0], le=w.SAGS_M[1])] | None = None
    engaged: bool = True

    def wires(self) -> w.Wires:
        """The wires it describes."""
        return w.Wires(**self.values())


class StrokeModel(_Model, frozen=True):
    """How `kesselton predict` is to strike; a workshop keeps none."""

    beater: BeaterName | None = None
    place: Annotated[float, Meta(ge=0.0, le=0.98)] = 0.3
    touch: Touch = "medium"


class DrumFile(_Model, frozen=True):
    """`*.drum.json`, version 1."""

    title: ClassVar[str] = "Kesselton drum, version 1"
    format: Annotated[str, _fixed(DRUM_FORMAT)]
    version: VersionOne
    name: Name
    kind: DrumKind
    shell: ShellModel
    batter: SettingModel
    resonant: SettingModel | None
    air: AirModel = field(default_factory=AirModel)
    mufflers: Annotated[tuple[MufflerModel, ...], Meta(max_length=MAX_MUFFLERS)] = ()
    stroke: StrokeModel | UnsetType = UNSET
    guessed: tuple[GuessName, ...] = ()
    wires: WiresModel | None = None


MOST_LEARNED = 20.0
"""In ln: a rim half a milliard times as stiff as assumed is none."""
MOST_ROUNDS, MOST_TAPS, MOST_PAIRS = 60, 240, 400
"""Rounds in a file, readings in a round (ten at each rod), pairs of a dial."""
LOWEST_VALUE = r.MIN_TORQUE_NM
HIGHEST_VALUE = max(LIMITS[kind][1] for kind in r.ROD_KINDS)


Rod = Annotated[int, Meta(ge=1, le=const.MAX_RODS)]
Turn = Annotated[float, Meta(ge=-r.MAX_TURN, le=r.MAX_TURN)]


class RodReadingModel(_Model, frozen=True):
    kind: RodReadingKind
    rod: Rod
    value: Annotated[float, Meta(ge=LOWEST_VALUE, le=HIGHEST_VALUE)]
    spread: Annotated[float, Meta(ge=0.0, le=100.0)] = 0.0

    def reading(self) -> Reading:
        """The reading it describes."""
        return r.at_rod(_KIND_OF[self.kind], self.rod, self.value, self.spread)

    def row(self) -> tuple[str, int, float, float]:
        """As the workshop file keeps it."""
        return (self.kind, self.rod, self.value, self.spread)

    @classmethod
    def of(cls, reading: Reading) -> RodReadingModel:
        """As a file says it."""
        return cls(ROD_KINDS_IN_FILES[reading.kind], reading.rod, reading.value, reading.spread)


class RoundModel(_Model, frozen=True):
    taps: Annotated[tuple[RodReadingModel, ...], Meta(max_length=MOST_TAPS)]
    turns: tuple[Turn, ...] = ()

    def round(self) -> r.Round:
        """The round it describes."""
        return r.Round(tuple(tap.reading() for tap in self.taps), self.turns)


class ClearingTerms(_Model, frozen=True, kw_only=True):
    """What a clearing aims at and has learned, without its rounds."""

    pattern: Pattern = "even"
    wanted: tuple[Annotated[float, Meta(ge=r.MIN_SHARE, le=r.MAX_SHARE)], ...] = ()
    target_hz: Pitch | None = None
    step: Annotated[float, Meta(ge=r.FINEST_STEP, le=r.COARSEST_STEP)] = 1.0 / 64.0
    learned: Annotated[
        tuple[Annotated[float, Meta(ge=-MOST_LEARNED, le=MOST_LEARNED)], ...],
        Meta(extra_json_schema={"anyOf": [{"maxItems": 0}, {"minItems": 6, "maxItems": 6}]}),
    ] = ()


class WalkModel(_Model, frozen=True):
    """Where the technician stands on the way round the rim."""

    skipped: tuple[Rod, ...] = ()
    turning: bool = False
    asked: tuple[tuple[Rod, Turn], ...] = ()
    common: Turn = 0.0
    turned: Annotated[int, Meta(ge=0, le=const.MAX_RODS + 1)] = 0
    left: tuple[Annotated[int, Meta(ge=0, le=const.MAX_RODS)], ...] = ()

    def walk(self) -> Walk:
        """The walk it describes."""
        return Walk(**self.values())

    @classmethod
    def of(cls, walk: Walk) -> WalkModel:
        """As a file says it."""
        return cls(*(getattr(walk, name) for name in cls.__struct_fields__))


class KeptClearing(ClearingTerms, frozen=True, kw_only=True):
    """The same as a workshop keeps it."""

    walk: WalkModel = field(default_factory=WalkModel)

    def values(self) -> dict[str, Any]:
        """As a clearing takes them."""
        return {**super().values(), "walk": self.walk.walk()}

    @classmethod
    def of(cls, clearing: r.Clearing) -> KeptClearing:
        """As a file says it."""
        terms = {name: getattr(clearing, name) for name in ClearingTerms.__struct_fields__}
        return cls(**terms, walk=WalkModel.of(clearing.walk))


class ClearingModel(ClearingTerms, frozen=True, kw_only=True):
    side: Side = "batter"
    rounds: Annotated[tuple[RoundModel, ...], Meta(min_length=1, max_length=MOST_ROUNDS)]

    def clearing(self) -> r.Clearing:
        """The clearing it describes."""
        return r.Clearing(
            **{**self.values(), "rounds": tuple(round_model.round() for round_model in self.rounds)}
        )


class DialPairModel(_Model, frozen=True):
    dial: Annotated[float, Meta(ge=0.0, le=MAX_DIVISIONS)]
    tension_n_per_m: Annotated[float, Meta(ge=1.0, le=d.HIGHEST_TENSION_N_PER_M)]
    thickness_m: Thickness
    name: str = ""


class ReadingsFile(_Model, frozen=True):
    """Rounds of clearing one head, for the shell."""

    title: ClassVar[str] = "Kesselton readings, version 1"
    format: Annotated[str, _fixed(READINGS_FORMAT)]
    version: VersionOne
    drum: DrumFile
    clearing: ClearingModel
    dial_pairs: Annotated[tuple[DialPairModel, ...], Meta(max_length=MOST_PAIRS)] = ()


class LikeLineModel(_Model, frozen=True):
    hz: Annotated[float, Meta(gt=0.0)]
    t60_s: Annotated[float, Meta(gt=0.0, le=60.0)]
    level_db: Annotated[float, Meta(ge=-200.0, le=0.0)]


class LikeModel(_Model, frozen=True):
    """A stroke that was heard and shall be come near to."""

    name: Annotated[str, Meta(max_length=300)]
    fundamental_hz: Annotated[float, Meta(gt=0.0)]
    lines: Annotated[tuple[LikeLineModel, ...], Meta(min_length=1, max_length=lk.MOST_LINES)]

    def like(self) -> lk.Like:
        """The stroke it describes."""
        lines = tuple(lk.LikeLine(**line.values()) for line in self.lines)
        return lk.Like(self.name, self.fundamental_hz, lines)


class BriefFile(_Model, frozen=True):
    """What a drum must do; `drum` and `heads` in a file for the shell only."""

    title: ClassVar[str] = "Kesselton brief, version 1"
    format: Annotated[str, _fixed(BRIEF_FORMAT)]
    version: VersionOne
    role: Role = "versatile"
    density: Density = "medium"
    touch: Touch = "medium"
    beater: BeaterName = "wood_tip"
    place: Annotated[float, Meta(ge=0.0, le=0.98)] = 0.3
    room: Room = "dry"
    microphones: Microphones = "acoustic"
    durability: Durability = "normal"
    target: Target = "feel"
    fundamental_hz: Annotated[float, Meta(ge=b.LOWEST_WISH_HZ, le=b.HIGHEST_WISH_HZ)] | None = None
    batter_hz: Annotated[float, Meta(ge=b.LOWEST_WISH_HZ, le=b.HIGHEST_WISH_HZ)] | None = None
    feel: Feel = "medium"
    school: School = "all"
    interval_cents: Annotated[float, Meta(ge=-b.WIDEST_CENTS, le=b.WIDEST_CENTS)] | None = None
    weights: dict[str, Annotated[float, Meta(ge=0.0, le=5.0)]] = field(default_factory=dict)
    like: LikeModel | None = None

    def brief(self) -> b.Brief:
        """The brief it describes."""
        own = BriefFile.__struct_fields__[2:]  # without format and version
        values = {name: getattr(self, name) for name in own}
        like = None if self.like is None else self.like.like()
        return b.Brief(**{**values, "like": like})


class ChosenHeads(_Model, frozen=True):
    batter: tuple[HeadModel, ...] = ()
    resonant: tuple[HeadModel, ...] = ()


class OrderFile(BriefFile, frozen=True, kw_only=True):
    """A brief with its drum and the heads to choose from."""

    drum: DrumFile
    heads: ChosenHeads | None = None


class ChoicesModel(_Model, frozen=True):
    order: str = "star"
    round_turns: float = 0.25
    mounted: bool = False
    quick: bool = False
    halves: bool = False
    way: str = "head"


class FittingModel(_Model, frozen=True):
    """Progress of fitting a head, as a workshop keeps it."""

    side: Side
    choices: ChoicesModel = field(default_factory=ChoicesModel)
    current: str = ""
    done: tuple[str, ...] = ()
    skipped: tuple[tuple[str, str], ...] = ()
    notes: tuple[tuple[str, str], ...] = ()
    timers: tuple[tuple[str, str], ...] = ()
    started: str = ""
    ended: str = ""
    outcome: str = ""
    turns: float | None = None


class InspectedModel(_Model, frozen=True):
    """What was measured on a bare shell, as a workshop keeps it."""

    diameters_m: tuple[float, ...] = ()
    gaps_m: tuple[float, ...] = ()
    head_inside_m: float | None = None
    moulded_m: float | None = None


class AskModel(_Model, frozen=True):
    question: Words
    good: YesNo
    otherwise: Words
    ends: bool = False


Allowed = Annotated[tuple[str | bool, ...], Meta(min_length=1)]


class WhenModel(_Model, frozen=True):
    kind: Allowed | None = None
    side: Allowed | None = None
    roped: Allowed | None = None
    wood: Allowed | None = None
    skin: Allowed | None = None
    mounted: Allowed | None = None
    ported: Allowed | None = None
    patch: Allowed | None = None
    wired: Allowed | None = None
    beds: Allowed | None = None
    heavy: Allowed | None = None
    quick: Allowed | None = None
    halves: Allowed | None = None
    way: Allowed | None = None


class StepModel(_Model, frozen=True):
    id: Words
    title: Words
    text: Words
    when: WhenModel = field(default_factory=WhenModel)
    cautions: tuple[Words, ...] = ()
    tools: tuple[Words, ...] = ()
    materials: tuple[Words, ...] = ()
    ask: AskModel | None = None
    timer: Words | None = None
    picture: Picture = ""
    repeat: Repeat | None = None
    seconds: Annotated[float, Meta(ge=0.0, le=3600.0)] = 0.0
    never_skipped: bool = False
    after: Annotated[str, Meta(max_length=300)] = ""
    left_out: bool = False


class TimerModel(_Model, frozen=True):
    label: Words
    minutes: Words


class ProcedureFile(_Model, frozen=True):
    """Steps of fitting a head."""

    title: ClassVar[str] = "Kesselton procedure, version 1"
    format: Annotated[str, _fixed(PROCEDURE_FORMAT)]
    version: VersionOne
    name: Words
    cautions: dict[str, Words]
    timers: dict[str, TimerModel]
    steps: Annotated[tuple[StepModel, ...], Meta(min_length=1)]


class KeptLineModel(_Model, frozen=True):
    hz: Annotated[float, Meta(gt=0.0, le=20000.0)]
    half_cents: Annotated[float, Meta(ge=0.0, le=10000.0)]
    t60_s: Annotated[float, Meta(gt=0.0, le=100.0)]
    level_db: Annotated[float, Meta(ge=-200.0, le=100.0)]


class LogReadingModel(_Model, frozen=True, omit_defaults=True):
    """A reading as the log keeps it."""

    kind: _one_of(LIMITS)  # type: ignore[valid-type]
    value: float
    side: Side = "batter"
    other_head: OtherHead = "muted"
    rod: Annotated[int, Meta(ge=0, le=const.MAX_RODS)] = 0
    gauge: str = ""
    hz: float | None = None
    on: str = ""
    spread: float = 0.0
    centre: Centre = "damped"


Said = Annotated[str, Meta(max_length=k.LONGEST_WORDS)]


class AttachedModel(_Model, frozen=True):
    """A picture or sound of an entry; its content lies in the workshop under the digest."""

    name: Annotated[str, Meta(max_length=300)]
    kind: Annotated[str, Meta(max_length=10)]
    digest: Annotated[str, Meta(pattern="^[0-9a-f]{32}$")]


class LogEntry(_Model, frozen=True, omit_defaults=True):
    """One line of a log, version 1."""

    title: ClassVar[str] = "Kesselton log entry, version 1"
    format: Annotated[str, _fixed(LOG_FORMAT)]
    version: VersionOne
    on: Annotated[str, Meta(max_length=40)]
    drum: DrumFile
    event: EventName = "set"
    side: Annotated[str, Meta(max_length=10)] = ""
    what_for: Said = ""
    verdict: Said = ""
    music: Said = ""
    player: Said = ""
    room: Said = ""
    marks: Annotated[tuple[tuple[str, int], ...], Meta(max_length=len(k.MARKS))] = ()
    signs: Annotated[tuple[SignName, ...], Meta(max_length=len(k.SIGNS))] = ()
    fits: FitsName = ""
    beater: Annotated[str, Meta(max_length=40)] = ""
    place: Annotated[float, Meta(ge=0.0, le=1.0)] = 0.3
    touch: Annotated[float, Meta(ge=0.0, le=20.0)] = 1.0
    readings: Annotated[tuple[LogReadingModel, ...], Meta(max_length=k.MOST_READINGS)] = ()
    lug_pitches_hz: Annotated[tuple[float, ...], Meta(max_length=2)] = ()
    tensions_n_per_m: Annotated[tuple[float, ...], Meta(max_length=2)] = ()
    computed_hz: float | None = None
    computed_half_cents: float = 0.0
    heard_hz: float | None = None
    heard_half_cents: float = 0.0
    lines: Annotated[tuple[KeptLineModel, ...], Meta(max_length=k.MOST_LINES)] = ()
    left_out: bool = False
    wires: Said = ""
    shows: Annotated[float, Meta(ge=0.0, le=1000.0)] = 0.0
    hours: Annotated[float, Meta(ge=0.0, le=5000.0)] = 0.0
    attached: Annotated[tuple[AttachedModel, ...], Meta(max_length=k.MOST_ATTACHED)] = ()
    sets: Annotated[tuple[Name, ...], Meta(max_length=k.MOST_SETS)] = ()


class PlacedModel(_Model, frozen=True, kw_only=True):
    """Where a drum of a set stands, and how it takes part."""

    x_m: Annotated[float, Meta(ge=-ks.FARTHEST_M, le=ks.FARTHEST_M)] = 0.0
    y_m: Annotated[float, Meta(ge=-ks.FARTHEST_M, le=ks.FARTHEST_M)] = 0.0
    height_m: Annotated[float, Meta(ge=0.0, le=ks.HIGHEST_M)] = 0.7
    locked: bool = False
    apart: bool = False
    school: SeatSchool = ""


class SeatModel(PlacedModel, frozen=True, kw_only=True):
    """A drum's place in a set of a workshop, by its number there."""

    drum_id: Annotated[int, Meta(ge=1)]


WishedHz = Annotated[float, Meta(ge=0.5 * const.LOWEST_PITCH_HZ, le=2.0 * const.HIGHEST_PITCH_HZ)]


class WishModel(_Model, frozen=True):
    """What a set must do."""

    chord: ChordName = "any"
    intervals: Annotated[
        tuple[Annotated[float, Meta(ge=0.0, le=6000.0)], ...], Meta(max_length=ks.MOST_NOTES)
    ] = ()
    notes: Annotated[
        tuple[Annotated[int, Meta(ge=0, le=11)], ...], Meta(max_length=ks.MOST_NOTES)
    ] = ()
    root_hz: WishedHz | None = None
    avoid_hz: Annotated[tuple[WishedHz, ...], Meta(max_length=ks.MOST_NOTES)] = ()
    agree_hz: Annotated[tuple[WishedHz, ...], Meta(max_length=ks.MOST_NOTES)] = ()
    school: SetSchool = "best"
    listener: ListenerName = "player"
    density: Density = "medium"
    touch: Touch = "medium"
    bass: Literal["root", "any"] = "root"

    def wish(self) -> ks.Wish:
        """The wish it describes."""
        return ks.Wish(**self.values())


class KitModel(_Model, frozen=True):
    """A set as a workshop keeps it."""

    seats: Annotated[tuple[SeatModel, ...], Meta(max_length=ks.MOST_DRUMS)] = ()
    wish: WishModel = field(default_factory=WishModel)

    def kit(self, number: int, name: str) -> ks.Kit:
        """The set it describes."""
        seats = tuple(ks.Seat(**seat.values()) for seat in self.seats)
        return ks.Kit(number, name, seats, self.wish.wish())


class ShowModel(_Model, frozen=True):
    """A show as a workshop keeps it."""

    on: Annotated[str, Meta(max_length=10)] = ""
    drum_ids: Annotated[tuple[Annotated[int, Meta(ge=1)], ...], Meta(max_length=sw.MOST_DRUMS)] = ()
    minutes: Annotated[float, Meta(ge=rp.LEAST_MINUTES, le=rp.MOST_MINUTES)] = 7.0
    ticked: tuple[Annotated[str, Meta(max_length=300)], ...] = ()
    own: Annotated[
        tuple[Annotated[str, Meta(max_length=sw.LONGEST_ITEM)], ...],
        Meta(max_length=sw.MOST_ITEMS),
    ] = ()

    def show(self, number: int, name: str) -> sw.Show:
        """The show it describes."""
        return sw.Show(number, name, **self.values())


class RepairModel(_Model, frozen=True):
    """A repair as a workshop keeps it."""

    drum_id: Annotated[int, Meta(ge=1)]
    side: Side = "batter"
    cause: Annotated[str, Meta(max_length=20)] = "gone"
    way: Annotated[str, Meta(max_length=20)] = ""
    head: Annotated[str, Meta(max_length=300)] = ""
    other_id: Annotated[int, Meta(ge=0)] = 0
    minutes: Annotated[float, Meta(ge=rp.LEAST_MINUTES, le=rp.MOST_MINUTES)] = 7.0
    started: Annotated[str, Meta(max_length=40)] = ""
    ended: Annotated[str, Meta(max_length=40)] = ""
    outcome: Annotated[str, Meta(max_length=20)] = ""
    halves: bool = False
    current: Annotated[str, Meta(max_length=80)] = ""
    done: tuple[tuple[str, str], ...] = ()
    skipped: tuple[str, ...] = ()
    clearing: ClearingModel = field(default_factory=lambda: ClearingModel(rounds=(RoundModel(()),)))
    after: tuple[Annotated[str, Meta(max_length=80)], ...] = ()
    ticked: tuple[Annotated[str, Meta(max_length=80)], ...] = ()

    def repair(self, number: int, name: str) -> rp.Repair:
        """The repair it describes."""
        values = {**self.values(), "clearing": self.clearing.clearing()}
        return rp.Repair(number, drum_name=name, **values)


class TrialModel(_Model, frozen=True):
    level: float
    outcome: Annotated[str, Meta(max_length=10)]


class SessionModel(_Model, frozen=True):
    """One exercise at one time."""

    exercise: Annotated[str, Meta(max_length=40)]
    on: Annotated[str, Meta(max_length=40)]
    seed: int = 0
    seconds: Annotated[float, Meta(ge=0.0, le=86400.0)] = 0.0
    trials: Annotated[tuple[TrialModel, ...], Meta(max_length=pp.MOST_TRIALS)] = ()
    threshold: float | None = None
    low: float | None = None
    high: float | None = None
    measures: Annotated[tuple[tuple[str, float], ...], Meta(max_length=40)] = ()

    def session(self) -> pp.Session:
        """The session it describes."""
        trials = tuple(pp.Trial(trial.level, trial.outcome) for trial in self.trials)
        return pp.Session(**{**self.values(), "trials": trials})


class PupilModel(_Model, frozen=True):
    """Somebody who practises, as a workshop keeps it."""

    sessions: Annotated[tuple[SessionModel, ...], Meta(max_length=pp.MOST_SESSIONS)] = ()

    def pupil(self, number: int, name: str) -> pp.Pupil:
        """Who it describes."""
        return pp.Pupil(number, name, tuple(session.session() for session in self.sessions))


class SetMemberModel(PlacedModel, frozen=True, kw_only=True):
    """A drum of a set file, and its place."""

    drum: DrumFile


class SetFile(_Model, frozen=True):
    """`*.set.json`, version 1: drums that are played together, and what they must do."""

    title: ClassVar[str] = "Kesselton set, version 1"
    format: Annotated[str, _fixed(SET_FORMAT)]
    version: VersionOne
    name: Name
    drums: Annotated[tuple[SetMemberModel, ...], Meta(min_length=1, max_length=ks.MOST_DRUMS)]
    wish: WishModel = field(default_factory=WishModel)


FILES: dict[str, type[_Model]] = {
    "drum": DrumFile,
    "readings": ReadingsFile,
    "brief": OrderFile,
    "procedure": ProcedureFile,
    "log": LogEntry,
    "set": SetFile,
}


def schema_of(model: Any) -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of a model."""
    result = msgspec.json.decode(msgspec.json.encode(msgspec.json.schema(model)))
    _own_order(result)
    title = getattr(model, "title", model.__name__)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **result, "title": title}


def _own_order(node: Any) -> None:
    """Words in the order the trade names them; msgspec sorts by letter."""
    if isinstance(node, dict):
        if "order" in node and "enum" in node:
            node["enum"] = node.pop("order")
        node = list(node.values())
    if isinstance(node, list):
        for part in node:
            _own_order(part)
