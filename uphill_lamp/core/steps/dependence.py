"""What each area's figures rest on in the document, to the field: where none of it changes, the area's score stands.

Narrower than ``appraisal.AREA_READS``, since here the question is which actions bear on which areas at all. A test changes what is
left out and sees that no scored figure moves.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Area

# Fields of a camera that say nothing of where it is and what it takes in.
RESPONSE = {"name", "entry", "metering", "locked_exposure_lx", "white_balance", "fps", "focus", "latency_s", "framed_in"}
SHINES = {"name", "luminance_cd_m2", "white_share", "cct_k"}
# Where a microphone in a screen sits depends on the camera beside it.
BESIDE = {"on_screen", "mount", "lens_offset_m", "position"}

# Parts that ``resting_on`` looks into.
RESTS_ON: dict[Area, tuple[str, ...]] = {
    "frame": ("room", "presenter", "screens", "cameras", "call", "preferences"),
    "eyes": ("presenter", "screens", "cameras", "call", "preferences"),
    "sound": ("room", "desk", "presenter", "computer", "cameras", "screens", "microphones", "noises"),
    "light": ("place", "room", "desk", "presenter", "lights", "reflectors", "backdrop", "screens", "cameras", "call", "preferences"),
}


def resting_on(area: Area, setup: Setup) -> str:
    """All that an area's scored figures can depend on, as text: alike texts, alike scores."""
    if area == "frame":
        room = setup.room.model_dump_json(include={"width_m", "depth_m", "height_m"})
        return "".join(
            (room, _person(setup), _listed(setup.screens, SHINES | {"windows", "on"}), _listed(setup.cameras, RESPONSE), _asked(setup))
        )
    if area == "eyes":
        return "".join((_person(setup), _listed(setup.screens, SHINES), _listed(setup.cameras, RESPONSE), _asked(setup)))
    if area == "sound":
        kept = (setup.room, setup.desk, setup.presenter, setup.computer)
        cameras = "".join(camera.model_dump_json(include=BESIDE) for camera in setup.cameras if camera.on_screen)
        listed = (
            _listed(setup.screens, SHINES | {"windows"}),
            _listed(setup.microphones, {"name", "entry"}),
            _listed(setup.noises, {"name"}),
        )
        return "".join((*(part.model_dump_json() for part in kept), cameras, *listed))
    shell = setup.room.model_dump_json(exclude={"furnishings", "measured_t60_s"})
    lamps = _listed(setup.lights, {"name", "owned", "entry"}) + _listed(setup.reflectors, {"name"}) + _listed(setup.backdrop, {"name"})
    screens, cameras = (
        _listed(setup.screens, {"windows", "name"}),
        _listed(setup.cameras, {"name", "entry", "focus", "latency_s", "framed_in"}),
    )
    return "".join(
        (
            setup.place.model_dump_json(),
            shell,
            setup.desk.model_dump_json(),
            setup.presenter.model_dump_json(),
            lamps,
            screens,
            cameras,
            _asked(setup),
        )
    )


def _listed(things: tuple[BaseModel, ...], left_out: set[str]) -> str:
    return "".join(thing.model_dump_json(exclude=left_out) for thing in things)


def _person(setup: Setup) -> str:
    left_out: Any = {"skin_reflectance", "hair_colour", "hair", "face", "voice_effort", "voice", "clothing", "glasses"}
    return setup.presenter.model_dump_json(exclude=left_out)


def _asked(setup: Setup) -> str:
    left_out: Any = {"weights", "budget", "currency", "units", "never", "must", "money_per_point"}
    return setup.call.model_dump_json(exclude={"sound_delay_s"}) + setup.preferences.model_dump_json(exclude=left_out)
