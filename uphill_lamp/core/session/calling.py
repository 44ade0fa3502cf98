"""When the next call is, on the clock of its own zone."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from uphill_lamp.core.document.setup import Setup

WEEK = timedelta(days=7)


@dataclass(frozen=True)
class Next:
    """A call: when it begins and ends, and whether it has begun or is over at the moment that was asked about."""

    begins: datetime
    ends: datetime
    begun: bool
    over: bool

    def at(self, minutes: float) -> datetime:
        """The moment so many minutes from the start, as the clock there shows it; negative before."""
        return moment(self.begins, timedelta(minutes=minutes))


def moment(begins: datetime, away: timedelta) -> datetime:
    """A moment so far from another in real time, on the same zone's clock: over a clock change an hour is an hour."""
    utc = ZoneInfo("UTC")
    return (begins.astimezone(utc) + away).astimezone(begins.tzinfo)


def next_call(setup: Setup, now: datetime) -> Next:
    """The next call of a setup, or the one under way; of one that does not repeat and is over, that one.

    Args:
        now: with its zone.
    """
    zone, length = ZoneInfo(setup.place.timezone), timedelta(seconds=setup.place.duration_s)
    begins = setup.place.call_at.replace(tzinfo=zone)
    if setup.call.repeats == "weekly" and moment(begins, length) <= now:
        weeks = max((now - begins) // WEEK, 0)
        for count in (weeks - 1, weeks, weeks + 1, weeks + 2):  # the same hour on the clock there, whatever the season did to it
            begins = (setup.place.call_at + max(count, 0) * WEEK).replace(tzinfo=zone)
            if moment(begins, length) > now:
                break
    ends = moment(begins, length)
    return Next(begins, ends, begins <= now, ends <= now)
