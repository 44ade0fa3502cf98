"""Sets that one action more, or one in the place of others, makes better: what could not be weighed with all the rest has its chance here."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from uphill_lamp.core.steps.action import Action, in_order
from uphill_lamp.core.steps.pareto_front import Point, best_within, hull_of, pareto_front_of
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.table import Cancelled


def bettered(
    front: Sequence[Point],
    pool: Mapping[str, Action],
    scores: ScoreCache,
    limit: float,
    must: frozenset[str] = frozenset(),
    cancelled: Callable[[], bool] = lambda: False,
) -> list[Point]:
    """A front together with what single changes make of the sets on its hull, again and again until none of them helps.

    Args:
        pool: every action there is, by id, in the order they are done.
        limit: most money.
        must: ids that no change may take out.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    best, tried = pareto_front_of(front), {point.chosen for point in front}
    done: set[frozenset[str]] = set()
    while waiting := [point for point in hull_of(best) if point.chosen not in done]:
        for point in waiting:
            done.add(point.chosen)
            here = in_order(point.chosen, pool)
            for action in pool.values():
                if cancelled():
                    raise Cancelled
                chosen = None if action in here else scores.taken_in(action, here, pool)
                names = frozenset(action.id for action in chosen or ())
                if chosen is None or names in tried or not point.chosen & must <= names:
                    continue
                tried.add(names)
                cost = sum(action.amount for action in chosen)
                if cost <= limit + 1e-9 and (score := scores.of(chosen, best_within(best, cost).score)) >= 0:
                    best = pareto_front_of([*best, Point(cost, score, names)])
    return best
