"""Faces in a picture: found, then a mesh laid over the one that counts, then its irises and the outline of the person."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray

NETS = Path(__file__).parent / "nets"
FULL_PX, LARGE_PX, MESH_PX, IRIS_PX, PERSON_PX = 192, 256, 192, 64, 256
LEAST_SCORE, OVERLAP = 0.55, 0.3
MESH_SCALE, IRIS_SCALE, PERSON_SCALE = 1.5, 2.3, 3.6  # of the face, of the eye, of the head: what is cut out for each net
LOOKS = (0.85, 1.0, 1.18)  # times as much of the eye: each look is off in a way of its own
RIGHT_EYE, LEFT_EYE = (33, 133), (263, 362)  # corners on the mesh, the presenter's own sides
FOREHEAD, CHIN = 10, 152
TILES = 2
LEAST_PRESENT = 0.5  # of a face that is followed

Picture = NDArray[np.uint8]
# A pose from the mesh [deg]: by how much more a face seems turned from one side of the picture to the other; what the net reads of a slope,
# the slope that a level face has by itself, and by how much of its turn it seems to look up.
ASIDE_DEG, SLOPE, OWN_SLOPE_DEG, SLOPE_TURNED = 13.0, 1.15, 14.7, 0.21


@dataclass(frozen=True, eq=False)
class Found:
    """A face: its mesh (468, 2), irises' middles and the person's mask.

    Args:
        mesh: places of the mesh's points [px].
        left, right: middles of the irises, the presenter's own sides, shape (2,) [px].
        person: how much each pixel is the person, shape (rows, columns) 0-1.
        score: how sure the finder is, 0-1.
        others: how many more faces there are.
        turn_deg, view_deg: how far it is turned to its own left of the lens, and how high that stands as seen from it [deg].
    """

    mesh: FloatArray
    left: FloatArray
    right: FloatArray
    person: FloatArray
    score: float
    others: int
    turn_deg: float
    view_deg: float


@cache
def _net(name: str) -> Any:
    return cv2.dnn.readNetFromTFLite(str(NETS / f"{name}.tflite"))


def read_nets() -> None:
    """Reads all nets, which otherwise are read when they are first asked."""
    cv2.setNumThreads(1)
    for path in sorted(NETS.glob("*.tflite")):
        _net(path.stem)


def _run(name: str, picture: FloatArray) -> list[FloatArray]:
    """Outputs of a net for a picture (rows, columns, 3)."""
    net = _net(name)
    net.setInput(np.ascontiguousarray(picture.transpose(2, 0, 1)[None], dtype=np.float32))
    return list(net.forward(net.getUnconnectedOutLayersNames()))


def found_in(picture: Picture) -> Found | None:
    """The face that counts, the largest, in an RGB picture; None where there is none."""
    faces = _faces(picture)
    if not faces:
        return None
    best = max(faces, key=lambda face: float(face[2] * face[3]) * float(face[-1]))
    others = sum(1 for face in faces if face is not best and face[2] > 0.25 * best[2])
    deep = _mesh(picture, best)
    mesh = deep[:, :2]
    left, right = irises(picture, mesh, closely=True)
    return Found(mesh, left, right, _person(picture, mesh), float(best[-1]), others, *pose_deg(deep, picture.shape[1]))


def mesh_in(picture: Picture) -> FloatArray | None:
    """The mesh on the face that counts, (468, 2) [px]; None where there is none that is soon found."""
    seen = _full(picture)
    return _mesh(picture, max(seen, key=lambda face: float(face[2] * face[3]) * float(face[-1])))[:, :2] if seen else None


def mesh_near(picture: Picture, before: FloatArray) -> FloatArray | None:
    """The mesh on a face that was somewhere a moment ago, (468, 2) [px]; None where it is no longer there."""
    low, high = before.min(axis=0), before.max(axis=0)
    mesh, sure = _laid(picture, (low + high) / 2, MESH_SCALE * float((high - low).max()), before)
    return mesh[:, :2] if sure > LEAST_PRESENT else None


def irises(picture: Picture, mesh: FloatArray, closely: bool = False) -> tuple[FloatArray, FloatArray]:
    """Middles of the irises, the presenter's own left and right, shape (2,) each [px].

    Args:
        picture, mesh: the picture and the places of the mesh's points in it [px].
        closely: as a mean of several looks, each a little nearer or further: a quarter less off, and three times the work.
    """
    looks = LOOKS if closely else (1.0,)
    left, right = (
        np.mean([_iris(picture, mesh, corners, flipped, look) for look in looks], axis=0)
        for corners, flipped in ((LEFT_EYE, False), (RIGHT_EYE, True))
    )
    return left, right


# ---- finding


def _faces(picture: Picture) -> list[FloatArray]:
    """Faces as middle x, y, width, height, six spots, score, shape (17,) each [px], by the first net that sees any."""
    for find in (_full, _large):
        if faces := find(picture):
            return faces
    rows, columns = picture.shape[:2]
    high, wide = rows * 2 // 3, columns * 2 // 3
    spread: list[FloatArray] = []
    for top in (0, rows - high):
        for left in (0, columns - wide):
            for face in _full(picture[top : top + high, left : left + wide]):
                face[[0, 4, 6, 8, 10, 12, 14]] += left
                face[[1, 5, 7, 9, 11, 13, 15]] += top
                spread.append(face)
    return _apart(spread)


def _full(picture: Picture) -> list[FloatArray]:
    cells = FULL_PX // 4
    along = (np.arange(cells) + 0.5) / cells
    anchors = np.stack(np.meshgrid(along, along), axis=-1).reshape(-1, 2)
    return _decoded("faces", picture, FULL_PX, anchors)


def _large(picture: Picture) -> list[FloatArray]:
    parts = []
    for cells, times in ((LARGE_PX // 16, 2), (LARGE_PX // 32, 6)):
        along = (np.arange(cells) + 0.5) / cells
        parts.append(np.repeat(np.stack(np.meshgrid(along, along), axis=-1).reshape(-1, 2), times, axis=0))
    return _decoded("faces_large", picture, LARGE_PX, np.concatenate(parts))


def _decoded(name: str, picture: Picture, size: int, anchors: FloatArray) -> list[FloatArray]:
    rows, columns = picture.shape[:2]
    side = max(rows, columns)
    square = np.zeros((side, side, 3), np.uint8)
    top, left = (side - rows) // 2, (side - columns) // 2
    square[top : top + rows, left : left + columns] = picture
    small = cv2.resize(square, (size, size), interpolation=cv2.INTER_AREA)
    outs = {out.shape[2]: out[0] for out in _run(name, small.astype(np.float32) / 127.5 - 1)}
    scores = 1 / (1 + np.exp(-np.clip(outs[1][:, 0], -80, 80)))
    sure = np.flatnonzero(scores > LEAST_SCORE)
    faces = []
    for index in sure:
        raw = outs[16][index] / size
        raw[0:2] += anchors[index]
        raw[4:] += np.tile(anchors[index], 6)
        face = raw.astype(float) * side
        face[[0, 4, 6, 8, 10, 12, 14]] -= left
        face[[1, 5, 7, 9, 11, 13, 15]] -= top
        faces.append(np.append(face, scores[index]))
    return _apart(faces)


def _apart(faces: list[FloatArray]) -> list[FloatArray]:
    """Each face once: those that overlap give their mean, weighed by how sure they are."""
    left, kept = sorted(faces, key=lambda face: -float(face[-1])), []
    while left:
        same = [face for face in left if _overlap(left[0], face) > OVERLAP]
        weights = np.array([face[-1] for face in same])
        mean = np.average(np.array(same), axis=0, weights=weights)
        mean[-1] = same[0][-1]
        kept.append(mean)
        left = [face for face in left if not any(face is member for member in same)]
    return kept


def _overlap(one: FloatArray, other: FloatArray) -> float:
    low, high = (np.maximum, np.minimum)
    near = low(one[:2] - one[2:4] / 2, other[:2] - other[2:4] / 2)
    far = high(one[:2] + one[2:4] / 2, other[:2] + other[2:4] / 2)
    shared = float(np.prod(np.maximum(far - near, 0)))
    return shared / max(float(np.prod(one[2:4]) + np.prod(other[2:4])) - shared, 1e-9)


# ---- the mesh and what is on it


def _cut(picture: Picture, middle: FloatArray, side: float, turn: float, size: int, flipped: bool = False) -> tuple[FloatArray, FloatArray]:
    """A square cut out of a picture, turned, and the way back from its pixels, shapes (size, size, 3) 0-1 and (2, 3)."""
    scale = side / size
    cos, sin, mirror = np.cos(turn) * scale, np.sin(turn) * scale, -1.0 if flipped else 1.0
    back = np.array([[cos * mirror, -sin, 0.0], [sin * mirror, cos, 0.0]])
    back[:, 2] = middle - back[:, :2] @ np.array([(size - 1) / 2, (size - 1) / 2])
    cut = cv2.warpAffine(picture, back, (size, size), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE)
    return cut.astype(np.float32) / 255, back


def _back(spots: FloatArray, back: FloatArray) -> FloatArray:
    return np.asarray(spots @ back[:, :2].T + back[:, 2])


def _mesh(picture: Picture, face: FloatArray) -> FloatArray:
    """The mesh's points with their depth, (468, 3) [px], laid on twice: where it was first found tells better where the face is."""
    right, left = face[4:6], face[6:8]
    corners = np.zeros((468, 2))
    corners[list(RIGHT_EYE)], corners[list(LEFT_EYE)] = right, left
    mesh = _laid(picture, face[:2], MESH_SCALE * float(max(face[2:4])), corners)[0][:, :2]
    low, high = mesh.min(axis=0), mesh.max(axis=0)
    return _laid(picture, (low + high) / 2, MESH_SCALE * float((high - low).max()), mesh)[0]


