"""The fields of what is heard: microphones and noises."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from uphill_lamp.core.document.devices import BY_XLR, Input, Microphone
from uphill_lamp.core.document.patch import Patch, add, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Noise
from uphill_lamp.core.scene.handling import moved, root_of
from uphill_lamp.core.scene.placing import microphone_place
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.tape.field import Choices, Measured, Value, choice_field, value_field

PATTERNS: Choices = (
    ("omni", "all round"), ("subcardioid", "wide in front"), ("cardioid", "front"), ("supercardioid", "narrow in front"),
    ("figure_eight", "front and back"),
)  # fmt: skip
STANDS: Choices = (
    ("body", "on me"), ("desk_stand", "a desk stand"), ("boom_arm", "an arm on the desk"), ("floor_stand", "a floor stand"), ("device", "its device"),
)  # fmt: skip


def of_microphone(setup: Setup, microphone: Microphone) -> tuple[Measured, ...]:
    """A microphone."""
    root, thing = f"/microphones/{microphone.id}", root_of(setup, f"microphones/{microphone.id}")

    def mine(s: Setup) -> Microphone:
        return next(other for other in s.microphones if other.id == microphone.id)

    def away(s: Setup) -> Vector:
        return microphone_place(s, mine(s)) - scene_of(s).face.lips

    def put(s: Setup, value: Value) -> Patch:
        beyond = away(s)
        now = float(np.linalg.norm(beyond))
        along = beyond / now if now > 1e-6 else scene_of(s).face.forward
        return moved(s, thing, (float(value) - now) * along)

    def put_use(s: Setup, value: Value) -> Patch:
        others = tuple(replace(f"/microphones/{other.id}/in_use", False) for other in s.microphones if other.in_use and value)
        return (*others, replace(f"{root}/in_use", bool(value)))

    where = f"/{thing}/position/y_m" if microphone.at != "body" else f"{root}/from_mouth/forward_m"
    aim = (
        value_field("aim", "Turned to", "angle", f"{root}/aim_yaw_deg", lambda s: mine(s).aim_yaw_deg, -360, 360,
                    about="Seen from above: 0 up the drawing, more turns clockwise."),
        value_field("tilt", "Aimed upwards by", "angle", f"{root}/aim_tilt_deg", lambda s: mine(s).aim_tilt_deg, -90, 90),
    ) if microphone.at == "room" else ()  # fmt: skip
    return (
        Measured("distance", "Distance from my mouth", "length", lambda s: float(np.linalg.norm(away(s))), put, 0.01, 8, (where,)),
        choice_field("pattern", "Pick-up pattern", f"{root}/pattern", lambda s: mine(s).pattern, PATTERNS),
        Measured("in_use", "In use", "switch", lambda s: mine(s).in_use, put_use, paths=(f"{root}/in_use",)),
        *aim,
        choice_field("stand", "Stands on", f"{root}/stand", lambda s: mine(s).stand, STANDS),
        value_field("damped", "Something soft under it", "switch", f"{root}/damped", lambda s: mine(s).damped),
        value_field("pop_filter", "Pop filter", "switch", f"{root}/pop_filter", lambda s: mine(s).pop_filter),
        value_field(
            "self_noise", "Own noise", "number", f"{root}/self_noise_db_a", lambda s: mine(s).self_noise_db_a, 0, 60, plain_unit="dB(A)"
        ),
        *(_input(root, mine) if microphone.kind in BY_XLR else ()),
    )


def of_noise(setup: Setup, noise: Noise) -> tuple[Measured, ...]:
    """A noise."""
    root = f"/noises/{noise.id}"

    def mine(s: Setup) -> Noise:
        return next(other for other in s.noises if other.id == noise.id)

    return (
        value_field("level", "Level", "number", f"{root}/level_db_a", lambda s: mine(s).level_db_a, 0, 110, plain_unit="dB(A)"),
        value_field("stoppable", "Can be stopped", "switch", f"{root}/can_be_stopped", lambda s: mine(s).can_be_stopped),
        value_field("steady", "Steady", "switch", f"{root}/steady", lambda s: mine(s).steady),
    )


def _input(root: str, mine: Callable[[Setup], Microphone]) -> tuple[Measured, ...]:
    """What an XLR microphone is plugged into; a typical one is written down as soon as one of its values is told."""

    def into(s: Setup) -> Input:
        return mine(s).input or Input()

    def field(key: str, label: str, low: float, high: float, unit: str) -> Measured:
        def put(s: Setup, value: Value) -> Patch:
            changed = into(s).model_dump(mode="json") | {key: value}
            path = f"{root}/input"
            return (replace(path, changed) if mine(s).input is not None else add(path, changed),)

        quantity = "number" if unit else "switch"
        return Measured(key, label, quantity, lambda s: getattr(into(s), key), put, low, high, (f"{root}/input/{key}",), plain_unit=unit)  # type: ignore[arg-type]

    return (
        field("gain_max_db", "Input's gain", 0, 90, "dB"), field("ein_dbu", "Input's noise", -135, -60, "dBu"),
        field("booster_db", "Booster", 0, 40, "dB"), field("phantom_48v", "48 V", 0, 0, ""),
    )  # fmt: skip
