"""What a program may hold on to: codes of errors and reasons, in every language the same."""

from __future__ import annotations

import gettext

import numpy as np
import pytest

from kesselton.core import errors, language
from kesselton.core.clear.taps.tap import hear_all
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.hearing.strokes import hear_strokes
from kesselton.core.sets.search.reasons import MOVES, STATES, Reason, reason_words, reasons_words
from kesselton.store.io import errors as store_errors

CODES = [*STATES, *dict.fromkeys(code for code, _up in MOVES), "interval", "off_shell"]


class Elsewhere(gettext.NullTranslations):
    """A language in which everything is bracketed."""

    def gettext(self, message: str) -> str:
        return f"[{message}]"


@pytest.fixture
def elsewhere():
    before = language._catalogs[0]
    yield lambda: language.use(Elsewhere())
    language.use(before)


def test_every_kind_of_error_has_a_code_of_its_own():
    kinds = {
        kind
        for module in (errors, store_errors)
        for kind in vars(module).values()
        if isinstance(kind, type) and issubclass(kind, KesseltonError)
    }
    assert len({kind.code for kind in kinds}) == len(kinds) > 8


def test_a_sound_refused_is_refused_by_the_same_code_in_every_language(elsewhere):
    silence, told = np.zeros(48_000), []
    for hear in (hear_all, hear_strokes):
        with pytest.raises(InputError) as refused:
            hear(silence, 48_000)
        told.append(refused.value)
    elsewhere()
    with pytest.raises(InputError) as again:
        hear_all(silence, 48_000)
    assert [error.code for error in told] == [again.value.code] * 2 == ["silent"] * 2
    assert again.value.message == f"[{told[0].message}]"


@pytest.mark.parametrize("code", CODES)
def test_each_reason_of_a_plan_is_worded_by_its_code(code, elsewhere):
    up, down = (reason_words(Reason(code, cents)) for cents in (210.0, -210.0))
    assert (up == down) == (code in STATES or code == "off_shell"), (up, down)
    elsewhere()
    assert "[" in reason_words(Reason(code, 210.0))


def test_what_is_done_to_both_heads_is_one_reason():
    moved = (Reason("batter_moved", 30.0), Reason("in_sweet_spot"), Reason("resonant_moved", -20.0))
    assert reasons_words(moved) == [
        "batter 30 cents up and resonant 20 cents down",
        "in sweet spot",
    ]
