"""The appraisal as open, stable JSON, and its schema (docs/appraisal.md)."""

from __future__ import annotations

from typing import Any

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.judging import AreaScore, Band, Finding, Measure, Move

FORMAT = "uphill-lamp/appraisal"
VERSION = 1


def report(appraisal: Appraisal) -> dict[str, Any]:
    """The appraisal as plain data: scores 0-100, utilities 0-1, gains in points of the whole score."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "score": round(appraisal.score, 2),
        "areas": {area.area: _area(area) for area in appraisal.areas},
        "findings": [_finding(finding) for finding in appraisal.findings_with_gains],
    }


def _area(area: AreaScore) -> dict[str, Any]:
    return {"score": round(area.score, 2), "weight": area.weight, "measures": [_measure(measure) for measure in area.measures]}


def _measure(measure: Measure) -> dict[str, Any]:
    return {
        "id": measure.id,
        "value": None if measure.value is None else round(float(measure.value), 6),
        "unit": measure.unit,
        "band": _band(measure.band) if measure.band else None,
        "utility": None if measure.utility is None else round(float(measure.utility), 6),
        "origin": measure.origin,
    }


def _band(band: Band) -> dict[str, Any]:
    return {"ideal": [band.ideal_low, band.ideal_high], "outer": [band.outer_low, band.outer_high]}


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "id": finding.id,
        "area": finding.area,
        "severity": finding.severity,
        "title": finding.title,
        "why": finding.why,
        "moves": [_move(move) for move in finding.moves],
    }


def _move(move: Move) -> dict[str, Any]:
    return {
        "id": move.id,
        "title": move.title,
        "cost": {"kind": move.cost.kind, "amount": move.cost.amount, "currency": move.cost.currency or None},
        "gain": round(move.gain or 0.0, 2),
        "patch": [dict(operation) for operation in move.patch],
        "cautions": list(move.cautions),
    }


def _object(**properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, "required": list(properties), "additionalProperties": False}


def _list(items: Any) -> dict[str, Any]:
    return {"type": "array", "items": items}


def report_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of ``report``."""
    text, number = {"type": "string"}, {"type": "number"}
    open_end = {"type": ["number", "null"]}
    pair = {"type": "array", "items": open_end, "minItems": 2, "maxItems": 2}
    band = {"anyOf": [_object(ideal=pair, outer=pair), {"type": "null"}]}
    origin = {"enum": ["assumed", "entered", "measured"]}
    measure = _object(id=text, value=open_end, unit=text, band=band, utility=open_end, origin=origin)
    cost = _object(kind={"enum": ["free", "owned", "buy"]}, amount=number, currency={"type": ["string", "null"]})
    move = _object(id=text, title=text, cost=cost, gain=number, patch=_list({"type": "object"}), cautions=_list(text))
    severity = {"enum": ["grave", "clear", "slight"]}
    finding = _object(id=text, area=text, severity=severity, title=text, why=text, moves=_list(move))
    area = _object(score=number, weight=number, measures=_list(measure))
    whole = _object(
        format={"const": FORMAT},
        version={"const": VERSION},
        score={"type": "number", "minimum": 0, "maximum": 100},
        areas={"type": "object", "additionalProperties": area},
        findings=_list(finding),
    )
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "urn:uphill-lamp:appraisal:1", **whole}
