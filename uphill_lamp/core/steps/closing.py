"""Free steps done one after another, each worked out in the room that those before it made, until none of them helps any more."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.steps.action import Action, in_order, with_needs
from uphill_lamp.core.steps.candidates import gathered
from uphill_lamp.core.steps.score_cache import ScoreCache
from uphill_lamp.core.steps.table import Cancelled

ROUNDS, MOST_PRESSED, MOST_LEAPS, MOST_OTHERWISE = 5, 16, 3, 2
LEAST_LEAP = 1.0  # points that a step must mend somewhere to be tried though it loses
STEP_GAIN = 0.02  # points; less is no gain
LEAST_GAIN = 0.3  # points; less is not worth anybody's while (docs/method/steps.md)


def closed(
    start: Iterable[Action],
    pool: Mapping[str, Action],
    scores: ScoreCache,
    never: Iterable[str] = (),
    must: frozenset[str] = frozenset(),
    cancelled: Callable[[], bool] = lambda: False,
    least: float = STEP_GAIN,
) -> tuple[list[Action], dict[str, Action]]:
    """A set to which no free step can be added, or put in the place of others, that gains anything worth doing.

    Args:
        start: the set to go on from.
        pool: every action there is, by id, in the order they are done.
        must: ids that no step may take out.
        least: points that a step must gain; one may gain little and make the next possible, and crumbs are dropped at the end.

    Returns:
        the set, in the order it is done, and the pool with what was worked out on the way.

    Raises:
        Cancelled: as soon as ``cancelled`` says so.
    """
    done, known = in_order((action.id for action in start), pool), dict(pool)
    for _ in range(ROUNDS):
        try:
            there = scores.appraised_after(done, 0.0)
        except Refused:
            break
        more = gathered(there, scores, never, known.values(), done, again=True)
        wishes = {action.wish for action in known.values()}
        known |= {
            action.id: action
            for action in more.actions
            if not action.amount
            and (more.alone[action.id] >= STEP_GAIN or action.wish not in wishes)  # not the same in vain again and again
        }
        before = done
        done = added(done, known, scores, must, cancelled, least)
        if done == before:
            break
    return done, known


def leaps(done: list[Action], known: Mapping[str, Action], scores: ScoreCache, most: float = 0.0) -> list[list[Action]]:
    """Sets with a step more that mends one area much, whatever it spoils in others: what is spoilt may then be mended.

    Args:
        most: money; without it free steps are looked at, those that lose as a whole, with it what can be bought.

    Returns:
        the most promising first.
    """
    here = scores.document(done)
    assert here is not None
    promising: list[tuple[float, list[Action]]] = []
    for action in known.values():
        wanted = 0 < action.amount <= most if most else not action.amount
        chosen = scores.taken_in(action, done, known) if wanted and action not in done else None
        there = None if chosen is None else scores.document(chosen)
        if chosen is None or there is None:
            continue
        gains = [share * ((scores.score(area, there) or 0.0) - (scores.score(area, here) or 0.0)) for area, share in scores.shares.items()]
        mended = sum(gain for gain in gains if gain > 0)
        if mended >= LEAST_LEAP and (most or sum(gains) < STEP_GAIN):
            promising.append((mended, chosen))
    return [chosen for _, chosen in sorted(promising, key=lambda leap: -leap[0])[:MOST_LEAPS]]


def otherwise(done: list[Action], known: Mapping[str, Action], scores: ScoreCache) -> list[list[Action]]:
    """Sets to begin again from: a free step of another kind by itself, which does not go with what is done: the desk turned to the window
    instead of the window covered. Those that gain most by themselves come first."""
    names, wishes = {action.id for action in done}, {action.wish for action in done}
    promising: list[tuple[float, list[Action]]] = []
    for action in known.values():
        chosen = None if action.amount or action.wish in wishes else scores.taken_in(action, done, known)
        if chosen is not None and (not names <= {member.id for member in chosen} or scores.document(chosen) is None):
            alone = with_needs([action], known)
            promising.append((scores.of(alone), alone))
    return [alone for _, alone in sorted(promising, key=lambda other: -other[0])[:MOST_OTHERWISE]]


def added(
    done: list[Action],
    known: Mapping[str, Action],
    scores: ScoreCache,
    must: frozenset[str],
    cancelled: Callable[[], bool] = lambda: False,
    least: float = LEAST_GAIN,
) -> list[Action]:
    """A set with the free step that helps most, again and again, of what is worked out already; ``must`` as for ``closed``."""
    score = scores.of(done)
    for _ in range(MOST_PRESSED):
        best, reached = done, score
        for action in known.values():
            if cancelled():
                raise Cancelled
            if action.amount or action in done:
                continue
            chosen = scores.taken_in(action, done, known)
            if chosen is None or not must & {member.id for member in done} <= {member.id for member in chosen}:
                continue
            if (worth := scores.of(chosen, max(reached, score + least))) > reached + 1e-9:
                best, reached = chosen, worth
        if reached - score < least:
            return done
        done, score = best, reached
    return done
