"""Makes an entry of the log from what stands on the bench, and says what one entry is against
another."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import TYPE_CHECKING, Protocol

from kesselton.core.errors import InputError
from kesselton.core.heads.like import Like, like_of
from kesselton.core.instrument.air import Air
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.drum import Drum, head_of
from kesselton.core.instrument.kept import Attached, Kept, KeptLine
from kesselton.core.instrument.muffler import MUFFLERS
from kesselton.core.language import _, figures
from kesselton.core.pitch import cents_between
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.lazy_rows import last_of
from kesselton.store.workshop.log_index import MOST, Hit, hit_of

if TYPE_CHECKING:
    from kesselton.app.hearing.heard_drum import HeardDrum
    from kesselton.app.prediction.predictor import BenchResult

LEARNS_FROM = 100
"""The newest entries of a drum: what it was before says less of it."""


@dataclass(frozen=True)
class Said:
    """What is asked of whoever keeps an entry."""

    event: str = "set"
    side: str = ""
    what_for: str = ""
    verdict: str = ""
    music: str = ""
    player: str = ""
    room: str = ""
    marks: tuple[tuple[str, int], ...] = ()
    fits: str = ""
    wires: str = ""
    shows: float = 0.0
    hours: float = 0.0
    signs: tuple[str, ...] = ()


def lately(entry: Entry) -> tuple[Kept, ...]:
    """The entries that are learned from."""
    return last_of(entry.kept, LEARNS_FROM)


def current_entry(
    entry: Entry,
    result: BenchResult,
    heard: HeardDrum | None,
    message: Said,
    when: datetime,
    attached: Sequence[Attached] = (),
    sets: tuple[str, ...] = (),
) -> Kept:
    """Everything that is set, read and heard of a drum now, what is attached to it, and which sets
    it is in.

    Raises
    ------
    InputError
        If something said cannot be.
    """
    prediction = result.prediction
    at = prediction.partials.fundamental
    lines: tuple[KeptLine, ...] = ()
    hz, half = None, 0.0
    if heard is not None:
        loudest = sorted(heard.lines, key=lambda x: -x.level_db)[:MOST_KEPT]
        lines = tuple(
            KeptLine(
                round(float(x.hz), 3),
                round(x.half_cents, 1),
                round(x.t60_s, 4),
                round(x.level_db, 1),
            )
            for x in sorted(loudest, key=lambda x: x.hz)
        )
        if heard.matching.fundamental_hz is not None:
            hz = float(heard.matching.fundamental_hz)
            half = heard.matching.fundamental_half_cents
    return Kept(
        when.isoformat(timespec="minutes"),
        entry.drum,
        **vars(message),
        beater=result.stroke.beater,
        place=result.stroke.place,
        touch=result.stroke.touch,
        readings=tuple(entry.readings),
        lug_pitches_hz=tuple(prediction.lug_pitches_hz),
        tensions_n_per_m=tuple(prediction.tensions_n_per_m),
        computed_hz=prediction.fundamental_hz,
        computed_half_cents=float(prediction.uncertainty_cents[at]),
        heard_hz=hz,
        heard_half_cents=half,
        lines=lines,
        attached=tuple(attached),
        sets=sets,
    )


def counted_down(workshop: Workshop, kept: Kept, head_size: Callable[[Drum], float]) -> Workshop:
    """The workshop with one head less in store for each that was fitted; never under nothing."""
    if kept.event != "fitted":
        return workshop
    for side in kept.drum.sides:
        if kept.side in ("", side):
            noted = workshop.shelved(kept.drum.setting(side).head.name, head_size(kept.drum))
            if noted.stock > 0:
                workshop = workshop.with_shelved(replace(noted, stock=noted.stock - 1))
    return workshop


MOST_KEPT = 40
"""Lines of a stroke that go into an entry, the loudest."""


class Finds(Protocol):
    """Where entries of all logs are found."""

    def words(self, words: str) -> list[Hit]:
        """Those in which every word is found, the newest first."""

    def sound(self, kept: Kept) -> list[tuple[Hit, float]]:
        """Those whose stroke is most like one, and how unlike they are."""

    def cases(self, entry: Entry) -> list[Hit]:
        """Those of drums like one, set for the like of what it must do, the nearest first."""

    def kept(self, hit: Hit) -> Kept | None:
        """One that was found."""


def nearest_cases(
    results: Sequence[tuple[Hit, Kept]], entry: Entry, wanted_hz: float | None
) -> list[Hit]:
    """Past cases for a drum, the nearest first: by note, by what was said to fit, by what the last
    entry was for, the drum's own before another's, the newest of those."""
    lately = last_of(entry.kept, 1)
    rows = {words for x in lately for words in (x.what_for, x.music, x.player, x.room)} - {""}

    def far(case: tuple[Hit, Kept]) -> float:
        hit, log_entry = case
        hz = log_entry.note_hz
        off = 2.0 if hz is None or wanted_hz is None else abs(cents_between(wanted_hz, hz)) / 100.0
        off += {"right": 0.0, "": 0.5}.get(log_entry.fits, 1.0)
        off += 0.0 if hit.drum_id == entry.id else 0.5
        return off - 0.5 * len(
            rows & {log_entry.what_for, log_entry.music, log_entry.player, log_entry.room}
        )

    newest = sorted(results, key=lambda case: case[1].on, reverse=True)
    return [hit for hit, _unused in sorted(newest, key=far)]


def differences(entry: Kept, other: Kept) -> list[tuple[str, str, str]]:
    """What is different between two entries: name, of the one, of the other."""
    out: list[tuple[str, str, str]] = []

    def tell(name: str, a: object, b: object) -> None:
        if a != b:
            out.append((name, str(a), str(b)))

    for side in ("batter", "resonant"):
        tell(head_of(side), _head(entry.drum, side), _head(other.drum, side))
    for place, side in enumerate(("batter", "resonant")):
        if place < min(len(entry.lug_pitches_hz), len(other.lug_pitches_hz)):
            a, b = entry.lug_pitches_hz[place], other.lug_pitches_hz[place]
            if abs(cents_between(a, b)) >= 1.0:
                out.append(
                    (
                        _("batter lug pitch") if side == "batter" else _("resonant lug pitch"),
                        f"{figures(a, '.1f')} Hz",
                        f"{figures(b, '.1f')} Hz",
                    )
                )
    for name, first, second in (
        (_("measured"), entry.heard_hz, other.heard_hz),
        (_("computed"), entry.computed_hz, other.computed_hz),
    ):
        if first is not None and second is not None and abs(cents_between(first, second)) >= 1.0:
            out.append((name, f"{figures(first, '.1f')} Hz", f"{figures(second, '.1f')} Hz"))
    tell(_("muffling"), _muffling(entry.drum), _muffling(other.drum))
    tell(_("beater"), _beater(entry.beater), _beater(other.beater))
    tell(_("air"), _air(entry.drum.air), _air(other.drum.air))
    for name, words in (
        ("wires", _("wires")),
        ("what_for", _("occasion")),
        ("music", _("music")),
        ("player", _("player")),
        ("room", _("room")),
        ("verdict", _("comments")),
    ):
        tell(words, getattr(entry, name) or "—", getattr(other, name) or "—")
    tell(_("sets"), ", ".join(entry.sets) or "—", ", ".join(other.sets) or "—")
    return out


def _head(drum: Drum, side: str) -> str:
    return drum.setting(side).head.name if side in drum.sides else _("none")


def _air(air: Air) -> str:
    return _("{degrees:g} °C {humidity:.0f} %").format(
        degrees=air.temperature_c, humidity=100.0 * air.relative_humidity
    )


def _muffling(drum: Drum) -> str:
    message = (f"{MUFFLERS[m.kind].label}, {m.side}" for m in drum.mufflers)
    return "; ".join(message) or "none"


def _beater(name: str) -> str:
    return BEATERS[name].label if name in BEATERS else name or "—"


def found_in(entries: Sequence[Entry], words: str) -> list[Hit]:
    """The same as the file finds, among entries of drums in memory."""
    wanted = words.casefold().split()
    hits = [
        hit_of(entry.id, place, log_entry)
        for entry in entries
        for place, log_entry in enumerate(entry.kept)
        if all(word in log_entry.words() for word in wanted)
    ]
    return sorted(hits, key=lambda hit: hit.on, reverse=True)[:MOST]


def like_kept(kept: Kept) -> Like:
    """The stroke of an entry as one to be like.

    Raises
    ------
    InputError
        If none was kept.
    """
    if kept.heard_hz is None or not kept.lines:
        raise InputError(_("This entry has no stroke."), (_("Choose one with a measured pitch.")))
    lines = [(line.hz, line.t60_s, line.level_db) for line in kept.lines]
    return like_of(f"{kept.drum.name}, {kept.on[:10]}", kept.heard_hz, lines)


def turns_back(drum: Drum, now: Sequence[float], then: Kept) -> dict[str, float | None]:
    """Turns of every rod from a setting (tensions in N/m) to a kept one, by side; None where
    another head lay there."""
    from kesselton.core.instrument.threads import THREADS
    from kesselton.core.measure.rods import tension_per_turn

    out: dict[str, float | None] = {}
    thread = THREADS[drum.shell.rod_thread]
    for place, side in enumerate(drum.sides):
        same = side in then.drum.sides and then.drum.setting(side).head == drum.setting(side).head
        if not same or place >= len(then.tensions_n_per_m):
            out[side] = None
            continue
        per_turn = tension_per_turn(drum, drum.setting(side).head, thread)
        out[side] = (then.tensions_n_per_m[place] - now[place]) / per_turn
    return out
