"""Words in drawings: as wide as the font has them, and none on another."""

from __future__ import annotations

from unittest import TestCase
from xml.etree import ElementTree

from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import ROOT, any_setup, demo, demos
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.drawings import plan, side
from uphill_lamp.drawings.captions import Captions
from uphill_lamp.drawings.lettering import width_px

FONT = ROOT.parent / "uphill_lamp" / "web" / "static" / "vendor" / "font" / "source-sans-3-latin-wght-normal.woff2"


class Lettering(TestCase):
    def test_words_are_as_wide_as_the_font_that_ships_has_them(self) -> None:
        font = instantiateVariableFont(TTFont(FONT), {"wght": 400})
        glyphs, advances = font.getBestCmap(), font["hmtx"]
        for text in ("98 lx", "Pendant over the table", "50° right · 197 cm", "Kitchen quiz, JAFXZ?", "−15.3°", "(up 1/4), it’s 100 %"):
            wanted = sum(advances[glyphs[ord(letter)]][0] for letter in text) * 12 / 1000
            self.assertAlmostEqual(width_px(text, 12), wanted, delta=0.03 * wanted, msg=text)

    def test_other_scripts_take_their_room_and_marks_over_letters_none(self) -> None:
        self.assertEqual(width_px("", 12), 0)
        self.assertEqual(width_px("e\u0301", 10), width_px("e", 10))
        self.assertGreater(width_px("灯台", 10), 19)
        self.assertGreater(width_px("лампа", 10), 20)


class Captioned(TestCase):
    def test_no_words_lie_on_others_at_any_size_and_the_selected_thing_keeps_its_name(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            for stage in ("frame", "light", "sound", "eyes", "place"):
                for picked in ("", *(f"lights/{light.id}" for light in appraisal.setup.lights)):
                    for drawing in (plan.plan(appraisal, stage, picked), side.side(appraisal, stage, picked)):
                        self._apart(drawing, (name, stage, picked))
                    if picked and stage == "light":
                        shown = plan.plan(appraisal, stage, picked)
                        own = next(light.name for light in appraisal.setup.lights if f"lights/{light.id}" == picked)
                        self.assertEqual(shown.count(f">{own}</text>"), len(plan.SIZES), (name, picked))

    @promise(20)
    @given(any_setup, st.sampled_from(("light", "sound")))
    def test_nor_in_any_room(self, setup: Setup, stage: str) -> None:
        self._apart(plan.plan(appraise(setup), stage, "presenter"), setup.name)

    def test_what_is_far_from_the_selected_thing_is_left_out_first(self) -> None:
        captions = Captions(200, 60, (12,), near=(20, 40))
        for x in (150, 20, 85):
            captions.name(x, 40, f"a long name at {x}", 5)
        captions.beside(20, 40, "an explanation that is left out before any name", "small", 5)
        answer = [text.text for text in ElementTree.fromstring(captions.drawn()[0].text())]
        self.assertEqual(answer[0], "a long name at 20")
        self.assertNotIn("an explanation that is left out before any name", answer)

    def test_words_leave_a_small_thing_to_be_seen_where_there_is_another_place(self) -> None:
        tall, low = Captions(200, 90, (12,)), Captions(200, 24, (12,))
        for captions, y in ((tall, 40), (low, 20)):
            captions.spare(100, y - 14, 5)
            captions.name(100, y, "a lamp", 10)
        (above,), (below,) = (
            [float(text.get("y")) for text in ElementTree.fromstring(captions.drawn()[0].text())] for captions in (low, tall)
        )
        self.assertLess(above, 20)  # nowhere else
        self.assertGreater(below, 40)

    def _apart(self, drawing: str, where: object) -> None:
        groups = [group for group in ElementTree.fromstring(drawing) if "captions" in group.get("class", "")]
        loose = list(ElementTree.fromstring(drawing).iter("text"))
        self.assertTrue(groups and not loose)
        for group in groups:
            size = float(group.get("class", "").rsplit("-", 1)[1])
            boxes = [self._box(text, size) for text in group]
            for index, (words, box) in enumerate(boxes):
                for other, its in boxes[:index]:
                    apart = box[2] <= its[0] or its[2] <= box[0] or box[3] <= its[1] or its[3] <= box[1]
                    self.assertTrue(apart, (where, size, words, other))

    def _box(self, text: ElementTree.Element, size: float) -> tuple[str, tuple[float, float, float, float]]:
        x, y, words = float(text.get("x", 0)), float(text.get("y", 0)), text.text or ""
        wide = width_px(words, size)
        left = x - {"middle": wide / 2, "end": wide, "start": 0}[text.get("text-anchor", "start")]
        return words, (left, y - 1.0 * size, left + wide, y + 0.38 * size)
