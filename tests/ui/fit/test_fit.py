"""Fitting a head, by keys as with a foot-switch."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pypdf
import pytest
import vobject
from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.fit.fit_page import FitPage
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window

Wait = Callable[..., None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(wait: Wait) -> Iterator[MainWindow]:
    made = opened(wait)
    yield made
    made.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def opened(wait: Wait) -> MainWindow:
    made = open_window("demo", SettingsStore(Settings(theme="light")))
    made.resize(1280, 800)
    made.document.select(2)
    wait(lambda: made.result is not None and made.result.drum == made.document.drum)
    QTest.keyClick(made, Qt.Key.Key_F9)
    built(made, wait)
    return made


def built(window: MainWindow, wait: Wait) -> None:
    fit = window.pages.fit
    wait(lambda: fit.procedure is not None)


def through(fit: FitPage) -> None:
    """The step done as a technician does it: a question answered, a time let run or gone over."""
    step = fit._step()
    assert step is not None
    if step.ask is not None:
        QTest.keyClick(fit, Qt.Key.Key_Y if step.ask.good == "yes" else Qt.Key.Key_N)
    else:
        QTest.keyClick(fit, Qt.Key.Key_Space)
    if fit.advice.isVisible():
        assert "timer not started" in fit.advice.text()
        assert fit._step() == step
        QTest.keyClick(
            fit, Qt.Key.Key_N if step.ask and step.ask.good == "no" else Qt.Key.Key_Space
        )


def test_a_head_is_fitted_with_one_key(window: MainWindow, wait: Wait) -> None:
    fit = window.pages.fit
    assert fit.title.text() == "Is it an old instrument?"
    assert "conservator" in fit.caution.text()
    assert fit.procedure is not None
    for number in range(len(fit.procedure.steps)):
        assert fit.count.text() == f"Step {number + 1} of {len(fit.procedure.steps)}"
        window.grab()  # every picture can be painted
        through(fit)
    assert fit.title.text() == "Head fitted"
    assert fit.fitting is not None
    assert fit.fitting.outcome == "finished"
    assert fit.done.text() == "Go to Clear (Space)"
    assert window.document.undo_text == "done: Go to clearing"
    QTest.keyClick(fit, Qt.Key.Key_Backspace)
    assert fit.fitting.outcome == ""
    for _ in range(3):
        if fit.fitting.outcome == "":
            through(fit)
    assert fit.fitting.outcome == "finished"
    QTest.keyClick(fit, Qt.Key.Key_Space)
    assert window.pages.clear.isVisible()
    assert window.pages.clear.bench.side == fit.side_now


def test_a_wrong_answer_gives_advice_and_an_old_drum_ends_it(
    window: MainWindow, wait: Wait
) -> None:
    fit = window.pages.fit
    QTest.keyClick(fit, Qt.Key.Key_Y)  # it is historic
    assert fit.title.text() == "Stopped"
    assert "conservator" in fit.text.text()
    assert not fit.done.isEnabled()
    fit.begin()
    assert fit.title.text() == "Is it an old instrument?"
    QTest.keyClick(fit, Qt.Key.Key_N)
    fit._on_step_clicked(fit.steps.item([s.key for s in fit.procedure.steps].index("rods_free")))  # type: ignore[union-attr]
    QTest.keyClick(fit, Qt.Key.Key_N)
    assert "Replace a rod that still binds before the" in fit.advice.text()
    assert fit.title.text() == "Clean the rods"


def test_progress_survives_closing_and_the_timer_runs_on(wait: Wait) -> None:
    first = opened(wait)
    fit = first.pages.fit
    for _ in range(3):
        through(fit)
    fit._on_step_clicked(fit.steps.item([s.key for s in fit.procedure.steps].index("settle")))  # type: ignore[union-attr]
    QTest.keyClick(fit, Qt.Key.Key_T)
    assert "left" in fit.timer.text()
    fit.note.setText("crackles")
    fit.note.editingFinished.emit()
    first.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    again = opened(wait)
    fit = again.pages.fit
    assert fit.title.text() == "Let it settle"
    assert "left" in fit.timer.text()
    assert fit.note.text() == "crackles"
    assert fit.fitting is not None
    assert fit.fitting.done == ("historic", "layout", "which_first")
    again.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def test_skipping_and_choices(window: MainWindow, wait: Wait) -> None:
    fit = window.pages.fit
    QTest.keyClick(fit, Qt.Key.Key_Space)
    fit.ask_reason = lambda step: "no bench here"  # type: ignore[method-assign]
    QTest.mouseClick(fit.skip, LEFT)
    assert "no bench here" in fit.log.text()
    fit.ask_reason = lambda step: ""  # type: ignore[method-assign]
    QTest.mouseClick(fit.skip, LEFT)
    assert "Enter a few words" in fit.advice.text()
    fit._choose(order="across")
    wait(lambda: fit.procedure is not None)
    assert fit.procedure is not None
    order = next(s.order for s in fit.procedure.steps if s.order)
    assert order == (1, 4, 2, 5, 3, 6)
    assert "opposite pairs:" in fit.reason.text()
    fit._on_side("resonant")
    wait(lambda: fit.procedure is not None and fit.procedure.side == "resonant")
    assert fit.fitting is None


def test_a_full_disk_at_done_loses_nothing(
    window: MainWindow, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    fit = window.pages.fit
    through(fit)
    real = WorkshopFile.write

    def full(self: WorkshopFile, before: object, after: object) -> None:
        raise StoreError("The disk is full.", "Make room; your changes are kept here.")

    monkeypatch.setattr(WorkshopFile, "write", full)
    through(fit)
    assert "disk is full" in window.message.text.text()
    assert fit.fitting is not None
    assert len(fit.fitting.done) == 2
    monkeypatch.setattr(WorkshopFile, "write", real)
    through(fit)
    assert not window.document.unsaved
    assert not window.message.isVisible()


def test_a_drum_deleted_in_the_middle_comes_back_with_its_progress(
    window: MainWindow, wait: Wait
) -> None:
    fit = window.pages.fit
    for _ in range(3):
        through(fit)
    window.commands.drums.remove()
    built(window, wait)
    assert window.document.current_id != 2
    window.document.undo()
    built(window, wait)
    assert fit.fitting is not None
    assert len(fit.fitting.done) == 3


def test_sheet_and_dates(window: MainWindow, wait: Wait, tmp_path: Path) -> None:
    fit = window.pages.fit
    through(fit)
    target = tmp_path / "fit.pdf"
    window.commands.asking.save = lambda *a: target  # type: ignore[method-assign]
    fit.sheet_wanted.emit()
    reader = pypdf.PdfReader(target)
    text = " ".join("".join(page.extract_text() for page in reader.pages).split())
    assert "fit the batter" in text
    assert "Order: 1 4 2 5 3 6" in text
    assert "Rods, hoops and ropes under load" in text
    assert "Round 1 of" in text
    target = tmp_path / "fit.md"
    fit.sheet_wanted.emit()
    assert "- [x] **1 Is it an old instrument?**" in target.read_text()
    target = tmp_path / "dates.ics"
    fit.calendar_wanted.emit()
    events = vobject.readOne(target.read_text()).vevent_list
    assert "Rack tom" in events[0].summary.value
    target = tmp_path / "nowhere" / "dates.ics"
    fit.calendar_wanted.emit()
    assert "cannot be written" in window.message.text.text()
