"""What each sample of the picture meets of the room and the things in it, the presenter and the lamps apart; compiled."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.chair import chair_panes, seat_pane
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Pane, desk_pane, door_pane, reflector_pane, room_size, screen_backs, screen_pane, window_pane
from uphill_lamp.core.scene.vectors import Vector, right_of, vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.drawings.far_side.chair import padded
from uphill_lamp.drawings.far_side.paint import CUT_OUT, mirrors, painted
from uphill_lamp.drawings.figure.compiled import compiled
from uphill_lamp.drawings.figure.shadows import spread

SURFACES = ("wall_x0", "wall_x1", "wall_y0", "wall_y1", "floor", "ceiling")  # two to an axis, the one at nought first
HEAD_M, STAND_M = (0.045, 0.07), 0.016  # a microphone's body, wide and high, and the bar that carries it
POST_M, FOOT_M, FOOT_REACH_M = 0.05, 0.05, 0.30  # a chair's post and its foot: width, height, how far it reaches
AT_GLASS_M = 0.01  # what lies no further before a mirror than this is not seen in it
IN_WALL_M = 1e-3  # a pane lies in its wall: it comes before the wall by this


@dataclass(frozen=True)
class Flat:
    """A rectangle that samples can meet. ``kind``: window, door, backdrop, screen, back (of a screen), desk, under (it), reflector,
    microphone, stand (of one), chair (its back, either side); ``name`` its id."""

    kind: str
    name: str
    pane: Pane


@dataclass(frozen=True, eq=False)
class Cast:
    """What N samples meet: ``what`` indexes SURFACES and then the flats; ``reach`` along the ray [m]; ``across`` and ``down`` 0-1 on
    a flat as its viewer sees it; ``rays`` unit directions. Shapes (N,) and (N, 3)."""

    what: NDArray[np.int16]
    reach: FloatArray
    across: FloatArray
    down: FloatArray
    rays: FloatArray
    glances: tuple[Glance, ...] = ()

    @cached_property
    def mirrored(self) -> NDArray[np.int64]:
        """Samples that meet by way of a mirror what they meet."""
        return np.concatenate([np.zeros(0, np.int64), *(glance.samples for glance in self.glances)])

    def places(self, lens: Vector) -> FloatArray:
        """Where what they meet is, shape (N, 3) [m]."""
        places = np.asarray(lens.astype(np.float32) + self.reach[:, None] * self.rays)
        for glance in self.glances:
            on = glance.samples
            places[on] = glance.lens.astype(np.float32) + self.reach[on, None] * self.rays[on]
        return places


@dataclass(frozen=True, eq=False)
class Glance:
    """Samples that go by a mirror: their indices (n,), and where the lens is as that mirror shows it [m]."""

    samples: NDArray[np.int64]
    lens: Vector


def flats_of(setup: Setup, lens: Vector) -> tuple[Flat, ...]:
    """All rectangles of a setup that a lens at a place [m] may see."""
    flats = [Flat("window", window.id, window_pane(setup.room, window)) for window in setup.room.windows]
    flats += [Flat("door", door.id, door_pane(setup.room, door)) for door in setup.room.doors]
    flats += [Flat("backdrop", name, pane) for name, pane in backdrop_panes(setup)]
    flats += [Flat("screen", screen.id, screen_pane(screen)) for screen in setup.screens]
    flats += [Flat("back", name, pane) for name, pane in screen_backs(setup, lens)]
    top = desk_pane(setup.desk)
    flats += [Flat("desk", "desk", top), Flat("under", "desk", top.other_side())]
    flats += [Flat("reflector", sheet.id, reflector_pane(sheet)) for sheet in setup.reflectors]
    return (*flats, *_chair(setup, lens), *_microphones(setup, lens))


def _chair(setup: Setup, lens: Vector) -> Iterator[Flat]:
    """A chair's back, its seat, and the foot that carries it."""
    seat = seat_pane(setup)
    if seat is None:
        return
    for pane in (*chair_panes(setup), seat):
        yield Flat("chair", "chair", pane)
        yield Flat("chair", "chair", pane.other_side())
    foot = np.array([*seat.middle[:2], FOOT_M])
    if seat.middle[2] - FOOT_M > FOOT_M:
        yield Flat("stand", "chair", bar(seat.middle, foot, POST_M, lens))
    for way in (seat.right, seat.up):
        yield Flat("stand", "chair", bar(foot + FOOT_REACH_M * way, foot - FOOT_REACH_M * way, STAND_M, lens))


