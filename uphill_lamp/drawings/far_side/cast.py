"""What each sample of the picture meets of the room and the things in it, the presenter and the lamps apart; compiled."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Pane, reflector_pane, room_size, screen_pane, window_pane
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.drawings.far_side.paint import CUT_OUT, painted
from uphill_lamp.drawings.figure.compiled import compiled
from uphill_lamp.drawings.figure.shadows import spread

FloatArray = NDArray[np.floating[Any]]
SURFACES = ("wall_x0", "wall_x1", "wall_y0", "wall_y1", "floor", "ceiling")  # two to an axis, the one at nought first
ON_SCREEN_M = 0.05  # a lens this little behind a screen sits on it
IN_WALL_M = 1e-3  # a pane lies in its wall: it comes before the wall by this


@dataclass(frozen=True)
class Flat:
    """A rectangle that samples can meet. ``kind``: window, backdrop, screen, back (of a screen), reflector; ``name`` its id."""

    kind: str
    name: str
    pane: Pane


@dataclass(frozen=True, eq=False)
class Cast:
    """What samples meet, row by row: ``what`` indexes SURFACES and then the flats; ``reach`` along the ray [m]; ``across`` and
    ``down`` 0-1 on a flat as its viewer sees it; ``rays`` unit directions. Shapes (rows, columns) and (rows, columns, 3)."""

    flats: tuple[Flat, ...]
    what: NDArray[np.int16]
    reach: FloatArray
    across: FloatArray
    down: FloatArray
    rays: FloatArray


def flats_of(setup: Setup, lens: Vector) -> tuple[Flat, ...]:
    """All rectangles of a setup that a lens at a place [m] may see. A lens on a screen looks past it, not at its back."""
    found = [Flat("window", window.id, window_pane(setup.room, window)) for window in setup.room.windows]
    found += [Flat("backdrop", name, pane) for name, pane in backdrop_panes(setup)]
    for screen in setup.screens:
        pane = screen_pane(screen)
        found.append(Flat("screen", screen.id, pane))
        if float((pane.middle - lens) @ pane.normal) > ON_SCREEN_M:
            found.append(Flat("back", screen.id, _behind(pane)))
    return (*found, *(Flat("reflector", sheet.id, reflector_pane(sheet)) for sheet in setup.reflectors))


def _behind(pane: Pane) -> Pane:
    """A rectangle's other side."""
    return Pane(pane.middle, -pane.normal, -pane.right, pane.up, pane.width_m, pane.height_m)


def cast(setup: Setup, pinhole: Pinhole, columns: int, rows: int) -> Cast:
    """Casts the samples of a picture, shape (rows, columns)."""
    flats = flats_of(setup, pinhole.place)
    cut = {thing.id: thing for thing in setup.backdrop if thing.kind in CUT_OUT}
    firm = [index for index, flat in enumerate(flats) if not (flat.kind == "backdrop" and flat.name in cut)]
    field = pinhole.field
    lens = np.stack([pinhole.forward, pinhole.right * field.half_width, pinhole.up * field.half_height, pinhole.place]).astype(np.float32)
    shape = rows, columns
    met = Cast(
        flats, np.empty(shape, np.int16), np.empty(shape, np.float32), np.full(shape, np.nan, np.float32),
        np.full(shape, np.nan, np.float32), np.empty((*shape, 3), np.float32),
    )  # fmt: skip
    size = np.array(room_size(setup.room), np.float32)

    def some(which: list[int]) -> tuple[FloatArray, NDArray[np.int16]]:
        table = np.array([_row(flats[index]) for index in which], np.float32).reshape(-1, 15)
        return table, np.array(which, np.int16) + np.int16(len(SURFACES))

    table, numbers = some(firm)

    def work(begin: int, end: int) -> None:
        meet_room(lens, size, begin, end, met.what, met.reach, met.rays)
        meet_flats(lens, table, numbers, begin, end, met.rays, met.what, met.reach, met.across, met.down)

    spread(work, rows)
    for index, flat in enumerate(flats):
        if index not in firm:
            table, numbers = some([index])
            what, reach, across, down = met.what.copy(), met.reach.copy(), met.across.copy(), met.down.copy()
            meet_flats(lens, table, numbers, 0, rows, met.rays, what, reach, across, down)
            on = np.flatnonzero(what == numbers[0])
            on = on[painted(cut[flat.name], across.flat[on], down.flat[on])[1]]
            for kept, new in ((met.what, what), (met.reach, reach), (met.across, across), (met.down, down)):
                kept.flat[on] = new.flat[on]
    return met


