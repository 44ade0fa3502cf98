"""Daylight as coefficients: what each part of the sky, the ground and the sun give each place, worked out once for a room.

Any number of instants is then a product: illuminance = coefficients x luminances (daylight coefficients after Tregenza and Waters, 1983).
The sky is cut into cells of 5 by 10 degrees; what a cell gives is that of the pane's patches it is seen through, as on the bench.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.boards import CELLS, ON_M, Board, Boards, board_of, visible
from uphill_lamp.core.field.light.brim import passes_brim, wears_brim
from uphill_lamp.core.field.light.daylight import GROUND_REFLECTANCE, sky_scale
from uphill_lamp.core.field.light.exchange import WITHIN
from uphill_lamp.core.field.light.landing import landed_lx
from uphill_lamp.core.field.light.lit_scene import face_points, past_brim, seen_by_face
from uphill_lamp.core.field.light.patches import COARSE, FINE, Grid
from uphill_lamp.core.field.light.radiosity import Enclosure, enclosure_of
from uphill_lamp.core.field.light.sky_types import SkyType
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import hemisphere, open_sky
from uphill_lamp.core.scene.placing import Pane, window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction

RISE_DEG, TURN_DEG = 5.0, 10.0
RISES, TURNS = 18, 36
GROUND = RISES * TURNS  # the last cell: the ground, and what stands outside
FACE_FINENESS, ROOM_FINENESS = 12, 4  # patches along a pane's sides, as on the bench
PANE_RAYS = 12  # along each side of a pane: a ray for each part of the sun's beam
SUNS_AT_ONCE = 2000  # bounds the memory


def cell_of(rays: FloatArray, outward: FloatArray, obstruction_deg: float) -> NDArray[np.int64]:
    """Cell of the sky that unit directions (..., 3) meet, the ground's for those that meet ground or what stands outside."""
    out = np.maximum(rays @ outward, 1e-9)
    open_sky = (rays[..., 2] > math.tan(math.radians(min(obstruction_deg, 89.9))) * out) & (rays[..., 2] > 0)
    rise = np.degrees(np.arcsin(np.clip(rays[..., 2], 0, 1)))
    turn = np.degrees(np.arctan2(rays[..., 0], rays[..., 1])) % 360
    cell = np.minimum((rise / RISE_DEG).astype(int), RISES - 1) * TURNS + (turn / TURN_DEG).astype(int) % TURNS
    return np.where(open_sky, cell, GROUND)


def cells_relative(kind: SkyType, sun_deg: float, turn_deg: float) -> FloatArray:
    """Luminance of each cell of a sky of 1 lx, for a sun at an elevation and at a yaw in the room's axes, shape (GROUND,) [cd/m2 per lx]."""
    rise = np.radians((np.arange(RISES) + 0.5) * RISE_DEG)
    turn = np.radians((np.arange(TURNS) + 0.5) * TURN_DEG)
    up, round_ = np.meshgrid(rise, turn, indexing="ij")
    rays = np.stack([np.cos(up) * np.sin(round_), np.cos(up) * np.cos(round_), np.sin(up)], axis=-1).reshape(-1, 3)
    return np.asarray(sky_scale(kind, round(sun_deg, 1)) * kind.relative(rays[:, 2], rays @ direction(turn_deg, sun_deg)))


@dataclass(frozen=True, eq=False)
class Opening:
    """A pane as the sun comes through it: share let through, what stands outside, and what each row gets of it.

    ``even`` (R,) illuminance for 1 cd/m2 of a pane that diffuses, None for a clear one.
    """

    pane: Pane
    through: float
    obstruction_deg: float
    even: FloatArray | None

    def lets_in(self, towards: FloatArray) -> FloatArray:
        """What the sun sends in, per lx of it and m2 of the pane, for T suns (T, 3) -> (T,) [no unit]: 0 behind what stands outside."""
        out = np.maximum(-(towards @ self.pane.normal), 0.0)
        least = math.tan(math.radians(min(self.obstruction_deg, 89.9)))
        return np.asarray(out * (towards[:, 2] > least * out) * self.through)


