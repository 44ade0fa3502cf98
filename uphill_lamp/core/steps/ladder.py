"""The ladder: for every budget the best set of actions, and the order in which to walk up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import islice

from uphill_lamp.core.appraisal import Appraisal, appraise
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.judging import Area
from uphill_lamp.core.steps.action import Action
from uphill_lamp.core.steps.candidates import Candidates, LeftOut, gathered, shares, whole
from uphill_lamp.core.steps.front import Point, best_within, front_of, hull_of
from uphill_lamp.core.steps.table import MOST_COMBINATIONS, Choice, Told, choice_of, combinations, count, filled
from uphill_lamp.core.steps.worth import Worth

ROUNDS = 2
MOST_FIXED = 1000  # combinations of what bears on several areas; each is merged by itself
LEAST_GAIN = 0.05  # points; a free step that adds less to its rung is not worth anybody's while


@dataclass(frozen=True)
class Step:
    """An action in its place in the ladder: what it gains there [points], the score after it, and what it makes superfluous."""

    action: Action
    gain: float
    score: float
    replaces: tuple[Action, ...] = ()


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

    ``front`` is exact over what each round weighed together, all of ``actions`` as a rule: no set of them within the limit has a
    higher score for as little money. ``appraised`` tells how many areas of documents were worked out.
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
    appraisal: Appraisal, limit: float, told: Told = lambda done, of: None, cancelled: Callable[[], bool] = lambda: False
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
    worth, wishes = Worth(base), setup.preferences
    found = gathered(base, worth, wishes.never)
    front: list[Point] = []
    actions: dict[str, Action] = {}
    for number in range(ROUNDS):
        choice, found = _manageable(found, limit, frozenset(wishes.must))
        actions |= {action.id: action for action in found.actions}
        # What a round has to leave out to take in what is new, the round before has weighed: of both the better counts.
        front = front_of([*front, *_front(choice, worth, told, cancelled)])
        if number + 1 < ROUNDS:
            more = _following(front, choice, worth, wishes.never)
            if not more.actions:
                break
            worthy = _beside_the_best(found, front, choice, worth) | more.alone
            found = Candidates((*found.actions, *more.actions), worthy, (*found.left_out, *more.left_out))
    front = _standing(front, actions, worth)
    rungs = _rungs(front, actions, worth, wishes)
    combos, left_out = sum(count(choice).values()), tuple(out for out in found.left_out if out.action.id not in actions)
    return Ladder(base.score, limit, wishes.currency, actions, tuple(front), rungs, left_out, combos, worth.appraised)


def _front(choice: Choice, worth: Worth, told: Told, cancelled: Callable[[], bool]) -> list[Point]:
    weights = shares(worth)

    def valued(area: Area, actions: Sequence[Action]) -> float | None:
        there = worth.document(actions)
        return None if there is None else worth.score(area, there)

    return filled(choice, valued, weights, told, cancelled).front(weights)


def _manageable(found: Candidates, limit: float, must: frozenset[str]) -> tuple[Choice, Candidates]:
    """As many of the candidates as can be weighed wholly; those that gain least by themselves are left out, and told."""
    actions = [action for action in found.actions if action.amount <= limit + 1e-9]
    left_out = [*found.left_out, *(LeftOut(action, "beyond what you look at") for action in found.actions if action.amount > limit + 1e-9)]
    while True:
        choice = choice_of(actions, limit, must)
        sizes = count(choice)
        fixed = sum(1 for _ in islice(combinations(choice.shared, choice), MOST_FIXED + 1))
        if sum(sizes.values()) <= MOST_COMBINATIONS and fixed <= MOST_FIXED:
            kept = {action.id for action in actions}
            return choice, Candidates(tuple(actions), {name: gain for name, gain in found.alone.items() if name in kept}, tuple(left_out))
        largest = max(sizes, key=lambda area: sizes[area])
        carried = {name for action in actions for name in action.needs}
        pool = [
            one
            for one in (*choice.local[largest], *choice.shared)
            if one.id not in carried | must and (one in choice.shared or fixed <= MOST_FIXED)
        ]
        weakest = min(pool or actions, key=lambda action: found.alone[action.id])
        actions.remove(weakest)
        left_out.append(LeftOut(weakest, "gains little, and there are too many ways to weigh them all"))


def _following(front: Sequence[Point], choice: Choice, worth: Worth, never: Iterable[str]) -> Candidates:
    """What more there is to do once the best of a first round is done: for nothing, and for all the money."""
    known = [*choice.shared, *(action for actions in choice.local.values() for action in actions)]
    found = Candidates((), {}, ())
    for point in dict.fromkeys((front[0].chosen, front[-1].chosen)) if front else ():
        done = choice.sorted([action for action in known if action.id in point])
        try:
            there = appraise(worth.whole_document(done), known=worth.base)
        except Refused:
            continue
        more = gathered(there, worth, never, [*known, *found.actions], done)
        useful = tuple(action for action in more.actions if more.alone[action.id] >= LEAST_GAIN)
        found = Candidates((*found.actions, *useful), found.alone | more.alone, found.left_out)
    return found


def _beside_the_best(found: Candidates, front: Sequence[Point], choice: Choice, worth: Worth) -> dict[str, float]:
    """What each action adds to the best set for nothing, or for all the money, if that is more than it gains by itself: in a bad
    setup one fault hides what mending another is worth."""
    gains = dict(found.alone)
    for point in dict.fromkeys((front[0].chosen, front[-1].chosen)):
        for action in found.actions:
            rest = [
                one
                for one in found.actions
                if one.id in point and one.id != action.id and not one.clashes(action) and action.id not in one.needs
            ]
            names = {one.id for one in rest}
            if action.needs <= names:
                kept = choice.sorted([one for one in rest if one.needs <= names])
                added = _worth_of(choice.sorted([*kept, action]), worth) - _worth_of(kept, worth)
                gains[action.id] = max(gains[action.id], added)
    return gains


def _standing(front: list[Point], actions: dict[str, Action], worth: Worth) -> list[Point]:
    """The points of a front whose documents can be saved; what only fails as a whole is taken out."""
    kept = []
    for point in front:
        try:
            worth.whole_document(_in_order(point.chosen, actions))
        except Refused:
            continue
        kept.append(point)
    return front_of(kept or [Point(0.0, worth.base.score)])


def _in_order(names: Iterable[str], actions: dict[str, Action]) -> list[Action]:
    wanted = set(names)
    return [action for name, action in actions.items() if name in wanted]


def _rungs(front: Sequence[Point], actions: dict[str, Action], worth: Worth, wishes: Preferences) -> tuple[Rung, ...]:
    rungs: list[Rung] = []
    owned: Counter[str] = Counter()
    here: list[Action] = []
    score, paid, stopped = worth.base.score, 0.0, False
    for point in hull_of(front):
        chosen = _in_order(point.chosen, actions)
        chosen = _without_idle(chosen, worth, wishes.must)
        gone = tuple(action for action in here if action not in chosen)
        steps = _steps(here, chosen, worth, score)
        owned |= Counter(entry for action in chosen for entry in action.cost.entries)
        paid_now = max(paid, _price(owned, wishes.currency))
        reached = _worth_of(chosen, worth)
        asked = paid_now - paid
        stopped = stopped or (asked > 0 and (reached - score) * wishes.money_per_point < asked)
        rungs.append(Rung(tuple(chosen), steps, point.cost, paid_now, reached, reached - score, not stopped, gone))
        here, score, paid = chosen, reached, paid_now
    return tuple(rungs)


def _without_idle(chosen: list[Action], worth: Worth, must: Iterable[str]) -> list[Action]:
    """A set without the free actions that add nothing anybody would notice, unless they are wanted in any case."""
    kept = list(chosen)
    for action in sorted(chosen, key=lambda one: -len(one.needs)):
        rest = [one for one in kept if one is not action]
        if action.amount or action.id in must or any(action.id in one.needs for one in rest):
            continue
        if _worth_of(kept, worth) - _worth_of(rest, worth) < LEAST_GAIN:
            kept = rest
    return kept


def _worth_of(actions: Sequence[Action], worth: Worth) -> float:
    there = worth.document(actions)
    return -1.0 if there is None else whole(worth, there)


def _steps(here: Sequence[Action], chosen: Sequence[Action], worth: Worth, score: float) -> tuple[Step, ...]:
    """The way from one set to the next, each time what raises the score most; after every step the setup is whole."""
    now, left = list(here), [action for action in chosen if action not in here]
    gone = [action for action in here if action not in chosen]
    order = {action.id: index for index, action in enumerate([*here, *chosen])}
    steps = []
    while left:
        tried = []
        for action in left:
            names = {one.id for one in now}
            if not action.needs <= names:
                continue
            replaced = tuple(one for one in now if one in gone and one.clashes(action))
            then = sorted([one for one in now if one not in replaced] + [action], key=lambda one: order[one.id])
            tried.append((_worth_of(then, worth), -order[action.id], action, replaced, then))
        if not tried:
            break
        reached, _, action, replaced, now = max(tried, key=lambda one: one[:2])
        steps.append(Step(action, reached - score, reached, replaced))
        score = reached
        left.remove(action)
    if steps:  # what is no longer of use goes with the last step
        idle = tuple(one for one in now if one in gone)
        reached = _worth_of(chosen, worth)
        steps[-1] = replace(
            steps[-1], gain=steps[-1].gain + reached - steps[-1].score, score=reached, replaces=(*steps[-1].replaces, *idle)
        )
    return tuple(steps)


def _price(owned: Counter[str], currency: str) -> float:
    return float(sum(number * (catalogue().price(entry, currency) or 0.0) for entry, number in owned.items()))
