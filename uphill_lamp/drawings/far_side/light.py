"""Coloured light off the room for the picture."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.radiosity import Spots
from uphill_lamp.drawings.far_side.colour import light_rgb


@dataclass(frozen=True)
class Returned:
    """Light off the room's surfaces, with the colour of what it comes from."""

    lit_scene: LitScene
    sent: NDArray[np.floating[Any]]  # (P, 3) [lm/m2] in linear sRGB

    @classmethod
    def of(cls, lit_scene: LitScene) -> Returned:
        """Of a setup's light."""
        tints = np.array([light_rgb(source) for source in lit_scene.sources]).reshape(len(lit_scene.sources), 3)
        return cls(lit_scene, lit_scene.sent_by_source @ tints)

    def at(self, spots: Spots) -> FloatArray:
        """What of it falls on small surfaces in the room, shape (N, 3) [lx]."""
        return self.lit_scene.enclosure.received_lx(self.sent, spots).astype(np.float32)

    @cached_property
    def mean(self) -> FloatArray:
        """On average over the room, never quite nothing, shape (3,) [lx]."""
        areas = self.lit_scene.enclosure.patches.area_m2
        returned = self.lit_scene.enclosure.returned_lx(self.sent)
        return np.maximum(areas @ returned / areas.sum(), 0.02).astype(np.float32)
