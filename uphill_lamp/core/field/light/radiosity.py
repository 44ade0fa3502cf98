"""Light that walls, floor and ceiling throw back and forth: radiosity of a box room's diffuse patches (docs/method/light.md).

B = rho (E + F B), solved once for a room; a lamp that moves is a product with the solution. The first bounce is taken from the
fine grid on which each patch is lit, the further ones from whole patches.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import Room
from uphill_lamp.core.field.light.patches import COARSE, FINE, SURFACES, Grid, Patches, patches_of
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source, SunBeam
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.view import surface_reflectance

MOST_KEPT = 96
OFF_WALL_M = 1e-6
Opening = tuple[str, float, float, float, float]  # wall, middle along it, sill, width, height [m]


@dataclass(frozen=True, eq=False)
class Enclosure:
    """A room solved: its patches, their reflectances (P,), and what a patch sends out for light on each, (P, P)."""

    patches: Patches
    reflectance: FloatArray
    solution: FloatArray
    _lit: LockedLru[bytes, FloatArray] = field(default_factory=lambda: LockedLru(MOST_KEPT))

    def lit_lx(self, source: Source) -> FloatArray:
        """What a source throws on the fine grid directly, shape (P, FINE^2) [lx]; kept until others push it out."""
        return self._lit.get_or_compute(source.content, lambda: self.shone_lx(source))

    def shone_lx(self, source: Source) -> FloatArray:
        """The same, worked out anew."""
        patches, sharp = self.patches, not isinstance(source, AreaSource)
        places = patches.places(FINE if sharp else COARSE)
        count = places.shape[1]
        normals = np.repeat(patches.normal, count, axis=0)
        levels = source.illuminance_lx(places.reshape(-1, 3) + OFF_WALL_M * normals, normals, 4).reshape(-1, count)
        if isinstance(source, SunBeam):
            # The edge of a beam falls between the grid's points: what the room gets must still be what the pane lets in.
            caught_lm = float(patches.area_m2 @ levels.mean(axis=1))
            return levels * (source.flux_lm / caught_lm) if caught_lm > 0 else levels
        if sharp:
            return levels
        cells = levels.reshape(-1, COARSE, COARSE)
        times = FINE // COARSE
        return np.asarray(cells.repeat(times, axis=1).repeat(times, axis=2).reshape(-1, FINE**2))

    def sent(self, lit_lx: FloatArray) -> FloatArray:
        """Radiant exitance of the patches for direct light (P,) or (P, K) on them, all bounces [lm/m2]."""
        return np.asarray(self.solution @ lit_lx)

    def bounced_lx(self, lit_lx: FloatArray, seen: FloatArray) -> FloatArray:
        """Reflected light on small surfaces, shape (N,) [lx].

        Args:
            lit_lx: direct light on the fine grid, shape (P, FINE^2) [lx].
            seen: ``patches.seen_from`` of the surfaces, shape (N, P, FINE^2).
        """
        whole = lit_lx.mean(axis=1)
        further = self.sent(whole) - self.reflectance * whole
        first = seen.reshape(len(seen), -1) @ (lit_lx * self.reflectance[:, None]).ravel()
        return np.asarray(first + seen.sum(axis=2) @ further)

    def returned_lx(self, sent: FloatArray) -> FloatArray:
        """Reflected light on the patches themselves for what all send out, shapes (P,) or (P, K) [lx]."""
        return np.asarray(self.patches.sees @ sent)

    def anywhere_lx(self, sent: FloatArray, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Reflected light on small surfaces anywhere: read off the patches on walls, gathered from them elsewhere.

        Args:
            sent: exitance of the patches, shape (P, K) [lm/m2].
            places, normals: shapes (N, 3) [m] and (N, 3).

        Returns:
            shape (N, K) [lx].
        """
        return self.received_lx(sent, self.spots(places, normals))

    def spots(self, places: FloatArray, normals: FloatArray) -> Spots:
        """Small surfaces sorted by the wall they lie on, with what no light changes: shapes (N, 3) [m] and (N, 3)."""
        loose, on_walls = np.ones(len(places), dtype=bool), []
        for grid in self.patches.grids:
            on = (np.abs(places[:, grid.axis] - self.patches.size[grid.axis] * grid.end) < 1e-3) & (
                normals[:, grid.axis] * (1 - 2 * grid.end) > 0.99
            )
            if on.any():
                on_walls.append((np.flatnonzero(on), self._between(grid, places[on])))
                loose &= ~on
        seen = self.patches.seen_from(places[loose], normals[loose], 1)[:, :, 0]
        return Spots(len(places), tuple(on_walls), np.flatnonzero(loose), seen)

    def received_lx(self, sent: FloatArray, spots: Spots) -> FloatArray:
        """Reflected light on spots for what the patches send out, shape (P, K) [lm/m2] -> (N, K) [lx]."""
        out = np.empty((spots.count, sent.shape[1]))
        returned = self.returned_lx(sent)
        for on, between in spots.on_walls:
            out[on] = sum(share[:, None] * returned[patch] for patch, share in between)
        out[spots.loose] = spots.seen @ sent
        return out

    def _between(self, grid: Grid, places: FloatArray) -> tuple[tuple[NDArray[np.int64], FloatArray], ...]:
        """The four patches round each place on a surface and their shares: bilinear between their middles."""
        (rows, columns), size = grid.counts, self.patches.size
        u = np.clip(places[:, grid.axes[0]] / size[grid.axes[0]] * rows - 0.5, 0, rows - 1)
        v = np.clip(places[:, grid.axes[1]] / size[grid.axes[1]] * columns - 0.5, 0, columns - 1)
        i, j = np.minimum(u.astype(int), rows - 2), np.minimum(v.astype(int), columns - 2)
        p, q, at = u - i, v - j, grid.first + i * columns + j
        return (at, (1 - p) * (1 - q)), (at + 1, (1 - p) * q), (at + columns, p * (1 - q)), (at + columns + 1, p * q)


@dataclass(frozen=True, eq=False, slots=True)
class Spots:
    """Small surfaces in a room: for those on walls the patches round them with their shares, for the others how they see each patch."""

    count: int
    on_walls: tuple[tuple[NDArray[np.int64], tuple[tuple[NDArray[np.int64], FloatArray], ...]], ...]
    loose: NDArray[np.int64]
    seen: FloatArray


def enclosure_of(room: Room) -> Enclosure:
    """A room's enclosure, solved once for its size, surfaces, windows and doors. Panes send nothing back, and nor does a doorway that stands open."""
    reflectances = tuple(surface_reflectance(getattr(room.surfaces, name)) for name, _, _ in SURFACES)
    # What hangs before a pane changes nothing here, and must not cost a new solution.
    openings = tuple((pane.wall, pane.centre_m, pane.sill_m, pane.width_m, pane.height_m) for pane in room.windows)
    openings += tuple((door.wall, door.centre_m, 0.0, door.width_m, door.height_m) for door in room.doors if door.stands_open)
    return _enclosure(room.width_m, room.depth_m, room.height_m, reflectances, openings)


@lru_cache(maxsize=12)
def _enclosure(
    width_m: float, depth_m: float, height_m: float, reflectances: tuple[float, ...], openings: tuple[Opening, ...]
) -> Enclosure:
    patches = patches_of(width_m, depth_m, height_m)
    reflectance = np.minimum(np.array(reflectances)[patches.surface], 0.98)
    for opening in openings:
        reflectance *= 1 - _covered(patches, *opening)
    return Enclosure(
        patches, reflectance, np.linalg.solve(np.eye(len(reflectance)) - reflectance[:, None] * patches.sees, np.diag(reflectance))
    )


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