def _laid(picture: Picture, middle: FloatArray, side: float, before: FloatArray) -> tuple[FloatArray, float]:
    """The mesh laid on a square piece, turned as the eyes of another lie, (468, 3) [px], and how surely there is a face, 0-1."""
    way = before[list(LEFT_EYE)].mean(axis=0) - before[list(RIGHT_EYE)].mean(axis=0)
    cut, back = _cut(picture, middle, side, float(np.arctan2(way[1], way[0])), MESH_PX)
    outs = _run("mesh", cut)
    spots = next(out for out in outs if out.size == 1404).reshape(468, 3)
    there = next((float(out.ravel()[0]) for out in outs if out.size == 1), 0.0)
    mesh = np.column_stack([_back(spots[:, :2].astype(float), back), spots[:, 2].astype(float) * side / MESH_PX])
    return mesh, 1 / (1 + float(np.exp(-np.clip(there, -80, 80))))


def pose_deg(mesh: FloatArray, columns: int) -> tuple[float, float]:
    """How far a face is turned to its own left of the lens, and how high the lens stands as seen from it, looking level [deg].

    By the line between the eyes and the one from chin to forehead of a mesh with its depth, (468, 3) [px]. Wide pictures draw what is at their
    sides as if it were turned; a face's own slope and what the net reads too small of it were fitted on drawn faces (docs/method/measuring.md).
    """
    across = mesh[list(LEFT_EYE)].mean(axis=0) - mesh[list(RIGHT_EYE)].mean(axis=0)
    out = np.cross(across, mesh[FOREHEAD] - mesh[CHIN])
    level = across[:2] / max(float(np.linalg.norm(across[:2])), 1e-9)  # however the head or the camera leans
    aside, upward = float(out[:2] @ level), float(out[:2] @ (level[1], -level[0]))
    middle = float(mesh[list(LEFT_EYE + RIGHT_EYE), 0].mean()) / columns
    turn_deg = float(np.degrees(np.arctan2(aside, -out[2]))) + ASIDE_DEG * (middle - 0.5)
    slope_deg = float(np.degrees(np.arctan2(upward, np.hypot(out[2], aside))))
    return turn_deg, -SLOPE * slope_deg - OWN_SLOPE_DEG + SLOPE_TURNED * abs(turn_deg)


