"""From nothing to a window: checks that speak before Qt can fall silent."""

from __future__ import annotations

import ctypes
import gc
import os
import sys
from typing import TYPE_CHECKING

from kesselton.core.errors import KesseltonError
from kesselton.core.language import _

if TYPE_CHECKING:
    from pathlib import Path

    from kesselton.app.host.settings import SettingsStore
    from kesselton.app.workshop.document import Document
    from kesselton.store.workshop.workshop import WorkshopFile
    from kesselton.ui.parts.widgets.messages import Unexpected
    from kesselton.ui.window.main_window import MainWindow

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
_unexpected: list[Unexpected] = []
CAME_FORWARD, GIVEN_UP = 0, 2
UNSEEN = ("offscreen", "minimal", "vnc")
"""Platforms without a screen anybody looks at."""


def missing_libraries(wanted: dict[str, str]) -> list[str]:
    """Debian packages of the libraries in `wanted` that cannot be loaded."""
    missing = []
    for library, package in wanted.items():
        try:
            ctypes.CDLL(library)
        except OSError:
            missing.append(package)
    return missing


def screen_answers() -> bool:
    """Whether the X server lets this program in; Qt would abort if it does not."""
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return True  # Qt says what is missing
    xcb.xcb_connect.restype = ctypes.c_void_p
    for name in ("xcb_connection_has_error", "xcb_disconnect"):
        getattr(xcb, name).argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    try:
        return int(xcb.xcb_connection_has_error(connection)) == 0
    finally:
        xcb.xcb_disconnect(connection)


def check_platform(environment: dict[str, str]) -> None:
    """Say in words what Qt would die of.

    Raises
    ------
    KesseltonError
        If there is no screen, or a library of the system is missing.
    """
    platform = environment.get("QT_QPA_PLATFORM", "")
    wanted = dict(QT_LIBRARIES)
    if platform not in UNSEEN:
        if not (environment.get("DISPLAY") or environment.get("WAYLAND_DISPLAY")):
            raise KesseltonError(
                _("There is no display to open a window on (DISPLAY is not set)."),
                _("Start Kesselton from a desktop, or use a command such as kesselton predict."),
            )
        if platform.startswith("xcb") or not environment.get("WAYLAND_DISPLAY"):
            wanted |= XCB_LIBRARIES
    missing = missing_libraries(wanted)
    if not missing and wanted.keys() >= XCB_LIBRARIES.keys() and not screen_answers():
        raise KesseltonError(
            _("The display {display} does not respond or refuses the connection.").format(
                display=environment.get("DISPLAY", "")
            ),
            _("Start Kesselton from a desktop, or use a command such as kesselton predict."),
        )
    if missing:
        raise KesseltonError(
            _("System libraries for the window are missing."),
            _("Run: sudo apt-get install {join}").format(join=" ".join(missing)),
        )


def run(workshop: str | None) -> int:
    """Open the program and stay until the last window closes; 2 if none could be opened."""
    check_platform(dict(os.environ))
    from kesselton.app.host.memory import release_memory

    release_memory()
    from PySide6.QtWidgets import QApplication

    from kesselton.app.host.logs import log, start_logging, stop_logging
    from kesselton.app.host.settings import SettingsStore
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.parts.widgets.messages import Unexpected

    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("kesselton")
    app.setDesktopFileName("org.tern_island.Kesselton")
    missing_fonts = theme.load_fonts()
    if app.platformName() not in UNSEEN:
        theme.follow_font(app.font().pointSizeF())
    faults = [(start_logging(), _("Everything else works normally."))]
    if missing_fonts:
        faults.append(
            (
                _(
                    "These fonts could not be loaded: {names}. Kesselton uses the desktop’s fonts."
                ).format(names=", ".join(missing_fonts)),
                "",
            )
        )
    settings = SettingsStore()
    faults.append((settings.fault, _("Set them again in the View menu.")))
    unexpected = Unexpected()
    unexpected.install()
    _unexpected.append(unexpected)
    try:
        window = _first_window(workshop, settings, app.platformName() not in UNSEEN)
        if isinstance(window, int):
            return window
        results = [(fault, remedy) for fault, remedy in faults if fault]
        for fault, _unused in results:
            log.warning(fault)
        if results:
            *before, (fault, remedy) = results
            message = " ".join([*(f"{one} {way}" for one, way in before), fault])
            window.message.tell(KesseltonError(message, remedy))
        return app.exec()
    finally:
        _unexpected.remove(unexpected)
        stop_logging()


