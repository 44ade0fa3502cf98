"""What an area is worth in a changed document: patches put together, only what changed read anew, nothing appraised twice."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from typing import Any

from pydantic import TypeAdapter, ValidationError

from uphill_lamp.core.appraisal import Appraisal, heard_in, measured
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Operation, applied, operated
from uphill_lamp.core.document.setup import Setup, contradictions
from uphill_lamp.core.judging import AREAS, Area, area_score
from uphill_lamp.core.light.falling import Falling, falling_of
from uphill_lamp.core.light.metering import meter
from uphill_lamp.core.steps.action import Action
from uphill_lamp.core.steps.dependence import RESTS_ON, resting_on


class Worth:
    """Scores of areas with actions done, 0-100; kept by what the area rests on, so that no document is appraised twice."""

    def __init__(self, base: Appraisal) -> None:
        self.base = base
        self.appraised = 0  # how often an area was worked out, for telling and tests
        self._text = {name: json.dumps(value) for name, value in base.setup.model_dump(mode="json").items()}
        self._parts: dict[tuple[str, tuple[str, ...]], Any] = {}
        self._adapters: dict[str, TypeAdapter[Any]] = {}
        self._scores: dict[tuple[Area, str], float | None] = {}
        self._of_parts: dict[tuple[Any, ...], tuple[tuple[Any, ...], float | None]] = {}
        self._falling: dict[str, Falling] = {}

    def document(self, actions: Iterable[Action]) -> Setup | None:
        """The setup with actions done, in order; None if they do not go together in this room."""
        by_part: dict[str, list[tuple[str, Operation]]] = {}
        for action in actions:
            for operation in action.patch:
                by_part.setdefault(str(operation["path"]).split("/", 2)[1], []).append((action.id, operation))
        if not by_part:
            return self.base.setup
        try:
            parts = {name: self._part(name, operations) for name, operations in by_part.items()}
        except (Refused, ValidationError):
            return None
        setup = self.base.setup.model_copy(update=parts)
        return None if contradictions(setup) else setup

    def whole_document(self, actions: Iterable[Action]) -> Setup:
        """The setup with actions done, wholly validated, as it would be saved.

        Raises:
            Refused: if it is not valid.
        """
        return applied(self.base.setup, [operation for action in actions for operation in action.patch])

    def _part(self, name: str, operations: Sequence[tuple[str, Operation]]) -> Any:
        """A part of the document after operations, each by the id of its action; read anew once for each series of actions."""
        key = name, tuple(action_id for action_id, _ in operations)
        if key not in self._parts:
            data = {name: json.loads(self._text[name])}
            operated(data, (operation for _, operation in operations))
            if name not in self._adapters:
                annotation: Any = Setup.model_fields[name].annotation
                self._adapters[name] = TypeAdapter(annotation)
            self._parts[key] = self._adapters[name].validate_json(json.dumps(data[name]))
        return self._parts[key]

    def score(self, area: Area, setup: Setup) -> float | None:
        """An area's score in a document; None where it has no scored measure."""
        parts = tuple(getattr(setup, name) for name in RESTS_ON[area])
        same = (area, *map(id, parts))  # most documents share their parts with others: then nothing need be written out
        if same not in self._of_parts:
            key = area, resting_on(area, setup)
            if key not in self._scores:
                self.appraised += 1
                self._scores[key] = self._worked_out(area, setup)
            self._of_parts[same] = parts, self._scores[key]  # the parts are held, so that no other takes their id
        return self._of_parts[same][1]

    def _worked_out(self, area: Area, setup: Setup) -> float | None:
        base = self.base
        if area == "light":
            falling = self._lit(setup)
            return area_score(measured(area, setup, falling, meter(falling), None))
        heard = heard_in(setup) if area == "sound" else None
        return area_score(measured(area, setup, base.falling, base.metered, heard))

    def _lit(self, setup: Setup) -> Falling:
        """The light in a document; the camera's own settings do not change it."""
        key = resting_on("light", setup.model_copy(update={"cameras": ()}))
        if key not in self._falling:
            if len(self._falling) > 300:
                self._falling.clear()
            self._falling[key] = falling_of(setup)
        return self._falling[key].carried_to(setup)

    def bears_on(self, before: Setup, after: Setup) -> frozenset[Area]:
        """The areas whose figures a change can move."""
        return frozenset(area for area in AREAS if resting_on(area, before) != resting_on(area, after))
