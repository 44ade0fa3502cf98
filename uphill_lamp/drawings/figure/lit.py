"""Light on every vertex of a body: from each source past what the body hides, and off the room's surfaces."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.field.light.boards import Board, visible
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import ClearWindow, Source, SunBeam
from uphill_lamp.core.locked_lru import LockedLru, held_bytes
from uphill_lamp.core.scene.body import head_frame
from uphill_lamp.core.scene.placing import Face
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.drawings.figure.fitted import Figure
from uphill_lamp.drawings.figure.gather import area_light
from uphill_lamp.drawings.figure.shadows import BALLS, Body, Maps, maps_from, spread

SUN_AWAY_M, SUN_RADIUS_M = 40.0, 0.19  # far enough for parallel light; the sun's disc is half a degree wide
HEIGHTS_M = (-0.5, -0.2, 0.0, 0.12)  # against the eyes: between them the look of a window changes evenly
WINDOW_FINE, PANEL_FINE, RING_SPOTS, SUB = 6, 4, 3, 4
WINDOW_LIGHT, PANEL_LIGHT, RING_LIGHT = 3, 2, 2  # in drafts
SMALL_M = 0.35  # a laptop's picture or a small panel: while something is dragged one spot will do for it
BEAM_EDGE_M = 0.025
MOST_FREE = 24
MOST_KEPT, MOST_BYTES, ENOUGH_SPOTS = 14, 24_000_000, 6


@dataclass(frozen=True, eq=False)
class Stood:
    """A body in the room."""

    figure: Figure
    face: Face

    @cached_property
    def frame(self) -> FloatArray:
        """Rows forward, left, up of the head, shape (3, 3)."""
        return head_frame(self.face)

    @cached_property
    def places(self) -> FloatArray:
        """Vertices in the room, shape (V, 3) [m]."""
        return self._placed(self.figure.vertices)

    @cached_property
    def normals(self) -> FloatArray:
        """Normals in the room, shape (V, 3)."""
        return np.asarray(self.figure.normals @ self.frame.astype(np.float32))

    @cached_property
    def bodies(self) -> tuple[Body, Body]:
        """What throws shadows, finely and coarsely."""
        coarse = self._placed(self.figure.coarse_vertices)
        return (self.places, self.figure.faces), (coarse, self.figure.coarse_faces)

    @property
    def key(self) -> bytes:
        """Who stands where, as a key."""
        return f"{self.figure.number}".encode() + self.face.eyes.tobytes() + self.face.forward.tobytes()

    @property
    def light(self) -> bool:
        """Whether it is drawn for a draft."""
        return self.figure.look.light

    def maps(self, spots: FloatArray) -> Maps:
        """What the body hides from spots, shape (K, 3) [m]."""
        return maps_from(spots, self.bodies, [self.face.eyes + np.array(middle) @ self.frame for middle, _ in BALLS], self.light)

    def _placed(self, vertices: FloatArray) -> FloatArray:
        return np.ascontiguousarray(vertices @ self.frame.astype(np.float32) + self.face.eyes.astype(np.float32))


@dataclass(frozen=True, eq=False)
class Thrown:
    """One source's light: its middle (3,) [m], maps from some of its spots, and illuminance of the vertices (V,) [lx]."""

    middle: FloatArray
    maps: Maps
    level_lx: FloatArray


_kept: LockedLru[bytes, Thrown] = LockedLru(MOST_KEPT, MOST_BYTES, lambda thrown: held_bytes(thrown, thrown.maps))


_free: LockedLru[bytes, FloatArray] = LockedLru(MOST_FREE)


def thrown_by(source: Source, stood: Stood) -> Thrown:
    """A source's light on a body; kept, so that a lamp that moves costs only itself."""
    return _kept.get_or_compute(stood.key + source.content, lambda: _thrown(source, stood))


def thrown_past(source: Source, stood: Stood, board: Board) -> Thrown:
    """The same with the desk in its way: a place gets as much of a source as it sees of its spots past the desk."""
    cast, key = thrown_by(source, stood), stood.key + source.content + np.array(board.key).tobytes()
    free = _free.get_or_compute(key, lambda: _share_past(source, stood, board))
    return replace(cast, level_lx=cast.level_lx * free) if len(free) else cast


def _share_past(source: Source, stood: Stood, board: Board) -> FloatArray:
    """How much of a source's spots each vertex sees past the desk, shape (V,) 0-1; empty where all see all."""
    seen = visible((board,), stood.places, spots_of(source, stood.face.eyes, stood.light))
    return np.zeros(0, np.float32) if seen is None else seen.mean(axis=1).astype(np.float32)


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()
    _free.forget()


def _thrown(source: Source, stood: Stood) -> Thrown:
    spots = spots_of(source, stood.face.eyes, stood.light)
    maps = stood.maps(spots)
    seen = maps.seen(stood.places, stood.normals)
    if not isinstance(source, AreaSource):
        return Thrown(spots.mean(axis=0), maps.some(ENOUGH_SPOTS), _seamless(_past(source, stood, seen.mean(axis=1)), stood.figure))
    level = np.empty(len(stood.places), dtype=np.float32)
    heights = (stood.face.eyes[2] + np.array(HEIGHTS_M)).astype(np.float32)
    strength = _strengths(source, stood.face, stood.light)
    facing = source.pane.normal.astype(np.float32)
    at = spots.astype(np.float32)

    def work(begin: int, end: int) -> None:
        area_light(stood.places, stood.normals, at, facing, strength, heights, seen, begin, end, level)

    spread(work, len(level))
    return Thrown(spots.mean(axis=0), maps.some(ENOUGH_SPOTS), _seamless(level, stood.figure))


