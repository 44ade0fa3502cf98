"""Before, at and after a call: figures worked by hand, run sheets of all setups, marks, what a log teaches, readiness in the score."""

from __future__ import annotations

import re
from datetime import date
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_method import limits, table
from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Refused, Setup
from uphill_lamp.core.document.patch import value_at
from uphill_lamp.core.readiness import budgets as figures
from uphill_lamp.core.readiness.budgets import BANDS, RATES_MBIT_S, TALKING_HEAD, budgets, line_moves, sent_mbit_s
from uphill_lamp.core.readiness.line import ORDER, Line
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.session.learning import Use, keeps_going_wrong, never_used, ready_lately_min, times_s
from uphill_lamp.core.session.putting_back import by_hand, to_put_back
from uphill_lamp.core.session.raised import raised
from uphill_lamp.core.session.run_sheet import ready_min, run_sheet
from uphill_lamp.core.session.settings_card import settings
from uphill_lamp.core.steps.score_cache import ScoreCache


def rigged(setup: Setup, *rigs: dict[str, Any], **session: Any) -> Setup:
    return put(setup, session=setup.session.model_dump(mode="json") | session | {"rigs": list(rigs)})


def budgets_of(setup: Setup, ready_min: float = 0.0) -> tuple[figures.Budget, ...]:
    return budgets(setup, figures.is_grainy(appraise(setup).measures), ready_min)


def lines_of(setup: Setup) -> dict[str, Line]:
    return {line.id: line for line in run_sheet(appraise(setup))}


