"""What no step may lead to, told by the check itself and by plain geometry."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np

from uphill_lamp.core.document import Setup
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.standing.stands_free import Standing


class Possible(TestCase):
    """Says whether what came of a setup can be at all: by the check itself, and by plain geometry."""

    def stands(self, standing: Standing, after: Setup, what: str) -> None:
        before = standing.before
        self.assertEqual(standing.new(after), frozenset(), what)
        day = bool(before.room.windows) and sun_position_deg(before.place)[0] > 0
        was = {screen.id: screen for screen in before.screens}
        for screen in after.screens:
            for window in screen.windows:
                wide_m = screen.width_m * window.width_px / screen.width_px
                old = next((w for w in was[screen.id].windows if w.id == window.id), None) if screen.id in was else None
                if window.shows == "call" and (old is None or old.width_px != window.width_px):
                    self.assertGreaterEqual(wide_m, 0.12 - 1e-3, what)
                    self.assertNotIn(screen.kind, ("phone", "tablet"), what)
            if screen.id in was and screen.luminance_cd_m2 < was[screen.id].luminance_cd_m2:
                self.assertGreaterEqual(screen.luminance_cd_m2, 0.35 * was[screen.id].luminance_cd_m2 - 1 if day else 60.0 - 1, what)
        if any(light.on for light in before.lights) and not day:
            self.assertTrue(any(light.on for light in after.lights), what)
        if self.off_desk_m(before) <= 0.45:
            self.assertLessEqual(self.off_desk_m(after), 0.46, what)
        for place in (light.position for light in after.lights):
            self.assertTrue(
                0 <= place.x_m <= after.room.width_m and 0 <= place.y_m <= after.room.depth_m and 0 <= place.z_m <= after.room.height_m,
                what,
            )

    def off_desk_m(self, setup: Setup) -> float:
        """How far the eyes are from the desk, turned into its own axes."""
        turn = math.radians(setup.desk.yaw_deg)
        x, y = setup.presenter.x_m - setup.desk.x_m, setup.presenter.y_m - setup.desk.y_m
        across, along = x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn)
        return float(np.hypot(max(abs(across) - setup.desk.width_m / 2, 0), max(abs(along) - setup.desk.depth_m / 2, 0)))
