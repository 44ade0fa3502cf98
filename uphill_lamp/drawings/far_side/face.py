"""The face's relief and paint, as textures over the front of the head, and the figure's finer shape.

Lengths are metres from the middle of the eyes: ``y`` to the presenter's left, ``z`` up. The relief is no portrait: an
average face sculpted from smooth bumps.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.people import Presenter
from uphill_lamp.core.scene.body import Ellipsoid, trunk

FloatArray = NDArray[np.floating[Any]]

HALF_WIDTH_M, TOP_M, FOOT_M = 0.08, 0.12, -0.12
COLUMNS, ROWS = 320, 480
EYE_M = 0.0315


@dataclass(frozen=True)
class FaceTexture:
    """Relief [m] and its slopes (ROWS, COLUMNS) [m/m], shade 0-1, and paint weights 0-1 of the parts drawn on the skin."""

    relief: FloatArray
    slope_y: FloatArray
    slope_z: FloatArray
    hollow: FloatArray
    parts: dict[str, FloatArray]


def figure(presenter: Presenter) -> tuple[Ellipsoid, ...]:
    """Head with ears, hair and shoulders as ellipsoids for the picture."""
    head = presenter.head
    side, crown = head.breadth_m / 2, head.eyes_to_crown_m
    ears = tuple(Ellipsoid("ear", (-0.100, sign * (side - 0.004), -0.014), (0.02, 0.010, 0.030)) for sign in (1, -1))
    return (*trunk(presenter), *ears, *_hair(presenter.hair, side, crown))


def _hair(kind: str, side: float, crown: float) -> tuple[Ellipsoid, ...]:
    if kind == "none":
        return ()
    cap = Ellipsoid("hair", (-0.104, 0.0, 0.030), (0.106, side + 0.007, crown - 0.016), -20.0)
    fringe = Ellipsoid("hair", (-0.078, 0.0, crown - 0.036), (0.090, side * 0.985, 0.050), -18.0)
    if kind == "short":
        return (cap, fringe)
    locks = tuple(Ellipsoid("hair", (-0.108, sign * (side + 0.004), -0.075), (0.052, 0.027, 0.135)) for sign in (1, -1))
    back = Ellipsoid("hair", (-0.135, 0.0, -0.06), (0.07, side + 0.02, 0.15))
    if kind == "covered":
        shawl = Ellipsoid("hair", (-0.075, 0.0, -0.165), (0.085, 0.11, 0.055))
        return (cap, Ellipsoid("hair", (-0.07, 0.0, crown - 0.04), (0.09, side + 0.004, 0.052), -14.0), *locks, back, shawl)
    return (cap, fringe, *locks, back)


def _bump(y: FloatArray, z: FloatArray, at_y: float, at_z: float, wide: float, high: float) -> FloatArray:
    return np.exp(-(((y - at_y) / wide) ** 2) - ((z - at_z) / high) ** 2)


def _both(y: FloatArray, z: FloatArray, at_y: float, at_z: float, wide: float, high: float) -> FloatArray:
    return _bump(np.abs(y), z, at_y, at_z, wide, high)


def _step(value: FloatArray, edge: float, soft: float) -> FloatArray:
    """0 well below an edge, 1 well above it, a smooth way between."""
    way = np.clip((value - edge) / soft + 0.5, 0, 1)
    return way * way * (3 - 2 * way)


def _relief(y: FloatArray, z: FloatArray) -> FloatArray:
    ridge = np.exp(-((y / (0.0085 + 0.06 * np.clip(-z, 0, 0.06))) ** 2)) * _step(-z, -0.006, 0.03) * _step(z, -0.056, 0.012)
    length = np.clip(-z / 0.05, 0, 1)
    nose = 0.021 * ridge * (0.25 + 0.75 * length)
    nose += 0.0065 * _bump(y, z, 0, -0.047, 0.0105, 0.009) + 0.0055 * _both(y, z, 0.0135, -0.049, 0.0065, 0.0075)
    sockets = -0.0085 * _both(y, z, 0.030, 0.006, 0.021, 0.013) - 0.004 * _both(y, z, 0.014, 0.002, 0.009, 0.014)
    eyeballs = 0.0060 * _both(y, z, EYE_M, 0.0, 0.0125, 0.0095)
    brow = 0.0042 * _both(y, z, 0.030, 0.024, 0.026, 0.0085) + 0.002 * _bump(y, z, 0, 0.02, 0.02, 0.012)
    cheeks = 0.0065 * _both(y, z, 0.041, -0.036, 0.021, 0.022)
    folds = -0.0018 * _both(y, z, 0.029, -0.058, 0.006, 0.014)
    upper = 0.0042 * np.exp(-((y / 0.022) ** 4)) * np.exp(-(((z + 0.0700) / 0.0050) ** 2))
    lower = 0.0052 * np.exp(-((y / 0.019) ** 4)) * np.exp(-(((z + 0.0795) / 0.0052) ** 2))
    under_lip = -0.0030 * _bump(y, z, 0, -0.0895, 0.018, 0.006)
    philtrum = -0.0010 * _bump(y, z, 0, -0.0625, 0.0035, 0.006)
    chin = 0.0065 * _bump(y, z, 0, -0.105, 0.019, 0.012)
    temples = -0.003 * _both(y, z, 0.068, 0.02, 0.014, 0.03)
    return nose + sockets + eyeballs + brow + cheeks + folds + upper + lower + under_lip + philtrum + chin + temples


@lru_cache(maxsize=1)
def face_texture() -> FaceTexture:
    """Relief and paint, made once (some 30 ms) and kept."""
    y, z = np.meshgrid(np.linspace(-HALF_WIDTH_M, HALF_WIDTH_M, COLUMNS), np.linspace(TOP_M, FOOT_M, ROWS))
    y, z = y.astype(np.float32), z.astype(np.float32)
    relief = _relief(y, z)
    slope_z, slope_y = np.gradient(relief, z[:, 0], y[0])
    inner = np.abs(y) - EYE_M
    # Almond of the lids: the upper edge arched, the outer corner a little higher.
    upper = 0.0060 * np.sqrt(np.clip(1 - (inner / 0.0150) ** 2, 0, 1)) + 0.05 * inner
    lower = -0.0046 * np.sqrt(np.clip(1 - (inner / 0.0150) ** 2, 0, 1)) + 0.05 * inner
    within = _step(0.0150 - np.abs(inner), 0, 0.0012)
    opening = _step(upper - z, 0, 0.0012) * _step(z - lower, 0, 0.0012) * within
    reach = np.hypot(inner, z - 0.0008)
    iris = _step(0.0059 - reach, 0, 0.0009) * opening
    pupil = _step(0.0026 - reach, 0, 0.0007) * opening
    lash = np.exp(-(((z - upper - 0.0004) / 0.0010) ** 2)) * within + 0.35 * np.exp(-(((z - lower) / 0.0007) ** 2)) * within
    lid = np.exp(-(((z - upper - 0.0042) / 0.0007) ** 2)) * _step(0.0145 - np.abs(inner), 0, 0.003)
    # Brows with their inner ends a little up look kind.
    arch = 0.0235 + 0.0035 * np.cos((np.abs(y) - 0.034) / 0.021) - 0.10 * np.clip(np.abs(y) - 0.038, 0, 0.05)
    brows = np.exp(-(((z - arch) / (0.0040 - 0.035 * np.clip(np.abs(y) - 0.026, 0, 0.03))) ** 2))
    brows *= _step(np.abs(y), 0.0125, 0.006) * _step(0.0545 - np.abs(y), 0, 0.010)
    mouth_y = np.clip(1 - (np.abs(y) / 0.0255) ** 2, 0, 1)
    line = -0.0745 + 0.0018 * (np.abs(y) / 0.0255) ** 2  # corners a little up
    lips = _step(z - (line - 0.0085 * np.sqrt(mouth_y)), 0, 0.002) * _step((line + 0.0062 * mouth_y**0.75) - z, 0, 0.0015)
    parting = np.exp(-(((z - line) / 0.0009) ** 2)) * _step(0.0250 - np.abs(y), 0, 0.004)
    nostrils = _both(y, z, 0.0082, -0.0562, 0.0042, 0.0022)
    hollow = np.clip(
        _both(y, z, 0.028, 0.007, 0.017, 0.010) + 0.7 * _bump(y, z, 0, -0.0625, 0.014, 0.006) + 0.5 * _bump(y, z, 0, -0.0895, 0.016, 0.005),
        0,
        1,
    )
    blush = _both(y, z, 0.042, -0.040, 0.020, 0.018) + 0.6 * _bump(y, z, 0, -0.047, 0.012, 0.010)
    rims = _rims(y, z)
    parts = {"white": opening, "iris": iris, "pupil": pupil, "lash": np.clip(lash, 0, 1), "lid": lid * (1 - opening), "brows": brows,
             "lips": lips, "parting": parting, "nostrils": nostrils, "blush": blush, "rims": rims}  # fmt: skip
    return FaceTexture(relief.astype(np.float32), np.asarray(slope_y, np.float32), np.asarray(slope_z, np.float32), hollow.astype(np.float32),
                       {name: part.astype(np.float32) for name, part in parts.items()})  # fmt: skip


def _rims(y: FloatArray, z: FloatArray) -> FloatArray:
    """Spectacle frames: two rounded lenses, a bridge, and the beginnings of the sides."""
    lens = ((np.abs(np.abs(y) - 0.0325) / 0.0235) ** 4 + (np.abs(z + 0.003) / 0.0185) ** 4) ** 0.25
    rim = np.exp(-(((lens - 1) / 0.075) ** 2))
    bridge = np.exp(-(((z - 0.0035 - 0.02 * (1 - (y / 0.01) ** 2).clip(0) * 0.12) / 0.0016) ** 2)) * _step(0.0105 - np.abs(y), 0, 0.003)
    sides = np.exp(-(((z - 0.004) / 0.0016) ** 2)) * _step(np.abs(y), 0.0555, 0.003)
    return np.clip(rim + bridge + sides, 0, 1)


def sample(texture: FloatArray, y: FloatArray, z: FloatArray) -> FloatArray:
    """Texture values at places on the face, bilinear, held at the edges, shape of ``y``."""
    column = np.clip((y + HALF_WIDTH_M) / (2 * HALF_WIDTH_M) * (COLUMNS - 1), 0, COLUMNS - 1.001)
    row = np.clip((TOP_M - z) / (TOP_M - FOOT_M) * (ROWS - 1), 0, ROWS - 1.001)
    left, top = column.astype(np.int32), row.astype(np.int32)
    across, down = column - left, row - top
    flat = texture.ravel()
    at = top * COLUMNS + left
    upper = flat[at] * (1 - across) + flat[at + 1] * across
    return np.asarray(upper * (1 - down) + (flat[at + COLUMNS] * (1 - across) + flat[at + COLUMNS + 1] * across) * down)
