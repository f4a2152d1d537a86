"""The shell's material, mass, mount and edge, and the air, on the screen."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from kesselton.core.instrument.drum import Drum
from kesselton.ui.window.main_window import MainWindow
from tests.ui.conftest import Wait, settled
from tests.ui.tuning.test_bench import type_into


def _choose(box: object, label: str) -> None:
    index = box.findText(label)  # type: ignore[attr-defined]
    assert index >= 0
    box.setCurrentIndex(index)  # type: ignore[attr-defined]
    box.activated.emit(index)  # type: ignore[attr-defined]


def test_what_the_shell_is_made_of_is_asked_for_and_guesses_are_marked(
    window: MainWindow, wait: Wait
) -> None:
    window.tuning.choose_part("shell")
    form, readout = window.tuning.forms.shell, window.tuning.readout
    settled(window, wait)
    wait(lambda: "Assumed:" in readout.assumed.text())
    assert form.material.caption.text().endswith("(assumed)")
    assert form.mass.line.placeholderText() == "about 4.0 kg"
    before = window.result.prediction  # type: ignore[union-attr]
    type_into(form.mass, "8.8 lb")
    _choose(form.material.box, "brass")
    _choose(form.mount.box, "suspended")
    _choose(form.edge.box, "sharp")
    settled(window, wait)
    drum = window.document.drum
    assert drum is not None
    assert drum.shell.material == "brass"
    assert abs((drum.shell.mass_kg or 0.0) - 3.99) < 0.01
    wait(lambda: not readout.assumed.isVisibleTo(readout))
    after = window.result.prediction  # type: ignore[union-attr]
    first = before.partials.fundamental
    assert after.uncertainty_cents[first] < before.uncertainty_cents[first]
    assert after.fundamental_hz > before.fundamental_hz  # hung free it recoils more
    _choose(form.material.box, "plywood, typical")
    assert window.document.drum.shell.material is None  # type: ignore[union-attr]
    form.mass.line.clear()
    QTest.keyClick(form.mass.line, Qt.Key.Key_Return)
    assert window.document.drum.shell.mass_kg is None  # type: ignore[union-attr]
    type_into(form.mass, "a lot")
    assert form.mass.line.text() == "a lot"
    assert window.document.drum.shell.mass_kg is None  # type: ignore[union-attr]


def test_damp_stands_beside_temperature_at_the_bench_and_on_stage(
    window: MainWindow, wait: Wait
) -> None:
    settled(window, wait)
    type_into(window.topbar.temperature, "22 °C, 65 %")
    drums = [entry.drum for entry in window.document.workshop.entries]
    assert all(d.air.relative_humidity == 0.65 for d in drums)
    assert all(d.air.temperature_c == 22.0 for d in drums)
    type_into(window.topbar.temperature, "20")
    assert window.document.drum.air.relative_humidity == 0.65  # type: ignore[union-attr]
    type_into(window.topbar.on_stage, "14, 30")
    assert (window.settings.stage_c, window.settings.stage_rh) == (14.0, 0.3)
    wait(lambda: window.plan is not None)
    assert window.plan.drifts[0].label == "6 °C colder, 35 % less humid"  # type: ignore[union-attr]
    type_into(window.topbar.on_stage, "damp")
    assert window.topbar.on_stage.line.text() == "damp"
    assert window.settings.stage_rh == 0.3


def test_the_glide_of_a_stroke_and_its_level_stand_beside_the_note(
    window: MainWindow, wait: Wait
) -> None:
    settled(window, wait)

    def text() -> str:
        return " ".join(" ".join(row) for row in window.tuning.readout.table())

    wait(lambda: "dB SPL" in text())
    assert "cents sharp" in text() or "no audible glide" in text()
    QTest.qWait(1)


def test_a_guess_is_written_with_a_question_mark_and_widens(window: MainWindow, wait: Wait) -> None:
    """An inch of depth moves the fundamental by 15 to 26 cents, ply of one head by 10 to 40 (as
    handed over): where they were guessed the interval must say so."""
    settled(window, wait)

    def half() -> float:
        settled(window, wait)
        found = window.result.prediction  # type: ignore[union-attr]
        return float(found.uncertainty_cents[found.partials.fundamental])

    window.tuning.choose_part("shell")
    depth, plies = window.tuning.forms.shell.shell_depth, window.tuning.forms.batter.plies
    known = half()
    type_into(depth, "5 1/2 ?")
    assert window.document.drum.guessed == ("depth",)  # type: ignore[union-attr]
    guessed = half()
    assert 8.0 < (guessed**2 - known**2) ** 0.5 < 45.0
    assert depth.line.text().endswith("?")
    window.tuning.choose_part("batter")
    type_into(plies, "10 mil?")
    assert window.document.drum.guessed == ("batter_plies", "depth")  # type: ignore[union-attr]
    assert half() > guessed
    wait(lambda: "batter plies" in window.tuning.readout.assumed.text())
    type_into(plies, "10 mil")
    assert window.document.drum.guessed == ("depth",)  # type: ignore[union-attr]


def test_a_hoop_that_cannot_be_is_said_and_the_list_goes_back(window: MainWindow) -> None:
    """The ring of this head reaches further out than the contact circle under a roped hoop."""
    window.document.select(4)
    drum = window.document.drum
    assert drum is not None
    window.commands.part_wanted.emit("shell")
    box = window.tuning.forms.shell.hoop.box
    place = box.findText("wood, rope")
    box.setCurrentIndex(place)
    box.activated.emit(place)
    assert window.document.drum == drum
    assert "past the bearing edge" in window.message.text.text()
    assert box.currentIndex() != place


def test_edge_circle_beds_and_draw_are_entered_and_reach_range_and_interval(
    window: MainWindow, wait: Wait
) -> None:
    from kesselton.core.instrument.shell import Beds
    from kesselton.core.measure.rods import give_of
    from kesselton.core.prediction.usable import tension_limits

    window.tuning.choose_part("shell")
    form = window.tuning.forms.shell
    settled(window, wait)

    def drum() -> Drum:
        assert window.document.drum is not None
        return window.document.drum

    sound = tension_limits(drum().batter.head, drum().shell, "snare", "batter").lowest
    doubt = drum().shell.radius_doubt_m
    _choose(form.wear.box, "worn, small dents")
    assert drum().shell.radius_doubt_m > doubt
    worn = tension_limits(drum().batter.head, drum().shell, "snare", "batter").lowest
    assert worn.tension_n_per_m > 1.1 * sound.tension_n_per_m
    assert form.contact.line.placeholderText().startswith("about")
    type_into(form.contact, "352 mm")
    assert drum().shell.contact_radius_m == pytest.approx(0.176)
    form.contact.line.clear()
    QTest.keyClick(form.contact.line, Qt.Key.Key_Return)
    assert drum().shell.contact_radius_m is None
    assert form.beds.isVisibleTo(form)
    type_into(form.beds, "2.5, 1.2 mm deep, 8 cm wide")
    assert drum().shell.beds == Beds(2.5, 0.0012, 0.08)
    assert form.beds.line.text() == "rod 2.5, 1.2 mm deep, 80 mm wide"
    type_into(form.beds, "somewhere")
    assert "somewhere" in form.beds.fault.text()
    soft = give_of(drum()).lug_n_per_m
    _choose(form.lugs.box, "tube lugs, both heads")
    assert give_of(drum()).lug_n_per_m > soft
    settled(window, wait)
    window.document.select(2)
    settled(window, wait)
    assert not form.beds.isVisibleTo(form)


def test_one_pull_on_the_screen(window: MainWindow, wait: Wait) -> None:
    """A grip draws the other head along; chips draw by hand within friction; the note cannot be
    held, and an interval is not on offer."""
    window.document.select(6)
    settled(window, wait)
    bar = window.tuning.schools
    assert list(bar.buttons) == ["equal pull", "batter tighter", "resonant tighter"]
    assert not bar.hold.isEnabled()
    assert not bar.others.isVisibleTo(bar)

    def pulls() -> tuple[float, ...]:
        settled(window, wait)
        assert window.result is not None
        return window.result.prediction.tensions_n_per_m

    assert pulls()[0] == pytest.approx(pulls()[1], rel=1e-3)
    window.bench.set_pitch("resonant", 120.0, "pitch")
    assert pulls()[0] == pytest.approx(pulls()[1], rel=1e-3)
    assert window.document.drum is not None
    assert window.document.drum.resonant is not None
    QTest.mouseClick(bar.buttons["resonant tighter"], Qt.MouseButton.LeftButton)
    assert pulls()[1] / pulls()[0] == pytest.approx(1.12, rel=2e-3)
    window.tuning.choose_part("batter")
    type_into(window.tuning.forms.batter.pitch, "130 Hz")
    assert pulls()[1] / pulls()[0] == pytest.approx(1.12, rel=2e-3)
    window.document.undo()
    window.document.undo()
    assert pulls()[0] == pytest.approx(pulls()[1], rel=1e-3)
    assert any("one pull" in " ".join(row) for row in window.tuning.readout.table())


def test_pitches_no_rope_could_hold_are_said(window: MainWindow, wait: Wait) -> None:
    """A file from before, or from elsewhere, may have them."""
    window.document.select(6)
    settled(window, wait)
    drum = window.document.drum
    assert drum is not None
    assert drum.resonant is not None
    strange = drum.with_setting("resonant", drum.resonant.at_pitch(175.0))
    window.document.replace_drum("from a file", strange)  # past the bench, as a file comes
    settled(window, wait)
    said = [" ".join(row) for row in window.tuning.readout.table()]
    assert any("read both heads again" in text for text in said)
    QTest.mouseClick(window.tuning.schools.buttons["equal pull"], Qt.MouseButton.LeftButton)
    settled(window, wait)
    assert window.result is not None
    pulls = window.result.prediction.tensions_n_per_m
    assert pulls[0] == pytest.approx(pulls[1], rel=1e-3)
