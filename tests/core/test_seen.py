"""What rays meet, all things at once: against the same looked for thing by thing, and put back into the shapes met."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given

from tests.promise import promise
from tests.setups import put, varied_setups
from uphill_lamp.core.areas.light.lamp_placing import face_light_utilities, face_light_utility
from uphill_lamp.core.areas.light.measures import FROM_ABOVE, SIDES
from uphill_lamp.core.document import Setup
from uphill_lamp.core.field.light.lit_scene import FACE_POINTS
from uphill_lamp.core.judging import Band
from uphill_lamp.core.scene.body import head_frame, meet, normals_at, trunk
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.placing import Pane, desk_pane, face_of, pinhole_of, reflector_pane, room_size, screen_pane, window_pane
from uphill_lamp.core.scene.view import IN_WALL_M, backdrop_panes, view_of

ACROSS, DOWN = 16, 9


def panes(setup: Setup) -> list[tuple[str, Pane, float]]:
    """Every rectangle a lens can meet: its id, and by how much it comes before what it lies in [m]."""
    actual = [(window.id, window_pane(setup.room, window), IN_WALL_M) for window in setup.room.windows]
    actual += [(name, pane, 0.0) for name, pane in backdrop_panes(setup)]
    actual += [(screen.id, screen_pane(screen), 0.0) for screen in setup.screens]
    lens = pinhole_of(setup).place
    for screen in setup.screens:  # from more than 5 cm behind, a screen is met from its back
        pane = screen_pane(screen)
        if screen.kind != "prompter_glass" and (lens - pane.middle) @ pane.normal < -0.05:
            actual.append((screen.id, replace(pane, normal=-pane.normal, right=-pane.right), 0.0))
    actual += [("chair", pane, 0.0) for pane in chair_panes(setup)]
    actual.append(("desk", desk_pane(setup.desk), 0.0))
    return actual + [(sheet.id, reflector_pane(sheet), 0.0) for sheet in setup.reflectors]


def met(setup: Setup, start: list[float], ray: list[float]) -> float:
    """How far the nearest wall or rectangle is along one ray [m], in plain Python."""
    size = room_size(setup.room).tolist()
    nearest = min((size[axis] * (ray[axis] > 0) - start[axis]) / ray[axis] for axis in range(3) if abs(ray[axis]) > 1e-9)
    for _, pane, before_m in panes(setup):
        normal, right, up = pane.normal.tolist(), pane.right.tolist(), pane.up.tolist()
        facing = sum(a * b for a, b in zip(ray, normal, strict=True))
        if facing > -1e-9:
            continue
        offset = [a - b for a, b in zip(start, pane.middle.tolist(), strict=True)]
        reach = -sum(a * b for a, b in zip(offset, normal, strict=True)) / facing
        on = [a + reach * b for a, b in zip(offset, ray, strict=True)]
        along, upward = (sum(a * b for a, b in zip(on, axis, strict=True)) for axis in (right, up))
        if 1e-6 < reach < nearest + before_m and abs(along) <= pane.width_m / 2 and abs(upward) <= pane.height_m / 2:
            nearest = reach
    return nearest


class Rays(TestCase):
    @promise(20)
    @given(varied_setups())
    def test_they_stop_where_one_ray_and_one_thing_at_a_time_stop(self, setup: Setup) -> None:
        pinhole = pinhole_of(setup)
        x, y = np.meshgrid((np.arange(ACROSS) + 0.37) / ACROSS, (np.arange(DOWN) + 0.41) / DOWN)
        rays = pinhole.ray(x.ravel(), y.ravel())
        view = view_of(setup, pinhole, rays)
        reach = np.linalg.norm(view.place - pinhole.place, axis=1)
        things = np.flatnonzero(~view.mask("head", "neck", "shirt", "hair"))
        wanted = [met(setup, pinhole.place.tolist(), rays[index].tolist()) for index in things]
        np.testing.assert_allclose(reach[things], wanted, rtol=1e-9, atol=2 * IN_WALL_M)

    @promise(20)
    @given(varied_setups())
    def test_what_is_met_of_a_body_lies_on_it_and_nothing_of_it_before(self, setup: Setup) -> None:
        shape, face = trunk(setup.presenter), face_of(setup)
        start = face.at(0.9, 0.3, 0.2)
        aims = np.array([face.at(-0.05, left, up) for left in np.linspace(-0.35, 0.35, 9) for up in np.linspace(-0.6, 0.2, 9)])
        rays = (aims - start) / np.linalg.norm(aims - start, axis=1, keepdims=True)
        hit, reach, parts = meet(shape, face, start, rays.T)
        met, places = dict(zip(hit.tolist(), reach.tolist(), strict=True)), start + reach[:, None] * rays[hit]
        self.assertGreater(len(hit), 20)
        for index, ray in enumerate(rays):  # one that misses meets nothing as far as it goes
            before = (start + np.linspace(0, met.get(index, 2.0), 200)[:-1, None] * ray - face.eyes) @ head_frame(face).T
            for part in shape:
                self.assertGreater(float((((before - part.middle) / part.radii) ** 2).sum(axis=1).min()), 1 - 1e-9)
        for place, part, normal in zip(places, (shape[number] for number in parts), normals_at(shape, face, places, parts), strict=True):
            on = head_frame(face) @ (place - face.eyes) - part.middle
            self.assertAlmostEqual(float(((on / part.radii) ** 2).sum()), 1, places=9)
            slope = head_frame(face).T @ (on / np.array(part.radii) ** 2)
            np.testing.assert_allclose(normal, slope / np.linalg.norm(slope), atol=1e-9)

    def test_a_pane_comes_before_its_wall_and_a_thing_before_the_pane(self) -> None:
        from tests.setups import demo

        setup = demo("kitchen-table")
        window = setup.room.windows[0]
        pane = window_pane(setup.room, window)
        start = pane.middle + 1.2 * pane.normal
        for away_m, kind in ((None, "window"), (0.3, "backdrop")):
            thing = setup.backdrop[0]
            spot = pane.middle + (away_m or 5.0) * pane.normal
            moved = (
                put(setup, **{f"backdrop__{thing.id}__position": dict(zip(("x_m", "y_m", "z_m"), spot.tolist(), strict=True))})
                if away_m
                else setup
            )
            lens = pinhole_of(moved)
            lens = type(lens)(start, lens.forward, lens.right, lens.up, lens.field)
            view = view_of(moved, lens, -pane.normal[None])
            self.assertEqual(view.things[int(view.what[0])].kind, kind)


class ManyAtOnce(TestCase):
    def test_bands_judge_many_values_as_they_judge_each(self) -> None:
        bands = [FROM_ABOVE, SIDES["shaped"], Band(100, 500, 20, 5000, log2=True), Band(None, 3, None, 9), Band(None, None, None, None)]
        values = np.concatenate([np.linspace(-12, 12, 97), np.geomspace(1e-9, 1e6, 60)])
        for band in bands:
            np.testing.assert_allclose(band.utilities(values), [band.utility(float(value)) for value in values], rtol=1e-12)
            self.assertEqual(band.utilities(values[:6].reshape(2, 3)).shape, (2, 3))

    def test_many_lights_are_worth_what_each_is(self) -> None:
        lit_lx = np.random.default_rng(3).uniform(0, 900, (4, 5, len(FACE_POINTS)))
        lit_lx[0, 0] = 0.0
        level, sides = Band(100, 500, 20, 5000, log2=True), SIDES["even"]
        actual = face_light_utilities(level, sides, lit_lx)
        for index in np.ndindex(4, 5):
            face_lx = dict(zip(FACE_POINTS, lit_lx[index].tolist(), strict=True))
            stops = [math.log2(max(face_lx[a], 0.1) / max(face_lx[b], 0.1)) for a, b in (("left_cheek", "right_cheek"), ("top", "front"))]
            good = level.utility(face_lx["front"]), sides.utility(abs(stops[0])), FROM_ABOVE.utility(stops[1])
            wanted = 7 / sum(weight / (0.1 + 0.9 * utility) for weight, utility in zip((3, 2, 2), good, strict=True))
            self.assertAlmostEqual(float(actual[index]), wanted, places=12)
            self.assertAlmostEqual(face_light_utility(level, sides, face_lx), wanted, places=12)
