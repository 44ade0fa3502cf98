"""Light from all round: how open each vertex is to each direction, and what the room sends from there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.boards import Board
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.patches import FINE, Patches
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.drawings.figure.fitted import Figure, Look, average_of
from uphill_lamp.drawings.figure.gather import between, gathered, near_light
from uphill_lamp.drawings.figure.shadows import BALLS, maps_from, spread
from uphill_lamp.drawings.figure.stored import stored

BRIM_STEP_M = 0.04
ASIDE_M, UP_M, DOWN_M = 0.06, 0.10, -0.25  # where else the room's light is gathered, so that near walls light a near cheek more
FARTHEST_M = ((-0.12, -0.35), (0.12, 0.14))  # and how far aside and up that is carried on
NORMALS = 512
DIRECTIONS, AWAY_M, AT_ONCE = 160, 20.0, 16
MOST_KEPT, MOST_MENDED, WHOLLY = 2, 2.0, 255
MIDDLE_M = (-0.03, 0.0, -0.03)  # of what is seen of a head, forward, left, up of the eyes


def directions() -> FloatArray:
    """Unit directions all round in the head's axes, left and right alike, shape (DIRECTIONS, 3)."""
    return _both(DIRECTIONS)


@lru_cache(maxsize=2)
def _both(count: int) -> FloatArray:
    """Directions spread evenly over the left half of the sphere, and the same on the right."""
    step = np.arange(count // 2) + 0.5
    up = 1 - 2 * step / (count // 2)
    turn = np.pi * ((step * 0.6180339887) % 1)
    flat = np.sqrt(1 - up * up)
    left = np.stack([np.cos(turn) * flat, np.sin(turn) * flat, up], axis=1)
    return np.concatenate([left, left * (1, -1, 1)])


@dataclass(frozen=True, eq=False)
class Open:
    """How V vertices lie to the light from all round: their ``places`` [m] and ``normals`` (V, 3), how ``free`` each is to each direction (V, DIRECTIONS)
    0-WHOLLY; the directions round each normal (V, 3) and their shares (V, 3); how far aside and up each lies (V, 2) [m]; and what
    share of what each could see is its own body (V,) 0-1."""

    places: FloatArray
    normals: FloatArray
    free: NDArray[np.uint8]
    corners: NDArray[np.int32]
    shares: FloatArray
    beside: FloatArray
    closed: FloatArray

    @property
    def towards(self) -> FloatArray:
        """The cosine of each normal towards each direction where the body leaves it open, else 0, shape (V, DIRECTIONS)."""
        return np.asarray(np.maximum(self.normals @ directions().T.astype(np.float32), 0) * self.free * np.float32(1 / WHOLLY))

    def falls(self, around: Around) -> FloatArray:
        """Light on the vertices, shape (V, 3) [lx]."""
        falls = gathered_from(self.normals, self.free, around.table)
        if falls.shape[1] > 3:
            y, z = self.beside.T[..., None]
            falls = falls[:, :3] + y * falls[:, 3:6] + z * falls[:, 6:]
        falls = np.maximum(falls, 0, dtype=np.float32)
        if around.mends is not None:
            falls *= (around.mends[self.corners] * self.shares[..., None]).sum(axis=1).astype(np.float32)
        if around.desk is not None:
            self._add_desk(around.desk, falls)
        return falls

    def _add_desk(self, desk: Desk, falls: FloatArray) -> None:
        def work(begin: int, end: int) -> None:
            near_light(self.places, self.normals, self.free, desk.spots, desk.sends, desk.corners, desk.shares, begin, end, falls)

        spread(work, len(falls))


def gathered_from(normals: FloatArray, free: NDArray[np.uint8], table: FloatArray) -> FloatArray:
    """Sums of several kinds of what comes from all round, table (C, DIRECTIONS), on vertices, shape (V, C)."""
    out, across = np.empty((len(normals), len(table)), np.float32), np.ascontiguousarray(directions().T, np.float32)

    def work(begin: int, end: int) -> None:
        gathered(normals, free, across, table, np.float32(1 / WHOLLY), begin, end, out)

    spread(work, len(out))
    return out


def openness(figure: Figure, use: NDArray[np.int64] | None = None) -> Open:
    """How open vertices of a body are, those named or all."""
    some = np.arange(len(figure.vertices)) if use is None else use
    known, known_closed = _free(_roughly(figure.look))
    free, closed = np.full((len(some), DIRECTIONS), WHOLLY, np.uint8), np.zeros(len(some), np.float32)
    of_body = some < len(known)  # spectacle frames come last, hide little and see all
    free[of_body], closed[of_body] = known[some[of_body]], known_closed[some[of_body]]
    corners, shares = _round_normals(figure)
    corners, shares = corners[some], shares[some]
    beside = np.clip(figure.vertices[some, 1:], *FARTHEST_M).astype(np.float32) - np.array(MIDDLE_M[1:], np.float32)
    return Open(figure.vertices[some], figure.normals[some], free, corners, shares / shares.sum(axis=1, keepdims=True), beside, closed)


@lru_cache(maxsize=4)
def _round_normals(figure: Figure) -> tuple[NDArray[np.int32], FloatArray]:
    """The directions round each vertex's normal (V, 3) and their shares (V, 3)."""
    return _between(figure.normals, NORMALS)


def _roughly(look: Look) -> Look:
    """The same with a brim of whole steps, so that not every brim costs half a second."""
    steps = round(look.brim_m / BRIM_STEP_M) or (1 if look.brim_m else 0)
    return replace(look, brim_m=steps * BRIM_STEP_M)


@lru_cache(maxsize=3)
def _free(look: Look) -> tuple[NDArray[np.uint8], FloatArray]:
    """How free each vertex of a body of average measures is to each direction, shape (V, DIRECTIONS) 0-WHOLLY, and ``Open.closed``.

    What is worn decides it, not how broad a head is: so this, which takes half a second, is done once for all who look alike.
    """
    figure = average_of(look)
    free = stored(f"free {look}", lambda: _found_free(figure))
    one = np.ones((1, DIRECTIONS), np.float32)
    seen, whole = (gathered_from(figure.normals, some, one)[:, 0] for some in (free, np.full_like(free, WHOLLY)))
    return free, 1 - seen / np.maximum(whole, np.float32(1e-6))


def _found_free(figure: Figure) -> NDArray[np.uint8]:
    bodies = (figure.vertices, figure.faces), (figure.coarse_vertices, figure.coarse_faces)
    middles = [np.array(middle) for middle, _ in BALLS]
    out = np.empty((len(figure.vertices), DIRECTIONS), dtype=np.uint8)
    for first in range(0, DIRECTIONS, AT_ONCE):
        some = directions()[first : first + AT_ONCE]
        out[:, first : first + AT_ONCE] = WHOLLY * maps_from(AWAY_M * some, bodies, middles).seen(figure.vertices, figure.normals)
    out[figure.sunk] = out[figure.beside]
    return out


@dataclass(frozen=True, eq=False)
class Desk:
    """A desk's cells in the head's axes (D, 3) [m], what each sends straight up (D, 3) [cd], and the directions in which the head has it."""

    spots: FloatArray
    sends: FloatArray
    corners: NDArray[np.int32]
    shares: FloatArray


@dataclass(frozen=True, eq=False)
class Around:
    """Light that comes to a head off the room: from each direction on a surface square to it (DIRECTIONS, 3) [lx], how much more of it a
    metre further left and up (DIRECTIONS, 3) [lx/m] or None for no more, and by what their sum is to be mended for surfaces that look in each of NORMALS
    directions (NORMALS, 3), for DIRECTIONS are few; in drafts None. The ``desk`` is too near for that: its light is worked out place by
    place. In drafts it counts among the rest."""

    comes: FloatArray
    more_left: FloatArray | None
    more_up: FloatArray | None
    mends: FloatArray | None
    desk: Desk | None = None

    @property
    def table(self) -> FloatArray:
        """All that comes, in rows: (9, DIRECTIONS), or (3, DIRECTIONS) where it is the same everywhere."""
        if self.more_left is None or self.more_up is None:
            return np.ascontiguousarray(self.comes.T)
        return np.concatenate([self.comes.T, self.more_left.T, self.more_up.T])


def around(lit_scene: LitScene, tints: FloatArray, face: Face, light: bool = False) -> Around:
    """What the room sends towards a head.

    As in Light, what falls straight on a patch is sent back from where on it it falls, what has gone round the room from all of it.

    Args:
        falling: the room and its light.
        tints: colour of each source's light, shape (S, 3) linear sRGB.
        face: where the head is.
        light: whether it will do to gather it at one place, for a draft.
    """
    if not lit_scene.sources:
        dark = np.zeros((DIRECTIONS, 3), np.float32)
        return Around(dark, None, None, None)
    enclosure, board = lit_scene.enclosure, lit_scene.board
    count = len(enclosure.patches.middle)
    reflectance = enclosure.reflectance[:count]
    first = np.tensordot(lit_scene.lit_lx, tints, axes=(0, 0)) * reflectance[:, None, None]
    further = (lit_scene.sent_by_source[:count] - reflectance[:, None] * lit_scene.lit_lx.mean(axis=2).T) @ tints
    sent = ((first + further[:, None]).reshape(-1, 3) / np.pi).astype(np.float32)
    by_desk = (lit_scene.sent_by_desk @ tints / np.pi).astype(np.float32)
    patches = enclosure.patches
    key = (*patches.size.tolist(), *face.eyes.tolist(), *face.forward.tolist(), *board.key, light)
    ways = _ways.get_or_compute(key, lambda: _ways_of(patches, board, face, light))
    if light:
        return Around(ways[0] @ np.concatenate([sent, by_desk]), None, None, None)
    comes, left, right, up, down, exact = (way @ sent for way in ways)
    coarse = np.maximum(_both(NORMALS) @ directions().T, 0).astype(np.float32) @ comes
    mends = np.clip(exact / np.maximum(coarse, 1e-9), 1 / MOST_MENDED, MOST_MENDED)
    more_left, more_up = (left - right) / np.float32(2 * ASIDE_M), (up - down) / np.float32(UP_M - DOWN_M)
    return Around(comes, more_left, more_up, mends, _desk_before(board, face, by_desk))


def _desk_before(board: Board, face: Face, by_desk: FloatArray) -> Desk | None:
    """The desk as a head has it, that sends ``by_desk`` (D, 3) [cd/m2]."""
    if not by_desk.any():
        return None
    axes = np.array([face.forward, face.left, (0.0, 0.0, 1.0)])
    spots = (board.cells - face.eyes) @ axes.T
    rays = spots - np.array(MIDDLE_M)
    corners, shares = _between(rays / np.maximum(np.linalg.norm(rays, axis=1, keepdims=True), 1e-6), DIRECTIONS)
    return Desk(spots.astype(np.float32), by_desk * np.float32(board.cell_m2), corners, shares * np.float32(1 / WHOLLY))


_ways: LockedLru[tuple[float, ...], list[Any]] = LockedLru(MOST_KEPT)


def _ways_of(patches: Patches, board: Board, face: Face, light: bool) -> list[Any]:
    """How the fine places of the patches come to a head past the desk, [sr]: by way of which direction they are seen, from the middle,
    left, right, up, down, each (DIRECTIONS, P FINE^2) and sparse; then from the middle their cosine times solid angle for surfaces that look in
    each of NORMALS directions (NORMALS, P FINE^2). For a draft the first alone, and after the patches the cells of the desk."""
    from scipy.sparse import csr_array

    ahead, aside, level = MIDDLE_M
    spots = [MIDDLE_M, (ahead, ASIDE_M, level), (ahead, -ASIDE_M, level), (ahead, aside, UP_M), (ahead, aside, DOWN_M)]
    ways: list[Any] = []
    count = None if light else len(patches.middle) * FINE**2
    for spot in spots[:1] if light else spots:
        rays, solid = (part[:count] for part in _seen_from(patches, board, face, face.at(*spot)))
        corners, shares = _between(rays, DIRECTIONS)
        through = (shares * solid[:, None]).astype(np.float32).ravel(), corners.ravel(), 3 * np.arange(len(rays) + 1)
        ways.append(csr_array(through, shape=(len(rays), DIRECTIONS)).T.tocsr())
    if not light:
        rays, solid = (part[:count] for part in _seen_from(patches, board, face, face.at(*MIDDLE_M)))
        ways.append(np.maximum(_both(NORMALS).astype(np.float32) @ rays.T.astype(np.float32), 0) * solid.astype(np.float32))
    return ways


def _seen_from(patches: Patches, board: Board, face: Face, spot: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Fine places of the patches and cells of the desk as rays in the head's axes (P FINE^2 + D, 3), and their solid angles [sr]."""
    places = patches.places(FINE).reshape(-1, 3)
    beyond = np.concatenate([places, board.cells]) - spot
    squared = np.maximum((beyond * beyond).sum(axis=1), 1e-6)
    rays = beyond / np.sqrt(squared)[:, None]
    area = np.concatenate([(patches.area_m2 / FINE**2).repeat(FINE**2), np.full(len(board.cells), board.cell_m2)])
    leaving = np.maximum(-(rays * np.concatenate([patches.normal.repeat(FINE**2, axis=0), board.normals])).sum(axis=1), 0)
    solid = area * leaving / np.maximum(squared, area / np.pi)
    solid[: len(places)][board.between(spot[None], places)[0]] = 0.0
    return rays @ np.array([face.forward, face.left, (0.0, 0.0, 1.0)]).T, solid * (4 * np.pi / solid.sum())


@lru_cache(maxsize=2)
def _triangles(count: int) -> tuple[NDArray[np.int32], FloatArray, NDArray[np.int32]]:
    """``_both(count)`` as corners of triangles round the sphere (T, 3), what turns a ray into shares of them (T, 3, 3), and which
    triangle lies beyond the side opposite each corner (T, 3)."""
    from scipy.spatial import ConvexHull

    corners = ConvexHull(_both(count)).simplices
    sides = np.sort(corners[:, [(1, 2), (2, 0), (0, 1)]], axis=2).reshape(-1, 2)
    pairs = np.lexsort(sides.T).reshape(-1, 2)  # each side is of two triangles
    beyond = np.empty(len(sides), np.int32)
    beyond[pairs] = pairs[:, ::-1] // 3
    return corners, np.linalg.inv(_both(count)[corners].transpose(0, 2, 1)).astype(np.float32), beyond.reshape(-1, 3)


def _between(rays: FloatArray, count: int) -> tuple[NDArray[np.int32], FloatArray]:
    """The three of ``_both(count)`` round each ray (N, 3), and shares of them that add up to it (N, 3)."""
    corners, into, beyond = _triangles(count)
    which, shares = np.zeros(len(rays), np.int32), np.zeros((len(rays), 3), np.float32)
    between(np.ascontiguousarray(rays, np.float32), into, beyond, which, shares)
    return corners[which], shares
