"""Setups deleted, brought back within a day, and gone for good after it."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction

from uphill_lamp.web.setups.models import Home, Setup

DELETED_FOR = timedelta(days=1)  # so long what was deleted can be brought back


@transaction.atomic
def delete(setup: Setup, now: datetime) -> None:
    """Out of the list; for a day it can be brought back."""
    setup.deleted_at = now
    setup.save(update_fields=["deleted_at"])
    Home.objects.filter(chosen=setup).update(chosen=None)


@transaction.atomic
def bring_back(setup_id: int) -> Setup:
    """A deleted setup as it was.

    Raises:
        Setup.DoesNotExist: if there is none, or none any more.
    """
    setup = Setup.everything.exclude(deleted_at=None).get(pk=setup_id)
    setup.deleted_at = None
    setup.save(update_fields=["deleted_at"])
    return setup


def purge(now: datetime) -> None:
    """What was deleted more than a day ago goes for good."""
    Setup.everything.filter(deleted_at__lt=now - DELETED_FOR).delete()
