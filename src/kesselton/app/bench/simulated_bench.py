"""The bench that is not there: a drum with hidden faults, a microphone that hears it, a dial."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.reading import Reading
from kesselton.core.instrument.threads import THREADS
from kesselton.core.language import _
from kesselton.core.pitch import cents_between

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.arrays import FloatArray
    from kesselton.core.clear.simulated import SimulatedHead
    from kesselton.core.clear.taps.tap import HeardTap
    from kesselton.core.measure.gauges import DialFit

TAP_RATE_HZ = 16000
SOURCES = ("bench_tap", "bench_dial", "bench_torque")
OUT = 0.16
"""Every rod is out by about so much of the turns it has, to begin with."""
MIN_PULL, EASY_PULL = 0.25, 0.55
"""Of the mean, in the slackest rod: past finger tight; and so that a dial still reads beside it."""
USUAL_CENTS, MOST_CENTS, STEP = 90.0, 115.0, 1.25
"""A half step between rods is usual before clearing (common practice, no published source); some
heads cannot be so uneven with every rod past finger tight."""
LOUD = 0.5
HISS = 0.004


def _as_uneven_as_usual(make: Callable[[float], SimulatedHead]) -> SimulatedHead:
    """The head whose rods lie a half step apart, or as far as every rod still pulls: it comes from
    being fitted, past finger tight."""
    out, head = OUT, make(OUT)
    while _cents(head) > MOST_CENTS or _slackest(head) < MIN_PULL:
        out /= STEP
        head = make(out)
    while _cents(head) < USUAL_CENTS:
        more = make(out * STEP)
        if _slackest(more) < EASY_PULL or _cents(more) > MOST_CENTS:
            break
        out, head = out * STEP, more
    return head


def _cents(head: SimulatedHead) -> float:
    pitches = head.pitches()
    return cents_between(float(pitches.min()), float(pitches.max()))


def _slackest(head: SimulatedHead) -> float:
    forces = head.forces()
    return float(forces.min() / forces.mean())


BAND_S = 0.2
"""How loud a tap is, and a band: root mean square over so long a time."""
BEATS, HELD = 3, 4


def band_noise(count: int, rng: np.random.Generator) -> FloatArray:
    """(count,) a band that plays, root mean square 1: noise that falls with pitch, held notes with
    harmonics, a few strokes on other drums. A likeness."""
    import numpy as np

    spectrum = rng.standard_normal(count // 2 + 1) + 1j * rng.standard_normal(count // 2 + 1)
    hz = np.fft.rfftfreq(count, 1.0 / TAP_RATE_HZ)
    noise = np.fft.irfft(spectrum / np.sqrt(np.maximum(hz, 40.0)), count)
    out = noise / np.sqrt(np.mean(noise**2))
    time = np.arange(count) / TAP_RATE_HZ
    for _unused in range(HELD):
        note = 55.0 * 2.0 ** (rng.integers(0, 48) / 12.0)
        for harmonic in range(1, 7):
            wave = np.sin(2.0 * np.pi * harmonic * note * time + rng.uniform(0.0, 6.28))
            out = out + 0.5 / harmonic * wave
    for _unused in range(BEATS):
        ring = np.maximum(time - rng.uniform(-0.3, 1.0), 0.0)
        f = rng.uniform(60.0, 300.0)
        out = out + 2.0 * (ring > 0.0) * np.exp(-8.0 * ring) * np.sin(2.0 * np.pi * f * ring)
    scaled: FloatArray = out / np.sqrt(np.mean(out**2))
    return scaled


@dataclass
class _Kept:
    key: tuple[object, ...]
    head: SimulatedHead


class SimulatedBench:
    """What the same buttons reach when there is no drum: every reading comes out of a hidden drum.

    What it hides depends on the drum's number and side alone, and it is turned by the rounds that
    are noted, so it stays the same over restarts and follows undo.
    """

    def __init__(self, band_db: float | None = None) -> None:
        self._kept: _Kept | None = None
        self.band_db = band_db
        """How far a tap stands over a band that plays; None where it is quiet."""
        self._taps = 0  # at a band: it plays on, no two taps are heard alike

    def head(self, drum_id: int, drum: Drum, clearing: Clearing) -> SimulatedHead:
        """The hidden head as the rounds so far have turned it."""
        import numpy as np

        from kesselton.core.acoustics.solver.lug import tensions
        from kesselton.core.clear.rim import rim_of
        from kesselton.core.clear.simulated import SimulatedHead, random_faults

        turned = tuple(record.turns for record in clearing.rounds if record.turns)
        key = (drum_id, drum, clearing.side, turned)
        if self._kept is None or self._kept.key != key:
            seed = 100 * drum_id + (clearing.side != "batter")
            rim = rim_of(drum, clearing.side)
            mean = tensions(drum)[drum.sides.index(clearing.side)] / rim.turn_n_per_m

            def hidden(out: float) -> SimulatedHead:
                rng = np.random.default_rng(seed)
                faults = random_faults(drum.shell.rods, rng, out * mean)
                return SimulatedHead(drum, clearing.side, faults, seed)

            simulated_head = _as_uneven_as_usual(hidden)
            for turns in turned:
                simulated_head.turn(np.array(turns))
            self._kept = _Kept(key, simulated_head)
        return self._kept.head

    def sound(self, head: SimulatedHead, rod: int, seed: int) -> FloatArray:
        """(N,) what a microphone hears of a tap at a rod: every mode of the head, decaying.

        The microphone is held over the rod that is tapped: elsewhere two of a pair could cancel.
        """
        import numpy as np

        from kesselton.core.clear.taps.simulated_tap import tap_samples, tap_time

        rng = np.random.default_rng(seed)
        sound, time = tap_samples(head, rod, rng), tap_time()
        sound += HISS * rng.standard_normal(len(time))
        if self.band_db is not None:
            early = (time >= 0.0) & (time < BAND_S)
            level = float(np.sqrt(np.mean(sound[early] ** 2)))
            sound += level * 10.0 ** (-self.band_db / 20.0) * band_noise(len(time), rng)
        out: FloatArray = LOUD * sound / float(np.abs(sound).max())
        return out

    def tap(self, drum_id: int, drum: Drum, clearing: Clearing, rod: int) -> HeardTap:
        """One tap at a rod, heard by the same detector as a real one.

        Raises
        ------
        InputError
            If the detector will not name a pitch.
        """
        from kesselton.core.acoustics.solver.lug import tap_tones
        from kesselton.core.clear.taps.tap import Tones, hear

        head = self.head(drum_id, drum, clearing)
        tones = Tones.of(*tap_tones(drum, clearing.side, head.start_n_per_m))
        seed = 1000 * len(clearing.rounds) + 10 * rod + len(clearing.now.taps)
        if self.band_db is not None:
            self._taps += 1
            seed += 1_000_000 * self._taps
        return hear(self.sound(head, rod, seed), TAP_RATE_HZ, head.reference_hz, tones)

    def torque(self, drum_id: int, drum: Drum, clearing: Clearing, rod: int) -> float:
        """Newton metre of a torque key set on a rod, to a twentieth.

        Raises
        ------
        InputError
            If the rod is slack.
        """
        head = self.head(drum_id, drum, clearing)
        seen = float(head.read_torque(THREADS[drum.shell.rod_thread].diameter_m)[rod - 1])
        if seen < 0.05:
            raise InputError(
                _("Rod {rod} is slack: the torque key reads nothing.").format(rod=rod),
                _("Tighten it first."),
            )
        return round(20.0 * seen) / 20.0

    def dial(
        self, drum_id: int, drum: Drum, clearing: Clearing, rod: int, fit: DialFit | None = None
    ) -> float:
        """Divisions of the dial in hand set down at a rod, to half a division.

        Raises
        ------
        InputError
            If the head is so loose that the dial stands at its stop.
        """
        head = self.head(drum_id, drum, clearing)
        if fit is None:
            seen = head.read_dial()
        else:
            thickness = drum.setting(clearing.side).head.film_thickness_m
            there = fit.reading(head.start_n_per_m, thickness)
            seen = head.read_dial(float(fit.terms[1]), there)
        shown = round(2.0 * float(seen[rod - 1])) / 2.0
        if shown < 0.5:
            raise InputError(
                _("This head is too loose: the gauge is at its stop."),
                _("Read it by pitch, or tighten all rods first."),
            )
        return shown

    def read(
        self,
        source: str,
        drum_id: int,
        drum: Drum,
        clearing: Clearing,
        rod: int,
        fit: DialFit | None = None,
    ) -> tuple[Reading, HeardTap | None]:
        """A reading at a rod by one of SOURCES, and what was heard of it.

        Raises
        ------
        InputError
            If there is none.
        """
        if source == "bench_dial":
            return at_rod("dial", rod, self.dial(drum_id, drum, clearing, rod, fit)), None
        if source == "bench_torque":
            return at_rod("torque", rod, self.torque(drum_id, drum, clearing, rod)), None
        heard = self.tap(drum_id, drum, clearing, rod)
        return at_rod("lug_pitch", rod, heard.lug_pitch_hz, heard.spread_cents), heard
