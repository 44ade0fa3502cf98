"""The JSON Schema made from the models, and what it says a value should be, in words."""

from __future__ import annotations

from functools import cache
from typing import Any

from uphill_lamp.core.document.setup import Setup

SCHEMA_ID = "urn:uphill-lamp:setup:2"


@cache
def setup_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the setup document."""
    schema = Setup.model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": SCHEMA_ID, **schema}


def expected_at(path: str) -> str:
    """What the schema allows at a path, in words; empty where the path leads nowhere."""
    node = field_schema(path)
    return _words(node) if node else ""


def field_schema(path: str) -> dict[str, Any] | None:
    """The schema of one field, list items being passed over by whatever names them."""
    node: dict[str, Any] | None = setup_schema()
    for step in path.split("/")[1:]:
        node = _inner(node, step) if node else None
    return _resolved(node) if node else None


def _resolved(node: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in node:
        node = {**setup_schema()["$defs"][node["$ref"].rsplit("/", 1)[1]], **{k: v for k, v in node.items() if k != "$ref"}}
    return node


def _branches(node: dict[str, Any]) -> list[dict[str, Any]]:
    node = _resolved(node)
    return [_resolved(branch) for branch in node.get("anyOf", [node])]


def _inner(node: dict[str, Any], step: str) -> dict[str, Any] | None:
    for branch in _branches(node):
        if step in branch.get("properties", {}):
            return branch["properties"][step]
        if branch.get("type") == "array" and "items" in branch:
            return branch["items"]
    return None


def _words(node: dict[str, Any]) -> str:
    branches = [_branch_words(branch) for branch in _branches(node)]
    about = _resolved(node).get("description", "")
    return " or ".join(dict.fromkeys(branches)) + (f" ({about})" if about and len(branches) == 1 and "object" not in node else "")


def _branch_words(branch: dict[str, Any]) -> str:
    if "const" in branch:
        return repr(branch["const"])
    if "enum" in branch:
        return "one of " + ", ".join(str(value) for value in branch["enum"])
    kind = branch.get("type")
    if kind in ("number", "integer"):
        low, high = branch.get("minimum"), branch.get("maximum", branch.get("exclusiveMaximum"))
        noun = "a whole number" if kind == "integer" else "a number"
        below = " (below)" if "exclusiveMaximum" in branch else ""
        return noun + (f" from {low:g} to {high:g}{below}" if low is not None and high is not None else "")
    if kind == "string":
        return f"text that fits {branch['pattern']}" if "pattern" in branch else _text_words(branch)
    if kind == "array":
        size = branch.get("maxItems")
        return "a list" + (f" of {branch.get('minItems', 0)} to {size}" if size else "")
    return {"boolean": "true or false", "object": "a group of fields in { }", "null": "nothing (null)"}.get(str(kind), "")


def _text_words(branch: dict[str, Any]) -> str:
    if branch.get("format") == "date-time":
        return "a local date and time such as 2026-11-24T18:30:00"
    low, high = branch.get("minLength", 0), branch.get("maxLength")
    return f"text of {low} to {high} characters" if high else "text"
