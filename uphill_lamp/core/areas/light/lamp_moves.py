"""Moves of Light: overhead off, a lamp placed and aimed, lamps on, the desk turned to the window, a lamp bought."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.lamp_placing import Spot, best_spot, can_do_without, face_light_utility, lamp_patch, overhead
from uphill_lamp.core.areas.light.lamp_words import AIMED_WORDS, OVERHEAD_WORDS, place_words, stood_anew, stood_words
from uphill_lamp.core.areas.light.measures import SIDES, level_band
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, add, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import need_of, shutter_s
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import bought
from uphill_lamp.core.scene.footprints import box
from uphill_lamp.core.scene.handling import desk_turned, lamp_cautions, turned_at_desk
from uphill_lamp.core.scene.placing import room_size, window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, rotated, wrapped_deg, yaw_tilt_deg
from uphill_lamp.core.scene.wording import degrees, money, the

SMOOTH_FPS = 30.0
TURNS_DEG = (0, -20, 20, -40, 40)
SELF_TURNS_DEG = (15.0, 30.0, 45.0, 60.0, 90.0)  # at a desk that stays where it is
WALL_M = 0.03  # the desk off a wall
ROUND_DEG = 150.0  # a turn further than this is simply round


def overhead_off(lit_scene: LitScene) -> Iterator[Move]:
    """Each overhead lamp off that the face can do without."""
    setup = lit_scene.setup
    for light in overhead(setup):
        if not can_do_without(lit_scene, light):
            continue
        yield Move(f"light.overhead_off.{light.id}", f"Turn off {the(light.name)}", (replace(f"/lights/{light.id}/on", False),))


def place_lamps(lit_scene: LitScene) -> Iterator[Move]:
    """Each lamp one has, that can be carried, put where it serves best; with the overhead off too if that serves better."""
    setup = lit_scene.setup
    above = [light for light in overhead(setup) if light.stands in ("ceiling", "wall")]
    for light in own_lamps(setup):
        spot = best_spot(lit_scene, light)
        if spot is not None and (patch := lamp_patch(spot.light, light)):
            yield Move(
                f"light.move_lamp.{light.id}",
                place_words(light),
                patch,
                FREE,
                lamp_cautions(light),
                detail=stood_words(setup, spot.light),
                aim=AIMED_WORDS,
                retold=stood_anew(light.id),
            )
        if not above:
            continue
        spot = best_spot(lit_scene, light, [lamp.id for lamp in above])
        if spot is not None:
            patch = (*lamp_patch(spot.light, light), *(replace(f"/lights/{lamp.id}/on", False) for lamp in above))
            title = f"{place_words(light)}{OVERHEAD_WORDS}"
            simpler = f"light.move_lamp.{light.id}"
            yield Move(
                f"light.lamp_for_overhead.{light.id}",
                title,
                patch,
                FREE,
                lamp_cautions(light),
                detail=stood_words(setup, spot.light),
                extends=simpler,
                aim=AIMED_WORDS,
                retold=stood_anew(light.id),
            )


def buy_lamp(lit_scene: LitScene) -> Iterator[Move]:
    """A desk lamp with a bright daylight bulb, where it serves best."""
    setup = lit_scene.setup
    cost = bought(setup, "desk_lamp_daylight")
    if cost is None or any(light.id == "new-desk-lamp" for light in setup.lights):
        return
    new = Light.model_validate(typical.light("daylight_desk_lamp", "new-desk-lamp", "New desk lamp", typical.point(1, 1, 1)))
    for off, spot, patch in _stood(lit_scene, new):
        title = "Desk lamp with a daylight bulb" + (", and the overhead light off" if off else "")
        basis = f"A new lamp costs {money(cost.amount, cost.currency)}. It stands so:"
        name, simpler = ("light.buy_lamp.overhead_off", "light.buy_lamp") if off else ("light.buy_lamp", "")
        yield Move(name, title, patch, cost, (cautions.LAMP_STAND, cautions.MAINS_LAMP), detail=f"{basis} {stood_words(setup, spot.light)}",
                   extends=simpler, retold=stood_anew(new.id, basis))  # fmt: skip


def _stood(lit_scene: LitScene, lamp: Light) -> Iterator[tuple[bool, Spot, Patch]]:
    """A new lamp where it serves best, with the overhead light as it is and then off: whether it is off, the spot, what changes."""
    above = [light for light in overhead(lit_scene.setup) if light.stands in ("ceiling", "wall")]
    for off in ([], above) if above else ([],):
        spot = best_spot(lit_scene, lamp, [light.id for light in off])
        if spot is not None:
            switched = (replace(f"/lights/{light.id}/on", False) for light in off)
            yield bool(off), spot, (add("/lights/-", spot.light.model_dump(mode="json")), *switched)


def own_lamps(setup: Setup) -> list[Light]:
    """Lamps that one has and can carry, on or off, the brightest first."""
    lamps = [
        light
        for light in setup.lights
        if light.stands not in ("ceiling", "wall") and light.owned and not light.accent and light.flux_lm > 0
    ]
    return sorted(lamps, key=lambda light: -light.flux_lm)


def borrowed_lamp() -> Light:
    """A lamp such as stands in most homes: one warm bulb."""
    return Light.model_validate(typical.light("desk_lamp", "borrowed-lamp", "Table lamp", typical.point(1, 1, 1)))


def can_borrow(setup: Setup) -> bool:
    """Whether no lamp was borrowed yet, and none has the name that such a one gets."""
    lamp = borrowed_lamp()
    return not any(lamp.id == light.id or lamp.name == light.name for light in setup.lights)


def borrow_lamp(lit_scene: LitScene) -> Iterator[Move]:
    """A lamp out of another room, for who has none that can be carried; with the overhead off too if that serves better."""
    setup, lamp = lit_scene.setup, borrowed_lamp()
    if own_lamps(setup) or not can_borrow(setup):
        return
    for off, spot, patch in _stood(lit_scene, lamp):
        title = "Borrow a lamp from another room" + (OVERHEAD_WORDS if off else "")
        basis = f"If there is a table or bedside lamp: reckoned with {lamp.flux_lm:.0f} lm, as most bulbs give."
        name, simpler = ("light.borrow_lamp.overhead_off", "light.borrow_lamp") if off else ("light.borrow_lamp", "")
        yield Move(name, title, patch, FREE, (*lamp_cautions(lamp), cautions.MAINS_LAMP), detail=f"{basis} {stood_words(setup, spot.light)}",
                   extends=simpler, basis=basis, retold=stood_anew(lamp.id, basis))  # fmt: skip


def fewer_pictures(setup: Setup) -> Iterator[Move]:
    """Fewer pictures a second: each gets more light."""
    camera = setup.main_camera
    if camera.fps > SMOOTH_FPS:
        more = shutter_s(camera.model_copy(update={"fps": SMOOTH_FPS}), setup.place.mains_hz) / shutter_s(camera, setup.place.mains_hz)
        yield Move("light.fewer_pictures", f"Send {SMOOTH_FPS:g} frames per second instead of {camera.fps:g}",
            (replace(f"/cameras/{camera.id}/fps", SMOOTH_FPS),),
                   detail=f"{more:.1f} times the light for each frame; quick hands blur a little more.")  # fmt: skip


def rear_camera(setup: Setup) -> Iterator[Move]:
    """A phone turned round: its rear camera gathers more light, while the call stays on another screen."""
    camera = setup.main_camera
    elsewhere = any(shown.shows == "call" for screen in setup.screens if screen.on and screen.kind != "phone" for shown in screen.windows)
    if camera.kind != "phone_front" or not elsewhere:
        return
    typical_rear = typical.camera("phone_rear", camera.mount)
    changes = {key: typical_rear[key] for key in ("kind", "lens", "native_aspect", "output_width_px", "output_height_px")}
    patch = tuple(replace(f"/cameras/{camera.id}/{key}", value) for key, value in changes.items())
    yield Move(
        "light.rear_camera",
        "Turn the phone round and use its rear camera",
        patch,
        detail="It gathers several times the light; frame by a mirror behind it.",
    )


def turn_to_window(lit_scene: LitScene) -> Iterator[Move]:
    """The whole desk turned so that a bright window comes before the face, or, where it cannot be, the presenter at it; the best of a
    few angles."""
    setup = lit_scene.setup
    shining = {source.id for source in lit_scene.sources}
    level, sides = level_band(need_of(setup)), SIDES[setup.preferences.look]
    now = face_light_utility(level, sides, lit_scene.face_lx)
    for window in setup.room.windows:
        if window.id not in shining:
            continue
        trials: list[tuple[float, float, Patch]] = []
        middle_m = window_pane(setup.room, window).middle
        for patch, turn_deg in _turns_at_desk(setup, middle_m) if setup.desk.fixed else _desk_turns(setup, middle_m):
            try:
                trial = lit_scene_of(applied(setup, patch))
            except Refused:
                continue
            trials.append((face_light_utility(level, sides, trial.face_lx), turn_deg, patch))
        best = max(trials, key=lambda row: row[0], default=None)
        if best is not None and best[0] > now + 0.01:
            side = "right" if best[1] > 0 else "left"
            how = "round" if abs(best[1]) > ROUND_DEG else f"{degrees(abs(best[1]))} to your {side}"
            if setup.desk.fixed:
                title, cautioned = f"Turn yourself and what you look at {how}, towards {the(window.name)}", (cautions.CABLES,)
                yield Move(
                    f"light.turn_self.{window.id}",
                    title,
                    best[2],
                    FREE,
                    cautioned,
                    detail="The desk stays: you then sit at a corner of it.",
                )
                continue
            title, detail = f"Turn the desk {how} to face {the(window.name)}", "If it cannot be turned, say so at the desk."
            yield Move(f"light.turn_to_window.{window.id}", title, best[2], FREE, (cautions.HEAVY_DESK, cautions.CABLES), detail=detail)


def _desk_turns(setup: Setup, window_m: Vector) -> Iterator[tuple[Patch, float]]:
    face, size = scene_of(setup).face, room_size(setup.room)
    yaw_deg, _ = yaw_tilt_deg(window_m - face.eyes)
    desk = np.array([setup.desk.x_m, setup.desk.y_m]) - face.eyes[:2]
    reach_m = float(np.linalg.norm(desk)) + setup.desk.depth_m / 2
    for aside_deg in TURNS_DEG:
        turn_deg = wrapped_deg(yaw_deg + aside_deg - setup.presenter.facing_yaw_deg)
        if abs(turn_deg) < 8:
            continue
        new_yaw = math.radians(setup.presenter.facing_yaw_deg + turn_deg)
        ahead = np.array([math.sin(new_yaw), math.cos(new_yaw)])
        # Far enough off the walls for the whole desk, and with room for the chair behind.
        seat = np.clip(face.eyes[:2], 0.45, size[:2] - 0.45)
        over = np.maximum(seat + ahead * reach_m - (size[:2] - 0.03), 0) + np.minimum(seat + ahead * reach_m - 0.03, 0)
        yield _turned_inside(setup, turn_deg, seat - over), turn_deg


def _turns_at_desk(setup: Setup, window_m: Vector) -> Iterator[tuple[Patch, float]]:
    """The presenter turned towards a window with all that they look at, the desk left where it is."""
    yaw_deg, _ = yaw_tilt_deg(window_m - scene_of(setup).face.eyes)
    wanted_deg = wrapped_deg(yaw_deg - setup.presenter.facing_yaw_deg)
    side = 1.0 if wanted_deg > 0 else -1.0
    for turn_deg in SELF_TURNS_DEG:
        if turn_deg > abs(wanted_deg) + 1:
            return
        patch = turned_at_desk(setup, side * turn_deg)
        if patch is not None:
            yield patch, side * turn_deg


def _turned_inside(setup: Setup, turn_deg: float, seat: Vector) -> Patch:
    """The desk turned, and shifted along with all that belongs to it until it lies in the room."""
    eyes, size, desk = scene_of(setup).face.eyes, room_size(setup.room), setup.desk
    middle = rotated(np.array([desk.x_m, desk.y_m, 0.0]) - [*eyes[:2], 0.0], np.zeros(3), turn_deg)[:2] + seat[:2]
    outline = box((float(middle[0]), float(middle[1])), desk.width_m, desk.depth_m, desk.yaw_deg + turn_deg)
    over = np.maximum(outline.max(axis=0) - (size[:2] - WALL_M), 0) + np.minimum(outline.min(axis=0) - WALL_M, 0)
    return desk_turned(setup, turn_deg, seat[:2] - over)
