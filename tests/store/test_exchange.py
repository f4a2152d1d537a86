from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from jsonschema import Draft202012Validator

from kesselton.app.workshop.workshops import demo_workshop
from kesselton.cli import main
from kesselton.core.errors import InputError, KesseltonError
from kesselton.core.prediction.prediction import predict
from kesselton.store.exports.sound_file import read_sound
from kesselton.store.formats.drum_file import (
    drum_to_data,
    drum_to_text,
    load_drum,
    read_drum,
    save_drum,
)
from kesselton.store.formats.models import FILES, DrumFile, ReadingsFile, schema_of
from kesselton.store.formats.readings_file import read_readings, readings_to_text
from kesselton.store.io import bounded_reader
from tests.conftest import make_drum

ROOT = Path(__file__).resolve().parents[2]
# the example of the contract, to the letter
EXAMPLE = """{"format": "kesselton/drum", "version": 1, "name": "rack tom", "kind": "tom",
 "shell": {"head_diameter_m": 0.3048, "contact_radius_m": null, "depth_m": 0.2032, "rods": 6,
           "hoop": "flanged_1_6mm", "shell_note_hz": null, "vent_diameter_m": 0.0},
 "air": {"temperature_c": 20.0, "relative_humidity": 0.5, "pressure_pa": 101325},
 "batter":   {"head": {"name": "single 10", "material": "polyester_film", "plies_m": [0.000254],
                       "areal_density_kg_per_m2": null, "coating_kg_per_m2": 0.0,
                       "additions": [{"kind": "dot", "inner_radius_m": 0.0, "outer_radius_m": 0.05, "thickness_m": 0.000254}]},
              "tension_n_per_m": 1200.0},
 "resonant": {"head": {"name": "single 10", "material": "polyester_film", "plies_m": [0.000254]}, "lug_pitch_hz": 220.0}}"""


def test_the_example_and_back() -> None:
    drum = read_drum(EXAMPLE)
    assert drum.shell.radius_m == pytest.approx(0.1524 - 0.0015)  # by the usual edge
    assert drum.resonant is not None
    assert drum.resonant.reading is not None
    assert drum.resonant.reading.other_head == "muted"
    assert read_drum(drum_to_text(drum)) == drum


def test_every_demo_drum_goes_out_and_back(tmp_path: Path) -> None:
    for entry in demo_workshop().entries:
        Draft202012Validator(schema_of(DrumFile)).validate(drum_to_data(entry.drum))
        file = tmp_path / "one.drum.json"
        save_drum(entry.drum, file)
        assert load_drum(file) == entry.drum
    assert not list(tmp_path.glob("*.part"))


def test_the_published_schema_is_the_one_in_force() -> None:
    for name, model in FILES.items():
        published = json.loads((ROOT / "docs" / f"{name}.schema.json").read_text())
        assert published == schema_of(model)
        Draft202012Validator.check_schema(published)


def test_rounds_of_clearing_go_out_and_back() -> None:
    entry = demo_workshop().entries[0]
    text = readings_to_text(entry.drum, entry.clearing("batter"))
    Draft202012Validator(schema_of(ReadingsFile)).validate(json.loads(text))
    found = read_readings(text)
    assert (found.drum, found.clearing) == (entry.drum, entry.clearing("batter"))


@pytest.mark.parametrize(
    ("old", "new", "line"),
    [
        ('"rod": 1,', '"rod": 0,', "clearing.rounds.0.taps.0.rod: The value is 0."),
        ('"rod": 1,', '"rod": 12,', "rod 12, but the drum has 8"),
        ('"kind": "pitch"', '"kind": "ear"', 'The value is "ear"'),
        ('"pattern": "even"', '"pattern": "own"', "has 0 values, but the drum has 8 rods"),
        ('"depth_m": 0.1', '"depth_m": 10.1', "drum.shell.depth_m: The value is 10.1"),
        ('"version": 1', '"version": 7', "version: The readings file has version 7."),
        ('"clearing"', '"clearance"', "Unknown key 'clearance'"),
    ],
)
def test_a_fault_in_a_readings_file_is_named(old: str, new: str, line: str) -> None:
    entry = demo_workshop().entries[0]
    text = readings_to_text(entry.drum, entry.clearing("batter"))
    assert old in text
    with pytest.raises(InputError) as fault:
        read_readings(text.replace(old, new, 1))
    assert line in fault.value.one_line()


