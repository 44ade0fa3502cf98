"""Document in, Appraisal out: measures and scores first, then findings; what each move gains when it is asked for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, replace
from functools import cached_property

from uphill_lamp.core.appraisal.causes import UNSCORED_RANK, Cause, causes
from uphill_lamp.core.appraisal.gains import offered, ranked
from uphill_lamp.core.areas.area import Context
from uphill_lamp.core.areas.gates import holds
from uphill_lamp.core.areas.registry import area_of, areas
from uphill_lamp.core.areas.sound.record import HEARD_READS
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.document.people import OnPurpose
from uphill_lamp.core.document.reads import Texts
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.camera.metering import Metered, meter
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.field.reads import FIELD_READS, METERING_READS
from uphill_lamp.core.field.sound.capsule import Heard, heard_by
from uphill_lamp.core.field.sound.gain import unpowered
from uphill_lamp.core.judging import (
    AreaScore,
    Finding,
    Measure,
    Move,
    Question,
    Severity,
    area_score,
    loss_points,
    score_word,
    severity_of,
    whole_score,
)
from uphill_lamp.core.readiness.counted import counted
from uphill_lamp.core.standing.stands_free import Standing

# Where findings that no score holds stand among the others, as if they held down so many points.


@dataclass(frozen=True)
class Appraisal:
    """A setup judged. Light and sound as computed come along for the drawings."""

    setup: Setup
    areas: tuple[AreaScore, ...]
    lit_scene: LitScene
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

    @property
    def word(self) -> str:
        """What its whole score means."""
        return score_word(self.score)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is wrong, worst first; the gains of the moves not yet computed."""
        findings = [self._weighed(finding) for finding in self._told()]
        return tuple(
            sorted(
                findings,
                key=lambda finding: (
                    not finding.foremost,
                    self._fine(finding),
                    -(finding.loss if finding.measures else UNSCORED_RANK[finding.severity]),
                    finding.id,
                ),
            )
        )

    @cached_property
    def on_purpose(self) -> tuple[tuple[Finding, OnPurpose], ...]:
        """What would be wrong and is meant to be so, with what was said of it."""
        meant = {entry.finding: entry for entry in self.setup.on_purpose if holds(entry, self.measures)}
        findings = (finding for area in areas() for finding in area.findings(self.context, self._of(area.key)))
        return tuple((finding, meant[finding.id]) for finding in findings if finding.id in meant)

    def _told(self) -> Iterator[Finding]:
        for area in areas():
            yield from area.told(self.context, self._of(area.key))

    @cached_property
    def context(self) -> Context:
        """What its areas judge from."""
        return Context(self.setup, lambda: self.lit_scene, lambda: self.metered, lambda: self.heard)

    def _of(self, area: str) -> dict[str, Measure]:
        return {name: measure for name, measure in self.measures.items() if measure.area == area}

    def _weighed(self, finding: Finding) -> Finding:
        if not finding.measures:
            return finding
        concerned = [self.measures[name] for name in finding.measures if name in self.measures]
        worst = min((measure.utility or 0.0 for measure in concerned), default=1.0)
        assumed = any(measure.origin == "assumed" for measure in concerned)
        loss = loss_points(self.areas, finding.measures)
        measured_on = self.setup.measured_on if concerned and all(measure.origin == "measured" for measure in concerned) else None
        severity: Severity = "slight" if self._fine(finding) else severity_of(worst)
        return replace(finding, severity=severity, loss=loss, assumed=assumed, measured_on=measured_on)

    def _fine(self, finding: Finding) -> bool:
        """Whether it is a matter of quality alone: no fault, and never first."""
        concerned = [self.measures[name] for name in finding.measures if name in self.measures]
        return bool(concerned) and all(measure.counts == "quality" for measure in concerned)

    @cached_property
    def findings_with_gains(self) -> tuple[Finding, ...]:
        """The findings, each with the moves that raise the whole score and mend it, and by how much [points]."""
        solved = self._solved
        ranked_findings = (replace(finding, moves=ranked(finding, solved[finding.id], self, self._afters)) for finding in self.findings)
        return tuple(
            replace(finding, asks=self.asks(finding))
            if finding.moves
            else replace(finding, instead=self._instead(finding, solved[finding.id]))
            for finding in ranked_findings
        )

    def asks(self, finding: Finding) -> Question | None:
        """What to ask before a finding leads, where it rests on a guess that nobody made."""
        asks = (area := area_of(finding.area)) and area.asks.get(finding.id)
        return asks(self.setup) if asks else None

    def _instead(self, finding: Finding, solved: tuple[Move, ...]) -> str:
        """Why nothing is offered for a finding, and what to do all the same."""
        mending = [(self._afters[move.id], move) for move in solved if self._mends(move, finding)]
        area = area_of(finding.area)
        reason = area.instead.get(finding.id, "") if area else ""
        if reason or not mending:
            return reason
        move = max(mending, key=lambda pair: pair[0].score)[1]  # type: ignore[union-attr]
        return f"This would mend it, and spoil more elsewhere: {move.title[0].lower()}{move.title[1:]}."

    @cached_property
    def causes(self) -> tuple[Cause, ...]:
        """The findings gathered by the moves that mend them: one entry a cause."""
        return causes(self.findings_with_gains, self._mends)

    @cached_property
    def _afters(self) -> dict[str, Appraisal | None]:
        return {name: self._after(move) for name, move in self.moves_worked_out.items()}

    def _mends(self, move: Move, finding: Finding) -> bool:
        """Whether a finding is gone after a move: all its figures are good enough then."""
        after = self._afters.get(move.id)
        if after is None or not finding.measures:
            return False
        return all(name in after.measures and after.measures[name].utility is not None and not after.measures[name].wanting
                   for name in finding.measures)  # fmt: skip

    @cached_property
    def moves_worked_out(self) -> dict[str, Move]:
        """Every move that the areas work out for what is wrong, by id, whether it gains by itself or not."""
        return {move.id: move for moves in self._solved.values() for move in moves}

    def offers(self, move: Move, gains: Mapping[str, float]) -> bool:
        """Whether a move that was worked out is offered for any finding, without working out what all the others gain.

        Args:
            gains: of it and of those it extends, by id [points].
        """
        then = self._after(move)
        return then is not None and any(
            offered(finding, move, gains, self, then)
            for finding in self.findings
            if move.id in {solved.id for solved in self._solved[finding.id]}
        )

    @cached_property
    def _solved(self) -> dict[str, tuple[Move, ...]]:
        """What the areas work out for each finding, by its id."""
        solved: dict[str, tuple[Move, ...]] = {}
        for finding in self.findings:
            area = area_of(finding.area)
            solved[finding.id] = area.mended(self.context, finding, self._of(finding.area)) if area else ()
        return solved

    def _after(self, move: Move) -> Appraisal | None:
        """The setup with a move done; None if it does not fit this room, or cannot stand so."""
        try:
            after = applied(self.setup, move.patch)
        except Refused:
            return None
        return appraise(after, known=self) if self.standing.free(after) else None

    @cached_property
    def standing(self) -> Standing:
        """What may come of it."""
        return Standing(self.setup)

    def move(self, move_id: str) -> Move | None:
        """The offered move of an id, with its gain."""
        moves = (move for finding in self.findings_with_gains for move in finding.moves)
        return next((move for move in moves if move.id == move_id), None)


