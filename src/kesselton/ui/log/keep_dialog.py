"""Keep what is set, read and heard now: asked is only what for, and how it was."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from kesselton.app.workshop.log_entries import Said
from kesselton.core.errors import InputError, check_range
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import EVENTS, FITS, LONGEST_WORDS, MARKS, SIGNS, Kept, ends_of
from kesselton.core.language import _
from kesselton.ui.parts.widgets.columns import fault_label, scroll
from kesselton.ui.parts.widgets.dialogs import Dialog, size_dialog
from kesselton.ui.parts.widgets.inputs import Box, Button, Line, Tick
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.words import wording

LINES = ("what_for", "verdict", "music", "player", "room", "wires")
STAYS = ("music", "player", "room", "wires")
"""From one entry to the next these rarely change."""
MOST_PLAYED = 1000.0
STEPS = (-2, -1, 0, 1, 2)


class KeepDialog(Dialog):
    """Every answer may be left out; Enter keeps.

    Signals
    -------
    kept(Said)
    """

    kept = Signal(object)

    def __init__(
        self,
        drum: Drum,
        heard: bool,
        before: Kept | None,
        ask_pictures: Callable[[], list[Path]],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._drum, self._ask_pictures = drum, ask_pictures
        self.files: list[Path] = []
        self.setWindowTitle(_("Add to log: {name}").format(name=drum.name))
        hint = Label(
            _("Includes heads, setting, muffling, beater, readings, air{heard}.").format(
                heard=_(", and the analyzed stroke") if heard else ""
            )
        )
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        self.event_ = self._box(_("Event"), list(EVENTS.values()))
        sides = [wording.side_word(drum, side) for side in drum.sides]
        self.side = self._box(_("Applies to"), [_("the whole drum"), *sides])
        self.shows, self.hours = (
            self._line(_("Shows since last entry")),
            self._line(_("or hours played")),
        )
        self.sound = Tick(_("Save the stroke’s sound (FLAC)"))
        self.sound.setChecked(heard)
        self.sound.setVisible(heard)
        self.attach = Button(_("Attach…"))
        self.attach.clicked.connect(self._on_attach)
        self.attached = Label()
        self.attached.setWordWrap(True)
        self.fault = fault_label()
        captions = (
            _("Occasion"), _("Comments"), _("Music"), _("Player"), _("Room"),
            _("Snare wires, strainer"),
        )  # fmt: skip
        self.lines = {name: self._line(c) for name, c in zip(LINES, captions, strict=True)}
        self.marks = {key: self._box(f"{low} – {high}", mark_words(low, high)) for key in MARKS
                      for low, high in (ends_of(key),)}  # fmt: skip
        self.signs = {key: Tick(words) for key, words in SIGNS.items()}
        self.fits = self._box(_("Pitch was"), list(FITS.values()))
        if before is not None:  # who plays where rarely changes from one entry to the next
            for name in STAYS:
                self.lines[name].show_text(getattr(before, name))
        layout = QVBoxLayout(self)
        layout.addWidget(hint)
        layout.addWidget(scroll(self._form(drum)), 1)
        layout.addWidget(self.fault)
        layout.addWidget(self._buttons())
        size_dialog(self, 540, 680)
        self.lines["what_for"].setFocus()

    def _form(self, drum: Drum) -> QWidget:
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        signs = QVBoxLayout()
        signs.setSpacing(2)
        for tick in self.signs.values():
            signs.addWidget(tick)
        lines = [self.lines[name] for name in ("what_for", "verdict")]
        rest = [self.lines[name] for name in STAYS]
        asked = (
            *lines, *self.marks.values(), self.fits, self.event_, self.side, self.shows, self.hours,
            *rest,
        )  # fmt: skip
        for widget in asked:
            form.addRow(widget.accessibleName(), widget)
            if widget is self.fits:
                form.addRow(_("Signs"), signs)
        form.addRow("", self.sound)
        form.addRow(self.attach, self.attached)
        if drum.kind != "snare":
            form.setRowVisible(self.lines["wires"], False)
        inside = QWidget()
        inside.setLayout(form)
        return inside

    def _buttons(self) -> QDialogButtonBox:
        buttons = QDialogButtonBox()
        self.keep = buttons.addButton(_("Add to log"), QDialogButtonBox.ButtonRole.AcceptRole)
        self.keep.setObjectName("main")
        self.keep.setDefault(True)
        buttons.addButton(_("Cancel"), QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self._on_keep)
        buttons.rejected.connect(self.reject)
        return buttons

    def _line(self, caption: str) -> Line:
        line = Line()
        line.setAccessibleName(caption)
        line.setMaxLength(LONGEST_WORDS)
        return line

    def _box(self, caption: str, words: list[str]) -> Box:
        box = Box()
        box.setAccessibleName(caption)
        box.addItems(words)
        return box

    def said(self) -> Said:
        """What was answered."""
        words = {name: line.text().strip() for name, line in self.lines.items()}
        marks = tuple(
            (key, STEPS[box.currentIndex() - 1])
            for key, box in self.marks.items()
            if box.currentIndex() > 0
        )
        event = list(EVENTS)[self.event_.currentIndex()]
        return Said(
            event,
            ("", *self._drum.sides)[self.side.currentIndex()],
            **words,
            marks=marks,
            signs=tuple(key for key, tick in self.signs.items() if tick.isChecked()),
            fits=list(FITS)[self.fits.currentIndex()],
            shows=_count(self.shows),
            hours=_count(self.hours),
        )

    def _on_attach(self) -> None:
        self.files += [path for path in self._ask_pictures() if path not in self.files]
        self.attached.setText(", ".join(path.name for path in self.files))

    def _on_keep(self) -> None:
        try:
            message = self.said()
        except InputError as error:
            self.fault.setText(error.one_line())
            return
        self.kept.emit(message)
        self.accept()


def _count(line: Line) -> float:
    """How many were typed; none where nothing was.

    Raises
    ------
    InputError
        If it is no number.
    """
    text = line.text().strip().replace(",", ".")
    if not text:
        return 0.0
    try:
        return check_range(float(text), 0.0, MOST_PLAYED, line.accessibleName(), "")
    except ValueError:
        raise InputError(
            _("{accessiblename}: “{text}” is not a number.").format(
                accessiblename=line.accessibleName(), text=text
            ),
            _("Enter a number like 6."),
        ) from None


def mark_words(low: str, high: str) -> list[str]:
    """What can be said between two ends, the first that nothing is."""
    return [
        _("not rated"),
        _("very {word}").format(word=low),
        _("rather {word}").format(word=low),
        _("neither"),
        _("rather {word}").format(word=high),
        _("very {word}").format(word=high),
    ]
