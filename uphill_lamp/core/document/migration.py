"""Older documents brought up to the present version, one step per version."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.setup import VERSION


def migrated(data: dict[str, Any]) -> dict[str, Any]:
    """A document of the present version; the one given is left as it was.

    Raises:
        Refused: for a version newer than this program, or none at all.
    """
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 0:
        raise Refused([Fault("/version", shown(version), f"a whole number, {VERSION} at most")])
    if version > VERSION:
        raise Refused([Fault("/version", f"{version}, from a newer Uphill Lamp", f"{VERSION} at most: update the app to open it")])
    if version < VERSION:
        data = copy.deepcopy(data)
    for step in range(version, VERSION):
        STEPS[step](data)
        data["version"] = step + 1
    return data


def _from_0(data: dict[str, Any]) -> None:
    """Version 0 (before the first release) gave lengths in centimetres for the presenter and had no listening."""
    presenter = data.get("presenter")
    if isinstance(presenter, dict) and isinstance(presenter.get("eye_height_cm"), (int, float)):
        presenter["eye_height_m"] = presenter.pop("eye_height_cm") / 100
    origins = data.get("origins")
    if isinstance(origins, dict) and "/presenter/eye_height_cm" in origins:
        origins["/presenter/eye_height_m"] = origins.pop("/presenter/eye_height_cm")
    computer = data.get("computer")
    if isinstance(computer, dict) and "headphones" in computer:
        computer["listening"] = "headphones" if computer.pop("headphones") else "loudspeakers"


def _from_1(data: dict[str, Any]) -> None:
    """Version 1 knew no doors, no use of a call, nothing on purpose and origins by a word alone: what it leaves out is as it always was.
    That the call is live is assumed, and the page asks."""


STEPS: dict[int, Callable[[dict[str, Any]], None]] = {0: _from_0, 1: _from_1}
