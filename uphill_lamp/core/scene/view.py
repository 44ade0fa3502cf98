"""What each ray of the picture meets: body, things behind, windows, screens, lamps or bare surface."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.finishes import FINISHES
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing, OwnFinish
from uphill_lamp.core.scene.body import Ellipsoid, meet, normals_at, trunk
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.colour_difference import luminance_of
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import (
    WALLS,
    Face,
    Pane,
    desk_pane,
    facing_pane,
    reflector_pane,
    room_size,
    screen_backs,
    screen_pane,
    window_pane,
)
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector

REFERENCE_FACE = 0.36  # reflectance for metering, whoever sits there (docs/method/light.md)
HAIR_REFLECTANCE = 0.08
HOUSING_REFLECTANCE = 0.04  # of a screen's back
LAMP_RADIUS_M = 0.045  # of a bulb or a lamp's head


def lamp_radius_m(light: Light) -> float:
    """Radius of the ball as which a lamp is seen [m]: its head's, or that of a ball that hides as much as the shade all round it."""
    shade = light.diffuser
    return math.sqrt(shade.width_m * shade.height_m / math.pi) if shade is not None and shade.around else LAMP_RADIUS_M


IN_WALL_M = 1e-4  # a pane in a wall lies at the wall's own distance, and comes before it by this


@dataclass(frozen=True)
class Seen:
    """One thing rays can meet. ``kind``: body part, surface, window, screen, back (of a screen), chair, desk, reflector, backdrop; ``name`` its id."""

    kind: str
    name: str
    reflectance: float


@dataclass(frozen=True, eq=False)
class View:
    """What N rays from one place meet.

    ``what`` (N,) indexes ``things``, the last of which are the parts of the body; ``place`` (N, 3) is where [m].

    Args:
        origin, rays: where they start, (3,) [m], and their directions, (N, 3).
        flat: normals towards the room of those things that are flat, shape (F, 3).
        shape, face: of the body.
    """

    origin: FloatArray
    rays: FloatArray
    things: tuple[Seen, ...]
    what: NDArray[np.int64]
    place: FloatArray
    flat: FloatArray
    shape: tuple[Ellipsoid, ...]
    face: Face

    @cached_property
    def normal(self) -> FloatArray:
        """Normals where they are met, towards the room, shape (N, 3)."""
        curved = self.what >= len(self.flat)
        normal = self.flat[np.where(curved, 0, self.what)]
        normal[curved] = normals_at(self.shape, self.face, self.place[curved], self.what[curved] - len(self.flat))
        return normal

    @property
    def reflectance(self) -> FloatArray:
        """Reflectance of what each ray meets, shape (N,) [no unit]."""
        return np.array([thing.reflectance for thing in self.things])[self.what]

    def mask(self, *kinds: str) -> NDArray[np.bool_]:
        """Which rays meet things of some kinds, shape (N,)."""
        return np.array([thing.kind in kinds for thing in self.things])[self.what]

    def some(self, rows: slice | NDArray[np.int64]) -> View:
        """What some of the rays meet."""
        return replace(self, rays=self.rays[rows], what=self.what[rows], place=self.place[rows])

    def joined(self, other: View) -> View:
        """What these rays meet, and then others of the same cast."""
        rays, what, place = (np.concatenate([getattr(view, of) for view in (self, other)]) for of in ("rays", "what", "place"))
        return replace(self, rays=rays, what=what, place=place)


def surface_reflectance(finish: str | OwnFinish) -> float:
    """Reflectance of a surface by name or own value [no unit]."""
    return finish.reflectance if isinstance(finish, OwnFinish) else FINISHES[finish].reflectance


def shirt_reflectance(setup: Setup) -> float:
    """Reflectance of what is worn on the chest [no unit]."""
    worn = [garment.reflectance for garment in setup.presenter.clothing if garment.kind in ("top", "jacket", "scarf")]
    return worn[-1] if worn else 0.25


AT_WALL_M = 0.6  # what stands this near a wall stands square to it


def backdrop_panes(setup: Setup) -> list[tuple[str, Pane]]:
    """Things behind as upright rectangles with their ids: flat to the wall they stand at, else square to the presenter."""
    return [
        (thing.id, facing_pane(vector(thing.position), _looks_deg(setup, thing), 0.0, thing.width_m, thing.height_m))
        for thing in setup.backdrop
    ]


