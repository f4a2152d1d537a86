"""The log of a drum: kept in the workshop, reopened the same, out as lines and as a table."""

from __future__ import annotations

import csv
import io
import json
import sqlite3
from dataclasses import replace
from pathlib import Path

import jsonschema
import numpy as np
import pytest

from kesselton.app.workshop.log_entries import differences, found_in
from kesselton.app.workshop.workshops import demo_workshop
from kesselton.cli import main
from kesselton.core.errors import InputError
from kesselton.core.instrument.beater import BEATERS
from kesselton.core.instrument.kept import Kept, KeptLine
from kesselton.core.instrument.muffler import Muffler
from kesselton.core.instrument.reading import Reading
from kesselton.store.exports.sound_file import read_sound
from kesselton.store.formats.log_file import (
    as_csv,
    as_lines,
    entries_of,
    entry_of,
    entry_text,
)
from kesselton.store.formats.models import LogEntry, schema_of
from kesselton.store.io.errors import StoreError
from kesselton.store.workshop import rows
from kesselton.store.workshop.attachments import attached, flac_of
from kesselton.store.workshop.holdings import Workshop
from kesselton.store.workshop.salvage import salvage
from kesselton.store.workshop.workshop import WorkshopFile

DEMO = demo_workshop()
TOM = DEMO.entries[1].drum
FULL = Kept(
    "2026-11-20T18:30", TOM, "retuned", "batter", "second act", "warm, =long enough", "a march",
    "second percussion", "the hall", (("warmth", 1), ("ring", -2)), "low", "wood_tip", 0.4, 1.5,
    (Reading("lug_pitch", 196.0, rod=2, on="2026-11-20"), Reading("dial", 71.0, gauge="dial 2")),
    (196.0, 233.1), (1252.0, 1647.0), 126.2, 11.0, 125.9, 2.0,
    (KeptLine(125.9, 2.0, 1.4, 0.0), KeptLine(196.1, 3.0, 0.9, -6.0)), True, "strainer at 6", 2.0,
    4.5,
)  # fmt: skip


def with_log(*kept: Kept) -> Workshop:
    entries = list(DEMO.entries)
    entries[1] = replace(entries[1], kept=kept)
    return replace(DEMO, entries=tuple(entries))


def test_everything_kept_is_there_when_reopened(tmp_path: Path) -> None:
    path = tmp_path / "log.kesselton"
    plain = Kept("2026-11-21T10:00", TOM)
    with WorkshopFile.create(path, with_log(FULL)) as file:
        before = with_log(FULL)
        file.write(before, with_log(FULL, plain))
        file.write(with_log(FULL, plain), with_log(replace(FULL, verdict="x"), plain))
    with WorkshopFile.open(path) as file:
        found = file.load(at_once=True)
    assert tuple(found.entries[1].kept) == (replace(FULL, verdict="x"), plain)
    assert tuple(found.entries[0].kept) == ()


def test_a_line_fits_its_published_schema_and_comes_back() -> None:
    text = entry_text(FULL)
    jsonschema.Draft202012Validator(schema_of(LogEntry)).validate(json.loads(text))
    assert entry_of(text) == FULL
    assert entries_of(as_lines([FULL, FULL]), "x.jsonl") == [FULL, FULL]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"on": "yesterday"}, "“yesterday” is not a date and time"),
        ({"event": "eaten"}, "eaten"),
        ({"marks": [["warmth", 9]]}, "Rating 'warmth' is 9"),
        ({"fits": "odd"}, "odd"),
        ({"drum": {}}, "is missing"),
        ({"extra": 1}, "extra"),
    ],
)
def test_what_is_no_entry_is_refused_in_words(change: dict[str, object], words: str) -> None:
    data = {**json.loads(entry_text(FULL)), **change}
    with pytest.raises(InputError, match=words):
        entry_of(json.dumps(data))
    with pytest.raises(InputError, match=r"log\.jsonl, line 2"):
        entries_of(f"{entry_text(FULL)}\n{json.dumps(data)}\n", "log.jsonl")
    with pytest.raises(InputError):
        entry_of("{")


