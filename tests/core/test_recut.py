"""What a proper edge buys: nothing where the edge is sound, more ring and a lower end where worn.

Directions are common practice, no published source.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from kesselton.app.workshop.usual_drums import usual_drum
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.recut import recut, wants_recut

TOM = usual_drum("tom")


def test_a_sound_edge_wants_no_cut() -> None:
    assert not wants_recut(TOM.shell)
    assert recut(TOM, predict(TOM)) is None


@pytest.mark.parametrize("wear", ["worn", "damaged"])
def test_a_worn_edge_rings_longer_and_speaks_lower_once_it_is_cut(wear: str) -> None:
    drum = replace(TOM, shell=replace(TOM.shell, wear=wear))
    now = predict(drum)
    then = recut(drum, now)
    assert then is not None
    assert then.ring_s > 1.02 * float(now.struck_t60_s[now.partials.fundamental])
    whole = predict(TOM)  # the same drum, whose edge was never worn
    assert then.fundamental_hz == pytest.approx(whole.fundamental_hz, rel=1e-3)
    assert then.ring_s == pytest.approx(
        float(whole.struck_t60_s[whole.partials.fundamental]), rel=2e-2
    )


def test_a_contact_circle_that_is_too_large_wants_a_cut() -> None:
    shell = replace(TOM.shell, contact_radius_m=TOM.shell.radius_m + 0.002)
    assert wants_recut(shell)
    assert not wants_recut(replace(TOM.shell, contact_radius_m=TOM.shell.radius_m + 0.0003))
