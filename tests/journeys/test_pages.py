"""A journey over each page: what a hand does there, read from the screen and from the file."""

from __future__ import annotations

import re
import time

import pytest

from tests.journeys.stranger import Screen, Stranger
from tests.journeys.test_hands import choose, dump_of, rack_click, rows

pytestmark = [pytest.mark.journey, pytest.mark.timeout(240)]


def lug_pitch(one: Stranger, side: str = "batter", drum: int = 0) -> float:
    setting = one.drums()[drum][side]
    return float((setting.get("reading") or {}).get("hz") or setting.get("lug_pitch_hz") or 0.0)


NONSENSE = re.compile(r"[{}]|\bNone\b|\bnan\b|\de\+0|\b1 cents|\ba ear|\b1 turns\b|Traceback")


def look_in(one: Stranger, *keys: str) -> None:
    """Open dialogs by their keys, one after another, and close each by Escape."""
    for key in keys:
        one.press(key)
        one.dialog("")
        one.press("Esc")
        one.wait(lambda seen: len(seen.windows) == 1)


def is_night(seen: Screen) -> bool:
    return any(widget["kind"] == "Night" for widget in seen.shown)


def test_tuning(demo: Stranger) -> None:
    demo.press("F6")
    demo.press("Alt+2")
    demo.wait(lambda seen: seen.focus and seen.focus["name"] == "Lug pitch")
    demo.press("Ctrl+a")
    demo.type("270 Hz\n")
    demo.wait("270.0 Hz")
    demo.rest()
    assert lug_pitch(demo) == pytest.approx(270.0)
    demo.press("F4")
    demo.press("Left")
    demo.press("PgUp")  # a half step
    demo.rest()
    assert lug_pitch(demo) == pytest.approx(270.0 * 2 ** (1 / 12), rel=1e-4)
    demo.press("F3")
    demo.press("Down")
    look_in(demo, "Ctrl+r")
    demo.press("j")
    demo.wait(
        lambda seen: "No stroke analyzed" not in seen.text and "Analyzing" not in seen.text, 40
    )
    demo.rest(0.5)
    look_in(demo, "Ctrl+j")
    demo.press("Ctrl+Shift+c")
    demo.wait("Picture copied")
    demo.press("Ctrl+Shift+t")
    demo.press("Ctrl+m")
    demo.wait("millimeters")
    demo.press("Ctrl+z")
    demo.wait("Undone")
    demo.quit()


def test_measure(demo: Stranger) -> None:
    demo.press("F7")
    demo.wait("Add reading")
    rack_click(demo, 1)
    demo.rest()
    demo.type("C4\n")
    demo.wait(lambda seen: [w for w in seen.all("Apply to", "Button") if w["enabled"]])
    demo.click("Apply to", "Button")
    demo.wait("Set to")
    assert lug_pitch(demo, drum=1) == pytest.approx(261.6, abs=0.2)
    demo.press("F7")
    demo.type("3: 82 div\n")
    demo.rest()
    found = rows(demo, "SELECT kind, rod, value FROM reading WHERE drum_id = 2 ORDER BY position")
    assert any(rod == 3 and value == 82.0 for _, rod, value in found)
    demo.quit()


def test_heads(demo: Stranger) -> None:
    rack_click(demo, 1)
    demo.press("F5")
    demo.wait(
        lambda seen: (
            seen.all("Use these heads", "Button")
            and seen.all("Use these heads", "Button")[0]["enabled"]
        ),
        60,
    )
    demo.press("Down")
    demo.press("c")
    demo.press("Down")
    demo.press("c")
    before = demo.drums()[1]
    demo.click("Use these heads", "Button")
    demo.wait("Set to")
    demo.rest()
    assert demo.drums()[1] != before
    look_in(demo, "Ctrl+h", "Ctrl+b")
    demo.quit()


