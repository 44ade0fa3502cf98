"""What an area is worth in a changed document: patches put together, only what changed read anew, nothing appraised twice."""

from __future__ import annotations

import copy
import json
import math
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from hashlib import blake2b
from typing import Any

from pydantic import TypeAdapter, ValidationError

from uphill_lamp.core.appraisal.appraise import Appraisal, appraise, heard_in
from uphill_lamp.core.areas.area import Area, Context
from uphill_lamp.core.areas.registry import areas, keys
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Operation, applied, operated
from uphill_lamp.core.document.reads import Read, merged
from uphill_lamp.core.document.setup import Setup, contradictions
from uphill_lamp.core.field.camera.metering import Metered, meter
from uphill_lamp.core.field.light.lit_scene import LitScene, lit_scene_of
from uphill_lamp.core.field.reads import FIELD_READS, METERING_READS
from uphill_lamp.core.judging import area_score
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.standing.stands_free import Standing
from uphill_lamp.core.steps.action import Action, in_order, with_needs
from uphill_lamp.core.steps.hands import too_long

MOST_LIT = 300  # lit documents kept
MOST_WORKED_OUT, DIGEST_BYTES = 50_000, 16
ROUNDING = 1e-6  # points: sums in another order differ by less
METERED_READS = merged(FIELD_READS, METERING_READS)
# Scores of areas by what they rest on: another budget, another wish or one step done leads to most of the same documents again.
_worked_out: LockedLru[tuple[Any, ...], tuple[Area, float | None]] = LockedLru(MOST_WORKED_OUT)


