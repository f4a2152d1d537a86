"""The Log stage: the life of the drum on the bench, and what was kept in every log."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from kesselton.app.bench.learner import OwnDrum
from kesselton.app.workshop.log_entries import Finds, differences, turns_back
from kesselton.core.errors import KesseltonError
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept
from kesselton.core.language import _, ngettext
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.lazy_rows import count_of, last_of
from kesselton.store.workshop.log_index import Hit, hit_of
from kesselton.ui.log.conclusion_words import conclusion_words
from kesselton.ui.log.entry_words import entry_words, title_words, when_words
from kesselton.ui.log.own_picture import OwnPicture
from kesselton.ui.log.own_words import outlook_words, own_gist, own_words
from kesselton.ui.log.time_line import TimeLine
from kesselton.ui.parts.widgets.columns import scroll, selectable
from kesselton.ui.parts.widgets.flow import FlowLayout
from kesselton.ui.parts.widgets.fold import Fold
from kesselton.ui.parts.widgets.inputs import Box, Button, Finder, Rows
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.theme import Colours, font
from kesselton.ui.parts.words import wording

MOST_LISTED = 200
MOST_SHOWN = 400
"""Of a longer log the newest, until somebody asks for all of it."""

CASES = 2
"""Where past cases stand among what can be listed."""


class LogPage(QWidget):
    """What it shows is of the drum it was given, and goes with it.

    Signals
    -------
    set_wanted(str label, Drum) : the drum with heads and setting of an entry
    changed(str label, tuple of Kept) : the log of the drum
    drum_wanted(int) : an entry of another drum was chosen
    keep_wanted(), export_wanted()
    shown(Attached) : a picture is to be looked at, or a sound heard
    older_wanted() : all of a long log is to be shown
    like_wanted(Kept) : the drum on the bench shall sound like the stroke of an entry
    attach_wanted(Kept) : more is to be attached to an entry
    """

    set_wanted = Signal(str, object)
    changed = Signal(str, object)
    drum_wanted = Signal(int)
    keep_wanted = Signal()
    export_wanted = Signal()
    shown = Signal(object)
    attach_wanted = Signal(object)
    like_wanted = Signal(object)
    older_wanted = Signal()

    def __init__(
        self, note: Callable[[float], str], finds: Finds, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._note, self._finds = note, finds
        self._pinned: Kept | None = None
        self._case: Kept | None = None
        self._entry: Entry | None = None
        self._log: tuple[Kept, ...] = ()
        self._now: tuple[float, ...] = ()
        self._current = -1
        self._listed: list[Hit] = []
        self._names: dict[int, str] = {}
        self._attached = FlowLayout(spacing=6)
        self._followed = (-1, -1)
        self._total, self._first, self._all_of = (
            0,
            0,
            0,
        )  # place of the first entry shown; drum shown in full
        self.older = Button(_("Show older entries"), tip=_("Read further back"))
        self.older.hide()
        self._own: OwnDrum | None = None
        self._make_entry()
        self.finder = Finder(_("Search all logs"))
        self.which = Box()
        self.which.setAccessibleName(_("Entries shown"))
        self.which.addItems(
            [
                _("Entries of this drum, newest first"),
                _("All logs: most similar strokes"),
                _("All logs: past cases for this drum"),
            ]
        )
        self.follows = Rows()
        self.follows.setAccessibleName(_("Conclusions and their entries"))
        self.follows.setWordWrap(True)
        self.follows.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.follows.setResizeMode(Rows.ResizeMode.Adjust)
        self.follows.setSpacing(2)
        self.list = Rows()
        self.list.setAccessibleName(_("Entries"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setSpacing(2)
        self._lay_out()
        self._connect()

    def _make_entry(self) -> None:
        self.line, self.points = TimeLine(), OwnPicture()
        self.title, self.own = Label(), Label()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.summary = selectable(Label())
        self.summary.setWordWrap(True)
        self.against = selectable(Label())
        self.against.setProperty("quiet", True)
        self.against.setWordWrap(True)
        self.own.setWordWrap(True)
        self.changes = Fold(_("Changes since previous entry"))
        self.changes.hold(self.against)
        self.learned = Fold(_("Learned from this log"))
        self.learned.hold(self.own)
        self.keep, self.back = (
            Button(f"{_('Add to log')} (K)"),
            Button(_("Restore this setting"), tip=_("Set the drum as in this entry")),
        )
        self.keep.setObjectName("main")
        self.leave, self.remove = (
            Button(_("Exclude from learning"), tip=_("Keep this entry, but do not learn from it")),
            Button(_("Remove")),
        )
        self.compare = Button(
            _("Compare with this"), tip=_("Differences between this entry and the next one chosen")
        )
        self.forget = Button(_("Reset learning"), tip=_("Start learning over; entries stay"))
        self.export = Button(
            _("Export…"), tip=_("The log as lines, as a table, or with its drum and sounds")
        )
        self.from_then_on = Button(
            _("Yes: learn from then on"),
            tip=_(
                "Another head, or work on the shell: earlier entries stay, but are not learned from"
            ),
        )

    def _lay_out(self) -> None:
        inside = QWidget()
        words = QVBoxLayout(inside)
        words.setContentsMargins(0, 0, 8, 0)
        for label in (self.title, self.summary):
            words.addWidget(label)
        words.addLayout(self._attached)
        words.addWidget(self.changes)
        words.addStretch(1)
        foot = FlowLayout(spacing=6)
        for button in (self.back, self.compare, self.leave, self.remove, self.forget):
            foot.addWidget(button)
        left = QVBoxLayout()
        left.setContentsMargins(16, 12, 0, 10)
        left.addWidget(self.line, 5)
        below = QHBoxLayout()
        below.addWidget(scroll(inside), 3)
        learned = QVBoxLayout()
        learned.addWidget(self.points, 1)
        learned.addWidget(scroll(self.learned), 1)
        self.from_then_on.hide()
        learned.addWidget(self.from_then_on)
        below.addLayout(learned, 2)
        left.addLayout(below, 4)
        left.addLayout(foot)
        last = QHBoxLayout()
        last.addWidget(self.keep)
        last.addWidget(self.export)
        right = QVBoxLayout()
        right.setContentsMargins(0, 12, 14, 10)
        caption = Label(_("Conclusions and their entries"))
        caption.setProperty("quiet", True)
        right.addWidget(self.finder)
        right.addWidget(self.which)
        right.addWidget(self.list, 3)
        right.addWidget(self.older)
        right.addWidget(caption)
        right.addWidget(self.follows, 2)
        right.addLayout(last)
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(12)
        across.addLayout(left, 7)
        across.addLayout(right, 3)

    def _connect(self) -> None:
        self.line.chosen.connect(self.choose)
        self.points.chosen.connect(self._choose_when)
        self.forget.clicked.connect(self._on_forget)
        self.finder.textChanged.connect(lambda text: self._list())
        self.which.activated.connect(lambda place: self._list())
        self.compare.clicked.connect(self._on_compare)
        self.older.clicked.connect(self._on_older)
        self.follows.itemActivated.connect(self._on_follow)
        self.follows.itemClicked.connect(self._on_follow)
        self.list.itemActivated.connect(self._on_listed)
        self.list.itemClicked.connect(self._on_listed)
        self.keep.clicked.connect(self.keep_wanted)
        self.export.clicked.connect(self.export_wanted)
        self.back.clicked.connect(self.go_back)
        self.leave.clicked.connect(self._on_leave)
        self.remove.clicked.connect(self._on_remove)
        self.from_then_on.clicked.connect(self._on_from_then_on)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self.line.set_colours(colours)
        self.points.set_colours(colours)

    def stop(self) -> None:
        """Nothing of its own runs here."""

    def set_state(
        self,
        entry: Entry | None,
        workshop: Workshop,
        tensions: tuple[float, ...],
        a4_hz: float,
        flats: bool,
    ) -> None:
        """Show the log of the drum on the bench.

        Parameters
        ----------
        tensions : of its heads as they are set, N/m; empty while that is worked out
        """
        whole = entry is not None and entry.id == self._all_of
        log = () if entry is None else last_of(entry.kept, None if whole else MOST_SHOWN)
        total = 0 if entry is None else count_of(entry.kept)
        shift = total - len(log) - self._first  # older ones came in front, or are shown no more
        grown, self._total, self._first = total > self._total, total, total - len(log)
        self.older.setVisible(self._first > 0)
        if entry is None:
            self._pinned = None
        same = entry is not None and self._entry is not None and entry.id == self._entry.id
        self._entry, self._now = entry, tensions
        if not same or grown:
            self._current = len(log) - 1
        else:
            self._current = min(self._current - shift, len(log) - 1)
        self._log = log
        self._names = {each.id: each.drum.name for each in workshop.entries}
        self.line.set_state(log, self._current, a4_hz, flats)
        self.keep.setEnabled(entry is not None)
        self._list()
        if same and self._case is not None:
            self._show_case(self._case)
        else:
            self._case = None
            self._show()

    def set_own(self, own: OwnDrum | None) -> None:
        """What the log taught of the drum as it is set; None while that is worked out."""
        self._own = own
        self._show_own()

    def _show_own(self) -> None:
        own, entry = self._own, self.chosen
        self.own.setText(own_words(own, self._now))
        self.learned.set_gist(own_gist(own))
        self.learned.setVisible(bool(self.own.text()))
        self.points.set_state(None if own is None else own.note, "" if entry is None else entry.on)
        self.forget.setEnabled(own is not None and own.note is not None)
        asked = own is not None and own.note is not None and own.note.changed is not None
        self.from_then_on.setVisible(asked)
        self._list_follows()

    def _choose_when(self, when: str) -> None:
        for place, entry in enumerate(self._log):
            if entry.on == when:
                self.choose(place)
                return

    def choose(self, place: int) -> None:
        """Show another entry of the drum."""
        self._current, self._case = place, None
        self.line.current = place
        self.line.update()
        self._show()

    @property
    def chosen(self) -> Kept | None:
        """The entry that is shown."""
        return self._log[self._current] if 0 <= self._current < len(self._log) else None

    def _show(self) -> None:
        log_entry, entry = self.chosen, self._entry
        for button in (self.back, self.compare, self.leave, self.remove):
            button.setEnabled(log_entry is not None)
        self.back.setText(_("Restore this setting"))
        self._show_own()
        if log_entry is None or entry is None:
            for label in (self.title, self.summary, self.against):
                label.clear()
            return
        self.leave.setText(
            _("Include in learning") if log_entry.left_out else _("Exclude from learning")
        )
        self.title.setText(title_words(log_entry))
        self.summary.setText(
            "\n".join([*entry_words(log_entry, self._note), self._from_here(log_entry)])
        )
        self._show_attached(log_entry)
        before = self._log[self._current - 1] if self._current > 0 else None
        title = _("Changes since previous entry")
        if self._pinned is not None:
            before = self._pinned
            title = _("Compared with {name} on {when}").format(
                when=when_words(before.on), name=before.drum.name
            )
        self.compare.setText(
            _("Compare with this") if self._pinned is None else _("Stop comparing")
        )
        self.changes.setVisible(before is not None)
        if before is None:
            self.against.clear()
            return
        results = [
            _("{what}: {one} → {other}").format(what=what, one=a, other=b)
            for what, a, b in differences(before, log_entry)
        ]
        self._show_changes(title, results)

    def _show_changes(self, title: str, results: list[str]) -> None:
        """What is different: how much in one line, and all of it when opened."""
        self.changes.setVisible(True)
        self.changes.set_title(title)
        gist = ngettext("{count} change", "{count} changes", len(results)).format(
            count=len(results)
        )
        self.changes.set_gist(gist if results else _("No changes."))
        self.against.setText("\n".join(results or [_("No changes.")]))

    def _show_attached(self, entry: Kept, own: bool = True) -> None:
        """A button for each picture and sound; more go to the drum's own entries only."""
        while (item := self._attached.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for each in entry.attached:
            words = _("Show {name}") if each.kind in ("png", "jpg") else _("Play {name}")
            button = Button(words.format(name=each.name))
            button.clicked.connect(lambda checked=False, each=each: self.shown.emit(each))
            self._attached.addWidget(button)
        if own:
            more = Button(_("Attach…"), tip=_("A picture or sound for this entry"))
            more.clicked.connect(lambda: self.attach_wanted.emit(entry))
            self._attached.addWidget(more)
        if entry.lines and entry.heard_hz is not None:
            like = Button(_("Match stroke…"), tip=_("Heads and settings closest to this stroke"))
            like.clicked.connect(lambda: self.like_wanted.emit(entry))
            self._attached.addWidget(like)

    def _from_here(self, entry: Kept) -> str:
        """What to turn to come from the setting on the bench to this one."""
        if self._entry is None or not self._now:
            return ""
        parts = []
        for side, turns in turns_back(self._entry.drum, self._now, entry).items():
            name = wording.side_inside(self._entry.drum, side)
            if turns is None:
                parts.append(_("{side}: different head").format(side=name))
            elif abs(turns) >= 1.0 / 32.0:
                sign = "+" if turns > 0 else "−"
                size = wording.fine_turn_words(abs(turns))
                parts.append(_("{side} {turns} turn").format(side=name, turns=f"{sign}{size}"))
        return _("From the current setting: {turns}.").format(
            turns=", ".join(parts) or _("no turns needed")
        )

    # the list of all logs

    def _list(self) -> None:
        words = self.finder.text().strip()
        own = self._entry.id if self._entry is not None else 0
        far: list[float] = []
        try:
            self._listed = self._look(words, far)
        except KesseltonError as error:
            self._listed = []
            self.list.clear()
            self.list.addItem(QListWidgetItem(error.one_line()))
            return
        self.list.clear()
        for place, hit in enumerate(self._listed):
            how = _("{when}  {event}") if hit.drum_id == own else _("{when}  {name}: {event}")
            name = self._names.get(hit.drum_id, "")
            text = how.format(when=hit.on[:10], name=name, event=hit.title)
            if far:
                text = _("{far:.1f}  {text}").format(far=far[place], text=text)
            self.list.addItem(QListWidgetItem(text))
        if not self._listed and (words or self.which.currentIndex()):
            self.list.addItem(QListWidgetItem(_("No entry contains all these words.")))

    def _look(self, words: str, far: list[float]) -> list[Hit]:
        """What is to be listed; how far each is goes into `far` where that is known.

        Raises
        ------
        KesseltonError
            If the logs cannot be read.
        """
        if words:
            return self._finds.words(words)
        which, log_entry, entry = self.which.currentIndex(), self.chosen, self._entry
        if entry is None:
            return []
        if which == 1:
            results = [] if log_entry is None else self._finds.sound(log_entry)
            far += [unlike for _unused, unlike in results]
            return [hit for hit, _unused in results]
        if which == CASES:
            return self._finds.cases(entry)
        hits = [hit_of(entry.id, n, kept) for n, kept in enumerate(self._log, self._first)]
        return hits[::-1][:MOST_LISTED]

    def _on_listed(self, item: QListWidgetItem) -> None:
        place = self.list.row(item)
        if not 0 <= place < len(self._listed):
            return
        hit = self._listed[place]
        if self._entry is not None and hit.drum_id != self._entry.id:
            if self.which.currentIndex() == CASES and not self.finder.text().strip():
                self.show_case(hit)  # another drum's case beside this one, which stays
                return
            self.drum_wanted.emit(hit.drum_id)
        self.show_hit(hit)

    def show_hit(self, hit: Hit) -> None:
        """Show an entry of the drum on the bench that was found."""
        if hit.position < self._first and self._entry is not None:
            self._on_older()
        if 0 <= hit.position - self._first < len(self._log):
            self.choose(hit.position - self._first)

    def show_case(self, hit: Hit) -> None:
        """List the past cases for the drum on the bench, and show one of another drum."""
        entry = self._finds.kept(hit)
        if entry is None or self._entry is None:
            return
        if self.which.currentIndex() != CASES:
            self.finder.clear()
            self.which.setCurrentIndex(CASES)
            self._list()
        if hit in self._listed:
            self.list.setCurrentRow(self._listed.index(hit))
        self._show_case(entry)

    def _show_case(self, entry: Kept) -> None:
        """A past case of another drum: what it was, and how it differs from this drum now."""
        assert self._entry is not None
        self._case = entry
        self.back.setText(_("Start from this setting"))
        self.back.setEnabled(True)
        for button in (self.compare, self.leave, self.remove):
            button.setEnabled(False)  # they are for what this drum's own log holds
        title = _("{name}, {entry}").format(name=entry.drum.name, entry=title_words(entry))
        self.title.setText(title)
        self.summary.setText("\n".join(entry_words(entry, self._note)))
        now = replace(
            entry, drum=self._entry.drum, lug_pitches_hz=(), heard_hz=None, computed_hz=None,
            what_for="", verdict="", music="", player="", room="", wires="",
        )  # fmt: skip
        self._show_attached(entry, own=False)
        results = [
            _("{what}: {one} → {other}").format(what=what, one=a, other=b)
            for what, a, b in differences(now, replace(now, drum=entry.drum))
        ]
        self._show_changes(_("Compared with the drum on the bench (a starting point)"), results)

    # what follows

    def _list_follows(self) -> None:
        own = self._own
        self.follows.clear()
        if own is None:
            return
        for follow in own.follows:
            self.follows.addItem(
                QListWidgetItem(
                    _("{words} ({entries})").format(
                        words=conclusion_words(follow),
                        entries=wording.entries_words(len(follow.entries)),
                    )
                )
            )
        for left in own.outlooks:
            self.follows.addItem(QListWidgetItem(outlook_words(own, left)))
        if not self.follows.count():
            self.follows.addItem(
                QListWidgetItem(_("No conclusions yet: they need several entries."))
            )

    def _on_follow(self, item: QListWidgetItem) -> None:
        """The entries a conclusion comes from, one after the other."""
        own, row = self._own, self.follows.row(item)
        if own is None:
            return
        every = [follow.entries for follow in own.follows] + [
            outlook.life.entries for outlook in own.outlooks
        ]
        if not 0 <= row < len(every):
            return
        turn = self._followed[1] + 1 if self._followed[0] == row else 0
        entries = every[row]
        self._followed = (row, turn % len(entries))
        self.line.mark(entries)
        self._choose_when(entries[self._followed[1]])

    # intents

    def go_back(self) -> None:
        """The drum with the heads and the setting of the chosen entry, as a plan."""
        log_entry, entry = self._case or self.chosen, self._entry
        if log_entry is not None and entry is not None:
            then: Drum = log_entry.drum
            drum = replace(
                entry.drum, batter=then.batter, resonant=then.resonant, mufflers=then.mufflers
            )
            step = (
                _("restore setting of {when}")
                if self._case is None
                else _("start from {name}, {when}")
            )
            self.set_wanted.emit(step.format(when=when_words(log_entry.on), name=then.name), drum)

    def _on_compare(self) -> None:
        """From here on entries are shown against this one, of whatever drum they are."""
        self._pinned = self.chosen if self._pinned is None else None
        self._show()

    def _on_leave(self) -> None:
        entry = self.chosen
        if entry is not None:
            self._exchange(
                _("exclude or include entry"), replace(entry, left_out=not entry.left_out)
            )

    def _on_forget(self) -> None:
        """Nothing that was kept so far teaches anything; the entries stay."""
        assert self._entry is not None
        log = tuple(replace(entry, left_out=True) for entry in self._entry.kept)
        self.changed.emit(_("reset learning"), log)

    def _on_remove(self) -> None:
        self._exchange(_("remove entry"), None)

    def _on_from_then_on(self) -> None:
        """What was kept before the drum became another teaches nothing of it any more."""
        note = None if self._own is None else self._own.note
        if self._entry is None or note is None or note.changed is None:
            return
        when = note.changed[0]
        log = tuple(
            replace(entry, left_out=True) if entry.on < when else entry
            for entry in self._entry.kept
        )
        self.changed.emit(_("learn from {when} on").format(when=when_words(when)), log)

    def _exchange(self, label: str, other: Kept | None) -> None:
        assert self._entry is not None
        log, place = list(self._entry.kept), self._first + self._current
        log[place : place + 1] = [] if other is None else [other]
        self.changed.emit(label, tuple(log))

    def _on_older(self) -> None:
        """The whole log, however long."""
        if self._entry is not None:
            self._all_of = self._entry.id
            self.older_wanted.emit()
