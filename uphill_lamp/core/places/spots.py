"""Another spot in the home: the same gear and person elsewhere, or standing instead of sitting."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.patch import Operation, Patch, add, applied, remove, replace
from uphill_lamp.core.document.quickstart import Answer, Question, backdrop_of, windows_of
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.handling import desk_turned, moved
from uphill_lamp.core.scene.vectors import rotated, vector, wrapped_deg

STANDS_HIGHER_M = 0.40  # eyes of a standing adult above their own seated height
STANDING_DESK_M = 1.06
LEAST_OFF_WALL_M = 0.05
BEHIND_M = {"close": 0.6, "some": 1.3, "much": 2.6}
QUIET_DB_A = {"quiet": 28.0, "usual": 35.0, "street": 44.0}
_SEAT_X_M = 1.6


def _question(key: str, asks: str, first: str, **answers: str) -> Question:
    return Question(key, asks, tuple(Answer(*pair) for pair in answers.items()), first)


QUESTIONS: tuple[Question, ...] = (
    _question("window", "Where is the window as you sit there?", "front", front="In front of me", left="To my left", right="To my right",
              behind="Behind me", none="There is none"),
    _question("depth", "How much room is behind you?", "some", close="Half a metre", some="A metre or so", much="Two metres and more"),
    _question("behind", "What is behind you?", "wall", wall="A wall", shelf="A shelf", bed="A bed"),
    _question("quiet", "How quiet is it there?", "usual", quiet="Very quiet", usual="As homes are", street="The street or a fridge is heard"),
)  # fmt: skip


def elsewhere(setup: Setup, answers: Mapping[str, Any], name: str) -> Setup:
    """The same gear and person at another spot, whose room is filled from typical values; all that is new is assumed.

    Args:
        answers: question key to answer key; missing means the first drawn.
        name: what the spot is called.

    Raises:
        Refused: for an answer that is none of those drawn, or a name that cannot be one.
    """
    chosen = {}
    for question in QUESTIONS:
        answer = answers.get(question.key) or question.first
        if answer not in question.keys:
            raise Refused([Fault(f"/{question.key}", shown(answer), "one of " + ", ".join(sorted(question.keys)))])
        chosen[question.key] = answer
    seat_y_m = BEHIND_M[chosen["depth"]] + 0.12
    desk_m = float(np.linalg.norm([setup.desk.x_m - setup.presenter.x_m, setup.desk.y_m - setup.presenter.y_m])) + setup.desk.depth_m
    room = typical.room(depth_m=round(max(3.6, seat_y_m + desk_m + 0.8), 2))
    room["height_m"] = max(room["height_m"], setup.room.height_m)
    room["windows"] = windows_of(chosen["window"], seat_y_m, room["depth_m"])
    patch: tuple[Operation, ...] = (
        replace("/name", name),
        *desk_turned(setup, wrapped_deg(-setup.presenter.facing_yaw_deg), np.array([_SEAT_X_M, seat_y_m])),
        replace("/room", room),
        replace("/backdrop", backdrop_of(chosen["behind"])),
        replace("/noises", [typical.noise("room", level_db_a=QUIET_DB_A[chosen["quiet"]])]),
        *_lights(setup, seat_y_m),
        *_left_behind(setup, seat_y_m, room),
    )
    return applied(setup, patch, origin="assumed")


def _lights(setup: Setup, seat_y_m: float) -> Patch:
    """Ceiling and wall lamps stay behind, the new room has one of its own; floor lamps come along."""
    fixed = [light for light in setup.lights if light.stands in ("ceiling", "wall")]
    floor = [light for light in setup.lights if light.stands == "floor"]
    lamp_id = next(f"ceiling-{number}" for number in range(1, 40) if all(light.id != f"ceiling-{number}" for light in setup.lights))
    names = {light.name for light in setup.lights if light not in fixed}
    lamp_name = next(text for text in ("Ceiling lamp", "Ceiling lamp there", "Ceiling lamp of that room") if text not in names)
    lamp = typical.light(
        "ceiling_lamp", lamp_id, lamp_name, typical.point(_SEAT_X_M, max(seat_y_m - 0.2, 0.2), 2.2), on=any(light.on for light in fixed)
    )
    return (
        *(remove(f"/lights/{light.id}") for light in fixed),
        add("/lights/-", lamp),
        *(replace(f"/lights/{light.id}/position", typical.point(_SEAT_X_M + 0.9, seat_y_m + 0.5, light.position.z_m)) for light in floor),
    )


def _left_behind(setup: Setup, seat_y_m: float, room: typical.Json) -> Patch:
    """Cameras on walls and screens that project are set up alike in the new room, as far as it reaches."""
    pivot = np.array([setup.presenter.x_m, setup.presenter.y_m, 0.0])
    shift = np.array([_SEAT_X_M, seat_y_m, 0.0]) - pivot
    size = np.array([room["width_m"], room["depth_m"], room["height_m"]])
    listed = [("cameras", camera) for camera in setup.cameras if camera.mount in ("wall", "ceiling")]
    listed += [("screens", screen) for screen in setup.screens if screen.kind == "projection"]  # type: ignore[misc]
    operations = []
    for part, item in listed:
        place = rotated(vector(item.position), pivot, -setup.presenter.facing_yaw_deg) + shift  # type: ignore[arg-type]
        place = np.clip(place, LEAST_OFF_WALL_M, size - LEAST_OFF_WALL_M)
        operations += [
            replace(f"/{part}/{item.id}/position", typical.point(*(float(value) for value in place))),
            replace(f"/{part}/{item.id}/yaw_deg", round(wrapped_deg((item.yaw_deg or 0.0) - setup.presenter.facing_yaw_deg), 2)),
        ]
    paper = setup.presenter.paper_notes
    if paper is not None:
        place = np.clip(rotated(vector(paper), pivot, -setup.presenter.facing_yaw_deg) + shift, LEAST_OFF_WALL_M, size - LEAST_OFF_WALL_M)
        operations.append(replace("/presenter/paper_notes", typical.point(*(float(value) for value in place))))
    return tuple(operations)


def other_posture(setup: Setup, name: str) -> Setup:
    """The same spot standing instead of sitting, or sitting instead of standing; an adjustable desk goes along.

    Raises:
        Refused: if the room is too low to stand in.
    """
    standing = setup.presenter.posture == "sitting"
    rise_m = STANDS_HIGHER_M if standing else -STANDS_HIGHER_M
    patch: tuple[Operation, ...] = (
        replace("/name", name),
        replace("/presenter/posture", "standing" if standing else "sitting"),
        replace("/presenter/eye_height_m", round(setup.presenter.eye_height_m + rise_m, 3)),
    )
    span = setup.desk.height_range
    if span is not None:
        wanted = min(max(STANDING_DESK_M if standing else setup.desk.height_m + rise_m, span.low_m), span.high_m)
        patch = (*patch, *moved(setup, "desk", np.array([0.0, 0.0, wanted - setup.desk.height_m])))
    return applied(setup, patch, origin="assumed")
