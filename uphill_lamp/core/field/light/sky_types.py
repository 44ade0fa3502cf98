"""The skies a setup can name: illuminance, turbidity and distribution. One table, to be corrected in one place."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.scene.vectors import Vector

LEAST_RISE = 1e-3  # the gradation's formula has no value on the horizon itself


@dataclass(frozen=True, slots=True)
class SkyType:
    """A sky of CIE S 011: horizontal illuminance base + rise sin^power [klx], turbidity of its sun (None: no sun), a to e."""

    base_klx: float
    rise_klx: float
    power: float
    turbidity: float | None
    cct_k: float
    gradation: tuple[float, float]
    indicatrix: tuple[float, float, float]

    def relative(self, rise: Vector, near_sun: Vector) -> Vector:
        """Relative luminance phi(Z) f(chi) of ISO 15469 for directions above the horizon.

        Args:
            rise: sine of their elevation.
            near_sun: cosine of their angle to the sun.
        """
        a, b = self.gradation
        c, d, e = self.indicatrix
        phi = 1 + a * np.exp(b / np.maximum(rise, LEAST_RISE))
        if not c and not e:
            return np.asarray(phi)
        cosine = np.clip(near_sun, -1.0, 1.0)
        return np.asarray(phi * (1 + c * (np.exp(d * np.arccos(cosine)) - math.exp(d * math.pi / 2)) + e * cosine * cosine))


SKIES = {
    "clear": SkyType(0.8, 15.5, 0.5, 0.21, 10000.0, (-1.0, -0.32), (10.0, -3.0, 0.45)),  # type 12, CIE clear
    "partly": SkyType(0.3, 45.0, 1.0, 0.80, 7500.0, (0.0, -1.0), (5.0, -2.5, 0.30)),  # type 7
    "overcast": SkyType(0.3, 21.0, 1.0, None, 6500.0, (4.0, -0.70), (0.0, -1.0, 0.0)),  # type 1, CIE overcast
}
