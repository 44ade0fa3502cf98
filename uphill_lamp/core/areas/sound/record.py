"""Sound, as one of the areas; and what is heard is worked out from."""

from __future__ import annotations

from collections.abc import Iterator

from uphill_lamp.core.areas.area import Area, Context, Measures
from uphill_lamp.core.areas.sound import findings
from uphill_lamp.core.areas.sound import measures as figures
from uphill_lamp.core.areas.sound.question import distance_from_mouth
from uphill_lamp.core.document.apart import LOOKS, SHINES
from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Finding, Measure, Move

# Where a microphone in a screen sits depends on the camera beside it.
BESIDE = frozenset({"on_screen", "mount", "lens_offset_m", "position"})
HEARD_READS = (
    Read("room", without=frozenset(f"windows/{name}" for name in ("name", "covering", "glass_transmittance", "obstruction_deg"))),
    Read("desk"),
    Read("presenter", without=LOOKS - {"voice", "voice_effort"}),
    Read("computer"),
    Read("cameras", only=BESIDE, things="on a screen"),
    Read("screens", without=SHINES | {"windows"}),
    Read("microphones", without=frozenset({"name", "entry"})),
    Read("noises", without=frozenset({"name"})),
)


def _measures(context: Context) -> tuple[Measure, ...]:
    return figures.measures(context.setup, context.heard)


def _findings(context: Context, measured: Measures) -> Iterator[Finding]:
    return findings.findings(context.setup, context.heard, measured)


def _moves(context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
    if not finding.measures:
        return tuple(findings.moves_beside(context.setup, context.heard, finding))
    solved: tuple[Move, ...] = context.once("sound", lambda: tuple(findings.moves_for(context.setup, context.heard, measured)))
    return solved


def _in_hand(setup: Setup) -> str:
    return f"microphones/{setup.microphone_in_use.id}" if setup.microphone_in_use else ""


SOUND = Area(
    BY_KEY["sound"],
    digit=4,
    weights=figures.WEIGHTS,
    counts=figures.COUNTS,
    reads=HEARD_READS,
    shown_reads=(Read("cameras", only=frozenset({"latency_s", "use"})), Read("call", only=frozenset({"sound_delay_s"}))),
    measures=_measures,
    findings=_findings,
    moves=_moves,
    asks={"sound.direct_to_reverberant": distance_from_mouth},
    instead={
        "sound.direct_to_reverberant": "It hangs as near as such a one can. Soft things about you help a little; a microphone at the cheek helps more.",
        "sound.touch": "Mute yourself while you type, and lay a folded cloth under the keyboard.",
    },
    layers=frozenset({"pattern", "voice rings", "noises", "voice line"}),
    drawn="at its stage",
    in_hand=_in_hand,
)
