"""Moves of where a microphone stands and how it is turned: on an arm outside the picture, out of the breath, its deaf side to a noise."""

from __future__ import annotations

from collections.abc import Iterator, Set

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.sound.measures import SNR, STI
from uphill_lamp.core.areas.sound.microphone_moves import put_at
from uphill_lamp.core.document.devices import Microphone
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import PATTERN_P, Heard, heard_by
from uphill_lamp.core.field.sound.touch import POP_NONE_DEG
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.masses import mass_kg
from uphill_lamp.core.offers import Offer, offered
from uphill_lamp.core.scene.placing import microphone_place, room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, angle_between_deg, direction, unit, yaw_tilt_deg
from uphill_lamp.core.scene.wording import length, the

BY_PLACE = {"sound.direct_to_reverberant", "sound.sti", "sound.snr", "sound.touch"}
CAN_STAND = ("usb_desk", "xlr_dynamic", "xlr_condenser", "shotgun")
DISTANCES_M = (0.15, 0.2, 0.25, 0.3)
ASIDE_DEG = (25.0, -25.0, 45.0, -45.0, 65.0, -65.0)
UP_DEG = (-35.0, -20.0, 30.0, -55.0, 50.0, 0.0)
ROUND_M = 0.035  # half the size of a microphone's body
NEARER_BY_M = 0.03
TURNS_DEG, TILTS_DEG = (-40.0, -20.0, 0.0, 20.0, 40.0), (-30.0, 0.0, 30.0)
MOST_OFF_AXIS_DEG, QUIETER_DB = 45.0, 1.0


def moves(setup: Setup, heard: Heard, wanting: Set[str]) -> Iterator[Move]:
    """Where else the microphone in use could stand, and which way it could look."""
    microphone = setup.microphone_in_use
    if microphone is None or microphone.at != "room":
        return
    if wanting & BY_PLACE and microphone.kind in CAN_STAND:
        yield from _on_an_arm(setup, microphone, heard)
    if "sound.pops" in wanting:
        yield from _out_of_breath(setup, microphone, heard)
    if wanting & {"sound.snr", "sound.sti"}:
        yield from _deaf_side(setup, microphone, heard)
    if wanting & (BY_PLACE | {"sound.echo"}):
        yield from _switched(setup, microphone)


def _on_an_arm(setup: Setup, microphone: Microphone, heard: Heard) -> Iterator[Move]:
    face, units = scene_of(setup).face, setup.preferences.units
    nearest = next(_places(setup), None)
    if nearest is None:
        return
    place, away_m, aside_deg = nearest
    if away_m > heard.path.distance_m - NEARER_BY_M:
        return
    root = f"/microphones/{microphone.id}"
    patch = put_at(microphone, place, face.lips)
    if microphone.stand != "boom_arm":
        patch = (*patch, replace(f"{root}/stand", "boom_arm"))
    arm = Offer(FREE, (), "") if microphone.stand == "boom_arm" else offered(setup, "boom_arm", "An arm", mass_kg(microphone))
    if arm is None:
        return
    cost, patch = arm.cost, (*patch, *arm.patch)
    side = "left" if aside_deg > 0 else "right"
    had = f" {arm.words}." if arm.words else ""
    detail = f"{abs(aside_deg):.0f}° to your {side} of your breath, aimed at your lips, outside the picture.{had}"
    yield Move("sound.on_an_arm", f"Hang the microphone on an arm, {length(away_m, units)} from your mouth", patch, cost,
               (cautions.CLAMP, cautions.CABLES), detail=detail)  # fmt: skip


def _places(setup: Setup) -> Iterator[tuple[Vector, float, float]]:
    """Places round the mouth out of the breath and out of the picture, nearest first: place [m], distance [m], angle aside [deg]."""
    face = scene_of(setup).face
    asked = [(away_m, up_deg, aside_deg) for away_m in DISTANCES_M for up_deg in UP_DEG for aside_deg in ASIDE_DEG]
    places = np.array(
        [face.lips + away_m * direction(face.presenter.facing_yaw_deg - aside_deg, up_deg) for away_m, up_deg, aside_deg in asked]
    )
    for which in np.flatnonzero(~seen_in_picture(setup, places)):
        if _fits(setup, places[which]):
            yield places[which], asked[which][0], asked[which][2]


