"""Rungs of the ladder: places to stand, each a final state, and the steps from one to the next in the order in which hands do them."""

from __future__ import annotations

import json
import math
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from uphill_lamp.core.areas.light.lamp_words import OVERHEAD_WORDS
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import value_at
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.wording import sum_of
from uphill_lamp.core.steps.action import Action, put_again
from uphill_lamp.core.steps.closing import LEAST_GAIN, added
from uphill_lamp.core.steps.hands import hand
from uphill_lamp.core.steps.pareto_front import Point, hull_of, pareto_front_of
from uphill_lamp.core.steps.pressing import free_name
from uphill_lamp.core.steps.score_cache import ScoreCache

NO_LOSS = 0.05  # points that a step may seem to lose before the next gains them back


@dataclass(frozen=True)
class Step:
    """An action in its place in the ladder: what it gains there [points], the score after it, and what it makes superfluous.

    ``detail`` is the action's in the room as the steps before it leave it; ``with_next``: what it does tells only together with the next one,
    which then says what both gain.
    """

    action: Action
    gain: float
    score: float
    replaces: tuple[Action, ...] = ()
    with_next: bool = False
    detail: str = ""


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
class Completed:
    """A set of actions, in the order they are done, with its score: a place to stand."""

    chosen: tuple[Action, ...]
    score: float

    @property
    def point(self) -> Point:
        """What it costs and which actions they are."""
        return Point(sum(action.amount for action in self.chosen), self.score, frozenset(action.id for action in self.chosen))


def rungs_of(
    first: Sequence[Action],
    beyond: Sequence[Completed],
    pool: Mapping[str, Action],
    scores: ScoreCache,
    wishes: Preferences,
    limit: float = math.inf,
) -> tuple[Rung, ...]:
    """The rungs: what is free, then the vertices of what money buys from there; what is bought on one is not left out on the next, unless
    something that is bought there is in its place.

    Args:
        first: the free set, in order.
        beyond: what money buys, free steps and all.
        pool: every action there is, by id, in the order they are done.
        limit: most money.
    """
    walk, start = _Walk(first, pool, scores, wishes), scores.of(first)
    sets, spent = {completed.point: completed for completed in beyond}, walk.here.cost
    vertices = hull_of(pareto_front_of([Point(spent, start), *(point for point in sets if point.cost > spent)]))[1:]
    for point in vertices:
        fresh = _not_undoing(pool, walk.done, scores.base.setup)
        alone = [action for action in sets[point].chosen if action.id in fresh]
        beside = _beside(walk.here, alone, pool, scores)
        for chosen in (beside, alone) if _as_well(beside, alone, walk.here, scores, limit) else (alone, beside):
            chosen = _with_free_of(walk.done, chosen, pool, scores)
            chosen = _final(added(chosen, fresh, scores, frozenset(action.id for action in chosen)), scores)
            if _amount(chosen) <= limit + 1e-9 and not _throws_away(walk.done, chosen, pool, scores):
                walk.on_to(chosen)
                break
    # What was left out so that nothing is thrown away may still gain beside it.
    fresh = _not_undoing(pool, walk.done, scores.base.setup)
    left = ([action for action in sets[point].chosen if action.id in fresh] for point in vertices)
    rest = [_final(_beside(walk.here, chosen, pool, scores), scores) for chosen in left]
    rest = [chosen for chosen in rest if _amount(chosen) <= limit + 1e-9 and not _throws_away(walk.done, chosen, pool, scores)]
    walk.on_to(max(rest, key=scores.of, default=walk.here.chosen))
    return tuple(walk.rungs)