def _seamless(level: FloatArray, figure: Figure) -> FloatArray:
    level[figure.sunk] = level[figure.beside]
    return level


def _past(source: PointSource | SunBeam, stood: Stood, seen: FloatArray) -> FloatArray:
    """Light of a small or far source where it is seen."""
    level = np.zeros(len(stood.places), dtype=np.float32)
    some = np.flatnonzero(seen)
    if isinstance(source, PointSource) and source.photometry is None and source.beam_deg < 360:
        # A shade cuts the light of a lamp of some size: its beam ends softly. As many lumens leave it.
        wide = replace(source, beam_deg=360.0)
        peak_cd = float(source.intensity_cd(source.aim)) / float(wide.intensity_cd(source.aim))
        level[some] = wide.illuminance_lx(stood.places[some], stood.normals[some]) * peak_cd * seen[some]
        level[some] *= _within(source, stood.places[some])
        return level
    level[some] = source.illuminance_lx(stood.places[some], stood.normals[some]) * seen[some]
    return level


def _within(source: PointSource, places: FloatArray) -> FloatArray:
    """How much of a lamp's beam places (N, 3) [m] get, shape (N,) 0-1: a half at its edge, all or nothing BEAM_EDGE_M inside or outside."""
    beyond = places - source.place
    off = np.arctan2(np.linalg.norm(np.cross(beyond, source.aim), axis=1), beyond @ source.aim)
    inside_m = np.linalg.norm(beyond, axis=1) * (math.radians(source.beam_deg) / 2 - off)
    share = np.clip(0.5 + inside_m / (2 * BEAM_EDGE_M), 0, 1)
    return np.asarray(share * share * (3 - 2 * share))


def spots_of(source: Source, eyes: Vector, light: bool) -> FloatArray:
    """Where a source's light comes from, spread over its face, fewer for a draft, shape (K, 3) [m]."""
    if isinstance(source, AreaSource):
        spots = source.patches(_fineness(source, light))[0]
        return spots[::3] if _in_two(source, light) else spots
    if isinstance(source, SunBeam):
        return _disc(eyes + SUN_AWAY_M * source.towards, source.towards, SUN_RADIUS_M, light)
    towards = eyes - source.place
    return _disc(source.place, towards / max(float(np.linalg.norm(towards)), 1e-6), source.radius_m, light)


def _fineness(source: AreaSource, light: bool) -> int:
    if source.ring:
        return RING_LIGHT if light else RING_SPOTS
    if isinstance(source, ClearWindow) or source.pane.width_m > 0.6:
        return WINDOW_LIGHT if light else WINDOW_FINE
    if light and source.pane.width_m <= SMALL_M:
        return 1
    return PANEL_LIGHT if light else PANEL_FINE


def _in_two(source: AreaSource, light: bool) -> bool:
    """Whether of two by two spots two will do, from corner to corner: for a panel or a monitor in a draft."""
    return not source.ring and light and _fineness(source, light) == PANEL_LIGHT


def _disc(middle: Vector, axis: Vector, radius_m: float, light: bool) -> FloatArray:
    """Four spots that stand for a disc; two for a draft."""
    aside = np.cross(axis, (0.0, 0.0, 1.0) if abs(axis[2]) < 0.9 else (1.0, 0.0, 0.0))
    aside /= np.linalg.norm(aside)
    up = np.cross(aside, axis)
    round_it = [aside + up, -aside - up] if light else [aside + up, aside - up, -aside + up, -aside - up]
    return middle + radius_m * 0.6 * np.array(round_it) / math.sqrt(2)


def _strengths(source: AreaSource, face: Face, light: bool) -> FloatArray:
    """Luminance times area of each spot as seen from HEIGHTS_M, shape (K, heights) [cd].

    What is seen through a clear pane changes within a spot, at the horizon most: so each stands for SUB by SUB finer ones.
    """
    fineness, sub = _fineness(source, light), 1 if source.ring else SUB
    spots, patch_m2 = source.patches(fineness * sub)
    columns = []
    for up_m in HEIGHTS_M:
        rays = spots - face.at(-0.03, 0.0, up_m)
        seen = source.seen_cd_m2(rays / np.maximum(np.linalg.norm(rays, axis=1, keepdims=True), 1e-9)) * patch_m2
        spot = seen if source.ring else seen.reshape(fineness, sub, fineness, sub).sum(axis=(1, 3)).ravel()
        columns.append(spot.reshape(2, 2).sum(axis=1) if _in_two(source, light) else spot)
    return np.ascontiguousarray(np.stack(columns, axis=1), np.float32)


def together(levels: Sequence[FloatArray], tints: FloatArray) -> FloatArray:
    """Levels (V,) of each source and their tints (S, 3) summed, shape (V, 3) [lx] in linear sRGB."""
    return np.asarray(np.stack(levels, axis=1) @ tints.astype(np.float32))
