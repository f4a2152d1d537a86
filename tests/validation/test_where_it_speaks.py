"""Two bands: what can be borne, and where a drum speaks. Common practice, no published source."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from kesselton.app.workshop.head_stock import constructions
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.acoustics.solver.lug import lug_pitch, tension_from_pitch, tensions
from kesselton.core.acoustics.solver.partials import partials
from kesselton.core.constants import METRE_PER_INCH as INCH
from kesselton.core.instrument.beater import Stroke
from kesselton.core.instrument.drum import Drum, HeadSetting
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.shell import Shell
from kesselton.core.prediction.glide import glide_cents
from kesselton.core.prediction.port_flow import fall
from kesselton.core.prediction.prediction import predict
from kesselton.core.prediction.speaks import Shares, Speaking, outlasting, speaking
from kesselton.core.prediction.usable import head_range


def head(name: str, radius_m: float) -> Head:
    return next(c for c in constructions() if c.name == name).made_for(radius_m)


def drum(
    kind: str, inches: float, depth: float, rods: int, hoop: str, top: str, bottom: str, up: float
) -> Drum:
    """The resonant head `up` cents over the batter at 1500 N/m."""
    shell = Shell(inches * INCH, depth * INCH, rods, hoop)
    above = HeadSetting(head(top, shell.radius_m), 1500.0)
    below = HeadSetting(head(bottom, shell.radius_m), 1500.0)
    made = Drum("drum", kind, shell, above, below)
    hz = lug_pitch(made, "batter", (1500.0, 1500.0)) * 2.0 ** (up / 1200.0)
    return made.with_setting("resonant", below.at_tension(tension_from_pitch(made, "resonant", hz)))


TEN, CLEAR = "single 10 mil, coated", "single 10 mil, clear"
TOM12 = drum("tom", 12, 8, 6, "flanged_1_6mm", TEN, CLEAR, 100.0)
TOM16 = drum("tom", 16, 16, 8, "flanged_1_6mm", TEN, CLEAR, 100.0)
BASS22 = drum("bass", 22, 16, 10, "wood", CLEAR, CLEAR, 100.0)
SNARE14 = drum("snare", 14, 5.5, 8, "flanged_2_3mm", TEN, "snare side 3 mil", 500.0)


def band(of: Drum, shares: Shares | None = None) -> tuple[float, float]:
    found = speaking(of, tensions(of), shares=shares)
    assert found.low is not None
    assert found.high is not None
    return found.low.fundamental_hz, found.high.fundamental_hz


def wide(ends: tuple[float, float]) -> float:
    return 1200.0 * math.log2(ends[1] / ends[0])


def test_bands_lie_where_practice_tunes() -> None:
    """12 in toms at 110 to 165 Hz, 16 in at 65 to 100, 22 in bass drums at 40 to 60: both ends
    within three half steps."""
    for of, low, high in ((TOM12, 110, 165), (TOM16, 65, 100), (BASS22, 40, 60)):
        found = band(of)
        assert abs(1200.0 * math.log2(found[0] / low)) < 300.0, (of.shell.head_diameter_m, found)
        assert abs(1200.0 * math.log2(found[1] / high)) < 300.0, (of.shell.head_diameter_m, found)


def test_the_snare_is_widest_and_toms_are_far_narrower_than_what_they_bear() -> None:
    widths = [wide(band(of)) for of in (SNARE14, TOM12, TOM16, BASS22)]
    assert widths[0] > 1.5 * max(widths[1:])
    assert all(500.0 < width < 1050.0 for width in widths[1:])
    borne = head_range(TOM12, "batter")
    assert 1200.0 * math.log2(borne.highest_pitch_hz / borne.lowest_pitch_hz) > 2.0 * widths[1]


def test_the_ends_are_where_the_tests_fail() -> None:
    found = speaking(TOM12, tensions(TOM12), Stroke())
    assert found.low is not None
    assert found.high is not None
    assert (found.low.label, found.high.label) == ("glide", "overtones too long")
    for end, above in ((found.low, False), (found.high, True)):
        pair = tuple(
            tension_from_pitch(TOM12, side, hz)
            for side, hz in zip(TOM12.sides, end.lug_pitches_hz, strict=True)
        )
        solved = partials(TOM12, pair, lowest=4)
        assert solved.frequency_hz[solved.fundamental] == pytest.approx(
            end.fundamental_hz, rel=1e-3
        )
        if above:
            limits = [head_range(TOM12, side, stroke=Stroke()) for side in TOM12.sides]
            x = max(
                math.log(of.lowest.tension_n_per_m / tension)
                for of, tension in zip(limits, tensions(TOM12), strict=True)
            )
            slack = tuple(tension * math.exp(x) for tension in tensions(TOM12))
            lead = outlasting(partials(TOM12, slack, lowest=4))
            assert outlasting(solved) == pytest.approx(0.8 * lead, abs=0.01)
        else:
            start = glide_cents(solved, Stroke())[solved.fundamental]
            assert float(start) == pytest.approx(60.0, rel=0.05)


def test_a_harder_touch_and_a_stricter_ear_narrow_the_band() -> None:
    pair = tensions(TOM12)
    soft, hard = (speaking(TOM12, pair, Stroke(touch=touch)) for touch in (0.5, 2.0))
    assert soft.low is not None
    assert hard.low is not None
    assert soft.low.fundamental_hz < 0.9 * hard.low.fundamental_hz
    usual, strict = band(TOM12), band(TOM12, Shares(outlasts=1.03, glide=0.85))
    assert strict[0] > usual[0]
    assert strict[1] < usual[1]


def test_a_drum_that_speaks_nowhere_says_why() -> None:
    found: Speaking = speaking(TOM12, tensions(TOM12), Stroke(), Shares(outlasts=1.25, glide=0.3))
    assert found.low is None
    assert "lead over the overtones" in found.never
    apart = TOM12.with_setting("resonant", replace(TOM12.batter).at_tension(30.0))
    assert "no tension suits both heads at this interval" in speaking(apart, (9000.0, 30.0)).never


def test_a_ringed_bass_drum_ends_where_no_boom_is_left() -> None:
    """Rings take the overtones, so that the note outlasts them as far as heads bear; but high up it
    is over at once. Bass drums: between wrinkles and boom (common practice)."""
    ringed = next(entry.drum for entry in demo_workshop().entries if entry.drum.kind == "bass")
    low, high = band(ringed)
    assert 35.0 < low < 50.0
    assert 60.0 < high < 85.0
    found = speaking(ringed, tensions(ringed))
    assert found.high is not None
    assert found.high.label == "choked"


def test_snare_sides_are_tuned_to_440_every_day() -> None:
    """3 mil at 440 Hz on 14 in: permitted, with what it costs; today's slope, not a wall."""
    snare = demo_workshop().entries[0].drum
    found = head_range(snare, "resonant")
    assert found.highest_pitch_hz > 440.0
    assert tension_from_pitch(snare, "resonant", 440.0) > found.keeps_to.tension_n_per_m * 0.8
    assert found.highest.name == "film_stress"


def test_a_port_takes_more_from_a_strong_swing_than_from_a_weak_one() -> None:
    """The closed form against the same equation stepped in time, and the direction of practice."""
    decay, flow = np.array([3.0]), np.array([5.0])
    y, step = 1.0, 1e-4
    for _ in range(5000):
        y += step * (-3.0 * y - 5.0 * y * y)
    assert float(fall(decay, flow, np.array([0.5]))[0, 0]) == pytest.approx(y, rel=2e-3)
    port = head("single 10 mil, coated, port", BASS22.shell.radius_m)
    ported = BASS22.with_setting("resonant", replace(BASS22.resonant, head=port))

    def shorter(of: Drum, touch: float) -> float:
        found = predict(of, Stroke(0.1, "pedal_felt", touch))
        first = found.partials.fundamental
        return float(found.struck_t60_s[first] / found.partials.t60_s[first])

    assert shorter(BASS22, 3.5) == pytest.approx(1.0)
    soft, hard = shorter(ported, 0.25), shorter(ported, 3.5)
    assert hard < soft <= 1.0
