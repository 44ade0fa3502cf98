"""What each ray of the picture meets: body, things behind, windows, screens, lamps or bare surface."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.finishes import FINISHES
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing, OwnFinish
from uphill_lamp.core.scene.body import Ellipsoid, meet, trunk
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.colour_difference import luminance_of
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import (
    WALLS,
    Pane,
    desk_pane,
    face_of,
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
    """One thing rays can meet. ``kind``: body part, surface, window, screen, back (of a screen), chair, desk, lamp, backdrop; ``name`` its id."""

    kind: str
    name: str
    reflectance: float


@dataclass(frozen=True)
class View:
    """What N rays meet.

    ``what`` (N,) indexes ``things``; ``place`` (N, 3) [m]; ``normal`` (N, 3) towards the room; ``across``, ``down`` (N,)
    0-1 on a rectangle as its viewer sees it, else NaN.
    """

    things: tuple[Seen, ...]
    what: NDArray[np.int64]
    place: FloatArray
    normal: FloatArray
    across: FloatArray
    down: FloatArray

    def mask(self, *kinds: str) -> NDArray[np.bool_]:
        """Which rays meet things of some kinds, shape (N,)."""
        return np.array([thing.kind in kinds for thing in self.things])[self.what]

    @property
    def reflectance(self) -> FloatArray:
        """Reflectance of what each ray meets, shape (N,) [no unit]."""
        return np.array([thing.reflectance for thing in self.things])[self.what]


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


def view_of(
    setup: Setup,
    pinhole: Pinhole,
    rays: FloatArray,
    lamps: bool = True,
) -> View:
    """What rays from the lens meet.

    Args:
        setup: the room and all in it.
        pinhole: the camera; only its place is used.
        rays: unit directions, shape (N, 3).
        lamps: whether lamps are met, or looked through.
    """
    cast = _Cast(pinhole.place, rays)
    cast.room(setup)
    # Several questions look from one place; what can be met there is listed once.
    panes, things = scene_of(setup).once(f"met from {pinhole.place.tolist()}", lambda: (_panes(setup), _things(setup, pinhole)))
    cast.rectangles(panes, IN_WALL_M)
    cast.rectangles(things)
    for light in setup.lights if lamps else ():
        cast.ball(Seen("lamp", light.id, 0.6), vector(light.position), lamp_radius_m(light))
    reflectances = {"head": REFERENCE_FACE, "neck": REFERENCE_FACE, "hair": HAIR_REFLECTANCE, "shirt": shirt_reflectance(setup)}
    cast.body(setup, trunk(setup.presenter), reflectances)
    return cast.view()


@dataclass(frozen=True, eq=False)
class _Rectangles:
    """Rectangles side by side: middles and axes (R, 3) [m], widths and heights (R, 1) [m]."""

    seen: list[Seen]
    middles: FloatArray
    normals: FloatArray
    rights: FloatArray
    ups: FloatArray
    widths: FloatArray
    heights: FloatArray

    @classmethod
    def of(cls, listed: list[tuple[Seen, Pane]]) -> _Rectangles:
        panes = [pane for _, pane in listed]
        axes = (np.array([getattr(pane, axis) for pane in panes]).reshape(-1, 3) for axis in ("middle", "normal", "right", "up"))
        sides = (np.array([getattr(pane, side) for pane in panes])[:, None] for side in ("width_m", "height_m"))
        return cls([seen for seen, _ in listed], *axes, *sides)


def _panes(setup: Setup) -> _Rectangles:
    return _Rectangles.of([(Seen("window", window.id, 0.1), window_pane(setup.room, window)) for window in setup.room.windows])


def _things(setup: Setup, pinhole: Pinhole) -> _Rectangles:
    things = zip(setup.backdrop, backdrop_panes(setup), strict=True)
    listed = [(Seen("backdrop", thing.id, thing.reflectance), pane) for thing, (_, pane) in things]
    listed += [(Seen("screen", screen.id, 0.05), screen_pane(screen)) for screen in setup.screens]
    listed += [(Seen("back", name, HOUSING_REFLECTANCE), pane) for name, pane in screen_backs(setup, pinhole.place)]
    listed += [(Seen("chair", "chair", luminance_of(setup.presenter.chair_colour)), pane) for pane in chair_panes(setup)]
    listed.append((Seen("desk", "desk", setup.desk.reflectance), desk_pane(setup.desk)))
    listed += [(Seen("reflector", sheet.id, sheet.reflectance), reflector_pane(sheet)) for sheet in setup.reflectors]
    return _Rectangles.of(listed)


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


# Inward normals of wall_x0, wall_y0, floor, wall_x1, wall_y1, ceiling.
_INWARD = np.concatenate([np.eye(3), -np.eye(3)])


class _Cast:
    """Rays under way: the nearest meeting so far."""

    def __init__(self, origin: FloatArray, rays: FloatArray) -> None:
        self.origin, self.rays = origin, rays
        count = len(rays)
        self.things: list[Seen] = []
        self.reach = np.full(count, np.inf)
        self.what = np.zeros(count, dtype=np.int64)
        self.normal = np.zeros_like(rays)
        self.across = np.full(count, np.nan)
        self.down = np.full(count, np.nan)

    def view(self) -> View:
        place = self.origin + self.reach[:, None] * self.rays
        return View(tuple(self.things), self.what, place, self.normal, self.across, self.down)

    def room(self, setup: Setup) -> None:
        size = room_size(setup.room)
        for name in ("wall_x0", "wall_y0", "floor", "wall_x1", "wall_y1", "ceiling"):
            self.things.append(Seen("surface", name, surface_reflectance(getattr(setup.room.surfaces, name))))
        going = np.where(np.abs(self.rays) < 1e-9, 1e-9, self.rays)
        reach = (np.where(going > 0, size, 0.0) - self.origin) / going
        axis, rows = reach.argmin(axis=1), np.arange(len(reach))
        self.reach, self.what = reach[rows, axis], axis + 3 * (going[rows, axis] > 0)
        self.normal = _INWARD[self.what]

    def rectangles(self, listed: _Rectangles, before_m: float = -1e-9) -> None:
        """Rectangles, all at once; each wins over what lies no further behind it than this before it [m]."""
        if not listed.seen:
            return
        first, normals = len(self.things), listed.normals
        self.things += listed.seen
        offset = self.origin - listed.middles
        with np.errstate(divide="ignore", invalid="ignore"):
            facing = normals @ self.rays.T  # one row a rectangle
            reach = np.where(facing < -1e-9, -(offset * normals).sum(axis=1)[:, None] / facing, np.nan)
            across = 0.5 + ((offset * listed.rights).sum(axis=1)[:, None] + reach * (listed.rights @ self.rays.T)) / listed.widths
            down = 0.5 - ((offset * listed.ups).sum(axis=1)[:, None] + reach * (listed.ups @ self.rays.T)) / listed.heights
            on = (np.abs(across - 0.5) <= 0.5) & (np.abs(down - 0.5) <= 0.5) & (reach > 1e-6)
        reach[~on] = np.inf
        nearest = reach.argmin(axis=0)
        hit = np.flatnonzero(reach.min(axis=0) < self.reach + before_m)
        which = nearest[hit]
        self._take(hit, reach[which, hit], normals[which], first + which)
        self.across[hit], self.down[hit] = across[which, hit], down[which, hit]

    def ball(self, seen: Seen, middle: FloatArray, radius_m: float) -> None:
        self.things.append(seen)
        hit, reach, normal = lamp_met(self.origin, self.rays, middle, self.reach, radius_m)
        self._take(hit, reach, normal, np.full(len(hit), len(self.things) - 1))

    def body(self, setup: Setup, shape: tuple[Ellipsoid, ...], reflectances: dict[str, float]) -> None:
        first = len(self.things)
        self.things += [Seen(part.part, str(index), reflectances.get(part.part, REFERENCE_FACE)) for index, part in enumerate(shape)]
        hits = meet(shape, face_of(setup), self.origin, self.rays)
        hit = np.flatnonzero(hits.distance < self.reach)
        self._take(hit, hits.distance[hit], hits.normal[hit], first + hits.part[hit])

    def _take(self, hit: NDArray[np.int64], reach: FloatArray, normal: FloatArray, what: NDArray[np.int64]) -> None:
        self.reach[hit], self.normal[hit], self.what[hit] = reach, normal, what
        self.across[hit] = self.down[hit] = np.nan
