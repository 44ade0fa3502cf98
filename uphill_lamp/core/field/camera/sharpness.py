"""How much detail a lens and a zoom leave, and what is sharp (docs/method/frame.md)."""

from __future__ import annotations

from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.scene import optics

SWAY_M = 0.10  # a head comes this far nearer and goes this far back while it speaks
HEAD_DEPTH_M = 0.06  # an autofocus follows the sway; what is left is nose to ears
THIRDS = tuple(round(2 ** (third / 6), 1) for third in range(31))  # f-numbers by third stops, 1 to 32


def detail_px(camera: Camera) -> tuple[int, int]:
    """Real detail that a digital zoom leaves of the picture sent: output by zoom [px]."""
    return round(camera.output_width_px / camera.zoom), round(camera.output_height_px / camera.zoom)


def stopped_down(camera: Camera, focus_m: float, least_m: float, most_m: float) -> float | None:
    """Smallest f-number, by third stops, at which a range is sharp; None if f/32 does not do it."""
    focal, circle = optics.focal_length_m(camera), optics.circle_m(camera)
    fitting = (
        number
        for number in THIRDS
        if number > camera.lens.f_number and optics.depth_of_field(focal, number, circle, focus_m).holds(least_m, most_m)
    )
    return next(fitting, None)


def must_be_sharp_m(camera: Camera, distance_m: float) -> tuple[float, float]:
    """From where to where the picture must be sharp: a swaying head, or with autofocus the head alone [m]."""
    half = HEAD_DEPTH_M if camera.focus.kind == "auto" else SWAY_M
    return distance_m - half, distance_m + half


def sharp_at(camera: Camera, distance_m: float) -> bool:
    """Whether a head at a distance stays sharp."""
    focal, focus_m = optics.focal_length_m(camera), optics.focused_at_m(camera, distance_m)
    depth = optics.depth_of_field(focal, camera.lens.f_number, optics.circle_m(camera), focus_m)
    return depth.holds(*must_be_sharp_m(camera, distance_m))