def test_a_table_keeps_words_words() -> None:
    rows = list(csv.DictReader(io.StringIO(as_csv([FULL]))))
    assert rows[0]["drum"] == "Rack tom"
    assert rows[0]["warmth"] == "1"
    assert rows[0]["note_fits"] == "low"
    formula = as_csv([replace(FULL, verdict="=1+1")])
    assert next(csv.DictReader(io.StringIO(formula)))["verdict"] != "=1+1"


def test_a_changed_entry_is_noticed_and_what_can_be_read_is_salvaged(tmp_path: Path) -> None:
    path = tmp_path / "log.kesselton"
    with WorkshopFile.create(path, with_log(FULL, replace(FULL, on="2026-11-22T09:00"))):
        pass
    with sqlite3.connect(path) as db:
        db.execute(
            "UPDATE kept SET json = replace(json, 'second act', 'third act') WHERE position = 0"
        )
        db.execute("UPDATE kept SET json = 'nonsense' WHERE position = 1")
    with WorkshopFile.open(path) as file:
        found = file.load()
        with pytest.raises(StoreError, match="log of “Rack tom” is not as saved"):
            len(found.entries[1].kept)
    saved = salvage(path)
    assert [one.what_for for one in saved.workshop.entries[1].kept] == ["third act"]
    assert "entry 2 of the log" in saved.words()


