"""A second start on an open workshop rings at the window that has it, which comes forward."""

from __future__ import annotations

import os
import socket
import tempfile
from pathlib import Path

from PySide6.QtCore import QObject, QSocketNotifier, Signal

from kesselton.app.host.logs import log

ANSWER_S = 2.0
RING, HERE = b"ring", b"here"


class SingleInstance(QObject):
    """Listens for one workshop file as long as its window stands.

    Signals
    -------
    rung : somebody wants this window
    """

    rung = Signal()

    def __init__(self, path: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._notifier: QSocketNotifier | None = None
        self.listen_for(path)

    def listen_for(self, path: Path) -> None:
        """Listen for this file, and for no other any more."""
        self.stop()
        self._path = _socket_of(path)
        self._socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        try:
            self._path.unlink(missing_ok=True)  # of a window that died: this one has the lock
            self._socket.bind(str(self._path))
            self._socket.listen(4)
        except OSError as error:
            log.warning("a second start will not find this window: %s", error)
            self._socket.close()
            return
        self._socket.setblocking(False)
        self._notifier = QSocketNotifier(self._socket.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._on_ring)

    def _on_ring(self) -> None:
        try:
            caller, _ = self._socket.accept()
        except OSError:
            return  # gone again
        with caller:
            caller.settimeout(0.1)
            try:
                if caller.recv(len(RING)) == RING:
                    caller.sendall(HERE)
                    self.rung.emit()
            except OSError as error:
                log.warning("somebody rang and went: %s", error)

    def stop(self) -> None:
        """Listen no longer."""
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None
            self._socket.close()
            self._path.unlink(missing_ok=True)


def ring(path: Path) -> bool:
    """Ask the window that has a workshop open to come forward; False if none answers."""
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as bell:
            bell.settimeout(ANSWER_S)
            bell.connect(str(_socket_of(path)))
            bell.sendall(RING)
            return bell.recv(len(HERE)) == HERE
    except OSError:
        return False


def _socket_of(path: Path) -> Path:
    """Where the window of a workshop listens: by the file itself, whatever it is called."""
    folder = Path(os.environ.get("XDG_RUNTIME_DIR") or tempfile.gettempdir())
    stat = path.stat()
    return folder / f"kesselton-{os.getuid()}-{stat.st_dev:x}-{stat.st_ino:x}"
