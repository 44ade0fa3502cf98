"""What things cost here: the catalogue in force, with one's own prices and rates, for as long as something is worked out.

The moves of every area ask for prices deep down; which catalogue is meant is told once, around the work, by ``using``.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.meant import meant
from uphill_lamp.core.catalogue.table import shipped

BASE = "GBP"
# Units of a currency for one of BASE: rough figures of autumn 2026, editable.
TYPICAL_RATES: dict[str, float] = {
    "GBP": 1.0,
    "EUR": 1.15,
    "USD": 1.3,
    "CHF": 1.08,
    "SEK": 12.8,
    "NOK": 13.5,
    "DKK": 8.6,
    "PLN": 4.9,
    "CAD": 1.8,
    "AUD": 2.0,
}


@dataclass(frozen=True)
class Catalogue:
    """Kinds by entry, and rates: units of a currency for one of BASE."""

    kinds: Mapping[str, Kind] = field(default_factory=shipped)
    rates: Mapping[str, float] = field(default_factory=lambda: TYPICAL_RATES)

    def kind(self, entry: str) -> Kind | None:
        return self.kinds.get(entry)

    def price(self, entry: str, currency: str) -> float | None:
        """What an entry costs in a currency, to whole units from 10 on; None if it is not in the catalogue."""
        kind = self.kinds.get(entry)
        if kind is None:
            return None
        rate = self.rates.get(currency, 1.0) / self.rates.get(kind.currency, 1.0) if currency != kind.currency else 1.0
        amount = kind.price * rate
        return kind.price if rate == 1.0 else round(amount) if amount >= 10 else round(amount, 1)

    def cheapest(self, role: str, most: int) -> list[Kind]:
        """Kinds of a role, as the catalogue has them; of more than so many the cheapest."""
        kinds = [kind for kind in self.kinds.values() if kind.role == role]
        kept = {kind.entry for kind in sorted(kinds, key=lambda kind: (self.price(kind.entry, BASE) or 0.0, kind.entry))[:most]}
        return [kind for kind in kinds if kind.entry in kept]

    def knows(self, currency: str) -> bool:
        """Whether there is a rate for a currency; without one figures are taken over as they are."""
        return currency in self.rates


@cache
def _typical() -> Catalogue:
    return Catalogue()


def catalogue() -> Catalogue:
    """The catalogue in force; the shipped one if none was told."""
    own = meant()
    return own() if own is not None else _typical()
