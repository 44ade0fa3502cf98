"""Backdrop: what of the picture lies under which thing, what is judged of it, and what mends it."""

from __future__ import annotations

import random
from typing import Any
from unittest import TestCase

import colour
import cv2
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_areas import changed
from tests.desks import DESKS, desk
from tests.promise import SEED, promise, promised, times
from tests.setups import demo, demos, put
from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.backdrop.behind import Behind, behind_of
from uphill_lamp.core.areas.backdrop.doors import open_in_view
from uphill_lamp.core.areas.backdrop.measures import letters_px
from uphill_lamp.core.areas.backdrop.mirrors import shown_by
from uphill_lamp.core.areas.backdrop.moves import _then_behind
from uphill_lamp.core.areas.frame.lens_figures import lens_figures
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.scene.colour_difference import difference
from uphill_lamp.core.scene.handling import desk_turned
from uphill_lamp.core.scene.in_view import InView
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import backdrop_panes, surface_reflectance, view_of
from uphill_lamp.core.steps.action import Action
from uphill_lamp.core.steps.hands import minutes_each_time
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
        view = view_of(away, pinhole, pinhole.ray(across, down))
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
        self.assertLess(appraise(crowd).area("backdrop").score, 30)  # type: ignore[union-attr]

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


class NotForOthers(TestCase):
    def test_what_is_nobody_s_business_stands_first_whatever_the_score(self) -> None:
        letter = thing("papers", 2.4, 0.05, 1.5, private=True, wanted=True)
        appraisal = appraise(behind(letter))
        finding = appraisal.findings_with_gains[0]
        self.assertEqual((finding.id, finding.severity, finding.measures), ("backdrop.private", "grave", ()))
        for move in finding.moves:
            self.assertNotIn("backdrop.private", [left.id for left in appraise(applied(appraisal.setup, move.patch)).findings], move.title)
        self.assertEqual(appraisal.causes[0].first.id, "backdrop.private")
        self.assertNotIn(
            "backdrop.private", [left.id for left in appraise(behind(letter | {"position": {"x_m": 1.7, "y_m": 3.9, "z_m": 1.5}})).findings]
        )
        screen = appraise(behind(thing("screen", 2.4, 0.1, 1.3, private=True)))
        off = next(move for move in screen.findings_with_gains[0].moves if move.id == "backdrop.switch_off.x")
        dark = applied(screen.setup, off.patch)
        self.assertFalse({"backdrop.private", "backdrop.readable"} & {left.id for left in appraise(dark).findings})
        picture = thing("picture", 2.4, 0.05, 1.5, private=True)
        graver = appraise(behind(picture, name="interview-by-phone"))  # where its echo holds down far more
        self.assertGreater(max(cause.gained for cause in graver.causes), 10)
        self.assertEqual((graver.findings[0].id, graver.causes[0].first.id), ("backdrop.private", "backdrop.private"))

    def test_letters_are_as_high_as_another_program_projects_them(self) -> None:
        setup = behind(thing("board", 2.3, 0.05, 1.5, wanted=False, x_height_m=0.05))
        pinhole = scene_of(setup).pinhole
        turn = np.stack([pinhole.right, -pinhole.up, pinhole.forward])
        lens = np.diag([1, 720 / 2 / pinhole.field.half_height, 1.0])
        spots, _ = cv2.projectPoints(
            np.array([(2.3, 0.05, 1.475), (2.3, 0.05, 1.525)]), cv2.Rodrigues(turn)[0], -turn @ pinhole.place, lens, None
        )
        alone = put(setup, call__destination="webinar")  # seen at the whole width of 1280 px
        self.assertAlmostEqual(letters_px(alone, alone.backdrop[0]), abs(float(np.ptp(spots[:, 0, 1]))), delta=0.6)
        self.assertAlmostEqual(letters_px(setup, setup.backdrop[0]) / letters_px(alone, alone.backdrop[0]), 426 / 1280, places=2)

    def test_who_can_read_reads_but_not_what_is_meant_to_be_read(self) -> None:
        for wanted, letters_m, read in ((False, 0.1, 1), (False, 0.005, 0), (True, 0.1, 0)):
            setup = behind(thing("board", 2.3, 0.05, 1.5, wanted=wanted, x_height_m=letters_m))
            self.assertEqual(figures(setup)["readable"], read)
        finding = next(f for f in appraise(behind(thing("board", 2.3, 0.05, 1.5, wanted=False, x_height_m=0.1))).findings_with_gains
                       if f.id == "backdrop.readable")  # fmt: skip
        self.assertTrue(finding.moves)
        self.assertEqual((figures(behind(thing("plant")))["readable"], figures(behind())["readable"]), (0, 0))

    def test_the_strip_is_so_far_below_the_chin(self) -> None:
        low = put(demo("room-that-works"), call__name_strip=True, cameras__camera__tilt_deg=14.0)
        pinhole, face = scene_of(low).pinhole, scene_of(low).face
        chin, crown = pinhole.project(np.array([face.chin, face.crown]))[:, 1]
        self.assertAlmostEqual(figures(low)["strip"] or 0.0, (0.82 - chin) / (chin - crown), places=6)
        offered = moves(low)
        self.assertIn("backdrop.strip_off", offered)
        tilted = applied(low, offered["backdrop.off_strip"].patch)
        self.assertAlmostEqual(figures(tilted)["strip"] or 0.0, 0.15, delta=0.02)  # a tilted head is a little smaller
        bare = put(low, call__name_strip=False)
        self.assertAlmostEqual(figures(bare)["strip"] or 0.0, (1.0 - chin) / (chin - crown), places=6)
        self.assertNotIn("backdrop.strip_off", moves(bare))
        cut = put(bare, cameras__camera__tilt_deg=22.0)  # the picture's own foot at the chin
        self.assertLess(figures(cut)["strip"] or 0.0, 0.1)
        self.assertAlmostEqual(figures(applied(cut, moves(cut)["backdrop.off_strip"].patch))["strip"] or 0.0, 0.15, delta=0.02)


