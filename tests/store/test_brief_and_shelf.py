from __future__ import annotations

import csv
import io
import json
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.workshop.head_stock import constructions, filtered, offers
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.cli import main
from kesselton.core.errors import InputError
from kesselton.core.heads.brief import DENSITIES, SCHOOLS, Brief, typical_brief
from kesselton.core.heads.buying import buy_list
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.head import Head
from kesselton.core.instrument.library import head_size_in, hide_size_in
from kesselton.core.instrument.muffler import MUFFLERS, Muffler
from kesselton.core.measure.areal_density import density_from_weight
from kesselton.store.exports.buy_file import buy_csv
from kesselton.store.formats.brief_file import load_order, read_order
from kesselton.store.formats.drum_file import drum_to_data, read_drum
from kesselton.store.workshop.holdings import Entry, Shelved, Workshop
from kesselton.store.workshop.rows import decoded, encoded
from kesselton.store.workshop.workshop import WorkshopFile
from kesselton.ui.parts.words.muffling_text import read_mufflers, write_mufflers

SNARE, TOM, _, BASS, CONCERT, FIELD = (entry.drum for entry in demo_workshop().entries[:6])

briefs = st.builds(
    lambda density, school, cents, hz, weight, beater: Brief(
        density=density,
        school=school,
        interval_cents=cents if school == "interval" else None,
        target="note" if hz else "feel",
        fundamental_hz=hz,
        beater=beater,
        weights={"ring": weight} if weight else {},
    ),
    st.sampled_from(list(DENSITIES)),
    st.sampled_from(list(SCHOOLS)),
    st.floats(-1200, 1200),
    st.one_of(st.none(), st.floats(20, 1000)),
    st.one_of(st.none(), st.floats(0.1, 5)),
    st.sampled_from(list(BEATERS)),
)


@given(briefs)
def test_a_brief_goes_out_and_comes_back(brief: Brief) -> None:
    assert decoded("brief", encoded("brief", brief)) == brief


mufflers = st.builds(
    Muffler,
    st.sampled_from(list(MUFFLERS)),
    st.sampled_from(["batter", "resonant"]),
    st.integers(0, 98).map(lambda p: p / 100.0),
    st.sampled_from([1.0, 1.5, 3.25, 6.75]),
)


@given(st.lists(mufflers, max_size=6))
def test_muffling_is_read_as_it_is_written(found: list[Muffler]) -> None:
    for side in ("batter", "resonant"):
        again = read_mufflers(write_mufflers(tuple(found), side), side)
        wanted = [m for m in found if m.side == side]
        assert [m.kind for m in again] == [m.kind for m in wanted]
        for one, other in zip(again, wanted, strict=True):
            if other.made.reach_m > 0.0:
                assert (one.rod, one.place) == (other.rod, other.place)


def test_the_workshop_keeps_brief_muffling_and_shelf(tmp_path: Path) -> None:
    drum = replace(TOM, mufflers=(Muffler("tape"), Muffler("pillow", "resonant", 0.4, 2.0)))
    first = Workshop("store", (Entry(1, drum, typical_brief(TOM)),))
    first = first.with_shelved(Shelved("single 10 mil, clear", 12.0, 2, True))
    with WorkshopFile.create(tmp_path / "w.kesselton", first) as file:
        assert file.load() == first
        second = replace(first, entries=(Entry(1, TOM, None),)).with_shelved(
            Shelved("single 10 mil, clear", 12.0)
        )
        file.write(first, second)
        assert file.load() == second
        assert second.shelf == ()


def order_text(**more: object) -> str:
    return json.dumps(
        {"format": "kesselton/brief", "version": 1, "drum": drum_to_data(TOM), **more}
    )


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("[]", "not a JSON object"),
        ("{", "not JSON: line 1"),
        ('{"format": "kesselton/brief", "version": 1}', "has no drum"),
        (order_text(version=2), "version"),
        (order_text(density="loud"), "sparse, medium, busy"),
        (order_text(colour="red"), "Unknown key"),
        (
            order_text(weights=[1]),
            "weights: The value that has the wrong type. Expected: object",
        ),
        (order_text(role=["versatile"]), "role: The value is that"),
        (
            order_text(heads={"sideways": []}),
            "heads.sideways: Unknown key 'sideways'. Options: batter, resonant",
        ),
        (order_text(heads={"batter": 3}), "Expected: array"),
        (
            order_text(heads={"batter": [{"plies_m": [0.0002]}]}),
            "heads.batter.0: The value 'name' is missing",
        ),
        (order_text(heads={"batter": [{"name": "empty"}]}), "has no mass"),
    ],
)
def test_bad_brief_files_say_where(text: str, complaint: str) -> None:
    with pytest.raises(InputError) as caught:
        read_order(text)
    assert complaint in caught.value.one_line()