class Figures(TestCase):
    def test_tables_are_those_of_the_page(self) -> None:
        head, rows = "| codec ", {}
        for codec, *rates in table("go.md", head):
            rows[codec] = [float(rate) for rate in rates]
        self.assertEqual([list(rates) for rates in zip(*RATES_MBIT_S.values(), strict=True)], [rows["newer"], rows["older"]])
        bands = {name: (*limits(ideal, {}), *limits(outer, {})) for name, _, ideal, outer in table("go.md", "| figure ")}
        self.assertEqual({name: (band.ideal_low, band.ideal_high, band.outer_low, band.outer_high) for name, band in BANDS.items()}, bands)

    def test_by_hand(self) -> None:
        """Worked on paper: 8 Mbit/s of a talking head are 5.6, 42 MB a minute; 64 GB last 57.6 GB of it."""
        rate = figures.recorded_mbit_s(1920, 1080, 30, "newer", grainy=False)
        self.assertAlmostEqual(rate, 5.6)
        self.assertAlmostEqual(figures.recorded_mbit_s(1920, 1080, 30, "newer", grainy=True), 8.4)
        self.assertAlmostEqual(figures.recorded_mbit_s(640, 360, 30, "older", grainy=False), 8 * 0.7 / 4)
        self.assertAlmostEqual(figures.mb_a_minute(rate), 42)
        self.assertAlmostEqual(figures.minutes_of(64, rate), 57_600 / 42)
        self.assertAlmostEqual(figures.uploaded_min(2520, 8) or 0, 52.5)
        self.assertIsNone(figures.uploaded_min(2520, 0))
        self.assertAlmostEqual(figures.battery_min(15, 2.5, cold=False), 306)
        self.assertAlmostEqual(figures.battery_min(15, 2.5, cold=True), 244.8)
        self.assertEqual(figures.battery_min(0, 2.5, cold=False), 0)

    @given(st.integers(160, 8000), st.integers(120, 8000), st.floats(5, 240), st.sampled_from(["newer", "older"]))
    def test_more_pixels_never_take_less(self, wide: int, high: int, fps: float, codec: str) -> None:
        rate = figures.recorded_mbit_s(wide, high, fps, codec, False)
        self.assertGreater(rate, 0)
        self.assertGreaterEqual(figures.recorded_mbit_s(wide, high, fps * 1.1, codec, False), rate)
        self.assertGreaterEqual(
            figures.recorded_mbit_s(wide, high, fps, "older", False), figures.recorded_mbit_s(wide, high, fps, "newer", False)
        )

    def test_a_recording_of_an_hour(self) -> None:
        kept = put(demo("room-that-works"), call__recording=True, place__duration_s=3600.0)
        there = {budget.id: budget for budget in budgets_of((rigged(kept, free_gb=8.0)), 4.0)}
        rate = TALKING_HEAD * 8.0
        self.assertAlmostEqual(there["go.storage"].value or 0, 0.9 * 8 * 8000 / (60 * rate) / 65)
        self.assertIn("a minute takes 42 mb", there["go.storage"].words.lower())
        self.assertIn(f"takes some {42 * 60 / (6 * kept.call.upload_mbit_s):.0f} min of your line", there["go.storage"].words)
        self.assertEqual(there["go.ready"].value, 4.0)
        ends = rigged(kept, free_gb=0.0, files_end_at_4_gib=True, codec="older")
        [space] = [budget for budget in budgets_of(ends, 0.0) if budget.id == "go.storage"]
        self.assertEqual(space.value, 0)
        self.assertIn("ends by itself after 48 min", space.words)  # 4295 MB at 89.25 MB a minute
        self.assertNotIn("go.storage", {budget.id for budget in budgets_of(demo("kitchen-table"), 0.0)})
        self.assertIsNone({budget.id: budget for budget in budgets_of(kept, 0.0)}["go.storage"].value)

    def test_twelve_hours_of_the_largest_picture(self) -> None:
        """23 Mbit/s of a talking head are 16.1, 120.75 MB a minute, 86.9 GB in 12 h; 500 GB last 62 h."""
        large = {f"cameras__{demo('room-that-works').main_camera.id.replace('-', '_h_')}__output_{name}_px": size
                 for name, size in (("width", 3840), ("height", 2160))}  # fmt: skip
        setup = put(demo("room-that-works"), call__use="recorded", place__duration_s=43_200.0, call__kept_on="camera", **large)
        [space] = [
            budget for budget in budgets(rigged(setup, free_gb=500.0, camera_ends_after_min=30.0), False, 0.0) if budget.id == "go.storage"
        ]
        self.assertIn("A minute takes 121 MB, the whole with takes to try 87.5 GB", space.words)
        self.assertIn("ends by itself after 30 min", space.words)
        self.assertAlmostEqual(space.value or 0, 0.9 * 500_000 / 120.75 / 725, places=6)

    def test_the_line_and_what_is_taken_off_it(self) -> None:
        setup = put(demo("standing-webinar"), call__use="live", call__slides="beside", call__upload_mbit_s=5.0)
        self.assertAlmostEqual(sent_mbit_s(setup), 0.1 + 3.5 + 0.8)
        self.assertAlmostEqual(sent_mbit_s(put(setup, call__picture=False)), 0.9)
        self.assertAlmostEqual(sent_mbit_s(put(setup, call__use="audience")), 0.1 + 6.0 + 0.8)
        self.assertEqual(sent_mbit_s(put(setup, call__use="recorded")), 0)
        moves = line_moves(rigged(setup, others_mbit_s=1.0))
        order = ("720 lines", "360 lines", "others at home", "cable", "as a file", "Picture off", "telephone")
        self.assertEqual([next(word for word in order if word in move) for move in moves], list(order))
        self.assertIn("frees 2.0", moves[0])
        fast = put(setup, call__use="audience", **{f"cameras__{setup.main_camera.id.replace('-', '_h_')}__fps": 60.0})
        self.assertIn("Send 30 pictures instead of 60: frees 3.0 Mbit/s.", line_moves(fast))
        self.assertFalse([move for move in line_moves(put(fast, call__use="live")) if "instead of 60" in move])
        self.assertEqual(line_moves(put(setup, call__upload_mbit_s=7.0)), [])
        [line] = [budget for budget in budgets_of(put(setup, call__upload_mbit_s=0.0), 0.0) if budget.id == "go.line"]
        self.assertIsNone(line.value)
        self.assertEqual(line.shown, "–")
        [line] = [budget for budget in budgets_of(put(setup, call__upload_mbit_s=8.8), 0.0) if budget.id == "go.line"]
        self.assertEqual(line.shown, "50 % of the upload")
        self.assertIn("voice alone", figures.better_without_picture(put(setup, call__upload_mbit_s=0.4)))
        self.assertIn("3 h", figures.better_without_picture(rigged(setup, hours_of_calls=4.0)))
        self.assertEqual(figures.better_without_picture(setup), "")

    def test_a_battery_that_does_not_last(self) -> None:
        setup = put(demo("interview-by-phone"), place__duration_s=3600.0)
        phone = f"/cameras/{setup.main_camera.id}"
        [battery] = [
            budget for budget in budgets_of((rigged(setup, {"device": phone, "battery_wh": 5.0})), 0.0) if budget.id == "go.battery"
        ]
        self.assertAlmostEqual(battery.value or 0, 60 * 5 * 0.85 / 3.5 / 60)  # as a webcam
        self.assertIn(
            "charge.cameras",
            next(name for name in lines_of(rigged(setup, {"device": phone, "battery_wh": 5.0})) if name.startswith("charge")),
        )


