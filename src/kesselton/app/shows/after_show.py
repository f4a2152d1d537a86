"""Work for after the show, in words: it is kept by key."""

from __future__ import annotations

from functools import lru_cache

from kesselton.app.bench.fitting import stage_file
from kesselton.core.fit.procedure import bed_rods
from kesselton.core.instrument.drum import Drum, head_of
from kesselton.core.language import N_, _
from kesselton.core.shows.repair import UNDONE, Repair

OTHER_DRUM = N_("other drum")
OF_WAYS = {
    "settle": N_("Clear the new {side_word} of the {name} in a quiet room; check after a day."),
    "broken_left": N_("Repair the {name}."),
    "return": N_("Return the {name} and change its head."),
}
"""What a way out leaves, where no step does."""
UNDONE_STEP = N_("{name}: {title}")


@lru_cache(maxsize=1)
def _texts() -> dict[str, str]:
    """By key of the work."""
    texts = dict(OF_WAYS)
    for step in stage_file()["steps"]:
        key = str(step["id"])
        if "after" in step:
            texts[key] = str(step["after"])
        texts[UNDONE + key] = str(step["title"])
    return texts


def work_words(repair: Repair, work: str, drum: Drum | None, other: Drum | None) -> str:
    """What is to be done on a drum, which may be gone from the workshop, or instead of it.

    A key nobody knows (of a newer program) is shown as it is.
    """
    template = _texts().get(work)
    if template is None:
        return work
    words = _(template).format(
        name=repair.drum_name,
        side_word=head_of(repair.side),
        other=_(OTHER_DRUM) if other is None else other.name,
        bed_rods="–" if drum is None else bed_rods(drum),
    )
    if not work.startswith(UNDONE):
        return words
    return _(UNDONE_STEP).format(name=repair.drum_name, title=words)