def test_log_from_the_shell_while_the_workshop_is_open(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "log.kesselton"
    with WorkshopFile.create(path, with_log(replace(FULL, on="2026-11-25T09:00"), FULL)):
        assert main(["log", str(path)]) == 0
        said = capsys.readouterr().out
        assert [one.on for one in entries_of(said, "")] == [FULL.on, "2026-11-25T09:00"]
        assert main(["log", str(path), "--drum", "Rack tom", "--csv"]) == 0
        assert capsys.readouterr().out.count("\n") == 3
        assert main(["log", str(path), "--drum", "Kazoo"]) == 2
        assert "Drum “Kazoo” does not exist" in capsys.readouterr().err
    assert main(["log", str(tmp_path / "none.kesselton")]) == 2
    assert "does not exist" in capsys.readouterr().err


def test_entries_are_found_by_their_words_and_compared(tmp_path: Path) -> None:
    """By the file and in memory alike."""
    other = replace(
        FULL, on="2026-11-23T09:00", player="Third ÄOLUS", what_for="overture", heard_hz=130.0
    )
    shop = with_log(FULL, other)
    with WorkshopFile.create(tmp_path / "find.kesselton", shop) as file:
        for find in (file.with_words, lambda words: found_in(shop.entries, words)):
            assert find("HALL march")[0].on == other.on  # the newest first
            (hit,) = find("overture äolus")
            assert (hit.drum_id, hit.position, hit.title) == (2, 1, "overture")
            assert file.entry_at(hit) == other
            assert find("nothing of it") == []
            assert find("%") == []
        shorter = with_log(FULL)
        file.write(shop, shorter)
        assert file.with_words("overture") == []
        assert [hit.on for hit in file.with_words("second act")] == [FULL.on]
    told = {name: (a, b) for name, a, b in differences(FULL, other)}
    assert told["measured"] == ("125.9 Hz", "130.0 Hz")
    assert told["player"] == ("second percussion", "Third ÄOLUS")
    assert "batter head" not in told


def test_beaters_and_muffling_are_compared_in_words() -> None:
    """The entry of a log without a beater stood beside one with "wood_tip"."""
    for name, beater in BEATERS.items():
        told = {what: (a, b) for what, a, b in differences(FULL, replace(FULL, beater=name))}
        assert told.get("beater", ("wood tip", "wood tip")) == ("wood tip", beater.label)
    unsaid = {what: (a, b) for what, a, b in differences(replace(FULL, beater=""), FULL)}
    assert unsaid["beater"] == ("—", "wood tip")
    flap = replace(FULL, drum=replace(TOM, mufflers=(Muffler("tape", "resonant"),)))
    told = {what: (a, b) for what, a, b in differences(FULL, flap)}
    assert told["muffling"] == ("none", "folded tape flap, resonant")


def lines_at(*hz: float, t60_s: float = 1.0) -> tuple[KeptLine, ...]:
    return tuple(KeptLine(one, 2.0, t60_s, -6.0 * place) for place, one in enumerate(hz))


def test_the_nearest_stroke_is_the_most_alike(tmp_path: Path) -> None:
    """Same note and ring before same note and another ring, before another note."""
    plain = replace(FULL, heard_hz=120.0, lines=lines_at(120.0, 190.0, 250.0))
    alike = replace(plain, on="2026-11-01T10:00", heard_hz=120.8, lines=lines_at(120.8, 191, 251))
    dry = replace(plain, on="2026-11-02T10:00", lines=lines_at(120.0, 190.0, 250.0, t60_s=0.4))
    high = replace(plain, on="2026-11-03T10:00", heard_hz=160.0, lines=lines_at(160.0, 253, 333))
    none = replace(plain, on="2026-11-04T10:00", heard_hz=None, lines=())
    with WorkshopFile.create(tmp_path / "s.kesselton", with_log(high, dry, none, alike)) as file:
        found = file.like_sound(plain)
        assert [hit.on for hit, _ in found] == [alike.on, dry.on]  # the other note is not like it
        far = [unlike for _, unlike in found]
        assert far[0] < 0.7 < far[1]
        assert file.like_sound(none) == []
        cases = file.of_such_drums(TOM, 158.0)
        assert cases[0][1] == high
        assert file.of_such_drums(DEMO.entries[0].drum, 158.0) == []


def test_pictures_and_sounds_are_copied_kept_whole_and_let_go(tmp_path: Path) -> None:
    path = tmp_path / "log.kesselton"
    flac = flac_of(np.sin(np.arange(4800) / 20.0), 48000.0)
    one = attached("stroke.flac", flac)
    assert one.kind == "flac"
    kept = replace(FULL, attached=(one,))
    with WorkshopFile.create(path, with_log()) as file:
        file.attach(flac)
        file.write(with_log(), with_log(kept))
    with WorkshopFile.open(path) as file:
        assert file.attached(one.digest) == flac
        samples, rate = read_sound(io.BytesIO(flac))
        assert (len(samples), rate) == (4800, 48000.0)
        file.let_go([one.digest])
        assert file.attached(one.digest) == flac  # an entry names it
        file.write(with_log(kept), with_log())
        file.let_go([one.digest])
        with pytest.raises(StoreError, match="missing"):
            file.attached(one.digest)
    with pytest.raises(InputError, match="not a picture or sound"):
        attached("notes.png", b"these are words")


def test_a_damaged_sound_is_named_and_the_rest_salvaged(tmp_path: Path) -> None:
    path = tmp_path / "log.kesselton"
    whole, harmed = (flac_of(np.sin(np.arange(4800) / n), 48000.0) for n in (20.0, 30.0))
    both = (attached("a.flac", whole), attached("b.flac", harmed))
    kept = replace(FULL, attached=both)
    WorkshopFile.create(path, with_log(kept), [whole, harmed]).close()
    with sqlite3.connect(path) as db:
        db.execute(
            "UPDATE attachment SET content = ? WHERE digest = ?",
            (harmed[:-9] + bytes(9), both[1].digest),
        )
    with WorkshopFile.open(path) as file:
        assert file.attached(both[0].digest) == whole
        with pytest.raises(StoreError, match="damaged"):
            file.attached(both[1].digest)
    found = salvage(path)
    assert found.contents == [whole]
    assert "1 are damaged" in found.words()


def test_adding_to_a_long_log_writes_one_row(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What is not different is neither written nor encoded again."""
    many = tuple(replace(FULL, on=f"2026-01-01T{n // 60:02d}:{n % 60:02d}") for n in range(200))
    path = tmp_path / "long.kesselton"
    with WorkshopFile.create(path, with_log(*many)) as file:
        written: list[Kept] = []
        text = rows.entry_text
        monkeypatch.setattr(rows, "entry_text", lambda one: [written.append(one), text(one)][1])
        file.write(with_log(*many), with_log(*many, FULL))
        assert written == [FULL]
        assert len(file.load().entries[1].kept) == 201
