"""What can be done with the catalogue, and which one is in force."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any

from django.db import transaction
from django.db.models import Count, Max

from uphill_lamp.core.catalogue.kind import Kind
from uphill_lamp.core.catalogue.prices import TYPICAL_RATES, Catalogue
from uphill_lamp.core.catalogue.table import COLUMNS, cells_of, kind_of, shipped
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.web.catalogue.models import Entry, Rate
from uphill_lamp.web.setups import documents

MOST_OWN = 5000  # kinds of one's own
Stamp = tuple[Any, ...]
_kept: LockedLru[Stamp, Catalogue] = LockedLru(1)


def stamp() -> Stamp:
    """A mark that changes whenever a row does."""
    rows = [model.objects.aggregate(last=Max("changed_at"), count=Count("id")) for model in (Entry, Rate)]
    return tuple(value for row in rows for value in (row["last"], row["count"]))


def in_force() -> Catalogue:
    """The catalogue as the rows have it; what ships with the app where there is none yet."""
    return _kept.get_or_compute(stamp(), _read)


def _read() -> Catalogue:
    kinds = {row.entry: kind_of_row(row) for row in Entry.objects.filter(hidden=False)} if Entry.objects.exists() else shipped()
    return Catalogue(kinds, TYPICAL_RATES | dict(Rate.objects.values_list("currency", "per_base")))


def kind_of_row(row: Entry) -> Kind:
    """A row as a kind."""
    return kind_of({name: str(getattr(row, name)) for name in COLUMNS}, own=row.own)


@transaction.atomic
def load() -> None:
    """Loads what ships with the app into an empty table, and kinds that have come since into one in use."""
    there = set(Entry.objects.values_list("entry", flat=True))
    Entry.objects.bulk_create([_row(kind) for entry, kind in shipped().items() if entry not in there])


def _changed() -> None:
    """What has been offered at the old prices is worked out anew; again once the change is in, for what came between."""
    documents.forget()
    transaction.on_commit(documents.forget)


def _row(kind: Kind) -> Entry:
    return Entry(own=kind.own, **_fields(kind))


def _fields(kind: Kind) -> dict[str, Any]:
    cells = dict(zip(COLUMNS, cells_of(kind), strict=True))
    figures = ("price", "mass_kg", "power_w", "priced_on", "minutes_once", "minutes_each_time")
    return cells | {name: getattr(kind, name) for name in figures}


@transaction.atomic
def take(kinds: Iterable[Kind]) -> tuple[int, int]:
    """Kinds taken in, those that are there by the same entry changed; how many new and how many changed.

    Raises:
        Refused: if there would be more kinds of one's own than are taken.
    """
    load()
    there = {row.entry: row for row in Entry.objects.all()}
    new = changed = 0
    ship, kinds = shipped(), list(kinds)
    own = {entry for entry, row in there.items() if row.own and not row.hidden} | {kind.entry for kind in kinds if kind.entry not in ship}
    if len(own) > MOST_OWN:
        raise Refused([Fault("", f"{len(own)} kinds of your own, with those that are there", f"at most {MOST_OWN}; take some away first")])
    for kind in kinds:
        row = there.get(kind.entry)
        if row is None:
            Entry(own=kind.entry not in ship, **_fields(kind)).save()
            new += 1
        elif row.hidden or cells_of(kind_of_row(row)) != cells_of(kind):
            for name, value in _fields(kind).items():
                setattr(row, name, value)
            row.hidden = False
            row.save()
            changed += 1
    _changed()
    return new, changed


@transaction.atomic
def reprice(entry: str, price: float, currency: str, today: date) -> None:
    """A price of one's own, of today.

    Raises:
        Entry.DoesNotExist: if there is no such kind.
    """
    load()
    row = Entry.objects.get(entry=entry)
    row.price, row.currency, row.priced_on = price, currency, today
    row.save()
    _changed()


@transaction.atomic
def let_go(entry: str) -> None:
    """A kind out of the catalogue, until it is brought back. Setups keep what they have of it.

    Raises:
        Entry.DoesNotExist: if there is no such kind.
    """
    _hide(entry, True)


@transaction.atomic
def bring_back(entry: str) -> None:
    """A kind that was taken away, back with its price.

    Raises:
        Entry.DoesNotExist: if there is no such kind.
    """
    _hide(entry, False)


def _hide(entry: str, hidden: bool) -> None:
    load()
    row = Entry.objects.get(entry=entry)
    row.hidden = hidden
    row.save()
    _changed()


@transaction.atomic
def as_shipped() -> None:
    """Kinds and rates as they came; one's own kinds stay."""
    Entry.objects.filter(own=False).delete()
    Rate.objects.all().delete()
    load()
    _changed()


@transaction.atomic
def set_rate(currency: str, per_base: float) -> None:
    """A rate of one's own."""
    Rate.objects.update_or_create(currency=currency, defaults={"per_base": per_base})
    _changed()
