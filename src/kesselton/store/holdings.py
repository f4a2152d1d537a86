"""All that a workshop file holds, as one frozen state."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from kesselton.core.choosing.brief import Brief
from kesselton.core.clearing.clearing_records import Clearing
from kesselton.core.fitting.fitting import Fitting
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.gauge import Dial, Inspected, TorqueKey
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.reading import Reading


@dataclass(frozen=True)
class Entry:
    """A drum of the workshop under a number that stays with it, what it must do, what was read."""

    id: int
    drum: Drum
    brief: Brief | None = None
    readings: Sequence[Reading] = ()
    inspected: Inspected | None = None
    fitting: Fitting | None = None
    clearings: Sequence[Clearing] = ()

    def clearing(self, side: str) -> Clearing:
        """The rounds on one head; none yet if it was never begun."""
        return next((one for one in self.clearings if one.side == side), Clearing(side))

    def with_clearing(self, changed: Clearing) -> tuple[Clearing, ...]:
        """All clearings, that of one head exchanged."""
        rest = tuple(one for one in self.clearings if one.side != changed.side)
        return (*rest, changed)

    def fetched(self) -> Entry:
        """The entry itself, with everything that belongs to it read from its file."""
        for part in (self.readings, self.clearings):
            len(part)
        return self


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

    @property
    def own_heads(self) -> tuple[Head, ...]:
        """Every head of the library and on the drums, each once."""
        on = [entry.drum.setting(side).head for entry in self.entries for side in entry.drum.sides]
        return tuple(dict.fromkeys([*self.library, *on]))

    def shelved(self, head_name: str, size_in: float) -> Shelved:
        """What is noted of a head in a size; nothing in stock if nothing is."""
        for one in self.shelf:
            if one.head_name == head_name and abs(one.size_in - size_in) < 1e-6:
                return one
        return Shelved(head_name, size_in)

    def with_shelved(self, noted: Shelved) -> Workshop:
        """The workshop with another note of one head in one size."""
        rest = [
            one
            for one in self.shelf
            if (one.head_name, one.size_in) != (noted.head_name, noted.size_in)
        ]
        if noted.stock or noted.favourite:
            rest.append(noted)
        return replace(self, shelf=tuple(sorted(rest, key=Shelved.place)))

    def entry(self, drum_id: int) -> Entry | None:
        """The entry under a number, or None."""
        return next((entry for entry in self.entries if entry.id == drum_id), None)

    def next_id(self) -> int:
        """A number no entry has."""
        return max((entry.id for entry in self.entries), default=0) + 1
