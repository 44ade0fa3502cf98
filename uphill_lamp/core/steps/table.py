"""The table of what combinations of actions are worth, area by area, and the exact front from it.

The whole score is a weighted sum of the areas' scores, and an area's score depends only on the actions that bear on it. So the
actions that bear on several areas (which camera where, where the desk stands) are fixed first, every combination of them; the
others of each area are then independent of those of the other areas: each area has a front of its own, and the fronts add.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from uphill_lamp.core.areas.registry import keys
from uphill_lamp.core.steps.action import Action, conflicts
from uphill_lamp.core.steps.pareto_front import Point, merged, pareto_front_of

MOST_COMBINATIONS = 150
Told = Callable[[int, int], None]
Valued = Callable[[str, Sequence[Action]], float | None]


class Cancelled(Exception):
    """The work was no longer wanted."""


@dataclass
class Choice:
    """Actions to choose from: those that bear on several areas, those of one area each, and what goes with what."""

    shared: list[Action]
    local: dict[str, list[Action]]
    clash: dict[str, frozenset[str]]
    limit: float
    must: frozenset[str] = frozenset()
    order: dict[str, int] = field(default_factory=dict)

    def sorted(self, chosen: Sequence[Action]) -> list[Action]:
        """In the order they are done: what is needed comes first."""
        return sorted(chosen, key=lambda action: self.order[action.id])


def choice_of(
    actions: Sequence[Action],
    limit: float,
    must: frozenset[str] = frozenset(),
    apart: Callable[[Action, Action], bool] = lambda one, other: False,
    known: Mapping[str, frozenset[str]] | None = None,
) -> Choice:
    """Sorts actions into shared and local ones; what needs or excludes an action of another area is shared.

    Args:
        known: what goes with what, by id, of these actions and maybe of more, if it was told already.
    """
    by_id = {action.id: action for action in actions}
    clash = conflicts(actions, apart) if known is None else {name: known[name] & by_id.keys() for name in by_id}
    together = {action.id for action in actions if len(action.areas) > 1}
    for action in actions:
        for other in (action.needs | clash[action.id]) & by_id.keys():
            if len(action.areas | by_id[other].areas) > 1 and not {action.id, other} & together:
                together |= {action.id, other}
    for action in reversed(actions):  # what a shared action needs is shared; needs stand before what needs them
        if action.id in together:
            together |= action.needs & by_id.keys()
    shared = [action for action in actions if action.id in together]
    alone = [action for action in actions if action.id not in together]
    local: dict[str, list[Action]] = {area: [action for action in alone if area in action.areas] for area in keys()}
    wanted = frozenset(name for name in must if name in by_id)
    return Choice(shared, local, clash, limit, wanted, {action.id: index for index, action in enumerate(actions)})


def combinations(actions: Sequence[Action], choice: Choice, given: Sequence[Action] = ()) -> Iterator[tuple[Action, ...]]:
    """Every way to choose among actions that goes together with those given, has what it needs and stays within the limit."""
    there = frozenset(action.id for action in given)
    free = [action for action in actions if not choice.clash[action.id] & there]
    bits = {action.id: 1 << index for index, action in enumerate(free)}
    never = 1 << len(free)  # what it needs and cannot be chosen here
    clash = [sum(bits.get(name, 0) for name in choice.clash[action.id]) for action in free]
    needs = [_mask((name for name in action.needs if name not in there), bits, never) for action in free]
    must = [action.id in choice.must for action in free]
    most = choice.limit + 1e-9
    # Without each action first, then with it: of what is still to be tried the latest is taken up.
    waiting: list[tuple[int, tuple[Action, ...], int, float]] = [(0, (), 0, sum(action.amount for action in given))]
    while waiting:
        begin, chosen, names, cost = waiting.pop()
        for index in range(begin, len(free)):
            action = free[index]
            if clash[index] & names or needs[index] & ~names or cost + action.amount > most:
                continue
            with_it = ((*chosen, action), names | 1 << index, cost + action.amount)
            if must[index]:
                chosen, names, cost = with_it
            else:
                waiting.append((index + 1, *with_it))
        yield chosen


def _mask(names: Iterable[str], bits: Mapping[str, int], other: int) -> int:
    """The bits of names; of any that has none, another."""
    mask = 0
    for name in names:
        mask |= bits.get(name, other)
    return mask


def count(choice: Choice, most: int = MOST_COMBINATIONS) -> dict[str, int]:
    """How many combinations each area's table holds; counting stops where there are too many."""
    counts: dict[str, int] = {}
    for area in keys():
        seen: set[frozenset[str]] = set()
        number = 0
        # What does not matter to the area only repeats what is counted already.
        matter = _key(bearing_on(area, choice.shared, choice)) | choice.must
        for given in combinations([action for action in choice.shared if action.id in matter], choice):
            bearing = bearing_on(area, given, choice)
            if _key(bearing) in seen:
                continue
            seen.add(_key(bearing))
            for _ in combinations(choice.local[area], choice, bearing):
                number += 1
                if number > most:
                    break
            if number > most:
                break
        counts[area] = number
    return counts


