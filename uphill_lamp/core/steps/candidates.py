"""Which actions there are: the moves of all areas, and what the catalogue offers, each once."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.frame import other_camera_moves as cameras
from uphill_lamp.core.areas.light import catalogue_lamps as lamps
from uphill_lamp.core.areas.sound import catalogue_microphones as microphones
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Move, Retold
from uphill_lamp.core.steps.action import Action, action_of, put_again, put_finer, touches
from uphill_lamp.core.steps.hands import too_long
from uphill_lamp.core.steps.score_cache import ScoreCache

NEW_LAMP = "new lamp"
TWO_IN_ONE = "light.lamp_and_dark_page"  # for the bench; here both halves are weighed by themselves
PUTS = ("position", "aim_", "on", "dim")  # fields of a lamp that say where it stands, how it is aimed and how it burns
LAMP_PATH = 2  # slashes in the path of a lamp that is added whole
LEAST_ALONE = 0.02  # points; a purchase that gains less by itself is not weighed


@dataclass(frozen=True)
class LeftOut:
    """An action that is not weighed, and why."""

    action: Action
    why: str


@dataclass(frozen=True)
class Candidates:
    """The actions to be weighed, what each gains by itself [points], and those left out."""

    actions: tuple[Action, ...]
    alone: dict[str, float]
    left_out: tuple[LeftOut, ...]


def moves_of(appraisal: Appraisal) -> Iterator[tuple[Move, str]]:
    """Moves with the slot each fills, if any but what its patch says."""
    for move in appraisal.moves_worked_out.values():
        if move.id.startswith(TWO_IN_ONE):
            continue
        yield move, NEW_LAMP if move.id.startswith("light.buy_lamp") else ""
    for move in lamps.lamps(appraisal.lit_scene):
        yield move, NEW_LAMP
    for move in (*microphones.microphones(appraisal.setup), *cameras.from_catalogue(appraisal.setup)):
        yield move, ""


def gathered(
    appraisal: Appraisal,
    scores: ScoreCache,
    never: Iterable[str] = (),
    known: Iterable[Action] = (),
    done: Iterable[Action] = (),
    anew: Container[str] = (),
    again: bool = False,
) -> Candidates:
    """The actions of a setup.

    Args:
        appraisal: of the setup, or of the setup with some actions done.
        scores: of the setup itself.
        never: ids that are not wanted.
        known: actions there are already; none is found twice.
        done: the actions that the appraised setup has done: what builds on them needs them.
        anew: ids of known ones that may come again as they are worked out there: a lamp is put elsewhere once the desk is turned.
        again: whether all may. What clashes with what is done may in any case: as it was known it can no longer be had.
    """
    refused, before, known = set(never), list(done), list(known)
    seen = {_what(action): action.amount for action in known}
    names = {action.id for action in known}
    stale = {action.id for action in known if any(action.clashes(earlier) for earlier in before)}
    actions: list[Action] = []
    alone: dict[str, float] = {}
    left_out: list[LeftOut] = []
    start = scores.document(before)
    assert start is not None
    through = {action.id for action in before}
    for move, slot in moves_of(appraisal):
        if move.id in names and not again and move.id not in through | stale and move.id not in anew:
            continue  # it can be had from the start, and need not wait
        needs = frozenset(earlier.id for earlier in before if touches(earlier, move.patch))
        name = next(
            free_name for free_name in (move.id, *(f"{move.id}@{number}" for number in range(2, len(names) + 3))) if free_name not in names
        )
        action = action_of(move, needs, slot, name)
        if (first := next((earlier for earlier in before if goes_on(earlier, action)), None)) is not None:
            action = at_once(first, action)
        if seen.get(_what(action), action.amount + 1) <= action.amount:
            continue
        for dearer in [other for other in actions if _what(other) == _what(action)]:  # of alike ones the cheapest stays
            actions.remove(dearer)
            names.remove(dearer.id)
        seen[_what(action)] = action.amount
        after = scores.document([*(earlier for earlier in before if not earlier.clashes(action)), action])
        if move.id in refused or name in refused:
            left_out.append(LeftOut(action, "you chose to leave it out"))
        elif too_long((action,), scores.base.setup):
            left_out.append(LeftOut(action, "it takes longer each time than you want"))
        elif after is not None and (areas := scores.bears_on(start, after)):
            names.add(name)
            actions.append(replace(action, areas=areas))
            alone[name] = scores.whole(after) - scores.whole(start)
    return _without_beaten(actions, alone, left_out, scores)


def goes_on(earlier: Action, action: Action) -> bool:
    """Whether an action only takes an earlier one further: the same move again, or the same thing put elsewhere or more finely."""
    return earlier.wish == action.wish or put_again(earlier, action) or (not earlier.amount and put_finer(earlier, action))


def at_once(first: Action, action: Action) -> Action:
    """An action that goes on from a first one, as one action that goes there at once, in the place of the first; worded to where it ends."""
    over = first.writes.keys() <= action.writes.keys()
    own = over or first.wish == action.wish
    kept = "" if own else first.basis if _stands_elsewhere(first, action) else first.detail
    return replace(
        action,
        detail=" ".join(dict.fromkeys(filter(None, (kept, action.detail)))),
        title=action.title if over else _both(first, action),
        patch=action.patch if over else (*first.patch, *action.patch),
        cost=action.cost if action.amount else first.cost,
        cautions=tuple(dict.fromkeys((*first.cautions, *action.cautions))),
        needs=(action.needs | first.needs) - {first.id},
        slot=first.slot,
        aim=action.aim or first.aim,
        basis=action.basis or ("" if own else first.basis),
        retold=action.retold if own else _retold(first, action),
    )


def _retold(first: Action, action: Action) -> Retold:
    """The details of two actions that become one, told anew; of the first what holds where the second has put its lamp."""
    elsewhere = _stands_elsewhere(first, action)

    def told_of(before: Setup, after: Setup) -> tuple[str, ...]:
        return first.basis if elsewhere else first.told_between(before, after), action.told_between(before, after)

    return told_of


def _stands_elsewhere(first: Action, action: Action) -> bool:
    """Whether what a first action tells of its lamp's place or light is no longer so after another."""
    placed = any("/position/" in path or path.count("/") == LAMP_PATH for path in first.writes)
    return _writes(action, "/position/") or (_writes(action, "/aim_") and not placed)


