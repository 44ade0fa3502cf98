"""Moves for what is behind: away with it, a sheet before it, the desk turned or brought forward, something to look at. Each is solved to
the least that mends it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.doors import open_in_view
from uphill_lamp.core.areas.backdrop.findings import moving_in_view, unwanted_in_view
from uphill_lamp.core.areas.backdrop.measures import (
    AWAY_STEP_M,
    CUT_LINE,
    GROWS,
    LEAST_AWAY_M,
    MOST_AWAY_M,
    STRIP,
    UNWANTED,
    come_away_m,
    cut_at,
    private_in_view,
    read_by_others,
)
from uphill_lamp.core.areas.backdrop.mirrors import telltale
from uphill_lamp.core.areas.backdrop.outline_moves import hung_higher, shifted_clear, taken_from_head
from uphill_lamp.core.areas.backdrop.points import BESIDE_FACE, POINT_SHARE, points
from uphill_lamp.core.areas.backdrop.putting import CARRIED, after, free_id, free_name, inside, taken, tools
from uphill_lamp.core.areas.backdrop.worn import is_strong_red
from uphill_lamp.core.areas.backdrop.worn_moves import calmer, clear_lenses, plain
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.patch import add, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.judging import FREE, WANTING, Finding, Move
from uphill_lamp.core.offers import at_home
from uphill_lamp.core.scene.aiming import tilted_to
from uphill_lamp.core.scene.footprints import desk_outline
from uphill_lamp.core.scene.handling import desk_turned, turned_at_desk
from uphill_lamp.core.scene.in_view import FINE_GRID
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector, direction, vector
from uphill_lamp.core.scene.view import backdrop_panes, view_of
from uphill_lamp.core.scene.wording import degrees, length, the

TURNS_DEG = (15.0, -15.0, 30.0, -30.0, 45.0, -45.0, 60.0, -60.0, 90.0, -90.0, 135.0, -135.0, 180.0)
ROUND_DEG = 150.0
SHEET_MIN = 3.0  # to hang a sheet, each time where it does not stay
BEFORE_M, AROUND_M = 0.06, 0.05  # a sheet hangs so far before a thing, and reaches so far beyond it
SHEETS = ("white_sheet", "heavy_curtain", "diffusion_cloth")
MOST_ZOOM, ZOOM_STEP = 1.5, 0.05
OFF_WALL_M, OVER_EYES = 0.03, 0.05  # a picture hangs so far off the wall [m], and so much of the picture's height over the eyes
PICTURE_SHARE, PICTURE_HIGH, PICTURE_M = 0.035, 0.75, (0.15, 0.6)  # of the picture; high against wide; wide
THIRDS = (1 / 3, 2 / 3)


def moves_for(setup: Setup, finding: Finding) -> tuple[Move, ...]:
    """The moves that mend a finding of Backdrop."""
    return tuple({move.id: move for maker in MAKERS[finding.id] for move in maker(setup)}.values())


def _left(setup: Setup) -> float:
    """Share of the picture under what is unwanted."""
    return behind_of(setup).unwanted(setup)


def _enough(share: float) -> bool:
    return UNWANTED.utility(share) >= WANTING


def taken_away(setup: Setup) -> Iterator[Move]:
    """Each unwanted thing that one carries, out of the picture."""
    return carried_off(setup, unwanted_in_view(setup))


def carried_off(setup: Setup, things: Iterable[BackdropThing]) -> Iterator[Move]:
    """Those of some things that one person carries, each away; a screen that shines is switched off instead."""
    for thing in things:
        if thing.kind == "screen" and thing.luminance_cd_m2:
            dark = (
                (f"/backdrop/{thing.id}/luminance_cd_m2", 0.0),
                (f"/backdrop/{thing.id}/x_height_m", 0.0),
                (f"/backdrop/{thing.id}/private", False),
            )
            patch = tuple(replace(path, value) for path, value in dark)
            yield Move(f"backdrop.switch_off.{thing.id}", f"Switch {the(thing.name)} off", patch)
        if thing.kind in CARRIED:
            yield taken(thing)


def covered(setup: Setup) -> Iterator[Move]:
    """A plain sheet before each unwanted thing that is not carried."""
    return hung_before(setup, unwanted_in_view(setup))


def hung_before(setup: Setup, things: Iterable[BackdropThing]) -> Iterator[Move]:
    """A plain sheet before those of some things that are not carried, but for doors, which must stay free."""
    had, panes = at_home(setup, SHEETS, "A plain bed sheet will do, on a line or over a clothes horse."), dict(backdrop_panes(setup))
    for thing in things:
        if thing.kind in (*CARRIED, "door"):
            continue
        wide, high = thing.width_m + 2 * AROUND_M, min(thing.height_m + 2 * AROUND_M, setup.room.height_m)
        place = inside(setup, vector(thing.position) + BEFORE_M * panes[thing.id].normal)
        sheet = typical.backdrop(
            "sheet", free_id(setup, f"sheet-{thing.id}"[:40]), {f"{axis}_m": round(float(value), 3) for axis, value in zip("xyz", place, strict=True)},
            name=free_name(setup, "Hung sheet"), width_m=round(wide, 3), height_m=round(high, 3), held="clips", put_up_min=SHEET_MIN,
        )  # fmt: skip
        title = f"Hang a plain sheet before {the(thing.name)}"
        yield Move(
            f"backdrop.cover.{thing.id}", title, (add("/backdrop/-", sheet), *had.patch), had.cost, (cautions.CLOTH,), detail=had.words
        )


def hidden(setup: Setup) -> Iterator[Move]:
    """What is nobody's business out of the picture, whatever it takes."""
    yield from carried_off(setup, private_in_view(setup))
    yield from hung_before(setup, private_in_view(setup))
    yield from turned(setup, lambda there: not private_in_view(there), ".private")


