"""Reading a document somebody hands us: hostile until proven otherwise, refused with path, found and expected."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Collection, Iterable
from functools import lru_cache
from typing import Any, get_args, get_type_hints

from annotated_types import MaxLen
from pydantic import BaseModel, TypeAdapter, ValidationError
from pydantic_core import PydanticSerializationError, to_json

from uphill_lamp.core.document.faults import Fault, Refused, shown
from uphill_lamp.core.document.migration import migrated
from uphill_lamp.core.document.schema import expected_at
from uphill_lamp.core.document.setup import FORMAT, Setup, contradictions

MOST_BYTES = 2_000_000
MOST_DEPTH = 24
MOST_FAULTS = 40
# More than the longest lists of a setup could hold together; counted before anything is built of them.
MOST_GROUPS, MOST_LISTS, MOST_VALUES, MOST_KEYS = 4_000, 12_000, 500_000, 100  # values: measured lamps hold many
MOST_ORIGINS = 2_000
MOST_WHOLE = 2**53  # beyond it JSON's readers no longer agree on a whole number


class _Repeats(dict[str, Any]):
    """An object of the file in which a key stood more than once."""

    key = ""


def _pairs(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    values = dict(pairs)
    if len(values) == len(pairs):
        return values
    marked = _Repeats(values)
    keys = [key for key, _ in pairs]
    marked.key = next(key for key in keys if keys.count(key) > 1)
    return marked


def read_setup(content: bytes) -> Setup:
    """The setup in a file's bytes.

    Args:
        content: the file, UTF-8 JSON, 2 MB at most.

    Raises:
        Refused: with every fault that could be told at once.
    """
    if len(content) > MOST_BYTES:
        raise Refused([Fault("", f"a file of {len(content) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as broken:
        raise Refused([Fault("", f"a byte at {broken.start} that is no UTF-8", "JSON in UTF-8")]) from None
    bare = _STRING.sub("", text)
    for mark, most, what in (("{", MOST_GROUPS, "groups in { }"), ("[", MOST_LISTS, "lists in [ ]"), (",", MOST_VALUES, "values")):
        if (count := bare.count(mark)) > most:
            raise Refused([Fault("", f"{count} {what}", f"{most} at most")])
    if _depth(bare) > MOST_DEPTH:
        raise Refused([Fault("", "lists or groups nested too deeply", f"{MOST_DEPTH} levels at most")])
    try:
        data = json.loads(text, object_pairs_hook=_pairs)
    except ValueError as broken:
        where = f"line {broken.lineno}, column {broken.colno}" if isinstance(broken, json.JSONDecodeError) else "a number"
        raise Refused([Fault("", f"no JSON at {where}", "a setup file (*.uphill.json)")]) from None
    return setup_from(data)


def setup_from(data: object) -> Setup:
    """The setup in parsed JSON, migrated if older.

    Raises:
        Refused: with every fault that could be told at once.
    """
    faults: list[Fault] = []
    _walk(data, (), data, faults)
    if faults:
        raise Refused(faults[:MOST_FAULTS])
    if not isinstance(data, dict):
        raise Refused([Fault("", shown(data), "a setup: a group of fields in { }")])
    if data.get("format") != FORMAT:
        raise Refused([Fault("/format", shown(data.get("format")), f"'{FORMAT}'")])
    current = migrated(data)
    _bound(current, Setup, "", faults)
    if faults:
        raise Refused(faults[:MOST_FAULTS])
    return _validated(current)


def _bound(value: object, kind: Any, path: str, faults: list[Fault]) -> None:
    """Finds lists longer than a setup may have, before their items are looked at: each bad one would cost as much as a good one."""
    if not isinstance(value, dict):
        return
    for name, field in kind.model_fields.items():
        inner = value.get(name)
        if isinstance(inner, list):
            most = next((mark.max_length for mark in field.metadata if isinstance(mark, MaxLen)), None)
            if most is not None and len(inner) > most:
                faults.append(Fault(f"{path}/{name}", f"{len(inner)} items", f"{most} at most"))
                continue
        for item in inner if isinstance(inner, list) else [inner]:
            for model in _models_in(field.annotation):
                _bound(item, model, f"{path}/{name}", faults)


@lru_cache(maxsize=256)
def _models_in(annotation: Any) -> tuple[Any, ...]:
    """The models that values of a type may be."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return (annotation,)
    return tuple(model for part in get_args(annotation) for model in _models_in(part))


