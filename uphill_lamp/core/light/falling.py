"""What falls where: the five points of the face, the even share from the room, any other place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Room
from uphill_lamp.core.light.sources import FloatArray, Source, sources_of
from uphill_lamp.core.scene.placing import Face, face_of
from uphill_lamp.core.scene.vectors import UP
from uphill_lamp.core.scene.view import surface_reflectance

LEAST_LX = 0.1  # ratios take no illuminance below this (handbook 04)

_ASIDE, _HALF = np.radians(50), np.sqrt(0.5)
# name: place (forward, left, up of the eyes) [m], normal in the same axes
FACE_POINTS: dict[str, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "front": ((0.0, 0.0, -0.03), (1.0, 0.0, 0.0)),
    "left_cheek": ((-0.025, 0.055, -0.05), (float(np.cos(_ASIDE)), float(np.sin(_ASIDE)), 0.0)),
    "right_cheek": ((-0.025, -0.055, -0.05), (float(np.cos(_ASIDE)), -float(np.sin(_ASIDE)), 0.0)),
    "brow": ((-0.005, 0.0, 0.04), (_HALF, 0.0, _HALF)),
    "under_chin": ((-0.01, 0.0, -0.11), (_HALF, 0.0, -_HALF)),
    "top": ((-0.08, 0.0, 0.115), (0.0, 0.0, 1.0)),
}


def face_points(face: Face) -> tuple[FloatArray, FloatArray]:
    """Places [m] and normals of FACE_POINTS in the room, both of shape (6, 3)."""
    frame = np.array([face.forward, face.left, UP])
    places = np.array([place for place, _ in FACE_POINTS.values()]) @ frame + face.eyes
    normals = np.array([normal for _, normal in FACE_POINTS.values()]) @ frame
    return places, normals


def even_share_per_lm(room: Room) -> float:
    """Illuminance everywhere from light that has been reflected, per lumen let into the room [lx/lm].

    rho / (S (1 - rho)) with the area-weighted mean reflectance: a room taken as an evenly lit shell, until the
    radiosity of its surfaces is solved.
    """
    w, d, h = room.width_m, room.depth_m, room.height_m
    areas = {"floor": w * d, "ceiling": w * d, "wall_x0": d * h, "wall_x1": d * h, "wall_y0": w * h, "wall_y1": w * h}
    total = sum(areas.values())
    mean = sum(area * surface_reflectance(getattr(room.surfaces, name)) for name, area in areas.items()) / total
    return mean / (total * (1 - min(mean, 0.98)))


@dataclass(frozen=True)
class Falling:
    """Light of a setup: its sources and the even share they leave in the room."""

    setup: Setup
    sources: tuple[Source, ...]

    def carried_to(self, setup: Setup) -> Falling:
        """The same light for a setup in which nothing that bears on it has changed; what was worked out comes along."""
        carried = Falling(setup, self.sources)
        carried.__dict__.update({name: value for name, value in self.__dict__.items() if name.endswith("_lx")})
        return carried

    @cached_property
    def even_lx(self) -> float:
        """Illuminance from the room's reflections, the same on every surface [lx]."""
        return sum(source.flux_lm for source in self.sources) * even_share_per_lm(self.setup.room)

    @cached_property
    def by_source_lx(self) -> FloatArray:
        """Direct illuminance of each source on each of FACE_POINTS, shape (sources, 6) [lx]."""
        places, normals = face_points(face_of(self.setup))
        rows = [source.illuminance_lx(places, normals) for source in self.sources]
        return np.array(rows).reshape(len(rows), len(FACE_POINTS))

    @cached_property
    def face_lx(self) -> dict[str, float]:
        """Illuminance on each of FACE_POINTS, reflections included [lx]."""
        totals = self.by_source_lx.sum(axis=0) + self.even_lx
        return dict(zip(FACE_POINTS, totals.tolist(), strict=True))

    def illuminance_lx(self, places: FloatArray, normals: FloatArray, fineness: int = 4) -> FloatArray:
        """Illuminance anywhere in the room, shapes (N, 3) -> (N,) [lx]."""
        total = np.full(len(places), self.even_lx)
        for source in self.sources:
            total += source.illuminance_lx(places, normals, fineness)
        return total


def falling_of(setup: Setup, sources: Sequence[Source] | None = None) -> Falling:
    """The light of a setup; other sources than its own may be given."""
    return Falling(setup, tuple(sources) if sources is not None else sources_of(setup))


def main_source(falling: Falling) -> Source | None:
    """The source that gives the front of the face most light directly."""
    direct = falling.by_source_lx[:, 0] if len(falling.sources) else np.zeros(0)
    return falling.sources[int(direct.argmax())] if len(direct) and direct.max() > 0 else None
