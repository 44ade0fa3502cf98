"""Coloured light for the picture: what falls on a place, and on any direction at the head and the chest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.windows import Source
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import UP
from uphill_lamp.drawings.far_side.colour import LUMA, FloatArray, white_rgb


@dataclass(frozen=True)
class Harmonics:
    """Light on a surface of any direction at one place: second-order spherical harmonics fitted to samples."""

    weights: FloatArray
    main: FloatArray

    @classmethod
    def at(cls, falling: Falling, returned: Returned, face: Face, ups_m: Sequence[float]) -> list[Harmonics]:
        """At heights against the eyes [m], a little behind them."""
        frame = np.array([face.forward, face.left, UP])
        places = np.repeat(np.array([face.at(-0.02, 0.0, up_m) for up_m in ups_m]), len(_SPHERE), axis=0)
        normals = np.tile(_SPHERE @ frame, (len(ups_m), 1))
        lit = falls_rgb(falling.sources, places, normals, 4) + returned.at(places, normals)
        return [cls._fitted(rgb) for rgb in np.split(lit, len(ups_m))]

    @classmethod
    def _fitted(cls, rgb: FloatArray) -> Harmonics:
        weights = _FIT @ rgb
        main = weights[1:4] @ LUMA
        return cls(weights.astype(np.float32), main / max(float(np.linalg.norm(main)), 1e-6))

    def fall(self, normals: FloatArray) -> FloatArray:
        """Light on directions in the head's axes, shape (N, 3) -> (N, 3) [lx]."""
        return np.maximum(_basis(normals) @ self.weights, 0)


def _basis(n: FloatArray) -> FloatArray:
    x, y, z = n[:, 0], n[:, 1], n[:, 2]
    return np.stack([np.ones_like(x), x, y, z, x * y, y * z, x * z, x * x - y * y, 3 * z * z - 1], axis=1)


def _sphere(count: int) -> NDArray[np.floating[Any]]:
    step = np.arange(count) + 0.5
    polar, turn = np.arccos(1 - 2 * step / count), np.pi * (1 + 5**0.5) * step
    return np.stack([np.cos(turn) * np.sin(polar), np.sin(turn) * np.sin(polar), np.cos(polar)], axis=1)


_SPHERE = _sphere(48)
_FIT = np.linalg.pinv(_basis(_SPHERE))  # least squares


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
