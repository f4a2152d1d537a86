"""The bench without a window: what it hands out belongs to the drum that stands on it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from kesselton.app.bench import measuring
from kesselton.app.bench.bench import Bench, Strike
from kesselton.app.host.settings import SettingsStore
from kesselton.app.workshop.document import Document
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import KesseltonError
from kesselton.core.heads.apart import cents
from kesselton.core.instrument.beater import BEATERS, TYPICAL_BEATER
from kesselton.store.workshop.workshop import WorkshopFile

Wait = Callable[..., None]


@pytest.fixture
def bench(tmp_path: Path, qapp: object) -> Iterator[Bench]:
    file = WorkshopFile.create(tmp_path / "w.kesselton", demo_workshop())
    made = Bench(Document(file), SettingsStore())
    made.refresh()
    yield made
    made.stop()
    made.document.close()


def test_nothing_of_one_drum_is_handed_out_for_another(bench: Bench, wait: Wait) -> None:
    """Changing to and fro while answers are under way, at moments of all kinds."""
    seen: list[bool] = []

    def look(*_: object) -> None:
        for found in (bench.result, bench.settled, bench.plan):
            seen.append(found is None or found.drum_id == bench.document.current_id)
        if bench.plan is not None:
            seen.append(bench.plan.drum == bench.drum)

    for signal in (bench.changed, bench.answered, bench.planned):
        signal.connect(look)
    for number, until in enumerate(
        (lambda: bench.plan, lambda: bench.result, lambda: True, lambda: bench.settled) * 3
    ):
        bench.document.select(1 + number % 4)
        look()
        wait(lambda until=until: bool(until()))  # type: ignore[misc]
    wait(lambda: bench.plan is not None)
    assert len(seen) > 30
    assert all(seen)


def test_a_changed_drum_has_no_plan_until_it_is_worked_out(bench: Bench, wait: Wait) -> None:
    wait(lambda: bench.plan is not None)
    assert bench.drum is not None
    before = bench.plan
    bench.set_pitch("batter", 250.0, "Lug pitch")
    assert bench.plan is None
    assert bench.settled is None
    assert bench.result is not None  # what was, so that the picture does not go blank
    wait(lambda: bench.plan is not None)
    assert bench.plan is not before


def test_a_drum_struck_otherwise_is_not_settled_until_that_is_worked_out(
    bench: Bench, wait: Wait
) -> None:
    wait(lambda: bench.settled is not None)
    before = bench.settled
    assert before is not None
    levels = before.prediction.levels_db
    bench.set_strike(Strike(place=0.9))
    assert bench.settled is None
    wait(lambda: bench.settled is not None)
    after = bench.settled
    assert after is not None
    assert after.drum == before.drum
    assert after.prediction.levels_db.tolist() != levels.tolist()


def test_a_plan_that_cannot_be_made_says_so(
    bench: Bench, wait: Wait, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: object) -> None:
        raise KesseltonError("No plan today.", "Try another.")

    told: list[tuple[str, str]] = []
    bench.failed.connect(lambda error, topic: told.append((error.message, topic)))
    monkeypatch.setattr(measuring, "plan", fails)
    bench.document.select(2)
    wait(lambda: bool(told))
    assert told[0] == ("No plan today.", "plan")
    assert bench.plan is None
    assert bench.settled is not None


def test_a_held_grip_commits_nothing(bench: Bench, wait: Wait) -> None:
    wait(lambda: bench.settled is not None)
    drum, answers = bench.drum, []
    bench.answered.connect(answers.append)
    bench.preview_pitch("batter", 300.0, 2000.0)
    wait(lambda: bool(answers))
    assert answers[-1].prediction.lug_pitches_hz[0] == pytest.approx(300.0)
    assert bench.drum == drum
    assert bench.document.undo_text == ""
    bench.refresh()
    wait(lambda: bench.settled is not None)
    assert bench.result is not None
    assert bench.result.drum == drum


def test_the_drum_keeps_its_pitch_while_one_head_moves(bench: Bench, wait: Wait) -> None:
    note = bench.pitch_hz()
    bench.keep_pitch = True
    first = bench.drum
    bench.set_pitch("batter", 280.0, "Lug pitch")
    wait(lambda: bench.drum != first)  # set once it is worked out
    assert bench.pitch_hz() == pytest.approx(note, rel=1e-4)
    bench.set_apart(cents(0.0), "interval")
    assert bench.pitch_hz() == pytest.approx(note, rel=1e-4)
    refused: list[KesseltonError] = []
    bench.refused.connect(refused.append)
    before = bench.drum
    bench.set_pitch("batter", 1900.0, "Lug pitch")
    wait(lambda: len(refused) == 1)
    assert bench.drum == before


def test_what_comes_while_a_held_note_is_worked_out_finds_it_set(bench: Bench, wait: Wait) -> None:
    """Nothing is lost where hands are quicker than the computation."""
    wait(lambda: bench.settled is not None)
    note = bench.pitch_hz()
    bench.keep_pitch = True
    for hz in (266.0, 270.0, 274.0):
        bench.set_pitch("batter", hz, "Lug pitch")  # none is waited for
    bench.finish_hold()
    assert bench.drum is not None
    assert bench.drum.batter.reading is not None
    assert bench.drum.batter.reading.hz == 274.0
    assert bench.pitch_hz() == pytest.approx(note, rel=1e-4)
    for _ in range(3):
        assert bench.document.undo_text == "Lug pitch"
        bench.document.undo()
    assert bench.document.undo_text == ""


def test_there_is_one_table_of_beaters() -> None:
    """Each kind of drum has a typical one that fits it; a chosen one counts where it fits."""
    for entry in demo_workshop().entries:
        drum = entry.drum
        assert drum.kind in BEATERS[TYPICAL_BEATER[drum.kind]].kinds
        assert Strike().beater_on(drum) == TYPICAL_BEATER[drum.kind]
        assert Strike(beater="mallet").on(drum, 1.0).beater == Strike(beater="mallet").beater_on(
            drum
        )
    assert Strike(beater="pedal_hard").beater_on(demo_workshop().entries[0].drum) == "wood_tip"
