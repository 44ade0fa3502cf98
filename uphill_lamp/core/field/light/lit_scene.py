"""What falls where: the five points of the face and any other place, straight from the sources and off the room's surfaces."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, partial
from typing import Any, TypeVar

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.boards import CELLS, Board, board_of, visible
from uphill_lamp.core.field.light.brim import passes_brim, wears_brim
from uphill_lamp.core.field.light.colour import cct_and_duv, mixed_uv, white_uv
from uphill_lamp.core.field.light.patches import FINE, Patches
from uphill_lamp.core.field.light.radiosity import Enclosure, enclosure_of
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source, SunBeam, sources_of
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.placing import Face, reflector_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP

BRIM_FINENESS = 8
SHEET_FINENESS = 3
AT_FINENESS = 4  # of sources at any place
LEAST_LX = 0.1  # ratios take no illuminance below this (docs/method/light.md)

_ASIDE, _HALF = np.radians(50), np.sqrt(0.5)
# name: place (forward, left, up of the eyes) [m], normal in the same axes
FACE_POINTS: dict[str, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "front": ((0.0, 0.0, -0.03), (1.0, 0.0, 0.0)),
    "left_cheek": ((-0.025, 0.055, -0.05), (float(np.cos(_ASIDE)), float(np.sin(_ASIDE)), 0.0)),
    "right_cheek": ((-0.025, -0.055, -0.05), (float(np.cos(_ASIDE)), -float(np.sin(_ASIDE)), 0.0)),
    "brow": ((-0.005, 0.0, 0.04), (_HALF, 0.0, _HALF)),
    "under_chin": ((-0.01, 0.0, -0.11), (_HALF, 0.0, -_HALF)),
    "top": ((-0.08, 0.0, 0.115), (0.0, 0.0, 1.0)),
}


def face_points(face: Face) -> tuple[FloatArray, FloatArray]:
    """Places [m] and normals of FACE_POINTS in the room, both of shape (6, 3)."""
    frame = np.array([face.forward, face.left, UP])
    places = np.array([place for place, _ in FACE_POINTS.values()]) @ frame + face.eyes
    normals = np.array([normal for _, normal in FACE_POINTS.values()]) @ frame
    return places, normals


T = TypeVar("T")
MOST_SEEN = 24
MOST_ON_FACE = 128
_seen: LockedLru[tuple[float, ...], tuple[FloatArray, FloatArray]] = LockedLru(MOST_SEEN)
_on_face: LockedLru[tuple[Any, ...], FloatArray] = LockedLru(MOST_ON_FACE)  # and on the points of a face [lx]
_sheet_sees: LockedLru[tuple[Any, ...], FloatArray] = LockedLru(MOST_SEEN)


def _face_lx(setup: Setup, source: Source) -> FloatArray:
    places, normals = face_points(scene_of(setup).face)
    level_lx = source.unit.illuminance_lx(places, normals, boards=(board_of(setup.desk),))
    return level_lx * past_brim(setup, source, places, normals) if wears_brim(setup) else level_lx


def columns(values: Sequence[FloatArray], count: int) -> FloatArray:
    """Values (count,) of each source side by side, shape (count, sources), of none too."""
    return np.stack(values, axis=1) if values else np.zeros((count, 0))


def seen_by_face(patches: Patches, face: Face, board: Board) -> tuple[FloatArray, FloatArray]:
    """How the FACE_POINTS see the fine places of the room's patches past the desk, (6, P, FINE^2), and the cells of its two sides, (6, 2 D).

    Form factors, kept while neither room, face nor desk moves.
    """
    key = (*patches.size.tolist(), *face.eyes.tolist(), *face.forward.tolist(), *board.key)
    return _seen.get_or_compute(key, lambda: _found_seen(patches, face, board))


def _found_seen(patches: Patches, face: Face, board: Board) -> tuple[FloatArray, FloatArray]:
    places, normals = face_points(face)
    room = patches.seen_from(places, normals)
    free = visible((board,), places, patches.places(FINE).reshape(-1, 3))
    desk = board.seen_from(places, normals) * np.tile(board.inside(patches.size), 2)
    return room if free is None else room * free.reshape(room.shape), desk


@dataclass(frozen=True)
class LitScene:
    """Light of a setup: its sources, and what the room throws back of them."""

    setup: Setup
    sources: tuple[Source, ...]

    def carried_to(self, setup: Setup) -> LitScene:
        """The same light for a setup in which nothing that bears on it has changed; what was worked out comes along."""
        carried = LitScene(setup, self.sources)
        there = dict(self.__dict__)  # a copy: another thread may work something out meanwhile
        carried.__dict__.update({name: value for name, value in there.items() if name.endswith(("_lx", "_by_source"))})
        return carried

    def once(self, name: str, work: Callable[[], T]) -> T:
        """What others work out from this light, worked out once; it does not go along to other setups."""
        if name not in self._told:
            self._told[name] = work()
        return self._told[name]

    @cached_property
    def _told(self) -> dict[str, Any]:
        return {}

    @cached_property
    def enclosure(self) -> Enclosure:
        """The room with its desk, solved."""
        return enclosure_of(self.setup)

    @cached_property
    def lit_lx(self) -> FloatArray:
        """Direct light of each source on the room's fine grid, shape (sources, P, FINE^2) [lx]."""
        out = np.empty((len(self.sources), len(self.enclosure.patches.middle), FINE**2))
        for row, source in zip(out, self.sources, strict=True):
            np.multiply(self.enclosure.landed(source).room, source.strength, out=row)
        return out

    @cached_property
    def straight_on_desk_lx(self) -> FloatArray:
        """Direct light of each source on the cells of the desk's top and underside, shape (sources, 2 D) [lx]."""
        rows = [self.enclosure.landed(source).boards * source.strength for source in self.sources]
        return np.array(rows).reshape(len(rows), len(self.enclosure.reflectance) - len(self.enclosure.patches.middle))

    @cached_property
    def returned_by_source_lx(self) -> FloatArray:
        """Reflected light of each source on the enclosure's elements, shape (E, sources) [lx]."""
        returned = [self.enclosure.landed(source).returned * source.strength for source in self.sources]
        return columns(returned, len(self.enclosure.reflectance))

    @cached_property
    def sent_by_source(self) -> FloatArray:
        """What the enclosure's elements send out of each source's light, shape (E, sources) [lm/m2]."""
        return columns([self.enclosure.landed(source).sent * source.strength for source in self.sources], len(self.enclosure.reflectance))

    @cached_property
    def cells_sent_by_source(self) -> FloatArray:
        """What each of the enclosure's cells sends out of each source's light, shape (C, sources) [lm/m2]."""
        return columns([self.enclosure.cells_sent_of(source) for source in self.sources], self.enclosure.exchange.first.shape[1])

    @cached_property
    def by_source_lx(self) -> FloatArray:
        """Direct illuminance of each source on each of FACE_POINTS, shape (sources, 6) [lx]."""
        face, brim_m = scene_of(self.setup).face, self.setup.presenter.brim_m if wears_brim(self.setup) else 0.0
        key = face.eyes.tobytes(), face.forward.tobytes(), brim_m, self.board.key
        rows = [
            _on_face.get_or_compute((source.shape, *key), partial(_face_lx, self.setup, source)) * source.strength
            for source in self.sources
        ]
        return np.array(rows).reshape(len(rows), len(FACE_POINTS))

    @cached_property
    def board(self) -> Board:
        """The desk."""
        return board_of(self.setup.desk)

    @property
    def _seen(self) -> tuple[FloatArray, FloatArray]:
        return seen_by_face(self.enclosure.patches, scene_of(self.setup).face, self.board)

    @property
    def sent_by_desk(self) -> FloatArray:
        """What the cells of the desk's top send up of each source's light, shape (D, sources) [lm/m2]."""
        begin = self.enclosure.on_boards.start
        return self.sent_by_source[begin : begin + CELLS[0] * CELLS[1]]

    @cached_property
    def from_room_lx(self) -> FloatArray:
        """What each of the enclosure's elements sends on the front of the face, shape (E,) [lx]."""
        room, desk = self._seen
        return np.asarray(np.concatenate([room[0].sum(axis=1), desk[0]]) * self.sent_by_source.sum(axis=1))

    @cached_property
    def whole_by_source_lx(self) -> FloatArray:
        """Illuminance of each source on each of FACE_POINTS, reflections included, shape (sources, 6) [lx]."""
        return np.asarray(self.by_source_lx + self.bounced_by_source_lx)

    @cached_property
    def bounced_by_source_lx(self) -> FloatArray:
        """Reflected illuminance of each source on each of FACE_POINTS, shape (sources, 6) [lx]."""
        face = scene_of(self.setup).face
        where = ("face", face.eyes.tobytes(), face.forward.tobytes())
        rows = [self.enclosure.brought(source, where, self._bounced_lx) for source in self.sources]
        return np.array(rows).reshape(len(rows), len(FACE_POINTS))

    def _bounced_lx(self, source: Source) -> FloatArray:
        landed = self.enclosure.landed(source)
        return self.enclosure.bounced_lx(landed.room, landed.sent, *self._seen)

    @cached_property
    def face_lx(self) -> dict[str, float]:
        """Illuminance on each of FACE_POINTS, reflections included [lx]."""
        return dict(zip(FACE_POINTS, self.whole_by_source_lx.sum(axis=0).tolist(), strict=True))

    def by_source_at_lx(self, places: FloatArray, normals: FloatArray, fineness: int = AT_FINENESS) -> FloatArray:
        """Illuminance of each source anywhere in the room, reflections included, shapes (N, 3) -> (N, sources) [lx]."""
        total = np.asarray(self.enclosure.seen_from(places, normals) @ self.cells_sent_by_source, float)
        for index, source in enumerate(self.sources):
            total[:, index] += source.illuminance_lx(places, normals, fineness, self.enclosure.boards)
        return total

    def illuminance_lx(self, places: FloatArray, normals: FloatArray, fineness: int = AT_FINENESS) -> FloatArray:
        """Illuminance anywhere in the room, shapes (N, 3) -> (N,) [lx]."""
        return np.asarray(self.by_source_at_lx(places, normals, fineness).sum(axis=1))


