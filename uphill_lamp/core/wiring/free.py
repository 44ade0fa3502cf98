"""Ways in that cost nothing: a phone's or camera's own webcam mode over its cable, the network, a feature of the system."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.wiring.devices import Device

LEAST_MBIT_S = 6.0  # a network route wants so much between phone and computer


@dataclass(frozen=True)
class FreeRoute:
    """A way in without a purchase: what it requires, how late [s] and how fine [rows of pixels] the picture comes, what it costs otherwise."""

    id: str
    name: str
    requires: str
    latency_s: float
    rows_px: int
    minds: str
    sure: bool


def free_routes(device: Device, setup: Setup) -> Iterator[FreeRoute]:
    """The free routes of a device that sends a picture; the surest first. Figures are working values."""
    if device.what != "picture" or setup.computer.kind in ("phone", "tablet"):
        return
    phone = device.signal == "phone_video"
    if phone:
        yield FreeRoute("usb_mode", "Its own USB webcam mode, over its charging cable",
            "a phone whose system offers “webcam” when the cable is plugged in (most from 2023 on)",
                        0.08, 1080, "It charges meanwhile; keep it cool.", _new_enough(setup))  # fmt: skip
        yield FreeRoute("system", "The feature of the systems that share an account",
            "phone and computer of one family, both new enough, signed in to the same account",
                        0.1, 1080, "Hands the microphone over too, if you let it.", False)  # fmt: skip
        yield FreeRoute("network", "Over the home network, with a program on both", "both on the same network; the phone near the router or on 5 GHz", 0.2, 720,
                        f"Some {LEAST_MBIT_S:g} Mbit/s on the air all the time; picture late, so hold the sound back.", True)  # fmt: skip
    elif device.signal == "usb_video" and device.kind.role == "camera" and device.kind.attributes.get("kind") == "capture":
        yield FreeRoute(
            "usb_mode",
            "The camera's own USB webcam mode",
            "the mode chosen in its menu, and its USB cable",
            0.1,
            1080,
            "Needs no capture device.",
            True,
        )
    elif device.signal == "hdmi_video" and device.kind.attributes.get("clean_hdmi") == "no":
        yield FreeRoute(
            "usb_program",
            "Its maker's free program over USB",
            "a camera the program knows; often 1024 x 576 only",
            0.15,
            576,
            "No sound comes along.",
            False,
        )


def _new_enough(setup: Setup) -> bool:
    return setup.computer.age_years <= 8


@dataclass(frozen=True)
class SystemFeature:
    """Something the computer does by itself: what it helps, what it spoils, what it asks of the computer [% of it]."""

    id: str
    name: str
    helps: str
    spoils: str
    load: int


SYSTEM_FEATURES = (
    SystemFeature(
        "voice_isolation",
        "Voice isolation of the system",
        "fans, keys and other people",
        "music and clocks are lost too; far from the microphone the voice goes dull",
        6,
    ),
    SystemFeature(
        "noise_removal", "Noise removal of the call", "steady noise, by some 10 dB", "soft consonants; what you show by sound", 8
    ),
    SystemFeature("blur", "Blurred background", "clutter behind you", "edges of hair and hands; things held up to the camera vanish", 20),
    SystemFeature(
        "replaced", "Replaced background", "everything behind you", "halos round the head, unless it is evenly lit and plain", 25
    ),
)


def computer_load(setup: Setup, features: tuple[str, ...] = ()) -> int:
    """Rough share of the computer that the call takes with some features on [%]: picture, slides, recording and features."""
    load = 25 + (8 if setup.call.slides != "none" else 0) + (15 if setup.call.recording else 0)
    load += sum(feature.load for feature in SYSTEM_FEATURES if feature.id in features) + (8 if setup.computer.noise_removal else 0)
    slow = 1.0 + max(setup.computer.age_years - 3, 0.0) * 0.08 + (0.4 if setup.computer.strained else 0.0)
    return round(load * slow)
