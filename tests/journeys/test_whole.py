"""From nothing to an entry in the log: once by keys alone, once with the mouse."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable

import pytest

from tests.journeys.stranger import Screen, Stranger
from tests.journeys.test_hands import choose

pytestmark = [pytest.mark.journey, pytest.mark.timeout(300)]


def logged(one: Stranger) -> list[dict[str, object]]:
    """What another program is told by the shell."""
    done = subprocess.run(
        [sys.executable, "-c", "from kesselton.cli import main; raise SystemExit(main())", "log",
         str(one.workshop())],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    return [json.loads(line) for line in done.stdout.splitlines()]


def worked_out(seen: Screen) -> bool:
    return "Usable range" in seen.text and "turns" in seen.text


def tab_to(one: Stranger, name: str) -> None:
    """As often as it takes to a control of that name or text."""
    for _ in range(60):
        focus = one.look().focus or {}
        if name in (focus.get("name"), focus.get("text")):
            return
        one.press("Tab")
    raise AssertionError(f"Tab does not reach {name}:\n{one.look().text}")


def test_by_keys_alone(begin: Callable[..., Stranger]) -> None:
    one = begin()
    one.wait("No drums yet")
    tab_to(one, "Add your first drum")
    one.press("Enter")
    one.dialog("From file")
    one.press("Down")  # a snare drum
    one.press("Enter")
    one.wait(lambda seen: seen.focus and seen.focus["name"] == "Name")
    one.type("Concert snare\n")
    one.wait(worked_out, 60)
    assert one.drums()[0]["name"] == "Concert snare"
    one.press("F5")  # heads
    one.wait(lambda seen: [w for w in seen.all("Use these heads", "Button") if w["enabled"]], 60)
    tab_to(one, "Use these heads")
    one.press("Enter")
    one.wait(worked_out, 60)
    one.press("F9")  # fit
    one.wait(lambda seen: seen.all("Done (Space)", "Button"))
    one.rest()
    for _ in range(40):
        one.press("Space")
        one.press("y")
        if "Go to Clear" in one.rest(0.05).text or "Head fitted" in one.look().text:
            break
    one.press("F12")  # clear
    one.wait("Reading method")
    tab_to(one, "Reading method")
    one.type("pitch")
    one.press("Enter")
    one.rest()
    rods = one.drums()[0]["shell"]["rods"]
    for rod in range(rods):
        one.type(f"{262 + rod % 2}\n")
    one.wait(
        lambda seen: "Turn next" in seen.text or "Done" in seen.text or "once more" in seen.text
    )
    one.press("F6")
    one.wait(worked_out, 60)
    one.press("k")
    one.dialog("Add to log")
    one.type("first night\n")
    one.wait(lambda seen: len(seen.windows) == 1)
    [entry] = logged(one)
    assert entry["what_for"] == "first night"
    assert entry["drum"]["name"] == "Concert snare"  # type: ignore[index]
    one.quit()
    one.start()
    one.wait(worked_out, 60)
    assert one.drums()[0]["name"] == "Concert snare"
    assert "first night" in str(logged(one))
    one.quit()


def test_the_cards_of_an_empty_workshop_lead_where_they_say(begin: Callable[..., Stranger]) -> None:
    one = begin()
    one.wait("No drums yet")
    one.press("Enter")  # the ringed button: choose heads
    one.dialog("From file")
    one.press("Down")  # a snare drum
    one.press("Enter")
    one.wait(lambda seen: [w for w in seen.all("Use these heads", "Button") if w["enabled"]], 60)
    one.press("Ctrl+z")
    one.wait("No drums yet")
    one.click("Clear a head", "Button")
    one.dialog("From file")
    one.press("Enter")
    one.wait("Reading method")
    assert len(one.drums()) == 1
    one.quit()


def test_with_the_mouse(begin: Callable[..., Stranger]) -> None:
    one = begin()
    one.wait("No drums yet")
    one.click("Add your first drum", "Button")
    one.dialog("From file")
    one.click_row("Bass drum")
    one.click("Add drum", "Button")
    one.wait(worked_out, 60)
    one.click("Name", "Line")
    one.press("Ctrl+a")
    one.type("Pit bass\n")
    one.rest()
    assert one.drums()[0]["name"] == "Pit bass"
    one.click("Heads", "Button")
    one.wait(lambda seen: [w for w in seen.all("Use these heads", "Button") if w["enabled"]], 60)
    one.click("Use these heads", "Button")
    one.wait(worked_out, 60)
    one.click("Measure", "Button")
    one.wait("Add reading")
    choose(one, "Quantity", "whole")
    one.click("Reading", "AddLine")
    one.type("52 Hz")
    one.click("Add reading", "Button")
    one.rest()
    one.click("Log", "Button")
    one.wait(lambda seen: seen.all("Add to log (K)", "Button"))
    one.click("Add to log (K)", "Button")
    one.dialog("Add to log")
    one.type("general rehearsal")
    one.click("Add to log", "QPushButton")
    one.wait(lambda seen: len(seen.windows) == 1)
    [entry] = logged(one)
    assert entry["what_for"] == "general rehearsal"
    assert entry["readings"]
    one.quit()
