"""What hands do that was once swallowed, booked elsewhere, or the end of the program.

By real keys and clicks in a real window, to a program in a process of its own.
"""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from typing import Any

import pytest

from tests.journeys.stranger import Screen, Stranger

pytestmark = [pytest.mark.journey, pytest.mark.timeout(240)]
RACK = "Drum list"
ROW = 83


def rack_click(one: Stranger, place: int) -> None:
    """On a drum of the list, counted from 0."""
    x, y, wide, _ = one.look().one(RACK)["seen"]
    one.click_at(x + wide / 2, y + ROW * place + 40)


def rows(one: Stranger, query: str, *values: object) -> list[Any]:
    """Of the file, asked by another process."""
    with closing(sqlite3.connect(f"file:{one.workshop()}?mode=ro", uri=True)) as file:
        return list(file.execute(query, values))


def pitches(one: Stranger, drum: int) -> dict[int, float]:
    """Lug pitches by rod that the file holds of the last round of a drum."""
    found = rows(
        one,
        "SELECT rod, value FROM rod_reading WHERE drum_id = ? AND kind = 'pitch' AND round = "
        "(SELECT MAX(round) FROM rod_reading WHERE drum_id = ?)",
        drum,
        drum,
    )
    return dict(found)


def choose(one: Stranger, box: str, words: str) -> None:
    """From a list, by its name: pressed, typed, Enter."""

    def there(seen: Screen) -> list[dict[str, Any]]:
        return [w for w in seen.shown if w["kind"] == "Box" and w["name"] == box]

    x, y, wide, high = there(one.wait(there))[0]["seen"]
    one.click_at(x + wide / 2, y + high / 2)
    one.wait(lambda seen: any(top["popup"] for top in seen.windows))
    one.type(words)
    one.press("Enter")
    one.wait(lambda seen: not any(top["popup"] for top in seen.windows))


def test_print_and_preview_open_by_their_keys_and_close(demo: Stranger) -> None:
    for _ in range(2):
        demo.press("Ctrl+Shift+p")
        demo.wait(lambda seen: "Print Preview" in seen.titles)
        demo.press("Esc")
        demo.wait(lambda seen: "Print Preview" not in seen.titles)
    demo.press("Ctrl+p")
    demo.wait(lambda seen: "Print" in seen.titles)
    demo.press("Esc")
    demo.wait(lambda seen: "Print" not in seen.titles)
    demo.quit()


def test_a_drum_is_opened_below_and_closed_again_quicker_than_it_is_worked_out(
    demo: Stranger,
) -> None:
    demo.press("Alt+3")
    choose(demo, "Head", "no resonant head")
    for _ in range(3):
        demo.press("Ctrl+z")
        demo.press("Ctrl+Shift+z")
    demo.press("Ctrl+z")
    demo.wait(lambda seen: "Undone: snare side head" in seen.text and "142 ± 2" in seen.text)
    assert demo.drums()[0]["resonant"] is not None
    demo.quit()


@pytest.mark.parametrize("way", ["key", "tab", "drum"])
def test_typed_pitches_arrive_however_clear_was_reached(demo: Stranger, way: str) -> None:
    demo.press("F12")
    demo.wait("Reading method")
    choose(demo, "Reading method", "pitch")
    demo.press("F6")
    demo.wait("Set to")
    if way == "tab":
        demo.click("Clear", "Button")
    else:
        demo.press("F12")
    demo.wait("Reading method")
    rack_click(demo, 1)
    demo.wait("round 1")
    demo.rest()
    if way != "drum":
        demo.press("F12")
    for hz in (196, 197, 198, 199, 198, 197):
        demo.type(f"{hz}\n")
    demo.wait("Turn next")
    assert pitches(demo, 2) == {1: 196, 2: 197, 3: 198, 4: 199, 5: 198, 6: 197}
    demo.quit()


