"""Makes the weeks of practice in the demo workshop: simulated listeners who get better."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from kesselton.core.practice.exercises import EXERCISES
from kesselton.core.practice.pupil import RIGHT, UNSURE, WRONG, Trial
from kesselton.core.practice.threshold import Quest, right_share

DEMO = Path(__file__).parents[1] / "src/kesselton/resources/demo/tern-island-opera.json"
PEOPLE = (("Apprentice", 11, 1.0, 9), ("Second technician", 12, 0.45, 5))
"""Invented: name, seed, how coarse at first over the usual, weeks."""
WORKED = ("same", "higher", "third", "tone", "clear", "heads", "plies", "hoop")
ANSWERS = 14


def person(name: str, seed: int, coarse: float, weeks: int) -> dict[str, Any]:
    """Sessions of a listener whose thresholds fall week by week."""
    rng = np.random.default_rng(seed)
    begun = datetime(2026, 9, 14, 17, 30)
    sessions = []
    for week in range(weeks):
        for number, key in enumerate(WORKED[: 3 + week]):
            one = EXERCISES[key]
            on = begun + timedelta(days=7 * week + number % 5, minutes=3 * number)
            better = 0.88**week
            trials: list[Trial] = []
            quest = None if one.scale is None else Quest(one.scale)
            for _ in range(ANSWERS):
                if quest is None or one.scale is None:
                    outcome = RIGHT if rng.random() < 1.0 - 0.45 * better * coarse else WRONG
                    trials.append(Trial(1.0, outcome))
                    continue
                level = round(quest.next_level(), 2)
                share = right_share(level, one.scale.start * coarse * better, one.scale.guess)
                wrong = UNSURE if rng.random() < 0.4 else WRONG
                trials.append(Trial(level, RIGHT if rng.random() < share else wrong))
                quest.add(trials[-1])
            found = None if quest is None else quest.estimate()
            sessions.append({
                "exercise": key, "on": on.isoformat(), "seed": int(rng.integers(2**31)),
                "seconds": round(7.5 * ANSWERS + 20 * rng.random()),
                "trials": [{"level": t.level, "outcome": t.outcome} for t in trials],
                **({} if found is None else {
                    "threshold": round(found.threshold, 2), "low": round(found.low, 2),
                    "high": round(found.high, 2),
                }),
            })  # fmt: skip
    sessions.sort(key=lambda one: str(one["on"]))
    return {"name": name, "sessions": sessions}


if __name__ == "__main__":
    data = json.loads(DEMO.read_text(encoding="utf-8"))
    data["pupils"] = [person(*one) for one in PEOPLE]
    DEMO.write_text(json.dumps(data, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
