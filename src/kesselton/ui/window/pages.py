"""The stages of the work: each page is made when it is first asked for or nobody needs
the machine, and wired here alone."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QStackedWidget, QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.bench.learner import Learner
from kesselton.app.hearing.heard_drum import HeardDrum
from kesselton.app.sound.stroke_player import StrokePlayer
from kesselton.core.heads.brief import Brief, like_brief, typical_brief
from kesselton.core.heads.like import Like
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.language import _, figures
from kesselton.ui.commands.commands import Commands
from kesselton.ui.commands.group import guarded
from kesselton.ui.parts.widgets.inputs import Line
from kesselton.ui.parts.words.display_format import DisplayFormat
from kesselton.ui.tuning.tuning_page import TuningPage
from kesselton.ui.window.page_makers import MAKERS
from kesselton.ui.window.page_stack import PageStack

if TYPE_CHECKING:
    from kesselton.store.workshop.log_index import Hit
    from kesselton.ui.clear.clear_page import ClearPage
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

PREPARED = ("fit", "measure", "clear", "gauges", "heads", "log", "set", "shows", "practice")
NEED_NO_DRUM = ("gauges", "practice")
OF_A_DRUM = ("measure", "heads", "tuning", "fit", "clear", "gauges", "log")
"""Pages on which what is typed belongs to the drum on the bench."""


class Pages(PageStack):
    """One page at a time, brought up to date while it is shown.

    Signals
    -------
    shown(str name) : another page is on show
    """

    shown = Signal(str)

    def __init__(
        self,
        bench: Bench,
        commands: Commands,
        listener: StrokePlayer,
        display: DisplayFormat,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(PREPARED, lambda name: MAKERS[name](self), parent)
        self.bench, self.commands = bench, commands
        self._listener, self.display = listener, display
        self.learner = Learner(bench)
        self._brief: BriefForm | None = None
        self._opened: set[str] = set()
        self.page_name = "tuning"
        bench.document.leaving.connect(self._leave_drum)
        bench.changed.connect(self.refresh)
        bench.answered.connect(lambda result: self._suggest())
        self.learner.learned.connect(self._on_learned)
        commands.logs.keep_wanted.connect(self._keep)
        commands.drums.case_wanted.connect(self._on_case)
        bench.planned.connect(lambda plan: self.refresh())

    # the pages

    @property
    def tuning(self) -> TuningPage:
        """Section, ladder, readout."""
        return cast("TuningPage", self.page_of("tuning"))

    @property
    def heads(self) -> HeadsPage:
        """Choosing heads."""
        return cast("HeadsPage", self.page_of("heads"))

    @property
    def compare(self) -> ComparePage:
        """Chosen pairs side by side."""
        return cast("ComparePage", self.page_of("compare"))

    @property
    def measure(self) -> MeasurePage:
        """Readings and the bare shell."""
        return cast("MeasurePage", self.page_of("measure"))

    @property
    def gauges(self) -> GaugesPage:
        """Dials and torque keys."""
        return cast("GaugesPage", self.page_of("gauges"))

    @property
    def fit(self) -> FitPage:
        """Fitting a head."""
        return cast("FitPage", self.page_of("fit"))

    @property
    def clear(self) -> ClearPage:
        """Clearing a head."""
        return cast("ClearPage", self.page_of("clear"))

    @property
    def log(self) -> LogPage:
        """What was kept."""
        return cast("LogPage", self.page_of("log"))

    @property
    def set(self) -> SetPage:
        """Drums that are played together."""
        return cast("SetPage", self.page_of("set"))

    @property
    def shows(self) -> ShowsPage:
        """Shows and repairs."""
        return cast("ShowsPage", self.page_of("shows"))

    @property
    def practice(self) -> PracticePage:
        """Ears and hands."""
        return cast("PracticePage", self.page_of("practice"))

    @property
    def practising(self) -> bool:
        """Whether an exercise is under way."""
        page = cast("PracticePage | None", self._pages.get("practice"))
        return page is not None and page.practice.running

    def piece_before(self, name: str) -> bool:
        if name != "heads" or self._brief is not None:
            return False
        self._brief = self._make_brief()
        return True

    @property
    def brief(self) -> BriefForm:
        """The form of the page Heads."""
        return self._brief or self._make_brief()

    def _make_brief(self) -> BriefForm:
        from kesselton.ui.heads.brief_form import BriefForm

        return BriefForm(self.display.a4_hz, self.display.note)

    def _on_case(self, drum_id: int, hit: Hit) -> None:
        """How another drum was set, beside the one that was added."""
        if self.bench.document.current_id == drum_id:
            self.choose("log")
            self.log.show_case(hit)

    def clear_side(self, side: str) -> None:
        """A head that was fitted is cleared next."""
        self.choose("clear")
        self.clear.choose_side(side)

    # showing

    def choose(self, name: str) -> None:
        """Show one name, or ("") the one that is on show; the keys go where its work begins."""
        name = name or self.page_name
        self.page_name = self.bench.document.place = "heads" if name == "compare" else name
        if self._empty:
            self.refresh()
            self.shown.emit(name)
            return
        page = getattr(self, name)
        self._opened.add(name)
        self.commands.sets.sets.watch(name == "set")
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
        }.get(name, lambda: page)()
        first.setFocus()
        self.shown.emit(name)

    def _leave_drum(self) -> None:
        """Another drum comes: what stands typed for this one is entered while it is there. What
        cannot be taken stays with its drum, or is told by its page."""
        for name in OF_A_DRUM:
            page = self._pages.get(name)
            if page is None:
                continue
            typed = [line for line in page.findChildren(Line) if line.unsent]
            if typed and name != "tuning":
                self._bring_up(name)  # a page that is not on show may be behind
            for line in typed:
                if line.unsent:
                    line.enter()
            leave = getattr(page, "leave_drum", None)
            if leave is not None:
                leave()

    def show_line(self, line: QWidget) -> None:
        """Show the page a line is on, and give it the keys."""
        for name, page in self._pages.items():
            if page.isAncestorOf(line) and page is not self.page:
                self.choose(name)
        inner: QWidget | None = line
        while inner is not None:
            stack = inner.parentWidget()
            if isinstance(stack, QStackedWidget) and stack is not self:
                stack.setCurrentWidget(inner)
            inner = stack
        line.setFocus()

    @property
    def _empty(self) -> bool:
        """Whether there is no drum for a name to be about; gauges and practice need none."""
        return self.bench.drum is None and self.page_name not in NEED_NO_DRUM

    def refresh(self) -> None:
        """Bring the name on show up to date; Tuning does that by itself. Without a drum every page
        lets go of the last one, and the way to the first is shown."""
        first = self._pages.get("first")
        if self._empty:
            for name in ("measure", "fit", "clear", "log"):
                if name in self._opened:
                    self._bring_up(name)
            if first is None or self.currentWidget() is not first:
                page = self.page_of("first")
                self.setCurrentWidget(page)
                page.setFocus()
        elif first is not None and self.currentWidget() is first:
            self.choose(self.page_name)
        else:
            self._bring_up(self.page_name)
        if "heads" in self._opened:
            self._bring_up("heads")

    def _bring_up(self, name: str) -> None:
        bench, settings = self.bench, self.bench.settings
        entry, workshop = bench.entry, bench.document.workshop
        if name == "measure":
            self.measure.set_state(entry, workshop, settings.a4_hz, settings.flats)
        elif name == "gauges":
            self.gauges.set_state(bench.drum, bench.document.current_id, workshop)
        elif name == "fit":
            turns = bench.plan.turns_to_setting() if bench.plan else None
            if turns is None and not bench.planning:
                turns = {}  # there is no plan: the steps go by the model alone
            self.fit.set_state(entry, settings.a4_hz, settings.flats, turns)
        elif name == "clear":
            self.clear.set_state(entry, workshop, settings.flats)
        elif name == "log":
            settled = bench.settled
            now = () if settled is None else tuple(settled.prediction.tensions_n_per_m)
            self.log.set_state(entry, workshop, now, settings.a4_hz, settings.flats)
            self.log.set_own(self.learner.own)
        elif name == "set":
            self.set.set_state(settings.flats, settings.metric, bench.document.current_id)
        elif name == "shows":
            self.shows.set_state()
        elif name == "practice":
            self.practice.set_state()
        elif name == "heads":
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
        if "heads" in self._opened and self.bench.result is not None:
            self.heads.form.suggest(self.bench.result.prediction.fundamental_hz)

    # what the pages ask for

    def take(self, drum: Drum, label: str) -> None:
        if self.bench.commit_drum(label, drum):
            self.choose("tuning")

    def keep_brief(self, brief: Brief) -> None:
        fault = self.commands.drums.keep_brief(brief)
        if fault is not None:
            self.heads.form.complain(f"{fault.message} {fault.remedy}")

    def take_heard(self, heard: HeardDrum) -> None:
        """What was heard can be listened to beside what was computed."""
        from kesselton.core.prediction.render import Sound, matched

        rate, name = int(heard.rate_hz), heard.drum.name
        sound = Sound(matched(heard.samples, rate), rate, False)
        self._listener.remember(_("{name}, current setting").format(name=name), heard.computed)
        self._listener.remember(_("{name}, measured").format(name=name), sound)

    def search_like_heard(self) -> None:
        """Heads and settings like what was heard of the drum on the bench."""
        from kesselton.app.hearing.heard_drum import like_heard

        heard = self.tuning.heard
        if heard is not None:
            with guarded(self.commands.told, "sound"):
                self._search_like(like_heard(heard), heard.prediction.stroke)

    def search_like_kept(self, kept: Kept) -> None:
        """The same like a stroke of a log; of another drum, too."""
        from kesselton.app.workshop.log_entries import like_kept

        with guarded(self.commands.told, "sound"):
            self._search_like(like_kept(kept), None)

    def _search_like(self, like: Like, struck: Stroke | None) -> None:
        """Raises KesseltonError if the drum on the bench cannot be asked for that."""
        drum = self.bench.drum
        if drum is None:
            return
        brief = like_brief(self.bench.brief or typical_brief(drum), like, struck)
        brief.check_fits(drum)
        self.heads.form.take_in_hand(like)
        self.bench.document.change_entry(_("requirements"), brief=brief)
        self.choose("heads")

    def _on_learned(self) -> None:
        """What is the drum's own is shown where its log is."""
        if self.page_name == "log" and "log" in self._opened:
            self.log.set_own(self.learner.own)

    def _keep(self) -> None:
        """What was heard of the drum as it is set goes into its log with the rest."""
        self.commands.logs.open_keep(self.tuning.heard)

    def show_heard(self) -> None:
        """Show what was heard of the drum on the bench beside what was computed."""
        self.commands.sound.show_heard(self.tuning.heard)

    def hear(self) -> None:
        """Hear a stroke on the drum on the bench."""
        self.choose("tuning")
        self.tuning.hear()

    def listen_to(self, number: int) -> None:
        """Let one of the candidates be heard, struck as the brief says."""
        candidates = self.heads.candidates
        if candidates is not None and number >= 0:
            names = " over ".join(head.name for head in candidates.heads[number])
            pitches = " / ".join(
                figures(hz, ".0f") for hz in candidates.solved.lug_pitches_hz[number]
            )
            name = _("{names} ({pitches} Hz)").format(names=names, pitches=pitches)
            self._listener.hear(name, candidates.fitted(number), candidates.brief.stroke)

    def listen_to_chosen(self) -> None:
        """The same of the pair that is chosen."""
        self.listen_to(self.heads.list.current)

    def compare_pairs(self, numbers: list[int]) -> None:
        if self.heads.candidates is not None and len(numbers) >= 2:
            settings = self.bench.settings
            self.compare.show_pairs(self.heads.candidates, numbers, settings.a4_hz, settings.flats)
            self.choose("compare")

    def forget_pairs(self) -> None:
        """What stood side by side is of another drum, or no longer what was asked for."""
        if self.currentWidget() is self._pages.get("compare"):
            self.choose("heads")

    def stop(self) -> None:
        """End every thread."""
        self.learner.stop()
        self.commands.shows.stop()
        super().stop()
