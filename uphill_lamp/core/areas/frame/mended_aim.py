"""Aiming for the wanted picture: changes followed by the tilt that keeps the eyes on their line, and what they then promise."""

from __future__ import annotations

from dataclasses import dataclass

from uphill_lamp.core.areas.frame import bands
from uphill_lamp.core.areas.frame.measures import head_share
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, applied
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.aiming import lid_of, tilted_to

Promises = tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Mended:
    """A patch and the figures it will give, by measure."""

    patch: Patch
    promises: Promises = ()


def wanted_line(setup: Setup) -> float:
    """Where down the picture the eyes should be, for the head as large as it is [share]."""
    share = head_share(setup)
    return bands.wanted_eye_line(setup.preferences, 0.4 if share is None else share)


def retilt(setup: Setup) -> Mended | None:
    """The tilt that puts the eyes on the wanted line; None if no tilt does."""
    line = wanted_line(setup)
    patch = tilted_to(setup, line)
    return None if patch is None else Mended(patch, (("frame.eye_line", line),))


def mended(setup: Setup, patch: Patch, view_angle_deg: float | None = None) -> Mended | None:
    """A patch followed by the tilt it asks for; None if it comes to nothing valid.

    Args:
        view_angle_deg: what the patch was solved to give, promised if so.
    """
    try:
        changed = applied(setup, patch)
        tilt = retilt(changed)
        if tilt is not None and lid_of(changed, changed.main_camera) is not None:
            applied(changed, tilt.patch)  # a lid takes its lens along, perhaps into a wall
    except Refused:
        return None
    promises: Promises = () if view_angle_deg is None else (("frame.view_angle", view_angle_deg),)
    return Mended((*patch, *tilt.patch), (*promises, *tilt.promises)) if tilt else Mended(patch, promises)
