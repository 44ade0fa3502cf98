"""What of a setup cannot be so: what passes through a wall, hangs in a line of sight, stands on nothing, or keeps people from working.

Every move that is offered and every plan is held to it: nothing may come about that was not there before (docs/method/standing.md).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from uphill_lamp.core.document.devices import Light, Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.footprints import beyond_m, desk_outline, door_swing, meet
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import vector
from uphill_lamp.core.standing import limits
from uphill_lamp.core.standing.sight import (
    HUNG_AHEAD,
    blocked_by_lamps,
    blocked_by_microphones,
    blocked_by_screens,
    blocked_by_sheets,
    by_day,
    dazzling,
    faces_window,
    pictured,
)

EDGE_M = 0.02  # what stands this far over an edge stands on it still


@dataclass(frozen=True, order=True)
class Obstacle:
    """Something that cannot be so: the rule, in a word, and the thing's handle."""

    rule: str
    thing: str


def _desk(setup: Setup) -> Iterator[Obstacle]:
    outline, size = desk_outline(setup.desk), room_size(setup.room)[:2]
    if (outline < -EDGE_M).any() or (outline > size + EDGE_M).any():
        yield Obstacle("through a wall", "desk")
    for door in setup.room.doors:
        if meet(outline, door_swing(setup.room, door), EDGE_M):
            yield Obstacle("in a door's way", f"doors/{door.id}")


def _people(setup: Setup) -> Iterator[Obstacle]:
    eyes, size = scene_of(setup).face.eyes[:2], room_size(setup.room)[:2]
    if setup.call.use != "recorded" and beyond_m(desk_outline(setup.desk), eyes) > limits.EYES_TO_DESK_M:
        yield Obstacle("out of reach of the keys", "presenter")
    if float(min(eyes.min(), (size - eyes).min())) < limits.PERSON_OFF_WALL_M:
        yield Obstacle("through a wall", "presenter")


def _cameras(setup: Setup) -> Iterator[Obstacle]:
    size = room_size(setup.room)[:2]
    for camera in setup.cameras:
        if camera.mount == "tripod" and camera.position is not None:
            place = vector(camera.position)[:2]
            if float(min(place.min(), (size - place).min())) < limits.TRIPOD_OFF_WALL_M:
                yield Obstacle("through a wall", f"cameras/{camera.id}")


def _carried(setup: Setup) -> Iterator[Obstacle]:
    outline, top_m = desk_outline(setup.desk), setup.desk.height_m
    for light in setup.lights:
        if light.on and light.stands in ("desk", "clamp"):
            place = vector(light.position)
            high = float(place[2]) - top_m
            if beyond_m(outline, place[:2]) > limits.LAMP_REACH_M or high > limits.LAMP_OVER_DESK_M + EDGE_M or high < 0:
                yield Obstacle("carried by nothing", f"lights/{light.id}")
    for camera in setup.cameras:
        if camera.mount in ("holder", "arm") and camera.position is not None:
            beyond = beyond_m(outline, vector(camera.position)[:2])
            if beyond > (EDGE_M if camera.mount == "holder" else limits.ARM_REACH_M):
                yield Obstacle("carried by nothing", f"cameras/{camera.id}")
    for microphone in setup.microphones:
        if microphone.position is None or not microphone.in_use or microphone.stand not in ("desk_stand", "boom_arm"):
            continue
        place = vector(microphone.position)
        beyond = beyond_m(outline, place[:2])
        by_stand = beyond > EDGE_M or float(place[2]) - top_m > limits.STAND_OVER_DESK_M
        if by_stand if microphone.stand == "desk_stand" else beyond > limits.ARM_REACH_M:
            yield Obstacle("carried by nothing", f"microphones/{microphone.id}")


def _hung(setup: Setup) -> Iterator[Obstacle]:
    if faces_window(setup):
        yield from (Obstacle("before a window", f"furnishings/{item.id}") for item in setup.room.furnishings if item.kind in HUNG_AHEAD)


def _calls(setup: Setup) -> Iterator[Obstacle]:
    for screen in setup.screens:
        for window in screen.windows:
            if window.shows == "call" and _width_m(screen, window.width_px) < limits.CALL_WIDTH_M:
                yield Obstacle("too small to see", f"shown/{screen.id}.{window.id}")


def _width_m(screen: Screen, width_px: float) -> float:
    return screen.width_m * width_px / screen.width_px


