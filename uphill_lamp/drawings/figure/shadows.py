"""What a body hides from the spots that light comes from: one map of distances from each spot, at two finenesses."""

from __future__ import annotations

import math
import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.drawings.figure.raster import depth_map, seen_through

SIDE_PX, LIGHT_PX = (320, 192), (160, 96)  # of both maps; in drafts
# Middles (forward, left, up of the eyes) and radii [m] of what each map takes in: the head finely, then all down to the waist.
BALLS = (((-0.085, 0.0, -0.01), 0.19), ((-0.09, 0.0, -0.34), 0.66))
LIFT_M, LIFT_LIGHT_M = (0.0004, 0.010), (0.0032, 0.016)  # a map's grain: nearer than this a surface would shade itself
GOLDEN = (math.sqrt(5) - 1) / 2
WORKERS = min(os.cpu_count() or 1, 4)


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(WORKERS, thread_name_prefix="shadow")


def spread(work: Callable[[int, int], None], count: int, load: NDArray[np.int64] | None = None) -> None:
    """Has a range worked on in a few pieces at once; what does the work lets go of the interpreter's lock.

    Args:
        work: takes where a piece begins and ends.
        count: how long the range is.
        load: how much there is to do before each place, rising, shape (count + 1,); the same everywhere without it.
    """
    pieces = min(WORKERS, count)
    if pieces <= 1:
        work(0, count)
        return
    edges = [count * piece // pieces for piece in range(pieces + 1)]
    if load is not None:
        edges[1:-1] = np.searchsorted(load, load[-1] * np.arange(1, pieces) / pieces).tolist()
    others = [_pool().submit(work, begin, end) for begin, end in pairwise(edges[1:])]
    work(edges[0], edges[1])  # the first by itself: one fewer to be woken
    for other in others:
        other.result()


@dataclass(frozen=True, eq=False)
class Maps:
    """Maps from K spots: ``looks`` (2, K, 4, 3) float32 — right, up and forward over their reach, then the spot; ``near`` two
    arrays (K, side, side) of 1 / distance along the axis [1/m]."""

    looks: FloatArray
    near: tuple[FloatArray, FloatArray]

    @property
    def spots(self) -> FloatArray:
        """Where the light comes from, shape (K, 3) [m]."""
        return np.asarray(self.looks[0, :, 3], float)

    def some(self, count: int) -> Maps:
        """Those of about so many spots, chosen evenly across and along what shines; the others can be let go."""
        every = max(1, len(self.near[0]) // count)
        first = np.arange(0, len(self.near[0]) - every + 1, every)
        # One of each so many that follow each other, moved on by the golden share: of a row of a pane's spots none is preferred.
        chosen = first + (every * ((np.arange(len(first)) + 0.5) * GOLDEN % 1)).astype(int)
        return Maps(self.looks[:, chosen], (self.near[0][chosen], self.near[1][chosen]))

    def seen(self, places: FloatArray, normals: FloatArray) -> FloatArray:
        """How much of each spot places see past the body, shapes (N, 3) [m] and (N, 3) -> (N, K) 0-1; 0 where they face away.

        A normal of nought stands for a place in the open, which faces every way.
        """
        out = np.empty((len(places), len(self.near[0])), dtype=np.float32)
        places, normals = np.ascontiguousarray(places, np.float32), np.ascontiguousarray(normals, np.float32)

        lifts = np.array(LIFT_M if self.near[0].shape[1] == SIDE_PX[0] else LIFT_LIGHT_M, np.float32)

        def work(begin: int, end: int) -> None:
            seen_through(places, normals, self.looks, self.near[0], self.near[1], lifts, begin, end, out)

        spread(work, len(places))
        return out


Body = tuple[FloatArray, NDArray[np.int32]]  # vertices (V, 3) [m], float32, and faces (F, 3)


def maps_from(spots: FloatArray, bodies: tuple[Body, Body], middles: Sequence[FloatArray], light: bool = False) -> Maps:
    """Maps of a body from spots.

    Args:
        spots: where light comes from, shape (K, 3) [m].
        bodies: the body for the fine map and for the coarse one, in the room.
        middles: of the two BALLS, in the room [m].
        light: whether coarser maps will do, for a draft.
    """
    looks = np.stack([_looks(spots, middle, radius) for middle, (_, radius) in zip(middles, BALLS, strict=True)]).astype(np.float32)
    near = tuple(np.zeros((len(spots), side, side), dtype=np.float32) for side in (LIGHT_PX if light else SIDE_PX))

    def work(begin: int, end: int) -> None:
        for spot in range(begin, end):
            for which in range(2):
                depth_map(*bodies[which], looks[which, spot], near[which][spot])

    spread(work, len(spots))
    return Maps(looks, (near[0], near[1]))


def _looks(spots: FloatArray, middle: FloatArray, radius: float) -> FloatArray:
    """How each spot looks at a ball, shape (K, 4, 3)."""
    towards = middle - spots
    away = np.maximum(np.linalg.norm(towards, axis=1), 1e-6)[:, None]
    forward = towards / away
    upright = np.where(np.abs(forward[:, 2:]) > 0.9, np.array([[1.0, 0.0, 0.0]]), np.array([[0.0, 0.0, 1.0]]))
    right = np.cross(forward, upright)
    right /= np.linalg.norm(right, axis=1, keepdims=True)
    up = np.cross(right, forward)
    # A spot inside the ball looks at a half-angle of some 63 degrees: what lies beyond is left to the other map.
    reach = radius / np.sqrt(np.maximum(away**2 - radius**2, (radius / 2) ** 2))
    return np.stack([right / reach, up / reach, forward, spots], axis=1)
