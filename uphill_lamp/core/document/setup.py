"""The whole document, and what must hold between its parts."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date
from itertools import combinations
from typing import Annotated, Literal

from pydantic import Field

from uphill_lamp.core.document.devices import Camera, Light, Microphone, Reflector, Screen
from uphill_lamp.core.document.faults import Fault, shown
from uphill_lamp.core.document.fields import Name, Origin, OriginNote, Part, Point, Thing, kind_of
from uphill_lamp.core.document.people import Call, Chain, Computer, Kit, OnPurpose, Preferences, Presenter
from uphill_lamp.core.document.session import Session
from uphill_lamp.core.document.surroundings import BackdropThing, Desk, Door, Noise, Place, Room, Window

FORMAT: Literal["uphill-lamp/setup"] = "uphill-lamp/setup"
VERSION: Literal[2] = 2


class Setup(Part):
    """One setup: all that the computation needs, nothing it can derive."""

    format: Literal["uphill-lamp/setup"] = FORMAT
    version: Literal[2] = VERSION
    name: Name
    place: Place
    room: Room
    desk: Desk
    presenter: Presenter
    screens: Annotated[tuple[Screen, ...], Field(max_length=8)]
    cameras: Annotated[tuple[Camera, ...], Field(min_length=1, max_length=8)]
    lights: Annotated[tuple[Light, ...], Field(max_length=24)]
    reflectors: Annotated[tuple[Reflector, ...], Field(max_length=8)] = ()
    microphones: Annotated[tuple[Microphone, ...], Field(max_length=12)]
    noises: Annotated[tuple[Noise, ...], Field(max_length=24)]
    backdrop: Annotated[tuple[BackdropThing, ...], Field(max_length=30)]
    computer: Computer
    call: Call
    kit: Annotated[tuple[Kit, ...], Field(max_length=60)] = ()
    chain: Chain = Chain()
    session: Session = Session()
    preferences: Preferences
    on_purpose: Annotated[tuple[OnPurpose, ...], Field(max_length=60)] = ()
    origins: Annotated[dict[str, Origin | OriginNote], Field(max_length=2000, description="Path to origin; absent is assumed")] = {}

    @property
    def main_camera(self) -> Camera:
        """The camera the far side sees through; reading makes sure there is exactly one."""
        return next(camera for camera in self.cameras if camera.use == "main")

    @property
    def microphone_in_use(self) -> Microphone | None:
        return next((microphone for microphone in self.microphones if microphone.in_use), None)

    def screen(self, screen_id: str) -> Screen:
        return next(screen for screen in self.screens if screen.id == screen_id)

    def origin_of(self, *paths: str) -> Origin:
        """The weakest origin among values that a figure rests on."""
        origins = {kind_of(self.origins.get(path, "assumed")) for path in paths}
        for origin in ("assumed", "entered"):
            if origin in origins:
                return origin
        return "measured" if origins else "assumed"

    @property
    def measured_on(self) -> date | None:
        """The last day on which any of its values was measured."""
        notes = (note for note in self.origins.values() if isinstance(note, OriginNote) and note.kind == "measured")
        return max((note.on for note in notes if note.on), default=None)


TOUCH_M = 0.005  # windows may meet, frame to frame


def wall_length_m(room: Room, wall: str) -> float:
    """Length of a wall along the floor [m]."""
    return room.depth_m if wall in ("wall_x0", "wall_x1") else room.width_m


def contradictions(setup: Setup) -> list[Fault]:
    """What is wrong between parts that are each right by themselves."""
    return [
        *_repeated(setup),
        *_misfit_windows(setup),
        *_outside(setup),
        *_dangling(setup),
        *_several(setup),
        *_desk_range(setup),
    ]


def things(setup: Setup) -> Iterator[tuple[str, tuple[Thing, ...]]]:
    """Every list of things with its path."""
    yield "/room/windows", setup.room.windows
    yield "/room/doors", setup.room.doors
    yield "/room/furnishings", setup.room.furnishings
    for part in ("screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop", "kit"):
        yield f"/{part}", getattr(setup, part)
    yield "/presenter/clothing", setup.presenter.clothing
    yield "/chain/links", setup.chain.links
    for screen in setup.screens:
        yield f"/screens/{screen.id}/windows", screen.windows


def _repeated(setup: Setup) -> Iterator[Fault]:
    for path, listed in things(setup):
        for field in ("id", "name"):
            if len({getattr(thing, field) for thing in listed}) == len(listed):
                continue
            seen: set[str] = set()
            for thing in listed:
                value = getattr(thing, field)
                if value in seen:
                    yield Fault(f"{path}/{thing.id}/{field}", f"{shown(value)} twice", f"each {field} only once in {path}")
                seen.add(value)


def _misfit_windows(setup: Setup) -> Iterator[Fault]:
    """Panes and doors that reach beyond their walls."""
    room = setup.room
    for window in room.windows:
        path, top_m = f"/room/windows/{window.id}", window.sill_m + window.height_m
        yield from _beyond_wall(room, path, "pane", window)
        if top_m > room.height_m + 1e-9:
            yield Fault(f"{path}/height_m", f"a pane up to {top_m:.2f} m", f"a pane below the ceiling at {room.height_m:.2f} m")
    for door in room.doors:
        path = f"/room/doors/{door.id}"
        yield from _beyond_wall(room, path, "door", door)
        if door.height_m > room.height_m + 1e-9:
            yield Fault(f"{path}/height_m", f"a door of {door.height_m:.2f} m", f"a door below the ceiling at {room.height_m:.2f} m")


def overlapping_holes(setup: Setup) -> list[Fault]:
    """Windows and doors that want the same piece of wall: no document is refused for it, but no change may bring it about."""
    holes = [
        (
            f"/room/windows/{window.id}",
            window.name,
            window.wall,
            window.centre_m,
            window.width_m,
            window.sill_m,
            window.sill_m + window.height_m,
        )
        for window in setup.room.windows
    ]
    holes += [
        (f"/room/doors/{door.id}", door.name, door.wall, door.centre_m, door.width_m, 0.0, door.height_m) for door in setup.room.doors
    ]
    return [
        Fault(f"{path}/centre_m", f"the place of {shown(name)}", "a piece of wall that no window and no door has")
        for (_, name, wall, middle, wide, foot, top), (path, _, other_wall, other, other_wide, other_foot, other_top) in combinations(
            holes, 2
        )
        if wall == other_wall
        and (wide + other_wide) / 2 - abs(middle - other) > TOUCH_M
        and min(top, other_top) - max(foot, other_foot) > TOUCH_M
    ]


def _beyond_wall(room: Room, path: str, what: str, hole: Window | Door) -> Iterator[Fault]:
    length, low, high = wall_length_m(room, hole.wall), hole.centre_m - hole.width_m / 2, hole.centre_m + hole.width_m / 2
    if low < -1e-9 or high > length + 1e-9:
        yield Fault(
            f"{path}/width_m",
            f"a {what} from {low:.2f} to {high:.2f} m along {hole.wall}",
            f"a {what} within its wall, 0 to {length:.2f} m",
        )


def _positions(setup: Setup) -> Iterator[tuple[str, Point]]:
    for part in ("screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop"):
        for thing in getattr(setup, part):
            if thing.position is not None:
                yield f"/{part}/{thing.id}/position", thing.position
    if setup.presenter.paper_notes is not None:
        yield "/presenter/paper_notes", setup.presenter.paper_notes


def _mounted_lenses(setup: Setup) -> Iterator[tuple[str, tuple[float, float, float]]]:
    """Lenses on a lid or a monitor, whose place the document leaves to their screen."""
    screens = {screen.id: screen for screen in setup.screens}
    for camera in setup.cameras:
        screen = screens.get(camera.on_screen or "")
        if screen is None:
            continue
        lean = math.radians(screen.hinge_deg - 90 if screen.hinge_deg is not None else screen.tilt_deg or 0.0)
        yaw = math.radians(screen.yaw_deg)
        reach_m = camera.lens_offset_m + (0.0 if camera.mount == "laptop_lid" else screen.height_m / 2)
        back_m = reach_m * math.sin(lean)
        position = screen.position
        lens = (position.x_m - back_m * math.sin(yaw), position.y_m - back_m * math.cos(yaw), position.z_m + reach_m * math.cos(lean))
        yield f"/cameras/{camera.id}", lens


def _outside(setup: Setup) -> Iterator[Fault]:
    room, presenter, desk = setup.room, setup.presenter, setup.desk
    spans = {"x_m": room.width_m, "y_m": room.depth_m, "z_m": room.height_m}
    for path, point in _positions(setup):
        for axis, length in spans.items():
            value = getattr(point, axis)
            if not 0 <= value <= length:
                yield Fault(f"{path}/{axis}", f"{value:g} m, in or beyond a wall", f"a place inside the room, 0 to {length:g} m")
    for path, lens in _mounted_lenses(setup):
        for (axis, length), value in zip(spans.items(), lens, strict=True):
            if not 0 <= value <= length:
                place = f"a lens at {axis} {value:.3f} m, in or beyond a wall, by where its screen stands"
                yield Fault(path, place, f"a screen that leaves its camera inside the room, 0 to {length:g} m")
    for path, x_m, y_m in (("/presenter", presenter.x_m, presenter.y_m), ("/desk", desk.x_m, desk.y_m)):
        for axis, value, length in (("x_m", x_m, room.width_m), ("y_m", y_m, room.depth_m)):
            if not 0 < value < length:
                yield Fault(f"{path}/{axis}", f"{value:g} m, in or beyond a wall", f"a place inside the room, 0 to {length:g} m")
    if presenter.eye_height_m + presenter.head.eyes_to_crown_m > room.height_m:
        place = f"eyes {presenter.eye_height_m:g} m above the floor"
        yield Fault("/presenter/eye_height_m", place, f"a head below the ceiling at {room.height_m:g} m")


def _dangling(setup: Setup) -> Iterator[Fault]:
    screens = {screen.id: screen for screen in setup.screens}
    known = "the id of a screen of this setup" + (": " + ", ".join(screens) if screens else "; there is none")
    for part in ("cameras", "microphones"):
        for thing in getattr(setup, part):
            if thing.on_screen is not None and thing.on_screen not in screens:
                yield Fault(f"/{part}/{thing.id}/on_screen", shown(thing.on_screen), known)
    for camera in setup.cameras:
        if camera.mount == "laptop_lid" and camera.on_screen in screens and screens[camera.on_screen].kind != "laptop":
            yield Fault(f"/cameras/{camera.id}/on_screen", f"a {screens[camera.on_screen].kind}", "a laptop, for a camera on its lid")
        if camera.mount == "monitor_top" and camera.on_screen in screens and screens[camera.on_screen].kind == "laptop":
            yield Fault(f"/cameras/{camera.id}/on_screen", "a laptop", "a screen that is no laptop, or the mount laptop_lid")
    on = setup.computer.loudspeakers_on
    if on is not None and on not in screens:
        yield Fault("/computer/loudspeakers_on", shown(on), known)
    for screen in setup.screens:
        for window in screen.windows:
            right, foot = window.left_px + window.width_px, window.top_px + window.height_px
            if right > screen.width_px or foot > screen.height_px:
                yield Fault(
                    f"/screens/{screen.id}/windows/{window.id}",
                    f"a window down to {right} x {foot} px",
                    f"a window on its screen of {screen.width_px} x {screen.height_px} px",
                )


def _several(setup: Setup) -> Iterator[Fault]:
    mains = [camera.id for camera in setup.cameras if camera.use == "main"]
    if len(mains) != 1:
        yield Fault("/cameras", f"{len(mains)} cameras with the use 'main'", "exactly one")
    used = [microphone.id for microphone in setup.microphones if microphone.in_use]
    if len(used) > 1:
        yield Fault("/microphones", f"{len(used)} microphones in use ({', '.join(used)})", "one at most")


def _desk_range(setup: Setup) -> Iterator[Fault]:
    span = setup.desk.height_range
    if span is not None and not span.low_m <= setup.desk.height_m <= span.high_m:
        yield Fault("/desk/height_m", f"{setup.desk.height_m:g} m", f"a height in its range, {span.low_m:g} to {span.high_m:g} m")