def changed_setup(data: dict[str, Any], fresh: Iterable[object]) -> Setup:
    """The setup in plain data that came from a setup and had values put into it.

    Args:
        data: the whole, of the present version.
        fresh: the values put in; only these can hold what JSON lets through and a setup does not.

    Raises:
        Refused: with every fault that could be told at once.
    """
    return setup_from(data) if _beyond_json(fresh) else _validated(data)  # the first tells each by its path


def with_parts(setup: Setup, data: dict[str, Any], paths: Collection[str], fresh: Collection[object]) -> Setup | None:
    """The setup with some of its parts from plain data, only these validated; None if anything is wrong, which ``changed_setup`` can tell.

    Args:
        setup: where the other parts come from.
        data: the parts that changed, by name, and the origins.
        paths: of all that was changed in them.
        fresh: as for ``changed_setup``.
    """
    if _beyond_json(fresh):
        return None
    try:
        changed = setup.model_copy(update={name: _part(name).validate_json(_text(part)) for name, part in data.items()})
    except ValidationError:
        return None
    return changed if _origins_stand(changed, data, paths, fresh) and not contradictions(changed) else None


def _origins_stand(changed: Setup, data: dict[str, Any], paths: Collection[str], fresh: Collection[object]) -> bool:
    """Whether all origins lead somewhere. One can only have come to stand for nothing beside what was changed, and not where plain values were
    put in the place of plain values, but for the names that things go by."""
    known_of = "\n".join(("", *changed.origins))
    if all(isinstance(value, (bool, int, float, str)) for value in fresh) and not any(
        path.endswith("/id") or f"\n{path}/" in known_of for path in paths
    ):
        return True
    beside = tuple(path.rsplit("/", 1)[0] + "/" if path.count("/") > 1 else path + "/" for path in paths)
    known: dict[int, dict[object, object]] = {}
    return all(_exists(data, path, known) for path in changed.origins if path.startswith(beside))


@lru_cache(maxsize=len(Setup.model_fields))
def _part(name: str) -> TypeAdapter[Any]:
    """What validates one part of a setup as the whole does."""
    kind = get_type_hints(Setup, include_extras=True)[name]
    return TypeAdapter(kind) if isinstance(kind, type) and issubclass(kind, BaseModel) else TypeAdapter(kind, config=Setup.model_config)


def _beyond_json(fresh: Iterable[object]) -> bool:
    """Whether values hold what JSON lets through and a setup does not."""
    faults: list[Fault] = []
    for value in fresh:
        _walk(value, (), value, faults)
    return bool(faults)


def _validated(current: dict[str, Any]) -> Setup:
    try:
        setup = Setup.model_validate_json(_text(current))
    except ValidationError as broken:
        faults = [_fault(current, detail) for detail in broken.errors(include_url=False, include_input=False)[:MOST_FAULTS]]
        raise Refused(_without_twins(faults)) from None
    faults = contradictions(setup)
    known: dict[int, dict[object, object]] = {}
    faults += [
        Fault(f"/origins/{path}", "an origin for nothing", "a path of this setup")
        for path in setup.origins
        if not _exists(current, path, known)
    ]
    if faults:
        raise Refused(faults[:MOST_FAULTS])
    return setup


def _text(current: object) -> str | bytes:
    """Plain data as JSON; by the quicker writer unless it holds what that one refuses, such as half a character."""
    try:
        return to_json(current, inf_nan_mode="constants")
    except PydanticSerializationError:
        return json.dumps(current)


