"""Backdrop: what of the picture lies under which thing, what is judged of it, and what mends it."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import cv2
import numpy as np
from hypothesis import Phase, given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import demo, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.moves import _then_behind
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.handling import desk_turned
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import backdrop_panes, view_of
from uphill_lamp.core.tape.fields import fields_of

WIDE, HIGH = 160, 90


def behind(*things: dict[str, Any], name: str = "room-that-works", **changes: Any) -> Setup:
    """A room that works with nothing behind but these."""
    return put(demo(name), backdrop=list(things), origins={}, **changes)


def thing(kind: str, x_m: float = 2.4, y_m: float = 0.15, z_m: float = 1.3, **changes: Any) -> dict[str, Any]:
    name = f"{kind.replace('_', ' ').capitalize()} {changes.get('id', '')}".strip()
    return typical.backdrop(kind, "x", {"x_m": x_m, "y_m": y_m, "z_m": z_m}, **{"name": name, **changes})


def moves(setup: Setup) -> dict[str, Move]:
    return {move.id: move for finding in appraise(setup).findings_with_gains for move in finding.moves if move.id.startswith("backdrop.")}


def figures(setup: Setup) -> dict[str, float | None]:
    area = appraise(setup).area("backdrop")
    return {measure.id.removeprefix("backdrop."): measure.value for measure in area.measures} if area else {}


class Projected(TestCase):
    @promise(300)
    @given(st.floats(0.3, 3.1), st.floats(0.05, 1.2), st.floats(0.6, 2.0), st.floats(0.3, 1.5), st.floats(0.3, 1.2))
    def test_a_thing_lies_where_another_program_projects_it(self, x_m: float, y_m: float, z_m: float, wide: float, high: float) -> None:
        """Against OpenCV's projection and its test of points in outlines, without the body: overlap over union 0.98."""
        wide = round(min(wide, 2 * min(x_m, 3.4 - x_m) - 0.02), 3)  # not through a side wall
        setup = behind(thing("plain_wall", x_m, y_m, z_m, width_m=wide, height_m=high))
        pinhole, (_, pane) = scene_of(setup).pinhole, backdrop_panes(setup)[0]
        turn = np.stack([pinhole.right, -pinhole.up, pinhole.forward])
        lens = np.array(
            [[WIDE / 2 / pinhole.field.half_width, 0, WIDE / 2], [0, HIGH / 2 / pinhole.field.half_height, HIGH / 2], [0, 0, 1]]
        )
        corners = np.array([pane.at(a, b) for a, b in ((0, 0), (1, 0), (1, 1), (0, 1))])
        spots, _ = cv2.projectPoints(corners, cv2.Rodrigues(turn)[0], -turn @ pinhole.place, lens, None)
        outline = spots[:, 0].astype(np.float32)
        across, down = (grid.ravel() for grid in np.meshgrid((np.arange(WIDE) + 0.5) / WIDE, (np.arange(HIGH) + 0.5) / HIGH))
        away = setup.model_copy(update={"presenter": setup.presenter.model_copy(update={"y_m": 0.06, "x_m": 0.06})})
        view = view_of(away, pinhole, pinhole.ray(across, down), lamps=False)
        free = view.mask("surface", "backdrop", "window")  # what else stands before it hides it
        met, inside = view.mask("backdrop"), np.zeros(len(across), dtype=bool)
        for index in np.flatnonzero(free):
            inside[index] = cv2.pointPolygonTest(outline, (float(across[index] * WIDE), float(down[index] * HIGH)), False) >= 0
        if inside.sum() > 400:
            self.assertGreaterEqual((met & inside).sum() / (met | inside).sum(), 0.98)


