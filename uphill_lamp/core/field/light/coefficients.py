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
from uphill_lamp.core.field.light.brim import passes_brim, wears_brim
from uphill_lamp.core.field.light.daylight import GROUND_REFLECTANCE, sky_scale
from uphill_lamp.core.field.light.desk import top_of
from uphill_lamp.core.field.light.lit_scene import face_points, past_brim, seen_by_face
from uphill_lamp.core.field.light.patches import COARSE, FINE, Grid
from uphill_lamp.core.field.light.radiosity import Enclosure, enclosure_of
from uphill_lamp.core.field.light.sky_types import SkyType
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import hemisphere
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

    ``sky`` (R, GROUND + 1): per cd/m2 of each cell; ``openings``: where the sun comes in; ``landed`` (R, P FINE^2): what a lumen
    that lands in a fine cell of the room gives each row by way of it [lx]; ``desk_gives`` (6, D): what 1 lx on each cell of the desk gives
    the face [lx].
    """

    setup: Setup
    size: FloatArray
    grids: tuple[Grid, ...]
    places: FloatArray
    normals: FloatArray
    openings: tuple[Opening, ...]
    sky: FloatArray
    landed: FloatArray
    desk_gives: FloatArray

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
                reached = _reached(opening.pane, self.places[:rows], towards[few])
                if wears_brim(self.setup):
                    rays = np.repeat(towards[few][None], 6, axis=0)
                    reached[:, :6] &= passes_brim(scene_of(self.setup).face, self.setup.presenter.brim_m, self.places[:6], rays).T
                facing = np.maximum(towards[few] @ self.normals[:rows].T, 0.0)
                straight[few] += reached * facing * (sun_lx[few] * opening.through)[:, None]
                by_room[few] += enters[few, None] * self._by_room(opening.pane, towards[few], rows)
                on_desk = _reached(opening.pane, top_of(self.setup.desk).cells, towards[few])
                by_room[few, :6] += on_desk @ self.desk_gives.T * (np.maximum(towards[few, 2], 0) * sun_lx[few] * opening.through)[:, None]
        return straight, by_room

    def _by_room(self, pane: Pane, towards: FloatArray, rows: int) -> FloatArray:
        """What a beam of 1 lm/m2 of the pane gives the rows by way of the surfaces it lands on, shape (T, rows)."""
        steps = (np.arange(PANE_RAYS) + 0.5) / PANE_RAYS
        starts = np.array([pane.at(across, down) for across in steps for down in steps])
        cells = _landing_cells(self.size, self.grids, starts, towards)
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


def _landing_cells(size: FloatArray, grids: tuple[Grid, ...], starts: FloatArray, towards: FloatArray) -> NDArray[np.int64]:
    """Fine cell of the room in which parallel rays from S starts land, for T suns, shape (T, S)."""
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
    return cells


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
    enclosure = enclosure_of(setup.room)
    room = _Room(setup, enclosure, places, normals)
    count, still = 6 + len(places), np.zeros((len(glimpses), 3))
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
            even = np.concatenate([room.by_way_of_desk(whole_pane.even(room)), np.zeros(len(glimpses))])
            even[[row for row, _ in seen]] = 1.0
            sky += even[:, None] * whole_pane.outside_cells() / math.pi
        else:
            sky[:count] += room.by_way_of_desk(whole_pane.clear(room))
            for row, ray in seen:
                sky[row, cell_of(ray, -pane.normal, window.obstruction_deg)] = through
        openings.append(Opening(pane, through, window.obstruction_deg, even))
    patches = enclosure.patches
    landed = np.concatenate([room.by_way_of_desk(room.landed()), np.zeros((len(glimpses), len(patches.middle) * FINE**2))])
    places, normals = np.concatenate([room.places[:count], still]), np.concatenate([room.normals[:count], still])
    return Coefficients(setup, patches.size, patches.grids, places, normals, tuple(openings), sky, landed, room.desk_gives)


class _Room:
    """A room and the rows in it: the face's six points, then spots on its surfaces or loose, then the desk's cells."""

    def __init__(self, setup: Setup, enclosure: Enclosure, places: FloatArray, normals: FloatArray) -> None:
        top, face = top_of(setup.desk), scene_of(setup).face
        face_places, face_normals = face_points(face)
        self.setup, self.enclosure = setup, enclosure
        self.places = np.concatenate([face_places, places, top.cells])
        self.normals = np.concatenate([face_normals, normals, top.normals])
        self.spots = enclosure.spots(self.places[6:], self.normals[6:])
        self.seen, desk_seen = seen_by_face(enclosure.patches, face, top)
        self.desk_gives = desk_seen * top.reflectance * top.inside(enclosure.patches.size)

    def by_way_of_desk(self, rows: FloatArray) -> FloatArray:
        """Rows (R, ...), those of the desk left out and what they give the face added to its own."""
        rest, desk = np.split(rows, [len(rows) - self.desk_gives.shape[1]])
        rest[:6] += self.desk_gives @ desk
        return rest

    def returned(self, lit: FloatArray) -> FloatArray:
        """What the room gives back to each row of light on each patch's places, shape (P, places, K) -> (R, K).

        As on the bench: for the face the first bounce is taken place by place, all others from whole patches.
        """
        count, side = len(lit), math.isqrt(lit.shape[1])
        times = FINE // side
        seen = self.seen.reshape(6, count, side, times, side, times).sum(axis=(3, 5)).reshape(6, count, -1)
        whole, reflected = lit.mean(axis=1), self.enclosure.reflectance[:, None]
        sent = self.enclosure.sent(whole)
        first = np.tensordot(seen, lit * reflected[:, None], axes=([1, 2], [0, 1]))
        face = first + seen.sum(axis=2) @ (sent - reflected * whole)
        return np.concatenate([face, self.enclosure.received_lx(sent, self.spots)])

    def landed(self) -> FloatArray:
        """What a lumen that lands in each fine cell gives each row by way of it, shape (R, P FINE^2) [lx]."""
        enclosure, area = self.enclosure, self.enclosure.patches.area_m2
        further = self.seen.sum(axis=2) @ (enclosure.solution - np.diag(enclosure.reflectance)) / area
        face = self.seen * (enclosure.reflectance * FINE**2 / area)[:, None] + further[:, :, None]
        behind = enclosure.received_lx(enclosure.solution, self.spots) / area
        return np.concatenate([face.reshape(6, -1), np.repeat(behind, FINE**2, axis=1)])


@dataclass(frozen=True, eq=False)
class _Pane:
    """One pane's share in the coefficients of the sky."""

    pane: Pane
    through: float
    obstruction_deg: float

    def clear(self, room: _Room) -> FloatArray:
        """Rows of a clear pane, direct and off the room, shape (R, GROUND + 1)."""
        patches = room.enclosure.patches
        normals = np.repeat(patches.normal, COARSE**2, axis=0)
        lit = self._cells(patches.places(COARSE).reshape(-1, 3) + 1e-6 * normals, normals, ROOM_FINENESS)
        return self._cells(room.places, room.normals, FACE_FINENESS, room.setup) + room.returned(
            lit.reshape(len(patches.middle), COARSE**2, -1)
        )

    def even(self, room: _Room) -> FloatArray:
        """Rows of a pane that shines alike all over, for 1 cd/m2 of it, shape (R,)."""
        source = AreaSource("", self.pane, 1.0, 6500)
        lit = room.enclosure.shone_lx(source)[..., None]
        direct = source.illuminance_lx(room.places, room.normals, FACE_FINENESS)
        if wears_brim(room.setup):
            direct[:6] *= past_brim(room.setup, source, room.places[:6], room.normals[:6])
        return np.asarray(direct + room.returned(lit)[:, 0])

    def outside_cells(self) -> FloatArray:
        """What each cell sends through the pane, per cd/m2, shape (GROUND + 1,) [lm/m2]."""
        rays, weights = hemisphere(self.pane)
        return np.asarray(np.bincount(cell_of(rays, -self.pane.normal, self.obstruction_deg), weights * self.through, GROUND + 1), float)

    def _cells(self, places: FloatArray, normals: FloatArray, fineness: int, wearer: Setup | None = None) -> FloatArray:
        """What each cell gives small surfaces directly, per cd/m2, shape (N, GROUND + 1); the first six may be under a wearer's brim."""
        spots, patch_m2 = AreaSource("", self.pane, 1.0, 6500).patches(fineness)
        beyond = spots[None] - places[:, None]
        squared = np.maximum(np.einsum("npi,npi->np", beyond, beyond), patch_m2 / math.pi)
        before = np.maximum((places - self.pane.middle) @ self.pane.normal, 0.0)[:, None]
        arriving = np.maximum(np.einsum("npi,ni->np", beyond, normals), 0.0)
        rays = beyond / np.sqrt(squared)[..., None]
        met = cell_of(rays, -self.pane.normal, self.obstruction_deg)
        weights = before * arriving / squared**2 * patch_m2 * self.through
        if wearer is not None and wears_brim(wearer):
            weights[:6] *= passes_brim(scene_of(wearer).face, wearer.presenter.brim_m, places[:6], rays[:6])
        at = met + (GROUND + 1) * np.arange(len(places))[:, None]
        cells = np.bincount(at.ravel(), weights.ravel(), len(places) * (GROUND + 1))
        return np.asarray(cells, float).reshape(len(places), GROUND + 1)


def ground_cd_m2(horizontal_lx: FloatArray, sun_lx: FloatArray, sun_deg: FloatArray) -> FloatArray:
    """Luminance of the ground under skies and suns, shape (T,) [cd/m2]."""
    return np.asarray(GROUND_REFLECTANCE * (horizontal_lx + sun_lx * np.sin(np.radians(np.maximum(sun_deg, 0)))) / math.pi)