def _row(flat: Flat) -> FloatArray:
    pane = flat.pane
    slack = IN_WALL_M if flat.kind == "window" else 0.0
    return np.concatenate([pane.middle, pane.normal, pane.right, pane.up, [pane.width_m, pane.height_m, slack]])


@compiled
def meet_room(lens, size, begin, end, what, reach, rays):  # type: ignore[no-untyped-def]
    """Rays of rows ``begin`` to ``end`` and the walls they meet.

    Args:
        lens: forward, right and up over their reach, place, shape (4, 3) float32.
        size: of the room [m], shape (3,) float32.
        what, reach, rays: written to.
    """
    rows, columns = what.shape
    for row in range(begin, end):
        upward = 1 - 2 * (row + np.float32(0.5)) / rows
        for column in range(columns):
            across = 2 * (column + np.float32(0.5)) / columns - 1
            x = lens[0, 0] + across * lens[1, 0] + upward * lens[2, 0]
            y = lens[0, 1] + across * lens[1, 1] + upward * lens[2, 1]
            z = lens[0, 2] + across * lens[1, 2] + upward * lens[2, 2]
            one = 1 / np.sqrt(x * x + y * y + z * z)
            rays[row, column, 0], rays[row, column, 1], rays[row, column, 2] = x * one, y * one, z * one
            best, which = np.float32(1e9), 0
            for axis in range(3):
                going = rays[row, column, axis]
                if abs(going) < 1e-9:
                    continue
                wall = size[axis] if going > 0 else np.float32(0)
                away = (wall - lens[3, axis]) / going
                if away < best:
                    best, which = away, 2 * axis + (1 if going > 0 else 0)
            reach[row, column], what[row, column] = best, which


@compiled
def meet_flats(lens, table, numbers, begin, end, rays, what, reach, across, down):  # type: ignore[no-untyped-def]
    """Rectangles that come before what rows ``begin`` to ``end`` have met so far.

    Args:
        table: middle, normal, right, up, width, height, slack of each, shape (T, 15) float32.
        numbers: what each is called in ``what``, shape (T,) int16.
        lens, rays, what, reach, across, down: as for Cast and ``meet_room``; the last four are written to.
    """
    for t in range(table.shape[0]):
        ox, oy, oz = lens[3, 0] - table[t, 0], lens[3, 1] - table[t, 1], lens[3, 2] - table[t, 2]
        before = ox * table[t, 3] + oy * table[t, 4] + oz * table[t, 5]
        if before <= 0:
            continue
        right = ox * table[t, 6] + oy * table[t, 7] + oz * table[t, 8]
        above = ox * table[t, 9] + oy * table[t, 10] + oz * table[t, 11]
        half_wide, half_high = table[t, 12] / 2, table[t, 13] / 2
        for row in range(begin, end):
            for column in range(what.shape[1]):
                x, y, z = rays[row, column, 0], rays[row, column, 1], rays[row, column, 2]
                facing = x * table[t, 3] + y * table[t, 4] + z * table[t, 5]
                if facing > -1e-9:
                    continue
                away = -before / facing
                if away >= reach[row, column] + table[t, 14]:
                    continue
                u = right + away * (x * table[t, 6] + y * table[t, 7] + z * table[t, 8])
                v = above + away * (x * table[t, 9] + y * table[t, 10] + z * table[t, 11])
                if abs(u) > half_wide or abs(v) > half_high:
                    continue
                reach[row, column], what[row, column] = away, numbers[t]
                across[row, column] = np.float32(0.5) + u / table[t, 12]
                down[row, column] = np.float32(0.5) - v / table[t, 13]