def test_fit(demo: Stranger) -> None:
    rack_click(demo, 1)
    demo.press("F9")
    demo.wait("Step 1 of")
    demo.rest()
    demo.press("Space")
    demo.press("y")
    for _ in range(4):
        demo.press("Space")
        demo.press("y")
        demo.rest(0.1)
    demo.press("n")
    demo.press("t")
    demo.press("Backspace")
    demo.rest()
    fitted = dump_of(demo, "fittings")
    assert "batter" in fitted
    seen = demo.look()
    for word in ("{", "None", "nan "):
        assert word not in seen.text
    demo.press("Esc")
    demo.quit()


def test_clear_by_the_simulated_drum(demo: Stranger) -> None:
    rack_click(demo, 1)
    demo.press("F12")
    demo.wait("Read (T)")
    for _ in range(14):  # six rods, and each may be asked for once more
        seen = demo.rest(0.15)
        if "Turn next" in seen.text or "Done" in seen.text:
            break
        demo.press("t")
    demo.wait(lambda seen: "Turn next" in seen.text or "Done" in seen.text)
    assert len(rows(demo, "SELECT * FROM rod_reading WHERE drum_id = 2 AND kind = 'pitch'")) == 6
    demo.press("Space")
    demo.press("s")
    demo.press("Backspace")
    demo.rest()
    demo.quit()


def test_gauges(demo: Stranger) -> None:
    demo.press("F8")
    demo.wait("Add gauge")
    demo.click("Name of new gauge", "AddLine")
    demo.type("Pocket dial\n")
    demo.rest()
    assert "Pocket dial" in dump_of(demo, "dial")
    demo.click("Gauge reading", "Line")
    demo.type("80\n262\n")
    demo.rest()
    assert rows(demo, "SELECT dial FROM dial_pair WHERE dial = 80") == [(80.0,)]
    demo.quit()


def test_log(demo: Stranger) -> None:
    rack_click(demo, 1)
    demo.rest()
    demo.press("k")
    demo.dialog("Add to log")
    demo.type("overture, second half")
    demo.press("Tab")
    demo.type("warm, a little long")
    demo.press("Enter")
    demo.wait(lambda seen: len(seen.windows) == 1)
    demo.press("Ctrl+k")
    demo.wait("overture, second half")
    found = dump_of(demo, "kept")
    assert "warm, a little long" in found
    demo.press("Ctrl+Shift+k")
    demo.press("Ctrl+Shift+k")
    demo.press("Ctrl+Shift+b")
    demo.wait(lambda seen: len(seen.windows) == 2 and "reading the logs" not in seen.text)
    demo.press("Esc")
    demo.press("Ctrl+f")
    demo.type("floor")
    demo.press("Enter")
    demo.press("Esc")
    demo.quit()


def test_set(demo: Stranger) -> None:
    demo.press("F10")
    demo.wait(lambda seen: [w for w in seen.all("Use these targets", "Button") if w["enabled"]], 90)
    demo.rest()
    before = demo.drums()
    demo.click("Use these targets", "Button")
    demo.wait(lambda seen: demo.drums() != before)
    demo.press("Ctrl+z")
    demo.wait("Undone")
    assert demo.drums() == before
    demo.press("h")
    demo.press("Left")
    demo.press("Up")
    demo.press("g")
    demo.press("Shift+g")
    demo.rest()
    demo.quit()


def test_shows_and_the_night(demo: Stranger) -> None:
    demo.press("Shift+F9")
    demo.wait("Repair now")
    demo.click("Add item, Enter", "AddLine")
    demo.type("spare strainer cord\n")
    demo.rest()
    assert "spare strainer cord" in dump_of(demo, "show")
    for key in ("Insert", "Ctrl+Space"):
        demo.press(key)
        demo.wait(is_night)
        demo.press("Esc")
        demo.wait(lambda seen: not is_night(seen))
    demo.press("Insert")
    demo.wait(is_night)
    demo.press("2")
    for _ in range(5):
        demo.press("Space")
        time.sleep(0.4)
    demo.type("²")  # ended the program once
    seen = demo.rest()
    assert is_night(seen)
    for key in ("y", "n", "r", "s", "Backspace"):
        demo.press(key)
    demo.rest()
    demo.press("Insert")
    demo.wait(lambda seen: not is_night(seen))
    demo.quit()


