from __future__ import annotations

import json
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from kesselton.app.host.jobs import Latest
from kesselton.app.host.settings import (
    Settings,
    SettingsStore,
    config_dir,
    load_settings,
    save_settings,
)
from kesselton.app.prediction.predictor import Predictor
from kesselton.app.workshop.document import Document
from kesselton.app.workshop.workshops import (
    demo_workshop,
    open_default,
    open_demo,
    open_workshop,
)
from kesselton.core.errors import InputError, KesseltonError
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.window.start import check_platform, missing_libraries

Wait = Callable[..., None]


@pytest.fixture
def document(qapp: object, tmp_path: Path) -> Document:
    return Document(WorkshopFile.create(tmp_path / "w.kesselton", demo_workshop()))


def stored(document: Document, tmp_path: Path) -> object:
    repr(document.workshop)  # everything is looked at while the file is open
    document.close()
    with WorkshopFile.open(tmp_path / "w.kesselton") as file:
        return file.load(at_once=True)


def test_do_undo_redo_and_the_file_follows(document: Document, tmp_path: Path) -> None:
    start = document.workshop
    assert document.drum is not None
    document.replace_drum("name", replace(document.drum, name="Pit snare two"))
    done = document.workshop
    assert document.undo_text == "name"
    document.undo()
    assert document.workshop == start
    assert document.redo_text == "name"
    document.redo()
    assert document.workshop == done
    assert not document.unsaved
    assert stored(document, tmp_path) == done


def test_adding_removing_moving(document: Document) -> None:
    start = document.workshop
    assert document.drum is not None
    document.add_drum("add", replace(document.drum, name="another"))
    assert document.drum.name == "another"
    assert len(document.workshop.entries) == 9
    document.move_drum(-5)
    assert document.workshop.entries[3].drum.name == "another"
    document.remove_drum()
    assert document.drum.name == "Bass"
    for _ in range(3):
        document.undo()
    assert document.workshop == start
    document.undo()  # nothing left: nothing happens
    for _ in range(8):
        document.remove_drum()
    assert document.drum is None
    with pytest.raises(InputError, match="no drum to remove"):
        document.remove_drum()
    document.undo()
    assert document.drum is not None


def test_a_step_that_changes_nothing_is_none(document: Document) -> None:
    assert document.drum is not None
    document.replace_drum("nothing", document.drum)
    assert document.undo_text == ""


