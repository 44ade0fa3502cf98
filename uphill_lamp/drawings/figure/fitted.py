"""Parts brought to a presenter's measures and put together."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from itertools import count
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.people import HeadSize, Presenter
from uphill_lamp.core.field.light.brim import BRIM_UP_M, HEAD_RADIUS_M, MIDDLE_BACK_M
from uphill_lamp.drawings.figure.features import shaped
from uphill_lamp.drawings.figure.parts import Part, bare_head, part
from uphill_lamp.drawings.figure.shade import COLLAR

SKIN, HAIR, COVER, CLOTH, HAT, FRAME = range(6)
WOVEN = (CLOTH, COVER, HAT)
LEGS = 6  # no kind of vertex: cloth is painted so from the hips down
AVERAGE = HeadSize()
# What the sculpted parts measure themselves.
SCULPTED = HeadSize(eyes_to_chin_m=0.1187, breadth_m=0.1576, shoulders_m=0.44, eyes_to_shoulders_m=0.178)
HEAD_FOOT_M, NECK_FOOT_M = -0.115, -0.165  # above the first all is head, below the second all is trunk
PROBE_M = 0.0005
BRIM_THICK_M, BRIM_CORNERS = 0.006, 48
MOST_COTANGENT, OWN_SHARE = 20.0, 0.35


@dataclass(frozen=True)
class Look:
    """What decides which parts a body is made of."""

    hair: str
    posture: str
    hat: bool
    brim_m: float
    light: bool  # of half the fineness, for drafts


@dataclass(frozen=True, eq=False)
class Figure:
    """A body: vertices (V, 3) [m] and normals (V, 3) in the head's axes, faces (F, 3), what each vertex is of (V,).

    ``rest`` are the places on the average body, by which it is painted, shape (V, 3) [m]. Where neck and shoulders meet, vertices that
    are ``sunk`` (S,) in the other part are lit as those next to them, ``beside`` (S,), are: else the dark inside would show as teeth.
    """

    look: Look
    vertices: FloatArray
    normals: FloatArray
    rest: FloatArray
    faces: NDArray[np.int32]
    kind: NDArray[np.uint8]
    coarse_vertices: FloatArray  # (C, 3) [m], of a coarser mesh of the same body, for its larger shadows
    coarse_faces: NDArray[np.int32]
    sunk: NDArray[np.int64]
    beside: NDArray[np.int64]
    number: int = field(default_factory=count().__next__)  # tells bodies apart, in keys

    @cached_property
    def neighbours(self) -> Any:
        """Averages over each vertex of skin or of what is woven and those of its kind it is joined to, others untouched: a sparse matrix (V, V).

        Neighbours count by the cotangents of the angles opposite, so that light that grows evenly over a surface stays as it is,
        however long or thin the triangles are: counted alike, slivers that lie in rows would pull it into ripples.
        """
        from scipy.sparse import coo_array, diags_array

        vertices, kinds = len(self.vertices), self.kind[self.faces]
        soft = self.faces[(kinds == kinds[:, :1]).all(axis=1) & np.isin(kinds[:, 0], (SKIN, *WOVEN))]
        rows: list[FloatArray] = []
        columns: list[FloatArray] = []
        weights: list[FloatArray] = []
        for corner in range(3):
            a, b, opposite = (soft[:, (corner + turn) % 3] for turn in range(3))
            u, v = (self.vertices[end] - self.vertices[opposite] for end in (a, b))
            sine = np.linalg.norm(np.cross(u, v), axis=1)
            weights += 2 * [(u * v).sum(axis=1) / np.maximum(sine, 1e-12)]
            rows += [a, b]
            columns += [b, a]
        size = (vertices, vertices)
        joined = coo_array((np.concatenate(weights), (np.concatenate(rows), np.concatenate(columns))), shape=size).tocsr()
        joined.data = np.clip(joined.data, 0, MOST_COTANGENT)
        total = joined.sum(axis=1)
        own = np.where(total > 0, OWN_SHARE * total, 1.0)
        return (diags_array(1 / (total + own)) @ (joined + diags_array(own))).astype(np.float32).tocsr()


def figure_of(presenter: Presenter, light: bool = False) -> Figure:
    """The body of a presenter, lightly for a draft; worked out once for all who share its measures and what is worn."""
    hats = [garment for garment in presenter.clothing if garment.kind == "hat"]
    brim_m = max(presenter.brim_m, 0.0)
    look = Look(presenter.hair, presenter.posture, bool(hats) or brim_m > 0, brim_m, light)
    return _figure(presenter.head, look, presenter.glasses != "none", presenter.face)


def average_of(look: Look) -> Figure:
    """A body of average measures, without spectacles."""
    return _figure(AVERAGE, look, False, "even")


@lru_cache(maxsize=12)
def _figure(head: HeadSize, look: Look, glasses: bool, face: str) -> Figure:
    hair, posture, hat, brim_m = look.hair, look.posture, look.hat, look.brim_m
    names = [("head", SKIN), (posture, CLOTH)]
    if hair != "none":
        names.append((hair, COVER if hair == "covered" else HAIR))
    if hat:
        names.append(("hat", HAT))
    covers, end = tuple(name for name, _ in names[1:]), "_light" if look.light else ""
    worn = [(bare_head(name + end, covers) if name == "head" else part(name + end), kind) for name, kind in names]
    if brim_m:
        worn.append((_brim(brim_m), HAT))
    if glasses:
        worn.append((part("spectacles"), FRAME))
    rest, kind, faces = _together(worn)
    kind[(kind == CLOTH) & bare(rest)] = SKIN
    fits = _fitting(head, kind, face)
    vertices = fits(rest)
    normals = _turned(fits, rest, vertices, np.concatenate([piece.normals for piece, _ in worn]))
    coarse = [(part(f"{name}_coarse"), kind) for name, kind in names] + ([(_brim(brim_m), HAT)] if brim_m else [])
    coarse_rest, coarse_kind, coarse_faces = _together(coarse)
    coarse_vertices = _fitting(head, coarse_kind, face)(coarse_rest).astype(np.float32)
    sunk, beside = _seams(rest, faces, np.concatenate([piece.inside for piece, _ in worn]))
    return Figure(look, vertices.astype(np.float32), normals, rest, faces, kind, coarse_vertices, coarse_faces, sunk, beside)


def bare(rest: FloatArray) -> NDArray[np.bool_]:
    """What of a top shows skin inside its neckline, shape (V,)."""
    back, fore, aft, aside, radius, foot = COLLAR
    ahead = rest[:, 0] + back
    out_m = np.hypot(ahead / np.where(ahead > 0, fore, aft), rest[:, 1] * aside) - radius
    return np.asarray((out_m < 0) & (rest[:, 2] > foot))


def _seams(rest: FloatArray, faces: NDArray[np.int32], inside: NDArray[np.bool_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Vertices inside another part, of faces that reach out of it, and the nearest of such faces outside."""
    from scipy.spatial import cKDTree

    of_face = inside[faces]
    meeting = faces[of_face.any(axis=1) & ~of_face.all(axis=1)].ravel()
    sunk, out = np.unique(meeting[inside[meeting]]).astype(np.int64), np.unique(meeting[~inside[meeting]]).astype(np.int64)
    if not len(sunk):
        return sunk, sunk
    return sunk, out[cKDTree(rest[out]).query(rest[sunk])[1]]


