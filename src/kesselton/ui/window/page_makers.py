"""Each page made, and wired to the bench and the commands; nowhere else."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtWidgets import QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.learner import Learner
from kesselton.app.hearing.heard_drum import HeardDrum
from kesselton.app.workshop.log_search import LogFinder
from kesselton.core.heads.brief import Brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.language import _
from kesselton.ui.commands.commands import Commands
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.tuning_page import TuningPage

if TYPE_CHECKING:
    from kesselton.ui.clear.clear_page import ClearPage
    from kesselton.ui.drum_list.first_drum import FirstDrum
    from kesselton.ui.fit.fit_page import FitPage
    from kesselton.ui.heads.brief_form import BriefForm
    from kesselton.ui.heads.compare import ComparePage
    from kesselton.ui.heads.heads_page import HeadsPage
    from kesselton.ui.log.log_page import LogPage
    from kesselton.ui.measure.gauges_page import GaugesPage
    from kesselton.ui.measure.measure_page import MeasurePage
    from kesselton.ui.practice.practice_page import PracticePage
    from kesselton.ui.sets.set_page import SetPage
    from kesselton.ui.shows.shows_page import ShowsPage


class Work(Protocol):
    """What pages are wired to, and what they ask for."""

    bench: Bench
    commands: Commands
    display: DisplayFormat
    learner: Learner

    @property
    def brief(self) -> BriefForm: ...
    @property
    def heads(self) -> HeadsPage: ...
    def choose(self, name: str) -> None: ...
    def refresh(self) -> None: ...
    def fill_later(self, fill: Callable[[], object]) -> None: ...
    def take(self, drum: Drum, label: str) -> None: ...
    def keep_brief(self, brief: Brief) -> None: ...
    def hear(self) -> None: ...
    def take_heard(self, heard: HeardDrum) -> None: ...
    def search_like_heard(self) -> None: ...
    def search_like_kept(self, kept: Kept) -> None: ...
    def listen_to(self, number: int) -> None: ...
    def compare_pairs(self, numbers: list[int]) -> None: ...
    def forget_pairs(self) -> None: ...
    def clear_side(self, side: str) -> None: ...


def make_tuning(work: Work) -> TuningPage:
    page = TuningPage(work.bench, work.display, work.commands.asking.strokes, work.learner)
    page.sheet_wanted.connect(work.commands.papers.sheet_pdf)
    page.typed_dropped.connect(lambda text: work.commands.notice.emit(text, False))
    page.kind_changed.connect(work.commands.drums.offer_usual)
    page.listen_wanted.connect(work.commands.sound.play)
    page.keep_wanted.connect(work.commands.logs.keep_wanted)
    page.ears.heard.connect(work.take_heard)
    page.heard_card.heads_wanted.connect(work.search_like_heard)
    return page


def make_heads(work: Work) -> HeadsPage:
    from kesselton.ui.heads.heads_page import HeadsPage

    page = HeadsPage(work.brief)
    page.brief_edited.connect(work.keep_brief)
    page.taken.connect(lambda drum: work.take(drum, _("use heads")))
    page.store_wanted.connect(work.commands.workshop.stock)
    page.listen_wanted.connect(work.listen_to)
    page.compare_wanted.connect(work.compare_pairs)
    page.forgotten.connect(work.forget_pairs)
    return page


def make_compare(work: Work) -> ComparePage:
    from kesselton.ui.heads.compare import ComparePage

    page = ComparePage()
    page.back.connect(lambda: work.choose("heads"))
    page.listen_wanted.connect(work.listen_to)
    page.taken.connect(work.heads.take_pair)
    return page


def make_measure(work: Work) -> MeasurePage:
    from kesselton.ui.measure.measure_page import MeasurePage

    page, change = MeasurePage(work.display.a4_hz), work.bench.document.change_entry
    page.noted.connect(lambda notes: change(_("readings"), readings=notes))
    page.inspected.connect(lambda result: change(_("bare shell"), inspected=result))
    page.set_wanted.connect(lambda drum: work.take(drum, _("apply readings to heads")))
    page.reckoned.connect(lambda drum: work.bench.commit_drum(_("apply findings"), drum))
    page.typed_dropped.connect(lambda text: work.commands.notice.emit(text, False))
    return page


def make_log(work: Work) -> LogPage:
    from kesselton.ui.log.log_page import LogPage

    document = work.bench.document
    page = LogPage(work.display.note, LogFinder(document))
    page.shown.connect(work.commands.logs.show_attached)
    page.attach_wanted.connect(work.commands.logs.attach_to)
    page.like_wanted.connect(work.search_like_kept)
    page.older_wanted.connect(work.refresh)
    page.set_wanted.connect(lambda label, drum: work.take(drum, label))
    page.changed.connect(lambda label, log: document.change_entry(label, kept=log))
    page.drum_wanted.connect(document.select)
    page.keep_wanted.connect(work.commands.logs.keep_wanted)
    page.export_wanted.connect(work.commands.logs.export_log)
    return page


def make_set(work: Work) -> SetPage:
    from kesselton.ui.sets.set_page import SetPage

    sets = work.commands.sets
    page = SetPage(sets.sets, work.display.a4_hz, work.display.note)
    page.drums_wanted.connect(sets.drums)
    page.new_wanted.connect(sets.new)
    page.sheet_wanted.connect(lambda: sets.sheet(page.chosen_plan, page.show_cents))
    page.play_wanted.connect(
        lambda planned: sets.play(
            page.hear.key, page.hear.muted, page.chosen_plan if planned else None
        )
    )
    page.drum_chosen.connect(work.bench.document.select)
    page.notice.connect(lambda text: work.commands.notice.emit(text, True))
    work.fill_later(page.fill)
    return page


def make_practice(work: Work) -> PracticePage:
    from kesselton.app.practice.practice_bench import PracticeBench
    from kesselton.ui.practice.practice_page import PracticePage

    bench, commands = work.bench, work.commands
    page = PracticePage(
        PracticeBench(bench, parent=work.bench),
        work.display.a4_hz,
        lambda: bench.settings.flats,
        commands.asking.save,
    )
    page.notice.connect(lambda text: commands.notice.emit(text, True))
    page.told.connect(lambda error: commands.told.emit(error, "practice"))
    work.fill_later(page.fill)
    return page


def make_shows(work: Work) -> ShowsPage:
    from kesselton.app.shows.house_drums import HouseDrums
    from kesselton.ui.shows.shows_page import ShowsPage

    shows, bench = work.commands.shows, work.bench
    page = ShowsPage(
        shows.show_bench,
        shows.repair_bench,
        HouseDrums(parent=work.bench),
        work.display.a4_hz,
        lambda: bench.settings.flats,
        work.commands.asking.strokes,
    )
    page.night_wanted.connect(shows.repair)
    page.new_wanted.connect(shows.new_show)
    page.buy_wanted.connect(work.commands.workshop.buy_list)
    page.keep_house_wanted.connect(lambda: shows.keep_house(page.house.house))
    page.notice.connect(lambda text: work.commands.notice.emit(text, True))
    work.fill_later(lambda: shows.show_bench.items)  # looks into logs nobody has read yet
    return page


def make_gauges(work: Work) -> GaugesPage:
    from kesselton.ui.measure.gauges_page import GaugesPage

    page = GaugesPage(work.display.a4_hz, work.display.note)
    page.gauges_changed.connect(work.commands.workshop.change_gauges)
    page.renamed.connect(work.commands.workshop.rename_gauge)
    page.notice.connect(lambda text: work.commands.notice.emit(text, True))
    return page


def make_fit(work: Work) -> FitPage:
    from kesselton.ui.fit.fit_page import FitPage

    page, change = FitPage(datetime.now), work.bench.document.change_entry
    page.changed.connect(lambda label, fittings: change(label, fittings=fittings))
    page.sheet_wanted.connect(lambda: work.commands.papers.fitting_sheet(page))
    page.calendar_wanted.connect(lambda: work.commands.papers.calendar(page))
    page.clear_wanted.connect(work.clear_side)
    return page


def make_clear(work: Work) -> ClearPage:
    from kesselton.ui.clear.clear_page import ClearPage

    page = ClearPage(work.display.a4_hz, work.display.note, work.commands.asking.taps)
    change = work.bench.document.change_entry
    page.changed.connect(lambda label, clearings: change(label, clearings=clearings))
    page.choose_source(work.commands.first_source or work.bench.settings.read_by or "pitch")
    page.tuning_wanted.connect(lambda: work.choose("tuning"))
    page.typed_dropped.connect(lambda text: work.commands.notice.emit(text, False))
    page.hear_wanted.connect(work.hear)
    page.source_chosen.connect(lambda name: work.bench.settings_store.change(read_by=name))
    return page


def make_first(work: Work) -> FirstDrum:
    from kesselton.ui.drum_list.first_drum import FirstDrum

    page = FirstDrum()
    page.add_wanted.connect(work.commands.drums.add)
    page.file_wanted.connect(work.commands.import_file)
    page.demo_wanted.connect(work.commands.workshop.open_demo)
    return page


MAKERS: dict[str, Callable[[Any], QWidget]] = {
    "tuning": make_tuning,
    "heads": make_heads,
    "compare": make_compare,
    "measure": make_measure,
    "log": make_log,
    "set": make_set,
    "practice": make_practice,
    "shows": make_shows,
    "gauges": make_gauges,
    "fit": make_fit,
    "clear": make_clear,
    "first": make_first,
}