class Outlined(TestCase):
    def test_a_pole_behind_the_head_grows_from_it_until_it_is_moved(self) -> None:
        pole = {"width_m": 0.12, "height_m": 1.2, "reflectance": 0.1}
        shares = [figures(behind(thing("plant", x_m, 0.3, 1.6, **pole)))["grows"] or 0.0 for x_m in (1.7, 1.75, 2.1)]
        self.assertTrue(0.05 < shares[0] < 0.35 and shares[1] > 0.05 and shares[2] == 0, shares)
        before = appraise(behind(thing("plant", 1.7, 0.3, 1.6, **pole), preferences__budget=0.0))
        finding = next(finding for finding in before.findings_with_gains if finding.id == "backdrop.grows")
        self.assertEqual(finding.title, "The plant seems to grow out of your head")
        clear = next(move for move in finding.moves if move.id == "backdrop.clear.x")
        after = applied(before.setup, clear.patch)
        self.assertEqual(behind_of(after).outline.growing, ())
        # A step less would not have been enough: its edge is within 5 cm of where it is clear by 0.02 of the width.
        way_m = after.backdrop[0].position.x_m - 1.7
        short = put(before.setup, backdrop__x__position__x_m=round(1.7 + way_m - np.sign(way_m) * 0.2, 3))
        self.assertGreater(behind_of(short).outline.grows, 0)

    def test_what_cannot_be_told_from_the_wall_or_is_no_higher_does_not_grow(self) -> None:
        pole = {"width_m": 0.12, "height_m": 1.2}
        wall = surface_reflectance(behind().room.surfaces.wall_y0)
        for colour_of, least in (("#ffffff", 0.0), ("#40a0ff", 0.02)):
            alike = thing("plain_wall", 1.7, 0.3, 1.6, reflectance=wall, colour=colour_of, **pole)
            self.assertEqual((figures(behind(alike))["grows"] or 0.0) > least, least > 0)
        low = thing("plant", 1.7, 0.3, 0.75, width_m=0.12, height_m=1.0, reflectance=0.1)
        self.assertEqual(figures(behind(low))["grows"], 0)
        edge = thing("bookcase", 2.2, 0.1, 1.2, width_m=1.0, height_m=2.3, reflectance=0.1)  # its side just behind the head
        narrow = figures(behind(thing("plant", 1.7, 0.3, 1.6, reflectance=0.1, **pole)))["grows"] or 0
        self.assertTrue(0 < (figures(behind(edge))["grows"] or 0) < narrow)

    def test_a_line_is_as_high_over_the_eyes_as_another_program_projects_it(self) -> None:
        for foot_m in (1.28, 1.34, 1.4):
            setup = behind(thing("board", 1.7, 0.05, foot_m + 0.3, width_m=1.4, height_m=0.6, reflectance=0.2))
            pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
            turn = np.stack([pinhole.right, -pinhole.up, pinhole.forward])
            places = np.array([(1.7, 0.05, foot_m), face.eyes, face.crown, face.chin])
            spots, _ = cv2.projectPoints(places, cv2.Rodrigues(turn)[0], -turn @ pinhole.place, np.eye(3), None)
            edge, eyes, crown, chin = spots[:, 0, 1]
            above = (eyes - edge) / (chin - crown)
            wanted = above if above >= 0.06 else 0.6
            self.assertAlmostEqual(figures(setup)["cut_line"] or 0.0, min(wanted, 0.6), delta=0.01)
        hung = moves(behind(thing("board", 1.7, 0.05, 1.64, width_m=1.4, height_m=0.6, reflectance=0.2)))["backdrop.hang.x"]
        self.assertRegex(hung.title, r"^Hang the board \d+ cm (higher|lower)$")

    def test_a_line_aslant_short_or_hidden_is_none(self) -> None:
        self.assertEqual(figures(behind(thing("board", 1.9, 0.05, 1.64, width_m=0.3, height_m=0.6)))["cut_line"], 0.6)
        before = thing("curtain", 1.7, 0.5, 1.2, id="y", name="Curtain", width_m=3.0, height_m=2.3)
        self.assertEqual(figures(behind(thing("board", 1.7, 0.05, 1.64, width_m=1.4, height_m=0.6), before))["cut_line"], 0.6)

    @given(st.lists(st.floats(-100, 100), min_size=4, max_size=4), st.floats(0, 100), st.floats(0, 100))
    def test_colours_differ_as_another_program_has_it(self, ab: list[float], light: float, other: float) -> None:
        first, second = np.array([light, *ab[:2]]), np.array([other, *ab[2:]])
        self.assertAlmostEqual(difference(first, second), float(colour.delta_E(first, second, method="CIE 2000")), places=6)


