"""The ladder: for every budget the best set of actions, and the order in which to walk up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import islice

from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.scene.wording import sum_of
from uphill_lamp.core.steps.action import Action, in_order
from uphill_lamp.core.steps.better import bettered
from uphill_lamp.core.steps.candidates import Candidates, LeftOut, gathered
from uphill_lamp.core.steps.pareto_front import Point, best_within, hull_of, pareto_front_of
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.table import MOST_COMBINATIONS, Choice, Told, choice_of, combinations, count, filled

ROUNDS = 3
MOST_FIXED = 1000  # combinations of what bears on several areas; each is merged by itself
SOME = (0.0, 0.06, 0.25, 1.0)  # of all the money: the best sets for so much are gone on from
TOO_MANY = "it gains little, and there are too many steps to weigh them all"
LEAST_GAIN = 0.05  # points; a free step that adds less to its rung is not worth anybody's while


@dataclass(frozen=True)
class Step:
    """An action in its place in the ladder: what it gains there [points], the score after it, and what it makes superfluous."""

    action: Action
    gain: float
    score: float
    replaces: tuple[Action, ...] = ()


def plan_name(cost: float, currency: str) -> str:
    """What the best set of steps for a sum of money is called: ``Free plan``, ``Plan for £34``."""
    return f"Plan for {sum_of(cost, currency)}" if cost else "Free plan"


@dataclass(frozen=True)
class Rung:
    """A place to stand: its set of actions bought at once costs ``cost``; walked to from rung to rung ``paid`` in all,
    ``wasted`` of it for what is then no longer used. ``worth_it`` whether its last points are worth their money."""

    chosen: tuple[Action, ...]
    steps: tuple[Step, ...]
    cost: float
    paid: float
    score: float
    gain: float
    worth_it: bool
    superfluous: tuple[Action, ...] = ()

    @property
    def wasted(self) -> float:
        return self.paid - self.cost


@dataclass(frozen=True)
class Ladder:
    """What can be reached for what, from where the setup stands.

    ``front`` is exact over what each round weighed together, most of ``actions`` as a rule: no set of them within the limit has a
    higher score for as little money; beyond that, no set on its hull is bettered by one action more or in the place of others.
    ``appraised`` tells how many areas of documents were worked out.
    """

    score: float
    limit: float
    currency: str
    actions: dict[str, Action]
    front: tuple[Point, ...]
    rungs: tuple[Rung, ...]
    left_out: tuple[LeftOut, ...]
    combinations: int
    appraised: int

    def within(self, budget: float) -> Point:
        """The best set that a budget allows."""
        return best_within(self.front, budget)

    def chosen(self, point: Point) -> tuple[Action, ...]:
        """A point's actions, in the order they are done."""
        return tuple(action for name, action in self.actions.items() if name in point.chosen)

    @property
    def stop(self) -> int:
        """The rung to stop at: the last before one that is not worth its money."""
        return next((index - 1 for index, rung in enumerate(self.rungs) if not rung.worth_it), len(self.rungs) - 1)


