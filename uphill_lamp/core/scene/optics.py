"""What a lens does with distance: focal length, depth of field, blur (docs/method/frame.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from uphill_lamp.core.document.devices import Camera

FULL_FRAME_WIDTH_M = 0.036
CIRCLES_PER_DIAGONAL = 1500.0  # circle of confusion: the sensor's diagonal by this
# Nearest focus of a kind where the document does not say [m]: working values of common lenses.
NEAREST_FOCUS_M = {"built_in": 0.35, "webcam": 0.10, "phone_front": 0.15, "phone_rear": 0.08, "capture": 0.25}


@dataclass(frozen=True, slots=True)
class Depth:
    """From where to where the picture is sharp [m]; ``far_m`` is infinite from the hyperfocal distance on."""

    near_m: float
    far_m: float

    def holds(self, least_m: float, most_m: float) -> bool:
        """Whether all between two distances is sharp."""
        return self.near_m <= least_m + 1e-9 and most_m <= self.far_m + 1e-9


def native_size_m(camera: Camera) -> tuple[float, float]:
    """Width and height of the sensor's part that makes the native picture [m]: the largest of its aspect that fits."""
    lens = camera.lens
    width = min(lens.sensor_width_m, lens.sensor_height_m * camera.native_aspect)
    return width, width / camera.native_aspect


def focal_length_m(camera: Camera) -> float:
    """Focal length, given or from the angle across the native picture: f = diagonal/(2 tan(D/2)) [m]."""
    if camera.lens.focal_length_m is not None:
        return camera.lens.focal_length_m
    return math.hypot(*native_size_m(camera)) / (2 * math.tan(math.radians(camera.lens.diagonal_fov_deg or 60.0) / 2))


def equivalent_m(camera: Camera) -> float:
    """Focal length of the lens on a 36 mm wide sensor that takes in as much across: f 36/width [m] (by width)."""
    return focal_length_m(camera) * FULL_FRAME_WIDTH_M / native_size_m(camera)[0]


def circle_m(camera: Camera, zoom: float | None = None) -> float:
    """Largest blur that still passes for sharp: the used picture's diagonal by 1500 [m]. Zoom crops: what is left is looked at as large.

    Args:
        zoom: other than the camera's own [no unit].
    """
    return math.hypot(*native_size_m(camera)) / (CIRCLES_PER_DIAGONAL * (camera.zoom if zoom is None else zoom))


def hyperfocal_m(focal_m: float, f_number: float, circle: float) -> float:
    """Focus from which on everything up to infinity is sharp: H = f^2/(N c) + f [m]."""
    return focal_m * focal_m / (f_number * circle) + focal_m


def depth_of_field(focal_m: float, f_number: float, circle: float, focus_m: float) -> Depth:
    """Sharp range: near = s(H-f)/(H+s-2f), far = s(H-f)/(H-s), infinite at s >= H [m].

    Args:
        focal_m, circle: focal length and circle of confusion [m].
        f_number: [no unit].
        focus_m: distance s set, longer than the focal length [m].
    """
    hyper = hyperfocal_m(focal_m, f_number, circle)
    near = focus_m * (hyper - focal_m) / (hyper + focus_m - 2 * focal_m)
    far = math.inf if focus_m >= hyper else focus_m * (hyper - focal_m) / (hyper - focus_m)
    return Depth(near, far)


def blur_m(focal_m: float, f_number: float, focus_m: float, at_m: float) -> float:
    """Blur on the sensor of a point at a distance: f^2/(N (s-f)) |D-s|/D [m]; ``at_m`` may be infinite."""
    share = 1.0 if math.isinf(at_m) else abs(at_m - focus_m) / at_m
    return focal_m * focal_m / (f_number * (focus_m - focal_m)) * share


def nearest_focus_m(camera: Camera) -> float:
    """Nearest the camera can focus, given or typical [m]."""
    return camera.focus.nearest_m if camera.focus.nearest_m is not None else NEAREST_FOCUS_M[camera.kind]


def focused_at_m(camera: Camera, subject_m: float) -> float:
    """Where the lens is focused [m]: on the subject, where it was set, or fixed at its hyperfocal distance."""
    focus, focal = camera.focus, focal_length_m(camera)
    if focus.kind == "auto":
        wanted = max(subject_m, nearest_focus_m(camera))
    elif focus.distance_m is not None:
        wanted = focus.distance_m
    else:
        wanted = hyperfocal_m(focal, camera.lens.f_number, circle_m(camera, 1.0)) if focus.kind == "fixed" else subject_m
    return max(wanted, 1.5 * focal)
