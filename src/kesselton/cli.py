"""The same answers from the shell: JSON on standard output, one line and exit code 2 on a fault."""

from __future__ import annotations

import argparse
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from kesselton import __version__
from kesselton.core.errors import InputError, KesseltonError

if TYPE_CHECKING:
    from kesselton.core.drum import Drum


def main(argv: list[str] | None = None) -> int:
    """Entry point of `kesselton`."""
    # Small matrices all day long: threads in the linear algebra only get in each other's way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    args = sys.argv[1:] if argv is None else argv
    try:
        if args and args[0] in ("predict", "range"):
            return _answer(args)
        if args and args[0] == "install-desktop":
            from kesselton.app.desktop import install

            print(install())
            return 0
        return _window(args)
    except KesseltonError as error:
        print(error.one_line(), file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
        return 1


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError(f"{self.prog}: {message}.", f"See {self.prog} --help.")


def _answer(args: list[str]) -> int:
    parser = _Parser(prog=f"kesselton {args[0]}", description=__doc__)
    parser.add_argument("drum", help="a drum file, or - for standard input")
    drum = _read(parser.parse_args(args[1:]).drum)
    answer = predict_answer(drum) if args[0] == "predict" else range_answer(drum)
    print(json.dumps(answer, indent=1, ensure_ascii=False, allow_nan=False))
    return 0


def _read(name: str) -> Drum:
    from kesselton.store.exchange import load_drum, read_drum

    if name != "-":
        return load_drum(Path(name))
    try:
        return read_drum(sys.stdin.read(), "Standard input")
    except UnicodeDecodeError:
        raise InputError("Standard input is not text.", "Send a drum file.") from None


def predict_answer(drum: Drum) -> dict[str, Any]:
    """What `kesselton predict` prints (docs/formats.md)."""
    from kesselton.core.prediction import predict

    found = predict(drum)
    p = found.partials
    answer: dict[str, Any] = {"fundamental_hz": _round(found.fundamental_hz)}
    for index, side in enumerate(drum.sides):
        answer[side] = {
            "tension_n_per_m": _round(found.tensions_n_per_m[index]),
            "lug_pitch_hz": _round(found.lug_pitches_hz[index]),
        }
    if drum.resonant is None:
        answer["resonant"] = None
    answer["modes"] = [
        {
            "order": int(p.order[i]),
            "rank": int(p.rank[i]),
            "branch": str(p.branch[i]),
            "frequency_hz": _round(p.frequency_hz[i]),
            "t60_s": _round(p.t60_s[i]),
            "batter_share": _round(p.batter_share[i]),
            "uncertainty_cents": _round(found.uncertainty_cents[i]),
        }
        for i in range(len(p))
    ]
    return answer


def range_answer(drum: Drum) -> dict[str, Any]:
    """What `kesselton range` prints (docs/formats.md)."""
    from kesselton.core.usable import head_range

    answer: dict[str, Any] = {}
    for side in drum.sides:
        found = head_range(drum, side)
        answer[side] = {
            "lowest": {
                "tension_n_per_m": _round(found.lowest.tension_n_per_m),
                "lug_pitch_hz": _round(found.lowest_pitch_hz),
                "limit": found.lowest.name,
                "reason": found.lowest.reason,
            },
            "highest": {
                "tension_n_per_m": _round(found.highest.tension_n_per_m),
                "lug_pitch_hz": _round(found.highest_pitch_hz),
                "limit": found.highest.name,
                "reason": found.highest.reason,
            },
            "limits": [
                {
                    "limit": limit.name,
                    "side": "lower" if limit in found.lower else "upper",
                    "tension_n_per_m": _round(limit.tension_n_per_m),
                    "reason": limit.reason,
                }
                for limit in found.lower + found.upper
            ],
        }
    if drum.resonant is None:
        answer["resonant"] = None
    return answer


def _round(value: float) -> float:
    """Seven significant digits: more than any drum has, and stable to read."""
    return float(f"{value:.7g}")


def _window(args: list[str]) -> int:
    parser = _Parser(
        prog="kesselton",
        description="Compute what a drum will do. Commands: predict, range, demo, install-desktop.",
    )
    parser.add_argument("--version", action="version", version=f"kesselton {__version__}")
    parser.add_argument("workshop", nargs="?", help="a workshop file, or demo")
    parsed = parser.parse_args(args)
    from kesselton.ui.start import run

    return run(parsed.workshop)


if __name__ == "__main__":
    sys.exit(main())
