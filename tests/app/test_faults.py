"""A job that fails, however it fails, ends what waits for it and says why."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from kesselton.app.host.jobs import Answer, Latest
from kesselton.app.prediction.chooser import Chooser
from kesselton.core.errors import KesseltonError
from kesselton.core.heads import choose
from kesselton.core.heads.brief import typical_brief
from kesselton.core.instrument.head import Head
from tests.conftest import SINGLE, make_drum

Wait = Callable[..., None]


def fails() -> None:
    raise IndexError("index 7 is out of bounds")


def test_an_error_nobody_expected_is_a_failure_too(
    qapp: object, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    raised: list[BaseException] = []
    monkeypatch.setattr("sys.excepthook", lambda kind, error, trace: raised.append(error))
    told: list[KesseltonError] = []
    jobs = Latest(lambda key, result: None, lambda key, error: told.append(error))
    jobs.request("a", fails)
    wait(lambda: bool(told))
    assert "program error (IndexError)" in told[0].message
    jobs.stop()
    answer: Answer[None] = Answer(lambda: None, told.append)
    answer.ask("drum", "key", fails)
    wait(lambda: len(told) == 2)
    assert answer.settled is None
    answer.ask("drum", "key", fails)  # it may be asked again
    wait(lambda: len(told) == 3)
    answer.stop()
    assert [type(error) for error in raised] == [IndexError] * 3


def test_a_search_for_heads_that_dies_ends_its_bar(
    qapp: object, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sys.excepthook", lambda kind, error, trace: None)
    monkeypatch.setattr(choose, "choose", lambda *args: fails())
    chooser, told = Chooser(), list[KesseltonError]()
    chooser.failed.connect(told.append)
    drum = make_drum()
    chooser.start(drum, typical_brief(drum), [SINGLE], [Head("r", plies_m=(1e-4,))])
    wait(lambda: bool(told))
    assert not chooser.running
    chooser.stop()
