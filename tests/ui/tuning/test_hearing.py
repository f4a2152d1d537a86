"""A stroke is heard from the screen: simulated, from a recording, at a microphone; and belongs to
its drum."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.app.hearing.heard_drum import hear_drum, simulated_stroke
from kesselton.app.sound.microphone import NO_DEVICE, RATE_HZ
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.instrument.drum import Drum
from kesselton.core.prediction.prediction import predict
from kesselton.ui.tuning.heard_card import early_words, rest_words
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait


def tom(window: MainWindow, wait: Wait) -> Drum:
    window.document.select(2)
    window.choose_page("tuning")
    wait(lambda: window.bench.settled is not None)
    assert window.bench.drum is not None
    return window.bench.drum


def test_a_stroke_is_heard_by_one_key_and_laid_beside_the_plan(
    window: MainWindow, wait: Wait
) -> None:
    tom(window, wait)
    tuning = window.tuning
    assert tuning.heard is None
    assert "No stroke analyzed" in tuning.heard_card.text()
    QTest.keyClick(window, Qt.Key.Key_J)
    wait(lambda: tuning.heard is not None)
    assert "arget" in tuning.heard_card.answer.text()
    assert "Decay" in tuning.heard_card.text()
    assert "peaks identified" in tuning.heard_card.text()
    facts = tuning.readout.partial_facts.text()
    assert "measured" in facts
    told = [float(hz) for hz in re.findall(r"measured (\d+(?:\.\d+)?)", facts)]
    partials = tuning.heard.prediction.partials  # type: ignore[attr-defined]
    fundamental = float(partials.frequency_hz[partials.fundamental])
    assert told == pytest.approx([fundamental], rel=0.02)  # of the partial that is shown, alone
    assert any(row[0] == "measured" for row in tuning.ladder.table())
    names = [one.name for one in window.listener.last]
    assert names == ["Rack tom, current setting", "Rack tom, measured"]


def test_what_was_heard_belongs_to_its_drum_as_it_was_set(window: MainWindow, wait: Wait) -> None:
    drum = tom(window, wait)
    tuning, bench = window.tuning, window.bench
    tuning.hear("bench")
    bench.set_pitch("batter", 250.0, "x")  # while it is still being listened to
    wait(lambda: bench.settled is not None)
    wait(lambda: tuning.heard_card.text().startswith("No stroke analyzed"))
    assert tuning.heard is None
    window.document.undo()
    wait(lambda: bench.settled is not None)
    wait(lambda: tuning.heard is not None)
    assert tuning.heard is not None
    assert tuning.heard.drum == drum
    window.document.select(3)
    wait(lambda: bench.settled is not None)
    assert tuning.heard is None
    assert "No stroke analyzed" in tuning.heard_card.text()


def test_asked_while_the_drum_is_worked_out_it_is_heard_after(
    window: MainWindow, wait: Wait
) -> None:
    tom(window, wait)
    window.document.select(3)
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    assert window.tuning.heard is not None
    assert window.tuning.heard.drum == window.bench.drum
    window.document.select(2)
    window.tuning.hear("bench")
    window.document.select(1)  # another drum came between: that stroke is not heard of this one
    wait(lambda: window.bench.settled is not None)
    assert window.tuning.heard is None


def test_a_recording_is_heard_and_a_bad_one_refused_in_words(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drum = tom(window, wait)
    path = tmp_path / "stroke.wav"
    samples, rate = simulated_stroke(drum, predict(drum).stroke, 9)
    soundfile.write(path, samples, rate, subtype="PCM_24")
    tuning = window.tuning
    monkeypatch.setattr(tuning, "_ask_sound", lambda: path)
    tuning.heard_card.source.chosen.emit("recording")
    tuning.heard_card.button.click()
    wait(lambda: tuning.heard is not None)
    soundfile.write(path, np.zeros(rate), rate)
    tuning.heard_card.button.click()
    wait(lambda: "silent" in tuning.heard_card.text())
    soundfile.write(path, np.clip(9.0 * samples, -0.9, 0.9), rate)
    tuning.heard_card.button.click()
    wait(lambda: "clipped" in tuning.heard_card.text())


def test_strokes_at_the_microphone_are_heard_one_by_one(window: MainWindow, wait: Wait) -> None:
    """What the sound helper would send: a stream of samples with a stroke in it."""
    drum = tom(window, wait)
    tuning = window.tuning
    ears = tuning.ears
    opened: list[int] = []
    ears.microphone._input.listen = opened.append  # type: ignore[method-assign,assignment]
    tuning.hear("microphone")
    assert opened == [RATE_HZ]
    samples, _ = simulated_stroke(drum, predict(drum).stroke, 9)
    rng = np.random.default_rng(1)
    hiss = 1e-3 * rng.standard_normal(RATE_HZ)
    for block in np.array_split(np.concatenate((hiss, samples, hiss)), 60):
        ears.microphone.take(block)
    wait(lambda: tuning.heard is not None)
    assert tuning.heard is not None
    assert tuning.heard.matching.sure


def test_without_a_microphone_it_says_so(window: MainWindow, wait: Wait) -> None:
    tom(window, wait)
    window.tuning.ears.microphone._on_failed(NO_DEVICE)
    wait(lambda: "microphone" in window.tuning.heard_card.text())


def test_heard_and_computed_are_seen_side_by_side(window: MainWindow, wait: Wait) -> None:
    tom(window, wait)
    window.actions_by_id["heard"].trigger()
    assert window.commands.hands.dialog is None or not window.commands.hands.dialog.isVisible()
    assert "Analyze a stroke" in window.notice.text.text()
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    window.actions_by_id["heard"].trigger()
    dialog = window.commands.hands.dialog
    assert dialog is not None
    heard, computed = (picture.grab().toImage() for picture in dialog.pictures)  # type: ignore[attr-defined]
    assert heard.size() == computed.size()
    assert heard != computed
    found = window.tuning.heard
    assert found is not None
    for seen in found.seen:  # the fundamental is dark at first, and fainter later
        hz = found.prediction.fundamental_hz
        row = int(len(seen.level) * np.log(hz / seen.low_hz) / np.log(seen.high_hz / seen.low_hz))
        line = seen.level[row - 1 : row + 2].max(axis=0)
        assert line[4] > 0.8
        assert line[-1] < line[4] - 0.2
    dialog.play_computed.click()  # type: ignore[attr-defined]
    dialog.play_heard.click()  # type: ignore[attr-defined]
    dialog.close()


def test_heads_and_settings_like_a_stroke_that_was_heard(window: MainWindow, wait: Wait) -> None:
    """From the stroke to ranked pairs; then only the settings of the heads that are on; then a
    stroke of the Log for another drum."""
    window.document.select(2)
    wait(lambda: window.bench.settled is not None)
    assert window.tuning.heard_card.like.isHidden()
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    window.tuning.heard_card.like.click()
    heads = window.pages.heads
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert window.page_name == "heads"
    assert heads.candidates is not None
    brief = heads.candidates.brief
    assert brief.like is not None
    assert brief.like.name == "Rack tom"
    assert "Stroke on Rack tom:" in heads.form.like.text()
    best = heads.candidates.heads[heads.list.rows.order[0]]
    drum = window.document.drum
    assert drum is not None
    assert drum.resonant is not None
    assert best == (drum.batter.head, drum.resonant.head)
    heads.form.filter.chosen.emit("on")
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert set(heads.candidates.heads) == {best}
    assert len(heads.candidates) > 4
    window.choose_page("log")
    window.pages.log.like_wanted.emit(window.pages.log._log[0])
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert "2026-09" in heads.form.like.text()
    window.document.select(3)
    heads.form.filter.chosen.emit("all")
    heads.form.target.chosen.emit("stroke")  # the stroke in hand is for any drum
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert heads.candidates.drum.name == "Floor tom"
    assert heads.candidates.brief.like is not None
    assert heads.candidates.brief.like.name.startswith("Rack tom")
    heads.form.target.chosen.emit("note")
    wait(lambda: heads.candidates is not None and not heads.chooser.running)
    assert heads.candidates.brief.like is None


def test_strokes_at_several_places_are_taken_together_until_forgotten(
    window: MainWindow, wait: Wait
) -> None:
    window.document.select(2)
    wait(lambda: window.bench.settled is not None)
    seen = []
    for place in (0.0, 0.6, 0.6):
        window.bench.set_strike(replace(window.bench.strike, place=place))
        wait(lambda: window.bench.settled is not None)
        before = window.tuning.heard
        window.tuning.hear("bench")
        wait(lambda before=before: window.tuning.heard not in (None, before))
        seen.append(window.tuning.heard)
    first, second, third = seen
    assert first is not None
    assert second is not None
    assert third is not None
    assert [(one.strokes, one.places) for one in seen] == [(1, 1), (2, 2), (3, 2)]
    told = [sum(m.partial is not None for m in one.matching.matches) for one in seen]
    assert told[1] > told[0]  # in the middle only the partials without nodal diameters sound
    assert third.matching.fundamental_half_cents <= second.matching.fundamental_half_cents
    assert (
        "10 of 48 peaks identified, 3 strokes at 2 points or with 2 beaters."
        in window.tuning.heard_card.text()
    )
    window.tuning.heard_card.anew.click()
    assert window.tuning.heard is None
    window.tuning.hear("bench")
    wait(lambda: window.tuning.heard is not None)
    assert window.tuning.heard.strokes == 1


def test_glide_and_the_shell_are_said(window: MainWindow, wait: Wait) -> None:
    """A note made here that glides; and a stroke with a line where the shell speaks."""
    window.document.select(2)
    wait(lambda: window.bench.settled is not None)
    drum, settled = window.document.drum, window.bench.settled
    assert drum is not None
    assert settled is not None
    hz, shell = settled.prediction.fundamental_hz, drum.shell.shell_note_hz
    assert shell is not None
    time = np.arange(2 * RATE_HZ) / RATE_HZ
    ring = np.maximum(time - 0.1, 0.0)
    run = (1.0 - np.exp(-9.8 * ring)) / 9.8  # 30 cents sharp at first, falling with the square
    turned = 2.0 * np.pi * hz * (ring + (2.0 ** (30.0 / 1200.0) - 1.0) * run)
    sound = np.exp(-4.9 * ring) * np.sin(turned) * (ring > 0.0)
    sound += 1e-4 * np.random.default_rng(4).standard_normal(len(time))
    found = hear_strokes(0.5 * sound, RATE_HZ)[0].lines[0]
    assert 1200.0 * np.log2(found.hz / hz) == pytest.approx(0.0, abs=1.0)
    early = 1200.0 * np.log2(found.early_hz / found.hz)
    assert early == pytest.approx(30.0 * np.exp(-9.8 * 0.05), abs=4.0)
    assert "cents sharper at 50 ms" in early_words(found.hz, found.early_hz)
    samples, rate = simulated_stroke(drum, settled.stroke, 2, 1)
    ring = np.maximum(np.arange(len(samples)) / rate - 0.1, 0.0)
    rings = 0.1 * np.exp(-6.0 * ring) * np.sin(2.0 * np.pi * shell * ring) * (ring > 0.0)
    heard = hear_drum(samples + rings, rate, drum, settled.stroke)
    assert any("may be the shell" in one for one in rest_words(heard, {}))


def test_wires_that_lie_on_the_head_are_said(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A recording of so soft a stroke that it leaves the wires on the head: what is heard is no
    tuning of this head, and where to strike is no remedy."""
    number = next(e.id for e in window.document.workshop.entries if e.drum.kind == "snare")
    window.document.select(number)
    window.choose_page("tuning")
    wait(lambda: window.bench.settled is not None)
    drum, tuning = window.bench.drum, window.tuning
    assert drum is not None
    path = tmp_path / "soft.wav"
    samples, rate = simulated_stroke(drum, replace(predict(drum).stroke, touch=0.01), 3)
    soundfile.write(path, samples, rate, subtype="PCM_24")
    monkeypatch.setattr(tuning, "_ask_sound", lambda: path)
    tuning.hear("recording")
    wait(lambda: tuning.heard is not None)
    assert "The wires are on:" in tuning.heard_card.text()
    assert "throw the strainer off" in tuning.heard_card.text()
    assert "Is this the drum" not in tuning.heard_card.text()
    samples, rate = simulated_stroke(drum, predict(drum).stroke, 3)
    soundfile.write(path, samples, rate, subtype="PCM_24")
    tuning.ears.forget()
    tuning.hear("recording")
    wait(lambda: tuning.heard is not None)
    assert "strainer" not in tuning.heard_card.text()
    assert tuning.heard_card.answer.text() == "3 cents sharp of target"
    assert "Pitch 180.3 Hz ± 3" in tuning.heard_card.text()
