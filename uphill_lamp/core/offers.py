"""What a thing costs here: out of the drawer if it lies there, else bought within the budget, else not offered."""

from __future__ import annotations

from dataclasses import dataclass

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.patch import Patch, remove
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import OWNED, Cost
from uphill_lamp.core.scene.wording import money


@dataclass(frozen=True, slots=True)
class Offer:
    """How a thing comes into use: its cost, the patch that takes it out of the drawer, and what it is in words."""

    cost: Cost
    patch: Patch
    words: str


def offered(setup: Setup, entry: str, words: str) -> Offer | None:
    """A thing of a catalogue entry, owned or bought; None if it is neither owned nor within the budget.

    Args:
        entry: catalogue entry, which has a typical price.
        words: what it is called when it has to be bought.
    """
    mine = next((item for item in setup.kit if item.entry == entry), None)
    if mine is not None:
        return Offer(OWNED, (remove(f"/kit/{mine.id}"),), mine.name)
    cost = Cost("buy", typical.PRICES[entry], setup.preferences.currency)
    return Offer(cost, (), f"{words}, {money(cost.amount, cost.currency)}") if cost.amount <= setup.preferences.budget else None
