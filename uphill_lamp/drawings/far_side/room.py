"""The room in the picture: the colour of every pixel's surfaces, and the light on them."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.boards import board_of
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.field.light.radiosity import enclosure_of
from uphill_lamp.core.field.light.sources import AreaSource
from uphill_lamp.core.field.light.windows import Source
from uphill_lamp.core.locked_lru import LockedLru, held_bytes
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.drawings.far_side.cast import SURFACES, Cast, Flat, cast, flats_of
from uphill_lamp.drawings.far_side.chair import free_of
from uphill_lamp.drawings.far_side.colour import LUMA, light_rgb
from uphill_lamp.drawings.far_side.light import Returned
from uphill_lamp.drawings.far_side.surfaces import Shining, albedo_of, shining_at
from uphill_lamp.drawings.figure.compiled import compiled
from uphill_lamp.drawings.figure.lit import Thrown
from uphill_lamp.drawings.figure.shadows import spread

POINTS, CORNERS, DESK_POINTS = 10, 3, 8  # light is worked out at so many points a side of a surface, of a flat, of a desk under its lamp
EDGE = 0.01  # share of a surface left out at its rim, where two surfaces meet
EDGE_ALBEDO = 0.02  # where colour changes by more than this from pixel to pixel, it is looked at more finely
COARSE_PX, ROUGH_PX = 4, 8  # the body's shadows are worked out at every fourth pixel; in wide pictures and drafts at every eighth
WIDE_COLUMNS = 960
DARK_GLASS, DARK_SCREEN = 0.03, 0.02
LEAST_SHADE, MOST_SOURCES, MOST_BYTES = 0.004, 24, 16_000_000


@dataclass(frozen=True, eq=False)
class RoomSeen:
    """The room before a lens, whatever the light: ``albedo`` of each pixel (N, 3); where its light is read off, as an index into
    the spots and two shares (N,), (N, 2), and how many spots a row of them has (N,)."""

    setup: Setup
    columns: int
    rows: int
    origin: Vector
    albedo: FloatArray
    at: NDArray[np.int32]
    between: FloatArray
    stride: NDArray[np.int16]
    spots: tuple[FloatArray, FloatArray]  # places (G, 3) [m] and normals (G, 3)
    lying: FloatArray  # how the spots see the cells or the elements that the room's light comes from, (G, C) or (G, E)
    shining: tuple[Shining, ...]
    coarse: tuple[NDArray[np.int64], FloatArray]  # every ``step``-th pixel (M,), and its place (M, 3) [m]
    step: int
    reach: FloatArray  # of the pixels' middles, shape (rows, columns) [m]
    what: NDArray[np.int16]  # what their middles meet, as in Cast, shape (rows, columns)
    # Of each source: its direct light on the spots (G,) [lx]; where the body hides it and what that takes; what a thing that shines adds.
    straight: LockedLru[bytes, FloatArray] = field(default_factory=lambda: LockedLru(MOST_SOURCES, MOST_BYTES, held_bytes))
    hidden: LockedLru[bytes, tuple[NDArray[np.int64], FloatArray]] = field(
        default_factory=lambda: LockedLru(MOST_SOURCES, MOST_BYTES, lambda held: held_bytes(*held))
    )
    shone: LockedLru[tuple[int, bytes], tuple[NDArray[np.int64], FloatArray]] = field(
        default_factory=lambda: LockedLru(MOST_SOURCES, MOST_BYTES, lambda held: held_bytes(*held))
    )

    @cached_property
    def coarse_shape(self) -> tuple[int, int]:
        """Rows and columns of ``coarse``."""
        return -(-self.rows // self.step), -(-self.columns // self.step)


def room_seen(setup: Setup, pinhole: Pinhole, columns: int, rows: int, fine: int, rough: bool, by_elements: bool = False) -> RoomSeen:
    """The room before a lens: one sample to a pixel, and ``fine`` by ``fine`` where its colour changes to the next.

    Args:
        rough: the body's shadows at every ROUGH_PX-th pixel only.
        by_elements: its light from the enclosure's elements as wholes, ten times as quick and up to a few per cent off.
    """
    flats, origin = flats_of(setup, pinhole.place), pinhole.place
    met = cast(setup, flats, pinhole, *_samples(np.arange(rows * columns), columns, rows, 1))
    albedo, shining = albedo_of(setup, flats, met, origin)
    shape = (rows, columns)
    if fine > 1:
        edges = np.flatnonzero(_edges(met.what.reshape(shape), albedo.reshape(*shape, 3)))
        plain = np.ones(rows * columns, dtype=bool)
        plain[edges] = False
        shining = shining_at(shining, plain)
        finely, shone = albedo_of(setup, flats, cast(setup, flats, pinhole, *_samples(edges, columns, rows, fine)), origin)
        albedo[edges] = finely.reshape(len(edges), fine**2, 3).sum(axis=1) / np.float32(fine**2)
        shining += tuple(
            replace(lit_cells, pixels=edges[lit_cells.pixels // fine**2], share=lit_cells.share / fine**2) for lit_cells in shone
        )
    places = met.places(origin)
    at, between, stride, spots = _where_lit(setup, flats, met, places)
    step = ROUGH_PX if rough or columns > WIDE_COLUMNS else COARSE_PX
    every = (np.arange(0, rows, step)[:, None] * columns + np.arange(0, columns, step)).ravel()
    enclosure = enclosure_of(setup)
    return RoomSeen(
        setup, columns, rows, origin, albedo, at, between, stride, spots,
        enclosure.roughly_seen_from(*spots) if by_elements else enclosure.seen_from(*spots), shining,
        (every, places[every].astype(float)), step, met.reach.reshape(shape), met.what.reshape(shape),
    )  # fmt: skip


def _samples(pixels: NDArray[np.int64], columns: int, rows: int, fine: int) -> tuple[FloatArray, FloatArray]:
    """Where ``fine`` by ``fine`` samples of each pixel are in the picture, shares of its width and height, each (P fine^2,)."""
    within = (np.arange(fine, dtype=np.float32) + np.float32(0.5)) / np.float32(fine)
    down, along = np.divmod(pixels.astype(np.int32), np.int32(columns))
    x = (along.astype(np.float32)[:, None, None] + within[None, None, :]) / np.float32(columns)
    y = (down.astype(np.float32)[:, None, None] + within[None, :, None]) / np.float32(rows)
    shape = (len(pixels), fine, fine)
    return np.broadcast_to(x, shape).ravel(), np.broadcast_to(y, shape).ravel()


def _edges(what: NDArray[np.int16], albedo: FloatArray) -> NDArray[np.bool_]:
    """Pixels that differ from one beside, above or below, shape (rows, columns)."""
    differ, tone = np.zeros(what.shape, dtype=bool), albedo @ LUMA
    for axis in (0, 1):
        first, second = ((slice(None),) * axis + (part,) for part in (slice(None, -1), slice(1, None)))
        unlike = (what[first] != what[second]) | (np.abs(tone[first] - tone[second]) > EDGE_ALBEDO)
        differ[first] |= unlike
        differ[second] |= unlike
    return differ


_INWARD = np.array([(1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1)], dtype=float)


def _where_lit(
    setup: Setup, flats: tuple[Flat, ...], met: Cast, places: FloatArray
) -> tuple[NDArray[np.int32], FloatArray, NDArray[np.int16], tuple[FloatArray, FloatArray]]:
    """Grids of spots over all that is seen and lit, and where on them each pixel lies."""
    size, surfaces = np.array(room_size(setup.room)), len(SURFACES)
    grids: list[tuple[FloatArray, FloatArray]] = []
    firsts = np.zeros(surfaces + len(flats), np.int32)
    counts = np.array([POINTS] * surfaces + [_side_of(flat) for flat in flats], np.int32)
    for index in np.flatnonzero(np.bincount(met.what)):
        firsts[index] = sum(len(grid[0]) for grid in grids)
        grids.append(_surface_spots(size, int(index)) if index < surfaces else _flat_spots(flats[index - surfaces]))
    at, stride = np.empty(len(met.what), np.int32), np.empty(len(met.what), np.int16)
    between = np.empty((len(met.what), 2), np.float32)

    def work(begin: int, end: int) -> None:
        lit_between(met.what, places, met.across, met.down, firsts, counts, size.astype(np.float32), begin, end, at, between, stride)

    spread(work, len(at))
    return at, between, stride, (np.concatenate([grid[0] for grid in grids]), np.concatenate([grid[1] for grid in grids]))


@compiled
def lit_between(what, places, across, down, firsts, counts, size, begin, end, at, between, stride):  # type: ignore[no-untyped-def]
    """Where samples ``begin`` to ``end`` lie on the grid of spots of what they meet; the last three are written to.

    Args:
        what, across, down: as in Cast.
        places: shape (N, 3) [m].
        firsts, counts: the first spot of each thing's grid, and how many it has a side.
        size: of the room [m], shape (3,).
    """
    rim, inner = np.float32(EDGE), np.float32(1 / (1 - 2 * EDGE))
    for n in range(begin, end):
        count = counts[what[n]]
        if what[n] < 6:
            axis = what[n] // 2
            first, second = (1 if axis == 0 else 0), (1 if axis == 2 else 2)
            u = (places[n, first] / size[first] - rim) * inner
            v = (places[n, second] / size[second] - rim) * inner
            u, v = min(max(u, np.float32(0)), np.float32(1)), min(max(v, np.float32(0)), np.float32(1))
        else:
            u, v = across[n], down[n]
        u, v = u * np.float32(count - 1.001), v * np.float32(count - 1.001)
        i, j = int(u), int(v)
        at[n], stride[n] = firsts[what[n]] + i * count + j, count
        between[n, 0], between[n, 1] = u - np.float32(i), v - np.float32(j)


def _surface_spots(size: FloatArray, index: int) -> tuple[FloatArray, FloatArray]:
    axis = index // 2
    sides = [other for other in range(3) if other != axis]
    along = np.linspace(EDGE, 1 - EDGE, POINTS)
    a, b = np.meshgrid(along, along, indexing="ij")
    places = np.zeros((POINTS**2, 3))
    places[:, axis] = size[axis] * (index % 2)
    places[:, sides[0]], places[:, sides[1]] = a.ravel() * size[sides[0]], b.ravel() * size[sides[1]]
    return places, np.repeat(_INWARD[index][None], POINTS**2, axis=0)


def _side_of(flat: Flat) -> int:
    return DESK_POINTS if flat.kind == "desk" else CORNERS


def _flat_spots(flat: Flat) -> tuple[FloatArray, FloatArray]:
    along = np.linspace(0, 1, _side_of(flat))
    places = np.array([flat.pane.at(a, b) for a in along for b in along])
    return places + 1e-3 * flat.pane.normal, np.repeat(flat.pane.normal[None], len(places), axis=0)


def room_luminance(seen: RoomSeen, lit_scene: LitScene, returned: Returned, thrown: tuple[Thrown, ...]) -> FloatArray:
    """Luminance of the room's pixels, the body's shadow on it, shape (N, 3) [cd/m2]."""
    grid = _straight(seen, lit_scene) + returned.at(seen.lying)
    kept = _kept_off(seen, lit_scene, thrown).reshape(*seen.coarse_shape, 3)
    out = np.empty_like(seen.albedo)

    def work(begin: int, end: int) -> None:
        light_room(seen.at, seen.between, seen.stride, grid, kept, seen.what, seen.step, seen.albedo, seen.columns, begin, end, out)

    spread(work, seen.rows)
    _shine(seen, lit_scene, returned, out)
    return out


def _straight(seen: RoomSeen, lit_scene: LitScene) -> FloatArray:
    """Direct light on the spots, shape (G, 3) [lx]; each source's is kept while only others change."""
    total = np.zeros((len(seen.spots[0]), 3), np.float32)
    for source in lit_scene.sources:
        total += _straight_lx(seen, source)[:, None] * light_rgb(source)
    return total


