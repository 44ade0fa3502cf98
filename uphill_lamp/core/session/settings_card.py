"""The settings card: what each device is set to for this setup, and why (docs/method/go.md, "Settings")."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.readiness.budgets import BANDS, budgets, is_grainy, records
from uphill_lamp.core.scene.wording import kelvin

TWICE_STOPS = 1.0  # twice the light that is needed


@dataclass(frozen=True)
class Setting:
    """One setting of a device, and its reason."""

    device: str
    what: str
    value: str
    why: str


def rate_for(setup: Setup) -> tuple[int, int]:
    """Pictures a second that go with the mains here: the usual ones and twice as many [1/s]."""
    return (25, 50) if setup.place.mains_hz == 50 else (30, 60)


def settings(appraisal: Appraisal) -> tuple[Setting, ...]:
    """All settings of camera, call and microphone."""
    setup = appraisal.setup
    return (*_camera(appraisal), *_call(setup), *_microphone(setup))


def _camera(appraisal: Appraisal) -> Iterator[Setting]:
    setup, camera = appraisal.setup, appraisal.setup.main_camera
    if not setup.call.picture:
        return
    yield Setting(
        camera.name,
        "Size",
        f"{camera.output_width_px} × {camera.output_height_px}",
        "What the plan counts with; more is thrown away by the call." if not records(setup) else "What the plan counts with.",
    )
    yield _rate(appraisal, camera)
    exposure = "locked, on your face" if camera.metering == "locked" else "on your face, then locked"
    yield Setting(camera.name, "Exposure", exposure, "Else the picture breathes when you lean or a window clouds.")
    yield _focus(camera)
    white = f"locked at {kelvin(camera.white_balance.cct_k)}" if camera.white_balance.cct_k else "on white paper in your light, then locked"
    yield Setting(camera.name, "White", white, "Else a coloured page on the screen turns you.")
    phone = camera.kind in ("phone_front", "phone_rear")
    if phone:
        yield Setting(
            camera.name,
            "Which lens",
            "the one on the back, the plain one" if camera.kind == "phone_rear" else "the one in front",
            "The plan's angle is that lens's.",
        )
        yield Setting(camera.name, "High dynamic range", "off", "It changes brightness by itself.")
        yield Setting(
            camera.name,
            "Stabiliser",
            "off" if camera.mount in ("tripod", "arm", "holder", "wall", "ceiling") else "on",
            "On a stand it swims; in the hand it steadies.",
        )
    yield Setting(camera.name, "Grid", "on", "Eyes on its upper line, doors along its upright ones.")
    yield Setting(
        "Call",
        "Own picture",
        "not mirrored where you hold up writing"
        if setup.call.destination in ("recorded_lesson", "hands_on")
        else "as you like it: others never see it mirrored",
        "Letters are read by others as they are.",
    )


def _rate(appraisal: Appraisal, camera: Camera) -> Setting:
    setup = appraisal.setup
    usual, twice = rate_for(setup)
    reason = f"The mains have {setup.place.mains_hz} Hz here: another rate draws bands from lamps."
    storage = next((budget for budget in budgets(setup, is_grainy(appraisal.measures), 0.0) if budget.id == "go.storage"), None)
    bright = appraisal.metered.error_stops >= TWICE_STOPS
    room = storage is None or storage.value is None or storage.value >= (BANDS["go.storage"].ideal_low or 0)
    if camera.fps > 1.5 * usual and bright and room:
        return Setting(camera.name, "Pictures", f"{twice} a second", f"{reason} There is light and space for twice as many.")
    short = (
        ""
        if camera.fps <= 1.5 * usual
        else " For twice as many there is too little light."
        if not bright
        else " For twice as many there is too little space."
    )
    return Setting(camera.name, "Pictures", f"{usual} a second", reason + short)


def _focus(camera: Camera) -> Setting:
    if camera.focus.kind == "fixed":
        return Setting(camera.name, "Focus", "fixed: stay further than it can see near", "It cannot be set.")
    if camera.focus.kind == "manual":
        return Setting(camera.name, "Focus", "by hand, on your eyes", "Then it never hunts.")
    return Setting(camera.name, "Focus", "on your eyes, then locked", "Else it hunts when a hand comes near.")


def _call(setup: Setup) -> Iterator[Setting]:
    microphone = setup.microphone_in_use
    if microphone is not None:
        yield Setting("Call", "Microphone", microphone.name, "By its name: the machine's own is the one most often taken by mistake.")
    if setup.call.use == "recorded":
        return
    yield Setting(
        "Call",
        "Loudspeaker",
        "the headphones" if setup.computer.listening == "headphones" else "the machine's own",
        "Else others hear themselves.",
    )
    removal = "on" if setup.computer.noise_removal else "off, or low"
    yield Setting("Call", "Noise removal", removal, "The plan has it so; it eats the ends of words where the room is quiet already.")


def _microphone(setup: Setup) -> Iterator[Setting]:
    microphone = setup.microphone_in_use
    if microphone is not None:
        yield Setting(
            microphone.name,
            "Volume",
            "your loudest word a quarter below the top of the bar",
            "What is cut off at the top cannot be mended.",
        )
