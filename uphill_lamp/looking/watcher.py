"""Looks at a clip's pictures one by one: each a little, some closely, and keeps figures alone."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.measuring.clip import Track
from uphill_lamp.core.measuring.still import LINEAR
from uphill_lamp.looking import faces
from uphill_lamp.looking.faces import CHIN, LEFT_EYE, RIGHT_EYE, Found

CLOSELY_S = 0.15  # between pictures that are looked at closely
CLOSE_PX = 640  # their longer side while a face is followed
LINES, ACROSS = 270, 32  # of a picture for bands; every how many pixels along a line
SHAKE_PX, RENEWED_S = 256, 2.0  # what stands still is looked for in so many pixels, against one so old at most
LEAST_PEAK, LEAST_TEXTURE = 0.15, 1.2
THUMB, EVERY_PX = (32, 18), 8
GRAIN_S, GRAIN_TILE_PX, GRAIN_MID, LEAST_PAIRS = 0.5, 16, (50, 205), 3
STILL_PX, MOST_STILLS = 1920, 3
NOSE = 1
PLANAR = ("yuv420p", "yuvj420p", "yuv422p", "yuvj422p", "yuv444p", "yuvj444p", "nv12", "gray", "gray8")
FULL_RANGE = ("yuvj420p", "yuvj422p", "yuvj444p", "gray", "gray8", "rgb24", "bgr24")
LIMITED = np.interp(np.clip((np.arange(256) - 16) / 219, 0, 1) * 255, np.arange(256), LINEAR)  # of brightness from 16 to 235


@dataclass(frozen=True, eq=False)
class Watched:
    """What was seen: picture by picture, a picture that stands for all with its face, how far it was made smaller, and its grain."""

    track: Track
    still: NDArray[np.uint8]
    face: Found | None
    scale: float
    noise: float | None
    own_grain: bool


class Watcher:
    """Looks at pictures as they come, each later than the one before.

    Args:
        own_grain: whether pictures carry their own grain, and not what a compression over time left of it.
        gaze: whether irises are to be found in each picture that is looked at closely; it takes twice as long.
    """

    def __init__(self, own_grain: bool, gaze: bool) -> None:
        self.count, self._own_grain = 0, own_grain
        self._times: list[float] = []
        self._changes: list[float] = []
        self._motion: list[float] = []
        self._lines: list[FloatArray] = []
        self._shift = _Shift()
        self._close = _Close(gaze)
        self._thumb: FloatArray | None = None
        self._spots: NDArray[np.int16] | None = None
        self._grain: list[float] = []
        self._before: NDArray[np.uint8] | None = None
        self._slot = -1

    def look(self, frame: Any, at: float) -> None:
        """Looks at a frame that is shown at a time [s]."""
        luma, limited = _luma(frame)
        turns = (int(getattr(frame, "rotation", 0) or 0) // 90) % 4
        luma = np.rot90(luma, turns) if turns else luma
        table = LIMITED if limited else LINEAR
        spots = luma[::EVERY_PX, ::EVERY_PX].astype(np.int16)
        thumb: FloatArray = np.asarray(cv2.resize(spots.astype(np.float32), THUMB, interpolation=cv2.INTER_AREA), float)
        change = (
            np.abs(thumb - self._thumb) if self._thumb is not None and self._thumb.shape == thumb.shape else np.full(thumb.shape, 255.0)
        )
        self._thumb = thumb
        self.count += 1
        self._times.append(at)
        before = self._spots
        self._changes.append(float(np.abs(spots - before).mean()) if before is not None and before.shape == spots.shape else 255.0)
        self._spots = spots
        self._motion.append(float(change.mean()))
        # Lines are those of the sensor, however the picture is turned afterwards.
        lines = np.rot90(luma, -turns) if turns else luma
        self._lines.append(_lines(lines, table))
        self._shift.look(luma, at)
        if self._before is not None and self._before.shape == luma.shape and (spread := _grain(self._before, luma)) is not None:
            self._grain.append(spread * (255 / 219 if limited else 1.0))
        slot = int(at / GRAIN_S)
        self._before, self._slot = luma.copy() if slot != self._slot else None, slot
        self._close.look(frame, at, turns, luma, table)

    def done(self) -> Watched:
        """What was seen in all."""
        close = self._close
        looks = np.array(close.looks, float).reshape(len(close.times), -1)
        track = Track(
            np.array(self._times), np.array(self._changes), np.array(self._motion), np.array(self._lines),
            np.array(self._shift.places).reshape(-1, 2), np.array(self._shift.sure), np.array(close.times),
            np.array(close.levels), np.array(close.red), np.array(close.blue), np.array(close.edges),
            np.array(close.eyes, float).reshape(-1, 2), looks, close.head_px,
        )  # fmt: skip
        still, face, scale = close.best()
        noise = float(np.median(self._grain)) / 255 if len(self._grain) >= LEAST_PAIRS else None
        return Watched(track, still, face, scale, noise, self._own_grain)


def _luma(frame: Any) -> tuple[NDArray[np.uint8], bool]:
    """Brightness of a frame, shape (rows, columns), and whether it runs from 16 to 235."""
    name = frame.format.name
    if name not in PLANAR:
        gray = frame.reformat(format="gray")
        return _plane(gray), False
    full = name in FULL_RANGE or int(getattr(frame, "color_range", 0) or 0) == 2
    return _plane(frame), not full


def _plane(frame: Any) -> NDArray[np.uint8]:
    plane = frame.planes[0]
    rows = np.frombuffer(plane, np.uint8)[: plane.line_size * frame.height].reshape(frame.height, plane.line_size)
    return rows[:, : frame.width]


def _lines(luma: NDArray[np.uint8], table: FloatArray) -> FloatArray:
    """Mean linear luminance along lines, shape (LINES,) at most."""
    step = max(luma.shape[1] // ACROSS // 2, 1)
    along = table[luma[:, ::step]].mean(axis=1)
    return np.asarray(np.interp(np.linspace(0, len(along) - 1, min(LINES, len(along))), np.arange(len(along)), along))


def _grain(before: NDArray[np.uint8], now: NDArray[np.uint8]) -> float | None:
    """Spread of noise in the tiles that change least from one picture to the next [of 255]; None where nothing stands still."""
    rows, columns = (side // GRAIN_TILE_PX * GRAIN_TILE_PX for side in now.shape)
    if min(rows, columns) < 3 * GRAIN_TILE_PX:
        return None
    shape = rows // GRAIN_TILE_PX, GRAIN_TILE_PX, columns // GRAIN_TILE_PX, GRAIN_TILE_PX
    step = 1 if rows * columns < 1_200_000 else 2  # of a large picture every second row of tiles
    change = (now[:rows, :columns].astype(np.float32) - before[:rows, :columns]).reshape(shape)[::step].transpose(0, 2, 1, 3)
    level = now[:rows, :columns].reshape(shape)[::step].transpose(0, 2, 1, 3).mean(axis=(2, 3))
    spread, off = change.std(axis=(2, 3)), np.abs(change.mean(axis=(2, 3)))
    fit = (level > GRAIN_MID[0]) & (level < GRAIN_MID[1]) & (off < 0.35 * spread + 0.3)
    values = np.sort(spread[fit])
    return float(np.median(values[: len(values) // 2])) / math.sqrt(2) if len(values) >= 12 else None


class _Shift:
    """Where pictures stand against the first, told from a piece of them beside the person that has something on it."""

    def __init__(self) -> None:
        self.places: list[tuple[float, float]] = []
        self.sure: list[float] = []
        self._spot: tuple[int, int] | None = None
        self._reference: NDArray[np.float32] | None = None
        self._at, self._base = 0.0, (0.0, 0.0)
        self._window: Any = None

    def look(self, luma: NDArray[np.uint8], at: float) -> None:
        side = min(SHAKE_PX, *(int(length) // 2 * 2 for length in luma.shape))
        if self._spot is None:
            self._spot = _textured(luma, side)
            self._window = cv2.createHanningWindow((side, side), cv2.CV_32F)
        if self._spot == (-1, -1):
            self._add((0.0, 0.0), 0.0)
            return
        top, left = self._spot
        piece = luma[top : top + side, left : left + side].astype(np.float32)
        if piece.shape != (side, side):
            self._add((0.0, 0.0), 0.0)
            return
        if self._reference is None:
            self._reference, self._at = piece, at
            self._add((0.0, 0.0), 1.0)
            return
        (across, down), peak = cv2.phaseCorrelate(self._reference.copy(), piece.copy(), self._window)
        place = (self._base[0] + across, self._base[1] + down)
        sure = float(peak) if peak > LEAST_PEAK else 0.0
        self._add(place if sure else (self.places[-1] if self.places else (0.0, 0.0)), sure)
        if sure and at - self._at > RENEWED_S:
            self._reference, self._at, self._base = piece, at, place

    def _add(self, place: tuple[float, float], sure: float) -> None:
        self.places.append(place)
        self.sure.append(sure)


def _textured(luma: NDArray[np.uint8], side: int) -> tuple[int, int]:
    """The upper left corner of the piece with most on it at the picture's sides; (-1, -1) where there is nothing to hold on to."""
    rows, columns = luma.shape
    best, most = (-1, -1), LEAST_TEXTURE
    for left in {0, max(columns - side, 0)}:
        for top in range(0, max(rows - side, 0) + 1, max(side // 2, 1)):
            piece = luma[top : top + side, left : left + side].astype(np.float32)
            if piece.shape != (side, side):
                continue
            blurred = cv2.GaussianBlur(piece, (0, 0), 2.0)
            down, across = np.gradient(blurred)
            texture = float(np.sqrt(min((down**2).mean(), (across**2).mean())))
            if texture > most:
                best, most = (top, left), texture
    return best


class _Close:
    """Pictures looked at closely, several a second: the face followed, brightness, white, sharpness."""

    def __init__(self, gaze: bool) -> None:
        self._gaze = gaze
        self.times: list[float] = []
        self.levels: list[float] = []
        self.red: list[float] = []
        self.blue: list[float] = []
        self.edges: list[float] = []
        self.eyes: list[tuple[float, float]] = []
        self.looks: list[FloatArray] = []
        self.head_px = 0.0
        self._mesh: FloatArray | None = None
        self._box: FloatArray | None = None
        self._missed = 0
        self._stills: list[tuple[float, NDArray[np.uint8], float]] = []
        self._next_still = 0.0
        self._still_step = 0.5

    def look(self, frame: Any, at: float, turns: int, luma: NDArray[np.uint8], table: FloatArray) -> None:
        if self.times and at - self.times[-1] < CLOSELY_S - 1e-6:
            return
        scale = max(max(frame.width, frame.height) / CLOSE_PX, 1.0)
        small = frame.reformat(
            width=max(round(frame.width / scale / 2) * 2, 2), height=max(round(frame.height / scale / 2) * 2, 2), format="rgb24"
        )
        picture = small.to_ndarray()
        picture = np.ascontiguousarray(np.rot90(picture, turns)) if turns else picture
        self.times.append(at)
        mesh = self._followed(picture)
        self._mesh = mesh
        part = picture
        if mesh is not None:
            self._face(picture, mesh, scale)
            box = self._box if self._box is not None else np.concatenate([mesh.min(axis=0), mesh.max(axis=0)])
            self._box = box  # the first face's place: what is looked at does not move with the head
            left, top, right, low = (int(value) for value in np.clip(box, 0, [picture.shape[1], picture.shape[0]] * 2))
            part = picture[top : max(low, top + 1), left : max(right, left + 1)]
            part = part if part.size else picture
        else:
            self.eyes.append((np.nan, np.nan))
            self.looks.append(np.full(4, np.nan))
        linear = LINEAR[part.reshape(-1, 3)]
        red, green, blue = (float(value) for value in linear.mean(axis=0))
        self.levels.append(0.2126 * red + 0.7152 * green + 0.0722 * blue)
        self.red.append(red)
        self.blue.append(blue)
        fine = cv2.Laplacian(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), cv2.CV_32F)
        self.edges.append(float((fine**2).mean()))
        self._keep(frame, at, turns)

    def _followed(self, picture: NDArray[np.uint8]) -> FloatArray | None:
        """The mesh on the face, from where it was a moment ago; looked for anew where it is lost."""
        if self._mesh is not None:
            mesh = faces.mesh_near(picture, self._mesh)
            if mesh is not None:
                return mesh
        if self._missed and self._missed % 4:  # not in every picture of an empty room
            self._missed += 1
            return None
        mesh = faces.mesh_in(picture)
        self._missed = 0 if mesh is not None else self._missed + 1
        return mesh

    def _face(self, picture: NDArray[np.uint8], mesh: FloatArray, scale: float) -> None:
        middle = mesh[list(LEFT_EYE + RIGHT_EYE)].mean(axis=0)
        self.eyes.append((float(middle[0]) * scale, float(middle[1]) * scale))
        self.head_px = max(self.head_px, 1.35 * scale * float(np.ptp(mesh[:, 1])))
        if not self._gaze:
            self.looks.append(np.full(4, np.nan))
            return
        left, right = faces.irises(picture, mesh)
        offs = []
        for iris, corners in ((left, LEFT_EYE), (right, RIGHT_EYE)):
            a, b = mesh[corners[0]], mesh[corners[1]]
            wide = float(np.linalg.norm(b - a))
            way = (b - a) / max(wide, 1e-6)
            away = iris - (a + b) / 2
            way = way if way[0] > 0 else -way
            offs.append([float(away @ way) / wide, float(away @ np.array([-way[1], way[0]])) / wide])
        ends = mesh[LEFT_EYE[0]] - mesh[RIGHT_EYE[0]]
        nose = mesh[NOSE] - (mesh[LEFT_EYE[0]] + mesh[RIGHT_EYE[0]]) / 2
        long = mesh[CHIN] - (mesh[LEFT_EYE[0]] + mesh[RIGHT_EYE[0]]) / 2
        across = ends / max(float(np.linalg.norm(ends)), 1e-6)
        turned = float(nose @ across) / max(float(np.linalg.norm(ends)), 1e-6)
        nodded = float(np.linalg.norm(nose)) / max(float(np.linalg.norm(long)), 1e-6)
        self.looks.append(np.array([*np.mean(offs, axis=0), turned, nodded]))

    def _keep(self, frame: Any, at: float, turns: int) -> None:
        """A few pictures over the whole clip, however long it is, of which one stands for all."""
        if at < self._next_still and self._stills:
            return
        if len(self._stills) >= 2 * MOST_STILLS:
            self._stills = self._stills[::2]
            self._still_step *= 2
        scale = max(max(frame.width, frame.height) / STILL_PX, 1.0)
        picture = frame.reformat(
            width=round(frame.width / scale / 2) * 2, height=round(frame.height / scale / 2) * 2, format="rgb24"
        ).to_ndarray()
        self._stills.append((at, np.ascontiguousarray(np.rot90(picture, turns)) if turns else picture, scale))
        self._next_still = at + self._still_step

    def best(self) -> tuple[NDArray[np.uint8], Found | None, float]:
        """Of some pictures over the clip the one whose face stands in the middle of where it stands in all, with that face."""
        chosen = self._stills[len(self._stills) // (MOST_STILLS + 1) :: max(len(self._stills) // MOST_STILLS, 1)][:MOST_STILLS]
        meshes = [faces.mesh_in(picture) for _, picture, _ in chosen]
        high = {number: float(mesh[list(LEFT_EYE + RIGHT_EYE), 1].mean()) for number, mesh in enumerate(meshes) if mesh is not None}
        middle = sorted(high, key=lambda number: high[number])[len(high) // 2] if high else len(chosen) // 2
        _, picture, scale = chosen[middle]
        return picture, faces.found_in(picture), scale
