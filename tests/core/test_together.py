"""What goes together in a ladder and what does not, and what single changes make of the sets it found."""

from __future__ import annotations

import itertools
from unittest import TestCase

from tests.core.test_ladder import ladder_of, made
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.steps.action import conflicts
from uphill_lamp.core.steps.candidates import gathered
from uphill_lamp.core.steps.closing import LEAST_GAIN
from uphill_lamp.core.steps.pareto_front import hull_of
from uphill_lamp.core.steps.score_cache import ScoreCache


class Together(TestCase):
    """What cannot be done together though no patch says so, and what single changes make of the sets found."""

    def test_two_main_cameras_and_two_voices_are_apart_and_two_lamps_are_not(self) -> None:
        base = appraise(put(demo("clock-bench"), preferences__budget=800.0))
        worth = ScoreCache(base)
        known = {action.id: action for action in gathered(base, worth).actions}
        cameras = [action for name, action in known.items() if name.startswith(("frame.use_camera", "frame.catalogue"))]
        voices = [
            action for name, action in known.items() if name.startswith(("sound.use_microphone", "sound.buy_headset", "sound.catalogue"))
        ]
        self.assertGreater(min(len(cameras), len(voices)), 1)
        for listed in (cameras, voices):
            for one, other in itertools.combinations(listed, 2):
                self.assertTrue(worth.apart(one, other, known) or one.clashes(other), (one.id, other.id))
        quiet, lamp = known["sound.quieten.clocks"], known["light.move_lamp.bench-lamp"]
        self.assertFalse(worth.apart(quiet, lamp, known))
        for name, others in conflicts(known.values(), lambda one, other: worth.apart(one, other, known)).items():
            for other in others:  # none that could be done is ruled out
                if not known[name].clashes(known[other]):
                    self.assertIsNone(worth.document([known[name_of] for name_of in known if name_of in (name, other)]))

    def test_no_set_on_the_hull_is_bettered_by_one_action_more_or_in_anothers_place(self) -> None:
        """By more than what is not worth doing."""
        ladder = ladder_of(demo("kitchen-table"), 40.0)
        worth = ScoreCache(appraise(put(demo("kitchen-table"), preferences__budget=40.0)))
        for point in hull_of(ladder.front):
            here = ladder.chosen(point)
            for action in ladder.actions.values():
                chosen = worth.taken_in(action, here, ladder.actions) if action not in here else None
                cost = sum(action.amount for action in chosen or ())
                if chosen and cost <= 40.0:
                    self.assertLessEqual(worth.of(chosen), ladder.within(cost).score + 3 * LEAST_GAIN, (point.cost, action.id))

    def test_taking_one_in_takes_out_what_does_not_go_with_it_and_what_needed_that(self) -> None:
        first, second, third = made("a", 0, ["light"], path="/x"), made("b", 0, ["light"], needs=["a"]), made("c", 5, ["light"], path="/x")
        known = {action.id: action for action in (first, second, third)}
        worth = ScoreCache(appraise(demo("clock-bench")))
        self.assertEqual(worth.taken_in(third, [first, second], known), [third])
        self.assertIsNone(worth.taken_in(second, [third], known))
        self.assertEqual(worth.taken_in(second, [first], known), [first, second])