def _first_window(workshop: str | None, settings: SettingsStore, seen: bool) -> MainWindow | int:
    """A window, after as many tries as the technician makes; else the code to leave with.

    Raises
    ------
    KesseltonError
        If there is none, on a platform where nobody could see why.
    """
    from kesselton.app.host.logs import log

    damaged: Path | None = None
    while True:
        try:
            if damaged is not None:
                path, damaged = damaged, None
                return open_window(str(path), settings, salvaged=True) or CAME_FORWARD
            return open_window(workshop, settings) or CAME_FORWARD
        except KesseltonError as error:
            log.error("not opened: %s", error.one_line())
            if not seen:
                raise
            print(error.one_line(), file=sys.stderr)
            go_on, workshop, damaged = ask_way_on(error, workshop, settings)
            if not go_on:
                return GIVEN_UP


def ask_way_on(
    error: KesseltonError, workshop: str | None, settings: SettingsStore
) -> tuple[bool, str | None, Path | None]:
    """Say in a window why there is none; whether to go on, with which workshop, and the file of
    which what can be read is to be opened."""
    from PySide6.QtWidgets import QApplication

    from kesselton.app.workshop.workshops import path_of
    from kesselton.ui.parts.widgets import theme
    from kesselton.ui.window.start_failure import StartFailure, WayOn

    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.apply(app, theme.colours_for(app, settings.values.theme))
    dialog = StartFailure(error, path_of(workshop, settings.values.last_workshop))
    dialog.setStyleSheet(theme.sheet())
    dialog.exec()
    chosen = str(dialog.path) if dialog.way is WayOn.OTHER else workshop
    damaged = dialog.path if dialog.way is WayOn.SALVAGE else None
    return dialog.way is not WayOn.QUIT, chosen, damaged


def open_window(
    workshop: str | None, settings: SettingsStore, salvaged: bool = False
) -> MainWindow | None:
    """A window on a workshop: a file, "demo", or None for the one used last.

    A workshop that is open already is not opened again: its window comes forward, and if another
    process has it, there is none to return. With `salvaged`, what can be read of a damaged file
    opens in a file of its own.

    Raises
    ------
    KesseltonError
        If the file cannot be opened, or nothing of it can be read.
    """
    from kesselton.app.host.single_instance import ring
    from kesselton.app.workshop.workshops import open_default, open_demo, open_workshop, path_of
    from kesselton.store.io.errors import LockedError

    path = path_of(workshop, settings.values.last_workshop)
    if salvaged:
        from kesselton.store.workshop.salvage import salvage_beside

        return _window_on(salvage_beside(path), False, settings)
    for window in _windows:
        shut = not window.isVisible()  # and not yet thrown away
        if not shut and path.exists() and path.samefile(window.document.path):
            window.come_forward()
            return window
    try:
        if workshop == "demo":
            file = open_demo()
        elif workshop is None:
            file = open_default(settings.values.last_workshop)
        else:
            file = open_workshop(workshop)
    except LockedError:
        if ring(path):
            return None
        raise
    return _window_on(file, workshop == "demo", settings)


def _window_on(file: WorkshopFile, demo: bool, settings: SettingsStore) -> MainWindow:
    from kesselton.app.host.logs import log
    from kesselton.app.workshop.document import Document

    try:
        document = Document(file)
    except BaseException:
        file.close()  # else the next try would find it open in another window
        raise
    if not demo:
        settings.change(last_workshop=str(file.path.resolve()))
    log.info("opened %s, drums %d", file.path, len(document.workshop.entries))
    window = _window_of(document, settings)
    if demo:
        window.commands.first_source = "bench_tap"  # no drum stands beside a demonstration
    document.send_notices()
    return window


def _window_of(document: Document, settings: SettingsStore) -> MainWindow:
    from PySide6.QtCore import Qt

    from kesselton.ui.window.main_window import MainWindow

    window = MainWindow(document, settings, open_window)
    for unexpected in _unexpected:
        window.watch(unexpected)
    window.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    _windows.append(window)  # else Python would forget the second window at once
    window.destroyed.connect(lambda: _gone(window))
    window.anew_wanted.connect(lambda: rebuild_window(window))
    window.pages.prepared.connect(gc.freeze)
    gc.freeze()  # see _set_aside; there is no garbage yet
    window.show()
    return window


def rebuild_window(window: MainWindow) -> None:
    """The same work, what can be undone included, in a window with the desktop's letters: a window
    that lives keeps the sizes it was laid out with."""
    from PySide6.QtWidgets import QApplication

    from kesselton.ui.parts.widgets import theme

    if not window.leave():
        return
    theme.follow_font(theme.desktop_points())
    QApplication.setFont(theme.font())
    anew = _window_of(window.document, window.bench.settings_store)
    anew.commands.first_source = window.commands.first_source
    window.close()


def _gone(window: MainWindow) -> None:
    """Forget a window that was closed: what it was made of may be thrown away."""
    from PySide6.QtCore import QTimer

    _windows.remove(window)
    gc.unfreeze()
    if _windows:
        QTimer.singleShot(0, _set_aside)


def _set_aside() -> None:
    """Look for garbage once more, and no more among what is left then: such a search through all
    that the program is made of stops it for 50 ms."""
    gc.collect()
    gc.freeze()
