"""The stages of the work: each page is made when it is first asked for or nobody needs
the machine, and wired here alone."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING, Any, TypeVar, cast

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QSizePolicy, QStackedWidget, QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.learner import Learner
from kesselton.app.hearing.heard_drum import HeardDrum
from kesselton.app.sound.stroke_player import Listener
from kesselton.app.workshop.log_search import LogFinder
from kesselton.core.heads.brief import Brief, like_brief, typical_brief
from kesselton.core.heads.like import Like
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.language import _
from kesselton.ui.commands.commands import Commands
from kesselton.ui.commands.group import guarded
from kesselton.ui.parts.widgets.inputs import Line
from kesselton.ui.parts.widgets.theme import LIGHT, Colours
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.tuning_stage import TuningStage

if TYPE_CHECKING:
    from kesselton.store.workshop.log_index import Hit
    from kesselton.ui.clear.clear_stage import ClearStage
    from kesselton.ui.drum_list.first_drum import FirstDrum
    from kesselton.ui.fit.fit_stage import FitStage
    from kesselton.ui.heads.brief_form import BriefForm
    from kesselton.ui.heads.compare import ComparePage
    from kesselton.ui.heads.heads_stage import HeadsStage
    from kesselton.ui.log.log_stage import LogStage
    from kesselton.ui.measure.gauges_stage import GaugesStage
    from kesselton.ui.measure.measure_stage import MeasureStage
    from kesselton.ui.practice.practice_stage import PracticeStage
    from kesselton.ui.sets.set_stage import SetStage
    from kesselton.ui.shows.staging_stage import StagingStage

P = TypeVar("P", bound=QWidget)
PREPARED = ("fit", "measure", "clear", "gauges", "heads", "log", "set", "staging", "practice")
NEED_NO_DRUM = ("gauges", "practice")
OF_A_DRUM = ("measure", "heads", "tuning", "fit", "clear", "gauges", "log")
"""Pages on which what is typed belongs to the drum on the bench."""
PREPARE_MS = 80


class Stages(QStackedWidget):
    """One page at a time, brought up to date while it is shown.

    Signals
    -------
    shown(str stage) : another stage is on show
    prepared() : there is no page left to make beforehand
    """

    shown = Signal(str)
    prepared = Signal()

    def __init__(
        self,
        bench: Bench,
        commands: Commands,
        listener: Listener,
        display: DisplayFormat,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._bench, self._commands = bench, commands
        self._listener, self._display = listener, display
        self.learner = Learner(bench)
        self._colours = LIGHT
        self._pages: dict[str, Any] = {}
        self._made: dict[str, QWidget] = {}
        self._brief: BriefForm | None = None
        self._to_fill: list[Callable[[], object]] = []
        self._preparing = False
        self._opened: set[str] = set()
        self._later = QTimer(self, singleShot=True, interval=PREPARE_MS)
        self._later.timeout.connect(self._go_on)
        self.stage = "tuning"
        self.currentChanged.connect(lambda place: self._ask_room())
        bench.document.leaving.connect(self._leave_drum)
        bench.changed.connect(self.refresh)
        bench.answered.connect(lambda found: self._suggest())
        self.learner.learned.connect(self._on_learned)
        commands.logs.keep_wanted.connect(self._keep)
        commands.drums.case_wanted.connect(self._on_case)
        bench.planned.connect(lambda plan: self.refresh())

    # the pages

    @property
    def tuning(self) -> TuningStage:
        """Section, ladder, readout."""
        return self._page("tuning", self._make_tuning)

    @property
    def heads(self) -> HeadsStage:
        """Choosing heads."""
        return self._page("heads", self._make_heads)

    @property
    def compare(self) -> ComparePage:
        """Chosen pairs side by side."""
        return self._page("compare", self._make_compare)

    @property
    def measure(self) -> MeasureStage:
        """Readings and the bare shell."""
        return self._page("measure", self._make_measure)

    @property
    def gauges(self) -> GaugesStage:
        """Dials and torque keys."""
        return self._page("gauges", self._make_gauges)

    @property
    def fit(self) -> FitStage:
        """Fitting a head."""
        return self._page("fit", self._make_fit)

    @property
    def clear(self) -> ClearStage:
        """Clearing a head."""
        return self._page("clear", self._make_clear)

    @property
    def log(self) -> LogStage:
        """What was kept."""
        return self._page("log", self._make_log)

    @property
    def set(self) -> SetStage:
        """Drums that are played together."""
        return self._page("set", self._make_set)

    @property
    def staging(self) -> StagingStage:
        """Shows and repairs."""
        return self._page("staging", self._make_staging)

    @property
    def practice(self) -> PracticeStage:
        """Ears and hands."""
        return self._page("practice", self._make_practice)

    @property
    def practising(self) -> bool:
        """Whether an exercise is under way."""
        page = cast("PracticeStage | None", self._pages.get("practice"))
        return page is not None and page.practice.running

    def _page(self, name: str, make: Callable[[], P]) -> P:
        if name not in self._pages:
            made = self._made.pop(name, None)
            page = self._pages[name] = make() if made is None else cast("P", made)
            page.set_colours(self._colours)  # type: ignore[attr-defined]
            self.addWidget(page)
            self._ask_room()
        return cast("P", self._pages[name])

    def prepare(self) -> None:
        """Make the pages nobody has opened yet, piece by piece with pauses between, so that opening
        one takes no longer than coming back to it, and none of it is felt."""
        self._preparing = True
        self._go_on()

    def _go_on(self) -> None:
        """The next piece: what is missing of a page that is there, else of the next page."""
        if self._to_fill:
            self._to_fill.pop(0)()
        else:
            name = next((name for name in PREPARED if name not in self._pages), None)
            if not self._preparing:
                return
            if name is None:
                self._preparing = False
                self.prepared.emit()
                return
            if name in self._made:
                getattr(self, name)
            elif name == "heads" and self._brief is None:
                self._brief = self._make_brief()
            else:
                self._made[name] = getattr(self, f"_make_{name}")()
        self._later.start()

    def _fill_later(self, fill: Callable[[], object]) -> None:
        self._to_fill.append(fill)
        self._later.start()

    def _ask_room(self) -> None:
        """Only the page on show asks for room."""
        policy = QSizePolicy.Policy
        for place in range(self.count()):
            asked = policy.Preferred if place == self.currentIndex() else policy.Ignored
            page = self.widget(place)
            assert page is not None
            page.setSizePolicy(asked, asked)

    def _make_tuning(self) -> TuningStage:
        page = TuningStage(self._bench, self._display, self._commands.asking.strokes, self.learner)
        page.sheet_wanted.connect(self._commands.papers.sheet_pdf)
        page.typed_dropped.connect(lambda text: self._commands.said.emit(text, False))
        page.kind_changed.connect(self._commands.drums.offer_usual)
        page.listen_wanted.connect(self._commands.sound.play)
        page.ears.heard.connect(self._on_heard)
        page.heard_card.heads_wanted.connect(self._on_like_heard)
        return page

    def _make_brief(self) -> BriefForm:
        from kesselton.ui.heads.brief_form import BriefForm

        return BriefForm(self._display.a4_hz, self._display.note)

    def _make_heads(self) -> HeadsStage:
        from kesselton.ui.heads.heads_stage import HeadsStage

        page = HeadsStage(self._brief or self._make_brief())
        page.brief_edited.connect(self._on_brief)
        page.taken.connect(lambda drum: self._take(drum, _("use heads")))
        page.store_wanted.connect(self._commands.workshop.stock)
        page.listen_wanted.connect(self.listen_to)
        page.compare_wanted.connect(self._on_compare)
        page.forgotten.connect(self._on_forgotten)
        return page

    def _make_compare(self) -> ComparePage:
        from kesselton.ui.heads.compare import ComparePage

        page = ComparePage()
        page.back.connect(lambda: self.choose("heads"))
        page.listen_wanted.connect(self.listen_to)
        page.taken.connect(self.heads.take_pair)
        return page

    def _make_measure(self) -> MeasureStage:
        from kesselton.ui.measure.measure_stage import MeasureStage

        page, change = MeasureStage(self._display.a4_hz), self._bench.document.change_entry
        page.noted.connect(lambda notes: change(_("readings"), readings=notes))
        page.inspected.connect(lambda found: change(_("bare shell"), inspected=found))
        page.set_wanted.connect(lambda drum: self._take(drum, _("apply readings to heads")))
        page.reckoned.connect(lambda drum: self._bench.commit_drum(_("apply findings"), drum))
        page.typed_dropped.connect(lambda text: self._commands.said.emit(text, False))
        return page

    def _make_log(self) -> LogStage:
        from kesselton.ui.log.log_stage import LogStage

        document = self._bench.document
        page = LogStage(self._display.note, LogFinder(document))
        page.shown.connect(self._commands.logs.show_attached)
        page.attach_wanted.connect(self._commands.logs.attach_to)
        page.like_wanted.connect(self._on_like_kept)
        page.older_wanted.connect(self.refresh)
        page.set_wanted.connect(lambda label, drum: self._take(drum, label))
        page.changed.connect(lambda label, log: document.change_entry(label, kept=log))
        page.drum_wanted.connect(document.select)
        page.keep_wanted.connect(self._commands.logs.keep_wanted.emit)
        page.export_wanted.connect(self._commands.logs.export_log)
        return page

    def _on_case(self, drum_id: int, hit: Hit) -> None:
        """How another drum was set, beside the one that was added."""
        if self._bench.document.current_id == drum_id:
            self.choose("log")
            self.log.show_case(hit)

    def _make_set(self) -> SetStage:
        from kesselton.ui.sets.set_stage import SetStage

        sets = self._commands.sets
        page = SetStage(sets.sets, self._display.a4_hz, self._display.note)
        page.drums_wanted.connect(sets.drums)
        page.new_wanted.connect(sets.new)
        page.sheet_wanted.connect(lambda: sets.sheet(page.chosen_plan, page.show_cents))
        page.play_wanted.connect(
            lambda planned: sets.play(
                page.hear.key, page.hear.muted, page.chosen_plan if planned else None
            )
        )
        page.drum_chosen.connect(self._bench.document.select)
        page.said.connect(lambda text: self._commands.said.emit(text, True))
        self._fill_later(page.fill)
        return page

    def _make_practice(self) -> PracticeStage:
        from kesselton.app.practice.practice_bench import PracticeBench
        from kesselton.ui.practice.practice_stage import PracticeStage

        bench, commands = self._bench, self._commands
        page = PracticeStage(
            PracticeBench(bench, parent=self),
            self._display.a4_hz,
            lambda: bench.settings.flats,
            commands.asking.save,
        )
        page.said.connect(lambda text: commands.said.emit(text, True))
        page.told.connect(lambda error: commands.told.emit(error, "practice"))
        self._fill_later(page.fill)
        return page

    def _make_staging(self) -> StagingStage:
        from kesselton.app.shows.house_drums import HouseDrums
        from kesselton.ui.shows.staging_stage import StagingStage

        staging, bench = self._commands.shows, self._bench
        page = StagingStage(
            staging.stage,
            HouseDrums(parent=self),
            self._display.a4_hz,
            lambda: bench.settings.flats,
            self._commands.asking.strokes,
        )
        page.night_wanted.connect(staging.repair)
        page.new_wanted.connect(staging.new_show)
        page.buy_wanted.connect(self._commands.workshop.buy_list)
        page.keep_house_wanted.connect(lambda: staging.keep_house(page.house.house))
        page.said.connect(lambda text: self._commands.said.emit(text, True))
        self._fill_later(lambda: staging.stage.items)  # looks into logs nobody has read yet
        return page

    def _make_gauges(self) -> GaugesStage:
        from kesselton.ui.measure.gauges_stage import GaugesStage

        page = GaugesStage(self._display.a4_hz, self._display.note)
        page.gauges_changed.connect(self._commands.workshop.change_gauges)
        page.renamed.connect(self._commands.workshop.rename_gauge)
        page.said.connect(lambda text: self._commands.said.emit(text, True))
        return page

    def _make_fit(self) -> FitStage:
        from kesselton.ui.fit.fit_stage import FitStage

        page, change = FitStage(datetime.now), self._bench.document.change_entry
        page.changed.connect(lambda label, fittings: change(label, fittings=fittings))
        page.sheet_wanted.connect(lambda: self._commands.papers.fitting_sheet(page))
        page.calendar_wanted.connect(lambda: self._commands.papers.calendar(page))
        page.clear_wanted.connect(self._clear_side)
        return page

    def _clear_side(self, side: str) -> None:
        """A head that was fitted is cleared next."""
        self.choose("clear")
        self.clear.choose_side(side)

    def _make_clear(self) -> ClearStage:
        from kesselton.ui.clear.clear_stage import ClearStage

        page = ClearStage(self._display.a4_hz, self._display.note, self._commands.asking.taps)
        change = self._bench.document.change_entry
        page.changed.connect(lambda label, clearings: change(label, clearings=clearings))
        page.choose_source(self._commands.first_source or self._bench.settings.read_by or "pitch")
        page.tuning_wanted.connect(lambda: self.choose("tuning"))
        page.typed_dropped.connect(lambda text: self._commands.said.emit(text, False))
        page.hear_wanted.connect(self.hear)
        page.source_chosen.connect(lambda name: self._bench.settings_store.change(read_by=name))
        return page

    def _make_first(self) -> FirstDrum:
        from kesselton.ui.drum_list.first_drum import FirstDrum

        page = FirstDrum()
        page.add_wanted.connect(self._commands.drums.add)
        page.file_wanted.connect(self._commands.import_file)
        page.demo_wanted.connect(self._commands.workshop.open_demo)
        return page

    # showing

    def choose(self, stage: str) -> None:
        """Show one stage, or ("") the one that is on show; the keys go where its work begins."""
        stage = stage or self.stage
        self.stage = self._bench.document.place = "heads" if stage == "compare" else stage
        if self._empty:
            self.refresh()
            self.shown.emit(stage)
            return
        page = getattr(self, stage)
        self._opened.add(stage)
        self._commands.sets.sets.watch(stage == "set")
        self.setCurrentWidget(page)
        self.refresh()
        first = {
            "measure": lambda: page.value,
            "heads": lambda: page.list,
            "tuning": lambda: page.ladder,
            "gauges": lambda: page.reading.line,
            "log": lambda: page.line,
            "set": lambda: page.picture,
            "clear": lambda: page.home,
        }.get(stage, lambda: page)()
        first.setFocus()
        self.shown.emit(stage)

    def show_line(self, line: QWidget) -> None:
        """Show the page a line is on, and give it the keys."""
        for stage, page in self._pages.items():
            if page.isAncestorOf(line) and stage != self.stage:
                self.choose(stage)
        inner: QWidget | None = line
        while inner is not None:
            stack = inner.parentWidget()
            if isinstance(stack, QStackedWidget) and stack is not self:
                stack.setCurrentWidget(inner)
            inner = stack
        line.setFocus()

    @property
    def page(self) -> Any:
        """The page on show."""
        return self.currentWidget()

    def means(self, event: QKeyEvent) -> bool:
        """Whether the page on show means something by a key, so that it is no shortcut."""
        meant = getattr(self.page, "means_key", None)
        return meant is not None and bool(meant(event))

    def take_key(self, event: QKeyEvent) -> bool:
        """Give the page on show a key that nobody else had a use for; False if it has none."""
        take = getattr(self.page, "take_key", None)
        return take is not None and bool(take(event))

    def forget_said(self) -> None:
        """A step was taken back: what pages say of what was done is no longer so."""
        for page in self._pages.values():
            forget = getattr(page, "forget_said", None)
            if forget is not None:
                forget()

    def _leave_drum(self) -> None:
        """Another drum comes: what stands typed for this one is entered while it is there. What
        cannot be taken stays with its drum, or is told by its page."""
        for stage in OF_A_DRUM:
            page = self._pages.get(stage)
            if page is None:
                continue
            typed = [line for line in page.findChildren(Line) if line.unsent]
            if typed and stage != "tuning":
                self._bring_up(stage)  # a page that is not on show may be behind
            for line in typed:
                if line.unsent:
                    line.enter()
            leave = getattr(page, "leave_drum", None)
            if leave is not None:
                leave()

    @property
    def _empty(self) -> bool:
        """Whether there is no drum for a stage to be about; gauges and practice need none."""
        return self._bench.drum is None and self.stage not in NEED_NO_DRUM

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        for page in self._pages.values():
            page.set_colours(colours)

    def refresh(self) -> None:
        """Bring the stage on show up to date; Tuning does that by itself. Without a drum every page
        lets go of the last one, and the way to the first is shown."""
        first = self._pages.get("first")
        if self._empty:
            for stage in ("measure", "fit", "clear", "log"):
                if stage in self._opened:
                    self._bring_up(stage)
            if first is None or self.currentWidget() is not first:
                page = self._page("first", self._make_first)
                self.setCurrentWidget(page)
                page.setFocus()
        elif first is not None and self.currentWidget() is first:
            self.choose(self.stage)
        else:
            self._bring_up(self.stage)
        if "heads" in self._opened:
            self._bring_up("heads")

    def _bring_up(self, stage: str) -> None:
        bench, settings = self._bench, self._bench.settings
        entry, workshop = bench.entry, bench.document.workshop
        if stage == "measure":
            self.measure.set_state(entry, workshop, settings.a4_hz, settings.flats)
        elif stage == "gauges":
            self.gauges.set_state(bench.drum, bench.document.current_id, workshop)
        elif stage == "fit":
            turns = bench.plan.turns_to_setting() if bench.plan else None
            if turns is None and not bench.planning:
                turns = {}  # there is no plan: the steps go by the model alone
            self.fit.set_state(entry, settings.a4_hz, settings.flats, turns)
        elif stage == "clear":
            self.clear.set_state(entry, workshop, settings.flats)
        elif stage == "log":
            settled = bench.settled
            now = () if settled is None else tuple(settled.prediction.tensions_n_per_m)
            self.log.set_state(entry, workshop, now, settings.a4_hz, settings.flats)
            self.log.set_own(self.learner.own)
        elif stage == "set":
            self.set.set_state(settings.flats, settings.metric, bench.document.current_id)
        elif stage == "staging":
            self.staging.set_state()
        elif stage == "practice":
            self.practice.set_state()
        elif stage == "heads":
            self.heads.set_state(
                bench.document.current_id,
                bench.drum,
                bench.brief,
                workshop,
                settings.a4_hz,
                settings.flats,
                None if bench.result is None else bench.result.prediction.fundamental_hz,
            )

    def _suggest(self) -> None:
        """What the drum sounds now is where a brief for a note begins."""
        if "heads" in self._opened and self._bench.result is not None:
            self.heads.form.suggest(self._bench.result.prediction.fundamental_hz)

    # what the pages ask for

    def _take(self, drum: Drum, label: str) -> None:
        if self._bench.commit_drum(label, drum):
            self.choose("tuning")

    def _on_brief(self, brief: Brief) -> None:
        fault = self._commands.drums.keep_brief(brief)
        if fault is not None:
            self.heads.form.complain(f"{fault.message} {fault.remedy}")

    def _on_heard(self, heard: HeardDrum) -> None:
        """What was heard can be listened to beside what was computed."""
        from kesselton.core.prediction.render import Sound, matched

        rate, name = int(heard.rate_hz), heard.drum.name
        sound = Sound(matched(heard.samples, rate), rate, False)
        self._listener.remember(_("{name}, current setting").format(name=name), heard.computed)
        self._listener.remember(_("{name}, measured").format(name=name), sound)

    def _on_like_heard(self) -> None:
        """Heads and settings like what was heard of the drum on the bench."""
        from kesselton.app.hearing.heard_drum import like_heard

        heard = self.tuning.heard
        if heard is not None:
            with guarded(self._commands.told, "sound"):
                self._search_like(like_heard(heard), heard.found.stroke)

    def _on_like_kept(self, kept: Kept) -> None:
        """The same like a stroke of a log; of another drum, too."""
        from kesselton.app.workshop.log_entries import like_kept

        with guarded(self._commands.told, "sound"):
            self._search_like(like_kept(kept), None)

    def _search_like(self, like: Like, struck: Stroke | None) -> None:
        """Raises KesseltonError if the drum on the bench cannot be asked for that."""
        drum = self._bench.drum
        if drum is None:
            return
        brief = like_brief(self._bench.brief or typical_brief(drum), like, struck)
        brief.check_fits(drum)
        self.heads.form.take_in_hand(like)
        self._bench.document.change_entry(_("requirements"), brief=brief)
        self.choose("heads")

    def _on_learned(self) -> None:
        """What is the drum's own is shown where its log is."""
        if self.stage == "log" and "log" in self._opened:
            self.log.set_own(self.learner.own)

    def _keep(self) -> None:
        """What was heard of the drum as it is set goes into its log with the rest."""
        self._commands.logs.open_keep(self.tuning.heard)

    def show_heard(self) -> None:
        """Show what was heard of the drum on the bench beside what was computed."""
        self._commands.sound.show_heard(self.tuning.heard)

    def hear(self) -> None:
        """Hear a stroke on the drum on the bench."""
        self.choose("tuning")
        self.tuning.hear()

    def listen_to(self, number: int) -> None:
        """Let one of the candidates be heard, struck as the brief says."""
        found = self.heads.found
        if found is not None and number >= 0:
            names = " over ".join(head.name for head in found.heads[number])
            pitches = " / ".join(f"{hz:.0f}" for hz in found.solved.lug_pitches_hz[number])
            name = _("{names} ({pitches} Hz)").format(names=names, pitches=pitches)
            self._listener.hear(name, found.fitted(number), found.brief.stroke)

    def listen_to_chosen(self) -> None:
        """The same of the pair that is chosen."""
        self.listen_to(self.heads.list.current)

    def _on_compare(self, numbers: list[int]) -> None:
        if self.heads.found is not None and len(numbers) >= 2:
            settings = self._bench.settings
            self.compare.show_pairs(self.heads.found, numbers, settings.a4_hz, settings.flats)
            self.choose("compare")

    def _on_forgotten(self) -> None:
        """What stood side by side is of another drum, or no longer what was asked for."""
        if self.currentWidget() is self._pages.get("compare"):
            self.choose("heads")

    def stop(self) -> None:
        """End every thread."""
        self._later.stop()
        self.learner.stop()
        self._commands.shows.stop()
        made = cast("dict[str, Any]", self._made)
        for page in (*self._pages.values(), *made.values()):
            page.stop()
