"""What an area is: one record that everything which lists areas reads."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from uphill_lamp.core.areas import gates
from uphill_lamp.core.areas.gates import GATE_READS
from uphill_lamp.core.document.areas import AreaName
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.document.reads import Read, merged
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Counts, Finding, Measure, Move, Question, area_score, weighed
from uphill_lamp.core.scene.scene import Scene, scene_of

Measures = Mapping[str, Measure]
ANY = Band(None, None, None, None)  # nothing is amiss


@dataclass(frozen=True)
class Context:
    """What areas judge: the document, and what is worked out of its light and its sound when an area first asks for it.

    Args:
        setup: the document.
        light: gives the lit field, a ``light.falling.LitScene``.
        answer: gives the camera's answer to it, a ``light.metering.Metered``.
        sound: gives what the microphone in use picks up, a ``sound.capsule.Heard``; None where there is nothing to hear.
    """

    setup: Setup
    light: Callable[[], Any]
    answer: Callable[[], Any]
    sound: Callable[[], Any]
    _once: dict[str, Any] = field(default_factory=dict, compare=False, repr=False)

    @property
    def scene(self) -> Scene:
        """What stands where."""
        return scene_of(self.setup)

    @property
    def lit_scene(self) -> Any:
        """The lit field."""
        return self.once("light field", self.light)

    @property
    def metered(self) -> Any:
        """The camera's answer to it."""
        return self.once("camera", self.answer)

    @property
    def heard(self) -> Any:
        """What the microphone in use picks up."""
        return self.once("microphone", self.sound)

    def once(self, name: str, work: Callable[[], Any]) -> Any:
        """What several figures or findings ask for, worked out once."""
        if name not in self._once:
            self._once[name] = work()
        return self._once[name]


@dataclass(frozen=True)
class Area:
    """An area that setups are judged in.

    Args:
        name: its key, label and default weight, from the leaf that documents read too.
        digit: the key that leads to its stage on the page.
        weights: how much each of its figures counts in its score, with the reason; figures not listed are shown only.
        counts: what those of its figures tell that tell no fault: quality, both, or a factor on the whole area.
        reads: all that its scored figures are worked out from.
        weighed_by: what a step must touch for the area to be weighed with and without it while ways are looked for; ``reads`` if empty.
            What else its figures hang on is weighed with another area, and counts in full at the end of each way.
        weighed_with: key of that area.
        shown_reads: what figures that are only shown read besides.
        measures: its figures.
        soon: those of them that are worked out much sooner than the rest, if some are: what cannot be better is told from them.
        findings: what is wrong, from its figures by id; without moves.
        moves: what mends one of its findings.
        asks: what to ask where a finding rests on a guess that nobody made, by its id; None where nothing was guessed.
        instead: why no move may mend a finding, and what to do all the same, by its id.
        layers: what the drawings show at its stage besides what they always show.
        drawn: where lines in the drawings tell its figures, and must follow a hand.
        in_hand: handle of what its stage selects at first; nothing for the camera.
    """

    name: AreaName
    digit: int
    weights: Mapping[str, tuple[float, str]]
    reads: tuple[Read, ...]
    measures: Callable[[Context], tuple[Measure, ...]]
    findings: Callable[[Context, Measures], Iterable[Finding]]
    moves: Callable[[Context, Finding, Measures], tuple[Move, ...]]
    counts: Mapping[str, Counts] = field(default_factory=dict)
    weighed_by: tuple[Read, ...] = ()
    weighed_with: str = ""
    shown_reads: tuple[Read, ...] = ()
    soon: Callable[[Context], tuple[Measure, ...]] | None = None
    instead: Mapping[str, str] = field(default_factory=dict)
    asks: Mapping[str, Callable[[Setup], Question | None]] = field(default_factory=dict)
    layers: frozenset[str] = frozenset()
    drawn: Literal["always", "at its stage", "no"] = "no"
    in_hand: Callable[[Setup], str] = lambda setup: ""

    @property
    def key(self) -> str:
        """Its key in documents, addresses and the ids of its figures and findings."""
        return self.name.key

    @cached_property
    def score_reads(self) -> tuple[Read, ...]:
        """All that its score is worked out from: with what the call is for, and what is so on purpose."""
        return merged(self.reads, GATE_READS)

    @cached_property
    def weighing_reads(self) -> tuple[Read, ...]:
        """What a step must touch to bear on it while ways are looked for."""
        return merged(self.weighed_by, GATE_READS) if self.weighed_by else self.score_reads

    @cached_property
    def all_reads(self) -> tuple[Read, ...]:
        """All that any of its figures is worked out from."""
        return merged(self.score_reads, self.shown_reads)

    def judged(self, context: Context) -> tuple[Measure, ...]:
        """Its figures as they count for this call."""
        return gates.gated(context.setup, self.measures(context))

    def at_most(self, context: Context) -> float:
        """What its score cannot exceed, 0-100, from those of its figures that are there soon: as if all others were perfect."""
        if self.soon is None or context.setup.on_purpose:  # what is so on purpose is told from all figures
            return 100.0
        soon = gates.gated(context.setup, self.soon(context))
        names = {measure.id for measure in soon}
        most = area_score((*soon, *(measure for measure in self._perfect if measure.id not in names)))
        return 100.0 if most is None else most

    @cached_property
    def _perfect(self) -> tuple[Measure, ...]:
        """Its figures, none of them wanting anything."""
        figures = (Measure(name, "", 0.0, "", ANY, "assumed") for name in self.weights)
        return weighed(figures, self.weights, self.counts)

    def told(self, context: Context, measured: Measures) -> Iterable[Finding]:
        """What is wrong, but for what does not matter for this call or is so on purpose."""
        return gates.found(context.setup, self.key, self.findings(context, measured), measured)

    def mended(self, context: Context, finding: Finding, measured: Measures) -> tuple[Move, ...]:
        """What mends one of its findings, but for what this call does not want."""
        return gates.wanted(context.setup, self.moves(context, finding, measured))

    def weight(self, preferences: Preferences) -> float:
        """How much it counts in a setup's whole score."""
        return float(getattr(preferences.weights, self.key, self.name.weight))
