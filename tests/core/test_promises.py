"""For 300 random valid setups: every offered move gives what it promises, says so when it costs points, and leads to nothing impossible."""

from __future__ import annotations

from hypothesis import given

from tests.possible import Possible
from tests.promise import promise
from tests.setups import varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Setup, applied

# How near a figure must come to its promise: places are kept to the millimetre, lids to a thousandth of a degree.
NEAR = {"deg": 0.15, "share": 0.004, "stops": 0.02, "STI": 0.001, "dB": 0.05}
NEAR_LX = 0.04  # of a level: a screen's share of it is taken to grow evenly, the first bounce is taken place by place


class Promises(Possible):
    @promise(300)
    @given(varied_setups())
    def test_all_areas_keep_their_word(self, setup: Setup) -> None:
        before = appraise(setup)
        for finding in before.findings_with_gains:
            for move in finding.moves:
                there = applied(setup, move.patch)
                self.stands(before.standing, there, move.title)
                self.assertTrue(move.cost.kind != "owned" or setup.kit, move.id)  # what stands in the room does not come out of a drawer
                if finding.measures:
                    self.assertTrue((move.gain or 0) > 0 or finding.moves == (move,), move.id)
                    if not move.promises:  # its gain is all it promises; tests/core/test_appraisal.py works that out anew
                        continue
                after = appraise(there, known=before)
                self.assertAlmostEqual(after.score - before.score, move.gain or 0, places=6, msg=move.id)
                for name, promised in move.promises:
                    measure = after.measures[name]
                    self.assertIsNotNone(measure.value, (move.id, name))
                    near = NEAR_LX * promised if measure.unit == "lx" else NEAR[measure.unit]
                    self.assertAlmostEqual(measure.value or 0, promised, delta=near, msg=f"{move.id}: {name}")
                if not finding.measures:
                    left = {item.id for item in after.findings if not item.measures and item.id == finding.id}
                    self.assertTrue(
                        not left or finding.id in ("frame.small_there", "frame.detail", "frame.desk_space"),
                        (move.id, finding.id),
                    )
