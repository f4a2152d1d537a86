from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
import pytest
import soundfile

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core import constants as const
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.instrument import muffler as kinds
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.head import TURNING_LOSS, Addition
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.prediction.muffling import RING_FROM, RING_TO
from kesselton.core.prediction.prediction import Prediction, predict
from kesselton.core.prediction.render import PEAK, Sound, lines_of, match_all, render
from kesselton.core.prediction.stroke import strikes
from kesselton.core.prediction.tone import tone
from kesselton.store.exports.sound_file import write_sound

SNARE, TOM, FLOOR, BASS, *_ = (entry.drum for entry in demo_workshop().entries)


def measured(
    samples: np.ndarray, rate: int, hz: float, decay: float, apart: float
) -> tuple[float, float]:
    """Pitch error in cents and decay ratio of one line: demodulated, averaged, fitted."""
    time = np.arange(len(samples)) / rate
    moved = samples * np.exp(-2j * np.pi * hz * time)
    width = int(3.0 / apart * rate)  # the next line falls into the stop band of the average
    window = np.hanning(width)
    low = np.convolve(moved, window / window.sum(), "same")
    stop = min(len(low) - width, int(2.5 / decay * rate) + width)
    part = slice(width, stop)
    slope = np.polyfit(time[part], np.unwrap(np.angle(low[part])), 1)[0]
    fall = -np.polyfit(time[part], np.log(np.abs(low[part])), 1)[0]
    return 1200.0 * np.log2(1.0 + slope / (2.0 * np.pi * hz)), fall / decay


@pytest.mark.parametrize("drum", [TOM, FLOOR, SNARE], ids=lambda d: d.name)
@pytest.mark.parametrize("mufflers", [(), (Muffler("tape", rod=2.5),)], ids=["bare", "tape"])
def test_lines_are_heard_where_they_were_solved(drum: object, mufflers: tuple) -> None:
    found = predict(replace(drum, mufflers=mufflers))  # type: ignore[type-var]
    stroke = Stroke(0.35)
    hz, decay, amplitude, _ = lines_of(found, stroke)
    sound = render(found, stroke)
    checked = 0
    for index in np.argsort(-np.abs(amplitude))[:8]:
        apart = np.abs(np.delete(hz, index) - hz[index])
        near = float(apart.min())
        if near < 8.0 or 3.0 / near * decay[index] > 1.2:
            continue  # over before it can be told from the next one
        cents, ratio = measured(
            sound.samples, sound.rate_hz, float(hz[index]), float(decay[index]), near
        )
        assert abs(cents) < 1.0
        assert ratio == pytest.approx(1.0, abs=0.03)
        checked += 1
    assert checked >= 1


def test_no_clipping_and_no_click(tmp_path: Path) -> None:
    for drum in (SNARE, TOM, BASS):
        found = predict(drum)
        for beater in ("nylon_tip", "mallet", "felt_soft"):
            for wires in (False, drum is SNARE):
                sound = render(found, Stroke(0.2, beater), wires)
                x = sound.samples
                assert np.abs(x).max() <= PEAK + 1e-9
                assert abs(x[0]) < 1e-6
                assert abs(x[-1]) < 1e-6
                step = np.abs(np.diff(x))
                assert step[:3].max() < 0.3 * max(step.max(), 1e-9) or step[:3].max() < 0.02
                assert step[-10:].max() < 1e-4
                assert sound.approximate == wires


def test_strokes_to_compare_are_equally_loud() -> None:
    sounds = match_all([render(predict(d)) for d in (TOM, FLOOR, BASS)])
    rms = [np.sqrt(np.mean(s.samples[: int(0.4 * s.rate_hz)] ** 2)) for s in sounds]
    assert rms == pytest.approx([rms[0]] * 3, rel=1e-9)


def test_a_sound_that_is_silent_at_first_is_matched_with_nothing() -> None:
    """Recordings begin so; one beside a computed stroke ended in a division by nothing."""
    stroke = render(predict(TOM))
    late = Sound(np.concatenate((np.zeros(48000), stroke.samples)), 48000, False)
    same, still = match_all([stroke, late])
    assert np.array_equal(still.samples, late.samples)
    assert np.array_equal(same.samples, stroke.samples)
    assert match_all([late])[0] is late


