"""Finding among 100,000 entries of sixty drums, beside reading them all; the time line of one."""

from __future__ import annotations

import statistics
import tempfile
import time
from dataclasses import replace
from pathlib import Path

from kesselton.core.instrument.kept import Kept
from kesselton.store.formats.log_file import as_lines, entries_of
from kesselton.store.workshop.holdings import Entry, Workshop
from kesselton.store.workshop.workshop import WorkshopFile

DRUMS, ENTRIES = 60, 100_000
REPEAT = 7


def make_logs(path: Path) -> list[Kept]:
    """A workshop of many drums with the demo's season over and over; a sample of it."""
    from kesselton.app.workshop.workshops import demo_season

    shop = demo_season()
    entries, kept = [], [entry for entry in shop.entries if entry.kept]
    for number in range(DRUMS):
        first = kept[number % len(kept)]
        drum = replace(first.drum, name=f"{first.drum.name} {number}")
        log = []
        for n in range(ENTRIES // DRUMS + 1):
            one = first.kept[n % len(first.kept)]
            day = f"{2000 + n // 360:04d}-{1 + n // 30 % 12:02d}-{1 + n % 28:02d}T10:00"
            what = f"{one.what_for} {number} {n}"
            log.append(replace(one, on=day, drum=drum, what_for=what, attached=()))
        entries.append(Entry(number + 1, drum, kept=tuple(log)))
    WorkshopFile.create(path, Workshop("large", tuple(entries), shop.library)).close()
    return list(entries[7].kept[:200])


def _median_ms(run: object) -> float:
    took = []
    for _ in range(REPEAT):
        began = time.perf_counter()
        run()  # type: ignore[operator]
        took.append(1000.0 * (time.perf_counter() - began))
    return statistics.median(took)


def log_find_figures() -> list[tuple[str, float, str, str, float]]:
    """By words that many, few and no entries have, by sound, and by case: the slowest counts."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.kesselton"
        sample = make_logs(path)
        began = time.perf_counter()
        entries_of(as_lines(sample), "x")
        all_ms = 1000.0 * (time.perf_counter() - began) * ENTRIES / len(sample)
        with WorkshopFile.open(path) as file:
            workshop = file.load()
            words = [
                _median_ms(lambda text=text: file.with_words(text))  # type: ignore[misc]
                for text in ("storm", "overture 17 1203", "kazoo", "first")
            ]
            sound = _median_ms(lambda: file.like_sound(sample[5]))
            cases = _median_ms(lambda: file.of_such_drums(sample[5].drum, 120.0))
            tail = _median_ms(lambda: file.load().entries[9].kept.last(100))  # type: ignore[attr-defined]
            whole = _median_ms(lambda: len(file.load().entries[9].kept))
        assert len(workshop.entries) == DRUMS
    against = "reading every entry"
    return [
        ("log_find_ms", max(words), "ms", against, max(words) / all_ms),
        ("log_find_sound_ms", sound, "ms", against, sound / all_ms),
        ("log_find_case_ms", cases, "ms", against, cases / all_ms),
        ("log_last_100_ms", tail, "ms", "the whole log of the drum", tail / whole),
    ]


if __name__ == "__main__":
    for row in log_find_figures():
        print(row)
