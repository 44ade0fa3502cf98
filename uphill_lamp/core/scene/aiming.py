"""Aiming a lens: the tilt, turn or lid that puts a place on a wanted spot of the picture.

Closed forms hold on the lens axis alone; these find the root in the projection itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from uphill_lamp.core.document.devices import Camera, Screen
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.pinhole import Field, Pinhole, field_of
from uphill_lamp.core.scene.placing import camera_pose, face_of, output_aspect
from uphill_lamp.core.scene.vectors import UP, Vector, direction, yaw_tilt_deg

HINGE_LEAST_DEG = 60.0
HINGE_MOST_DEG = 140.0
TILT_MOST_DEG = 80.0
NEAR_DEG = 4.0  # how far a closed form is off at most, as a rule


def rise_for_view_angle_m(eyes_z_m: float, lens_z_m: float, level_distance_m: float, target_deg: float) -> float:
    """How much higher the lens must stand to be seen at an elevation: z_eyes + d tan(target) - z_camera [m]."""
    return eyes_z_m + level_distance_m * math.tan(math.radians(target_deg)) - lens_z_m


def root(function: Callable[[float], float], low: float, high: float, start: float, near: float | None = None) -> float | None:
    """Where a continuous function crosses zero between two bounds, nearest to a start; None if nowhere.

    Scipy's Brent method on the first bracket that holds a crossing.

    Args:
        near: a closed form's answer, about which a narrow bracket is tried first.
    """
    from scipy.optimize import brentq  # heavy: only when something is solved

    def solved(one: float, other: float) -> float:
        return float(brentq(function, one, other, xtol=1e-12, rtol=1e-14))

    if near is not None:
        one, other = max(low, near - NEAR_DEG), min(high, near + NEAR_DEG)
        if one < other and function(one) * function(other) <= 0:
            return solved(one, other)
    grid = np.linspace(low, high, 25)
    values = [function(float(at)) for at in grid]
    brackets = [
        (abs((a + b) / 2 - start), float(a), float(b))
        for a, b, left, right in zip(grid, grid[1:], values, values[1:], strict=False)
        if np.isfinite(left) and np.isfinite(right) and left * right <= 0
    ]
    if not brackets:
        return None
    _, low, high = min(brackets)
    return solved(low, high)


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
    start = (yaw - math.degrees(math.atan((2 * x - 1) * field.half_width)), tilt - math.degrees(math.atan((1 - 2 * y) * field.half_height)))

    def off(aim: Vector) -> Vector:
        spot = Pinhole.posed(place, aim[0], aim[1], roll_deg, field).project(target)
        return np.nan_to_num(spot - (x, y), nan=10.0)

    solution = least_squares(off, start, xtol=1e-15, ftol=1e-15, gtol=1e-15)
    if np.abs(solution.fun).max() > 1e-8 or abs(solution.x[1]) > 90:
        return None
    return float(solution.x[0]), float(solution.x[1])


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
        lens = hinge + along_m * (math.cos(lean) * outward + math.sin(lean) * UP)
        spot = Pinhole.posed(lens, screen.yaw_deg, hinge_deg - 90, camera.roll_deg, field).project(eyes)
        return float(spot[1]) - eye_line

    now_deg = float(screen.hinge_deg or 90)
    lean = math.radians(now_deg)
    lens = np.array([screen.position.x_m, screen.position.y_m, base_for(now_deg)]) + along_m * (
        math.cos(lean) * outward + math.sin(lean) * UP
    )
    hinge = root(off, HINGE_LEAST_DEG, HINGE_MOST_DEG, now_deg, 90 + _tilt_near_deg(eyes - lens, eye_line, field))
    return None if hinge is None else (hinge, base_for(hinge))


def _tilt_near_deg(sight: Vector, eye_line: float, field: Field) -> float:
    """The closed form of the tilt that puts a place on a line, on the axis and without roll [deg]."""
    return yaw_tilt_deg(sight)[1] - math.degrees(math.atan((1 - 2 * eye_line) * field.half_height))


def lid_of(setup: Setup, camera: Camera) -> Screen | None:
    """The laptop on whose lid the camera sits, if it does."""
    return setup.screen(camera.on_screen or "") if camera.mount == "laptop_lid" else None


def tilted_to(setup: Setup, y: float, place: Vector | None = None) -> Patch | None:
    """Operations that tilt the main camera until a place stands on a line of the picture; None if no tilt does.

    Args:
        y: wanted share from the top edge.
        place: shape (3,) [m]; the eyes if nothing is said.
    """
    camera, target = setup.main_camera, face_of(setup).eyes if place is None else place
    field, lid = field_of(camera, output_aspect(setup)), lid_of(setup, camera)
    if lid is not None:
        angle_deg = lid_for(lid, camera, target, field, y, None)
        return None if angle_deg is None else (replace(f"/screens/{lid.id}/hinge_deg", round(angle_deg[0], 3)),)
    pose = camera_pose(setup, camera)

    def off(tilt_deg: float) -> float:
        return float(Pinhole.posed(pose.place, pose.yaw_deg, tilt_deg, pose.roll_deg, field).project(target)[1]) - y

    near = _tilt_near_deg(target - pose.place, y, field)
    tilt_deg = root(off, -TILT_MOST_DEG, TILT_MOST_DEG, pose.tilt_deg, near)
    return None if tilt_deg is None else (replace(f"/cameras/{camera.id}/tilt_deg", round(tilt_deg, 3)),)
