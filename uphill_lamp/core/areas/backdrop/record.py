"""Backdrop, as one of the areas."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.backdrop import findings, measures, moves
from uphill_lamp.core.document.apart import ASKED, PERSON, RESPONSE, SHELL, SHINES
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Finding, Measure, Move


def _measures(context: Context) -> tuple[Measure, ...]:
    return measures.measures(context.setup)


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    return findings.findings(context.setup, measured)


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    return moves.moves_for(context.setup, finding)


def _in_hand(setup: Setup) -> str:
    first = [*findings.unwanted_in_view(setup), *setup.backdrop][:1]
    return f"backdrop/{first[0].id}" if first else ""


BACKDROP = Area(
    BY_KEY["backdrop"],
    digit=5,
    weights=measures.WEIGHTS,
    counts=measures.COUNTS,
    reads=(
        SHELL,
        Read("desk"),
        PERSON,
        Read("screens", without=SHINES),
        Read("cameras", without=RESPONSE),
        Read("backdrop"),
        Read("reflectors"),
        *ASKED,
    ),
    measures=_measures,
    findings=_findings,
    moves=_moves,
    instead={
        "backdrop.near": "The room gives no more. A plain wall close behind does no harm; keep your shadow off it.",
        "backdrop.points": "A picture, a plant or a lamp a third of the way across is enough.",
    },
    layers=frozenset({"unwanted"}),
    in_hand=_in_hand,
)
