"""The devices of a setup that have to be connected, by what the catalogue says of their kinds."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Camera, Microphone
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.wiring.limits import COMPRESSED_MBIT_S, uncompressed_mbit_s

MICROPHONE_ENTRIES = {
    "earbud_cord": "earbuds_cord", "headset": "wired_headset", "lapel": "lapel_microphone", "usb_desk": "usb_cardioid",
    "xlr_dynamic": "xlr_dynamic", "xlr_condenser": "xlr_condenser", "shotgun": "narrow_microphone", "phone": "old_phone",
}  # fmt: skip
SCREEN_ENTRY = "second_screen"
CAMERA_ENTRIES = {"webcam": "webcam_wide", "phone_front": "old_phone", "phone_rear": "old_phone", "capture": "camera_clean"}


@dataclass(frozen=True)
class Device:
    """Something to be connected: where it is in the document, its kind, the end it offers and the signal there.

    ``mbit_s`` the picture it sends, ``what`` in a word what it is for.
    """

    path: str
    name: str
    what: str
    kind: Kind
    end: str
    signal: str
    mbit_s: float = 0.0

    @property
    def ma(self) -> float:
        """Current it draws from a bus [mA]."""
        return self.kind.number("usb_ma")


def devices_of(setup: Setup) -> Iterator[Device]:
    """Camera, microphone, headphones, keyboard and screens in use that need a cable; what is built in needs none."""
    on_card = setup.call.use == "recorded" and setup.call.kept_on == "camera"  # its picture need not come to the computer
    for camera in setup.cameras:
        if on_card and camera.use == "main":
            continue
        if camera.use != "spare" and camera.kind != "built_in" and not _is_host(setup, camera):
            yield from _made(
                f"/cameras/{camera.id}", camera.name, "picture", camera.entry or CAMERA_ENTRIES.get(camera.kind, ""), _rate(camera)
            )
    microphone = setup.microphone_in_use
    if microphone is not None and microphone.kind not in ("built_in", "webcam") and not _in_host(setup, microphone):
        path = f"/microphones/{microphone.id}"
        yield from _made(path, microphone.name, "voice", microphone.entry or MICROPHONE_ENTRIES.get(microphone.kind, ""))
    worn = microphone is not None and microphone.kind in ("earbud_cord", "headset")
    if setup.computer.listening == "headphones" and not worn:
        yield from _made("/computer/listening", "Headphones", "hearing", "headphones")
    for screen in setup.screens:
        if screen.on and screen.kind in ("monitor", "projection"):
            yield from _made(f"/screens/{screen.id}", screen.name, "screen", SCREEN_ENTRY)
    if setup.computer.separate_keyboard:
        yield from _made("/computer/separate_keyboard", "Keyboard", "keys", "keyboard")


def _made(path: str, name: str, what: str, entry: str, rate: float = 0.0) -> Iterator[Device]:
    kind = catalogue().kind(entry)
    end = next((port for port in kind.ports if ">" not in port and not port.startswith("mains")), None) if kind else None
    if kind is None or end is None:
        return
    signal = kind.attributes.get("signal", {"keys": "usb_keys", "screen": "display"}.get(what, "usb_audio"))
    if what == "voice" and signal == "phone_video":
        signal = "usb_audio"
    compressed = kind.attributes.get("rate", "compressed") == "compressed"
    yield Device(path, name, what, kind, end, signal, min(rate, COMPRESSED_MBIT_S) if compressed else rate)


def _rate(camera: Camera) -> float:
    return uncompressed_mbit_s(camera.output_width_px, camera.output_height_px, camera.fps)


def _is_host(setup: Setup, camera: Camera) -> bool:
    """Whether a phone films and runs the call itself."""
    return camera.kind in ("phone_front", "phone_rear") and setup.computer.kind in ("phone", "tablet")


def _in_host(setup: Setup, microphone: Microphone) -> bool:
    return microphone.kind == "phone" and setup.computer.kind in ("phone", "tablet")
