"""Where the light of a source lands first: on the cells of the room's patches and of boards, with their shadows; what it gives is what lands."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.boards import CELLS, WITHIN, Board, Boards
from uphill_lamp.core.field.light.patches import COARSE, FINE, Patches
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.vectors import Vector

OFF_WALL_M = 1e-6
EDGE = 4  # a cell that a beam's edge crosses is looked at EDGE x EDGE places
MOST_OFF = 1.4  # what lands is brought to what is given, unless it is off by more: then some of it shines beyond the walls
AREA_FINENESS = 4
MOST_OPEN = 96

_open: LockedLru[tuple[Any, ...], FloatArray] = LockedLru(MOST_OPEN)  # what small sources throw on rooms without boards


def landed_lx(source: Source, patches: Patches, boards: Boards) -> tuple[FloatArray, FloatArray]:
    """What a source throws straight on the fine cells of a room (P, FINE^2), and on the cells of all boards (B,) [lx]."""
    room: FloatArray
    if isinstance(source, PointSource):
        open_room = _open.get_or_compute((source.shape, *patches.size.tolist()), lambda: _by_solid_angle(source.unit, patches))
        room = np.asarray(open_room * (_unhidden(source.place, patches, boards) * source.strength))
        on_boards = [_board_by_solid_angle(source, board) for board in boards]
    else:
        room = _by_places(source, patches, boards)
        on_boards = [_board_by_places(source, board, boards) for board in boards]
    on_boards = [lit * np.tile(board.inside(patches.size), 2) for lit, board in zip(on_boards, boards, strict=True)]
    caught_lm = float(patches.area_m2 @ room.mean(axis=1)) + sum(
        float(lit.sum()) * board.cell_m2 for lit, board in zip(on_boards, boards, strict=True)
    )
    given_lm = source.flux_lm
    if caught_lm > 0 and 1 / MOST_OFF < given_lm / caught_lm < MOST_OFF:
        room = room * (given_lm / caught_lm)
        on_boards = [lit * (given_lm / caught_lm) for lit in on_boards]
    return room, np.concatenate(on_boards) if on_boards else np.zeros(0)


def _unhidden(place: Vector, patches: Patches, boards: Boards) -> FloatArray:
    free = np.ones(len(patches.middle) * FINE**2)
    for board in boards:
        free *= ~board.between(place[None], patches.places(FINE).reshape(-1, 3))[0]
    return free.reshape(-1, FINE**2)


def _by_places(source: AreaSource | SunBeam, patches: Patches, boards: Boards) -> FloatArray:
    sharp = isinstance(source, SunBeam)
    places = patches.places(FINE if sharp else COARSE)
    count = places.shape[1]
    normals = np.repeat(patches.normal, count, axis=0)
    levels = source.illuminance_lx(places.reshape(-1, 3) + OFF_WALL_M * normals, normals, AREA_FINENESS, boards).reshape(-1, count)
    if sharp:
        return levels
    cells, times = levels.reshape(-1, COARSE, COARSE), FINE // COARSE
    return np.asarray(cells.repeat(times, axis=1).repeat(times, axis=2).reshape(-1, FINE**2))


def _board_by_places(source: AreaSource | SunBeam, board: Board, boards: Boards) -> FloatArray:
    places, normals = board.lit_places()
    levels = source.illuminance_lx(places, normals, AREA_FINENESS, tuple(other for other in boards if other is not board))
    return np.asarray(levels.reshape(-1, WITHIN**2).mean(axis=1))


def _by_solid_angle(source: PointSource, patches: Patches) -> FloatArray:
    """Level of each fine cell: the intensity towards its middle times the solid angle it fills, over its area; exact for an even source."""
    levels = np.empty((len(patches.middle), FINE**2))
    for grid in patches.grids:
        rows, columns = grid.counts[0] * FINE, grid.counts[1] * FINE
        origin, along, across, inward = np.zeros(3), np.zeros(3), np.zeros(3), np.zeros(3)
        origin[grid.axis] = patches.size[grid.axis] * grid.end
        along[grid.axes[0]], across[grid.axes[1]], inward[grid.axis] = (
            patches.size[grid.axes[0]],
            patches.size[grid.axes[1]],
            1 - 2 * grid.end,
        )
        cells = _rectangle_lx(source, origin, along, across, inward, rows, columns)
        cells = cells.reshape(grid.counts[0], FINE, grid.counts[1], FINE).transpose(0, 2, 1, 3)
        levels[grid.first : grid.first + grid.counts[0] * grid.counts[1]] = cells.reshape(-1, FINE**2)
    return levels


def _board_by_solid_angle(source: PointSource, board: Board) -> FloatArray:
    pane, (rows, columns) = board.pane, (CELLS[0] * WITHIN, CELLS[1] * WITHIN)
    corner = pane.middle - pane.width_m / 2 * pane.right - pane.height_m / 2 * pane.up
    sides = [
        _rectangle_lx(source, corner, pane.width_m * pane.right, pane.height_m * pane.up, normal, rows, columns)
        for normal in (pane.normal, -pane.normal)
    ]
    return np.concatenate([side.reshape(CELLS[0], WITHIN, CELLS[1], WITHIN).mean(axis=(1, 3)).ravel() for side in sides])


def _rectangle_lx(
    source: PointSource, origin: Vector, along: Vector, across: Vector, normal: Vector, rows: int, columns: int
) -> FloatArray:
    """Level of the cells of a rectangle on the side of its normal, shape (rows, columns) [lx]; its sides stand square to each other."""
    long_m, wide_m = float(np.linalg.norm(along)), float(np.linalg.norm(across))
    beyond, off_m = source.place - origin, float((source.place - origin) @ normal)
    if off_m <= 1e-9:
        return np.zeros((rows, columns))
    u = np.linspace(0, long_m, rows + 1) - float(beyond @ along) / long_m
    v = np.linspace(0, wide_m, columns + 1) - float(beyond @ across) / wide_m
    corners = np.arctan2(u[:, None] * v, off_m * np.sqrt(u[:, None] ** 2 + v**2 + off_m**2))
    angle = corners[1:, 1:] - corners[:-1, 1:] - corners[1:, :-1] + corners[:-1, :-1]
    return np.asarray(
        _intensity_cd(source, u, v, off_m, (along / long_m, across / wide_m, normal)) * angle * (rows * columns / (long_m * wide_m))
    )


def _intensity_cd(source: PointSource, u: FloatArray, v: FloatArray, off_m: float, axes: tuple[Vector, ...]) -> FloatArray | float:
    """What a source sends towards each cell between edges at u and v of it on a plane so far below [cd]."""
    if source.photometry is None and source.beam_deg >= 360:
        return source.flux_lm / (4 * math.pi)
    middle_u, middle_v = (u[1:] + u[:-1]) / 2, (v[1:] + v[:-1]) / 2
    if source.photometry is None:
        return _edged(source, u, v, middle_u, middle_v, off_m, axes)
    return source.intensity_cd(_rays(middle_u[:, None], middle_v[None], off_m, axes))


def _rays(u: FloatArray, v: FloatArray, off_m: float, axes: tuple[Vector, ...]) -> FloatArray:
    """Unit directions from a source to places at u and v of it on a plane so far below, shape (..., 3)."""
    rays = u[..., None] * axes[0] + v[..., None] * axes[1] - off_m * axes[2]
    return np.asarray(rays / np.sqrt(u * u + v * v + off_m**2)[..., None])


def _edged(
    source: PointSource, u: FloatArray, v: FloatArray, middle_u: FloatArray, middle_v: FloatArray, off_m: float, axes: tuple[Vector, ...]
) -> FloatArray:
    """A beam's: cells that its edge crosses get the share of them that lies within."""
    edge = math.cos(math.radians(source.beam_deg) / 2)
    peak = source.flux_lm / (2 * math.pi * (1 - edge))
    aim = tuple(float(source.aim @ axis) for axis in axes)

    def within(x: FloatArray, y: FloatArray) -> NDArray[np.bool_]:
        return np.asarray(x * aim[0] + y * aim[1] - off_m * aim[2] >= edge * np.sqrt(x * x + y * y + off_m * off_m))

    lit, at_corners = within(middle_u[:, None], middle_v[None]), within(u[:, None], v[None])
    corners = at_corners[1:, 1:].astype(np.int8) + at_corners[:-1, 1:] + at_corners[1:, :-1] + at_corners[:-1, :-1]
    mixed = ((corners > 0) & (corners < 4)) | ((corners == 0) & lit) | ((corners == 4) & ~lit)
    # A small spot may lie between all corners and the middle: the cell that the aim meets is looked at closely, too.
    if aim[2] < -1e-9:
        row, column = np.searchsorted(u, -aim[0] * off_m / aim[2]) - 1, np.searchsorted(v, -aim[1] * off_m / aim[2]) - 1
        if 0 <= row < len(u) - 1 and 0 <= column < len(v) - 1:
            mixed[row, column] = True
    share = lit.astype(float)
    at, beside = np.nonzero(mixed)
    steps = (np.arange(EDGE) + 0.5) / EDGE
    fine_u = u[at, None] + steps * (u[at + 1] - u[at])[:, None]
    fine_v = v[beside, None] + steps * (v[beside + 1] - v[beside])[:, None]
    share[at, beside] = within(fine_u[:, :, None], fine_v[:, None, :]).mean(axis=(1, 2))
    return np.asarray(peak * share)
