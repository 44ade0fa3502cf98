"""The light that leads on the face: where it comes from, how large it is seen, and whose it is (docs/method/light.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from uphill_lamp.core.field.light.lit_scene import LitScene, main_source
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, yaw_tilt_deg

SUN_ACROSS_DEG = 0.53
FINENESS = 6
LEADS_FROM = 1 / 3  # of the light on the front of the face: a source that gives less directly casts no shadow to speak of


@dataclass(frozen=True, slots=True)
class KeyLight:
    """The light that gives the front of the face most.

    ``source`` None where no source gives a third of it directly, so that walls and ceiling lead; ``fills_deg`` the angle it fills
    seen from the face, as a round patch of the same solid angle would; ``height_deg`` its elevation from the eyes.
    """

    source: Source | None
    fills_deg: float
    height_deg: float


def key_light(lit_scene: LitScene) -> KeyLight | None:
    """What leads on the face; None in the dark."""
    return lit_scene.once("leading", lambda: _leading(lit_scene))


def _leading(lit_scene: LitScene) -> KeyLight | None:
    main = main_source(lit_scene)
    if main is None or lit_scene.by_source_lx[:, 0].max() < LEADS_FROM * lit_scene.face_lx["front"]:
        return _room(lit_scene)
    eyes = scene_of(lit_scene.setup).face.eyes
    if isinstance(main, SunBeam):
        return KeyLight(main, SUN_ACROSS_DEG, yaw_tilt_deg(main.towards)[1])
    return KeyLight(main, fills_deg(main, eyes), yaw_tilt_deg(main.place - eyes)[1])


def fills_deg(source: PointSource | AreaSource, eyes: Vector) -> float:
    """Angle that a source fills seen from a place [deg]: that of a round patch of the same solid angle."""
    if isinstance(source, PointSource):
        away_m = max(float(np.linalg.norm(source.place - eyes)), source.radius_m)
        return math.degrees(2 * math.asin(source.radius_m / away_m))
    # A ring's hole counts as part of it: shadows are as soft as its outer rim makes them.
    whole = replace(source, ring=False)
    spots, patch_m2 = whole.patches(FINENESS)
    beyond = eyes - spots
    away = np.maximum(np.linalg.norm(beyond, axis=1), math.sqrt(patch_m2 / math.pi))
    facing = np.maximum(beyond @ source.pane.normal / away, 0.0)
    solid_angle = float((facing * patch_m2 / away**2).sum()) * (math.pi / 4 if source.ring else 1.0)
    return math.degrees(2 * math.acos(1 - min(solid_angle, 2 * math.pi) / (2 * math.pi)))


def _room(lit_scene: LitScene) -> KeyLight | None:
    """Walls and ceiling as the light that leads: the mean direction of what they send, and its spread as an angle."""
    sent_lx = lit_scene.from_room_lx
    total = float(sent_lx.sum())
    if total <= 0:
        return None
    places = np.concatenate([lit_scene.enclosure.patches.middle, np.tile(lit_scene.board.cells, (2, 1))])
    rays = places - scene_of(lit_scene.setup).face.eyes
    rays = rays / np.maximum(np.linalg.norm(rays, axis=1, keepdims=True), 1e-9)
    mean = sent_lx @ rays / total
    together = min(float(np.linalg.norm(mean)), 1.0)
    # A round patch of half-angle a has a resultant of cos^2(a/2): the same relation taken back.
    half = 2 * math.acos(math.sqrt(together))
    return KeyLight(None, math.degrees(2 * half), yaw_tilt_deg(mean)[1])