class ScoreCache:
    """Scores of areas with actions done, 0-100; kept by what the area rests on, so that no document is appraised twice."""

    def __init__(self, base: Appraisal) -> None:
        self.base = base
        self.appraised = 0  # how often an area was worked out, for telling and tests
        self.standing = Standing(base.setup)
        self._text = {name: json.dumps(value) for name, value in base.setup.model_dump(mode="json").items()}
        self._parts: dict[tuple[str, tuple[tuple[str, int], ...]], Any] = {}
        self._digests: dict[tuple[int, int], tuple[Any, bytes]] = {}
        self._adapters: dict[str, TypeAdapter[Any]] = {}
        self._of_parts: dict[tuple[Any, ...], tuple[tuple[Any, ...], float | None]] = {}
        self._answers: dict[tuple[int, ...], tuple[tuple[Any, ...], Metered]] = {}
        self._falling: dict[tuple[bytes, ...], LitScene] = {}
        self._judged: Context | None = None
        self._clashes: dict[tuple[tuple[str, int], tuple[str, int]], bool] = {}
        self._apart: dict[frozenset[tuple[str, int]], bool] = {}
        self._documents: dict[tuple[tuple[str, int], ...], Setup | None] = {}
        self._appraisals: dict[tuple[float, tuple[tuple[str, int], ...]], Appraisal] = {}

    def for_money(self, base: Appraisal) -> ScoreCache:
        """The same for a setup that differs in nothing but its budget: no score hangs on that, and all that is known stays known."""
        other = copy.copy(self)
        other.base = base
        return other

    def appraised_after(self, actions: Sequence[Action], budget: float) -> Appraisal:
        """The setup appraised with actions done, in order, and so much money left for more.

        Raises:
            Refused: if it is not valid.
        """
        key = budget, tuple(action.key for action in actions)
        if key not in self._appraisals:
            self._appraisals[key] = appraise(with_budget(self.whole_document(actions), budget), known=self.base)
        return self._appraisals[key]

    def document(self, actions: Iterable[Action]) -> Setup | None:
        """The setup with actions done, in order; None if they do not go together in this room, or take longer each time than is wanted."""
        actions = tuple(actions)
        key = tuple(action.key for action in actions)
        if key not in self._documents:
            self._documents[key] = None if too_long(actions, self.base.setup) else self._put_together(actions)
        return self._documents[key]

    def _put_together(self, actions: Iterable[Action]) -> Setup | None:
        by_part: dict[str, list[tuple[tuple[str, int], Operation]]] = {}
        for action in actions:
            for operation in action.patch:
                by_part.setdefault(str(operation["path"]).split("/", 2)[1], []).append((action.key, operation))
        if not by_part:
            return self.base.setup
        try:
            parts = {name: self._part(name, operations) for name, operations in by_part.items()}
        except (Refused, ValidationError):
            return None
        setup = self.base.setup.model_copy(update=parts)
        return setup if not contradictions(setup) and self.standing.free(setup) else None

    def of(self, actions: Sequence[Action], above: float = -math.inf) -> float:
        """The whole score with actions done, 0-100; -1 if they do not go together.

        Args:
            above: points; where it cannot be more than these, some number that is not more either, found with less work.
        """
        there = self.document(actions)
        return -1.0 if there is None else self.whole(there, above)

    def whole(self, setup: Setup, above: float = -math.inf) -> float:
        """The whole score of a document, 0-100; where it cannot be above so many points, some number that is not."""
        if above > 0:
            at_most = {area: self._at_most(area, setup) for area in self.shares}
            most = self._fixed + sum(share * at_most[area] for area, share in self.shares.items())
            for area in self._dear_last:
                if most <= above - ROUNDING:
                    return most
                if self._records[area].soon and self._kept(area, setup) is None:
                    soon = most + self.shares[area] * (self._records[area].at_most(self._context(setup)) - at_most[area])
                    if soon <= above - ROUNDING:
                        return soon
                most += self.shares[area] * ((self.score(area, setup) or 0.0) - at_most[area])
        return self._fixed + sum(share * (self.score(area, setup) or 0.0) for area, share in self.shares.items())

    @cached_property
    def _fixed(self) -> float:
        """Points of the whole that no step is weighed by: of what counts and is no area, as it is now."""
        total = sum(area.weight for area in self.base.areas)
        return sum(area.weight * area.score / total for area in self.base.areas if area.area not in self._records) if total > 0 else 0.0

    def _at_most(self, area: str, setup: Setup) -> float:
        """What an area's score can be at most: itself, where it is known."""
        kept = self._kept(area, setup)
        return 100.0 if kept is None else kept[1] or 0.0

    @cached_property
    def _dear_last(self) -> list[str]:
        """The areas that count, those last that are worked out from light, which takes longest."""
        return sorted(self.shares, key=lambda area: (bool(self._records[area].weighed_with), area in self._beside))

    def valued(self, area: str, actions: Sequence[Action]) -> float | None:
        """What an area's score is with actions done, 0-100; None if they do not go together.

        What they move in an area that is weighed with this one and that they do not bear on themselves counts here, in this area's points.
        """
        there = self.document(actions)
        if there is None:
            return None
        score = self.score(area, there)
        for other in self._beside.get(area, ()):
            apart = self.document([action for action in actions if other in action.areas])
            if score is not None and apart is not None and self.shares.get(area) and self.shares.get(other):
                moved = (self.score(other, there) or 0.0) - (self.score(other, apart) or 0.0)
                score += moved * self.shares[other] / self.shares[area]
        return score

    @cached_property
    def _beside(self) -> dict[str, list[str]]:
        """By area, those that are weighed with it."""
        beside: dict[str, list[str]] = {}
        for area in areas():
            if area.weighed_with:
                beside.setdefault(area.weighed_with, []).append(area.key)
        return beside

    @cached_property
    def shares(self) -> dict[str, float]:
        """Each area's share in the whole score, summing to 1 with what else counts; areas without a score or weight left out."""
        weights: dict[str, float] = {area.area: area.weight for area in self.base.areas}
        total = sum(weights.values())
        if total <= 0:
            return {area: 1 / len(weights) for area in weights}
        return {area: weights[area] / total for area in keys() if weights.get(area)}

    def apart(self, one: Action, other: Action, known: Mapping[str, Action]) -> bool:
        """Whether of two actions, with what they need among those known, each can be done and not both: two main cameras, two voices.

        Only what both write to the same part of the document is tried; it is that which can contradict itself.
        """
        key = frozenset((one.key, other.key))
        if key not in self._apart:
            self._apart[key] = bool(one.parts & other.parts) and self._apart_tried(one, other, known)
        return self._apart[key]

    def taken_in(self, action: Action, chosen: Iterable[Action], known: Mapping[str, Action]) -> list[Action] | None:
        """A set with one action more, in order, without what does not go with it or can then no longer be done; None if that is needed."""
        kept = [member for member in chosen if not self._clash(member, action) and not self.apart(member, action, known)]
        names = {member.id for member in kept} | {action.id}
        while idle := [member for member in kept if not member.needs <= names]:
            kept = [member for member in kept if member not in idle]
            names -= {member.id for member in idle}
        return in_order(names, known) if action.needs <= names else None

    def _clash(self, one: Action, other: Action) -> bool:
        key = one.key, other.key
        if key not in self._clashes:
            self._clashes[key] = one.clashes(other)
        return self._clashes[key]

    def _apart_tried(self, one: Action, other: Action, known: Mapping[str, Action]) -> bool:
        first, second, both = (with_needs(wanted, known) for wanted in ((one,), (other,), (one, other)))
        if one in second or other in first or self.document(both) is not None:
            return False
        return self.document(first) is not None and self.document(second) is not None

    def whole_document(self, actions: Iterable[Action]) -> Setup:
        """The setup with actions done, wholly validated, as it would be saved.

        Raises:
            Refused: if it is not valid.
        """
        return applied(self.base.setup, [operation for action in actions for operation in action.patch])

    def _part(self, name: str, operations: Sequence[tuple[tuple[str, int], Operation]]) -> Any:
        """A part of the document after operations, each by the key of its action; read anew once for each series of actions."""
        key = name, tuple(action for action, _ in operations)
        if key not in self._parts:
            data = {name: json.loads(self._text[name])}
            operated(data, (operation for _, operation in operations))
            if name not in self._adapters:
                annotation: Any = Setup.model_fields[name].annotation
                self._adapters[name] = TypeAdapter(annotation)
            self._parts[key] = self._adapters[name].validate_json(json.dumps(data[name]))
        return self._parts[key]

    def score(self, area: str, setup: Setup) -> float | None:
        """An area's score in a document; None where it has no scored measure."""
        kept = self._kept(area, setup)
        if kept is None:
            record = self._records[area]
            self.appraised += 1
            score = area_score(record.judged(self._context(setup)))
            _worked_out.put(self._key(area, setup), (record, score))
            kept = self._of_parts[self._same(area, setup)] = self._parts_read(area, setup), score
        return kept[1]

    def _kept(self, area: str, setup: Setup) -> tuple[Any, float | None] | None:
        """An area's score where it is known, with the parts of the document that are held, so that no other takes their id."""
        same = self._same(area, setup)  # most documents share their parts with others: then nothing need be written out
        if same not in self._of_parts:
            known = _worked_out.get(self._key(area, setup))
            if known is None or known[0] is not self._records[area]:
                return None
            self._of_parts[same] = self._parts_read(area, setup), known[1]
        return self._of_parts[same]

    def _same(self, area: str, setup: Setup) -> tuple[Any, ...]:
        return (area, *map(id, self._parts_read(area, setup)))

    def _parts_read(self, area: str, setup: Setup) -> tuple[Any, ...]:
        return tuple(getattr(setup, read.part) for read in self._records[area].score_reads)

    def _key(self, area: str, setup: Setup) -> tuple[Any, ...]:
        return (area, *(self._read(read, setup)[1] for read in self._records[area].score_reads))

    @cached_property
    def _records(self) -> dict[str, Area]:
        return {area.key: area for area in areas()}

    def _context(self, setup: Setup) -> Context:
        """What areas judge in a document: the same for each that is asked about it in turn."""
        if self._judged is None or self._judged.setup is not setup:
            context = Context(setup, lambda: self._lit(setup), lambda: self._metered(context), lambda: heard_in(setup))
            self._judged = context
        return self._judged

    def _metered(self, context: Context) -> Metered:
        """The camera's answer to the light in a document; two areas ask for it."""
        parts = tuple(getattr(context.setup, read.part) for read in METERED_READS)
        key = tuple(map(id, parts))
        if key not in self._answers:
            if len(self._answers) > MOST_LIT:
                self._answers.clear()
            self._answers[key] = parts, meter(context.lit_scene)  # the parts are held, so that no other takes their id
        return self._answers[key][1]

    def _lit(self, setup: Setup) -> LitScene:
        """The light in a document; the camera's own settings do not change it."""
        key = tuple(self._read(read, setup)[1] for read in FIELD_READS)
        if key not in self._falling:
            if len(self._falling) > MOST_LIT:
                self._falling.clear()
            self._falling[key] = lit_scene_of(setup)
        return self._falling[key].carried_to(setup)

    def _read(self, read: Read, setup: Setup) -> tuple[Any, bytes]:
        """A part with the digest of its text: most documents share it with others."""
        part = getattr(setup, read.part)
        key = id(read), id(part)
        if key not in self._digests:
            digest = blake2b(read.text(setup).encode(), digest_size=DIGEST_BYTES).digest()
            self._digests[key] = (read, part), digest  # both are held, so that no other takes their id
        return self._digests[key]

    def bears_on(self, before: Setup, after: Setup) -> frozenset[str]:
        """The areas that are weighed with and without a change."""
        return frozenset(area.key for area in areas() if not all(_alike(read, before, after) for read in area.weighing_reads))


def forget() -> None:
    """Empties the memory, for measuring."""
    _worked_out.forget()


def with_budget(setup: Setup, budget: float) -> Setup:
    """A setup with so much to spend."""
    return setup.model_copy(update={"preferences": setup.preferences.model_copy(update={"budget": budget})})


def _alike(read: Read, before: Setup, after: Setup) -> bool:
    return getattr(before, read.part) is getattr(after, read.part) or read.text(before) == read.text(after)
