"""A day's light: what the windows give the face through a date, with and without the lamps, and when a call looks good."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.areas.light.measures import DIRECT_SUN, SEPARATION, SIDES, SUNNED, level_band
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.camera_rays import camera_rays_of
from uphill_lamp.core.field.camera.response import need_of
from uphill_lamp.core.field.light.coefficients import Coefficients, coefficients_of, ground_cd_m2
from uphill_lamp.core.field.light.daylight import sky_illuminances_lx, sun_normals_lx
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS, LEAST_LX, LitScene, lit_scene_of, thrown_back
from uphill_lamp.core.field.light.sky_types import SKIES
from uphill_lamp.core.field.light.windows import sources_of
from uphill_lamp.core.judging import WANTING, Band
from uphill_lamp.core.scene.sun import sun_positions_deg
from uphill_lamp.core.scene.view import REFERENCE_FACE

STEP_MIN = 10
SPOTS_BEHIND = 150  # of the picture's rays, spread evenly: enough for a mean
LEAST_BEHIND_CD_M2 = 0.01
Instants = NDArray[np.datetime64]
FRONT, LEFT, RIGHT = (list(FACE_POINTS).index(name) for name in ("front", "left_cheek", "right_cheek"))


def instants_of(day: date, timezone: str) -> Instants:
    """Every ten minutes from a local midnight to the next, in UTC: 138, 144 or 150 of them by the clock changes.

    Raises:
        OverflowError: for a date at the calendar's own end.
    """
    zone = ZoneInfo(timezone)
    began, ends = (
        datetime.combine(day + timedelta(days=more), datetime.min.time(), zone).astimezone(ZoneInfo("UTC")).replace(tzinfo=None)
        for more in (0, 1)
    )
    return np.arange(np.datetime64(began, "s"), np.datetime64(ends, "s"), np.timedelta64(60 * STEP_MIN, "s"))


@dataclass(frozen=True, eq=False)
class Light:
    """Light through T instants, with windows alone or with the lamps: face points (T, 6) [lx], behind (T,) [stops], sun share (T,)."""

    face_lx: FloatArray
    behind_stops: FloatArray
    sun_share: FloatArray

    @property
    def level_lx(self) -> FloatArray:
        """On the front of the face, shape (T,) [lx]."""
        return self.face_lx[:, FRONT]

    @property
    def sides_stops(self) -> FloatArray:
        """Side to side, shape (T,) [stops]."""
        left, right = (np.maximum(self.face_lx[:, at], LEAST_LX) for at in (LEFT, RIGHT))
        return np.asarray(np.abs(np.log2(left / right)))


@dataclass(frozen=True, eq=False)
class DayRoom:
    """A setup made ready for any number of instants."""

    setup: Setup
    coefficients: Coefficients
    reflectance: FloatArray
    lamps: FloatArray

    @classmethod
    def of(cls, setup: Setup) -> DayRoom:
        """Of a setup: its room, panes, face and view. The call's own time plays no part."""
        sight = camera_rays_of(setup)
        behind = np.flatnonzero(sight.meets("surface", "backdrop", "window"))
        some = behind[np.linspace(0, len(behind) - 1, min(SPOTS_BEHIND, len(behind))).round().astype(int)] if len(behind) else behind
        panes = some[sight.meets("window")[some]]
        walls = some[~sight.meets("window")[some]]
        glimpses = [(sight.view.things[sight.view.what[ray]].name, sight.view.rays[ray]) for ray in panes]
        places, normals = sight.view.place[walls].astype(float), sight.view.normal[walls].astype(float)
        own = {thing.id for thing in (*setup.lights, *setup.screens)}
        shining = [source for source in sources_of(setup) if source.id in own]
        lit = lit_scene_of(setup, [*shining, *thrown_back(setup, shining)])
        # Glass at night shows the room a little.
        dark = _on(lit, sight.view.place[panes].astype(float), sight.view.normal[panes].astype(float))
        lamps = np.concatenate([list(lit.face_lx.values()), _on(lit, places, normals), dark * sight.reflectance[panes] / np.pi])
        reflectance = np.concatenate([sight.reflectance[walls], np.full(len(panes), np.nan)])
        return cls(setup, coefficients_of(setup, places, normals, glimpses), reflectance, lamps)

    def through(self, sun_deg: FloatArray, azimuth_deg: FloatArray, sky: str, face_only: bool = False) -> tuple[Light, Light]:
        """Light for T suns, elevations and compass azimuths [deg], by the windows alone and with the lamps as they are.

        Args:
            sun_deg, azimuth_deg: of the suns, shapes (T,).
            sky: clear, partly or overcast.
            face_only: leave out what is behind, for many instants.
        """
        kind, coefficients = SKIES[sky], self.coefficients
        count = len(FACE_POINTS) if face_only else len(coefficients.sky)
        turn_deg = azimuth_deg - self.setup.room.north_bearing_deg
        horizontal_lx, sun_lx = sky_illuminances_lx(sun_deg, sky), sun_normals_lx(sun_deg, sky)
        up_deg = np.maximum(sun_deg, 0.0)
        rows = np.zeros((len(sun_deg), count))
        light = horizontal_lx > 0
        if light.any() and coefficients.openings:
            rows[light] = horizontal_lx[light, None] * coefficients.sky_part(kind, up_deg[light], turn_deg[light], count)
            rows[light] += ground_cd_m2(horizontal_lx, sun_lx, sun_deg)[light, None] * coefficients.sky[:count, -1]
        straight = np.zeros((len(sun_deg), count))
        sunny = sun_lx > 0
        if sunny.any():
            straight[sunny], by_room = coefficients.sun_parts(_directions(turn_deg[sunny], sun_deg[sunny]), sun_lx[sunny], count)
            rows[sunny] += straight[sunny] + by_room
        share = (straight[:, :SUNNED] > 0).mean(axis=1)
        return self._light(rows, share), self._light(rows + self.lamps[:count], share)

    def _light(self, rows: FloatArray, share: FloatArray) -> Light:
        face, behind = rows[:, : len(FACE_POINTS)], rows[:, len(FACE_POINTS) :]
        if not behind.shape[1]:
            return Light(face, np.full(len(rows), np.nan), share)
        seen = np.isnan(self.reflectance)  # panes, whose rows are luminances already
        luminance = np.where(seen, behind, behind * np.nan_to_num(self.reflectance) / np.pi)
        grey = np.maximum(face[:, FRONT], LEAST_LX) * REFERENCE_FACE / np.pi
        stops = np.log2(np.maximum(luminance, LEAST_BEHIND_CD_M2) / grey[:, None])
        return Light(face, stops.mean(axis=1), share)


