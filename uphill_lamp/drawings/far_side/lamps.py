"""Lamps that are in the picture themselves: balls, panels and rings, laid over what is there."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.sources import AreaSource, lamp_source
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Pane
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import LAMP_RADIUS_M
from uphill_lamp.drawings.far_side.colour import FloatArray, white_rgb
from uphill_lamp.drawings.far_side.light import Returned

SIDE, ROUGH_SIDE = 3, 2  # samples along each side of a pixel; in drafts
RING_HOLE = 0.7
SHADE_ALBEDO, HOUSING_ALBEDO = 0.5, 0.05


def lay_over(
    picture: FloatArray,
    pinhole: Pinhole,
    nearest_m: FloatArray,
    falling: Falling,
    returned: Returned,
    away_m: tuple[float, float] = (0.0, math.inf),
    side: int = SIDE,
) -> None:
    """Draws all lamps that are seen.

    Args:
        picture: shape (rows, columns, 3) [cd/m2]; written to.
        pinhole: the lens.
        nearest_m: how far off what is there already is, along the ray, shape (rows, columns) [m].
        falling, returned: the light.
        away_m: between which distances from the lens lamps are drawn [m].
        side: samples along each side of a pixel.
    """
    for light in sorted(falling.setup.lights, key=lambda light: -float(np.linalg.norm(vector(light.position) - pinhole.place))):
        if not away_m[0] <= float(np.linalg.norm(vector(light.position) - pinhole.place)) < away_m[1]:
            continue
        shining = lamp_source(light)
        pane = shining.pane if isinstance(shining, AreaSource) else _dark_pane(light)
        reach_m = LAMP_RADIUS_M if pane is None else float(np.hypot(pane.width_m, pane.height_m)) / 2
        box = _box(picture, pinhole, vector(light.position), reach_m)
        if box is None:
            continue
        rays = _rays(picture, pinhole, box, side)
        away, front = _ball(pinhole, light, rays) if pane is None else _flat(pinhole, pane, light.kind == "ring", rays)
        own = _glow(light, shining) if shining is not None else returned.mean * np.float32(SHADE_ALBEDO / np.pi)
        colours = np.where(front[..., None], own, returned.mean * np.float32(HOUSING_ALBEDO / np.pi)).astype(np.float32)
        there = nearest_m[box].repeat(side, axis=0).repeat(side, axis=1)
        hit = np.isfinite(away) & (away < there)
        shape = picture[box].shape
        covers = hit.reshape(shape[0], side, shape[1], side).mean(axis=(1, 3))[..., None]
        laid = (colours * hit[..., None]).reshape(shape[0], side, shape[1], side, 3).mean(axis=(1, 3))
        picture[box] = picture[box] * (1 - covers) + laid


def _glow(light: Light, shining: Any) -> FloatArray:
    if isinstance(shining, AreaSource):
        return np.float32(shining.luminance_cd_m2) * white_rgb(light.cct_k, light.duv)
    luminance = light.flux_lm * light.dim / (4 * np.pi) / (np.pi * LAMP_RADIUS_M**2)
    return np.float32(luminance) * white_rgb(light.cct_k, light.duv)


def _dark_pane(light: Light) -> Pane | None:
    """The rectangle of a lamp that is off, as if it were on; None for a ball."""
    lit = lamp_source(light.model_copy(update={"on": True, "dim": 1.0, "flux_lm": max(light.flux_lm, 1.0)}))
    return lit.pane if isinstance(lit, AreaSource) else None


def _box(picture: FloatArray, pinhole: Pinhole, middle: FloatArray, reach_m: float) -> tuple[slice, slice] | None:
    """Pixels that a ball round a lamp can cover."""
    rows, columns = picture.shape[:2]
    beyond, field = middle - pinhole.place, pinhole.field
    away = max(float(np.linalg.norm(beyond)), 1e-6)
    deep = float(beyond @ pinhole.forward)
    wide = np.arcsin(min(reach_m / away, 1.0))
    if np.arccos(np.clip(deep / away, -1, 1)) - wide > np.arctan(np.hypot(field.half_width, field.half_height)):
        return None  # beside or behind the lens
    if deep < 2 * reach_m:
        return slice(0, rows), slice(0, columns)
    x, y = pinhole.project(middle)
    across = reach_m / (deep - reach_m) / (2 * field.half_width) * 1.5
    upward = reach_m / (deep - reach_m) / (2 * field.half_height) * 1.5
    top, foot = (int(np.clip(value * rows + edge, 0, rows)) for value, edge in ((y - upward, -1), (y + upward, 2)))
    left, right = (int(np.clip(value * columns + edge, 0, columns)) for value, edge in ((x - across, -1), (x + across, 2)))
    return (slice(top, foot), slice(left, right)) if top < foot and left < right else None


def _rays(picture: FloatArray, pinhole: Pinhole, box: tuple[slice, slice], side: int) -> FloatArray:
    rows, columns = picture.shape[:2]
    y = (np.arange(box[0].start * side, box[0].stop * side) + 0.5) / (rows * side)
    x = (np.arange(box[1].start * side, box[1].stop * side) + 0.5) / (columns * side)
    return pinhole.ray(*np.meshgrid(x, y))


def _ball(pinhole: Pinhole, light: Light, rays: FloatArray) -> tuple[FloatArray, NDArray[np.bool_]]:
    beyond = pinhole.place - vector(light.position)
    b = rays @ beyond
    root = b * b - (float(beyond @ beyond) - LAMP_RADIUS_M**2)
    away = np.where((root > 0) & (-b > 0), -b - np.sqrt(np.maximum(root, 0)), np.inf)
    return np.where(away > 1e-6, away, np.inf), np.ones(away.shape, dtype=bool)


def _flat(pinhole: Pinhole, pane: Pane, ring: bool, rays: FloatArray) -> tuple[FloatArray, NDArray[np.bool_]]:
    """How far off a panel or ring is, and whether it is its front that is seen."""
    offset = pinhole.place - pane.middle
    facing = rays @ pane.normal
    with np.errstate(divide="ignore", invalid="ignore"):
        away = -(offset @ pane.normal) / facing
    on = offset + np.where(np.isfinite(away), away, 0)[..., None] * rays
    u, v = 2 * (on @ pane.right) / pane.width_m, 2 * (on @ pane.up) / pane.height_m
    if ring:
        reach = np.hypot(u, v)
        inside = (reach <= 1) & (reach >= RING_HOLE)
    else:
        inside = (np.abs(u) <= 1) & (np.abs(v) <= 1)
    return np.where(inside & (away > 1e-6), away, np.inf), facing < 0
