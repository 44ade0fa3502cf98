"""What is wrong with a chain, each with its figures: told where it happens, with what mends it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.sound.gain_and_latency_moves import early_words
from uphill_lamp.core.areas.sound.measures import sound_early_s
from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import heard_by
from uphill_lamp.core.field.sound.gain import input_of, unpowered
from uphill_lamp.core.wiring.devices import Device
from uphill_lamp.core.wiring.graph import Part, Way
from uphill_lamp.core.wiring.limits import LONGEST_M, STRIP_W, STRIP_WAYS, usable_mbit_s


@dataclass(frozen=True)
class WiringFault:
    """What is wrong, why it matters, what mends it; ``id`` tells its kind, ``path`` the device it concerns."""

    id: str
    path: str
    title: str
    why: str
    mends: str
    caution: str = ""


def standard_of(part: Part) -> str:
    """What limits a part's length: usb2, usb3, hdmi, xlr, or nothing."""
    if part.signal.startswith("usb"):
        return part.kind.attributes.get("speed", "usb2")
    return {"hdmi_video": "hdmi", "xlr": "xlr", "xlr_48v": "xlr", "xlr_boosted": "xlr"}.get(part.signal, "")


def along(way: Way, lengths_m: Sequence[float], needed_db: float | None = None) -> Iterator[WiringFault]:
    """What is wrong along one chain.

    Args:
        lengths_m: of its parts, in order.
        needed_db: gain that the voice wants, for an XLR microphone.
    """
    device = way.device
    usable = usable_mbit_s(way.speed)
    if device.mbit_s > usable and way.port.startswith("usb"):
        yield WiringFault(
            "too_slow", device.path, f"{device.name}: {_bus(way.speed)} is too slow for its picture",
            f"Uncompressed it sends {device.mbit_s:.0f} Mbit/s; {_bus(way.speed)} carries some {usable:.0f} Mbit/s.",
            "Let it send compressed, a smaller picture or fewer a second, or use a USB 3 port and cable all the way.",
        )  # fmt: skip
    yield from too_long(device, way.parts, lengths_m)
    gives_db = sum(part.kind.number("gain_db") for part in way.parts)
    if needed_db is not None and gives_db + 0.5 < needed_db and device.signal.startswith("xlr"):
        yield gain_short(device.path, device.name, needed_db, gives_db)
    if device.kind.attributes.get("clean_hdmi") == "no" and any(part.signal == "hdmi_video" for part in way.parts):
        yield menus(device)


def menus(device: Device) -> WiringFault:
    """A camera whose output shows what its own screen shows."""
    why = "Its HDMI output carries the menus, frame and battery sign of its own screen: the far side sees them."
    return WiringFault(
        "menus", device.path, f"{device.name} shows its menus", why, "Use its USB webcam mode if it has one, or another camera."
    )


def too_long(device: Device, parts: Sequence[Part], lengths_m: Sequence[float]) -> Iterator[WiringFault]:
    """Passive cables of one kind joined end to end count together; a box between them begins anew."""
    run_m, before = 0.0, ""
    for part, length_m in zip(parts, lengths_m, strict=True):
        now = standard_of(part)
        run_m = run_m + length_m if now == before else length_m
        before = now if part.kind.role in ("cable", "adapter") else ""
        if (most := LONGEST_M.get(now)) is not None and run_m > most + 1e-9:
            yield WiringFault(
                "too_long", device.path, f"{device.name}: {run_m:g} m of cable are too long", f"{_bus(now)} works to {most:g} m with plain cables.",
                "Stand the computer nearer, or use a cable with an amplifier in it.",
            )  # fmt: skip


def _bus(standard: str) -> str:
    return {"usb2": "USB 2", "usb3": "USB 3", "hdmi": "HDMI", "xlr": "XLR"}.get(standard, standard)


def no_way(device: Device, computer_ports: Iterable[str]) -> WiringFault:
    """No chain of known parts joins a device to the computer."""
    have = ", ".join(sorted(set(computer_ports))).replace("_", " ").upper() or "no port"
    if device.signal == "headset_mic":
        return ring_order(device, "a plain microphone jack")
    return WiringFault("no_way", device.path, f"{device.name} cannot be connected",
        f"The computer has {have}, and no cable or adapter in the catalogue leads there.",
                       "Add the port the computer has, or another way in.")  # fmt: skip


def one_jack(device: Device, port: str) -> WiringFault:
    """A plug whose jack is taken already."""
    name = port.replace("_", " ").upper()
    return WiringFault("one_jack", device.path, f"{device.name}: the {name} jack is taken",
        "Two plugs want the same jack of the computer, and it has no other.",
                       "A USB sound adapter for one of them, or one headset for both.")  # fmt: skip