class _Walk:
    """The rungs so far, and what was paid on the way."""

    def __init__(self, first: Sequence[Action], pool: Mapping[str, Action], scores: ScoreCache, wishes: Preferences) -> None:
        base, start, spent = scores.base.score, scores.of(first), _amount(first)
        self._scores, self._wishes = scores, wishes
        self.rungs = [Rung(tuple(first), _steps([], first, scores, base), spent, spent, start, start - base, True)]
        self._owned: Counter[str] = Counter(entry for action in first for entry in action.cost.entries)
        self._stopped = False
        self._by_the_way: list[Action] = []

    @property
    def here(self) -> Rung:
        """The last rung."""
        return self.rungs[-1]

    @property
    def done(self) -> list[Action]:
        """What is done there, and what something bought does by the way: turns off a lamp that was off already."""
        return [*self.here.chosen, *self._by_the_way]

    def on_to(self, chosen: Sequence[Action]) -> None:
        """A rung more with a set, if it gains what is worth doing and costs no less."""
        here, reached = self.here, self._scores.of(chosen)
        if reached < here.score + LEAST_GAIN or _amount(chosen) < here.cost - 1e-9:
            return
        self._owned |= Counter(entry for action in chosen for entry in action.cost.entries)
        paid = max(here.paid, _price(self._owned, self._wishes.currency))
        asked, gain = paid - here.paid, reached - here.score
        self._stopped = self._stopped or (asked > 0 and gain * self._wishes.money_per_point < asked)
        gone = tuple(action for action in here.chosen if action not in chosen)
        self._by_the_way = [action for action in self.done if action not in chosen and _does_too(action, chosen)]
        steps = _steps(here.chosen, chosen, self._scores, here.score)
        self.rungs.append(Rung(tuple(chosen), steps, _amount(chosen), paid, reached, gain, not self._stopped, gone))


def _throws_away(here: Sequence[Action], chosen: Sequence[Action], pool: Mapping[str, Action], scores: ScoreCache) -> bool:
    """Whether a set leaves out something done or bought in the one before, though nothing in it is in its place."""
    gone = [action for action in here if action not in chosen]
    names = {action.id for action in gone}  # what builds on what goes, goes with it
    return any(not action.needs & names and not _in_place_of(action, chosen, pool, scores) for action in gone)


def _not_undoing(pool: Mapping[str, Action], here: Sequence[Action], base: Setup) -> dict[str, Action]:
    """All actions but the free ones that switch, hang or show again what the free ones done here changed: they write to the same place, and
    what was there at first. A figure may come back: a lamp is dimmed, and then not."""
    written = {path for action in here if not action.amount for path in action.writes}
    return {
        name: action
        for name, action in pool.items()
        if action.amount
        or action in here
        or not any(path in written and value == _first(base, path) for path, value in action.writes.items())
    }


def _first(base: Setup, path: str) -> str | None:
    """What stands at a path at first, as an action writes it; None for a number, and where there is nothing."""
    try:
        value = value_at(base, path)
    except Refused:
        return None
    return None if isinstance(value, int | float) and not isinstance(value, bool) else json.dumps(value, sort_keys=True)


def _in_place_of(action: Action, chosen: Iterable[Action], pool: Mapping[str, Action], scores: ScoreCache) -> bool:
    """Whether something in a set is in the place of an action: of one that is bought what does the same, cannot go with it, or is bought for
    the same part; of a free one only the same worked out anew or done by the way, or what is bought and cannot go with it."""
    if action.amount:
        return any(
            action.clashes(other) or action.title == other.title or (other.amount and action.parts & other.parts) for other in chosen
        )
    return any(
        action.wish == other.wish
        or _does_too(action, (other,))
        or put_again(action, other)
        or (other.amount and not any(_goes_with(action, again, pool, scores) for again in _anew(other, pool)))
        for other in chosen
    )


def _does_too(action: Action, chosen: Iterable[Action]) -> bool:
    """Whether something in a set does all that a free action does, and more."""
    return not action.amount and any(action.writes.items() <= other.writes.items() for other in chosen)


def _goes_with(action: Action, other: Action, pool: Mapping[str, Action], scores: ScoreCache) -> bool:
    return not action.clashes(other) and not scores.apart(action, other, pool)


def _anew(action: Action, pool: Mapping[str, Action]) -> list[Action]:
    """An action, and the same as it was worked out in other rooms, for no more money."""
    return [action, *(other for other in pool.values() if other.wish == action.wish and other != action and other.amount <= action.amount)]


