"""What a camera has before it, as a coarse grid of rays, and the light on it: kept while only lamps change."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.boards import board_of
from uphill_lamp.core.field.light.body_shadow import also_hidden, hidden_share
from uphill_lamp.core.field.light.lit_scene import LitScene, columns
from uphill_lamp.core.field.light.radiosity import Enclosure
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.body import trunk
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.placing import face_of, pinhole_of
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import lamp_met, lamp_radius_m, view_of

COLUMNS, ROWS = 32, 18
FINENESS = 3
LAMP_REFLECTANCE = 0.6
MOST_KEPT, MOST_SOURCES = 64, 64
LIT_BEHIND = ("surface", "backdrop")  # what shows the light that falls on it
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

    Args:
        through: places in the picture that rays go through instead of a grid over all of it, from the left and from the top, (N, 2).
    """

    def __init__(self, setup: Setup, camera: Camera, through: FloatArray | None = None) -> None:
        pinhole = pinhole_of(setup, camera)
        if through is None:
            across, down = np.meshgrid((np.arange(COLUMNS) + 0.5) / COLUMNS, (np.arange(ROWS) + 0.5) / ROWS)
            through = np.stack([across.ravel(), down.ravel()], axis=1)
        self.across, self.down = through[:, 0].copy(), through[:, 1].copy()
        self.origin, self.rays = pinhole.place, pinhole.ray(self.across, self.down)
        self.view = view_of(setup, pinhole, self.rays, lamps=False)
        self.kinds = np.array([thing.kind for thing in self.view.things])[self.view.what]
        self.reflectance = self.view.reflectance
        self._shape, self._face = trunk(setup.presenter), face_of(setup)
        self._chair, self._boards = chair_panes(setup), (board_of(setup.desk),)
        self._meets: dict[tuple[str, ...], NDArray[np.bool_]] = {}
        self._direct: dict[bytes, FloatArray] = {}
        self._whole: dict[bytes, FloatArray] = {}
        self._hidden: dict[bytes, FloatArray] = {}
        self._seen: FloatArray | None = None

    def meets(self, *kinds: str) -> NDArray[np.bool_]:
        """Which rays meet things of some kinds, shape (N,); not to be written to."""
        if kinds not in self._meets:
            self._meets[kinds] = np.isin(self.kinds, kinds)
        return self._meets[kinds]

    def by_source_lx(self, lit_scene: LitScene) -> FloatArray:
        """Illuminance of each source on what each ray meets, reflections included, shape (N, sources) [lx]."""
        whole = [
            source.strength * _kept_of(self._whole, source.shape, partial(self._whole_lx, lit_scene.enclosure, source))
            for source in lit_scene.sources
        ]
        return columns(whole, len(self.across))

    def _whole_lx(self, enclosure: Enclosure, source: Source) -> FloatArray:
        if self._seen is None:
            self._seen = enclosure.roughly_seen_from(self.view.place, self.view.normal)
        return np.asarray(self._seen @ enclosure.landed(source).sent + self.direct_lx(source.unit), float)

    def direct_lx(self, source: Source) -> FloatArray:
        """Illuminance of a source on what each ray meets, straight from it past the desk, nothing else in its way, shape (N,) [lx]."""
        return source.strength * _kept_of(
            self._direct, source.shape, lambda: source.unit.illuminance_lx(self.view.place, self.view.normal, FINENESS, self._boards)
        )

    def kept_off_lx(self, source: Source) -> FloatArray:
        """How much of that the body keeps off what is behind it, shape (N,) [lx]."""
        return source.strength * _kept_of(self._hidden, source.shape, lambda: self._kept_off_lx(source.unit))

    def _kept_off_lx(self, source: Source) -> FloatArray:
        taken = np.where(self.meets(*LIT_BEHIND), self.direct_lx(source), 0.0)
        some = np.flatnonzero(taken)
        places = self.view.place[some]
        share = hidden_share(source, self._shape, self._face, places)
        taken[some] *= also_hidden(share, source, self._chair, self._face, places) if self._chair else share
        return taken

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
            here, away, normal = lamp_met(self.origin, self.rays, vector(light.position), reach, lamp_radius_m(light))
            if not len(here):
                continue
            source = shining.get(light.id)
            if isinstance(source, AreaSource):
                luminance[here] = source.seen_cd_m2(self.rays[here])
            elif isinstance(source, PointSource):  # a bulb in view shines as a ball of its size
                luminance[here] = source.seen_cd_m2
            else:
                places = self.origin + away[:, None] * self.rays[here]
                luminance[here] = lit_scene.illuminance_lx(places, normal, FINENESS) * LAMP_REFLECTANCE / math.pi
            reach[here], met[here] = away, True
        return met


def _kept_of(kept: dict[bytes, FloatArray], key: bytes, work: Callable[[], FloatArray]) -> FloatArray:
    if key not in kept:
        if len(kept) >= MOST_SOURCES:
            kept.clear()
        kept[key] = work()
    return kept[key]


_kept: LockedLru[tuple[str, bytes], CameraRays] = LockedLru(MOST_KEPT)


def camera_rays_of(setup: Setup, camera: Camera, through: FloatArray | None = None) -> CameraRays:
    """What a camera has before it, over a grid or through places in its picture, (N, 2); worked out once for all that only the lamps
    tell apart."""
    key = camera.id + scene_of(setup).once("sight", lambda: setup.model_dump_json(include=_READS, exclude=_APART))
    return _kept.get_or_compute((key, b"" if through is None else through.tobytes()), lambda: CameraRays(setup, camera, through))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()
