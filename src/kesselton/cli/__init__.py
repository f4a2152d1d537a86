"""The same answers from the shell: JSON on standard output, one line and exit code 2 on a fault."""

from __future__ import annotations

import argparse
import logging
import os
import sys
from contextlib import nullcontext
from pathlib import Path
from typing import NoReturn

from kesselton import __version__
from kesselton.app.host.locale_choice import speak
from kesselton.cli.shell import Command, Parser, alone_on_error, say, silence_output
from kesselton.core.acoustics.solver.work import at_most
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.language import _

SUFFIX = ".kesselton"
OF_ONE_DRUM = ("predict", "range", "even", "hear")
"""Commands that answer at once, or say why not."""


def program() -> NoReturn:
    """Entry point of `kesselton`. A program that had windows has saved all it had when the last of
    them closed: it ends without waiting for what its threads still work out."""
    code = main()
    if "kesselton.ui.window.start" in sys.modules:
        logging.shutdown()
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)
    sys.exit(code)


def main(argv: list[str] | None = None) -> int:
    """What `kesselton` does; the code to end with."""
    # Small matrices all day long: threads in the linear algebra only get in each other's way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    args = sys.argv[1:] if argv is None else argv
    speak()
    try:
        if not args or _is_workshop(args[0]):
            return _window(args[0] if args else None, args[1:])
        commands = _commands()
        if not args[0].startswith("-") and args[0] not in commands:
            raise InputError(
                _("{args!r} is neither a command nor a workshop file.").format(args=args[0]),
                _("Commands: {commands}. See kesselton --help.").format(
                    commands=", ".join(commands)
                ),
            )
        given = _parser(commands).parse_args(args)
        if given.command != "demo":
            alone_on_error()
        with at_most() if given.command in OF_ONE_DRUM else nullcontext():
            code: int | None = given.run(given)
        return code or 0
    except KesseltonError as error:
        say(error.one_line())
        return 2
    except BrokenPipeError:
        silence_output()
        return 1
    except MemoryError:
        say(_("Not enough memory. Close other programs, or request less."))
        return 2
    except Exception as error:  # whatever it is, it is said in a line
        if os.environ.get("KESSELTON_TRACE"):
            raise
        words = " ".join(str(error).split())[:200]
        say(
            _(
                "Program error ({name}: {words}). Please report it; KESSELTON_TRACE=1 shows where."
            ).format(name=type(error).__name__, words=words)
        )
        return 3


def _is_workshop(word: str) -> bool:
    """True for what is meant as a file to open, whether it exists or not."""
    return not word.startswith("-") and (word.endswith(SUFFIX) or Path(word).is_file())


def _commands() -> dict[str, Command]:
    """By name, in the order they are listed."""
    from kesselton.cli.clear import COMMANDS as CLEAR
    from kesselton.cli.drum import COMMANDS as DRUM
    from kesselton.cli.hear import COMMANDS as HEAR
    from kesselton.cli.log import COMMANDS as LOG
    from kesselton.cli.sets import COMMANDS as SETS

    own = (
        Command("demo", _("open the demo workshop"), _nothing, lambda given: _demo()),
        Command(
            "install-desktop", _("add Kesselton to this user's menu"), _nothing,
            lambda given: _install(),
        ),
    )  # fmt: skip
    return {command.name: command for command in (*own, *DRUM, *CLEAR, *HEAR, *LOG, *SETS)}


def _parser(commands: dict[str, Command]) -> Parser:
    parser = Parser(
        prog="kesselton",
        description=(
            _(
                "Compute how a drum will sound. Without a command, opens the "
                "window, with FILE{suffix} if given."
            ).format(suffix=SUFFIX)
        ),
        usage=f"kesselton [FILE{SUFFIX} | COMMAND …]",
    )
    parser.add_argument("--version", action="version", version=f"kesselton {__version__}")
    words = parser.add_subparsers(
        title="commands", metavar="COMMAND", required=True, prog="kesselton"
    )
    for command in commands.values():
        command_parser = words.add_parser(
            command.name, help=_(command.help), description=f"{_(command.help)}."
        )
        command.arguments(command_parser)
        command_parser.set_defaults(run=command.run, command=command.name)
    return parser


def _nothing(parser: argparse.ArgumentParser) -> None:
    """A command without arguments."""


def _demo() -> int:
    from kesselton.ui.window.start import run

    return run("demo")


def _install() -> int:
    from kesselton.app.host.desktop import install

    print(install())
    return 0


def _window(workshop: str | None, rest: list[str]) -> int:
    if rest:
        raise InputError(
            _("Unexpected argument after the workshop file: {rest!r}.").format(rest=rest[0]),
            _("Give one file only."),
        )
    from kesselton.ui.window.start import run

    return run(workshop)


if __name__ == "__main__":
    program()
