"""A camera where it stands, in a few sentences: what to do with its lid, and what its lens makes of this room."""

from __future__ import annotations

import math

from uphill_lamp.core.areas.frame.gear_moves import desk_share
from uphill_lamp.core.areas.frame.lens_figures import LensFigures, lens_figures
from uphill_lamp.core.areas.frame.mended_aim import retilt
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import CLEAN_SNR, ripple_left
from uphill_lamp.core.scene import aiming
from uphill_lamp.core.scene.wording import Units, length, percent


def lid_advice(setup: Setup, camera: Camera) -> str:
    """How far to open a laptop's lid where it stands now; empty for other cameras or where no lid helps."""
    lid = aiming.lid_of(setup, camera) if camera.use == "main" else None
    mended = retilt(setup) if lid is not None else None
    if lid is None or mended is None:
        return ""
    wanted_deg = float(mended.patch[0]["value"])
    if abs(wanted_deg - (lid.hinge_deg or 0.0)) < 0.6:
        return f"At this height the lid is right at {wanted_deg:.0f}°."
    return f"At this height open the lid to {wanted_deg:.0f}°."


def lens_lines(setup: Setup, camera: Camera, face_lx: float) -> list[tuple[str, str]]:
    """The lens in figures, as pairs of a name and what it is.

    Args:
        face_lx: light on the front of the face [lx].
    """
    figures, units = lens_figures(setup, face_lx, camera), setup.preferences.units
    wide_px, high_px = figures.detail_px
    return [
        ("Takes in", f"{figures.field.horizontal_deg:.0f}° across and {length(figures.room_in_view_m, units)} of the wall behind"),
        ("For the wanted shot", f"{length(figures.wanted_distance_m, units)} from the eyes, {figures.width_words}"),
        ("Focal length", f"{figures.focal_m * 1000:.1f} mm, as {figures.equivalent_m * 1000:.0f} mm by width on a 36 mm sensor "
                         f"(crop factor {figures.crop_factor:.1f})"),
        ("Sharp", f"{_sharp(figures, units)}; the wall behind {figures.blur_words} ({100 * figures.blur_share:.1f} % of the picture)"),
        ("Real detail", f"{wide_px} × {high_px} px"),
        ("Shutter", f"1/{1 / figures.shutter_s:.0f} s in dim light{_flicker(setup, figures)}"),
        ("Signal to noise", f"{figures.signal_to_noise:.0f} to 1 at your face; {CLEAN_SNR:.0f} is clean"),
    ]  # fmt: skip


def _sharp(figures: LensFigures, units: Units) -> str:
    near = length(figures.depth.near_m, units)
    return f"from {near} on" if math.isinf(figures.depth.far_m) else f"{near} to {length(figures.depth.far_m, units)} away"


def _flicker(setup: Setup, figures: LensFigures) -> str:
    """How much of the flicker of lamps on the mains is left in the picture."""
    left = ripple_left(figures.shutter_s, setup.place.mains_hz)
    if left < 0.01:
        return ", in step with lamps on the mains"
    return f": {figures.flickers:.1f} flickers of a {setup.place.mains_hz:g} Hz lamp, of which {percent(left)} is left in the picture"


def desk_words(setup: Setup) -> str:
    """How full the desk is."""
    return f"Gear takes {percent(desk_share(setup))} of it."