def _beside(rung: Rung, chosen: Sequence[Action], pool: Mapping[str, Action], scores: ScoreCache) -> list[Action]:
    """What a set buys, put to what stands on a rung: nobody is to turn the desk twice, and what was bought there is not bought for nothing."""
    kept = list(rung.chosen)
    for action in sorted(chosen, key=lambda action: -action.amount):
        sets = (
            [] if action in kept else [scores.taken_in(again, kept, pool) for again in (_anew(action, pool) if action.amount else [action])]
        )
        whole = (more for more in sets if more is not None and not _throws_away(kept, more, pool, scores))
        more = next(whole, sets[0] if sets else None)
        if more is not None and (action.amount or (len(more) > len(kept) and scores.of(more) > scores.of(kept) + NO_LOSS)):
            kept = more
    return kept


def _as_well(beside: Sequence[Action], chosen: Sequence[Action], rung: Rung, scores: ScoreCache, limit: float) -> bool:
    """Whether a set put to what stands on a rung does as well as by itself, for no more money from there on."""
    more_beside, more = (_amount(action for action in there if action not in rung.chosen) for there in (beside, chosen))
    afforded = more_beside <= more + 1e-9 and _amount(beside) <= limit + 1e-9
    return afforded and scores.of(beside) >= scores.of(chosen) - LEAST_GAIN


def _amount(chosen: Iterable[Action]) -> float:
    return sum(action.amount for action in chosen)


def _with_free_of(done: Iterable[Action], chosen: Sequence[Action], pool: Mapping[str, Action], scores: ScoreCache) -> list[Action]:
    """A set with what was done for nothing on the rungs before: nobody is to undo it, unless something bought is better in its place."""
    kept = list(chosen)
    for action in done:
        more = None if action.amount or _in_place_of(action, kept, pool, scores) else scores.taken_in(action, kept, pool)
        if more is not None and len(more) > len(kept):
            kept = more
    return kept


def without_idle(chosen: Sequence[Action], scores: ScoreCache, must: Iterable[str] = (), bought: bool = False) -> list[Action]:
    """A set without the steps that add less than is worth doing, the least first, unless they are wanted in any case.

    Args:
        bought: whether what costs money may go too.
    """
    kept, wanted = list(chosen), set(must)
    while True:
        score, least, idle = scores.of(kept), LEAST_GAIN, list[Action]()
        for action in kept:
            going = _with_users(action, kept)
            if any(member.id in wanted or (member.amount and not bought) for member in going):
                continue
            rest = [member for member in kept if member not in going]
            if (lost := score - scores.of(rest, score - least)) < least:
                least, idle = lost, going
        if not idle:
            return kept
        kept = [member for member in kept if member not in idle]


def _with_users(action: Action, chosen: Sequence[Action]) -> list[Action]:
    """An action and those of a set that build on it, in turn: a lamp that is turned on, and off again by a later step, is no use."""
    going = [action]
    for member in chosen:
        if member not in going and member.needs & {other.id for other in going}:
            going.append(member)
    return going


def settled(
    chosen: Sequence[Action], pool: dict[str, Action], scores: ScoreCache, must: Iterable[str] = ()
) -> tuple[list[Action], dict[str, Action]]:
    """A set in which nothing is done that a later step undoes or writes over: nobody moves what is then taken away.

    Returns:
        the set, and the pool with the later steps as they are without the earlier.
    """
    wanted, there = set(must), scores.document(chosen)
    for action in chosen:
        users = [member for member in chosen if action.id in member.needs]
        if action.amount or action.id in wanted or len(users) != 1:
            continue
        alone = replace(users[0], needs=users[0].needs - {action.id}, title=_title_alone(users[0], scores.base.setup))
        if not any(alone.id in member.needs for member in chosen):  # else it keeps its name, for what builds on it
            known = (other for other in pool.values() if (other.wish, other.patch, other.needs) == (alone.wish, alone.patch, alone.needs))
            alone = next(known, None) or replace(alone, id=free_name(alone.wish, {*pool, *(member.id for member in chosen)}))
        rest = [alone if member is users[0] else member for member in chosen if member is not action]
        if scores.document(rest) == there:
            return settled(rest, pool | {alone.id: alone}, scores, must)
    return list(chosen), pool