def _on(lit: LitScene, places: FloatArray, normals: FloatArray) -> FloatArray:
    return lit.illuminance_lx(places, normals) if len(places) else np.zeros(0)


def _directions(turn_deg: FloatArray, rise_deg: FloatArray) -> FloatArray:
    turn, rise = np.radians(turn_deg), np.radians(rise_deg)
    return np.stack([np.sin(turn) * np.cos(rise), np.cos(turn) * np.cos(rise), np.sin(rise)], axis=1)


@dataclass(frozen=True, slots=True)
class Span:
    """From the first to the last step of a stretch of time, as indices; ``last`` is included."""

    first: int
    last: int


def spans_of(good: NDArray[np.bool_]) -> list[Span]:
    """Stretches in which something holds, shape (T,)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], good, [False]]).astype(int)))
    return [Span(int(first), int(end) - 1) for first, end in edges.reshape(-1, 2)]


@dataclass(frozen=True, eq=False)
class Day:
    """A date's light every ten minutes."""

    setup: Setup
    day: date
    sky: str
    instants: Instants
    sun_deg: FloatArray
    windows: Light
    lamps: Light

    @cached_property
    def clock(self) -> list[datetime]:
        """Local wall-clock time of each instant, its offset from UTC with it."""
        zone = ZoneInfo(self.setup.place.timezone)
        return [
            instant.astype(datetime).replace(tzinfo=ZoneInfo("UTC")).astimezone(zone) for instant in self.instants.astype("datetime64[s]")
        ]

    @property
    def level(self) -> Band:
        """Wanted level on the face [lx]."""
        return level_band(need_of(self.setup))

    def bands(self) -> Iterator[tuple[Band, str]]:
        """Bands judged through the day, by the name of what they judge."""
        yield self.level, "level_lx"
        yield SIDES[self.setup.preferences.look], "sides_stops"
        yield DIRECT_SUN, "sun_share"
        yield SEPARATION, "behind_stops"

    def good(self, light: Light) -> NDArray[np.bool_]:
        """When nothing is visibly off, shape (T,)."""
        rows = [[band.utility(float(value)) >= WANTING for value in getattr(light, name)] for band, name in self.bands()]
        return np.asarray(np.all(rows, axis=0))

    @property
    def good_spans(self) -> list[Span]:
        """When a call looks good with the lamps as they are."""
        return spans_of(self.good(self.lamps))

    @property
    def dark_spans(self) -> list[Span]:
        """When the windows alone give the face too little: the lamps must be lit."""
        assert self.level.ideal_low is not None
        return spans_of(self.windows.level_lx < self.level.ideal_low)

    @property
    def sunny_spans(self) -> list[Span]:
        """When the sun falls on the face."""
        return spans_of(self.windows.sun_share > 0)

    def nearest(self, when: datetime) -> int:
        """Index of the instant nearest to a local wall-clock time of this date."""
        minutes = [abs((clock.replace(tzinfo=None) - when).total_seconds()) for clock in self.clock]
        return int(np.argmin(minutes))


