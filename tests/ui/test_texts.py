"""Every sentence is asked for whole: it can be translated, and its gaps are filled."""

from __future__ import annotations

import ast
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from string import Formatter

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "kesselton"
ASKED = {"_": 1, "N_": 1, "ngettext": 2, "pgettext": 2}
"""What asks for a message, and how many texts it is given."""
FILES = sorted(file for file in SOURCE.rglob("*.py") if file.name != "language.py")


def calls(tree: ast.AST) -> Iterator[ast.Call]:
    """Where messages are asked for."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ASKED:
            yield node


@pytest.mark.parametrize("file", FILES, ids=lambda file: str(file.relative_to(SOURCE)))
def test_messages_are_whole_sentences_with_their_gaps_filled(file: Path) -> None:
    tree = ast.parse(file.read_text())
    filled = {
        id(node.func.value): node
        for node in ast.walk(tree)
        if isinstance(node, ast.Call)
        and isinstance(node.func, ast.Attribute)
        and node.func.attr == "format"
    }
    for call in calls(tree):
        where = f"line {call.lineno}"
        for text in call.args[: ASKED[call.func.id]]:  # type: ignore[attr-defined]
            assert not isinstance(text, ast.JoinedStr | ast.BinOp), f"{where}: put together"
            if not isinstance(text, ast.Constant):
                continue  # a table's, marked where it stands
            if call.func.id == "N_" or id(call) not in filled:  # type: ignore[attr-defined]
                continue  # filled elsewhere, or there is nothing to fill in
            gaps = {gap for _, gap, _, _ in Formatter().parse(str(text.value)) if gap is not None}
            given = {keyword.arg for keyword in filled[id(call)].keywords}
            assert "" not in gaps, f"{where}: a gap without a name"
            assert None in given or gaps <= given, f"{where} wants {gaps - given}"


def test_no_name_hides_what_asks_for_messages() -> None:
    """`_` is nobody's leftover where messages are asked for by it."""
    for file in FILES:
        tree = ast.parse(file.read_text())
        if any(call.func.id == "_" for call in calls(tree)):  # type: ignore[attr-defined]
            hidden = [
                node.lineno
                for node in ast.walk(tree)
                if (
                    isinstance(node, ast.Name)
                    and node.id == "_"
                    and isinstance(node.ctx, ast.Store)
                )
                or (isinstance(node, ast.arg) and node.arg == "_")
            ]
            assert not hidden, f"{file.name}: {hidden}"


def test_a_gauge_that_would_read_less_than_nothing_is_below_its_scale() -> None:
    from kesselton.core.measure.plan import Need
    from kesselton.ui.parts.words.result_rows import _dial_words

    assert _dial_words(Need(-16.0, 3.0, "")) == "below scale"
    assert _dial_words(Need(71.4, 2.0, "")) == "71 ± 2"


def test_a_change_whose_sign_is_not_known_says_so() -> None:
    from kesselton.ui.parts.words.result_rows import drift_words

    assert drift_words(21.0, 48.0) == "either way, −27 to +69 cents"
    assert drift_words(-22.0, 11.0) == "22 cents flat ± 11"


@pytest.mark.timeout(600)
def test_nothing_is_left_in_english_in_a_language_nobody_speaks() -> None:
    """Every page of a drum of each kind, and every dialog."""
    done = subprocess.run(
        [sys.executable, "-m", "tests.ui.pseudo"],
        capture_output=True, text=True, check=False, cwd=Path(__file__).parents[2],
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr[-2000:]
