"""What a thing costs here: out of the drawer if it lies there, else bought within the budget, else not offered."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.patch import Patch, remove
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, OWNED, Cost
from uphill_lamp.core.scene.wording import money, sentence, the


@dataclass(frozen=True, slots=True)
class Offer:
    """How a thing comes into use: its cost, the patch that takes it out of the drawer, and what it is in words."""

    cost: Cost
    patch: Patch
    words: str


def bought(setup: Setup, *entries: str, within_budget: bool = True) -> Cost | None:
    """The cost of catalogue entries bought together; None if one is not in the catalogue or all are beyond the budget."""
    currency = setup.preferences.currency
    prices = [catalogue().price(entry, currency) for entry in entries]
    if any(price is None for price in prices):
        return None
    amount = float(sum(price for price in prices if price is not None))
    return Cost("buy", amount, currency, entries) if amount <= setup.preferences.budget or not within_budget else None


def offered(setup: Setup, entry: str, words: str, load_kg: float = 0.0) -> Offer | None:
    """A thing of a catalogue entry, owned or bought; None if it is neither owned nor within the budget, or is not made for the load.

    Args:
        entry: catalogue entry.
        words: what it is called when it has to be bought.
        load_kg: what it is to hold [kg].
    """
    kind = catalogue().kind(entry)
    if load_kg and kind is not None and kind.figures("load_kg").get("load_kg", load_kg) < load_kg:
        return None
    mine = next((item for item in setup.kit if item.entry == entry), None)
    if mine is not None:
        return Offer(OWNED, (remove(f"/kit/{mine.id}"),), mine.name)
    cost = bought(setup, entry)
    return Offer(cost, (), f"{words}, {money(cost.amount, cost.currency)}") if cost else None


def at_home(setup: Setup, entries: Iterable[str], words: str) -> Offer:
    """A thing most households have: what lies in the drawer of some kinds, the first that does; else told with an "if", and not bought.

    Args:
        entries: kinds that serve, the best first.
        words: what else will do.
    """
    mine = next((item for entry in entries for item in setup.kit if item.entry == entry), None)
    return Offer(FREE, (), words) if mine is None else Offer(OWNED, (remove(f"/kit/{mine.id}"),), f"{sentence(the(mine.name))}.")


def with_all(
    setup: Setup, entries: Iterable[str], within_budget: bool = True, instead: Mapping[str, Iterable[str]] = MappingProxyType({})
) -> Offer | None:
    """Several entries and all that they need, each out of the drawer or bought; None if that cannot be had.

    Args:
        entries: catalogue entries; what they need by the catalogue comes along, each once.
        within_budget: whether what costs more than the budget is not to be had.
        instead: kinds that serve in the place of an entry, where one lies in the drawer.
    """
    owned = {item.entry for item in setup.kit}
    swapped = {
        entry: next((other for other in others if other in owned and entry not in owned), entry) for entry, others in instead.items()
    }
    wanted = needed((swapped.get(entry, entry) for entry in entries), swapped)
    drawer = list(setup.kit)
    patch: list[dict[str, object]] = []
    missing, names = [], []
    for entry in wanted:
        mine = next((item for item in drawer if item.entry == entry), None)
        kind = catalogue().kind(entry)
        names.append(mine.name if mine else kind.name if kind else entry)
        if mine is None:
            missing.append(entry)
            continue
        drawer.remove(mine)
        patch.append(dict(remove(f"/kit/{mine.id}")))
    cost = bought(setup, *missing, within_budget=within_budget) if missing else OWNED
    return Offer(cost, tuple(patch), ", ".join(names)) if cost else None


def needed(entries: Iterable[str], swapped: Mapping[str, str] = MappingProxyType({})) -> list[str]:
    """Entries with what they need, and what that needs in turn, each once; entries that need one another are no harm.

    Args:
        swapped: entries that others stand in for.
    """
    needs: list[str] = []
    waiting = list(entries)
    while waiting:
        entry = waiting.pop(0)
        if entry not in needs:
            needs.append(entry)
            kind = catalogue().kind(entry)
            waiting += (swapped.get(other, other) for other in (kind.needs if kind else ()))
    return needs
