"""The room as statistics sees it: absorption, reverberation time, critical distance (docs/method/sound.md)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.finishes import FINISHES, FURNISHINGS, GLASS
from uphill_lamp.core.document.surroundings import OwnFinish, Room

SABINE = 0.161  # s/m
CRITICAL = 0.0032  # rc^2 = 0.0032 V/T for a source and a microphone that favour no direction
LEAST_MEAN_ABSORPTION, MOST_MEAN_ABSORPTION = (
    0.002,
    0.95,
)  # bare stone still swallows a little; beyond the upper end Eyring has no room left


@dataclass(frozen=True)
class RoomSound:
    """Volume [m3], surface [m2] and, per octave, mean absorption [no unit] and reverberation time [s]."""

    volume_m3: float
    surface_m2: float
    mean_absorption: FloatArray
    t60_s: FloatArray
    sabine_t60_s: FloatArray

    @property
    def critical_squared_m2(self) -> FloatArray:
        """Square of the critical distance per octave, shape (7,) [m2]."""
        return CRITICAL * self.volume_m3 / self.t60_s


def finish_absorption(finish: str | OwnFinish) -> FloatArray:
    """Absorption of a surface per octave, shape (7,) [no unit]."""
    return np.array(finish.absorption if isinstance(finish, OwnFinish) else FINISHES[finish].absorption)


def eyring_t60_s(volume_m3: float, surface_m2: float, mean_absorption: FloatArray) -> FloatArray:
    """Eyring's reverberation time: 0.161 V / (-S ln(1 - mean)), shape (7,) [s]."""
    return SABINE * volume_m3 / (-surface_m2 * np.log(1 - np.minimum(mean_absorption, MOST_MEAN_ABSORPTION)))


def statistics_of(volume_m3: float, areas: Iterable[tuple[float, FloatArray]], extra_m2: FloatArray) -> RoomSound:
    """A room from its volume [m3], its surfaces as (area [m2], absorption (7,)), and equivalent areas (7,) [m2] in it."""
    listed = list(areas)
    surface = sum(area for area, _ in listed)
    absorbing = sum((area * absorption for area, absorption in listed), np.zeros(7)) + extra_m2
    mean = np.clip(absorbing / surface, LEAST_MEAN_ABSORPTION, MOST_MEAN_ABSORPTION)
    return RoomSound(volume_m3, surface, mean, eyring_t60_s(volume_m3, surface, mean), SABINE * volume_m3 / (surface * mean))


def room_sound(room: Room) -> RoomSound:
    """A setup's room: finishes with window glass let in, furnishings; a measured time wins over the computed one."""
    statistics = statistics_of(
        room.width_m * room.depth_m * room.height_m, (pair for pairs in _surfaces(room).values() for pair in pairs), _soft_m2(room)
    )
    if room.measured_t60_s is None:
        return statistics
    return RoomSound(
        statistics.volume_m3, statistics.surface_m2, statistics.mean_absorption, np.array(room.measured_t60_s), statistics.sabine_t60_s
    )


def _surfaces(room: Room) -> dict[str, list[tuple[float, FloatArray]]]:
    """Each side of the room as areas [m2] and their absorption, shape (7,)."""
    w, d, h = room.width_m, room.depth_m, room.height_m
    areas = {"floor": w * d, "ceiling": w * d, "wall_x0": d * h, "wall_x1": d * h, "wall_y0": w * h, "wall_y1": w * h}
    covered = {}
    for name, area in areas.items():
        glass = min(sum(pane.width_m * pane.height_m for pane in room.windows if pane.wall == name), area)
        gap = min(sum(door.width_m * door.height_m for door in room.doors if door.wall == name and door.stands_open), area - glass)
        finish = finish_absorption(getattr(room.surfaces, name))
        covered[name] = [
            (area - glass - gap, finish),
            (glass, np.array(GLASS.absorption)),
            (gap, np.ones(7)),
        ]  # through an open door nothing returns
    return covered


def _soft_m2(room: Room) -> FloatArray:
    return sum((item.count * np.array(FURNISHINGS[item.kind].area_m2) for item in room.furnishings), np.zeros(7))


def side_absorption(room: Room) -> dict[str, FloatArray]:
    """Mean absorption of each side of the room, what is soft in it spread evenly over all, shape (7,) each; as a measured time says,
    where there is one: 1 - exp(-0.161 V / (S T))."""
    sound = room_sound(room)
    if room.measured_t60_s is not None:
        even = 1 - np.exp(-SABINE * sound.volume_m3 / (sound.surface_m2 * sound.t60_s))
        return dict.fromkeys(_surfaces(room), even)
    soft = _soft_m2(room) / sound.surface_m2
    absorptions = {name: sum((area * absorption for area, absorption in pairs), np.zeros(7)) / sum(area for area, _ in pairs) + soft
             for name, pairs in _surfaces(room).items()}  # fmt: skip
    return {name: np.clip(absorption, LEAST_MEAN_ABSORPTION, MOST_MEAN_ABSORPTION) for name, absorption in absorptions.items()}
