"""Changes to a document: a list of add, replace and remove by path, in the manner of RFC 6902.

List items are named by their id (``/lights/bench-lamp/dim``), so that a path keeps its meaning when the list changes;
``/lights/-`` adds at the end. The whole is validated afterwards: a patch is taken wholly or not at all.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from copy import deepcopy
from typing import Any, Literal

from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.fields import Origin
from uphill_lamp.core.document.reading import changed_setup, with_parts
from uphill_lamp.core.document.setup import Setup

Operation = Mapping[str, Any]
Patch = tuple[Operation, ...]
_PARTS = Setup.model_fields.keys() - {"origins"}


def replace(path: str, value: object) -> Operation:
    """An operation that puts a value in the place of another."""
    return {"op": "replace", "path": path, "value": value}


def add(path: str, value: object) -> Operation:
    """An operation that adds a value; ``/-`` at the end of the path appends to a list."""
    return {"op": "add", "path": path, "value": value}


def remove(path: str) -> Operation:
    """An operation that takes a value away."""
    return {"op": "remove", "path": path}


def applied(setup: Setup, patch: Iterable[Operation], origin: Origin | None = "entered") -> Setup:
    """The setup after a patch.

    Args:
        setup: the document to start from; it is not changed.
        patch: the operations, done in order.
        origin: what the changed values' origin becomes; None leaves origins alone.

    Raises:
        Refused: if an operation leads nowhere or the result is not valid. Nothing is half done.
    """
    operations = tuple(patch)
    values = [operation.get("value") if operation.get("op") != "remove" else None for operation in operations]
    paths = [operation.get("path", "") for operation in operations]
    parts = {path.split("/", 2)[1] for path in paths if isinstance(path, str) and path.startswith("/")}
    if parts <= _PARTS and all(isinstance(path, str) for path in paths):
        data = setup.model_dump(mode="json", include=parts | {"origins"})
        _operate(data, operations, origin)
        if parts <= data.keys() and (changed := with_parts(setup, data, paths, values)):
            return changed
    data = setup.model_dump(mode="json")
    _operate(data, operations, origin)
    return changed_setup(data, values)


def _operate(data: dict[str, Any], operations: Iterable[Operation], origin: Origin | None) -> None:
    for number, operation in enumerate(operations):
        _apply(data, operation, number)
        _note_origin(data, operation, origin)


def operated(data: dict[str, Any], patch: Iterable[Operation]) -> None:
    """Does operations on a document's plain data in place; neither validated nor noted in its origins.

    Raises:
        Refused: if an operation leads nowhere; then the data is half done.
    """
    for number, operation in enumerate(patch):
        _apply(data, operation, number)


def value_at(setup: Setup, path: str) -> Any:
    """The plain value at a path.

    Raises:
        Refused: if the path leads nowhere.
    """
    value: Any = setup.model_dump(mode="json")
    for step in _steps(path):
        value = _child(value, step, path)
    return value


def _steps(path: object) -> list[str]:
    if not isinstance(path, str) or not path.startswith("/"):
        raise Refused([Fault(shown(path), "no path", "a path that begins with /")])
    return [step.replace("~1", "/").replace("~0", "~") for step in path.split("/")[1:]]


def _index(items: list[Any], step: str, path: str) -> int:
    for index, item in enumerate(items):
        if isinstance(item, dict) and item.get("id") == step:
            return index
    if step.isascii() and step.isdigit() and len(step) < 6 and int(step) < len(items):
        return int(step)
    raise Refused([Fault(path, f"no {shown(step)} there", "the id of something in the list")])


def _child(value: Any, step: str, path: str) -> Any:
    if isinstance(value, list):
        return value[_index(value, step, path)]
    if isinstance(value, dict) and step in value:
        return value[step]
    raise Refused([Fault(path, "a path that leads nowhere", "a path of this setup")])


def _apply(data: dict[str, Any], operation: Operation, number: int) -> None:
    kind: Literal["add", "replace", "remove"] | Any = operation.get("op")
    path = operation.get("path", "")
    if kind not in ("add", "replace", "remove"):
        raise Refused([Fault(f"/{number}/op", shown(kind), "add, replace or remove")])
    if kind != "remove" and "value" not in operation:
        raise Refused([Fault(f"/{number}/value", "nothing", "a value")])
    *way, last = _steps(path)
    parent: Any = data
    for step in way:
        parent = _child(parent, step, path)
    if isinstance(parent, list):
        _apply_to_list(parent, last, operation)
    elif isinstance(parent, dict):
        if kind == "remove":
            _child(parent, last, path)
            del parent[last]
        else:
            parent[last] = deepcopy(operation["value"])  # later operations write into it, and must not write into the patch
    else:
        raise Refused([Fault(path, "a path that leads nowhere", "a path of this setup")])


def _apply_to_list(items: list[Any], last: str, operation: Operation) -> None:
    if operation["op"] == "add":
        at = len(items) if last == "-" else _index(items, last, operation["path"])
        items.insert(at, deepcopy(operation["value"]))
        return
    index = _index(items, last, operation["path"])
    if operation["op"] == "remove":
        del items[index]
    else:
        items[index] = deepcopy(operation["value"])


def _note_origin(data: dict[str, Any], operation: Operation, origin: Origin | None) -> None:
    origins, path = data.setdefault("origins", {}), operation["path"]
    if path.startswith("/origins") or not isinstance(origins, dict):
        return
    if origin is None and operation["op"] != "remove":
        return
    within = path + "/"
    origins.pop(path, None)
    if f"\n{within}" in "\n".join(("", *origins)):  # seldom, and told sooner of all at once
        for known in [known for known in origins if known.startswith(within)]:
            del origins[known]
    if operation["op"] != "remove" and origin is not None and not path.endswith("/-"):
        origins.update(dict.fromkeys(_leaves(operation["value"], path), origin))


def _leaves(value: object, path: str) -> list[str]:
    """Paths of the plain values in a value; lists of things by their ids, None left out (it is an absence)."""
    if isinstance(value, dict):
        return [leaf for key, inner in value.items() for leaf in _leaves(inner, f"{path}/{key}")]
    if isinstance(value, (list, tuple)):
        if all(isinstance(item, dict) and "id" in item for item in value):
            return [leaf for item in value for leaf in _leaves(item, f"{path}/{item['id']}")]
        return [path]
    return [] if value is None else [path]