def bearing_on(area: str, given: Sequence[Action], choice: Choice) -> tuple[Action, ...]:
    """The shared actions that matter to an area's table: those that bear on it, or shut out or carry one of its own, and what
    these need in turn."""
    own = choice.local[area]
    names = {
        action.id
        for action in given
        if area in action.areas or any(action.id in choice.clash[mine.id] or action.id in mine.needs for mine in own)
    }
    for action in reversed(given):  # what is needed stands before what needs it
        if action.id in names:
            names |= action.needs
    return tuple(action for action in given if action.id in names)


def _key(actions: Sequence[Action]) -> frozenset[str]:
    return frozenset(action.id for action in actions)


@dataclass
class Table:
    """What every combination is worth: for each area, by the shared actions that matter to it, the points of its own actions."""

    choice: Choice
    areas: dict[str, dict[frozenset[str], list[Point]]]
    shared: list[tuple[Action, ...]]

    def front(self, weights: dict[str, float]) -> list[Point]:
        """The exact cost-score front within the limit.

        Args:
            weights: share of each area in the whole, summing to 1; areas without a score left out.
        """
        front: list[Point] = []
        for given in self.shared:
            spent = sum(action.amount for action in given)
            fronts = [self._front(area, given, weight, self.choice.limit - spent) for area, weight in weights.items()]
            names = frozenset(action.id for action in given)
            front += (Point(spent + point.cost, point.score, point.chosen | names) for point in merged(fronts, self.choice.limit - spent))
            front = pareto_front_of(front)
        return front

    def _front(self, area: str, given: Sequence[Action], weight: float, limit: float) -> list[Point]:
        points = self.areas[area][_key(bearing_on(area, given, self.choice))]
        return [Point(point.cost, weight * point.score, point.chosen) for point in pareto_front_of(points, limit)]


def filled(
    choice: Choice,
    valued: Valued,
    weights: dict[str, float],
    progress: Told = lambda done, of: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Table:
    """The table, worked out.

    Args:
        valued: an area's score, 0-100, with actions done; None if they do not go together.
        weights: areas to be worked out; those of weight 0 are not.
        told: called with how many combinations are done, of how many.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    shared = list(combinations(choice.shared, choice))
    work: dict[tuple[str, frozenset[str]], tuple[Action, ...]] = {}
    for given in shared:
        for area in weights:
            bearing = bearing_on(area, given, choice)
            work.setdefault((area, _key(bearing)), bearing)
    jobs = [(area, key, bearing, list(combinations(choice.local[area], choice, bearing))) for (area, key), bearing in work.items()]
    total, done = sum(len(sets) for *_, sets in jobs), 0
    tables: dict[str, dict[frozenset[str], list[Point]]] = {area: {} for area in weights}
    for area, key, bearing, sets in jobs:
        points = []
        for chosen in sets:
            if cancelled():
                raise Cancelled
            score = valued(area, choice.sorted([*bearing, *chosen]))
            done += 1
            progress(done, total)
            if score is not None:
                points.append(Point(sum(action.amount for action in chosen), score, _key(chosen)))
        tables[area][key] = points
    return Table(choice, tables, shared)