def _microphones(setup: Setup, lens: Vector) -> Iterator[Flat]:
    """Microphones that stand or hang somewhere and what carries them, turned to the lens as bodies would look from there."""
    for microphone in setup.microphones:
        if not microphone.in_use or microphone.position is None:
            continue
        place, half = vector(microphone.position), np.array([0.0, 0.0, HEAD_M[1] / 2])
        yield Flat("microphone", microphone.id, bar(place + half, place - half, HEAD_M[0], lens))
        foot = np.array([place[0], place[1], 0.0 if microphone.stand == "floor_stand" else setup.desk.height_m])
        if microphone.stand == "boom_arm":
            foot[:2] = _clamped_at(setup, place)
        if microphone.stand in ("desk_stand", "floor_stand", "boom_arm") and np.linalg.norm(place - foot) > HEAD_M[1]:
            yield Flat("stand", microphone.id, bar(place, foot, STAND_M, lens))


def _clamped_at(setup: Setup, place: Vector) -> Vector:
    """Where an arm is clamped: the desk's end on whose side its microphone is [m], shape (2,)."""
    across = right_of(setup.desk.yaw_deg)[:2]
    middle = np.array([setup.desk.x_m, setup.desk.y_m])
    side = 1.0 if float((place[:2] - middle) @ across) >= 0 else -1.0
    return np.asarray(middle + side * across * setup.desk.width_m / 2)


def bar(one: Vector, other: Vector, wide_m: float, lens: Vector) -> Pane:
    """A rectangle between two places, its flat side to the lens."""
    middle, along = (one + other) / 2, one - other
    up = along / np.linalg.norm(along)
    right = np.cross(middle - lens, up)
    right = right / max(float(np.linalg.norm(right)), 1e-9)
    return Pane(middle, np.cross(right, up), right, up, wide_m, float(np.linalg.norm(along)))


def cast(setup: Setup, flats: tuple[Flat, ...], pinhole: Pinhole, x: FloatArray, y: FloatArray) -> Cast:
    """Casts samples at places in the picture, shares of its width from the left and of its height from the top, each (N,)."""
    met = _met(setup, flats, pinhole, x, y)
    return _by_mirrors(setup, flats, pinhole, x, y, met) if any(thing.kind == "mirror" for thing in setup.backdrop) else met


def _met(setup: Setup, flats: tuple[Flat, ...], pinhole: Pinhole, x: FloatArray, y: FloatArray) -> Cast:
    cut = {thing.id: thing for thing in setup.backdrop if thing.kind in CUT_OUT}
    firm = [index for index, flat in enumerate(flats) if flat.kind != "chair" and not (flat.kind == "backdrop" and flat.name in cut)]
    lens, count = lens_rows(pinhole), len(x)
    met = Cast(
        np.empty(count, np.int16), np.empty(count, np.float32), np.full(count, np.nan, np.float32),
        np.full(count, np.nan, np.float32), np.empty((count, 3), np.float32),
    )  # fmt: skip
    size = np.array(room_size(setup.room), np.float32)

    def some(which: list[int]) -> tuple[FloatArray, NDArray[np.int16]]:
        table = np.array([_row(flats[index]) for index in which], np.float32).reshape(-1, 15)
        return table, np.array(which, np.int16) + np.int16(len(SURFACES))

    table, numbers = some(firm)

    def work(begin: int, end: int) -> None:
        meet_room(lens, size, x, y, begin, end, met.what, met.reach, met.rays)
        meet_flats(lens, table, numbers, begin, end, met.rays, met.what, met.reach, met.across, met.down)

    spread(work, count)
    for index, flat in enumerate(flats):
        if index not in firm:
            table, numbers = some([index])
            what, reach, across, down = met.what.copy(), met.reach.copy(), met.across.copy(), met.down.copy()
            meet_flats(lens, table, numbers, 0, count, met.rays, what, reach, across, down)
            on = np.flatnonzero(what == numbers[0])
            spots = across[on], down[on]
            on = on[padded(flat.pane, *spots) if flat.kind == "chair" else painted(cut[flat.name], *spots)[1]]
            for kept, new in ((met.what, what), (met.reach, reach), (met.across, across), (met.down, down)):
                kept[on] = new[on]
    return met


def _by_mirrors(setup: Setup, flats: tuple[Flat, ...], pinhole: Pinhole, x: FloatArray, y: FloatArray, met: Cast) -> Cast:
    """Samples that meet a mirror, and what that shows them: one bounce, as a lens behind the glass would see it through its frame."""
    things = {thing.id: thing for thing in setup.backdrop if thing.kind == "mirror"}
    glances = []
    for index, flat in enumerate(flats):
        if flat.kind != "backdrop" or flat.name not in things:
            continue
        on = np.flatnonzero(met.what == len(SURFACES) + index)
        on = on[mirrors(things[flat.name], met.across[on], met.down[on])]
        if not len(on):
            continue
        pane = flat.pane
        turned = _mirrored(pinhole, pane)
        before = [number for number, other in enumerate(flats) if float((other.pane.middle - pane.middle) @ pane.normal) > AT_GLASS_M]
        shown = _met(setup, tuple(flats[number] for number in before), turned, x[on], y[on])
        numbers = np.array([*range(len(SURFACES)), *(len(SURFACES) + number for number in before)], np.int16)
        met.what[on], met.reach[on], met.rays[on] = numbers[shown.what], shown.reach, shown.rays
        met.across[on], met.down[on] = shown.across, shown.down
        glances.append(Glance(on, turned.place))
    return replace(met, glances=tuple(glances))


