"""Any setup the document allows can be appraised, mended and drawn: no crash, no figure that cannot be."""

from __future__ import annotations

import json
import math
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.promise import promise
from tests.setups import demo, demos
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.document import Refused, setup_from, written
from uphill_lamp.core.document.schema import field_schema
from uphill_lamp.core.report import report
from uphill_lamp.drawings import overlay, plan, side
from uphill_lamp.drawings.far_side.render import render


def numbers(node: Any, path: str = "") -> list[tuple[Any, Any, str]]:
    """Every number of a document with where it sits."""
    actual = []
    for key, value in node.items() if isinstance(node, dict) else enumerate(node):
        handle = value["id"] if isinstance(value, dict) and "id" in value else key
        if isinstance(value, (dict, list)):
            actual += numbers(value, f"{path}/{handle}")
        elif isinstance(value, (int, float)) and not isinstance(value, bool) and key != "version":
            actual.append((node, key, f"{path}/{key}"))
    return actual


class Extremes(TestCase):
    @promise(120)
    @given(st.sampled_from(demos()), st.data())
    def test_the_ends_of_every_range(self, name: str, data: Any) -> None:
        document = json.loads(written(demo(name)))
        fields = numbers(document)
        for node, key, path in data.draw(st.lists(st.sampled_from(fields), min_size=1, max_size=6)):
            schema = field_schema(path) or {}
            branches = schema.get("anyOf", [schema])
            low, high = branches[0].get("minimum", 0), branches[0].get("maximum", branches[0].get("exclusiveMaximum", 1))
            share = data.draw(st.sampled_from([0.0, 1.0, 0.02, 0.5]))
            value = low + share * (high - low)
            node[key] = round(value) if branches[0].get("type") == "integer" else float(value)
        try:
            setup = setup_from(document)
        except Refused:
            return
        appraisal = appraise(setup)
        answer = report(appraisal)
        json.dumps(answer, allow_nan=False)
        self.assertTrue(0 <= answer["score"] <= 100)
        for finding in answer["findings"]:
            self.assertNotIn("nan", finding["title"] + finding["why"])
        for stage in ("frame", "light", "sound", "eyes"):
            for drawing in (plan.plan(appraisal, stage, ""), side.side(appraisal, stage, ""), overlay.overlay(appraisal, stage)):
                self.assertNotIn("nan", drawing)
                self.assertNotIn('"inf', drawing)
        self.assertTrue(math.isfinite(float(render(appraisal, 64).pixels.mean())))
