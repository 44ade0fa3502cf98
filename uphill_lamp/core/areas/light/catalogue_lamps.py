"""Lamps from the catalogue, each where it serves best: for the ladder, which weighs them against one another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from uphill_lamp.core.areas.light.lamp_placing import Spot, aimed_at_face, best_spot, overhead
from uphill_lamp.core.areas.light.lamp_words import stood_anew, stood_words
from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.patch import Operation, add, replace
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.judging import Move
from uphill_lamp.core.offers import Offer, with_all
from uphill_lamp.core.scene.handling import lamp_cautions
from uphill_lamp.core.scene.scene import scene_of

MOST_KINDS, MOST_OF_A_KIND = 24, 4  # lamps that are weighed, the cheapest first; and how many one kit may hold
FIELDS = ("kind", "beam_deg", "width_m", "height_m", "flux_lm", "cct_k", "cri", "stands", "drive", "heat", "hue_deg")
SHADE = ("transmittance", "width_m", "height_m")  # of a shade all round, as shade_transmittance and so on


def lamps(lit_scene: LitScene) -> Iterator[Move]:
    """Every lamp of the catalogue that can be had, placed; with the overhead lamps on, and off."""
    above = [light for light in overhead(lit_scene.setup) if light.stands in ("ceiling", "wall")]
    for kind in catalogue().cheapest("lamp", MOST_KINDS):
        if "hue_deg" in kind.attributes:  # a coloured lamp leads nowhere
            continue
        if (had := with_all(lit_scene.setup, [kind.entry])) is not None:
            for off in ([], above) if above else ([],):
                yield from _placed(lit_scene, kind, had, off)


def _placed(lit_scene: LitScene, kind: Kind, had: Offer, off: Sequence[Light]) -> Iterator[Move]:
    """A lamp, or as many as the kind holds, each put where it serves best beside those before it."""
    setup, added, first_spot = lit_scene.setup, [], ""
    taken = {light.id for light in setup.lights} | {light.name for light in setup.lights}
    for number in range(1, int(min(max(kind.number("count", 1), 1), MOST_OF_A_KIND)) + 1):
        named = lamp_of(kind, number)
        if named is None:
            return
        if {named.id, named.name} & taken:
            return
        spot = _spot(lit_scene, kind, named, off)
        if spot is None:
            return
        added.append(spot.light)
        first_spot = first_spot or stood_words(setup, spot.light)
        lit_scene = lit_scene_of(setup.model_copy(update={"lights": (*setup.lights, *added)}))
    operations: tuple[Operation, ...] = tuple(add("/lights/-", light.model_dump(mode="json")) for light in added)
    switched = tuple(replace(f"/lights/{light.id}/on", False) for light in off)
    title = kind.name + (", and the overhead light off" if off else "")
    name = f"light.catalogue.{kind.entry}" + (".overhead_off" if off else "")
    at_lens = kind.attributes.get("placing") == "lens"
    where, anew = ("Round the lens, aimed at your face.", None) if at_lens else (first_spot, stood_anew(added[0].id))
    warnings = tuple(dict.fromkeys((*kind.caution_words, *lamp_cautions(added[0]))))
    yield Move(name, title, (*operations, *switched, *had.patch), had.cost, warnings, detail=where, retold=anew)


def lamp_of(kind: Kind, number: int = 1) -> Light | None:
    """A lamp of a kind, new, the first of its kit or another; None for one of somebody's own whose figures make no lamp."""
    mark = "" if number == 1 else f"-{number}"
    named = {"id": f"new-{kind.entry.replace('_', '-')}"[:37] + mark, "name": kind.name[:76] + mark.replace("-", " ")}
    figures = kind.figures(*FIELDS) | _shade(kind) | ({"accent": True} if "hue_deg" in kind.attributes else {})
    try:
        return Light.model_validate({"position": {"x_m": 1, "y_m": 1, "z_m": 1}, "on": True} | figures | named | {"entry": kind.entry})
    except ValueError:
        return None


def _shade(kind: Kind) -> dict[str, Any]:
    shade = kind.figures(*(f"shade_{name}" for name in SHADE))
    return {"diffuser": {name.removeprefix("shade_"): value for name, value in shade.items()} | {"around": True}} if shade else {}


def _spot(lit_scene: LitScene, kind: Kind, lamp: Light, off: Sequence[Light]) -> Spot | None:
    if kind.attributes.get("placing") != "lens":
        return best_spot(lit_scene, lamp, [light.id for light in off])
    lens = scene_of(lit_scene.setup).lens.place
    return Spot(aimed_at_face(lamp, scene_of(lit_scene.setup).face, lens), 0.0, 0.0, 0.0)
