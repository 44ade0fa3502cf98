"""An area made up in this one file shows on slope, bench, ladder and report: nothing else need be told of it."""

from __future__ import annotations

from collections.abc import Iterator
from unittest.mock import patch

import jsonschema

from tests.web.test_steps import Small
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.registry import also
from uphill_lamp.core.document import read_setup
from uphill_lamp.core.document.areas import AreaName
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.judging import Band, Finding, Measure, Move, weighed
from uphill_lamp.core.report import report, report_schema
from uphill_lamp.web.setups import documents

WEIGHTS = {"line.upload": (1.0, "made up: a picture wants a line")}


def _measures(context: Context) -> tuple[Measure, ...]:
    upload = context.setup.call.upload_mbit_s
    return weighed([Measure("line.upload", "Line out", upload, "Mbit/s", Band(1000, None, 5, None), "assumed", "Made up.")], WEIGHTS)


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    if (measured["line.upload"].utility or 0) < 1:
        yield Finding("line.thin", "line", "Your line is thin", "Nobody sees you move.", ("line.upload",))


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    return (Move("line.wider", "Have a wider line laid", (replace("/call/upload_mbit_s", 2000.0),)),)


LINE = Area(
    AreaName("line", "Line", 15), digit=8, weights=WEIGHTS, reads=(Read("call", only=frozenset({"upload_mbit_s"})),),
    measures=_measures, findings=_findings, moves=_moves,
)  # fmt: skip


class MadeUp(Small):
    name = "A room that works"

    def test_it_is_on_slope_bench_ladder_and_report(self) -> None:
        plain = appraise(self.document())
        with also(LINE):
            documents.forget()
            appraisal = appraise(self.document())
            self.assertEqual(appraisal.areas[:-1], plain.areas)
            self.assertNotEqual(appraisal.score, plain.score)

            answer = report(appraisal)
            jsonschema.validate(answer, report_schema())
            self.assertEqual(answer["areas"]["line"]["weight"], 15)
            self.assertIn("line.thin", [finding["id"] for finding in answer["findings"]])

            page = self.client.get(f"{self.base}line/").content.decode()
            self.assertIn('<span class="waymark-name">Line<kbd>8</kbd></span>', page)
            self.assertIn('aria-current="page"', page.split("at-line")[1][:200])
            self.assertIn("Line out", page)
            moves = self.client.get(f"{self.base}line/findings/").content.decode()
            self.assertIn("Have a wider line laid", moves)
            self.assertContains(self.client.get(f"{self.base}light/"), "Line<kbd>8</kbd>")

            with patch("uphill_lamp.core.steps.ladder.MOST_COMBINATIONS", 60):
                page = self.ready()
            self.assertIn("Have a wider line laid", page)
            self.assertIn('name="line"', page)  # how much it counts can be said
        documents.forget()
        self.assertEqual(self.client.get(f"{self.base}line/").status_code, 404)
        self.assertEqual(appraise(read_setup(self.row.head.document.encode())).areas, plain.areas)  # type: ignore[union-attr]
