"""Eyes, as one of the areas."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.eyes import findings, measures
from uphill_lamp.core.areas.eyes.glances import WEIGHTS, faces
from uphill_lamp.core.areas.eyes.question import window_on_screen
from uphill_lamp.core.document.apart import ASKED, PERSON, RESPONSE, SHINES
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Finding, Measure, Move


def _measures(context: Context) -> tuple[Measure, ...]:
    return measures.measures(context.setup)


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    return findings.findings(context.setup, measured)


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    return findings.moves_for(context.setup, finding)


def _in_hand(setup: Setup) -> str:
    point = faces(setup)
    return f"shown/{point.screen.id}.{point.window.id}" if point is not None and point.screen and point.window else ""


EYES = Area(
    BY_KEY["eyes"],
    digit=6,
    weights=WEIGHTS,
    counts=measures.COUNTS,
    asks={"eyes.off_lens": window_on_screen},
    instead={"eyes.off_lens": "It shows the call beside its lens. Look into the lens while you speak, and at the faces while you listen."},
    reads=(PERSON, Read("screens", without=SHINES), Read("cameras", without=RESPONSE), *ASKED),
    measures=_measures,
    findings=_findings,
    moves=_moves,
    layers=frozenset({"look", "angle", "eye lines"}),
    drawn="always",
    in_hand=_in_hand,
)