def _looks_deg(setup: Setup, thing: BackdropThing) -> float:
    """The way a thing behind looks: into the room from the nearest wall, or the way the presenter does [deg]."""
    size, place = room_size(setup.room), vector(thing.position)
    away = {yaw_deg: float(size[axis] - place[axis] if end else place[axis]) for axis, end, yaw_deg in WALLS.values()}
    nearest = min(away, key=lambda yaw_deg: away[yaw_deg])
    if away[nearest] < AT_WALL_M:
        return nearest
    return round(setup.presenter.facing_yaw_deg / 90) * 90.0


def view_of(setup: Setup, pinhole: Pinhole, rays: FloatArray) -> View:
    """What rays from the lens meet; lamps are looked through.

    Args:
        setup: the room and all in it.
        pinhole: the camera; only its place is used.
        rays: unit directions, shape (N, 3).
    """
    # Several questions look from one place; what can be met there is listed once.
    surfaces, panes, things = scene_of(setup).once(f"met from {pinhole.place.tolist()}", lambda: _listed(setup, pinhole))
    cast = _Cast(pinhole.place, rays)
    cast.room(room_size(setup.room))
    cast.rectangles(panes, len(surfaces), IN_WALL_M)
    cast.rectangles(things, len(surfaces) + len(panes.seen))
    flat = np.concatenate([_INWARD, panes.normals, things.normals])
    shape, face = trunk(setup.presenter), scene_of(setup).face
    cast.body(shape, face, len(flat))
    reflectances = {"hair": HAIR_REFLECTANCE, "shirt": shirt_reflectance(setup)}
    body = (Seen(part.part, str(index), reflectances.get(part.part, REFERENCE_FACE)) for index, part in enumerate(shape))
    met = (*surfaces, *panes.seen, *things.seen, *body)
    return View(pinhole.place, rays, met, cast.what, cast.place, flat, shape, face)


def _listed(setup: Setup, pinhole: Pinhole) -> tuple[tuple[Seen, ...], _Rectangles, _Rectangles]:
    """What can be met from a place besides the body: the room's surfaces, panes in its walls, and what stands in it."""
    finishes = ((name, getattr(setup.room.surfaces, name)) for name in _SURFACES)
    return (
        tuple(Seen("surface", name, surface_reflectance(finish)) for name, finish in finishes),
        _panes(setup, pinhole),
        _things(setup, pinhole),
    )


@dataclass(frozen=True, eq=False)
class _Rectangles:
    """Rectangles side by side. How far the lens is before each: ``before`` (R,) [m]; one that turns its back to it is not met.

    A ray d meets the plane of one at before / -(n d), and there is across by (u d) / (n d) and up by (v d) / (n d) from its middle, 1 at its
    edges: ``turned`` (3, R, 3) are n, u and v.
    """

    seen: list[Seen]
    normals: FloatArray
    before: FloatArray
    turned: FloatArray

    @classmethod
    def of(cls, listed: list[tuple[Seen, Pane]], place: FloatArray) -> _Rectangles:
        seen, panes = [thing for thing, _ in listed], [pane for _, pane in listed]
        middles, normals, rights, ups = (
            np.array([getattr(pane, axis) for pane in panes]).reshape(-1, 3) for axis in ("middle", "normal", "right", "up")
        )
        widths, heights = (np.array([getattr(pane, side) for pane in panes]) for side in ("width_m", "height_m"))
        offset = place - middles
        before = (offset * normals).sum(axis=1)
        across, up = (
            ((offset * axes).sum(axis=1)[:, None] * normals - before[:, None] * axes) * (2 / sides)[:, None]
            for axes, sides in ((rights, widths), (ups, heights))
        )
        return cls(seen, normals, before, np.array([normals, across, up]))


def _panes(setup: Setup, pinhole: Pinhole) -> _Rectangles:
    listed = [(Seen("window", window.id, 0.1), window_pane(setup.room, window)) for window in setup.room.windows]
    return _Rectangles.of(listed, pinhole.place)


