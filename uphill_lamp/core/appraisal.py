"""Document in, Appraisal out: measures and scores first, then findings, then what each move gains."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, replace
from functools import cached_property

from pydantic import BaseModel

from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.eyes import findings as eyes_findings
from uphill_lamp.core.eyes import measures as eyes_measures
from uphill_lamp.core.frame import findings as frame_findings
from uphill_lamp.core.frame import measures as frame_measures
from uphill_lamp.core.frame import shown as frame_shown
from uphill_lamp.core.judging import (
    AREAS,
    Area,
    AreaScore,
    Finding,
    Measure,
    Move,
    Severity,
    area_score,
    loss_points,
    severity_of,
    whole_score,
)  # fmt: skip
from uphill_lamp.core.light import findings as light_findings
from uphill_lamp.core.light import measures as light_measures
from uphill_lamp.core.light.falling import Falling, falling_of
from uphill_lamp.core.light.metering import Metered, meter
from uphill_lamp.core.sound import findings as sound_findings
from uphill_lamp.core.sound import measures as sound_measures
from uphill_lamp.core.sound.capsule import Heard, heard_by
from uphill_lamp.core.sound.gain import unpowered

# Parts of the document that the costly computations and the areas' measures read; where none of them changed, their results stand.
# What is shown where on a screen bears neither on light nor on sound: there screens count without their windows ("glass"). What is soft
# in a room bears on sound alone: light falls in the room without it ("shell").
SOUND_ALONE = ("/room/furnishings", "/room/measured_t60_s")
LIGHT_READS = {"place", "shell", "desk", "presenter", "lights", "reflectors", "glass"}
METERING_READS = {"cameras", "backdrop", "call", "preferences"}
SOUND_READS = {"room", "desk", "presenter", "glass", "cameras", "microphones", "noises", "computer"}
SEEN_READS = {"place", "shell", "desk", "presenter", "screens", "cameras", "backdrop", "call", "preferences"}
AREA_READS: dict[Area, set[str]] = {
    "frame": SEEN_READS,
    "light": LIGHT_READS | METERING_READS,
    "sound": SOUND_READS | {"place", "call", "preferences", "screens"},
    "eyes": SEEN_READS,
}
PARTS = SEEN_READS - {"shell"} | {"room", "lights", "reflectors", "microphones", "noises", "computer"}
# Where findings that no score holds stand among the others, as if they held down so many points.
UNSCORED_RANK: dict[Severity, float] = {"grave": 8.0, "clear": 1.5, "slight": 0.2}
LEAST_GAIN = 0.05  # points; a move that gains less is not offered
VISIBLY_MORE = 0.3  # points a joint move must gain over the simpler one it extends
AS_WELL = 0.6  # a free step that gains this share of a purchase stands before it


@dataclass(frozen=True, slots=True)
class Reads:
    """The parts of a document as text, and where their values come from: alike in both, alike results."""

    parts: Mapping[str, str]
    origins: Mapping[str, Mapping[str, str]]

    @classmethod
    def of(cls, setup: Setup, known: Appraisal | None = None) -> Reads:
        """Of a setup. Writing it out is far quicker than comparing it part by part; what is the very same as in a known one is not even that."""
        same = {name for name in PARTS if known is not None and getattr(setup, name) is getattr(known.setup, name)}
        old = known.reads.parts if known is not None else {}
        parts = {name: old[name] if name in same else _text(getattr(setup, name)) for name in PARTS}
        for name, part, text in (("glass", "screens", _glass), ("shell", "room", _shell)):
            parts[name] = old[name] if part in same else text(setup)
        origins: dict[str, dict[str, str]] = {}
        for path, origin in setup.origins.items():
            origins.setdefault(path.split("/", 2)[1], {})[path] = origin
        if "room" in origins:
            origins["shell"] = {path: origin for path, origin in origins["room"].items() if not path.startswith(SOUND_ALONE)}
        return cls(parts, origins)

    def same(self, other: Reads, names: Set[str]) -> bool:
        """Whether some parts are alike in both."""
        return all(self.parts[name] == other.parts[name] for name in names)

    def as_sure(self, other: Reads, names: Set[str]) -> bool:
        """Whether some parts are alike in both, and their values' origins too."""
        return self.same(other, names) and all(self.origins.get(name) == other.origins.get(name) for name in names)


def _glass(setup: Setup) -> str:
    return "".join(screen.model_dump_json(exclude={"windows"}) for screen in setup.screens)


