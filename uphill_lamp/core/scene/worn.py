"""Where what is worn is."""

from __future__ import annotations

from uphill_lamp.core.document.people import Garment
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import Vector

# Forward, left and up of the eyes [m]; bracelets are where the hands are.
_PLACES = {
    "neck": ((0.0, 0.0, -0.27),),
    "ears": ((-0.09, 0.075, -0.035), (-0.09, -0.075, -0.035)),
    "wrists": ((0.30, 0.12, -0.42), (0.30, -0.12, -0.42)),
}


def jewellery(setup: Setup) -> list[Garment]:
    """What of that is worn."""
    return [garment for garment in setup.presenter.clothing if garment.kind == "jewellery"]


def places_of(setup: Setup, garment: Garment) -> list[Vector]:
    """Where a piece of jewellery hangs, or the two of a pair, each of shape (3,) [m]."""
    face = scene_of(setup).face
    return [face.at(*place) for place in _PLACES[garment.worn_at or "neck"]]