def _straight_lx(seen: RoomSeen, source: Source) -> FloatArray:
    """A source's direct light on the spots, shape (G,) [lx]."""
    past = (board_of(seen.setup.desk),)
    return seen.straight.get_or_compute(source.content, lambda: source.illuminance_lx(*seen.spots, 3, past).astype(np.float32))


def _kept_off(seen: RoomSeen, lit_scene: LitScene, thrown: tuple[Thrown, ...]) -> FloatArray:
    """Light that the body keeps off what is behind it, shape (M, 3) [lx]."""
    out = np.zeros((len(seen.coarse[0]), 3), np.float32)
    for source, shadow in zip(lit_scene.sources, thrown, strict=True):
        some, level = seen.hidden.get_or_compute(source.content, partial(_hidden, seen, source, shadow))
        out[some] += level[:, None] * light_rgb(source)
    return out


def _hidden(seen: RoomSeen, source: Source, thrown: Thrown) -> tuple[NDArray[np.int64], FloatArray]:
    """At which of the coarse pixels the body and its chair hide a source, and how much light that takes from them [lx]."""
    pixels, places = seen.coarse
    level = _between_spots(seen, pixels, _straight_lx(seen, source))
    lit = np.flatnonzero(level)
    places = places[lit]
    free = thrown.maps.seen(places, np.zeros_like(places)) * free_of(seen.setup, thrown.maps.spots, places)
    share = 1 - free.mean(axis=1)
    some = np.flatnonzero(share > LEAST_SHADE)
    return lit[some], level[lit[some]] * share[some].astype(np.float32)