def written(setup: Setup) -> str:
    """The document as a file: UTF-8 JSON, indented, names in their own script."""
    return json.dumps(setup.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n"


# A string, an unended one to the end of the file: it matches wherever one begins, so that no file makes it try again and again.
_STRING = re.compile(r'"[^"\\]*(?:\\.?[^"\\]*)*(?:"|\Z)', re.DOTALL)
_NO_BRACKET = re.compile(r"[^\[\]{}]+")


def _depth(text: str) -> int:
    """How deep brackets nest in a text without its strings; JSON's own parser would run out of stack on hostile files."""
    depth = deepest = 0
    for mark in _NO_BRACKET.sub("", text):
        if mark in "[{":
            depth += 1
            deepest = max(deepest, depth)
            if deepest > MOST_DEPTH:
                return deepest
        else:
            depth -= 1
    return deepest


def _walk(value: object, path: tuple[str | int, ...], data: object, faults: list[Fault]) -> None:
    """Collects what JSON lets through and a setup does not: repeats, NaN, infinity."""
    if len(faults) >= MOST_FAULTS:
        return
    if isinstance(value, dict):
        if isinstance(value, _Repeats):
            faults.append(Fault(_path(data, path)[0], f"the key {shown(value.key)} twice", "each key once"))
        most = MOST_ORIGINS if path == ("origins",) else MOST_KEYS
        if len(value) > most:
            faults.append(Fault(_path(data, path)[0], f"{len(value)} keys", f"{most} at most"))
            return
        for key, inner in value.items():
            _walk(inner, (*path, key), data, faults)
    elif isinstance(value, list):
        for index, inner in enumerate(value):
            _walk(inner, (*path, index), data, faults)
    elif isinstance(value, float):
        if not math.isfinite(value):
            faults.append(Fault(_path(data, path)[0], str(value), "a finite number"))
    elif isinstance(value, int) and not isinstance(value, bool) and abs(value) > MOST_WHOLE:
        faults.append(Fault(_path(data, path)[0], shown(value), "a number of ordinary size"))


def _handle(item: object, index: int) -> str:
    """What a list item is called in a path: its id where it has a plain one, else its index."""
    if isinstance(item, dict) and isinstance(item.get("id"), str) and item["id"].isascii() and item["id"].isprintable():
        return item["id"][:40]
    return str(index)


def _path(data: object, loc: tuple[int | str, ...]) -> tuple[str, object]:
    path, value = "", data
    for step in loc:
        if isinstance(value, list) and isinstance(step, int) and step < len(value):
            value = value[step]
            path += f"/{_handle(value, step)}"
        elif isinstance(value, dict) and step in value:
            value = value[step]
            path += f"/{shown(step)[1:-1]}"
        elif isinstance(value, dict):
            # Missing keys are named; the names pydantic gives to the branches of a union are not in the file.
            missing = isinstance(step, str) and step.isidentifier() and step[:1].islower() and "[" not in step
            path += f"/{step}" if missing and step not in ("str", "function-after") else ""
            value = None if missing else value
    return path, value


def _fault(data: object, detail: Any) -> Fault:
    kind, loc = detail["type"], detail["loc"]
    path, value = _path(data, loc)
    if kind == "missing":
        return Fault(path, "nothing", "this field: " + expected_at(path))
    if kind == "extra_forbidden":
        return Fault(path, "an unknown key", "only the keys that the setup's schema names")
    if kind == "value_error":
        return Fault(path, shown(value), str(detail["ctx"]["error"]))
    return Fault(path, shown(value), expected_at(path) or detail["msg"])


def _without_twins(faults: list[Fault]) -> list[Fault]:
    """One fault a path: a union reports each of its branches."""
    return list({fault.path: fault for fault in reversed(faults)}.values())[::-1]


def _exists(data: object, path: str, known: dict[int, dict[object, object]]) -> bool:
    """Whether a path leads somewhere; ``known`` keeps the ids of lists already looked through, by the list."""
    value = data
    for step in path.split("/")[1:]:
        if isinstance(value, list):
            if id(value) not in known:
                known[id(value)] = {item.get("id"): item for item in reversed(value) if isinstance(item, dict)}
            value = known[id(value)].get(step)
        elif isinstance(value, dict) and step in value:
            value = value[step]
        else:
            return False
        if value is None:
            return False
    return path.startswith("/")