def test_practice(demo: Stranger) -> None:
    demo.press("Shift+F12")
    demo.wait("Start (Space)")
    demo.press("Space")
    demo.wait(lambda seen: "Start (Space)" not in seen.text)
    for _ in range(3):
        demo.press("a")
        demo.press("1")
        demo.rest(0.15)
        demo.press("Space")
        demo.rest(0.15)
    demo.press("0")
    demo.rest()
    demo.press("Esc")
    demo.rest()
    demo.press("Esc")
    demo.quit()


def test_every_kind_is_walked_without_a_gap_in_its_words(demo: Stranger) -> None:
    """Every drum of the demo on every page: no gap, no None, no number that is none."""
    wrong = []
    pages = ("F6", "F7", "F5", "F9", "F12", "Ctrl+k")
    for place in range(7):
        rack_click(demo, place)
        for key in pages:
            demo.press(key)
            time.sleep(0.3)
            text = demo.rest(0.2).text
            for line in text.splitlines():
                if NONSENSE.search(line):
                    wrong.append(f"drum {place}, {key}: {line[:100]}")
    assert not wrong, "\n".join(wrong)
    demo.quit()


def clicked_away(seen: Screen) -> bool:
    return len(seen.windows) == 1


def test_choices_are_there(demo: Stranger) -> None:
    """A list opens by key, and is left by Escape as it was."""
    demo.press("Alt+1")
    demo.press("Alt+4")
    demo.press("Ctrl+comma")
    demo.dialog("Units")
    choose(demo, "Theme", "dark")
    demo.rest()
    choose(demo, "Theme", "light")
    demo.press("Esc")
    demo.wait(clicked_away)
    look_in(demo, "Ctrl+F1", "F1")
    demo.press("F11")
    demo.press("F11")
    demo.rest()
    demo.quit()


def test_the_other_keys_of_the_handbook(demo: Stranger) -> None:
    many = len(demo.drums())
    demo.press("Ctrl+d")
    demo.wait(lambda seen: len(demo.drums()) == many + 1)
    demo.press("F2")
    demo.press("Alt+Up")
    demo.wait(lambda seen: demo.drums()[-2]["name"].startswith("Pit snare"))
    demo.press("Ctrl+Delete")
    demo.wait(lambda seen: len(demo.drums()) == many)
    for key in ("Ctrl+i", "Ctrl+o", "Ctrl+e", "Ctrl+Shift+e", "Ctrl+Shift+s", "Ctrl+Shift+n"):
        demo.press("F6")
        demo.rest()
        look_in(demo, key)
    demo.press("l")
    demo.press("b")
    demo.rest()
    look_in(demo, "Ctrl+l")
    demo.press("F12")
    demo.wait("Read (T)")
    demo.press("Right")
    demo.press("PgDown")
    demo.press("Shift+F12")
    demo.wait("Start (Space)")
    demo.press("e")
    demo.press("F6")
    demo.press("F3")
    demo.press("Shift+Up")
    demo.quit()


def test_go_to_anything(demo: Stranger) -> None:
    """A drum, then a page, by some letters of each."""
    demo.press("Ctrl+g")
    demo.wait("drum, 14 × 5 ½ in")
    demo.type("oor to\n")
    demo.rest()
    demo.press("Ctrl+g")
    demo.wait("drum, 14 × 5 ½ in")
    demo.type("readings measure\n")
    demo.wait("Add reading")
    demo.type("E2\n")
    demo.rest()
    found = rows(demo, "SELECT drum_id FROM reading WHERE kind = 'lug_pitch'")
    assert any(number == 3 for (number,) in found)
    demo.quit()
