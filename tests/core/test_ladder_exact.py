"""The exact part of the ladder, against trying everything."""

from __future__ import annotations

import itertools
import random
from typing import Any
from unittest import TestCase

from tests.core.test_ladder import made
from tests.promise import promised, times
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.registry import keys
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.steps.action import Action, conflicts
from uphill_lamp.core.steps.candidates import gathered
from uphill_lamp.core.steps.pareto_front import Point, best_within, hull_of, merged, pareto_front_of
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.table import Cancelled, choice_of, combinations, filled

WEIGHTS = {"frame": 0.2, "light": 0.25, "sound": 0.35, "backdrop": 0.1, "eyes": 0.1}


def small_case(chance: random.Random) -> tuple[list[Action], Any]:
    """Some actions with conflicts and needs, and areas that are worth anything with any of them, but only by those that bear on them."""
    actions: list[Action] = []
    for number in range(chance.randint(1, 8)):
        areas = chance.sample(keys(), chance.choice([1, 1, 1, 2, 3]))
        needs = [chance.choice(actions).id] if actions and chance.random() < 0.25 else []
        path = f"/shared/{chance.randint(0, 2)}" if chance.random() < 0.3 else ""
        slot = chance.choice(["", "", "lamp"])
        actions.append(made(f"a{number}", chance.choice([0, 0, 5, 10, 15, 22.5]), areas, needs, slot, path))
    worth: dict[Any, float | None] = {}

    def valued(area: Any, chosen: Any) -> float | None:
        key = area, frozenset(action.id for action in chosen if area in action.areas)
        if key not in worth:
            worth[key] = round(chance.uniform(0, 100), 1)
        return worth[key]

    return actions, valued


def by_trying(actions: list[Action], valued: Any, limit: float) -> list[Point]:
    """Every subset that goes together, weighed."""
    clash, points = conflicts(actions), []
    for size in range(len(actions) + 1):
        for chosen in itertools.combinations(actions, size):
            names = frozenset(action.id for action in chosen)
            cost = sum(action.amount for action in chosen)
            if cost <= limit and all(action.needs <= names and not clash[action.id] & names for action in chosen):
                points.append(Point(cost, sum(WEIGHTS[area] * valued(area, chosen) for area in keys()), names))
    return pareto_front_of(points)


class Exact(TestCase):
    @promised(200)
    def test_two_hundred_small_cases_equal_trying_everything(self) -> None:
        for seed in range(times(200)):
            chance = random.Random(seed)
            actions, valued = small_case(chance)
            limit = chance.choice([0.0, 10.0, 30.0, 1000.0])
            table = filled(choice_of(actions, limit), valued, WEIGHTS)  # type: ignore[arg-type]
            actual, wanted = table.front(WEIGHTS), by_trying(actions, valued, limit)  # type: ignore[arg-type]
            self.assertEqual([point.cost for point in actual], [point.cost for point in wanted], seed)
            for one, other in zip(actual, wanted, strict=True):
                self.assertAlmostEqual(one.score, other.score, places=9)

    def test_what_light_does_behind_counts_with_light(self) -> None:
        """The areas' worth of each action by itself, told by those that bear on them alone, sum up to the whole."""
        base = appraise(put(demo("clock-bench"), preferences__budget=0.0))
        worth, beside = ScoreCache(base), 0
        start = worth.document([])
        for action in gathered(base, worth).actions:
            there = worth.document([action])
            assert start is not None and there is not None
            total = worth.of([]) - sum(share * (worth.score(area, start) or 0.0) for area, share in worth.shares.items())
            for area, share in worth.shares.items():
                total += share * (worth.valued(area, [action] if area in action.areas else []) or 0.0)
            self.assertAlmostEqual(total, worth.of([action]), places=6, msg=action.id)
            moved = (worth.score("backdrop", there) or 0.0) - (worth.score("backdrop", start) or 0.0)
            beside += "backdrop" not in action.areas and abs(moved) > 0.1
        self.assertGreater(beside, 0)

    def test_real_actions_equal_appraising_every_combination(self) -> None:
        """Every combination applied to the document and appraised whole, nothing taken over."""
        setup = put(demo("kitchen-table"), preferences__budget=100.0)
        base = appraise(setup)
        worth = ScoreCache(base)
        actual = gathered(base, worth).actions
        some = [action for action in actual if action.id in ("frame.laptop_stand", "frame.use_camera.spare-phone", "sound.buy_headset",
            "sound.use_microphone.phone-earbuds",
                                                   "light.lamp_for_window.garden-window", "light.buy_lamp", "eyes.move_call_window",
                                                   "light.lock_exposure")]  # fmt: skip
        self.assertGreaterEqual(len(some), 6)
        weights = worth.shares

        choice = choice_of(some, 60.0)
        front = filled(choice, worth.valued, weights).front(weights)
        points = []
        for chosen in combinations(some, choice):
            try:
                after = applied(setup, [operation for action in choice.sorted(chosen) for operation in action.patch])
            except Refused:
                continue
            points.append(Point(sum(action.amount for action in chosen), appraise(after).score, frozenset(action.id for action in chosen)))
        wanted = pareto_front_of(points)
        self.assertEqual([point.cost for point in front], [point.cost for point in wanted])
        for one, other in zip(front, wanted, strict=True):
            self.assertAlmostEqual(one.score, other.score, places=6)

    def test_the_front_the_hull_and_the_best_within_a_budget(self) -> None:
        points = [Point(0, 10), Point(0, 8), Point(10, 20), Point(10, 20, frozenset("ab")), Point(20, 21), Point(25, 19), Point(30, 40)]
        front = pareto_front_of(points)
        self.assertEqual([(point.cost, point.score) for point in front], [(0, 10), (10, 20), (20, 21), (30, 40)])
        self.assertEqual(front[1].chosen, frozenset())  # of alike ones the one with fewest actions
        self.assertEqual([point.cost for point in hull_of(front)], [0, 30])  # 10 to 20 lies on the line from 0 to 30: no vertex
        self.assertEqual(best_within(front, 25).cost, 20)
        self.assertEqual(best_within(front, 0).cost, 0)
        whole_front = merged([[Point(0, 1), Point(10, 5)], [Point(0, 0), Point(10, 3)]], 15)
        self.assertEqual([(point.cost, point.score) for point in whole_front], [(0, 1), (10, 5)])

    def test_it_can_be_stopped_and_tells_how_far_it_is(self) -> None:
        actions, valued = small_case(random.Random(3))
        answer: list[tuple[int, int]] = []
        with self.assertRaises(Cancelled):
            filled(choice_of(actions, 1e3), valued, WEIGHTS, lambda done, of: answer.append((done, of)), lambda: len(answer) >= 3)  # type: ignore[arg-type]
        self.assertEqual(len(answer), 3)