def past_brim(setup: Setup, source: Source, places: FloatArray, normals: FloatArray) -> FloatArray:
    """Share of a source's light on places on the face, (N, 3) [m] and (N, 3), that comes past a hat's brim, shape (N,) 0-1."""
    face = scene_of(setup).face
    if not isinstance(source, AreaSource):
        towards = source.towards[None] if isinstance(source, SunBeam) else source.place - places
        rays = np.broadcast_to(towards / np.linalg.norm(towards, axis=1, keepdims=True), places.shape)
        return passes_brim(face, setup.presenter.brim_m, places, rays).astype(float)
    beyond = source.patches(BRIM_FINENESS)[0][None] - places[:, None]
    away = np.maximum(np.linalg.norm(beyond, axis=-1), 1e-6)
    rays = beyond / away[..., None]
    arriving, leaving = np.maximum(np.einsum("npi,ni->np", rays, normals), 0), np.maximum(-rays @ source.pane.normal, 0)
    weights = arriving * leaving * source.seen_cd_m2(rays) / away**2
    return np.asarray(
        (weights * passes_brim(face, setup.presenter.brim_m, places, rays)).sum(axis=1) / np.maximum(weights.sum(axis=1), 1e-12)
    )


def lit_scene_of(setup: Setup, sources: Sequence[Source] | None = None) -> LitScene:
    """The light of a setup; other sources than its own may be given, what its white sheets then throw back among them."""
    if sources is not None:
        return LitScene(setup, tuple(sources))
    shining = sources_of(setup)
    return LitScene(setup, (*shining, *thrown_back(setup, shining)))