def _between_spots(seen: RoomSeen, pixels: NDArray[np.int64], levels: FloatArray) -> FloatArray:
    """Levels of the spots (G,) as pixels (M,) get them, shape (M,): as ``light_room`` reads them off."""
    at, (down, along), step = seen.at[pixels], seen.between[pixels].T, seen.stride[pixels]
    near = levels[at] * (1 - along) + levels[at + 1] * along
    far = levels[at + step] * (1 - along) + levels[at + step + 1] * along
    return np.asarray(near * (1 - down) + far * down)


def _shine(seen: RoomSeen, lit_scene: LitScene, returned: Returned, out: FloatArray) -> None:
    """Adds what shines by itself."""
    sources = {source.id: source for source in lit_scene.sources}
    own = {thing.id: thing.luminance_cd_m2 for thing in seen.setup.backdrop}
    for number, thing in enumerate(seen.shining):
        source, kind = sources.get(thing.flat.name), thing.flat.kind
        if isinstance(source, AreaSource) and kind in ("window", "screen", "reflector"):
            pixels, level = seen.shone.get_or_compute((number, source.content), partial(_shone, seen, thing, source))
            out[pixels] += level[:, None] * light_rgb(source)
            continue
        if kind == "backdrop":
            glow: FloatArray = np.full((len(thing.pixels), 3), own[thing.flat.name], np.float32)
        else:
            dark = DARK_SCREEN if kind == "screen" else DARK_GLASS / np.pi if kind == "window" else 0.0
            glow = np.repeat(returned.mean[None] * np.float32(dark), len(thing.pixels), axis=0)
        glow *= thing.share[:, None]
        for channel in range(3):
            out[:, channel] += np.bincount(thing.pixels, glow[:, channel], len(out)).astype(np.float32)


