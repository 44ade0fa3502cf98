"""Moves for the colour of light: a bulb changed, a filter before a lamp, the odd one off, pictures in step with the mains."""

from __future__ import annotations

from collections.abc import Iterator, Set

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.light.lamp_placing import can_do_without, overhead
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.response import ripple_left, shutter_s
from uphill_lamp.core.field.camera.spectral_mix import USUAL_DEPTH, SpectralMix
from uphill_lamp.core.field.light.colour import cct_and_duv, mired, mixed_uv, white_uv
from uphill_lamp.core.field.light.lit_scene import LEAST_LX
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import Offer, offered
from uphill_lamp.core.scene.wording import kelvin, percent, the

BULBS_K = (2700.0, 3000.0, 4000.0, 5000.0, 6500.0)  # what bulbs are sold in
GOOD_CRI = 92.0
BRIGHTER = 1.4  # times the light, or it is not worth changing a bulb for
FILTER_SHARE = 0.7  # of the light a filter lets through
# Frames a second one can choose, by kind of camera: working values. Built-in cameras and webcams leave it to the call.
OFFERED_FPS: dict[str, tuple[float, ...]] = {
    "built_in": (),
    "webcam": (),
    "phone_front": (24.0, 30.0, 60.0),
    "phone_rear": (24.0, 30.0, 60.0),
    "capture": (24.0, 25.0, 30.0, 50.0, 60.0),
}
IN_STEP = 0.01  # of a lamp's ripple left by the exposure


def moves_for(mixture: SpectralMix, wanting: Set[str]) -> Iterator[Move]:
    """What colour, tint, rendering and flicker want."""
    setup = mixture.lit_scene.setup
    if wanting & {"light.colour", "light.tint", "light.rendering", "light.flicker"}:
        yield from bulbs(setup, mixture)
    if wanting & {"light.face_level", "light.noise"}:
        yield from brighter_bulbs(setup)
    if "light.colour" in wanting:
        yield from odd_ones_off(mixture)
    if "light.flicker" in wanting:
        yield from in_step(setup)


def bulbs(setup: Setup, mixture: SpectralMix) -> Iterator[Move]:
    """For each lamp that is on, a good bulb of the white that goes best with the rest; a filter where there is no bulb to change."""
    for light in setup.lights:
        if not light.on or light.accent or not light.owned:
            continue
        cct_k = best_white_k(mixture, light.id)
        if cct_k is None:
            continue
        has_bulb = _takes_bulb(light)
        if has_bulb and (bulb := offered(setup, "bulb_true_colours", "An LED bulb whose box says Ra 90 or more")) is not None:
            root = f"/lights/{light.id}"
            patch = tuple(
                replace(f"{root}/{field}", value)
                for field, value, was in (
                    ("cct_k", cct_k, light.cct_k),
                    ("cri", GOOD_CRI, light.cri),
                    ("duv", 0.0, light.duv),
                    ("heat", "cool", light.heat),
                    ("flicker_depth", None, None if _usual(light) else light.flicker_depth),
                )
                if value != was and not (field == "cri" and light.cri > GOOD_CRI)
            )
            if patch:
                yield Move(f"light.bulb.{light.id}", f"Put a {kelvin(cct_k)}, Ra 90 bulb in {the(light.name)}", (*patch, *bulb.patch),
                           bulb.cost, (cautions.BULB,), detail=f"{bulb.words}; {light.flux_lm:.0f} lm as now.")  # fmt: skip
        elif (
            not has_bulb
            and abs(mired(cct_k) - mired(light.cct_k)) > 15
            and (film := offered(setup, "colour_filter", "A sheet of colour film")) is not None
        ):
            yield _filtered(light, cct_k, film)


def brighter_bulbs(setup: Setup) -> Iterator[Move]:
    """A bright daylight bulb in each weak lamp that lights the face: more light for little money."""
    kind, bulb = catalogue().kind("bulb_daylight"), offered(setup, "bulb_daylight", "A daylight LED bulb")
    if kind is None or bulb is None:
        return
    new = kind.figures("flux_lm", "cct_k", "cri")
    for light in setup.lights:
        weak = light.on and _takes_bulb(light) and light.kind != "file" and not light.accent and light.owned
        if weak and float(new.get("flux_lm", 0.0)) >= BRIGHTER * light.flux_lm:
            patch = tuple(
                replace(f"/lights/{light.id}/{field}", value)
                for field, value in {**new, "duv": 0.0, "heat": "cool", "flicker_depth": None}.items()
            )
            title = f"Put a bulb of {new['flux_lm']:.0f} lm in {the(light.name)}"
            detail = f"{bulb.words}; {light.flux_lm:.0f} lm now."
            yield Move(f"light.brighter_bulb.{light.id}", title, (*patch, *bulb.patch), bulb.cost, (cautions.BULB,), detail=detail)


def _takes_bulb(light: Light) -> bool:
    """Whether a lamp has a socket: one that runs on low voltage, such as a phone's torch, has its diodes built in."""
    return light.kind in ("bulb", "cone", "file") and light.drive == "mains"


