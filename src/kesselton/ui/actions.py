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
    Spec("workshop_new", "Workshop", "New workshop…", "", "new_workshop"),
    Spec("workshop_open", "Workshop", "Open workshop…", "Ctrl+O", "open_workshop"),
    Spec("workshop_rename", "Workshop", "Rename workshop…", "", "rename_workshop"),
    Spec("workshop_copy", "Workshop", "Save a copy as…", "Ctrl+Shift+S", "save_copy"),
    Spec("workshop_restore", "Workshop", "Restore an earlier state…", "", "restore"),
    Spec("sheet_pdf", "Workshop", "Tuning sheet as PDF…", "Ctrl+E", "papers.sheet_pdf"),
    Spec("sheet_print", "Workshop", "Print tuning sheet…", "Ctrl+P", "papers.sheet_print"),
    Spec(
        "sheet_preview",
        "Workshop",
        "Preview tuning sheet…",
        "Ctrl+Shift+P",
        "papers.sheet_preview",
    ),
    Spec("heads_store", "Workshop", "Heads in stock…", "Ctrl+H", "heads_store"),
    Spec("buy_list", "Workshop", "Buy list…", "Ctrl+B", "buy_list"),
    Spec("due", "Workshop", "Heads due…", "Ctrl+Shift+B", "logs.due"),
    Spec("preferences", "Workshop", "Preferences…", "Ctrl+,", "preferences"),
    Spec("quit", "Workshop", "Quit", "Ctrl+Q", "close"),
    Spec("undo", "Drum", "Undo", "Ctrl+Z", "undo"),
    Spec("redo", "Drum", "Redo", "Ctrl+Shift+Z", "redo"),
    Spec("drum_new", "Drum", "Add a drum…", "Ctrl+N", "add_drum"),
    Spec("drum_like", "Drum", "Add a drum like this one", "Ctrl+D", "add_like"),
    Spec("drum_remove", "Drum", "Remove this drum", "Ctrl+Delete", "remove_drum"),
    Spec("drum_import", "Drum", "Import drum…", "Ctrl+I", "import_drum"),
    Spec("drum_export", "Drum", "Export drum…", "Ctrl+Shift+E", "export_drum"),
    Spec("set_new", "Drum", "New set of drums…", "Ctrl+Shift+N", "sets.new"),
    Spec("keep", "Drum", "Add to log…", "K", "logs.keep"),
    Spec("repair", "Drum", "Stage repair", "Insert or Ctrl+Space", "staging.repair"),
    Spec("show_new", "Drum", "New show…", "", "staging.new_show"),
    Spec("copy_picture", "Drum", "Copy picture", "Ctrl+Shift+C", "copy_picture"),
    Spec("copy_table", "Drum", "Copy table", "Ctrl+Shift+T", "copy_table"),
    Spec("listen", "Sound", "Play a stroke", "L", "listen"),
    Spec("listen_other", "Sound", "Play the previous stroke", "B", "listen_other"),
    Spec("hear", "Sound", "Analyze a stroke", "J", "hear"),
    Spec("heard", "Sound", "Measured and computed…", "Ctrl+J", "show_heard"),
    Spec("tone", "Sound", "Reference tone…", "Ctrl+R", "reference_tone"),
    Spec("sound_save", "Sound", "Save sound…", "Ctrl+L", "save_sound"),
    Spec("part_shell", "Go to", "Shell", "Alt+1", "part:shell"),
    Spec("part_batter", "Go to", "Batter head", "Alt+2", "part:batter"),
    Spec("part_resonant", "Go to", "Resonant head", "Alt+3", "part:resonant"),
    Spec("part_beater", "Go to", "Beater", "Alt+4", "part:beater"),
    Spec("stage_fit", "Go to", "Fit: step by step", "F9", "stage:fit"),
    Spec("stage_clear", "Go to", "Clear: round by round", "F12", "stage:clear"),
    Spec("stage_measure", "Go to", "Measure: enter readings", "F7", "stage:measure"),
    Spec("stage_gauges", "Go to", "Gauges", "F8", "stage:gauges"),
    Spec("stage_log", "Go to", "Log: history of this drum", "Ctrl+K", "stage:log"),
    Spec("stage_set", "Go to", "Set: drums played together", "F10", "stage:set"),
    Spec("stage_practice", "Go to", "Practice: ears and hands", "Shift+F12", "stage:practice"),
    Spec("stage_staging", "Go to", "Shows: checklists and repairs", "Shift+F9", "stage:staging"),
    Spec("stage_heads", "Go to", "Heads: choose and buy", "F5", "stage:heads"),
    Spec("stage_tuning", "Go to", "Tuning", "F6", "stage:tuning"),
    Spec("go_rack", "Go to", "Drum list", "F2", "focus:rack"),
    Spec("find_drum", "Go to", "Find a drum", "Ctrl+F", "focus:find"),
    Spec("go_section", "Go to", "Cross section", "F3", "focus:section"),
    Spec("go_ladder", "Go to", "Ladder", "F4", "focus:ladder"),
    Spec("metric", "View", "Metric", "Ctrl+M", "toggle:metric", "toggle"),
    Spec("flats", "View", "Use flats (D♭), not sharps (C♯)", "", "toggle:flats", "toggle"),
    Spec("drawer", "View", "Show log sidebar", "Ctrl+Shift+K", "logs.drawer"),
    Spec("full_screen", "View", "Full screen", "F11", "full_screen"),
    Spec("theme_system", "View", "Desktop theme", "", "theme:system", "theme"),
    Spec("theme_light", "View", "Light", "", "theme:light", "theme"),
    Spec("theme_dark", "View", "Dark", "", "theme:dark", "theme"),
    Spec("handbook", "Help", "Handbook", "F1", "show_handbook"),
    Spec("shortcuts", "Help", "Shortcuts", "Ctrl+F1", "show_shortcuts"),
    Spec("about", "Help", "About Kesselton", "", "show_about"),
)

