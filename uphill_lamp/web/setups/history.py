"""How much history is kept: the newest states on the way to where a setup stands, what can be done again from there, and no more."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction

from uphill_lamp.web.setups.models import Revision

MOST_STATES = 400  # on the way to the present one; some four megabytes a setup
KEPT_FOR = timedelta(days=365)
SIDEWAYS_FOR = timedelta(days=1)  # states that were undone and then left for others can be come back to by nobody
TRIMMED_EVERY = 50  # states


@transaction.atomic
def trim(setup_id: int, now: datetime) -> int:
    """Lets go of a setup's oldest states and of those on ways that were left; how many.

    The present state, all that lies MOST_STATES before it and is younger than KEPT_FOR, and all that can be done again from it stay.
    """
    rows = {row.pk: row for row in Revision.objects.filter(setup_id=setup_id).only("id", "parent_id", "created_at")}
    head = Revision.objects.filter(setup_id=setup_id, setup__head_id__isnull=False).values_list("setup__head_id", flat=True).first()
    if head is None or head not in rows:
        return 0
    kept = _way_to(head, rows, now) | _ahead_of(head, rows)
    gone = [
        row.pk for row in rows.values() if row.pk not in kept and (row.pk < min(kept) or now - row.created_at > SIDEWAYS_FOR)
    ]  # fmt: skip
    staying = set(rows) - set(gone)
    # A state whose parent goes begins the history anew: it must not go with it.
    Revision.objects.filter(pk__in=[pk for pk in staying if rows[pk].parent_id in set(gone)]).update(parent=None)
    for start in range(0, len(gone), 400):
        Revision.objects.filter(pk__in=gone[start : start + 400]).delete()
    return len(gone)


def _way_to(head: int, rows: dict[int, Revision], now: datetime) -> set[int]:
    way: list[int] = []
    at: int | None = head
    while at is not None and at in rows and len(way) < MOST_STATES and (not way or now - rows[at].created_at < KEPT_FOR):
        way.append(at)
        at = rows[at].parent_id
    return set(way)


def _ahead_of(head: int, rows: dict[int, Revision]) -> set[int]:
    """What can be done again: from each state the one made last."""
    newest: dict[int | None, int] = {}
    for pk, row in rows.items():
        newest[row.parent_id] = max(pk, newest.get(row.parent_id, 0))
    named: set[int] = set()
    at = newest.get(head)
    while at is not None and at not in named:
        named.add(at)
        at = newest.get(at)
    return named
