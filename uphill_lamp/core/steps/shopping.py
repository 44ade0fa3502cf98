"""What a set of actions asks to buy: each kind once, with its count, its price and what it is for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.steps.action import Action


@dataclass(frozen=True)
class Row:
    """A line of the shopping list; ``price`` of one, as of ``priced_on``."""

    entry: str
    name: str
    count: int
    price: float
    priced_on: str
    used_for: tuple[str, ...]
    cautions: tuple[str, ...]

    @property
    def amount(self) -> float:
        return self.count * self.price


def shopping_list(actions: Sequence[Action], currency: str) -> list[Row]:
    """The lines, dearest first; their sum is what the actions cost together."""
    wanted: dict[str, list[str]] = {}
    for action in actions:
        for entry in action.cost.entries:
            wanted.setdefault(entry, []).append(action.title)
    rows = []
    for entry, titles in wanted.items():
        kind = catalogue().kind(entry)
        price = catalogue().price(entry, currency) or 0.0
        rows.append(
            Row(
                entry,
                kind.name if kind else entry,
                len(titles),
                price,
                kind.priced_on.isoformat() if kind else "",
                tuple(dict.fromkeys(titles)),
                kind.caution_words if kind else (),
            )
        )
    return sorted(rows, key=lambda row: (-row.amount, row.name))
