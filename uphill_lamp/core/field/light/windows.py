"""Windows as sources: sky and ground through clear panes, panes that glow behind a cloth, the sun's beam; and all sources of a setup."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Room, Window
from uphill_lamp.core.field.light.boards import Boards
from uphill_lamp.core.field.light.daylight import SUN_CCT_K, Sky, sky_over
from uphill_lamp.core.field.light.sources import AreaSource, PointSource, Shining, lamp_source, screen_source
from uphill_lamp.core.scene.placing import Pane, window_pane
from uphill_lamp.core.scene.vectors import Vector

RINGS, SECTORS = 24, 48


def hemisphere(pane: Pane) -> tuple[FloatArray, FloatArray]:
    """Directions out of a pane, shape (N, 3), and what each counts in what falls on it: cosine times solid angle, (N,) [sr]."""
    tilt = (np.arange(RINGS) + 0.5) / RINGS * math.pi / 2
    turn = (np.arange(SECTORS) + 0.5) / SECTORS * 2 * math.pi
    off, around = (angles.reshape(-1, 1) for angles in np.meshgrid(tilt, turn, indexing="ij"))
    rays = -np.cos(off) * pane.normal + np.sin(off) * (np.cos(around) * pane.right + np.sin(around) * pane.up)
    return rays, (np.cos(off) * np.sin(off) * (math.pi / 2 / RINGS) * (2 * math.pi / SECTORS))[:, 0]


def open_sky(pane: Pane, places: FloatArray, spots: FloatArray, high_m: float, obstruction_deg: float) -> tuple[FloatArray, FloatArray]:
    """How much of each patch of a pane shows sky, seen from places, and where.

    The horizon and the top of what stands outside, a long row parallel to the wall, are level lines on the pane: a patch that one of them
    crosses shows sky above it alone.

    Args:
        places, spots: where it is seen from (N, 3), middles of the patches (K, 3) [m].
        high_m: height of a patch [m].

    Returns:
        shares, shape (N, K) 0-1, and unit directions to the middle of what shows sky, (N, K, 3).
    """
    before = np.maximum((places - pane.middle) @ pane.normal, 0.0)
    line = (places[:, 2] + before * math.tan(math.radians(min(obstruction_deg, 89.9))))[:, None]
    foot, top = spots[:, 2] - high_m / 2, spots[:, 2] + high_m / 2
    share = np.clip((top - line) / high_m, 0.0, 1.0)
    rays = spots[None] - places[:, None]
    rays[..., 2] = (top + np.clip(line, foot, top)) / 2 - places[:, 2:]
    return share, rays / np.maximum(np.sqrt(np.einsum("npi,npi->np", rays, rays)), 1e-9)[..., None]


@dataclass(frozen=True)
class ClearWindow(AreaSource):
    """A clear pane: each place sees sky, ground or what stands outside in its own direction. ``through`` 0-1 [no unit]."""

    strong_by = "through"
    sky: Sky = field(kw_only=True)
    through: float = field(kw_only=True)
    obstruction_deg: float = field(kw_only=True)

    def _shape(self) -> bytes:
        sky = self.sky
        figures = [
            *sky.towards_sun,
            sky.horizontal_lx,
            sky.sun_lx,
            sky.scale_cd_m2,
            *sky.kind.gradation,
            *sky.kind.indicatrix,
            self.obstruction_deg,
        ]
        return super()._shape() + np.array(figures).tobytes()

    def seen_cd_m2(self, rays: FloatArray) -> FloatArray:
        """Luminance of what is seen through it along unit directions, shape (..., 3) -> (...) [cd/m2]."""
        out = np.maximum(-(rays @ self.pane.normal), 1e-9)  # what stands outside is a long row parallel to the wall
        open_sky = (rays[..., 2] > math.tan(math.radians(min(self.obstruction_deg, 89.9))) * out) & (rays[..., 2] > 0)
        seen = np.full(rays.shape[:-1], self.sky.ground_cd_m2)
        seen[open_sky] = self.sky.luminance_cd_m2(rays[open_sky])
        return seen * self.through

    def _summed_lx(self, places: FloatArray, normals: FloatArray, fineness: int, boards: Boards) -> FloatArray:
        spots, patch_m2 = self.patches(fineness)
        share = self._shares(places, normals, spots, patch_m2, boards)
        out, some = np.zeros(len(places)), np.flatnonzero(share.any(axis=1))
        open_share, rays = open_sky(self.pane, places[some], spots, self.pane.height_m / fineness, self.obstruction_deg)
        seen = open_share * self.sky.luminance_cd_m2(rays) + (1 - open_share) * self.sky.ground_cd_m2
        out[some] = self.through * (seen * share[some]).sum(axis=1) * patch_m2
        return out

    @property
    def outside_lx(self) -> float:
        """What falls on the pane from sky and ground, glass and covering taken in [lx]."""
        rays, weights = hemisphere(self.pane)
        return float(self.seen_cd_m2(rays) @ weights)

    @property
    def flux_lm(self) -> float:
        """Flux into the room, the sun's beam apart [lm]."""
        return self.outside_lx * self.pane.width_m * self.pane.height_m