def test_a_harder_blow_is_brighter_and_wires_add_noise_above() -> None:
    found = predict(SNARE)

    def centre(samples: np.ndarray, rate: int) -> float:
        power = np.abs(np.fft.rfft(samples)) ** 2
        hz = np.fft.rfftfreq(len(samples), 1.0 / rate)
        return float(np.sum(hz * power) / np.sum(power))

    soft, hard = render(found, Stroke(0.2, "mallet")), render(found, Stroke(0.2, "nylon_tip"))
    assert centre(hard.samples, hard.rate_hz) > centre(soft.samples, soft.rate_hz)
    buzz = render(found, Stroke(0.2, "nylon_tip"), wires=True)
    assert centre(buzz.samples, buzz.rate_hz) > 1.05 * centre(hard.samples, hard.rate_hz)
    again = render(found, Stroke(0.2, "nylon_tip"), wires=True)
    assert np.array_equal(buzz.samples, again.samples)


@pytest.mark.parametrize("ending", [".wav", ".flac"])
def test_sound_files_hold_what_was_rendered(tmp_path: Path, ending: str) -> None:
    sound = render(predict(TOM))
    path = tmp_path / f"stroke{ending}"
    write_sound(path, sound)
    read, rate = soundfile.read(path)
    assert rate == sound.rate_hz
    assert read == pytest.approx(sound.samples, abs=2e-7)
    assert not list(tmp_path.glob("*.part"))


def test_what_cannot_be_written_is_said(tmp_path: Path) -> None:
    sound = render(predict(TOM))
    with pytest.raises(KesseltonError, match="neither in"):
        write_sound(tmp_path / "stroke.ogg", sound)
    with pytest.raises(KesseltonError, match="cannot be written"):
        write_sound(tmp_path / "nowhere" / "stroke.wav", sound)
    with pytest.raises(InputError, match="Sample rate"):
        render(predict(TOM), rate_hz=100)


def decay_of(found: Prediction, order: int) -> float:
    p = found.partials
    return float(p.t60_s[p.find(order, 1)])


def test_muffling_between_two_rods_holds_one_line_and_leaves_the_other() -> None:
    bare, gel = predict(TOM), predict(replace(TOM, mufflers=(Muffler("gel", rod=1.0),)))
    assert gel.lines is not None
    p = gel.partials
    for order in (1, 2, 3):
        index = p.find(order, 1)
        lines = gel.lines.omega[index]
        free = bare.partials.frequency_hz[bare.partials.find(order, 1)]
        assert lines[1].real / (2 * np.pi) == pytest.approx(free, rel=1e-2)
        assert lines[0].imag > 1.5 * lines[1].imag
    # the blow comes in line with rod 1: it drives the held line, and hardly the other
    first = p.find(1, 1)
    assert abs(gel.lines.here[first, 0]) > 20.0 * abs(gel.lines.here[first, 1])
    quarter = predict(replace(TOM, mufflers=(Muffler("gel", rod=2.5),)))  # 90 degrees on
    assert decay_of(quarter, 1) > 1.3 * decay_of(gel, 1)


def test_more_muffling_is_deader_and_pitches_are_read_without_it() -> None:
    bare = predict(FLOOR)
    tape = predict(replace(FLOOR, mufflers=(Muffler("tape"),)))
    two = predict(replace(FLOOR, mufflers=(Muffler("tape"), Muffler("tape", rod=5.5))))
    assert decay_of(bare, 0) > decay_of(tape, 0) > decay_of(two, 0)
    assert tape.lug_pitches_hz == bare.lug_pitches_hz


def test_a_small_mass_lowers_a_mode_as_rayleigh_says() -> None:
    """df / f = - m w(r)^2 / 2 M for a small mass (Rayleigh, Theory of Sound I, section 90, from
    memory)."""
    from unittest import mock

    light = kinds.MufflerKind("speck", 1e-5, 0.0, 0.001)
    bare = predict(TOM)
    with mock.patch.dict(kinds.MUFFLERS, {"speck": light}):
        speck = predict(replace(TOM, mufflers=(Muffler("speck", place=0.4, rod=1.0),)))
    place = strikes(bare.partials, 0.4)
    for order in (0, 1, 2):
        i, j = bare.partials.find(order, 1), speck.partials.find(order, 1)
        assert speck.lines is not None
        got = speck.lines.omega[j, 0].real / (2 * np.pi) / bare.partials.frequency_hz[i] - 1.0
        assert got == pytest.approx(-0.5 * 1e-5 * abs(place[i]) ** 2, rel=0.03)


