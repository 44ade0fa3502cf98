"""Moves at the panes: a bright window veiled, a covering drawn back."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace as replaced
from typing import Any

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.lamp_moves import own_lamps
from uphill_lamp.core.areas.light.lamp_placing import best_spot, lamp_patch
from uphill_lamp.core.areas.light.lamp_words import stood_anew, stood_words
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.patch import Patch, applied, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Window
from uphill_lamp.core.field.camera.metering import meter
from uphill_lamp.core.field.camera.response import need_of
from uphill_lamp.core.field.light.daylight import sky_over
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.judging import FREE, Cost, Move
from uphill_lamp.core.offers import at_home
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.placing import window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.wording import lux, the, times

# What a household has to hang before a pane; a sheet lets through about as much as a sheer. Measured ones can be entered.
SHEET = "sheer", "veil", "Hang a white sheet of cloth at {}", "It spreads what comes through over the whole pane, and stops the sun's beam."
HUNG = {"sheer": ("sheer_curtain",), "blackout": ("blackout_curtain",)}  # what of the drawer serves, by what hangs there then
CURTAIN = "blind", "curtain", "Draw a curtain or blind at {}", "If there is one: it keeps out most of the light, and stops the sun's beam."
BLANKET = "blackout", "shut_out", "Cover {}", "A dark blanket or curtain over the whole pane, if there is one."


def move_panes(lit_scene: LitScene) -> Iterator[Move]:
    """Each pane covered or uncovered, while there is daylight to let in or keep out."""
    setup = lit_scene.setup
    if not setup.room.windows or sky_over(setup.place, setup.room.north_bearing_deg) is None:
        return
    for window in setup.room.windows:
        if window.covering.kind == "none":
            if not _pictured(setup, window):
                yield _hung(setup, window, *SHEET)
                yield _hung(setup, window, *CURTAIN)
                continue
            # Behind somebody a covering is seldom enough, and elsewhere daylight is worth more than the dark.
            yield _told_enough(setup, _hung(setup, window, *SHEET))
            yield _told_enough(setup, _hung(setup, window, *BLANKET))
        else:
            yield _pane(window, "uncover", "Draw back what hangs at {}", typical.covering("none"), FREE, "")


def _told_enough(setup: Setup, move: Move) -> Move:
    """A covering with a word about what is still amiss once it hangs."""
    trial = lit_scene_of(applied(setup, move.patch))
    need_lx = need_of(setup).clean_lx
    stops, level_lx = meter(trial).error_stops, trial.face_lx["front"]
    alone = replaced(move, retold=lambda before, after: (move.detail,))  # beside other steps it may be enough
    if stops < -1:
        return replaced(alone, detail=f"{move.detail} That alone is not enough: your face still comes out {times(stops)} too dark.")
    if level_lx < need_lx:
        return replaced(alone, detail=f"{move.detail} That alone is not enough: your face then gets only {lux(level_lx)}.")
    return move


def lamp_for_window(lit_scene: LitScene) -> Iterator[Move]:
    """A bright window in the picture shut out and the strongest lamp one has put in its stead: one without the other leaves a dark face."""
    setup = lit_scene.setup
    lamps = own_lamps(setup)
    if not lamps or sky_over(setup.place, setup.room.north_bearing_deg) is None:
        return
    strongest = lamps[0]
    for window in setup.room.windows:
        if window.covering.kind != "none" or not _pictured(setup, window):
            continue
        spot = best_spot(lit_scene, strongest, [window.id, f"{window.id}/sun"])
        if spot is not None:
            covered = replace(f"/room/windows/{window.id}/covering", typical.covering("blackout"))
            title = f"Cover {the(window.name)}, and light your face with {the(strongest.name)}"
            yield Move(f"light.lamp_for_window.{window.id}", title, (covered, *lamp_patch(spot.light, strongest)), FREE,
                       (cautions.CLOTH, *lamp_cautions(strongest)), detail=stood_words(setup, spot.light), extends=f"light.shut_out.{window.id}",
                       retold=stood_anew(strongest.id))  # fmt: skip


def _pictured(setup: Setup, window: Window) -> bool:
    pane = window_pane(setup.room, window)
    spots = np.array([pane.at(across, down) for across in (0.0, 0.5, 1.0) for down in (0.0, 0.5, 1.0)])
    seen = scene_of(setup).pinhole.project(spots)
    return bool(((seen > 0) & (seen < 1)).all(axis=1).any())


def _hung(setup: Setup, window: Window, kind: str, name: str, title: str, detail: str) -> Move:
    had = at_home(setup, HUNG.get(kind, ()), detail)
    words = detail if had.words == detail else f"{had.words} {detail}"
    move = _pane(window, name, title, typical.covering(kind), had.cost, words, cautions.CLOTH)
    return replaced(move, patch=(*move.patch, *had.patch))


def _pane(window: Window, name: str, title: str, covering: dict[str, Any], cost: Cost, detail: str, *more: str) -> Move:
    patch: Patch = (replace(f"/room/windows/{window.id}/covering", covering),)
    return Move(f"light.{name}.{window.id}", title.format(the(window.name)), patch, cost, (*more, cautions.SUN), detail=detail)
