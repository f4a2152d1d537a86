"""The main window: the parts of the bench, and the only wiring between them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QTimer
from PySide6.QtGui import QCloseEvent, QShowEvent
from PySide6.QtWidgets import QApplication, QLabel, QMainWindow, QStackedWidget, QWidget

from kesselton.app.document import Document
from kesselton.app.measuring import Planned
from kesselton.app.predictor import HIGHEST_HZ, Answer, Hold, Predictor
from kesselton.app.settings import Settings
from kesselton.core.drum import Drum
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.pitch import note_of
from kesselton.ui import theme, words
from kesselton.ui.actions import build
from kesselton.ui.arrangement import arrange
from kesselton.ui.commands import Commands
from kesselton.ui.forms import Beater, PartForms, Way
from kesselton.ui.ladder import LadderView
from kesselton.ui.planning import Planning
from kesselton.ui.rack import RackView
from kesselton.ui.readout import Readout
from kesselton.ui.section import PARTS, SectionView
from kesselton.ui.stages import Stages
from kesselton.ui.topbar import TopBar
from kesselton.ui.trouble import MessageBar, Unexpected

AFTER_FIRST_PAINT_MS = 30


class MainWindow(QMainWindow):
    """Rack, section with its form, ladder, readout."""

    def __init__(
        self,
        document: Document,
        settings: Settings,
        open_another: Callable[[str, Settings], object],
    ) -> None:
        super().__init__()
        self.open_another = open_another
        self.document = document
        self.settings = settings
        self.beater = Beater()
        self.answer: Answer | None = None
        self.colours = theme.LIGHT
        self.predictor = Predictor(self)
        self.predictor.hold()
        self.commands = Commands(self)
        self.way = way = Way(
            lambda: self.settings.metric,
            lambda: self.settings.a4_hz,
            lambda hz: (
                f"{words.note_words(hz, self.settings.a4_hz, self.settings.flats)} · "
                f"{words.hz_words(hz)}"
            ),
        )
        self.topbar = TopBar()
        self.rack = RackView()
        self.section = SectionView()
        self.forms = PartForms(way)
        self.ladder = LadderView()
        self.planning = Planning(self)
        self.schools = self.planning.schools
        self.readout = Readout()
        self.work = Stages(self, way)
        self.heads, self.compare = self.work.heads, self.work.compare
        self.measure, self.gauges = self.work.measure, self.work.gauges
        self.listener, self.sound_bar = self.work.listener, self.work.sound_bar
        self.settings_page = QWidget()
        self.stages = QStackedWidget()
        self.stage = "settings"
        self.message = MessageBar()
        self.part_title = QLabel()
        self.actions_by_id = build(self, self.commands)
        arrange(self)
        self._connect()
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.choose_part("batter")
        self.choose_stage("settings")
        self.dress()
        self._on_changed()
        self.ladder.setFocus()

    def _connect(self) -> None:
        """All wiring between the parts."""
        doc, ladder = self.document, self.ladder
        doc.changed.connect(self._on_changed)
        doc.trouble.connect(lambda error: self.message.tell(error, "save", retry=True))
        doc.saved.connect(lambda: self.message.take_back("save"))
        self.message.retry_wanted.connect(doc.save)
        self.rack.drum_chosen.connect(doc.select)
        self.rack.moved.connect(doc.move_drum)
        self.section.part_chosen.connect(self.choose_part)
        for form in (self.forms.shell, self.forms.batter, self.forms.resonant):
            form.edited.connect(self.commit_drum)
        self.forms.beater.changed.connect(self._on_beater)
        ladder.pitch_moved.connect(self._on_pitch_moved)
        ladder.pitch_set.connect(self._on_pitch_set)
        ladder.rung_named.connect(self.readout.set_partial)
        self.topbar.stage_temperature_edited.connect(
            lambda c: self.change_settings(stage_c=float(c))
        )
        self.predictor.answered.connect(self._on_answered)
        self.predictor.failed.connect(self._on_failed)
        self.predictor.rack_pitch.connect(self._on_rack_pitch)
        self.readout.sheet_wanted.connect(self.commands.sheet_pdf)
        self.topbar.a4_edited.connect(lambda hz: self.change_settings(a4_hz=hz))
        self.topbar.temperature_edited.connect(self._on_temperature)
        self.topbar.metric_chosen.connect(lambda on: self.change_settings(metric=on))
        self.topbar.stage_chosen.connect(self.choose_stage)
        self.work.connect()

    # state

    def change_settings(self, **values: object) -> None:
        """Change how things are shown, and keep it."""
        theme_before = self.settings.theme
        self.settings = replace(self.settings, **values)  # type: ignore[arg-type]
        self.commands.keep_settings()
        self._mark_menus()
        if self.settings.theme != theme_before:
            self.dress()
        self._on_changed()

    def dress(self) -> None:
        """Apply the theme."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        self.colours = theme.colours_for(app, self.settings.theme)
        theme.apply(app, self.colours)
        for view in (
            self.rack,
            self.section,
            self.ladder,
            self.readout,
            self.heads,
            self.compare,
            self.measure,
            self.gauges,
            self.work.fit,
            self.work.clear,
        ):
            view.set_colours(self.colours)
        self._mark_menus()

    def _mark_menus(self) -> None:
        self.actions_by_id["metric"].setChecked(self.settings.metric)
        self.actions_by_id["flats"].setChecked(self.settings.flats)
        self.actions_by_id[f"theme_{self.settings.theme}"].setChecked(True)

    @property
    def planned(self) -> Planned | None:
        """What gauges must read for the drum on the bench, once it is worked out."""
        return self.planning.planned

    def choose_part(self, part: str) -> None:
        """Show the form of one part of the drum."""
        assert part in PARTS
        self.section.set_part(part)
        self.forms.show_part(part)
        self._title_part()

    def choose_stage(self, stage: str) -> None:
        """Show one stage of the work."""
        self.stage = stage
        self.topbar.stages[stage].setChecked(True)
        page, first = {
            "measure": (self.measure, self.measure.value),
            "heads": (self.heads, self.heads.list),
            "settings": (self.settings_page, self.ladder),
            "gauges": (self.gauges, self.gauges.reading.line),
            "fit": (self.work.fit, self.work.fit),
            "clear": (self.work.clear, self.work.clear),
        }[stage]
        self.work.show()
        self.stages.setCurrentWidget(page)
        first.setFocus()

    def _title_part(self) -> None:
        part, drum = self.section.part, self.document.drum
        titled = {"shell": "Shell", "beater": "Beater"}
        if part in titled or drum is None:
            self.part_title.setText(titled.get(part, ""))
        else:
            self.part_title.setText(words.side_word(drum, part))

    def _on_changed(self) -> None:
        doc, settings = self.document, self.settings
        drums = [(entry.id, entry.drum) for entry in doc.workshop.entries]
        self.setWindowTitle(f"{doc.workshop.name} — Kesselton")
        drum = doc.drum
        self.topbar.set_state(
            doc.workshop.name,
            doc.read_only,
            settings.a4_hz,
            settings.metric,
            drum.air.temperature_c if drum else None,
            settings.stage_c,
        )
        self.schools.set_state(drum)
        self.rack.set_state(drums, doc.current_id, settings.metric)
        for action, text in (("undo", doc.undo_text), ("redo", doc.redo_text)):
            self.actions_by_id[action].setEnabled(bool(text))
            self.actions_by_id[action].setText(f"{action.capitalize()} {text}".strip())
        for action in ("drum_remove", "drum_export", "sheet_pdf", "sheet_print"):
            self.actions_by_id[action].setEnabled(drum is not None)
        self.forms.setEnabled(drum is not None)
        for form in (self.forms.batter, self.forms.resonant):
            form.set_library(doc.workshop.library)
        if drum is None:
            self.answer = None
            self.section.set_state(None, settings.metric, self.beater.place, ())
            self.ladder.set_state(None, settings.a4_hz, settings.flats)
            self.readout.set_state(None, settings.a4_hz, settings.flats)
        else:
            same = self.answer is not None and self.answer.drum_id == doc.current_id
            if not same:
                self.answer = None
                self.ladder.let_go()
            self._show(drum)
            self._ask(drum)
        self._title_part()
        self.work.show()

    def _show(self, drum: Drum) -> None:
        """Put a drum and the answer that belongs to it on every view."""
        settings, answer = self.settings, self.answer
        stresses: tuple[str, ...] = ()
        solved: dict[str, tuple[float, float]] = {}
        if answer is not None and answer.drum == drum:
            found = answer.prediction
            stresses = tuple(f"{s / 1e6:.1f} MPa" for s in found.stresses_pa)
            solved = {
                side: (found.lug_pitches_hz[i], found.tensions_n_per_m[i])
                for i, side in enumerate(drum.sides)
            }
        self.section.set_state(drum, settings.metric, self.beater.place, stresses)
        self.forms.shell.set_state(drum)
        for side, form in (("batter", self.forms.batter), ("resonant", self.forms.resonant)):
            form.set_state(drum, *solved.get(side, (None, None)))
        self._show_answer()

    def _show_answer(self) -> None:
        """Put the answer on ladder and readout."""
        settings = self.settings
        self.ladder.set_state(self.answer, settings.a4_hz, settings.flats)
        self.ladder.set_notes((), self.planning.wanted_hz())
        self.readout.set_state(self.answer, settings.a4_hz, settings.flats)
        self.readout.set_partial(self.ladder.rung)

    def _ask_rack(self) -> None:
        """The rest of the rack is worked out once the bench has its answer."""
        self.predictor.ask_rack([(e.id, e.drum) for e in self.document.workshop.entries])

    def _ask(self, drum: Drum, highest_hz: float = HIGHEST_HZ, hold: Hold | None = None) -> None:
        beater = self.beater
        self.predictor.ask(
            self.document.current_id,
            drum,
            beater.place,
            beater.contact_s,
            highest_hz,
            hold,
            self.planning.touch(),
        )

    # intents

    def commit_drum(self, label: str, drum: Drum) -> bool:
        """Check a changed drum and make it the state; say what is wrong if it cannot be."""
        from kesselton.app.predictor import check

        try:
            check(drum)
        except KesseltonError as error:
            self.complain(error)
            self.ladder.let_go()
            return False
        self.message.take_back("drum")
        self.document.replace_drum(label, drum)
        return True

    def complain(self, error: KesseltonError) -> None:
        """Say what is wrong, at the field it is about if that can be seen."""
        shown = isinstance(error, InputError) and any(
            form.complain(error) and form.isVisible()
            for form in (self.forms.batter, self.forms.resonant)
        )
        if not shown:
            self.message.tell(error, "drum")

    def _on_pitch_moved(self, side: str, hz: float) -> None:
        drum = self.document.drum
        if drum is not None:
            moved = drum.with_setting(side, drum.setting(side).at_pitch(hz))
            self._ask(moved, self.ladder.axis().high_hz, self.planning.hold(side, hz))

    def _on_pitch_set(self, side: str, hz: float) -> None:
        drum = self.document.drum
        if drum is not None:
            word = words.side_word(drum, side).lower()
            moved = drum.with_setting(side, drum.setting(side).at_pitch(hz))
            hold = self.planning.hold(side, hz)
            if hold is not None:
                from kesselton.core.plan import hold_fundamental

                try:
                    moved = hold_fundamental(drum, side, hz, hold.note_hz)
                except KesseltonError as error:
                    self.complain(error)
                    self._on_changed()
                    return
            if not self.commit_drum(f"{word} lug pitch", moved):
                self._on_changed()

    def _on_beater(self, beater: Beater) -> None:
        self.beater = beater
        if self.document.drum is not None:
            self._show(self.document.drum)
            self._ask(self.document.drum)

    def _on_temperature(self, temperature_c: float) -> None:
        workshop = self.document.workshop
        entries = tuple(
            replace(e, drum=replace(e.drum, air=replace(e.drum.air, temperature_c=temperature_c)))
            for e in workshop.entries
        )
        self.document.commit("temperature at the bench", replace(workshop, entries=entries))

    def _on_answered(self, answer: Answer) -> None:
        current = self.document.drum
        if answer.drum_id != self.document.current_id or current is None:
            return
        if not self.ladder.dragging and answer.drum != current:
            return
        self.answer = answer
        self.heads.form.suggest(answer.prediction.fundamental_hz)
        self.message.take_back("drum")
        if self.ladder.dragging:
            self._show_answer()
        else:
            self._show(current)
            self.planning.ask(answer)
            self._ask_rack()

    def _on_failed(self, drum: Drum, error: KesseltonError) -> None:
        if drum == self.document.drum or self.ladder.dragging:
            self.ladder.set_stale()
            self.complain(error)

    def _on_rack_pitch(self, drum_id: int, hz: float | None) -> None:
        settings = self.settings
        note = "?" if hz is None else note_of(hz, settings.a4_hz).name(settings.flats)
        self.rack.set_note(drum_id, note)

    def watch(self, unexpected: Unexpected) -> None:
        """Show what the hook of last resort catches."""
        unexpected.caught.connect(self.message.tell)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        QTimer.singleShot(AFTER_FIRST_PAINT_MS, self.predictor.go)

    def closeEvent(self, event: QCloseEvent) -> None:
        if self.document.unsaved and not self.document.read_only:
            self.document.save()
        if self.document.unsaved and not self.commands.may_lose_changes():
            event.ignore()
            return
        self.predictor.stop()
        self.work.stop()
        self.planning.stop()
        self.document.close()
        super().closeEvent(event)
