"""All that a workshop file holds, as one frozen state."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol, TypeVar

from kesselton.core.clear.clearing_records import Clearing
from kesselton.core.fit.fitting import Fitting
from kesselton.core.heads.brief import Brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, Inspected, TorqueKey
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.kept import Kept
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.practice.pupil import Pupil
from kesselton.core.sets.model.kit import Kit
from kesselton.core.shows.repair import Repair
from kesselton.core.shows.show import Show


@dataclass(frozen=True)
class Entry:
    """A drum of the workshop under a number that stays with it, what it must do, what was read."""

    id: int
    drum: Drum
    brief: Brief | None = None
    readings: Sequence[Reading] = ()
    inspected: Inspected | None = None
    fittings: tuple[Fitting, ...] = ()
    clearings: Sequence[Clearing] = ()
    kept: Sequence[Kept] = ()

    def clearing(self, side: str) -> Clearing:
        """The rounds on one head; none yet if it was never begun."""
        return next(
            (clearing for clearing in self.clearings if clearing.side == side), Clearing(side)
        )

    def with_clearing(self, changed: Clearing) -> tuple[Clearing, ...]:
        """All clearings, that of one head exchanged."""
        rest = tuple(clearing for clearing in self.clearings if clearing.side != changed.side)
        return (*rest, changed)

    def fitting(self, side: str) -> Fitting | None:
        """How far one head is fitted; None if that was not begun."""
        return next((fitting for fitting in self.fittings if fitting.side == side), None)

    def with_fitting(self, side: str, changed: Fitting | None) -> tuple[Fitting, ...]:
        """All fittings, that of one head exchanged, or (None) begun no longer."""
        rest = tuple(fitting for fitting in self.fittings if fitting.side != side)
        return rest if changed is None else (*rest, changed)

    def with_drum(self, drum: Drum) -> Entry:
        """The same with the drum changed; what was noted of rods it no longer has goes, and so does
        the way round a rim that had another number of them."""
        rods = drum.shell.rods
        if rods == self.drum.shell.rods:
            return replace(self, drum=drum)
        readings = tuple(reading for reading in self.readings if reading.rod <= rods)
        clearings = tuple(_on_another_rim(clearing) for clearing in self.clearings)
        return replace(
            self,
            drum=drum,
            readings=self.readings if len(readings) == len(self.readings) else readings,
            clearings=clearings,
        )

    def with_gauge_renamed(self, old: str, new: str) -> Entry:
        """Readings taken by a gauge that is called otherwise now."""
        if not any(reading.gauge == old for reading in self.readings):
            return self
        renamed = (replace(x, gauge=new) if x.gauge == old else x for x in self.readings)
        return replace(self, readings=tuple(renamed))

    def fetched(self) -> Entry:
        """The entry itself, with everything that belongs to it read from its file."""
        for part in (self.readings, self.clearings, self.kept):
            len(part)
        return self


def removed_words(before: Entry | None, after: Entry | None) -> str:
    """In words, what was noted of a drum and went when it was changed; "" if nothing."""
    if before is None or after is None or before.id != after.id:
        return ""
    parts = []
    gone = len(before.readings) - len(after.readings)
    if gone > 0:
        parts.append(_("1 reading") if gone == 1 else _("{gone} readings").format(gone=gone))
    rods = before.drum.shell.rods
    if rods != after.drum.shell.rods and any(clearing.begun for clearing in before.clearings):
        parts.append(_("the clearing rounds"))
    if not parts:
        return ""
    message = " and ".join(parts)
    return _("{upper}{said} removed: they belonged to {rods} rods.").format(
        upper=message[0].upper(), said=message[1:], rods=rods
    )


def _on_another_rim(clearing: Clearing) -> Clearing:
    """What of a clearing holds on a rim with another number of rods: its wishes."""
    own = clearing.pattern == "own"
    fresh = replace(clearing.begun_again(), learned=(), wanted=())
    return replace(fresh, pattern="even") if own else fresh


@dataclass(frozen=True)
class Shelved:
    """What is noted of a head in one size: how many lie in the store, and whether it is liked."""

    head_name: str
    size_in: float
    stock: int = 0
    favourite: bool = False

    def place(self) -> tuple[str, float]:
        """Where it stands on the shelf."""
        return (self.head_name, self.size_in)


@dataclass(frozen=True)
class Workshop:
    """All that a workshop file holds: drums in rack order, and the library of heads."""

    name: str
    entries: tuple[Entry, ...] = ()
    library: tuple[Head, ...] = ()
    shelf: tuple[Shelved, ...] = ()
    dials: tuple[Dial, ...] = ()
    keys: tuple[TorqueKey, ...] = ()
    kits: tuple[Kit, ...] = ()
    shows: tuple[Show, ...] = ()
    repairs: tuple[Repair, ...] = ()
    pupils: tuple[Pupil, ...] = ()

    @property
    def own_heads(self) -> tuple[Head, ...]:
        """Every head of the library and on the drums, each once."""
        on = [entry.drum.setting(side).head for entry in self.entries for side in entry.drum.sides]
        return tuple(dict.fromkeys([*self.library, *on]))

    def shelved(self, head_name: str, size_in: float) -> Shelved:
        """What is noted of a head in a size; nothing in stock if nothing is."""
        holding = self._places.get((head_name, round(size_in, 4)))
        return holding or Shelved(head_name, size_in)

    @cached_property
    def _places(self) -> dict[tuple[str, float], Shelved]:
        """What lies on the shelf, by name and size."""
        return {(holding.head_name, round(holding.size_in, 4)): holding for holding in self.shelf}

    def with_shelved(self, noted: Shelved) -> Workshop:
        """The workshop with another note of one head in one size."""
        rest = [
            holding
            for holding in self.shelf
            if (holding.head_name, holding.size_in) != (noted.head_name, noted.size_in)
        ]
        if noted.stock or noted.favourite:
            rest.append(noted)
        return replace(self, shelf=tuple(sorted(rest, key=Shelved.place)))

    def with_gauge_renamed(self, old: str, new: str) -> Workshop:
        """The workshop with a dial or torque key called otherwise, in the readings too."""
        return replace(
            self,
            dials=tuple(replace(x, name=new) if x.name == old else x for x in self.dials),
            keys=tuple(replace(x, name=new) if x.name == old else x for x in self.keys),
            entries=tuple(entry.with_gauge_renamed(old, new) for entry in self.entries),
        )

    def entry(self, drum_id: int) -> Entry | None:
        """The entry under a number, or None."""
        return next((entry for entry in self.entries if entry.id == drum_id), None)

    def kit(self, number: int) -> Kit | None:
        """The set under a number, or None."""
        return next((kit for kit in self.kits if kit.id == number), None)

    def with_kit(self, changed: Kit) -> Workshop:
        """The workshop with a set changed or added."""
        return replace(self, kits=_with(self.kits, changed))

    def without_drum(self, drum_id: int) -> Workshop:
        """The workshop without a drum, in its sets as well: its number may be given again."""
        return replace(
            self,
            entries=tuple(entry for entry in self.entries if entry.id != drum_id),
            kits=tuple(kit.without(drum_id) for kit in self.kits),
            shows=tuple(show.without(drum_id) for show in self.shows),
            repairs=tuple(repair for repair in self.repairs if repair.drum_id != drum_id),
        )

    def show(self, number: int) -> Show | None:
        """The show under a number, or None."""
        return next((show for show in self.shows if show.id == number), None)

    def with_show(self, changed: Show) -> Workshop:
        """The workshop with a show changed or added."""
        return replace(self, shows=_with(self.shows, changed))

    def repair(self, number: int) -> Repair | None:
        """The repair under a number, or None."""
        return next((repair for repair in self.repairs if repair.id == number), None)

    def with_repair(self, changed: Repair) -> Workshop:
        """The workshop with a repair changed or added."""
        return replace(self, repairs=_with(self.repairs, changed))

    def pupil(self, number: int) -> Pupil | None:
        """Who practises under a number, or None."""
        return next((pupil for pupil in self.pupils if pupil.id == number), None)

    def with_pupil(self, changed: Pupil) -> Workshop:
        """The workshop with somebody who practises changed or added."""
        return replace(self, pupils=_with(self.pupils, changed))

    def next_kit_id(self) -> int:
        """A number no set has."""
        return next_number(self.kits)

    def next_id(self) -> int:
        """A number no entry has."""
        return next_number(self.entries)


class _Numbered(Protocol):
    """What stands under a number that stays with it."""

    @property
    def id(self) -> int: ...


N = TypeVar("N", bound=_Numbered)


def next_number(known: Sequence[_Numbered]) -> int:
    """A number none of them has."""
    return max((numbered.id for numbered in known), default=0) + 1


def _with(known: tuple[N, ...], changed: N) -> tuple[N, ...]:
    """All of them, the one under a number exchanged or added."""
    if all(item.id != changed.id for item in known):
        return (*known, changed)
    return tuple(changed if item.id == changed.id else item for item in known)
