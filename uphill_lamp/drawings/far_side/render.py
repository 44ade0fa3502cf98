"""The far side's picture: real projection, computed light, the camera's exposure, white balance and noise."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.appraisal import Appraisal
from uphill_lamp.core.document.finishes import FINISHES
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.light.falling import Falling
from uphill_lamp.core.light.key import leading
from uphill_lamp.core.light.metering import Metered
from uphill_lamp.core.light.sources import AreaSource
from uphill_lamp.core.scene.body import Ellipsoid, cloth_normals, head_frame
from uphill_lamp.core.scene.placing import face_of, pinhole_of, room_size
from uphill_lamp.core.scene.response import signal_to_noise
from uphill_lamp.core.scene.view import View, view_of
from uphill_lamp.drawings.far_side.colour import LUMA, FloatArray, developed, hex_rgb, of_reflectance, white_rgb
from uphill_lamp.drawings.far_side.face import FaceTexture, face_texture, figure, sample
from uphill_lamp.drawings.far_side.grid import Spots, lit_together, surface_light, surface_spots, upright_light, upright_spots
from uphill_lamp.drawings.far_side.light import Harmonics, Returned
from uphill_lamp.drawings.far_side.mirror import Mirrors
from uphill_lamp.drawings.far_side.paint import CUT_OUT, painted
from uphill_lamp.drawings.far_side.shadow import kept_from

FULL_COLUMNS = 480
SURFACE_HUES = {"floor_wood": "#9a7448", "floor_laminate": "#a5855c", "wood_panel": "#8a6844", "brick_bare": "#96604a",
                "carpet_thin": "#7d7468", "carpet_thick": "#74706c", "wallpaper_light": "#c9bfa6", "curtain_wall": "#7c6a78",
                "books_wall": "#7a6450"}  # fmt: skip
PLAIN_HUE = "#cfc8ba"
AUTO_WHITE = 0.8  # how far automatic white balance goes towards calling the scene's own light white
MIDTONE = 0.23  # a camera's own development lifts what it meters, 0.18, by about a third of a stop


@dataclass(frozen=True)
class Picture:
    """A rendered picture: 8-bit sRGB, shape (rows, columns, 3)."""

    pixels: NDArray[np.uint8]

    def jpeg(self, quality: int = 86) -> bytes:
        """The picture as a JPEG file."""
        from PIL import Image

        buffer = io.BytesIO()
        Image.fromarray(self.pixels).save(buffer, "JPEG", quality=quality)
        return buffer.getvalue()


def render(appraisal: Appraisal, columns: int = FULL_COLUMNS) -> Picture:
    """What the main camera sends of an appraised setup, not mirrored.

    Args:
        appraisal: geometry, light and metering come from it.
        columns: width of the picture; its height follows from the output's aspect [px].
    """
    return rendered(appraisal.falling, appraisal.metered, columns)


def rendered(falling: Falling, metered: Metered, columns: int) -> Picture:
    """What the main camera sends of a setup whose light and metering are known.

    Args:
        falling: the setup and its light.
        metered: what the camera makes of it.
        columns: width of the picture [px].
    """
    setup = falling.setup
    pinhole = pinhole_of(setup)
    rows = max(2, round(columns / pinhole.field.aspect))
    x, y = np.meshgrid((np.arange(columns, dtype=np.float32) + 0.5) / columns, (np.arange(rows, dtype=np.float32) + 0.5) / rows)
    rays = pinhole.ray(x.ravel(), y.ravel()).astype(np.float32)
    shape = figure(setup.presenter)
    cutouts = {thing.id: partial(_covers, thing) for thing in setup.backdrop if thing.kind in CUT_OUT}
    view = view_of(setup, pinhole, rays, shape, cutouts)
    luminance = _Painter(setup, falling, view, rays, shape).paint()
    linear = luminance * np.float32(MIDTONE / metered.mean_cd_m2)
    linear = _balanced(setup, linear)
    linear = _noisy(falling, metered, linear).reshape(rows, columns, 3)
    return Picture(developed(linear))


def _covers(thing: BackdropThing, across: FloatArray, down: FloatArray) -> NDArray[np.bool_]:
    return painted(thing, across, down)[1]


class _Painter:
    """Luminance by ray, shape (N, 3) in linear sRGB [cd/m2], thing by thing."""

    def __init__(self, setup: Setup, falling: Falling, view: View, rays: FloatArray, shape: tuple[Ellipsoid, ...]) -> None:
        self.setup, self.falling, self.view, self.rays = setup, falling, view, rays
        self.face, self.shape = face_of(setup), shape
        self.returned = Returned.of(falling)
        self.even = self.returned.mean
        self.sources = {source.id: source for source in falling.sources}
        self.out = np.zeros((len(rays), 3), dtype=np.float32)

    def paint(self) -> FloatArray:
        body = np.zeros(len(self.rays), dtype=bool)
        seen = {index: np.flatnonzero(self.view.what == index) for index in np.unique(self.view.what)}
        self.lit = lit_together(self.falling, self.returned, self._asked(seen))
        for index, here in seen.items():
            thing = self.view.things[index]
            if thing.kind == "surface":
                self._surface(thing.name, here)
            elif thing.kind == "window":
                self._window(thing.name, here)
            elif thing.kind == "screen":
                self.out[here] = self._own(thing.name, here) if thing.name in self.sources else 0.02 * self.even
            elif thing.kind == "reflector":
                self.out[here] = self._own(thing.name, here) if thing.name in self.sources else 0.25 * self.even
            elif thing.kind == "lamp":
                self._lamp(thing.name, here)
            elif thing.kind == "backdrop":
                self._backdrop(thing.name, here)
            else:
                body[here] = True
        self._body(np.flatnonzero(body))
        return self.out

    def _asked(self, seen: dict[int, NDArray[np.int64]]) -> dict[tuple[str, str], Spots]:
        """Where the light is wanted for what is seen of walls and things behind."""
        asked = {}
        for index, here in seen.items():
            thing = self.view.things[index]
            if thing.kind == "surface":
                asked[thing.kind, thing.name] = surface_spots(room_size(self.setup.room), thing.name)
            elif thing.kind == "backdrop":
                asked[thing.kind, thing.name] = upright_spots(self.view.place[here], self.view.normal[here[0]])
        return asked

    def _own(self, name: str, here: NDArray[np.int64]) -> FloatArray:
        source = self.sources[name]
        assert isinstance(source, AreaSource)
        return (source.seen_cd_m2(self.rays[here])[:, None] * white_rgb(source.cct_k, source.duv)).astype(np.float32)

    def _surface(self, name: str, here: NDArray[np.int64]) -> None:
        finish = getattr(self.setup.room.surfaces, name)
        reflectance = FINISHES[finish].reflectance if isinstance(finish, str) else finish.reflectance
        hue = SURFACE_HUES.get(finish, PLAIN_HUE) if isinstance(finish, str) else PLAIN_HUE
        albedo = of_reflectance(hex_rgb(hue), reflectance)
        self.out[here] = (
            surface_light(room_size(self.setup.room), name, self.lit["surface", name], self.view.place[here]) * albedo / np.float32(np.pi)
        )
        if name.startswith("wall"):
            skirting = here[self.view.place[here, 2] < 0.09]
            self.out[skirting] *= 1.12

    def _window(self, name: str, here: NDArray[np.int64]) -> None:
        window = next(window for window in self.setup.room.windows if window.id == name)
        across, down = self.view.across[here], self.view.down[here]
        x, y = np.abs(across - 0.5) * window.width_m, np.abs(down - 0.5) * window.height_m
        frame = (
            (x < 0.022)
            | (x > window.width_m / 2 - 0.045)
            | (y > window.height_m / 2 - 0.045)
            | (np.abs(down - 0.42) * window.height_m < 0.018)
        )
        if name in self.sources:
            self.out[here] = self._own(name, here)
        else:
            self.out[here] = self.even * np.float32(0.03 / np.pi)
        lit = self.even * np.float32(0.6 / np.pi)
        if window.covering.kind == "none":
            self.out[here[frame]] = lit
        elif window.covering.kind in ("blackout", "blind"):
            folds = 0.8 + 0.2 * np.sin((down if window.covering.kind == "blind" else across) * 90)
            self.out[here] += (lit * folds[:, None]).astype(np.float32)

    def _lamp(self, name: str, here: NDArray[np.int64]) -> None:
        light = next(light for light in self.setup.lights if light.id == name)
        shade = (self.even * np.float32(0.5 / np.pi))[None]
        if name not in self.sources:
            self.out[here] = shade
            return
        glow = min(light.flux_lm * light.dim * 4, 40000.0)
        self.out[here] = glow * white_rgb(light.cct_k, light.duv)

    def _backdrop(self, name: str, here: NDArray[np.int64]) -> None:
        thing = next(thing for thing in self.setup.backdrop if thing.id == name)
        albedo, _ = painted(thing, self.view.across[here].astype(np.float32), self.view.down[here].astype(np.float32))
        falls = upright_light(self.lit["backdrop", name], self.view.place[here])
        own = np.float32(thing.luminance_cd_m2)
        self.out[here] = falls * albedo / np.float32(np.pi) + own

    def _body(self, here: NDArray[np.int64]) -> None:
        if not len(here):
            return
        names = np.array([thing.kind for thing in self.view.things])[self.view.what[here]]
        frame = head_frame(self.face)
        places = ((self.view.place[here] - self.face.eyes) @ frame.T).astype(np.float32)
        normals = (self.view.normal[here] @ frame.T).astype(np.float32)
        cloth = names == "shirt"
        normals[cloth] = cloth_normals(self.shape, places[cloth])
        skin = (names == "head") & (normals[:, 0] > 0.05)
        albedo, shine = self._albedo(names, places, skin, normals)
        head, breast = Harmonics.at(self.falling, self.returned, self.face, (-0.02, -0.34))
        chest = (names == "shirt") | (names == "neck")
        falls = head.fall(normals)
        falls[chest] = breast.fall(normals[chest])
        heads = [part for part in self.shape if part.part == "head"]
        falls[skin] -= kept_from(leading(self.falling), self.face, heads, places[skin], normals[skin])
        falls = np.maximum(falls, 0.15 * self.even) * _shade(names, places, skin, head)[:, None]
        self.out[here] = falls * albedo / np.float32(np.pi) + shine * head.fall(normals) * 0.02
        on = np.flatnonzero(skin)
        mirrors = Mirrors(self.falling.sources, self.face, self.setup.presenter.glasses)
        self.out[here[on]] += mirrors.seen(places[on], self.rays[here[on]])

    def _albedo(
        self, names: NDArray[np.str_], places: FloatArray, skin: NDArray[np.bool_], normals: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Albedo (N, 3) and sheen (N, 1) of the body; bends the face's normals to its relief on the way."""
        presenter = self.setup.presenter
        tone = _skin_rgb(presenter.skin_reflectance)
        hair = hex_rgb(presenter.hair_colour)
        tops = [garment for garment in presenter.clothing if garment.kind in ("top", "jacket", "scarf")]
        shirt = of_reflectance(hex_rgb(tops[-1].colour), tops[-1].reflectance) if tops else of_reflectance(hex_rgb("#66707a"), 0.2)
        albedo = np.empty((len(names), 3), dtype=np.float32)
        albedo[:] = tone
        albedo[names == "shirt"] = shirt
        # A round neckline: skin inside it, a darker hem on it.
        neckline = np.hypot(places[:, 1] / 0.078, (places[:, 2] + 0.148) / 0.058)
        front = (names == "shirt") & (places[:, 0] > -0.10)
        albedo[front & (neckline < 1.0)] = tone
        albedo[front & (neckline >= 1.0) & (neckline < 1.1)] *= 0.7
        strands = names == "hair"
        albedo[strands] = hair
        if presenter.hair != "covered":
            streaks = np.sin(places[strands, 1] * 900 + 40 * places[strands, 2]) * np.sin(places[strands, 1] * 310 + 9)
            albedo[strands] *= (0.85 + 0.2 * streaks)[:, None]
        shine = np.zeros((len(names), 1), dtype=np.float32)
        shine[skin] = 1.0
        shine[strands] = 0.6
        _paint_face(albedo, normals, places, np.flatnonzero(skin), face_texture(), hair, presenter.glasses != "none", tone)
        return albedo, shine


