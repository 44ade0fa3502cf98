"""Coloured light off the room for the picture."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.drawings.far_side.colour import light_rgb


@dataclass(frozen=True)
class Returned:
    """Light of a setup off the room's surfaces, with the colour of what it comes from."""

    lit_scene: LitScene

    def at(self, seen: FloatArray) -> FloatArray:
        """What falls on small surfaces that see the enclosure's cells so (N, C), or its elements (N, E), shape (N, 3) [lx]."""
        elements = seen.shape[1] == len(self.lit_scene.enclosure.reflectance)
        return np.asarray(seen @ (self._sent_by_elements if elements else self._sent_by_cells))

    @cached_property
    def _tints(self) -> FloatArray:
        return np.array([light_rgb(source) for source in self.lit_scene.sources]).reshape(len(self.lit_scene.sources), 3)

    @cached_property
    def _sent_by_cells(self) -> FloatArray:
        """Shape (C, 3) [lm/m2] in linear sRGB."""
        return (self.lit_scene.cells_sent_by_source @ self._tints).astype(np.float32)

    @cached_property
    def _sent_by_elements(self) -> FloatArray:
        """Shape (E, 3) [lm/m2], the same."""
        return (self.lit_scene.sent_by_source @ self._tints).astype(np.float32)

    @cached_property
    def mean(self) -> FloatArray:
        """On average over the room, never quite nothing, shape (3,) [lx]."""
        areas = self.lit_scene.enclosure.patches.area_m2
        return np.maximum(areas @ (self.lit_scene.returned_by_source_lx @ self._tints)[: len(areas)] / areas.sum(), 0.02).astype(np.float32)
