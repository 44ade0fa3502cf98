"""Spectacle frames: thin rods along a curve round each lens, over the nose and back to the ears [cm]."""

from __future__ import annotations

import numpy as np

from sculpture.fields import FloatArray, Place
from sculpture.mesh import Mesh

LENS = (3.25, -0.30, 2.30, 1.80)  # middle aside and up of the eyes, half width, half height
BEFORE_CM, WRAP_CM = 1.55, 0.055  # before the corneas at the middle; back by this times the square of how far aside
ROD_CM, CORNERS = 0.12, 6


def lens_edge(count: int) -> FloatArray:
    """Places round the left lens, shape (count, 3)."""
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    across, up = (np.sign(part) * np.abs(part) ** 0.5 for part in (np.cos(turn), np.sin(turn)))
    y, z = LENS[0] + LENS[2] * across, LENS[1] + LENS[3] * up
    return np.stack([depth(y, z), y, z], axis=1)


def depth(y: FloatArray, z: FloatArray) -> FloatArray:
    """How far forward the lenses lie: bent round the face, their feet leaning in."""
    return BEFORE_CM - WRAP_CM * y * y + 0.10 * (z - LENS[1])


def _rod(line: FloatArray, closed: bool) -> tuple[FloatArray, FloatArray, FloatArray]:
    """A tube along a line: vertices, normals, faces."""
    ahead = np.roll(line, -1, axis=0) - np.roll(line, 1, axis=0)
    if not closed:
        ahead[0], ahead[-1] = line[1] - line[0], line[-1] - line[-2]
    ahead /= np.linalg.norm(ahead, axis=1, keepdims=True)
    aside = np.cross(ahead, (1.0, 0.1, 0.2))
    aside /= np.linalg.norm(aside, axis=1, keepdims=True)
    up = np.cross(aside, ahead)
    turn = 2 * np.pi * np.arange(CORNERS) / CORNERS
    normals = (np.cos(turn)[:, None] * aside[:, None] + np.sin(turn)[:, None] * up[:, None]).reshape(-1, 3)
    vertices = np.repeat(line, CORNERS, axis=0) + ROD_CM * normals
    i = np.arange(len(line) if closed else len(line) - 1)[:, None]
    k, on, turned = np.arange(CORNERS), (i + 1) % len(line) * CORNERS, (np.arange(CORNERS) + 1) % CORNERS
    a, b, c, e = i * CORNERS + k, on + k, on + turned, i * CORNERS + turned
    faces = np.concatenate([np.stack([a, b, c], axis=-1).reshape(-1, 3), np.stack([a, c, e], axis=-1).reshape(-1, 3)])
    return vertices, normals, faces


def spectacles() -> Mesh:
    """Both rims, the bridge and the sides."""
    edge = lens_edge(56)
    inner, outer = LENS[0] - LENS[2], LENS[0] + LENS[2]
    y = np.linspace(-inner, inner, 9)
    bridge = np.stack([depth(y, y * 0) + 0.25, y, 0.35 + 0.25 * np.cos(y / inner * np.pi / 2)], axis=1)
    hinge = float(depth(np.float64(outer), np.float64(0.4)))
    ends: tuple[Place, ...] = (
        (hinge, outer, 0.45),
        (hinge - 0.5, outer + 1.2, 0.5),
        (-4.0, 7.4, 0.5),
        (-9.3, 8.1, 0.6),
        (-11.2, 8.0, -1.4),
    )
    side = np.concatenate([np.linspace(a, b, 6)[:-1] for a, b in zip(np.array(ends)[:-1], np.array(ends)[1:], strict=True)])
    rods = [_rod(edge, True), _rod(edge * (1, -1, 1), True), _rod(bridge, False), _rod(side, False), _rod(side * (1, -1, 1), False)]
    firsts = np.cumsum([0] + [len(vertices) for vertices, _, _ in rods[:-1]])
    faces = np.concatenate([faces + first for (_, _, faces), first in zip(rods, firsts, strict=True)])
    return Mesh(np.concatenate([rod[0] for rod in rods]), np.concatenate([rod[1] for rod in rods]), faces)
