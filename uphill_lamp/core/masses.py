"""What devices weigh: by their catalogue entry, else as such ones do."""

from __future__ import annotations

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Camera, Light, Microphone

# Working values, ours [kg]: with lens, cable and screw.
CAMERA_KG = {"built_in": 1.6, "webcam": 0.2, "phone_front": 0.25, "phone_rear": 0.25, "capture": 0.8}
MICROPHONE_KG = {"usb_desk": 0.6, "xlr_dynamic": 0.7, "xlr_condenser": 0.4, "shotgun": 0.3}
LAMP_KG = {"bulb": 0.3, "cone": 0.6, "panel": 0.7, "strip": 0.3, "ring": 0.7, "file": 0.7}


def mass_kg(thing: Camera | Microphone | Light) -> float:
    """What a camera, a microphone or a lamp weighs with what holds on to it [kg]; 0.2 of what nothing is known of."""
    kind = catalogue().kind(thing.entry) if thing.entry else None
    if kind is not None and kind.mass_kg:
        return kind.mass_kg
    return {**CAMERA_KG, **MICROPHONE_KG, **LAMP_KG}.get(thing.kind, 0.2)
