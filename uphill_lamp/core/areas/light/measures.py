"""Figures of Light (docs/method/light.md)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np

from uphill_lamp.core.areas.light.glare import mirrored
from uphill_lamp.core.areas.light.key_light import key_light
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.camera.response import HIGHLIGHT_STOPS, LightNeed, need_of, noise_of
from uphill_lamp.core.field.camera.spectral_mix import AWAY_FROM_KEY_DEG, SpectralMix
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, LitScene, face_points
from uphill_lamp.core.field.light.rim import rim_lx
from uphill_lamp.core.field.light.windows import SunBeam, sun_is_out
from uphill_lamp.core.judging import Band, Counts, Measure, Ramp, weighed
from uphill_lamp.core.scene.scene import scene_of

# How much each figure counts in Light. Heaviest is being seen at all.
WEIGHTS = {
    "light.face_level": (3.0, "without light there is no picture, whatever its direction"),
    "light.exposure": (3.0, "a silhouette is no face"),
    "light.sides": (2.0, "it shapes the face, by the look chosen"),
    "light.from_above": (2.0, "hollow eyes are what people dislike most about office light"),
    "light.direct_sun": (2.0, "it burns out and blinds, and moves on within the call"),
    "light.colour": (2.0, "two colours of light leave one cheek orange or blue"),
    "light.glare": (2.0, "bright glasses hide the eyes"),
    "light.from_below": (1.0, "eerie, and rare"),
    "light.separation": (1.0, "one stands out from the wall, or melts into it"),
    "light.softness": (1.0, "hard shadows are a matter of taste within limits"),
    "light.key_height": (1.0, "too high or too low is told by the shadows already"),
    "light.burnt_out": (1.0, "white patches draw the eye"),
    "light.rendering": (1.0, "poor lamps make skin dull"),
    "light.tint": (1.0, "green or pink skin"),
    "light.flicker": (1.0, "bands that crawl through the picture"),
    "light.noise": (1.0, "grain is what tells a cheap picture from a fine one"),
    "light.highlights": (1.0, "a forehead that keeps its shape"),
    "light.rim": (1.0, "light from behind on hair and shoulders sets one off"),
    "light.coloured_sides": (2.0, "coloured sides are wanted: too strong they paint the face, too weak they are not there"),
    "light.darkness": (1.0, "in the dark nothing else tells"),
    "light.from_screens": (1.0, "a face lit by screens alone changes with every page"),
}
COUNTS: dict[str, Counts] = {
    "light.softness": "quality",
    "light.noise": "quality",
    "light.highlights": "quality",
    "light.rim": "quality",
    "light.darkness": "factor",
    "light.from_screens": "factor",
}
SHOWN = (  # in this order
    "face_level", "sides", "from_above", "from_below", "rim", "direct_sun", "softness", "key_height", "exposure", "burnt_out", "separation",
    "noise", "highlights", "darkness", "from_screens", "colour", "tint", "coloured_sides", "rendering", "flicker", "glare",
)  # fmt: skip
PLACES = {f"light.{name}": place for place, name in enumerate(SHOWN)}
MOST_LX = 5000.0
OUTER_LX = 20000.0
# "filled", a main light near the lens with a weaker one further round, lies between even and shaped; its limits are working values.
SIDES = {
    "even": Band(None, 0.5, None, 1.5),
    "filled": Band(None, 0.9, None, 1.8),
    "shaped": Band(0.6, 1.5, 0.2, 2.5),
    "dramatic": Band(1.5, 3.0, 0.8, 4.0),
    "coloured": Band(None, 0.9, None, 1.8),
}
FROM_ABOVE = Band(None, 0.7, None, 2.0)
EXPOSURE = Band(-1, 1, -2.5, 2)
DIRECT_SUN = Band(None, 0.0, None, 0.4)
FROM_BELOW = Band(None, 0.0, None, 1.0)
SOFTNESS = Band(20.0, None, 2.0, None)
KEY_HEIGHT = Band(-5.0, 35.0, -20.0, 60.0)
SEPARATION = Band(-2.5, -0.3, -5.0, 1.5)
BURNT_OUT = Band(None, 0.02, None, 0.25)
COLOUR = Band(None, 25.0, None, 80.0)
TINT = Band(-0.006, 0.006, -0.015, 0.015)
RENDERING = Band(90.0, None, 70.0, None)
FLICKER = Band(None, 0.01, None, 0.15)
BANDS_SHOW = 0.05  # ripple from which bands are seen
NOISE = Band(45.0, None, 22.0, None, log2=True)
HIGHLIGHTS = Band(3.5, None, 2.3, None)
# Hair and shoulders from behind against the face; who wants even light wants less of it.
_RIM = Band(-1.0, 1.0, -5.0, 2.5)
RIM = {"even": Band(-2.5, 0.5, -5.0, 2.5), "filled": _RIM, "shaped": _RIM, "dramatic": _RIM, "coloured": _RIM}
COLOURED_SIDES = Band(1.0, 2.0, -1.0, 5.0)
NO_COLOUR_STOPS = 8.0  # under the main light: so little colour is none
DARKNESS = Ramp(100.0, None, 50.0, None, log2=True)
FROM_SCREENS = Ramp(None, 0.6, None, 0.8)
FARTHEST_GLARE_DEG = 45.0  # farther off, or with nothing bright about, it makes no difference
GLARE = Band(3.0, None, -4.0, None)
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


def direct_sun_share(lit_scene: LitScene) -> float | None:
    """Share of the five points of the face that the sun's beam falls on, 0-1; None while no sun could come in."""
    setup = lit_scene.setup
    if not sun_is_out(setup):
        return None
    places, normals = (rows[:SUNNED] for rows in face_points(scene_of(setup).face))
    beams = [source.illuminance_lx(places, normals) > 0 for source in lit_scene.sources if isinstance(source, SunBeam)]
    return float(np.any(beams, axis=0).mean()) if beams else 0.0


