"""Level boards in the room, such as the desk: both sides are lit and send light on, and what lies behind them is hidden.

Each side is one even, dull surface, cut into cells. What stands on a board, and its legs, are left out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import Desk
from uphill_lamp.core.field.light.reaching import before_m, squared_m2
from uphill_lamp.core.scene.placing import Pane, desk_pane
from uphill_lamp.core.scene.vectors import UP, Vector

CELLS = (8, 5)  # along the sitter's left and right, and away from them
WITHIN = 3  # each is lit at, and seen as, so many by so many smaller ones, for a chin is near
OVER_M = 1e-4
ON_M = 2e-3  # what is so near its plane lies on it, and is not hidden by it
UNDERSIDE = 0.35  # reflectance of raw wood or board (working value)


@dataclass(frozen=True, eq=False)
class Board:
    """A level rectangle in the room, its top's normal up, and what its two sides reflect [no unit]."""

    pane: Pane
    reflectance: float
    underside: float = UNDERSIDE

    @cached_property
    def cells(self) -> FloatArray:
        """Middles of the cells of its top (D, 3) [m], those away from the sitter within those across."""
        return _spread(self.pane, *CELLS) + OVER_M * UP

    @property
    def normals(self) -> FloatArray:
        """Of these cells: up, shape (D, 3)."""
        return np.repeat(UP[None], len(self.cells), axis=0)

    @property
    def cell_m2(self) -> float:
        """Of one cell [m2]."""
        return self.pane.width_m * self.pane.height_m / (CELLS[0] * CELLS[1])

    @cached_property
    def key(self) -> tuple[float, ...]:
        """Where it lies, as a key."""
        pane = self.pane
        return (*pane.middle.tolist(), *pane.right.tolist(), pane.width_m, pane.height_m)

    def inside(self, size: FloatArray) -> NDArray[np.bool_]:
        """Which cells lie in a room of a size (3,) [m], shape (D,): no light falls beyond its walls."""
        return np.asarray(((self.cells > 0) & (self.cells < size)).all(axis=1))

    def lit_places(self, within: int = WITHIN) -> tuple[FloatArray, FloatArray]:
        """Places spread over the cells of its top and then of its underside, and their normals, both of shape (2 D within^2, 3)."""
        spots = self._spots(within)
        return np.concatenate([spots + OVER_M * UP, spots - OVER_M * UP]), np.repeat(np.array([UP, -UP]), len(spots), axis=0)

    def _spots(self, within: int) -> FloatArray:
        """Places spread over its cells, within^2 in each, shape (D within^2, 3) [m]; not to be written to."""
        if within not in self._spread_out:
            across, along = CELLS
            spots = _spread(self.pane, across * within, along * within).reshape(across, within, along, within, 3)
            self._spread_out[within] = spots.transpose(0, 2, 1, 3, 4).reshape(-1, 3)
        return self._spread_out[within]

    @cached_property
    def _spread_out(self) -> dict[int, FloatArray]:
        return {}

    def between(self, places: FloatArray, spots: FloatArray) -> NDArray[np.bool_]:
        """Whether it lies between places (N, 3) and spots (M, 3), shape (N, M)."""
        level = self.pane.middle[2]
        here, there = places[:, 2] - level, spots[:, 2] - level
        hidden = np.zeros((len(places), len(spots)), dtype=bool)
        for side in (1, -1):
            some, others = np.flatnonzero(side * here > ON_M), np.flatnonzero(-side * there > ON_M)
            if len(some) and len(others) == len(spots):
                hidden[some] = self._crossed(places[some], spots)
            elif len(some) == len(places) and len(others):
                hidden[:, others] = self._crossed(places, spots[others])
            elif len(some) and len(others):
                hidden[np.ix_(some, others)] = self._crossed(places[some], spots[others])
        return hidden

    def _crossed(self, places: FloatArray, spots: FloatArray) -> NDArray[np.bool_]:
        """Whether lines from places on one side of its plane to spots on the other cross it, shape (N, M)."""
        begin, end = (np.asarray(spot - self.pane.middle, np.float32) for spot in (places, spots))  # halves what has to be fetched
        here, there = begin[:, 2], end[:, 2]
        apart = here[:, None] - there  # a line crosses at (here end - there begin) / apart
        np.abs(apart, out=apart)
        met = []
        for axis, half in ((self.pane.right, self.pane.width_m / 2), (self.pane.up, self.pane.height_m / 2)):
            along = (axis / half).astype(np.float32)
            off = np.array([here, begin @ along]).T @ np.array([end @ along, -there])
            met.append(np.abs(off, out=off) <= apart)
        return np.asarray(met[0] & met[1])

    def shades(self, places: FloatArray, towards: Vector) -> NDArray[np.bool_]:
        """Whether it keeps parallel light, which comes from ``towards``, off places (N, 3), shape (N,)."""
        below = self.pane.middle[2] - places[:, 2]
        if towards[2] <= 1e-9:
            return np.zeros(len(places), dtype=bool)
        met = places + (below / towards[2])[:, None] * towards - self.pane.middle
        on = (np.abs(met @ self.pane.right) <= self.pane.width_m / 2) & (np.abs(met @ self.pane.up) <= self.pane.height_m / 2)
        return np.asarray(on & (below > ON_M))

    def seen_from(self, places: FloatArray, normals: FloatArray, within: int = WITHIN, exact: bool = True) -> FloatArray:
        """Form factor of each cell of its top, then of its underside, from small surfaces, shapes (N, 3) -> (N, 2 D) [no unit].

        Args:
            within: each cell is taken as so many by so many smaller ones.
            exact: to sixteen figures; else to some four.
        """
        figures: Any = np.float64 if exact else np.float32
        places, spots = ((rows - self.pane.middle).astype(figures) for rows in (places, self._spots(within)))
        normals = normals.astype(figures)
        patch_m2, over = self.cell_m2 / within**2, places[:, 2]
        squared = squared_m2(places, spots)
        np.maximum(squared, patch_m2 / math.pi, out=squared)
        seen = before_m(places, normals * (np.abs(over) * (patch_m2 / math.pi))[:, None], spots)
        squared *= squared
        seen /= squared
        cells = seen.reshape(len(places), CELLS[0] * CELLS[1], within**2).sum(axis=2) if within > 1 else seen
        above, out = (over > 0)[:, None], np.zeros((len(places), 2 * cells.shape[1]), cells.dtype)
        for side, half in ((above, out[:, : cells.shape[1]]), (~above, out[:, cells.shape[1] :])):
            np.copyto(half, cells, where=side)
        return out


Boards = tuple[Board, ...]


def visible(boards: Boards, places: FloatArray, spots: FloatArray) -> NDArray[np.bool_] | None:
    """Whether spots (M, 3) are seen from places (N, 3) past all boards, shape (N, M); None where no board lies between any."""
    seen = None
    for board in boards:
        level = board.pane.middle[2]
        heights = (places[:, 2].min(), places[:, 2].max(), spots[:, 2].min(), spots[:, 2].max()) if len(places) and len(spots) else None
        if heights is None or min(heights) >= level - ON_M or max(heights) <= level + ON_M:
            continue
        hidden = board.between(places, spots)
        if hidden.any():
            seen = ~hidden if seen is None else seen & ~hidden
    return seen


def board_of(desk: Desk) -> Board:
    """A desk's board."""
    return Board(desk_pane(desk), desk.reflectance)


def _spread(pane: Pane, across: int, along: int) -> FloatArray:
    """Middles of so many cells of a pane, those along within those across, shape (across * along, 3) [m]."""
    a, b = (np.arange(across) + 0.5) / across - 0.5, (np.arange(along) + 0.5) / along - 0.5
    return pane.places(np.stack([np.repeat(a, along), np.tile(b, across)], axis=1))
