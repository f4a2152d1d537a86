"""What was solved before: back at a drum, or with another wish for it, nothing is solved anew."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import wraps
from typing import TYPE_CHECKING

from kesselton.core.arrays import IndexArray, read_only, size_of
from kesselton.core.heads.curves import Curves
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head

if TYPE_CHECKING:
    from kesselton.core.heads.solved_pairs import SolvedPairs, Wishes

MOST_BYTES = 48_000_000
"""Kept at most; a setting takes about three thousand."""
NAMELESS = "-"

Block = tuple[IndexArray, "SolvedPairs"]
Blocks = tuple[Block, ...]
Solve = Callable[[Drum, Sequence[Head], Sequence[Head], "Wishes", Curves], Iterator[Block]]


@dataclass(eq=False)
class SolvedBefore:
    """Blocks of solved pairs by all they depend on, the latest asked for kept longest."""

    most: int = MOST_BYTES
    _blocks: dict[Hashable, Blocks] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def get(self, key: Hashable) -> Blocks | None:
        """What was solved, or None."""
        with self._lock:
            result = self._blocks.pop(key, None)
            if result is not None:
                self._blocks[key] = result
        return result

    def keep(self, key: Hashable, blocks: Blocks) -> None:
        """Keep it, and let go of what was not asked for longest where it is too much."""
        with self._lock:
            self._blocks[key] = read_only(blocks)
            while len(self._blocks) > 1 and self._bytes() > self.most:
                del self._blocks[next(iter(self._blocks))]

    def remembered(self, solve: Solve) -> Solve:
        """The same search; what it was asked before, to its end, comes at once."""

        @wraps(solve)
        def asked(
            drum: Drum,
            batters: Sequence[Head],
            resonants: Sequence[Head],
            wishes: Wishes,
            curves: Curves,
        ) -> Iterator[Block]:
            given = (drum, batters, resonants, wishes, curves)
            key = key_of(*given)
            known = self.get(key)
            if known is not None:
                yield from known
                return
            blocks = []
            for block in solve(*given):
                blocks.append(block)
                yield block
            self.keep(key, tuple(blocks))

        return asked

    def _bytes(self) -> int:
        return sum(map(size_of, self._blocks.values()))


def key_of(
    drum: Drum, batters: Sequence[Head], resonants: Sequence[Head], wishes: Wishes, curves: Curves
) -> Hashable:
    """All that a solution depends on: neither the drum's name nor what is on it."""
    some = HeadSetting(batters[0], 1.0)
    bare = replace(
        drum, name=NAMELESS, guessed=(), batter=some,
        resonant=None if drum.resonant is None else some,
    )  # fmt: skip
    asked = tuple(getattr(wishes, name).tobytes() for name in wishes.__dataclass_fields__)
    return bare, tuple(batters), tuple(resonants), asked, curves.heads, curves.terms.tobytes()


BEFORE = SolvedBefore()
"""One memory for all searches of a program."""