def not_read(setup: Setup) -> Iterator[Move]:
    """What the others read, out of the picture."""
    yield from carried_off(setup, read_by_others(setup))
    yield from hung_before(setup, read_by_others(setup))
    yield from turned(setup, lambda there: not read_by_others(there), ".readable")


def stilled(setup: Setup) -> Iterator[Move]:
    """What moves, out of the picture."""
    yield from carried_off(setup, moving_in_view(setup))
    yield from hung_before(setup, moving_in_view(setup))
    yield from turned(setup, lambda there: not moving_in_view(there), ".moving")


def mirror_off(setup: Setup) -> Iterator[Move]:
    """A mirror that shows what is not for others, away, or the desk turned until it shows nothing of that."""
    shows = telltale(setup)
    if shows is not None:
        yield taken(shows.mirror)
        yield from turned(setup, lambda there: telltale(there) is None, ".mirror")


def red_off(setup: Setup) -> Iterator[Move]:
    """What is strongly red behind, away."""
    return carried_off(
        setup, (thing for thing in setup.backdrop if thing.id in behind_of(setup).seen.parts and is_strong_red(thing.colour))
    )


def off_strip(setup: Setup) -> Iterator[Move]:
    """The strip off; or the camera tilted until the chin is clear of it, or of the picture's foot."""
    if setup.call.name_strip:
        yield Move("backdrop.strip_off", "Turn the strip with your name off", (replace("/call/name_strip", False),))
    face = scene_of(setup).face
    chin, crown = scene_of(setup).pinhole.project(np.array([face.chin, face.crown]))[:, 1]
    patch = tilted_to(setup, float(cut_at(setup) - STRIP.ideal_low * (chin - crown)), face.chin) if STRIP.ideal_low else None
    if patch:
        path, value = str(patch[0]["path"]), float(patch[0]["value"])
        step_deg = value - scene_of(setup).lens.tilt_deg
        way = "up" if step_deg > 0 else "down"
        title = f"Open the lid to {value:.0f}°" if path.endswith("hinge_deg") else f"Tilt the camera {degrees(abs(step_deg))} {way}"
        yield Move("backdrop.off_strip", title, patch)


def turned(setup: Setup, good: Callable[[Setup], bool] = lambda there: _enough(_left(there)), what: str = "") -> Iterator[Move]:
    """The desk, or the presenter at a desk that cannot be turned, turned by the least that takes what is unwanted out of the picture, or
    mends something else."""
    for turn_deg in TURNS_DEG:
        patch = turned_at_desk(setup, turn_deg) if setup.desk.fixed else desk_turned(setup, turn_deg)
        there = after(setup, patch) if patch else None
        if patch is None or there is None or not good(there):
            continue
        how = "round" if abs(turn_deg) > ROUND_DEG else f"{degrees(abs(turn_deg))} to your {'right' if turn_deg > 0 else 'left'}"
        if setup.desk.fixed:
            yield Move(
                f"backdrop.turn_self{what}",
                f"Turn yourself and what you look at {how}",
                patch,
                FREE,
                (cautions.CABLES,),
                detail=_then_behind(there),
            )
        else:
            yield Move(
                f"backdrop.turn_desk{what}",
                f"Turn the desk {how}",
                patch,
                FREE,
                (cautions.HEAVY_DESK, cautions.CABLES),
                detail=_then_behind(there),
            )
        return


