"""One table of actions: it makes the menus, the shortcuts and the list of shortcuts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMainWindow

from kesselton.ui.parts.inputs import enter_typed


@dataclass(frozen=True)
class Spec:
    """An action: where it stands, what it is called, how it is reached, what it does."""

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
    Spec("sheet_pdf", "Workshop", "Tuning sheet as PDF …", "Ctrl+E", "sheet_pdf"),
    Spec("sheet_print", "Workshop", "Print the tuning sheet …", "Ctrl+P", "sheet_print"),
    Spec("heads_store", "Workshop", "Heads in store …", "Ctrl+H", "heads_store"),
    Spec("buy_list", "Workshop", "Buy list …", "Ctrl+B", "buy_list"),
    Spec("quit", "Workshop", "Quit", "Ctrl+Q", "close"),
    Spec("undo", "Drum", "Undo", "Ctrl+Z", "undo"),
    Spec("redo", "Drum", "Redo", "Ctrl+Shift+Z", "redo"),
    Spec("drum_new", "Drum", "Add a drum …", "Ctrl+N", "add_drum"),
    Spec("drum_like", "Drum", "Add a drum like this one", "Ctrl+D", "add_like"),
    Spec("drum_remove", "Drum", "Remove this drum", "Ctrl+Delete", "remove_drum"),
    Spec("drum_import", "Drum", "Import a drum file …", "Ctrl+I", "import_drum"),
    Spec("drum_export", "Drum", "Export this drum …", "Ctrl+Shift+E", "export_drum"),
    Spec("listen", "Drum", "Listen to a stroke", "L", "listen"),
    Spec("listen_other", "Drum", "Listen to the one before", "B", "listen_other"),
    Spec("sound_save", "Drum", "Save the sound …", "Ctrl+L", "save_sound"),
    Spec("part_shell", "Go to", "Shell", "Alt+1", "part_shell"),
    Spec("part_batter", "Go to", "Batter head", "Alt+2", "part_batter"),
    Spec("part_resonant", "Go to", "Resonant head", "Alt+3", "part_resonant"),
    Spec("part_beater", "Go to", "Beater", "Alt+4", "part_beater"),
    Spec("stage_fit", "Go to", "Fit: step by step", "F9", "stage_fit"),
    Spec("stage_clear", "Go to", "Clear: round by round", "F11", "stage_clear"),
    Spec("stage_measure", "Go to", "Measure: note readings", "F7", "stage_measure"),
    Spec("stage_gauges", "Go to", "Gauges", "F8", "stage_gauges"),
    Spec("stage_heads", "Go to", "Heads: choose what to buy", "F5", "stage_heads"),
    Spec("stage_tuning", "Go to", "Tuning", "F6", "stage_tuning"),
    Spec("go_rack", "Go to", "Rack", "F2", "go_rack"),
    Spec("find_drum", "Go to", "Find a drum", "Ctrl+F", "find_drum"),
    Spec("go_section", "Go to", "Section", "F3", "go_section"),
    Spec("go_ladder", "Go to", "Ladder", "F4", "go_ladder"),
    Spec("metric", "View", "Metric", "Ctrl+M", "toggle_metric", "toggle"),
    Spec("flats", "View", "Write flats (D♭) instead of sharps (C♯)", "", "toggle_flats", "toggle"),
    Spec("theme_system", "View", "Theme of the desktop", "", "theme_system", "theme"),
    Spec("theme_light", "View", "Light", "", "theme_light", "theme"),
    Spec("theme_dark", "View", "Dark", "", "theme_dark", "theme"),
    Spec("shortcuts", "Help", "Shortcuts", "F1", "show_shortcuts"),
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
    ("Fields", "Enter takes the value, Escape brings the last one back"),
)


def build(window: QMainWindow, handlers: object) -> dict[str, QAction]:
    """Make menus and shortcuts from the table; `handlers` has a method for each."""
    actions: dict[str, QAction] = {}
    menus: dict[str, object] = {}
    group = QActionGroup(window)
    last: dict[str, str] = {}
    for spec in SPECS:
        menu = menus.get(spec.menu)
        if menu is None:
            menu = menus[spec.menu] = window.menuBar().addMenu(spec.menu)
        action = QAction(spec.text, window)
        if spec.shortcut:
            action.setShortcut(QKeySequence(spec.shortcut))
        if spec.group:
            action.setCheckable(True)
        if spec.group == "theme":
            group.addAction(action)
        handler: Callable[[], object] = getattr(handlers, spec.handler)
        enters = spec.id not in ("undo", "redo")
        action.triggered.connect(lambda checked=False, run=handler, enters=enters: _do(run, enters))
        if last.get(spec.menu) not in (None, spec.group) and spec.group == "theme":
            menu.addSeparator()  # type: ignore[attr-defined]
        last[spec.menu] = spec.group
        menu.addAction(action)  # type: ignore[attr-defined]
        actions[spec.id] = action
    return actions


def _do(run: Callable[[], object], enters: bool) -> None:
    """Do it, with what stands typed entered first."""
    if enters:
        enter_typed()
    run()


def shortcut_list() -> list[tuple[str, str]]:
    """Every shortcut with what it does, for the list on screen."""
    return [(spec.shortcut, spec.text.removesuffix(" …")) for spec in SPECS if spec.shortcut]
