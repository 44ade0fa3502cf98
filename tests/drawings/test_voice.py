"""Sound on the drawings: columns by pitch, rings of reach."""

from __future__ import annotations

import re
from unittest import TestCase

from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.drawings.octaves import BANDS, octave_bars, octave_chart
from uphill_lamp.drawings.plan import plan, plan_sheet


class Octaves(TestCase):
    def test_columns_are_as_high_as_what_arrives(self) -> None:
        heard = appraise(demo()).heard
        assert heard is not None
        for drawn in (str(octave_bars(heard)), str(octave_chart(heard))):
            heights = [float(height) for height in re.findall(r'<rect[^>]* height="([\d.]+)"', drawn)]
            self.assertEqual(len(heights), 7)
            tallest = heights[3] / heard.octave_indices[3]
            for height, share in zip(heights, heard.octave_indices, strict=True):
                self.assertAlmostEqual(height, share * tallest, delta=0.2)
            self.assertIn("Clarity by pitch: 125 Hz", drawn)
        for words in BANDS:
            self.assertIn(f">{words}<", str(octave_chart(heard)))


class Reach(TestCase):
    def test_the_outer_ring_is_where_the_room_is_as_loud(self) -> None:
        appraisal = appraise(demo("standing-webinar"))
        drawn = str(plan(appraisal, "sound", ""))
        radii = [float(radius) for radius in re.findall(r'r="([\d.]+)"[^>]*class="voice-ring', drawn)] or [
            float(radius) for radius in re.findall(r'class="voice-ring[^"]*"[^>]* r="([\d.]+)"', drawn)
        ]
        assert appraisal.heard is not None
        scale = plan_sheet(appraisal.setup).scale
        self.assertAlmostEqual(max(radii), appraisal.heard.critical_distance_m * scale, delta=0.2)
        self.assertAlmostEqual(min(radii) / max(radii), 10 ** (-8 / 20), delta=0.01)
        self.assertIn("room as loud as you", drawn)
        self.assertNotIn("voice-ring", str(plan(appraisal, "light", "")))

    def test_without_a_microphone_there_is_no_ring(self) -> None:
        silent = appraise(put(demo(), microphones__laptop_h_mic__in_use=False))
        self.assertNotIn("voice-ring", str(plan(silent, "sound", "")))