def _paint_face(
    albedo: FloatArray,
    normals: FloatArray,
    places: FloatArray,
    on: NDArray[np.int64],
    texture: FaceTexture,
    hair: FloatArray,
    glasses: bool,
    tone: FloatArray,
) -> None:
    y, z = places[on, 1], places[on, 2]
    part = {name: sample(weights, y, z)[:, None] for name, weights in texture.parts.items()}
    colours: tuple[tuple[str, FloatArray, float], ...] = (
        ("blush", tone * np.array([1.12, 0.86, 0.82], np.float32), 0.45),
        ("lips", tone * np.array([1.02, 0.62, 0.60], np.float32), 0.85),
        ("parting", tone * np.float32(0.25), 0.9),
        ("nostrils", tone * np.float32(0.2), 0.85),
        ("lid", tone * np.float32(0.55), 0.5),
        ("brows", hair * np.float32(0.8), 0.75),
        ("white", np.array([0.46, 0.44, 0.42], np.float32), 1.0),
        ("iris", np.array([0.10, 0.075, 0.05], np.float32), 1.0),
        ("pupil", np.array([0.01, 0.01, 0.01], np.float32), 1.0),
        ("lash", np.array([0.02, 0.015, 0.012], np.float32), 0.8),
    )
    painted_skin = albedo[on]
    for name, colour, strength in colours:
        weight = part[name] * np.float32(strength)
        painted_skin = painted_skin * (1 - weight) + colour * weight
    if glasses:
        weight = part["rims"] * np.float32(0.95)
        painted_skin = painted_skin * (1 - weight) + np.array([0.03, 0.03, 0.035], np.float32) * weight
    albedo[on] = painted_skin
    bent = normals[on]
    flat = 1 - part["white"][:, 0] * 0.6
    bent[:, 1] -= sample(texture.slope_y, y, z) * bent[:, 0] * flat
    bent[:, 2] -= sample(texture.slope_z, y, z) * bent[:, 0] * flat
    normals[on] = bent / np.linalg.norm(bent, axis=1, keepdims=True)


