"""The bars of a drum's heads: each ends where the next begins, or where it broke."""

from __future__ import annotations

from dataclasses import replace

import pytest

from kesselton.app.workshop.usual_drums import usual_drum
from kesselton.core.instrument.kept import Kept
from kesselton.ui.log.time_line import HeadBar, head_bars

TOM = usual_drum("tom")
NAME = TOM.batter.head.name


def entry(day: int, event: str, side: str = "", drum=TOM) -> Kept:
    return Kept(f"2026-11-{day:02}T12:00", drum, event, side)


def test_a_head_that_broke_ends_there_and_none_lies_there_until_the_next() -> None:
    log = [
        entry(1, "fitted", "batter"), entry(5, "set"), entry(9, "broken", "batter"),
        entry(10, "set"), entry(12, "set"),
    ]  # fmt: skip
    assert head_bars(log, 0) == [HeadBar(0, 2, NAME, True), HeadBar(3, None, NAME, False)]
    assert head_bars(log, 1) == [HeadBar(0, None, TOM.setting("resonant").head.name, False)]


def test_another_of_the_same_kind_is_another_bar() -> None:
    log = [entry(1, "set"), entry(4, "fitted", "batter"), entry(6, "fitted", "resonant")]
    assert [(bar.first, bar.last) for bar in head_bars(log, 0)] == [(0, 1), (1, None)]
    assert [(bar.first, bar.last) for bar in head_bars(log, 1)] == [(0, 2), (2, None)]


@pytest.mark.parametrize("event", ["set", "retuned"])
def test_another_name_is_another_head_whatever_was_noted(event: str) -> None:
    named = TOM.with_setting(
        "batter", replace(TOM.batter, head=replace(TOM.batter.head, name="another"))
    )
    bars = head_bars([entry(1, "set"), entry(2, event, drum=named)], 0)
    assert [(bar.name, bar.first, bar.last) for bar in bars] == [(NAME, 0, 1), ("another", 1, None)]