class Mirrors(TestCase):
    def test_what_a_mirror_shows_is_named(self) -> None:
        """By hand: a mirror square behind the head shows what stands beside the camera; a private paper there stands first."""
        papers = thing("papers", 2.8, 3.55, 1.3, id="letters", name="Letters", width_m=1.0, height_m=1.4, private=True)
        mirror = thing("mirror", 2.2, 0.03, 1.3, id="glass", name="Mirror", width_m=0.8, height_m=1.4)
        setup = behind(mirror, papers)
        self.assertIn(("backdrop", "letters"), {(seen.kind, seen.name) for seen in shown_by(setup, setup.backdrop[0])})
        found = next(finding for finding in appraise(setup).findings if finding.id == "backdrop.mirror")
        self.assertEqual((found.severity, found.foremost), ("grave", True))
        self.assertIn("letters", found.title.lower())
        self.assertNotIn(
            "backdrop.mirror", {finding.id for finding in appraise(applied(setup, moves(setup)["backdrop.take_away.glass"].patch)).findings}
        )
        bare = behind(mirror)
        self.assertFalse({seen.kind for seen in shown_by(bare, bare.backdrop[0])} - {"presenter", "window", "screen"})

    def test_rays_go_on_as_the_law_of_reflection_says(self) -> None:
        """Against the mirrored room: from the lens to a thing by way of the glass is as straight as from the lens to its image."""
        board = thing("plain_wall", 3.0, 3.5, 1.2, id="board", width_m=0.5, height_m=2.0)
        setup = behind(thing("mirror", 2.2, 0.03, 1.3, id="glass", width_m=0.8, height_m=1.4), board)
        lens, image = scene_of(setup).pinhole.place, np.array([3.0, 2 * 0.03 - 3.5, 1.2])
        crossed = lens + (image - lens) * ((0.03 - lens[1]) / (image[1] - lens[1]))
        inside = abs(crossed[0] - 2.2) < 0.4 and abs(crossed[2] - 1.3) < 0.7
        met = {seen.name for seen in shown_by(setup, setup.backdrop[0])}
        self.assertEqual(bool(inside), "board" in met)


