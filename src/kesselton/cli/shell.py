"""What all answers from the shell have in common."""

from __future__ import annotations

import argparse
import contextlib
import io
import json
import logging
import os
import sys
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import _

if TYPE_CHECKING:
    from kesselton.core.arrays import FloatArray


@dataclass(frozen=True)
class Command:
    """A word after `kesselton`: what it does, what it takes, and the doing."""

    name: str
    help: str
    arguments: Callable[[argparse.ArgumentParser], None]
    run: Callable[[argparse.Namespace], int | None]


class Parser(argparse.ArgumentParser):
    """Says what is wrong in one line, like everything else."""

    def error(self, message: str) -> NoReturn:
        raise InputError(f"{self.prog}: {message}.", _("See {prog} --help.").format(prog=self.prog))


def print_json(answer: dict[str, Any]) -> None:
    """The answer on standard output, in letters it knows.

    Raises
    ------
    InputError
        If it cannot be written there.
    """
    text = json.dumps(answer, indent=1, ensure_ascii=False, allow_nan=False)
    print_text(text + "\n", json.dumps(answer, indent=1, allow_nan=False) + "\n")


def refusal(error: KesseltonError, words: str) -> dict[str, str]:
    """Why something was left out: a code that stays, and what a technician is told."""
    return {"code": error.code, "message": words}


def print_text(text: str, plain: str = "") -> None:
    """Text on standard output; `plain` where that does not know its letters.

    Raises
    ------
    InputError
        If it cannot be written there.
    """
    if sys.stdout is None:
        raise InputError(_("Standard output is closed."), _("Redirect it to a file or a terminal."))
    try:
        text.encode(sys.stdout.encoding or "ascii")
    except UnicodeEncodeError:
        text = plain or text.encode("ascii", "backslashreplace").decode()
    try:
        print(text, end="", flush=True)
    except BrokenPipeError:
        raise
    except OSError as error:
        silence_output()
        raise InputError(
            _("Standard output cannot be written: {strerror}.").format(strerror=error.strerror),
            _("Redirect it elsewhere."),
        ) from None


def silence_output() -> None:
    """What is still to be written goes nowhere: Python would complain once more when it ends."""
    with contextlib.suppress(OSError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)


def alone_on_error() -> None:
    """What packages have to say of numbers, and what is logged, does not reach standard error: that
    has one line, ours."""
    warnings.simplefilter("ignore")
    logging.getLogger().addHandler(logging.NullHandler())


def say(text: str) -> None:
    """One line on standard error, where there is one."""
    text = " ".join(text.split())
    if sys.stderr is not None:
        with contextlib.suppress(OSError, ValueError):
            print(text, file=sys.stderr, flush=True)


def standard_bytes(wanted: str, most: int) -> bytes:
    """What comes on standard input, no more than can be meant; `wanted` names it.

    Raises
    ------
    InputError
        If it is closed, or brings more.
    """
    if sys.stdin is None:
        raise InputError(
            _("Standard input is closed."),
            _("Pipe in {wanted}, or give a file name.").format(wanted=wanted),
        )
    try:
        data = sys.stdin.buffer.read(most + 1)
    except OSError as error:
        raise InputError(
            _("Standard input cannot be read: {strerror}.").format(strerror=error.strerror),
            _("Pipe in {wanted}.").format(wanted=wanted),
        ) from None
    if len(data) > most:
        raise InputError(
            _("Standard input is too large for {wanted}.").format(wanted=wanted),
            _("Pipe in {wanted}.").format(wanted=wanted),
        )
    return data


def standard_input(wanted: str) -> str:
    """Text from standard input; `wanted` names it if it is none.

    Raises
    ------
    InputError
        If it is closed, too large, or no text.
    """
    from kesselton.store.formats.drum_file import MAX_BYTES

    try:
        return standard_bytes(wanted, MAX_BYTES).decode()
    except UnicodeDecodeError:
        raise InputError(
            _("Standard input is not text."), _("Send {wanted}.").format(wanted=wanted)
        ) from None


def sound_of(name: str) -> tuple[FloatArray, float]:
    """Samples and rate of a sound file, or (-) of standard input.

    Raises
    ------
    InputError
        If it is none.
    """
    from kesselton.store.exports.sound_file import MOST_BYTES, read_sound

    if name == "-":
        return read_sound(io.BytesIO(standard_bytes(_("a WAV or FLAC file"), MOST_BYTES)))
    return read_sound(Path(name))


def rounded(value: float) -> float:
    """Seven significant digits: more than any drum has, and stable to read."""
    return float(f"{value:.7g}")