def _writes(action: Action, what: str) -> bool:
    return any(path.startswith("/lights/") and what in path for path in action.writes)


def _both(first: Action, action: Action) -> str:
    """What two actions that become one are called, by where the lamp of both is aimed in the end."""
    turned_on = _writes(first, "/on") and not _writes(action, "/on")
    if first.wish == action.wish or (action.aim and _only_put(first) and not _only_put(action)):
        return _turned_on(action) if turned_on else action.title
    if _only_put(action) and action.aim == first.aim:
        return first.title
    begun = _without(first.title, first.aim) if first.aim and _writes(action, "/aim_") else first.title  # it is aimed elsewhere
    return f"{begun}; {action.title[0].lower()}{action.title[1:]}" if begun else action.title


def _without(title: str, aim: str) -> str:
    """A title without the words that say where a lamp is aimed, as they stand at its beginning or further on."""
    return title.replace(aim, "").replace(f"; {aim[0].lower()}{aim[1:]}", "")


def _only_put(action: Action) -> bool:
    """Whether all that an action does is to put, aim, switch and dim one lamp."""
    paths = [path.split("/", 3) for path in action.writes]
    return all(path[1] == "lights" and path[3:] and path[3].startswith(PUTS) for path in paths) and len({path[2] for path in paths}) == 1


def _turned_on(action: Action) -> str:
    """An action's title where the lamp it moves was off before."""
    begun, aim, rest = action.title.partition(action.aim) if action.aim else (action.title, "", "")
    return f"Turn on {begun.removeprefix('Move ')}, move it{aim}{rest}" if begun.startswith("Move ") else action.title


def _what(action: Action) -> tuple[tuple[tuple[str, str], ...], frozenset[str]]:
    """What an action does, whatever it is called and costs."""
    return tuple(sorted(action.writes.items())), action.needs


def _without_beaten(actions: list[Action], alone: dict[str, float], left_out: list[LeftOut], scores: ScoreCache) -> Candidates:
    """Leaves out what is bought in vain: what gains nothing by itself, and what another in its place beats at no higher cost."""
    kept, known = [], {action.id: action for action in actions}
    for action in actions:
        if action.cost.kind == "buy" and not action.needs:
            if alone[action.id] < LEAST_ALONE:
                left_out.append(LeftOut(action, "it gains nothing here"))
                continue
            better = next((other for other in actions if _beats(other, action, alone) and _apart(other, action, scores, known)), None)
            if better is not None:
                left_out.append(LeftOut(action, f"this does more for no more money: {better.title}"))
                continue
        kept.append(action)
    return Candidates(tuple(kept), {action.id: alone[action.id] for action in kept}, tuple(left_out))


def _beats(one: Action, other: Action, alone: dict[str, float]) -> bool:
    if one.id == other.id or one.areas != other.areas or one.needs:
        return False
    dearer, poorer = one.amount > other.amount + 1e-9, alone[one.id] < alone[other.id] - 1e-9
    alike = one.amount == other.amount and alone[one.id] == alone[other.id]
    return not dearer and not poorer and (not alike or one.id < other.id)


def _apart(one: Action, other: Action, scores: ScoreCache, known: Mapping[str, Action]) -> bool:
    return one.clashes(other) or scores.apart(one, other, known)
