"""What the list of everything holds: pages and actions, drums, heads, entries of logs."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from kesselton.app.workshop.log_search import LogFinder
from kesselton.core.language import _
from kesselton.ui.dialogs.go_to import Place
from kesselton.ui.menu.actions import SPECS
from kesselton.ui.parts.words import wording

if TYPE_CHECKING:
    from kesselton.store.workshop.log_index import Hit
    from kesselton.ui.window.main_window import MainWindow

MOST_ENTRIES = 20


def places(window: MainWindow) -> list[Place]:
    """Drums first, then pages and actions as the menus have them, then heads."""
    document, metric = window.document, window.settings.metric
    out = [
        Place(
            f"drum:{entry.id}",
            entry.drum.name,
            _("drum, {size}").format(size=wording.size_words(entry.drum, metric)),
            partial(document.select, entry.id),
        )
        for entry in document.workshop.entries
    ]
    for spec in SPECS:
        action = window.actions_by_id[spec.id]
        if spec.id != "go_to" and action.isEnabled():
            label = _(spec.text).removesuffix("…")
            out.append(Place(spec.id, label, _(spec.menu), action.trigger, spec.shortcut))
    if document.drum is not None:
        out += _heads(window)
    return out


def _heads(window: MainWindow) -> list[Place]:
    from kesselton.app.workshop.head_stock import shipped_heads

    names = dict.fromkeys(
        head.name for head in (*shipped_heads(), *window.document.workshop.own_heads)
    )
    return [
        Place(
            f"head:{name}", _(name), _("head: search pairs with it"), partial(_look, window, name)
        )
        for name in names
    ]


def _look(window: MainWindow, name: str) -> None:
    window.choose_page("heads")
    window.pages.heads.form.search.setText(name)


def entries_with(window: MainWindow, words: str) -> list[Place]:
    """Entries of all logs in which every word stands, the newest first."""
    names = {entry.id: entry.drum.name for entry in window.document.workshop.entries}
    return [
        Place(
            f"entry:{hit.drum_id}:{hit.on}",
            f"{hit.on[:10]}  {names.get(hit.drum_id, '')}: {hit.title}",
            _("log entry"),
            partial(_show, window, hit),
        )
        for hit in LogFinder(window.document).words(words)[:MOST_ENTRIES]
    ]


def _show(window: MainWindow, hit: Hit) -> None:
    window.document.select(hit.drum_id)
    window.choose_page("log")
    window.pages.log.show_hit(hit)