def _usual(light: Light) -> bool:
    return light.flicker_depth is None or light.flicker_depth <= USUAL_DEPTH


def _filtered(light: Light, cct_k: float, film: Offer) -> Move:
    tone = "warm" if cct_k < light.cct_k else "cool"
    patch = (replace(f"/lights/{light.id}/cct_k", cct_k), replace(f"/lights/{light.id}/flux_lm", round(light.flux_lm * FILTER_SHARE, 1)))
    return Move(f"light.filter.{light.id}", f"Put a {tone} colour filter in front of {the(light.name)}", (*patch, *film.patch), film.cost, (cautions.PAPER,),
                detail=f"{film.words}. It turns {kelvin(light.cct_k)} into {kelvin(cct_k)} and takes about a third of the light.")  # fmt: skip


def spread_with(mixture: SpectralMix, lamp_id: str, cct_k: float | None) -> float:
    """Spread of colours on cheeks and behind were a lamp of another white, or off for None [mired]."""
    sources = mixture.lit_scene.sources
    whites = [
        white_uv(cct_k, 0.0) if source.id == lamp_id and cct_k else white for source, white in zip(sources, mixture.whites, strict=True)
    ]
    kept = np.array([float(source.id != lamp_id or cct_k is not None) for source in sources])
    rows = np.array([row for name, row in mixture.rows_lx.items() if name != "front"]) * kept
    lit = rows[rows.sum(axis=1) > LEAST_LX]
    if len(lit) < 2:
        return 0.0
    mixed_k = 1e6 / cct_and_duv(mixed_uv(whites, lit))[0]
    return float(mixed_k.max() - mixed_k.min())


def best_white_k(mixture: SpectralMix, lamp_id: str) -> float | None:
    """The bulb's white that brings the colours nearest together [K]; the lamp's own wins a tie. None if it gives nothing."""
    source = next((source for source in mixture.lit_scene.sources if source.id == lamp_id), None)
    if source is None:
        return None
    return min(BULBS_K, key=lambda cct_k: (round(spread_with(mixture, lamp_id, cct_k), 0), abs(mired(cct_k) - mired(source.cct_k))))


def odd_ones_off(mixture: SpectralMix) -> Iterator[Move]:
    """Each lamp whose white lies apart and that the face can do without, off."""
    setup = mixture.lit_scene.setup
    now = mixture.spread_mired or 0.0
    above = overhead(setup)  # those are offered off by themselves
    for light in setup.lights:
        if not light.on or light.accent or light in above or not can_do_without(mixture.lit_scene, light):
            continue
        if spread_with(mixture, light.id, None) < now - 5:
            title = f"Turn off the lamp that does not match: {the(light.name)} ({kelvin(light.cct_k)})"
            yield Move(f"light.odd_off.{light.id}", title, (replace(f"/lights/{light.id}/on", False),), FREE)


def in_step(setup: Setup) -> Iterator[Move]:
    """The camera's setting against flicker, for this mains; another number of frames a second where the camera offers one that keeps step."""
    camera, mains_hz = setup.main_camera, setup.place.mains_hz
    now_s = shutter_s(camera, mains_hz)
    steady = camera.model_copy(update={"anti_flicker": f"{mains_hz:g}_hz"})
    then_s = shutter_s(steady, mains_hz)
    if camera.kind != "capture" and _keeps_step(then_s, mains_hz) and then_s != now_s:
        yield Move("light.in_step", f"Set the camera's anti-flicker to {mains_hz:g} Hz",
                   (replace(f"/cameras/{camera.id}/anti_flicker", steady.anti_flicker),), FREE,
                   detail=f"In its settings, or in the call's. Each frame then holds whole flickers, {_costs(now_s, then_s)}.",
                   promises=(("light.flicker", 0.0),))  # fmt: skip
    offered_fps = [
        fps for fps in OFFERED_FPS[camera.kind] if _keeps_step(shutter_s(camera.model_copy(update={"fps": fps}), mains_hz), mains_hz)
    ]
    if offered_fps and camera.fps not in offered_fps:
        fps = min(offered_fps, key=lambda fps: (abs(fps - camera.fps), fps))
        then_s = shutter_s(camera.model_copy(update={"fps": fps}), mains_hz)
        yield Move("light.steady_rate", f"Send {fps:g} frames per second instead of {camera.fps:g}", (replace(f"/cameras/{camera.id}/fps", fps),), FREE,
                   detail=f"Each frame then holds whole flickers of the lamps, {_costs(now_s, then_s)}.",
                   promises=(("light.flicker", 0.0),))  # fmt: skip


def _keeps_step(exposure_s: float, mains_hz: float) -> bool:
    return ripple_left(exposure_s, mains_hz) < IN_STEP


def _costs(now_s: float, then_s: float) -> str:
    """What another exposure costs in light, in words."""
    less = 1 - then_s / now_s
    if less > 0.005:
        return f"and gets {percent(less)} less light"
    return "and gets as much light as now" if less > -0.005 else "and gets more light"
