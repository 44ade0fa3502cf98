"""Free steps as who presses what the bench offers comes to them, one after another: the ladder may not do worse."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import replace

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import applied
from uphill_lamp.core.judging import Move
from uphill_lamp.core.steps.action import Action, action_of, touches
from uphill_lamp.core.steps.candidates import at_once, goes_on
from uphill_lamp.core.steps.closing import LEAST_GAIN, STEP_GAIN
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.table import Cancelled

MOST_PRESSED = 20


def pressed(
    start: Iterable[Action],
    pool: dict[str, Action],
    scores: ScoreCache,
    never: Collection[str] = (),
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[list[Action], dict[str, Action]]:
    """A set to which again and again the free move is put that gains most of those the bench then offers, while it is worth it.

    Args:
        start: the set to go on from.
        pool: every action there is, by id, in the order they are done.
        never: ids that are not wanted.

    Returns:
        the set, in the order it is done, and the pool with what was worked out on the way.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    done = list(start)
    for _ in range(MOST_PRESSED):
        try:
            there = scores.appraised_after(done, 0.0)
        except Refused:
            break
        score = scores.of(done)
        for move in _offered(there, scores, never):
            if cancelled():
                raise Cancelled
            more = done
            for part in move.parts or (move,):
                more = [*more, _as_action(part, more, pool, scores)]
            if scores.of(more, score + LEAST_GAIN) >= score + LEAST_GAIN:
                done = more
                break
        else:
            break
    done = _each_once(done, pool, scores)
    return done, pool | {action.id: action for action in done}


def _offered(there: Appraisal, scores: ScoreCache, never: Collection[str]) -> Iterator[Move]:
    """The free moves that a bench offers and that are worth it, what gains most first."""
    gains: dict[str, float] = {}
    for name, move in there.moves_worked_out.items():
        try:
            gains[name] = scores.whole(applied(there.setup, move.patch)) - there.score
        except Refused:
            continue
    for name in sorted(gains, key=lambda name: -gains[name]):
        if gains[name] < LEAST_GAIN:
            return
        move = there.moves_worked_out[name]
        if move.cost.kind != "buy" and name not in never and there.offers(move, gains):
            yield move


def _as_action(move: Move, done: list[Action], pool: dict[str, Action], scores: ScoreCache) -> Action:
    """A move done after others; the known action where it is the same."""
    needs = frozenset(earlier.id for earlier in done if touches(earlier, move.patch))
    known = (action for action in pool.values() if (action.wish, action.patch, action.needs) == (move.id, move.patch, needs))
    if (same := next(known, None)) is not None:
        return same
    action = action_of(move, needs, name=free_name(move.id, {*pool, *(earlier.id for earlier in done)}))
    before, after = scores.document(done), scores.document([*done, action])
    return action if before is None or after is None else replace(action, areas=scores.bears_on(before, after))


def free_name(wish: str, taken: Collection[str]) -> str:
    """An id for one more action of a wish."""
    return next(name for name in (wish, *(f"{wish}@{number}" for number in range(2, len(taken) + 3))) if name not in taken)


def _each_once(done: list[Action], pool: dict[str, Action], scores: ScoreCache) -> list[Action]:
    """A set in which nothing is put somewhere first and elsewhere then, where it can as well go there at once."""
    for index, later in enumerate(done):
        first = next((earlier for earlier in done[:index] if goes_on(earlier, later)), None)
        if first is None:
            continue
        name = free_name(later.wish, {*pool, *(action.id for action in done)})
        action = replace(at_once(first, later), id=name, areas=first.areas | later.areas)
        taken, joined = {*pool, *(member.id for member in done), name}, list[Action]()
        now = {first.id: name, later.id: name}  # what is known by another id from here on
        for member in done:
            if member is later:
                continue
            if member is first:
                joined.append(action)
            elif member.needs & now.keys():
                now[member.id] = free_name(member.wish, taken)
                taken.add(now[member.id])
                joined.append(replace(member, id=now[member.id], needs=frozenset(now.get(need, need) for need in member.needs)))
            else:
                joined.append(member)
        if scores.of(joined) >= scores.of(done) - STEP_GAIN:
            return _each_once(joined, pool, scores)
    return done