def _shade(names: NDArray[np.str_], places: FloatArray, skin: NDArray[np.bool_], light: Harmonics) -> FloatArray:
    """What the body hides from itself, 0-1: sockets, under the nose, neck under the chin; more the steeper the light."""
    steep = np.float32(np.clip(light.main[2], 0, 1))
    shade = np.ones(len(names), dtype=np.float32)
    hollow = sample(face_texture().hollow, places[skin, 1], places[skin, 2])
    shade[skin] -= hollow * (0.22 + 0.5 * steep)
    neck = names == "neck"
    shade[neck] *= 1 - (0.25 + 0.45 * steep) * np.clip((places[neck, 2] + 0.215) / 0.10, 0, 1)
    shirt = names == "shirt"
    near = np.hypot(places[shirt, 0] + 0.07, places[shirt, 1])
    shade[shirt] *= 1 - 0.35 * np.exp(-((near / 0.10) ** 2)) * (places[shirt, 2] > -0.30)
    ears = names == "ear"
    shade[ears] *= 0.8
    return shade


def _skin_rgb(reflectance: float) -> FloatArray:
    """Albedo of skin from very dark to very light; hue moves with depth as skins do."""
    dark, light = np.array([0.60, 0.36, 0.26], np.float32), np.array([0.62, 0.43, 0.35], np.float32)
    share = np.float32(np.clip((reflectance - 0.1) / 0.5, 0, 1))
    return of_reflectance(dark * (1 - share) + light * share, max(reflectance, 0.04))