def turned_from_head(setup: Setup) -> Iterator[Move]:
    """Turned by the least after which nothing grows from the head, and nothing more that is unwanted is seen."""
    left = _left(setup)
    yield from turned(setup, lambda there: GROWS.utility(behind_of(there).outline.grows) >= WANTING and _left(there) <= left, ".head")


def turned_from_line(setup: Setup) -> Iterator[Move]:
    """Turned by the least after which no line cuts the head, and nothing more that is unwanted is seen."""
    left = _left(setup)
    yield from turned(setup, lambda there: CUT_LINE.utility(behind_of(there).outline.line) >= WANTING and _left(there) <= left, ".line")


def _then_behind(there: Setup) -> str:
    """What is then behind: nobody turns a desk to find the next thing there."""
    behind = behind_of(there)
    seen = [
        *(thing for thing in there.backdrop if thing.id in behind.seen.parts),
        *(pane for pane in there.room.windows if pane.id in behind.seen.windows),
    ]
    names = [the(thing.name) for thing in seen][:3]
    return f"Behind you is then {', '.join(names)}." if names else "Behind you is then the bare wall."


def zoomed(setup: Setup) -> Iterator[Move]:
    """In by the least that leaves what is unwanted outside."""
    camera, parts = setup.main_camera, behind_of(setup).seen.parts
    places = [parts[thing.id].places for thing in setup.backdrop if not thing.wanted and thing.id in parts]
    aside = np.abs(np.concatenate([*places, np.zeros((0, 2))]) - 0.5).max(axis=1)
    for step in range(1, round((MOST_ZOOM - 1) / ZOOM_STEP) + 1):
        larger = 1 + step * ZOOM_STEP
        # The middle of the picture is what is left of it: where half of what then fills it is too much yet, it need not be looked at.
        if not _enough(float((aside < 0.5 / larger).sum()) * larger**2 / math.prod(FINE_GRID) / 2):
            continue
        zoom = round(camera.zoom * larger, 3)
        patch = (replace(f"/cameras/{camera.id}/zoom", zoom),)
        there = after(setup, patch)
        if there is not None and _enough(_left(there)):
            yield Move("backdrop.zoom", f"Zoom in to {zoom:g} times", patch, FREE)
            return


def come_away(setup: Setup) -> Iterator[Move]:
    """The desk and all on it away from the wall behind, as far as is wanted or the room allows."""
    needed_m = come_away_m(setup)
    if setup.desk.fixed or (setup.preferences.background == "blurred" and not needed_m):
        return
    wanted_m = float(np.clip(np.ceil(needed_m / AWAY_STEP_M) * AWAY_STEP_M, LEAST_AWAY_M, MOST_AWAY_M))
    ahead = direction(setup.presenter.facing_yaw_deg)[:2]
    seat = np.array([setup.presenter.x_m, setup.presenter.y_m])
    for number in range(round(wanted_m / AWAY_STEP_M), 0, -1):
        way_m = number * AWAY_STEP_M
        patch = desk_turned(setup, 0.0, seat + way_m * ahead)
        there = after(setup, patch)
        if there is None or not _keeps_to_room(there):
            continue
        title = f"Move the desk {length(way_m, setup.preferences.units)} forward, away from the wall behind you"
        yield Move("backdrop.come_away", title, patch, FREE, (cautions.HEAVY_DESK, cautions.CABLES))
        return


def _keeps_to_room(there: Setup) -> bool:
    outline = desk_outline(there.desk)
    return bool((outline >= 0).all() and (outline <= room_size(there.room)[:2]).all())


def shut_door(setup: Setup) -> Iterator[Move]:
    """Each door behind through which somebody may come."""
    for thing in setup.backdrop:
        if thing.kind == "door" and thing.in_use and thing.id in behind_of(setup).seen.parts:
            title = f"Shut {the(thing.name)}, lock it or put a note on it"
            yield Move(f"backdrop.shut.{thing.id}", title, (replace(f"/backdrop/{thing.id}/in_use", False),))


def close_door(setup: Setup) -> Iterator[Move]:
    """Each door of the room that stands open in view, shut."""
    for door in open_in_view(setup):
        yield Move(f"backdrop.close.{door.id}", f"Shut {the(door.name)}", (replace(f"/room/doors/{door.id}/stands_open", False),))


def shifted(setup: Setup) -> Iterator[Move]:
    """Each wanted thing of the right size, along its wall to the nearer third."""
    behind, chosen = behind_of(setup), points(setup, behind_of(setup))
    for thing, (_, pane) in zip(setup.backdrop, backdrop_panes(setup), strict=True):
        part = behind.seen.parts.get(thing.id)
        if (
            part is None
            or not thing.wanted
            or thing.kind not in CARRIED
            or thing.id in chosen
            or not POINT_SHARE[0] <= part.share <= POINT_SHARE[1]
        ):
            continue
        for third in sorted(THIRDS, key=lambda third: abs(third - part.across)):
            move = _to_third(setup, thing, pane.right, third) if abs(third - behind.seen.face_across) > BESIDE_FACE else None
            if move is not None:
                yield move
                break