@dataclass(frozen=True, eq=False)
class Coefficients:
    """What daylight gives R rows: the face's six points, then spots behind [lx], then panes seen [cd/m2].

    ``sky`` (R, GROUND + 1): per cd/m2 of each cell; ``openings``: where the sun comes in; ``landed`` (R, P FINE^2 + B): what a lumen
    that lands in a fine cell of the room, or in a cell of a board, gives each row by way of it [lx].
    """

    setup: Setup
    size: FloatArray
    grids: tuple[Grid, ...]
    places: FloatArray
    normals: FloatArray
    openings: tuple[Opening, ...]
    sky: FloatArray
    landed: FloatArray
    boards: Boards

    def sky_part(self, kind: SkyType, sun_deg: FloatArray, turn_deg: FloatArray, rows: int) -> FloatArray:
        """What a sky of 1 lx gives the first rows for T suns, shape (T, rows): read off a net of suns, 5 by 10 degrees."""
        rises, turns = np.arange(0.0, 91.0, 5.0), np.arange(0.0, 360.0, 10.0)
        if kind.turbidity is None:
            turns = turns[:1]  # alike all round
        net = np.array([[self.sky[:rows, :GROUND] @ cells_relative(kind, rise, turn) for turn in turns] for rise in rises])
        return _read_off(net, rises, sun_deg, turn_deg)

    def sun_parts(self, towards: FloatArray, sun_lx: FloatArray, rows: int) -> tuple[FloatArray, FloatArray]:
        """What T suns give the first rows, unit vectors (T, 3) and normal illuminances (T,): straight, and by way of the room, both (T, rows)."""
        straight, by_room = np.zeros((len(towards), rows)), np.zeros((len(towards), rows))
        for opening in self.openings:
            enters = opening.lets_in(towards) * sun_lx
            some = np.flatnonzero(enters > 0)
            if opening.even is not None:
                by_room[some] += enters[some, None] * opening.even[:rows] / math.pi
                continue
            for few in np.array_split(some, max(1, len(some) // SUNS_AT_ONCE)):
                reached = _reached(opening.pane, self.places[:rows], towards[few]) & ~_shaded(self.boards, self.places[:rows], towards[few])
                if wears_brim(self.setup):
                    rays = np.repeat(towards[few][None], 6, axis=0)
                    reached[:, :6] &= passes_brim(scene_of(self.setup).face, self.setup.presenter.brim_m, self.places[:6], rays).T
                facing = np.maximum(towards[few] @ self.normals[:rows].T, 0.0)
                straight[few] += reached * facing * (sun_lx[few] * opening.through)[:, None]
                by_room[few] += enters[few, None] * self._by_room(opening.pane, towards[few], rows)
        return straight, by_room

    def _by_room(self, pane: Pane, towards: FloatArray, rows: int) -> FloatArray:
        """What a beam of 1 lm/m2 of the pane gives the rows by way of the surfaces it lands on, shape (T, rows)."""
        steps = (np.arange(PANE_RAYS) + 0.5) / PANE_RAYS
        starts = np.array([pane.at(across, down) for across in steps for down in steps])
        cells = _landing_cells(self.size, self.grids, self.boards, starts, towards)
        flux_lm = pane.width_m * pane.height_m / len(starts)
        return np.stack([row[cells].sum(axis=1) for row in self.landed[:rows]], axis=1) * flux_lm


def _reached(pane: Pane, places: FloatArray, towards: FloatArray) -> NDArray[np.bool_]:
    """Which places see each of T suns through a pane, shape (T, R)."""
    facing = towards @ pane.normal
    safe = np.where(facing < -1e-6, facing, -1.0)
    beyond = pane.middle - places
    reach = (beyond @ pane.normal)[None] / safe[:, None]
    across = reach * (towards @ pane.right)[:, None] - (beyond @ pane.right)[None]
    upward = reach * (towards @ pane.up)[:, None] - (beyond @ pane.up)[None]
    inside = (np.abs(across) <= pane.width_m / 2) & (np.abs(upward) <= pane.height_m / 2)
    return np.asarray(inside & (reach > 0) & (facing < -1e-6)[:, None])


def _shaded(boards: Boards, places: FloatArray, towards: FloatArray) -> NDArray[np.bool_]:
    """Whether boards keep each of T suns off places, shape (T, R)."""
    shaded = np.zeros((len(towards), len(places)), dtype=bool)
    for board in boards:
        below = board.pane.middle[2] - places[:, 2]
        reach = np.where(towards[:, 2:] > 1e-9, below / np.maximum(towards[:, 2:], 1e-9), 0.0)
        on = np.ones_like(shaded)
        for axis, half in ((board.pane.right, board.pane.width_m / 2), (board.pane.up, board.pane.height_m / 2)):
            on &= np.abs((places - board.pane.middle) @ axis + reach * (towards @ axis)[:, None]) <= half
        shaded |= on & (below > ON_M) & (towards[:, 2:] > 1e-9)
    return shaded


def _landing_cells(size: FloatArray, grids: tuple[Grid, ...], boards: Boards, starts: FloatArray, towards: FloatArray) -> NDArray[np.int64]:
    """Fine cell of the room, or cell of a board's top, in which parallel rays from S starts land, for T suns, shape (T, S)."""
    going = -towards
    with np.errstate(divide="ignore", invalid="ignore"):
        ends = np.where(going[:, None] > 0, size, 0.0)
        reach = np.where(np.abs(going)[:, None] > 1e-9, (ends - starts) / going[:, None], np.inf)
    reach[reach < 1e-6] = np.inf  # the pane's own wall
    axis = reach.argmin(axis=2)
    spots = starts + reach.min(axis=2)[..., None] * going[:, None]
    cells = np.zeros(axis.shape, dtype=np.int64)
    for grid in grids:
        here = (axis == grid.axis) & ((going[:, grid.axis] > 0)[:, None] == bool(grid.end))
        fine = [
            np.clip((spots[here][:, a] / size[a] * count * FINE).astype(int), 0, count * FINE - 1)
            for a, count in zip(grid.axes, grid.counts, strict=True)
        ]
        patch = grid.first + fine[0] // FINE * grid.counts[1] + fine[1] // FINE
        cells[here] = patch * FINE**2 + fine[0] % FINE * FINE + fine[1] % FINE
    first = sum(rows * columns for rows, columns in (grid.counts for grid in grids)) * FINE**2
    nearest = reach.min(axis=2)
    for board in boards:
        _on_board(board, first, size, starts, going, nearest, cells)
        first += 2 * len(board.cells)
    return cells


def _on_board(
    board: Board, first: int, size: FloatArray, starts: FloatArray, going: FloatArray, nearest: FloatArray, cells: NDArray[np.int64]
) -> None:
    """Writes the cells of a board's top that rays meet before anything else; ``nearest`` (T, S) is how far that is otherwise."""
    above = starts[:, 2] - board.pane.middle[2]
    reach = np.where(going[:, 2:] < -1e-9, above / np.maximum(-going[:, 2:], 1e-9), -1.0)
    shares = []
    for axis, side in ((board.pane.right, board.pane.width_m), (board.pane.up, board.pane.height_m)):
        shares.append(((starts - board.pane.middle) @ axis + reach * (going @ axis)[:, None]) / side + 0.5)
    met = (reach > 1e-6) & (reach < nearest) & (shares[0] >= 0) & (shares[0] < 1) & (shares[1] >= 0) & (shares[1] < 1)
    across, along = ((share[met] * count).astype(int) for share, count in zip(shares, CELLS, strict=True))
    cells[met] = first + across * CELLS[1] + along
    nearest[met] = reach[met]


def _read_off(net: FloatArray, rises: FloatArray, sun_deg: FloatArray, turn_deg: FloatArray) -> FloatArray:
    """Bilinear in elevation and yaw off a net (rises, turns, R), shape (T, R)."""
    u = np.clip(np.interp(sun_deg, rises, np.arange(len(rises))), 0, len(rises) - 1 - 1e-9)
    v = (turn_deg % 360) / (360 / net.shape[1])
    i, j = u.astype(int), v.astype(int) % net.shape[1]
    p, q, k = (u - i)[:, None], (v - v.astype(int))[:, None], (j + 1) % net.shape[1]
    return np.asarray((net[i, j] * (1 - q) + net[i, k] * q) * (1 - p) + (net[i + 1, j] * (1 - q) + net[i + 1, k] * q) * p)


def coefficients_of(setup: Setup, places: FloatArray, normals: FloatArray, glimpses: Sequence[tuple[str, FloatArray]] = ()) -> Coefficients:
    """What daylight gives the face and K spots behind, and how bright panes in view are.

    Args:
        setup: its room, panes and face count.
        places, normals: of the spots, shapes (K, 3) [m] and (K, 3).
        glimpses: ids of windows with the unit direction, shape (3,), in which each is seen.
    """
    enclosure = enclosure_of(setup)
    room = _Room(setup, enclosure, places, normals)
    count, still = len(room.places), np.zeros((len(glimpses), 3))
    sky, openings = np.zeros((count + len(glimpses), GROUND + 1)), []
    for window in setup.room.windows:
        through = window.glass_transmittance * window.covering.transmittance
        if through <= 0:
            continue
        pane = window_pane(setup.room, window)
        seen = [(count + row, ray) for row, (name, ray) in enumerate(glimpses) if name == window.id]
        whole_pane = _Pane(pane, through, window.obstruction_deg)
        even = None
        if window.covering.diffuses:
            even = np.concatenate([whole_pane.even(room), np.zeros(len(glimpses))])
            even[[row for row, _ in seen]] = 1.0
            sky += even[:, None] * whole_pane.outside_cells() / math.pi
        else:
            sky[:count] += whole_pane.clear(room)
            for row, ray in seen:
                sky[row, cell_of(ray, -pane.normal, window.obstruction_deg)] = through
        openings.append(Opening(pane, through, window.obstruction_deg, even))
    landed = room.landed()
    landed = np.concatenate([landed, np.zeros((len(glimpses), landed.shape[1]))])
    places, normals = np.concatenate([room.places, still]), np.concatenate([room.normals, still])
    patches = enclosure.patches
    return Coefficients(setup, patches.size, patches.grids, places, normals, tuple(openings), sky, landed, enclosure.boards)


class _Room:
    """A room and the rows in it: the face's six points, then spots on its surfaces or loose."""

    def __init__(self, setup: Setup, enclosure: Enclosure, places: FloatArray, normals: FloatArray) -> None:
        face = scene_of(setup).face
        face_places, face_normals = face_points(face)
        self.setup, self.enclosure = setup, enclosure
        self.places, self.normals = np.concatenate([face_places, places]), np.concatenate([face_normals, normals])
        self.seen, self.boards_seen = seen_by_face(enclosure.patches, face, board_of(setup.desk))
        self.behind = enclosure.seen_from(places, normals).astype(float)

    @property
    def whole(self) -> FloatArray:
        """How each row sees each element, shape (R, E)."""
        count = len(self.enclosure.patches.middle)
        face = np.concatenate([self.seen.sum(axis=2), self.boards_seen], axis=1)
        room, boards = self.behind[:, : count * WITHIN**2], self.behind[:, count * WITHIN**2 :]
        return np.concatenate([face, np.concatenate([room.reshape(-1, count, WITHIN**2).sum(axis=2), boards], axis=1)])

    def returned(self, lit: FloatArray, on_boards: FloatArray) -> FloatArray:
        """What the room gives back to each row of light on each patch's places (P, places, K) and on the boards' cells (B, K), shape (R, K).

        As on the bench: the first bounce is taken place by place, all others from whole patches.
        """
        enclosure, count, side = self.enclosure, len(lit), math.isqrt(lit.shape[1])
        room, boards = enclosure.reflectance[:count, None, None], enclosure.reflectance[count:, None]
        into = np.repeat(np.eye(side), FINE // side, axis=0).reshape(WITHIN, FINE // WITHIN, side).mean(axis=1)
        cells = np.einsum("ai,bj,pijk->pabk", into, into, (lit * room).reshape(count, side, side, -1), optimize=True)
        sent = np.concatenate([cells.reshape(count * WITHIN**2, -1), on_boards * boards])
        further = self.whole @ enclosure.sent((enclosure.exchange.first @ sent.astype(np.float32)).astype(float))
        times = FINE // side
        seen = self.seen.reshape(6, count, side, times, side, times).sum(axis=(3, 5)).reshape(6, count, -1)
        face = np.tensordot(seen, lit * room, axes=([1, 2], [0, 1])) + self.boards_seen @ (on_boards * boards)
        return np.asarray(np.concatenate([face, self.behind @ sent]) + further)

    def landed(self) -> FloatArray:
        """What a lumen that lands in each fine cell, and in each cell of a board, gives each row by way of it, shape (R, P FINE^2 + B) [lx]."""
        enclosure, patches = self.enclosure, self.enclosure.patches
        count, area, times = len(patches.middle), enclosure.exchange.area_m2, FINE // WITHIN
        level = enclosure.reflectance / area
        cells = np.concatenate([np.repeat(level[:count] * WITHIN**2, WITHIN**2), level[count:]])
        further = self.whole @ enclosure.sent(np.eye(len(area))) @ enclosure.exchange.first * cells
        face = self.seen * (level[:count] * FINE**2)[:, None]

        def finely(rows: FloatArray) -> FloatArray:
            split = rows[:, : count * WITHIN**2].reshape(-1, WITHIN, WITHIN)
            fine = split.repeat(times, axis=1).repeat(times, axis=2)
            return np.concatenate([fine.reshape(len(rows), -1), rows[:, count * WITHIN**2 :]], axis=1)

        first = np.concatenate([face.reshape(6, -1), self.boards_seen * level[count:]], axis=1)
        return np.asarray(np.concatenate([first, finely(self.behind * cells)]) + finely(further))


@dataclass(frozen=True, eq=False)
class _Pane:
    """One pane's share in the coefficients of the sky."""

    pane: Pane
    through: float
    obstruction_deg: float

    def clear(self, room: _Room) -> FloatArray:
        """Rows of a clear pane, direct and off the room, shape (R, GROUND + 1)."""
        patches, boards = room.enclosure.patches, room.enclosure.boards
        normals = np.repeat(patches.normal, COARSE**2, axis=0)
        lit = self._cells(patches.places(COARSE).reshape(-1, 3) + 1e-6 * normals, normals, ROOM_FINENESS, boards)
        lit = lit.reshape(len(patches.middle), COARSE**2, -1)
        on_boards = [
            self._cells(*board.lit_places(1), ROOM_FINENESS, boards) * np.tile(board.inside(patches.size), 2)[:, None] for board in boards
        ]
        on_boards_lx = np.concatenate(on_boards)
        caught = patches.area_m2 @ lit.mean(axis=1) + room.enclosure.exchange.area_m2[len(lit) :] @ on_boards_lx
        given = self.outside_cells().sum() * self.pane.width_m * self.pane.height_m
        keeps = given / max(float(caught.sum()), 1e-12)  # what lands is what comes in, as on the bench
        direct = self._cells(room.places, room.normals, FACE_FINENESS, boards, room.setup)
        return direct + room.returned(lit * keeps, on_boards_lx * keeps)

    def even(self, room: _Room) -> FloatArray:
        """Rows of a pane that shines alike all over, for 1 cd/m2 of it, shape (R,)."""
        source, boards = AreaSource("", self.pane, 1.0, 6500), room.enclosure.boards
        lit, on_boards = landed_lx(source, room.enclosure.patches, boards)
        direct = source.illuminance_lx(room.places, room.normals, FACE_FINENESS, boards)
        if wears_brim(room.setup):
            direct[:6] *= past_brim(room.setup, source, room.places[:6], room.normals[:6])
        return np.asarray(direct + room.returned(lit[..., None], on_boards[:, None])[:, 0])

    def outside_cells(self) -> FloatArray:
        """What each cell sends through the pane, per cd/m2, shape (GROUND + 1,) [lm/m2]."""
        rays, weights = hemisphere(self.pane)
        return np.asarray(np.bincount(cell_of(rays, -self.pane.normal, self.obstruction_deg), weights * self.through, GROUND + 1), float)

    def _cells(self, places: FloatArray, normals: FloatArray, fineness: int, boards: Boards, wearer: Setup | None = None) -> FloatArray:
        """What each cell gives small surfaces directly, per cd/m2, shape (N, GROUND + 1); the first six may be under a wearer's brim."""
        spots, patch_m2 = AreaSource("", self.pane, 1.0, 6500).patches(fineness)
        beyond = spots[None] - places[:, None]
        squared = np.maximum(np.einsum("npi,npi->np", beyond, beyond), patch_m2 / math.pi)
        before = np.maximum((places - self.pane.middle) @ self.pane.normal, 0.0)[:, None]
        arriving = np.maximum(np.einsum("npi,ni->np", beyond, normals), 0.0)
        rays = beyond / np.sqrt(squared)[..., None]
        share, above = open_sky(self.pane, places, spots, self.pane.height_m / fineness, self.obstruction_deg)
        met = cell_of(above, -self.pane.normal, 0.0)
        weights = before * arriving / squared**2 * patch_m2 * self.through
        if (free := visible(boards, places, spots)) is not None:
            weights *= free
        if wearer is not None and wears_brim(wearer):
            weights[:6] *= passes_brim(scene_of(wearer).face, wearer.presenter.brim_m, places[:6], rays[:6])
        at = met + (GROUND + 1) * np.arange(len(places))[:, None]
        cells = np.bincount(at.ravel(), (weights * share).ravel(), len(places) * (GROUND + 1)).reshape(len(places), GROUND + 1)
        cells[:, GROUND] += (weights * (1 - share)).sum(axis=1)
        return np.asarray(cells, float)


def ground_cd_m2(horizontal_lx: FloatArray, sun_lx: FloatArray, sun_deg: FloatArray) -> FloatArray:
    """Luminance of the ground under skies and suns, shape (T,) [cd/m2]."""
    return np.asarray(GROUND_REFLECTANCE * (horizontal_lx + sun_lx * np.sin(np.radians(np.maximum(sun_deg, 0)))) / math.pi)