KEYS_ON_SCREEN = (
    ("Drum list", "↑ ↓ choose a drum, Alt+↑ ↓ move it"),
    ("Cross section", "↑ ↓ choose a part"),
    ("Ladder", "← → batter, drum, resonant head"),
    ("Ladder, on a head", "↑ ↓ 5 cents, Shift 1 cent, Page Up/Down half step"),
    ("Ladder, whole drum", "↑ ↓ from partial to partial"),
    ("Pairs of heads", "↑ ↓ choose, C add to comparison"),
    ("Fit", "Space or footswitch: done; Backspace back, Y N answer, T timer"),
    ("Clear", "T read, Space turned, Backspace undo, S skip rod"),
    (
        "Set, ladder",
        "← → choose, ↑ ↓ 10 cents, Alt whole chord, H keep pitch, G play",
    ),
    (
        "Practice",
        "Space start and next, A again, 1–9 answer, 0 cannot tell; hands: ← → ↑ ↓ T E",
    ),
    ("Stage repair", "Space done, Backspace back, S skip, Y N answer, R reading method"),
    ("Set, from above", "Page Up/Down choose a drum, arrow keys move it"),
    ("Fields", "Enter accepts, Escape restores the last value"),
)


def build(window: QMainWindow, handlers: object) -> dict[str, QAction]:
    """Make menus and shortcuts from the table; `handlers` has a method for each."""
    actions: dict[str, QAction] = {}
    menus: dict[str, object] = {}
    group = QActionGroup(window)
    last: dict[str, str] = {}
    names = list(dict.fromkeys(spec.menu for spec in SPECS))
    titles = dict(zip(names, with_mnemonics(names), strict=True))
    texts_of = {name: [spec.text for spec in SPECS if spec.menu == name] for name in names}
    entries = {name: iter(with_mnemonics(texts_of[name])) for name in names}
    for spec in SPECS:
        menu = menus.get(spec.menu)
        if menu is None:
            menu = menus[spec.menu] = window.menuBar().addMenu(titles[spec.menu])
        action = QAction(next(entries[spec.menu]), window)
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


def with_mnemonics(texts: list[str]) -> list[str]:
    """Texts of one menu, in each a letter marked that no other has: the beginning of a word where
    that can be. Letters are given away so that every text gets one if it is possible at all.

    Ampersands of a text are kept as they are.
    """
    plain = [text.replace("&", "&&") for text in texts]
    places = [_places(text) for text in plain]
    holder: dict[str, int] = {}

    def give(number: int, tried: set[str]) -> bool:
        for letter in places[number]:
            if letter not in tried:
                tried.add(letter)
                if letter not in holder or give(holder[letter], tried):
                    holder[letter] = number
                    return True
        return False

    for number, own in enumerate(places):
        free = next((letter for letter in own if letter not in holder), None)
        if free is not None:
            holder[free] = number
    for number in range(len(plain)):
        if number not in holder.values():
            give(number, set())
    for letter, number in holder.items():
        text, place = plain[number], places[number][letter]
        plain[number] = f"{text[:place]}&{text[place:]}"
    return plain


def _places(text: str) -> dict[str, int]:
    """Where each letter of a text can be marked, beginnings of words first."""
    starts = [0, *(i + 1 for i, sign in enumerate(text) if sign == " ")]
    out: dict[str, int] = {}
    for place in (*starts, *range(len(text))):
        letter = text[place : place + 1].casefold()
        if letter.isalpha() and letter.isascii():
            out.setdefault(letter, place)
    return out


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