def _mirrored(pinhole: Pinhole, pane: Pane) -> Pinhole:
    """A camera as a mirror shows it."""

    def turned(way: Vector) -> Vector:
        return np.asarray(way - 2 * float(way @ pane.normal) * pane.normal)

    place = pane.middle + turned(pinhole.place - pane.middle)
    return replace(pinhole, place=place, forward=turned(pinhole.forward), right=turned(pinhole.right), up=turned(pinhole.up))


def lens_rows(pinhole: Pinhole) -> FloatArray:
    """A lens as what is compiled takes it: forward, right and up over their reach, place, shape (4, 3)."""
    field = pinhole.field
    rows = [pinhole.forward, pinhole.right * field.half_width, pinhole.up * field.half_height, pinhole.place]
    return np.stack(rows).astype(np.float32)


def _row(flat: Flat) -> FloatArray:
    pane = flat.pane
    slack = IN_WALL_M if flat.kind in ("window", "door") else 0.0
    return np.concatenate([pane.middle, pane.normal, pane.right, pane.up, [pane.width_m, pane.height_m, slack]])


@compiled
def meet_room(lens, size, x, y, begin, end, what, reach, rays):  # type: ignore[no-untyped-def]
    """Rays of samples ``begin`` to ``end`` and the walls they meet.

    Args:
        lens: forward, right and up over their reach, place, shape (4, 3) float32.
        size: of the room [m], shape (3,) float32.
        x, y: where in the picture the samples are, 0-1, shape (N,) float32.
        what, reach, rays: as for Cast; written to.
    """
    for n in range(begin, end):
        aside, upward = 2 * x[n] - 1, 1 - 2 * y[n]
        length = np.float32(0)
        for axis in range(3):
            rays[n, axis] = lens[0, axis] + aside * lens[1, axis] + upward * lens[2, axis]
            length += rays[n, axis] * rays[n, axis]
        per_length = 1 / np.sqrt(length)
        best, which = np.float32(1e9), 0
        for axis in range(3):
            going = rays[n, axis] * per_length
            rays[n, axis] = going
            if abs(going) < 1e-9:
                continue
            wall = size[axis] if going > 0 else np.float32(0)
            away = (wall - lens[3, axis]) / going
            if away < best:
                best, which = away, 2 * axis + (1 if going > 0 else 0)
        reach[n], what[n] = best, which


@compiled
def meet_flats(lens, table, numbers, begin, end, rays, what, reach, across, down):  # type: ignore[no-untyped-def]
    """Rectangles that come before what samples ``begin`` to ``end`` have met so far.

    Args:
        table: middle, normal, right, up, width, height, slack of each, shape (T, 15) float32.
        numbers: what each is called in ``what``, shape (T,) int16.
        lens, rays, what, reach, across, down: as for Cast and ``meet_room``; the last four are written to.
    """
    for t in range(table.shape[0]):
        ox, oy, oz = lens[3, 0] - table[t, 0], lens[3, 1] - table[t, 1], lens[3, 2] - table[t, 2]
        before = ox * table[t, 3] + oy * table[t, 4] + oz * table[t, 5]
        if before <= 0:
            continue
        right = ox * table[t, 6] + oy * table[t, 7] + oz * table[t, 8]
        above = ox * table[t, 9] + oy * table[t, 10] + oz * table[t, 11]
        half_wide, half_high = table[t, 12] / 2, table[t, 13] / 2
        for n in range(begin, end):
            x, y, z = rays[n, 0], rays[n, 1], rays[n, 2]
            facing = x * table[t, 3] + y * table[t, 4] + z * table[t, 5]
            if facing > -1e-9:
                continue
            away = -before / facing
            if away >= reach[n] + table[t, 14]:
                continue
            u = right + away * (x * table[t, 6] + y * table[t, 7] + z * table[t, 8])
            v = above + away * (x * table[t, 9] + y * table[t, 10] + z * table[t, 11])
            if abs(u) > half_wide or abs(v) > half_high:
                continue
            reach[n], what[n] = away, numbers[t]
            across[n] = np.float32(0.5) + u / table[t, 12]
            down[n] = np.float32(0.5) - v / table[t, 13]