class Doors(TestCase):
    def test_one_that_stands_open_in_view_is_told_and_shut(self) -> None:
        door = {"id": "hall", "name": "Hall door", "wall": "wall_y0", "centre_m": 2.6, "stands_open": True}
        setup = behind(room__doors=[door])
        found = next(finding for finding in appraise(setup).findings_with_gains if finding.id == "backdrop.open_door")
        self.assertEqual(found.title, "The hall door stands open behind you")
        self.assertFalse(open_in_view(applied(setup, found.moves[0].patch)))
        hidden = behind(thing("folding_screen", 2.6, 0.3, 1.1, width_m=1.6, height_m=2.2), room__doors=[door])
        self.assertFalse(open_in_view(hidden))
        self.assertFalse(open_in_view(behind(room__doors=[door | {"wall": "wall_x1", "centre_m": 3.4}])))


class Held(TestCase):
    def test_what_moves_in_view_is_told_whatever_the_score_and_stilled(self) -> None:
        fan = thing("plant", name="Fan", moves=True)
        found = {finding.id: finding for finding in appraise(behind(fan)).findings_with_gains}["backdrop.moving"]
        self.assertEqual((found.title, found.severity, found.measures), ("The fan moves behind you", "clear", ()))
        for move in found.moves:
            self.assertNotIn("backdrop.moving", {other.id for other in appraise(applied(behind(fan), move.patch)).findings}, move.id)
        self.assertTrue(found.moves)
        away = behind(fan | {"position": {"x_m": 0.1, "y_m": 3.9, "z_m": 1.3}})
        self.assertNotIn("backdrop.moving", {finding.id for finding in appraise(away).findings})

    def test_what_is_screwed_on_wants_a_drill_and_stays_where_none_is_allowed(self) -> None:
        board = thing("board", 1.7, 0.05, 1.64, width_m=1.4, height_m=0.6, reflectance=0.2)
        for held, tool, offered in (("hangs", False, True), ("screwed", True, True), ("leans", False, False)):
            move = moves(behind(board | {"held": held})).get("backdrop.hang.x")
            self.assertEqual(move is not None, offered, held)
            self.assertEqual(move is not None and cautions.DRILLING in move.cautions, tool, held)
        self.assertNotIn("backdrop.hang.x", moves(behind(board | {"held": "screwed"}, preferences__no_holes=True)))

    def test_a_sheet_takes_its_minutes_each_time_where_nothing_stays(self) -> None:
        setup = behind(thing("bookcase", wanted=False))
        move = moves(setup)["backdrop.cover.x"]
        sheet = move.patch[0]["value"]
        self.assertEqual((sheet["held"], sheet["put_up_min"]), ("clips", 3.0))
        self.assertEqual(minutes_each_time(Action(move.id, move.title, move.patch, FREE), setup), 3.0)


class Wishes(TestCase):
    def test_a_blurred_wall_is_judged_by_the_lens_and_nearness_is_not(self) -> None:
        large = put(desk("09 large sensor"), preferences__background="blurred")
        self.assertNotIn("near", figures(large))
        self.assertAlmostEqual(figures(large)["soft"] or 0.0, lens_figures(large, 300.0).blur_share, delta=0.004)
        webcam = appraise(behind(preferences__background="blurred"))
        found = next(finding for finding in webcam.findings_with_gains if finding.id == "backdrop.soft")
        self.assertTrue(found.moves or "larger sensor" in found.instead)

    def test_where_no_holes_may_be_drilled_none_are_proposed(self) -> None:
        for name in DESKS:
            for finding in appraise(put(desk(name), preferences__no_holes=True, preferences__budget=500.0)).findings_with_gains:
                self.assertFalse([move.id for move in finding.moves if cautions.DRILLING in move.cautions], name)


class Kept(TestCase):
    @promised(1000)
    def test_what_is_kept_is_what_would_be_seen_anew(self) -> None:
        """Whatever leaf of a document changes: either it is looked at anew, or nothing of it would look different."""
        chance, kept = random.Random(SEED), 0
        for name in demos():
            before = behind_of(demo(name))
            changes = list(changed(demo(name), chance, 1, set()))
            for what, there in chance.sample(changes, min(times(200), len(changes))):
                if behind_of(there) is before:
                    kept, anew = kept + 1, Behind(there, InView(there))
                    for made in ("seen", "outline"):
                        self.assertEqual(repr(getattr(before, made)), repr(getattr(anew, made)), (name, what))
        self.assertGreater(kept, 20)


class Moves(TestCase):
    def test_a_turned_desk_says_what_is_then_behind(self) -> None:
        """A window too: nobody turns a desk to sit before the sky."""
        room = behind()
        self.assertEqual((_then_behind(room), behind_of(room).seen.windows), ("Behind you is then the bare wall.", frozenset()))
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
