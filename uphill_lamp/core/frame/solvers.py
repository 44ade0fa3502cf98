"""Answers of Frame: how high, how tilted, how far (handbook 02, "Solvers").

The closed forms hold on the lens axis at small tilt; ``aimed`` and the others find the root in the projection itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from uphill_lamp.core.document.devices import Camera, Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.pinhole import Field, Pinhole
from uphill_lamp.core.scene.vectors import Vector, direction, yaw_tilt_deg

HINGE_LEAST_DEG = 60.0
HINGE_MOST_DEG = 140.0


def rise_for_view_angle_m(eyes_z_m: float, lens_z_m: float, level_distance_m: float, target_deg: float) -> float:
    """How much higher the lens must stand to be seen at an elevation: z_eyes + d tan(target) - z_camera [m]."""
    return eyes_z_m + level_distance_m * math.tan(math.radians(target_deg)) - lens_z_m


def tilt_for_eye_line_deg(eyes_elevation_deg: float, eye_line: float, half_height: float) -> float:
    """Tilt that puts eyes at an elevation on a share of the picture from the top, on the axis [deg]."""
    return eyes_elevation_deg - math.degrees(math.atan((0.5 - eye_line) * 2 * half_height))


def distance_for_head_share_m(head_m: float, head_share: float, half_height: float) -> float:
    """Distance at which a head of a height fills a share of the picture's height: d = head/(2 h v) [m]."""
    return head_m / (2 * head_share * half_height)


def root(function: Callable[[float], float], low: float, high: float, start: float) -> float | None:
    """Where a continuous function crosses zero between two bounds, nearest to a start; None if nowhere.

    Scipy's Brent method on the bracket found by stepping outwards from the start.
    """
    from scipy.optimize import brentq  # heavy: only when something is solved

    grid = np.linspace(low, high, 33)
    values = [function(float(at)) for at in grid]
    brackets = [
        (abs((a + b) / 2 - start), float(a), float(b))
        for a, b, left, right in zip(grid, grid[1:], values, values[1:], strict=False)
        if np.isfinite(left) and np.isfinite(right) and left * right <= 0
    ]
    if not brackets:
        return None
    _, low, high = min(brackets)
    return float(brentq(function, low, high, xtol=1e-12, rtol=1e-14))


def aimed(place: Vector, roll_deg: float, field: Field, target: Vector, x: float, y: float) -> tuple[float, float] | None:
    """Yaw and tilt [deg] that put a place on a spot of the picture; None if no aim does.

    Args:
        place: lens, shape (3,) [m].
        roll_deg: kept as it is [deg].
        field: what the lens takes in.
        target: shape (3,) [m].
        x, y: shares from the left and the top edge.
    """
    from scipy.optimize import least_squares

    yaw, tilt = yaw_tilt_deg(target - place)
    start = (yaw - math.degrees(math.atan((2 * x - 1) * field.half_width)), tilt_for_eye_line_deg(tilt, y, field.half_height))

    def off(aim: Vector) -> Vector:
        spot = Pinhole.posed(place, aim[0], aim[1], roll_deg, field).project(target)
        return np.nan_to_num(spot - (x, y), nan=10.0)

    found = least_squares(off, start, xtol=1e-15, ftol=1e-15, gtol=1e-15)
    if np.abs(found.fun).max() > 1e-8 or abs(found.x[1]) > 90:
        return None
    return float(found.x[0]), float(found.x[1])


def lid_for(
    screen: Screen, camera: Camera, eyes: Vector, field: Field, eye_line: float, view_angle_deg: float | None
) -> tuple[float, float] | None:
    """Hinge [deg] and height of a laptop's base [m] that put the eyes on a line of the picture.

    Raising a laptop changes hinge and distance together, so both are solved at once.

    Args:
        screen: the laptop.
        camera: the one on its lid.
        eyes: shape (3,) [m].
        field: what the lens takes in.
        eye_line: wanted share from the top.
        view_angle_deg: wanted elevation of the lens seen from the eyes [deg]; None leaves the base where it is.
    """
    outward = direction(screen.yaw_deg)
    along_m = camera.lens_offset_m

    def base_for(hinge_deg: float) -> float:
        if view_angle_deg is None:
            return screen.position.z_m
        lean = math.radians(hinge_deg)
        x_m, y_m = np.array([screen.position.x_m, screen.position.y_m]) + along_m * math.cos(lean) * outward[:2]
        level_m = math.hypot(eyes[0] - x_m, eyes[1] - y_m)
        return rise_for_view_angle_m(eyes[2], along_m * math.sin(lean), level_m, view_angle_deg)

    def off(hinge_deg: float) -> float:
        lean = math.radians(hinge_deg)
        hinge = np.array([screen.position.x_m, screen.position.y_m, base_for(hinge_deg)])
        lens = hinge + along_m * (math.cos(lean) * outward + math.sin(lean) * np.array([0.0, 0.0, 1.0]))
        spot = Pinhole.posed(lens, screen.yaw_deg, hinge_deg - 90, camera.roll_deg, field).project(eyes)
        return float(spot[1]) - eye_line

    hinge = root(off, HINGE_LEAST_DEG, HINGE_MOST_DEG, float(screen.hinge_deg or 90))
    return None if hinge is None else (hinge, base_for(hinge))


def books_for(rise_m: float, thicknesses_m: list[float]) -> list[int] | None:
    """Which books, by index, come closest to a rise; the fewest on a tie; None without books [m].

    Exact over all subsets of up to 14 books (the thickest are kept if more lie about).
    """
    if not thicknesses_m or rise_m <= 0:
        return None
    kept = sorted(range(len(thicknesses_m)), key=lambda index: -thicknesses_m[index])[:14]
    sums = {0: 0.0}
    for position, index in enumerate(kept):
        sums |= {chosen | 1 << position: total + thicknesses_m[index] for chosen, total in sums.items()}
    best = min(sums, key=lambda chosen: (round(abs(sums[chosen] - rise_m), 4), chosen.bit_count()))
    return [kept[position] for position in range(len(kept)) if best >> position & 1] or None


def book_list(setup: Setup) -> list[tuple[str, float]]:
    """Books that lie about, by name and thickness [m], as the kit lists them."""
    return [(item.name, item.thickness_m) for item in setup.kit if item.entry == "book" and item.thickness_m for _ in range(item.count)]
