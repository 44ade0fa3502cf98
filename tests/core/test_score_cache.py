"""What areas are worth with steps done: documents put together, each appraised once, and what cannot be better told with less work."""

from __future__ import annotations

import itertools
from unittest import TestCase

from hypothesis import given

from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.registry import areas, keys
from uphill_lamp.core.document import Setup
from uphill_lamp.core.judging import area_score
from uphill_lamp.core.steps import score_cache
from uphill_lamp.core.steps.action import conflicts
from uphill_lamp.core.steps.candidates import gathered
from uphill_lamp.core.steps.score_cache import ScoreCache

IN_LIGHT = frozenset(f"backdrop.{name}" for name in ("brightest", "edge", "shadow", "garment", "busy", "melts"))


class Scores(TestCase):
    def test_the_fast_way_to_a_document_gives_the_same_as_the_whole_one(self) -> None:
        for name in demos():
            base = appraise(put(demo(name), preferences__budget=150.0))
            worth = ScoreCache(base)
            actions = gathered(base, worth).actions
            clash = conflicts(actions)
            for one, other in itertools.islice(itertools.combinations(actions, 2), 0, None, 7):
                if other.id in clash[one.id] or other.needs - {one.id} or one.needs:
                    continue
                fast = worth.document([one, other])
                if fast is not None:
                    slow = worth.whole_document([one, other])
                    self.assertEqual(fast.model_dump(exclude={"origins"}), slow.model_dump(exclude={"origins"}))

    @promise(30)
    @given(varied_setups())
    def test_an_area_that_an_action_does_not_bear_on_keeps_every_scored_figure(self, setup: Setup) -> None:
        base = appraise(put(setup, preferences__budget=200.0))
        worth = ScoreCache(base)
        for action in gathered(base, worth).actions:
            after = worth.document([action])
            assert after is not None
            now = appraise(after)
            for area in keys():
                if area in action.areas:
                    continue
                # What lamps do to Backdrop is weighed with Light.
                apart = IN_LIGHT if area == "backdrop" and "light" in action.areas else frozenset()
                was, then = (
                    [(measure.id, measure.value) for measure in there.area(area).measures if measure.weight and measure.id not in apart]  # type: ignore[union-attr]
                    for there in (base, now)
                )
                self.assertEqual(was, then, (action.id, area))

    def test_no_document_is_appraised_twice(self) -> None:
        base = appraise(put(demo(), preferences__budget=100.0))
        worth = ScoreCache(base)
        actions = gathered(base, worth).actions
        before = worth.appraised
        for action in actions:
            there = worth.document([action])
            assert there is not None
            worth.whole(there)
        self.assertEqual(worth.appraised, before)

    def test_what_cannot_be_better_is_told_with_less_work_and_never_as_better(self) -> None:
        base = appraise(put(demo(), preferences__budget=100.0))
        score_cache.forget()
        known = ScoreCache(base)
        actions = [(action, known.of([action])) for action in gathered(base, known).actions]
        worked_out = [known.appraised]
        for above in (0.0, base.score, base.score + 5, 100.0):
            score_cache.forget()
            worth = ScoreCache(base)
            for action, exact in actions:
                told = worth.of([action], above)
                self.assertEqual(told, exact) if exact > above else self.assertLessEqual(told, above)
            worked_out.append(worth.appraised)
        # What is looked at first tells it of most, the figures of Light that are there soon of others.
        self.assertEqual(worked_out, sorted(worked_out, reverse=True))
        self.assertLess(worked_out[3], 0.6 * worked_out[0], worked_out)
        self.assertLess(worked_out[4], 0.1 * worked_out[0], worked_out)

    def test_what_is_worked_out_once_is_known_for_another_budget_too(self) -> None:
        base = appraise(put(demo("room-that-works"), preferences__budget=0.0))
        dearer = appraise(put(base.setup, preferences__budget=300.0))
        first, second = ScoreCache(base), ScoreCache(dearer)
        score_cache.forget()
        scores = [first.of([action]) for action in gathered(base, first).actions]
        self.assertGreater(first.appraised, 0)
        self.assertEqual([second.of([action]) for action in gathered(base, first).actions], scores)
        self.assertEqual(second.appraised, 0)

    @promise(60)
    @given(varied_setups())
    def test_no_area_is_better_than_what_is_told_soon(self, setup: Setup) -> None:
        appraisal = appraise(setup)
        for record in areas():
            score = area_score(record.judged(appraisal.context))
            self.assertGreaterEqual(record.at_most(appraisal.context), (score or 0.0) - 1e-9)
