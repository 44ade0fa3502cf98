"""Document in, Appraisal out: measures and scores first, then findings, then what each move gains."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, replace
from functools import cached_property

from uphill_lamp.core.area import Context
from uphill_lamp.core.areas import area_of, areas
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.document.reads import Texts
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import AreaScore, Finding, Measure, Move, Severity, area_score, loss_points, severity_of, whole_score
from uphill_lamp.core.light.falling import Falling, falling_of
from uphill_lamp.core.light.metering import Metered, meter
from uphill_lamp.core.light.record import FIELD_READS, METERING_READS
from uphill_lamp.core.sound.capsule import Heard, heard_by
from uphill_lamp.core.sound.gain import unpowered
from uphill_lamp.core.sound.record import HEARD_READS

# Where findings that no score holds stand among the others, as if they held down so many points.
UNSCORED_RANK: dict[Severity, float] = {"grave": 8.0, "clear": 1.5, "slight": 0.2}
LEAST_GAIN = 0.05  # points; a move that gains less is not offered
VISIBLY_MORE = 0.3  # points a joint move must gain over the simpler one it extends
AS_WELL = 0.6  # a free step that gains this share of a purchase stands before it


@dataclass(frozen=True)
class Appraisal:
    """A setup judged. Light and sound as computed come along for the drawings."""

    setup: Setup
    areas: tuple[AreaScore, ...]
    falling: Falling
    metered: Metered
    heard: Heard | None
    texts: Texts

    @cached_property
    def score(self) -> float:
        """Whole score, 0-100."""
        return whole_score(self.areas)

    @cached_property
    def measures(self) -> dict[str, Measure]:
        """Every measure by id."""
        return {measure.id: measure for area in self.areas for measure in area.measures}

    def area(self, name: str) -> AreaScore | None:
        return next((area for area in self.areas if area.area == name), None)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is wrong, worst first; the gains of the moves not yet computed."""
        found = [self._weighed(finding) for finding in self._told()]
        return tuple(
            sorted(found, key=lambda finding: (-(finding.loss if finding.measures else UNSCORED_RANK[finding.severity]), finding.id))
        )

    def _told(self) -> Iterator[Finding]:
        for area in areas():
            yield from area.findings(self.context, self._of(area.key))

    @cached_property
    def context(self) -> Context:
        """What its areas judge from."""
        return Context(self.setup, lambda: self.falling, lambda: self.metered, lambda: self.heard)

    def _of(self, area: str) -> dict[str, Measure]:
        return {name: measure for name, measure in self.measures.items() if measure.area == area}

    def _weighed(self, finding: Finding) -> Finding:
        if not finding.measures:
            return finding
        concerned = [self.measures[name] for name in finding.measures if name in self.measures]
        worst = min((measure.utility or 0.0 for measure in concerned), default=1.0)
        assumed = any(measure.origin == "assumed" for measure in concerned)
        loss = loss_points(self.areas, finding.measures)
        return replace(finding, severity=severity_of(worst), loss=loss, assumed=assumed)

    @cached_property
    def findings_with_gains(self) -> tuple[Finding, ...]:
        """The findings, each with the moves that raise the whole score and mend it, and by how much [points]."""
        solved = {finding.id: self._solved(finding) for finding in self.findings}
        offered = {move.id: move for moves in solved.values() for move in moves}
        after = {name: self._after(move) for name, move in offered.items()}
        return tuple(replace(finding, moves=self._ranked(finding, solved[finding.id], after)) for finding in self.findings)

    @cached_property
    def moves_worked_out(self) -> dict[str, Move]:
        """Every move that the areas work out for what is wrong, by id, whether it gains by itself or not."""
        return {move.id: move for finding in self.findings for move in self._solved(finding)}

    def _solved(self, finding: Finding) -> tuple[Move, ...]:
        area = area_of(finding.area)
        return area.moves(self.context, finding, self._of(finding.area)) if area else ()

    def _after(self, move: Move) -> Appraisal | None:
        try:
            return appraise(applied(self.setup, move.patch), known=self)
        except Refused:  # the move does not fit this room
            return None

    def _ranked(self, finding: Finding, moves: tuple[Move, ...], after: Mapping[str, Appraisal | None]) -> tuple[Move, ...]:
        """The moves that help this finding: best gain first, but no purchase before a free step that does as well."""
        gains = {move.id: after[move.id].score - self.score for move in moves if after[move.id] is not None}  # type: ignore[union-attr]
        kept = []
        for move in moves:
            gain, then = gains.get(move.id, 0.0), after[move.id]
            visibly = gains.get(move.extends, 0.0) + VISIBLY_MORE if move.extends else LEAST_GAIN
            wanted = not finding.measures or (then is not None and gain >= max(visibly, LEAST_GAIN) and _helps(finding, self, then))
            if then is not None and wanted:
                kept.append(replace(move, gain=gain))
        without_buying = max((move.gain or 0.0 for move in kept if move.cost.kind != "buy"), default=0.0)

        def order(move: Move) -> tuple[bool, float]:
            gain = move.gain or 0.0
            return move.cost.kind == "buy" and without_buying >= AS_WELL * gain, -gain

        return tuple(sorted(kept, key=order))

    def move(self, move_id: str) -> Move | None:
        """The offered move of an id, with its gain."""
        moves = (move for finding in self.findings_with_gains for move in finding.moves)
        return next((move for move in moves if move.id == move_id), None)


