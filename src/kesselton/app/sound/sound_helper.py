"""The process that owns the sound devices: `python -m kesselton.app.sound.sound_helper`.

The sound library gives up its process when a server ends at the wrong moment, and waits for ever
for one that hangs. Here that costs nothing: the program kills this process and begins another.

Orders come in on standard input, each a line of JSON, the samples to play behind it; what happens
goes out on standard output as frames (`FRAME`: kind, serial number, length) with a payload:
`TAKEN` (an order is begun), `OPENED`, `MOVES` (the device asked for more), `DATA` (16-bit samples
heard) and `END` (why). It ends when its input does.
"""

from __future__ import annotations

import json
import os
import queue
import struct
import sys
import threading
import time
from collections import deque
from collections.abc import Generator
from pathlib import Path
from typing import Any, BinaryIO

FRAME = struct.Struct("<cII")
TAKEN, OPENED, MOVES, DATA, END = b"t", b"o", b"m", b"d", b"e"
PLAY, LISTEN, STOP = "play", "listen", "stop"
NO_DEVICE, LOST = "none", "lost"

POLL_S = 0.02
OUTPUT_MS, INPUT_MS = 60, 20
FIRST_S, LOST_S = 4.0, 1.0
"""A server may take seconds before the first sound moves, and ask for seconds at once; what it
records comes steadily, and one second without is too long."""
DRAIN_S = 2.5


def backends() -> list[Any]:
    """Sound systems to ask, in order; ALSA only where there is a card: it is loud about none."""
    import miniaudio

    results = [miniaudio.Backend.PULSEAUDIO]
    cards = Path("/proc/asound/cards")
    try:
        if cards.exists() and "no soundcards" not in cards.read_text():
            results.append(miniaudio.Backend.ALSA)
    except OSError:
        pass  # the list of sound cards cannot be read: there is the server
    return results


class Helper:
    """One stream at a time."""

    def __init__(self, orders: BinaryIO, binary_io: BinaryIO) -> None:
        self._orders, self._told = orders, binary_io
        self._waiting: queue.SimpleQueue[tuple[int, str, int, bytes]] = queue.SimpleQueue()
        self._stop = threading.Event()

    def run(self) -> None:
        """Do what is ordered until the input ends."""
        threading.Thread(target=self._read, daemon=True).start()
        while True:
            serial, what, rate_hz, pcm = self._waiting.get()
            self._stop.clear()
            if what == STOP or not self._waiting.empty():
                self._tell(END, serial)  # something newer waits
                continue
            self._tell(TAKEN, serial)
            import miniaudio

            stream = self._play if what == PLAY else self._listen
            try:
                ending = stream(serial, rate_hz, pcm)
            except miniaudio.MiniaudioError as error:
                print(f"sound: {error}", file=sys.stderr, flush=True)
                ending = NO_DEVICE
            self._tell(END, serial, ending.encode())

    def _read(self) -> None:
        """Orders, as they come: a new one ends what is going on, even while the device hangs."""
        try:
            while line := self._orders.readline():
                order = json.loads(line)
                pcm = self._orders.read(order.get("bytes", 0))
                self._waiting.put((order["serial"], order["do"], order.get("rate_hz", 0), pcm))
                self._stop.set()
        finally:
            os._exit(0)  # whoever gave the orders is gone; a hanging device would hold us

    def _tell(self, kind: bytes, serial: int, payload: bytes = b"") -> None:
        self._told.write(FRAME.pack(kind, serial, len(payload)) + payload)
        self._told.flush()

    def _play(self, serial: int, rate_hz: int, pcm: bytes) -> str:
        import miniaudio

        feed = _Feed(pcm)
        device = miniaudio.PlaybackDevice(
            miniaudio.SampleFormat.SIGNED16, 1, rate_hz, OUTPUT_MS, backends=backends(),
            app_name="Kesselton",
        )  # fmt: skip
        with device:
            device.start(feed.started())
            seen, since, opened = 0, time.monotonic(), False
            while not self._stop.wait(POLL_S):
                now = time.monotonic()
                if feed.calls != seen:
                    seen, since = feed.calls, now
                    self._tell(MOVES if opened else OPENED, serial)
                    opened = True
                # what was handed over is heard once silence was asked for, or it has no more
                if feed.silences > 1 or (feed.over and now - since > DRAIN_S):
                    return ""
                if now - since > FIRST_S:
                    return LOST
        return ""

    def _listen(self, serial: int, rate_hz: int, pcm: bytes) -> str:
        import miniaudio

        arrived: deque[bytes] = deque()
        device = miniaudio.CaptureDevice(
            miniaudio.SampleFormat.SIGNED16, 1, rate_hz, INPUT_MS, callback_periods=2,
            backends=backends(), app_name="Kesselton",
        )  # fmt: skip
        with device:
            device.start(_taking(arrived))
            self._tell(OPENED, serial)
            since, limit = time.monotonic(), FIRST_S
            while not self._stop.wait(POLL_S):
                now = time.monotonic()
                if arrived:
                    since, limit = now, LOST_S
                    pieces = [arrived.popleft() for _ in range(len(arrived))]
                    self._tell(DATA, serial, b"".join(pieces))
                elif now - since > limit:
                    return LOST
        return ""


class _Feed:
    """Hands samples to the device piece by piece, then silence."""

    def __init__(self, pcm: bytes) -> None:
        self._pcm = memoryview(pcm)
        self.calls = 0
        self.silences = 0
        self.over = not pcm

    def started(self) -> Any:
        """The generator the device asks, run up to its first question."""
        result = self._pieces()
        next(result)
        return result

    def _pieces(self) -> Generator[bytes, int, None]:
        at = 0
        frames = yield b""
        while True:
            self.calls += 1
            piece = bytes(self._pcm[at : at + 2 * frames])
            at += len(piece)
            self.silences += self.over
            self.over = at >= len(self._pcm)
            frames = yield piece + bytes(2 * frames - len(piece))


def _taking(arrived: deque[bytes]) -> Any:
    def take() -> Generator[None, bytes, None]:
        while True:
            piece = yield
            arrived.append(bytes(piece))

    result = take()
    next(result)
    return result


if __name__ == "__main__":
    Helper(sys.stdin.buffer, sys.stdout.buffer).run()