def _together(worn: list[tuple[Part, int]]) -> tuple[FloatArray, NDArray[np.uint8], NDArray[np.int32]]:
    """Vertices of all pieces, what each is of, and faces."""
    counts = [len(piece.vertices) for piece, _ in worn]
    kind = np.repeat(np.array([kind for _, kind in worn], np.uint8), counts)
    firsts = np.cumsum([0, *counts[:-1]])
    faces = np.concatenate([piece.faces + np.int32(first) for (piece, _), first in zip(worn, firsts, strict=True)])
    return np.concatenate([piece.vertices for piece, _ in worn]), kind, faces.astype(np.int32)


Fitting = Callable[[FloatArray], FloatArray]


def _fitting(head: HeadSize, kind: NDArray[np.uint8], face: str) -> Fitting:
    """Where places on the average body lie on one of other measures and with another face."""
    shoulders_down = max(head.eyes_to_shoulders_m, head.eyes_to_chin_m + 0.02)
    z_from = np.array([-2.0, -SCULPTED.eyes_to_shoulders_m, -SCULPTED.eyes_to_chin_m, 0.0, SCULPTED.eyes_to_crown_m, 1.0])
    z_to = np.array(
        [-1.81 - shoulders_down, -shoulders_down, -head.eyes_to_chin_m, 0.0, head.eyes_to_crown_m, head.eyes_to_crown_m + 0.885]
    )
    side = max(head.breadth_m / 2, head.pupils_m / 2 + 0.01)
    y_from = np.array([0.0, SCULPTED.pupils_m / 2, SCULPTED.breadth_m / 2, 1.0])
    y_to = np.array([0.0, head.pupils_m / 2, side, side + 0.92])
    wide = head.shoulders_m / SCULPTED.shoulders_m
    worn_on_head = np.isin(kind, (HAIR, HAT, FRAME))

    skin = kind == SKIN

    def fits(places: FloatArray) -> FloatArray:
        formed = places.astype(float)
        formed[skin] = shaped(places[skin], face)
        x, y, z = formed.T
        head_share = np.where(worn_on_head, 1.0, _eased((z - NECK_FOOT_M) / (HEAD_FOOT_M - NECK_FOOT_M)))
        out = np.abs(y)
        on_head = np.interp(out, y_from, y_to)
        on_trunk = out * (1 + (wide - 1) * _eased((out - 0.05) / 0.09))
        return np.stack(
            [
                head_share * x + (1 - head_share) * (-0.095 + (x + 0.095) * wide**0.7),
                np.sign(y) * (head_share * on_head + (1 - head_share) * on_trunk),
                np.interp(z, z_from, z_to),
            ],
            axis=1,
        )

    return fits


