"""One table of actions: it makes the menus, the shortcuts and the list of shortcuts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from operator import attrgetter

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMainWindow

from kesselton.ui.parts.inputs import enter_typed


@dataclass(frozen=True)
class Spec:
    """An action: where it stands, what it is called, how it is reached ("F9", or "F9 or Insert"),
    what it does."""

    id: str
    menu: str
    text: str
    shortcut: str
    handler: str
    group: str = ""


SPECS = (
    Spec("workshop_new", "Workshop", "New workshop …", "", "new_workshop"),
    Spec("workshop_open", "Workshop", "Open workshop …", "Ctrl+O", "open_workshop"),
    Spec("workshop_rename", "Workshop", "Rename the workshop …", "", "rename_workshop"),
    Spec("workshop_copy", "Workshop", "Save a copy as …", "Ctrl+Shift+S", "save_copy"),
    Spec("workshop_restore", "Workshop", "Restore an earlier state …", "", "restore"),
    Spec("sheet_pdf", "Workshop", "Tuning sheet as PDF …", "Ctrl+E", "papers.sheet_pdf"),
    Spec("sheet_print", "Workshop", "Print the tuning sheet …", "Ctrl+P", "papers.sheet_print"),
    Spec(
        "sheet_preview",
        "Workshop",
        "Preview the sheet …",
        "Ctrl+Shift+P",
        "papers.sheet_preview",
    ),
    Spec("heads_store", "Workshop", "Heads in store …", "Ctrl+H", "heads_store"),
    Spec("buy_list", "Workshop", "Buy list …", "Ctrl+B", "buy_list"),
    Spec("due", "Workshop", "Heads due …", "Ctrl+Shift+B", "logs.due"),
    Spec("preferences", "Workshop", "Preferences …", "Ctrl+,", "preferences"),
    Spec("quit", "Workshop", "Quit", "Ctrl+Q", "close"),
    Spec("undo", "Drum", "Undo", "Ctrl+Z", "undo"),
    Spec("redo", "Drum", "Redo", "Ctrl+Shift+Z", "redo"),
    Spec("drum_new", "Drum", "Add a drum …", "Ctrl+N", "add_drum"),
    Spec("drum_like", "Drum", "Add a drum like this one", "Ctrl+D", "add_like"),
    Spec("drum_remove", "Drum", "Remove this drum", "Ctrl+Delete", "remove_drum"),
    Spec("drum_import", "Drum", "Import a drum file …", "Ctrl+I", "import_drum"),
    Spec("drum_export", "Drum", "Export this drum …", "Ctrl+Shift+E", "export_drum"),
    Spec("set_new", "Drum", "New set of drums …", "Ctrl+Shift+N", "sets.new"),
    Spec("keep", "Drum", "Keep this …", "K", "logs.keep"),
    Spec("repair", "Drum", "Repair on stage", "Insert or Ctrl+Space", "staging.repair"),
    Spec("show_new", "Drum", "New show …", "", "staging.new_show"),
    Spec("copy_picture", "Drum", "Copy as a picture", "Ctrl+Shift+C", "copy_picture"),
    Spec("copy_table", "Drum", "Copy as a table", "Ctrl+Shift+T", "copy_table"),
    Spec("listen", "Sound", "Listen to a stroke", "L", "listen"),
    Spec("listen_other", "Sound", "Listen to the one before", "B", "listen_other"),
    Spec("hear", "Sound", "Hear a stroke on this drum", "J", "hear"),
    Spec("heard", "Sound", "Heard and computed …", "Ctrl+J", "show_heard"),
    Spec("tone", "Sound", "Reference tone …", "Ctrl+R", "reference_tone"),
    Spec("sound_save", "Sound", "Save the sound …", "Ctrl+L", "save_sound"),
    Spec("part_shell", "Go to", "Shell", "Alt+1", "part:shell"),
    Spec("part_batter", "Go to", "Batter head", "Alt+2", "part:batter"),
    Spec("part_resonant", "Go to", "Resonant head", "Alt+3", "part:resonant"),
    Spec("part_beater", "Go to", "Beater", "Alt+4", "part:beater"),
    Spec("stage_fit", "Go to", "Fit: step by step", "F9", "stage:fit"),
    Spec("stage_clear", "Go to", "Clear: round by round", "F12", "stage:clear"),
    Spec("stage_measure", "Go to", "Measure: note readings", "F7", "stage:measure"),
    Spec("stage_gauges", "Go to", "Gauges", "F8", "stage:gauges"),
    Spec("stage_log", "Go to", "What was kept: the log", "Ctrl+K", "stage:log"),
    Spec("stage_set", "Go to", "Set: drums played together", "F10", "stage:set"),
    Spec("stage_practice", "Go to", "Practice: ears and hands", "Shift+F12", "stage:practice"),
    Spec("stage_staging", "Go to", "Stage: shows and repairs", "Shift+F9", "stage:staging"),
    Spec("stage_heads", "Go to", "Heads: choose what to buy", "F5", "stage:heads"),
    Spec("stage_tuning", "Go to", "Tuning", "F6", "stage:tuning"),
    Spec("go_rack", "Go to", "Rack", "F2", "focus:rack"),
    Spec("find_drum", "Go to", "Find a drum", "Ctrl+F", "focus:find"),
    Spec("go_section", "Go to", "Section", "F3", "focus:section"),
    Spec("go_ladder", "Go to", "Ladder", "F4", "focus:ladder"),
    Spec("metric", "View", "Metric", "Ctrl+M", "toggle:metric", "toggle"),
    Spec("flats", "View", "Write flats (D♭) instead of sharps (C♯)", "", "toggle:flats", "toggle"),
    Spec("drawer", "View", "Log beside the stage", "Ctrl+Shift+K", "logs.drawer"),
    Spec("full_screen", "View", "Full screen", "F11", "full_screen"),
    Spec("theme_system", "View", "Theme of the desktop", "", "theme:system", "theme"),
    Spec("theme_light", "View", "Light", "", "theme:light", "theme"),
    Spec("theme_dark", "View", "Dark", "", "theme:dark", "theme"),
    Spec("handbook", "Help", "Handbook", "F1", "show_handbook"),
    Spec("shortcuts", "Help", "Keys", "Ctrl+F1", "show_shortcuts"),
    Spec("about", "Help", "About Kesselton", "", "show_about"),
)

KEYS_ON_SCREEN = (
    ("Rack", "↑ ↓ choose a drum, Alt+↑ ↓ move it"),
    ("Section", "↑ ↓ choose a part"),
    ("Ladder", "← → batter, whole drum, resonant head"),
    ("Ladder, on a head", "↑ ↓ 5 cents, with Shift 1 cent, Page up and down a half step"),
    ("Ladder, whole drum", "↑ ↓ from rung to rung"),
    ("Pairs of heads", "↑ ↓ choose, C mark for comparison"),
    ("Fit", "Space or any foot-switch key for done, Backspace back, Y N answer, T time"),
    ("Clear", "T read, Space turned, Backspace wrong tap, S skip the rod"),
    (
        "Set, ladder",
        "← → choose, ↑ ↓ 10 cents, with Alt the whole chord, H hold the note, G listen",
    ),
    (
        "Practice",
        "Space begin and next, A again, 1 to 9 answer, 0 cannot tell; ← → ↑ ↓ T E with the hands",
    ),
    ("Stage, in the night", "Space done, Backspace back, S skip, Y N answer, R how rods are read"),
    ("Set, from above", "arrow keys move the drum, Page up and down choose one"),
    ("Fields", "Enter takes the value, Escape brings the last one back"),
)


def build(window: QMainWindow, handlers: object) -> dict[str, QAction]:
    """Make menus and shortcuts from the table; `handlers` has a method for each."""
    actions: dict[str, QAction] = {}
    menus: dict[str, object] = {}
    group = QActionGroup(window)
    last: dict[str, str] = {}
    taken: dict[str, set[str]] = {}
    for spec in SPECS:
        menu = menus.get(spec.menu)
        if menu is None:
            menu = menus[spec.menu] = window.menuBar().addMenu(
                with_mnemonic(spec.menu, taken.setdefault("", set()))
            )
        action = QAction(with_mnemonic(spec.text, taken.setdefault(spec.menu, set())), window)
        if spec.shortcut:
            action.setShortcuts([QKeySequence(keys) for keys in spec.shortcut.split(" or ")])
        if spec.group:
            action.setCheckable(True)
        if spec.group == "theme":
            group.addAction(action)
        handler = handler_of(handlers, spec)
        enters = spec.id not in ("undo", "redo")
        action.triggered.connect(lambda checked=False, run=handler, enters=enters: _do(run, enters))
        if last.get(spec.menu) not in (None, spec.group) and spec.group == "theme":
            menu.addSeparator()  # type: ignore[attr-defined]
        last[spec.menu] = spec.group
        menu.addAction(action)  # type: ignore[attr-defined]
        actions[spec.id] = action
    return actions


def with_mnemonic(text: str, taken: set[str]) -> str:
    """The text with a letter marked that no other of its menu has: of a first word if there is one.

    Ampersands of the text are kept as they are.
    """
    text = text.replace("&", "&&")
    starts = [0, *(i + 1 for i, sign in enumerate(text) if sign == " ")]
    for place in (*starts, *range(len(text))):
        letter = text[place : place + 1].casefold()
        if letter.isalpha() and letter.isascii() and letter not in taken:
            taken.add(letter)
            return f"{text[:place]}&{text[place:]}"
    return text


def handler_of(handlers: object, spec: Spec) -> Callable[[], object]:
    """What an action calls: a method of the handlers, with the word after a colon."""
    name, _, word = spec.handler.partition(":")
    run: Callable[..., object] = attrgetter(name)(handlers)
    return partial(run, word) if word else run


def _do(run: Callable[[], object], enters: bool) -> None:
    """Do it, with what stands typed entered first."""
    if enters:
        enter_typed()
    run()


def shortcut_list() -> list[tuple[str, str]]:
    """Every shortcut with what it does, for the list on screen."""
    return [(spec.shortcut, spec.text.removesuffix(" …")) for spec in SPECS if spec.shortcut]