def test_by_ear_letters_answer_and_two_rods_are_named(demo: Stranger) -> None:
    demo.press("F12")
    demo.wait("Reading method")
    choose(demo, "Reading method", "by ear")
    rack_click(demo, 1)
    seen = demo.wait("is rod 2 higher or lower than 1")
    assert seen.one("Higher (H)", "Button")["enabled"]
    for letter in "haaaa":
        demo.type(letter)
        demo.rest(0.1)
    seen = demo.wait("once more")  # rod 2 higher, rod 5 opposite not
    assert "Clear" not in seen.one("Rod 5", "Label")["text"]
    assert "Play" not in seen.text.replace("Play (L)", "")
    demo.click("Alike (A)", "Button")
    demo.wait(lambda seen: seen.all("Turn next") and seen.all("Rod 2"))
    assert len(pitches(demo, 2)) == 6
    demo.quit()


def test_what_is_typed_is_booked_on_the_drum_it_was_typed_for(demo: Stranger) -> None:
    demo.press("F7")
    demo.wait("Add reading")
    demo.type("250")
    rack_click(demo, 1)
    demo.rest()
    demo.press("Enter")
    demo.rest()
    values = [row[0] for row in rows(demo, "SELECT drum_id FROM reading WHERE value = 250")]
    assert values == [1]
    demo.press("F7")
    demo.type("25x")
    rack_click(demo, 2)
    demo.wait("waits at Rack tom")
    assert demo.look().one("Reading", "AddLine")["text"] == ""
    rack_click(demo, 1)
    demo.wait(lambda seen: seen.one("Reading", "AddLine")["text"] == "25x")
    demo.click("Reading", "AddLine")
    for _ in range(3):
        demo.press("Backspace")
    demo.quit()


def test_half_a_pair_on_a_gauge_waits_and_a_whole_one_is_booked(demo: Stranger) -> None:
    demo.press("F8")
    demo.wait("Add pair")
    demo.type("77\n")
    rack_click(demo, 1)
    demo.rest()
    assert demo.look().one("Gauge reading", "Line")["text"] == ""
    rack_click(demo, 0)
    demo.wait(lambda seen: seen.one("Gauge reading", "Line")["text"].startswith("77"))
    demo.click("Lug pitch", "Line")
    demo.type("262")
    rack_click(demo, 1)
    demo.rest()
    [name] = [row[0] for row in rows(demo, "SELECT name FROM dial_pair WHERE dial = 77")]
    assert "Pit snare" in name
    demo.quit()


def test_the_wheel_changes_no_choice_and_typing_takes_whole_words(demo: Stranger) -> None:
    demo.press("Alt+1")
    seen = demo.wait(
        lambda seen: [w for w in seen.shown if w["name"] == "Kind" and w["kind"] == "Box"]
    )
    before = {w["name"]: w["text"] for w in seen.widgets if w["kind"] == "Box"}
    for name in before:
        box = next((w for w in demo.look().shown if w["kind"] == "Box" and w["name"] == name), None)
        if box is None or not box["enabled"]:
            continue  # scrolled out of sight by the wheel: what it is for
        x, y, wide, high = box["seen"]
        demo.click_at(x + wide / 2, y + high / 2)
        demo.wait(lambda seen: any(top["popup"] for top in seen.windows))
        demo.press("Esc")
        demo.wait(lambda seen: not any(top["popup"] for top in seen.windows))
        demo.wheel(1)
        demo.wheel(-1)
        demo.wheel(2)
    after = demo.rest().widgets
    assert {w["name"]: w["text"] for w in after if w["kind"] == "Box"} == before
    demo.press("F12")
    demo.wait("Reading method")
    choose(demo, "Reading method", "simulated to")
    demo.wait(lambda seen: seen.all("simulated torque key", "Box"))
    demo.quit()


