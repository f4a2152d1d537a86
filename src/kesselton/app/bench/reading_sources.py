"""Where readings of rods come from: typed, heard, from a recording, from the bench not there."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from kesselton.app.bench.clearing import dial_fit, expectation
from kesselton.app.bench.simulated_bench import SOURCES as BENCH
from kesselton.app.bench.simulated_bench import SimulatedBench
from kesselton.app.host.jobs import Latest
from kesselton.app.sound.microphone import RATE_HZ, TAP_S, Microphone
from kesselton.core.clear.clearing_records import Clearing, Round, at_rod
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.reading import Reading
from kesselton.core.language import _
from kesselton.core.pitch import parse_pitch
from kesselton.core.units import parse_number
from kesselton.store.workshop.holdings import Entry, Workshop

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray
    from kesselton.core.clear.taps.tap import HeardTap, LeftOut

KINDS = {"dial": "dial", "bench_dial": "dial", "torque": "torque", "bench_torque": "torque"}
UNITS = {"dial": ("div", "divisions"), "torque": ("nm", "n m")}
LOW_SHARE, HIGH_SHARE = 0.72, 1.39
"""A lug pitch typed so far from the other rods is an overtone or no pitch."""


class ReadingSources(QObject):
    """One source at a time, for one head at a time.

    Signals
    -------
    read(Reading, HeardTap or None) : by the simulated bench
    heard(HeardTap) : a tap at the microphone
    imported(list of HeardTap, list of str) : taps of a recording, and why others were left out
    refused(KesseltonError), state_changed(str in words), level_changed(float)
    """

    read = Signal(object, object)
    heard = Signal(object)
    imported = Signal(object, object)
    refused = Signal(object)
    state_changed = Signal(str)
    level_changed = Signal(float)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.name = "pitch"
        self.bench = SimulatedBench()
        self.microphone = Microphone(self)
        self.microphone.heard.connect(self.heard)
        self.microphone.refused.connect(self.refused)
        self.microphone.state_changed.connect(self.state_changed)
        self.microphone.level_changed.connect(self.level_changed)
        self._imports = Latest(self._on_imported, self._on_import_failed, self)
        self._importing: tuple[int, str] | None = None
        self._readings = Latest(self._on_taken, self._on_not_taken, self)
        self._taking: object | None = None
        self._head: tuple[Drum, Clearing] | None = None
        self._refusals = 0  # in a row; counted on the thread that hears

    @property
    def kind(self) -> str:
        """Kind of the readings it gives."""
        return KINDS.get(self.name, "lug_pitch")

    @property
    def live(self) -> bool:
        """True while the microphone listens."""
        return self.name == "microphone" and self.microphone.listening

    @property
    def simulated(self) -> bool:
        """True if it is the bench that is not there."""
        return self.name in BENCH

    def choose(self, name: str) -> None:
        """Read by another means."""
        self.quiet()
        self.name = name

    def quiet(self) -> None:
        """Listen no longer; what the simulated bench is at belongs to nobody any more."""
        self._taking = None
        self.microphone.stop()

    def toggle_listening(self) -> None:
        """Begin or end listening to the head that is followed."""
        if self.microphone.listening:
            self.microphone.stop()
        else:
            self.microphone.listen(self.hear_tap, TAP_S)

    def follow(self, drum: Drum, clearing: Clearing) -> None:
        """What the head is at now: the next tap is expected by what was read before it."""
        self._head = (drum, clearing)

    def hear_tap(self, samples: FloatArray) -> HeardTap:
        """A tap at the microphone, of the head that is followed (on a thread).

        A rod may stand far off the others, and is tapped again if it was refused: then the others
        say less of it.
        """
        from kesselton.core.clear.taps.tap import hear
        from kesselton.core.clear.taps.tap_naming import WIDER

        head = self._head
        expected = None if head is None else expectation(*head)
        if expected is not None:
            expected = expected.widened(WIDER**self._refusals)
        self._refusals = min(self._refusals + 1, 9)
        heard = hear(samples, RATE_HZ, expected)
        self._refusals = 0
        return heard

    @property
    def busy(self) -> bool:
        """True while the simulated bench takes a reading."""
        return self._taking is not None

    def take(self, entry: Entry, workshop: Workshop, clearing: Clearing, rod: int) -> None:
        """A reading from the simulated bench: `read` or `refused`, unless it goes quiet before."""
        name, bench = self.name, self.bench

        def work() -> tuple[Reading, HeardTap | None]:
            return bench.read(name, entry.id, entry.drum, clearing, rod, dial_fit(workshop))

        self._taking = object()
        self._readings.request(self._taking, work)

    def _on_taken(self, key: object, result: tuple[Reading, HeardTap | None]) -> None:
        if key is self._taking:
            self._taking = None
            self.read.emit(*result)

    def _on_not_taken(self, key: object, error: KesseltonError) -> None:
        if key is self._taking:
            self._taking = None
            self.refused.emit(error)

    def import_taps(self, path: Path, entry: Entry, clearing: Clearing) -> None:
        """Take the taps of a recording."""
        drum = entry.drum

        def listen() -> tuple[list[HeardTap], list[LeftOut]]:
            from kesselton.core.clear.taps.tap import hear_all
            from kesselton.store.exports.sound_file import read_sound

            samples, rate = read_sound(path)
            return hear_all(samples, rate, expectation(drum, clearing))

        self.state_changed.emit(_("Listening to {name}…").format(name=path.name))
        self._importing = (entry.id, clearing.side)
        self._imports.request(self._importing, listen)

    def forget_imports(self) -> None:
        """What is still being listened to belongs to no head any more."""
        self._importing = None

    def _on_imported(self, key: object, results: tuple[list[HeardTap], list[LeftOut]]) -> None:
        self.state_changed.emit("")
        if key == self._importing:
            self.imported.emit(*results)

    def _on_import_failed(self, key: object, error: KesseltonError) -> None:
        self.state_changed.emit("")
        if key == self._importing:
            self.refused.emit(error)

    def stop(self) -> None:
        """End the thread and the microphone."""
        self.microphone.close()
        self._imports.stop()
        self._readings.stop()


def rod_and_value(text: str, rod: int, rods: int) -> tuple[int, str]:
    """The rod a reading is of, and the reading: "5: 262" names its rod, "262" is of `rod`.

    Raises
    ------
    InputError
        If there is no such rod.
    """
    named, colon, rest = text.partition(":")
    if not colon:
        return rod, text
    if not named.strip().isdecimal() or not 1 <= int(named) <= rods:
        raise InputError(
            _("Rod {strip!r} does not exist.").format(strip=named.strip()),
            _("Enter a rod from 1 to {rods}.").format(rods=rods),
        )
    return int(named), rest.strip()


def typed_reading(kind: str, rod: int, text: str, a4_hz: float, now: Round) -> Reading:
    """A reading from what was typed.

    Raises
    ------
    InputError
        If it is none, or a dial reading or an overtone typed as a lug pitch.
    """
    value = parse_pitch(text, a4_hz) if kind == "lug_pitch" else parse_number(text, UNITS[kind])
    reading = at_rod(kind, rod, value)
    others = [t.value for t in now.taps if t.kind == "lug_pitch" and t.rod != rod]
    if kind == "lug_pitch" and others:
        share = reading.value * len(others) / sum(others)
        if not LOW_SHARE < share < HIGH_SHARE:
            raise InputError(
                _(
                    "{value:.1f} Hz is far from the other rods ({others:.0f} to {others2:.0f} Hz)."
                ).format(value=reading.value, others=min(others), others2=max(others)),
                _("Check for a gauge reading or an overtone entered as lug pitch."),
            )
    return reading
