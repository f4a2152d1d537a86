"""The stages beside Settings: their pages, and what they ask of the window."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from typing import TYPE_CHECKING

from kesselton.app.listener import Listener
from kesselton.core.brief import Brief
from kesselton.core.drum import Drum
from kesselton.core.errors import KesseltonError
from kesselton.core.gauge import Dial, TorqueKey
from kesselton.ui.clear_stage import ClearStage
from kesselton.ui.compare import ComparePage
from kesselton.ui.fit_stage import FitStage, fitted_at, title_of
from kesselton.ui.forms import Way
from kesselton.ui.gauges_stage import GaugesStage
from kesselton.ui.heads_stage import HeadsStage
from kesselton.ui.measure_stage import MeasureStage
from kesselton.ui.sound_bar import SoundBar

if TYPE_CHECKING:
    from kesselton.ui.main_window import MainWindow


class Stages:
    """Measure, Heads with the comparison, Gauges, and the sound of strokes."""

    def __init__(self, window: MainWindow, way: Way) -> None:
        self._window = window
        self.heads = HeadsStage(way.a4_hz, way.note)
        self.compare = ComparePage()
        self.measure = MeasureStage(way.a4_hz)
        self.gauges = GaugesStage(way.a4_hz, way.note)
        self.fit = FitStage(datetime.now)
        self.clear = ClearStage(way.a4_hz, way.note, window.commands.ask_sound)
        self.listener = Listener(window)
        self.sound_bar = SoundBar()

    def connect(self) -> None:
        """Join the pages to the window."""
        window = self._window
        document, commands = window.document, window.commands
        self.heads.brief_edited.connect(self._on_brief)
        self.heads.taken.connect(self._on_taken)
        self.heads.store_wanted.connect(commands.heads_store)
        self.heads.listen_wanted.connect(self.listen_to)
        self.heads.compare_wanted.connect(self._on_compare)
        self.compare.back.connect(lambda: window.choose_stage("heads"))
        self.compare.listen_wanted.connect(self.listen_to)
        self.compare.taken.connect(self.heads.take_pair)
        self.measure.noted.connect(lambda notes: document.change_entry("readings", readings=notes))
        self.measure.inspected.connect(
            lambda found: document.change_entry("the bare shell", inspected=found)
        )
        self.measure.set_wanted.connect(self._on_set_wanted)
        self.gauges.gauges_changed.connect(self._on_gauges)
        self.fit.changed.connect(
            lambda label, fitting: document.change_entry(label, fitting=fitting)
        )
        self.clear.changed.connect(
            lambda label, clearings: document.change_entry(label, clearings=clearings)
        )
        self.fit.sheet_wanted.connect(self._on_fit_sheet)
        self.fit.calendar_wanted.connect(self._on_calendar)
        self.listener.state_changed.connect(self._on_sound)
        self.listener.failed.connect(lambda error: window.message.tell(error, "sound"))
        self.sound_bar.other_wanted.connect(commands.listen_other)
        self.sound_bar.save_wanted.connect(commands.save_sound)
        self.sound_bar.closed.connect(self._close_sound)
        window.readout.listen_wanted.connect(commands.listen)

    def show(self) -> None:
        """Bring the pages up to date; those that compute at once only while they are the stage."""
        doc, settings, stage = self._window.document, self._window.settings, self._window.stage
        entry = doc.entry
        if stage == "measure":
            self.measure.set_state(entry, doc.workshop, settings.a4_hz, settings.flats)
        elif stage == "gauges":
            self.gauges.set_state(doc.drum, doc.workshop)
        elif stage == "fit":
            self.fit.set_state(entry, settings.a4_hz, settings.flats, self._turns())
        elif stage == "clear":
            self.clear.set_state(entry, doc.workshop, settings.flats)
        answer = self._window.answer
        heard = None if answer is None else answer.prediction.fundamental_hz
        self.heads.set_state(
            doc.current_id,
            doc.drum,
            entry.brief if entry else None,
            doc.workshop,
            settings.a4_hz,
            settings.flats,
            heard,
        )

    def _on_brief(self, brief: Brief) -> None:
        try:
            if self._window.document.drum is not None:
                brief.check_fits(self._window.document.drum)
        except KesseltonError as error:
            self.heads.form.complain(f"{error.message} {error.remedy}")
            return
        self._window.document.change_entry("the brief", brief=brief)

    def _on_taken(self, drum: Drum) -> None:
        if self._window.commit_drum("take heads", drum):
            self._window.choose_stage("settings")
            self._window.ladder.setFocus()

    def _on_set_wanted(self, drum: Drum) -> None:
        if self._window.commit_drum("set as read", drum):
            self._window.choose_stage("settings")

    def _on_gauges(self, label: str, dials: tuple[Dial, ...], keys: tuple[TorqueKey, ...]) -> None:
        changed = replace(self._window.document.workshop, dials=dials, keys=keys)
        self._window.document.commit(label, changed)

    def listen_to(self, number: int) -> None:
        """Let one of the candidates be heard, struck as the brief says."""
        found = self.heads.found
        if found is not None and number >= 0:
            names = " over ".join(head.name for head in found.heads[number])
            self.listener.hear(names, found.fitted(number), found.brief.stroke)

    def _on_compare(self, numbers: list[int]) -> None:
        if self.heads.found is not None and len(numbers) >= 2:
            settings = self._window.settings
            self.compare.show_pairs(self.heads.found, numbers, settings.a4_hz, settings.flats)
            self._window.stages.setCurrentWidget(self.compare)
            self.compare.setFocus()

    def _on_sound(self, text: str) -> None:
        self.sound_bar.set_state(text, [heard.name for heard in self.listener.last])

    def _close_sound(self) -> None:
        self.listener.player.stop()
        self.sound_bar.hide()

    def _turns(self) -> dict[str, float]:
        """Turns past finger tight that the log of this drum has taught, per side."""
        planned = self._window.planned
        entry = self._window.document.entry
        if planned is None or entry is None:
            return {}
        found = {}
        for side, line in planned.turns.items():
            reading = entry.drum.setting(side).reading if side in entry.drum.sides else None
            if reading is not None:
                found[side] = line.turns_to(reading.hz)
        return found

    def _on_fit_sheet(self) -> None:
        from kesselton.ui.fit_sheet import write_fit_pdf, write_markdown

        window, fit = self._window, self.fit
        drum, made = window.document.drum, fit.procedure
        if drum is None or made is None:
            return
        title = title_of(drum, fit.side_now)
        path = window.commands.ask_save(
            "Fitting sheet", f"{title}.pdf".replace("/", "-").replace(":", ""),
            "PDF (*.pdf);;Markdown (*.md)",
        )  # fmt: skip
        if path is None:
            return
        try:
            if path.suffix == ".md":
                write_markdown(path, made, title, fit.fitting)
            else:
                write_fit_pdf(
                    path, made, drum, title, window.document.workshop.name, date.today(),
                    fit.fitting,
                )  # fmt: skip
        except KesseltonError as error:
            window.message.tell(error, "file")

    def _on_calendar(self) -> None:
        from kesselton.core.schedule import dates
        from kesselton.store.calendar_file import write_calendar

        window, fit = self._window, self.fit
        entry = window.document.entry
        if entry is None:
            return
        path = window.commands.ask_save(
            "Dates for a calendar", f"{entry.drum.name}.ics".replace("/", "-"), "Calendar (*.ics)"
        )
        if path is None:
            return
        now = datetime.now()
        found = dates(entry.drum, fit.side_now, fitted_at(fit.fitting, now), entry.brief)
        try:
            write_calendar(path, found, entry.drum.name, now)
        except KesseltonError as error:
            window.message.tell(error, "file")

    def stop(self) -> None:
        """End every thread."""
        self.heads.chooser.stop()
        self.compare.stop()
        self.measure.stop()
        self.fit.stop()
        self.clear.stop()
        self.listener.stop()
