"""The main window: rack, stages, messages, and the only wiring between them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PySide6.QtCore import QTimer
from PySide6.QtGui import QCloseEvent, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from kesselton.app.bench import Bench
from kesselton.app.document import Document, Saved
from kesselton.app.listener import Listener
from kesselton.app.measuring import Planned
from kesselton.app.predictor import BenchResult
from kesselton.app.settings import Settings, SettingsStore
from kesselton.core.errors import KesseltonError
from kesselton.core.pitch import note_of
from kesselton.ui import texts
from kesselton.ui.actions import build
from kesselton.ui.bench.rack import RackView
from kesselton.ui.bench.topbar import TopBar
from kesselton.ui.bench.tuning_stage import TuningStage
from kesselton.ui.choosing.compare import ComparePage
from kesselton.ui.choosing.heads_stage import HeadsStage
from kesselton.ui.clearing.clear_stage import ClearStage
from kesselton.ui.commands import Commands
from kesselton.ui.fitting.fit_stage import FitStage
from kesselton.ui.measuring.gauges_stage import GaugesStage
from kesselton.ui.measuring.measure_stage import MeasureStage
from kesselton.ui.parts import theme
from kesselton.ui.parts.columns import scroll
from kesselton.ui.parts.display_format import DisplayFormat
from kesselton.ui.parts.messages import MessageBar, Unexpected
from kesselton.ui.parts.sound_bar import SoundBar

AFTER_FIRST_PAINT_MS = 30


class MainWindow(QMainWindow):
    """One workshop: the rack beside the stages of the work."""

    def __init__(
        self,
        document: Document,
        settings: SettingsStore,
        open_another: Callable[[str, SettingsStore], object],
    ) -> None:
        super().__init__()
        self.bench = bench = Bench(document, settings, self)
        self.bench.predictor.hold()
        self.colours = theme.LIGHT
        self.listener = Listener(self)
        self.display = display = DisplayFormat(lambda: bench.settings)
        self.commands = Commands(bench, self.listener, display, open_another, self)
        self.topbar = TopBar()
        self.rack = RackView()
        self.tuning = TuningStage(bench, display)
        self.heads = HeadsStage(display.a4_hz, display.note)
        self.compare = ComparePage()
        self.measure = MeasureStage(display.a4_hz)
        self.gauges = GaugesStage(display.a4_hz, display.note)
        self.fit = FitStage(datetime.now)
        self.clear = ClearStage(display.a4_hz, display.note, self.commands.ask_sound)
        self.sound_bar = SoundBar()
        self.message = MessageBar()
        self.stages = QStackedWidget()
        self.stage = "tuning"
        self._pages: dict[str, tuple[QWidget, QWidget]] = {
            # stage: its page, and where the keys go
            "measure": (self.measure, self.measure.value),
            "heads": (self.heads, self.heads.list),
            "tuning": (self.tuning, self.tuning.ladder),
            "fit": (self.fit, self.fit),
            "clear": (self.clear, self.clear),
            "gauges": (self.gauges, self.gauges.reading.line),
            "compare": (self.compare, self.compare),
        }
        self.commands.choosing_pairs = lambda: self.stage == "heads"
        self.actions_by_id = build(self, self.commands)
        self._lay_out()
        self._connect()
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.choose_stage("tuning")
        self.dress()
        bench.refresh()

    def _lay_out(self) -> None:
        for page, _ in self._pages.values():
            self.stages.addWidget(page)
        with_rack = QHBoxLayout()
        with_rack.setContentsMargins(0, 0, 0, 0)
        with_rack.setSpacing(12)
        with_rack.addWidget(scroll(self.rack, 188), 0)
        with_rack.addWidget(self.stages, 1)
        middle = QWidget()
        middle.setObjectName("bench")
        whole = QVBoxLayout(middle)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.topbar)
        whole.addLayout(with_rack, 1)
        for bar in (self.sound_bar, self.message):
            foot = QHBoxLayout()
            foot.setContentsMargins(12, 0, 12, 8)
            foot.addWidget(bar)
            whole.addLayout(foot)
        self.setCentralWidget(middle)
        QWidget.setTabOrder(self.rack, self.tuning.section)

    def _connect(self) -> None:
        """All wiring between the parts."""
        bench, doc, commands, change = (
            self.bench,
            self.bench.document,
            self.commands,
            self.bench.document.change_entry,
        )
        doc.save_failed.connect(lambda error: self.message.tell(error, "save", retry=True))
        doc.saved.connect(lambda: self.message.take_back("save"))
        self.message.retry_wanted.connect(doc.save)
        bench.changed.connect(self._on_changed)
        bench.planned.connect(lambda plan: self._show_stage())
        bench.answered.connect(self._on_answered)
        bench.rack_pitch.connect(self._on_rack_pitch)
        bench.refused.connect(self._on_refused)
        bench.failed.connect(self._on_failed)
        bench.accepted.connect(lambda: self.message.take_back("drum"))
        bench.settings_store.failed.connect(lambda error: self.message.tell(error, "settings"))
        bench.settings_store.changed.connect(self.dress)
        self.rack.drum_chosen.connect(doc.select)
        self.rack.moved.connect(doc.move_drum)
        settings = bench.settings_store
        self.topbar.stage_temperature_edited.connect(lambda c: settings.change(stage_c=float(c)))
        self.topbar.a4_edited.connect(lambda hz: settings.change(a4_hz=hz))
        self.topbar.metric_chosen.connect(lambda on: settings.change(metric=on))
        self.topbar.temperature_edited.connect(
            lambda c: bench.set_temperature(c, texts.TEMPERATURE_AT_BENCH)
        )
        self.topbar.stage_chosen.connect(self.choose_stage)
        commands.told.connect(self.message.tell)
        commands.stage_wanted.connect(self.choose_stage)
        commands.part_wanted.connect(self._on_part_wanted)
        commands.focus_wanted.connect(self._on_focus_wanted)
        commands.pair_wanted.connect(lambda: self.listen_to(self.heads.list.current))
        commands.close_wanted.connect(self.close)
        self.tuning.sheet_wanted.connect(commands.sheet_pdf)
        self.tuning.listen_wanted.connect(commands.listen)
        self.heads.brief_edited.connect(self._on_brief)
        self.heads.taken.connect(lambda drum: self._take(drum, texts.USE_HEADS))
        self.heads.store_wanted.connect(commands.heads_store)
        self.heads.listen_wanted.connect(self.listen_to)
        self.heads.compare_wanted.connect(self._on_compare)
        self.compare.back.connect(lambda: self.choose_stage("heads"))
        self.compare.listen_wanted.connect(self.listen_to)
        self.compare.taken.connect(self.heads.take_pair)
        self.measure.noted.connect(lambda notes: change("readings", readings=notes))
        self.measure.inspected.connect(lambda found: change(texts.BARE_SHELL, inspected=found))
        self.measure.set_wanted.connect(
            lambda drum: self._take(drum, texts.APPLY_READINGS_TO_HEADS)
        )
        self.gauges.gauges_changed.connect(commands.change_gauges)
        self.fit.changed.connect(lambda label, fitting: change(label, fitting=fitting))
        self.fit.sheet_wanted.connect(lambda: commands.fitting_sheet(self.fit))
        self.fit.calendar_wanted.connect(lambda: commands.calendar(self.fit))
        self.clear.changed.connect(lambda label, clearings: change(label, clearings=clearings))
        self.listener.state_changed.connect(self._on_sound)
        self.listener.failed.connect(lambda error: self.message.tell(error, "sound"))
        self.sound_bar.other_wanted.connect(commands.listen_other)
        self.sound_bar.save_wanted.connect(commands.save_sound)
        self.sound_bar.closed.connect(self._on_sound_closed)

    # what other windows and tests ask for

    @property
    def document(self) -> Document:
        """The open workshop."""
        return self.bench.document

    @property
    def settings(self) -> Settings:
        """How things are shown."""
        return self.bench.settings

    @property
    def result(self) -> BenchResult | None:
        """What is known of the drum on the bench."""
        return self.bench.result

    @property
    def plan(self) -> Planned | None:
        """What gauges must read for the drum on the bench, once it is worked out."""
        return self.bench.plan

    # state

    def dress(self) -> None:
        """Apply the theme."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        colours = theme.colours_for(app, self.settings.theme)
        theme.apply(app, colours)
        if colours != self.colours:
            self.colours = colours
            for view in (self.rack, *(page for page, _ in self._pages.values())):
                view.set_colours(colours)  # type: ignore[attr-defined]
        self.actions_by_id["metric"].setChecked(self.settings.metric)
        self.actions_by_id["flats"].setChecked(self.settings.flats)
        self.actions_by_id[texts.THEME.format(theme=self.settings.theme)].setChecked(True)

    def choose_stage(self, stage: str) -> None:
        """Show one stage of the work."""
        self.stage = "heads" if stage == "compare" else stage
        if stage in self.topbar.stages:
            self.topbar.stages[stage].setChecked(True)
        page, first = self._pages[stage]
        self.stages.setCurrentWidget(page)
        self._show_stage()
        first.setFocus()

    def _on_changed(self) -> None:
        doc, settings, drum = self.document, self.settings, self.bench.drum
        self.setWindowTitle(texts.KESSELTON.format(name=doc.workshop.name))
        self.topbar.set_state(
            doc.workshop.name,
            doc.read_only,
            settings.a4_hz,
            settings.metric,
            drum.air.temperature_c if drum else None,
            settings.stage_c,
        )
        drums = [(entry.id, entry.drum) for entry in doc.workshop.entries]
        self.rack.set_state(drums, doc.current_id, settings.metric)
        for action, text in (("undo", doc.undo_text), ("redo", doc.redo_text)):
            self.actions_by_id[action].setEnabled(bool(text))
            self.actions_by_id[action].setText(f"{action.capitalize()} {text}".strip())
        for action in ("drum_remove", "drum_export", "sheet_pdf", "sheet_print"):
            self.actions_by_id[action].setEnabled(drum is not None)
        self._show_stage()

    def _show_stage(self) -> None:
        """Bring the stage on show up to date; Tuning does that by itself."""
        bench, settings, stage = self.bench, self.settings, self.stage
        entry, workshop = bench.entry, bench.document.workshop
        if stage == "measure":
            self.measure.set_state(entry, workshop, settings.a4_hz, settings.flats)
        elif stage == "gauges":
            self.gauges.set_state(bench.drum, workshop)
        elif stage == "fit":
            turns = bench.plan.turns_to_setting() if bench.plan else {}
            self.fit.set_state(entry, settings.a4_hz, settings.flats, turns)
        elif stage == "clear":
            self.clear.set_state(entry, workshop, settings.flats)
        self.heads.set_state(
            bench.document.current_id,
            bench.drum,
            bench.brief,
            workshop,
            settings.a4_hz,
            settings.flats,
            None if bench.result is None else bench.result.prediction.fundamental_hz,
        )

    # what the bench says

    def _on_answered(self, found: BenchResult) -> None:
        self.heads.form.suggest(found.prediction.fundamental_hz)

    def _on_refused(self, error: KesseltonError) -> None:
        if not self.tuning.complain(error):
            self.message.tell(error, "drum")

    def _on_failed(self, error: KesseltonError, topic: str) -> None:
        if topic == "drum":
            self._on_refused(error)
        else:
            self.message.tell(error, topic)

    def _on_rack_pitch(self, drum_id: int, hz: float | None) -> None:
        settings = self.settings
        note = "?" if hz is None else note_of(hz, settings.a4_hz).name(settings.flats)
        self.rack.set_note(drum_id, note)

    # what the stages ask for

    def _take(self, drum: object, label: str) -> None:
        if self.bench.commit_drum(label, drum):  # type: ignore[arg-type]
            self.choose_stage("tuning")

    def _on_brief(self, brief: object) -> None:
        fault = self.commands.keep_brief(brief)  # type: ignore[arg-type]
        if fault is not None:
            self.heads.form.complain(f"{fault.message} {fault.remedy}")

    def listen_to(self, number: int) -> None:
        """Let one of the candidates be heard, struck as the brief says."""
        found = self.heads.found
        if found is not None and number >= 0:
            names = " over ".join(head.name for head in found.heads[number])
            self.listener.hear(names, found.fitted(number), found.brief.stroke)

    def _on_compare(self, numbers: list[int]) -> None:
        if self.heads.found is not None and len(numbers) >= 2:
            settings = self.settings
            self.compare.show_pairs(self.heads.found, numbers, settings.a4_hz, settings.flats)
            self.choose_stage("compare")

    def _on_part_wanted(self, part: str) -> None:
        self.choose_stage("tuning")
        self.tuning.choose_part(part)
        self.tuning.forms.first_field(part).setFocus()

    def _on_focus_wanted(self, where: str) -> None:
        if where == "name":
            self.choose_stage("tuning")
            self.tuning.choose_part("shell")
            line = self.tuning.forms.shell.name.line
            line.setFocus()
            line.selectAll()
        else:
            views = {
                "rack": self.rack,
                "section": self.tuning.section,
                "ladder": self.tuning.ladder,
            }
            views[where].setFocus()

    def _on_sound(self, text: str) -> None:
        self.sound_bar.set_state(text, [heard.name for heard in self.listener.last])

    def _on_sound_closed(self) -> None:
        self.listener.player.stop()
        self.sound_bar.hide()

    def watch(self, unexpected: Unexpected) -> None:
        """Show what the hook of last resort catches."""
        unexpected.caught.connect(self._on_unexpected)

    def _on_unexpected(self, error: KesseltonError) -> None:
        """Say what happened, and whether the work is saved: the file is asked, not believed."""
        said = {
            Saved.YES: texts.YOUR_WORK_IS_SAVED,
            Saved.NO: texts.YOUR_LAST_CHANGES_ARE_NOT_SAVED,
            Saved.READ_ONLY: texts.READ_ONLY_NOTHING_IS_SAVED,
        }[self.document.looked_up()]
        error.remedy = said.format(path=self.document.path, remedy=error.remedy).strip()
        self.message.tell(error, retry=self.document.unsaved)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        QTimer.singleShot(AFTER_FIRST_PAINT_MS, self.bench.predictor.go)

    def closeEvent(self, event: QCloseEvent) -> None:
        document = self.document
        if document.unsaved and not document.read_only:
            document.save()
        if document.unsaved and not self.commands.may_lose_changes():
            event.ignore()
            return
        working = (self.bench, self.heads, self.compare, self.measure, self.fit, self.clear)
        for part in (*working, self.listener):
            part.stop()
        document.close()
        super().closeEvent(event)
