"""What follows from a log: each rule seen to speak and to be silent; lives against sampling."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
import pytest

from kesselton.app.workshop.log_entries import counted_down, nearest_cases
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.constants import SIDES
from kesselton.core.instrument.drum import Drum
from kesselton.core.instrument.kept import Kept, KeptLine
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.log.conclusions import Conclusion, conclusions
from kesselton.core.log.life import (
    FACTOR_90,
    SCATTER_LN,
    Outlook,
    lives,
    outlook,
    shows_a_day,
    usual_shows,
)
from kesselton.core.pitch import ratio_of
from kesselton.store.workshop.holdings import Entry, Shelved
from kesselton.store.workshop.log_index import Hit, hit_of
from kesselton.ui.log.conclusion_words import SENTENCES, conclusion_words

SHOP = demo_workshop()
TOM = SHOP.entries[1].drum
BEGAN = datetime(2026, 9, 1, 12, 0)


def at(day: float, cents: float = 0.0, apart: float = 300.0, **more: object) -> Kept:
    """An entry of the tom on a day, its batter head at G3 and so many cents."""
    hz = 196.0 * ratio_of(cents)
    when = (BEGAN + timedelta(days=day)).isoformat(timespec="minutes")
    made = Kept(when, TOM, lug_pitches_hz=(hz, hz * ratio_of(apart)))
    return replace(made, **more)  # type: ignore[arg-type]


def said(log: list[Kept], drum: Drum = TOM) -> str:
    return "\n".join(conclusion_words(one) for one in conclusions(log, drum))


def test_nothing_follows_from_nothing() -> None:
    assert conclusions([], TOM) == []
    assert conclusions([at(0.0)], TOM) == []


def test_the_first_days_drop_is_told_with_its_entries() -> None:
    log = [at(0, event="fitted"), at(1, -32.0, event="next_day"), at(9, event="fitted"),
           at(10, -28.0, event="next_day"), at(12)]  # fmt: skip
    found = conclusions(log, TOM)[0]
    assert "On the first day pitch drops 30 cents: tune it that much high" in conclusion_words(
        found
    )
    assert found.entries == tuple(one.on for one in log[:4])
    stays = [at(0, event="pressed"), at(1, -1.0, event="next_day")]
    again = [at(5, event="pressed"), at(6, 2.0, event="next_day")]
    assert "hold their pitch on the first day" in said([*stays, *again])
    assert "first day" not in said(stays)  # once is no rule
    assert "first day" not in said([at(0), at(1, -30.0, event="next_day")])  # nothing was fitted


def damp(share: float) -> Drum:
    return replace(TOM, air=replace(TOM.air, relative_humidity=share))


def test_what_damp_does_is_told_where_it_was_seen() -> None:
    log = [at(0, drum=damp(0.4)), at(3, -24.0, drum=damp(0.6), event="drifted"),
           at(6, 0.0, drum=damp(0.5)), at(8, 11.0, drum=damp(0.4), event="drifted")]  # fmt: skip
    assert "Per 10 % more humidity pitch falls about 12 cents" in said(log)
    assert "humidity" not in said(log[:2])


def test_what_each_player_and_room_ends_on() -> None:
    ring = (KeptLine(126.0, 2.0, 1.4, 0.0),)
    log = [
        at(0, player="first", heard_hz=126.0, lines=ring),
        at(1, player="first", apart=310.0, heard_hz=126.4, fits="right"),
        at(2, player="second", apart=702.0),
        at(3, player="second", apart=698.0),
        at(4, player="second", apart=0.0, fits="high"),  # not what was wanted
        at(5, player="third"),
    ]
    words = said(log)
    assert "first settles on a minor third and 5 cents, resonant higher (± 51 cents)" in words
    assert (
        "first settles on a minor third and 5 cents, resonant higher (± 51 cents), at 126.2 Hz,"
    ) in words
    assert "second settles on a fifth, resonant higher (± 31 cents)" in words
    assert "third ends on" not in words


def test_words_of_a_language_are_not_looked_for() -> None:
    """What was noticed is ticked; free words say nothing to the rules, in whatever language."""
    assert "bearing edge" not in said(
        [at(n, verdict="pitch wanders, dead, pits") for n in range(4)]
    )


def test_every_rule_has_its_sentences() -> None:
    both = {"sides": ("batter", "resonant"), "cents": 1.0, "times": 3, "days": 9}
    ends = {"name": "A", "apart": 310.0, "half": 5.0, "hz": None, "t60_s": None}
    said = {
        conclusion_words(Conclusion(code, (), values))
        for code, values in (
            ("early_pits", both),
            *(("early_pits", {"sides": (side,)}) for side in SIDES),
            *(("always_muffled", {"side": side}) for side in SIDES),
            *(("heads_differ", {"side": side, "cents": 20.0}) for side in SIDES),
            *((code, {"cents": 3.0}) for code in ("first_day_drops", "first_day_rises")),
            *((code, {"cents": 3.0}) for code in ("falls_by_damp", "rises_by_damp")),
            *((code, {}) for code in ("first_day_holds", "dead_when_low", "weak_low_end")),
            ("often_retuned", {"times": 3, "days": 9}),
            ("ends_on", ends),
            ("ends_on", ends | {"hz": 99.0}),
            ("ends_on", ends | {"t60_s": 1.0}),
            ("ends_on", ends | {"hz": 99.0, "t60_s": 1.0}),
        )
    }
    assert len(said) == len(SENTENCES)
    assert not any("{" in one or "None" in one for one in said)


def test_advice_from_what_was_noticed() -> None:
    pits = [at(0, event="fitted", side="batter"), at(5, shows=3.0, signs=("pits",))]
    assert "a tougher head" in said(pits)
    assert "a tougher head" not in said([pits[0], replace(pits[1], shows=60.0)])
    tape = replace(TOM, mufflers=(Muffler("tape", "batter"),))
    assert "always muffled" in said([at(n, drum=tape) for n in range(5)])
    assert "always muffled" not in said([at(n, drum=tape if n % 2 else TOM) for n in range(6)])
    low = [at(n, -300.0, signs=("dead",)) for n in range(2)]
    assert "a thinner head" in said([*low, at(5), at(6), at(7)])
    assert "bearing edge" in said([at(n, signs=("wanders",)) for n in range(2)])
    turned = [at(n, event="retuned") for n in (0, 9, 20)]
    assert "check edge, rods and hoop" in said(turned)
    assert "rods and hoop" not in said([at(n, event="retuned") for n in (0, 40, 90)])
    left_out = [replace(one, left_out=True) for one in turned]
    assert conclusions(left_out, TOM) == []


def test_two_heads_of_one_kind_that_differ_are_noted() -> None:
    def heard(day: float, off: float, **more: object) -> Kept:
        return at(day, computed_hz=126.0, heard_hz=126.0 * ratio_of(off), **more)

    log = [heard(0, 10.0, event="fitted", side="batter"), heard(2, 12.0),
           heard(9, -14.0, event="fitted", side="batter"), heard(11, -12.0)]  # fmt: skip
    assert "Two batter heads of the same kind differ by 24 cents on this drum:" in said(log)
    assert "differ by" not in said([replace(one, event="set", side="") for one in log])


# lives


def test_lives_are_told_from_what_was_fitted_broken_and_played() -> None:
    log = [
        at(0, event="fitted", side="batter", shows=9.0),  # played on the head before
        at(5, shows=4.0),
        at(9, hours=5.0),  # two shows
        at(12, event="broken", side="batter", shows=1.0),
        at(13, event="fitted", side="batter"),
        at(20, shows=3.0),
    ]
    batter = [one for one in lives(log, TOM) if one.side == "batter"]
    assert [(one.shows, one.over, one.broken, one.fitted) for one in batter] == [
        (7.0, True, True, True),
        (3.0, False, False, True),
    ]
    (below,) = (one for one in lives(log, TOM) if one.side == "resonant")
    assert not below.over
    assert not below.fitted
    assert shows_a_day(log) == pytest.approx((4 + 2 + 1 + 3) / 20.0)
    other = TOM.with_setting("batter", SHOP.entries[2].drum.batter)
    assert all(one.over for one in lives(log, other) if one.side == "batter")


def test_the_outlook_is_what_sampling_says() -> None:
    """Three million medians drawn from the prior; two lives that ended, a third at 12 shows."""
    log = [at(0, event="fitted", side="batter")]
    for day, shows in ((10, 18.0), (20, 24.0)):
        log += [at(day, event="broken", side="batter", shows=shows),
                at(day + 0.5, event="fitted", side="batter")]  # fmt: skip
    log.append(at(30, shows=12.0))
    found = outlook(TOM, "batter", lives(log, TOM))
    assert found is not None
    assert found.seen == 2
    rng = np.random.default_rng(8)
    middle = math.log(usual_shows(TOM, "batter", TOM.batter.head))
    medians = rng.normal(middle, math.log(FACTOR_90) / 1.645, 3_000_000)
    weight = np.ones(len(medians))
    for shows in (18.0, 24.0):
        weight *= np.exp(-0.5 * ((math.log(shows) - medians) / SCATTER_LN) ** 2)
    life = np.exp(medians + rng.normal(0.0, SCATTER_LN, len(medians)))
    weight *= life > 12.0
    order = np.argsort(life)
    share = np.cumsum(weight[order]) / weight.sum()
    wanted = [float(life[order][np.searchsorted(share, s)]) - 12.0 for s in (0.05, 0.5, 0.95)]
    assert [found.low, found.left, found.high] == pytest.approx(wanted, rel=0.06, abs=0.3)
    fresh = outlook(TOM, "batter", lives([at(0, event="fitted"), at(5, shows=1.0)], TOM))
    assert fresh is not None
    assert fresh.seen == 0
    assert fresh.left > found.left  # without the two that went early
    assert outlook(TOM, "batter", lives([at(0), at(5)], TOM)) is None  # no shows noted


def test_a_head_just_fitted_where_only_another_kind_was_played_has_the_usual_life() -> None:
    other = replace(TOM.batter.head, name="of another kind")
    changed = TOM.with_setting("batter", replace(TOM.batter, head=other))
    log = [
        at(0, event="fitted", side="batter"), at(5, shows=4.0),
        at(6, event="fitted", side="batter", drum=changed),
    ]  # fmt: skip
    found = outlook(changed, "batter", lives(log, changed))
    assert found is not None
    assert found.seen == 0
    assert found.left == pytest.approx(found.whole, rel=0.05)


def test_a_fitted_head_is_counted_down_in_store() -> None:
    def size(drum: Drum) -> float:
        return 12.0

    name = TOM.batter.head.name
    shop = SHOP.with_shelved(Shelved(name, 12.0, 2))
    fitted = at(0, event="fitted", side="batter")
    one = counted_down(shop, fitted, size)
    assert one.shelved(name, 12.0).stock == 1
    twice = counted_down(counted_down(one, fitted, size), fitted, size)
    assert twice.shelved(name, 12.0).stock == 0
    assert counted_down(shop, at(0), size) == shop


def test_the_nearest_case_is_of_the_note_and_was_right() -> None:
    entry = Entry(2, TOM, kept=(at(0, what_for="overture"),))
    right = case(5, 0, at(1, heard_hz=126.0, fits="right"))
    wrong = case(5, 1, at(2, heard_hz=126.0, fits="high"))
    far = case(2, 0, at(3, heard_hz=150.0, fits="right", what_for="overture"))
    found = nearest_cases([wrong, far, right], entry, 126.0)
    assert found == [right[0], wrong[0], far[0]]
    same = case(5, 2, at(4, heard_hz=126.0, fits="high", what_for="overture"))
    assert nearest_cases([wrong, same], entry, 126.0)[0] == same[0]


def case(drum: int, place: int, one: Kept) -> tuple[Hit, Kept]:
    return (hit_of(drum, place, one), one)


def test_a_head_that_gave_way_to_another_kind_might_have_lasted_longer() -> None:
    other = replace(TOM.batter.head, name="of another kind", plies_m=(0.0002, 0.0002))
    changed = TOM.with_setting("batter", replace(TOM.batter, head=other))

    def ended(last: dict[str, object]) -> Outlook:
        log = [
            at(0, event="fitted", side="batter"), at(20, shows=20.0),
            at(21, event="fitted", side="batter", **last), at(30, shows=2.0, **last),
            at(31, event="fitted", side="batter"), at(40, shows=10.0),
        ]  # fmt: skip
        found = outlook(TOM, "batter", lives(log, TOM))
        assert found is not None
        return found

    worn, chosen = ended({}), ended({"drum": changed})
    assert chosen.seen < worn.seen
    assert chosen.left > 1.2 * worn.left
