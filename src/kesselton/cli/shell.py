"""What all answers from the shell have in common."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, NoReturn

from kesselton.core.errors import InputError


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
        raise InputError(f"{self.prog}: {message}.", f"See {self.prog} --help.")


def print_json(answer: dict[str, Any]) -> None:
    """The answer on standard output."""
    print(json.dumps(answer, indent=1, ensure_ascii=False, allow_nan=False))


def standard_input(wanted: str) -> str:
    """Text from standard input; `wanted` names it if it is none."""
    try:
        return sys.stdin.read()
    except UnicodeDecodeError:
        raise InputError("Standard input is not text.", f"Send {wanted}.") from None


def rounded(value: float) -> float:
    """Seven significant digits: more than any drum has, and stable to read."""
    return float(f"{value:.7g}")