@pytest.mark.parametrize(
    ("old", "new", "line"),
    [
        ("0.2032", "-0.2", "shell.depth_m: The value is -0.2. Use 0.03 to 1.5."),
        (
            "[0.000254],\n",
            "[0],\n",
            "batter.head.plies_m.0: The value is 0. Use 1e-05 to 0.003.",
        ),
        ("0.3048", "22.86", "shell.head_diameter_m: The value is 22.86. Use 0.1 to 1.2."),
        ('"rods": 6', '"rods": 6.5', "shell.rods: The value 6.5 has the wrong type."),
        ('"rods": 6', '"rods": true', "shell.rods: The value true has the wrong type."),
        ("1200.0", "NaN", "NaN is not a valid number."),
        ("1200.0", "1e999", "batter.tension_n_per_m"),
        (
            '"depth_m"',
            '"deep_m"',
            "shell.deep_m: Unknown key 'deep_m'. Options: head_diameter_m",
        ),
        (
            '"lug_pitch_hz": 220.0',
            '"lug_pitch_hz": 220, "tension_n_per_m": 9',
            "resonant: The head is set by tension_n_per_m and lug_pitch_hz.",
        ),
        (', "lug_pitch_hz": 220.0', "", "resonant: The head is set by nothing."),
        ("220.0", "1900", "resonant.lug_pitch_hz: A lug pitch of 1900.0 Hz needs"),
        (
            "1200.0",
            "30000",
            "batter.tension_n_per_m: A tension of 30000 N/m is too high for the batter head 'single 10'.",
        ),
        (
            "kesselton/drum",
            "kesselton/drums",
            "format: Standard input has format 'kesselton/drums'.",
        ),
        (
            '"version": 1',
            '"version": 2',
            "version: Standard input has version 2. This program reads version 1",
        ),
        ("{", "[", "Standard input is not JSON: line 1"),
        ("0.05,", "0.5,", "batter.head.additions: The dot reaches 500 mm"),
        ('"kind": "tom"', '"kind": "tim"', 'kind: The value is "tim". Options: tom, snare'),
        ('"name": "rack tom"', '"name": "a", "name": "b"', "name: The name 'name' appears twice."),
        (
            '"single 10", "material"',
            '"x", "matter"',
            "batter.head.matter: Unknown key 'matter'",
        ),
    ],
)
def test_a_fault_is_one_line_with_path_value_and_range(
    old: str,
    new: str,
    line: str,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    import io

    monkeypatch.setattr(
        sys, "stdin", io.TextIOWrapper(io.BytesIO(EXAMPLE.replace(old, new, 1).encode()))
    )
    assert main(["predict", "-"]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert err.count("\n") == 1
    assert err.startswith(line), err


def test_predict_prints_the_contract(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "tom.drum.json"
    file.write_text(EXAMPLE)
    assert main(["predict", str(file)]) == 0
    answer = json.loads(capsys.readouterr().out)
    found = predict(load_drum(file))
    assert answer["fundamental_hz"] == pytest.approx(found.fundamental_hz, rel=1e-6)
    assert answer["resonant"]["lug_pitch_hz"] == 220.0
    assert answer["batter"]["tension_n_per_m"] == 1200.0
    assert set(answer["modes"][0]) == {
        "order", "rank", "branch", "frequency_hz", "t60_s", "t60_uncertainty", "batter_share",
        "uncertainty_cents", "level_db", "recoil_share",
    }  # fmt: skip
    pitches = [mode["frequency_hz"] for mode in answer["modes"]]
    assert pitches == sorted(pitches)
    assert len(pitches) > 40


def test_range_prints_the_contract(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "tom.drum.json"
    file.write_text(EXAMPLE)
    assert main(["range", str(file)]) == 0
    answer = json.loads(capsys.readouterr().out)
    for side in ("batter", "resonant"):
        assert (
            answer[side]["lowest"]["tension_n_per_m"] < answer[side]["highest"]["tension_n_per_m"]
        )
        assert answer[side]["lowest"]["reason"]
        assert answer[side]["highest"]["limit"] in {"film_stress", "rod_load", "hoop"}
        low, high = answer[side]["clear_from_n_per_m"], answer[side]["keeps_to_n_per_m"]
        assert answer[side]["lowest"]["tension_n_per_m"] <= low < high
        assert high <= answer[side]["highest"]["tension_n_per_m"]
    speaks = answer["speaks"]
    assert speaks["never"] is None
    assert 60.0 < speaks["lowest"]["fundamental_hz"] < speaks["highest"]["fundamental_hz"] < 250.0
    assert all(speaks[end]["reason"] for end in ("lowest", "highest"))


def test_open_drum_prints_null(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "open.drum.json"
    data = json.loads(EXAMPLE)
    data["resonant"] = None
    file.write_text(json.dumps(data))
    for command in ("predict", "range"):
        assert main([command, str(file)]) == 0
        assert json.loads(capsys.readouterr().out)["resonant"] is None


def test_the_shell_from_outside(tmp_path: Path) -> None:
    """As a script calls it: a process of its own, no screen, standard input."""
    done = subprocess.run(
        [sys.executable, "-m", "kesselton", "predict", "-"],
        input=EXAMPLE, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0
    assert json.loads(done.stdout)["fundamental_hz"] > 50
    for args in (
        ["predict"],
        ["predict", str(tmp_path / "absent.json")],
        ["range", sys.executable],
    ):
        done = subprocess.run(
            [sys.executable, "-m", "kesselton", *args], capture_output=True, text=True, check=False
        )
        assert done.returncode == 2
        assert done.stderr.count("\n") == 1


def test_a_place_that_cannot_be_written(tmp_path: Path) -> None:
    drum = read_drum(EXAMPLE)
    with pytest.raises(KesseltonError, match="cannot be written"):
        save_drum(drum, tmp_path / "absent" / "x.drum.json")
    with pytest.raises(InputError, match="The drum file is too large for a drum file"):
        read_drum(" " * 2_000_000)


def test_a_pipe_nobody_writes_is_not_waited_for(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The window stood for ever; a pipe somebody writes is read as before."""
    monkeypatch.setattr(bounded_reader, "WAITS_S", 0.05)
    pipe = tmp_path / "drum.json"
    os.mkfifo(pipe)
    for read in (load_drum, read_sound):
        with pytest.raises(InputError, match="Nothing is writing"):
            read(pipe)
    monkeypatch.setattr(bounded_reader, "WAITS_S", 10.0)
    drum = make_drum()
    writer = threading.Thread(target=lambda: pipe.write_text(drum_to_text(drum)))
    writer.start()
    assert load_drum(pipe) == drum
    writer.join()
