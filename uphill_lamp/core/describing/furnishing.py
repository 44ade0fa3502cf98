"""Furniture and soft things counted by kind: how many there are, and more or fewer of them."""

from __future__ import annotations

from uphill_lamp.core.describing.listing import Change, noted
from uphill_lamp.core.describing.putting import put
from uphill_lamp.core.describing.taking_away import taken_away
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.finishes import FURNISHINGS
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import MOST_FURNISHINGS_OF_A_KIND


def furnishing_counts(setup: Setup) -> dict[str, int]:
    """How many of each kind stand in the room, kinds that are not there as 0."""
    return {kind: sum(item.count for item in setup.room.furnishings if item.kind == kind) for kind in FURNISHINGS}


def furnished(setup: Setup, kind: str, more: bool) -> Change:
    """One more of a kind, or one fewer; what was counted is in hand no longer than before: the room stays so.

    Raises:
        Refused: for a kind that there is not, more than a setup can hold, or fewer than none.
    """
    if kind not in FURNISHINGS:
        raise Refused([Fault("/kind", repr(kind)[:40], "one of " + ", ".join(FURNISHINGS))])
    there = [item for item in setup.room.furnishings if item.kind == kind]
    label, count = FURNISHINGS[kind].label, furnishing_counts(setup)[kind] + (1 if more else -1)
    words = f"In the room: {count} × {label}"
    if not more and not there:
        raise Refused([Fault("/room/furnishings", f"no {label}", "at least one to take away")])
    if more and not there:
        return Change(put(setup, f"furnishings.{kind}").patch, "room", words)
    if not more and there[-1].count == 1:
        return Change(taken_away(setup, f"furnishings/{there[-1].id}", into_drawer=False).patch, "room", words)
    item = next((item for item in there if item.count < MOST_FURNISHINGS_OF_A_KIND), None) if more else there[-1]
    if item is None:
        raise Refused([Fault("/room/furnishings", words, f"{MOST_FURNISHINGS_OF_A_KIND} at most")])
    path = f"/room/furnishings/{item.id}/count"
    return Change(noted(setup, (replace(path, item.count + (1 if more else -1)),), (path,)), "room", words)
