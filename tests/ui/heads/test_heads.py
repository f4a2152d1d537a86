"""Choosing heads, driven as a technician drives it."""

from __future__ import annotations

import csv
import shutil
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from pathlib import Path

import pypdf
import pytest
import soundfile
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.core.acoustics.solver.lug import lug_pitch
from kesselton.core.instrument.head import Head
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.heads.buy_dialog import BuyDialog, write_buy_pdf
from kesselton.ui.heads.store_dialog import StoreDialog
from kesselton.ui.parts.widgets.fields import Choice
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import settled

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(window: MainWindow, wait: Wait) -> MainWindow:
    window.document.select(2)
    settled(window, wait)
    QTest.keyClick(window, Qt.Key.Key_F5)
    searched(window, wait)
    return window


def searched(window: MainWindow, wait: Wait) -> None:
    wait(
        lambda: window.pages.heads.candidates is not None and not window.pages.heads.chooser.running
    )


def pick(choice: Choice, key: object) -> None:
    place = next(i for i, (k, _) in enumerate(choice._options) if k == key)
    choice.box.setCurrentIndex(place)
    choice.box.activated.emit(place)


def test_the_best_pair_is_taken_and_becomes_the_plan(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    assert heads.isVisible()
    assert heads.list.current == heads.list.rows.order[0]
    assert "possible on this drum" in heads.state.text()
    best = heads.list.current
    assert heads.candidates is not None
    names = [head.name for head in heads.candidates.heads[best]]
    assert names[0] in heads.title.text()
    promised = float(heads.candidates.measures.fundamental_hz[best])
    QTest.mouseClick(heads.take, LEFT)
    assert window.page_name == "tuning"
    wait(lambda: window.result is not None and window.result.drum == window.document.drum)
    drum = window.document.drum
    assert drum is not None
    assert [drum.setting(side).head.name for side in drum.sides] == names
    assert window.result is not None
    assert window.result.prediction.fundamental_hz == pytest.approx(promised, rel=2e-3)
    assert window.document.undo_text == "use heads"
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.document.drum is not None
    assert window.document.drum.batter.head.name == "single 10 mil, coated"


def test_a_pair_is_taken_with_the_muffling_that_helps_it(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    wait(heads.muffle.isEnabled)
    told, number = heads.gained, heads.list.current
    assert told, "a medium tom in a dry room rings longer than it is asked to"
    assert heads.candidates is not None
    name = heads.candidates.heads[number][0].name
    said = heads.why.reasons[3].text.text()
    assert "decay" in said
    assert len(said.splitlines()) == min(len(told), 3)
    assert "points, place" in heads.why.reasons[4].text.text()
    QTest.mouseClick(heads.muffle, LEFT)
    drum = window.document.drum
    assert drum is not None
    assert drum.mufflers == told[0].muffled.mufflers
    assert drum.batter.head.name == name
    wait(lambda: window.result is not None and window.result.drum == drum)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.document.drum is not None
    assert window.document.drum.mufflers != told[0].muffled.mufflers


def test_a_changed_brief_searches_again_and_is_kept_with_the_drum(
    window: MainWindow, wait: Wait
) -> None:
    first = window.pages.heads.candidates
    pick(window.pages.heads.form.choices["density"], "busy")
    wait(lambda: window.pages.heads.candidates not in (None, first))
    searched(window, wait)
    entry = window.document.workshop.entry(2)
    assert entry is not None
    assert entry.brief is not None
    assert entry.brief.density == "busy"
    assert window.document.undo_text == "requirements"
    window.document.undo()
    assert window.pages.heads.form.brief.density == "medium"


def test_wishes_that_cannot_be_are_answered_with_the_nearest(
    window: MainWindow, wait: Wait
) -> None:
    form = window.pages.heads.form
    pick(form.target, "note")
    assert form.brief.fundamental_hz == pytest.approx(125.7, abs=0.5)  # what it sounds now
    form.pitch.line.setText("F5")
    form.pitch.line.editingFinished.emit()
    wait(lambda: "No pair meets this" in window.pages.heads.state.text())
    text = window.pages.heads.state.text()
    assert "Closest:" in text
    assert "too high" in text
    assert not window.pages.heads.take.isEnabled()
    assert window.pages.heads.list.current == -1


def test_a_brief_that_contradicts_itself_stays_for_correction(
    window: MainWindow, wait: Wait
) -> None:
    form = window.pages.heads.form
    before = form.brief
    form._change(interval_cents=300.0)
    assert "leave the interval empty" in form.fault.text()
    assert form.brief == before
    pick(form.school, "interval")
    assert form.brief.interval_cents == 500.0
    assert form.fault.text() == ""


def test_sliders_put_the_pairs_in_another_order_at_once(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    found = heads.candidates
    for key, slider in heads.why.sliders.items():
        slider.setValue(50 if key == "bright" else 0)
    assert heads.candidates is found  # nothing was searched again
    assert found is not None
    bright = found.measures.brightness_hz[heads.list.rows.order]
    assert list(bright) == sorted(bright, reverse=True)
    entry = window.document.workshop.entry(2)
    assert entry is not None
    assert entry.brief is not None
    assert entry.brief.weights["bright"] == 5.0


def test_heads_says_why_a_pair_is_first_and_what_it_lacks(window: MainWindow, wait: Wait) -> None:
    """Against the second, in points that add up; any other pair against the first."""
    heads = window.pages.heads
    window.show()
    found = heads.candidates
    assert found is not None
    order = heads.list.rows.order
    heads.list.choose(int(order[0]))
    against, lacks, *_others = heads.why.reasons
    assert against.title.text().startswith("Against the second: ")
    assert found.heads[int(order[1])][0].name in against.title.text()
    points = [float(x.split()[0].replace("−", "-")) for x in against.text.text().split("\n")]
    total = 100.0 * found.scores.total()
    apart = total[int(order[0])] - total[int(order[1])]
    assert abs(sum(points) - apart) < 0.06 + 0.05 * len(points)
    assert lacks.text.text().count("\n") <= 2
    heads.list.choose(int(order[3]))
    assert against.title.text().startswith("Against the first: ")
    assert not any(slider.isVisible() for slider in heads.why.sliders.values())
    fold = next(iter(heads.why.folds.values()))
    fold.button.click()
    wait(lambda: any(slider.isVisible() for slider in heads.why.sliders.values()))


def test_filters_and_an_empty_library(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    first = heads.candidates
    QTest.keyClicks(heads.form.search, "two-ply")
    wait(lambda: "No resonant head matches" in heads.state.text())
    assert "Clear the filter" in heads.state.text()
    heads.form.search.clear()
    wait(lambda: heads.candidates not in (None, first))
    pick(heads.form.filter, "open")
    wait(lambda: not heads.chooser.running and heads.candidates is not None)
    searched(window, wait)
    found = heads.candidates
    assert found is not None
    wait(
        lambda: (
            heads.candidates is not None and not any(p[0].additions for p in heads.candidates.heads)
        )
    )


def test_marking_comparing_and_walking_by_keys(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    heads.list.setFocus()
    QTest.keyClick(heads.list, Qt.Key.Key_C)
    QTest.keyClick(heads.list, Qt.Key.Key_Down)
    QTest.keyClick(heads.list, Qt.Key.Key_Down)
    QTest.keyClick(heads.list, Qt.Key.Key_C)
    assert len(heads.marked) == 2
    assert heads.compare.text() == "Compare 2"
    QTest.mouseClick(heads.compare, LEFT)
    wait(lambda: len(window.pages.compare.predictions) == 2)
    assert heads.candidates is not None
    for number, found in zip(heads.marked, window.pages.compare.predictions, strict=True):
        promised = float(heads.candidates.measures.fundamental_hz[number])
        assert found.fundamental_hz == pytest.approx(promised, rel=2e-3)
    window.grab()  # paints all three pictures
    QTest.keyClick(window.pages.compare, Qt.Key.Key_Escape)
    assert window.pages.currentWidget() is heads
    point = heads.tradeoff.picture.point(heads.list.rows.order[7])
    QTest.mouseClick(heads.tradeoff.picture, LEFT, pos=point.toPoint())
    assert heads.list.current in heads.candidates.feasible
    pick(heads.tradeoff.boxes[0], "feel")
    assert heads.tradeoff.axes[0] == "feel"


def test_a_search_is_stopped_and_begun_again(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    pick(heads.form.choices["touch"], "hard")
    assert heads.chooser.running
    QTest.mouseClick(heads.cancel, LEFT)
    assert "Stopped" in heads.state.text()
    assert not heads.chooser.running
    pick(heads.form.choices["touch"], "light")
    searched(window, wait)
    assert "possible" in heads.state.text()


def test_listening_where_there_is_no_loudspeaker(
    window: MainWindow, wait: Wait, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_RUNTIME_DIR", "/nonexistent")  # no server answers there
    monkeypatch.setenv("PULSE_SERVER", "/nonexistent/native")
    heads, listener = window.pages.heads, window.listener
    QTest.keyClick(heads.list, Qt.Key.Key_L)
    wait(lambda: len(listener.last) == 1)
    assert window.sound_bar.isVisible()
    wait(lambda: not listener.player.playing)
    assert "no speakers found:" in window.sound_bar.text.text().casefold()
    QTest.keyClick(heads.list, Qt.Key.Key_Down)
    QTest.keyClick(heads.list, Qt.Key.Key_L)
    wait(lambda: len(listener.last) == 2)
    second = listener.last[-1].name
    QTest.keyClick(window, Qt.Key.Key_B)
    assert listener.last[-1].name != second
    path = tmp_path / "stroke.flac"
    window.commands.asking.save = lambda *a: path  # type: ignore[method-assign]
    QTest.mouseClick(window.sound_bar.save, LEFT)
    samples, rate = soundfile.read(path)
    assert rate == 48000
    assert len(samples) > 0.3 * rate
    window.commands.asking.save = lambda *a: tmp_path / "no" / "where.wav"  # type: ignore[method-assign]
    QTest.mouseClick(window.sound_bar.save, LEFT)
    assert "cannot be written" in window.message.text.text()


def test_muffling_is_typed_and_heard(window: MainWindow, wait: Wait) -> None:
    QTest.keyClick(window, Qt.Key.Key_F6)
    window.tuning.choose_part("batter")
    assert window.result is not None
    before = window.result.prediction
    field = window.tuning.forms.batter.muffling
    field.line.setText("gel, rod 1.5, 80 %; tape")
    field.line.editingFinished.emit()
    wait(lambda: window.result is not None and window.result.drum == window.document.drum)
    drum = window.document.drum
    assert drum is not None
    assert [m.kind for m in drum.mufflers] == ["gel", "tape"]
    after = window.result.prediction
    assert (
        after.partials.t60_s[after.partials.fundamental]
        < before.partials.t60_s[before.partials.fundamental]
    )
    for text, complaint in (("blanket", "not a kind of muffling"), ("gel, left", "neither a rod")):
        field.line.setText(text)
        field.line.editingFinished.emit()
        assert complaint in field.fault.text()
        assert window.document.drum == drum
    field.line.setText("tape, rod 9")
    field.line.editingFinished.emit()
    assert "of 6" in field.fault.text()


def test_stock_favourites_and_a_head_of_ones_own(
    window: MainWindow, wait: Wait, tmp_path: Path
) -> None:
    window.commands.workshop.stock()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, StoreDialog)
    names = [offer.head.name for offer in dialog.shown]
    model = dialog.table.rows
    model.setData(model.index(names.index("single 10 mil, clear"), 3), 3)
    liked = model.index(names.index("single 10 mil, coated"), 2)
    model.setData(liked, Qt.CheckState.Checked, Qt.ItemDataRole.CheckStateRole)
    shelf = window.document.workshop
    assert shelf.shelved("single 10 mil, clear", 12.0).stock == 3
    assert shelf.shelved("single 10 mil, coated", 12.0).favourite
    form = dialog.form
    form.make()
    assert "no name" in form.fault.text()
    form.name.setText("trial film")
    form.make()
    assert "Neither a weight nor two lug pitches" in form.fault.text()
    form.mass.set_state(900.0)
    form.make()
    assert "not possible for" in form.fault.text() or "Added" in form.fault.text()
    form.name.setText("weighed film")
    form.mass.set_state(95.0)
    form.hoop.set_state(69.0)
    form.make()
    assert "Added" in form.fault.text()
    own = window.document.workshop.library[-1]
    assert own.name == "weighed film"
    assert own.base_density_kg_per_m2 == pytest.approx(0.026 / (0.7853982 * 0.3048**2), rel=1e-6)
    dialog.accept()
    pick(window.pages.heads.form.filter, "stock")
    wait(lambda: not window.pages.heads.chooser.running)
    copy = tmp_path / "copy.kesselton"
    shutil.copy2(window.document.path, copy)
    with WorkshopFile.open(copy) as file:
        assert file.load().shelf == window.document.workshop.shelf


def test_a_head_is_known_by_two_pitches(window: MainWindow, wait: Wait) -> None:
    window.commands.workshop.stock()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, StoreDialog)
    drum = window.document.drum
    assert drum is not None
    known = next(h for h in window.document.workshop.library if h.name == "single 10 mil, clear")
    heavy = Head("heavy", areal_density_kg_per_m2=0.6)
    tension = 1500.0
    pitches = [
        lug_pitch(
            drum.with_setting("batter", replace(drum.batter, head=head)), "batter", (tension, 900.0)
        )
        for head in (known, heavy)
    ]
    form = dialog.form
    form.name.setText("heard film")
    form._on_known(known)
    form.known_hz.set_state(pitches[0])
    form.own_hz.set_state(pitches[1])
    form.make()
    assert "Added" in form.fault.text()
    assert window.document.workshop.library[-1].base_density_kg_per_m2 == pytest.approx(
        0.6, rel=0.01
    )
    form.name.setText("impossible")
    form.own_hz.set_state(1900.0)
    form.make()
    assert "No head gives" in form.fault.text()
    dialog.accept()


def test_the_buy_list_counts_against_stock(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    workshop = window.document.workshop
    noted = workshop.shelved("textured fiber 14 mil", 32.0)
    window.document.commit("stock", workshop.with_shelved(replace(noted, stock=1)))
    window.commands.asking.save = lambda *a: tmp_path / "buy.csv"  # type: ignore[method-assign]
    window.commands.workshop.buy_list()
    dialog = window.commands.hands.dialog
    assert isinstance(dialog, BuyDialog)
    QTest.mouseClick(dialog.csv, LEFT)
    with (tmp_path / "buy.csv").open(encoding="utf-8") as stream:
        every = list(csv.DictReader(stream))
    rows = {row["what"]: row for row in every}
    hides = [row["note"] for row in every if row["what"] == "calf skin 18 mil"]
    fibre = rows["textured fiber 14 mil"]
    assert (fibre["needed"], fibre["stock"], fibre["buy"]) == ("2", "1", "1")
    assert fibre["size"] == "32 in"
    assert any("20 in wide" in note for note in hides)  # a 16 in drum, hide 4 in wider
    assert rows["impact patch"]["for_drums"] == "Bass"
    dialog.tick([5], False)
    assert "textured fiber 14 mil" not in {line.what for line in dialog.lines}
    many = dialog.lines * 12
    path = tmp_path / "buy.pdf"
    write_buy_pdf(path, many, "Tern Island Opera", date(2026, 11, 25))
    reader = pypdf.PdfReader(path)
    assert len(reader.pages) >= 2
    text = " ".join("".join(page.extract_text() for page in reader.pages).split())
    assert "impact patch" in text
    assert "Tern Island Opera" in text
    dialog.accept()


def test_pairs_of_one_drum_are_never_taken_for_another(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    heads.list.setFocus()
    QTest.keyClick(heads.list, Qt.Key.Key_C)
    QTest.keyClick(heads.list, Qt.Key.Key_Down)
    QTest.keyClick(heads.list, Qt.Key.Key_C)
    QTest.mouseClick(heads.compare, LEFT)
    wait(lambda: len(window.pages.compare.predictions) == 2)
    first = heads.marked[0]
    window.document.select(4)
    assert heads.isVisible()
    before = window.document.drum
    heads.take_pair(first)
    window.pages.listen_to(first)
    assert window.document.drum == before
    assert (heads.marked, heads.compare.text()) == ([], "Compare")
    searched(window, wait)
    QTest.keyClick(window, Qt.Key.Key_F6)
    window.document.select(2)
    assert heads.candidates is None


def test_a_search_ends_with_its_drum(window: MainWindow, wait: Wait) -> None:
    heads = window.pages.heads
    window.document.select(4)
    assert heads.chooser.running
    while window.document.drum is not None:
        window.document.remove_drum()
    assert not heads.chooser.running
    assert (heads.candidates, heads.title.text(), heads.bar.isVisible()) == (None, "", False)
    window.document.undo()
    searched(window, wait)


def test_a_large_search_shows_a_few_pairs_at_once_and_keeps_what_was_chosen_among_them(
    window: MainWindow, wait: Wait
) -> None:
    from kesselton.core.heads import choose as module

    heads = window.pages.heads
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(module, "FIRST_SETTINGS", 24)
        shown: list[tuple[bool, int]] = []

        def early(found: module.Candidates) -> None:
            shown.append((heads.chooser.running and heads.bar.isVisible(), len(found)))
            heads.list.setCurrentIndex(heads.list.rows.index(1))
            picked.append(found.heads[heads.list.current])
            heads.toggle_mark(heads.list.current)

        picked: list[object] = []
        heads.chooser.first.connect(early)
        window.document.select(4)
        wait(lambda: bool(shown) and not heads.chooser.running)
    assert shown[0][0]
    assert heads.candidates is not None
    assert shown[0][1] < len(heads.candidates)
    assert heads.candidates.heads[heads.list.current] == picked[-1]
    assert [heads.candidates.heads[one] for one in heads.marked] == [picked[-1]]
    assert heads.title.text().splitlines()[0].endswith(picked[-1][0].name)  # type: ignore[index]


def test_what_was_noticed_of_the_last_head_says_what_the_next_must_do(
    window: MainWindow, wait: Wait
) -> None:
    heads = window.pages.heads
    form = heads.form

    def first_batter() -> Head:
        searched(window, wait)
        assert heads.candidates is not None
        return heads.candidates.heads[heads.list.rows.order[0]][0]

    assert len(first_batter().plies_m) == 1
    pick(form.last, "pits")
    assert "tougher" in form.advice.text()
    assert form.brief.durability == "long"
    batter = first_batter()
    tough = len(batter.plies_m) > 1 or batter.film_thickness_m > 3e-4
    assert tough or any(a.kind == "dot" for a in batter.additions)
    window.document.undo()
    assert form.brief.durability == "normal"
    pick(form.last, "low_lost")
    assert "Measure" in form.advice.text()
    pick(form.choices["density"], "busy")
    assert "higher" in form.advice.text()
    window.document.select(3)
    assert form.advice.text() == ""
    before = form.brief
    pick(form.last, "taped")
    assert form.brief.weights["control"] > 0.0
    pick(form.last, "pits")  # the second begins where the first did
    assert "control" not in form.brief.weights
    assert form.brief.durability == "long"
    pick(form.last, "")
    assert form.brief == before
