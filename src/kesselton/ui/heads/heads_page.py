"""The stage where heads are chosen: brief, pairs in order, trade-off, why."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QProgressBar, QVBoxLayout, QWidget

from kesselton.app.prediction.chooser import Chooser
from kesselton.app.workshop.head_stock import ANY, ON_IT, Offer, filtered, offers, on_it
from kesselton.core.errors import KesseltonError
from kesselton.core.heads.brief import Brief, typical_brief
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.language import _
from kesselton.store.workshop.holdings import Workshop
from kesselton.ui.heads.brief_form import BriefForm
from kesselton.ui.heads.candidate_list import CandidateList
from kesselton.ui.heads.criteria_panel import CriteriaPanel
from kesselton.ui.heads.muffling_help import Help, MufflingHelp, present_pair
from kesselton.ui.heads.tradeoff import Tradeoff
from kesselton.ui.parts.widgets.columns import fault_label, narrow, scroll
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.heads.choose import Candidates
    from kesselton.core.heads.criteria import Criterion
    from kesselton.core.heads.muffled import Gain

MAX_MARKED = 4


class HeadsPage(QWidget):
    """Brief left, pairs in the middle, reasons right.

    Signals
    -------
    brief_edited(Brief) : to be kept with the drum
    taken(Drum) : the drum with the chosen pair on it, set
    compare_wanted(list of candidates), listen_wanted(int candidate)
    forgotten : the pairs found before no longer hold
    """

    brief_edited = Signal(object)
    taken = Signal(object)
    compare_wanted = Signal(object)
    listen_wanted = Signal(int)
    store_wanted = Signal()
    forgotten = Signal()

    def __init__(self, form: BriefForm, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.chooser = Chooser(self)
        self.help = MufflingHelp(self)
        self.gained: tuple[Gain, ...] = ()  # by muffling the chosen pair, most first
        self.form = form
        self.list = CandidateList()
        self.tradeoff = Tradeoff()
        self.why = CriteriaPanel()
        self.candidates: Candidates | None = None
        self.marked: list[int] = []
        self._drum: Drum | None = None
        self._drum_id = 0
        self._workshop: Workshop | None = None
        self._asked: tuple[Any, ...] | None = None
        self._a4, self._flats = 440.0, False
        self._text, self._kind = "", "all"
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.store = Button(_("Heads in stock…"), tip=_("Heads in stock, and heads of your own"))
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 10, 0, 10)
        title = Label(_("Requirements"))
        title.setFont(font(11, QFont.Weight.DemiBold))
        column.addWidget(title)
        column.addWidget(self.form)
        column.addWidget(self.store)
        self.state = Label()
        self.state.setProperty("quiet", True)
        self.state.setWordWrap(True)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.cancel = Button(_("Stop"))
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 10, 0, 10)
        top = QHBoxLayout()
        top.addWidget(self.state, 1)
        top.addWidget(self.cancel)
        middle.addLayout(top)
        middle.addWidget(self.bar)
        middle.addWidget(self.list, 3)
        middle.addWidget(self.tradeoff, 2)
        right = QWidget()
        side = QVBoxLayout(right)
        side.setContentsMargins(0, 10, 12, 10)
        self.title = Label()
        self.title.setFont(font(11, QFont.Weight.DemiBold))
        self.title.setWordWrap(True)
        self.detail = Label()
        self.detail.setProperty("quiet", True)
        self.detail.setWordWrap(True)
        self.caution = fault_label()
        buttons = self._make_buttons()
        side.addWidget(self.title)
        side.addWidget(self.detail)
        side.addWidget(self.caution)
        side.addWidget(scroll(self.why), 1)
        side.addLayout(buttons)
        across = QHBoxLayout(self)
        across.setContentsMargins(16, 0, 0, 0)
        across.setSpacing(14)
        across.addWidget(narrow(scroll(left), 360), 26)
        across.addLayout(middle, 46)
        across.addWidget(narrow(right, 440), 30)

    def _make_buttons(self) -> QGridLayout:
        self.muffle = Button(
            _("Use with muffling"), tip=_("The chosen pair with the muffling that helps it most")
        )
        self.take = Button(
            _("Use these heads"),
            tip=_("Make the chosen pair and its settings the plan of this drum"),
        )
        self.take.setObjectName("main")
        self.mark = Button(_("Add to comparison (C)"), tip=_("Mark the chosen pair"))
        self.compare = Button(_("Compare"), tip=_("The marked pairs side by side"))
        self.listen = Button(_("Play (L)"), tip=_("The stroke on the chosen pair, computed"))
        buttons = QGridLayout()
        buttons.addWidget(self.mark, 0, 0)
        buttons.addWidget(self.compare, 0, 1)
        buttons.addWidget(self.take, 1, 0)
        buttons.addWidget(self.muffle, 2, 0, 1, 2)
        buttons.addWidget(self.listen, 1, 1)
        buttons.setColumnStretch(0, 3)
        buttons.setColumnStretch(1, 2)
        return buttons

    def _connect(self) -> None:
        self.form.edited.connect(self.brief_edited)
        self.form.filtered.connect(self._on_filtered)
        self.store.clicked.connect(self.store_wanted)
        self.list.chosen.connect(self._on_chosen)
        self.list.marked.connect(self.toggle_mark)
        self.tradeoff.axes_chosen.connect(lambda axes: self._show_points())
        self.tradeoff.picture.chosen.connect(self.list.choose)
        self.why.moved.connect(self._on_weights_moved)
        self.why.kept.connect(self._on_weights_kept)
        self.cancel.clicked.connect(self.chooser.cancel)
        self.chooser.progress.connect(self._on_progress)
        self.chooser.first.connect(self._on_first)
        self.chooser.finished.connect(self._on_found)
        self.chooser.failed.connect(self._on_failed)
        self.chooser.stopped.connect(self._on_stopped)
        self.help.answered.connect(self._on_help)
        self.help.failed.connect(self.why.say_no_help)
        self.muffle.clicked.connect(self.take_muffled)
        self.form.offered = self._batters
        self.take.clicked.connect(lambda: self.take_pair(self.list.current))
        self.mark.clicked.connect(lambda: self.toggle_mark(self.list.current))
        self.compare.clicked.connect(lambda: self.compare_wanted.emit(list(self.marked)))
        self.listen.clicked.connect(lambda: self.listen_wanted.emit(self.list.current))

    # state

    def stop(self) -> None:
        """End the search and its thread."""
        self.chooser.stop()
        self.help.stop()

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.list.set_colours(colours)
        self.tradeoff.set_colours(colours)

    def set_state(
        self,
        drum_id: int,
        drum: Drum | None,
        brief: Brief | None,
        workshop: Workshop,
        a4_hz: float,
        flats: bool,
        heard_hz: float | None,
    ) -> None:
        """Show a drum; a search begins when what it depends on has changed and the stage shows."""
        self._drum_id, self._drum, self._workshop = drum_id, drum, workshop
        self._a4, self._flats = a4_hz, flats
        self.list.rows.a4_hz, self.list.rows.flats = a4_hz, flats
        self.setEnabled(drum is not None)
        if drum is not None:
            self.form.set_state(drum, brief or typical_brief(drum), heard_hz)
        self.list.viewport().update()
        if self.isVisible():
            self.refresh()
        elif self._question() != self._asked:
            self._forget()

    def refresh(self) -> None:
        """Search again if anything it depends on has changed."""
        asked = self._question()
        if asked is not None and asked == self._asked:
            self._rank()
            return
        self._forget()
        if asked is not None:
            assert self._drum is not None
            self._asked = asked
            self._search(self._drum, self.form.brief, asked[-1])

    def _question(self) -> tuple[Any, ...] | None:
        """All that the pairs found depend on, the heads last; None without a drum."""
        drum, workshop = self._drum, self._workshop
        if drum is None or workshop is None:
            return None
        heads = tuple(
            tuple(o.head for o in filtered(self._on_offer(drum, s), self._text, self._kind))
            for s in drum.sides
        )
        bare = (drum.kind, drum.shell, drum.air, drum.resonant is None)
        return (self._drum_id, bare, replace(self.form.brief, weights={}), heads)

    def _batters(self) -> list[Head]:
        """Heads on offer for the batter side."""
        drum = self._drum
        return [] if drum is None else [offer.head for offer in self._on_offer(drum, "batter")]

    def _on_offer(self, drum: Drum, side: str) -> list[Offer]:
        assert self._workshop is not None
        if self._kind == ON_IT:
            return on_it(drum, self._workshop, side)
        return offers(drum, self._workshop, side, self._kind == ANY)

    def _forget(self) -> None:
        """Pairs of another drum, or for another brief, are neither shown nor taken."""
        self.chooser.drop()
        self._asked = None
        self.candidates, self.marked = None, []
        self.list.set_state(None, [], None, -1)
        self._on_chosen(-1)
        self._say_marked()
        self._running(False)
        self.state.setText("")
        self.forgotten.emit()

    def _search(self, drum: Drum, brief: Brief, heads: tuple[tuple[Head, ...], ...]) -> None:
        self.why.build()
        self.form.complain("")
        self.bar.setRange(0, 0)
        self._running(True)
        self.state.setText(_("Computing all pairs…"))
        self.chooser.start(drum, brief, list(heads[0]), list(heads[1]) if len(heads) > 1 else [])

    def _running(self, on: bool) -> None:
        self.bar.setVisible(on)
        self.cancel.setVisible(on)

    def _on_progress(self, done: int, of: int) -> None:
        if not self.chooser.running:
            return  # it was on its way when the search ended
        self.bar.setRange(0, of)
        self.bar.setValue(done)
        self.state.setText(_("{done} of {of} settings computed").format(done=done, of=of))

    def _on_first(self, candidates: Candidates) -> None:
        """A few pairs, while the others are worked out."""
        if len(candidates.feasible):
            self._show(candidates)

    def _on_found(self, candidates: Candidates) -> None:
        self._running(False)
        self._show(candidates)
        self._say(candidates)

    def _show(self, candidates: Candidates) -> None:
        """Other pairs than before; what was chosen and marked by hand is found among them again."""
        before, order, current = self.candidates, self.list.rows.order, self.list.current
        by_hand = order[:1] != [current]
        keep = candidates.place_of(before, current) if before is not None and by_hand else None
        marked = [candidates.place_of(before, number) for number in self.marked] if before else []
        self.candidates = candidates
        self.marked = [place for place in marked if place is not None]
        judged = [
            (c.key, c.label)
            for row, c in enumerate(_criteria())
            if len(candidates) and math.isfinite(float(candidates.scores.value[row, 0]))
        ]
        if judged:
            self.tradeoff.set_criteria(judged)
        self.why.set_weights(candidates.scores.weight)
        self.list.rows.marked = self.marked
        self._say_marked()
        self._rank(keep=-1 if keep is None else keep)

    def _say(self, candidates: Candidates) -> None:
        fit, unsettled = len(candidates.feasible), candidates.asked - len(candidates)
        message = (
            _("{asked} settings solved, {fit} possible on this drum; {unsettled} without solution")
            if unsettled
            else _("{asked} settings solved, {fit} possible on this drum")
        )
        text = message.format(asked=candidates.asked, fit=fit, unsettled=unsettled)
        if candidates.alike:
            text = _(
                "{asked:,} settings searched, heads grouped within {apart:g} % "
                "in mass; {tried} of the best solved, {fit} possible on this "
                "drum"
            ).format(
                asked=candidates.asked,
                fit=fit,
                tried=len(candidates),
                apart=100.0 * candidates.alike,
            )
        from kesselton.core.heads.choose import out_of_reach

        beyond = out_of_reach(candidates)
        if beyond:
            text = " ".join(
                (
                    text,
                    _("No head pair on this shell reaches {what}.").format(
                        what=_(", or ").join(beyond)
                    ),
                )
            )
        missed = candidates.nearest()
        if missed is not None:
            from kesselton.core.heads.choose import nearest_brief

            index, cents, why = missed
            names = " over ".join(head.name for head in candidates.heads[index])
            nearest = nearest_brief(candidates)
            text = _("No pair meets this. Closest: {names}, {cents:.0f} cents off; {why}.").format(
                names=names, cents=cents, why=why
            )
            if nearest is not None:
                whole = nearest.target == "note"
                hz = nearest.fundamental_hz if whole else nearest.batter_hz
                assert hz is not None
                message = (
                    _(
                        "No pair meets this. Closest: {names} at drum pitch {note}, "
                        "{cents:.0f} cents off; {why}."
                    )
                    if whole
                    else _(
                        "No pair meets this. Closest: {names} at batter lug pitch "
                        "{note}, {cents:.0f} cents off; {why}."
                    )
                )
                text = message.format(
                    names=names, cents=cents, why=why,
                    note=wording.note_words(hz, self._a4, self._flats),
                )  # fmt: skip
        self.state.setText(text)

    def _on_failed(self, error: KesseltonError) -> None:
        self._running(False)
        self.state.setText(f"{error.message} {error.remedy}")

    def _on_stopped(self) -> None:
        self._running(False)
        self._asked = None
        self.state.setText(_("Stopped. Change any field to search again."))

    def _rank(self, weight: np.ndarray | None = None, keep: int | None = None) -> None:
        """Put the pairs in order by the weights in force; `keep` stays chosen, or what is."""
        candidates = self.candidates
        if candidates is None:
            return
        if weight is None:
            weight = self._weights()
            self.why.set_weights(weight)
        order = candidates.order(weight).tolist()
        self.list.set_state(
            candidates,
            order,
            candidates.scores.total(weight),
            self.list.current if keep is None else keep,
        )
        self._show_points()

    def _weights(self) -> np.ndarray:
        import numpy as np

        from kesselton.core.heads.criteria import KEYS, typical_weights

        assert self._drum is not None
        weights = typical_weights(self._drum, self.form.brief)
        return np.array([weights[key] for key in KEYS])

    def _on_weights_moved(self, weights: dict[str, float]) -> None:
        import numpy as np

        self._rank(np.array(list(weights.values())))

    def _on_weights_kept(self, weights: dict[str, float]) -> None:
        from kesselton.core.heads.criteria import typical_weights

        assert self._drum is not None
        plain = typical_weights(self._drum, replace(self.form.brief, weights={}))
        own = {key: w for key, w in weights.items() if abs(w - plain[key]) > 1e-9}
        self.brief_edited.emit(replace(self.form.brief, weights=own))

    # what is chosen

    def _on_chosen(self, number: int) -> None:
        candidates = self.candidates
        some = candidates is not None and number >= 0
        for button in (self.take, self.mark, self.listen):
            button.setEnabled(some)
        self.compare.setEnabled(len(self.marked) >= 2)
        self.why.set_state(candidates, number)
        self.gained = ()
        self.muffle.setEnabled(False)
        if candidates is not None and number >= 0 and self._drum is not None:
            present = present_pair(candidates, self._drum, self.list.rows.order)
            self.help.ask(candidates, number, present)
        self._show_points()
        if candidates is None or number < 0 or self._drum is None:
            self.title.setText("")
            self.detail.setText("")
            self.caution.hide()
            return
        lines = [
            f"{wording.side_word(self._drum, side)}: {head.name}"
            for side, head in zip(self._drum.sides, candidates.heads[number], strict=True)
        ]
        self.title.setText("\n".join(lines))
        measures = candidates.measures
        hz = float(measures.fundamental_hz[number])
        from kesselton.core.heads.choose import cautions

        message = " ".join(cautions(candidates, number))
        self.caution.setText(message)
        self.caution.setVisible(bool(message))
        self.detail.setText(
            _("Drum pitch {note}, {hz}; the fundamental decays 60 dB in {seconds}.").format(
                note=wording.note_words(hz, self._a4, self._flats),
                hz=wording.hz_words(hz),
                seconds=wording.seconds_words(float(measures.fundamental_t60_s[number])),
            )
        )

    def toggle_mark(self, number: int) -> None:
        """Mark a pair for comparison, or take the mark back."""
        if number < 0:
            return
        if number in self.marked:
            self.marked.remove(number)
        else:
            self.marked = [*self.marked, number][-MAX_MARKED:]
        self.list.rows.marked = self.marked
        self.list.viewport().update()
        self._say_marked()
        self._show_points()

    def _say_marked(self) -> None:
        self.compare.setText(
            _("Compare {count}").format(count=len(self.marked)) if self.marked else _("Compare")
        )
        self.compare.setEnabled(len(self.marked) >= 2)

    def _show_points(self) -> None:
        self.tradeoff.picture.set_state(
            self.candidates, self.tradeoff.axes, self.list.current, self.marked
        )

    def _on_filtered(self, text: str, kind: str) -> None:
        self._text, self._kind = text, kind
        self.refresh()

    def _on_help(self, help_: Help) -> None:
        if help_.candidates is not self.candidates or help_.number != self.list.current:
            return  # another was chosen since
        import numpy as np

        from kesselton.core.heads.muffled import gains

        candidates, weight = help_.candidates, np.array(list(self.why.weights.values()))
        self.gained = gains(candidates, help_.number, help_.chosen, weight)
        self.muffle.setEnabled(bool(self.gained))
        order, own, place = self.list.rows.order, 0.0, 0
        on_it: tuple[Gain, ...] = ()
        if help_.present in order:
            on_it = gains(candidates, help_.present, help_.on_it, weight)
            own = 100.0 * float(candidates.scores.total(weight)[help_.present])
            place = order.index(help_.present) + 1
        self.why.say_muffled(help_, self.gained, on_it, own, place)

    def take_muffled(self) -> None:
        """Put the chosen pair on the drum with the muffling that helps most."""
        if self.gained:
            self.take_pair(self.list.current, self.gained[0].muffled.mufflers)

    def take_pair(self, number: int, mufflers: tuple[Muffler, ...] | None = None) -> None:
        """Put a pair on the drum, set as it was worked out; None: muffled as the drum is."""
        if self.candidates is not None and number >= 0 and self._drum is not None:
            fitted = self.candidates.fitted(number)
            laid = self._drum.mufflers if mufflers is None else mufflers
            self.taken.emit(
                replace(self._drum, batter=fitted.batter, resonant=fitted.resonant, mufflers=laid)
            )

    @safe_override
    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()


def _criteria() -> tuple[Criterion, ...]:
    from kesselton.core.heads.criteria import CRITERIA

    return CRITERIA
