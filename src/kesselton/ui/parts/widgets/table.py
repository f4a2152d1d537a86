"""Tables of any length: only the rows that are seen cost anything."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtGui import QFont, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QHeaderView, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from kesselton.ui.parts.widgets.clipboard import copy_table
from kesselton.ui.parts.widgets.inputs import Count, Grid
from kesselton.ui.parts.widgets.labels import plain_tip
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import font, px

Index = QModelIndex | QPersistentModelIndex
Row = Sequence[Any]
ROW_PIXELS = 26
ROLE = Qt.ItemDataRole


class TableModel(QAbstractTableModel):
    """Rows of text, whole numbers that may be changed, and marks that may be ticked.

    A column of `ticks` holds True or False, one of `counts` a number; `changed` is called with row,
    column and value when the technician changes one.
    """

    def __init__(
        self,
        captions: Sequence[str],
        ticks: Sequence[int] = (),
        counts: Sequence[int] = (),
        bold: Sequence[int] = (),
        changed: Callable[[int, int, Any], object] = lambda row, column, value: None,
    ) -> None:
        super().__init__()
        self._captions, self._rows = list(captions), list[Row]()
        self._ticks, self._counts, self._bold = set(ticks), set(counts), set(bold)
        self._changed = changed

    def set_rows(self, rows: Sequence[Row]) -> None:
        """Show other rows; the same ones are left alone, with what is chosen among them."""
        if list(rows) == self._rows:
            return
        self.beginResetModel()
        self._rows = list(rows)
        self.endResetModel()

    def replace_row(self, place: int, row: Row) -> None:
        """Show one row otherwise."""
        self._rows[place] = row
        self.dataChanged.emit(self.index(place, 0), self.index(place, len(self._captions) - 1))

    @safe_override
    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 (Qt's signature)
        return 0 if parent.isValid() else len(self._rows)

    @safe_override
    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self._captions)

    @safe_override
    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = ROLE.DisplayRole
    ) -> Any:
        across = orientation == Qt.Orientation.Horizontal
        return self._captions[section] if across and role == ROLE.DisplayRole else None

    @safe_override
    def data(self, index: Index, role: int = ROLE.DisplayRole) -> Any:
        value = self._rows[index.row()][index.column()]
        if index.column() in self._ticks:
            if role == ROLE.CheckStateRole:
                return Qt.CheckState.Checked if value else Qt.CheckState.Unchecked
            if role == ROLE.AccessibleTextRole:
                return f"{self._captions[index.column()]}, {self._rows[index.row()][self._name]}"
            return None
        if role == ROLE.DisplayRole:
            return str(value)
        if role == ROLE.ToolTipRole:
            return plain_tip(str(value))
        if role == ROLE.EditRole:
            return value
        if role == ROLE.FontRole and index.column() in self._bold:
            return font(10, QFont.Weight.DemiBold)
        return None

    @property
    def _name(self) -> int:
        """The column a row is called by: the first of words."""
        return next(
            i for i in range(len(self._captions)) if i not in self._ticks and i not in self._counts
        )

    @safe_override
    def flags(self, index: Index) -> Qt.ItemFlag:
        item_flag = super().flags(index)
        if index.column() in self._ticks:
            item_flag |= Qt.ItemFlag.ItemIsUserCheckable
        if index.column() in self._counts:
            item_flag |= Qt.ItemFlag.ItemIsEditable
        return item_flag

    @safe_override
    def setData(self, index: Index, value: Any, role: int = ROLE.EditRole) -> bool:
        ticked = index.column() in self._ticks and role == ROLE.CheckStateRole
        counted = index.column() in self._counts and role == ROLE.EditRole
        if not (ticked or counted):
            return False
        became = Qt.CheckState(value) == Qt.CheckState.Checked if ticked else int(value)
        row = list(self._rows[index.row()])
        if row[index.column()] == became:
            return True
        row[index.column()] = became
        self.replace_row(index.row(), row)
        self._changed(index.row(), index.column(), became)
        return True

    def cells(self, rows: Sequence[int]) -> list[list[object]]:
        """Rows as they are copied, the captions first."""
        return [
            list(self._captions),
            *(
                [
                    ("✓" if value else "") if column in self._ticks else value
                    for column, value in enumerate(self._rows[place])
                ]
                for place in rows
            ),
        ]


class _Counts(QStyledItemDelegate):
    """Edits a whole number."""

    def __init__(self, most: int, parent: QWidget) -> None:
        super().__init__(parent)
        self._most = most

    @safe_override
    def createEditor(
        self, parent: QWidget, option: QStyleOptionViewItem, index: Index
    ) -> QWidget:  # the editor Qt makes itself turns with the wheel
        line = Count(parent)
        line.setRange(0, self._most)
        line.setFrame(False)
        return line


class Table(Grid):
    """A table that is read, ticked and counted in; Ctrl+C takes the chosen rows along."""

    def __init__(self, model: TableModel, name: str, most: int = 999) -> None:
        super().__init__()
        self.rows = model
        self.setModel(model)
        self.setAccessibleName(name)
        self.setItemDelegate(_Counts(most, self))
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.setSelectionBehavior(Grid.SelectionBehavior.SelectRows)
        self.setVerticalScrollMode(Grid.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setCornerButtonEnabled(False)
        self.setTabKeyNavigation(False)
        down, across = self.verticalHeader(), self.horizontalHeader()
        for header in (down, across):
            header.setAccessibleName(name)
        down.hide()
        down.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        down.setDefaultSectionSize(px(ROW_PIXELS))
        across.setHighlightSections(False)
        across.setSectionsClickable(False)
        across.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        across.setMinimumSectionSize(px(40))

    def wrap(self) -> None:
        """Show all of a text, in as many lines as it takes: for tables of few rows."""
        self.setWordWrap(True)
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)

    def set_widths(self, widths: Sequence[int]) -> None:
        """Give columns their widths in pixels of the source; 0 takes what is left."""
        across = self.horizontalHeader()
        for column, wide in enumerate(widths):
            mode = QHeaderView.ResizeMode
            across.setSectionResizeMode(column, mode.Fixed if wide else mode.Stretch)
            if wide:
                self.setColumnWidth(column, px(wide))

    @safe_override
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Copy):
            chosen = [index.row() for index in self.selectionModel().selectedRows()]
            copy_table(self.rows.cells(sorted(chosen) or range(self.rows.rowCount())))
            return
        super().keyPressEvent(event)
