"""Sound as WAV or FLAC."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.prediction.render import Sound
from kesselton.store.whole_file import write_file

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray

LONGEST_S = 600.0
FORMATS = {".wav": ("WAV", "PCM_24"), ".flac": ("FLAC", "PCM_24")}


def read_sound(path: Path | BytesIO) -> tuple[FloatArray, float]:
    """Samples (N, channels) from -1 to 1 and their rate, of a WAV or FLAC file.

    Raises
    ------
    InputError
        If it is damaged, too long, or no sound at all.
    """
    import soundfile

    name = path.name if isinstance(path, Path) else "Standard input"
    try:
        with soundfile.SoundFile(path) as file:
            seconds = file.frames / file.samplerate
            if seconds > LONGEST_S:
                raise InputError(
                    f"{name} is {seconds / 60.0:.0f} minutes long.",
                    f"Permitted: up to {LONGEST_S / 60.0:.0f} minutes; cut out the taps.",
                )
            samples = file.read(dtype="float64", always_2d=True)
            return samples, float(file.samplerate)
    except (OSError, soundfile.LibsndfileError, ValueError) as error:
        raise InputError(
            f"{name} cannot be read as sound: {error}.", "Save it again as WAV or FLAC."
        ) from None


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
            f"{path.name} ends neither in .wav nor in .flac.", "Give it one of these endings."
        )
    whole = BytesIO()
    soundfile.write(whole, sound.samples, sound.rate_hz, kind[1], format=kind[0])
    write_file(path, whole.getvalue())
