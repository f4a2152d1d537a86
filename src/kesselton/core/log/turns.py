"""What the log of a drum says of the turns of its rods."""

from __future__ import annotations

from kesselton.core.acoustics.solver.lug import tension_from_pitch
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.log.own_note import specimens, specimens_now
from kesselton.core.measure.turn_line import TurnLine, learn_turns


def turn_lines(drum: Drum, log: tuple[Kept, ...]) -> dict[str, TurnLine]:
    """Per side, what the log says of turns, where it does: notes taken on the same lugs and hoops,
    those of the head that lies there now apart from those of others before it.

    A note of turns counts with the pitch noted beside it, or with the tension the head had then.
    """
    results, rows, now = {}, specimens(log), specimens_now(log, drum)
    for index, side in enumerate(drum.sides):
        fittings: dict[int, list[tuple[float, float]]] = {}
        known = set[tuple[float, float]]()
        for entry, numbers in rows:
            if entry.left_out or not _turns_alike(entry.drum, drum, side):
                continue
            for note in _turn_notes(entry, side, index):
                if note not in known:  # a reading stands in every entry until it is taken out
                    known.add(note)
                    fittings.setdefault(numbers[side], []).append(note)
        if known:
            last = fittings.pop(now[side], [])
            results[side] = learn_turns(drum, side, [*fittings.values(), last])
    return results


def _turns_alike(then: Drum, now: Drum, side: str) -> bool:
    """Whether a turn of the rods did then what it does now; a thicker film stretches less."""
    if side not in then.sides:
        return False
    of_shell = [
        (s.hoop, s.lugs, s.rods, s.rod_thread, s.head_diameter_m) for s in (then.shell, now.shell)
    ]
    films = [drum.setting(side).head.film_thickness_m for drum in (then, now)]
    return of_shell[0] == of_shell[1] and films[0] == films[1]


def _turn_notes(entry: Kept, side: str, index: int) -> list[tuple[float, float]]:
    """Turns and tensions in N/m that an entry notes of a head."""
    read = [r for r in entry.readings if r.kind == "turns" and r.side == side]
    notes = [
        (r.value, tension_from_pitch(entry.drum, side, r.hz)) for r in read if r.hz is not None
    ]
    now = [r.value for r in read if r.hz is None]
    if now and index < len(entry.tensions_n_per_m):
        notes.append((sum(now) / len(now), entry.tensions_n_per_m[index]))
    return notes
