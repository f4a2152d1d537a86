"""Finds entries of all logs for whoever looks."""

from __future__ import annotations

from kesselton.app.workshop.document import Document
from kesselton.app.workshop.log_entries import nearest_cases
from kesselton.core.instrument.kept import Kept
from kesselton.store.workshop.holdings import Entry
from kesselton.store.workshop.lazy_rows import last_of
from kesselton.store.workshop.log_index import Hit


class LogFinder:
    """Entries by words, by sound and by what a drum is wanted for."""

    def __init__(self, document: Document) -> None:
        self._document = document

    def words(self, words: str) -> list[Hit]:
        """Those in which every word is found, the newest first."""
        return self._document.find_kept(words)

    def sound(self, kept: Kept) -> list[tuple[Hit, float]]:
        """Those whose stroke is most like one, and how unlike they are; itself not among them."""
        results = self._document.like_sound(kept)
        return [item for item in results if item[0].on != kept.on or self.kept(item[0]) != kept]

    def kept(self, hit: Hit) -> Kept | None:
        """One that was found."""
        return self._document.entry_at(hit)

    def cases(self, entry: Entry) -> list[Hit]:
        """Those of drums like one, set for the like of what it must do, the nearest first."""
        brief, hz = entry.brief, None
        if brief is not None and brief.target == "note":
            hz = brief.fundamental_hz
        else:  # the newest entry alone is read for it
            hz = next((entry.note_hz for entry in last_of(entry.kept, 1)), None)
        return nearest_cases(self._document.past_cases(entry.drum, hz), entry, hz)
