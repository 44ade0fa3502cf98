"""Things behind as the picture draws them: each of its kind, none that breaks it, and mirrors that show what they would."""

from __future__ import annotations

import math
from dataclasses import replace as replaced
from typing import Any, get_args
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup, typical
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import backdrop_panes, view_of
from uphill_lamp.drawings.far_side.cast import SURFACES, cast, flats_of
from uphill_lamp.drawings.far_side.colour import LUMA
from uphill_lamp.drawings.far_side.paint import glow, painted
from uphill_lamp.drawings.far_side.render import render

KINDS = get_args(BackdropThing.model_fields["kind"].annotation)
SIDE = 120


def thing(kind: str, **changes: Any) -> BackdropThing:
    place = {"x_m": 1.0, "y_m": 0.2, "z_m": 1.2}
    return BackdropThing.model_validate(typical.backdrop(kind, "x", place, **changes))


def places() -> tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]:
    """Places all over a thing."""
    along = (np.arange(SIDE, dtype=np.float32) + np.float32(0.5)) / np.float32(SIDE)
    across, down = np.meshgrid(along, along)
    return across.ravel(), down.ravel()


def with_behind(*kinds: str, **changes: Any) -> Setup:
    """A room that works with other things at its back wall, beside the head."""
    things = [
        typical.backdrop(kind, f"t{number}", {"x_m": 2.4, "y_m": 0.15, "z_m": 1.3}, name=f"Thing {number}", **changes)
        for number, kind in enumerate(kinds)
    ]
    return put(demo("room-that-works"), backdrop=things, origins={})


class EachKind(TestCase):
    def test_each_is_itself_and_as_light_as_it_is_entered(self) -> None:
        seen: dict[str, Any] = {}
        for kind in KINDS:
            albedo, covers = painted(thing(kind, colour="#808080"), *places())
            self.assertGreater(covers.mean(), 0.15, kind)
            luma = float((albedo[covers] @ LUMA).mean())
            entered = thing(kind).reflectance
            self.assertLess(abs(math.log2(luma / entered)), 1.6, (kind, luma, entered))
            seen[kind] = np.where(covers[:, None], albedo / luma, 0.0)
        alike = {"cloth", "green_screen"}, {"screen", "plain_wall"}  # told apart by colour, and by what shines
        for kind in KINDS:
            others = [other for other in KINDS if other != kind and {kind, other} not in alike]
            self.assertGreater(min(float(np.abs(seen[kind] - seen[other]).mean()) for other in others), 0.03, kind)

    @given(st.sampled_from(KINDS), st.floats(0.02, 12), st.floats(0.02, 5), st.floats(0, 1))
    def test_any_size_and_shade_is_drawn(self, kind: str, width_m: float, height_m: float, reflectance: float) -> None:
        albedo, covers = painted(thing(kind, width_m=width_m, height_m=height_m, reflectance=reflectance), *places())
        self.assertTrue(np.isfinite(albedo).all() and albedo.min() >= 0.01 - 1e-6 and albedo.max() <= 0.95 + 1e-6)
        self.assertEqual((albedo.shape, covers.shape), ((SIDE**2, 3), (SIDE**2,)))

    def test_a_door_in_use_stands_ajar_and_a_screen_shows_writing(self) -> None:
        across, down = places()
        shut, ajar = (painted(thing("door", in_use=used), across, down)[0] @ LUMA for used in (False, True))
        gap = across > 0.8
        self.assertGreater(shut[gap].mean(), 5 * ajar[gap].mean())
        shows = glow(thing("screen"), across, down)
        self.assertTrue(0.5 < shows.mean() < 0.9 and shows.max() == 1 and shows[across > 0.99].max() == 0)
        self.assertTrue((glow(thing("clock"), across, down) == 1).all())

    def test_twenty_things_at_one_place_are_drawn_and_the_lightest_shows(self) -> None:
        many = render(appraise(with_behind(*(KINDS * 2)[:20])), 96).pixels
        self.assertTrue(many.std() > 5)
        dark, light = (
            render(appraise(with_behind("plain_wall", reflectance=value)), 96).pixels[20:30, 8:20].mean() for value in (0.05, 0.9)
        )
        self.assertGreater(light, 1.5 * dark)


class Stems(TestCase):
    def test_a_floor_lamp_in_view_stands_on_something(self) -> None:
        """Dark from under the lamp down to the floor, and nothing of the sort under one that hangs from the ceiling."""
        lamp = typical.light("floor_lamp", "lamp", "Lamp", {"x_m": 2.5, "y_m": 0.6, "z_m": 1.6}, on=False)
        setup = put(
            demo("room-that-works"), backdrop=[], lights=[*demo("room-that-works").model_dump(mode="json")["lights"], lamp], origins={}
        )
        hung = put(setup, lights__lamp__stands="ceiling")
        x, y = scene_of(setup).pinhole.project(np.array([[2.5, 0.6, 1.2]]))[0]
        column, row = int(x * 320), int(y * 180)
        standing, hanging = (render(appraise(there), 320).pixels[row, column - 4 : column + 5].mean(axis=1) for there in (setup, hung))
        self.assertLess(standing.min(), 0.75 * hanging.min())


class Mirrors(TestCase):
    def test_it_shows_what_a_ray_sent_back_by_it_meets(self) -> None:
        """Against the rays that metering casts, sent off anew from the glass."""
        setup = with_behind("mirror")
        pinhole, (_, pane) = scene_of(setup).pinhole, backdrop_panes(setup)[0]
        across, down = places()
        met = cast(setup, flats_of(setup, pinhole.place), pinhole, across, down)
        on = met.mirrored
        self.assertGreater(len(on), 200)
        rays = pinhole.ray(across[on], down[on])
        away = ((pane.middle - pinhole.place) @ pane.normal) / (rays @ pane.normal)
        glass = pinhole.place + away[:, None] * rays
        back = rays - 2 * (rays @ pane.normal)[:, None] * pane.normal
        places_m, hit = met.places(pinhole.place)[on], 0
        for index in range(0, len(on), 11):
            view = view_of(setup, replaced(pinhole, place=glass[index] + 1e-6 * back[index]), back[index][None])
            if view.things[view.what[0]].kind not in ("surface", "window", "desk", "screen"):
                continue  # the presenter's back is not drawn in a mirror
            np.testing.assert_allclose(places_m[index], view.place[0], atol=2e-3)
            hit += 1
        self.assertGreater(hit, 15)
        self.assertTrue((met.what[on] != len(SURFACES) + len(setup.room.windows) + len(setup.room.doors)).all())

    def test_one_across_the_lens_and_one_too_small_do_no_harm(self) -> None:
        for changes in ({"width_m": 3.0, "height_m": 2.2}, {"width_m": 0.02, "height_m": 0.02}):
            setup = with_behind("mirror", "mirror", **changes)
            pixels = render(appraise(setup), 96).pixels
            self.assertEqual(pixels.shape[1], 96)
            met = cast(setup, flats_of(setup, scene_of(setup).pinhole.place), scene_of(setup).pinhole, *places())
            inside = met.places(scene_of(setup).pinhole.place)
            self.assertTrue((inside > -0.01).all() and (inside < np.array(room_size(setup.room)) + 0.01).all())
