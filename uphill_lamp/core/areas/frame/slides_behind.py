"""Slides on a screen behind the presenter: what the body hides of them, and whether their text reads (docs/method/frame.md)."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.body import meet, trunk
from uphill_lamp.core.scene.destination import viewer_px
from uphill_lamp.core.scene.placing import screen_pane
from uphill_lamp.core.scene.scene import scene_of

SAMPLES = 24
TEXT_OF_SLIDE = 1 / 40  # x-height of ordinary slide text against the slide's height (about 24 points on 19 cm)
READS_PX = 8.0  # least x-height that reads


def slides_behind(setup: Setup) -> Screen | None:
    """The screen behind that carries the slides, if the call has any."""
    if setup.call.slides != "screen_behind":
        return None
    face = scene_of(setup).face
    behind = [screen for screen in setup.screens if screen.on and float((screen_pane(screen).middle - face.eyes) @ face.forward) < 0]
    return next((screen for screen in behind if any(shown.shows == "slides" for shown in screen.windows)), behind[0] if behind else None)


def _grid(setup: Setup) -> tuple[np.ndarray, np.ndarray] | None:
    """Places spread over the slides, shape (N, 3) [m], and which of them lie in the picture, shape (N,)."""
    screen = slides_behind(setup)
    if screen is None:
        return None
    pane, steps = screen_pane(screen), (np.arange(SAMPLES) + 0.5) / SAMPLES
    places = np.array([pane.at(across, down) for across in steps for down in steps])
    spots = scene_of(setup).pinhole.project(places)
    with np.errstate(invalid="ignore"):
        return places, np.asarray(((spots >= 0) & (spots <= 1)).all(axis=1))


def hidden_share(setup: Setup) -> float:
    """Share of the slides in the picture that the presenter's body hides [no unit]; 0 without slides behind."""
    grid = _grid(setup)
    if grid is None or not grid[1].any():
        return 0.0
    places, seen = grid
    lens = scene_of(setup).pinhole.place
    beyond = places[seen] - lens
    reach = np.linalg.norm(beyond, axis=1)
    hit, away, _ = meet(trunk(setup.presenter), scene_of(setup).face, lens, (beyond / reach[:, None]).T)
    return float((away < reach[hit]).sum() / len(reach))


def in_view_share(setup: Setup) -> float:
    """Share of the slides that lies in the picture [no unit]; 0 without slides behind."""
    grid = _grid(setup)
    return 0.0 if grid is None else float(grid[1].mean())


def text_px(setup: Setup) -> float | None:
    """x-height of ordinary slide text at the viewer [px]; None without slides behind or where the lens does not see them."""
    screen = slides_behind(setup)
    if screen is None:
        return None
    pane = screen_pane(screen)
    top, foot = scene_of(setup).pinhole.project(np.array([pane.at(0.5, 0), pane.at(0.5, 1)]))
    if np.isnan(top).any() or np.isnan(foot).any():
        return None
    rows = viewer_px(setup.call) / setup.call.output_aspect
    return abs(float(foot[1] - top[1])) * rows * TEXT_OF_SLIDE
