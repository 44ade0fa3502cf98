"""Sixteen made-up desks, from the quick start's answers and what a presenter would then tell: what advice is measured on."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any

from tests.setups import demo, put
from uphill_lamp.core.describing.asking import setup_asked
from uphill_lamp.core.describing.furnishing import furnished
from uphill_lamp.core.describing.putting import put as put_here
from uphill_lamp.core.document import Setup, applied, typical


def asked(name: str, **answers: Any) -> Setup:
    plain = {key: str(answers.pop(key)) for key in ("town", "date", "money") if key in answers}
    return setup_asked(answers, {"date": "2026-11-24T12:00"} | plain, name)


def having(setup: Setup, *kinds: str) -> Setup:
    for kind in kinds:
        setup = applied(setup, put_here(setup, kind).patch)
    return setup


def _dorm() -> Setup:
    """A coffee table before a sofa, a bed in view, evening, one ceiling lamp."""
    setup = asked("Dorm", camera="laptop", height="far_below", window="none", lamps=["ceiling"], behind="bed", talk="device_loud",
        room="small_furnished", drawer=["books"], date="2026-11-24T20:00")  # fmt: skip
    setup = applied(setup, furnished(setup, "sofa", more=True).patch)
    laptop, top_m = setup.screens[0].position, setup.desk.height_m
    lower = {f"screens__{setup.screens[0].id}__position__z_m": laptop.z_m - (top_m - 0.42)}
    return put(setup, desk__height_m=0.42, presenter__eye_height_m=1.05, **lower)


def _kitchen() -> Setup:
    """A fixed counter on tiles, a stool, a fridge, clutter and a door behind, a window at the side."""
    setup = asked("Kitchen", camera="laptop", height="far_below", window=["left"], lamps=["ceiling"], behind="wall", talk="device_loud",
        room="small_bare", date="2026-11-24T11:00")  # fmt: skip
    setup = having(setup, "noises.fridge", "backdrop.clutter", "backdrop.door")
    return put(
        setup,
        desk__fixed=True,
        room__surfaces__floor="tiles",
        room__surfaces__wall_y0="tiles",
        room__surfaces__wall_x1="tiles",
        presenter__eye_height_m=1.3,
    )


def _office() -> Setup:
    return asked("Bright office", camera="laptop", height="below", window=["behind"], lamps=["ceiling"], behind="room", talk="device_phones",
        room="large_bare", drawer=["white_sheet"], date="2026-05-12T11:00")  # fmt: skip


def _two_monitors() -> Setup:
    """The call on the monitor ahead, the webcam on the one at the side."""
    setup = asked("Two monitors", camera="webcam", height="level", window=["right"], lamps=["ceiling"], behind="shelf", talk="device_loud",
        room="large_furnished")  # fmt: skip
    setup = having(setup, "screens.monitor")
    first, second = setup.screens
    aside = {"x_m": setup.presenter.x_m + 0.55, "y_m": setup.presenter.y_m + 0.53, "z_m": first.position.z_m}
    shown = [first.windows[0].model_dump(mode="json")]
    return put(setup, **{
        f"screens__{first.id}__windows": [], f"screens__{second.id.replace('-', '_h_')}__windows": shown,
        f"screens__{second.id.replace('-', '_h_')}__position": first.position.model_dump(), f"screens__{first.id}__position": aside,
        f"screens__{first.id}__yaw_deg": -134.0, "cameras__camera__yaw_deg": -134.0,
    })  # fmt: skip


def _teacher() -> Setup:
    setup = asked("Teacher", camera="webcam", height="above", window=["none"], lamps=["nothing"], behind="wall", talk="headset", glasses="plain",
        date="2026-11-24T18:00")  # fmt: skip
    return having(setup, "lights.ring")


def _attic() -> Setup:
    setup = asked("Attic", camera="laptop", height="below", window=["none"], lamps=["nothing"], behind="wall", talk="device_loud",
        room="small_furnished", date="2026-11-24T21:00")  # fmt: skip
    setup = having(setup, "lights.ceiling_lamp")
    bulb = setup.lights[-1].id.replace("-", "_h_")
    wall = {f"lights__{bulb}__position": {"x_m": 0.1, "y_m": setup.presenter.y_m + 0.5, "z_m": 1.5}, f"lights__{bulb}__name": "Wall bulb"}
    return put(setup, **wall, **{f"lights__{bulb}__flux_lm": 470.0})


def _phone() -> Setup:
    setup = asked(
        "Phone", camera="phone", height="below", window=["right"], lamps=["ceiling"], behind="room", talk="device_loud", drawer=["books"]
    )
    return put(setup, cameras__camera__orientation="portrait", call__destination="vertical_clip")


def _standing() -> Setup:
    setup = asked("Standing", camera="laptop", height="below", window=["left"], lamps=["ceiling"], behind="shelf", talk="device_phones")
    up_m = 1.10 - setup.desk.height_m
    laptop = setup.screens[0]
    return put(setup, desk__height_m=1.10, presenter__posture="standing", presenter__eye_height_m=1.62,
        **{f"screens__{laptop.id}__position__z_m": laptop.position.z_m + up_m})  # fmt: skip


def _large_sensor() -> Setup:
    """A large sensor with 50 mm in a room of 2.4 by 2.3 m."""
    setup = asked(
        "Large sensor",
        camera="webcam",
        height="level",
        window=["none"],
        lamps=["desk_left", "desk_right"],
        behind="wall",
        talk="desk_phones",
    )
    place = {"x_m": setup.presenter.x_m, "y_m": setup.presenter.y_m + 1.1, "z_m": setup.presenter.eye_height_m}
    camera = typical.camera("capture", "tripod", position=place, yaw_deg=180.0, tilt_deg=0.0)
    camera["lens"] = camera["lens"] | {"focal_length_m": 0.05, "f_number": 1.8}
    return put(setup, cameras=[camera], room__width_m=2.4, room__depth_m=max(2.3, setup.desk.y_m + 0.5))


def _dynamic() -> Setup:
    """A dynamic microphone far away on an input of 40 dB."""
    setup = asked("Dynamic", camera="webcam", height="level", window=["none"], lamps=["desk_left"], behind="shelf", talk="desk_phones")
    setup = having(setup, "microphones.xlr_dynamic")
    mine = {f"microphones__{item.id.replace('-', '_h_')}__in_use": item.kind == "xlr_dynamic" for item in setup.microphones}
    setup = put(setup, **dict(sorted(mine.items(), key=lambda pair: pair[1])))
    dynamic = setup.microphone_in_use
    assert dynamic is not None
    return put(setup, **{f"microphones__{dynamic.id.replace('-', '_h_')}__input__gain_db": 40.0}) if dynamic.input else setup


def _street() -> Setup:
    setup = asked("Street", camera="laptop", height="level", window=["left"], lamps=["ceiling"], behind="room", talk="desk_phones")
    setup = having(setup, "noises.street")
    return put(setup, **{f"noises__{setup.noises[-1].id.replace('-', '_h_')}__level_db_a": 48.0,
        f"noises__{setup.noises[-1].id.replace('-', '_h_')}__can_be_stopped": True})  # fmt: skip


def _mixed_lamps() -> Setup:
    setup = asked("Five lamps", camera="webcam", height="level", window=["none"], lamps=["ceiling", "desk_left"], behind="shelf", talk="earbuds",
        date="2026-11-24T19:00")  # fmt: skip
    return having(setup, "lights.daylight_desk_lamp", "lights.floor_lamp", "lights.strip")


DESKS: dict[str, Callable[[], Setup]] = {
    "01 dorm": _dorm, "02 kitchen": _kitchen, "03 office": _office, "04 two monitors": _two_monitors, "05 teacher": _teacher, "06 attic": _attic,
    "07 phone": _phone, "08 standing": _standing, "09 large sensor": _large_sensor, "10 dynamic": _dynamic, "11 street": _street, "12 lamps": _mixed_lamps,
    "13 room that works": lambda: demo("room-that-works"), "14 default": lambda: asked("Default"),
    "15 default, window behind": lambda: asked("Behind", window=["behind"]),
    "16 desk lamp": lambda: asked("Desk lamp", window=["none"], lamps=["desk_left"], date="2026-11-24T19:00"),
}  # fmt: skip


# For each desk: what must be among the first three entries of the bench at 60 pounds (ids of moves, or how they begin), what must never be
# offered, and between what the score lies as it is, on the free rung and on the best within 60 pounds.
Expected = tuple[tuple[str, ...], tuple[str, ...], tuple[float, float], tuple[float, float, float, float]]
EXPECTED: dict[str, Expected] = {
    "01 dorm": (("sound.any_earbuds", "frame."), ("light.overhead_off", "light.odd_off"), (40, 48), (86, 93, 90, 96)),
    "02 kitchen": (("light.turn_self", "sound."), ("light.turn_to_window", "eyes.sit_back"), (34, 42), (80, 90, 90, 98)),
    "03 office": (("light.turn_to_window", "sound.any_earbuds", "frame.raise_camera"), ("light.overhead_off",), (43, 51), (90, 95, 93, 97)),
    "04 two monitors": (("sound.any_earbuds", "eyes.camera_to_call_screen"), ("light.turn_self",), (45, 53), (88, 95, 91, 97)),
    "05 teacher": (("frame.raise_camera", "light.bounce.ring"), ("sound.buy", "light.buy_lamp.ring"), (63, 71), (88, 96, 91, 97)),
    "06 attic": (("sound.any_earbuds", "light.borrow_lamp", "frame.raise_camera"), ("light.overhead_off", "light.odd_off"), (42, 50), (78, 86, 82, 90)),
    "07 phone": (("sound.any_earbuds", "light.turn_to_window"), ("frame.catalogue", "eyes.move_call_window", "frame.buy"), (46, 54), (83, 91, 86, 93)),
    "08 standing": (("sound.any_earbuds", "light.turn_to_window"), ("frame.move_chair",), (53, 61), (78, 88, 91, 97)),
    "09 large sensor": (("sound.bring_nearer", "eyes.move_call_window"), ("eyes.sit_back",), (62, 70), (79, 88, 87, 94)),
    "10 dynamic": (("sound.bring_nearer", "frame.retilt"), ("sound.buy_earbuds", "sound.any_earbuds"), (48, 56), (86, 94, 88, 96)),
    "11 street": (("light.turn_to_window", "frame.back_into_focus"), ("light.borrow_lamp.overhead_off",), (52, 60), (89, 96, 93, 98)),
    "12 lamps": (("frame.retilt", "eyes.move_call_window"), ("light.borrow_lamp",), (69, 77), (87, 94, 91, 98)),
    "13 room that works": (("eyes.move_call_window", "sound.bring_nearer"), ("frame.", "light."), (83, 91), (92, 97, 92, 97)),
    "14 default": (("sound.any_earbuds", "light.turn_to_window", "frame.raise_camera"), ("light.turn_self",), (47, 55), (88, 95, 92, 97)),
    "15 default, window behind": (("light.turn_to_window", "sound.any_earbuds", "frame.raise_camera"), ("light.turn_self",), (38, 46), (89, 95, 93, 98)),
    "16 desk lamp": (("sound.any_earbuds", "light.move_lamp", "frame.raise_camera"), ("light.overhead_off", "light.borrow_lamp"), (42, 50), (84, 93, 88, 96)),
}  # fmt: skip


@cache
def desk(name: str) -> Setup:
    """A desk by its name."""
    return DESKS[name]()
