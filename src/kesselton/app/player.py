"""Plays a stroke where there is something to play it on; where there is not, says so."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QObject, Signal

if TYPE_CHECKING:
    from kesselton.core.prediction.render import Sound

NO_DEVICE = "no loudspeaker found: save the sound as a file instead"


class Player(QObject):
    """One sound at a time through the system's own output.

    Signals
    -------
    state_changed(str) : what it does now, in words; "" when it is quiet
    """

    state_changed = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._sink: Any = None
        self._buffer: QBuffer | None = None
        self._bytes = QByteArray()

    @property
    def device_name(self) -> str:
        """Name of the output, "" if there is none."""
        device = self._device()
        return "" if device is None else str(device.description())

    def _device(self) -> Any:
        try:
            from PySide6.QtMultimedia import QMediaDevices
        except ImportError:  # a system without the sound libraries
            return None
        device = QMediaDevices.defaultAudioOutput()
        return None if device.isNull() else device

    def play(self, sound: Sound, name: str) -> bool:
        """Play a sound from its start; False if there is nothing to play it on."""
        self.stop()
        device = self._device()
        if device is None:
            self.state_changed.emit(NO_DEVICE)
            return False
        import numpy as np
        from PySide6.QtMultimedia import QAudio, QAudioFormat, QAudioSink

        assert QAudio is not None  # known before stateChanged is connected, or Qt would not find it
        wanted = QAudioFormat()
        wanted.setSampleRate(sound.rate_hz)
        wanted.setChannelCount(1)
        wanted.setSampleFormat(QAudioFormat.SampleFormat.Int16)
        if not device.isFormatSupported(wanted):
            self.state_changed.emit(f"{device.description()} does not take this sound")
            return False
        whole = np.round(sound.samples * 32767.0).astype("<i2")
        self._bytes = QByteArray(whole.tobytes())
        self._buffer = QBuffer(self._bytes, self)
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self._sink = QAudioSink(device, wanted, self)
        self._sink.stateChanged.connect(self._on_state)
        self._sink.start(self._buffer)
        self.state_changed.emit(f"playing {name}")
        return True

    def stop(self) -> None:
        """Be quiet."""
        if self._sink is not None:
            sink, self._sink = self._sink, None
            sink.stateChanged.disconnect(self._on_state)
            sink.stop()
            sink.deleteLater()
        if self._buffer is not None:
            self._buffer.close()
            self._buffer.deleteLater()
            self._buffer = None
        self.state_changed.emit("")

    def _on_state(self, state: Any) -> None:
        from PySide6.QtMultimedia import QAudio

        if state == QAudio.State.IdleState:
            self.stop()
        elif state == QAudio.State.StoppedState and self._sink is not None:
            self.state_changed.emit("the sound output stopped answering")
