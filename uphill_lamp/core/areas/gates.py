"""What a call is for, and what is so on purpose, decide which figures count: one table, read by all that judges (docs/method/score.md)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from uphill_lamp.core import cautions
from uphill_lamp.core.document.people import OnPurpose
from uphill_lamp.core.document.reads import Read
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Finding, Measure, Move

PICTURED = frozenset({"frame", "light", "eyes", "backdrop"})  # areas of which nothing is left where there is no picture
GATE_READS = (Read("call", only=frozenset({"use", "picture", "plays_sound", "kept_on", "destination"})), Read("on_purpose"))


@dataclass(frozen=True)
class Use:
    """What a use of the call changes.

    Args:
        left_out: figures and findings that do not matter for it, with the reason.
        bands: bands that are others for it.
        no_moves: ids of moves, or what they begin with, that it does not want.
    """

    left_out: Mapping[str, str] = field(default_factory=dict)
    bands: Mapping[str, Band] = field(default_factory=dict)
    no_moves: tuple[str, ...] = ()


USES: dict[str, Use] = {
    "live": Use(),
    "audience": Use({"eyes.self_view": "an audience's host keeps an eye on the picture that goes out"}),
    "recorded": Use(
        {"sound.echo": "nobody speaks from the loudspeakers during a take"},
        {"sound.snr": Band(35, None, 15, None)},  # a recording is made louder afterwards, its noise with it
        ("sound.noise_removal",),  # before the take it cannot be undone
    ),
}


def gated(setup: Setup, measures: Iterable[Measure]) -> tuple[Measure, ...]:
    """Figures as they count: those that the use of the call leaves out gone, its bands put in, what is so on purpose shown and not scored."""
    use, out = USES[setup.call.use], _left_out(setup)
    kept = [measure for measure in measures if measure.id not in out and (setup.call.picture or measure.area not in PICTURED)]
    meant = {name for entry in setup.on_purpose for name in entry.values}
    by_id = {measure.id: measure for measure in kept}
    still = {name for entry in setup.on_purpose if holds(entry, by_id) for name in entry.values}
    meant &= still
    if not meant and not use.bands:
        return tuple(kept)
    return tuple(
        replace(measure, band=use.bands.get(measure.id, measure.band), weight=0.0 if measure.id in meant else measure.weight)
        for measure in kept
    )


def found(setup: Setup, area: str, findings: Iterable[Finding], measures: Mapping[str, Measure]) -> Iterator[Finding]:
    """Findings as they are told: none of what the use leaves out, none without a picture, none that is so on purpose."""
    out, meant = _left_out(setup), {entry.finding for entry in setup.on_purpose if holds(entry, measures)}
    if area in PICTURED and not setup.call.picture:
        return
    for finding in findings:
        if finding.id not in out and finding.id not in meant:
            yield finding


def wanted(setup: Setup, moves: Iterable[Move]) -> tuple[Move, ...]:
    """Moves but those that the use of the call does not want, or that want holes where there may be none."""
    unwanted, holes = USES[setup.call.use].no_moves, not setup.preferences.no_holes
    return tuple(
        move for move in moves if not (unwanted and move.id.startswith(unwanted)) and (holes or cautions.DRILLING not in move.cautions)
    )


def holds(entry: OnPurpose, measures: Mapping[str, Measure]) -> bool:
    """Whether something still is as it was when it was meant to be so: no figure has moved by more than half its band."""
    return all(name not in measures or _moved(measures[name], was) <= 0.5 for name, was in entry.values.items())


def _moved(measure: Measure, was: float) -> float:
    """How far a figure has moved, in widths of its band: from where it begins to be wanting to where it is hardly worth anything."""
    band = measure.band
    if measure.value is None or band is None:
        return 0.0
    spans = [
        abs(ideal - outer)
        for ideal, outer in ((band.ideal_low, band.outer_low), (band.ideal_high, band.outer_high))
        if ideal is not None and outer is not None
    ]
    return (
        abs(measure.value - was) / max(*spans, 1e-9) if len(spans) > 1 else abs(measure.value - was) / max(spans[0] if spans else 1.0, 1e-9)
    )


def _left_out(setup: Setup) -> frozenset[str]:
    out = set(USES[setup.call.use].left_out)
    if setup.call.plays_sound:
        out.discard("sound.echo")
    return frozenset(out)
