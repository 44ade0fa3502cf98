"""The next call on the clock of its own zone, and as a calendar's entry that two libraries read."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Any
from unittest import TestCase
from zoneinfo import ZoneInfo

import vobject
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from tests.setups import demo, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup
from uphill_lamp.core.session.calendar import calendar_of
from uphill_lamp.core.session.calling import at_once, next_call, not_held
from uphill_lamp.core.session.run_sheet import run_sheet

UTC = ZoneInfo("UTC")


class Calls(TestCase):
    def call(self, at: str, zone: str = "Europe/London", hours: float = 1.0, weekly: bool = False) -> Setup:
        return put(
            demo("kitchen-table"),
            place__call_at=at,
            place__timezone=zone,
            place__duration_s=3600 * hours,
            call__repeats="weekly" if weekly else "no",
        )

    def test_begun_over_and_across_midnight(self) -> None:
        setup, zone = self.call("2026-11-24T23:30:00"), ZoneInfo("Europe/London")
        before, within, after = (
            next_call(setup, datetime(2026, 11, day, hour, 15, tzinfo=zone)) for day, hour in ((24, 23), (25, 0), (25, 1))
        )
        self.assertEqual([(call.begun, call.over) for call in (before, within, after)], [(False, False), (True, False), (True, True)])
        self.assertEqual(before.ends, datetime(2026, 11, 25, 0, 30, tzinfo=zone))
        self.assertEqual(before.at(-30), datetime(2026, 11, 24, 23, 0, tzinfo=zone))

    def test_weekly_at_the_same_hour_over_a_clock_change(self) -> None:
        setup = self.call("2026-10-20T18:00:00", weekly=True)
        call = next_call(setup, datetime(2026, 10, 26, 12, tzinfo=UTC))
        self.assertEqual((call.begins.isoformat(), call.begun), ("2026-10-27T18:00:00+00:00", False))
        self.assertEqual(next_call(setup, datetime(2026, 10, 20, 16, 30, tzinfo=UTC)).begins.isoformat(), "2026-10-20T18:00:00+01:00")
        self.assertTrue(next_call(setup, datetime(2027, 1, 19, 18, 30, tzinfo=UTC)).begun)

    def test_an_hour_is_an_hour_in_the_night_of_the_change(self) -> None:
        setup = self.call("2026-10-25T02:30:00", hours=2)  # the clock goes back at two
        call = next_call(setup, datetime(2026, 10, 24, tzinfo=UTC))
        self.assertEqual(call.ends - call.at(-30).astimezone(UTC), timedelta(hours=2.5))
        self.assertEqual(call.at(-120).isoformat(), "2026-10-25T01:30:00+01:00")

    def test_weeks_that_fall_out_are_passed_over(self) -> None:
        out = [f"2026-12-{day:02}" for day in (22, 29)] + ["2026-12-23", "2027-01-05"]
        setup = put(self.call("2026-12-15T18:00:00", weekly=True), call__falls_out=out)
        self.assertEqual(next_call(setup, datetime(2026, 12, 16, tzinfo=UTC)).begins.date(), date(2027, 1, 12))
        self.assertEqual([begins.day for begins in not_held(setup)], [22, 29, 5])  # none is held on a Wednesday anyway
        self.assertEqual(next_call(put(setup, call__repeats="no"), datetime(2026, 12, 16, tzinfo=UTC)).begins.day, 15)

    def test_in_three_months_and_in_another_zone(self) -> None:
        call = next_call(
            self.call("2027-03-28T08:30:00", zone="Asia/Kathmandu"), datetime(2026, 11, 29, 23, tzinfo=ZoneInfo("America/Lima"))
        )
        self.assertEqual((call.begins.isoformat(), call.begun, call.over), ("2027-03-28T08:30:00+05:45", False, False))
        self.assertEqual(call.at(-30).isoformat(), "2027-03-28T08:00:00+05:45")

    def test_two_at_once(self) -> None:
        now = datetime(2026, 11, 24, 12, tzinfo=UTC)
        one, other, later = (next_call(self.call(f"2026-11-24T{at}:00", hours=1.5), now) for at in ("18:00", "19:00", "19:30"))
        self.assertEqual((at_once(one, other), at_once(one, later), at_once(other, later)), (True, False, True))
        past = next_call(self.call("2026-11-24T08:00:00"), now)
        self.assertFalse(at_once(past, past))

    @given(
        st.datetimes(datetime(2026, 1, 1), datetime(2028, 1, 1)),
        st.datetimes(datetime(2026, 1, 1), datetime(2028, 1, 1)),
        st.sampled_from(["Europe/London", "America/New_York", "Asia/Kolkata"]),
    )
    def test_a_weekly_one_is_never_over_nor_a_week_away(self, at: datetime, now: datetime, zone: str) -> None:
        call = next_call(self.call(at.replace(microsecond=0).isoformat(), zone, weekly=True), now.replace(tzinfo=UTC))
        self.assertFalse(call.over)
        first = at.replace(microsecond=0, tzinfo=ZoneInfo(zone))
        self.assertEqual(call.begins, first) if first > now.replace(tzinfo=UTC) else self.assertLessEqual(
            call.begins - now.replace(tzinfo=UTC), timedelta(days=7, hours=1)
        )
        self.assertEqual((call.begins.weekday(), call.begins.hour, call.begins.minute), (at.weekday(), at.hour, at.minute))


class Calendars(TestCase):
    def written(self, **changes: Any) -> tuple[str, Any]:
        setup = put(demo("room-that-works"), place__call_at="2026-10-20T18:00:00", place__timezone="Europe/London", **changes)
        now = datetime(2026, 10, 1, tzinfo=UTC)
        data = calendar_of(setup, next_call(setup, now), run_sheet(appraise(setup)), "setup-7", now)
        return re.sub(r"\r\n[ \t]", "", data.decode()), Calendar.from_ical(data)

    def test_it_reads_back_by_the_library_and_by_hand(self) -> None:
        text, calendar = self.written(call__repeats="weekly", name="Talk; with, odd \\ \u201cwords\u201d and BEGIN:VEVENT")
        [event] = calendar.walk("VEVENT")
        self.assertEqual(event["summary"], "Talk; with, odd \\ \u201cwords\u201d and BEGIN:VEVENT")
        self.assertEqual(event["rrule"]["freq"], ["WEEKLY"])
        self.assertIn("UID:setup-7-20261020T1800@uphill-lamp", text)
        self.assertIn("DTSTART;TZID=Europe/London:20261020T180000", text)
        self.assertEqual((text.count("\nBEGIN:VEVENT"), text.count("\nBEGIN:VALARM"), text.count("\nBEGIN:VTIMEZONE")), (1, 2, 1))
        triggers = re.findall(r"TRIGGER:-PT(\d+)M", text)
        self.assertEqual(triggers, ["30", "6"])
        self.assertTrue(all(len(line.encode()) <= 75 for line in calendar.to_ical().decode().split("\r\n")))

    def test_alarms_are_right_over_the_change_of_the_clock(self) -> None:
        """The zone that is written with it, read by hand: summer time until the 25th of October, an hour later from then on."""
        text, calendar = self.written(call__repeats="weekly")
        zone = text[text.index("BEGIN:VTIMEZONE") : text.index("END:VTIMEZONE")]
        self.assertTrue("TZOFFSETTO:+0100" in zone and "TZOFFSETTO:+0000" in zone)
        [event] = calendar.walk("VEVENT")
        begins = event["dtstart"].dt
        rung = [
            (begins.replace(tzinfo=None) + timedelta(weeks=week)).replace(tzinfo=ZoneInfo("Europe/London")).astimezone(UTC)
            - timedelta(minutes=30)
            for week in (0, 1)
        ]
        self.assertEqual([at.isoformat() for at in rung], ["2026-10-20T16:30:00+00:00", "2026-10-27T17:30:00+00:00"])

    def test_another_parser_finds_the_same_calls_and_alarms(self) -> None:
        """Read by a second library: weekly at 18:00 on the wall over the change of the clock, but for the week that falls out."""
        text, _ = self.written(call__repeats="weekly", call__falls_out=["2026-11-03"])
        event = vobject.readOne(text).vevent
        held = [begins.replace(tzinfo=ZoneInfo("Europe/London")) for begins in islice(event.getrruleset(addRDate=True), 4)]
        self.assertEqual(
            [(begins.month, begins.day, begins.hour) for begins in held], [(10, 20, 18), (10, 27, 18), (11, 10, 18), (11, 17, 18)]
        )
        before = [alarm.trigger.value for alarm in event.valarm_list]
        self.assertEqual(before, [timedelta(minutes=-30), timedelta(minutes=-6)])
        self.assertEqual([(begins.astimezone(UTC) + before[0]).hour for begins in held[:2]], [16, 17])
        self.assertIn("Wipe the lens", event.description.value)

    @given(varied_setups())
    def test_any_setup_has_one(self, setup: Setup) -> None:
        now = datetime(2026, 10, 1, tzinfo=UTC)
        data = calendar_of(setup, next_call(setup, now), run_sheet(appraise(setup)), "setup-1", now)
        self.assertEqual(len(Calendar.from_ical(data).walk("VEVENT")), 1)
