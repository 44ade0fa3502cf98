"""Moves for what the light makes of what is behind: a lamp off or on, a window covered, away from the wall, something else on."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace as replaced
from itertools import islice

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.backdrop.lit import Lit, surely_bright
from uphill_lamp.core.areas.backdrop.measures import BRIGHTEST, BUSY, EDGE, GARMENT, MELTS, SHADOW
from uphill_lamp.core.areas.backdrop.moves import carried_off, hung_before, turned
from uphill_lamp.core.areas.backdrop.putting import after
from uphill_lamp.core.areas.backdrop.worn import outermost
from uphill_lamp.core.areas.backdrop.worn_moves import CALM
from uphill_lamp.core.document import typical
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.camera_rays import LIT_BEHIND
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.field.light.sources import lamp_source
from uphill_lamp.core.judging import FREE, WANTING, Band, Finding, Move, Retold
from uphill_lamp.core.offers import at_home
from uphill_lamp.core.scene.footprints import desk_outline
from uphill_lamp.core.scene.handling import desk_turned, lamp_cautions
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import direction, right_of, yaw_tilt_deg
from uphill_lamp.core.scene.wording import in_stops, length, the
from uphill_lamp.core.standing.stands_free import Standing

AWAY_M = (0.4, 0.8, 1.3)  # the desk forward
ASIDE_M, OVER_DESK_M = (0.0, 0.3, -0.3, 0.6, -0.6), (0.5, 0.35)  # a lamp to the right of the camera, and over the desk
ON_DESK = ("desk", "clamp")
MOST_OFFERED, HALVED = 2, 0.55
VEILS_STOPS = {"bright_sheer": 1.0, "bright_blind": 2.0}  # what they keep back of a window; the face loses by them, too
VEILED_STOPS = 1.2  # what is brighter than this yet need not be tried
GRAVE = 0.3  # below this utility a desk is turned for a wall that is too bright, where nothing else helps
# What else there is to wear: reflectance, its colour, and what it is called.
TOPS = (
    (0.2, CALM, "a middling one"),
    (0.05, "#20262c", "a dark one"),
    (0.42, "#a3abb2", "a light one"),
    (0.65, "#d9dcde", "a very light one"),
)
SHEER, BLIND = ("sheer_curtain",), ("blackout_curtain",)

Figure = Callable[[Lit], float | None]


def moves_for(lit: Lit, finding: Finding) -> tuple[Move, ...]:
    """The moves that mend a finding about what the light makes of what is behind."""
    return tuple({move.id: move for move in MAKERS[finding.id](lit)}.values())


def _brightest(lit: Lit) -> float | None:
    met = lit.brightest()
    return met[0] if met else None


def _shadow(lit: Lit) -> float | None:
    shadow = lit.shadow()
    return shadow.stops if shadow else None


def _good(lit: Lit, there: Setup, figure: Figure, band: Band) -> bool:
    value = figure(lit.carried_to(there))
    return value is None or band.utility(value) >= WANTING


def _enough(lit: Lit, moves: Iterator[Move], figure: Figure, band: Band) -> Iterator[Move]:
    """Those of some moves after which a figure is as wanted, at most two."""
    offered = 0
    for move in moves:
        there = after(lit.setup, move.patch)
        if there is not None and _good(lit, there, figure, band):
            offered += 1
            yield move
        if offered == MOST_OFFERED:
            return


def switches(setup: Setup, name: str) -> Iterator[Move]:
    """Each lamp off that is on and on that is off, each window veiled or covered, each thing that shines switched off.

    Args:
        name: of the finding, for the moves' ids: the same thing done for another reason is another move.
    """
    for light in setup.lights:
        way = "off" if light.on else "on"
        yield Move(
            f"backdrop.{name}_{way}.{light.id}", f"Switch {the(light.name)} {way}", (replace(f"/lights/{light.id}/on", not light.on),)
        )
    for window in setup.room.windows:
        if window.covering.kind == "none":
            for kind, of, title in (("sheer", SHEER, "Hang a white sheet of cloth at"), ("blind", BLIND, "Draw a curtain or blind at")):
                had = at_home(setup, of, "If there is one.")
                patch = (replace(f"/room/windows/{window.id}/covering", typical.covering(kind)), *had.patch)
                title = f"{title} {the(window.name)}"
                yield Move(f"backdrop.{name}_{kind}.{window.id}", title, patch, had.cost, (cautions.CLOTH, cautions.SUN), detail=had.words)
    for thing in setup.backdrop:
        if thing.luminance_cd_m2:
            dark = (replace(f"/backdrop/{thing.id}/luminance_cd_m2", 0.0),)
            yield Move(f"backdrop.{name}_dark.{thing.id}", f"Switch {the(thing.name)} off", dark)


def dimmed(lit: Lit) -> Iterator[Move]:
    """What is too bright behind, off, veiled or dark; a window, and where nothing else helps a wall, out of the picture."""
    setup, met = lit.setup, lit.brightest()
    kind, name = lit.met(met[1]) if met else ("", "")
    off = (move for move in switches(setup, "bright") if "_on." not in move.id and (kind in LIT_BEHIND or move.id.endswith(f".{name}")))
    if kind == "window" and met:
        off = (move for move in off if met[0] - VEILS_STOPS.get(move.id.split(".")[1], 0.0) <= VEILED_STOPS)
    offered = list(_enough(lit, off, _brightest, BRIGHTEST))
    yield from offered
    if kind == "window":
        yield from turned(setup, lambda there: not _pictured(there, name) and _dim(lit, there), ".bright")
    elif not offered and met and BRIGHTEST.utility(met[0]) < GRAVE:
        yield from turned(setup, lambda there: _dim(lit, there), ".bright")


def _dim(lit: Lit, there: Setup) -> bool:
    """Whether nothing behind is too bright after a turn; most turns are ruled out at a glance."""
    return BRIGHTEST.utility(surely_bright(lit_scene_of(there))) >= WANTING and _good(lit, there, _brightest, BRIGHTEST)


def _pictured(setup: Setup, name: str) -> bool:
    """Whether any of a window's corners or its middle falls in the picture."""
    pane = scene_of(setup).windows[name]
    spots = scene_of(setup).pinhole.project(np.array([*pane.corners(), pane.middle]))
    return bool(((spots > 0) & (spots < 1)).all(axis=1).any())


