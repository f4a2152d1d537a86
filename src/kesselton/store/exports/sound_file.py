"""Sound as WAV or FLAC."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import _
from kesselton.core.prediction.render import Sound
from kesselton.store.io.atomic_file import write_file
from kesselton.store.io.bounded_reader import open_to_read

if TYPE_CHECKING:
    import soundfile

    from kesselton.core.arrays import FloatArray

MOST_FRAMES = 15_000_000
"""Five minutes of the usual 48,000 a second."""
MOST_BYTES = 100_000_000
BLOCK_FRAMES = 65_536
LOWEST_RATE_HZ, HIGHEST_RATE_HZ, MOST_CHANNELS = 8_000, 192_000, 8
FORMATS = {".wav": ("WAV", "PCM_24"), ".flac": ("FLAC", "PCM_24")}


def read_sound(path: Path | BytesIO) -> tuple[FloatArray, float]:
    """Samples (N,) from -1 to 1, the mean of all channels, and their rate, of a WAV or FLAC file.

    Raises
    ------
    InputError
        If it is damaged, too long, or no sound at all.
    """
    import soundfile

    name = path.name if isinstance(path, Path) else _("Standard input")
    try:
        # by its content: a file called .raw would be believed to be samples and nothing else
        with open_to_read(path) if isinstance(path, Path) else path as stream:
            if isinstance(path, Path) and not stream.seekable():
                raise InputError(
                    _("{name} is not a file.").format(name=name), _("Save it as WAV or FLAC.")
                )
            with soundfile.SoundFile(stream) as file:
                return _mono(file, name)
    except OSError as error:
        raise InputError(
            _("{name} cannot be read: {value}.").format(name=name, value=error.strerror or error),
            _("Check the file."),
        ) from None
    except (soundfile.LibsndfileError, ValueError, TypeError, RuntimeError):
        raise InputError(
            _("{name} cannot be read as sound: it is damaged or another format.").format(name=name),
            _("Save it again as WAV or FLAC."),
        ) from None


def _mono(file: soundfile.SoundFile, name: str) -> tuple[FloatArray, float]:
    """The mean of all channels, read in blocks: what a small file unpacks to may be gigabytes.

    Raises
    ------
    InputError
        If it is longer, or of more channels, than a round of taps can be.
    """
    import numpy as np

    rate, frames = file.samplerate, file.frames
    if not LOWEST_RATE_HZ <= rate <= HIGHEST_RATE_HZ:
        raise InputError(
            _("{name} has a sample rate of {rate} Hz.").format(name=name, rate=rate),
            _("Use {lowest_rate_hz} to {highest_rate_hz}.").format(
                lowest_rate_hz=LOWEST_RATE_HZ, highest_rate_hz=HIGHEST_RATE_HZ
            ),
        )
    if file.channels > MOST_CHANNELS:
        raise InputError(
            _("{name} has {channels} channels.").format(name=name, channels=file.channels),
            _("Use up to {most_channels}.").format(most_channels=MOST_CHANNELS),
        )
    if frames > MOST_FRAMES:
        raise InputError(
            _("{name} is {rate:.0f} minutes long.").format(name=name, rate=frames / rate / 60.0),
            _("Use up to {rate:.0f} minutes: trim it.").format(rate=MOST_FRAMES / rate / 60.0),
        )
    parts, count = [np.zeros(0)], 0
    for block in file.blocks(BLOCK_FRAMES, dtype="float64", always_2d=True):
        parts.append(block.mean(axis=1))
        count += len(block)
        if count > MOST_FRAMES:  # the header may lie
            raise InputError(
                _("{name} is longer than its header states.").format(name=name),
                _("Save it again as WAV or FLAC."),
            )
    return np.concatenate(parts), float(rate)


def write_sound(path: Path, sound: Sound) -> None:
    """Write a sound, whole or not at all; the ending decides the format.

    Raises
    ------
    KesseltonError
        If the ending is not known or the place cannot be written.
    """
    import soundfile

    kind = FORMATS.get(path.suffix.lower())
    if kind is None:
        raise KesseltonError(
            _("{name} ends neither in .wav nor in .flac.").format(name=path.name),
            _("Use one of these extensions."),
        )
    whole = BytesIO()
    soundfile.write(whole, sound.samples, sound.rate_hz, kind[1], format=kind[0])
    write_file(path, whole.getvalue())
