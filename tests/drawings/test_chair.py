"""The chair and coloured lamps in the picture: where they are, what they darken, and what colour falls."""

from __future__ import annotations

import colorsys
from unittest import TestCase

import numpy as np

from tests.core.test_behind import behind
from tests.setups import demo, put
from uphill_lamp.core.areas.backdrop.lit import lit_of
from uphill_lamp.core.document import Setup, typical
from uphill_lamp.core.field.light.body_shadow import also_hidden
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.core.field.light.sources import PointSource
from uphill_lamp.core.scene.chair import chair_panes
from uphill_lamp.core.scene.colour_difference import luminance_of
from uphill_lamp.core.scene.in_view import GRID
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.drawings.far_side.chair import free_of
from uphill_lamp.drawings.far_side.colour import light_rgb
from uphill_lamp.drawings.far_side.render import luminance, shot_of

LUMA, COLUMNS = np.array([0.2126, 0.7152, 0.0722]), 400


def bulb(place: np.ndarray) -> PointSource:
    aim = np.array([0.0, -1.0, 0.0])
    return PointSource("lamp", place, aim, np.array([1.0, 0.0, 0.0]), 800.0, 360.0, 3000.0)


class Chair(TestCase):
    def seated(self, chair: str, **changes: object) -> Setup:
        return behind(presenter__chair=chair, presenter__chair_colour="#8a3b2a", **changes)

    def test_a_high_back_stands_beside_head_and_shoulders_in_its_colour_and_nobody_stands_before_one(self) -> None:
        none, high = (luminance(lit_scene_of(self.seated(chair)), COLUMNS) for chair in ("none", "high_back"))
        setup = self.seated("high_back")
        pinhole, rest = scene_of(setup).pinhole, chair_panes(setup)[-1]
        rows, columns = none.shape[:2]
        for across, differs in ((0.06, True), (-0.15, False)):  # inside its left edge, and beside it
            x, y = pinhole.project(rest.at(across, 0.5))
            spot = int(y * rows), int(x * columns)
            self.assertEqual(bool(np.abs(high[spot] / none[spot] - 1).max() > 0.1), differs, across)
            if differs:
                self.assertGreater(float(high[spot][0] / high[spot][2]), float(1.3 * none[spot][0] / none[spot][2]))
        for part in ("head", "shirt"):  # it is behind the sitter
            self.assertEqual(*(lit_of(there).sight.meets(part).sum() for there in (setup, self.seated("none"))))
        met = {thing.kind: thing.reflectance for thing in lit_of(setup).sight.view.things}
        self.assertAlmostEqual(met["chair"], luminance_of("#8a3b2a"))
        standing = put(demo("standing-webinar"), presenter__chair="high_back")
        self.assertEqual(chair_panes(standing), ())
        self.assertFalse(lit_of(standing).sight.meets("chair").any())

    def test_its_shadow_is_where_a_ruler_puts_it(self) -> None:
        """By hand: seen from a bulb level with it, a part 0.29 m wide throws a shadow as much wider as the wall is further away."""
        setup = self.seated("high_back")
        rest, face = chair_panes(setup)[-1], scene_of(setup).face
        source = bulb(rest.middle + 1.5 * face.forward)
        grows = (1.5 + 0.8) / 1.5
        for aside, hidden in ((0.0, 1.0), (0.49, 1.0), (0.51, 0.0)):
            place = rest.middle - 0.8 * face.forward + aside * grows * rest.width_m * face.left
            self.assertEqual(float(also_hidden(np.zeros(1), source, [rest], face, place[None])[0]), hidden, aside)
        for place in (rest.middle + 1e-4 * face.forward, rest.middle + 0.5 * face.forward):
            self.assertEqual(float(also_hidden(np.zeros(1), source, [rest], face, place[None])[0]), 0.0)

    def test_legs_throw_their_shadow_on_the_floor_and_nowhere_above_them(self) -> None:
        for name in ("standing-webinar", "room-that-works"):
            setup = demo(name)
            face = scene_of(setup).face
            sits = setup.presenter.posture == "sitting"
            shin = face.at(0.46 if sits else -0.09, 0.10, -1.0)
            source = bulb(shin + np.array([0.0, 0.0, 0.4]) + 1.0 * face.forward)
            beyond = source.place + (shin - source.place) * 1.3
            free = free_of(setup, source.place[None], np.array([beyond, [*beyond[:2], face.eyes[2]]]))
            self.assertEqual(free.tolist(), [[False], [True]], name)

    def test_the_meter_and_the_picture_have_the_same_shadow(self) -> None:
        setup = self.seated("high_back")
        lit = lit_of(setup)
        plain = lit_of(self.seated("none"))
        source = next(source for source in lit.lit_scene.sources if plain.sight.kept_off_lx(source).sum() > 0)
        more = lit.sight.kept_off_lx(source) - plain.sight.kept_off_lx(source)
        wall = lit.sight.meets("surface")
        self.assertGreaterEqual(float(more[wall].min()), -1e-9)
        self.assertGreater(float(more[wall].sum()), 0.02 * float(plain.sight.kept_off_lx(source)[wall].sum()))
        columns = GRID[0] * 8
        shown = [np.log2(luminance(there.lit_scene, columns) @ LUMA)[4::8, 4::8] for there in (lit, plain)]
        free = wall & plain.sight.meets("surface") & (shot_of(setup, columns).person.covers[4::8, 4::8].ravel() < 0.01)
        judged = (lit.shadow(), plain.shadow())
        assert judged[0] is not None and judged[1] is not None
        deeper = (judged[0].shaded - judged[1].shaded).ravel()[free]
        self.assertLess(float(np.abs(deeper - (shown[0] - shown[1]).ravel()[free]).mean()), 0.06)


class Accents(TestCase):
    def test_a_coloured_lamp_lights_in_its_hue_and_as_much_as_a_white_one(self) -> None:
        for hue_deg in (0.0, 120.0, 225.0):
            lamp = typical.light("accent", "glow", "Glow", {"x_m": 2.4, "y_m": 0.5, "z_m": 0.8}) | {
                "hue_deg": hue_deg,
                "kind": "bulb",
                "beam_deg": None,
            }
            setup = behind(lights=[lamp])
            scene = lit_scene_of(setup)
            tint = light_rgb(next(source for source in scene.sources if source.id == "glow"))
            self.assertAlmostEqual(float(tint @ LUMA), 1.0, places=4)
            self.assertAlmostEqual(colorsys.rgb_to_hsv(*((tint / tint.max()) ** (1 / 2.2)).tolist())[0] * 360, hue_deg, delta=4)
            covers = shot_of(setup, COLUMNS).person.covers < 0.01
            white = behind(lights=[lamp | {"accent": False, "hue_deg": None}])
            shown, plain = luminance(scene, COLUMNS)[covers], luminance(lit_scene_of(white), COLUMNS)[covers]
            self.assertEqual(int((shown / plain).mean(axis=0).argmax()), int(tint.argmax()))
