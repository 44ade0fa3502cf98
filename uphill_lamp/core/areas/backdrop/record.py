"""Backdrop, as one of the areas."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.backdrop import findings, lit_findings, lit_moves, measures, moves, shine
from uphill_lamp.core.areas.backdrop.lit import Lit
from uphill_lamp.core.areas.backdrop.worn_moves import hat_off
from uphill_lamp.core.document.apart import ASKED, PERSON, RESPONSE, SHELL, SHINES
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read, merged
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.reads import FIELD_READS, METERING_READS
from uphill_lamp.core.judging import Finding, Measure, Move


def _measures(context: Context) -> tuple[Measure, ...]:
    return measures.measures(context.setup, _lit(context))


def _lit(context: Context) -> Lit:
    """What is behind in its light, worked out once."""
    lit: Lit = context.once("backdrop", lambda: Lit(context.lit_scene, context.metered))
    return lit


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    yield from findings.findings(context.setup, measured)
    yield from lit_findings.findings(_lit(context), measured)
    yield from findings.presenter(context.setup, context.lit_scene)
    yield from shine.findings(context.setup, context.lit_scene)


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    if finding.id == "backdrop.hat":
        return tuple(hat_off(context.setup, context.lit_scene))
    if finding.id == "backdrop.shine":
        return tuple(shine.blotted(context.setup))
    if finding.id == "backdrop.glint":
        return tuple(shine.off(context.setup, context.lit_scene))
    if finding.id in lit_moves.MAKERS:
        return lit_moves.moves_for(_lit(context), finding)
    return moves.moves_for(context.setup, finding)


def _in_hand(setup: Setup) -> str:
    first = [*findings.unwanted_in_view(setup), *setup.backdrop][:1]
    return f"backdrop/{first[0].id}" if first else ""


# Where things are and what they are: all that the ways to go are weighed by, light apart.
PLACED = (
    SHELL,
    Read("desk"),
    PERSON,
    Read("presenter", only=frozenset({"clothing"})),
    Read("screens", without=SHINES),
    Read("cameras", without=RESPONSE),
    Read("backdrop"),
    Read("reflectors"),
    *ASKED,
)

HEAD = Read("presenter", only=frozenset({"hair", "hair_colour", "skin_reflectance"}))  # what the wall is held against

BACKDROP = Area(
    BY_KEY["backdrop"],
    digit=5,
    weights=measures.WEIGHTS,
    counts=measures.COUNTS,
    reads=merged((*PLACED, Read("cameras"), HEAD), FIELD_READS, METERING_READS),
    weighed_by=PLACED,
    weighed_with="light",
    measures=_measures,
    findings=_findings,
    moves=_moves,
    instead={
        "backdrop.private": "Cover it, or put it where the camera does not look, before you switch the camera on.",
        "backdrop.moving": "Stop it for the call, or sit so that your own head hides it.",
        "backdrop.readable": "Cover it, or turn it round: what cannot be read is only clutter.",
        "backdrop.grows": "Sit a hand's breadth to the side, and turn the camera after you: what is behind moves against your head.",
        "backdrop.cut_line": "Raise or lower camera and chair together by a hand's breadth, or come away from the wall.",
        "backdrop.brightest": "Sit so that it is out of the picture, or let less light on it: the face should be the brightest.",
        "backdrop.edge": "A lamp on the wall behind you, or on your hair from behind, sets you off; so does a wall further away.",
        "backdrop.shadow": "Bring the lamp nearer the camera and higher, or come away from the wall: the shadow then falls where nobody looks.",
        "backdrop.busy": "Less light on what is behind you calms it, and so does more room between it and you.",
        "backdrop.garment": "Something neither white nor black lets the camera see your face as it is.",
        "backdrop.melts": "Something lighter or darker than the wall gives you a body.",
        "backdrop.near": "The room gives no more. A plain wall close behind does no harm; keep your shadow off it.",
        "backdrop.soft": "This lens cannot in this room: only a larger sensor, a longer lens or a wall much further off blurs it.",
        "backdrop.points": "A picture, a plant or a lamp a third of the way across is enough.",
    },
    layers=frozenset({"strip", "unwanted", "shadow", "outline", "brightest"}),
    in_hand=_in_hand,
)
