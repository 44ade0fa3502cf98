"""What to pack for a place away from home: every device, cable and stand, with its mass and the room it takes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.offers import needed
from uphill_lamp.core.wiring.plan import Plan

HOST_KG = {"laptop": 1.6, "desktop": 8.0, "phone": 0.2, "tablet": 0.6}
STAND_KG = {"boom_arm": 1.4, "floor_stand": 2.4, "tripod": 1.3, "arm": 0.9, "holder": 0.3}
# Room that things take folded and wrapped [l] (working values); a kind's own attribute volume_l goes before.
HOST_L = {"laptop": 3.5, "desktop": 30.0, "phone": 0.3, "tablet": 0.9}
STAND_L = {"boom_arm": 4.0, "floor_stand": 5.0, "tripod": 3.0, "arm": 2.5, "holder": 0.5}
ROLE_L = {"camera": 0.6, "microphone": 1.5, "headphones": 2.0, "input": 1.2, "lamp": 5.0, "screen": 30.0, "keyboard": 1.5, "power": 0.6,
          "cable": 0.3, "adapter": 0.1, "capture": 0.1, "lens": 0.5, "prompter": 8.0}  # fmt: skip
USUAL_L, SHEET_L = 1.0, 2.0


@dataclass(frozen=True)
class Packed:
    """A thing to pack, how heavy [kg], a word on it, the room it takes [l], and its path in the document if it is a device there;
    ``mass_kg`` None where it is not known."""

    name: str
    mass_kg: float | None
    word: str = ""
    volume_l: float = USUAL_L
    path: str = ""

    @property
    def mass(self) -> str:
        """How heavy it is as it is read; empty where it is not known."""
        if not self.mass_kg:
            return ""
        return f"{1000 * self.mass_kg:.0f} g" if self.mass_kg < 0.1 else f"{self.mass_kg:.2g} kg"


def room_of(kind: Kind | None) -> float:
    """The room that a kind takes in a bag [l]."""
    return USUAL_L if kind is None else kind.number("volume_l", ROLE_L.get(kind.role, USUAL_L))


def packing_list(setup: Setup, plan: Plan) -> list[Packed]:
    """Everything that has to come along: what shows, shines, listens, joins and holds. Ceiling lamps and furniture stay."""
    return list({item.name: item for item in _items(setup, plan)}.values())


def _items(setup: Setup, plan: Plan) -> Iterator[Packed]:
    host = setup.computer.kind
    power = "with its mains cable" if host == "desktop" else "with its charger"
    yield Packed(host.capitalize(), HOST_KG[host], power, HOST_L[host])
    for chain in plan.chains:
        yield Packed(chain.device.name, chain.device.kind.mass_kg, "", room_of(chain.device.kind), chain.device.path)
        for cable in chain.cables:
            yield Packed(f"{cable.number} {cable.kind.name}", cable.kind.mass_kg, f"{cable.begin} to {cable.end}", room_of(cable.kind))
        for entry in needed([chain.device.kind.entry])[1:]:
            kind = catalogue().kind(entry)
            if kind is not None and kind.role not in ("cable", "adapter", "capture", "input"):
                yield Packed(kind.name, kind.mass_kg, "", room_of(kind))
    if plan.hub is not None:
        yield Packed(plan.hub.name, plan.hub.mass_kg, "", room_of(plan.hub))
    for camera in setup.cameras:
        if camera.use != "spare" and camera.mount in STAND_KG:
            yield Packed(f"{camera.mount.capitalize()} of {camera.name}", STAND_KG[camera.mount], "", STAND_L[camera.mount])
    microphone = setup.microphone_in_use
    if microphone is not None and microphone.stand in STAND_KG:
        stand = f"{microphone.stand.replace('_', ' ').capitalize()} of {microphone.name}"
        yield Packed(stand, STAND_KG[microphone.stand], "", STAND_L[microphone.stand])
    for light in setup.lights:
        if light.on and light.stands in ("desk", "floor", "clamp"):
            kind = catalogue().kind(light.entry) if light.entry else None
            word = "let it cool first" if light.heat != "cool" else ""
            room_l = room_of(kind) if kind else ROLE_L["lamp"]
            yield Packed(light.name, kind.mass_kg if kind else None, word, room_l, f"/lights/{light.id}")
    for sheet in setup.reflectors:
        yield Packed(sheet.name, 0.4, "", SHEET_L, f"/reflectors/{sheet.id}")
    yield Packed("Tape for the marks", 0.1, "lamp stands and chair go where the marks say", 0.2)
    if any(load.source == "mains" for load in plan.loads):
        yield Packed("Mains strip, and an adapter for the sockets there", 0.6, "sum the watts; no strip into a strip")
