"""Pages made when they are first asked for, or while nobody needs the machine."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, cast

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QSizePolicy, QStackedWidget, QWidget

from kesselton.ui.parts.widgets.theme import LIGHT, Colours

PREPARE_MS = 80


class PageStack(QStackedWidget):
    """One page at a time; the others are made later, piece by piece.

    Signals
    -------
    prepared() : there is no page left to make beforehand
    """

    prepared = Signal()

    def __init__(
        self,
        order: Sequence[str],
        make: Callable[[str], QWidget],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._order, self._make = order, make
        self._colours = LIGHT
        self._pages: dict[str, Any] = {}
        self._made: dict[str, QWidget] = {}
        self._to_fill: list[Callable[[], object]] = []
        self._preparing = False
        self._later = QTimer(self, singleShot=True, interval=PREPARE_MS)
        self._later.timeout.connect(self._go_on)
        self.currentChanged.connect(lambda place: self._ask_room())

    def piece_before(self, name: str) -> bool:
        """Make a piece of a page beforehand; False if there is none left to make."""
        return False

    def page_of(self, name: str) -> Any:
        """A page, made if need be."""
        if name not in self._pages:
            widget = self._made.pop(name, None)
            page = self._pages[name] = self._make(name) if widget is None else widget
            page.set_colours(self._colours)  # type: ignore[attr-defined]
            self.addWidget(page)
            self._ask_room()
        return self._pages[name]

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
            name = next((name for name in self._order if name not in self._pages), None)
            if not self._preparing:
                return
            if name is None:
                self._preparing = False
                self.prepared.emit()
                return
            if name in self._made:
                self.page_of(name)
            elif not self.piece_before(name):
                self._made[name] = self._make(name)
        self._later.start()

    def fill_later(self, fill: Callable[[], object]) -> None:
        """Do this once nobody needs the machine."""
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

    def set_colours(self, colours: Colours) -> None:
        """Follow the theme."""
        self._colours = colours
        for page in self._pages.values():
            page.set_colours(colours)

    def stop(self) -> None:
        """End what pages have running."""
        self._later.stop()
        results = cast("dict[str, Any]", self._made)
        for page in (*self._pages.values(), *results.values()):
            page.stop()