def light_paths(setup: Setup) -> list[str]:
    """Paths of the values on which the light figures mostly rest."""
    lamps = [f"/lights/{light.id}/flux_lm" for light in setup.lights if light.on]
    panes = [f"/room/windows/{window.id}/width_m" for window in setup.room.windows]
    return [*lamps, *panes, "/presenter/x_m", "/presenter/y_m"]


def measures(lit_scene: LitScene, metered: Metered, unmetered: tuple[Measure, ...]) -> tuple[Measure, ...]:
    """All measures of Light for the main camera, as they are shown; what does not apply, such as glare without glasses, is left out.

    Args:
        unmetered: those that the camera's answer is not asked for.
    """
    figures = (*unmetered, *_weighed(lit_scene.setup, (*_picture(metered), *_colour(lit_scene, metered))))
    return tuple(sorted(figures, key=lambda measure: PLACES[measure.id]))


def unmetered(lit_scene: LitScene) -> tuple[Measure, ...]:
    """Those of the measures that the camera's answer to the light is not asked for: they are there in half the time."""
    setup = lit_scene.setup
    return _weighed(setup, (*_on_face(setup, lit_scene), *_source(lit_scene), *_camera(setup, lit_scene), *_in_glasses(lit_scene)))


Row = tuple[str, str, float | None, str, Band, str]


def _weighed(setup: Setup, rows: Iterable[Row]) -> tuple[Measure, ...]:
    origin = setup.origin_of(*light_paths(setup))
    figures = (
        Measure(name, label, value, unit, band, origin, about) for name, label, value, unit, band, about in rows if value is not None
    )
    return weighed(figures, WEIGHTS, COUNTS)


def _on_face(setup: Setup, lit_scene: LitScene) -> Iterator[Row]:
    face = lit_scene.face_lx
    need = need_of(setup)
    yield ("light.face_level", "On your face", face["front"], "lx", level_band(need),
           "What falls on the front of your face, against what this camera needs for a clean picture.")  # fmt: skip
    yield ("light.sides", "Side to side", sides_stops(face), "stops", SIDES[setup.preferences.look],
           "How much brighter one cheek is than the other; each stop is a doubling.")  # fmt: skip
    yield ("light.from_above", "Top light", stops(face["top"], face["front"]), "stops", FROM_ABOVE,
           "Light on the top of your head against light on your face; much of it makes hollow eyes.")  # fmt: skip
    yield ("light.from_below", "Light from below", stops(face["under_chin"], face["brow"]), "stops", FROM_BELOW,
           "Light under your chin against light on your brow; more from below looks eerie.")  # fmt: skip
    yield ("light.rim", "Light from behind", stops(rim_lx(lit_scene), face["front"]), "stops", RIM[setup.preferences.look],
           "Light on your hair and shoulders from behind, against light on your face: a rim of it sets you off from the wall.")  # fmt: skip
    yield ("light.direct_sun", "Sun on you", direct_sun_share(lit_scene), "share", DIRECT_SUN,
           "How much of your face the sun itself falls on: it makes hard edges, and you squint.")  # fmt: skip


