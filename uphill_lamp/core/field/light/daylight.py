"""Daylight: how bright the sky is in each direction, and the sun (docs/method/light.md, "Sources").

Horizontal illuminance after IES daylight availability, spread over the sky after ISO 15469/CIE S 011 (types 1, 7, 12).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from uphill_lamp.core.document.surroundings import Place
from uphill_lamp.core.field.light.sky_types import SKIES, SkyType
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.scene.vectors import Vector, direction

GROUND_REFLECTANCE = 0.2
SUN_CCT_K = 5500.0
SUN_OUTSIDE_LX = 127_500.0
RINGS, SECTORS = 45, 72  # cells over which a sky is summed
LEAST_SUN_DEG = 0.5  # lower than this a sun's disc is spent on the horizon


def sky_illuminances_lx(sun_deg: Vector, sky: str) -> Vector:
    """Horizontal illuminances from the sky without the sun, shape (T,) [lx]; twilight as docs/method/light.md says.

    Args:
        sun_deg: apparent elevations of the sun, shape (T,) [deg].
        sky: clear, partly or overcast.
    """
    kind, base_lx = SKIES[sky], 1000 * SKIES[sky].base_klx
    day_lx = base_lx + 1000 * kind.rise_klx * np.sin(np.radians(np.maximum(sun_deg, 0.0))) ** kind.power
    dusk_lx = base_lx * (3 / base_lx) ** (np.clip(sun_deg, -6, 0) / -6)
    return np.where(sun_deg > 0, day_lx, np.where(sun_deg >= -6, dusk_lx, np.maximum(3 * (1 - (sun_deg + 6) / -6), 0.0)))


def sky_illuminance_lx(sun_deg: float, sky: str) -> float:
    """The same for one sun [lx]."""
    return float(sky_illuminances_lx(np.array([sun_deg]), sky)[0])


def sun_normals_lx(sun_deg: Vector, sky: str) -> Vector:
    """Illuminances from the sun on a surface that faces it: 127.5 e^(-c/sin) klx, shape (T,) [lx]; none through an overcast sky."""
    turbidity = SKIES[sky].turbidity
    if turbidity is None:
        return np.zeros(len(sun_deg))
    rise = np.sin(np.radians(np.maximum(sun_deg, LEAST_SUN_DEG)))
    return np.where(sun_deg >= LEAST_SUN_DEG, SUN_OUTSIDE_LX * np.exp(-turbidity / rise), 0.0)


def sun_normal_lx(sun_deg: float, sky: str) -> float:
    """The same for one sun [lx]."""
    return float(sun_normals_lx(np.array([sun_deg]), sky)[0])


@dataclass(frozen=True, eq=False)
class Sky:
    """A sky over a room: towards the sun (unit vector in the room's axes), horizontal and sun illuminance [lx], its type."""

    towards_sun: Vector
    horizontal_lx: float
    sun_lx: float
    kind: SkyType
    scale_cd_m2: float

    @property
    def ground_cd_m2(self) -> float:
        """Luminance of the ground, and of what stands outside [cd/m2]: it is lit by sky and sun."""
        from_sun = self.sun_lx * max(float(self.towards_sun[2]), 0.0)
        return GROUND_REFLECTANCE * (self.horizontal_lx + from_sun) / math.pi

    def luminance_cd_m2(self, rays: Vector) -> Vector:
        """Luminance in directions above the horizon, unit vectors (..., 3) -> (...) [cd/m2]."""
        return self.scale_cd_m2 * self.kind.relative(rays[..., 2], rays @ self.towards_sun)


@lru_cache(maxsize=256)
def sky_scale(kind: SkyType, sun_deg: float) -> float:
    """What brings a type's relative luminance to 1 lx on the level ground [cd/m2 per lx], summed over the hemisphere."""
    tilt = (np.arange(RINGS) + 0.5) / RINGS * math.pi / 2
    turn = (np.arange(SECTORS) + 0.5) / SECTORS * 2 * math.pi
    rise, side = np.meshgrid(tilt, turn, indexing="ij")
    sun = math.radians(sun_deg)
    near = np.sin(rise) * math.sin(sun) + np.cos(rise) * math.cos(sun) * np.cos(side)
    cell = np.cos(rise) * (math.pi / 2 / RINGS) * (2 * math.pi / SECTORS)
    return float(1 / (kind.relative(np.sin(rise), near) * np.sin(rise) * cell).sum())


@lru_cache(maxsize=64)
def sky_over(place: Place, north_bearing_deg: float) -> Sky | None:
    """The sky at the call; None in the night.

    Args:
        north_bearing_deg: compass bearing of the room's +y direction [deg].
    """
    sun_deg, azimuth_deg = sun_position_deg(place)
    horizontal_lx = sky_illuminance_lx(sun_deg, place.sky)
    if horizontal_lx <= 0:
        return None
    kind, shown_deg = SKIES[place.sky], max(sun_deg, 0.0)
    towards = direction(azimuth_deg - north_bearing_deg, shown_deg)
    scale = horizontal_lx * sky_scale(kind, round(shown_deg, 1))
    return Sky(towards, horizontal_lx, sun_normal_lx(sun_deg, place.sky), kind, scale)
