"""The presenter in the picture: the body's samples, their colour, and the light that falls on them."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache, partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.people import Garment, Presenter
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.drawings.far_side.colour import hex_rgb, light_rgb, of_reflectance
from uphill_lamp.drawings.far_side.face import FOOT_M, HALF_WIDTH_M, TOP_M, face_texture
from uphill_lamp.drawings.figure import fitted, shade
from uphill_lamp.drawings.figure.lit import Stood, Thrown, together
from uphill_lamp.drawings.figure.own import handed_on
from uphill_lamp.drawings.figure.raster import nearest
from uphill_lamp.drawings.figure.shadows import spread
from uphill_lamp.drawings.figure.surround import Open, around, openness

FINE = 2  # samples along each side of a pixel
PATTERNS = {"plain": 0, "stripe": 1, "check": 2}
GLOSS = {fitted.SKIN: (0.028, 14.0), fitted.HAIR: (0.022, 9.0), fitted.FRAME: (0.05, 40.0)}
UNDER_SKIN = (3, 2, 1)  # over how many rounds of neighbours light spreads under the skin: red furthest
ON_CLOTH = 2  # its mesh is coarse: the edge of a shadow goes softly from vertex to vertex
HAIR_GRAIN = 0.22
SHUT = 0.6  # from here on lids hide what corneas mirror
UNSEEN_HAIR = "#33261d"
MOST_SOURCES = 24
LEGS_COLOUR, LEGS_REFLECTANCE = "#3f4654", 0.09


@dataclass(frozen=True, eq=False)
class PersonSeen:
    """The body before a lens, whatever the light. ``use`` are the vertices that count (U,), ``faces`` the triangles over them;
    of the body's N samples ``which`` triangle, ``shares`` of its corners, ``columns``, and where each row ``starts``;
    ``covers`` is the body's share of each pixel, shape (rows, columns)."""

    body: Stood
    fine: int  # samples along each side of a pixel
    lens: FloatArray
    use: NDArray[np.int64]
    faces: NDArray[np.int32]
    which: NDArray[np.int32]
    shares: FloatArray
    columns: NDArray[np.int32]
    starts: NDArray[np.int64]
    covers: FloatArray
    albedo: FloatArray
    eyes: NDArray[np.int64]
    open: Open
    spreading: Any
    # Of each source: what skin and hair throw back of it at their surface (U,) [cd/m2]; kept while only others change.
    sheen: LockedLru[bytes, FloatArray] = field(default_factory=lambda: LockedLru(MOST_SOURCES))

    def places(self, samples: NDArray[np.int64]) -> FloatArray:
        """Where samples lie in the head's axes, shape (n, 3) [m]."""
        corners = self.body.figure.vertices[self.use][self.faces[self.which[samples]]]
        u, v = self.shares[samples].T[..., None]
        return np.asarray(corners[:, 0] * u + corners[:, 1] * v + corners[:, 2] * (1 - u - v))

    def rows_of(self, samples: NDArray[np.int64]) -> NDArray[np.int64]:
        """Rows of samples."""
        return np.searchsorted(self.starts, samples, side="right") - 1


def person_seen(body: Stood, pinhole: Pinhole, reach: FloatArray, fine: int = FINE, lids: float = 0.0) -> PersonSeen:
    """The body before a lens.

    Args:
        body: in the room.
        pinhole: the lens.
        reach: how far off the room is at each pixel along its ray, shape (rows, columns) [m]; what is nearer hides the body.
        fine: samples along each side of a pixel.
        lids: how far the eyes are shut, 0-1.
    """
    rows, columns = reach.shape
    which, shares, near = _rastered(body, pinhole, columns * fine, rows * fine)
    _behind_things(which, near, pinhole, reach, fine)
    on = np.flatnonzero(which.ravel() >= 0)
    triangles, local = _those(which.ravel()[on], len(body.figure.faces))
    use, corners = _those(body.figure.faces[triangles].ravel(), len(body.figure.vertices))
    faces = corners.reshape(-1, 3)
    starts = np.searchsorted(on, np.arange(rows * fine + 1) * columns * fine)
    there = (which >= 0).astype(np.float32)
    samples = [there[down::fine, along::fine] for down in range(fine) for along in range(fine)]
    covers = sum(samples[1:], samples[0]) / np.float32(fine**2)
    shares = shares.reshape(-1, 2)[on]
    albedo, eyes = _albedo(body, use, faces, local, shares, lids)
    spreading = body.figure.neighbours[use][:, use]
    spreading = spreading.multiply(1 / np.maximum(spreading.sum(axis=1), 1e-6)[:, None]).tocsr().astype(np.float32)
    return PersonSeen(
        body, fine, pinhole.place.astype(np.float32), use, faces, local, shares, (on % (columns * fine)).astype(np.int32), starts, covers,
        albedo, eyes, openness(body.figure, use), spreading,
    )  # fmt: skip