class Judged(TestCase):
    def test_a_bed_in_view_is_told_and_mended_for_nothing(self) -> None:
        """Without any money: away, covered or out of the picture, and the figure is good again."""
        before = appraise(behind(thing("bed", 2.4, 0.6, 0.8), preferences__budget=0.0))
        finding = next(finding for finding in before.findings_with_gains if finding.id == "backdrop.unwanted")
        self.assertIn("bed is in the picture", finding.title)
        self.assertGreater(before.measures["backdrop.unwanted"].value or 0, 0.03)
        self.assertTrue(any(move.id.startswith(("backdrop.cover", "backdrop.turn_desk")) for move in finding.moves))
        for move in finding.moves:
            after = appraise(applied(before.setup, move.patch))
            self.assertNotIn("backdrop.unwanted", [finding.id for finding in after.findings], move.title)
            self.assertAlmostEqual(after.score - before.score, move.gain or 0, places=6)
        self.assertLess(before.area("backdrop").score, 65)  # type: ignore[union-attr]

    def test_wanted_or_hidden_it_is_no_fault(self) -> None:
        self.assertEqual(figures(behind(thing("bed", 2.4, 0.6, 0.8, wanted=True)))["unwanted"], 0)
        seen = figures(behind(thing("bed", 2.4, 0.6, 0.8)))["unwanted"] or 0
        small = figures(behind(thing("clutter", 1.7, 0.6, 1.2, width_m=0.2, height_m=0.2)))["unwanted"] or 0
        self.assertTrue(seen > 0.03 and small == 0, (seen, small))  # behind the body nobody sees it
        many = [thing("clutter", 0.4 + 0.13 * number, 0.2, 1.4, id=f"c{number}", name=f"Box {number}") for number in range(20)]
        crowd = behind(*many)
        self.assertGreater(figures(crowd)["unwanted"] or 0, 0.1)
        self.assertIn("and more are in the picture", " ".join(finding.title for finding in appraise(crowd).findings))
        self.assertLess(appraise(crowd).area("backdrop").score, 20)  # type: ignore[union-attr]

    def test_how_near_the_wall_is_follows_its_distance(self) -> None:
        for back_m in (1.3, 0.6, 0.3):
            setup = behind()
            there = put(setup, presenter__y_m=back_m, desk__y_m=back_m + 0.6)
            pinhole, eyes = scene_of(there).pinhole, scene_of(there).face.eyes
            face_m, wall_m = float(pinhole.depth(eyes[None])[0]), float(pinhole.place[1])
            self.assertAlmostEqual(figures(there)["near"] or 0, face_m / wall_m, delta=0.04)

    def test_points_are_wanted_things_at_a_third_off_the_face(self) -> None:
        chosen = figures(demo("room-that-works"))["points"]
        self.assertIn(chosen, (1, 2))
        self.assertEqual(figures(behind(thing("picture", 1.7, 0.05, 1.5, width_m=0.3, height_m=0.2)))["points"], 0)  # behind the head
        self.assertNotIn("points", figures(behind()))  # nobody has said what is behind
        self.assertNotIn("points", figures(behind(thing("picture"), preferences__background="plain")))

    def test_a_door_in_use_is_told_whatever_the_score(self) -> None:
        ajar = behind(thing("door", 2.5, 0.05, 1.0, in_use=True, wanted=True))
        finding = next(finding for finding in appraise(ajar).findings_with_gains if finding.id == "backdrop.door")
        shut = applied(ajar, finding.moves[0].patch)
        self.assertNotIn("backdrop.door", [finding.id for finding in appraise(shut).findings])
        asked = [{field.label for field in fields_of(behind(thing(kind)), "backdrop/x")} for kind in ("door", "bed")]
        self.assertEqual(["Somebody may come in" in labels for labels in asked], [True, False])  # nobody comes in through a bed
        self.assertNotIn("backdrop.door", [finding.id for finding in appraise(behind(thing("door", 2.5, 0.05, 1.0))).findings])

    def test_the_edges_of_what_can_be(self) -> None:
        close = put(behind(thing("plain_wall", 1.7, 0.02, 1.2)), presenter__y_m=0.28)
        before_me = behind(thing("clothes_rail", 1.7, 2.4, 1.2))  # between the lens and the face
        upright = put(behind(thing("mirror")), call__output_aspect=0.5625)
        away = put(behind(thing("bed")), presenter__x_m=0.4)  # the face out of the picture, or at its edge
        for setup in (close, before_me, upright, away):
            appraisal = appraise(setup)
            self.assertTrue(0 <= appraisal.area("backdrop").score <= 100)  # type: ignore[union-attr]
            for finding in appraisal.findings_with_gains:
                self.assertTrue(finding.area != "backdrop" or finding.moves or finding.instead)


class Moves(TestCase):
    def test_a_turned_desk_says_what_is_then_behind(self) -> None:
        """A window too: nobody turns a desk to sit before the sky."""
        room = behind()
        self.assertEqual((_then_behind(room), behind_of(room).windows), ("Behind you is then the bare wall.", frozenset()))
        self.assertIn("window", _then_behind(applied(room, desk_turned(room, 180.0))))

    def test_each_is_solved_to_the_least(self) -> None:
        rail = behind(thing("clothes_rail", 2.5, 0.3, 1.0))
        self.assertEqual(moves(rail)["backdrop.take_away.x"].title, "Take the clothes rail away")
        self.assertEqual(moves(behind(thing("papers")))["backdrop.take_away.x"].title, "Take the papers down")
        covered = moves(behind(thing("bookcase", wanted=False), kit=[{"id": "cloth", "name": "White sheet", "entry": "white_sheet"}]))
        cover = covered["backdrop.cover.x"]
        self.assertEqual(cover.cost.kind, "owned")
        sheet = cover.patch[0]["value"]
        self.assertEqual((sheet["kind"], sheet["width_m"], sheet["wanted"]), ("sheet", 1.0, True))
        put_up = moves(behind(thing("bed", wanted=True)))
        self.assertTrue({"backdrop.put_picture"} <= put_up.keys(), put_up.keys())

    @promise(300, phases=[Phase.generate])
    @given(varied_setups(), st.sampled_from(["bed", "clutter", "door", "mirror"]), st.floats(0.2, 0.8), st.floats(0.2, 0.8))
    def test_every_offered_one_keeps_its_promise(self, setup: Setup, kind: str, across: float, along: float) -> None:
        place = {"x_m": round(setup.room.width_m * across, 2), "y_m": round(setup.room.depth_m * along, 2), "z_m": 0.9}
        setup = put(setup, backdrop=[typical.backdrop(kind, "x", place)], preferences__budget=0.0)
        before = appraise(setup)
        self.assertTrue(0 <= behind_of(setup).unwanted(setup) <= 1)
        for name, move in moves(setup).items():
            after = appraise(applied(setup, move.patch))
            self.assertAlmostEqual(after.score - before.score, move.gain or 0.0, places=6, msg=name)
            self.assertEqual(before.standing.new(after.setup), frozenset(), name)
