"""docs/method against the code: bands, weights and their reasons, cautions at each move, the glossary's places."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any, get_args
from unittest import TestCase

from hypothesis import given

from tests.promise import promise
from tests.setups import ROOT, demo, demos, put, varied_setups
from uphill_lamp.core import cautions
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.areas.frame.bands import VIEW_ANGLE, side_band
from uphill_lamp.core.areas.registry import areas
from uphill_lamp.core.catalogue.kind import Role
from uphill_lamp.core.catalogue.table import shipped
from uphill_lamp.core.document import Setup
from uphill_lamp.core.document.devices import Light
from uphill_lamp.core.document.people import Weights
from uphill_lamp.core.field.camera.response import light_need
from uphill_lamp.core.judging import WANTING, WORDS, Band, Measure, Move

METHOD = ROOT.parent / "docs" / "method"
SCHOOLS: dict[str, dict[str, Any]] = {
    "": {},
    "at eye level": {"preferences__camera_height": "eye_level"},
    "slightly above": {"preferences__camera_height": "slightly_above"},
    **{shot.replace("_", " "): {"preferences__shot": shot} for shot in ("call_tile", "head_and_shoulders", "waist")},
    "square": {"call__destination": "square"},
    "blurred": {"preferences__background": "blurred"},
    "centred": {"preferences__side_position": "centred"},
    **{look: {"preferences__look": look} for look in ("even", "filled", "shaped", "dramatic", "coloured")},
}
NAMES = {words: name for name, words in vars(cautions).items() if name.isupper()}


def table(page: str, head: str) -> Iterator[list[str]]:
    """The rows of the table on a page whose head begins so, as cells."""
    lines = iter((METHOD / page).read_text().splitlines())
    for line in lines:
        if line.startswith(head):
            next(lines)
            break
    for line in lines:
        if not line.startswith("|"):
            return
        yield [cell.strip().strip("`") for cell in line.strip("|").split("|")]


def limits(cell: str, words: dict[str, float]) -> tuple[float | None, float | None]:
    """``-1 … 3`` as numbers, open ends as None."""
    ends = [end.strip() for end in cell.split("…")]
    low, high = (words[end] if end in words else float(end) if end else None for end in ends)
    return low, high


class Bands(TestCase):
    def setUp(self) -> None:
        self.appraised: dict[tuple[str, str], Appraisal] = {}

    def measure(self, name: str, school: str) -> tuple[Setup, Measure]:
        for which in demos():
            key = which, school
            if key not in self.appraised:
                self.appraised[key] = appraise(put(demo(which), **SCHOOLS[school]))
            if name in self.appraised[key].measures:
                return self.appraised[key].setup, self.appraised[key].measures[name]
        raise AssertionError(f"no demo has {name}")

    def test_bands_weights_and_reasons_are_those_of_the_pages(self) -> None:
        for area in areas():
            answer: dict[str, tuple[float, str]] = {}
            for name, school, unit, ideal, outer, weight, reason in table(f"{area.key}.md", "| measure | school"):
                answer[name] = float(weight), reason
                if school.startswith("third"):
                    preferences = put(demo(), preferences__side_position="third").preferences
                    self.assertEqual(side_band(preferences, "right" in school), Band(*limits(ideal, {}), *limits(outer, {})))
                    continue
                setup, measure = self.measure(name, school)
                need = light_need(setup.main_camera, setup.place.mains_hz, setup.call.output_aspect)
                words = {"need": need.clean_lx, "bearable": need.bearable_lx}
                band = measure.band
                assert band is not None
                self.assertEqual((band.ideal_low, band.ideal_high), limits(ideal, words), f"{name} {school}")
                self.assertEqual((band.outer_low, band.outer_high), limits(outer, words), f"{name} {school}")
                self.assertEqual(measure.unit, unit, name)
            self.assertEqual(answer, dict(area.weights))

    def test_what_figures_tell_and_the_words_of_scores(self) -> None:
        written = dict(table("score.md", "| figure | counts"))
        self.assertEqual(written, {name: counts for area in areas() for name, counts in area.counts.items()})
        self.assertEqual([(float(least), word) for word, least in table("score.md", "| word |")], list(WORDS))

    def test_the_areas_weights_too(self) -> None:
        self.assertEqual({name: float(weight) for name, weight in table("score.md", "| area |")}, Weights().model_dump())

    def test_a_finding_begins_where_the_page_says(self) -> None:
        match = re.search(r"from −1 − 5 · 0.15 / 0.85 = −([\d.]+)° on", (METHOD / "score.md").read_text())
        assert match is not None
        band = VIEW_ANGLE["eye_level"]
        self.assertLess(band.utility(-float(match[1]) - 0.01), WANTING)
        self.assertGreaterEqual(band.utility(-float(match[1]) + 0.01), WANTING)


CONDITIONS: dict[str, Callable[[Setup, Move], bool]] = {
    "the lamp gets warm": lambda setup, move: _lamp(setup, move).heat != "cool",
    "the lamp is bare": lambda setup, move: _lamp(setup, move).kind in ("bulb", "cone") and _lamp(setup, move).diffuser is None,
    "the camera hangs on an arm, or its monitor can": lambda setup, move: (
        setup.main_camera.mount == "arm"
        or (setup.main_camera.mount == "monitor_top" and any(item.entry == "monitor_arm" for item in setup.kit))
    ),
    "it is focused anew": lambda setup, move: any(str(operation["path"]).endswith("/focus/distance_m") for operation in move.patch),
    "the camera stands in a holder": lambda setup, move: setup.main_camera.mount == "holder",
    "the camera sits on a monitor": lambda setup, move: setup.main_camera.mount in ("monitor_top", "flat_clamp"),
}


def _lamp(setup: Setup, move: Move) -> Light:
    """The lamp that a move takes in hand: its patch says where it goes."""
    paths = [str(operation["path"]).split("/") for operation in move.patch]
    moved = [path[2] for path in paths if path[1] == "lights" and path[3:4] != ["on"]] or [path[2] for path in paths if path[1] == "lights"]
    return next(light for light in setup.lights if light.id == moved[0])


class Cautions(TestCase):
    always = {name: set(words.split(", ")) for name, words in table("cautions.md", "| move | cautions")}
    sometimes = [(move, when, set(words.split(", "))) for move, when, words in table("cautions.md", "| move | when")]

    def test_each_move_says_what_the_page_says_and_nothing_else(self) -> None:
        for name in demos():
            self.held(demo(name))

    @promise(40)
    @given(varied_setups())
    def test_in_any_room(self, setup: Setup) -> None:
        self.held(setup)

    def held(self, setup: Setup) -> None:
        for move in appraise(setup).moves_worked_out.values():
            kind = ".".join(move.id.split(".")[:2])
            texts = {NAMES[words] for words in move.cautions}
            always = self.always.get(kind, set())
            may = set().union(*(words for name, _, words in self.sometimes if name == kind))
            self.assertLessEqual(always, texts, move.id)
            self.assertLessEqual(texts, always | may, move.id)
            for name, when, words in self.sometimes:
                if name == kind and when in CONDITIONS:
                    self.assertEqual(bool(words & texts), CONDITIONS[when](setup, move), f"{move.id}: {when}")

    def test_every_caution_is_said_somewhere(self) -> None:
        answer = set().union(*self.always.values(), *(words for *_, words in self.sometimes))
        kinds = (ROOT.parent / "uphill_lamp" / "core" / "catalogue" / "kinds.csv").read_text()
        source = "".join(path.read_text() for path in (ROOT.parent / "uphill_lamp" / "core").rglob("*.py"))
        for name in NAMES.values():
            self.assertTrue(name in answer or name.lower() in kinds or f"cautions.{name}" in source, name)


class Glossary(TestCase):
    def test_every_place_it_names_is_there(self) -> None:
        text = (METHOD / "glossary.md").read_text()
        places = set(re.findall(r"`((?:core|web|drawings|listening)/[\w/.]*)`", text))
        self.assertGreater(len(places), 20)
        self.assertEqual({place for place in places if not (ROOT.parent / "uphill_lamp" / place).exists()}, set())

    def test_every_page_the_code_names_is_there_with_what_it_names_on_it(self) -> None:
        named = 0
        for path in (ROOT.parent / "uphill_lamp").rglob("*.py"):
            for page, heading in re.findall(r"docs/method/(\w+\.md)(?:, \"([^\"]+)\")?", path.read_text()):
                text = (METHOD / page).read_text()
                self.assertIn(f"**{heading}" if heading else "# ", text, f"{path.name}: {page} {heading}")
                named += 1
        self.assertGreater(named, 25)


class Roles(TestCase):
    def test_the_catalogues_roles_are_those_of_the_page(self) -> None:
        answer = [words[0].strip("`") for words in table("catalogue.md", "| role | what")]
        self.assertEqual(answer, list(get_args(Role)))
        self.assertEqual({kind.role for kind in shipped().values()} - set(answer), set())