def _those(indices: NDArray[np.int32], count: int) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Which of ``count`` things are named, and the names as places among those."""
    named = np.zeros(count, dtype=bool)
    named[indices] = True
    return np.flatnonzero(named), (np.cumsum(named) - 1).astype(np.int32)[indices]


def _rastered(body: Stood, pinhole: Pinhole, wide: int, high: int) -> tuple[NDArray[np.int32], FloatArray, FloatArray]:
    beyond = body.places - pinhole.place.astype(np.float32)
    deep = beyond @ pinhole.forward.astype(np.float32)
    near = np.where(deep > 0.02, 1 / np.maximum(deep, 0.02), 0).astype(np.float32)
    flat = np.empty_like(beyond)
    flat[:, 0] = wide * (0.5 + beyond @ (pinhole.right / (2 * pinhole.field.half_width)).astype(np.float32) * near)
    flat[:, 1] = high * (0.5 - beyond @ (pinhole.up / (2 * pinhole.field.half_height)).astype(np.float32) * near)
    flat[:, 2] = near
    away = np.zeros((high, wide), np.float32)
    which, shares = np.full((high, wide), -1, np.int32), np.empty((high, wide, 2), np.float32)

    def work(begin: int, end: int) -> None:
        nearest(flat, body.figure.faces, wide, begin, end, away, which, shares)

    spread(work, high)
    return which, shares, away


def _behind_things(which: NDArray[np.int32], near: FloatArray, pinhole: Pinhole, reach: FloatArray, fine: int) -> None:
    """Takes out the samples that something nearer hides."""
    rows, columns = reach.shape
    field = pinhole.field
    aside = ((2 * np.arange(columns, dtype=np.float32) + 1) / columns - 1) * np.float32(field.half_width)
    above = ((2 * np.arange(rows, dtype=np.float32) + 1) / rows - 1) * np.float32(field.half_height)
    slant = np.sqrt(1 + (aside * aside)[None] + (above * above)[:, None])
    limit = slant / np.maximum(reach, np.float32(1e-3))  # 1 / depth of the room
    for down in range(fine):
        for along in range(fine):
            part = slice(down, None, fine), slice(along, None, fine)
            which[part][near[part] < limit] = -1


def _albedo(
    body: Stood, use: NDArray[np.int64], faces: NDArray[np.int32], which: NDArray[np.int32], shares: FloatArray, lids: float
) -> tuple[FloatArray, NDArray[np.int64]]:
    """Albedo of samples, shape (N, 3), and which of them are of the eyes."""
    figure, presenter = body.figure, body.face.presenter
    out, eye = np.zeros((len(which), 3), np.float32), np.zeros(len(which), np.uint8)
    worn = _top(presenter)
    cloth = np.array([PATTERNS[worn.pattern] if worn and worn.pitch_m > 0 else 0, worn.pitch_m if worn else 1], np.float32)
    corner = np.array([HALF_WIDTH_M, TOP_M, FOOT_M], np.float32)
    brows = UNSEEN_HAIR if presenter.hair == "covered" else presenter.hair_colour  # the covering's colour is no hair's
    paint = painted_face(presenter.skin_reflectance, brows, lids)
    tones = tones_of(presenter)
    rest, normals, kind = figure.rest[use], figure.normals[use], figure.kind[use]

    def work(begin: int, end: int) -> None:
        part = slice(begin, end)
        shade.coloured(which[part], shares[part], faces, rest, normals, kind, tones, paint, corner, HAIR_GRAIN, cloth, out[part], eye[part])

    spread(work, len(which))
    return out, np.flatnonzero(eye) if lids < SHUT else np.zeros(0, np.int64)


def _top(presenter: Presenter) -> Garment | None:
    tops = [garment for garment in presenter.clothing if garment.kind in ("top", "jacket", "scarf")]
    return tops[-1] if tops else None


def tones_of(presenter: Presenter) -> FloatArray:
    """Plain albedo of what a body is of, shape (7, 3): skin, hair, covering, cloth, hat, spectacle frame, legs."""
    worn, hair = _top(presenter), hex_rgb(presenter.hair_colour)
    hats = [garment for garment in presenter.clothing if garment.kind == "hat"]
    cloth = of_reflectance(hex_rgb(worn.colour), worn.reflectance) if worn else of_reflectance(hex_rgb("#66707a"), 0.2)
    hat = of_reflectance(hex_rgb(hats[-1].colour), hats[-1].reflectance) if hats else of_reflectance(hex_rgb("#6b5a44"), 0.15)
    frame = np.array([0.03, 0.03, 0.035], np.float32)
    legs = of_reflectance(hex_rgb(LEGS_COLOUR), LEGS_REFLECTANCE)
    return np.array([skin_rgb(presenter.skin_reflectance), hair, hair, cloth, hat, frame, legs], np.float32)


def skin_rgb(reflectance: float) -> FloatArray:
    """Albedo of skin from very dark to very light; hue moves with depth as skins do."""
    dark, light = np.array([0.60, 0.36, 0.26], np.float32), np.array([0.62, 0.43, 0.35], np.float32)
    share = _lightness(reflectance)
    return of_reflectance(dark * (1 - share) + light * share, max(reflectance, 0.04))


def iris_rgb(reflectance: float) -> FloatArray:
    """Albedo of the iris by that of the skin round it: a deep brown to a greyish hazel."""
    dark, light = np.array([0.034, 0.021, 0.014], np.float32), np.array([0.10, 0.075, 0.05], np.float32)
    share = _lightness(reflectance)
    return dark * (1 - share) + light * share


def _lightness(reflectance: float) -> np.float32:
    """How light skin is, from very dark to very light, 0-1."""
    return np.float32(np.clip((reflectance - 0.1) / 0.5, 0, 1))


@lru_cache(maxsize=8)
def painted_face(skin_reflectance: float, hair_colour: str, lids: float = 0.0) -> FloatArray:
    """Albedo over the front of the face: brows, eyes, lips on the skin, shape (rows, columns, 3)."""
    tone, hair, parts = skin_rgb(skin_reflectance), hex_rgb(hair_colour), face_texture(lids)
    colours: tuple[tuple[str, FloatArray, float], ...] = (
        ("blush", tone * np.array([1.10, 0.86, 0.82], np.float32), 0.40),
        ("lips", tone * np.array([0.98, 0.62, 0.60], np.float32), 0.75),
        ("parting", tone * np.float32(0.35), 0.8),
        ("lid", tone * np.float32(0.62), 0.4),
        ("brows", hair * np.float32(0.8), 0.72),
        ("white", np.array([0.37, 0.345, 0.33], np.float32), 1.0),
        ("iris", iris_rgb(skin_reflectance), 1.0),
        ("pupil", np.array([0.01, 0.01, 0.01], np.float32), 1.0),
        ("lash", np.array([0.02, 0.015, 0.012], np.float32), 0.75),
    )
    out = np.broadcast_to(tone, (*parts["white"].shape, 3))
    for name, colour, strength in colours:
        weight = parts[name][..., None] * np.float32(strength)
        out = out * (1 - weight) + colour * weight
    return np.ascontiguousarray(out, np.float32)


def falls_on(seen: PersonSeen, lit_scene: LitScene, thrown: tuple[Thrown, ...]) -> FloatArray:
    """Light on the vertices that count: of all sources, off the room and the body itself, and under the skin, (U, 3) [lx]."""
    figure, use = seen.body.figure, seen.use
    if not len(use):
        return np.zeros((0, 3), np.float32)
    total = seen.open.falls(around(lit_scene, tints_of(lit_scene), seen.body.face, seen.body.light))
    if thrown:
        total += together([cast.level_lx[use] for cast in thrown], tints_of(lit_scene))
    sent = total * tones_of(seen.body.face.presenter)[figure.kind[use]]
    if seen.body.light:  # a draft: as if the body threw back the same all over
        total += seen.open.closed[:, None] * sent.mean(axis=0).astype(np.float32)
    else:
        cloth = total.mean(axis=0) * tones_of(seen.body.face.presenter)[fitted.CLOTH]
        total += handed_on(seen.open, figure.rest[use], sent, cloth)
    rounds = [total]
    for _ in range(max(UNDER_SKIN)):
        rounds.append(seen.spreading @ rounds[-1])
    falls = np.stack([rounds[count][:, channel] for channel, count in enumerate(UNDER_SKIN)], axis=1)
    cloth = np.isin(figure.kind[use], fitted.WOVEN)
    falls[cloth] = rounds[ON_CLOTH][cloth]
    return np.ascontiguousarray(falls, np.float32)


def tints_of(lit_scene: LitScene) -> FloatArray:
    """Colour of each source's light, shape (S, 3) linear sRGB of luminance 1."""
    return np.array([light_rgb(source) for source in lit_scene.sources], np.float32).reshape(-1, 3)


