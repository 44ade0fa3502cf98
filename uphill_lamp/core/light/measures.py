"""Figures of Light (handbook 04, the table)."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Measure
from uphill_lamp.core.light.falling import FACE_POINTS, LEAST_LX, Falling, face_points
from uphill_lamp.core.light.metering import Metered
from uphill_lamp.core.light.windows import SunBeam, sun_is_out
from uphill_lamp.core.scene.placing import face_of
from uphill_lamp.core.scene.response import LightNeed, light_need

MOST_LX = 5000.0
OUTER_LX = 20000.0
SIDES = {"even": Band(None, 0.5, None, 1.5), "shaped": Band(0.6, 1.5, 0.2, 2.5), "dramatic": Band(1.5, 3.0, 0.8, 4.0)}
FROM_ABOVE = Band(None, 0.7, None, 2.0)
EXPOSURE = Band(-1, 1, -2.5, 2)
DIRECT_SUN = Band(None, 0.0, None, 0.4)
SUNNED = len(FACE_POINTS) - 1  # the five of the face itself; the top of the head is hair


def level_band(need: LightNeed) -> Band:
    """Wanted face level [lx]; a need above 5000 moves the top with it."""
    return Band(need.clean_lx, max(MOST_LX, need.clean_lx), need.bearable_lx, max(OUTER_LX, 4 * need.clean_lx), log2=True)


def stops(brighter_lx: float, darker_lx: float) -> float:
    """Ratio of two levels in stops, neither taken below 0.1 lx."""
    return math.log2(max(brighter_lx, LEAST_LX) / max(darker_lx, LEAST_LX))


def sides_stops(face_lx: dict[str, float]) -> float:
    """How much brighter one cheek is than the other [stops], 0 or more."""
    return abs(stops(face_lx["left_cheek"], face_lx["right_cheek"]))


def direct_sun_share(falling: Falling) -> float | None:
    """Share of the five points of the face that the sun's beam falls on, 0-1; None while no sun could come in."""
    setup = falling.setup
    if not sun_is_out(setup):
        return None
    places, normals = (rows[:SUNNED] for rows in face_points(face_of(setup)))
    beams = [source.illuminance_lx(places, normals) > 0 for source in falling.sources if isinstance(source, SunBeam)]
    return float(np.any(beams, axis=0).mean()) if beams else 0.0


def light_paths(setup: Setup) -> list[str]:
    """Paths of the values on which the light figures mostly rest."""
    lamps = [f"/lights/{light.id}/flux_lm" for light in setup.lights if light.on]
    panes = [f"/room/windows/{window.id}/width_m" for window in setup.room.windows]
    return [*lamps, *panes, "/presenter/x_m", "/presenter/y_m"]


def measures(setup: Setup, falling: Falling, metered: Metered) -> tuple[Measure, ...]:
    """All measures of Light for the main camera."""
    face = falling.face_lx
    need = light_need(setup.main_camera, setup.place.mains_hz, setup.call.output_aspect)
    origin = setup.origin_of(*light_paths(setup))
    sun = direct_sun_share(falling)
    found = (
        Measure("light.face_level", "Light on the face", face["front"], "lx", level_band(need), origin,
                "What falls on the front of your face, against what this camera needs for a clean picture."),
        Measure("light.sides", "Side to side", sides_stops(face), "stops", SIDES[setup.preferences.look], origin,
                "How much brighter one cheek is than the other; each stop is a doubling."),
        Measure("light.from_above", "From above", stops(face["top"], face["front"]), "stops", FROM_ABOVE, origin,
                "Light on the top of your head against light on your face; much of it makes hollow eyes."),
        Measure("light.exposure", "Exposure", metered.error_stops, "stops", EXPOSURE, origin,
                "How much too bright or, with a minus, too dark the camera shows your face."),
    )  # fmt: skip
    if sun is None:
        return found
    about = "How much of your face the sun itself falls on: it makes hard edges, and you squint."
    return (*found, Measure("light.direct_sun", "Sun on the face", sun, "share", DIRECT_SUN, origin, about))