def thrown_back(setup: Setup, sources: Sequence[Source]) -> list[AreaSource]:
    """White sheets as sources: each shines with what falls on its white side, straight and off the room [cd/m2] rho E / pi.

    A sheet's own light on other sheets, and what it keeps from going on, are left out: it is small against the room.
    """
    if not setup.reflectors or not sources:
        return []
    lit, sheets = LitScene(setup, tuple(sources)), []
    for sheet in setup.reflectors:
        pane = reflector_pane(sheet)
        by_source = _on_sheet_lx(lit, AreaSource("", pane, 1.0, 6500))
        total = float(by_source.sum())
        if total <= LEAST_LX or sheet.reflectance <= 0:
            continue
        whites = [white_uv(source.cct_k, source.duv) for source in sources]
        cct_k, duv = (float(values[0]) for values in cct_and_duv(mixed_uv(whites, by_source[None])))
        on_line = cct_and_duv(np.array([white_uv(cct_k)]))[1][0]  # daylight whites lie off the Planckian line themselves
        sheets.append(AreaSource(sheet.id, pane, sheet.reflectance * total / math.pi, cct_k, duv=duv - float(on_line)))
    return sheets


def _on_sheet_lx(lit: LitScene, sheet: AreaSource) -> FloatArray:
    """Mean illuminance of each source on a sheet, reflections included, shape (sources,) [lx]; how it sees the room, and each source, is kept
    while neither moves."""
    enclosure, (spots, _) = lit.enclosure, sheet.patches(SHEET_FINENESS)
    normals, boards = np.repeat(sheet.pane.normal[None], len(spots), axis=0), enclosure.boards
    place = (enclosure.patches.size.tobytes(), sheet.shape, *(board.key for board in boards))

    def mean_lx(source: Source) -> FloatArray:
        seen = _sheet_sees.get_or_compute(place, lambda: enclosure.seen_from(spots, normals).mean(axis=0))
        straight = source.illuminance_lx(spots, normals, AT_FINENESS, boards).mean()
        return np.asarray(seen @ enclosure.cells_sent_of(source) + straight, float)

    return np.array([enclosure.brought(source, ("sheet", sheet.shape), mean_lx) for source in lit.sources])


def main_source(lit_scene: LitScene) -> Source | None:
    """The source that gives the front of the face most light directly."""
    direct = lit_scene.by_source_lx[:, 0] if len(lit_scene.sources) else np.zeros(0)
    return lit_scene.sources[int(direct.argmax())] if len(direct) and direct.max() > 0 else None