def _title_alone(action: Action, base: Setup) -> str:
    """What an action is called where it no longer follows one that had turned on the light which it turns off."""
    off = [path for path, value in action.writes.items() if path.endswith("/on") and value == "false"]
    return action.title.replace(OVERHEAD_WORDS, "") if off and all(_first(base, path) == "false" for path in off) else action.title


def _final(chosen: Sequence[Action], scores: ScoreCache) -> list[Action]:
    """A set as a final state: without what others in it write over again."""
    kept, there = list(chosen), scores.document(chosen)
    for action in chosen:
        rest = [member for member in kept if member is not action]
        if not any(action.id in member.needs for member in rest) and not action.amount and scores.document(rest) == there:
            kept = rest
    return kept


def _steps(here: Sequence[Action], chosen: Sequence[Action], scores: ScoreCache, score: float) -> tuple[Step, ...]:
    """The way from one set to the next, in the order of hands; after every step the setup is whole."""
    now, left = list(here), [action for action in chosen if action not in here]
    gone = [action for action in here if action not in chosen]
    known = {action.id: action for action in (*here, *chosen)}
    order = {action.id: index for index, action in enumerate([*here, *chosen])}
    steps: list[Step] = []
    there = scores.document(now)
    while left:
        tried = []
        for action in left:
            if not action.needs & known.keys() <= {member.id for member in now}:
                continue
            replaced = tuple(member for member in now if member in gone and (member.clashes(action) or scores.apart(member, action, known)))
            then = sorted([member for member in now if member not in replaced] + [action], key=lambda member: order[member.id])
            worth = scores.of(then)
            tried.append(((-hand(action), worth, -order[action.id]), action, replaced, then))
        if not tried:
            break
        (_, reached, _), action, replaced, now = max(tried, key=lambda attempt: attempt[0])
        before, there = there, scores.document(now)
        if there != before or action.amount:  # else it is done already, by what it is in the place of
            detail = action.told_between(before, there) if before and there else action.detail
            steps.append(Step(action, reached - score, reached, replaced, detail=detail))
        score = reached
        left.remove(action)
    if steps:  # what is no longer of use goes with the last step
        idle = tuple(member for member in now if member in gone)
        reached = scores.of(chosen)
        steps[-1] = replace(
            steps[-1], gain=steps[-1].gain + reached - steps[-1].score, score=reached, replaces=(*steps[-1].replaces, *idle)
        )
    return _shown_together(steps)


def _shown_together(steps: list[Step]) -> tuple[Step, ...]:
    """Steps none of which seems to lose, or to be bought for nothing: one that only a later one makes good is told with the next."""
    shown: list[Step] = []
    carried = 0.0
    for index, step in enumerate(steps):
        gain = step.gain + carried
        if _in_vain(step.action, gain) and index + 1 < len(steps):
            shown.append(replace(step, gain=0.0, score=step.score - gain, with_next=True))
            carried = gain
        else:
            shown.append(replace(step, gain=gain))
            carried = 0.0
    for index in range(len(shown) - 2, -1, -1):  # the last has no next: what comes before it is told with it
        step, last = shown[index], shown[-1]
        if not _in_vain(last.action, last.gain):
            break
        shown[index] = replace(step, gain=0.0, score=step.score - step.gain, with_next=True)
        shown[-1] = replace(last, gain=last.gain + step.gain)
    return tuple(shown)


def _in_vain(action: Action, gain: float) -> bool:
    """Whether a step seems to lose, or to be bought for nothing."""
    return gain < (NO_LOSS if action.amount else -NO_LOSS)


def _price(owned: Counter[str], currency: str) -> float:
    return float(sum(number * (catalogue().price(entry, currency) or 0.0) for entry, number in owned.items()))
