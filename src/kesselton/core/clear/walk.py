"""Where the technician stands on the way round the rim: what is read next, what is turned next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from kesselton.core.instrument.reading import Reading


@dataclass(frozen=True)
class Walk:
    """Part of what a workshop keeps: a rod that was turned stays turned.

    Attributes
    ----------
    skipped : rods left out of this round
    turning : rods are turned, no longer read
    asked : what is to be turned, (rod, turns) in order, as it was asked when turning began
    common : turns that all rods get after these
    turned : how many of the order are done, one more once the common turn is
    left : rods of the order that were left as they are
    """

    skipped: tuple[int, ...] = ()
    turning: bool = False
    asked: tuple[tuple[int, float], ...] = ()
    common: float = 0.0
    turned: int = 0
    left: tuple[int, ...] = ()

    @property
    def order(self) -> tuple[int, ...]:
        """Rods in the order they are turned."""
        return tuple(rod for rod, _ in self.asked)

    @property
    def over(self) -> bool:
        """Whether every turn that was asked is made or left."""
        return self.turned >= len(self.asked) + bool(self.common)

    def reads(self, taps: Sequence[Reading], kind: str, rods: int) -> int:
        """The rod that a reading of a kind belongs to now: the first that has none; if all have,
        the one whose reading is oldest."""
        have = [tap.rod for tap in taps if tap.kind == kind and tap.rod not in self.skipped]
        left = (rod for rod in range(1, rods + 1) if rod not in self.skipped and rod not in have)
        return next(left, have[0] if have else 1)

    def missing(self, taps: Sequence[Reading], kind: str, rods: int) -> int:
        """How many rods have no reading of a kind yet."""
        have = {tap.rod for tap in taps if tap.kind == kind}
        return rods - len(have | set(self.skipped))

    @property
    def turns_now(self) -> int:
        """The rod that is turned next; 0 while rods are read, or if all are to be turned alike."""
        return self.asked[self.turned][0] if self.turned < len(self.asked) else 0

    def skips(self, rod: int) -> Walk:
        """A rod is left out of this round of reading."""
        return replace(self, skipped=tuple(sorted({*self.skipped, rod})))

    def back_to_reading(self) -> Walk:
        """The next round is read, or this one goes on."""
        return replace(self, turning=False, asked=(), common=0.0, turned=0, left=())

    def begins_turning(self, asked: tuple[tuple[int, float], ...], common: float) -> Walk:
        """From now on rods are turned, as asked."""
        return replace(self.back_to_reading(), turning=True, asked=asked, common=common)

    def turns(self) -> Walk:
        """The rod in hand is turned."""
        return replace(self, turned=self.turned + 1)

    def leaves(self) -> Walk:
        """The rod in hand stays as it is; 0 stands for all of them."""
        rod = self.order[self.turned] if self.turned < len(self.asked) else 0
        return replace(self.turns(), left=(*self.left, rod))

    def steps_back(self) -> Walk:
        """The last rod of the order once more."""
        back = self.turned - 1
        rod = self.order[back] if back < len(self.asked) else 0
        return replace(self, turned=back, left=tuple(r for r in self.left if r != rod))

    def made(self, rods: int) -> tuple[float, ...]:
        """Turns per rod that were made: as far as the order went, but for rods left as they were;
        after them what was given to all."""
        turns = [0.0] * rods
        for rod, turn in self.asked[: self.turned]:
            if rod not in self.left:
                turns[rod - 1] = turn
        if self.turned > len(self.asked) and 0 not in self.left:
            turns = [turn + self.common for turn in turns]
        return tuple(turns)

    def fits(self, rods: int) -> bool:
        """Whether it is of a rim with so many rods."""
        named = (*self.skipped, *self.order, *self.left)
        return all(0 <= rod <= rods for rod in named)
