"""Keep what is set, read and heard now: asked is only what for, and how it was."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from kesselton.app.keeping import Said
from kesselton.core.instrument.kept import EVENTS, FITS, LONGEST_WORDS, MARKS, Kept
from kesselton.ui.keeping import texts
from kesselton.ui.parts.columns import scroll
from kesselton.ui.parts.dialogs import size_dialog
from kesselton.ui.parts.inputs import Box, Line
from kesselton.ui.parts.labels import Label

LINES = ("what_for", "verdict", "music", "player", "room")
STEPS = (-2, -1, 0, 1, 2)


class KeepDialog(QDialog):
    """Every answer may be left out; Enter keeps.

    Signals
    -------
    kept(Said)
    """

    kept = Signal(object)

    def __init__(
        self, name: str, heard: bool, before: Kept | None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(texts.KEEP_TITLE.format(name=name))
        hint = Label(texts.KEEPS.format(heard=texts.AND_STROKE if heard else ""))
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        self.event_ = self._box(texts.WHAT_HAPPENED, list(EVENTS.values()))
        captions = (texts.WHAT_FOR, texts.VERDICT, texts.MUSIC, texts.PLAYER, texts.ROOM)
        self.lines = {name: self._line(c) for name, c in zip(LINES, captions, strict=True)}
        self.marks = {key: self._box(f"{low} – {high}", mark_words(low, high)) for key, (low, high)
                      in MARKS.items()}  # fmt: skip
        self.fits = self._box(texts.NOTE_WAS, list(FITS.values()))
        if before is not None:  # who plays where rarely changes from one entry to the next
            for name in ("music", "player", "room"):
                self.lines[name].setText(getattr(before, name))
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        asked = (*self.lines.values(), self.event_, *self.marks.values(), self.fits)
        for widget in asked:
            form.addRow(widget.accessibleName(), widget)
        inside = QWidget()
        inside.setLayout(form)
        buttons = QDialogButtonBox()
        self.keep = buttons.addButton(texts.KEEP, QDialogButtonBox.ButtonRole.AcceptRole)
        self.keep.setObjectName("main")
        self.keep.setDefault(True)
        buttons.addButton(texts.CANCEL, QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self._on_keep)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(hint)
        layout.addWidget(scroll(inside), 1)
        layout.addWidget(buttons)
        size_dialog(self, 520, 560)
        self.lines["what_for"].setFocus()

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
        return Said(event, **words, marks=marks, fits=list(FITS)[self.fits.currentIndex()])

    def _on_keep(self) -> None:
        self.kept.emit(self.said())
        self.accept()


def mark_words(low: str, high: str) -> list[str]:
    """What can be said between two ends, the first that nothing is."""
    return [
        texts.NOT_SAID,
        texts.VERY.format(word=low),
        texts.RATHER.format(word=low),
        texts.BOTH,
        texts.RATHER.format(word=high),
        texts.VERY.format(word=high),
    ]
