"""What no other program can be asked for: what is affordable, what glass mirrors, what a window takes out of a wall."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.setups import demo, put
from uphill_lamp.core.areas.light.glare import LENS_SHARE
from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.field.light.patches import SURFACES
from uphill_lamp.core.field.light.radiosity import solved
from uphill_lamp.core.offers import bought
from uphill_lamp.core.scene.view import surface_reflectance


class Affordable(TestCase):
    def test_what_costs_exactly_what_there_is_can_be_had_and_a_penny_more_cannot(self) -> None:
        for entry in ("usb_headset", "rug", "small_panel", "boom_arm"):
            price = catalogue().price(entry, "GBP")
            assert price is not None
            self.assertIsNotNone(bought(put(demo(), preferences__budget=price), entry))
            self.assertIsNone(bought(put(demo(), preferences__budget=price - 0.01), entry))


class Glass(TestCase):
    def test_spectacles_mirror_what_two_faces_of_glass_do(self) -> None:
        for index in (1.5, 1.53):  # CR-39 and crown glass, by Fresnel at right angles
            both = 2 * ((index - 1) / (index + 1)) ** 2
            self.assertAlmostEqual(LENS_SHARE["plain"], both, delta=0.01)
        self.assertLess(LENS_SHARE["anti_reflective"], LENS_SHARE["plain"] / 4)


class Panes(TestCase):
    @given(st.floats(0.3, 2.6), st.floats(0.3, 2.0), st.sampled_from(["wall_x0", "wall_x1", "wall_y0", "wall_y1"]))
    def test_a_window_takes_its_own_area_out_of_what_its_wall_throws_back(self, wide: float, high: float, wall: str) -> None:
        plain: Any = put(demo("kitchen-table"), room__windows=[]).room
        window = (
            demo("kitchen-table")
            .room.windows[0]
            .model_copy(update={"wall": wall, "width_m": wide, "height_m": high, "centre_m": 1.6, "sill_m": 0.2})
        )
        number = next(index for index, (name, _, _) in enumerate(SURFACES) if name == wall)
        throws = []
        for room in (plain, plain.model_copy(update={"windows": (window,)})):
            enclosure = solved(room)
            here = enclosure.patches.surface == number
            throws.append(float((enclosure.reflectance * enclosure.patches.area_m2)[here].sum()))
            elsewhere = float((enclosure.reflectance * enclosure.patches.area_m2)[~here].sum())
            throws.append(elsewhere)
        whole, others, left, still = throws
        reflectance = surface_reflectance(getattr(plain.surfaces, wall))
        self.assertAlmostEqual(whole - left, reflectance * wide * high, delta=0.02 * whole)
        self.assertAlmostEqual(others, still, places=9)
        self.assertTrue(np.isfinite(left))
