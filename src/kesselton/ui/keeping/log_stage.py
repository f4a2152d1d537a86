"""The Log stage: the life of the drum on the bench, and what was kept in every log."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from kesselton.app.keeping import differences, found_in, turns_back
from kesselton.app.learner import OwnDrum
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import EVENTS, FITS, MARKS, Kept
from kesselton.core.pitch import cents_between
from kesselton.store.holdings import Entry, Workshop
from kesselton.ui.keeping import texts
from kesselton.ui.keeping.keep_dialog import STEPS, mark_words
from kesselton.ui.keeping.own_picture import OwnPicture
from kesselton.ui.keeping.time_line import TimeLine
from kesselton.ui.parts import wording
from kesselton.ui.parts.columns import scroll, selectable
from kesselton.ui.parts.inputs import Button, Finder, Rows
from kesselton.ui.parts.labels import Label
from kesselton.ui.parts.theme import Colours, font

MOST_LISTED = 200


class LogStage(QWidget):
    """What it shows is of the drum it was given, and goes with it.

    Signals
    -------
    set_wanted(str label, Drum) : the drum with heads and setting of an entry
    changed(str label, tuple of Kept) : the log of the drum
    drum_wanted(int) : an entry of another drum was chosen
    keep_wanted(), export_wanted()
    """

    set_wanted = Signal(str, object)
    changed = Signal(str, object)
    drum_wanted = Signal(int)
    keep_wanted = Signal()
    export_wanted = Signal()

    def __init__(self, note: Callable[[float], str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._note = note
        self._entry: Entry | None = None
        self._log: tuple[Kept, ...] = ()
        self._entries: tuple[Entry, ...] = ()
        self._now: tuple[float, ...] = ()
        self._current = -1
        self._listed: list[tuple[int, Kept]] = []
        self._own: OwnDrum | None = None
        self.line, self.points = TimeLine(), OwnPicture()
        self.title, self.own = Label(), Label()
        self.title.setFont(font(12, QFont.Weight.DemiBold))
        self.said = selectable(Label())
        self.said.setWordWrap(True)
        self.against = selectable(Label())
        self.against.setProperty("quiet", True)
        self.against.setWordWrap(True)
        self.own.setWordWrap(True)
        self.keep, self.back = Button(f"{texts.KEEP} (K)"), Button(texts.BACK)
        self.keep.setObjectName("main")
        self.leave, self.remove = Button(texts.LEAVE_OUT), Button(texts.REMOVE)
        self.forget = Button(texts.FORGET)
        self.export = Button(texts.EXPORT)
        self.finder = Finder(texts.FIND)
        self.list = Rows()
        self.list.setAccessibleName(texts.LATEST)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setSpacing(2)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        inside = QWidget()
        words = QVBoxLayout(inside)
        words.setContentsMargins(0, 0, 8, 0)
        for label in (self.title, self.said, self.against):
            words.addWidget(label)
        words.addStretch(1)
        foot = QHBoxLayout()
        for button in (self.back, self.leave, self.remove, self.forget):
            foot.addWidget(button)
        foot.addStretch(1)
        left = QVBoxLayout()
        left.setContentsMargins(16, 12, 0, 10)
        left.addWidget(self.line, 5)
        below = QHBoxLayout()
        below.addWidget(scroll(inside), 3)
        learned = QVBoxLayout()
        learned.addWidget(self.points, 1)
        learned.addWidget(scroll(self.own), 1)
        below.addLayout(learned, 2)
        left.addLayout(below, 4)
        left.addLayout(foot)
        last = QHBoxLayout()
        last.addWidget(self.keep)
        last.addWidget(self.export)
        right = QVBoxLayout()
        right.setContentsMargins(0, 12, 14, 10)
        caption = Label(texts.LATEST)
        caption.setProperty("quiet", True)
        right.addWidget(self.finder)
        right.addWidget(caption)
        right.addWidget(self.list, 1)
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
        self.list.itemActivated.connect(self._on_listed)
        self.list.itemClicked.connect(self._on_listed)
        self.keep.clicked.connect(self.keep_wanted)
        self.export.clicked.connect(self.export_wanted)
        self.back.clicked.connect(self.go_back)
        self.leave.clicked.connect(self._on_leave)
        self.remove.clicked.connect(self._on_remove)

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
        log = () if entry is None else tuple(entry.kept)
        same = entry is not None and self._entry is not None and entry.id == self._entry.id
        self._entry, self._now = entry, tensions
        if not same or len(log) != len(self._log):
            self._current = len(log) - 1
        self._log = log
        self._entries = workshop.entries
        self.line.set_state(log, self._current, a4_hz, flats)
        self.keep.setEnabled(entry is not None)
        self._list()
        self._show()

    def set_own(self, own: OwnDrum | None) -> None:
        """What the log taught of the drum as it is set; None while that is worked out."""
        self._own = own
        self._show_own()

    def _show_own(self) -> None:
        own, one = self._own, self.chosen
        self.own.setText(own_words(own))
        self.points.set_state(None if own is None else own.note, "" if one is None else one.on)
        self.forget.setEnabled(own is not None and own.note is not None)

    def _choose_when(self, when: str) -> None:
        for place, one in enumerate(self._log):
            if one.on == when:
                self.choose(place)
                return

    def choose(self, place: int) -> None:
        """Show another entry of the drum."""
        self._current = place
        self.line.current = place
        self.line.update()
        self._show()

    @property
    def chosen(self) -> Kept | None:
        """The entry that is shown."""
        return self._log[self._current] if 0 <= self._current < len(self._log) else None

    def _show(self) -> None:
        one, entry = self.chosen, self._entry
        for button in (self.back, self.leave, self.remove):
            button.setEnabled(one is not None)
        self._show_own()
        if one is None or entry is None:
            for label in (self.title, self.said, self.against):
                label.clear()
            return
        self.leave.setText(texts.COUNT_AGAIN if one.left_out else texts.LEAVE_OUT)
        self.title.setText(texts.ENTRY.format(when=_when(one.on), event=EVENTS[one.event]))
        self.said.setText("\n".join([*self._words(one), self._from_here(one)]))
        before = self._log[self._current - 1] if self._current > 0 else None
        if before is None:
            self.against.clear()
            return
        told = [
            texts.CHANGED.format(what=what, one=a, other=b)
            for what, a, b in differences(before, one)
        ]
        self.against.setText(
            "\n".join((texts.AGAINST_BEFORE, *(told or [texts.NOTHING_DIFFERENT])))
        )

    def _words(self, one: Kept) -> list[str]:
        """What was kept, line by line."""
        out = [
            texts.HEADS.format(head=one.drum.setting(side).head.name, hz=self._note(hz))
            for side, hz in zip(one.drum.sides, one.lug_pitches_hz, strict=False)
        ]
        if one.heard_hz is not None and one.computed_hz is not None:
            cents = cents_between(one.computed_hz, one.heard_hz)
            said = texts.HEARD_AS if round(cents) else texts.HEARD_AT
            out.append(
                said.format(
                    hz=self._note(one.heard_hz),
                    off=wording.cents_words(cents),
                    half=one.heard_half_cents,
                )
            )
        elif one.computed_hz is not None:
            out.append(texts.COMPUTED_AS.format(hz=self._note(one.computed_hz)))
        marks = [mark_words(*MARKS[key])[STEPS.index(value) + 1] for key, value in one.marks]
        fits = [FITS[one.fits]] if one.fits else []
        free = (one.what_for, one.verdict, one.music, one.player, one.room)
        out += [", ".join(part) for part in ([*fits, *marks], [w for w in free if w]) if part]
        return out

    def _from_here(self, one: Kept) -> str:
        """What to turn to come from the setting on the bench to this one."""
        if self._entry is None or not self._now:
            return ""
        parts = []
        for side, turns in turns_back(self._entry.drum, self._now, one).items():
            name = wording.side_word(self._entry.drum, side).lower()
            if turns is None:
                parts.append(texts.OTHER_HEAD.format(side=name))
            elif abs(turns) >= 1.0 / 32.0:
                sign = "+" if turns > 0 else "−"
                size = wording.fine_turn_words(abs(turns))
                parts.append(texts.TURNS_OF.format(side=name, turns=f"{sign}{size}"))
        return texts.FROM_HERE.format(turns=", ".join(parts) or texts.AS_NOW)

    # the list of all logs

    def _list(self) -> None:
        words = self.finder.text()
        own = self._entry.id if self._entry is not None else 0
        # other logs are read from the file only where they are searched
        looked_at = [one for one in self._entries if words.strip() or one.id == own]
        log = [(one.id, kept) for one in looked_at for kept in one.kept]
        self._listed = found_in(log, words)[:MOST_LISTED]
        self.list.clear()
        for number, one in self._listed:
            when = one.on[:10]
            said = one.what_for or one.verdict or EVENTS[one.event]
            text = texts.ENTRY.format(when=when, event=said)
            if number != own:
                text = texts.ENTRY_OF.format(when=when, name=one.drum.name, event=said)
            self.list.addItem(QListWidgetItem(text))
        if not self._listed and words.strip():
            self.list.addItem(QListWidgetItem(texts.NOTHING_FOUND))

    def _on_listed(self, item: QListWidgetItem) -> None:
        place = self.list.row(item)
        if not 0 <= place < len(self._listed):
            return
        number, one = self._listed[place]
        if self._entry is None or number != self._entry.id:
            self.drum_wanted.emit(number)
        if one in self._log:
            self.choose(self._log.index(one))

    # intents

    def go_back(self) -> None:
        """The drum with the heads and the setting of the chosen entry, as a plan."""
        one, entry = self.chosen, self._entry
        if one is not None and entry is not None:
            then: Drum = one.drum
            drum = replace(
                entry.drum, batter=then.batter, resonant=then.resonant, mufflers=then.mufflers
            )
            self.set_wanted.emit(texts.WENT_BACK.format(when=_when(one.on)), drum)

    def _on_leave(self) -> None:
        one = self.chosen
        if one is not None:
            self._exchange(texts.LEFT_OUT_STEP, replace(one, left_out=not one.left_out))

    def _on_forget(self) -> None:
        """Nothing that was kept so far teaches anything; the entries stay."""
        log = tuple(replace(one, left_out=True) for one in self._log)
        self.changed.emit(texts.FORGOTTEN_STEP, log)

    def _on_remove(self) -> None:
        self._exchange(texts.REMOVED_STEP, None)

    def _exchange(self, label: str, other: Kept | None) -> None:
        log = list(self._log)
        log[self._current : self._current + 1] = [] if other is None else [other]
        self.changed.emit(label, tuple(log))


def _when(on: str) -> str:
    """Date and time as they are read."""
    return on.replace("T", " ")


def own_words(own: OwnDrum | None) -> str:
    """What a drum's log taught, in words."""
    if own is None:
        return ""
    said, note = [], own.note
    if note is not None:
        said.append(
            texts.OWN_WORDS.format(
                entries=wording.entries_words(note.count),
                cents=wording.signed_words(note.cents),
                half=note.half_cents,
                before=note.before_cents,
                total=note.total_cents,
            )
        )
        if note.ring is not None:
            said.append(texts.OWN_RING_WORDS.format(factor=note.ring))
        said += [texts.DOES_NOT_FIT.format(when=_when(one.on)) for one in note.odd]
    for side, line in own.turns.items():
        said.append(
            texts.OWN_TURNS.format(
                side=wording.side_word(own.drum, side),
                notes=texts.ONE_NOTE if line.count == 1 else texts.NOTES.format(count=line.count),
                gained=line.gained(1.0),
                first=wording.fine_turn_words(max(line.take_up, 0.0)),
            )
        )
    said += [texts.NOT_SOLVED.format(when=_when(on), why=why) for on, why in own.unsolved]
    return "\n".join(said)
