"""How the night looks: dark, large, one thing at a time."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from kesselton.core.language import _
from kesselton.ui.parts.pictures.ring import Ring
from kesselton.ui.parts.widgets.elided import Elided
from kesselton.ui.parts.widgets.inputs import Button
from kesselton.ui.parts.widgets.labels import Label
from kesselton.ui.parts.widgets.picture import Picture, hint
from kesselton.ui.parts.widgets.safe_override import safe_override
from kesselton.ui.parts.widgets.theme import DARK, font, night_sheet, px, scale

LARGEST, SMALLEST = 40.0, 22.0
"""Points of the heading: as large as it fits in two lines."""
ROW_LINES = 44.0
FULL_HEIGHT, SMALLEST_FIT = 790.0, 0.5
"""Of the window, in pixels of the source, at which letters are as large as they are meant."""


class Progress(Picture):
    """How much of the steps, and of the time, is gone."""

    main = False

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Progress"))
        self.setFixedHeight(10)
        self._steps, self._time = 0.0, 0.0

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(400, 10)

    def set_state(self, steps: float, time: float) -> None:
        """Shares from 0 to 1."""
        self._steps, self._time = steps, time
        self.setAccessibleDescription(_("{steps:.0f} % of the steps").format(steps=100.0 * steps))
        self.update()

    def _paint(self, p: QPainter) -> None:
        c, wide = self._colours, float(self.width())
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.line))
        p.drawRoundedRect(QRectF(0, 2, wide, 6), 3, 3)
        p.setBrush(QColor(c.accent))
        p.drawRoundedRect(QRectF(0, 2, wide * min(self._steps, 1.0), 6), 3, 3)
        x = wide * min(max(self._time, 0.0), 1.0)
        p.setBrush(QColor(c.sharp if self._time > self._steps + 0.05 else c.ink))
        p.drawRect(QRectF(min(x, wide - 3), 0, 3, 10))


class Choices(Picture):
    """A few answers, large; the one in hand is filled."""

    main = False

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(_("Stage repair"))
        self._rows: list[tuple[str, str, bool]] = []
        self._now = 0
        self.setMinimumHeight(110)

    @safe_override
    def sizeHint(self) -> QSize:
        return hint(700, 380)

    def set_state(self, rows: Sequence[tuple[str, str, bool]], now: int) -> None:
        """(what, what is said of it, whether it can be chosen); `now` is in hand."""
        self._rows, self._now = list(rows), now
        self.setAccessibleDescription(rows[now][0] if 0 <= now < len(rows) else "")
        self.update()

    def table(self) -> list[tuple[str, ...]]:
        """All of them."""
        return [
            (str(n), what, message)
            for n, (what, message, _unused) in enumerate(self._rows, start=1)
        ]

    @property
    def fits(self) -> int:
        """So many rows are seen at once."""
        return max(int(self.height() / (ROW_LINES + 22.0)), 1)

    def row_at(self, y: float) -> int:
        """The row that is pointed at, -1 for none."""
        row = int(y / self._high()) + self._first()
        return row if 0 <= row < len(self._rows) else -1

    def _high(self) -> float:
        return min(ROW_LINES + 34.0, self.height() / max(min(len(self._rows), self.fits), 1))

    def _first(self) -> int:
        return max(0, min(self._now - self.fits // 2, len(self._rows) - self.fits))

    def _paint(self, p: QPainter) -> None:
        c, high, wide = self._colours, self._high(), float(self.width())
        first = self._first()
        for place, row in enumerate(range(first, min(first + self.fits, len(self._rows)))):
            what, message, can = self._rows[row]
            box = QRectF(1, place * high + 2, wide - 2, high - 6)
            here = row == self._now
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(c.accent if here and can else c.line if here else c.panel))
            p.drawRoundedRect(box, 8, 8)
            ink = c.on_accent if here and can else c.ink if can else c.soft_ink
            p.setPen(QColor(ink))
            p.setFont(font(17, QFont.Weight.Bold))
            number = QRectF(box.left() + 10, box.top(), 34, box.height())
            p.drawText(number, Qt.AlignmentFlag.AlignVCenter, str(row + 1) if row < 9 else "")
            text = box.adjusted(48, 3, -10, -3)
            top = Qt.AlignmentFlag.AlignTop if message else Qt.AlignmentFlag.AlignVCenter
            shown = p.fontMetrics().elidedText(what, Qt.TextElideMode.ElideRight, int(text.width()))
            p.drawText(text, top, shown)
            if message:
                p.setFont(font(12.5))
                if not (here and can):
                    p.setPen(QColor(c.soft_ink))
                metrics = p.fontMetrics()
                line = metrics.elidedText(message, Qt.TextElideMode.ElideRight, int(text.width()))
                p.drawText(text, Qt.AlignmentFlag.AlignBottom, line)


class NightFace(QWidget):
    """Heading, text, picture, what comes then, and one big button."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("night")
        self.setAccessibleName(_("Stage repair"))
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._fit = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._lay_out()
        self.fit()
        for view in (self.progress, self.choices, self.ring):
            view.set_colours(DARK)
        self.hide()

    def _lay_out(self) -> None:
        self.about, self.needs = Elided(), Label()
        self._make_labels()
        right = QVBoxLayout()
        right.setSpacing(px(4))
        for widget in (self.entry, self.then_caption, self.then):
            widget.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
            right.addWidget(widget)
        right.addStretch(1)
        right.addWidget(self.skipped)
        step = QWidget()
        row = QHBoxLayout(step)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(px(30))
        row.addWidget(self.ring, 3)
        row.addLayout(right, 4)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.choices)
        self.pages.addWidget(step)
        self.done, self.back = Button(_("Done (Space)")), Button(_("Back (⌫)"))
        self.skip, self.leave = Button(_("Skip (S)")), Button(_("Abandon"))
        self.yes, self.no = Button(_("Yes (Y)")), Button(_("No (N)"))
        self.done.setObjectName("main")
        foot = QHBoxLayout()
        foot.setSpacing(px(12))
        for button, wide in (
            (self.done, 4), (self.yes, 2), (self.no, 2), (self.back, 1), (self.skip, 1),
            (self.leave, 1),
        ):  # fmt: skip
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            foot.addWidget(button, wide)
        top = QHBoxLayout()
        top.addWidget(self.about, 1)
        times = QVBoxLayout()
        times.setSpacing(0)
        times.addWidget(self.clock)
        times.addWidget(self.needs)
        top.addLayout(times, 1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(px(36), px(18), px(36), px(24))
        whole.setSpacing(px(10))
        whole.addLayout(top)
        whole.addWidget(self.progress)
        for widget in (self.title, self.text, self.more):
            whole.addWidget(widget)
        whole.addWidget(self.pages, 1)
        whole.addLayout(foot)

    def _make_labels(self) -> None:
        self.clock = Label()
        self.clock.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.needs.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.needs.setWordWrap(True)
        self.progress = Progress()
        self.title, self.text, self.more = Label(), Label(), Label()
        for label in (self.about, self.text, self.needs):
            label.setProperty("quiet", True)
        for label in (self.title, self.text, self.more):
            label.setWordWrap(True)
        self.more.setProperty("fault", True)
        self.choices, self.ring = Choices(), Ring()
        self.then_caption, self.then = Label(_("next")), Label()
        self.then_caption.setProperty("quiet", True)
        self.then.setWordWrap(True)
        self.entry = Label()
        self.skipped = Label()
        self.skipped.setWordWrap(True)
        self.skipped.setProperty("fault", True)

    def fit(self) -> None:
        """Letters as large as the window has room for: what is read at two meters in a large
        one must not be cut off in a small one."""
        room = self.height() / (FULL_HEIGHT * scale())
        fit = round(min(max(room, SMALLEST_FIT), 1.0), 2)
        if fit == self._fit:
            return
        self._fit = fit
        self.setStyleSheet(night_sheet(fit))
        bold, plain = QFont.Weight.Bold, QFont.Weight.Normal
        for widget, points, weight in (
            (self.about, 16.0, plain), (self.clock, 34.0, bold), (self.needs, 13.0, plain),
            (self.text, 17.0, plain), (self.more, 14.0, plain), (self.then_caption, 13.0, plain),
            (self.then, 18.0, plain), (self.entry, 30.0, bold), (self.skipped, 13.0, plain),
            (self.done, 20.0, bold), (self.yes, 15.0, bold), (self.no, 15.0, bold),
            (self.back, 15.0, bold), (self.skip, 15.0, bold), (self.leave, 15.0, bold),
        ):  # fmt: skip
            widget.setFont(font(fit * points, weight))

    @property
    def roomy(self) -> bool:
        """Whether there is room for what comes after."""
        return self._fit > 0.72

    def head(self, title: str, text: str, more: str = "") -> None:
        """What is to be done, as large as it fits in two lines."""
        points = LARGEST * self._fit
        wide = self.width() - 2 * px(36)
        while points > SMALLEST * self._fit:
            self.title.setFont(font(points, QFont.Weight.Bold))
            if self.title.fontMetrics().horizontalAdvance(title) < 1.0 * wide:
                break
            points -= 2.0
        self.title.setFont(font(points, QFont.Weight.Bold))
        for label, words in ((self.title, title), (self.text, text), (self.more, more)):
            label.setText(words)
            label.setVisible(bool(words))

    def show_time(self, clock: str, needs: str, late: bool) -> None:
        """What is left, and whether it is enough."""
        self.clock.setText(clock)
        self.needs.setText(needs)
        if self.needs.property("fault") != late:
            self.needs.setProperty("fault", late)
            self.needs.setProperty("quiet", not late)
            self.needs.style().unpolish(self.needs)
            self.needs.style().polish(self.needs)

    def offer(self, done: str, back: bool = True, skip: bool = False, leave: bool = True) -> None:
        """Which buttons there are; an empty `done` is a question."""
        self.done.setText(done)
        self.done.setVisible(bool(done))
        for button in (self.yes, self.no):
            button.setVisible(not done)
        self.back.setVisible(back)
        self.skip.setVisible(skip)
        self.leave.setVisible(leave)
