"""Spots of a home: built from one another, told apart, marked with tape."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Refused, Setup, read_setup, written
from uphill_lamp.core.places import compare, spots
from uphill_lamp.core.places.marks import marks
from uphill_lamp.core.scene.placing import face_of, wall_behind_m

answers = st.fixed_dictionaries({question.key: st.sampled_from(sorted(question.keys)) for question in spots.QUESTIONS})


class Spots(TestCase):
    @promise(60)
    @given(varied_setups(), answers)
    def test_the_same_gear_stands_alike_elsewhere_whatever_is_answered(self, setup: Setup, answered: dict[str, str]) -> None:
        there = spots.elsewhere(setup, answered, "Elsewhere")
        self.assertEqual(read_setup(written(there).encode()), there)
        self.assertEqual([camera.id for camera in there.cameras], [camera.id for camera in setup.cameras])
        self.assertAlmostEqual(
            wall_behind_m(there, face_of(there).eyes, -face_of(there).forward), spots.BEHIND_M[answered["depth"]] + 0.12, places=2
        )
        self.assertEqual(len(there.room.windows), 0 if answered["window"] == "none" else 1)
        if setup.main_camera.mount not in ("wall", "ceiling"):
            before, after = appraise(setup), appraise(there)
            for name in ("frame.view_angle", "frame.perspective", "eyes.down"):
                if before.measures[name].value is not None:
                    self.assertAlmostEqual(after.measures[name].value or 0, before.measures[name].value or 0, delta=0.4, msg=name)

    def test_all_that_is_new_is_assumed(self) -> None:
        there = spots.elsewhere(demo("clock-bench"), {}, "Elsewhere")
        self.assertEqual(there.origin_of("/room/width_m"), "assumed")
        self.assertEqual(there.origin_of("/screens/laptop/hinge_deg"), demo("clock-bench").origin_of("/screens/laptop/hinge_deg"))

    def test_standing_and_sitting_again(self) -> None:
        setup = demo("standing-webinar")
        sitting = spots.other_posture(setup, "Sitting")
        self.assertEqual(sitting.presenter.posture, "sitting")
        self.assertAlmostEqual(sitting.desk.height_m, 0.7, places=2)
        self.assertAlmostEqual(
            sitting.screens[0].position.z_m - sitting.desk.height_m, setup.screens[0].position.z_m - setup.desk.height_m, places=2
        )
        again = spots.other_posture(sitting, "Standing")
        self.assertAlmostEqual(again.presenter.eye_height_m, setup.presenter.eye_height_m)
        fixed = spots.other_posture(demo("clock-bench"), "Standing")
        self.assertEqual(fixed.desk.height_m, demo("clock-bench").desk.height_m)
        with self.assertRaises(Refused):
            spots.other_posture(
                put(
                    demo("clock-bench"),
                    room__height_m=1.9,
                    lights=[],
                    backdrop=[],
                    noises=[],
                    room__windows=[],
                    presenter__eye_height_m=1.45,
                ),
                "Standing",
            )

    def test_what_was_never_drawn_is_refused(self) -> None:
        for bad in ({"window": "roof"}, {"quiet": "<b>"}):
            with self.assertRaises(Refused):
                spots.elsewhere(demo(), bad, "x")
        with self.assertRaises(Refused):
            spots.elsewhere(demo(), {}, "a\u202eb")


class ToldApart(TestCase):
    def test_facts_say_window_room_backdrop_and_quiet(self) -> None:
        facts = dict(compare.facts(appraise(demo("clock-bench"))))
        self.assertEqual(facts["Window"], "to your left")
        self.assertIn("Wall clock", facts["Behind you"])
        self.assertIn("dB(A)", facts["Quiet"])
        self.assertEqual(dict(compare.facts(appraise(demo("kitchen-table"))))["Window"], "behind you")

    def test_rows_name_the_better_and_a_spot_equals_itself(self) -> None:
        first, second = appraise(demo("clock-bench")), appraise(demo("room-that-works"))
        rows = compare.rows(first, second)
        self.assertEqual({row.better for row in compare.rows(first, first)}, {0})
        self.assertEqual(next(row.better for row in rows if row.label == "View angle"), 2)
        self.assertEqual([row.better for row in compare.rows(second, first)].count(1), [row.better for row in rows].count(2))
        worth = [abs((row.second.utility or 0) - (row.first.utility or 0)) * row.first.weight for row in rows if row.first and row.second]
        self.assertEqual(worth, sorted(worth, reverse=True))

    def test_marks_are_measured_from_the_nearer_walls(self) -> None:
        for name in demos():
            setup = demo(name)
            first = marks(setup)[0]
            self.assertRegex(first.words, r"from the wall .* and .* from the wall on your")
            self.assertIn("feet" if setup.presenter.posture == "standing" else "chair", first.what)
        tripod = put(demo("interview-by-phone"), cameras__camera__mount="tripod")
        self.assertIn("Tripod: Phone camera", [mark.what for mark in marks(tripod)])
