"""Where the technician stands on the way round the rim: what is read next, what is turned next."""

from __future__ import annotations

from dataclasses import dataclass, replace

from kesselton.core.clearing.clearing_records import Clearing


@dataclass(frozen=True)
class ClearingSequence:
    """Kept by the screen, not by the file: begun anew with every drum.

    Attributes
    ----------
    kind : of the readings being taken
    picked : rod chosen out of turn, 0 for none
    skipped : rods left out of this round
    turning : rods are turned, no longer read
    turned : rods of the order that are done
    left : those of them that were left as they are
    """

    kind: str = "lug_pitch"
    picked: int = 0
    skipped: frozenset[int] = frozenset()
    turning: bool = False
    turned: int = 0
    left: frozenset[int] = frozenset()

    def reads(self, clearing: Clearing, rods: int) -> int:
        """The rod that a reading now belongs to: the one picked, else the first that has no reading
        of this kind yet; if all have, the one whose reading is oldest."""
        if self.picked:
            return self.picked
        taps = [tap for tap in clearing.now.taps if tap.kind == self.kind]
        have = [tap.rod for tap in taps if tap.rod not in self.skipped]
        left = (rod for rod in range(1, rods + 1) if rod not in self.skipped and rod not in have)
        return next(left, have[0] if have else 1)

    def missing(self, clearing: Clearing, rods: int) -> int:
        """How many rods have no reading of this kind yet."""
        have = {tap.rod for tap in clearing.now.taps if tap.kind == self.kind}
        return rods - len(have | self.skipped)

    def now(self, clearing: Clearing, rods: int, order: tuple[int, ...]) -> int:
        """The rod in hand: to be turned, or to be read."""
        if self.turning and self.turned < len(order):
            return order[self.turned]
        return self.reads(clearing, rods)

    def picks(self, rod: int) -> ClearingSequence:
        """Read a rod out of turn."""
        return replace(self.back_to_reading(), picked=rod)

    def by(self, kind: str) -> ClearingSequence:
        """Read by another means; rods that are half turned are turned on."""
        return replace(self, kind=kind, picked=0, turning=self.turning and self.turned > 0)

    def has_read(self, last: bool) -> ClearingSequence:
        """A reading was noted; after the last one rods are turned."""
        return replace(self.back_to_reading(), picked=0, turning=last)

    def back_to_reading(self) -> ClearingSequence:
        """The next round is read, or this one goes on."""
        return replace(self, turning=False, turned=0, left=frozenset())

    def turns(self) -> ClearingSequence:
        """The rod in hand is turned."""
        return replace(self, turned=self.turned + 1)

    def leaves(self, order: tuple[int, ...]) -> ClearingSequence:
        """The rod in hand stays as it is."""
        return replace(self.turns(), left=self.left | {order[self.turned]})

    def steps_back(self, order: tuple[int, ...]) -> ClearingSequence:
        """The last rod of the order once more."""
        back = self.turned - 1
        return replace(self, turned=back, left=self.left - {order[back]})

    def next_round(self) -> ClearingSequence:
        """Nothing is left out any more."""
        return ClearingSequence(self.kind)
