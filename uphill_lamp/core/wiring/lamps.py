"""Lamps and screens on the mains: which go straight into the strip, which through a charger, and what the strip then bears."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.setup import Setup

# What a lamp of one's own is taken for, by where it stands.
TYPICAL_LAMP = {"desk": "desk_lamp_daylight", "clamp": "clip_lamp", "floor": "floor_lamp_shaded"}
LM_PER_W = 90.0  # of an LED
SCREEN_W = 20.0


@dataclass(frozen=True)
class Fed:
    """Something that wants mains: its kind, what it draws [W], and the charger it goes through if it has a USB plug."""

    name: str
    path: str
    what: str
    kind: Kind
    watts: float
    charger: Kind | None = None


def fed(setup: Setup) -> Iterator[Fed]:
    """Lamps that are on and can be carried, and screens of their own; what hangs in the ceiling has its own supply."""
    for light in setup.lights:
        kind = catalogue().kind(light.entry or TYPICAL_LAMP.get(light.stands, ""))
        if not light.on or light.stands not in TYPICAL_LAMP or kind is None:
            continue
        by_usb = light.entry is not None and any(port.startswith("usb") for port in kind.ports)
        watts = kind.power_w if light.entry else light.flux_lm / LM_PER_W
        yield Fed(light.name, f"/lights/{light.id}", "light", kind, watts, catalogue().kind("usb_charger") if by_usb else None)
    screen_kind = catalogue().kind("second_screen")
    for screen in setup.screens:
        if screen.kind == "monitor" and screen.on and screen_kind is not None:
            yield Fed(screen.name, f"/screens/{screen.id}", "screen", screen_kind, SCREEN_W)
