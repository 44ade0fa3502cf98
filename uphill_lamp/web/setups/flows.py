"""What can be done with setups: create, change, undo, redo, copy, load the demo. Rules live here, views stay thin."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.db import transaction

from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import applied, read_setup
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.web.setups.documents import digest_of, text_of
from uphill_lamp.web.setups.models import Revision, Setup

DEMO = Path(__file__).parent / "demo"
# The order in which a newcomer should meet them: what goes wrong first, what works last.
DEMO_FILES = ("clock-bench", "kitchen-table", "interview-by-phone", "standing-webinar", "room-that-works")


class Stale(Exception):
    """A change was made on a revision that is no longer the newest."""


@transaction.atomic
def create(document: Document, words: str, demo: str = "") -> Setup:
    """A new setup with its first revision."""
    setup = Setup.objects.create(name=document.name, demo=demo)
    _advance(setup, None, document, (), words)
    return setup


@transaction.atomic
def change(setup_id: int, parent_id: int, patch: Patch, words: str) -> Revision:
    """A revision after a patch.

    Raises:
        Stale: if the setup has moved on from ``parent_id``.
        Refused: if the patch leads to no valid document.
        Setup.DoesNotExist: if there is no such setup.
    """
    setup = _current(setup_id, parent_id)
    assert setup.head is not None
    document = applied(read_setup(setup.head.document.encode()), patch)
    if text_of(document) == setup.head.document:
        return setup.head
    return _advance(setup, setup.head, document, patch, words)


@transaction.atomic
def undo(setup_id: int, parent_id: int) -> Revision | None:
    """Back to the revision before; what was undone in return, None at the beginning.

    Raises:
        Stale: if the setup has moved on.
    """
    setup = _current(setup_id, parent_id)
    undone = setup.head
    assert undone is not None
    if undone.parent is None:
        return None
    _stand_at(setup, undone.parent)
    return undone


@transaction.atomic
def redo(setup_id: int, parent_id: int) -> Revision | None:
    """Forward to the revision made last from here; None at the end.

    Raises:
        Stale: if the setup has moved on.
    """
    setup = _current(setup_id, parent_id)
    latest = Revision.objects.filter(parent_id=parent_id).order_by("-id").first()
    if latest is not None:
        _stand_at(setup, latest)
    return latest


@transaction.atomic
def copy(setup: Setup) -> Setup:
    """A setup like another, under a name of its own."""
    assert setup.head is not None
    document = read_setup(setup.head.document.encode())
    name = free_name(f"{document.name[:70]}, copy")
    return create(applied(document, (replace("/name", name),), origin=None), f"Copied from {document.name}"[:200])


def free_name(wanted: str) -> str:
    """A name no setup has yet."""
    taken = set(Setup.objects.filter(name__startswith=wanted[:70]).values_list("name", flat=True))
    tries: list[Any] = [wanted, *(f"{wanted} {number}" for number in range(2, len(taken) + 3))]
    return next(name for name in tries if name not in taken)


@transaction.atomic
def load_demo() -> None:
    """The demo setups, those that were there put back as they came; setups of one's own are left alone."""
    Setup.objects.exclude(demo="").delete()
    for name in DEMO_FILES:
        create(read_setup((DEMO / f"{name}.uphill.json").read_bytes()), "Loaded with the demo", demo=name)


def _current(setup_id: int, parent_id: int) -> Setup:
    # The transaction is IMMEDIATE: nobody else writes between this look and our own writing.
    setup = Setup.objects.select_related("head", "head__parent").get(pk=setup_id)
    if setup.head_id != parent_id:
        raise Stale
    return setup


def _advance(setup: Setup, parent: Revision | None, document: Document, patch: Patch, words: str) -> Revision:
    text = text_of(document)
    plain = [dict(operation) for operation in patch]
    revision = Revision.objects.create(setup=setup, parent=parent, document=text, digest=digest_of(text), patch=plain, words=words[:200])
    setup.name = document.name
    _stand_at(setup, revision)
    return revision


def _stand_at(setup: Setup, revision: Revision) -> None:
    setup.head = revision
    setup.name = read_setup(revision.document.encode()).name
    setup.save()