def _camera(setup: Setup, lit_scene: LitScene) -> Iterator[Row]:
    """What the camera makes of so much light, and how much of it screens give."""
    camera, front_lx = setup.main_camera, lit_scene.face_lx["front"]
    noise = noise_of(setup, front_lx)
    yield ("light.noise", "Clean picture", noise, "to 1", NOISE,
           "How far the picture stands above its own grain; more light, a larger sensor or a wider lens raise it.")  # fmt: skip
    yield ("light.highlights", "Highlights kept", HIGHLIGHT_STOPS[camera.kind], "stops", HIGHLIGHTS,
           "How much brighter than mid grey a place may be before this camera shows it plain white.")  # fmt: skip
    yield ("light.darkness", "Light enough at all", front_lx, "lx", DARKNESS,
           "In the dark all of Light counts less: half of it up to 50 lx, all of it from 100.")  # fmt: skip
    yield ("light.from_screens", "Light from screens", screens_share(setup, lit_scene), "share", FROM_SCREENS,
           "How much of the light on your face comes from screens: over 60 % all of Light counts less.")  # fmt: skip


def screens_share(setup: Setup, lit_scene: LitScene) -> float:
    """Share of the light on the front of the face that screens give, 0-1."""
    front, ids = lit_scene.whole_by_source_lx[:, 0], {screen.id for screen in setup.screens}
    given = sum(float(lx) for source, lx in zip(lit_scene.sources, front, strict=True) if source.id in ids)
    return given / max(float(front.sum()), LEAST_LX)


def _source(lit_scene: LitScene) -> Iterator[Row]:
    lead = key_light(lit_scene)
    if lead is None:
        return
    yield ("light.softness", "Softness", lead.fills_deg, "deg", SOFTNESS,
           "How large the light that leads is, seen from your face: the larger, the softer its shadows.")  # fmt: skip
    yield ("light.key_height", "Main light's height", lead.height_deg, "deg", KEY_HEIGHT,
           "How high the light that leads stands, seen from your eyes.")  # fmt: skip


def _picture(metered: Metered) -> Iterator[Row]:
    yield ("light.exposure", "Exposure", metered.error_stops, "stops", EXPOSURE,
           "How much too bright or, with a minus, too dark the camera shows your face.")  # fmt: skip
    yield ("light.burnt_out", "Burnt out", metered.burnt_share, "share", BURNT_OUT,
           "How much of the picture is so bright that it turns plain white.")  # fmt: skip
    yield ("light.separation", "Background against face", metered.behind_stops, "stops", SEPARATION,
           "How much brighter or, with a minus, darker it is behind you than on a face: a little darker sets you off.")  # fmt: skip


def _colour(lit_scene: LitScene, metered: Metered) -> Iterator[Row]:
    mixture = SpectralMix(lit_scene, metered)
    yield ("light.colour", "Light colours differ", mixture.spread_mired, "mired", COLOUR,
           "How far apart the whites of the light on your cheeks and behind you are, from candle yellow to sky blue.")  # fmt: skip
    yield ("light.tint", "Tint", mixture.duv, "duv", TINT,
           "How green or, with a minus, pink the light on your face is; daylight itself is at +0.003.")  # fmt: skip
    yield ("light.coloured_sides", "Coloured sides", coloured_sides_stops(mixture), "stops", COLOURED_SIDES,
           "How far the coloured light on a cheek lies under the white light there: one stop to two keeps a face a face.")  # fmt: skip
    yield ("light.rendering", "True colours", mixture.rendering, "Ra", RENDERING,
           "How truly the light that gives your face most shows colours; daylight has 100.")  # fmt: skip
    yield ("light.flicker", "Flicker", mixture.flicker, "share", FLICKER,
           "What is left of the lamps' flicker in the picture, as a share of its brightness: over 5 % bands are seen to wander.")  # fmt: skip


def coloured_sides_stops(mixture: SpectralMix) -> float | None:
    """How far coloured light lies under the white at its cheek, of the lamp that is furthest off what is wanted; None unless they are
    wanted. A lamp that stands too near the main light, or that shines on the wall alone, makes no coloured side."""
    if mixture.lit_scene.setup.preferences.look != "coloured":
        return None
    sides = [
        accent.stops_under
        for accent in mixture.accents
        if accent.from_key_deg >= AWAY_FROM_KEY_DEG and accent.stops_under < (COLOURED_SIDES.outer_high or 0.0)
    ]
    middle = ((COLOURED_SIDES.ideal_low or 0.0) + (COLOURED_SIDES.ideal_high or 0.0)) / 2
    return max(sides, key=lambda stops: abs(stops - middle), default=NO_COLOUR_STOPS)


def _in_glasses(lit_scene: LitScene) -> Iterator[Row]:
    if lit_scene.setup.presenter.glasses == "none":
        return
    nearest = next(iter(mirrored(lit_scene)), None)
    margin_deg = min(nearest.margin_deg, FARTHEST_GLARE_DEG) if nearest else FARTHEST_GLARE_DEG
    yield ("light.glare", "Glass glare", margin_deg, "deg", GLARE,
           "How far the nearest bright thing is from being mirrored in your glasses; with a minus it is.")  # fmt: skip
