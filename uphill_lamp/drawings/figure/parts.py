"""The sculpted parts as they ship: head, hair, coverings, clothes, spectacle frames."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

PACKED = Path(__file__).with_name("parts.npz")  # made by sculpture/build.py
STEP_M = 0.00006


@dataclass(frozen=True, eq=False)
class Part:
    """A mesh of average size: vertices (V, 3) [m] forward, left, up of the eyes, normals (V, 3), faces (F, 3); where neck and
    shoulders meet, which vertices lie inside the other part (V,)."""

    vertices: FloatArray
    normals: FloatArray
    faces: NDArray[np.int32]
    inside: NDArray[np.bool_]


@lru_cache(maxsize=24)
def part(name: str) -> Part:
    """A part by its name; read once."""
    with np.load(PACKED) as packed:
        vertices, normals, faces = (packed[f"{name}.{key}"] for key in "vnf")
        inside = _bits(packed, f"{name}.in_head", len(vertices))
    normals = normals.astype(np.float32)
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    return Part(vertices.astype(np.float32) * np.float32(STEP_M), normals, np.cumsum(faces, axis=0, dtype=np.int32), inside)


@lru_cache(maxsize=8)
def bare_head(name: str, worn: tuple[str, ...]) -> Part:
    """A head without what lies well inside the things worn, which are named."""
    head, none = part(name), np.zeros(len(part(name).vertices), dtype=bool)
    with np.load(PACKED) as packed:
        buried, inside = (
            np.any([none, *(_bits(packed, f"{name}.{how}_{cover}", len(none)) for cover in worn)], axis=0) for how in ("under", "in")
        )
    faces = head.faces[~buried[head.faces].all(axis=1)]
    use = np.unique(faces)
    place = np.zeros(len(none), np.int32)
    place[use] = np.arange(len(use))
    return Part(head.vertices[use], head.normals[use], place[faces], inside[use])


def _bits(packed: Any, name: str, count: int) -> NDArray[np.bool_]:
    """What is told of each vertex, nothing where nothing is."""
    return np.unpackbits(packed[name], count=count).astype(bool) if name in packed else np.zeros(count, dtype=bool)
