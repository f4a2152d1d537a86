"""From nothing to a window: checks that speak before Qt can fall silent."""

from __future__ import annotations

import ctypes
import os
import sys
from typing import TYPE_CHECKING

from kesselton.core.errors import KesseltonError
from kesselton.ui import texts

if TYPE_CHECKING:
    from kesselton.app.settings import SettingsStore
    from kesselton.ui.main_window import MainWindow

XCB_LIBRARIES = {
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-shape.so.0": "libxcb-shape0",
}
QT_LIBRARIES = {
    "libglib-2.0.so.0": "libglib2.0-0",
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
}
_windows: list[MainWindow] = []


def missing_libraries(wanted: dict[str, str]) -> list[str]:
    """Debian packages of the libraries in `wanted` that cannot be loaded."""
    missing = []
    for library, package in wanted.items():
        try:
            ctypes.CDLL(library)
        except OSError:
            missing.append(package)
    return missing


def check_platform(environment: dict[str, str]) -> None:
    """Say in words what Qt would die of.

    Raises
    ------
    KesseltonError
        If there is no screen, or a library of the system is missing.
    """
    platform = environment.get("QT_QPA_PLATFORM", "")
    wanted = dict(QT_LIBRARIES)
    if platform not in ("offscreen", "minimal", "vnc"):
        if not (environment.get("DISPLAY") or environment.get("WAYLAND_DISPLAY")):
            raise KesseltonError(
                texts.THERE_IS_NO_SCREEN_TO,
                texts.START_KESSELTON_FROM_DESKTOP_KESSELTON,
            )
        if platform.startswith("xcb") or not environment.get("WAYLAND_DISPLAY"):
            wanted |= XCB_LIBRARIES
    missing = missing_libraries(wanted)
    if missing:
        raise KesseltonError(
            texts.WINDOW_NEEDS_LIBRARIES_THAT_THIS,
            texts.TYPE_SUDO_APT_GET_INSTALL.format(join=" ".join(missing)),
        )


def run(workshop: str | None) -> int:
    """Open the program and stay until the last window closes."""
    check_platform(dict(os.environ))
    from PySide6.QtWidgets import QApplication

    from kesselton.app.settings import SettingsStore
    from kesselton.ui.parts import theme
    from kesselton.ui.parts.messages import Unexpected

    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("kesselton")
    app.setDesktopFileName("org.tern_island.Kesselton")
    theme.load_fonts()
    settings = SettingsStore()
    unexpected = Unexpected()
    unexpected.install()
    window = open_window(workshop, settings)
    window.watch(unexpected)
    if settings.fault:
        window.message.tell(KesseltonError(settings.fault, texts.CHOOSE_THEM_AGAIN_IN_VIEW))
    return app.exec()


def open_window(workshop: str | None, settings: SettingsStore) -> MainWindow:
    """A window on a workshop: a file, "demo", or None for the one used last.

    Raises
    ------
    KesseltonError
        If the file cannot be opened.
    """
    from PySide6.QtCore import Qt

    from kesselton.app.document import Document
    from kesselton.app.workshops import open_default, open_demo, open_workshop
    from kesselton.ui.main_window import MainWindow

    if workshop == "demo":
        file = open_demo()
    elif workshop is None:
        file = open_default(settings.values.last_workshop)
    else:
        file = open_workshop(workshop)
        settings.change(last_workshop=str(file.path.resolve()))
    window = MainWindow(Document(file), settings, open_window)
    if workshop == "demo":
        window.clear.choose_source("bench_tap")  # no drum stands beside a demonstration
    window.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    _windows.append(window)  # else Python would forget the second window at once
    window.destroyed.connect(lambda: _windows.remove(window))
    window.show()
    return window
