"""Coloured light for the picture: straight from the sources, and off the room."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.windows import Source
from uphill_lamp.drawings.far_side.colour import FloatArray, white_rgb


def falls_rgb(
    sources: tuple[Source, ...], places: NDArray[np.floating[Any]], normals: NDArray[np.floating[Any]], fineness: int
) -> FloatArray:
    """Direct light on small surfaces in linear sRGB, shapes (N, 3) -> (N, 3) [lx]."""
    total = np.zeros((len(places), 3), dtype=np.float32)
    for source in sources:
        total += source.illuminance_lx(places, normals, fineness)[:, None].astype(np.float32) * white_rgb(source.cct_k, source.duv)
    return total


@dataclass(frozen=True)
class Returned:
    """Light off the room's surfaces, with the colour of what it comes from."""

    falling: Falling
    sent: NDArray[np.floating[Any]]  # (P, 3) [lm/m2] in linear sRGB

    @classmethod
    def of(cls, falling: Falling) -> Returned:
        """Of a setup's light."""
        tints = np.array([white_rgb(source.cct_k, source.duv) for source in falling.sources]).reshape(len(falling.sources), 3)
        return cls(falling, falling.sent_by_source @ tints)

    def at(self, places: NDArray[np.floating[Any]], normals: NDArray[np.floating[Any]]) -> FloatArray:
        """What of it falls on small surfaces, shapes (N, 3) -> (N, 3) [lx]."""
        return self.falling.enclosure.anywhere_lx(self.sent, places, normals).astype(np.float32)

    @property
    def mean(self) -> FloatArray:
        """On average over the room, never quite nothing, shape (3,) [lx]."""
        areas = self.falling.enclosure.patches.area_m2
        returned = self.falling.enclosure.returned_lx(self.sent)
        return np.maximum(areas @ returned / areas.sum(), 0.02).astype(np.float32)
