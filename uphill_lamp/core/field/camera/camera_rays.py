"""What a camera has before it, as a coarse grid of rays, and the light on it: kept while only lamps change."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.radiosity import Spots
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import pinhole_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import LAMP_RADIUS_M, lamp_met, view_of

COLUMNS, ROWS = 32, 18
FINENESS = 3
LAMP_REFLECTANCE = 0.6
MOST_KEPT, MOST_SOURCES = 16, 64
# What tells one sight from another: where things stand and what they are, not how bright they shine or how the camera is set.
_READS = {"room", "desk", "presenter", "screens", "reflectors", "backdrop", "cameras", "call"}
_APART: Any = {
    "room": {"windows": {"__all__": {"covering", "glass_transmittance"}}, "furnishings": True},
    "screens": {"__all__": {"windows", "luminance_cd_m2", "white_share", "cct_k", "on"}},
    "cameras": {"__all__": {"fps", "metering", "locked_exposure_lx", "white_balance", "latency_s", "framed_in", "use"}},
    "call": {"slides", "destination"},
}


class CameraRays:
    """Rays over a camera's picture and what they meet, lamps apart.

    ``across``, ``down`` 0-1 of each ray; ``kinds`` of what it meets, all of shape (N,).
    """

    def __init__(self, setup: Setup, camera: Camera) -> None:
        pinhole = pinhole_of(setup, camera)
        across, down = np.meshgrid((np.arange(COLUMNS) + 0.5) / COLUMNS, (np.arange(ROWS) + 0.5) / ROWS)
        self.across, self.down = across.ravel(), down.ravel()
        self.origin, self.rays = pinhole.place, pinhole.ray(self.across, self.down)
        self.view = view_of(setup, pinhole, self.rays, lamps=False)
        self.kinds = np.array([thing.kind for thing in self.view.things])[self.view.what]
        self.reflectance = self.view.reflectance
        self._direct: dict[bytes, FloatArray] = {}
        self._spots: Spots | None = None

    def by_source_lx(self, lit_scene: LitScene) -> FloatArray:
        """Illuminance of each source on what each ray meets, reflections included, shape (N, sources) [lx]."""
        if self._spots is None:
            self._spots = lit_scene.enclosure.spots(self.view.place, self.view.normal)
        total = lit_scene.enclosure.received_lx(lit_scene.sent_by_source, self._spots)
        for index, source in enumerate(lit_scene.sources):
            key = source.content
            if key not in self._direct:
                if len(self._direct) >= MOST_SOURCES:
                    self._direct.clear()
                self._direct[key] = source.illuminance_lx(self.view.place, self.view.normal, FINENESS)
            total[:, index] += self._direct[key]
        return total

    def luminance_cd_m2(self, lit_scene: LitScene, falls: FloatArray) -> tuple[FloatArray, NDArray[np.bool_]]:
        """Luminance of what each ray meets [cd/m2], its own or E rho / pi, and which rays meet a lamp, both of shape (N,).

        Args:
            falling: the light.
            falls: ``by_source_lx`` of it.
        """
        luminance = falls.sum(axis=1) * self.reflectance / math.pi
        shining = {source.id: source for source in lit_scene.sources}
        glowing = {thing.id: thing.luminance_cd_m2 for thing in lit_scene.setup.backdrop if thing.luminance_cd_m2}
        for index, thing in enumerate(self.view.things):
            source = shining.get(thing.name) if thing.kind in ("window", "screen", "reflector") else None
            own = glowing.get(thing.name) if thing.kind == "backdrop" else None
            if own is not None:
                luminance[self.view.what == index] += own
            elif isinstance(source, AreaSource):
                here = self.view.what == index
                mirrored = luminance[here] if thing.kind == "window" else 0.0  # dusk: glass shows the room before it shows the sky
                luminance[here] = mirrored + source.seen_cd_m2(self.rays[here])
        return luminance, self._lamps(lit_scene, luminance)

    def _lamps(self, lit_scene: LitScene, luminance: FloatArray) -> NDArray[np.bool_]:
        """Which rays meet a lamp, shape (N,); their luminance is put in place."""
        shining = {source.id: source for source in lit_scene.sources}
        reach = np.linalg.norm(self.view.place - self.origin, axis=1)
        met = np.zeros(len(reach), dtype=bool)
        for light in lit_scene.setup.lights:
            here, away, normal = lamp_met(self.origin, self.rays, vector(light.position), reach)
            if not len(here):
                continue
            source = shining.get(light.id)
            if isinstance(source, AreaSource):
                luminance[here] = source.seen_cd_m2(self.rays[here])
            elif source is not None:  # a bulb in view shines as a ball of its size: I / area seen
                luminance[here] = source.flux_lm / (4 * math.pi) / (math.pi * LAMP_RADIUS_M**2)
            else:
                places = self.origin + away[:, None] * self.rays[here]
                luminance[here] = lit_scene.illuminance_lx(places, normal, FINENESS) * LAMP_REFLECTANCE / math.pi
            reach[here], met[here] = away, True
        return met


_kept: LockedLru[str, CameraRays] = LockedLru(MOST_KEPT)


def camera_rays_of(setup: Setup, camera: Camera) -> CameraRays:
    """What a camera has before it; worked out once for all that only the lamps tell apart."""
    key = camera.id + setup.model_dump_json(include=_READS, exclude=_APART)
    return _kept.get_or_compute(key, lambda: CameraRays(setup, camera))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()