def _shone(seen: RoomSeen, thing: Shining, source: AreaSource) -> tuple[NDArray[np.int64], FloatArray]:
    """What a shining thing adds where [cd/m2]."""
    level = np.bincount(thing.pixels, source.seen_cd_m2(thing.rays) * thing.share, seen.rows * seen.columns).astype(np.float32)
    pixels = np.flatnonzero(level)
    return pixels, level[pixels]


@compiled
def light_room(at, between, stride, grid, kept, what, every, albedo, columns, begin, end, out):  # type: ignore[no-untyped-def]
    """Luminance E albedo / pi of pixels of rows ``begin`` to ``end``: light between its spots, less what the body keeps off, known at
    ``every`` so many pixels and carried over to none that meets another thing, ``what`` of shape (rows, columns)."""
    high, wide = kept.shape[0] - 1, kept.shape[1] - 1
    per_sr, one, nought, apart = np.float32(1 / np.pi), np.float32(1), np.float32(0), np.float32(1 / every)
    for row in range(begin, end):
        y = np.float32(row) * apart
        j = min(int(y), max(high - 1, 0))
        t = min(y - np.float32(j), one)
        j1 = min(j + 1, high)
        for column in range(columns):
            x = np.float32(column) * apart
            i = min(int(x), max(wide - 1, 0))
            s = min(x - np.float32(i), one)
            i1 = min(i + 1, wide)
            n = row * columns + column
            k, p, q, step = at[n], between[n, 0], between[n, 1], stride[n]
            a, b, c, d = (one - p) * (one - q), (one - p) * q, p * (one - q), p * q
            e, f, g, h = (one - t) * (one - s), (one - t) * s, t * (one - s), t * s
            mine = what[row, column]
            e = e if what[j * every, i * every] == mine else nought
            f = f if what[j * every, i1 * every] == mine else nought
            g = g if what[j1 * every, i * every] == mine else nought
            h = h if what[j1 * every, i1 * every] == mine else nought
            alike = e + f + g + h
            if alike > nought:
                e, f, g, h = e / alike, f / alike, g / alike, h / alike
            shaded = kept[j, i, 1] + kept[j, i1, 1] + kept[j1, i, 1] + kept[j1, i1, 1] > 0
            for channel in range(3):
                light = grid[k, channel] * a + grid[k + 1, channel] * b + grid[k + step, channel] * c + grid[k + step + 1, channel] * d
                if shaded:
                    light -= kept[j, i, channel] * e + kept[j, i1, channel] * f + kept[j1, i, channel] * g + kept[j1, i1, channel] * h
                out[n, channel] = max(light, np.float32(0)) * albedo[n, channel] * per_sr
