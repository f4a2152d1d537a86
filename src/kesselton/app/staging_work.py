"""Work for after the show, in words: it is kept by key."""

from __future__ import annotations

from functools import lru_cache

from kesselton.app.fitting import stage_file
from kesselton.core.fitting.procedure import bed_rods
from kesselton.core.instrument.drum import Drum
from kesselton.core.language import _
from kesselton.core.staging.repair import UNDONE, Repair

OTHER_DRUM = "other drum"
OF_WAYS = {
    "settle": "Clear the new {side_word} of the {name} in a quiet room; check after a day.",
    "return": "Return the {name} and change its head.",
}
"""What a way out leaves, where no step does."""
UNDONE_STEP = "{name}: {title}"


@lru_cache(maxsize=1)
def _texts() -> dict[str, str]:
    """By key of the work."""
    texts = dict(OF_WAYS)
    for step in stage_file()["steps"]:
        key = str(step["id"])
        if "after" in step:
            texts[key] = str(step["after"])
        texts[UNDONE + key] = UNDONE_STEP.replace("{title}", str(step["title"]))
    return texts


def work_words(repair: Repair, work: str, drum: Drum | None, other: Drum | None) -> str:
    """What is to be done on a drum, which may be gone from the workshop, or instead of it.

    A key nobody knows (of a newer program) is shown as it is.
    """
    template = _texts().get(work)
    if template is None:
        return work
    return template.format(
        name=repair.drum_name,
        side_word=_("{side} head").format(side=repair.side),
        other=OTHER_DRUM if other is None else other.name,
        bed_rods="–" if drum is None else bed_rods(drum),
    )