@dataclass(frozen=True)
class SunBeam(Shining):
    """The sun through a clear pane: parallel light on whatever sees it through the opening. ``level_lx`` on a surface that faces it."""

    strong_by = "level_lx"
    id: str
    pane: Pane
    towards: Vector
    level_lx: float
    cct_k: float = SUN_CCT_K
    duv: float = 0.0
    hue_deg: float | None = None

    @property
    def place(self) -> Vector:
        return self.pane.middle

    def _shape(self) -> bytes:
        pane = self.pane
        return np.array([*pane.middle, *pane.normal, pane.width_m, pane.height_m, *self.towards]).tobytes()

    @property
    def flux_lm(self) -> float:
        """Flux into the room [lm]."""
        return self.level_lx * max(-float(self.towards @ self.pane.normal), 0.0) * self.pane.width_m * self.pane.height_m

    def reaches(self, places: FloatArray) -> FloatArray:
        """Which places see the sun through the pane, shape (N, 3) -> (N,)."""
        facing = float(self.towards @ self.pane.normal)
        if facing > -1e-6:
            return np.zeros(len(places), dtype=bool)
        reach = ((self.pane.middle - places) @ self.pane.normal) / facing
        on = places + reach[:, None] * self.towards - self.pane.middle
        return np.asarray(
            (reach > 0) & (np.abs(on @ self.pane.right) < self.pane.width_m / 2) & (np.abs(on @ self.pane.up) < self.pane.height_m / 2)
        )

    def patch_at(self, height_m: float) -> FloatArray | None:
        """Corners of where the beam crosses a level plane, shape (4, 3) [m]; None where the pane ends below it."""
        pane = self.pane
        corners = np.array([pane.at(0, 1), pane.at(1, 1), pane.at(1, 0), pane.at(0, 0)])
        if corners[2, 2] <= height_m:
            return None
        above = np.maximum(corners[:, 2] - height_m, 0.0)
        spots = corners - above[:, None] / self.towards[2] * self.towards
        spots[:, 2] = height_m
        return np.asarray(spots)

    def illuminance_lx(self, places: FloatArray, normals: FloatArray, _fineness: int = 1, boards: Boards = ()) -> FloatArray:
        """Direct illuminance on small surfaces past boards, shapes (N, 3) -> (N,) [lx]."""
        reached = np.asarray(self.reaches(places), bool)
        for board in boards:
            reached = reached & ~board.shades(places, self.towards)
        return np.asarray(reached * np.maximum(normals @ self.towards, 0.0) * self.level_lx)


Source = PointSource | AreaSource | SunBeam


def window_sources(room: Room, window: Window, sky: Sky | None) -> tuple[Source, ...]:
    """A window as sources; nothing in the night or behind a blackout.

    A covering that diffuses makes the whole pane shine alike with what falls on it from outside, the sun included.
    """
    through = window.glass_transmittance * window.covering.transmittance
    if sky is None or through <= 0:
        return ()
    pane = window_pane(room, window)
    clear = ClearWindow(window.id, pane, 0.0, sky.kind.cct_k, sky=sky, through=through, obstruction_deg=window.obstruction_deg)
    beam = SunBeam(f"{window.id}/sun", pane, sky.towards_sun, sky.sun_lx * through)
    out = max(-float(sky.towards_sun @ pane.normal), 0.0)
    if out <= 0 or sky.towards_sun[2] <= math.tan(math.radians(min(window.obstruction_deg, 89.9))) * out:
        beam = SunBeam(beam.id, pane, sky.towards_sun, 0.0)  # the wall or what stands outside is in the way
    if not window.covering.diffuses:
        return (clear, beam) if beam.level_lx > 0 else (clear,)
    area = pane.width_m * pane.height_m
    return (AreaSource(window.id, pane, (clear.flux_lm + beam.flux_lm) / (math.pi * area), clear.cct_k),)


def sun_is_out(setup: Setup) -> bool:
    """Whether the sun shines outside a room that has windows."""
    sky = sky_over(setup.place, setup.room.north_bearing_deg) if setup.room.windows else None
    return sky is not None and sky.sun_lx > 0


def sources_of(setup: Setup) -> tuple[Source, ...]:
    """All that shines in a setup: lamps, screens, windows, the sun."""
    sources: list[Source | None] = [*(lamp_source(light) for light in setup.lights), *(screen_source(screen) for screen in setup.screens)]
    sky = sky_over(setup.place, setup.room.north_bearing_deg) if setup.room.windows else None
    for window in setup.room.windows:
        sources += window_sources(setup.room, window, sky)
    return tuple(source for source in sources if source is not None)
