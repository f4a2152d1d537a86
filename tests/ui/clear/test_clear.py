"""Clearing a head by hand and by keys, on the bench that is not there."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from scipy.signal import resample_poly

from kesselton import cli
from kesselton.app.bench.simulated_bench import TAP_RATE_HZ as RATE_HZ
from kesselton.app.bench.simulated_bench import SimulatedBench
from kesselton.app.sound.microphone import RATE_HZ as MICROPHONE_HZ
from kesselton.app.sound.microphone import TAP_S, Microphone
from kesselton.core.acoustics.solver.lug import tensions
from kesselton.core.clear.clearing_records import Clearing, at_rod
from kesselton.core.clear.taps.tap import hear
from kesselton.core.errors import InputError
from kesselton.core.instrument.drum import Drum
from kesselton.store.formats.readings_file import readings_to_text
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.clear.clear_page import ClearPage
from kesselton.ui.parts.words import wording
from kesselton.ui.window.main_window import MainWindow
from tests.ui.real_keys import wait_a_while

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(window: MainWindow, wait: Wait) -> MainWindow:
    QTest.keyClick(window, Qt.Key.Key_F12)
    known(window.pages.clear, wait)
    return window


def known(stage: ClearPage, wait: Wait) -> None:
    wait(lambda: stage.settled is not None)


def key(stage: ClearPage, code: Qt.Key) -> None:
    QTest.keyClick(stage, code)
    taken(stage)


def taken(stage: ClearPage) -> None:
    """The simulated bench has read."""
    wait_a_while(20.0, lambda: not stage.sources.busy)


def test_the_demo_is_half_cleared_and_ends_clear(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    assert len(stage.clearing.rounds) == 2
    assert stage.now == 5
    assert "round 2: tap rod 5" in stage.title.text()
    assert stage.panel.degrees.text() == "4 to go"
    assert "sounds opposite rods together" in stage.unseen.text()
    for _ in range(4):
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    rounds = 2
    while stage.cleared is not None and stage.cleared.order and rounds < 5:
        assert stage.panel.caption.text() == "Turn next"
        assert "tighten" in stage.panel.turn.text() or "loosen" in stage.panel.turn.text()
        for _ in stage.cleared.order:
            key(stage, Qt.Key.Key_Space)
        rounds += 1
        assert len(stage.clearing.rounds) == rounds
        for _ in range(8):
            key(stage, Qt.Key.Key_T)
        known(stage, wait)
    head = stage.sources.bench.head(1, window.document.drum, stage.clearing)  # type: ignore[arg-type]
    assert np.ptp(1200.0 * np.log2(head.pitches())) < 10.0
    assert stage.panel.rod.text() == "Clear"
    window.grab()


def test_keys_take_back_and_skip(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    key(stage, Qt.Key.Key_T)
    assert stage.now == 6
    assert "rod 5" in stage.panel.heard_more.text()
    key(stage, Qt.Key.Key_Backspace)
    assert stage.now == 5
    assert not [t for t in stage.clearing.now.taps if t.rod == 5]
    key(stage, Qt.Key.Key_S)
    assert stage.now == 6
    x = stage.strip._x(1)
    QTest.mouseClick(stage.strip, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(round(x), 100))
    assert stage.now == 2
    known(stage, wait)
    key(stage, Qt.Key.Key_Space)
    assert stage.panel.caption.text() == "Turn next"
    key(stage, Qt.Key.Key_Space)
    if stage.clearing.walk.turned:
        key(stage, Qt.Key.Key_Backspace)
        assert stage.clearing.walk.turned == 0
    window.document.undo()
    known(stage, wait)


def test_keys_pressed_while_the_bench_reads_come_after_it(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    for code in (Qt.Key.Key_T, Qt.Key.Key_T, Qt.Key.Key_Backspace, Qt.Key.Key_T):
        QTest.keyClick(stage, code)
    wait(lambda: not stage.sources.busy and not stage._after)
    assert [t.rod for t in stage.clearing.now.taps if t.kind == "lug_pitch"][-2:] == [5, 6]
    QTest.keyClick(stage, Qt.Key.Key_T)
    window.document.select(2)  # the reading belongs to no drum any more
    taken(stage)
    window.document.select(1)
    assert [t.rod for t in stage.clearing.now.taps if t.kind == "lug_pitch"][-1] == 6


def test_a_reading_between_turns_ends_the_round_with_what_was_turned(
    window: MainWindow, wait: Wait
) -> None:
    stage = window.pages.clear
    for _ in range(4):
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    assert stage.cleared is not None
    first, turns = stage.cleared.order[0], stage.cleared.plan.turns
    assert len(stage.cleared.order) > 1
    key(stage, Qt.Key.Key_Space)
    key(stage, Qt.Key.Key_T)
    assert len(stage.clearing.rounds) == 3
    done = stage.clearing.rounds[1].turns
    assert done[first - 1] == turns[first - 1] != 0.0
    assert sum(1 for turn in done if turn) == 1
    assert [tap.rod for tap in stage.clearing.now.taps if tap.kind == "lug_pitch"] == [1]


def test_a_rod_left_alone_is_not_noted_as_turned(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    for _ in range(4):
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    assert stage.cleared is not None
    order, turns = stage.cleared.order, stage.cleared.plan.turns
    key(stage, Qt.Key.Key_S)
    key(stage, Qt.Key.Key_Backspace)  # not left after all
    assert stage.now == order[0]
    key(stage, Qt.Key.Key_Space)
    for _ in order[1:]:
        key(stage, Qt.Key.Key_S)
    assert len(stage.clearing.rounds) == 3
    done = stage.clearing.rounds[1].turns
    assert done[order[0] - 1] == turns[order[0] - 1]
    assert sum(1 for turn in done if turn) == 1


def test_all_rods_turned_in_mid_round_keep_what_was_turned(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    for _ in range(4):
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    assert stage.cleared is not None
    first = stage.cleared.order[0]
    key(stage, Qt.Key.Key_Space)
    stage.up.click()
    before, after = stage.clearing.rounds[1], stage.clearing.rounds[2]
    assert before.turns[first - 1] != 0.0
    assert after.turns == (0.125,) * 8


def test_a_second_reading_counts_with_the_first(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    stage.choose_source("bench_dial")
    for rod in range(1, 9):
        assert stage.now == rod
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    assert stage.cleared is not None
    once = stage.cleared.state.unseen_cents
    assert stage.panel.caption.text() == "Turn next"
    assert stage.read.text() == "Read rod 1 again (T)"
    stage.choose_source("dial")
    assert stage.panel.caption.text() == "Read next"
    first = stage.clearing.now.taps[-8].value
    stage.value.setText(f"{first + 1.0}")
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    both = stage.clearing.now.taps[-1]
    assert (both.kind, both.rod, both.value) == ("dial", 1, first + 0.5)
    assert both.spread == pytest.approx(0.75 / math.sqrt(2.0))
    stage.choose_source("bench_dial")
    for _ in range(7):
        key(stage, Qt.Key.Key_T)
    known(stage, wait)
    assert stage.cleared.state.unseen_cents < once
    assert "readings at the same rod are averaged" in stage.unseen.text()
    stage.pick_rod(1)
    stage.choose_source("dial")
    stage.value.setText(f"{first + 9.0}")  # far off: a correction
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    assert stage.clearing.now.taps[-1] == at_rod("dial", 1, first + 9.0)


def test_pitches_are_typed_and_slips_are_caught(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    stage.choose_source("pitch")
    before = stage.clearing
    key(stage, Qt.Key.Key_T)  # nothing to press for where pitches are typed
    assert stage.clearing == before
    for text, fault in (
        ("H7", "neither a note"),
        ("82", "gauge reading or an overtone"),
        ("3", "3 Hz"),
    ):
        stage.value.setText(text)
        QTest.keyClick(stage.value, Qt.Key.Key_Return)
        assert fault in stage.fault.text()
        assert stage.value.text() == text  # kept for correction
    stage.value.setText("C4 -10")
    QTest.keyClick(stage.value, Qt.Key.Key_Return)
    assert not stage.fault.isVisible()
    assert stage.clearing.now.taps[-1].value == pytest.approx(261.63 * 2 ** (-10 / 1200), rel=1e-4)
    stage.choose_source("dial")
    for rod in range(1, 9):
        stage.value.setText(f"{83 + 0.5 * (rod % 3)}".replace(".", ","))
        QTest.keyClick(stage.value, Qt.Key.Key_Return)
    known(stage, wait)
    assert stage.cleared is not None
    assert sum(t.kind == "dial" for t in stage.clearing.now.taps) == 8
    window.grab()


def test_patterns_steps_targets_and_all_rods(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    stage.pattern.chosen.emit("beds")
    known(stage, wait)
    assert stage.clearing.pattern == "beds"
    stage.pattern.chosen.emit("own")
    assert stage.own.isVisible()
    stage.own.line.setText("1 1 1")
    stage.own.line.editingFinished.emit()
    assert "The pattern has 3 values, but the drum has 8 rods" in stage.fault.text()
    stage.own.line.setText("1 1 0.9 1 1 1 0.9 1")
    stage.own.line.editingFinished.emit()
    assert stage.clearing.wanted[2] == 0.9
    stage.pattern.chosen.emit("even")
    stage._change("final pitch", target_hz=280.0)
    known(stage, wait)
    assert stage.cleared is not None
    assert stage.cleared.plan.all_turns > 0.1
    key(stage, Qt.Key.Key_Space)
    for _ in stage.cleared.order:
        key(stage, Qt.Key.Key_Space)
    assert stage.panel.rod.text() == "All rods"
    key(stage, Qt.Key.Key_Space)
    assert all(t > 0.05 for t in stage.clearing.rounds[-2].turns)
    before = len(stage.clearing.rounds)
    stage.bench.turn_all(-0.125)
    assert stage.clearing.rounds[-2].turns == (-0.125,) * 8
    assert len(stage.clearing.rounds) == before + 1


def test_what_rounds_taught_is_kept_with_the_drum(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    stage.bench.begin()
    assert len(stage.clearing.learned) == 6
    assert not stage.clearing.now.taps
    path = window.document.path
    window.close()
    with WorkshopFile.open(path) as file:
        kept = file.load(at_once=True).entries[0].clearings
    assert kept == (stage.clearing,)


def test_both_heads_dial_and_torque_of_the_simulated_bench(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    stage._on_side("resonant")
    for source, kind in (
        ("bench_dial", "dial"),
        ("bench_torque", "torque"),
        ("bench_tap", "lug_pitch"),
    ):
        stage.choose_source(source)
        for _ in range(3):
            stage.read_now()
            taken(stage)
        assert sum(t.kind == kind for t in stage.clearing.now.taps) == 3, stage.fault.text()
    known(stage, wait)
    assert stage.clearing.side == "resonant"
    assert len(window.document.workshop.entries[0].clearings) == 2


def test_every_head_of_the_rack_is_heard() -> None:
    """Uneven as they are: nearly every tap gets a pitch, and none of them a wrong one."""
    from kesselton.app.workshop.workshops import demo_workshop

    asked = refused = 0
    for entry in demo_workshop().entries:
        for side in entry.drum.sides:
            bench, clearing = SimulatedBench(), Clearing(side=side)
            head = bench.head(entry.id, entry.drum, clearing)
            for rod, hz in enumerate(head.pitches(), start=1):
                asked += 1
                try:
                    heard = bench.tap(entry.id, entry.drum, clearing, rod)
                except InputError:
                    refused += 1
                    continue
                off = abs(1200.0 * math.log2(heard.lug_pitch_hz / hz))
                assert off < 8.0 + 3.0 * heard.spread_cents, (entry.drum.name, side, rod)
    assert asked == 132
    assert refused <= 4


def test_a_rope_drum_is_evened_by_its_ears(window: MainWindow, wait: Wait) -> None:
    window.document.select(6)
    stage = window.pages.clear
    assert window.document.drum is not None
    assert window.document.drum.kind == "rope"
    wait(lambda: stage.bench.rods == window.document.drum.shell.rods)  # type: ignore[union-attr]
    for _ in range(stage.bench.rods):
        stage.read_now()
        taken(stage)
    known(stage, wait)
    while stage.bench.again:
        stage.read_now()
        taken(stage)
        known(stage, wait)
    assert stage.cleared is not None
    if stage.cleared.order:
        assert stage.panel.rod.text().startswith("Ear ")
        assert stage.panel.turn.text().endswith(" mm")
        assert stage.panel.turn.text().startswith(("draw down", "ease off"))
    assert "opposite ears" in stage.unseen.text()
    assert not stage.up.isVisible()
    window.document.select(1)
    wait(stage.up.isVisible)


def test_a_recording_fills_a_round(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    stage, bench = window.pages.clear, SimulatedBench()
    stage.bench.begin()
    drum = window.document.drum
    assert drum is not None
    head = bench.head(1, drum, stage.clearing)
    taps = np.concatenate([bench.sound(head, rod, rod) for rod in range(1, 9)])
    soundfile.write(tmp_path / "round.wav", taps, RATE_HZ)
    stage.import_taps(tmp_path / "round.wav")
    assert "Listening to round.wav" in stage.panel.state.text()
    wait(lambda: len([t for t in stage.clearing.now.taps if t.kind == "lug_pitch"]) == 8)
    known(stage, wait)
    assert stage.panel.state.text() == ""
    assert [t.rod for t in stage.clearing.now.taps if t.kind == "lug_pitch"] == list(range(1, 9))
    off = [1200 * math.log2(t.value / hz) for t, hz in zip(
        [t for t in stage.clearing.now.taps if t.kind == "lug_pitch"], head.pitches(), strict=True)]  # fmt: skip
    assert max(abs(c) for c in off) < 6.0
    kept = stage.clearing
    broken = (tmp_path / "round.wav").read_bytes()[:30]
    (tmp_path / "broken.wav").write_bytes(broken)
    soundfile.write(tmp_path / "nine.wav", np.tile(taps[:RATE_HZ], 9), RATE_HZ)
    soundfile.write(tmp_path / "long.wav", np.zeros(8000 * 601, dtype=np.int16), 8000)
    for name, fault in (
        ("broken.wav", "cannot be read as sound"),
        ("nine.wav", "9 taps; the drum has 8"),
        ("long.wav", "minutes long"),
        ("none.wav", "cannot be read"),
    ):
        stage.import_taps(tmp_path / name)
        wait(lambda fault=fault: fault in stage.fault.text())
    assert stage.clearing == kept


def test_no_microphone_is_a_clear_state(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage = window.pages.clear
    stage.choose_source("microphone")
    monkeypatch.setenv("XDG_RUNTIME_DIR", "/nonexistent")  # no server answers there
    monkeypatch.setenv("PULSE_SERVER", "/nonexistent/native")
    QTest.mouseClick(stage.read, LEFT)
    wait(lambda: not stage.sources.microphone.listening)
    assert "No microphone found." in stage.fault.text()
    assert stage.read.text() == "Start mic"
    stage.sources.microphone._on_failed("lost")  # as when the server dies while listening
    assert "No sound from" in stage.fault.text()
    assert "Your readings are kept" in stage.fault.text()
    assert not stage.sources.microphone.listening
    stopped: list[str] = []
    monkeypatch.setattr(stage.sources.microphone, "stop", lambda: stopped.append("stop"))
    window.choose_page("fit")  # what is heard while nobody looks is not noted
    assert stopped


def tapped_higher(drum: Drum, cents: float, rod: int) -> tuple[np.ndarray, float]:
    """A tap of the simulated batter so much over where it is set, as a microphone has it, and its
    pitch."""
    own, bench = drum.setting("batter"), SimulatedBench()
    up = own.at_tension(float(tensions(drum)[0]) * 2.0 ** (2.0 * cents / 1200.0))
    head = bench.head(1, drum.with_setting("batter", up), Clearing("batter"))
    sound = resample_poly(bench.sound(head, rod, rod), MICROPHONE_HZ // RATE_HZ, 1)
    return sound, float(head.pitches()[rod - 1])


def test_a_head_that_is_brought_up_is_followed(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    """While it listens the head goes up by six half steps: each tap is expected near those before,
    not where the head was when listening began."""
    stage, drum = window.pages.clear, window.document.drum
    assert drum is not None
    stage.bench.begin()
    stage.choose_source("microphone")
    ear = stage.sources.microphone
    monkeypatch.setattr(ear._input, "listen", lambda rate: None)
    stage.read_now()
    taps = stage.clearing.now.taps
    quiet = np.random.default_rng(2).normal(0.0, 3e-4, MICROPHONE_HZ // 2)
    for rod in range(1, 9):
        sound, _ = tapped_higher(drum, 80.0 * rod, rod)
        ear.take(np.concatenate((quiet, sound, quiet)))
        count = len(taps)
        wait(lambda count=count: len(stage.clearing.now.taps) > count)
        taps = stage.clearing.now.taps
    pitches = [tap.value for tap in taps if tap.kind == "lug_pitch"]
    assert 1200.0 * math.log2(pitches[-1] / pitches[0]) > 450.0
    assert stage.fault.text() == ""


def test_a_rod_far_off_the_others_is_heard_when_it_is_tapped_again(window: MainWindow) -> None:
    """Seven rods within a few cents, the eighth a minor third and more over them: no tone of a
    drum that rings on, as it may seem at first."""
    sources, drum = window.pages.clear.sources, window.document.drum
    assert drum is not None
    clearing = Clearing("batter")
    for rod in range(1, 8):
        clearing = clearing.with_tap(at_rod("lug_pitch", rod, 261.0 + 0.3 * rod))
    sound, hz = tapped_higher(drum, 330.0, 8)
    sources.follow(drum, clearing)
    with pytest.raises(InputError):
        sources.hear_tap(sound)
    heard = None
    for _ in range(2):
        try:
            heard = sources.hear_tap(sound)
            break
        except InputError:
            continue
    assert heard is not None
    assert heard.lug_pitch_hz == pytest.approx(hz, rel=3e-3)


def test_taps_that_come_at_once_are_all_heard(wait: Wait) -> None:
    time = np.arange(MICROPHONE_HZ) / MICROPHONE_HZ
    tap = 0.3 * sum(
        share * np.exp(-9.0 * time) * np.sin(2 * np.pi * hz * time)
        for hz, share in ((200.0, 0.6), (296.0, 0.8), (384.0, 0.7))
    )
    ear, heard = Microphone(), []
    ear.heard.connect(heard.append)
    ear.expect(lambda samples: hear(samples, MICROPHONE_HZ, 200.0), TAP_S)
    ear.take(np.concatenate((np.zeros(MICROPHONE_HZ // 5), np.tile(tap, 4))))
    wait(lambda: len(heard) == 4)
    ear.stop()
    assert [one.lug_pitch_hz for one in heard] == pytest.approx([200.0] * 4, rel=1e-3)


def test_turns_in_words() -> None:
    assert wording.fine_turn_words(1 / 64) == "1/64"
    assert wording.fine_turn_words(-2 / 64) == "1/32"
    assert wording.fine_turn_words(8 / 64) == "⅛"
    assert wording.fine_turn_words(7 / 64) == "just under ⅛"
    assert wording.fine_turn_words(17 / 64) == "just over ¼"
    assert wording.fine_turn_words(12 / 64) == "3/16"


def test_even_and_tap_from_the_shell(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    from kesselton.app.workshop.workshops import demo_workshop

    entry = demo_workshop().entries[0]
    text = readings_to_text(entry.drum, entry.clearing("batter"))
    (tmp_path / "r.json").write_text(text, encoding="utf-8")
    assert cli.main(["even", str(tmp_path / "r.json")]) == 0
    said = json.loads(capsys.readouterr().out)
    assert len(said["rods"]) == 8
    assert "sounds opposite rods together" in said["unseen"]
    bad = text.replace('"rod": 4', '"rod": 12')
    (tmp_path / "bad.json").write_text(bad, encoding="utf-8")
    assert cli.main(["even", str(tmp_path / "bad.json")]) == 2
    assert "rod 12, but the drum has 8" in capsys.readouterr().err
    (tmp_path / "odd.json").write_text(text.replace('"kind": "pitch"', '"sort": "pitch"', 1))
    assert cli.main(["even", str(tmp_path / "odd.json")]) == 2
    assert (
        "clearing.rounds.0.taps.1.sort: Unknown key 'sort'. Options: kind, rod, value, spread"
    ) in capsys.readouterr().err
    bench = SimulatedBench()
    head = bench.head(1, entry.drum, Clearing())
    soundfile.write(tmp_path / "tap.flac", bench.sound(head, 1, 1), RATE_HZ)
    assert cli.main(["tap", str(tmp_path / "tap.flac"), "--near", "260"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["lug_pitch_hz"] == pytest.approx(head.pitches()[0], rel=3e-3)
    assert set(said["partials"][0]) == {"frequency_hz", "t60_s", "level_db"}
    soundfile.write(tmp_path / "still.wav", np.zeros(16000), 16000)
    assert cli.main(["tap", str(tmp_path / "still.wav")]) == 2
    assert "is silent" in capsys.readouterr().err


def test_taps_at_one_rod_are_taken_together(window: MainWindow, wait: Wait) -> None:
    stage = window.pages.clear
    key(stage, Qt.Key.Key_T)
    first = stage.clearing.now.taps[-1]
    stage.pick_rod(5)
    key(stage, Qt.Key.Key_T)
    second = stage.clearing.now.taps[-1]
    assert second.rod == 5
    assert second.spread < first.spread
    with pytest.raises(InputError):
        at_rod("lug_pitch", 1, math.inf)
    assert replace(second, value=200.0).value == 200.0


def test_a_head_is_cleared_by_ear_with_keys_and_a_foot_switch(
    window: MainWindow, wait: Wait
) -> None:
    """No pitch is named: H, L, A, U or the page keys and Space, rod by rod; then it is turned."""
    stage = window.pages.clear
    window.document.select(2)
    stage.choose_source("ear")
    stage.bench.begin()
    assert window.document.drum is not None
    head = stage.sources.bench.head(2, window.document.drum, stage.clearing)
    before = float(np.ptp(1200.0 * np.log2(head.pitches())))
    keys = {1: (Qt.Key.Key_H, Qt.Key.Key_PageDown), -1: (Qt.Key.Key_L, Qt.Key.Key_PageUp),
            0: (Qt.Key.Key_A, Qt.Key.Key_Return)}  # fmt: skip
    for number in range(3):
        head = stage.sources.bench.head(2, window.document.drum, stage.clearing)
        pitches = head.pitches()
        for rod in range(2, 7):  # rod 1 is what the others are heard against
            assert stage.reads == rod
            apart = 1200.0 * math.log2(pitches[rod - 1] / pitches[0])
            sign = 0 if abs(apart) < 8.0 else int(math.copysign(1, apart))
            QTest.keyClick(stage, keys[sign][number % 2])
        assert stage.walk.turning
        known(stage, wait)
        while stage.bench.again:
            QTest.keyClick(stage, Qt.Key.Key_Space)  # the answers stand
            known(stage, wait)
        while stage.walk.turning:
            QTest.keyClick(stage, Qt.Key.Key_PageDown)  # turned
            if stage.cleared is not None and not stage.cleared.order:
                break
        if not stage.walk.turning:
            continue
        break
    head = stage.sources.bench.head(2, window.document.drum, stage.clearing)
    assert float(np.ptp(1200.0 * np.log2(head.pitches()))) < max(0.6 * before, 12.0)
    stage.bench.begin()
    assert "is rod 2 higher or lower than 1" in stage.title.text()
    QTest.mouseClick(stage.answers["alike"], Qt.MouseButton.LeftButton)
    assert re.search(r"like 1\. A half step there: about .+ turn$", stage.panel.heard_more.text())
    QTest.keyClick(stage, Qt.Key.Key_U)
    assert len(stage.clearing.now.taps) == 3
    QTest.keyClick(stage, Qt.Key.Key_Backspace)
    assert len(stage.clearing.now.taps) == 2
    stage.pick_rod(1)
    assert "is the reference for the others" in stage.fault.text()
