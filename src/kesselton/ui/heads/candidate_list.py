"""The pairs of heads in order: names, what to set, what will be heard, how well it fits."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import (
    QAbstractListModel,
    QModelIndex,
    QPersistentModelIndex,
    QRect,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QColor, QFont, QPainter
from PySide6.QtWidgets import (
    QAbstractItemView,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from kesselton.core.language import _, figures
from kesselton.core.pitch import note_of
from kesselton.ui.parts.widgets.picture import hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import LIGHT, Colours, enlarged, font, painting, px
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    import numpy as np

    from kesselton.core.heads.choose import Candidates

ROW = 44
NARROW = 420
Index = QModelIndex | QPersistentModelIndex


class CandidateModel(QAbstractListModel):
    """Candidates in an order; role UserRole gives the number of a candidate."""

    def __init__(self) -> None:
        super().__init__()
        self.candidates: Candidates | None = None
        self.order: list[int] = []
        self.totals: np.ndarray | None = None
        self.marked: list[int] = []
        self.a4_hz, self.flats = 440.0, False

    def set_state(
        self, candidates: Candidates | None, order: list[int], totals: np.ndarray | None
    ) -> None:
        """Show candidates in an order."""
        self.beginResetModel()
        self.candidates, self.order, self.totals = candidates, order, totals
        self.endResetModel()

    @safe_override
    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.order)

    @safe_override
    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if self.candidates is None or not index.isValid():
            return None
        number = self.order[index.row()]
        if role == Qt.ItemDataRole.UserRole:
            return number
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return self.one_line(number)
        return None

    def one_line(self, number: int) -> str:
        """A candidate in one line, for a screen reader."""
        assert self.candidates is not None
        names = " over ".join(head.name for head in self.candidates.heads[number])
        return f"{names}, {self.heard(number)}"

    def heard(self, number: int) -> str:
        """What the whole drum sounds."""
        assert self.candidates is not None
        hz = float(self.candidates.measures.fundamental_hz[number])
        return wording.note_words(hz, self.a4_hz, self.flats)


class _Rows(QStyledItemDelegate):
    """Paints one candidate on two lines."""

    def __init__(self, model: CandidateModel) -> None:
        super().__init__()
        self._model = model
        self.colours = LIGHT

    @safe_override
    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return hint(380, ROW)

    @safe_override
    def paint(self, p: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        if self._model.candidates is None or self._model.totals is None:
            return
        p.save()
        p.translate(option.rect.topLeft())
        p.scale(enlarged(), enlarged())
        size = option.rect.size() / enlarged()
        with painting():
            self._paint_row(p, QRect(0, 0, size.width(), size.height()), option.state, index)
        p.restore()

    def _paint_row(self, p: QPainter, rect: QRect, state: QStyle.StateFlag, index: Index) -> None:
        candidates, c = self._model.candidates, self.colours
        assert candidates is not None
        assert self._model.totals is not None
        number = self._model.order[index.row()]
        chosen = bool(state & QStyle.StateFlag.State_Selected)
        if chosen:
            p.fillRect(rect, QColor(c.band))
            p.fillRect(QRect(rect.left(), rect.top(), 4, rect.height()), QColor(c.accent))
        p.setPen(QColor(c.line))
        p.drawLine(rect.bottomLeft(), rect.bottomRight())
        total = float(self._model.totals[number])
        box = QRect(rect.left() + 12, rect.top() + 5, 42, 18)
        p.setPen(QColor(c.ink))
        p.setFont(font(13, QFont.Weight.Bold))
        p.drawText(
            box,
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            figures(100 * total, ".0f"),
        )
        bar = QRect(rect.left() + 12, rect.top() + 29, 36, 4)
        p.fillRect(bar, QColor(c.line))
        p.fillRect(QRect(bar.left(), bar.top(), round(bar.width() * total), 4), QColor(c.accent))
        narrow = rect.width() < NARROW  # the names are what is chosen: the hertz go first
        right = 138 if narrow else 206
        names = QRect(rect.left() + 62, rect.top() + 3, rect.width() - 62 - right - 8, 19)
        tones = QRect(rect.right() - right, rect.top() + 3, 112 - 68 * narrow, 19)
        sound = QRect(rect.right() - 94, rect.top() + 3, 90, 19)
        flag = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        for line, head in enumerate(candidates.heads[number]):
            where = names.translated(0, 19 * line)
            p.setFont(font(10, QFont.Weight.DemiBold if line == 0 else QFont.Weight.Normal))
            p.setPen(QColor(c.ink))
            text = p.fontMetrics().elidedText(head.name, Qt.TextElideMode.ElideRight, where.width())
            p.drawText(where, flag, text)
            hz = float(candidates.solved.lug_pitches_hz[number, line])
            p.setFont(font(10))
            p.setPen(QColor(c.soft_ink))
            note = note_of(hz, self._model.a4_hz).name(self._model.flats)
            tone = note if narrow else f"{note}  {wording.hz_words(hz)}"
            p.drawText(tones.translated(0, 19 * line), flag, tone)
        p.setPen(QColor(c.ink))
        p.setFont(font(10, QFont.Weight.DemiBold))
        mark = "  ●" if number in self._model.marked else ""
        p.drawText(sound, flag, f"{self._model.heard(number)}{mark}")
        p.setFont(font(9.5))
        p.setPen(QColor(c.soft_ink))
        ring = wording.seconds_words(float(candidates.measures.ring_s[number]))
        p.drawText(sound.translated(0, 19), flag, _("decay {ring}").format(ring=ring))


class CandidateList(QListView):
    """The list itself; arrow keys walk, C marks for comparison.

    Signals
    -------
    chosen(int candidate), -1 for none; marked(int candidate) asks to mark or unmark
    """

    chosen = Signal(int)
    marked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.rows = CandidateModel()
        self._delegate = _Rows(self.rows)
        self.setModel(self.rows)
        self.setItemDelegate(self._delegate)
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(_("Head pairs, best first"))
        self.setMinimumHeight(px(3 * ROW))
        self.selectionModel().currentChanged.connect(self._on_current)

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._delegate.colours = colours
        self.viewport().update()

    def set_state(
        self, candidates: Candidates | None, order: list[int], totals: np.ndarray | None, keep: int
    ) -> None:
        """Show candidates; `keep` stays chosen if it is still there, else the first is."""
        self.rows.set_state(candidates, order, totals)
        self.choose(keep if keep in order else order[0] if order else -1)

    @property
    def current(self) -> int:
        """Number of the candidate chosen, -1 for none."""
        index = self.currentIndex()
        return self.rows.order[index.row()] if index.isValid() else -1

    def choose(self, number: int) -> None:
        """Put the choice on a candidate."""
        if number in self.rows.order:
            self.setCurrentIndex(self.rows.index(self.rows.order.index(number)))
        else:
            self.chosen.emit(-1)

    def _on_current(self, now: QModelIndex, before: QModelIndex) -> None:
        self.chosen.emit(self.rows.order[now.row()] if now.isValid() else -1)

    @safe_override
    def keyPressEvent(self, event: Any) -> None:
        if event.key() == Qt.Key.Key_C and not event.modifiers():
            if self.current >= 0:
                self.marked.emit(self.current)
            return
        super().keyPressEvent(event)
