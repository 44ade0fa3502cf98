"""The camera that ships: what a setup's camera would send, as a still and as a short clip in which the presenter moves and blinks.

It stands in for a camera wherever one is measured. A clip is a row of JPEG pictures, one after another, as many programs read it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.drawings.far_side.render import FULL_COLUMNS, Picture, columns_of, render, rendered

SWAY_M, NOD_M = 0.006, 0.002  # how far a head that sits still wanders
SWAYS_S, NODS_S = 5.2, 3.1
BLINK_EVERY_S, BLINK_S = 3.4, 0.26
STILL_COLUMNS = 1280


def still(appraisal: Appraisal, columns: int = STILL_COLUMNS) -> Picture:
    """One picture."""
    return render(appraisal, columns_of(appraisal.setup, columns))


def lids_at(time_s: float) -> float:
    """How far the eyes are shut at a time, 0-1: down quickly, up more slowly, as lids go."""
    since = (time_s + BLINK_EVERY_S / 2) % BLINK_EVERY_S
    if since > BLINK_S:
        return 0.0
    share = since / BLINK_S
    return share / 0.35 if share < 0.35 else max(0.0, 1 - (share - 0.35) / 0.65)


def swayed(setup: Setup, time_s: float) -> Setup:
    """The setup with the presenter's head where it has wandered to at a time."""
    presenter = setup.presenter
    facing = math.radians(presenter.facing_yaw_deg)
    aside = SWAY_M * math.sin(2 * math.pi * time_s / SWAYS_S)
    moved = {
        "x_m": presenter.x_m + aside * math.cos(facing),
        "y_m": presenter.y_m - aside * math.sin(facing),
        "eye_height_m": presenter.eye_height_m + NOD_M * math.sin(2 * math.pi * time_s / NODS_S),
    }
    return setup.model_copy(update={"presenter": presenter.model_copy(update=moved)})


def clip(appraisal: Appraisal, seconds: float, per_second: float = 10.0, columns: int = FULL_COLUMNS) -> Iterator[Picture]:
    """Pictures of a clip; exposure stays as it is metered at the start, as in a call.

    Args:
        appraisal: of the setup.
        seconds: how long [s].
        per_second: pictures a second [1/s].
        columns: width, if it is a landscape [px].
    """
    for number in range(max(1, round(seconds * per_second))):
        time_s = number / per_second
        lit_scene = lit_scene_of(swayed(appraisal.setup, time_s))
        yield rendered(lit_scene, appraisal.metered, columns_of(appraisal.setup, columns), lids=round(lids_at(time_s), 1))