class RunSheets(TestCase):
    def holds(self, setup: Setup) -> tuple[Line, ...]:
        """Each line once, in order, and there for something that is in this setup."""
        appraisal = appraise(setup)
        lines = run_sheet(appraisal)
        self.assertEqual(len({line.id for line in lines}), len(lines))
        self.assertEqual(
            [(line.at_min, ORDER.index(line.where)) for line in lines], sorted((line.at_min, ORDER.index(line.where)) for line in lines)
        )
        findings = {finding.id for finding in appraisal.findings}
        for line in lines:
            if line.source in findings or line.source in ("every call", "phones"):
                continue
            try:
                value_at(setup, line.source)
            except Refused:
                self.fail(f"{line.id} is there for {line.source}, which is not")
        self.assertTrue(all(line.words and line.why and line.seconds > 0 for line in lines))
        return lines

    def test_of_the_demos(self) -> None:
        for name in demos():
            lines = {line.id: line for line in self.holds(demo(name))}
            setup = demo(name)
            self.assertEqual("room.air" in lines, bool(setup.room.windows), name)
            self.assertEqual("computer.shared" in lines, setup.call.slides != "none", name)
            self.assertEqual(
                {line for line in lines if line.startswith("room.noise.")},
                {f"room.noise.{noise.id}" for noise in setup.noises if noise.can_be_stopped},
                name,
            )
            self.assertEqual("try.headphones" in lines, setup.computer.listening == "headphones", name)

    @promise(100)
    @given(varied_setups(), st.booleans(), st.sampled_from(["live", "audience", "recorded"]))
    def test_of_any_setup(self, setup: Setup, stays: bool, use: str) -> None:
        there = put(setup, preferences__rig_stays=stays, call__use=use)
        lines = self.holds(there)
        self.assertTrue(stays or any(line.id.startswith("rig.") for line in lines) or ready_min(lines) == 0)
        self.assertEqual("there.tone" in {line.id for line in lines}, there.call.recording or use == "recorded")

    def test_the_phone_that_carries_the_call_is_left_on(self) -> None:
        lines = lines_of(demo("interview-by-phone"))
        carried = next(line for name, line in lines.items() if name.startswith("phones.carry"))
        self.assertIn("no flight mode", carried.words)
        self.assertEqual(carried.caution, cautions.PHONE_HOLDER)
        self.assertTrue(lines["phones.flight"].words.startswith("All other phones"))
        self.assertTrue(lines_of(demo("kitchen-table"))["phones.flight"].words.startswith("Phones"))

    def test_what_forgets_comes_first_and_what_is_put_away_is_put_up(self) -> None:
        setup = demo("room-that-works")
        lamp, camera = f"/lights/{setup.lights[0].id}", f"/cameras/{setup.main_camera.id}"
        told = rigged(
            setup,
            {"device": camera, "forgets": ["white", "zoom"]},
            {"device": lamp, "left_rigged": False, "minutes": 3.0},
            pets=True,
            doorbell=False,
        )
        lines = lines_of(told)
        self.assertIn(f"set.cameras.{setup.main_camera.id}.white", lines)
        self.assertNotIn("camera.white", lines)
        self.assertEqual(lines[f"rig.lights.{setup.lights[0].id}"].seconds, 180)
        self.assertEqual(lines[f"rig.lights.{setup.lights[0].id}"].caution, cautions.LAMP_STAND)
        self.assertAlmostEqual(ready_min(tuple(lines.values())), (180 + 30 + 15) / 60)
        self.assertTrue("home.pets" in lines and "home.bell" not in lines)
        learned = run_sheet(appraise(told), {"camera.wipe": 44.6})
        self.assertEqual(next(line.seconds for line in learned if line.id == "camera.wipe"), 45)
        by_kind = put(told, session__rigs=[], **{f"cameras__{setup.main_camera.id.replace('-', '_h_')}__entry": "webcam_tight"})
        self.assertTrue(
            {f"set.cameras.{setup.main_camera.id}.{what}" for what in ("white", "exposure", "focus")} <= lines_of(by_kind).keys()
        )
        kept = rigged(by_kind, {"device": camera, "forgets": []})
        self.assertFalse([name for name in lines_of(kept) if name.startswith("set.")])
        gone = rigged(setup, {"device": "/lights/sold-long-ago", "forgets": ["level"], "battery_wh": 9.0})
        self.assertEqual(lines_of(gone).keys(), lines_of(setup).keys())