def _balanced(setup: Setup, linear: FloatArray) -> FloatArray:
    balance = setup.main_camera.white_balance
    if balance.kind == "locked" and balance.cct_k:
        white = white_rgb(balance.cct_k)
    else:
        # Burnt-out parts tell a camera nothing about the colour of the light.
        mean = np.minimum(linear, 1.0).mean(axis=0)
        grey = mean / max(float(mean @ LUMA), 1e-6)
        white = np.clip(grey, 0.3, 3.0) ** np.float32(AUTO_WHITE)
    return np.asarray(linear / white)


@lru_cache(maxsize=4)
def _grain(count: int) -> FloatArray:
    return np.random.default_rng(7).standard_normal((count, 3), dtype=np.float32)


def _noisy(falling: Falling, metered: Metered, linear: FloatArray) -> FloatArray:
    """Grain by the photons that are there; the same grain each time, so that pictures can be compared."""
    setup, face_lx = falling.setup, max(falling.face_lx["front"], 0.05)
    snr = signal_to_noise(setup.main_camera, face_lx, setup.place.mains_hz, setup.call.output_aspect)
    face = np.float32(MIDTONE * 2.0**metered.error_stops)
    grain = _grain(len(linear))
    spread = np.sqrt(np.maximum(linear, 0.002) * face) / np.float32(max(snr, 1.0))
    return np.asarray(np.maximum(linear + 0.8 * grain * spread, 0))
