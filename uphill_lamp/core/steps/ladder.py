"""The ladder: for every budget the best set of actions, and the order in which to walk up."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import accumulate, islice

from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.steps.action import Action, conflicts, in_order, with_needs
from uphill_lamp.core.steps.better import bettered
from uphill_lamp.core.steps.candidates import Candidates, LeftOut, gathered
from uphill_lamp.core.steps.closing import LEAST_GAIN, closed, leaps, otherwise
from uphill_lamp.core.steps.pareto_front import Point, best_within, hull_of, pareto_front_of
from uphill_lamp.core.steps.pressing import pressed
from uphill_lamp.core.steps.rungs import Completed, Rung, rungs_of, settled, without_idle
from uphill_lamp.core.steps.score_cache import ScoreCache, with_budget
from uphill_lamp.core.steps.table import MOST_COMBINATIONS, Choice, Told, choice_of, combinations, count, filled

ROUNDS = 2  # of weighing what money buys; what is free is weighed once, and then gone on from
MOST_FIXED = 1000  # combinations of what bears on several areas; each is merged by itself
SOME = (0.0, 0.06, 0.25, 1.0)  # of all the money: the best sets for so much are gone on from
MOST_COMPLETED, MOST_SINGLY = 6, 2
TOO_MANY = "it gains little, and there are too many steps to weigh them all"
WORTH_A_LOOK = 0.05  # points; what gains less once the best sets are done is not weighed beside them


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

    def plan_within(self, budget: float) -> Rung:
        """The best plan that a budget allows, or the first."""
        return max((rung for rung in self.rungs if rung.cost <= budget + 1e-9), key=lambda rung: rung.score, default=self.rungs[0])

    def chosen(self, point: Point) -> tuple[Action, ...]:
        """A point's actions, in the order they are done."""
        return tuple(action for name, action in self.actions.items() if name in point.chosen)

    @property
    def stop(self) -> int:
        """The rung to stop at: the last before one that is not worth its money."""
        return next((index - 1 for index, rung in enumerate(self.rungs) if not rung.worth_it), len(self.rungs) - 1)


@dataclass(frozen=True)
class Climb:
    """What was weighed from one place to stand: the actions, by id in the order they are done, the front they reach, and those left out."""

    scores: ScoreCache
    pool: dict[str, Action]
    front: list[Point]
    limit: float = 0.0
    left_out: tuple[LeftOut, ...] = ()
    combinations: int = 0


