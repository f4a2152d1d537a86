"""What newer files say of a shell, older files do not, and what the shell prints of it."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace

import pytest

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.core.errors import InputError
from kesselton.core.instrument.shell import Beds
from kesselton.store.formats.drum_file import (
    drum_to_data,
    drum_to_text,
    read_drum,
    read_struck_drum,
)

DRUM = demo_workshop().entries[1].drum


def test_a_file_from_before_opens_with_the_usual_values_marked() -> None:
    data = drum_to_data(DRUM)
    for name in ("material", "mass_kg", "mount", "edge"):
        del data["shell"][name]
    old = read_drum(json.dumps(data))
    assert old == DRUM
    assert "shell.mass_kg" in old.shell.assumed


def test_what_is_said_of_the_shell_goes_out_and_back() -> None:
    said = replace(
        DRUM,
        shell=replace(DRUM.shell, material="brass", mass_kg=4.2, mount="hung", edge="rounded"),
    )
    assert read_drum(drum_to_text(said)) == said
    with pytest.raises(InputError, match="glass"):
        read_drum(drum_to_text(said).replace("brass", "glass"))


def test_a_stroke_in_a_drum_file_is_struck() -> None:
    data = drum_to_data(DRUM) | {"stroke": {"touch": "hard", "place": 0.7}}
    drum, stroke = read_struck_drum(json.dumps(data))
    assert drum == DRUM
    assert (stroke.beater, stroke.place, stroke.touch) == ("wood_tip", 0.7, 2.0)
    assert read_struck_drum(drum_to_text(DRUM))[1].touch == 1.0
    done = subprocess.run(
        [sys.executable, "-m", "kesselton", "predict", "-"],
        input=json.dumps(data), capture_output=True, text=True, check=True,
    )  # fmt: skip
    answer = json.loads(done.stdout)
    assert answer["stroke"] == {"beater": "wood_tip", "place": 0.7, "touch": "hard"}
    assert answer["assumed"] == list(DRUM.shell.assumed)
    assert {"level_db", "recoil_share"} <= set(answer["modes"][0])
    assert answer["modes"][0]["recoil_share"] > 0.0
    assert answer["fundamental_uncertainty_cents"] == answer["modes"][0]["uncertainty_cents"]
    bad = data | {"stroke": {"beater": "spoon"}}
    with pytest.raises(InputError, match="spoon"):
        read_struck_drum(json.dumps(bad))


def test_edges_beds_and_what_draws_it_go_out_and_back() -> None:
    beds = Beds(2.5, 0.0012, 0.08)
    shell = replace(DRUM.shell, wear="worn", drawn="through", lugs="tube", beds=beds, rods=8)
    said = replace(DRUM, shell=replace(shell, contact_radius_m=0.15))
    assert read_drum(drum_to_text(said)) == said
    assert said.shell.beds_at == (2.5, 6.5)
    with pytest.raises(InputError, match="bed at rod 9"):
        replace(said.shell, beds=Beds(9.2))
    with pytest.raises(InputError, match=r"0\.2"):
        read_drum(drum_to_text(said).replace("0.0012", "0.2"))
