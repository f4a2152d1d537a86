"""Dates as iCalendar (RFC 5545)."""

from __future__ import annotations

import uuid
from collections import Counter
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path

from kesselton.core.fit.schedule import Date
from kesselton.store.io.atomic_file import write_file

LASTS = timedelta(minutes=15)


def calendar_text(dates: Sequence[Date], owner: str, now: datetime) -> bytes:
    """An iCalendar file with one event for each date, a reminder at its time."""
    from icalendar import Alarm, Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Kesselton//schedule//EN")
    calendar.add("version", "2.0")
    named: Counter[str] = Counter()
    for date in dates:
        event = Event()
        name = "\0".join((owner, date.key, date.at.isoformat(), date.title))
        named[name] += 1  # the same ones again when it is written again
        uid = uuid.uuid5(uuid.NAMESPACE_URL, f"{name}\0{named[name]}")
        event.add("uid", f"{uid}@kesselton")
        event.add("summary", date.title)
        event.add("description", date.text)
        event.add("dtstart", date.at)
        event.add("dtend", date.at + LASTS)
        event.add("dtstamp", now.astimezone(UTC))
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", date.title)
        alarm.add("trigger", timedelta())
        event.add_component(alarm)
        calendar.add_component(event)
    out: bytes = calendar.to_ical()
    return out


def write_calendar(path: Path, dates: Sequence[Date], owner: str, now: datetime) -> None:
    """Write the file.

    Raises
    ------
    KesseltonError
        If the place cannot be written.
    """
    write_file(path, calendar_text(dates, owner, now))
