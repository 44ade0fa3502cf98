"""The light that leads on the face: where it comes from, how large it is seen, and whose it is (docs/method/light.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from uphill_lamp.core.light.falling import Falling, main_source
from uphill_lamp.core.light.sources import AreaSource, PointSource
from uphill_lamp.core.light.windows import Source, SunBeam
from uphill_lamp.core.scene.placing import face_of
from uphill_lamp.core.scene.vectors import Vector, yaw_tilt_deg
from uphill_lamp.core.scene.view import LAMP_RADIUS_M

SUN_ACROSS_DEG = 0.53
FINENESS = 6
LEADS_FROM = 1 / 3  # of the light on the front of the face: a source that gives less directly casts no shadow to speak of


@dataclass(frozen=True, slots=True)
class Leading:
    """The light that gives the front of the face most.

    ``source`` None where no source gives a third of it directly, so that walls and ceiling lead; ``fills_deg`` the angle it fills
    seen from the face, as a round patch of the same solid angle would; ``height_deg`` its elevation from the eyes.
    """

    source: Source | None
    fills_deg: float
    height_deg: float


def leading(falling: Falling) -> Leading | None:
    """What leads on the face; None in the dark."""
    return falling.once("leading", lambda: _leading(falling))


def _leading(falling: Falling) -> Leading | None:
    main = main_source(falling)
    if main is None or falling.by_source_lx[:, 0].max() < LEADS_FROM * falling.face_lx["front"]:
        return _room(falling)
    eyes = face_of(falling.setup).eyes
    if isinstance(main, SunBeam):
        return Leading(main, SUN_ACROSS_DEG, yaw_tilt_deg(main.towards)[1])
    return Leading(main, fills_deg(main, eyes), yaw_tilt_deg(main.place - eyes)[1])


def fills_deg(source: PointSource | AreaSource, eyes: Vector) -> float:
    """Angle that a source fills seen from a place [deg]: that of a round patch of the same solid angle."""
    if isinstance(source, PointSource):
        away_m = max(float(np.linalg.norm(source.place - eyes)), LAMP_RADIUS_M)
        return math.degrees(2 * math.asin(LAMP_RADIUS_M / away_m))
    # A ring's hole counts as part of it: shadows are as soft as its outer rim makes them.
    whole = replace(source, ring=False)
    spots, patch_m2 = whole.patches(FINENESS)
    beyond = eyes - spots
    away = np.maximum(np.linalg.norm(beyond, axis=1), math.sqrt(patch_m2 / math.pi))
    facing = np.maximum(beyond @ source.pane.normal / away, 0.0)
    solid_angle = float((facing * patch_m2 / away**2).sum()) * (math.pi / 4 if source.ring else 1.0)
    return math.degrees(2 * math.acos(1 - min(solid_angle, 2 * math.pi) / (2 * math.pi)))


def _room(falling: Falling) -> Leading | None:
    """Walls and ceiling as the light that leads: the mean direction of what they send, and its spread as an angle."""
    sent_lx = falling.from_room_lx
    total = float(sent_lx.sum())
    if total <= 0:
        return None
    rays = np.concatenate([falling.enclosure.patches.middle, falling.top.cells]) - face_of(falling.setup).eyes
    rays = rays / np.maximum(np.linalg.norm(rays, axis=1, keepdims=True), 1e-9)
    mean = sent_lx @ rays / total
    together = min(float(np.linalg.norm(mean)), 1.0)
    # A round patch of half-angle a has a resultant of cos^2(a/2): the same relation taken back.
    half = 2 * math.acos(math.sqrt(together))
    return Leading(None, math.degrees(2 * half), yaw_tilt_deg(mean)[1])
