"""The light of a date and of a year: against the bench's own light instant by instant, and at the calendar's odd places."""

from __future__ import annotations

import math
from datetime import date, datetime, timedelta
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import any_setup, demo, put, reference
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.light.day import DayRoom, day_of, instants_of, spans_of, year_of
from uphill_lamp.core.document import Setup, typical
from uphill_lamp.core.scene.sun import sun_positions_deg
from uphill_lamp.drawings.day import clock_changes, day_curve, spans_words, year_png

TWO_PANES = ("standing-webinar", "kitchen-table", "interview-by-phone")


def at(setup: Setup, when: datetime, sky: str) -> Setup:
    return put(setup, place__call_at=when.isoformat(), place__sky=sky)


class AgainstTheBench(TestCase):
    def agree(self, setup: Setup, when: datetime, sky: str, room: DayRoom | None = None) -> None:
        day = day_of(room or DayRoom.of(setup), when.date(), sky)
        index = day.nearest(when)
        bench = appraise(at(setup, when, sky))
        face = bench.lit_scene.face_lx
        for point, lx in zip(face.values(), day.lamps.face_lx[index], strict=True):
            self.assertAlmostEqual(lx, point, delta=max(0.04 * point, 1.0), msg=(when, sky))
        behind = bench.measures["light.separation"].value
        self.assertAlmostEqual(day.lamps.behind_stops[index], behind or 0.0, delta=0.2, msg=(when, sky))
        sun = bench.measures.get("light.direct_sun")
        self.assertEqual(day.lamps.sun_share[index], sun.value if sun else 0.0, (when, sky))

    def test_instant_by_instant_with_sky_sun_and_night(self) -> None:
        for name, desk in zip(TWO_PANES, (0.35, 0.85, 0.85), strict=True):
            setup = put(demo(name), desk__reflectance=desk)
            room = DayRoom.of(setup)
            for month, hour in ((3, 8), (6, 5), (6, 14), (9, 17), (12, 12), (12, 23)):
                for sky in ("clear", "overcast") if hour % 2 == 0 else ("partly",):
                    self.agree(setup, datetime(2026, month, 20, hour), sky, room)

    @promise(15)
    @given(
        any_setup,
        st.integers(0, 364),
        st.integers(0, 23),
        st.sampled_from(["clear", "partly", "overcast"]),
        st.sampled_from(["none", "sheer", "blind", "blackout"]),
    )
    def test_any_setup_any_time_any_covering(self, setup: Any, day: int, hour: int, sky: str, covering: str) -> None:
        changes = {f"room__windows__{window.id}__covering".replace("-", "_h_"): typical.covering(covering) for window in setup.room.windows}
        self.agree(put(setup, **changes), datetime(2026, 1, 1) + timedelta(days=day, hours=hour), sky)


class TheSun(TestCase):
    def test_many_at_once_within_a_twentieth_of_a_degree(self) -> None:
        for row in reference("sun_open")["rows"]:
            if row["apparent_elevation_deg"] < -0.8:
                continue
            instant = datetime.fromisoformat(row["local_time"])
            offset = instant.utcoffset()
            assert offset is not None
            utc = np.array([np.datetime64((instant - offset).replace(tzinfo=None))])
            rise, turn = sun_positions_deg(row["latitude_deg"], row["longitude_deg"], utc)

            def ray(rise_deg: float, turn_deg: float) -> np.ndarray:
                up, round_ = math.radians(rise_deg), math.radians(turn_deg)
                return np.array([math.cos(up) * math.sin(round_), math.cos(up) * math.cos(round_), math.sin(up)])

            off = ray(rise[0], turn[0]) - ray(row["apparent_elevation_deg"], row["azimuth_deg"])
            self.assertLess(math.degrees(float(np.linalg.norm(off))), 0.05, row["place"])


