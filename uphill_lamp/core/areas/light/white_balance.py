"""The camera's white against the light on the face: no score holds it, since the white can be set either way at any time."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.light.measures import COLOUR
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.field.camera.spectral_mix import SpectralMix
from uphill_lamp.core.field.light.colour import mired
from uphill_lamp.core.field.light.lit_scene import LitScene
from uphill_lamp.core.judging import FREE, WANTING, Move, Severity
from uphill_lamp.core.scene.wording import kelvin

LOWEST_K, HIGHEST_K = 2000.0, 10_000.0  # what cameras can be set to


def told(lit_scene: LitScene, mixture: SpectralMix) -> tuple[str, str, Severity] | None:
    """Title, why it matters and how bad: a white locked off the light, or one left to wander in a mixture."""
    balance, face_k, spread = lit_scene.setup.main_camera.white_balance, mixture.face_cct_k, mixture.spread_mired
    assert COLOUR.ideal_high is not None and COLOUR.outer_high is not None
    if face_k is None:
        return None
    if balance.kind == "locked" and balance.cct_k is not None:
        off = mired(face_k) - mired(balance.cct_k)
        if abs(off) <= COLOUR.ideal_high:
            return None
        colour = "orange" if off > 0 else "blue"
        title = f"The camera's white is set to {kelvin(balance.cct_k)}, the light on your face has {kelvin(face_k)}"
        return title, f"All of you turns {colour}.", "clear" if abs(off) > COLOUR.outer_high else "slight"
    if spread is not None and COLOUR.utility(spread) < WANTING:
        return "The camera's white may wander", "In light of two colours it settles anew each time you move.", "slight"
    return None


def moves_for(lit_scene: LitScene, mixture: SpectralMix) -> Iterator[Move]:
    """The white locked at what the face gets."""
    if mixture.face_cct_k is None:
        return
    camera = lit_scene.setup.main_camera
    cct_k = min(max(round(mixture.face_cct_k, -2), LOWEST_K), HIGHEST_K)
    patch = (replace(f"/cameras/{camera.id}/white_balance", {"kind": "locked", "cct_k": cct_k}),)
    yield Move("light.lock_white", f"Lock the camera's white at {kelvin(cct_k)}", patch, FREE,
               detail="In the settings of the camera or the call; set it anew when the light changes.")  # fmt: skip
