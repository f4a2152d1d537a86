"""An odd head size is asked about, and taken."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from kesselton.ui.tuning.shell_form import size_question
from kesselton.ui.window.main_window import MainWindow


@pytest.mark.parametrize(("inches", "whole"), [(23.75, 24), (22.25, 22), (13.6, 14)])
def test_a_size_no_head_is_sold_in_is_asked_about(inches: float, whole: int) -> None:
    assert f"A {whole} in head?" in size_question(inches * 0.0254)


@pytest.mark.parametrize("inches", [10.0, 14.0, 22.0, 36.0, 14.05])
def test_sizes_heads_are_sold_in_are_not(inches: float) -> None:
    assert size_question(inches * 0.0254) == ""


def test_the_question_stands_at_the_field(window: MainWindow, wait: Callable[..., None]) -> None:
    window.choose_page("tuning")
    window.tuning.choose_part("shell")
    field = window.tuning.forms.shell.diameter
    assert not field.remark.isVisible()
    field.line.setFocus()
    field.line.setText("13 3/4 in")
    field.line.editingFinished.emit()
    wait(lambda: window.bench.settled is not None)
    assert field.remark.isVisible()
    assert "14 in head" in field.remark.text()
