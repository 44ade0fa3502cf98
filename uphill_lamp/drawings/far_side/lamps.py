"""Lamps that are in the picture themselves: balls, panels and rings on their stems, laid over what is there."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.sources import AreaSource, lamp_source
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Pane
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import lamp_radius_m
from uphill_lamp.drawings.far_side.cast import bar, lens_rows
from uphill_lamp.drawings.far_side.colour import light_rgb
from uphill_lamp.drawings.far_side.light import Returned
from uphill_lamp.drawings.figure.compiled import compiled

SIDE, ROUGH_SIDE = 3, 2  # samples along each side of a pixel; in drafts
BALL, PANEL, RING = 0, 1, 2
RING_HOLE = 0.7
SHADE_ALBEDO, HOUSING_ALBEDO = 0.5, 0.05
STEM_M = 0.02


def lay_over(
    picture: FloatArray,
    pinhole: Pinhole,
    nearest_m: FloatArray,
    lit_scene: LitScene,
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
    for light in sorted(lit_scene.setup.lights, key=lambda light: -float(np.linalg.norm(vector(light.position) - pinhole.place))):
        if not away_m[0] <= float(np.linalg.norm(vector(light.position) - pinhole.place)) < away_m[1]:
            continue
        housing = returned.mean * np.float32(HOUSING_ALBEDO / np.pi)
        if (stem := _stem(light, lit_scene.setup, pinhole)) is not None:
            _put(picture, pinhole, _stem_box(picture, pinhole, stem), _flat(stem, False), nearest_m, np.stack([housing, housing]), side)
        shining = lamp_source(light)
        pane = shining.pane if isinstance(shining, AreaSource) else _dark_pane(light)
        reach_m = lamp_radius_m(light) if pane is None else float(np.hypot(pane.width_m, pane.height_m)) / 2
        own = _glow(light, shining) if shining is not None else returned.mean * np.float32(SHADE_ALBEDO / np.pi)
        shape = _ball(light) if pane is None else _flat(pane, light.kind == "ring")
        box = _box(picture, pinhole, vector(light.position), reach_m)
        _put(picture, pinhole, box, shape, nearest_m, np.stack([own, housing]), side)


def _put(
    picture: FloatArray,
    pinhole: Pinhole,
    box: tuple[slice, slice] | None,
    shape: tuple[int, FloatArray],
    nearest_m: FloatArray,
    colours: FloatArray,
    side: int,
) -> None:
    """Lays one shape over the part of the picture where it can be."""
    if box is not None:
        edges = box[0].start, box[0].stop, box[1].start, box[1].stop
        put_lamp(lens_rows(pinhole), *shape, nearest_m, colours.astype(np.float32), side, edges, picture)


def _stem(light: Light, setup: Setup, pinhole: Pinhole) -> Pane | None:
    """What carries a lamp that stands on the floor or the desk, its flat side to the lens."""
    if light.stands not in ("floor", "desk"):
        return None
    radius_m = lamp_radius_m(light)
    head = vector(light.position) - np.array([0.0, 0.0, radius_m])
    foot = np.array([head[0], head[1], setup.desk.height_m if light.stands == "desk" else 0.0])
    return bar(head, foot, STEM_M, pinhole.place) if head[2] - foot[2] > radius_m else None


def _stem_box(picture: FloatArray, pinhole: Pinhole, stem: Pane) -> tuple[slice, slice] | None:
    """Pixels that a stem can cover: between its corners, or wherever a ball round it could be where one of them is beside the lens."""
    corners = pinhole.project(stem.corners())
    if np.isnan(corners).any():
        return _box(picture, pinhole, stem.middle, stem.height_m / 2)
    rows, columns = picture.shape[:2]
    low, high = corners.min(axis=0), corners.max(axis=0)
    left, top = (int(np.clip(value, 0, most)) for value, most in zip(np.floor(low * (columns, rows)) - 1, (columns, rows), strict=True))
    right, foot = (int(np.clip(value, 0, most)) for value, most in zip(np.ceil(high * (columns, rows)) + 1, (columns, rows), strict=True))
    return (slice(top, foot), slice(left, right)) if top < foot and left < right else None


def _glow(light: Light, shining: Any) -> FloatArray:
    if isinstance(shining, AreaSource):
        return np.float32(shining.luminance_cd_m2) * light_rgb(light)
    return np.float32(shining.seen_cd_m2) * light_rgb(light)


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


def _ball(light: Light) -> tuple[int, FloatArray]:
    return BALL, np.array([vector(light.position), (lamp_radius_m(light), 0.0, 0.0)], np.float32)


def _flat(pane: Pane, ring: bool) -> tuple[int, FloatArray]:
    sides = (2 / pane.width_m * pane.right, 2 / pane.height_m * pane.up)
    return RING if ring else PANEL, np.array([pane.middle, pane.normal, *sides], np.float32)


@compiled
def put_lamp(lens, kind, lamp, nearest, colours, side, edges, picture):  # type: ignore[no-untyped-def]
    """Lays one lamp over a part of a picture.

    Args:
        lens: as ``lens_rows`` gives it.
        kind: BALL, PANEL or RING.
        lamp: a ball's middle and, first in the second row, its radius [m]; or a panel's or ring's middle [m], normal, and its right and up
            over half its width and height [1/m]; float32.
        nearest: how far off along the ray what is there already is, shape (rows, columns) [m].
        colours: of its front and of its back, shape (2, 3) float32 [cd/m2].
        side: samples along each side of a pixel.
        edges: the part's first row and the row after its last, and its columns likewise.
        picture: shape (rows, columns, 3) float32 [cd/m2]; written to.
    """
    top, foot, left, right = edges
    rows, columns = nearest.shape
    ox, oy, oz = lens[3, 0] - lamp[0, 0], lens[3, 1] - lamp[0, 1], lens[3, 2] - lamp[0, 2]
    beyond, before = ox * ox + oy * oy + oz * oz - lamp[1, 0] ** 2, ox * lamp[1, 0] + oy * lamp[1, 1] + oz * lamp[1, 2]
    part = np.float32(1 / side**2)
    for row in range(top, foot):
        for column in range(left, right):
            fronts, backs = 0, 0
            for sample in range(side * side):
                aside = np.float32(2 * (column + (sample % side + 0.5) / side) / columns - 1)
                upward = np.float32(1 - 2 * (row + (sample // side + 0.5) / side) / rows)
                x = lens[0, 0] + aside * lens[1, 0] + upward * lens[2, 0]
                y = lens[0, 1] + aside * lens[1, 1] + upward * lens[2, 1]
                z = lens[0, 2] + aside * lens[1, 2] + upward * lens[2, 2]
                per_length = 1 / np.sqrt(x * x + y * y + z * z)
                x, y, z = x * per_length, y * per_length, z * per_length
                if kind == BALL:
                    along = -(x * ox + y * oy + z * oz)
                    root = along * along - beyond
                    if root <= 0 or along <= 0:
                        continue
                    away, facing = along - np.sqrt(root), np.float32(-1)
                else:
                    facing = x * lamp[1, 0] + y * lamp[1, 1] + z * lamp[1, 2]
                    if facing == 0:
                        continue
                    away = -before / facing
                    ax, ay, az = ox + away * x, oy + away * y, oz + away * z
                    u, v = ax * lamp[2, 0] + ay * lamp[2, 1] + az * lamp[2, 2], ax * lamp[3, 0] + ay * lamp[3, 1] + az * lamp[3, 2]
                    if abs(u) > 1 or abs(v) > 1:
                        continue
                    if kind == RING and not RING_HOLE**2 <= u * u + v * v <= 1:
                        continue
                if away <= 1e-6 or away >= nearest[row, column]:
                    continue
                if facing < 0:
                    fronts += 1
                else:
                    backs += 1
            if fronts + backs:
                open_ = np.float32(1) - part * (fronts + backs)
                for channel in range(3):
                    laid = part * (fronts * colours[0, channel] + backs * colours[1, channel])
                    picture[row, column, channel] = picture[row, column, channel] * open_ + laid