def person_luminance(seen: PersonSeen, lit_scene: LitScene, falls: FloatArray, thrown: tuple[Thrown, ...]) -> FloatArray:
    """Luminance of the body times its share of each pixel, shape (rows, columns, 3) [cd/m2]."""
    return body_luminance(seen, falls, _sheen(seen, lit_scene, thrown))


def body_luminance(seen: PersonSeen, falls: FloatArray, sheen: FloatArray) -> FloatArray:
    """As ``person_luminance``, from light (U, 3) [lx] and sheen (U, 3) [cd/m2] on the vertices that count."""
    rows, columns = seen.covers.shape
    out = np.zeros((rows, columns, 3), np.float32)

    def work(begin: int, end: int) -> None:
        first = (seen.starts, seen.columns)
        shade.lit(seen.which, seen.shares, first, seen.faces, falls, seen.albedo, sheen, seen.fine, begin, end, out)

    spread(work, rows, seen.starts[:: seen.fine])
    return out


def _sheen(seen: PersonSeen, lit_scene: LitScene, thrown: tuple[Thrown, ...]) -> FloatArray:
    """What skin and hair throw back at their surface towards the lens, shape (U, 3) [cd/m2]."""
    out = np.zeros((len(seen.use), 3), np.float32)
    for source, cast, tint in zip(lit_scene.sources, thrown, tints_of(lit_scene), strict=True):
        out += seen.sheen.get_or_compute(source.content, partial(_sheen_of, seen, cast))[:, None] * tint
    return out


def _sheen_of(seen: PersonSeen, cast: Thrown) -> FloatArray:
    gloss, power = np.zeros(6, np.float32), np.ones(6, np.float32)
    for kind, (straight, tight) in GLOSS.items():
        gloss[kind], power[kind] = straight, tight
    kinds = seen.body.figure.kind[seen.use]
    places, normals = seen.body.places[seen.use], seen.body.normals[seen.use]
    level, spot, gloss, power = cast.level_lx[seen.use], cast.middle.astype(np.float32), gloss[kinds], power[kinds]
    out = np.zeros(len(seen.use), np.float32)
    spread(lambda begin, end: shade.sheen(places, normals, level, spot, seen.lens, gloss, power, begin, end, out), len(out))
    return out
