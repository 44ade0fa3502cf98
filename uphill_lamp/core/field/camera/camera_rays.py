"""What a camera has before it, as a coarse grid of rays, and the light on it: kept while only lamps change."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.boards import Boards, board_of
from uphill_lamp.core.field.light.body_shadow import also_hidden, hidden_share
from uphill_lamp.core.field.light.lit_scene import LitScene, columns
from uphill_lamp.core.field.light.patches import Patches
from uphill_lamp.core.field.light.radiosity import Enclosure
from uphill_lamp.core.field.light.sources import AreaSource, PointSource
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.in_view import GRID, in_view_key, in_view_of, through_grid
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.scene.view import View, lamp_met, lamp_radius_m, shirt_reflectance, view_of

FINENESS = 3
FEW = 3  # of so many rays one is looked along first
LAMP_REFLECTANCE = 0.6
MOST_KEPT, MOST_SOURCES, MOST_BY_LENS = 64, 64, 8
LIT_BEHIND = ("surface", "backdrop")  # what shows the light that falls on it


class _Landing:
    """Places, (N, 3) [m], with normals, that light falls on past the boards; what each source gives there is kept.

    Args:
        before: the same in a room where a thing was hung up or carried off since: what falls on the places that both have is taken from it.
    """

    def __init__(self, places: FloatArray, normals: FloatArray, boards: Boards, before: _Landing | None = None) -> None:
        self.places, self.normals, self.boards = places, normals, boards
        self._direct: dict[bytes, FloatArray] = {}
        self._whole: dict[bytes, FloatArray] = {}
        self._seen: FloatArray | None = None
        self._seen_of: Patches | None = None
        both, same = min(len(places), len(before.places)) if before else 0, np.zeros(len(places), dtype=bool)
        if before:
            same[:both] = ((places[:both] == before.places[:both]) & (normals[:both] == before.normals[:both])).all(axis=1)
        self._taken_over, self._anew = np.flatnonzero(same), np.flatnonzero(~same)
        self._known = (before._direct, before._seen, before._seen_of) if before and len(self._taken_over) else ({}, None, None)

    def whole_lx(self, enclosure: Enclosure, source: Source) -> FloatArray:
        """Illuminance of a source, reflections included, shape (N,) [lx]."""
        return source.strength * _kept_of(self._whole, source.shape, partial(self._whole_lx, enclosure, source))

    def _whole_lx(self, enclosure: Enclosure, source: Source) -> FloatArray:
        if self._seen is None:
            known = self._known[1] if self._known[2] is enclosure.patches else None
            self._seen, self._seen_of = self._with(known, enclosure.roughly_seen_from), enclosure.patches
        sent = enclosure.landed(source).sent.astype(np.float32)  # as what it is held against
        return np.asarray(self._seen @ sent + self.direct_lx(source.unit), float)

    def direct_lx(self, source: Source) -> FloatArray:
        """Illuminance of a source straight from it, nothing but the boards in its way, shape (N,) [lx]."""
        return source.strength * _kept_of(self._direct, source.shape, lambda: self._direct_lx(source.unit))

    def _direct_lx(self, source: Source) -> FloatArray:
        return self._with(
            self._known[0].get(source.shape), lambda places, normals: source.illuminance_lx(places, normals, FINENESS, self.boards)
        )

    def _with(self, known: FloatArray | None, work: Callable[[FloatArray, FloatArray], FloatArray]) -> FloatArray:
        """What is worked out for each place, of those that are known taken over."""
        if known is None:
            return work(self.places, self.normals)
        rows = np.empty((len(self.places), *known.shape[1:]), known.dtype)
        rows[self._taken_over] = known[self._taken_over]
        if len(self._anew):
            rows[self._anew] = work(self.places[self._anew], self.normals[self._anew])
        return rows


class CameraRays:
    """Rays of a camera's picture and what they meet, lamps apart: ``view`` over the picture, N rays; and ``rim`` along the head's outline,
    first M just inside of it and then M just outside, or None where none of it is in the picture. All are lit at once.

    Args:
        along: what all of them meet, shape (N + 2 M,).
        count: N.
    """

    def __init__(self, setup: Setup, along: View, count: int, landing: _Landing) -> None:
        self.view = along.some(slice(count))
        self.rim = along.some(slice(count, None)) if len(along.what) > count else None
        self.reflectance = np.where(along.mask("shirt"), shirt_reflectance(setup), along.reflectance)
        self._along, self._landing, self._chair = along, landing, chair_panes(setup)
        self._meets: dict[tuple[str, ...], NDArray[np.bool_]] = {}
        self._hidden: dict[bytes, FloatArray] = {}

    @classmethod
    def of(cls, setup: Setup) -> CameraRays:
        """The rays of a grid over the main camera's picture, with those along the outline."""
        view, ring = in_view_of(setup).grid, in_view_of(setup).ring
        along = view.joined(ring.rim) if ring and ring.rim else view
        board, lens = board_of(setup.desk), scene_of(setup).pinhole
        key = np.array([*lens.place, *lens.forward, *lens.right, lens.field.half_width, lens.field.half_height, *board.key]).tobytes()
        landing = _Landing(along.place, along.normal, (board,), _by_lens.get(key))
        _by_lens.put(key, landing)
        return cls(setup, along, len(view.what), landing)

    @classmethod
    def few(cls, setup: Setup) -> CameraRays:
        """One in ``FEW`` of these rays, for a quick look."""
        pinhole = scene_of(setup).pinhole
        view = view_of(setup, pinhole, pinhole.ray(*(places[::FEW] for places in through_grid(*GRID))))
        return cls(setup, view, len(view.what), _Landing(view.place, view.normal, (board_of(setup.desk),)))

    def meets(self, *kinds: str) -> NDArray[np.bool_]:
        """Which rays over the picture meet things of some kinds, shape (N,); not to be written to."""
        if kinds not in self._meets:
            self._meets[kinds] = self.view.mask(*kinds)
        return self._meets[kinds]

    def by_source_lx(self, lit_scene: LitScene) -> FloatArray:
        """Illuminance of each source on what each ray meets, reflections included, shape (N + 2 M, sources) [lx]."""
        return columns([self._landing.whole_lx(lit_scene.enclosure, source) for source in lit_scene.sources], len(self._along.what))

    def direct_lx(self, source: Source) -> FloatArray:
        """Illuminance of a source on what each ray over the picture meets, straight from it past the desk, nothing else in its way, shape (N,)
        [lx]."""
        return self._landing.direct_lx(source)[: len(self.view.what)]

    def kept_off_lx(self, source: Source) -> FloatArray:
        """How much of that the body keeps off what is behind it, shape (N,) [lx]."""
        return source.strength * _kept_of(self._hidden, source.shape, lambda: self._kept_off_lx(source.unit))

    def _kept_off_lx(self, source: Source) -> FloatArray:
        taken = np.where(self.meets(*LIT_BEHIND), self.direct_lx(source), 0.0)
        some = np.flatnonzero(taken)
        places = self.view.place[some]
        share = hidden_share(source, self.view.shape, self.view.face, places)
        taken[some] *= also_hidden(share, source, self._chair, self.view.face, places) if self._chair else share
        return taken

    def luminance_cd_m2(self, lit_scene: LitScene, falls: FloatArray) -> tuple[FloatArray, NDArray[np.bool_]]:
        """Luminance of what each ray meets [cd/m2], its own or E rho / pi, and which rays meet a lamp, both of shape (N + 2 M,).

        Args:
            lit_scene: the light.
            falls: ``by_source_lx`` of it.
        """
        luminance = falls.sum(axis=1) * self.reflectance / math.pi
        shining = {source.id: source for source in lit_scene.sources}
        glowing = {thing.id: thing.luminance_cd_m2 for thing in lit_scene.setup.backdrop if thing.luminance_cd_m2}
        for index, thing in enumerate(self._along.things):
            source = shining.get(thing.name) if thing.kind in ("window", "screen", "reflector") else None
            own = glowing.get(thing.name) if thing.kind == "backdrop" else None
            if own is not None:
                luminance[self._along.what == index] += own
            elif isinstance(source, AreaSource):
                here = self._along.what == index
                mirrored = luminance[here] if thing.kind == "window" else 0.0  # dusk: glass shows the room before it shows the sky
                luminance[here] = mirrored + source.seen_cd_m2(self._along.rays[here])
        return luminance, self._lamps(lit_scene, luminance)

    def _lamps(self, lit_scene: LitScene, luminance: FloatArray) -> NDArray[np.bool_]:
        """Which rays meet a lamp, shape (N,); their luminance is put in place."""
        shining = {source.id: source for source in lit_scene.sources}
        reach = np.linalg.norm(self._along.place - self._along.origin, axis=1)
        met = np.zeros(len(reach), dtype=bool)
        for light in lit_scene.setup.lights:
            here, away, normal = lamp_met(self._along.origin, self._along.rays, vector(light.position), reach, lamp_radius_m(light))
            if not len(here):
                continue
            source = shining.get(light.id)
            if isinstance(source, AreaSource):
                luminance[here] = source.seen_cd_m2(self._along.rays[here])
            elif isinstance(source, PointSource):  # a bulb in view shines as a ball of its size
                luminance[here] = source.seen_cd_m2
            else:
                places = self._along.origin + away[:, None] * self._along.rays[here]
                luminance[here] = lit_scene.illuminance_lx(places, normal, FINENESS) * LAMP_REFLECTANCE / math.pi
            reach[here], met[here] = away, True
        return met


def _kept_of(kept: dict[bytes, FloatArray], key: bytes, work: Callable[[], FloatArray]) -> FloatArray:
    if key not in kept:
        if len(kept) >= MOST_SOURCES:
            kept.clear()
        kept[key] = work()
    return kept[key]


_by_lens: LockedLru[bytes, _Landing] = LockedLru(MOST_BY_LENS)
_kept: LockedLru[tuple[str, float], CameraRays] = LockedLru(MOST_KEPT)


def camera_rays_of(setup: Setup) -> CameraRays:
    """What the main camera has before it, over a grid; worked out once for all that only the lamps tell apart."""
    return _kept.get_or_compute((in_view_key(setup), shirt_reflectance(setup)), lambda: CameraRays.of(setup))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()
    _by_lens.forget()