def _things(setup: Setup, pinhole: Pinhole) -> _Rectangles:
    things = zip(setup.backdrop, backdrop_panes(setup), strict=True)
    listed = [(Seen("backdrop", thing.id, thing.reflectance), pane) for thing, (_, pane) in things]
    listed += [(Seen("screen", screen.id, 0.05), screen_pane(screen)) for screen in setup.screens]
    listed += [(Seen("back", name, HOUSING_REFLECTANCE), pane) for name, pane in screen_backs(setup, pinhole.place)]
    listed += [(Seen("chair", "chair", luminance_of(setup.presenter.chair_colour)), pane) for pane in chair_panes(setup)]
    listed.append((Seen("desk", "desk", setup.desk.reflectance), desk_pane(setup.desk)))
    listed += [(Seen("reflector", sheet.id, sheet.reflectance), reflector_pane(sheet)) for sheet in setup.reflectors]
    return _Rectangles.of(listed, pinhole.place)


def lamp_met(
    origin: FloatArray, rays: FloatArray, middle: FloatArray, reach: FloatArray, radius_m: float
) -> tuple[NDArray[np.int64], FloatArray, FloatArray]:
    """Rays that meet a lamp's ball before anything else.

    Args:
        origin: where the rays start, shape (3,) [m].
        rays: unit directions, shape (N, 3).
        middle: of the lamp, shape (3,) [m].
        reach: how far each ray goes unhindered, shape (N,) [m].
        radius_m: of the ball.

    Returns:
        indices of the rays (K,), how far away they meet it (K,) [m], and the ball's normals there (K, 3).
    """
    beyond = origin - middle
    b = rays @ beyond.astype(rays.dtype)
    root = b * b - (float(beyond @ beyond) - radius_m**2)
    away = -b - np.sqrt(np.maximum(root, 0))
    hit = np.flatnonzero((root > 0) & (away > 1e-6) & (away < reach))
    return hit, away[hit], (beyond + away[hit, None] * rays[hit]) / radius_m


_SURFACES = ("wall_x0", "wall_y0", "floor", "wall_x1", "wall_y1", "ceiling")
# Their inward normals.
_INWARD = np.concatenate([np.eye(3), -np.eye(3)])


class _Cast:
    """Rays under way: how far the nearest meeting so far is, and what is met there."""

    def __init__(self, origin: FloatArray, rays: FloatArray) -> None:
        self.origin, self.along = origin, np.ascontiguousarray(rays.T)  # one row an axis: several times quicker
        self.reach = np.full(len(rays), np.inf)
        self.what = np.zeros(len(rays), dtype=np.int64)

    @property
    def place(self) -> FloatArray:
        """Where each ray ends, shape (N, 3) [m]."""
        return np.ascontiguousarray((self.origin[:, None] + self.reach * self.along).T)

    def room(self, size: FloatArray) -> None:
        going = np.where(np.abs(self.along) < 1e-9, 1e-9, self.along)
        for axis, (towards, start, length) in enumerate(zip(going, self.origin, size, strict=True)):
            ahead = towards > 0
            reach = (np.where(ahead, length, 0.0) - start) / towards
            nearer = reach < self.reach
            np.copyto(self.reach, reach, where=nearer)
            np.copyto(self.what, np.where(ahead, axis + 3, axis), where=nearer)

    def rectangles(self, listed: _Rectangles, first: int, before_m: float = -1e-9) -> None:
        """Rectangles, all at once; each wins over what lies no further behind it than this before it [m].

        Args:
            first: the number of the first of them.
        """
        if not listed.seen:
            return
        facing, across, up = (listed.turned.reshape(-1, 3) @ self.along).reshape(3, len(listed.seen), -1)
        on = (np.maximum(np.abs(across), np.abs(up)) <= -facing) & (facing < -1e-9)
        nearest, which = self.reach + before_m, np.full(len(self.reach), -1)
        for row in np.flatnonzero((listed.before > 0) & on.any(axis=1)):
            met = np.flatnonzero(on[row])
            reach = listed.before[row] / -facing[row, met]
            nearer = (reach < nearest[met]) & (reach > 1e-6)
            nearest[met[nearer]], which[met[nearer]] = reach[nearer], row
        hit = np.flatnonzero(which >= 0)
        self.reach[hit], self.what[hit] = nearest[hit], first + which[hit]

    def body(self, shape: tuple[Ellipsoid, ...], face: Face, first: int) -> None:
        hit, reach, part = meet(shape, face, self.origin, self.along)
        nearer = reach < self.reach[hit]
        self.reach[hit[nearer]], self.what[hit[nearer]] = reach[nearer], first + part[nearer]