def climbed(
    appraisal: Appraisal, limit: float, progress: Told = lambda done, of: None, cancelled: Callable[[], bool] = lambda: False
) -> Ladder:
    """The ladder from an appraised setup: first all that is free, whatever money is looked at; then, from there, what money buys.

    Args:
        limit: most money to look at, in the setup's currency; the budget may be less or more.
        progress: called with how many combinations are worked out, of how many in this round.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    wishes = appraisal.setup.preferences
    base = appraise(with_budget(appraisal.setup, 0.0), known=appraisal)
    free = _climb(ScoreCache(base), 0.0, wishes, progress, cancelled)
    first, known = _for_nothing(free, _wanted(appraisal, limit, wishes), wishes, cancelled)
    names, climb = frozenset(action.id for action in first), Climb(free.scores, known, [])
    if limit > 0:
        base = appraise(with_budget(appraisal.setup, limit), known=appraisal)
        climb = _climb(free.scores.for_money(base), limit, wishes, progress, cancelled, known, names)
    beyond, known = _completed(climb, first, wishes, cancelled)
    rungs = rungs_of(first, beyond, known, climb.scores, wishes, limit)
    actions = known | climb.pool
    points = [completed.point for completed in beyond] + [point for point in climb.front if names & frozenset(wishes.must) <= point.chosen]
    stood_on = [Point(rung.cost, rung.score, frozenset(action.id for action in rung.chosen)) for rung in rungs]
    front = pareto_front_of([*stood_on, *(point for point in points if point.cost > rungs[0].cost)])
    left_out = {dropped.action.id: dropped for dropped in (*free.left_out, *climb.left_out)}  # each once
    return Ladder(
        free.scores.base.score, limit, wishes.currency, actions, tuple(front), rungs,
        tuple(dropped for name, dropped in left_out.items() if name not in actions),
        free.combinations + climb.combinations, climb.scores.appraised,
    )  # fmt: skip


def _wanted(appraisal: Appraisal, limit: float, wishes: Preferences) -> list[Action]:
    """What costs money and is wanted in any case, as far as the money goes; it stands on the first rung."""
    if not wishes.must or not limit:
        return []
    base = appraise(with_budget(appraisal.setup, limit), known=appraisal)
    dear = [action for action in gathered(base, ScoreCache(base)).actions if action.id in wishes.must and action.amount]
    costs = accumulate(action.amount for action in dear)
    return [action for action, cost in zip(dear, costs, strict=True) if cost <= limit + 1e-9]


def _for_nothing(
    free: Climb, wanted: list[Action], wishes: Preferences, cancelled: Callable[[], bool]
) -> tuple[list[Action], dict[str, Action]]:
    """The best set of free steps, with what is wanted in any case: what was weighed together or pressed one by one, each gone on from
    until no free step helps; and all that was worked out on the way."""
    best, reached = list[Action](), -2.0
    must, known = frozenset(wishes.must), free.pool | {action.id: action for action in wanted}
    wanted = [action for action in known.values() if action.id in must]
    by_hand, known = pressed(wanted, known, free.scores, wishes.never, cancelled)
    for start in (in_order(free.front[0].chosen, free.pool), wanted, by_hand):
        for action in wanted:
            start = start if action in start else free.scores.taken_in(action, start, known) or start
        done, known = closed(start, known, free.scores, wishes.never, must, cancelled)
        done = without_idle(done, free.scores, must)
        if (score := free.scores.of(done)) > reached:
            best, reached = done, score
    waiting = [*otherwise(best, known, free.scores), *leaps(best, known, free.scores)]
    while waiting:
        done, known = closed(waiting.pop(0), known, free.scores, wishes.never, must, cancelled)
        done = without_idle(done, free.scores, must)
        if (score := free.scores.of(done)) > reached + LEAST_GAIN:
            best, reached = done, score
            waiting = leaps(best, known, free.scores)
    best, known = closed(best, known, free.scores, wishes.never, must, cancelled, least=LEAST_GAIN)
    return settled(best, known, free.scores, must)


def _completed(
    climb: Climb, first: Sequence[Action], wishes: Preferences, cancelled: Callable[[], bool]
) -> tuple[list[Completed], dict[str, Action]]:
    """What money buys, put to what is done for nothing, and all that is free done beside it: nothing free is undone, but for what a
    purchase is in the place of."""
    scores, pool, sets = climb.scores, climb.pool, list[Completed]()
    paid, kept = sum(action.amount for action in first), frozenset(wishes.must) | {action.id for action in first}
    if climb.limit <= paid:
        return sets, pool
    beyond = [point for point in climb.front if point.cost > paid]
    # What pays best for its money first: with more of it to look at there are more small steps between than can all be gone on from.
    best = hull_of([Point(paid, scores.of(first)), *beyond])[1:] if beyond else []
    bought = dict.fromkeys(frozenset(name for name in point.chosen if pool[name].amount) for point in (*best, *beyond))
    starts = [_taken_in(first, names, pool, scores) for names in list(bought)[:MOST_COMPLETED]]
    singly = [
        [*first, action]
        for action in pool.values()
        if 0 < action.amount <= climb.limit - paid and scores.document([*first, action]) is None
    ]
    for start in (*starts, *leaps(list(first), pool, scores, climb.limit - paid), *singly[:MOST_SINGLY]):
        chosen = _made_free(start, scores)
        if not any(action.amount for action in chosen):
            continue
        chosen, pool = closed(chosen, pool, scores, wishes.never, kept, cancelled)
        chosen = without_idle(chosen, scores, kept, bought=True)
        chosen, pool = closed(chosen, pool, scores, wishes.never, kept, cancelled, least=LEAST_GAIN)
        chosen, pool = settled(chosen, pool, scores, kept)
        sets.append(Completed(tuple(chosen), scores.of(chosen)))
    return sets, pool


def _made_free(chosen: Sequence[Action], scores: ScoreCache) -> list[Action]:
    """A set without the free step that what is bought leaves no room for: it is worked out anew beside it. Empty if none of them helps."""
    if scores.document(chosen) is not None:
        return list(chosen)
    for action in chosen:
        rest = [member for member in chosen if member is not action]
        if not action.amount and not any(action.id in member.needs for member in rest) and scores.document(rest) is not None:
            return rest
    return []


def _taken_in(first: Sequence[Action], names: Iterable[str], pool: Mapping[str, Action], scores: ScoreCache) -> list[Action]:
    chosen = list(first)
    for action in with_needs(in_order(names, pool), pool):
        chosen = chosen if action in chosen else scores.taken_in(action, chosen, pool) or chosen
    return chosen


def _climb(
    scores: ScoreCache,
    limit: float,
    wishes: Preferences,
    progress: Told,
    cancelled: Callable[[], bool],
    seeds: Mapping[str, Action] | None = None,
    start: frozenset[str] = frozenset(),
) -> Climb:
    """All that so much money can do from a setup, weighed in rounds.

    Args:
        scores: of the setup, with so much money to spend.
        seeds: actions known already, by id, in the order they are done.
        start: ids of those of them that are done in any case, unless something better is in their place.
    """
    base, seeds = scores.base, seeds or {}
    candidates, must = gathered(base, scores, wishes.never, seeds.values(), again=True), frozenset(wishes.must)
    more, left_out = _within(candidates, limit)
    pool = {**seeds, **more}
    gains = {action.id: scores.of(with_needs([action], seeds)) - base.score for action in seeds.values()} | candidates.alone
    front = [_point(in_order(start, pool), scores)] if start else []
    weighed = set(start)
    rounds = ROUNDS if limit > 0 else 1
    for number in range(rounds):
        choice, crowded = _manageable(pool, gains, limit, must, scores)
        weighed |= choice.order.keys()
        # What a round has to leave out to take in what is new, the round before has weighed: of both the better counts.
        weighed_out = _standing(pareto_front_of([*front, *_front(choice, scores, progress, cancelled)]), pool, scores)
        front = bettered(weighed_out, pool, scores, limit, must, cancelled)
        if number + 1 == rounds:
            break
        best = _ends(weighed_out, front)
        more, beyond = _within(following := _following(best, pool, crowded, scores, wishes.never), limit)
        if not more and not crowded:
            break
        pool, left_out = pool | more, left_out + beyond
        gains = _beside_the_best(pool, gains | following.alone, best, scores)
    weighed |= {name for point in front for name in point.chosen}
    actions = {name: action for name, action in pool.items() if name in weighed or name in seeds}
    out = (*left_out, *(LeftOut(action, TOO_MANY) for action in crowded if action.id not in actions))
    return Climb(scores, actions, _standing(front, actions, scores), limit, out, sum(count(choice).values()))


def _point(chosen: Sequence[Action], scores: ScoreCache) -> Point:
    return Completed(tuple(chosen), scores.of(chosen)).point


def _within(candidates: Candidates, limit: float) -> tuple[dict[str, Action], list[LeftOut]]:
    """Actions by id that the money allows, and those left out so far."""
    dear = [action for action in candidates.actions if action.amount > limit + 1e-9]
    left_out = [*candidates.left_out, *(LeftOut(action, "it costs more than the money looked at") for action in dear)]
    return {action.id: action for action in candidates.actions if action not in dear}, left_out


def _front(choice: Choice, scores: ScoreCache, progress: Told, cancelled: Callable[[], bool]) -> list[Point]:
    return filled(choice, scores.valued, scores.shares, progress, cancelled).front(scores.shares)


def _manageable(
    pool: Mapping[str, Action], gains: Mapping[str, float], limit: float, must: frozenset[str], scores: ScoreCache
) -> tuple[Choice, list[Action]]:
    """As many of the actions as can be weighed wholly, and those that gain least and have to be left out."""
    actions, crowded = list(pool.values()), list[Action]()
    clash = conflicts(actions, lambda one, other: scores.apart(one, other, pool))
    while True:
        choice = choice_of(actions, limit, must, known=clash)
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
            there = scores.appraised_after(done, scores.base.setup.preferences.budget)
        except Refused:
            continue
        more = gathered(there, scores, never, [*pool.values(), *candidates.actions], done, anew)
        useful = tuple(action for action in more.actions if more.alone[action.id] >= WORTH_A_LOOK)
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
                without = scores.of([member for member in chosen if member is not action])
                gained[action.id] = max(gained[action.id], scores.of(chosen, without + gained[action.id]) - without)
    return gained


def _standing(front: list[Point], actions: dict[str, Action], scores: ScoreCache) -> list[Point]:
    """The points of a front whose documents can be saved and stand free; what only fails as a whole is taken out."""
    kept = []
    for point in front:
        chosen = in_order(point.chosen, actions)
        try:
            scores.whole_document(chosen)
        except Refused:
            continue
        if scores.document(chosen) is None:  # each area's part stands by itself, and not all of them together
            continue
        kept.append(point)
    return pareto_front_of(kept or [Point(0.0, scores.base.score)])
