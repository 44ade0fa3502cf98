"""Light that walls, floor, ceiling and boards throw back and forth: radiosity of diffuse patches (docs/method/light.md).

B = rho (E + F B), solved once for a room and its boards; a lamp that moves is a product with the solution. What a surface sends of the light that
falls straight on it is taken from the fine grid on which it is lit, the further bounces from whole patches.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Room
from uphill_lamp.core.field.light.boards import WITHIN as BOARD_WITHIN
from uphill_lamp.core.field.light.boards import Board, Boards, board_of, visible
from uphill_lamp.core.field.light.exchange import WITHIN, Exchange, exchange_of
from uphill_lamp.core.field.light.landing import landed_lx
from uphill_lamp.core.field.light.patches import FINE, SURFACES, Patches, patches_of
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.view import surface_reflectance

MOST_KEPT, MOST_BROUGHT = 96, 384
LEAST_SEEN = 0.05  # of the half space before a surface: with less in view it lies in or beyond a wall
Opening = tuple[str, float, float, float, float]  # wall, middle along it, sill, width, height [m]


@dataclass(frozen=True, eq=False, slots=True)
class Landed:
    """A source's light in a room [lx for a strength of 1]: straight on the fine grid (P, FINE^2) and on the boards' cells (E - P,), what all elements get
    of it by way of others (E,), and what they send out of both (E,) [lm/m2]."""

    room: FloatArray
    boards: FloatArray
    returned: FloatArray
    sent: FloatArray


@dataclass(frozen=True, eq=False)
class Enclosure:
    """A room with boards in it, solved: E elements are the room's P patches, then of each board the cells of its top and of its underside.

    ``reflectance`` (E,).
    """

    patches: Patches
    boards: Boards
    reflectance: FloatArray
    exchange: Exchange
    _landed: LockedLru[bytes, Landed] = field(default_factory=lambda: LockedLru(MOST_KEPT))
    _brought: LockedLru[tuple[Any, ...], FloatArray] = field(default_factory=lambda: LockedLru(MOST_BROUGHT))

    @cached_property
    def solution(self) -> FloatArray:
        """What an element sends out for light on each, shape (E, E)."""
        whole = np.eye(len(self.reflectance)) - self.reflectance[:, None] * self.exchange.sees
        return np.asarray(np.linalg.inv(whole) * self.reflectance)

    def sent(self, lit_lx: FloatArray) -> FloatArray:
        """Radiant exitance of the elements for direct light on whole ones, shape (E,) or (E, K), all bounces [lm/m2]."""
        return np.asarray(self.solution @ lit_lx)

    @property
    def on_boards(self) -> slice:
        """The boards' cells among the elements."""
        return slice(len(self.patches.middle), len(self.reflectance))

    def landed(self, source: Source) -> Landed:
        """A source's light for a strength of 1; kept until others push it out."""
        return self._landed.get_or_compute(source.shape, lambda: self._landed_of(source.unit))

    def _landed_of(self, source: Source) -> Landed:
        room, boards = landed_lx(source, self.patches, self.boards)
        returned = self.returned_lx(room[None], boards[None])[:, 0]
        return Landed(room, boards, returned, self.reflectance * (np.concatenate([room.mean(axis=1), boards]) + returned))

    def brought(self, source: Source, where: tuple[Any, ...], work: Callable[[Source], FloatArray]) -> FloatArray:
        """What a source brings somewhere in this room: worked out for a strength of 1, kept by ``where``, and times its strength."""
        return self._brought.get_or_compute((source.shape, *where), lambda: work(source.unit)) * source.strength

    def cells_sent_of(self, source: Source) -> FloatArray:
        """What each of the C cells sends out of a source's light, shape (C,) [lm/m2]."""
        landed = self.landed(source)
        return self.brought(source, ("cells",), lambda unit: self.cells_sent(landed.room[None], landed.sent[:, None])[:, 0])

    def returned_lx(self, lit_lx: FloatArray, boards_lx: FloatArray) -> FloatArray:
        """Reflected light on all elements for what falls straight on the room's fine grid and on the boards' cells.

        Args:
            lit_lx: shape (K, P, FINE^2) [lx].
            boards_lx: shape (K, E - P) [lx].

        Returns:
            shape (E, K) [lx].
        """
        once = self._once_returned_lx(lit_lx, boards_lx)
        return np.asarray(once + self.exchange.sees @ self.sent(once))

    def _once_returned_lx(self, lit_lx: FloatArray, boards_lx: FloatArray) -> FloatArray:
        """Light on all elements after the first bounce, shape (E, K) [lx]."""
        sent = (self._in_cells(lit_lx) * self.reflectance[: len(self.patches.middle), None]).reshape(len(lit_lx), -1)
        both = np.concatenate([sent, boards_lx * self.reflectance[self.on_boards]], axis=1)
        return np.asarray(self.exchange.first @ both.T.astype(np.float32), float)

    def _in_cells(self, lit_lx: FloatArray) -> FloatArray:
        """The fine grid's light in cells, shape (K, P, FINE^2) -> (K, P, WITHIN^2) [lx]."""
        within, count = FINE // WITHIN, len(self.patches.middle)
        return np.asarray(
            lit_lx.reshape(-1, count, WITHIN, within, WITHIN, within).mean(axis=(3, 5)).reshape(len(lit_lx), count, WITHIN**2)
        )

    def bounced_lx(self, lit_lx: FloatArray, sent: FloatArray, seen: FloatArray, boards_seen: FloatArray) -> FloatArray:
        """Reflected light on small surfaces, shape (N,) [lx].

        Args:
            lit_lx: direct light on the fine grid, shape (P, FINE^2) [lx].
            sent: what all elements send, shape (E,) [lm/m2].
            seen: ``patches.seen_from`` of the surfaces, shape (N, P, FINE^2), without what boards hide.
            boards_seen: how they see the boards' cells, shape (N, E - P).
        """
        count, reflectance = len(self.patches.middle), self.reflectance[: len(self.patches.middle)]
        further = sent[:count] - reflectance * lit_lx.mean(axis=1)
        first = seen.reshape(len(seen), -1) @ (lit_lx * reflectance[:, None]).ravel()
        return np.asarray(first + seen.sum(axis=2) @ further + boards_seen @ sent[count:])

    def cells_sent(self, lit_lx: FloatArray, sent: FloatArray) -> FloatArray:
        """What each of the C cells sends out, those of the room's patches and then of the boards, shape (C, K) [lm/m2].

        Args:
            lit_lx: direct light on the fine grid, shape (K, P, FINE^2) [lx].
            sent: what the elements send, shape (E, K) [lm/m2].
        """
        count, straight = len(self.patches.middle), self._in_cells(lit_lx) * self.reflectance[: len(self.patches.middle), None]
        further = sent[:count].T - straight.mean(axis=2)
        room = (straight + further[:, :, None]).reshape(len(lit_lx), count * WITHIN**2)
        return np.asarray(np.concatenate([room, sent[count:].T], axis=1).T.astype(np.float32))

    def seen_from(self, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Form factor of each cell from small surfaces past the boards, shapes (N, 3) [m] and (N, 3) -> (N, C) [no unit].

        Rows are brought to 1, for there is nothing else to be seen: close to a wall cells are too large to be summed as they are.
        """
        spots = self.patches.places(WITHIN).reshape(-1, 3)
        room = self.patches.seen_from(places, normals, WITHIN, exact=False).reshape(len(places), -1)
        free = visible(self.boards, places, spots)
        seen = np.concatenate([room if free is None else room * free, self.boards_seen(places, normals)], axis=1)
        return np.asarray(seen / np.maximum(seen.sum(axis=1, keepdims=True), LEAST_SEEN))

    def boards_seen(self, places: FloatArray, normals: FloatArray, within: int = BOARD_WITHIN) -> FloatArray:
        """Form factors of the boards' cells from small surfaces, shapes (N, 3) -> (N, E - P); of a board another hides, all the same."""
        rows = [
            board.seen_from(places, normals, within, exact=False) * np.tile(board.inside(self.patches.size), 2) for board in self.boards
        ]
        return (np.concatenate(rows, axis=1) if rows else np.zeros((len(places), 0))).astype(np.float32)

    def roughly_seen_from(self, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Form factors of whole elements, shape (N, E): for many places, each element taken at its middle."""
        room = self.patches.seen_from(places, normals, 1, exact=False)[:, :, 0]
        free = visible(self.boards, places, self.patches.middle)
        seen = np.concatenate([room, self.boards_seen(places, normals, 1)], axis=1)
        if free is not None:
            seen[:, : room.shape[1]] *= free
        seen /= np.maximum(seen.sum(axis=1, keepdims=True), LEAST_SEEN)
        return np.asarray(seen)


def enclosure_of(setup: Setup) -> Enclosure:
    """The room of a setup with its desk."""
    return solved(setup.room, (board_of(setup.desk),))


def solved(room: Room, boards: Boards = ()) -> Enclosure:
    """A room's enclosure, solved once for its size, surfaces, windows, doors and boards. Panes send nothing back, and nor does a doorway that
    stands open."""
    reflectances = tuple(surface_reflectance(getattr(room.surfaces, name)) for name, _, _ in SURFACES)
    # What hangs before a pane changes nothing here, and must not cost a new solution.
    openings = tuple((pane.wall, pane.centre_m, pane.sill_m, pane.width_m, pane.height_m) for pane in room.windows)
    openings += tuple((door.wall, door.centre_m, 0.0, door.width_m, door.height_m) for door in room.doors if door.stands_open)
    key = (
        room.width_m,
        room.depth_m,
        room.height_m,
        reflectances,
        openings,
        *((*board.key, board.reflectance, board.underside) for board in boards),
    )
    return _enclosures.get_or_compute(key, lambda: _enclosure((room.width_m, room.depth_m, room.height_m), reflectances, openings, boards))


MOST_ENCLOSURES, MOST_BYTES = 16, 150_000_000
_enclosures: LockedLru[tuple[Any, ...], Enclosure] = LockedLru(MOST_ENCLOSURES, MOST_BYTES, lambda made: 3 * made.exchange.sees.nbytes)
_exchanges: LockedLru[tuple[Any, ...], Exchange] = LockedLru(MOST_ENCLOSURES, MOST_BYTES, lambda made: made.first.nbytes + made.sees.nbytes)


def _enclosure(
    size_m: tuple[float, float, float], reflectances: tuple[float, ...], openings: tuple[Opening, ...], boards: Boards
) -> Enclosure:
    patches = patches_of(*size_m)
    exchange = _exchanges.get_or_compute((size_m, *(board.key for board in boards)), lambda: exchange_of(patches, boards))
    reflectance = np.minimum(np.array(reflectances)[patches.surface], 0.98)
    for opening in openings:
        reflectance *= 1 - _covered(patches, *opening)
    sides = [_sides(board, patches) for board in boards]
    reflectance = np.concatenate([reflectance, *sides])
    return Enclosure(patches, boards, reflectance, exchange)


def _sides(board: Board, patches: Patches) -> FloatArray:
    """Reflectances of the cells of a board's two sides; nothing comes back of what lies beyond the walls."""
    return np.repeat(np.minimum([board.reflectance, board.underside], 0.98), len(board.cells)) * np.tile(board.inside(patches.size), 2)


def _covered(patches: Patches, wall: str, centre_m: float, sill_m: float, width_m: float, height_m: float) -> FloatArray:
    """Share of each patch that a pane covers, shape (P,) [no unit]."""
    axis, end, _ = WALLS[wall]
    along = 1 - axis
    high = patches.low + patches.side_a + patches.side_b

    def overlap(which: int, low_m: float, high_m: float) -> FloatArray:
        return np.maximum(np.minimum(high[:, which], high_m) - np.maximum(patches.low[:, which], low_m), 0.0)

    wide = overlap(along, centre_m - width_m / 2, centre_m + width_m / 2)
    tall = overlap(2, sill_m, sill_m + height_m)
    here = np.array([(a, e) == (axis, end) for _, a, e in SURFACES])[patches.surface]
    return np.where(here, wide * tall / patches.area_m2, 0.0)


def even_share_per_lm(room: Room) -> float:
    """Illuminance everywhere from reflected light per lumen let into the room [lx/lm]: rho/(S (1 - rho)), the area-weighted mean.

    A first estimate, good enough to rank the places that a lamp might take before each is worked out.
    """
    w, d, h = room.width_m, room.depth_m, room.height_m
    areas = {"floor": w * d, "ceiling": w * d, "wall_x0": d * h, "wall_x1": d * h, "wall_y0": w * h, "wall_y1": w * h}
    total = sum(areas.values())
    mean = sum(area * surface_reflectance(getattr(room.surfaces, name)) for name, area in areas.items()) / total
    return mean / (total * (1 - min(mean, 0.98)))
