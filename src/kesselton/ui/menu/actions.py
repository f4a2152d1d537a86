"""One table of actions: it makes the menus, the shortcuts and the list of shortcuts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from operator import attrgetter

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMainWindow

from kesselton.core.language import N_, _
from kesselton.ui.parts.widgets.inputs import enter_typed


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
    Spec("workshop_new", N_("Workshop"), N_("New workshop…"), "", "workshop.new"),
    Spec("workshop_open", N_("Workshop"), N_("Open workshop…"), "Ctrl+O", "workshop.open"),
    Spec("workshop_rename", N_("Workshop"), N_("Rename workshop…"), "", "workshop.rename"),
    Spec(
        "workshop_copy", N_("Workshop"), N_("Save a copy as…"), "Ctrl+Shift+S", "workshop.save_copy"
    ),
    Spec(
        "workshop_restore", N_("Workshop"), N_("Restore an earlier state…"), "", "workshop.restore"
    ),
    Spec("sheet_pdf", N_("Workshop"), N_("Tuning sheet as PDF…"), "Ctrl+E", "papers.sheet_pdf"),
    Spec("sheet_print", N_("Workshop"), N_("Print tuning sheet…"), "Ctrl+P", "papers.sheet_print"),
    Spec(
        "sheet_preview",
        N_("Workshop"),
        N_("Preview tuning sheet…"),
        "Ctrl+Shift+P",
        "papers.sheet_preview",
    ),
    Spec("heads_store", N_("Workshop"), N_("Heads in stock…"), "Ctrl+H", "workshop.stock"),
    Spec("buy_list", N_("Workshop"), N_("Buy list…"), "Ctrl+B", "workshop.buy_list"),
    Spec("due", N_("Workshop"), N_("Heads due…"), "Ctrl+Shift+B", "logs.due"),
    Spec("preferences", N_("Workshop"), N_("Preferences…"), "Ctrl+,", "view.preferences"),
    Spec("quit", N_("Workshop"), N_("Quit"), "Ctrl+Q", "close_wanted.emit"),
    Spec("undo", N_("Drum"), N_("Undo"), "Ctrl+Z", "undo"),
    Spec("redo", N_("Drum"), N_("Redo"), "Ctrl+Shift+Z", "redo"),
    Spec("drum_new", N_("Drum"), N_("Add a drum…"), "Ctrl+N", "drums.add"),
    Spec("drum_like", N_("Drum"), N_("Add a drum like this one"), "Ctrl+D", "drums.add_like"),
    Spec("drum_remove", N_("Drum"), N_("Remove this drum"), "Ctrl+Delete", "drums.remove"),
    Spec("drum_import", N_("Drum"), N_("Import drum…"), "Ctrl+I", "import_file"),
    Spec("drum_export", N_("Drum"), N_("Export drum…"), "Ctrl+Shift+E", "drums.export"),
    Spec("set_new", N_("Drum"), N_("New set of drums…"), "Ctrl+Shift+N", "sets.new"),
    Spec("keep", N_("Drum"), N_("Add to log…"), "K", "logs.keep_wanted.emit"),
    Spec("repair", N_("Drum"), N_("Stage repair"), "Insert or Ctrl+Space", "shows.repair"),
    Spec("show_new", N_("Drum"), N_("New show…"), "", "shows.new_show"),
    Spec("copy_picture", N_("Drum"), N_("Copy picture"), "Ctrl+Shift+C", "view.copy_picture"),
    Spec("copy_table", N_("Drum"), N_("Copy table"), "Ctrl+Shift+T", "view.copy_table"),
    Spec("listen", N_("Sound"), N_("Play a stroke"), "L", "sound.play"),
    Spec("listen_other", N_("Sound"), N_("Play the previous stroke"), "B", "sound.play_other"),
    Spec("hear", N_("Sound"), N_("Analyze a stroke"), "J", "sound.hear_wanted.emit"),
    Spec("heard", N_("Sound"), N_("Measured and computed…"), "Ctrl+J", "sound.heard_wanted.emit"),
    Spec("tone", N_("Sound"), N_("Reference tone…"), "Ctrl+R", "sound.reference_tone"),
    Spec("sound_save", N_("Sound"), N_("Save sound…"), "Ctrl+L", "sound.save"),
    Spec("part_shell", N_("Go to"), N_("Shell"), "Alt+1", "part_wanted.emit:shell"),
    Spec("part_batter", N_("Go to"), N_("Batter head"), "Alt+2", "part_wanted.emit:batter"),
    Spec("part_resonant", N_("Go to"), N_("Resonant head"), "Alt+3", "part_wanted.emit:resonant"),
    Spec("part_beater", N_("Go to"), N_("Beater"), "Alt+4", "part_wanted.emit:beater"),
    Spec("page_fit", N_("Go to"), N_("Fit: step by step"), "F9", "page_wanted.emit:fit"),
    Spec("page_clear", N_("Go to"), N_("Clear: round by round"), "F12", "page_wanted.emit:clear"),
    Spec(
        "page_measure",
        N_("Go to"),
        N_("Measure: enter readings"),
        "F7",
        "page_wanted.emit:measure",
    ),
    Spec("page_gauges", N_("Go to"), N_("Gauges"), "F8", "page_wanted.emit:gauges"),
    Spec(
        "page_log", N_("Go to"), N_("Log: history of this drum"), "Ctrl+K", "page_wanted.emit:log"
    ),
    Spec("page_set", N_("Go to"), N_("Set: drums played together"), "F10", "page_wanted.emit:set"),
    Spec(
        "page_practice",
        N_("Go to"),
        N_("Practice: ears and hands"),
        "Shift+F12",
        "page_wanted.emit:practice",
    ),
    Spec(
        "page_shows",
        N_("Go to"),
        N_("Shows: checklists and repairs"),
        "Shift+F9",
        "page_wanted.emit:shows",
    ),
    Spec("page_heads", N_("Go to"), N_("Heads: choose and buy"), "F5", "page_wanted.emit:heads"),
    Spec("page_tuning", N_("Go to"), N_("Tuning"), "F6", "page_wanted.emit:tuning"),
    Spec("go_to", N_("Go to"), N_("Anything…"), "Ctrl+G", "go_to_wanted.emit"),
    Spec("go_rack", N_("Go to"), N_("Drum list"), "F2", "focus_wanted.emit:rack"),
    Spec("find_drum", N_("Go to"), N_("Find a drum"), "Ctrl+F", "focus_wanted.emit:find"),
    Spec("go_section", N_("Go to"), N_("Cross section"), "F3", "focus_wanted.emit:section"),
    Spec("go_ladder", N_("Go to"), N_("Ladder"), "F4", "focus_wanted.emit:ladder"),
    Spec("metric", N_("View"), N_("Metric"), "Ctrl+M", "view.toggle:metric", "toggle"),
    Spec(
        "flats",
        N_("View"),
        N_("Use flats (D♭), not sharps (C♯)"),
        "",
        "view.toggle:flats",
        "toggle",
    ),
    Spec("drawer", N_("View"), N_("Show log sidebar"), "Ctrl+Shift+K", "logs.drawer_wanted.emit"),
    Spec("full_screen", N_("View"), N_("Full screen"), "F11", "view.full_screen"),
    Spec("theme_system", N_("View"), N_("Desktop theme"), "", "view.theme:system", "theme"),
    Spec("theme_light", N_("View"), N_("Light"), "", "view.theme:light", "theme"),
    Spec("theme_dark", N_("View"), N_("Dark"), "", "view.theme:dark", "theme"),
    Spec("handbook", N_("Help"), N_("Handbook"), "F1", "view.show_handbook"),
    Spec("shortcuts", N_("Help"), N_("Shortcuts"), "Ctrl+F1", "view.show_shortcuts"),
    Spec("about", N_("Help"), N_("About Kesselton"), "", "view.show_about"),
)

KEYS_ON_SCREEN = (
    (N_("Drum list"), N_("↑ ↓ choose a drum, Alt+↑ ↓ move it")),
    (N_("Cross section"), N_("↑ ↓ choose a part")),
    (N_("Ladder"), N_("← → batter, drum, resonant head")),
    (N_("Ladder, on a head"), N_("↑ ↓ 5 cents, Shift 1 cent, Page Up/Down half step")),
    (N_("Ladder, whole drum"), N_("↑ ↓ from partial to partial")),
    (N_("Pairs of heads"), N_("↑ ↓ choose, C add to comparison")),
    (N_("Fit"), N_("Space or footswitch: done; Backspace back, Y N answer, T timer")),
    (N_("Clear"), N_("T read, Space turned, Backspace undo, S skip rod")),
    (
        N_("Set, ladder"),
        N_("← → choose, ↑ ↓ 10 cents, Alt whole chord, H keep pitch, G play"),
    ),
    (
        N_("Practice"),
        N_("Space start and next, A again, 1–9 answer, 0 cannot tell; hands: ← → ↑ ↓ T E"),
    ),
    (N_("Stage repair"), N_("Space done, Backspace back, S skip, Y N answer, R reading method")),
    (N_("Set, from above"), N_("Page Up/Down choose a drum, arrow keys move it")),
    (N_("Fields"), N_("Enter accepts, Escape restores the last value")),
)


def build(window: QMainWindow, handlers: object) -> dict[str, QAction]:
    """Make menus and shortcuts from the table; `handlers` has a method for each."""
    actions: dict[str, QAction] = {}
    menus: dict[str, object] = {}
    group = QActionGroup(window)
    last: dict[str, str] = {}
    names = list(dict.fromkeys(spec.menu for spec in SPECS))
    titles = dict(zip(names, with_mnemonics([_(name) for name in names]), strict=True))
    texts_of = {name: [_(spec.text) for spec in SPECS if spec.menu == name] for name in names}
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
    name, _colon, word = spec.handler.partition(":")
    run: Callable[..., object] = attrgetter(name)(handlers)
    return partial(run, word) if word else run


def _do(run: Callable[[], object], enters: bool) -> None:
    """Do it, with what stands typed entered first."""
    if enters:
        enter_typed()
    run()


def shortcut_list() -> list[tuple[str, str]]:
    """Every shortcut with what it does, for the list on screen."""
    return [(spec.shortcut, _(spec.text)) for spec in SPECS if spec.shortcut]