@dataclass(frozen=True)
class Rule:
    """One rule and the parts of the document that it reads."""

    tells: Callable[[Setup], Iterator[Obstacle]]
    parts: tuple[str, ...]


SEEN = ("room", "desk", "presenter", "screens", "cameras", "call")
RULES = (
    Rule(_desk, ("room", "desk")),
    Rule(_people, ("room", "desk", "presenter", "call")),
    Rule(_cameras, ("room", "cameras")),
    Rule(_carried, ("desk", "lights", "microphones", "cameras")),
    Rule(_hung, ("room", "presenter")),
    Rule(_calls, ("screens",)),
    Rule(lambda setup: (Obstacle("in sight", f"lights/{name}") for name in dazzling(setup)), (*SEEN, "lights")),
    Rule(lambda setup: (Obstacle("in the way", f"lights/{name}") for name in blocked_by_lamps(setup)), (*SEEN, "lights")),
    Rule(lambda setup: (Obstacle("in the picture", f"lights/{name}") for name in pictured(setup)), (*SEEN, "lights")),
    Rule(lambda setup: (Obstacle("in the picture", f"screens/{name}") for name in blocked_by_screens(setup)), SEEN),
    Rule(lambda setup: (Obstacle("in the way", f"reflectors/{name}") for name in blocked_by_sheets(setup)), (*SEEN, "reflectors")),
    Rule(lambda setup: (Obstacle("in the way", f"microphones/{name}") for name in blocked_by_microphones(setup)), (*SEEN, "microphones")),
)


def obstacles(setup: Setup) -> frozenset[Obstacle]:
    """All that cannot be so in a document, by itself."""
    return frozenset(obstacle for rule in RULES for obstacle in rule.tells(setup))


class Standing:
    """What may come of a setup: a document that holds nothing impossible that was not there before."""

    def __init__(self, before: Setup) -> None:
        self.before = before
        self._kept: dict[tuple[int, ...], tuple[tuple[Any, ...], frozenset[Obstacle]]] = {}
        self._there = frozenset(obstacle for number in range(len(RULES)) for obstacle in self._told(number, before))

    def new(self, after: Setup) -> frozenset[Obstacle]:
        """What cannot be so in a document that came of this one, and was not so before."""
        there = frozenset(obstacle for number in range(len(RULES)) for obstacle in self._told(number, after))
        return (there - self._there) | frozenset(self._since(after))

    def free(self, after: Setup) -> bool:
        """Whether there is nothing of the sort."""
        return not any(self._told(number, after) - self._there for number in range(len(RULES))) and not any(
            True for _ in self._since(after)
        )

    def _told(self, number: int, setup: Setup) -> frozenset[Obstacle]:
        """By a rule's parts: most documents of a ladder share them."""
        rule = RULES[number]
        parts = tuple(getattr(setup, part) for part in rule.parts)
        key = (number, *map(id, parts))
        if key not in self._kept:
            self._kept[key] = parts, frozenset(rule.tells(setup))  # the parts are held, so that no other takes their id
        return self._kept[key][1]

    def _since(self, after: Setup) -> Iterator[Obstacle]:
        """What only a change can do: a screen turned down until nobody can read it, the only lamp turned off, the call moved on a phone."""
        was = {screen.id: screen for screen in self.before.screens}
        for screen in after.screens:
            old = was.get(screen.id)
            if old is not None and screen.luminance_cd_m2 < old.luminance_cd_m2 and screen.luminance_cd_m2 < self._least_cd_m2(old):
                yield Obstacle("too dark to read", f"screens/{screen.id}")
            if old is not None and screen.kind in ("phone", "tablet") and screen.windows is not old.windows:
                calls = [{window.id: window for window in shown.windows if window.shows == "call"} for shown in (old, screen)]
                if calls[0] != calls[1]:
                    yield Obstacle("shown whole", f"screens/{screen.id}")
        if after.lights is not self.before.lights and _lit(self.before) and not _lit(after) and not by_day(self.before):
            yield Obstacle("dark", "lights")

    def _least_cd_m2(self, screen: Screen) -> float:
        return limits.SCREEN_BY_DAY_SHARE * screen.luminance_cd_m2 if by_day(self.before) else limits.SCREEN_BY_NIGHT_CD_M2


def _lit(setup: Setup) -> list[Light]:
    return [light for light in setup.lights if light.on and light.dim > 0 and light.flux_lm > 0 and not light.accent]