def ring_order(device: Device, jack: str) -> WiringFault:
    """A phone's plug has the microphone on its fourth ring; a plain jack looks for it on the tip."""
    return WiringFault(
        "ring_order", device.path, f"{device.name}: its plug does not fit {jack}",
        "A phone plug of three rings carries the microphone on its sleeve; a plain microphone jack reads the tip, and hears nothing or hum.",
        "A ring adapter from phone plug to microphone jack, or a USB sound adapter.",
    )  # fmt: skip


def of_voice(setup: Setup) -> Iterator[WiringFault]:
    """What is wrong between an XLR microphone and its input: no 48 V, too little gain."""
    microphone = setup.microphone_in_use
    if microphone is None:
        return
    path = f"/microphones/{microphone.id}"
    if unpowered(microphone):
        yield WiringFault("no_48v", path, f"{microphone.name} gets no 48 V", "A condenser without 48 V gives nothing at all.",
            "An input with 48 V, switched on.",
                          cautions.PHANTOM)  # fmt: skip
        return
    if input_of(microphone) is None:
        return
    gain = heard_by(setup, microphone).gain
    if gain is not None and gain.short_db > 0.5:
        yield gain_short(path, microphone.name, gain.needed_db, gain.needed_db - gain.short_db)


def gain_short(path: str, name: str, needed_db: float, gives_db: float) -> WiringFault:
    """An input that cannot lift a voice far enough [dB]."""
    return WiringFault(
        "gain", path, f"{name}: gain is short by {needed_db - gives_db:.0f} dB",
        f"Your voice wants {needed_db:.0f} dB of gain and the input gives {gives_db:.0f} dB.", "Come nearer to it, or put a booster before the input.",
    )  # fmt: skip


def of_timing(setup: Setup) -> Iterator[WiringFault]:
    """Picture late against the sound."""
    if (words := early_words(setup)) is not None:
        late_ms = 1000 * sound_early_s(setup)
        wanted_ms = max(1000 * setup.call.sound_delay_s + late_ms, 0.0)
        yield WiringFault(
            "late",
            f"/cameras/{setup.main_camera.id}",
            *words,
            f"Hold the sound back by {wanted_ms:.0f} ms in the program that takes in the camera.",
        )


def of_battery(device: Device, hours: float, mains: bool) -> Iterator[WiringFault]:
    """A camera that runs from its battery for less than the call lasts.

    Args:
        hours: how long the call lasts [h].
        mains: whether it has mains or bus power.
    """
    held_wh = device.kind.number("battery_wh")
    if mains or not held_wh or not device.kind.power_w:
        return
    runs = held_wh / device.kind.power_w
    if runs < hours:
        yield WiringFault("battery", device.path, f"{device.name} runs {runs:.1f} h, and you need {hours:.1f} h",
            f"{held_wh:g} Wh at {device.kind.power_w:g} W.",
                          "A wall-power dummy battery, or mains over its USB port.", cautions.MAINS)  # fmt: skip


def of_hub(named_ma: Mapping[str, float], hub: Kind, port_ma: float) -> Iterator[WiringFault]:
    """A hub whose devices together draw more than it can give.

    Args:
        named_ma: what each device draws, by name [mA].
        port_ma: what the port gives that the hub hangs on [mA].
    """
    gives = hub.number("supplies_ma") or port_ma - hub.number("hub_ma")
    wanted = sum(named_ma.values())
    if wanted > gives:
        what = ", ".join(f"{name} {ma:.0f}" for name, ma in named_ma.items())
        yield WiringFault("hub_power", "", f"{hub.name}: {wanted:.0f} mA asked, {gives:.0f} mA there",
            f"It would have to feed {what} mA. Devices then drop out in mid-call.",
                          "A hub with mains power of its own, or one device straight into the computer.")  # fmt: skip


def of_port(device: Device, drawn_ma: float, port: str, gives_ma: float) -> Iterator[WiringFault]:
    """A device that draws, with the boxes on its way, more than its port gives [mA]."""
    if drawn_ma > gives_ma:
        yield WiringFault("port_power", device.path, f"{device.name} draws {drawn_ma:.0f} mA, and the port gives {gives_ma:.0f} mA",
            f"A {port.replace('_', ' ')} cannot feed it.",
                          "A hub with mains power of its own between them.")  # fmt: skip


def of_strip(drawn_w: float, plugs: int = 0) -> Iterator[WiringFault]:
    """Mains drawn from one strip [W], and how many plugs it takes."""
    if plugs > STRIP_WAYS:
        yield WiringFault("sockets", "", f"{plugs} plugs for a strip of {STRIP_WAYS} ways", "A strip in a strip overheats, and one switch then bears it all.",
                          "A second socket of the wall for some of them.", cautions.MAINS)  # fmt: skip
    if drawn_w > STRIP_W:
        yield WiringFault(
            "strip",
            "",
            f"{drawn_w:.0f} W on one strip",
            f"A strip bears {STRIP_W:.0f} W.",
            "Spread them over two sockets of the wall.",
            cautions.MAINS,
        )
