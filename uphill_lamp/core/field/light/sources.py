"""Lamps and screens, and what each throws on a place (docs/method/light.md, "Sources"). Boards keep it off what lies behind them; nothing else does."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import ClassVar, Self

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light, Photometry, Screen
from uphill_lamp.core.field.light.boards import Boards, visible
from uphill_lamp.core.field.light.reaching import before_m, squared_m2
from uphill_lamp.core.scene.placing import Pane, facing_pane, screen_pane
from uphill_lamp.core.scene.vectors import Vector, direction, right_of, vector
from uphill_lamp.core.scene.view import LAMP_RADIUS_M, lamp_radius_m

FINER = 3  # as many times patches along a pane's sides where a board's edge lies before it
SHEER_BELOW_M = 0.02  # nearer than this a point source is taken to be this far, so that nothing becomes infinite


@dataclass(frozen=True)
class Shining(ABC):
    """What shines: how strongly, and where its light goes for a strength of 1, which is worked out once however it is dimmed."""

    strong_by: ClassVar[str]  # the field that all its light is proportional to

    @property
    def strength(self) -> float:
        """What all its light is proportional to, in that field's unit."""
        return float(getattr(self, self.strong_by))

    @cached_property
    def unit(self) -> Self:
        """The same of a strength of 1."""
        return self._unit()

    def _unit(self) -> Self:
        return replace(self, **{self.strong_by: 1.0})

    @cached_property
    def shape(self) -> bytes:
        """All that bears on where its light goes, but for its strength, as a key."""
        return self._shape()

    @abstractmethod
    def _shape(self) -> bytes: ...

    @cached_property
    def content(self) -> bytes:
        """All that bears on what it throws where, as a key."""
        return self.shape + np.float64(self.strength).tobytes()


