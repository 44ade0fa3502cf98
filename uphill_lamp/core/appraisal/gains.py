"""Which moves are offered for a finding, and in what order: by what the whole score gains once they are done."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Protocol

from uphill_lamp.core.judging import Finding, Measure, Move

LEAST_GAIN = 0.05  # points; a move that gains less is not offered
VISIBLY_MORE = 0.3  # points a joint move must gain over the simpler one it extends
MOST_LOSS = 5.0  # points that a move may cost elsewhere and still be offered for what nothing else mends
AS_WELL = 0.6  # a free step that gains this share of a purchase stands before it


class Judged(Protocol):
    """A setup judged: its whole score, 0-100, and its measures by id."""

    @property
    def score(self) -> float: ...

    @property
    def measures(self) -> Mapping[str, Measure]: ...


def ranked(finding: Finding, moves: tuple[Move, ...], before: Judged, after: Mapping[str, Judged | None]) -> tuple[Move, ...]:
    """The moves that help a finding: best gain first, but no purchase before a free step that does as well.

    Where none of them gains, the one that loses least is offered all the same if it mends the matter, or betters a grave one: with other
    steps it may gain.

    Args:
        finding: one without measures is a matter no score holds; its moves are offered whatever they gain.
        moves: all that mend it.
        before: the setup as it is.
        after: the setup after each move, by the move's id; None for a move that does not fit this room.
    """
    there = {name: then for name, then in after.items() if then is not None}
    gains = {move.id: there[move.id].score - before.score for move in moves if move.id in there}
    kept = [
        replace(move, gain=gains[move.id]) for move in moves if move.id in there and offered(finding, move, gains, before, there[move.id])
    ]
    kept = kept or [replace(move, gain=gains[move.id]) for move in _at_a_loss(finding, moves, gains, before, there)]
    without_buying = max((move.gain or 0.0 for move in kept if move.cost.kind != "buy"), default=0.0)

    def order(move: Move) -> tuple[bool, float]:
        gain = move.gain or 0.0
        return move.cost.kind == "buy" and without_buying >= AS_WELL * gain, -gain

    return tuple(sorted(kept, key=order))


def _at_a_loss(
    finding: Finding, moves: tuple[Move, ...], gains: Mapping[str, float], before: Judged, there: Mapping[str, Judged]
) -> list[Move]:
    """The move that loses least of those that mend a finding, or better a grave one; none where all cost too much elsewhere."""
    helping = [
        move
        for move in moves
        if move.id in there and gains[move.id] >= -MOST_LOSS and _helps(finding, before, there[move.id])
        and (finding.severity == "grave" or not any(there[move.id].measures[name].wanting for name in finding.measures))
    ]  # fmt: skip
    return sorted(helping, key=lambda move: -gains[move.id])[:1] if finding.measures else []


def offered(finding: Finding, move: Move, gains: Mapping[str, float], before: Judged, then: Judged) -> bool:
    """Whether a move is offered for a finding because of what it gains.

    Args:
        gains: of it and of the moves it extends, by id [points].
        then: the setup after it.
    """
    if not finding.measures:
        return True
    visibly = gains.get(move.extends, 0.0) + VISIBLY_MORE if move.extends else LEAST_GAIN
    return gains[move.id] >= max(visibly, LEAST_GAIN) and _helps(finding, before, then)


def _helps(finding: Finding, before: Judged, after: Judged) -> bool:
    """Whether any of a finding's measures is better afterwards, and the worst of them no worse."""
    was = [before.measures[name].utility or 0.0 for name in finding.measures]
    now = [after.measures[name].utility or 0.0 for name in finding.measures if name in after.measures]
    return len(now) == len(was) and any(b > a + 1e-6 for a, b in zip(was, now, strict=True)) and min(now) >= min(was) - 1e-6