def test_a_loose_ring_agrees_with_a_floating_ring_solved_in_full() -> None:
    """The same ring once as muffling on solved modes, once in the mass matrix of the head; lifting
    and falling only: a ring laid on does not take what one held under the edge does as it turns."""
    radius = TOM.shell.radius_m
    area = np.pi * radius**2 * (RING_TO**2 - RING_FROM**2)
    head = TOM.batter.head
    thickness = 0.008 / area / head.substance.density_kg_per_m3.value
    ring = Addition("floating", RING_FROM * radius, RING_TO * radius, thickness)
    tension = predict(TOM).tensions_n_per_m
    plain = TOM.with_setting("batter", TOM.batter.at_tension(tension[0]))
    plain = plain.with_setting("resonant", TOM.setting("resonant").at_tension(tension[1]))
    ringed = replace(head, name="lifts only", additions=(ring,))
    with mock.patch.dict(TURNING_LOSS, floating=0.0):
        full = predict(plain.with_setting("batter", replace(plain.batter, head=ringed)))
    laid = predict(replace(plain, mufflers=(Muffler("ring"),)))
    for order in (0, 1):
        i, j = full.partials.find(order, 1), laid.partials.find(order, 1)
        cents = 1200 * np.log2(full.partials.frequency_hz[i] / laid.partials.frequency_hz[j])
        assert abs(cents) < 3.0
        ratio = full.partials.t60_s[i] / laid.partials.t60_s[j]
        assert ratio == pytest.approx(1.0, abs=0.06)


@pytest.mark.parametrize(
    ("muffler", "complaint"),
    [
        (lambda: Muffler("blanket"), "is not a kind of muffling"),
        (lambda: Muffler("tape", side="below"), "'below' is not a side"),
        (lambda: Muffler("tape", place=1.5), "Use"),
        (lambda: replace(TOM, mufflers=(Muffler("tape", rod=9.0),)), "of 6"),
        (lambda: replace(TOM, mufflers=tuple(Muffler("tape") for _ in range(9))), "up to 8"),
        (
            lambda: replace(TOM, mufflers=(Muffler("tape", "resonant"),), resonant=None),
            "the drum has none",
        ),
    ],
)
def test_muffling_that_cannot_be_is_said(muffler: object, complaint: str) -> None:
    with pytest.raises(InputError) as caught:
        muffler()  # type: ignore[operator]
    assert complaint in caught.value.one_line()


def test_decay_constant_is_what_t60_means() -> None:
    assert pytest.approx(np.log(1000.0)) == const.AUDIBLE_DECAY_NEPER


def test_a_reference_tone_is_in_tune_and_two_beat() -> None:
    """By another way: crossings of zero for the pitch, the envelope for the beat."""
    one = tone(146.83, 4.0)
    assert one.seconds == pytest.approx(4.0)
    assert float(np.abs(one.samples).max()) <= 1.0
    assert abs(one.samples[0]) < 1e-6
    assert abs(one.samples[-1]) < 1e-3
    spectrum = np.abs(np.fft.rfft(one.samples * np.hanning(len(one.samples)), 1 << 20))
    peak = int(np.argmax(spectrum)) * one.rate_hz / (1 << 20)
    assert 1200.0 * abs(math.log2(peak / 146.83)) < 0.5
    both = tone(220.0, 4.0, 222.5)
    frames = both.samples[: 4 * both.rate_hz].reshape(-1, both.rate_hz // 100)
    loud = np.sqrt(np.mean(frames**2, axis=1))
    slow = np.abs(np.fft.rfft(loud - loud.mean()))
    assert (int(np.argmax(slow[1:])) + 1) / 4.0 == pytest.approx(2.5, abs=0.26)
    for bad in ({"hz": 5.0, "seconds": 1.0}, {"hz": 200.0, "seconds": 900.0}):
        with pytest.raises(InputError):
            tone(**bad)