@dataclass(frozen=True)
class PointSource(Shining):
    """A lamp small against its distance: intensity [cd] by direction."""

    strong_by = "flux_lm"
    id: str
    place: Vector
    aim: Vector
    side: Vector
    flux_lm: float
    beam_deg: float
    cct_k: float
    photometry: Photometry | None = None
    table_scale: float = 1.0
    duv: float = 0.0
    hue_deg: float | None = None  # of a deliberate accent
    radius_m: float = LAMP_RADIUS_M  # of the ball as which it is seen

    def _unit(self) -> Self:
        return replace(super()._unit(), table_scale=self.table_scale / self.flux_lm)

    def _shape(self) -> bytes:
        figures = np.array([*self.place, *self.aim, *self.side, self.beam_deg]).tobytes()
        if self.photometry is None:
            return figures
        scale = f"{self.table_scale / self.flux_lm:.12g}"  # dimmed it differs by rounding alone
        return figures + scale.encode() + self.photometry.model_dump_json().encode()

    @property
    def seen_cd_m2(self) -> float:
        """Luminance as a ball that shines alike to all sides [cd/m2]."""
        return self.flux_lm / (4 * math.pi) / (math.pi * self.radius_m**2)

    def intensity_cd(self, rays: FloatArray) -> FloatArray:
        """Luminous intensity along unit directions, shape (..., 3) -> (...) [cd]."""
        if self.photometry is not None:
            return self._measured_cd(rays)
        if self.beam_deg >= 360:
            return np.full(rays.shape[:-1], self.flux_lm / (4 * math.pi))
        edge = math.cos(math.radians(self.beam_deg) / 2)
        peak = self.flux_lm / (2 * math.pi * (1 - edge))
        return np.where(rays @ self.aim >= edge, peak, 0.0)

    def _measured_cd(self, rays: FloatArray) -> FloatArray:
        """Candela table, bilinear in the angle from the aim and round it, scaled to what the lamp gives now."""
        table = self.photometry
        assert table is not None
        polar = np.degrees(np.arccos(np.clip(rays @ self.aim, -1, 1)))
        round_deg = np.degrees(np.arctan2(rays @ np.cross(self.aim, self.side), rays @ self.side)) % 360
        horizontal, vertical = np.array(table.horizontal_deg), np.array(table.vertical_deg)
        last = horizontal[-1]
        if last in (90.0, 180.0):  # tables give one quadrant or half of a symmetrical lamp
            round_deg = np.where(round_deg > 180, 360 - round_deg, round_deg)
            round_deg = np.where((last == 90.0) & (round_deg > 90), 180 - round_deg, round_deg)
        rows = np.array([np.interp(polar, vertical, row, left=0.0, right=0.0) for row in np.array(table.candela)])
        rows *= self.table_scale
        if len(horizontal) == 1:
            return np.asarray(rows[0])
        upper = np.clip(np.searchsorted(horizontal, round_deg), 1, len(horizontal) - 1)
        share = np.clip((round_deg - horizontal[upper - 1]) / (horizontal[upper] - horizontal[upper - 1]), 0, 1)
        pick = np.take_along_axis
        low, high = pick(rows, upper[None] - 1, 0)[0], pick(rows, upper[None], 0)[0]
        return np.asarray(low * (1 - share) + high * share)

    def illuminance_lx(self, places: FloatArray, normals: FloatArray, _fineness: int = 1, boards: Boards = ()) -> FloatArray:
        """Direct illuminance on small surfaces past boards, shapes (N, 3) -> (N,) [lx]."""
        seen = visible(boards, places, self.place[None])
        return self._open_lx(places, normals) if seen is None else self._open_lx(places, normals) * seen[:, 0]

    def _open_lx(self, places: FloatArray, normals: FloatArray) -> FloatArray:
        beyond = places - self.place
        distance = np.maximum(np.linalg.norm(beyond, axis=-1), SHEER_BELOW_M)
        rays = beyond / distance[..., None]
        facing = np.maximum(-np.einsum("...i,...i->...", rays, normals), 0.0)
        return self.intensity_cd(rays) * facing / distance**2

    def from_spots_lx(self, spots: FloatArray, aims: FloatArray, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Illuminance were it to stand on other spots, aimed along ``aims``; shapes (S, 3), (S, 3), (P, 3), (P, 3) -> (S, P) [lx]."""
        beyond = places[None] - spots[:, None]
        distance = np.maximum(np.linalg.norm(beyond, axis=-1), SHEER_BELOW_M)
        rays = beyond / distance[..., None]
        facing = np.maximum(-np.einsum("spi,pi->sp", rays, normals), 0.0)
        edge = -1.0 if self.beam_deg >= 360 else math.cos(math.radians(self.beam_deg) / 2)
        lit = np.einsum("spi,si->sp", rays, aims) >= edge
        return lit * (self.flux_lm / (2 * math.pi * (1 - edge))) * facing / distance**2


@dataclass(frozen=True)
class AreaSource(Shining):
    """A rectangle that shines evenly to its front (Lambertian)."""

    strong_by = "luminance_cd_m2"
    id: str
    pane: Pane
    luminance_cd_m2: float
    cct_k: float
    ring: bool = False
    duv: float = 0.0
    hue_deg: float | None = None  # of a deliberate accent

    @property
    def place(self) -> Vector:
        return self.pane.middle

    def _shape(self) -> bytes:
        pane = self.pane
        return np.array([*pane.middle, *pane.normal, *pane.up, pane.width_m, pane.height_m, float(self.ring)]).tobytes()

    @property
    def flux_lm(self) -> float:
        """Flux into the room [lm]: pi L A."""
        return math.pi * self.luminance_cd_m2 * self.pane.width_m * self.pane.height_m * (_RING_SHARE if self.ring else 1.0)

    def seen_cd_m2(self, rays: FloatArray) -> FloatArray:
        """Luminance of it along unit directions towards it, shape (..., 3) -> (...) [cd/m2]."""
        return np.full(rays.shape[:-1], self.luminance_cd_m2)

    def illuminance_lx(self, places: FloatArray, normals: FloatArray, fineness: int = 12, boards: Boards = ()) -> FloatArray:
        """Direct illuminance on small surfaces past boards, shapes (N, 3) -> (N,) [lx], summed over fineness^2 patches.

        Where a board's edge lies before the pane it is summed over more of them.
        """
        seen = visible(boards, places, np.concatenate([self.patches(fineness)[0], self._rim(2 * fineness - 1)]))
        if seen is None:
            return self._summed_lx(places, normals, fineness, ())
        level = np.zeros(len(places))
        for some, finer, past in ((seen.all(axis=1), 1, ()), (seen.any(axis=1) & ~seen.all(axis=1), FINER, boards)):
            if some.any():
                level[some] = self._summed_lx(places[some], normals[some], finer * fineness, past)
        return level

    def _rim(self, count: int) -> FloatArray:
        """Its corners, and so many places along each of its edges (N, 3) [m]."""
        return self.pane.places(_edges(count))

    def _summed_lx(self, places: FloatArray, normals: FloatArray, fineness: int, boards: Boards) -> FloatArray:
        spots, patch_m2 = self.patches(fineness)
        return np.asarray(self.luminance_cd_m2 * self._shares(places, normals, spots, patch_m2, boards).sum(axis=1) * patch_m2)

    def _shares(self, places: FloatArray, normals: FloatArray, spots: FloatArray, patch_m2: float, boards: Boards = ()) -> FloatArray:
        """cos cos / r2 between small surfaces (N, 3) and spots on the pane (K, 3) past boards, shape (N, K) [1/m2].

        How far a place lies before the plane is the same for all spots.
        """
        squared = squared_m2(places, spots)
        np.maximum(squared, patch_m2 / math.pi, out=squared)
        before = np.maximum((places - self.pane.middle) @ self.pane.normal, 0.0)[:, None]
        shares = before * before_m(places, normals, spots) / (squared * squared)
        seen = visible(boards, places, spots)
        return np.asarray(shares if seen is None else shares * seen)

    def from_spots_lx(self, spots: FloatArray, aims: FloatArray, places: FloatArray, normals: FloatArray) -> FloatArray:
        """Illuminance were it to stand on other spots, aimed along ``aims``; shapes (S, 3), (S, 3), (P, 3), (P, 3) -> (S, P) [lx]."""
        patches, patch_m2 = self.patches(4)
        local = patches - self.pane.middle
        across, upward = local @ self.pane.right, local @ self.pane.up
        right = np.stack([-aims[:, 1], aims[:, 0], np.zeros(len(aims))], axis=1)
        right /= np.maximum(np.linalg.norm(right, axis=1, keepdims=True), 1e-9)
        up = np.cross(aims, right)
        shining = spots[:, None] + across[None, :, None] * right[:, None] + upward[None, :, None] * up[:, None]
        beyond = shining[:, :, None] - places
        squared = np.maximum(np.einsum("skpi,skpi->skp", beyond, beyond), patch_m2 / math.pi)
        leaving = np.maximum(-np.einsum("skpi,si->skp", beyond, aims), 0.0)
        arriving = np.maximum(np.einsum("skpi,pi->skp", beyond, normals), 0.0)
        return np.asarray(self.luminance_cd_m2 * patch_m2 * (leaving * arriving / squared**2).sum(axis=1))

    def patches(self, fineness: int) -> tuple[FloatArray, float]:
        pane = self.pane
        if self.ring:
            return _ring_patches(pane, 4 * fineness)
        return pane.places(_cells(fineness)), pane.width_m * pane.height_m / fineness**2


@lru_cache(maxsize=16)
def _cells(fineness: int) -> FloatArray:
    """Middles of so many by so many cells of a pane, row by row from below, as such spots; not to be written to."""
    steps = (np.arange(fineness) + 0.5) / fineness - 0.5
    return np.stack([np.tile(steps, fineness), np.repeat(steps, fineness)], axis=1)


@lru_cache(maxsize=16)
def _edges(count: int) -> FloatArray:
    """So many spots along each edge of a pane, its corners among them; not to be written to."""
    steps, ends = np.tile(np.linspace(-0.5, 0.5, count), 2), np.repeat([-0.5, 0.5], count)
    return np.concatenate([np.stack([steps, ends], axis=1), np.stack([ends, steps], axis=1)])


_RING_HOLE = 0.7  # a ring light's band is the outer 30 % of its radius
_RING_SHARE = math.pi / 4 * (1 - _RING_HOLE**2)


def _ring_patches(pane: Pane, count: int) -> tuple[FloatArray, float]:
    turn = 2 * np.pi * np.arange(count) / count
    radius = pane.width_m / 2 * math.sqrt((1 + _RING_HOLE**2) / 2)
    spots = pane.middle + radius * (np.cos(turn)[:, None] * pane.right + np.sin(turn)[:, None] * pane.up)
    return spots, pane.width_m**2 * _RING_SHARE / count


Lamp = PointSource | AreaSource


def lamp_source(light: Light) -> Lamp | None:
    """A lamp as a source; None while it gives nothing."""
    flux_lm = light.flux_lm * light.dim if light.on else 0.0
    if flux_lm <= 0:
        return None
    place = vector(light.position)
    if light.diffuser is not None:
        cover = light.diffuser
        if cover.transmittance <= 0:
            return None
        if cover.around:
            return _all_round(light, flux_lm * cover.transmittance)
        pane = facing_pane(place, light.aim_yaw_deg, light.aim_tilt_deg, cover.width_m, cover.height_m)
        return AreaSource(light.id, pane, _lambert(flux_lm * cover.transmittance, pane), light.cct_k, duv=light.duv, hue_deg=light.hue_deg)
    if light.kind in ("panel", "strip"):
        pane = facing_pane(place, light.aim_yaw_deg, light.aim_tilt_deg, light.width_m or 0.1, light.height_m or 0.1)
        return AreaSource(light.id, pane, _lambert(flux_lm, pane), light.cct_k, duv=light.duv, hue_deg=light.hue_deg)
    if light.kind == "ring":
        pane = facing_pane(place, light.aim_yaw_deg, light.aim_tilt_deg, light.width_m or 0.1, light.width_m or 0.1)
        return AreaSource(
            light.id, pane, _lambert(flux_lm, pane) / _RING_SHARE, light.cct_k, ring=True, duv=light.duv, hue_deg=light.hue_deg
        )
    beam_deg = light.beam_deg if light.kind == "cone" and light.beam_deg else 360.0
    source = replace(_all_round(light, flux_lm), beam_deg=beam_deg, photometry=light.photometry)
    if light.photometry is None:
        return source
    measured_lm = table_flux_lm(light.photometry)
    return replace(source, table_scale=flux_lm / measured_lm) if measured_lm > 0 else None


def _all_round(light: Light, flux_lm: float) -> PointSource:
    """A lamp that shines alike to all sides. A shade is a ball: of one that is equally bright all over a place gets what a point in
    its middle would give."""
    place, aim = vector(light.position), direction(light.aim_yaw_deg, light.aim_tilt_deg)
    side = right_of(light.aim_yaw_deg)
    return PointSource(
        light.id, place, aim, side, flux_lm, 360.0, light.cct_k, duv=light.duv, hue_deg=light.hue_deg, radius_m=lamp_radius_m(light)
    )


def table_flux_lm(table: Photometry) -> float:
    """Flux of a candela table [lm]: 2 pi times the integral of the mean over the round of I sin(angle).

    Tables of one quadrant or half of a symmetrical lamp have the mean of the whole round.
    """
    fine = np.linspace(table.vertical_deg[0], table.vertical_deg[-1], 721)
    rows = np.array([np.interp(fine, table.vertical_deg, row) for row in table.candela])
    if len(rows) > 1:
        span = table.horizontal_deg[-1] - table.horizontal_deg[0]
        rows = np.trapezoid(rows, table.horizontal_deg, axis=0)[None] / span
    polar = np.radians(fine)
    return float(2 * math.pi * np.trapezoid(rows[0] * np.sin(polar), polar))


def _lambert(flux_lm: float, pane: Pane) -> float:
    return flux_lm / (math.pi * pane.width_m * pane.height_m)


def screen_source(screen: Screen) -> AreaSource | None:
    """A screen as a source: luminance times the share of white; None while it is dark."""
    luminance = screen.luminance_cd_m2 * screen.white_share if screen.on else 0.0
    return AreaSource(screen.id, screen_pane(screen), luminance, screen.cct_k) if luminance > 0 else None
