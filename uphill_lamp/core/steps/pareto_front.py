"""Cost and score: what no other choice beats, fronts of parts put together, and the vertices of the concave hull."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

LEAST_STEP = 1e-9  # scores nearer than this are alike


@dataclass(frozen=True, slots=True)
class Point:
    """A choice of actions: what it costs, what it is worth, and which they are, by id."""

    cost: float
    score: float
    chosen: frozenset[str] = frozenset()


def pareto_front_of(points: Iterable[Point], limit: float = float("inf")) -> list[Point]:
    """Those that no other beats, by rising cost and rising score; of alike ones the one with fewest actions."""
    best: list[Point] = []
    for point in sorted(points, key=lambda candidate: (candidate.cost, -candidate.score, len(candidate.chosen), sorted(candidate.chosen))):
        if point.cost <= limit + 1e-9 and (not best or point.score > best[-1].score + LEAST_STEP):
            best.append(point)
    return best


def merged(fronts: Iterable[Sequence[Point]], limit: float) -> list[Point]:
    """The front of choosing one point from each of several fronts that do not touch one another: costs and scores add."""
    whole = [Point(0.0, 0.0)]
    for front in fronts:
        sums = (Point(a.cost + b.cost, a.score + b.score, a.chosen | b.chosen) for a in whole for b in front)
        whole = pareto_front_of(sums, limit)
    return whole


def hull_of(front: Sequence[Point]) -> list[Point]:
    """The vertices of a front's concave hull: from each to the next, money buys less than before."""
    hull: list[Point] = []
    for point in front:
        while len(hull) > 1 and _slope(hull[-2], hull[-1]) <= _slope(hull[-2], point) + 1e-12:
            hull.pop()
        hull.append(point)
    return hull


def _slope(low: Point, high: Point) -> float:
    """Points for a unit of money."""
    return (high.score - low.score) / max(high.cost - low.cost, 1e-9)


def best_within(front: Sequence[Point], budget: float) -> Point:
    """The best choice that a budget allows; the first of the front, which costs least, if it allows none."""
    return next((point for point in reversed(front) if point.cost <= budget + 1e-9), front[0])
