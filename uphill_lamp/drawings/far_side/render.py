"""The far side's picture: real projection, computed light, the camera's exposure, white balance, blur and noise."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.metering import Metered
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.locked_lru import LockedLru, held_bytes
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.far_side import develop, jewels, lamps
from uphill_lamp.drawings.far_side.light import Returned
from uphill_lamp.drawings.far_side.mirror import Mirrors
from uphill_lamp.drawings.far_side.person import FINE, PersonSeen, falls_on, person_luminance, person_seen
from uphill_lamp.drawings.far_side.room import RoomSeen, room_luminance, room_seen
from uphill_lamp.drawings.figure import shade
from uphill_lamp.drawings.figure.fitted import figure_of
from uphill_lamp.drawings.figure.lit import Stood, thrown_past
from uphill_lamp.drawings.figure.shadows import spread

FULL_COLUMNS = 640
ROUGH_COLUMNS = 400  # drafts wider than this take one sample of the body a pixel
HALF = 0.5
MOST_NARROW_PX = 8
MOST_KEPT, MOST_BYTES = 2, 48_000_000
# What of a setup bears on where things fall in the picture, and not on how they are lit.
_READS = {"microphones", "room", "desk", "backdrop", "reflectors", "screens", "presenter", "cameras", "call"}
_LIT_ALONE = {"luminance_cd_m2", "white_share", "cct_k", "on", "windows"}


@dataclass(frozen=True)
class Picture:
    """A rendered picture: 8-bit sRGB, shape (rows, columns, 3)."""

    pixels: NDArray[np.uint8]

    def jpeg(self, quality: int = 86) -> bytes:
        """The picture as a JPEG file."""
        return self._file("JPEG", quality=quality)

    def png(self) -> bytes:
        """The picture as a PNG file."""
        return self._file("PNG", compress_level=3)  # a third of the time for a tenth more bytes

    def _file(self, kind: str, **more: int) -> bytes:
        from PIL import Image

        buffer = io.BytesIO()
        Image.fromarray(self.pixels).save(buffer, kind, **more)
        return buffer.getvalue()


@dataclass(frozen=True, eq=False)
class Shot:
    """All that a lens takes in, whatever the light."""

    pinhole: Pinhole
    body: Stood
    room: RoomSeen
    person: PersonSeen
    lenses: tuple[NDArray[np.int64], FloatArray, FloatArray]  # pixel of each sample of a spectacle lens, its place, its ray
    eyes: tuple[NDArray[np.int64], FloatArray, FloatArray]
    soft_px: FloatArray  # how wide the lens blurs the room at each pixel, shape (rows, columns)
    softest_px: float  # and next to all of it at most; 0 where that is lost


def columns_of(setup: Setup, landscape_columns: int) -> int:
    """Width of a picture with as many pixels as one of 16:9 would have, so that an upright one is no more work [px]."""
    aspect = scene_of(setup).pinhole.field.aspect
    return max(MOST_NARROW_PX, min(landscape_columns, round(landscape_columns * math.sqrt(aspect * 9 / 16))))


def render(appraisal: Appraisal, columns: int = FULL_COLUMNS) -> Picture:
    """What the main camera sends of an appraised setup, not mirrored.

    Args:
        appraisal: geometry, light and metering come from it.
        columns: width of the picture; its height follows from the output's aspect [px].
    """
    return rendered(appraisal.lit_scene, appraisal.metered, columns)


def rendered(lit_scene: LitScene, metered: Metered, columns: int, draft: bool = False, lids: float = 0.0) -> Picture:
    """What the main camera sends of a setup whose light and metering are known.

    Args:
        falling: the setup and its light.
        metered: what the camera makes of it.
        columns: width of the picture [px].
        draft: whether a body of half the fineness will do, while something is dragged.
        lids: how far the eyes are shut, 0-1.
    """
    return Picture(develop.developed(lit_scene, metered, luminance(lit_scene, columns, draft, lids)))


def luminance(lit_scene: LitScene, columns: int, draft: bool = False, lids: float = 0.0) -> FloatArray:
    """Luminance that reaches the sensor through the lens, shape (rows, columns, 3) [cd/m2] in linear sRGB."""
    setup, shot = lit_scene.setup, shot_of(lit_scene.setup, columns, draft, lids)
    returned = Returned(lit_scene)
    thrown = tuple(thrown_past(source, shot.body, lit_scene.board) for source in lit_scene.sources)
    rows = shot.room.rows
    behind = room_luminance(shot.room, lit_scene, returned, thrown).reshape(rows, columns, 3)
    apart_m = away_m(shot)
    side = lamps.ROUGH_SIDE if draft else lamps.SIDE
    lamps.lay_over(behind, shot.pinhole, shot.room.reach, lit_scene, returned, (apart_m, math.inf), side)
    if shot.softest_px:
        behind = develop.blurred(behind, shot.soft_px, shot.softest_px)
    falls = falls_on(shot.person, lit_scene, thrown)
    body = person_luminance(shot.person, lit_scene, falls, thrown)
    _dim(shot, body, setup.presenter.glasses_transmittance)
    mirrors = Mirrors(lit_scene.sources, shot.body.face)
    _add(shot, body, shot.eyes[0], mirrors.in_eyes(*shot.eyes[1:]) if len(shot.eyes[0]) else None)
    _add(shot, body, shot.lenses[0], mirrors.in_lenses(*shot.lenses[1:]) if len(shot.lenses[0]) else None)
    covers = shot.person.covers
    own = float(develop.blur_px(setup, shot.pinhole, columns, np.array(apart_m)))
    if own >= develop.LEAST_BLUR_PX:
        layer = develop.blurred(np.dstack([body, covers]), np.full((rows, columns), own, np.float32), own)
        body, covers = layer[..., :3], layer[..., 3]
    whole = over(behind, covers, body)
    jewels.put_on(whole, shot.pinhole, lit_scene)
    nearest_m = np.where(shot.person.covers > HALF, apart_m, shot.room.reach)
    lamps.lay_over(whole, shot.pinhole, nearest_m, lit_scene, returned, (0.0, apart_m), side)
    return whole


def over(behind: FloatArray, covers: FloatArray, body: FloatArray) -> FloatArray:
    """The body, already times its share of each pixel (rows, columns), before what is behind it; changes and gives ``behind``."""

    def work(begin: int, end: int) -> None:
        shade.before(behind[begin:end], covers[begin:end], body[begin:end])

    spread(work, len(behind))
    return behind


def away_m(shot: Shot) -> float:
    """How far the eyes are from the lens [m]."""
    return float(np.linalg.norm(shot.body.face.eyes - shot.pinhole.place))


def _dim(shot: Shot, body: FloatArray, transmittance: float) -> None:
    """Takes off what tinted lenses keep back: light passes them on its way to the face and again on its way out."""
    pixels = shot.lenses[0]
    if transmittance < 1 and len(pixels):
        shares = np.bincount(pixels, minlength=body.shape[0] * body.shape[1]) / shot.person.fine**2
        body *= (1 - np.minimum(shares, 1) * (1 - transmittance**2)).reshape(body.shape[:2])[..., None].astype(np.float32)


def _add(shot: Shot, body: FloatArray, pixels: NDArray[np.int64], mirrored: FloatArray | None) -> None:
    """Adds what samples mirror to their pixels."""
    if mirrored is None:
        return
    np.add.at(body.reshape(-1, 3), pixels, (mirrored / shot.person.fine**2).astype(np.float32))


_kept: LockedLru[tuple[str, int, bool, float], Shot] = LockedLru(
    MOST_KEPT, MOST_BYTES, lambda shot: held_bytes(shot, shot.room, shot.person)
)


def shot_of(setup: Setup, columns: int, draft: bool = False, lids: float = 0.0) -> Shot:
    """What the main camera takes in; kept while only the light changes."""
    apart: Any = {"screens": {"__all__": _LIT_ALONE}, "room": {"north_bearing_deg"}}
    key = setup.main_camera.id + setup.model_dump_json(include=_READS, exclude=apart)
    return _kept.get_or_compute((key, columns, draft, lids), lambda: _shot(setup, columns, draft, lids))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()


def _shot(setup: Setup, columns: int, draft: bool, lids: float) -> Shot:
    pinhole = scene_of(setup).pinhole
    rows = max(2, round(columns / pinhole.field.aspect))
    fine, body_fine = (1, 1 if columns > ROUGH_COLUMNS else FINE) if draft else (FINE, FINE)
    room = room_seen(setup, pinhole, columns, rows, fine, rough=draft and columns > ROUGH_COLUMNS, by_elements=draft)
    body = Stood(figure_of(setup.presenter, draft), scene_of(setup).face)
    person = person_seen(body, pinhole, room.reach, body_fine, lids)
    soft_px = develop.blur_px(setup, pinhole, columns, room.reach)
    return Shot(pinhole, body, room, person, _lenses(person, pinhole), _eyes(person, pinhole), soft_px, develop.blurs(soft_px))


def _rays(pinhole: Pinhole, person: PersonSeen, rows: NDArray[np.int64], columns: NDArray[np.int64]) -> FloatArray:
    high, wide = (side * person.fine for side in person.covers.shape)
    return pinhole.ray((columns + 0.5) / wide, (rows + 0.5) / high)


def _eyes(person: PersonSeen, pinhole: Pinhole) -> tuple[NDArray[np.int64], FloatArray, FloatArray]:
    rows, columns = person.rows_of(person.eyes), person.columns[person.eyes].astype(np.int64)
    shape = person.covers.shape
    pixels = rows // person.fine * shape[1] + columns // person.fine
    return pixels, person.places(person.eyes), _rays(pinhole, person, rows, columns)


def _lenses(person: PersonSeen, pinhole: Pinhole) -> tuple[NDArray[np.int64], FloatArray, FloatArray]:
    """Samples of the body that are seen through a spectacle lens."""
    face, frame = person.body.face, person.body.frame
    nothing = np.zeros(0, np.int64), np.zeros((0, 3)), np.zeros((0, 3))
    start = frame @ (pinhole.place - face.eyes)
    if face.presenter.glasses == "none" or start[0] < 0.03:
        return nothing
    shape = person.covers.shape
    near = np.array([face.at(0.02, aside, up) for aside in (-0.075, 0.075) for up in (-0.035, 0.03)])
    corners = pinhole.project(near)
    if np.isnan(corners).any():
        return nothing
    low, high = corners.min(axis=0), corners.max(axis=0)
    rows = np.arange(*(int(np.clip(value * shape[0] * person.fine, 0, shape[0] * person.fine)) for value in (low[1], high[1])))
    columns = np.arange(*(int(np.clip(value * shape[1] * person.fine, 0, shape[1] * person.fine)) for value in (low[0], high[0])))
    if not len(rows) or not len(columns):
        return nothing
    down, across = (grid.ravel() for grid in np.meshgrid(rows, columns, indexing="ij"))
    there = _covered(person, down, across)
    down, across = down[there], across[there]
    rays = _rays(pinhole, person, down, across)
    on, places = Mirrors((), face).lens_places(start, rays @ frame.T)
    pixels = down[on] // person.fine * shape[1] + across[on] // person.fine
    return pixels, places, rays[on]


def _covered(person: PersonSeen, rows: NDArray[np.int64], columns: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Whether the body, and nothing before it, is at samples."""
    return np.asarray(person.covers[rows // person.fine, columns // person.fine] > 0.5)