def _to_third(setup: Setup, thing: BackdropThing, along: Vector, third: float) -> Move | None:
    """A thing shifted along its wall until its middle is a third of the way across."""
    pinhole, place = scene_of(setup).pinhole, vector(thing.position)
    spots = pinhole.project(np.array([place - 0.1 * along, place + 0.1 * along]))[:, 0]
    if np.isnan(spots).any() or abs(spots[1] - spots[0]) < 1e-6:
        return None
    way_m = 0.2 * (third - float(spots.mean())) / float(spots[1] - spots[0])
    there = inside(setup, place + way_m * along)
    if abs(way_m) < LEAST_AWAY_M or np.linalg.norm(there - place - way_m * along) > LEAST_AWAY_M:
        return None
    patch = tuple(replace(f"/backdrop/{thing.id}/position/{axis}_m", round(float(there[index]), 3)) for index, axis in enumerate("xy"))
    side = "left" if third < float(spots.mean()) else "right"
    title = f"Move {the(thing.name)} {length(abs(way_m), setup.preferences.units)} along the wall, to the {side} in the picture"
    return Move(f"backdrop.shift.{thing.id}", title, patch, cautions=tools(thing))


def something_put(setup: Setup) -> Iterator[Move]:
    """A picture on the wall behind, a third of the way across where the face is not, as large as draws an eye."""
    behind, pinhole = behind_of(setup), scene_of(setup).pinhole
    spot = pinhole.project(scene_of(setup).face.eyes[None])[0]
    for third in sorted(THIRDS, key=lambda third: -abs(third - behind.seen.face_across)):
        if abs(third - behind.seen.face_across) <= BESIDE_FACE or np.isnan(spot).any():
            continue
        ray = pinhole.ray(np.array([third]), np.array([float(np.clip(spot[1] - OVER_EYES, 0.15, 0.6))]))
        view = view_of(setup, pinhole, ray)
        if view.things[view.what[0]].kind != "surface" or abs(float(view.normal[0][2])) > 0.5:
            continue
        across_m = 2 * pinhole.field.half_width * float(pinhole.depth(view.place)[0])
        wide_m = float(np.clip(across_m * math.sqrt(PICTURE_SHARE / setup.call.output_aspect / PICTURE_HIGH), *PICTURE_M))
        place = inside(setup, view.place[0] + OFF_WALL_M * view.normal[0])
        picture = typical.backdrop(
            "picture", free_id(setup, "picture"), {f"{axis}_m": round(float(value), 3) for axis, value in zip("xyz", place, strict=True)},
            name=free_name(setup, "Picture"), width_m=round(wide_m, 2), height_m=round(wide_m * PICTURE_HIGH, 2), held="hangs",
        )  # fmt: skip
        size = f"{length(wide_m, setup.preferences.units)} wide"
        detail = f"About {size}; or a plant on a stool, or a lamp. It goes up without a hole: lean it, or hang it by a strip that comes off again."
        yield Move(
            "backdrop.put_picture", "Put up a picture a third of the way across", (add("/backdrop/-", picture),), FREE, detail=detail
        )
        return


def fewer(setup: Setup) -> Iterator[Move]:
    """The smallest of too many things to look at, away."""
    behind = behind_of(setup)
    for name in sorted(points(setup, behind), key=lambda name: behind.seen.parts[name].share)[:1]:
        thing = next(thing for thing in setup.backdrop if thing.id == name)
        if thing.kind in CARRIED:
            yield taken(thing)


MAKERS: dict[str, tuple[Callable[[Setup], Iterator[Move]], ...]] = {
    "backdrop.door": (shut_door,),
    "backdrop.open_door": (close_door,),
    "backdrop.moving": (stilled,),
    "backdrop.unwanted": (taken_away, covered, turned, zoomed),
    "backdrop.private": (hidden,),
    "backdrop.mirror": (mirror_off,),
    "backdrop.dark_glasses": (clear_lenses,),
    "backdrop.readable": (not_read,),
    "backdrop.strip": (off_strip,),
    "backdrop.shimmer": (plain,),
    "backdrop.strong_colour": (calmer, red_off),
    "backdrop.grows": (shifted_clear, taken_from_head, turned_from_head),
    "backdrop.cut_line": (hung_higher, turned_from_line),
    "backdrop.near": (come_away,),
    "backdrop.soft": (come_away,),
    "backdrop.points": (shifted, something_put, fewer),
}