def climbed(
    appraisal: Appraisal, limit: float, progress: Told = lambda done, of: None, cancelled: Callable[[], bool] = lambda: False
) -> Ladder:
    """The ladder from an appraised setup.

    Args:
        limit: most money to look at, in the setup's currency; the budget may be less or more.
        told: called with how many combinations are worked out, of how many in this round.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    setup = appraisal.setup
    rich = setup.model_copy(update={"preferences": setup.preferences.model_copy(update={"budget": limit})})
    base = appraise(rich, known=appraisal)
    scores, wishes = ScoreCache(base), setup.preferences
    candidates, must = gathered(base, scores, wishes.never), frozenset(wishes.must)
    pool, left_out = _within(candidates, limit)
    gains, front, weighed = dict(candidates.alone), list[Point](), set[str]()
    for number in range(ROUNDS):
        choice, crowded = _manageable(pool, gains, limit, must, scores)
        weighed |= choice.order.keys()
        # What a round has to leave out to take in what is new, the round before has weighed: of both the better counts.
        weighed_out = pareto_front_of([*front, *_front(choice, scores, progress, cancelled)])
        front = bettered(weighed_out, pool, scores, limit, must, cancelled)
        if number + 1 == ROUNDS:
            break
        best = _ends(weighed_out, front)
        more, beyond = _within(following := _following(best, pool, crowded, scores, wishes.never), limit)
        if not more and not crowded:
            break
        pool, left_out = pool | more, left_out + beyond
        gains = _beside_the_best(pool, gains | following.alone, best, scores)
    weighed |= {name for point in front for name in point.chosen}
    actions = {name: action for name, action in pool.items() if name in weighed}
    front = _standing(front, actions, scores)
    rungs = _rungs(front, actions, scores, wishes)
    told_out = {dropped.action.id: dropped for dropped in (*left_out, *(LeftOut(action, TOO_MANY) for action in crowded))}  # each once
    out = tuple(dropped for name, dropped in told_out.items() if name not in actions)
    return Ladder(base.score, limit, wishes.currency, actions, tuple(front), rungs, out, sum(count(choice).values()), scores.appraised)


def _within(candidates: Candidates, limit: float) -> tuple[dict[str, Action], list[LeftOut]]:
    """Actions by id that the money allows, and those left out so far."""
    dear = [action for action in candidates.actions if action.amount > limit + 1e-9]
    left_out = [*candidates.left_out, *(LeftOut(action, "it costs more than the money looked at") for action in dear)]
    return {action.id: action for action in candidates.actions if action not in dear}, left_out


def _front(choice: Choice, scores: ScoreCache, progress: Told, cancelled: Callable[[], bool]) -> list[Point]:
    def valued(area: str, actions: Sequence[Action]) -> float | None:
        there = scores.document(actions)
        return None if there is None else scores.score(area, there)

    return filled(choice, valued, scores.shares, progress, cancelled).front(scores.shares)


def _manageable(
    pool: Mapping[str, Action], gains: Mapping[str, float], limit: float, must: frozenset[str], scores: ScoreCache
) -> tuple[Choice, list[Action]]:
    """As many of the actions as can be weighed wholly, and those that gain least and have to be left out."""
    actions, crowded = list(pool.values()), list[Action]()
    while True:
        choice = choice_of(actions, limit, must, lambda one, other: scores.apart(one, other, pool))
        sizes = count(choice, MOST_COMBINATIONS)
        fixed = sum(1 for _ in islice(combinations(choice.shared, choice), MOST_FIXED + 1))
        if sum(sizes.values()) <= MOST_COMBINATIONS and fixed <= MOST_FIXED:
            return choice, crowded
        largest = max(sizes, key=lambda area: sizes[area])
        carried = {name for action in actions for name in action.needs}
        spare = [
            candidate
            for candidate in (*choice.local[largest], *choice.shared)
            if candidate.id not in carried | must and (candidate in choice.shared or fixed <= MOST_FIXED)
        ]
        weakest = min(spare or actions, key=lambda action: gains[action.id])
        actions.remove(weakest)
        crowded.append(weakest)


def _following(
    best: Iterable[frozenset[str]], pool: Mapping[str, Action], crowded: Iterable[Action], scores: ScoreCache, never: Iterable[str]
) -> Candidates:
    """What more there is to do once the best sets of a round are done."""
    candidates, anew = Candidates((), {}, ()), {action.id for action in crowded}
    for point in best:
        done = in_order(point, pool)
        try:
            there = appraise(scores.whole_document(done), known=scores.base)
        except Refused:
            continue
        more = gathered(there, scores, never, [*pool.values(), *candidates.actions], done, anew)
        useful = tuple(action for action in more.actions if more.alone[action.id] >= LEAST_GAIN)
        candidates = Candidates((*candidates.actions, *useful), candidates.alone | more.alone, candidates.left_out)
    return candidates


def _ends(*fronts: Sequence[Point]) -> list[frozenset[str]]:
    """The best sets for nothing, for the first money that pays best, for some of it and for all of it, each once."""
    points: list[Point] = []
    for front in (front for front in fronts if front):
        most = front[-1].cost
        points += (best_within(front, part * most) for part in SOME)
        points += hull_of(front)[1:2]
    return list(dict.fromkeys(point.chosen for point in points))


def _beside_the_best(
    pool: Mapping[str, Action], gains: Mapping[str, float], best: Iterable[frozenset[str]], scores: ScoreCache
) -> dict[str, float]:
    """What each action adds to the best sets, if that is more than it gains by itself: in a bad setup one fault hides what mending
    another is worth."""
    gained = dict(gains)
    for point in best:
        rest = {name: action for name, action in pool.items() if name in point}
        for action in pool.values():
            if (chosen := scores.taken_in(action, [member for member in rest.values() if member is not action], pool)) is not None:
                added = scores.of(chosen) - scores.of([member for member in chosen if member is not action])
                gained[action.id] = max(gained[action.id], added)
    return gained


def _standing(front: list[Point], actions: dict[str, Action], scores: ScoreCache) -> list[Point]:
    """The points of a front whose documents can be saved; what only fails as a whole is taken out."""
    kept = []
    for point in front:
        try:
            scores.whole_document(in_order(point.chosen, actions))
        except Refused:
            continue
        kept.append(point)
    return pareto_front_of(kept or [Point(0.0, scores.base.score)])


def _rungs(front: Sequence[Point], actions: dict[str, Action], scores: ScoreCache, wishes: Preferences) -> tuple[Rung, ...]:
    rungs: list[Rung] = []
    owned: Counter[str] = Counter()
    here: list[Action] = []
    score, paid, stopped = scores.base.score, 0.0, False
    for point in hull_of(front):
        chosen = in_order(point.chosen, actions)
        chosen = _without_idle(chosen, scores, wishes.must)
        gone = tuple(action for action in here if action not in chosen)
        steps = _steps(here, chosen, scores, score)
        owned |= Counter(entry for action in chosen for entry in action.cost.entries)
        paid_now = max(paid, _price(owned, wishes.currency))
        reached = scores.of(chosen)
        asked = paid_now - paid
        stopped = stopped or (asked > 0 and (reached - score) * wishes.money_per_point < asked)
        rungs.append(Rung(tuple(chosen), steps, point.cost, paid_now, reached, reached - score, not stopped, gone))
        here, score, paid = chosen, reached, paid_now
    return tuple(rungs)


def _without_idle(chosen: list[Action], scores: ScoreCache, must: Iterable[str]) -> list[Action]:
    """A set without the free actions that add nothing anybody would notice, unless they are wanted in any case."""
    kept = list(chosen)
    for action in sorted(chosen, key=lambda member: -len(member.needs)):
        rest = [member for member in kept if member is not action]
        if action.amount or action.id in must or any(action.id in member.needs for member in rest):
            continue
        if scores.of(kept) - scores.of(rest) < LEAST_GAIN:
            kept = rest
    return kept


def _steps(here: Sequence[Action], chosen: Sequence[Action], scores: ScoreCache, score: float) -> tuple[Step, ...]:
    """The way from one set to the next, each time what raises the score most; after every step the setup is whole."""
    now, left = list(here), [action for action in chosen if action not in here]
    gone = [action for action in here if action not in chosen]
    known = {action.id: action for action in (*here, *chosen)}
    order = {action.id: index for index, action in enumerate([*here, *chosen])}
    steps = []
    while left:
        tried = []
        for action in left:
            names = {member.id for member in now}
            if not action.needs <= names:
                continue
            replaced = tuple(member for member in now if member in gone and (member.clashes(action) or scores.apart(member, action, known)))
            then = sorted([member for member in now if member not in replaced] + [action], key=lambda member: order[member.id])
            tried.append((scores.of(then), -order[action.id], action, replaced, then))
        if not tried:
            break
        reached, _, action, replaced, now = max(tried, key=lambda attempt: attempt[:2])
        steps.append(Step(action, reached - score, reached, replaced))
        score = reached
        left.remove(action)
    if steps:  # what is no longer of use goes with the last step
        idle = tuple(member for member in now if member in gone)
        reached = scores.of(chosen)
        steps[-1] = replace(
            steps[-1], gain=steps[-1].gain + reached - steps[-1].score, score=reached, replaces=(*steps[-1].replaces, *idle)
        )
    return tuple(steps)


def _price(owned: Counter[str], currency: str) -> float:
    return float(sum(number * (catalogue().price(entry, currency) or 0.0) for entry, number in owned.items()))