def test_a_save_that_fails_keeps_the_change_and_the_next_one_saves_both(
    document: Document, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    troubles: list[KesseltonError] = []
    document.save_failed.connect(troubles.append)
    assert document.drum is not None

    def full(self: WorkshopFile, before: object, after: object) -> None:
        raise StoreError("The disk is full.", "Make room.")

    with monkeypatch.context() as patch:
        patch.setattr(WorkshopFile, "write", full)
        document.replace_drum("name", replace(document.drum, name="first"))
    assert document.unsaved
    assert troubles[0].message == "The disk is full."
    document.replace_drum("name", replace(document.drum, name="second"))
    assert not document.unsaved
    assert stored(document, tmp_path) == document.workshop


def test_a_copy_goes_on_in_the_copy(document: Document, tmp_path: Path) -> None:
    target = tmp_path / "copy.kesselton"
    document.save_copy(target)
    assert document.path == target
    with WorkshopFile.open(tmp_path / "w.kesselton") as old:  # let go of
        assert replace(old.load(), name="copy") == document.workshop
    with pytest.raises(StoreError, match="already"):
        document.save_copy(tmp_path / "w.kesselton")
    document.close()


def test_undo_after_a_copy_finds_what_was_never_looked_at(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Drums taken out of a file that cannot be written, then saved elsewhere: the old file is shut."""
    path, whole = tmp_path / "w.kesselton", demo_workshop()
    WorkshopFile.create(path, whole).close()
    with monkeypatch.context() as only_here:
        only_here.setattr("kesselton.store.workshop.workshop.take_lock", lambda path: None)
        document = Document(WorkshopFile.open(path))
    for _ in whole.entries:
        document.remove_drum()
    document.save_copy(tmp_path / "copy.kesselton")
    for _ in whole.entries:
        document.undo()
    assert document.workshop.entries == whole.entries
    document.close()
    with WorkshopFile.open(tmp_path / "copy.kesselton") as copy:
        assert copy.load(at_once=True).entries == whole.entries


def test_workshops_are_made_where_they_are_looked_for(tmp_path: Path) -> None:
    with open_demo() as demo:
        assert demo.load().name == "Tern Island Opera"
    with open_demo() as again:
        assert len(again.load().entries) == 8
    with open_default("") as mine:
        assert mine.load().entries == ()
    with open_workshop(str(tmp_path / "new.kesselton")) as new:
        assert new.load().library
    with open_default(str(tmp_path / "new.kesselton")) as last:
        assert last.path.name == "new.kesselton"
    with pytest.raises(StoreError, match="file"):
        open_workshop(str(tmp_path / "absent.txt"))


def test_settings_come_back_and_faults_are_said() -> None:
    path = config_dir() / "settings.json"
    assert load_settings(path) == (Settings(), "")
    mine = {"metric": True, "a4_hz": 442.0, "theme": "dark", "flats": True}
    SettingsStore().change(**mine)
    assert load_settings(path) == (Settings(**mine), "")  # type: ignore[arg-type]
    data = json.loads(path.read_text())
    path.write_text(json.dumps({**data, "a4_hz": 300.0, "metric": "false"}))
    found, fault = load_settings(path)
    assert found == replace(Settings(**mine), a4_hz=440.0, metric=False)  # type: ignore[arg-type]
    assert "300 Hz" in fault
    assert "metric is 'false'" in fault
    path.write_text("{")
    assert load_settings(path)[0] == Settings()
    assert "cannot be read" in load_settings(path)[1]
    path.write_text('{"version": 99}')
    assert "another version" in load_settings(path)[1]


def test_each_setting_is_saved_by_itself() -> None:
    """Two programs are open, and a later version has a key of its own."""
    first, second = SettingsStore(), SettingsStore()
    first.change(a4_hz=442.0)
    path = first.path
    path.write_text(json.dumps({**json.loads(path.read_text()), "of_tomorrow": 1}))
    second.change(metric=True)
    assert load_settings(path)[0] == Settings(a4_hz=442.0, metric=True)
    assert json.loads(path.read_text())["of_tomorrow"] == 1
    told: list[None] = []
    first.changed.connect(lambda: told.append(None))
    first.change(a4_hz=442.0)
    assert told == []
    with pytest.raises(InputError, match="is not a theme"):
        first.change(theme="pink")
    assert first.values.theme == "system"


def test_settings_of_another_version_are_kept_aside() -> None:
    path = config_dir() / "settings.json"
    path.parent.mkdir(parents=True)
    path.write_text('{"version": 99, "dear": "to me"}')
    store = SettingsStore()
    assert "another version" in store.fault
    store.change(metric=True)
    assert json.loads((path.parent / "settings.aside.json").read_text())["dear"] == "to me"
    assert load_settings(path) == (Settings(metric=True), "")


def test_settings_that_cannot_be_written(tmp_path: Path) -> None:
    (tmp_path / "file").touch()
    with pytest.raises(KesseltonError, match="cannot be saved"):
        save_settings({"metric": True}, tmp_path / "file" / "settings.json")
    store = SettingsStore(path=tmp_path / "file" / "settings.json")
    failed: list[KesseltonError] = []
    store.failed.connect(failed.append)
    store.change(metric=True)
    assert store.values.metric
    assert "cannot be saved" in failed[0].message


def test_of_the_waiting_requests_only_the_newest_runs(wait: Wait) -> None:
    begun, gate = threading.Event(), threading.Event()
    done: list[object] = []
    failed: list[object] = []
    jobs = Latest(
        lambda key, result: done.append((key, result)),
        lambda key, error: failed.append((key, error.message)),
    )

    def first() -> int:
        begun.set()
        gate.wait(10)
        return 1

    jobs.request("first", first)
    assert begun.wait(10)
    jobs.request("second", lambda: 2)
    jobs.request("third", lambda: 3)
    gate.set()
    wait(lambda: ("third", 3) in done)
    assert ("second", 2) not in done

    def fails() -> None:
        raise InputError("No.")

    jobs.request("bad", fails)
    wait(lambda: bool(failed))
    assert failed == [("bad", "No.")]
    jobs.stop()


def test_a_late_rack_answer_does_not_push_out_what_waits(qapp: object) -> None:
    predictor, asked, told = Predictor(), [], []
    predictor._rack.request = lambda key, work: asked.append(key)  # type: ignore[method-assign,assignment,return-value]
    predictor.listed_pitch.connect(lambda drum_id, hz: told.append((drum_id, hz)))
    old, new, other = (entry.drum for entry in demo_workshop().entries[:3])
    predictor.ask_rack([(1, old)])
    predictor.ask_rack([(1, new), (2, other)])
    predictor._on_drum_list(asked[0], 100.0)  # of the earlier state
    assert [key[1] for key in asked] == [old, new]
    assert told == []
    predictor._on_drum_list(asked[1], 120.0)
    assert [key[1] for key in asked] == [old, new, other]
    assert told == [(1, 120.0)]


def test_what_qt_would_die_of_is_said_in_words(monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(KesseltonError, match="no display"):
        check_platform({})
    assert missing_libraries({"libno-such-thing.so.9": "libno-such-thing9"}) == [
        "libno-such-thing9"
    ]
    monkeypatch.setattr(
        "kesselton.ui.window.start.XCB_LIBRARIES", {"libno-such-thing.so.9": "libno-such-thing9"}
    )
    with pytest.raises(KesseltonError) as caught:
        check_platform({"DISPLAY": ":0"})
    assert caught.value.remedy == "Run: sudo apt-get install libno-such-thing9"
    check_platform({"QT_QPA_PLATFORM": "offscreen"})


def test_no_screen_is_one_line_in_the_shell(tmp_path: Path) -> None:
    import os

    clean = {
        k: v
        for k, v in os.environ.items()
        if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    }
    done = subprocess.run(
        [sys.executable, "-m", "kesselton", "demo"],
        capture_output=True,
        text=True,
        check=False,
        env=clean,
    )
    assert done.returncode == 2
    assert done.stderr.startswith("There is no display to open a window on")
    assert done.stderr.count("\n") == 1


def test_importing_the_window_needs_no_scipy() -> None:
    """The window comes first, before numpy; the first answer comes before scipy."""
    body = (
        "import sys, kesselton.app.workshop.workshops as w;"
        "from PySide6.QtWidgets import QApplication; app = QApplication([]);"
        "from kesselton.ui.window.start import open_window;"
        "from kesselton.app.host.settings import Settings, SettingsStore;"
        "window = open_window('demo', SettingsStore(Settings())); window.bench.predictor.hold();"
        "window.drum_list.grab(); window.close();"
        "print([m for m in ('numpy', 'scipy', 'jsonschema') if m in sys.modules]);"
        "from kesselton.app.prediction.predictor import Question, answer;"
        "from kesselton.core.instrument.beater import Stroke;"
        "answer(Question(1, w.demo_workshop().entries[3].drum, Stroke(0.3, 'pedal_felt')));"
        "print([m for m in ('numpy', 'scipy', 'jsonschema') if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", body], capture_output=True, text=True, check=True)
    assert done.stdout.splitlines() == ["[]", "['numpy']"]


def test_a_screen_that_does_not_answer_is_said_and_nothing_aborts(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setenv("DISPLAY", ":7777")
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    with pytest.raises(
        KesseltonError, match=("The display :7777 does not respond or refuses the connection")
    ):
        check_platform({"DISPLAY": ":7777"})


@pytest.mark.parametrize(
    "text", ['{"a":' * 40_000, "[" * 100_000, '{"version": 1, "x": 1' + "0" * 6000]
)
def test_settings_that_hate_us_are_left_aside(text: str, tmp_path: Path) -> None:
    path = tmp_path / "settings.json"
    path.write_text(text)
    values, fault = load_settings(path)
    assert values == Settings()
    assert "cannot be read" in fault
    save_settings({"metric": True}, path)
    assert load_settings(path)[0].metric
    assert (tmp_path / "settings.aside.json").read_text() == text


def test_without_a_home_it_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    def nobody() -> Path:
        raise RuntimeError("Could not determine home directory.")

    monkeypatch.delenv("XDG_CONFIG_HOME")
    monkeypatch.setattr(Path, "home", nobody)
    with pytest.raises(KesseltonError, match="No home folder"):
        config_dir()
