"""What is mirrored in eyes and spectacle lenses: catch-lights and glare come out by themselves."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.areas.light.glare import CURVE_ASIDE_DEG, CURVE_UP_DEG, LENS_SHARE, LENS_TILT_DEG
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.body import head_frame
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.drawings.far_side.colour import light_rgb
from uphill_lamp.drawings.far_side.face import EYE_M

CORNEA_RADIUS_M = 0.0078
CORNEA_SHARE = 0.025  # of light that water sends back, looked at straight
LENS_M = (0.0325, -0.003, 0.0225, 0.0175)  # middle aside and up of the eyes, half width, half height
LENS_BEFORE_M, LENS_WRAP_PER_M = 0.0155, 5.5  # before the corneas at the middle; back by this times the square of how far aside
AVERAGE_PUPILS_M = 2 * EYE_M


class Mirrors:
    """Mirroring parts of a face: corneas always, lenses if worn."""

    def __init__(self, sources: Sequence[Source], face: Face) -> None:
        self.sources, self.face = sources, face
        self.lens_share = LENS_SHARE.get(face.presenter.glasses, 0.0)
        self.wide = np.float32(face.presenter.head.pupils_m / AVERAGE_PUPILS_M)

    def in_eyes(self, places: FloatArray, rays: FloatArray) -> FloatArray:
        """Luminance added by mirroring in the corneas.

        Args:
            places: on the eyes, in the head's axes (forward, left, up of the eyes), shape (N, 3) [m].
            rays: unit directions from the lens to them, in the room's axes, shape (N, 3).

        Returns:
            linear sRGB, shape (N, 3) [cd/m2].
        """
        y, z = places[:, 1], places[:, 2]
        inner = np.abs(y) - EYE_M * self.wide
        tilt = np.stack([inner * np.sign(y), z], axis=1) / CORNEA_RADIUS_M
        normals = np.column_stack([np.sqrt(np.maximum(1 - (tilt**2).sum(axis=1), 0.05)), tilt])
        return CORNEA_SHARE * self._mirrored(places, normals, rays)

    def lens_places(self, start: FloatArray, rays: FloatArray) -> tuple[NDArray[np.int64], FloatArray]:
        """Which rays pass through a spectacle lens, and where.

        Args:
            start: of the rays, in the head's axes, shape (3,) [m].
            rays: unit directions in the head's axes, shape (N, 3).
        """
        if not self.lens_share:
            return np.zeros(0, dtype=np.int64), np.zeros((0, 3), np.float32)
        going = np.minimum(rays[:, :1], -1e-6)
        places = start + rays * ((LENS_BEFORE_M - start[0]) / going)
        for _ in range(2):  # the lenses are bent round the face
            before = LENS_BEFORE_M - LENS_WRAP_PER_M * places[:, 1:2] ** 2
            places = start + rays * ((before - start[0]) / going)
        on = np.flatnonzero((self._lens(places)[:2] ** 4).sum(axis=0) < 1)
        return on, places[on]

    def in_lenses(self, places: FloatArray, rays: FloatArray) -> FloatArray:
        """Luminance added by mirroring in spectacle lenses; arguments as for ``in_eyes``, places on the lenses."""
        across, upward = self._lens(places)
        aside = np.radians(CURVE_ASIDE_DEG * across * np.sign(places[:, 1]))
        lean = np.radians(CURVE_UP_DEG * upward - LENS_TILT_DEG - self.face.presenter.glasses_tipped_deg)
        normals = np.column_stack([np.cos(aside) * np.cos(lean), np.sin(aside) * np.cos(lean), np.sin(lean)])
        return self.lens_share * self._mirrored(places, normals, rays)

    def _lens(self, places: FloatArray) -> FloatArray:
        """How far aside and up on a lens, -1 to 1 at its edges, shape (2, N)."""
        return np.stack([(np.abs(places[:, 1]) / self.wide - LENS_M[0]) / LENS_M[2], (places[:, 2] - LENS_M[1]) / LENS_M[3]])

    def _mirrored(self, places: FloatArray, normals: FloatArray, rays: FloatArray) -> FloatArray:
        """Luminance of what a mirror at each place would show, shape (N, 3) [cd/m2]."""
        frame = head_frame(self.face)
        start, outward = self.face.eyes + places @ frame, normals @ frame
        back = rays - 2 * (rays * outward).sum(axis=1, keepdims=True) * outward
        out = np.zeros((len(places), 3), dtype=np.float32)
        for source in self.sources:
            if isinstance(source, SunBeam):  # its disc is too small to be more than a point in a lens
                continue
            hit, luminance = _area(source, start, back) if isinstance(source, AreaSource) else _ball(source, start, back)
            out += (hit * luminance)[:, None].astype(np.float32) * light_rgb(source)
        return out


def _area(source: AreaSource, start: FloatArray, back: FloatArray) -> tuple[NDArray[np.bool_], FloatArray]:
    pane = source.pane
    facing = back @ pane.normal
    with np.errstate(divide="ignore", invalid="ignore"):
        reach = ((pane.middle - start) @ pane.normal) / facing
    on = start + np.where(np.isfinite(reach), reach, 0)[:, None] * back - pane.middle
    inside = (np.abs(on @ pane.right) < pane.width_m / 2) & (np.abs(on @ pane.up) < pane.height_m / 2)
    return inside & (facing < 0) & (reach > 0), source.seen_cd_m2(back)


def _ball(source: PointSource, start: FloatArray, back: FloatArray) -> tuple[NDArray[np.bool_], FloatArray]:
    beyond = source.place - start
    along = (beyond * back).sum(axis=1)
    off = (beyond * beyond).sum(axis=1) - along**2
    return (along > 0) & (off < source.radius_m**2), np.full(len(start), source.seen_cd_m2)