def _eased(share: FloatArray) -> FloatArray:
    held = np.clip(share, 0, 1)
    return held * held * (3 - 2 * held)


def _turned(fits: Fitting, rest: FloatArray, vertices: FloatArray, normals: FloatArray) -> FloatArray:
    """Normals after the fitting of ``rest`` to ``vertices``: by the inverse transpose of its Jacobian."""
    places = rest.astype(float)
    jacobian = np.stack([(fits(places + step) - vertices) / PROBE_M for step in np.eye(3) * PROBE_M], axis=2)
    turned = np.linalg.solve(jacobian.transpose(0, 2, 1), normals[..., None])[..., 0]
    return np.asarray(turned / np.linalg.norm(turned, axis=1, keepdims=True), np.float32)


def _brim(brim_m: float) -> Part:
    """A level ring round the head, as Light reckons it, with a little thickness."""
    turn = 2 * np.pi * np.arange(BRIM_CORNERS) / BRIM_CORNERS
    circle = np.stack([np.cos(turn), np.sin(turn)], axis=1)
    inner, outer = HEAD_RADIUS_M * 0.7, HEAD_RADIUS_M + brim_m
    rings = [(inner, 0.0, (0, 0, 1)), (outer, 0.0, (0, 0, 1)), (inner, -BRIM_THICK_M, (0, 0, -1)), (outer, -BRIM_THICK_M, (0, 0, -1))]
    vertices = np.concatenate([np.column_stack([circle * radius, np.full(BRIM_CORNERS, up)]) for radius, up, _ in rings])
    vertices += np.array([-MIDDLE_BACK_M, 0, BRIM_UP_M + BRIM_THICK_M])
    normals = np.repeat(np.array([normal for _, _, normal in rings], np.float32), BRIM_CORNERS, axis=0)
    here, there = np.arange(BRIM_CORNERS), (np.arange(BRIM_CORNERS) + 1) % BRIM_CORNERS
    faces = []
    for a, b in ((0, 1), (2, 3), (1, 3)):
        a0, a1, b0, b1 = a * BRIM_CORNERS + here, a * BRIM_CORNERS + there, b * BRIM_CORNERS + here, b * BRIM_CORNERS + there
        faces += [np.stack([a0, b0, b1], axis=1), np.stack([a0, b1, a1], axis=1)]
    return Part(vertices.astype(np.float32), normals, np.concatenate(faces).astype(np.int32), np.zeros(len(vertices), bool))
