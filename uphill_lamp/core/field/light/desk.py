"""The desk in the light: what falls on its top goes up again, and it hides what of the floor lies behind it.

The top is one even, dull surface. What it keeps from the floor, and what it sends to walls and ceiling, are left out: both are small
against the room, and the room is solved once for all places of a desk.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import Desk
from uphill_lamp.core.scene.placing import Pane, desk_pane
from uphill_lamp.core.scene.vectors import UP

CELLS = (6, 4)  # along the sitter's left and right, and away from them: each is lit at its middle
WITHIN = 3  # and seen as so many by so many smaller ones, for a chin is near
OVER_M = 1e-4


@dataclass(frozen=True, eq=False)
class Top:
    """A desk's top in the room: its rectangle, and the middles of its cells (D, 3) [m]."""

    pane: Pane
    cells: FloatArray
    reflectance: float

    @property
    def normals(self) -> FloatArray:
        """Of the cells: up, shape (D, 3)."""
        return np.repeat(UP[None], len(self.cells), axis=0)

    @property
    def cell_m2(self) -> float:
        """Of one cell [m2]."""
        return self.pane.width_m * self.pane.height_m / len(self.cells)

    @property
    def key(self) -> tuple[float, ...]:
        """Where it lies, as a key."""
        pane = self.pane
        return (*pane.middle.tolist(), *pane.right.tolist(), pane.width_m, pane.height_m)

    def inside(self, size: FloatArray) -> NDArray[np.bool_]:
        """Which cells lie in a room of a size (3,) [m], shape (D,): no light falls beyond its walls."""
        return np.asarray(((self.cells > 0) & (self.cells < size)).all(axis=1))

    def hides(self, places: FloatArray, spots: FloatArray) -> NDArray[np.bool_]:
        """Whether it lies between places over it (N, 3) and spots under it (M, 3), shape (N, M)."""
        up, down = places[:, 2] - self.pane.middle[2], self.pane.middle[2] - spots[:, 2]
        share = up[:, None] / np.maximum(up[:, None] + down, 1e-9)
        crosses = (up[:, None] > 0) & (down > 0)
        for axis, half in ((self.pane.right, self.pane.width_m / 2), (self.pane.up, self.pane.height_m / 2)):
            begin, end = (places - self.pane.middle) @ axis, (spots - self.pane.middle) @ axis
            crosses &= np.abs(begin[:, None] + share * (end - begin[:, None])) <= half
        return np.asarray(crosses)

    def seen_from(self, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Form factor of each cell from small surfaces, shapes (N, 3) -> (N, D) [no unit]."""
        spots = _spread(self.pane, CELLS[0] * WITHIN, CELLS[1] * WITHIN)
        patch_m2 = self.pane.width_m * self.pane.height_m / len(spots)
        beyond = spots - places[:, None]
        squared = np.maximum((beyond * beyond).sum(axis=2), patch_m2 / math.pi)
        over = np.maximum(places[:, 2] - self.pane.middle[2], 0.0)[:, None]
        seen = np.maximum(np.einsum("nsi,ni->ns", beyond, normals), 0.0) * over / squared**2 * patch_m2 / math.pi
        across, along = CELLS
        return np.asarray(seen.reshape(len(places), across, WITHIN, along, WITHIN).sum(axis=(2, 4)).reshape(len(places), -1))


def top_of(desk: Desk) -> Top:
    """A desk's top."""
    pane = desk_pane(desk)
    return Top(pane, _spread(pane, *CELLS) + OVER_M * UP, desk.reflectance)


def _spread(pane: Pane, across: int, along: int) -> FloatArray:
    """Middles of so many cells of a pane, those along within those across, shape (across * along, 3) [m]."""
    a, b = (np.arange(across) + 0.5) / across - 0.5, (np.arange(along) + 0.5) / along - 0.5
    right, up = np.meshgrid(a * pane.width_m, b * pane.height_m, indexing="ij")
    return np.asarray(pane.middle + right.reshape(-1, 1) * pane.right + up.reshape(-1, 1) * pane.up)