def day_of(room: DayRoom, day: date, sky: str) -> Day:
    """The light of a date under a sky: clear, partly or overcast."""
    place = room.setup.place
    instants = instants_of(day, place.timezone)
    sun_deg, azimuth_deg = sun_positions_deg(place.latitude_deg, place.longitude_deg, instants)
    windows, lamps = room.through(sun_deg, azimuth_deg, sky)
    return Day(room.setup, day, sky, instants, sun_deg, windows, lamps)


@dataclass(frozen=True, eq=False)
class Year:
    """A year's light by the windows alone: rows are days, columns ten-minute steps of the wall clock.

    ``level_lx``, ``sun_share`` (days, 144); NaN where the clock skips an hour; of an hour that comes twice the first counts.
    """

    year: int
    level_lx: FloatArray
    sun_share: FloatArray
    sun_deg: FloatArray


def year_of(room: DayRoom, year: int, sky: str) -> Year:
    """The light of a whole year under a sky."""
    import pandas

    place = room.setup.place
    zone = ZoneInfo(place.timezone)
    first, last = (
        datetime(that_year, 1, 1, tzinfo=zone).astimezone(ZoneInfo("UTC")).replace(tzinfo=None) for that_year in (year, year + 1)
    )
    instants = np.arange(np.datetime64(first, "s"), np.datetime64(last, "s"), np.timedelta64(60 * STEP_MIN, "s"))
    sun_deg, azimuth_deg = sun_positions_deg(place.latitude_deg, place.longitude_deg, instants)
    light, _ = room.through(sun_deg, azimuth_deg, sky, face_only=True)
    local: Any = pandas.DatetimeIndex(instants, tz="UTC").tz_convert(place.timezone)
    days = (date(year, 12, 31) - date(year, 1, 1)).days + 1
    sheets = np.full((3, days, 24 * 60 // STEP_MIN), np.nan)
    row, column = local.dayofyear.to_numpy()[::-1] - 1, (local.hour.to_numpy() * 60 + local.minute.to_numpy())[::-1] // STEP_MIN
    for sheet, values in zip(sheets, (light.level_lx, light.sun_share, sun_deg), strict=True):
        sheet[row, column] = values[::-1]
    return Year(year, *sheets)
