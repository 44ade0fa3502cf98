"""Sources mirrored in spectacle lenses (docs/method/light.md, "Glare")."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector
from uphill_lamp.core.scene.view import REFERENCE_FACE
from uphill_lamp.core.scene.wording import degrees

LENS_SHARE = {"plain": 0.08, "anti_reflective": 0.015}  # of light sent back, both faces of a lens together
# A lens's normal points 10 degrees down from straight ahead; its curve adds 8 degrees up and down, 14 aside.
LENS_TILT_DEG, CURVE_ASIDE_DEG, CURVE_UP_DEG = 10.0, 14.0, 8.0
LENS_ASIDE_M = 0.0325
SMALL_M = 0.06  # a ball of a smaller radius is a point in a lens
_BALL = np.concatenate([np.zeros((1, 3)), np.eye(3), -np.eye(3)])
_STEPS = np.linspace(-0.5, 0.5, 7)
_SPOTS = np.stack([np.tile(_STEPS, 7), np.repeat(_STEPS, 7)], axis=1)  # of a pane, its rim too
FAINT = 0.1  # a reflection under this share of the face's own luminance is not noticed


@dataclass(frozen=True, slots=True)
class Glare:
    """A source as the glasses mirror it: margin to being seen in them [deg], negative while it is."""

    source: Source
    margin_deg: float


def margins_deg(face: Face, lens: Vector, spots: FloatArray, tipped_deg: float | None = None) -> FloatArray:
    """How far each spot is from being mirrored towards the camera by either spectacle lens, shape (N, 3) -> (N,) [deg].

    The glasses' arms are raised by ``tipped_deg``; as they are worn unless given. A spot is mirrored where the half-way direction between it
    and the camera lies within the directions of the lens's normals.
    Negative: by how much it lies within; infinite for spots behind the face.
    """
    tilt_deg = LENS_TILT_DEG + (face.presenter.glasses_tipped_deg if tipped_deg is None else tipped_deg)
    frame = np.array([face.forward, face.left, UP])
    lenses = face.at(0.0, np.array([[-LENS_ASIDE_M], [LENS_ASIDE_M]]), 0.0)[:, None]
    to_spots = _units(spots - lenses)
    half = _units(to_spots + _units(lens - lenses)) @ frame.T
    aside = np.abs(np.degrees(np.arctan2(half[..., 1], half[..., 0]))) - CURVE_ASIDE_DEG
    up = np.abs(np.degrees(np.arcsin(np.clip(half[..., 2], -1, 1))) + tilt_deg) - CURVE_UP_DEG
    off = np.where(np.maximum(aside, up) > 0, np.hypot(np.maximum(aside, 0), np.maximum(up, 0)), np.maximum(aside, up))
    return np.asarray(np.where(to_spots @ face.forward > 0, off, np.inf).min(axis=0))


def _units(along: FloatArray) -> FloatArray:
    """Directions at length 1, shape (..., 3)."""
    return np.asarray(along / np.maximum(np.sqrt(np.einsum("...i,...i->...", along, along))[..., None], 1e-9))


def noticed_cd_m2(lit_scene: LitScene) -> float:
    """Luminance from which on a source's reflection in the glasses is noticed [cd/m2]; infinite without glasses."""
    share = LENS_SHARE.get(lit_scene.setup.presenter.glasses)
    return FAINT * lit_scene.face_lx["front"] * REFERENCE_FACE / math.pi / share if share else math.inf


def mirrored(lit_scene: LitScene) -> list[Glare]:
    """Every source bright enough to be noticed in the glasses, the nearest to being seen first; none without glasses."""
    return lit_scene.once("mirrored", lambda: _mirrored(lit_scene))


def _mirrored(lit_scene: LitScene) -> list[Glare]:
    setup = lit_scene.setup
    if setup.presenter.glasses not in LENS_SHARE:
        return []
    face, lens = scene_of(setup).face, scene_of(setup).lens.place
    noticed = noticed_cd_m2(lit_scene)
    # The sun's disc is a point in a lens; the sun on the face is judged by itself.
    shining = [(source, spots_of(source)) for source in lit_scene.sources if not isinstance(source, SunBeam)]
    bright = [(source, spots) for source, spots in shining if _bright_cd_m2(source, spots, face) >= noticed]
    if not bright:
        return []
    margins = margins_deg(face, lens, np.concatenate([spots for _, spots in bright]))
    ends = np.cumsum([len(spots) for _, spots in bright])
    nearest = [float(part.min()) for part in np.split(margins, ends[:-1])]
    glares = [Glare(source, margin) for (source, _), margin in zip(bright, nearest, strict=True) if math.isfinite(margin)]
    return sorted(glares, key=lambda glare: glare.margin_deg)


def glare_words(lit_scene: LitScene, source_id: str) -> str:
    """What a source does in the glasses, in a sentence; empty without glasses, or for what does not shine."""
    glare = next((mirror_image for mirror_image in mirrored(lit_scene) if mirror_image.source.id == source_id), None)
    if glare is None:
        return ""
    if glare.margin_deg < 0:
        return f"It shines in your glasses, {degrees(-glare.margin_deg)} inside them."
    return f"It is {degrees(glare.margin_deg)} clear of shining in your glasses."


def spots_of(source: PointSource | AreaSource) -> FloatArray:
    """Spots over a source, rim and middle, shape (N, 3) [m]."""
    if isinstance(source, PointSource):
        return source.place + (_BALL * source.radius_m if source.radius_m > SMALL_M else _BALL[:1])
    return source.pane.places(_SPOTS)


def _bright_cd_m2(source: PointSource | AreaSource, spots: FloatArray, face: Face) -> float:
    """How bright a source is seen from the face [cd/m2]; 0 where it shows its back."""
    rays = spots - face.eyes
    rays = rays / np.maximum(np.linalg.norm(rays, axis=1, keepdims=True), 1e-9)
    if isinstance(source, PointSource):
        return float(source.intensity_cd(-rays)[0]) / (math.pi * source.radius_m**2)
    if (face.eyes - source.pane.middle) @ source.pane.normal <= 0:
        return 0.0
    return float(source.seen_cd_m2(rays).mean())
