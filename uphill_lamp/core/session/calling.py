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
    """The next call of a setup, or the one under way; of one that does not repeat and is over, that one. Weeks that fall out are passed over.

    Args:
        now: with its zone.
    """
    zone, length = ZoneInfo(setup.place.timezone), timedelta(seconds=setup.place.duration_s)
    begins = setup.place.call_at.replace(tzinfo=zone)
    if setup.call.repeats == "weekly":
        weeks = max((now - begins) // WEEK - 1, 0)
        for count in range(weeks, weeks + 3 + len(setup.call.falls_out)):  # the same hour on the clock there, whatever the season did to it
            begins = (setup.place.call_at + count * WEEK).replace(tzinfo=zone)
            if moment(begins, length) > now and begins.date() not in setup.call.falls_out:
                break
    ends = moment(begins, length)
    return Next(begins, ends, begins <= now, ends <= now)


def not_held(setup: Setup) -> tuple[datetime, ...]:
    """The calls of a weekly one that fall out, as the clock there shows them; days on which there would be none are left out."""
    first, zone = setup.place.call_at, ZoneInfo(setup.place.timezone)
    days = sorted(day for day in setup.call.falls_out if day >= first.date() and (day - first.date()).days % 7 == 0)
    return tuple(datetime.combine(day, first.time(), zone) for day in days)


def at_once(one: Next, other: Next) -> bool:
    """Whether two calls that are not over fall together."""
    return not one.over and not other.over and one.begins < other.ends and other.begins < one.ends
