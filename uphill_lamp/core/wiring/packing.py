"""What to pack for a place away from home: every device, cable and stand, with its mass."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.offers import needed
from uphill_lamp.core.wiring.plan import Plan

HOST_KG = {"laptop": 1.6, "desktop": 8.0, "phone": 0.2, "tablet": 0.6}
STAND_KG = {"boom_arm": 1.4, "floor_stand": 2.4, "tripod": 1.3, "arm": 0.9, "holder": 0.3}


@dataclass(frozen=True)
class Packed:
    """A thing to pack, how heavy [kg], and a word on it; ``mass_kg`` None where it is not known."""

    name: str
    mass_kg: float | None
    word: str = ""


def packing_list(setup: Setup, plan: Plan) -> list[Packed]:
    """Everything that has to come along: what shows, shines, listens, joins and holds. Ceiling lamps and furniture stay."""
    return list({item.name: item for item in _items(setup, plan)}.values())


def _items(setup: Setup, plan: Plan) -> Iterator[Packed]:
    yield Packed(setup.computer.kind.capitalize(), HOST_KG[setup.computer.kind], "with its charger")
    for chain in plan.chains:
        yield Packed(chain.device.name, chain.device.kind.mass_kg)
        for cable in chain.cables:
            yield Packed(f"{cable.number} {cable.kind.name}", cable.kind.mass_kg, f"{cable.begin} to {cable.end}")
        for entry in needed([chain.device.kind.entry])[1:]:
            kind = catalogue().kind(entry)
            if kind is not None and kind.role not in ("cable", "adapter", "capture", "input"):
                yield Packed(kind.name, kind.mass_kg)
    if plan.hub is not None:
        yield Packed(plan.hub.name, plan.hub.mass_kg)
    for camera in setup.cameras:
        if camera.use != "spare" and camera.mount in STAND_KG:
            yield Packed(f"{camera.mount.capitalize()} of {camera.name}", STAND_KG[camera.mount])
    microphone = setup.microphone_in_use
    if microphone is not None and microphone.stand in STAND_KG:
        yield Packed(f"{microphone.stand.replace('_', ' ').capitalize()} of {microphone.name}", STAND_KG[microphone.stand])
    for light in setup.lights:
        if light.on and light.stands in ("desk", "floor", "clamp"):
            kind = catalogue().kind(light.entry) if light.entry else None
            yield Packed(light.name, kind.mass_kg if kind else None, "let it cool first" if light.heat != "cool" else "")
    for sheet in setup.reflectors:
        yield Packed(sheet.name, 0.4)
    yield Packed("Tape for the marks", 0.1, "lamp stands and chair go where the marks say")
    if any(load.source == "mains" for load in plan.loads):
        yield Packed("Mains strip, and an adapter for the sockets there", 0.6, "sum the watts; no strip into a strip")
