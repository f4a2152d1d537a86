"""What is said of one head against the other, beside what the tensions themselves say."""

from __future__ import annotations

import re

import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.prediction.prediction import predict
from kesselton.ui.tuning.readout import head_to_head_words

DRUMS = [e.drum for e in demo_workshop().entries if len(e.drum.sides) == 2 and not e.drum.one_pull]


@pytest.mark.parametrize("drum", DRUMS[:4], ids=lambda drum: drum.name)
def test_the_share_is_that_of_the_tensions(drum) -> None:
    found = predict(drum)
    batter, other = found.tensions_n_per_m
    text = str(head_to_head_words(drum, found))
    share = 100.0 * (max(batter, other) / min(batter, other) - 1.0)
    told = re.search(r"(\d+) % tighter", text)
    if told is None:
        assert share < 3.0, text
    else:
        assert float(told[1]) == pytest.approx(share, abs=0.6), text