def test_escape_lets_go_of_a_grip(demo: Stranger) -> None:
    seen = demo.look()
    x, y, wide, _ = seen.one("Pitch ladder")["at"]
    before = demo.drums()
    demo.press("F4")
    demo.press("Left")  # to the batter's grip
    demo.rest()
    lug = seen.one("Lug pitch", "Line")["text"]
    grip = find_grip(demo, x + wide * 0.22, y)
    demo.move(*grip)
    demo.button(1, True)
    for step in range(1, 9):
        demo.move(grip[0], grip[1] - 6 * step)
    demo.press("Esc")
    demo.button(1, False)
    demo.rest()
    assert demo.drums() == before
    assert demo.look().one("Lug pitch", "Line")["text"] == lug
    demo.button(1, False)
    demo.quit()


def find_grip(one: Stranger, x: float, top: float) -> tuple[float, float]:
    """Where the batter's grip is drawn: the accent of the theme, looked for on the screen."""
    for y in range(int(top) + 60, int(top) + 560, 3):
        if one.color_at(int(x) - 18, y) == (0x0F, 0x6B, 0x66):
            return x, y + 8
    raise AssertionError("no grip is seen")


def test_enter_presses_what_has_the_keys(demo: Stranger) -> None:
    many = len(demo.drums())
    demo.press("Ctrl+n")
    seen = demo.dialog("From file")
    for _ in range(12):
        if (seen.focus or {}).get("text") == "Cancel":
            break
        demo.press("Tab")
        seen = demo.look()
    assert seen.focus
    assert seen.focus["text"] == "Cancel"
    demo.press("Enter")
    demo.wait(lambda seen: len(seen.windows) == 1)
    assert len(demo.drums()) == many
    demo.press("Ctrl+n")
    demo.dialog("From file")
    demo.press("Enter")
    demo.wait(lambda seen: len(seen.windows) == 1)
    assert len(demo.drums()) == many + 1
    demo.quit()


def test_escape_asks_before_words_are_thrown_away(demo: Stranger) -> None:
    demo.press("k")
    demo.dialog("Add to log")
    demo.type("bright and short")
    demo.press("Esc")
    demo.wait("“bright and short” is not kept yet")
    demo.press("Enter")  # go on writing
    seen = demo.wait(lambda seen: "is not kept yet" not in seen.text)
    assert "bright and short" in seen.text
    demo.press("Esc")
    demo.wait("is not kept yet")
    demo.click("Throw it away")
    demo.wait(lambda seen: len(seen.windows) == 1)
    demo.quit()


def test_the_drums_of_a_set_are_taken_by_enter(demo: Stranger) -> None:
    demo.press("Ctrl+Shift+n")
    demo.dialog("Drums in the set")
    demo.click("Set name", "Line")
    demo.press("Ctrl+a")
    demo.type("Second house")
    demo.press("Enter")
    demo.wait(lambda seen: len(seen.windows) == 1)
    assert "Second house" in dump_of(demo, "kit")
    demo.quit()


def dump_of(one: Stranger, table: str) -> str:
    return json.dumps(rows(one, f"SELECT * FROM {table}"), default=str, ensure_ascii=False)


def test_a_new_show_gets_the_name_that_is_typed(demo: Stranger) -> None:
    demo.menu("Drum", "New show")
    demo.dialog("Name of the show")
    demo.press("Ctrl+a")
    demo.type("Winter gala\n")
    demo.wait("Winter gala")
    assert "Winter gala" in dump_of(demo, "show")
    demo.quit()


def test_undo_names_what_it_did_and_shows_where(demo: Stranger) -> None:
    demo.press("F7")
    demo.wait("Add reading")
    demo.type("251\n")
    demo.rest()
    demo.press("F6")
    rack_click(demo, 2)
    demo.rest()
    demo.press("Ctrl+z")
    seen = demo.wait("Undone: readings")
    assert "Pit snare" in seen.text
    assert seen.all("Add reading")
    assert not rows(demo, "SELECT 1 FROM reading WHERE value = 251")
    rack_click(demo, 1)
    demo.press("Ctrl+Shift+z")
    demo.wait("Done again: readings · Pit snare")
    assert rows(demo, "SELECT drum_id FROM reading WHERE value = 251") == [(1,)]
    demo.quit()