class TheCalendar(TestCase):
    def test_days_on_which_the_clock_changes(self) -> None:
        self.assertEqual([len(instants_of(date(2026, 3, day), "Europe/London")) for day in (28, 29)], [144, 138])
        self.assertEqual(len(instants_of(date(2026, 10, 25), "Europe/London")), 150)
        room = DayRoom.of(demo("kitchen-table"))
        changed, plain = (day_of(room, date(2026, 3, day), "clear") for day in (29, 28))
        self.assertTrue(clock_changes(changed))
        self.assertFalse(clock_changes(plain))
        self.assertEqual([f"{clock:%H:%M}" for clock in changed.clock[5:8]], ["00:50", "02:00", "02:10"])
        year = year_of(room, 2026, "clear")
        skipped = np.isnan(year.level_lx)
        self.assertEqual(skipped.sum(), 6)  # the hour from one to two on one day
        self.assertTrue(skipped[87, 6:12].all())

    def test_polar_night_and_polar_day(self) -> None:
        setup = put(demo("kitchen-table"), place__latitude_deg=85.0, place__longitude_deg=15.6, place__timezone="Arctic/Longyearbyen")
        room = DayRoom.of(setup)
        night, day = (day_of(room, date(2026, month, 21), "clear") for month in (12, 6))
        self.assertEqual(night.windows.level_lx.max(), 0)
        self.assertGreater(day.windows.level_lx.min(), 10)
        self.assertEqual(spans_words(night, night.dark_spans), "all day")

    @promise(12)
    @given(st.sampled_from([-90.0, -66.6, 0.0, 51.5, 90.0]), st.integers(1900, 2100), st.sampled_from(["clear", "partly", "overcast"]))
    def test_any_latitude_any_year_is_finite(self, latitude_deg: float, year: int, sky: str) -> None:
        setup = put(demo("standing-webinar"), place__latitude_deg=latitude_deg)
        day = day_of(DayRoom.of(setup), date(year, 2, 28), sky)
        for light in (day.windows, day.lamps):
            for rows in (light.face_lx, light.behind_stops, light.sun_share):
                self.assertTrue(np.isfinite(rows).all())
            self.assertGreaterEqual(light.face_lx.min(), 0)
        self.assertIn("<svg", day_curve(day))

    def test_the_first_and_the_last_year(self) -> None:
        room = DayRoom.of(demo("kitchen-table"))
        for year, days in ((1900, 365), (2000, 366), (2100, 365)):
            sheet = year_of(room, year, "overcast")
            self.assertEqual(sheet.level_lx.shape, (days, 144))
            self.assertEqual(year_png(sheet, day_of(room, date(year, 1, 1), "overcast").level)[:4], b"\x89PNG")

    def test_the_year_s_row_is_the_day_s(self) -> None:
        room = DayRoom.of(demo("standing-webinar"))
        year, day = year_of(room, 2026, "clear"), day_of(room, date(2026, 5, 20), "clear")
        np.testing.assert_allclose(year.level_lx[139], day.windows.level_lx, rtol=1e-4)
        np.testing.assert_array_equal(year.sun_share[139], day.windows.sun_share)

    def test_a_room_without_a_window_has_only_its_lamps(self) -> None:
        setup = put(demo("kitchen-table"), room__windows=[])
        day = day_of(DayRoom.of(setup), date(2026, 6, 21), "clear")
        self.assertEqual(day.windows.level_lx.max(), 0)
        self.assertEqual(len(set(day.lamps.level_lx.tolist())), 1)


class InWords(TestCase):
    def test_stretches(self) -> None:
        good = np.array([True, True, False, True, False, False, True])
        self.assertEqual([(span.first, span.last) for span in spans_of(good)], [(0, 1), (3, 3), (6, 6)])
        self.assertEqual(spans_of(np.zeros(4, dtype=bool)), [])
        day = day_of(DayRoom.of(demo("standing-webinar")), date(2026, 5, 20), "clear")
        self.assertRegex(spans_words(day, day.dark_spans), r"^until \d\d:\d\d and from \d\d:\d\d$")
        self.assertRegex(spans_words(day, day.sunny_spans), r"^\d\d:\d\d–\d\d:\d\d$")
        self.assertEqual(spans_words(day, []), "")
