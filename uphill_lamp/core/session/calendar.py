"""The next call as a calendar's entry with alarms (RFC 5545), for any program that keeps one."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta

from icalendar import Alarm, Calendar, Event

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.readiness.line import Line
from uphill_lamp.core.session.calling import Next, not_held

PRODUCT = "-//Uphill Lamp//Run sheet//EN"
TRY_MIN = -6.0


def calendar_of(setup: Setup, call: Next, lines: Iterable[Line], setup_id: str, now: datetime) -> bytes:
    """A calendar with this call alone: in its own zone, which is written out with it, repeated weekly if the call is but for weeks that fall out,
    with the run sheet as its text.

    Alarms ring when the first line is due, and when it is tried.

    Args:
        setup_id: what tells this setup from all others, for the entry to be found again and replaced.
        now: when it is written.
    """
    before = [line for line in lines if line.at_min < 0]
    calendar, event = Calendar(), Event()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    event.add("uid", f"{setup_id}-{setup.place.call_at:%Y%m%dT%H%M}@uphill-lamp")
    event.add("dtstamp", now)
    event.add("dtstart", call.begins)  # where it repeats, the first that is still to come
    event.add("dtend", call.ends)
    event.add("summary", setup.name)
    event.add("description", "\n".join(f"{call.at(line.at_min):%H:%M} {line.words}." for line in before))
    if setup.call.repeats == "weekly":
        event.add("rrule", {"freq": "weekly"})
        for begins in not_held(setup):
            event.add("exdate", begins)
    for at_min, words in (
        (min((line.at_min for line in before), default=TRY_MIN), "Begin the run sheet"),
        (TRY_MIN, "Tap the microphone, and take ten seconds"),
    ):
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"{words}: {setup.name}")
        alarm.add("trigger", timedelta(minutes=at_min))
        event.add_component(alarm)
    calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())
