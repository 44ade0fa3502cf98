"""Frame, as one of the areas."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.frame import findings, measures
from uphill_lamp.core.areas.frame import seen_measures as shown
from uphill_lamp.core.areas.frame.bands import WEIGHTS
from uphill_lamp.core.areas.frame.question import head_in_picture
from uphill_lamp.core.document.apart import ASKED, PERSON, RESPONSE, SHINES
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.judging import Finding, Measure, Move


def _measures(context: Context) -> tuple[Measure, ...]:
    return (*measures.measures(context.setup), *shown.measures(context.setup))


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    return findings.findings(context.setup, measured, context.lit_scene.face_lx["front"])


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    return findings.moves_for(context.setup, finding, context.lit_scene.face_lx["front"])


FRAME = Area(
    BY_KEY["frame"],
    digit=2,
    weights=WEIGHTS,
    reads=(
        Read("room", only=frozenset({"width_m", "depth_m", "height_m"})),
        PERSON,
        Read("screens", without=SHINES | {"windows"}),
        Read("desk", only=frozenset({"height_m", "x_m", "y_m", "width_m", "depth_m", "yaw_deg"})),
        Read("computer", only=frozenset({"separate_keyboard"})),
        Read("cameras", without=RESPONSE),
        *ASKED,
    ),
    measures=_measures,
    findings=_findings,
    moves=_moves,
    asks=dict.fromkeys(("frame.eye_line", "frame.not_seen"), head_in_picture),
    instead={
        "frame.wobble": "It is the desk itself. Lean on nothing and type little while you speak, or film from something that stands on the floor.",
    },
    layers=frozenset({"look", "angle", "frame lines", "destination"}),
    drawn="always",
)
