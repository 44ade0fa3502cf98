"""Coloured light off the room for the picture."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.drawings.far_side.colour import light_rgb


@dataclass(frozen=True)
class Returned:
    """Light off the room's surfaces, with the colour of what it comes from."""

    lit_scene: LitScene
    sent: NDArray[np.floating[Any]]  # by each cell of the enclosure (C, 3) [lm/m2] in linear sRGB
    returned: NDArray[np.floating[Any]]  # on its elements (E, 3) [lx], the same

    @classmethod
    def of(cls, lit_scene: LitScene) -> Returned:
        """Of a setup's light."""
        tints = np.array([light_rgb(source) for source in lit_scene.sources]).reshape(len(lit_scene.sources), 3)
        return cls(lit_scene, (lit_scene.cells_sent_by_source @ tints).astype(np.float32), lit_scene.returned_by_source_lx @ tints)

    def at(self, seen: FloatArray) -> FloatArray:
        """What of it falls on small surfaces that see the enclosure's cells so (N, C), shape (N, 3) [lx]."""
        return np.asarray(seen @ self.sent)

    @cached_property
    def mean(self) -> FloatArray:
        """On average over the room, never quite nothing, shape (3,) [lx]."""
        areas = self.lit_scene.enclosure.patches.area_m2
        return np.maximum(areas @ self.returned[: len(areas)] / areas.sum(), 0.02).astype(np.float32)
