"""Everything there is gets pressed: every entry of every menu by its letters, every button of every
page. Nothing is left out; what is asked is answered by Escape."""

from __future__ import annotations

import contextlib
import re
import time

import pytest

from tests.journeys.stranger import Screen, Stranger

pytestmark = [pytest.mark.journey, pytest.mark.timeout(420)]
PAGES = ("F6", "F7", "F5", "F9", "F12", "F8", "Ctrl+k", "F10", "Shift+F9", "Shift+F12")


def in_peace(one: Stranger) -> Screen:
    """Escape until the main window is alone again, without menu, dialog or night."""
    for _ in range(12):
        seen = one.look()
        night = any(widget["kind"] == "Night" for widget in seen.shown)
        if len(seen.windows) == 1 and not night:
            return seen
        second = [top for top in seen.windows if top["kind"] == "MainWindow"]
        if len(second) > 1 and len(second) == len(seen.windows):  # another workshop was opened
            one.press("Ctrl+q")
        elif night:
            one.press("Insert")
        else:
            one.press("Esc")
        time.sleep(0.25)
    raise AssertionError(f"it does not go away: {one.look().titles}\n{one.look().text[:2000]}")


def test_every_entry_of_every_menu(demo: Stranger) -> None:
    bar = next(top["bar"] for top in demo.look().windows if "bar" in top)
    pressed = 0
    for menu in bar:
        letter = re.search(r"&(.)", menu["text"])[1].lower()  # type: ignore[index]
        demo.press(f"Alt+{letter}")
        entries = demo.wait(lambda seen: any("menu" in top for top in seen.windows))
        [rows] = [top["menu"] for top in entries.windows if "menu" in top]
        demo.close_menus()
        for row in rows:
            mark = re.search(r"(?<!&)&([^&])", row["text"])
            if mark is None or not row["enabled"] or row["text"].replace("&", "") == "Quit":
                continue  # quitting comes last
            demo.press(f"Alt+{letter}")
            demo.wait(lambda seen: any("menu" in top for top in seen.windows))
            demo.press(mark[1].lower())
            time.sleep(0.35)
            seen = demo.rest(0.1)
            assert "Traceback" not in demo.tail, (row["text"], demo.tail)
            assert seen.windows
            pressed += 1
            in_peace(demo)
    assert pressed > 45
    demo.no_complaint()
    demo.quit()


@pytest.mark.parametrize("pages", [PAGES[:5], PAGES[5:]], ids=["of a drum", "of the workshop"])
def test_every_button_of_every_page(demo: Stranger, pages: tuple[str, ...]) -> None:
    pressed = 0
    for page in pages:
        demo.press(page)
        time.sleep(0.5)
        names = [w["text"] for w in demo.rest(0.2).shown if w["kind"] in ("Button", "Tick")]
        for name in dict.fromkeys(names):
            demo.press(page)
            seen = demo.rest(0.1)
            there = [w for w in seen.shown if w["text"] == name and w["enabled"]]
            if not there or name.startswith(tuple(TABS)):
                continue  # it went with what another one did; tabs are pressed elsewhere
            with contextlib.suppress(AssertionError):
                demo.click(name)
            time.sleep(0.25)
            assert demo.program.poll() is None, (page, name, demo.tail)
            assert "Traceback" not in demo.tail, (page, name, demo.tail)
            pressed += 1
            in_peace(demo)
    assert pressed > 30
    demo.no_complaint()
    demo.quit()


TABS = ("Measure", "Heads", "Tuning", "Fit", "Clear", "Gauges", "Log", "Set", "Practice", "Shows")
