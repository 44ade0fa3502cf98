"""What is wrong, gathered by what mends it: one entry a cause (docs/method/steps.md)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence, Set
from dataclasses import dataclass

from uphill_lamp.core.appraisal.gains import AS_WELL
from uphill_lamp.core.judging import Finding, Move, Severity

UNSCORED_RANK: dict[Severity, float] = {"grave": 8.0, "clear": 1.5, "slight": 0.2}  # points that what no score holds is taken to hold down
LESS_GLADLY = 0.3  # a purchase counts so much for a finding that a free step mends as well


@dataclass(frozen=True)
class Cause:
    """An entry of the list: the findings that one move mends, the gravest first; the move, None where nothing mends them; and all other
    moves that were offered for them, by what they gain."""

    findings: tuple[Finding, ...]
    move: Move | None
    others: tuple[Move, ...] = ()

    @property
    def first(self) -> Finding:
        """The gravest of what it mends."""
        return self.findings[0]

    @property
    def also(self) -> tuple[Finding, ...]:
        """What else it mends."""
        return self.findings[1:]

    @property
    def gained(self) -> float:
        """Points that it is worth: what its move gains, or what the matter is taken to hold down where no score holds it."""
        unscored = max((UNSCORED_RANK[finding.severity] for finding in self.findings if not finding.measures), default=0.0)
        share = LESS_GLADLY if self.move and self.move.cost.kind == "buy" else 1.0
        return max(share * ((self.move and self.move.gain) or 0.0), unscored)

    @property
    def later(self) -> bool:
        """Whether it stands after the others: slight, or not grave with a move that costs more elsewhere than it gains."""
        losing = self.move is not None and (self.move.gain or 0.0) < 0
        return self.first.severity == "slight" or (losing and self.first.severity != "grave")


def asked_first(entries: Sequence[Cause]) -> Finding | None:
    """The finding that would lead the list, but for the question that stands before it; None if what leads is sure."""
    if entries and entries[0].first.foremost:
        return None
    leads = max((entry for entry in entries if entry.first.severity != "slight"), key=lambda entry: entry.gained, default=None)
    return leads.first if leads and leads.first.asks else None


def causes(findings: Sequence[Finding], mends: Callable[[Move, Finding], bool] = lambda move, finding: False) -> tuple[Cause, ...]:
    """The smallest set of moves that mends every finding that any move mends, each with what it mends; then what nothing mends.

    Weighted set cover: first the move that is worth most for what is not covered yet. Each finding counts, and as much again by the share
    of the best gain that is offered for it. What gains most stands first, what is slight, or mended at a loss, after all else.

    Args:
        findings: with their moves, worst first.
        mends: whether a finding is gone after a move, though it was not offered for it.
    """
    left, entries = [finding for finding in findings if finding.moves], list[Cause]()
    offered = {move.id: move for finding in left for move in finding.moves}
    covers = {
        name: {finding.id for finding in left if any(other.id == name for other in finding.moves) or mends(move, finding)}
        for name, move in offered.items()
    }
    while left:
        worth = {name: round(sum(_worth(move, finding, covers[name]) for finding in left), 6) for name, move in offered.items()}
        name = max(offered, key=lambda name: (worth[name], name))
        if offered[name].cost.kind == "buy":  # a free step that does nearly as well comes before it
            well = AS_WELL * (offered[name].gain or 0.0)
            free = [other for other, move in offered.items() if worth[other] and move.cost.kind != "buy" and (move.gain or 0.0) >= well]
            shared = [other for other in free if any(finding.id in covers[other] & covers[name] for finding in left)]
            name = max(shared, key=lambda other: (worth[other], other), default=name)
        mended = tuple(finding for finding in left if finding.id in covers[name])
        entries.append(Cause(mended, offered[name], tuple(_others(mended, offered[name]))))
        left = [finding for finding in left if finding not in mended]
    order = {finding.id: place for place, finding in enumerate(findings)}
    entries.sort(key=lambda cause: (not cause.first.foremost, cause.later, -cause.gained, order[cause.first.id]))
    return (*_sure_first(entries), *(Cause((finding,), None) for finding in findings if not finding.moves))


def _sure_first(entries: list[Cause]) -> list[Cause]:
    """The entries, led by one that no question stands before, if any that does not stand after the others is."""
    sure = next((entry for entry in entries if not entry.first.asks and not entry.later), None)
    return [sure, *(entry for entry in entries if entry is not sure)] if sure else entries


def _worth(move: Move, finding: Finding, covered: Set[str]) -> float:
    """How well a move mends a finding, 0-1: half for mending it at all, half for its gain by the best one's."""
    if finding.id not in covered:
        return 0.0
    first, best = finding.moves[0], max(other.gain or 0.0 for other in finding.moves)
    share = min((move.gain or 0.0) / best, 1.0) if best > 0 else 1.0
    return (0.5 + 0.5 * share) * (LESS_GLADLY if move.cost.kind == "buy" and first.cost.kind != "buy" else 1.0)


def _others(mended: Sequence[Finding], move: Move) -> Iterator[Move]:
    ways = {other.id: other for finding in mended for other in finding.moves if other.id != move.id}
    yield from sorted(ways.values(), key=lambda other: -(other.gain or 0.0))
