"""The ladder as open, stable JSON, and its schema (docs/appraisal.md)."""

from __future__ import annotations

from typing import Any

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.steps.hands import minutes_in_all
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.rungs import Rung, Step

FORMAT = "uphill-lamp/steps"
VERSION = 1


def plans(ladder: Ladder, setup: Setup) -> dict[str, Any]:
    """The plans, that for nothing first: cost in the setup's currency, score 0-100, gains in points, minutes to set up once."""
    return {"format": FORMAT, "version": VERSION, "plans": [_plan(ladder, number, setup) for number in range(len(ladder.rungs))]}


def _plan(ladder: Ladder, number: int, setup: Setup) -> dict[str, Any]:
    """A plan by itself: all its steps from where the setup stands, those of the plans below it first."""
    rung, steps = ladder.rungs[number], steps_from_the_start(ladder.rungs, number)
    return {
        "cost": round(rung.cost, 2),
        "score": round(rung.score, 2),
        "minutes": minutes_in_all((step.action for step in steps), setup),
        "steps": [_step(step) for step in steps],
    }


def steps_from_the_start(rungs: tuple[Rung, ...], number: int) -> list[Step]:
    """The steps of a plan whoever has done none yet: of the plans below it those that stay, in their order, and its own."""
    chosen, shown = rungs[number].chosen, {step.action.key: step for rung in rungs[: number + 1] for step in rung.steps}
    order = {key: place for place, key in enumerate(shown)}
    known = [shown[action.key] for action in chosen if action.key in shown]
    rest = [Step(action, 0.0, rungs[number].score) for action in chosen if action.key not in shown]
    return [*sorted(known, key=lambda step: order[step.action.key]), *rest]


def _step(step: Step) -> dict[str, Any]:
    action = step.action
    return {
        "id": action.id,
        "title": action.title,
        "cost": round(action.amount, 2),
        "gain": round(step.gain, 2),
        "patch": [dict(operation) for operation in action.patch],
        "cautions": list(action.cautions),
    }


def _object(**properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, "required": list(properties), "additionalProperties": False}


def plans_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of ``plans``."""
    text, number = {"type": "string"}, {"type": "number"}
    step = _object(
        id=text, title=text, cost=number, gain=number, patch={"type": "array", "items": {"type": "object"}}, cautions={"type": "array", "items": text}
    )  # fmt: skip
    score = {"type": "number", "minimum": 0, "maximum": 100}
    plan = _object(cost={"type": "number", "minimum": 0}, score=score, minutes=number, steps={"type": "array", "items": step})
    whole = _object(format={"const": FORMAT}, version={"const": VERSION}, plans={"type": "array", "items": plan, "minItems": 1})
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "urn:uphill-lamp:steps:1", **whole}
