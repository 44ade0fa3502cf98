"""Areas as records: what they read is declared, their weights are the ones that judge, and the names stand in one leaf."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.promise import SEED, WHOLE, promised
from tests.setups import demo, demos
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.light.lamp_placing import face_light_utilities
from uphill_lamp.core.areas.registry import areas
from uphill_lamp.core.document import Refused, Setup, applied
from uphill_lamp.core.document.areas import AREA_NAMES
from uphill_lamp.core.document.people import Weights
from uphill_lamp.core.document.reads import Read, merged
from uphill_lamp.core.judging import harmonic

VALUES = 20 if WHOLE else 2  # tried of each leaf


def leaves(value: Any, path: str = "", sort: str = "") -> Iterator[tuple[str, str, Any]]:
    """Path, sort and value of every leaf of a document: things in lists by their ids in the path, by their kinds in the sort."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from leaves(inner, f"{path}/{key}", f"{sort}/{key}")
    elif isinstance(value, list) and value and isinstance(value[0], dict) and "id" in value[0]:
        for inner in value:
            yield from leaves(inner, f"{path}/{inner['id']}", f"{sort}/{inner.get('kind')}/{inner.get('mount')}/{inner.get('at')}")
    else:
        yield path, sort, value


def others(chance: random.Random, path: str, value: Any, schema_words: dict[str, list[str]]) -> list[Any]:
    """Other values for a leaf, some of which it may take."""
    if isinstance(value, bool):
        return [not value]
    if isinstance(value, int | float):
        return [value * factor + more for factor, more in ((1.07, 0), (0.9, 0), (1, 0.05), (1, -0.05), (1, 1), (1, -1), (0, 0.4))]
    if isinstance(value, str):
        words = schema_words.get(path.rsplit("/", 1)[-1], [])
        return [*chance.sample(words, len(words)), "Another name", "#112233"]
    return [0.5, "other", 40.0]


def words_of_schema() -> dict[str, list[str]]:
    """The words that fields of each name may hold."""
    actual: dict[str, list[str]] = {}

    def look(node: Any) -> None:
        if isinstance(node, dict):
            for name, field in node.get("properties", {}).items():
                options = [
                    option for part in (field, *field.get("anyOf", ())) for option in (part.get("enum") or ()) if isinstance(option, str)
                ]
                actual.setdefault(name, []).extend(options)
            for inner in node.values():
                look(inner)
        elif isinstance(node, list):
            for inner in node:
                look(inner)

    look(Setup.model_json_schema())
    return actual


def changed(setup: Setup, chance: random.Random, most: int, done: set[str]) -> Iterator[tuple[str, Setup]]:
    """Setups in which one leaf each is another, up to ``most`` of each sort of leaf that is not yet ``done``."""
    words = words_of_schema()
    for path, sort, value in leaves(setup.model_dump(mode="json")):
        if path.startswith(("/origins", "/format", "/version")) or path.endswith("/id") or sort in done:
            continue
        done.add(sort)
        tried = 0
        for other in others(chance, path, value, words):
            try:
                there = applied(setup, [{"op": "replace", "path": path, "value": other}], origin=None)
            except Refused:
                continue
            if other != value:
                yield f"{path} = {other}", there
                tried += 1
            if tried == most:
                break


def undeclared(setup: Setup, chance: random.Random, most: int, done: set[str]) -> list[str]:
    """Changes of one leaf that move an area's figures, though it does not say that it reads it."""
    before, actual = appraise(setup), []
    for what, there in changed(setup, chance, most, done):
        after = appraise(there)
        for area in areas():
            was, now = before.area(area.key), after.area(area.key)
            if _read_alike(area.score_reads, setup, there) and (was and was.score) != (now and now.score):
                actual.append(f"{area.key} does not read {what}")
            if _read_alike(area.all_reads, setup, there) and _figures(was) != _figures(now):
                actual.append(f"{area.key} shows what it does not read: {what}")
    return actual


def _read_alike(reads: tuple[Read, ...], before: Setup, after: Setup) -> bool:
    return all(read.text(before) == read.text(after) for read in reads)


def _figures(score: Any) -> dict[str, float | None]:
    return {measure.id: measure.value for measure in score.measures} if score else {}


