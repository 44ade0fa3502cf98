"""What a coach would say of sixteen made-up desks: what must come first, what must never be said, how good they are; and that nothing is
left without a word."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np

from tests.desks import DESKS, EXPECTED, desk
from tests.setups import demo, demos, put
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.light.glare import margins_deg
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import Catalogue
from uphill_lamp.core.catalogue.table import shipped
from uphill_lamp.core.document import Setup, applied
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.footprints import beyond_m, desk_outline
from uphill_lamp.core.scene.scene import scene_of

MOST_REASONS = 6  # ids of findings that may have a reason alone


def offered(appraisal: Appraisal) -> dict[str, Move]:
    return {move.id: move for finding in appraisal.findings_with_gains for move in finding.moves}


class SixteenDesks(TestCase):
    def test_what_comes_first_what_is_never_said_and_how_good_they_are(self) -> None:
        for name, (first, never, (low, high), _) in EXPECTED.items():
            appraisal = appraise(put(desk(name), preferences__budget=60.0))
            leading = [cause.move.id for cause in appraisal.causes[:3] if cause.move]
            for wanted in first:
                self.assertTrue(any(move.startswith(wanted) for move in leading), (name, wanted, leading))
            self.assertEqual([move for move in offered(appraisal) if move.startswith(never)] if never else [], [], name)
            self.assertTrue(low <= appraisal.score <= high, (name, appraisal.score))
        self.assertEqual(list(EXPECTED), list(DESKS))

    def test_nothing_is_left_without_a_move_or_a_word(self) -> None:
        reasons = set()
        for setup in (*map(demo, demos()), *map(desk, DESKS)):
            for finding in appraise(put(setup, preferences__budget=0.0)).findings_with_gains:
                self.assertTrue(finding.moves or finding.instead, (setup.name, finding.id))
                self.assertTrue(finding.moves or finding.severity != "grave", (setup.name, finding.id))
                reasons |= set() if finding.moves else {finding.id}
        self.assertLessEqual(len(reasons), MOST_REASONS, reasons)

    def test_glare_always_has_a_move(self) -> None:
        for setup in (*map(demo, demos()), *map(desk, DESKS)):
            appraisal = appraise(put(setup, presenter__glasses="plain", preferences__budget=0.0))
            if "light.glare" in {finding.id for finding in appraisal.findings}:
                glare = next(finding for finding in appraisal.findings_with_gains if finding.id == "light.glare")
                self.assertTrue(glare.moves, setup.name)


class SaidByACoach(TestCase):
    """Steps that were missing, each where it is the one to take."""

    def after(self, setup: Setup, name: str) -> tuple[Appraisal, Appraisal, Move]:
        before = appraise(put(setup, preferences__budget=0.0))
        move = offered(before)[name]
        return before, appraise(applied(before.setup, move.patch)), move

    def test_a_lamp_out_of_another_room_for_who_has_none_to_carry(self) -> None:
        before, after, move = self.after(desk("06 attic"), "light.borrow_lamp")
        self.assertEqual(move.cost.kind, "free")
        self.assertIn("If there is", move.detail)
        self.assertGreater(after.lit_scene.face_lx["front"], 2 * before.lit_scene.face_lx["front"])
        self.assertFalse([name for name in appraise(after.setup).moves_worked_out if name.startswith("light.borrow")])
        self.assertNotIn("light.borrow_lamp", appraise(desk("16 desk lamp")).moves_worked_out)  # the own one first
        named = put(desk("06 attic"), lights__ceiling_h_lamp_h_2__name="Table lamp", presenter__glasses="plain")
        self.assertFalse([name for name in appraise(named).moves_worked_out if "borrow" in name])  # no two things of one name

    def test_a_cloth_whose_figures_make_none_is_no_harm(self) -> None:
        absurd = shipped()["diffusion_cloth"].model_copy(update={"attributes": {"transmittance": "7", "width_m": "nan"}})
        mine = [{"id": "shade", "name": "My shade", "entry": "diffusion_cloth"}]
        with using(Catalogue(shipped() | {"diffusion_cloth": absurd})):
            worked_out = appraise(put(desk("12 lamps"), kit=mine)).moves_worked_out
        self.assertTrue(any("my shade" in move.title.lower() for move in worked_out.values()))

    def test_at_a_desk_that_stays_one_turns_oneself(self) -> None:
        setup = desk("02 kitchen")
        self.assertFalse([name for name in appraise(setup).moves_worked_out if name.startswith("light.turn_to")])
        before, after, _ = self.after(setup, "light.turn_self.window")
        self.assertEqual(after.setup.desk, before.setup.desk)
        outline = desk_outline(after.setup.desk)
        for screen in after.setup.screens:
            self.assertLessEqual(beyond_m(outline, np.array([screen.position.x_m, screen.position.y_m])), 0.0)
        self.assertLess(after.measures["light.sides"].value, before.measures["light.sides"].value)  # type: ignore[operator]
        self.assertIn("light.turn_to_window.window", appraise(put(setup, desk__fixed=False)).moves_worked_out)

    def test_the_webcam_goes_to_the_screen_with_the_call(self) -> None:
        _, after, _ = self.after(desk("04 two monitors"), "eyes.camera_to_call_screen")
        self.assertEqual(after.measures["eyes.aside"].utility, 1.0)
        self.assertEqual(after.setup.main_camera.on_screen, next(s.id for s in after.setup.screens if s.windows))

    def test_the_phone_further_away_brings_its_lens_to_its_picture(self) -> None:
        for setup in (desk("07 phone"), demo("interview-by-phone")):
            before, after, _ = self.after(setup, "eyes.phone_further")
            self.assertLess(after.measures["eyes.aside"].value, 0.8 * before.measures["eyes.aside"].value)  # type: ignore[operator]
            self.assertAlmostEqual(after.measures["frame.head_share"].value, before.measures["frame.head_share"].value, delta=0.06)  # type: ignore[arg-type, type-var]

    def test_glasses_tipped_on_the_ears_clear_what_stands_higher(self) -> None:
        """A lens turned by an angle turns what it mirrors by twice that angle: a lamp 20 degrees up is cleared by the half of what lacks."""
        setup = put(desk("05 teacher"), preferences__budget=0.0)
        scene = scene_of(setup)
        for tipped_deg in (2.0, 6.0):
            spot = scene.face.eyes + scene.face.forward * math.cos(0.3) + np.array([0.0, 0.0, math.sin(0.3)])
            margins = [float(margins_deg(scene.face, scene.lens.place, spot[None], tipped)[0]) for tipped in (8.0, 8.0 + tipped_deg)]
            self.assertAlmostEqual(margins[1] - margins[0], tipped_deg, delta=0.01)
        before, after, _ = self.after(setup, "light.tip_glasses")
        self.assertGreater(after.measures["light.glare"].value, before.measures["light.glare"].value + 2)  # type: ignore[operator]

    def test_a_window_ahead_that_is_too_bright_gets_a_sheet_or_its_curtain(self) -> None:
        """In glasses with a coating it is the north window that mirrors."""
        setup = put(desk("13 room that works"), presenter__glasses="anti_reflective")
        self.assertIn("light.veil.north-window", appraise(setup).moves_worked_out)
        _, after, move = self.after(setup, "light.curtain.north-window")
        self.assertEqual((move.cost.kind, after.setup.room.windows[0].covering.kind), ("free", "blind"))
        self.assertNotIn("light.glare", [finding.id for finding in after.findings])
