"""A thing behind as its painter sees it: places on it, and the albedo and the cover that are painted there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import BackdropThing


@dataclass(frozen=True, eq=False)
class Canvas:
    """N places on a thing: shares ``across`` and ``down`` 0-1, ``x`` and ``y`` from its left and top [m]; painters write to ``albedo``
    (N, 3), its own colour at first, and to ``covers`` (N,)."""

    thing: BackdropThing
    across: FloatArray
    down: FloatArray
    x: FloatArray
    y: FloatArray
    albedo: FloatArray
    covers: NDArray[np.bool_]

    @classmethod
    def of(cls, thing: BackdropThing, across: FloatArray, down: FloatArray, colour: FloatArray) -> Canvas:
        """A canvas of one colour."""
        albedo = np.repeat(colour[None], len(across), axis=0)
        return cls(thing, across, down, across * thing.width_m, down * thing.height_m, albedo, np.ones(len(across), dtype=bool))

    @property
    def edge_m(self) -> FloatArray:
        """How far each place is from the nearest edge, shape (N,) [m]."""
        beside = np.minimum(self.x, self.thing.width_m - self.x)
        return np.asarray(np.minimum(beside, np.minimum(self.y, self.thing.height_m - self.y)))

    def only(self, here: NDArray[np.bool_]) -> None:
        """Lets through what is behind everywhere else, ``here`` of shape (N,)."""
        self.covers[:] &= here