class Reading(TestCase):
    @promised(4000)
    def test_no_field_is_read_that_is_not_declared(self) -> None:
        chance, done = random.Random(SEED), set[str]()
        for name in demos():
            self.assertEqual(undeclared(demo(name), chance, VALUES, done), [], name)
        self.assertGreater(len(done), 200)

    def test_what_is_declared_twice_is_read_as_widely_as_either(self) -> None:
        one, other = Read("screens", without=frozenset({"name", "on"})), Read("screens", without=frozenset({"name", "windows"}))
        self.assertEqual(merged([one], [other]), (Read("screens", without=frozenset({"name"})),))
        part = Read("cameras", only=frozenset({"mount"}), things="on a screen")
        self.assertEqual(merged([part], [Read("cameras", only=frozenset({"use"}))]), (Read("cameras", only=frozenset({"mount", "use"})),))
        self.assertEqual(
            merged([part], [Read("cameras", without=frozenset({"mount", "fps"}))]), (Read("cameras", without=frozenset({"fps"})),)
        )

    def test_a_known_appraisal_lends_nothing_that_would_differ(self) -> None:
        chance = random.Random(2)
        for name in demos():
            setup = demo(name)
            known = appraise(setup)
            for what, there in chance.sample(list(changed(setup, chance, 1, set())), 6):
                self.assertEqual(appraise(there, known).areas, appraise(there).areas, what)


class Records(TestCase):
    def test_names_and_weights_are_those_of_the_document(self) -> None:
        self.assertEqual({area.key: area.weight for area in AREA_NAMES}, Weights().model_dump())
        for area in areas():
            self.assertIn(area.name, AREA_NAMES)
            self.assertEqual(area.weight(demo().preferences), getattr(demo().preferences.weights, area.key))
        self.assertEqual(len({area.digit for area in areas()}), len(areas()))

    def test_every_weight_has_a_reason_and_judges(self) -> None:
        for name in demos():
            appraisal = appraise(demo(name))
            for measure in appraisal.measures.values():
                record = next(area for area in areas() if area.key == measure.area)
                weight, reason = record.weights.get(measure.id, (0.0, "shown only"))
                self.assertEqual(measure.weight, weight if measure.band else 0.0)
                self.assertGreater(len(reason), 8)
            for score in appraisal.areas:
                judged = [
                    (measure.counts, measure.weight, measure.utility)
                    for measure in score.measures
                    if measure.weight and measure.utility is not None
                ]
                faults = [(w, u) for counts, w, u in judged if counts in ("fault", "both")]
                faultless = (sum(w for w, _ in faults) / sum(w / (0.1 + 0.9 * u) for w, u in faults) - 0.1) / 0.9
                fine = [(w, u) for counts, w, u in judged if counts == "quality"]
                quality = sum(w * u for w, u in fine) / sum(w for w, _ in fine) if fine else faultless if score.area == "eyes" else 0.5
                factor = math.prod(u for counts, _, u in judged if counts == "factor")
                self.assertAlmostEqual(score.score, (80 * faultless + 20 * quality) * factor, places=9)

    @given(st.lists(st.tuples(st.floats(0.1, 5), st.floats(0, 1)), min_size=1, max_size=6))
    def test_the_one_rule_lies_between_the_worst_and_the_best_and_rises_with_each(self, weighted: list[tuple[float, float]]) -> None:
        mean, ends = harmonic(weighted), [0.1 + 0.9 * utility for _, utility in weighted]
        self.assertTrue(min(ends) - 1e-9 <= mean <= max(ends) + 1e-9)
        better = [(weight, min(utility + 0.1, 1.0)) for weight, utility in weighted]
        self.assertGreaterEqual(harmonic(better), mean - 1e-12)

    def test_placing_a_lamp_judges_by_the_area_s_own_weights(self) -> None:
        from uphill_lamp.core.areas.light.measures import FROM_ABOVE, SIDES, WEIGHTS, level_band
        from uphill_lamp.core.field.camera.response import LightNeed

        level, lit = level_band(LightNeed(128.0, 16.0)), np.array([90.0, 200.0, 60.0, 400.0, 20.0, 30.0])
        from uphill_lamp.core.field.light.lit_scene import FACE_POINTS

        at = dict(zip(FACE_POINTS, lit, strict=True))
        judged = (
            ("light.face_level", level.utility(at["front"])), ("light.sides", SIDES["even"].utility(abs(np.log2(at["left_cheek"] / at["right_cheek"])))),
            ("light.from_above", FROM_ABOVE.utility(np.log2(at["top"] / at["front"]))),
        )  # fmt: skip
        self.assertAlmostEqual(
            float(face_light_utilities(level, SIDES["even"], lit)), harmonic([(WEIGHTS[name][0], u) for name, u in judged])
        )
