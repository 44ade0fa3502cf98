"""Moves for what is worn: something plain, another colour."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from uphill_lamp.core.areas.backdrop.worn import BRIM_STOPS, FOLDS, brim_stops, finest, is_strong_red, outermost, pitch_px
from uphill_lamp.core.document.patch import Patch, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.wording import length, the

CALM, CALM_REFLECTANCE = "#3c5a73", 0.2  # a middling blue: no red to smear, and neither white nor black
GOOD_PX, ROUND_M = 6.0, 0.005


def plain(setup: Setup) -> Iterator[Move]:
    """Without the pattern; a pattern that is large enough is told as the other way."""
    fine = finest(setup)
    if fine is None:
        return
    garment, _ = fine
    coarse_m = ROUND_M
    while (px := pitch_px(setup, coarse_m)) is not None and px < GOOD_PX and coarse_m < 0.5:
        coarse_m += ROUND_M
    detail = f"Or a pattern whose repeat is {coarse_m * 100:.1f} cm or more: folds make it {1 - FOLDS:.0%} finer still."
    patch = (replace(f"/presenter/clothing/{garment.id}/pattern", "plain"), replace(f"/presenter/clothing/{garment.id}/pitch_m", 0.0))
    yield Move(f"backdrop.wear_plain.{garment.id}", f"Wear something plain instead of {the(garment.name)}", patch, detail=detail)


def calmer(setup: Setup) -> Iterator[Move]:
    """Another colour on the chest."""
    top = outermost(setup)
    if top is not None and is_strong_red(top.colour):
        root = f"/presenter/clothing/{top.id}"
        patch = (replace(f"{root}/colour", CALM), replace(f"{root}/reflectance", CALM_REFLECTANCE))
        yield Move(f"backdrop.wear_calm.{top.id}", f"Wear another colour than {the(top.name)}, such as a middling blue", patch)


def clear_lenses(setup: Setup) -> Iterator[Move]:
    """Dark glasses off; or clear ones on."""
    yield Move("backdrop.glasses_off", "Take the dark glasses off", (replace("/presenter/glasses", "none"),))
    yield Move("backdrop.clear_glasses", "Wear glasses with clear lenses", (replace("/presenter/glasses_transmittance", 1.0),))


def hat_off(setup: Setup, lit_scene: Any) -> Iterator[Move]:
    """The hat off; or pushed back as far as it takes, where that is enough.

    Args:
        lit_scene: the lit field of the setup.
    """
    hats: Patch = tuple(remove(f"/presenter/clothing/{garment.id}") for garment in setup.presenter.clothing if garment.kind == "hat")
    stops = f"Your face gets {brim_stops(setup, lit_scene):.1f} stops more light."
    yield Move("backdrop.hat_off", "Take your hat off", (replace("/presenter/brim_m", 0.0), *hats), detail=stops)
    for share in (0.75, 0.5, 0.25):
        brim_m = round(setup.presenter.brim_m * share, 3)
        there = setup.model_copy(update={"presenter": setup.presenter.model_copy(update={"brim_m": brim_m})})
        if brim_m and brim_stops(there, lit_scene_of(there)) < BRIM_STOPS:
            title = f"Push your hat back until its brim stands out {length(brim_m, setup.preferences.units)}"
            yield Move("backdrop.hat_back", title, (replace("/presenter/brim_m", brim_m),))
            return
