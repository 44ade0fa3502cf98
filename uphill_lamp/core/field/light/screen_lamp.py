"""A screen as a lamp: what a white or coloured glass of some size gives a face at a distance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.scene.placing import facing_pane


@dataclass(frozen=True, slots=True)
class Glass:
    """A screen by its diagonal [m], shape (width by height) and luminance of full white [cd/m2]."""

    diagonal_m: float
    aspect: float
    luminance_cd_m2: float

    @property
    def width_m(self) -> float:
        """Width of the picture [m]."""
        return float(self.diagonal_m * self.aspect / np.hypot(self.aspect, 1))

    @property
    def height_m(self) -> float:
        """Height of the picture [m]."""
        return self.width_m / self.aspect


def lux_at(glass: Glass, distance_m: float) -> float:
    """What a screen of full white gives a face straight before it [lx]; a colour gives its share of it.

    On the axis of a Lambertian rectangle, summed over patches; far away L A / d^2.
    """
    pane = facing_pane(np.zeros(3), 0.0, 0.0, glass.width_m, glass.height_m)
    source = AreaSource("", pane, glass.luminance_cd_m2, 6500)
    return float(source.illuminance_lx(np.array([[0.0, distance_m, 0.0]]), np.array([[0.0, -1.0, 0.0]]), 24)[0])
