"""What meets the head's outline from behind: things that seem to grow out of it, and level edges that cut through it
(docs/method/backdrop.md)."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.colour_difference import NEUTRAL, difference, lab_of
from uphill_lamp.core.scene.in_view import ANGLES_DEG, RADII, HeadInPicture, InView, Ring
from uphill_lamp.core.scene.placing import Pane, window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import Seen, backdrop_panes, view_of

BEYOND = 0.15  # head heights that a thing rises beyond the outline to grow out of it
NARROW = 1.5  # head breadths: what is wider is a background
STOPS, DIFFERENCE = 0.4, 10.0  # what does not differ so much from what adjoins it is not seen
EDGE_COUNTS = 0.5  # an edge of a frame or a shelf, against something narrow
BROW, OVER_CROWN = 0.06, 0.1  # head heights over the eyes and over the crown, between which a level edge cuts
ACROSS, LEVEL = 0.6, 0.15  # share of the head that an edge must run past, and how much it may slope, in picture heights by head heights
NO_LINE = 0.6  # head heights over the eyes from which on an edge is none
LOOKED, BESIDE = 0.03, 0.12  # head heights: so far over and under an edge, and beside the head, it is looked for


@dataclass(frozen=True, eq=False)
class Outline:
    """What meets the head's outline.

    Args:
        grows: share of the upper outline that things grow from, 0-1.
        growing: what they are, ids of things behind and of windows, most first.
        line: how high over the eyes the lowest level edge crosses the head, in head heights; ``NO_LINE`` where none does.
        lined: whose edge it is.
        spots: the head's upper outline in the picture, places from the left and the top, shape (N, 2) [no unit].
        marked: which of them something grows from, shape (N,).
        inner: places just inside of the outline, as many.
    """

    grows: float
    growing: tuple[str, ...]
    line: float
    lined: str
    spots: FloatArray
    marked: NDArray[np.bool_]
    inner: FloatArray


NONE = Outline(0.0, (), NO_LINE, "", np.zeros((0, 2)), np.zeros(0, dtype=bool), np.zeros((0, 2)))


def outline_of(setup: Setup, in_view: InView) -> Outline:
    """What meets the outline of the presenter's head in the main camera's picture."""
    head, around = in_view.head, in_view.ring
    if head is None or around is None:
        return NONE
    panes = dict(backdrop_panes(setup)) | {window.id: window_pane(setup.room, window) for window in setup.room.windows}
    ring = _Beside.of(around)
    counts, marked = _growing(setup, head, panes, ring)
    line, lined = min(_lines(setup, head, panes, ring.breadth), default=(NO_LINE, ""))
    growing = tuple(name for name, count in counts.most_common() if count)
    share = sum(counts.values()) / len(ANGLES_DEG)
    return Outline(share, growing, min(line, NO_LINE), lined, around.at(around.first), marked, around.at(around.inner))


@dataclass(frozen=True, eq=False)
class _Beside:
    """What is beside the head, by the angle.

    ``near`` and ``far`` (N,) index ``things``: just past the head, and so far beyond it that what is there rises; ``seen`` (N,) whether that is
    in the picture; ``breadth`` of the head, in its heights.
    """

    things: tuple[Seen, ...]
    near: NDArray[np.int64]
    far: NDArray[np.int64]
    seen: NDArray[np.bool_]
    breadth: float

    @classmethod
    def of(cls, ring: Ring) -> _Beside:
        first, rows = ring.first, np.arange(len(ANGLES_DEG))
        last = first + round(BEYOND / (RADII[1] - RADII[0]))
        seen = (last < len(RADII)) & (np.abs(ring.at(first) - 0.5) <= 0.5).all(axis=1)
        level = np.abs(np.abs(ANGLES_DEG) - 90) < 3
        far = ring.what[rows, np.minimum(last, len(RADII) - 1)]
        return cls(ring.view.things, ring.what[rows, first], far, seen, float(2 * RADII[first[level]].mean()))


def _growing(setup: Setup, head: HeadInPicture, panes: dict[str, Pane], ring: _Beside) -> tuple[Counter[str], NDArray[np.bool_]]:
    """How much of the outline grows from each thing, in places of it, and which places."""
    near, far, counts = ring.near, ring.far, Counter[str]()
    marked = np.zeros(len(near), dtype=bool)
    pinhole, breadths = scene_of(setup).pinhole, dict[str, float]()
    beside = _beside(near)
    for row in np.flatnonzero(ring.seen).tolist():
        thing = ring.things[near[row]]
        if thing.kind not in ("backdrop", "window") or beside[row] is None or not _differs(setup, thing, ring.things[near[beside[row]]]):
            continue
        if thing.name not in breadths:
            breadths[thing.name] = _breadth(pinhole, panes[thing.name], head)
        narrow = breadths[thing.name] < NARROW * ring.breadth
        edge = bool((near[max(row - 1, 0) : row + 2] != near[row]).any())
        marked[row] = far[row] == near[row] if narrow else edge
        counts[thing.name] += float(marked[row]) * (1.0 if narrow else EDGE_COUNTS)  # type: ignore[assignment]
    return counts, marked


def _breadth(pinhole: Any, pane: Pane, head: HeadInPicture) -> float:
    """How wide a rectangle is in the picture, in head heights; endless where a part of it lies behind the lens."""
    x = pinhole.project(pane.corners())[:, 0]
    return np.inf if np.isnan(x).any() else float(np.ptp(x)) * head.aspect / head.high


def _beside(near: NDArray[np.int64]) -> list[int | None]:
    """Of each place along the outline the nearest where something else is met; None where one thing fills all of it."""
    ends, rows = np.flatnonzero(np.diff(near)), range(len(near))  # the last places of what is met, but for the end of the outline
    before, after = np.searchsorted(ends, rows) - 1, np.searchsorted(ends, rows)
    nearest: list[int | None] = []
    for row, last, this in zip(rows, before.tolist(), after.tolist(), strict=True):
        sides = ([int(ends[last])] if last >= 0 else []) + ([int(ends[this]) + 1] if this < len(ends) else [])
        nearest.append(min(sides, key=lambda other: abs(other - row), default=None))
    return nearest


def _differs(setup: Setup, mine: Seen, other: Seen) -> bool:
    """Whether a thing is told from what adjoins it along the outline."""
    return _told_apart(_colour(setup, mine), mine.reflectance, _colour(setup, other), other.reflectance)


@lru_cache(maxsize=1024)
def _told_apart(colour: str, reflectance: float, other_colour: str, other_reflectance: float) -> bool:
    """Whether two surfaces differ enough to have an edge between them."""
    stops = abs(math.log2(max(reflectance, 0.01) / max(other_reflectance, 0.01)))
    return stops >= STOPS or difference(lab_of(colour, reflectance), lab_of(other_colour, other_reflectance)) >= DIFFERENCE


def _colour(setup: Setup, thing: Seen) -> str:
    return next((behind.colour for behind in setup.backdrop if thing.kind == "backdrop" and behind.id == thing.name), NEUTRAL)


def _lines(setup: Setup, head: HeadInPicture, panes: dict[str, Pane], breadth: float) -> Iterator[tuple[float, str]]:
    """Level edges behind the head: how high over the eyes in head heights, and whose."""
    pinhole = scene_of(setup).pinhole
    over_eyes = (head.eyes - (head.y - head.high / 2)) / head.high + OVER_CROWN
    half = breadth * head.high / head.aspect / 2
    for name, pane in panes.items():
        corners = pinhole.project(pane.corners())
        if np.isnan(corners).any():
            continue
        for left, right, inside in ((corners[0], corners[1], 1.0), (corners[3], corners[2], -1.0)):
            (x0, y0), (x1, y1) = sorted((left.tolist(), right.tolist()))
            met = min(x1, head.x + half) - max(x0, head.x - half)
            if met < ACROSS * 2 * half or x1 - x0 < 1e-6:
                continue
            y = float(np.interp(head.x, [x0, x1], [y0, y1]))
            above = (head.eyes - y) / head.high
            if BROW <= above <= over_eyes and abs(y1 - y0) <= LEVEL * head.high and _is_seen(setup, head, name, half, y, inside):
                yield above, name


def _is_seen(setup: Setup, head: HeadInPicture, name: str, half: float, y: float, inside: float) -> bool:
    """Whether an edge shows on a side of the head: its thing just inside of it, and something else just outside."""
    pinhole = scene_of(setup).pinhole
    x = np.repeat([head.x - half - BESIDE * head.high / head.aspect, head.x + half + BESIDE * head.high / head.aspect], 2)
    down = y + np.tile([inside, -inside], 2) * LOOKED * head.high
    view = view_of(setup, pinhole, pinhole.ray(x, down))
    seen = [view.things[index] for index in view.what]
    sides = ((seen[0], seen[1], x[0]), (seen[2], seen[3], x[2]))
    return any(
        0 <= at <= 1 and mine.name == name and mine.kind in ("backdrop", "window") and other.name != name for mine, other, at in sides
    )