def set_off(lit: Lit) -> Iterator[Move]:
    """Hair and wall told apart; where nothing is enough, what comes half of the way to it."""
    setup, now = lit.setup, lit.edge()
    lamps = [move for move in switches(setup, "edge") if move.id.startswith(("backdrop.edge_on", "backdrop.edge_off"))]
    offered = [*_enough(lit, iter(lamps), Lit.edge, EDGE), *_first(lit, _forward(setup, "edge"), Lit.edge, EDGE)]
    yield from offered
    if now is None or offered:
        return
    left = [(_edge_after(lit, move), move) for move in (*lamps, *_forward(setup, "edge"))]
    most, best = max(left, key=lambda pair: pair[0], default=(now, None))
    if best is not None and EDGE.utility(most) >= (1 + EDGE.utility(now)) / 2:
        yield replaced(
            best,
            detail=f"That alone is not quite enough: your hair then stands out by {in_stops(most)}, now by {in_stops(now)}.",
            retold=_beside_others(best),
        )


def _edge_after(lit: Lit, move: Move) -> float:
    there = after(lit.setup, move.patch)
    edge = lit.carried_to(there).edge() if there else None
    return -math.inf if edge is None else edge


def shadow_off(lit: Lit) -> Iterator[Move]:
    """The lamp that throws it beside the camera, or off, or the desk away from the wall; where none of it is enough, what halves it."""
    setup, shadow = lit.setup, lit.shadow()
    thrower = next((light for light in setup.lights if shadow and light.id == shadow.source), None)
    switched = [move for move in switches(setup, "shadow") if thrower and move.id.endswith(f"_off.{thrower.id}")]
    ways = [_carried(lit, thrower) if thrower and thrower.stands in ON_DESK else iter(()), iter(switched), _forward(setup, "shadow")]
    offered = [move for way in ways for move in _first(lit, way, _shadow, SHADOW)]
    yield from offered
    if shadow and not offered:
        lit_more = (move for move in switches(setup, "shadow") if "_on." in move.id)
        left = [(_stops_after(lit, move), move) for move in (*_forward(setup, "shadow"), *lit_more)]
        least, move = min(left, key=lambda pair: pair[0], default=(shadow.stops, None))
        if move is not None and least <= HALVED * shadow.stops:
            yield replaced(move, detail=f"That alone is not enough: it leaves {in_stops(least)} of it, of {in_stops(shadow.stops)}.",
                           retold=_beside_others(move))  # fmt: skip


def _beside_others(move: Move) -> Retold:
    """What is told of a move where other steps are done, too: that it is not enough alone matters no more."""
    return lambda before, after: (move.detail,)


def _stops_after(lit: Lit, move: Move) -> float:
    there = after(lit.setup, move.patch)
    stops = _shadow(lit.carried_to(there)) if there else None
    return math.inf if stops is None else stops


def _first(lit: Lit, moves: Iterator[Move], figure: Figure, band: Band) -> Iterator[Move]:
    """The first of some moves after which a figure is as wanted."""
    yield from islice(_enough(lit, moves, figure, band), 1)


