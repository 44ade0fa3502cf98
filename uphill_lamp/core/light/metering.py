"""Exposure: what the camera makes of everything in view (handbook 04, "Exposure")."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.light.falling import LEAST_LX, Falling
from uphill_lamp.core.light.sources import AreaSource, FloatArray
from uphill_lamp.core.scene.placing import pinhole_of
from uphill_lamp.core.scene.response import GREY_CARD
from uphill_lamp.core.scene.view import LAMP_RADIUS_M, View, view_of

COLUMNS, ROWS = 32, 18
LEAST_LUMINANCE_CD_M2 = 0.01


@dataclass(frozen=True)
class Metered:
    """How the camera exposes: luminance that it takes for the mean [cd/m2], and the face's error in stops."""

    mean_cd_m2: float
    error_stops: float


def luminance_of(view: View, falling: Falling, rays: FloatArray, fineness: int = 3) -> FloatArray:
    """Luminance of what each ray meets, shape (N,) [cd/m2]: its own light, or E rho / pi."""
    luminance = np.zeros(len(view.what))
    shining = {source.id: source for source in falling.sources}
    things = {light.id: light.luminance_cd_m2 for light in falling.setup.backdrop}
    lit = np.ones(len(view.what), dtype=bool)
    for index, thing in enumerate(view.things):
        if thing.kind not in ("window", "screen", "lamp", "backdrop"):
            continue
        here = view.what == index
        if not here.any():
            continue
        source = shining.get(thing.name)
        if thing.kind == "backdrop":
            luminance[here] += things.get(thing.name, 0.0)
        elif isinstance(source, AreaSource):
            luminance[here] = source.seen_cd_m2(rays[here])
            lit &= ~here
        elif source is not None:
            # A bulb in view shines as a ball of its size: I / area seen.
            luminance[here] = source.flux_lm / (4 * math.pi) / (math.pi * LAMP_RADIUS_M**2)
            lit &= ~here
    falls = falling.illuminance_lx(view.place[lit], view.normal[lit], fineness)
    luminance[lit] += falls * view.reflectance[lit] / math.pi
    return luminance


def meter(falling: Falling, camera: Camera | None = None) -> Metered:
    """How the main camera's metering exposes the face. Skin plays no part: the reference face stands in."""
    setup = falling.setup
    camera = camera or setup.main_camera
    grey = max(falling.face_lx["front"], LEAST_LX) * GREY_CARD / math.pi
    if camera.metering == "locked" and camera.locked_exposure_lx:
        mean = camera.locked_exposure_lx * GREY_CARD / math.pi
        return Metered(mean, math.log2(grey / mean))
    pinhole = pinhole_of(setup, camera)
    x, y = np.meshgrid((np.arange(COLUMNS) + 0.5) / COLUMNS, (np.arange(ROWS) + 0.5) / ROWS)
    rays = pinhole.ray(x.ravel(), y.ravel())
    view = view_of(setup, pinhole, rays)
    luminance = luminance_of(view, falling, rays)
    weights = np.ones(len(luminance))
    if camera.metering == "centre":
        weights = np.exp(-(((x - 0.5) / 0.25) ** 2 + ((y - 0.5) / 0.25) ** 2)).ravel()
    elif camera.metering == "face":
        face = view.mask("head")
        weights = face.astype(float) if face.any() else weights
    mean = max(float(np.average(luminance, weights=weights)), LEAST_LUMINANCE_CD_M2)
    return Metered(mean, math.log2(grey / mean))