def appraise(setup: Setup, known: Appraisal | None = None) -> Appraisal:
    """Judges a setup.

    Args:
        setup: the document.
        known: an appraisal of a like setup; its light or sound is taken over where nothing it reads has changed.
    """
    texts = Texts(setup)
    lit = known if known is not None and texts.same(known.texts, FIELD_READS) else None
    lit_scene = lit.lit_scene.carried_to(setup) if lit else lit_scene_of(setup)
    metered = lit.metered if lit and texts.same(lit.texts, METERING_READS) else meter(lit_scene)
    heard = known.heard if known is not None and texts.same(known.texts, HEARD_READS) else heard_in(setup)
    context = Context(setup, lambda: lit_scene, lambda: metered, lambda: heard)
    scores: list[AreaScore] = []
    for area in areas():
        before = known.area(area.key) if known is not None and texts.as_sure(known.texts, area.all_reads) else None
        measures = before.measures if before else area.judged(context)
        if (score := before.score if before else area_score(measures)) is not None:
            scores.append(AreaScore(area.key, score, area.weight(setup.preferences), measures))
    if (readiness := counted(setup, {measure.id: measure for area in scores for measure in area.measures})) is not None:
        scores.append(readiness)
    return Appraisal(setup, tuple(scores), lit_scene, metered, heard, texts)


def partial_appraisal(setup: Setup, known: Appraisal, wanted: Set[str]) -> Appraisal:
    """A setup judged in some areas alone, for drawings that follow a hand: exposure and the other areas stay as they were known to be.

    It is no measure of the setup, and not to be kept or taken over from.
    """
    lit_scene = lit_scene_of(setup)
    context = Context(setup, lambda: lit_scene, lambda: known.metered, lambda: heard_in(setup))
    judged: list[AreaScore] = []
    for area in areas():
        before = known.area(area.key)
        measures = area.judged(context) if area.key in wanted else before.measures if before else ()
        if (score := area_score(measures)) is not None:
            judged.append(AreaScore(area.key, score, area.weight(setup.preferences), measures))
    judged += [area for area in known.areas if area_of(area.area) is None]
    # What was heard anew if an area asked for it, else as it was known to be.
    return replace(known, setup=setup, areas=tuple(judged), lit_scene=lit_scene, heard=context.once("microphone", lambda: known.heard))


def heard_in(setup: Setup) -> Heard | None:
    """What the microphone in use picks up; None without one, or without the power it wants."""
    microphone = setup.microphone_in_use
    return heard_by(setup, microphone) if microphone and not unpowered(microphone) else None