def _fits(setup: Setup, place: Vector) -> bool:
    """Whether a place lies in the room, over the desk's top where it is over the desk."""
    inside = bool(((place > ROUND_M) & (place < room_size(setup.room) - ROUND_M)).all())
    return inside and place[2] > setup.desk.height_m + ROUND_M


def seen_in_picture(setup: Setup, places: Vector) -> NDArray[np.bool_]:
    """Whether a microphone at each of some places, shape (N, 3) [m], would show in what the main camera sends, shape (N,)."""
    pinhole = scene_of(setup).pinhole
    round_it = np.array([ROUND_M * step for step in (pinhole.right, -pinhole.right, UP, -UP)])
    spots = pinhole.project((places[:, None] + round_it).reshape(-1, 3)).reshape(-1, 4, 2)
    within = np.all((spots >= 0) & (spots <= 1), axis=2)  # behind the lens there is no spot, and none is within
    return np.asarray(np.any(within, axis=1))


def _out_of_breath(setup: Setup, microphone: Microphone, heard: Heard) -> Iterator[Move]:
    """To the side at the same distance, so that breath goes past."""
    face = scene_of(setup).face
    yaw_deg, tilt_deg = yaw_tilt_deg(microphone_place(setup, microphone) - face.lips)
    for aside_deg in (POP_NONE_DEG + 5, -POP_NONE_DEG - 5):
        place = face.lips + heard.path.distance_m * direction(yaw_deg - aside_deg, tilt_deg)
        if _fits(setup, place) and angle_between_deg(face.forward, place - face.lips) >= POP_NONE_DEG:
            yield Move("sound.out_of_breath", "Move the microphone aside, out of your breath", put_at(microphone, place, face.lips), FREE,
                       (cautions.CABLES,), detail="As far from your mouth as now, 25° aside, still aimed at your lips.")  # fmt: skip
            return


def _deaf_side(setup: Setup, microphone: Microphone, heard: Heard) -> Iterator[Move]:
    """Turned so that what it hears least points at the noise."""
    placed = [noise for noise in setup.noises if noise.steady and noise.position is not None]
    if PATTERN_P[microphone.pattern] == 1 or not placed:
        return
    towards = unit(scene_of(setup).face.lips - microphone_place(setup, microphone))
    yaw_deg, tilt_deg = yaw_tilt_deg(towards)
    best: tuple[float, float, float] | None = None
    for turn in TURNS_DEG:
        for lift in TILTS_DEG:
            yaw, tilt = round((yaw_deg + turn) % 360, 1), round(float(np.clip(tilt_deg + lift, -90, 90)), 1)
            if angle_between_deg(direction(yaw, tilt), towards) > MOST_OFF_AXIS_DEG:
                continue
            heard_so = heard_by(setup, microphone.model_copy(update={"aim_yaw_deg": yaw, "aim_tilt_deg": tilt}))
            worth = SNR.utility(heard_so.snr_db) + STI.utility(heard_so.sti)
            if best is None or worth > best[0]:
                best = worth, yaw, tilt
    assert best is not None  # straight at the lips is among them
    root = f"/microphones/{microphone.id}"
    _, yaw, tilt = best
    turned = heard_by(setup, microphone.model_copy(update={"aim_yaw_deg": yaw, "aim_tilt_deg": tilt}))
    if turned.snr_db < heard.snr_db + QUIETER_DB:
        return
    loudest = max(placed, key=lambda noise: noise.level_db_a)
    yield Move("sound.deaf_side", "Turn the microphone's deaf side to the noise", (replace(f"{root}/aim_yaw_deg", yaw), replace(f"{root}/aim_tilt_deg", tilt)),
               FREE, detail=f"It hears little from behind: point its back at {the(loudest.name)}.", promises=(("sound.snr", turned.snr_db),))  # fmt: skip


def _switched(setup: Setup, microphone: Microphone) -> Iterator[Move]:
    """A pattern switch left on all round, or on front and back, while one speaks."""
    if microphone.kind not in ("usb_desk", "xlr_condenser") or microphone.pattern not in ("omni", "figure_eight"):
        return
    patch = (replace(f"/microphones/{microphone.id}/pattern", "cardioid"),)
    yield Move("sound.pattern", "Set the microphone's switch to one side", patch, FREE,
               detail="If it has a switch: the heart-shaped sign hears you and little behind. All round is for a table of people.")  # fmt: skip