def _iris(picture: Picture, mesh: FloatArray, corners: tuple[int, int], flipped: bool, look: float) -> FloatArray:
    """The middle of an iris, shape (2,) [px]."""
    outer, inner = mesh[corners[0]], mesh[corners[1]]
    way = mesh[LEFT_EYE[0]] - mesh[RIGHT_EYE[0]]
    side = look * IRIS_SCALE * float(np.linalg.norm(outer - inner))
    cut, back = _cut(picture, (outer + inner) / 2, side, float(np.arctan2(way[1], way[0])), IRIS_PX, flipped)
    out = next(out for out in _run("iris", cut) if out.size == 15).reshape(5, 3)
    return _back(out[:1, :2].astype(float), back)[0]


def _person(picture: Picture, mesh: FloatArray) -> FloatArray:
    """How much each pixel is the person, looked at closely round the head and coarsely elsewhere, shape (rows, columns) 0-1."""
    rows, columns = picture.shape[:2]
    small = cv2.resize(picture, (PERSON_PX, PERSON_PX), interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    whole = cv2.resize(_run("person", small)[0].reshape(PERSON_PX, PERSON_PX), (columns, rows))
    low, high = mesh.min(axis=0), mesh.max(axis=0)
    side = PERSON_SCALE * float((high - low).max())
    cut, back = _cut(picture, (low + high) / 2, side, 0.0, PERSON_PX)
    near = _run("person", cut)[0].reshape(PERSON_PX, PERSON_PX)
    inside = cv2.warpAffine(near, back, (columns, rows), flags=cv2.INTER_LINEAR, borderValue=-1.0)
    return np.where(inside >= 0, inside, whole).astype(np.float32)