def test_choose_prints_the_ranking(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    heads = {
        "batter": [
            {"name": "one", "plies_m": [0.000254]},
            {"name": "two", "plies_m": [0.0001778, 0.0001778]},
        ],
        "resonant": [{"name": "below", "plies_m": [0.000254]}],
    }
    file = tmp_path / "brief.json"
    file.write_text(order_text(target="note", fundamental_hz=120.0, school="unison", heads=heads))
    assert load_order(file).brief.fundamental_hz == 120.0
    assert main(["choose", str(file), "--top", "1"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert (answer["tried"], answer["possible"], len(answer["candidates"])) == (2, 2, 1)
    best = answer["candidates"][0]
    assert best["fundamental_hz"] == pytest.approx(120.0, rel=1e-3)
    assert best["batter"]["lug_pitch_hz"] == pytest.approx(best["resonant"]["lug_pitch_hz"])
    weight = sum(reason["weight"] for reason in best["reasons"])
    score = sum(reason["weight"] * reason["score"] for reason in best["reasons"]) / weight
    assert score == pytest.approx(best["score"], rel=1e-5)
    assert {reason["source"] for reason in best["reasons"]} == {"computed", "common practice"}
    file.write_text(order_text(target="note", fundamental_hz=800.0, heads=heads))
    assert main(["choose", str(file)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["candidates"] == []
    assert answer["nearest"]["brief"]["fundamental_hz"] < 800.0
    assert main(["choose", str(tmp_path / "none.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_a_drum_file_with_muffling_and_new_heads() -> None:
    data = drum_to_data(replace(TOM, mufflers=(Muffler("gel"),)))
    data["batter"]["head"] |= {
        "plies_m": [0.0002, 0.0002], "interlayer": "fluid", "edge_vents": 8,
        "edge_vent_diameter_m": 0.002,
    }  # fmt: skip
    drum = read_drum(json.dumps(data))
    assert drum.mufflers == (Muffler("gel"),)
    assert drum.batter.head.interlayer == "fluid"
    data["mufflers"] = [{"kind": "blanket"}]
    with pytest.raises(InputError, match="blanket"):
        read_drum(json.dumps(data))
    data["mufflers"] = []
    data["batter"]["head"]["plies_m"] = [0.0002]
    with pytest.raises(InputError, match="one ply"):
        read_drum(json.dumps(data))


def test_every_construction_can_be_made_and_suits_some_drum() -> None:
    names = [c.name for c in constructions()]
    assert len(set(names)) == len(names) >= 25
    for construction in constructions():
        assert any(
            construction.suits(drum, side)
            for drum in (SNARE, TOM, BASS, CONCERT, FIELD)
            for side in drum.sides
        )
        for radius in (0.127, 0.178, 0.28):
            construction.made_for(radius).check_fits(radius)


def test_offers_are_searched_and_filtered() -> None:
    workshop = replace(demo_workshop(), shelf=())
    every = offers(TOM, workshop, "batter")
    assert not any(offer.own for offer in every)  # shipped heads are not offered twice
    own = Head("our film", plies_m=(0.0003,))
    workshop = replace(workshop, library=(*workshop.library, own))
    assert [o.head for o in offers(TOM, workshop, "batter") if o.own] == [own]
    assert all("two-ply" in o.head.name for o in filtered(every, "two-ply clear", "all"))
    assert {o.head.material for o in filtered(every, "", "film")} == {"polyester_film"}
    assert filtered(every, "", "stock") == []
    noted = workshop.with_shelved(Shelved("single 10 mil, clear", 12.0, 1, True))
    stocked = filtered(offers(TOM, noted, "batter"), "", "stock")
    assert [o.head.name for o in stocked] == ["single 10 mil, clear"]
    thin = Head("thin", plies_m=(5e-5,))
    noted = replace(noted, library=(thin,))
    assert thin not in [o.head for o in offers(SNARE, noted, "batter")]
    assert thin in [o.head for o in offers(SNARE, noted, "resonant")]


def test_sizes_and_hides() -> None:
    """A 14 in drum takes an 18 in hide (common practice, no published source)."""
    assert head_size_in(SNARE) == 14.0
    assert hide_size_in(SNARE) == 18.0
    assert head_size_in(CONCERT) == 32.0


def test_the_buy_list_joins_equal_heads_and_writes_csv() -> None:
    lines = buy_list([TOM, TOM, FIELD], lambda name, size: 1)
    clear = next(line for line in lines if line.what == "single 10 mil, clear")
    assert (clear.needed, clear.stock, clear.buy) == (2, 1, 1)
    rows = list(csv.DictReader(io.StringIO(buy_csv(lines))))
    assert len(rows) == len(lines)
    assert buy_list([], lambda name, size: 0) == []


def test_weighing() -> None:
    """10 mil film weighs 0.353 kg/m2 (1390 kg/m3, data sheets, from memory): 26 g at 12 in."""
    mass = 0.353 * 0.0729659
    assert density_from_weight(mass + 0.07, 0.3048, 0.07) == pytest.approx(0.353, rel=1e-4)
    for values in ((0.05, 0.3048, 0.06), (0.9, 0.3048, 0.0), (0.001, 0.3, 0.0)):
        with pytest.raises(InputError):
            density_from_weight(*values)
