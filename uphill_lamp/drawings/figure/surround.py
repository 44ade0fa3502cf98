"""Light from all round: how open each vertex is to each direction, and what the room sends from there."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.patches import Patches
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.drawings.figure.fitted import Figure, Look, average_of
from uphill_lamp.drawings.figure.shadows import BALLS, maps_from

FloatArray = NDArray[np.floating[Any]]
BRIM_STEP_M = 0.04
DIRECTIONS, AWAY_M, AT_ONCE = 128, 20.0, 16
FINE_PATCH, MOST_KEPT = 3, 12
MIDDLE_M = (-0.03, 0.0, -0.03)  # of what is seen of a head, forward, left, up of the eyes


def directions() -> FloatArray:
    """Unit directions all round in the head's axes, left and right alike, shape (DIRECTIONS, 3)."""
    return _DIRECTIONS


def _both() -> FloatArray:
    step = np.arange(DIRECTIONS // 2) + 0.5
    up = 1 - 2 * step / (DIRECTIONS // 2)
    turn = np.pi * ((step * 0.6180339887) % 1)  # over the left half alone
    flat = np.sqrt(1 - up * up)
    left = np.stack([np.cos(turn) * flat, np.sin(turn) * flat, up], axis=1)
    return np.concatenate([left, left * (1, -1, 1)])


_DIRECTIONS = _both()


def openness(figure: Figure) -> FloatArray:
    """Cosine towards each direction where the body leaves it open, else 0; shape (V, DIRECTIONS)."""
    return _opened(figure)[0]


def closed_share(figure: Figure) -> FloatArray:
    """How much of what each vertex could see is its own body, shape (V,) 0-1."""
    return _opened(figure)[1]


@lru_cache(maxsize=3)
def _opened(figure: Figure) -> tuple[FloatArray, FloatArray]:
    whole = np.maximum(figure.normals @ directions().T.astype(np.float32), 0)
    opened = whole.copy()
    free = _free(_roughly(figure.look))  # spectacle frames come last, hide little and see all
    opened[: len(free)] *= free
    return opened, 1 - opened.sum(axis=1) / np.maximum(whole.sum(axis=1), 1e-6)


def _roughly(look: Look) -> Look:
    """The same with a brim of whole steps, so that not every brim costs half a second."""
    steps = round(look.brim_m / BRIM_STEP_M) or (1 if look.brim_m else 0)
    return replace(look, brim_m=steps * BRIM_STEP_M)


@lru_cache(maxsize=6)
def _free(look: Look) -> FloatArray:
    """How free each vertex of a body of average measures is to each direction, shape (V, DIRECTIONS) 0-1.

    What is worn decides it, not how broad a head is: so this, which takes half a second, is done once for all who look alike.
    """
    figure = average_of(look)
    bodies = (figure.vertices, figure.faces), (figure.coarse_vertices, figure.coarse_faces)
    middles = [np.array(middle) for middle, _ in BALLS]
    out = np.empty((len(figure.vertices), DIRECTIONS), dtype=np.float32)
    for first in range(0, DIRECTIONS, AT_ONCE):
        some = directions()[first : first + AT_ONCE]
        out[:, first : first + AT_ONCE] = maps_from(AWAY_M * some, bodies, middles).seen(figure.vertices, figure.normals)
    return out


def arriving(falling: Falling, sent: FloatArray, face: Face) -> FloatArray:
    """What the room sends towards the head from each direction, on a surface square to it, shape (DIRECTIONS, 3) [lx].

    Args:
        falling: the room.
        sent: exitance of its patches, shape (P, 3) [lm/m2] in linear sRGB.
        face: where the head is.
    """
    patches = falling.enclosure.patches
    key = (*patches.size.tolist(), *face.eyes.tolist(), *face.forward.tolist())
    found = _solid.get(key)
    if found is None:
        while len(_solid) >= MOST_KEPT:
            _solid.popitem(last=False)
        found = _solid[key] = _solid_angles(patches, face)
    return np.asarray(found @ (sent / np.pi), np.float32)


_solid: OrderedDict[tuple[float, ...], FloatArray] = OrderedDict()


def _solid_angles(patches: Patches, face: Face) -> FloatArray:
    """How much of each patch is seen by way of each direction, shape (DIRECTIONS, P) [sr]."""
    beyond = patches.places(FINE_PATCH) - face.at(*MIDDLE_M)
    squared = np.maximum((beyond * beyond).sum(axis=2), 1e-6)
    rays = beyond / np.sqrt(squared)[..., None]
    leaving = np.maximum(-(rays * patches.normal[:, None]).sum(axis=2), 0)
    area = (patches.area_m2 / FINE_PATCH**2)[:, None]
    solid = area * leaving / np.maximum(squared, area / np.pi)
    solid *= 4 * np.pi / solid.sum()
    frame = np.array([face.forward, face.left, (0.0, 0.0, 1.0)])
    shares = _between(rays.reshape(-1, 3) @ frame.T) * solid.reshape(-1, 1)
    return np.asarray(shares.reshape(*solid.shape, DIRECTIONS).sum(axis=1).T)


@lru_cache(maxsize=1)
def _triangles() -> tuple[NDArray[np.int32], FloatArray]:
    """The directions as corners of triangles round the sphere (T, 3), and what turns a ray into shares of them (T, 3, 3)."""
    from scipy.spatial import ConvexHull

    corners = ConvexHull(directions()).simplices
    return corners, np.linalg.inv(directions()[corners].transpose(0, 2, 1))


def _between(rays: FloatArray) -> FloatArray:
    """Shares of the directions that make up rays, so that what they shine on a surface stays the same, (N, 3) -> (N, DIRECTIONS)."""
    corners, into = _triangles()
    shares = np.einsum("tij,nj->nti", into, rays)
    best = shares.min(axis=2).argmax(axis=1)
    some = np.arange(len(rays))
    out = np.zeros((len(rays), DIRECTIONS))
    out[some[:, None], corners[best]] = shares[some, best]
    return out
