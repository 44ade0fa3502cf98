"""Light, as one of the areas."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.light import findings
from uphill_lamp.core.areas.light import measures as figures
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read, merged
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.reads import FIELD_READS, METERING_READS
from uphill_lamp.core.judging import Finding, Measure, Move


def _measures(context: Context) -> tuple[Measure, ...]:
    return figures.measures(context.lit_scene, context.metered, _soon(context))


def _soon(context: Context) -> tuple[Measure, ...]:
    soon: tuple[Measure, ...] = context.once("light unmetered", lambda: figures.unmetered(context.lit_scene))
    return soon


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    return findings.findings(context.lit_scene, context.metered, measured)


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    if not finding.measures:
        return tuple(findings.moves_beside(context.lit_scene, context.metered))
    solved: tuple[Move, ...] = context.once(
        "light", lambda: tuple(findings.moves_for(context.lit_scene, context.metered, findings.wanting_of(measured)))
    )
    return solved


def _in_hand(setup: Setup) -> str:
    carried = [light for light in setup.lights if light.stands != "ceiling"] or list(setup.lights)
    return f"lights/{carried[0].id}" if carried else ""


LIGHT = Area(
    BY_KEY["light"],
    digit=3,
    weights=figures.WEIGHTS,
    counts=figures.COUNTS,
    reads=merged(FIELD_READS, METERING_READS, (Read("presenter", only=frozenset({"glasses", "glasses_tipped_deg"})),)),
    measures=_measures,
    soon=_soon,
    findings=_findings,
    moves=_moves,
    instead={
        "light.rendering": "Only another bulb or lamp changes that: one marked with a colour rendering (Ra) of 90 or more. Daylight does too.",
    },
    layers=frozenset({"sky", "reach", "wanted look", "lamp line", "light lines"}),
    in_hand=_in_hand,
)
