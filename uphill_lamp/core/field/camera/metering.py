"""Exposure: what the camera makes of everything in view (docs/method/light.md, "Exposure")."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.field.camera.camera_rays import LIT_BEHIND, CameraRays, camera_rays_of
from uphill_lamp.core.field.camera.response import GREY_CARD, HIGHLIGHT_STOPS
from uphill_lamp.core.field.light.lit_scene import LEAST_LX, LitScene
from uphill_lamp.core.scene.glass import through_glass
from uphill_lamp.core.scene.in_view import GRID, through_grid
from uphill_lamp.core.scene.view import REFERENCE_FACE

LEAST_LUMINANCE_CD_M2 = 0.01


BEHIND = ("surface", "backdrop", "window", "screen")  # what the face is told apart from; a lamp in view is a point of light, not a ground


@dataclass(frozen=True)
class Metered:
    """How the camera exposes, and what that makes of the picture.

    ``mean_cd_m2`` luminance that it takes for the mean; ``error_stops`` the face's error; ``burnt_share`` of the picture, 0-1;
    ``behind_stops`` what is behind against the reference face, None where nothing of it is seen; ``behind_lx`` each source's
    light on it, on average; of each ray of the camera's grid ``luminance_cd_m2`` of what it meets and whether that is one of ``lamps``,
    both of shape (N,), and ``by_source_lx``, what falls there, shape (N, sources); ``rim_cd_m2`` (2 M,) of what is met along the head's
    outline, first just inside of it and then just outside.
    """

    mean_cd_m2: float
    error_stops: float
    burnt_share: float = 0.0
    behind_stops: float | None = None
    behind_lx: tuple[float, ...] = ()
    luminance_cd_m2: FloatArray = field(default_factory=lambda: np.zeros(0), compare=False, repr=False)
    lamps: NDArray[np.bool_] = field(default_factory=lambda: np.zeros(0, dtype=bool), compare=False, repr=False)
    by_source_lx: FloatArray = field(default_factory=lambda: np.zeros((0, 0)), compare=False, repr=False)
    rim_cd_m2: FloatArray = field(default_factory=lambda: np.zeros(0), compare=False, repr=False)


def meter(lit_scene: LitScene) -> Metered:
    """How the main camera's metering exposes the face. Skin plays no part: the reference face stands in."""
    setup = lit_scene.setup
    camera = setup.main_camera
    sight = camera_rays_of(setup)
    falls = sight.by_source_lx(lit_scene)
    luminance, lamps = sight.luminance_cd_m2(lit_scene, falls)
    falls, lamps = falls[: len(sight.view.what)], lamps[: len(sight.view.what)]
    luminance, along_rim = np.split(luminance, [len(sight.view.what)])
    if camera.metering == "locked" and camera.locked_exposure_lx:
        mean = camera.locked_exposure_lx * GREY_CARD / math.pi / through_glass(setup, camera)  # what it takes is not made up for
    else:
        mean = mean_metered_cd_m2(camera, sight, luminance)
    face_lx = max(lit_scene.face_lx["front"], LEAST_LX)
    behind = sight.meets(*BEHIND) & ~lamps
    return Metered(
        mean,
        math.log2(face_lx * GREY_CARD / math.pi / mean),
        float((luminance > mean * 2 ** HIGHLIGHT_STOPS[camera.kind]).mean()),
        _behind_stops(luminance[behind], face_lx) if behind.any() else None,
        tuple(falls[sight.meets(*LIT_BEHIND) & ~lamps].sum(axis=0).tolist()),
        luminance,
        lamps,
        falls,
        along_rim,
    )


def mean_metered_cd_m2(camera: Camera, sight: CameraRays, luminance: FloatArray) -> float:
    """What a camera that measures takes for the mean of luminances over its grid, shape (N,) [cd/m2]."""
    weights = _weights(camera, sight)
    return max(float(luminance @ weights) / float(weights.sum()), LEAST_LUMINANCE_CD_M2)


def _weights(camera: Camera, sight: CameraRays) -> FloatArray:
    """How much each ray of a camera's grid counts in what it meters, shape (N,) [no unit]."""
    if camera.metering == "centre":
        across, down = through_grid(*GRID)
        return np.asarray(np.exp(-(((across - 0.5) / 0.25) ** 2 + ((down - 0.5) / 0.25) ** 2)))
    face = sight.meets("head")
    if camera.metering == "face" and face.any():
        return face.astype(float)
    return np.ones(len(face))


def _behind_stops(luminance: FloatArray, face_lx: float) -> float:
    """What is behind against the reference face: the mean of stops, so that a small bright spot does not stand for a dark wall."""
    face_cd_m2 = face_lx * REFERENCE_FACE / math.pi
    return float(np.log2(np.maximum(luminance, LEAST_LUMINANCE_CD_M2) / face_cd_m2).mean())