def _helps(finding: Finding, before: Appraisal, after: Appraisal) -> bool:
    """Whether any of a finding's measures is better afterwards, and the worst of them no worse."""
    was = [before.measures[name].utility or 0.0 for name in finding.measures]
    now = [after.measures[name].utility or 0.0 for name in finding.measures if name in after.measures]
    return len(now) == len(was) and any(b > a + 1e-6 for a, b in zip(was, now, strict=True)) and min(now) >= min(was) - 1e-6


def appraise(setup: Setup, known: Appraisal | None = None) -> Appraisal:
    """Judges a setup.

    Args:
        setup: the document.
        known: an appraisal of a like setup; its light or sound is taken over where nothing it reads has changed.
    """
    texts = Texts(setup)
    lit = known if known is not None and texts.same(known.texts, FIELD_READS) else None
    falling = lit.falling.carried_to(setup) if lit else falling_of(setup)
    metered = lit.metered if lit and texts.same(lit.texts, METERING_READS) else meter(falling)
    heard = known.heard if known is not None and texts.same(known.texts, HEARD_READS) else heard_in(setup)
    context = Context(setup, lambda: falling, lambda: metered, lambda: heard)
    scores: list[AreaScore] = []
    for area in areas():
        before = known.area(area.key) if known is not None and texts.as_sure(known.texts, area.all_reads) else None
        measures = before.measures if before else area.measures(context)
        if (score := before.score if before else area_score(measures)) is not None:
            scores.append(AreaScore(area.key, score, area.weight(setup.preferences), measures))
    return Appraisal(setup, tuple(scores), falling, metered, heard, texts)


def sketched(setup: Setup, known: Appraisal, wanted: Set[str]) -> Appraisal:
    """A setup judged in some areas alone, for drawings that follow a hand: exposure and the other areas stay as they were known to be.

    It is no measure of the setup, and not to be kept or taken over from.
    """
    falling = falling_of(setup)
    context = Context(setup, lambda: falling, lambda: known.metered, lambda: heard_in(setup))
    judged: list[AreaScore] = []
    for area in areas():
        before = known.area(area.key)
        measures = area.measures(context) if area.key in wanted else before.measures if before else ()
        if (score := area_score(measures)) is not None:
            judged.append(AreaScore(area.key, score, area.weight(setup.preferences), measures))
    # What was heard anew if an area asked for it, else as it was known to be.
    return replace(known, setup=setup, areas=tuple(judged), falling=falling, heard=context.once("microphone", lambda: known.heard))


def heard_in(setup: Setup) -> Heard | None:
    """What the microphone in use picks up; None without one, or without the power it wants."""
    microphone = setup.microphone_in_use
    return heard_by(setup, microphone) if microphone and not unpowered(microphone) else None
