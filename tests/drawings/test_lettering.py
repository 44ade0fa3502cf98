"""Words in drawings: as wide as the font has them, and none on another."""

from __future__ import annotations

from unittest import TestCase
from xml.etree import ElementTree

from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

from tests.setups import ROOT, demo, demos
from uphill_lamp.core.appraisal import appraise
from uphill_lamp.drawings import plan
from uphill_lamp.drawings.lettering import width_px

FONT = ROOT.parent / "uphill_lamp" / "web" / "static" / "vendor" / "font" / "source-sans-3-latin-wght-normal.woff2"
NAMESPACE = "{http://www.w3.org/2000/svg}"


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


class Plan(TestCase):
    def test_no_name_lies_on_another_or_on_the_figure_of_the_lamp_in_hand(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            for picked in ("", *(f"lights/{light.id}" for light in appraisal.setup.lights)):
                boxes = self._boxes(plan.plan(appraisal, "light", picked))
                self.assertTrue(boxes)
                for index, (text, box) in enumerate(boxes):
                    for other, its in boxes[:index]:
                        apart = box[2] <= its[0] or its[2] <= box[0] or box[3] <= its[1] or its[3] <= box[1]
                        self.assertTrue(apart, (name, picked, text, other))

    def _boxes(self, drawing: str) -> list[tuple[str, tuple[float, float, float, float]]]:
        """Names and figures of a plan with the boxes of their letters, from the drawing as it is sent."""
        found = []
        tree = ElementTree.fromstring(drawing)
        figures = {
            id(text)
            for group in tree.iter(NAMESPACE + "g")
            if "dimension" in group.get("class", "")
            for text in group.iter(NAMESPACE + "text")
        }
        for text in tree.iter(NAMESPACE + "text"):
            if text.get("class") != "label" and id(text) not in figures:
                continue
            x, y, said = float(text.get("x", 0)), float(text.get("y", 0)), text.text or ""
            wide = width_px(said, 11)
            left = x - wide / 2 if text.get("text-anchor") == "middle" else x
            found.append((said, (left, y - 8, left + wide, y + 1)))
        return found
