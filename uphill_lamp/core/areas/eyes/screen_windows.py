"""Where on the screens a window belongs: the spot nearest the lens, in whole pixels."""

from __future__ import annotations

import math
from dataclasses import dataclass

from uphill_lamp.core.areas.eyes.glances import Glance, glance_at
from uphill_lamp.core.document.devices import Screen, ScreenWindow
from uphill_lamp.core.document.patch import Patch, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.placing import screen_pane, window_centre
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import percent
from uphill_lamp.core.standing.limits import CALL_WIDTH_M

LEAST_WINDOW_PX = (320, 180)
NEARER_DEG = 0.05  # less than this is no nearer


@dataclass(frozen=True, slots=True)
class Spot:
    """A place and size of a window on a screen, from its top left [px]."""

    left: int
    top: int
    width: int
    height: int

    def touches(self, other: Spot) -> bool:
        """Whether two windows overlap."""
        return (
            self.left < other.left + other.width and other.left < self.left + self.width
            and self.top < other.top + other.height and other.top < self.top + self.height
        )  # fmt: skip


def spot_of(shown: ScreenWindow) -> Spot:
    """Where a window is."""
    return Spot(shown.left_px, shown.top_px, shown.width_px, shown.height_px)


def glance_if(setup: Setup, screen: Screen, shown: ScreenWindow, spot: Spot) -> Glance:
    """The look at a window were it at a spot of a screen."""
    there = shown.model_copy(update={"left_px": spot.left, "top_px": spot.top, "width_px": spot.width, "height_px": spot.height})
    return glance_at(scene_of(setup).face.eyes, scene_of(setup).lens.place, window_centre(screen, there))


def best_spot(setup: Setup, screen: Screen, shown: ScreenWindow, clear_of: Spot | None = None) -> Spot:
    """Place and size of a window whose middle is nearest the lens.

    The window is shrunk, down to a third of the screen's sides, only as far as that brings it nearer.

    Args:
        clear_of: a window it must not cover, such as the call's.
    """
    here = spot_of(shown)
    width = max(min(here.width, screen.width_px // 3), min(LEAST_WINDOW_PX[0], screen.width_px))
    if shown.shows == "call":  # faces smaller than that are not seen
        width = min(max(width, math.ceil(CALL_WIDTH_M / screen.width_m * screen.width_px)), screen.width_px)
    height = max(min(here.height, screen.height_px // 3), min(LEAST_WINDOW_PX[1], screen.height_px))
    across, down = _under_lens(setup, screen)

    def inside(left: float, top: float) -> Spot:
        return Spot(round(min(max(left, 0), screen.width_px - width)), round(min(max(top, 0), screen.height_px - height)), width, height)

    left, top = across * screen.width_px - width / 2, down * screen.height_px - height / 2
    tries = [inside(left, top)]
    if clear_of is not None and tries[0].touches(clear_of):
        beside = [
            (clear_of.left - width, top),
            (clear_of.left + clear_of.width, top),
            (left, clear_of.top - height),
            (left, clear_of.top + clear_of.height),
        ]
        tries = [spot for spot in (inside(*corner) for corner in beside) if not spot.touches(clear_of)]
    tries.append(here)

    def order(spot: Spot) -> tuple[float, float]:
        glance = glance_if(setup, screen, shown, spot)
        return -round(glance.weighted_utility, 4), glance.off_deg + (NEARER_DEG if spot != here else 0.0)

    return min(tries, key=order)


def _under_lens(setup: Setup, screen: Screen) -> tuple[float, float]:
    """Where the line of sight to the lens meets the plane of the picture, in shares of it from the top left."""
    lens, eyes = scene_of(setup).lens.place, scene_of(setup).face.eyes
    pane, sight = screen_pane(screen), lens - eyes
    facing = float(sight @ pane.normal)
    spot = lens if abs(facing) < 1e-9 else eyes + sight * float((pane.middle - eyes) @ pane.normal) / facing
    return 0.5 + float((spot - pane.middle) @ pane.right) / pane.width_m, 0.5 - float((spot - pane.middle) @ pane.up) / pane.height_m


def moved_to(screen: Screen, shown: ScreenWindow, spot: Spot) -> Patch:
    """The patch that puts a window to a spot of its own screen."""
    root = f"/screens/{screen.id}/windows/{shown.id}"
    values = {"left_px": spot.left, "top_px": spot.top, "width_px": spot.width, "height_px": spot.height}
    return tuple(replace(f"{root}/{field}", value) for field, value in values.items() if getattr(shown, field) != value)


def brought_to(screen: Screen, shown: ScreenWindow, other: Screen, spot: Spot) -> Patch:
    """The patch that brings a window from its screen to a spot of another."""
    taken = {window.id for window in other.windows} | {window.name for window in other.windows}
    free = next(
        n
        for n in ("", *(f" {number}" for number in range(2, 20)))
        if shown.name + n not in taken and shown.id + n.replace(" ", "-") not in taken
    )
    new = shown.model_dump(mode="json") | {
        "id": shown.id + free.replace(" ", "-"), "name": shown.name + free,
        "left_px": spot.left, "top_px": spot.top, "width_px": spot.width, "height_px": spot.height,
    }  # fmt: skip
    return (remove(f"/screens/{screen.id}/windows/{shown.id}"), add(f"/screens/{other.id}/windows/-", new))


def where_words(screen: Screen, spot: Spot) -> str:
    """A spot in words: ``top middle``."""
    across, down = (spot.left + spot.width / 2) / screen.width_px, (spot.top + spot.height / 2) / screen.height_px
    side = "left" if across < 0.4 else "right" if across > 0.6 else "middle"
    return ("top " if down < 0.4 else "bottom " if down > 0.6 else "") + side


def size_words(screen: Screen, spot: Spot) -> str:
    """How large a window is made, as one sees it."""
    return f"Make it about {percent(spot.width / screen.width_px)} of the screen's width and {percent(spot.height / screen.height_px)} of its height."
