"""What every group of commands has: the bench, somebody to ask, and signals for what came of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from PySide6.QtCore import QObject, Qt, Signal, SignalInstance
from PySide6.QtWidgets import QApplication, QDialog, QWidget

from kesselton.app.bench.bench import Bench
from kesselton.app.sound.stroke_player import StrokePlayer
from kesselton.core.errors import KesseltonError
from kesselton.ui.commands.asking import Asking
from kesselton.ui.parts.widgets.theme import Colours, colours_for
from kesselton.ui.parts.words.display_format import DisplayFormat


@contextmanager
def guarded(signal_instance: SignalInstance, topic: str = "file") -> Iterator[None]:
    """Tell what goes wrong with a file."""
    try:
        yield
    except KesseltonError as error:
        signal_instance.emit(error, topic)


@dataclass
class Hands:
    """What commands work with.

    Attributes
    ----------
    open_another : opens a workshop in a window of its own
    dialog : the dialog opened last
    """

    bench: Bench
    listener: StrokePlayer
    display: DisplayFormat
    asking: Asking
    open_another: Callable[..., object]
    parent: QWidget
    dialog: QDialog | None = None

    def show(self, dialog: QDialog) -> None:
        """Open a dialog of this window."""
        self.dialog = dialog
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    @property
    def colours(self) -> Colours:
        """Those of the current theme."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        return colours_for(app, self.bench.settings.theme)


class CommandGroup(QObject):
    """Commands of one kind.

    Signals
    -------
    told(KesseltonError, str topic) : something could not be done
    said(str, bool undo) : something was done; whether it is worth a way back at hand
    offered(str, bool undo, str, callable) : something was done; what may follow, in words, and what
        does it
    page_wanted(str) : a page to go to
    """

    told = Signal(object, str)
    notice = Signal(str, bool)
    offered = Signal(str, bool, str, object)
    page_wanted = Signal(str)

    def __init__(self, hands: Hands) -> None:
        super().__init__(hands.parent)
        self._hands = hands
        self._bench, self._listener, self._asking = hands.bench, hands.listener, hands.asking
        self._display, self._parent = hands.display, hands.parent

    def _open_dialog(self, dialog: QDialog) -> None:
        self._hands.show(dialog)
