"""What is wrong in Eyes, and the call window moved under the lens."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from uphill_lamp.core.document.devices import Screen, ScreenWindow
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.eyes.measures import call_windows, glance_at
from uphill_lamp.core.judging import WANTING, Finding, Measure, Move
from uphill_lamp.core.scene.placing import camera_pose, face_of, screen_pane, window_centre
from uphill_lamp.core.scene.wording import degrees

LEAST_WINDOW_PX = (320, 180)


def findings(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Eyes, without their moves."""
    wanting = [measure for measure in measured.values() if measure.utility is not None and measure.utility < WANTING]
    if not wanting:
        return
    worst = min(wanting, key=lambda measure: measure.utility or 0.0)
    where = {"eyes.down": "below", "eyes.up": "above", "eyes.aside": "beside"}[worst.id]
    title = f"You look {degrees(worst.value or 0.0)} {where} the lens"
    yield Finding(
        "eyes.off_lens", "eyes", title, "The others feel looked past, however attentive you are.",
        tuple(measure.id for measure in wanting),
    )  # fmt: skip


def moves_for(setup: Setup) -> Iterator[Move]:
    """The moves of Eyes."""
    screen, shown = call_windows(setup)[0]
    best = best_window(setup, screen, shown)
    if best != (shown.left_px, shown.top_px, shown.width_px, shown.height_px):
        left, top, width, height = best
        root = f"/screens/{screen.id}/windows/{shown.id}"
        patch = tuple(
            replace(f"{root}/{field}", value) for field, value in zip(("left_px", "top_px", "width_px", "height_px"), best, strict=True)
        )
        detail = f"Its top left corner {left} px across and {top} px down on the {screen.name}, {width} x {height} px large."
        yield Move(
            "eyes.move_call_window", f"Move the call window to the {_where(screen, best)} of the {screen.name}", patch, detail=detail
        )


def best_window(setup: Setup, screen: Screen, shown: ScreenWindow) -> tuple[int, int, int, int]:
    """Place and size of the call window whose middle is nearest the lens: left, top, width, height [px].

    The window is shrunk, down to a third of the screen's sides, only as far as that brings its faces nearer.
    """
    lens, eyes = camera_pose(setup, setup.main_camera).place, face_of(setup).eyes
    pane = screen_pane(screen)
    # Where the line of sight to the lens meets the plane of the picture, in shares of it.
    sight = lens - eyes
    facing = float(sight @ pane.normal)
    spot = lens if abs(facing) < 1e-9 else eyes + sight * float((pane.middle - eyes) @ pane.normal) / facing
    across = 0.5 + float((spot - pane.middle) @ pane.right) / pane.width_m
    down = 0.5 - float((spot - pane.middle) @ pane.up) / pane.height_m
    width = max(min(shown.width_px, screen.width_px // 3), min(LEAST_WINDOW_PX[0], screen.width_px))
    height = max(min(shown.height_px, screen.height_px // 3), min(LEAST_WINDOW_PX[1], screen.height_px))
    left = round(min(max(across * screen.width_px - width / 2, 0), screen.width_px - width))
    top = round(min(max(down * screen.height_px - height / 2, 0), screen.height_px - height))
    if _off_deg(setup, screen, shown, (left, top, width, height)) < _off_deg(setup, screen, shown) - 0.05:
        return left, top, width, height
    return shown.left_px, shown.top_px, shown.width_px, shown.height_px


def _off_deg(setup: Setup, screen: Screen, shown: ScreenWindow, place: tuple[int, int, int, int] | None = None) -> float:
    if place is not None:
        names = ("left_px", "top_px", "width_px", "height_px")
        shown = shown.model_copy(update=dict(zip(names, place, strict=True)))
    lens = camera_pose(setup, setup.main_camera).place
    glance = glance_at(face_of(setup).eyes, lens, window_centre(screen, shown))
    return abs(glance.left_deg) + abs(glance.up_deg)


def _where(screen: Screen, place: tuple[int, int, int, int]) -> str:
    left, top, width, height = place
    across, down = (left + width / 2) / screen.width_px, (top + height / 2) / screen.height_px
    side = "left" if across < 0.4 else "right" if across > 0.6 else "middle"
    return ("top " if down < 0.4 else "foot, " if down > 0.6 else "") + side
