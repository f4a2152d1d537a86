"""A stranger at the program: a fresh home, a screen, a keyboard, and eyes.

What is done goes through the X server to a program in a process of its own; what is read is what
stands on the screen, or in the file.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from tests.journeys.keyboard import Keyboard

HERE = Path(__file__).resolve().parents[2]
START_S, WAIT_S = 40.0, 25.0
NO_KEYS = """<?xml version="1.0"?><openbox_config xmlns="http://openbox.org/3.4/rc">
<focus><focusNew>yes</focusNew></focus><placement><policy>Smart</policy></placement>
<keyboard></keyboard><mouse><context name="Client"><mousebind button="Left" action="Press">
<action name="Focus"/><action name="Raise"/></mousebind></context></mouse></openbox_config>"""
"""A window manager that takes no key for itself."""


@contextmanager
def screen(wide: int = 1280, high: int = 800) -> Iterator[str]:
    """An X display of that size with a window manager; yields its name."""
    read, write = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write), "-screen", "0", f"{wide}x{high}x24", "-nolisten", "tcp"],
        pass_fds=[write], stderr=subprocess.DEVNULL,
    )  # fmt: skip
    os.close(write)
    with os.fdopen(read) as told:
        display = f":{told.readline().strip()}"
    folder = tempfile.mkdtemp()
    rules = Path(folder) / "rc.xml"
    rules.write_text(NO_KEYS)
    # it dies now and then as keys get other letters (`Keyboard.type`): windows get another one
    again = f"while :; do openbox --sm-disable --config-file '{rules}'; sleep 0.1; done"
    manager = subprocess.Popen(
        ["sh", "-c", again], start_new_session=True, stderr=subprocess.DEVNULL,
        env={**os.environ, "DISPLAY": display, "HOME": folder},
    )  # fmt: skip
    try:
        yield display
    finally:
        os.killpg(manager.pid, signal.SIGTERM)
        server.terminate()
        for one in (manager, server):
            one.wait()
        shutil.rmtree(folder, ignore_errors=True)


class Screen:
    """What stands there at one moment."""

    def __init__(self, told: dict[str, Any]) -> None:
        self.windows: list[dict[str, Any]] = told["windows"]
        self.size: list[int] = told["screen"]

    @property
    def widgets(self) -> list[dict[str, Any]]:
        """All of them, of the topmost windows first."""
        tops = sorted(self.windows, key=lambda one: (not one["popup"], not one["active"]))
        return [widget for top in tops for widget in top["widgets"]]

    @property
    def shown(self) -> list[dict[str, Any]]:
        """Those of which something is seen."""
        return [one for one in self.widgets if one["seen"][2] > 0 and one["seen"][3] > 0]

    @property
    def text(self) -> str:
        """All that can be read, without markup."""
        lines = [one["title"] for one in self.windows]
        lines += [one["text"] for one in self.shown if one["text"]]
        for top in self.windows:
            lines += [row["text"].replace("&", "") for row in top.get("menu", ())]
        return "\n".join(re.sub(r"<[^<>]+>", "", line) for line in lines)

    @property
    def titles(self) -> list[str]:
        """Of all windows, the active one first."""
        return [one["title"] for one in sorted(self.windows, key=lambda one: not one["active"])]

    @property
    def focus(self) -> dict[str, Any] | None:
        """What has the keys."""
        return next((one for one in self.widgets if one["focus"]), None)

    def all(self, words: str, kind: str = "") -> list[dict[str, Any]]:
        """Seen widgets that say this, or are called this; whole words first, then beginnings."""

        def said(one: dict[str, Any]) -> list[str]:
            texts = (one["text"], one["name"], one["caption"])
            return [
                re.sub(r"<[^<>]+>", "", t).replace("&&", "\0").replace("&", "").replace("\0", "&")
                for t in texts
                if t
            ]

        at = [one for one in self.shown if not kind or kind in one["kind"]]
        whole = [one for one in at if words in said(one)]
        return whole or [one for one in at if any(t.startswith(words) for t in said(one))]

    def one(self, words: str, kind: str = "") -> dict[str, Any]:
        """The first of these."""
        found = self.all(words, kind)
        assert found, f"{words!r} is not on the screen:\n{self.text}"
        return found[0]


class Stranger(Keyboard):
    """Somebody who knows the program from its README only."""

    def __init__(self, display: str, home: Path, *words: str) -> None:
        super().__init__(display)
        self.home, self.words, self._display_name = home, words, display
        home.mkdir(parents=True, exist_ok=True)
        self._socket = str(Path(tempfile.mkdtemp()) / "look")
        self.errors = home / "stderr.txt"
        self.program: subprocess.Popen[bytes]
        self.start(*words)

    def start(self, *words: str) -> None:
        """The program anew, as from a menu."""
        env = {
            key: value for key, value in os.environ.items()
            if key == "XDG_CURRENT_DESKTOP" or not key.startswith(("XDG_", "QT_", "KESSELTON", "PYTEST"))
        }  # fmt: skip
        env |= {
            "HOME": str(self.home),
            "DISPLAY": self._display_name,
            "PYTHONFAULTHANDLER": "1",
            "PYTHONPATH": f"{HERE}:{HERE}/src",
        }
        Path(self._socket).unlink(missing_ok=True)
        with self.errors.open("ab") as errors:
            self.program = subprocess.Popen(
                [sys.executable, "-m", "tests.journeys.observed", self._socket, *words],
                cwd=self.home, env=env, stdout=subprocess.DEVNULL, stderr=errors,
            )  # fmt: skip
        self.wait(lambda seen: any(one["widgets"] for one in seen.windows), START_S)

    @property
    def display(self) -> str:
        """The screen it is on."""
        return self._display_name

    # eyes

    def look(self) -> Screen:
        """What is on the screen now."""
        last = ""
        for _ in range(20):
            assert self.program.poll() is None, (
                f"the program ended: {self.program.poll()}\n{self.tail}"
            )
            try:
                with closing(socket.socket(socket.AF_UNIX)) as line:
                    line.settimeout(40.0)
                    line.connect(self._socket)
                    told = b"".join(iter(lambda: line.recv(1 << 20), b""))
                seen = json.loads(told)
            except (OSError, ValueError) as error:
                last = str(error)
                time.sleep(0.1)
                continue
            if "error" not in seen:
                return Screen(seen)
            last = seen["error"]
        raise AssertionError(f"nobody answers: {last}")

    @property
    def tail(self) -> str:
        """The last that was written to standard error."""
        return self.errors.read_text(errors="replace")[-3000:] if self.errors.exists() else ""

    def wait(
        self, what: str | Callable[[Screen], object], seconds: float = WAIT_S, gone: bool = False
    ) -> Screen:
        """Until a text stands there (or no longer), or something is so."""
        end, seen = time.monotonic() + seconds, None
        while time.monotonic() < end:
            try:
                seen = self.look()
            except AssertionError:
                if self.program.poll() is not None:
                    raise
                continue
            there = what in seen.text if isinstance(what, str) else bool(what(seen))
            if there is not gone:
                return seen
            time.sleep(0.08)
        raise AssertionError(
            f"{what!r} {'stayed' if gone else 'did not come'}:\n{seen.text if seen else ''}"
        )

    def dialog(self, words: str, seconds: float = WAIT_S) -> Screen:
        """Until a dialog that says this has the keys."""
        return self.wait(
            lambda seen: (
                words in seen.text
                and any(top["active"] and top["kind"] != "MainWindow" for top in seen.windows)
            ),
            seconds,
        )

    def rest(self, seconds: float = 0.25) -> Screen:
        """Wait until the screen says the same twice."""
        before = ""
        for _ in range(60):
            seen = self.look()
            if seen.text == before:
                return seen
            before = seen.text
            time.sleep(seconds)
        return seen

    # hands

    def click(self, words: str, kind: str = "") -> None:
        """On what says this; what is out of sight is scrolled to by whoever looks, not here."""
        seen = self.wait(lambda now: now.all(words, kind))
        x, y, wide, high = seen.one(words, kind)["seen"]
        self.click_at(x + min(wide / 2, 60), y + high / 2)

    def click_row(self, words: str, kind: str = "") -> None:
        """On a row of a list that begins so."""

        def rows(seen: Screen) -> list[list[Any]]:
            return [
                row for one in seen.shown if "rows" in one and (not kind or kind in one["kind"])
                for row in one["rows"] if row[0].startswith(words)
            ]  # fmt: skip

        _, x, y, wide, high = rows(self.wait(rows))[0]
        self.click_at(x + min(wide / 2, 60), y + high / 2)

    def menu(self, *path: str) -> None:
        """Through the menus by keys: Alt and the letter that is marked, then the marked letters."""
        for depth, words in enumerate(path):

            def rows(seen: Screen, depth: int = depth) -> list[dict[str, Any]]:
                if depth == 0:
                    return [
                        row for top in seen.windows if top["active"] for row in top.get("bar", ())
                    ]
                return [row for top in seen.windows for row in top.get("menu", ())]

            def hit(seen: Screen, words: str = words, rows: Any = rows) -> list[dict[str, Any]]:
                return [
                    r
                    for r in rows(seen)
                    if r["text"]
                    .replace("&&", "\0")
                    .replace("&", "")
                    .replace("\0", "&")
                    .startswith(words)
                ]

            row = hit(self.wait(hit))[0]
            assert row["enabled"], f"{words} cannot be chosen"
            letter = re.search(r"(?<!&)&([^&])", row["text"])
            assert letter, f"{row['text']} has no letter"
            self.press("Alt+" + letter[1].lower() if depth == 0 else letter[1].lower())
            time.sleep(0.1)

    def close_menus(self) -> None:
        """Escape until no menu is open."""
        for _ in range(4):
            if not any("menu" in top for top in self.look().windows):
                return
            self.press("Esc")
            time.sleep(0.1)

    # the end

    def quit(self) -> None:
        """By Ctrl+Q; the program must end by itself and have nothing to complain of."""
        self.close_menus()
        # a dialog may have closed a moment ago: keys go nowhere until a window has them again
        self.wait(lambda seen: any(top["active"] for top in seen.windows))
        self.press("Ctrl+q")
        try:
            code = self.program.wait(20)
        except subprocess.TimeoutExpired:
            raise AssertionError(f"it does not end:\n{self.look().text}") from None
        assert code == 0, (code, self.tail)
        self.no_complaint()

    def no_complaint(self) -> None:
        """Nothing went wrong unseen."""
        for word in ("Traceback", "Error", "Fatal", "QObject", "QPainter", "Segmentation"):
            assert word not in self.tail, self.tail

    def kill(self) -> None:
        """Whatever it is at."""
        if self.program.poll() is None:
            self.program.send_signal(signal.SIGKILL)
            self.program.wait()
        self.let_go()

    def workshop(self) -> Path:
        """The file that was opened."""
        found = [
            one for one in self.home.rglob("*.kesselton")
            if not any("backups" in part for part in one.parts)
        ]  # fmt: skip
        assert len(found) == 1, found
        return found[0]

    def drums(self, path: Path | None = None) -> list[dict[str, Any]]:
        """The drums in the file, read by another process: this one."""
        at = path or self.workshop()
        with closing(sqlite3.connect(f"file:{at}?mode=ro", uri=True)) as connection:
            return [
                json.loads(row[0])
                for row in connection.execute("SELECT json FROM drum ORDER BY position")
            ]
