"""A workshop that is opened again is the one that was closed, whatever was done to it."""

from __future__ import annotations

import sqlite3
import tempfile
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from kesselton.app.workshop.document import Document
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.clear.clearing_records import at_rod
from kesselton.core.fit.fitting import Fitting
from kesselton.core.heads.brief import typical_brief
from kesselton.core.instrument.drum import Drum, LugPitch
from kesselton.core.instrument.gauge import Dial, DialPair, Inspected, TorqueKey
from kesselton.core.instrument.head import Addition, Head
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.reading import Reading
from kesselton.store.workshop.holdings import Shelved, Workshop
from kesselton.store.workshop.workshop import WorkshopFile

HEADS = (
    Head("one", plies_m=(254e-6,)),
    Head("two", plies_m=(178e-6, 178e-6), additions=(Addition("dot", 0.0, 0.04, 254e-6),)),
    Head("two", plies_m=(178e-6, 190e-6), additions=(Addition("ring", 0.09, 0.1, 254e-6),)),
    Head("weighed", areal_density_kg_per_m2=0.41),
    Head("vented", plies_m=(178e-6, 178e-6), interlayer="fluid", edge_vents=8,
         edge_vent_diameter_m=0.002, port_diameter_m=0.02, coating_kg_per_m2=0.04),
    Head("hide", material="calf_skin", plies_m=(4e-4,)),
)  # fmt: skip
SIDES = ("batter", "resonant")
Edit = Callable[[Document], None]


def on_drum(change: Callable[[Drum], Drum]) -> Edit:
    def edit(document: Document) -> None:
        if document.drum is not None:
            document.replace_drum("edit", change(document.drum))

    return edit


def on_entry(**values: object) -> Edit:
    return lambda document: document.change_entry("edit", **values) if document.entry else None


def on_workshop(change: Callable[[Workshop], Workshop]) -> Edit:
    return lambda document: document.commit("edit", change(document.workshop))


def set_head(side: str, head: Head, hz: float | None) -> Edit:
    def change(drum: Drum) -> Drum:
        if side not in drum.sides:
            return drum
        reading = LugPitch(hz, "free", "free") if hz else None
        tension = None if hz else 1500.0
        setting = replace(drum.setting(side), head=head, tension_n_per_m=tension, reading=reading)
        return drum.with_setting(side, setting)

    return on_drum(change)


def removed(document: Document) -> None:
    if document.drum is not None:
        document.remove_drum()


def cleared(side: str, hz: float, ended: bool) -> Edit:
    def edit(document: Document) -> None:
        if document.entry is None:
            return
        now = document.entry.clearing(side).with_tap(at_rod("lug_pitch", 2, hz, 3.0))
        if ended:
            now = now.turned((0.125,) * document.entry.drum.shell.rods)
        document.change_entry("edit", clearings=document.entry.with_clearing(now))

    return edit


numbers = st.integers(1, 9)
edits: st.SearchStrategy[Edit] = st.one_of(
    st.builds(set_head, st.sampled_from(SIDES), st.sampled_from(HEADS), st.none() | st.just(180.0)),
    numbers.map(lambda n: on_drum(lambda d: replace(d, name=f"drum {n}"))),
    numbers.map(lambda n: on_drum(lambda d: replace(d, shell=replace(d.shell, depth_m=n / 20)))),
    numbers.map(lambda n: on_drum(lambda d: replace(d, air=replace(d.air, temperature_c=2.0 * n)))),
    numbers.map(
        lambda n: on_drum(lambda d: replace(d, mufflers=(Muffler("gel", "batter", n / 10, 1.5),)))
    ),
    st.just(on_drum(lambda d: replace(d.with_setting("resonant", None), mufflers=()))),
    st.just(
        on_drum(lambda d: d if d.resonant else d.with_setting("resonant", replace(d.batter)))
    ),
    numbers.map(
        lambda n: on_entry(readings=tuple(Reading("turns", r / 8, hz=90.0 + r) for r in range(n)))
    ),
    numbers.map(lambda n: on_entry(inspected=Inspected((0.3, 0.3 + n / 1e4), (1e-4,), None, 0.31))),
    numbers.map(
        lambda n: on_entry(fittings=(Fitting("batter", done=tuple("abcdefghi"[:n]), notes=(("a", "b"),)),))
    ),
    st.builds(cleared, st.sampled_from(SIDES), st.floats(100, 300), st.booleans()),
    st.just(
        lambda document: (
            document.change_entry("edit", brief=typical_brief(document.drum)) if document.drum else None
        )
    ),
    numbers.map(
        lambda n: on_workshop(lambda w: replace(w, dials=(Dial("d", (DialPair(n, 900.0, 2e-4),)),)))
    ),
    numbers.map(lambda n: on_workshop(lambda w: replace(w, keys=(TorqueKey("k", most_nm=n),)))),
    numbers.map(lambda n: on_workshop(lambda w: w.with_shelved(Shelved("one", 12.0, n % 3, n > 5)))),
    numbers.map(lambda n: on_workshop(lambda w: replace(w, name=f"store {n}"))),
    st.sets(st.sampled_from(HEADS)).map(
        lambda found: on_workshop(lambda w: replace(w, library=tuple(sorted(found, key=repr))))
    ),
    st.just(removed),
    numbers.map(lambda n: lambda document: document.add_drum("add", DEMO.entries[n % 6].drum)),
    st.sampled_from((-1, 1)).map(
        lambda by: lambda document: document.move_drum(by) if document.drum else None
    ),
    numbers.map(lambda n: lambda document: document.select(n)),
    st.just(Document.undo),
    st.just(Document.redo),
)  # fmt: skip
DEMO = demo_workshop()
START = replace(DEMO, entries=DEMO.entries[:3])


@given(st.lists(st.lists(edits, max_size=8), min_size=2, max_size=4))
def test_reopened_it_is_the_same(sessions: list[list[Edit]]) -> None:
    """Every session opens the file anew: what only a fresh file can do would fail in the second."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "w.kesselton"
        WorkshopFile.create(path, START).close()
        expected = START
        for session in sessions:
            document = Document(WorkshopFile.open(path))
            failures: list[object] = []
            document.save_failed.connect(failures.append)
            assert document.workshop == expected
            for edit in session:
                edit(document)
                assert failures == []
            expected = document.workshop
            document.close()
        with WorkshopFile.open(path) as file:
            assert file.load() == expected
        with closing(sqlite3.connect(path)) as db:
            assert db.execute("PRAGMA foreign_key_check").fetchall() == []