def _carried(lit: Lit, light: Light) -> Iterator[Move]:
    """A lamp of the desk beside or over the camera, where its shadow falls behind the presenter, wherever it can stand."""
    setup, standing = lit.setup, Standing(lit.setup)
    units, lens = setup.preferences.units, scene_of(setup).pinhole.place
    right, top_m = right_of(setup.presenter.facing_yaw_deg), setup.desk.height_m
    for over_m in OVER_DESK_M:
        for aside_m in ASIDE_M:
            there = np.array([*(lens + aside_m * right)[:2], top_m + over_m])
            yaw_deg, tilt_deg = yaw_tilt_deg(scene_of(setup).face.eyes - there)
            values = {f"position/{axis}_m": round(float(there[index]), 3) for index, axis in enumerate("xyz")}
            values |= {"aim_yaw_deg": round(yaw_deg, 1), "aim_tilt_deg": round(tilt_deg, 1)}
            patch = tuple(replace(f"/lights/{light.id}/{name}", value) for name, value in values.items())
            done = after(setup, patch)
            source = lamp_source(next(there for there in done.lights if there.id == light.id)) if done else None
            shadow = lit.shadow(source) if source else None
            if done is None or shadow is None or SHADOW.utility(shadow.stops) < WANTING or not standing.free(done):
                continue
            side = f"{length(abs(aside_m), units)} {'right' if aside_m > 0 else 'left'} of" if aside_m else "right over"
            title = f"Put {the(light.name)} {side} the camera, {length(over_m, units)} above the desk, and aim it at your face"
            yield Move(f"backdrop.shadow_carry.{light.id}", title, patch, FREE, lamp_cautions(light))


def _forward(setup: Setup, name: str) -> Iterator[Move]:
    """The desk and all on it away from the wall behind, by ever more."""
    if setup.desk.fixed:
        return
    ahead = direction(setup.presenter.facing_yaw_deg)[:2]
    seat = np.array([setup.presenter.x_m, setup.presenter.y_m])
    for way_m in AWAY_M:
        patch = desk_turned(setup, 0.0, seat + way_m * ahead)
        there = after(setup, patch)
        if there is None or not ((desk_outline(there.desk) >= 0).all() and (desk_outline(there.desk) <= room_size(there.room)[:2]).all()):
            return
        title = f"Move the desk {length(way_m, setup.preferences.units)} forward, away from the wall behind you"
        yield Move(f"backdrop.forward.{name}", title, patch, FREE, (cautions.HEAVY_DESK, cautions.CABLES))


def another_top(lit: Lit, name: str, figure: Figure, band: Band) -> Iterator[Move]:
    """Something lighter or darker on the chest, by the least."""
    top = outermost(lit.setup)
    if top is None:
        return
    root = f"/presenter/clothing/{top.id}"
    others = sorted(TOPS, key=lambda other: abs(other[0] - top.reflectance))
    moves = (
        Move(
            f"backdrop.wear_{name}.{top.id}",
            f"Wear {words} instead of {the(top.name)}",
            (replace(f"{root}/reflectance", reflectance), replace(f"{root}/colour", colour)),
        )
        for reflectance, colour, words in others
    )
    yield from _first(lit, moves, figure, band)


def calmed(lit: Lit) -> Iterator[Move]:
    """What is most restless away or covered, or a window that is seen veiled."""
    setup = lit.setup
    seen = sorted((thing for thing in setup.backdrop if thing.id in lit.behind.seen.parts), key=lambda thing: -lit.pattern(thing))
    worst = [thing for thing in seen[:1] if _could_calm(lit, thing.id)]
    yield from _enough(lit, iter((*carried_off(setup, worst), *hung_before(setup, worst))), Lit.busy, BUSY)
    windows = [name for name in lit.behind.seen.windows if _could_calm(lit, name)]
    veiled = (move for move in switches(setup, "busy") if move.id.rpartition(".")[2] in windows)
    yield from _enough(lit, veiled, Lit.busy, BUSY)


def _could_calm(lit: Lit, name: str) -> bool:
    """Whether it is calm enough behind with something left out: else it need not be tried."""
    left = lit.busy(name)
    return left is None or BUSY.utility(left) >= WANTING


MAKERS: dict[str, Callable[[Lit], Iterator[Move]]] = {
    "backdrop.brightest": dimmed,
    "backdrop.edge": set_off,
    "backdrop.shadow": shadow_off,
    "backdrop.busy": calmed,
    "backdrop.garment": lambda lit: another_top(lit, "middling", Lit.garment, GARMENT),
    "backdrop.melts": lambda lit: another_top(lit, "apart", Lit.melts, MELTS),
}
