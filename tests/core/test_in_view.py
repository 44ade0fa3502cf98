"""What is in view, cast in one and kept, and the light on it: as if each were worked out by itself and anew."""

from __future__ import annotations

from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import given

from tests.desks import DESKS, desk
from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core.areas.backdrop.lit import lit_of, surely_bright
from uphill_lamp.core.areas.backdrop.putting import after
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.field.camera import camera_rays
from uphill_lamp.core.field.camera.camera_rays import camera_rays_of
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.field.light.radiosity import Enclosure
from uphill_lamp.core.scene.handling import desk_turned
from uphill_lamp.core.scene.in_view import InView
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import shirt_reflectance

FIELDS = ("what", "place", "normal", "reflectance")


class Cast(TestCase):
    @promise(20)
    @given(varied_setups())
    def test_in_one_it_is_what_each_meets_by_itself(self, setup: Setup) -> None:
        whole, apart = InView(setup), InView(setup)
        self.assertEqual(len(whole.grid.what), 576)
        pairs = [(whole.fine, apart.fine), *((one.view, other.view) for one, other in [(whole.ring, apart.ring)] if one and other)]
        for one, other in pairs:
            for field in FIELDS:
                np.testing.assert_allclose(getattr(one, field), getattr(other, field), atol=1e-12)

    def test_what_is_worn_reflects_as_it_does_now(self) -> None:
        """The view is kept for another garment; its light is not."""
        setup = demo("kitchen-table")
        garment = setup.presenter.clothing[0]
        for reflectance in (0.05, 0.65):
            there = put(setup, **{f"presenter__clothing__{garment.id}__reflectance": reflectance})
            sight = camera_rays_of(there)
            self.assertEqual(set(sight.reflectance[: len(sight.view.what)][sight.meets("shirt")].tolist()), {shirt_reflectance(there)})


def changes(setup: Setup) -> list[Any]:
    """Things hung up, carried off and put elsewhere, another garment: what leaves most places as they were."""
    first = setup.backdrop[0]
    put_up = first.model_dump(mode="json") | {"id": "another", "name": "Another", "width_m": 0.5, "height_m": 0.6}
    put_up["position"] = put_up["position"] | {"x_m": setup.presenter.x_m}
    return [
        [{"op": "remove", "path": f"/backdrop/{first.id}"}],
        [{"op": "add", "path": "/backdrop/-", "value": put_up}],
        [{"op": "replace", "path": f"/backdrop/{first.id}/width_m", "value": 1.5 * first.width_m}],
        [{"op": "replace", "path": f"/presenter/clothing/{setup.presenter.clothing[0].id}/reflectance", "value": 0.6}],
    ]


class TakenOver(TestCase):
    def test_light_on_places_that_both_have_is_what_would_fall_there_anew(self) -> None:
        rows: list[int] = []
        seen_from = Enclosure.roughly_seen_from

        def counted(enclosure: Enclosure, places: Any, normals: Any) -> Any:
            rows.append(len(places))
            return seen_from(enclosure, places, normals)

        for setup in map(demo, demos()):
            for change in changes(setup):
                there = applied(setup, change)
                camera_rays.forget()
                _falls(setup)
                with patch.object(Enclosure, "roughly_seen_from", counted):
                    again = _falls(there)
                camera_rays.forget()
                np.testing.assert_allclose(again, _falls(there), rtol=1e-4, atol=1e-4)
        self.assertLess(sum(rows), 0.2 * 4 * 5 * 658)

    def test_nothing_is_taken_over_from_another_room(self) -> None:
        setup = demo("kitchen-table")
        walls = [{"op": "replace", "path": "/room/surfaces/wall_x0", "value": {"reflectance": 0.1, "absorption": [0.1] * 7}}]
        for there in (put(setup, room__height_m=setup.room.height_m + 0.4), applied(setup, walls)):
            camera_rays.forget()
            _falls(setup)
            known = _falls(there)
            camera_rays.forget()
            np.testing.assert_allclose(known, _falls(there), rtol=1e-6, atol=1e-6)


def _falls(setup: Setup) -> Any:
    """Light of each source on what is met over the picture and along the rim, shape (N + 2 M, sources)."""
    return camera_rays_of(setup).by_source_lx(lit_scene_of(setup))


class AtAGlance(TestCase):
    def test_nothing_is_ruled_out_that_is_no_brighter(self) -> None:
        """What a few rays tell of the brightest is never over what all tell; and it is told often enough to be of use."""
        told = 0
        for setup in (*map(demo, demos()), *map(desk, DESKS)):
            turned = (after(setup, desk_turned(setup, turn_deg)) for turn_deg in (40.0, -90.0, 180.0))
            for there in (setup, *filter(None, turned)):
                brightest, least = lit_of(there).brightest(), surely_bright(lit_scene_of(there))
                if brightest is not None:
                    self.assertLessEqual(least, brightest[0] + 1e-6)
                    told += least > brightest[0] - 1
        self.assertGreater(told, 40)

    def test_it_looks_from_where_the_camera_does(self) -> None:
        setup = demo("clock-bench")
        few = camera_rays.CameraRays.few(setup)
        np.testing.assert_allclose(few.view.origin, scene_of(setup).pinhole.place)
        np.testing.assert_array_equal(few.meets("surface"), camera_rays_of(setup).meets("surface")[:: camera_rays.FEW])
