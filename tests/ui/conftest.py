"""The demo in a window, as every test of a screen begins."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication
from shiboken6 import isValid

from kesselton.app.host.settings import Settings, SettingsStore
from kesselton.ui.window.main_window import MainWindow
from kesselton.ui.window.start import open_window

Wait = Callable[..., None]


@pytest.fixture
def window(wait: Wait) -> Iterator[MainWindow]:
    made = open_window("demo", SettingsStore(Settings(theme="light")))
    made.resize(1280, 800)
    settled(made, wait)
    yield made
    if isValid(made):  # else the test has closed it
        made.close() or made.close()  # a fault left standing in a field is said once
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def settled(window: MainWindow, wait: Wait) -> None:
    """The drum on the bench is worked out."""
    wait(lambda: window.result is not None and window.result.drum == window.document.drum)