def _shell(setup: Setup) -> str:
    return setup.room.model_dump_json(exclude={path.removeprefix("/room/") for path in SOUND_ALONE})


def _text(part: BaseModel | tuple[BaseModel, ...]) -> str:
    return part.model_dump_json() if isinstance(part, BaseModel) else "".join(thing.model_dump_json() for thing in part)


@dataclass(frozen=True)
class Appraisal:
    """A setup judged. Light and sound as computed come along for the drawings."""

    setup: Setup
    areas: tuple[AreaScore, ...]
    falling: Falling
    metered: Metered
    heard: Heard | None
    reads: Reads

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
        yield from frame_findings.findings(self.setup, self.measures, self.falling.face_lx["front"])
        yield from light_findings.findings(self.falling, self.metered, self._light)
        yield from sound_findings.findings(self.setup, self.heard, self._sound)
        yield from eyes_findings.findings(self.setup, {name: m for name, m in self.measures.items() if m.area == "eyes"})

    @property
    def _sound(self) -> dict[str, Measure]:
        return {name: measure for name, measure in self.measures.items() if measure.area == "sound"}

    @property
    def _light(self) -> dict[str, Measure]:
        return {name: measure for name, measure in self.measures.items() if measure.area == "light"}

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

    @cached_property
    def _solved_light(self) -> tuple[Move, ...]:
        return tuple(light_findings.moves_for(self.falling, self.metered, light_findings.wanting_of(self._light)))

    @cached_property
    def _solved_sound(self) -> tuple[Move, ...]:
        return tuple(sound_findings.moves_for(self.setup, self.heard, self._sound))

    def _solved(self, finding: Finding) -> tuple[Move, ...]:
        if finding.area == "frame":
            return frame_findings.moves_for(self.setup, finding, self.falling.face_lx["front"])
        if finding.area == "light":
            return self._solved_light if finding.measures else tuple(light_findings.moves_beside(self.falling, self.metered))
        if finding.area == "sound":
            return self._solved_sound if finding.measures else tuple(sound_findings.moves_beside(self.setup, finding))
        return eyes_findings.moves_for(self.setup, finding)

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
    reads = Reads.of(setup, known)
    lit = known if known is not None and reads.same(known.reads, LIGHT_READS) else None
    falling = lit.falling.carried_to(setup) if lit else falling_of(setup)
    metered = lit.metered if lit and reads.same(lit.reads, METERING_READS) else meter(falling)
    heard = known.heard if known is not None and reads.same(known.reads, SOUND_READS) else heard_in(setup)
    weights = setup.preferences.weights
    areas = []
    for area in AREAS:
        before = known.area(area) if known is not None and reads.as_sure(known.reads, AREA_READS[area]) else None
        if before:
            areas.append(replace(before, weight=getattr(weights, area)))
            continue
        measures = measured(area, setup, falling, metered, heard)
        if (score := area_score(measures)) is not None:
            areas.append(AreaScore(area, score, getattr(weights, area), measures))
    return Appraisal(setup, tuple(areas), falling, metered, heard, reads)


def sketched(setup: Setup, known: Appraisal, areas: Set[Area]) -> Appraisal:
    """A setup judged in some areas alone, for drawings that follow a hand: exposure and the other areas stay as they were known to be.

    It is no measure of the setup, and not to be kept or taken over from.
    """
    falling, heard = falling_of(setup), heard_in(setup) if "sound" in areas else known.heard
    judged = []
    for area in AREAS:
        before = known.area(area)
        measures = measured(area, setup, falling, known.metered, heard) if area in areas else before.measures if before else ()
        if (score := area_score(measures)) is not None:
            judged.append(AreaScore(area, score, getattr(setup.preferences.weights, area), measures))
    return replace(known, setup=setup, areas=tuple(judged), falling=falling, heard=heard)


def heard_in(setup: Setup) -> Heard | None:
    """What the microphone in use picks up; None without one, or without the power it wants."""
    microphone = setup.microphone_in_use
    return heard_by(setup, microphone) if microphone and not unpowered(microphone) else None


def measured(area: Area, setup: Setup, falling: Falling, metered: Metered, heard: Heard | None) -> tuple[Measure, ...]:
    """The measures of one area, from the setup and what has been computed of its light and sound."""
    if area == "frame":
        return (*frame_measures.measures(setup), *frame_shown.measures(setup))
    if area == "light":
        return light_measures.measures(setup, falling, metered)
    if area == "sound":
        return sound_measures.measures(setup, heard)
    return eyes_measures.measures(setup)
