"""Actions: changes of the setup that can be combined, with what each needs and what it cannot go with, told from their patches."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from uphill_lamp.core.document.patch import Operation, Patch
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Cost, Move, Retold


@dataclass(frozen=True)
class Action:
    """A change of the document that can be part of a combination.

    ``needs`` are ids of actions that must be done before it; ``slot`` names a place that only one action can fill, beside what
    their patches already say; ``areas`` are those whose figures it can bear on, told by what the areas' records say they read; ``aim``,
    ``basis`` and ``retold`` are the move's.
    """

    id: str
    title: str
    patch: Patch
    cost: Cost
    cautions: tuple[str, ...] = ()
    detail: str = ""
    needs: frozenset[str] = frozenset()
    slot: str = ""
    areas: frozenset[str] = frozenset()
    aim: str = ""
    basis: str = ""
    retold: Retold | None = field(default=None, compare=False, repr=False)

    def told_between(self, before: Setup, after: Setup) -> str:
        """Its detail where it leads from one setup to another."""
        sentences = self.retold(before, after) if self.retold else (self.detail,)
        return " ".join(dict.fromkeys(filter(None, sentences)))

    @property
    def wish(self) -> str:
        """Id of the move that it is, wherever it was worked out."""
        return self.id.partition("@")[0]

    @property
    def amount(self) -> float:
        """What it costs, in the setup's currency."""
        return self.cost.amount if self.cost.kind == "buy" else 0.0

    @cached_property
    def writes(self) -> dict[str, str]:
        """What it writes: path to the value as text; a removal as a mark that nothing equals."""
        return dict(_written(self.id, operation) for operation in self.patch)

    @cached_property
    def key(self) -> tuple[str, int]:
        """What tells it from others of its id: the same wish is worked out again where more is done."""
        return self.id, hash(tuple(self.writes.items()))

    @cached_property
    def parts(self) -> frozenset[str]:
        """The parts of the document that it writes to."""
        return frozenset(str(operation["path"]).split("/", 2)[1] for operation in self.patch)

    def clashes(self, other: Action) -> bool:
        """Whether both cannot be done: the same slot, or two values for one path, unless one needs the other and comes after it."""
        if self.id in other.needs or other.id in self.needs:
            return False
        return bool(self.slot and self.slot == other.slot) or _overlap(self.writes, other.writes)


def _written(action_id: str, operation: Operation) -> tuple[str, str]:
    path, value = str(operation["path"]), operation.get("value")
    if operation["op"] == "remove":
        return path, f"removed by {action_id}"  # a thing can be taken out of the drawer once
    if path.endswith("/-"):
        added = value.get("id", "") if isinstance(value, dict) else ""
        path = f"{path[:-1]}{added}"
    return path, json.dumps(value, sort_keys=True)


def _overlap(mine: dict[str, str], others: dict[str, str]) -> bool:
    for path, value in mine.items():
        for other, its in others.items():
            if path == other:
                if value != its:
                    return True
            elif path.startswith(other + "/") or other.startswith(path + "/"):
                return True
    return False


def touches(action: Action, patch: Patch) -> bool:
    """Whether a patch builds on what an action has written: it changes or removes the same, or something inside it."""
    after = [path for path, _ in (_written("", operation) for operation in patch)]
    return any(path == mine or path.startswith(mine + "/") or mine.startswith(path + "/") for path in after for mine in action.writes)


def put_again(one: Action, other: Action) -> bool:
    """Whether an action puts a lamp elsewhere that another, which cost nothing, has put somewhere: nobody carries it twice."""
    places = {path for path in one.writes if path.startswith("/lights/") and "/position/" in path}
    things = {path.split("/")[2] for path in one.writes if path.count("/") > 1}
    return bool(places) and len(things) == 1 and one.cost.kind != "buy" and places <= other.writes.keys()


def put_finer(one: Action, other: Action) -> bool:
    """Whether an action only puts a lamp better that another, among other things, has put somewhere."""
    lamps = {path.split("/")[2] for path in other.writes if path.startswith("/lights/")}
    return (
        len(lamps) == 1
        and all(path.startswith("/lights/") for path in other.writes)
        and any(path in one.writes for path in other.writes if "/position/" in path or "/aim_" in path)
    )


def action_of(move: Move, needs: Iterable[str] = (), slot: str = "", name: str = "") -> Action:
    """A move as an action."""
    return Action(
        name or move.id, move.title, move.patch, move.cost, move.cautions, move.detail, frozenset(needs), slot, aim=move.aim, basis=move.basis,
        retold=move.retold,
    )  # fmt: skip


def in_order(names: Iterable[str], known: Mapping[str, Action]) -> list[Action]:
    """The actions of some ids, in the order of those known."""
    wanted = set(names)
    return [action for name, action in known.items() if name in wanted]


def with_needs(wanted: Iterable[Action], known: Mapping[str, Action]) -> list[Action]:
    """Actions and all they need in turn, in the order of those known."""
    names: set[str] = set()
    waiting = [action.id for action in wanted]
    while waiting:
        if (name := waiting.pop()) not in names and name in known:
            names.add(name)
            waiting += known[name].needs
    return in_order(names, known)


def conflicts(actions: Iterable[Action], apart: Callable[[Action, Action], bool] = lambda one, other: False) -> dict[str, frozenset[str]]:
    """Which actions cannot go with which, by id; ``apart`` may know of more than their patches say."""
    listed = list(actions)
    clashes: dict[str, set[str]] = {action.id: set() for action in listed}
    for index, listed_action in enumerate(listed):
        for other in listed[index + 1 :]:
            if listed_action.clashes(other) or apart(listed_action, other):
                clashes[listed_action.id].add(other.id)
                clashes[other.id].add(listed_action.id)
    return {name: frozenset(others) for name, others in clashes.items()}
