"""Moves for what meets the head's outline: along its wall until it is free of the head, higher on the wall, away."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.measures import CUT_LINE, GROWS
from uphill_lamp.core.areas.backdrop.putting import CARRIED, HELD_TO_WALL, after, inside, taken, tools
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.judging import WANTING, Move
from uphill_lamp.core.scene.placing import Pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.core.scene.wording import length, the

CLEAR, BESIDE_HEAD = 0.02, 0.36  # of the picture's width; head heights from its middle to beyond its side
STEP_M, MOST_M = 0.05, 1.5
HUNG_STEP_M, HUNG_MOST_M = 0.05, 0.5


def _panes(setup: Setup) -> Iterator[tuple[BackdropThing, Pane]]:
    for thing, (_, pane) in zip(setup.backdrop, backdrop_panes(setup), strict=True):
        yield thing, pane


def _grows_well(there: Setup | None) -> bool:
    return there is not None and GROWS.utility(behind_of(there).outline.grows) >= WANTING


def _to(thing: BackdropThing, there: Vector, axes: str) -> Patch:
    return tuple(
        replace(f"/backdrop/{thing.id}/position/{axis}_m", round(float(value), 3))
        for axis, value in zip("xyz", there, strict=True)
        if axis in axes
    )


def shifted_clear(setup: Setup) -> Iterator[Move]:
    """What grows from the head, along its wall by the least that leaves its edge clear of the outline by 0.02 of the picture's width."""
    growing = behind_of(setup).outline.growing
    for thing, pane in _panes(setup):
        if thing.id not in growing or thing.kind not in CARRIED:
            continue
        ways = sorted(_ways_m(setup, pane), key=abs)
        for way_m in ways:
            there = vector(thing.position) + way_m * pane.right
            patch = _to(thing, there, "xy")
            if abs(way_m) > MOST_M or np.abs(inside(setup, there) - there).max() > 1e-9 or not _grows_well(after(setup, patch)):
                continue
            side = "right" if way_m > 0 else "left"
            title = f"Move {the(thing.name)} {length(abs(way_m), setup.preferences.units)} to the {side} of the picture, clear of your head"
            yield Move(f"backdrop.clear.{thing.id}", title, patch, cautions=tools(thing))
            break


def _ways_m(setup: Setup, pane: Pane) -> list[float]:
    """How far along its own wall a thing is clear of the head on either side, to 5 cm outwards [m]; to the picture's right positive."""
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    spots = pinhole.project(np.array([face.crown, face.chin, pane.at(0, 0.5), pane.at(1, 0.5)]))
    if np.isnan(spots).any() or abs(spots[3, 0] - spots[2, 0]) < 1e-6:
        return []
    head_x, high = float(spots[:2, 0].mean()), abs(float(spots[1, 1] - spots[0, 1]))
    free = BESIDE_HEAD * high / pinhole.field.aspect + CLEAR
    left, right = sorted(spots[2:, 0].tolist())
    per_m = (right - left) / pane.width_m
    ways = ((head_x + free - left) / per_m, (head_x - free - right) / per_m)
    return [float(np.copysign(np.ceil(abs(way) / STEP_M) * STEP_M, way)) for way in ways]


def taken_from_head(setup: Setup) -> Iterator[Move]:
    """What grows from the head and is carried by one person, away."""
    for thing in setup.backdrop:
        if thing.id in behind_of(setup).outline.growing and thing.kind in CARRIED:
            move = taken(thing)
            if _grows_well(after(setup, move.patch)):
                yield move


def hung_higher(setup: Setup) -> Iterator[Move]:
    """What hangs and draws a line through the head, higher or lower by the least that takes the line off it."""
    lined = behind_of(setup).outline.lined
    for thing in setup.backdrop:
        if thing.id != lined or thing.kind not in (*HELD_TO_WALL, "mirror") or thing.held in ("stands", "leans"):
            continue
        for step in range(1, round(HUNG_MOST_M / HUNG_STEP_M) + 1):
            for way_m in (step * HUNG_STEP_M, -step * HUNG_STEP_M):
                there = vector(thing.position) + way_m * UP
                if not thing.height_m / 2 <= there[2] <= setup.room.height_m - thing.height_m / 2:
                    continue
                patch = _to(thing, there, "z")
                then = after(setup, patch)
                if then is None or CUT_LINE.utility(behind_of(then).outline.line) < WANTING:
                    continue
                how = f"{length(abs(way_m), setup.preferences.units)} {'higher' if way_m > 0 else 'lower'}"
                detail = "A strip that comes off again holds what is light; leave what is heavy to a proper hook."
                yield Move(f"backdrop.hang.{thing.id}", f"Hang {the(thing.name)} {how}", patch, cautions=tools(thing), detail=detail)
                return
