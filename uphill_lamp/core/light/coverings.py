"""Moves at the panes: a bright window veiled, a covering drawn back."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from uphill_lamp.core import cautions
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Window
from uphill_lamp.core.judging import FREE, OWNED, Cost, Move
from uphill_lamp.core.light.daylight import sky_over

# What a household has to hang before a pane; a sheet lets through about as much as a sheer. Measured ones can be entered.
BY_HOUSEHOLD: tuple[tuple[str, str, str], ...] = (
    ("sheer", "Hang a white sheet before: {}", "It spreads what comes through over the whole pane, and stops the sun's beam."),
    ("blackout", "Shut out the daylight at: {}", "A dark blanket or curtain over the whole pane."),
)


def move_panes(setup: Setup) -> Iterator[Move]:
    """Each pane covered or uncovered, while there is daylight to let in or keep out."""
    if not setup.room.windows or sky_over(setup.place, setup.room.north_bearing_deg) is None:
        return
    for window in setup.room.windows:
        if window.covering.kind == "none":
            for kind, title, detail in BY_HOUSEHOLD:
                yield _hung(window, kind, title, detail)
        else:
            yield _pane(window, "uncover", "Draw back what hangs before: {}", typical.covering("none"), FREE, "")


def _hung(window: Window, kind: str, title: str, detail: str) -> Move:
    name = "veil" if kind == "sheer" else "shut_out"
    return _pane(window, name, title, typical.covering(kind), OWNED, detail, cautions.CLOTH)


def _pane(window: Window, name: str, title: str, covering: dict[str, Any], cost: Cost, detail: str, *more: str) -> Move:
    patch: Patch = (replace(f"/room/windows/{window.id}/covering", covering),)
    return Move(f"light.{name}.{window.id}", title.format(window.name), patch, cost, (*more, cautions.SUN), detail=detail)