class PutBack(TestCase):
    def test_marks_are_where_things_are(self) -> None:
        setup = demo("room-that-works")
        marks = {mark.what: mark for mark in to_put_back(appraise(setup))}
        away_m = float(scene_of(setup).pinhole.depth(scene_of(setup).face.eyes[None])[0])
        self.assertTrue(marks["Lens to your eyes"].was.startswith(f"{100 * away_m:.0f}"[:1]))
        self.assertEqual(marks["Panel with a cloth, how bright"].was, "60 %")
        self.assertIn("15 %", marks["Panel with a cloth, from your eyes"].within)  # 2 ^ (0.4 / 2) - 1
        self.assertEqual(by_hand(0.018), "1 finger")
        self.assertEqual(by_hand(0.5), "2.5 spans of a hand")
        self.assertEqual(by_hand(1.3), "2.0 arm's lengths")
        self.assertTrue(all("1 span " not in by_hand(metres / 100) or metres < 30 for metres in range(1, 300)))

    @promise(60)
    @given(varied_setups())
    def test_any_setup_has_its_marks_and_settings(self, setup: Setup) -> None:
        marks, set_to = to_put_back(appraise(setup)), settings(appraise(setup))
        self.assertGreater(len(marks), 4)
        self.assertTrue(all(mark.was and mark.within and mark.how for mark in marks))
        self.assertTrue(all(setting.value and setting.why for setting in set_to))
        rate = next((setting.value for setting in set_to if setting.what == "Pictures"), None)
        self.assertIn(rate, (None, "25 a second", "50 a second") if setup.place.mains_hz == 50 else (None, "30 a second", "60 a second"))


class Learning(TestCase):
    def test_medians_of_the_last_five_and_the_third_complaint(self) -> None:
        uses = [Use(date(2026, 11, day), day % 3 == 0, ("sound.echo",) if day in (2, 5, 9) else (), ready_min=float(day),
                    seconds={"camera.wipe": 10.0 * day}, unused=("/lights/ring",)) for day in range(1, 11)]  # fmt: skip
        self.assertEqual(times_s(uses), {"camera.wipe": 80.0})
        self.assertEqual(ready_lately_min(uses), 8.0)
        self.assertEqual(keeps_going_wrong(uses), (("sound.echo", 3),))
        self.assertEqual(keeps_going_wrong(uses[:8]), ())
        self.assertEqual(never_used(uses, ("/lights/panel", "/lights/ring")), ("/lights/ring",))
        self.assertEqual((never_used(uses[:9], ("/lights/ring",)), ready_lately_min([]), times_s([])), ((), None, {}))

    def test_what_keeps_going_wrong_is_raised_until_it_is_refused(self) -> None:
        """Titles carry figures that differ from day to day; they tell of the same."""
        appraisal = appraise(demo("clock-bench"))
        title = next(finding.title for finding in appraisal.findings if finding.id == "light.face_level")
        self.assertRegex(title, r"\d")
        words = [title, re.sub(r"\d+", "41", title), re.sub(r"\d+", "77", title)]
        uses = [Use(date(2026, 11, day + 1), False, (one, "Others heard themselves", "A cup fell")) for day, one in enumerate(words)]
        moves = next(finding.moves for finding in appraisal.findings_with_gains if finding.id == "light.face_level")
        steps = ("sound.headphones", f"{moves[0].id}@2", "frame.raise_camera")
        wishes = {wish.wrong: wish for wish in raised(uses, appraisal, steps)}
        self.assertEqual(set(wishes), {words[2], "Others heard themselves", "A cup fell"})
        light = wishes[words[2]]
        self.assertEqual((light.times, light.helps, light.steps, light.area), (3, moves[0].title, (f"{moves[0].id}@2",), "light"))
        self.assertEqual(light.moves, tuple(move.id for move in moves))
        self.assertEqual(wishes["Others heard themselves"].steps, ("sound.headphones",))
        self.assertEqual((wishes["A cup fell"].helps, wishes["A cup fell"].steps), ("", ()))
        refused = put(appraisal.setup, session__wishes_refused=[words[0], "Others heard themselves"])
        self.assertEqual([wish.wrong for wish in raised(uses, appraise(refused))], ["A cup fell"])


class Counted(TestCase):
    def test_readiness_enters_the_whole_on_wish_alone(self) -> None:
        """By hand: a line at half its limit and everything rigged are without fault; twelve beside a hundred."""
        setup = demo("room-that-works")
        without, counts = appraise(setup), appraise(put(setup, session__counts=True))
        self.assertIsNone(without.area("go"))
        there = counts.area("go")
        assert there is not None
        self.assertEqual((there.score, there.weight), (100.0, 12.0))
        total = sum(area.weight for area in without.areas)
        self.assertAlmostEqual(counts.score, (without.score * total + 12 * 100) / (total + 12))
        slow = appraise(put(setup, session__counts=True, call__upload_mbit_s=sent_mbit_s(setup) / 1.2))
        self.assertLess(slow.score, without.score)
        self.assertEqual({finding.id for finding in counts.findings}, {finding.id for finding in without.findings})
        unknown = appraise(put(setup, session__counts=True, call__upload_mbit_s=0.0)).area("go")
        assert unknown is not None
        self.assertEqual([measure.id for measure in unknown.measures], ["go.ready"])  # what cannot be told does not count
        self.assertAlmostEqual(ScoreCache(counts).of([]), counts.score)
