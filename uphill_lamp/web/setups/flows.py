"""What can be done with setups: create, change, undo, redo, copy, load the demo. Rules live here, views stay thin."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document import applied, read_setup
from uphill_lamp.core.document.fields import OriginNote
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.web.setups.documents import digest_of, text_of
from uphill_lamp.web.setups.history import TRIMMED_EVERY, trim
from uphill_lamp.web.setups.models import Home, Revision, Setup

DEMO = Path(__file__).parent / "demo"
# The order in which a newcomer should meet them: what goes wrong first, what works last.
DEMO_FILES = ("clock-bench", "kitchen-table", "interview-by-phone", "standing-webinar", "room-that-works")
DEMO_HOME = ("clock-bench", "kitchen-table")  # two places of one home


class Stale(Exception):
    """A change was made on a revision that is no longer the newest."""


@transaction.atomic
def create(document: Document, words: str, demo: str = "", home: Home | None = None) -> Setup:
    """A new setup with its first revision, in a home of its own unless it is a spot of another."""
    setup = Setup.objects.create(name=document.name, demo=demo, home=home or Home.objects.create())
    _advance(setup, None, document, (), words)
    return setup


@transaction.atomic
def change(setup_id: int, parent_id: int, patch: Patch, words: str, origin: OriginNote | None = None) -> Revision:
    """A revision after a patch, its values entered, or as a note says.

    Raises:
        Stale: if the setup has moved on from ``parent_id``.
        Refused: if the patch leads to no valid document.
        Setup.DoesNotExist: if there is no such setup.
    """
    setup = _current(setup_id, parent_id)
    assert setup.head is not None
    note: Any = origin.model_dump(mode="json", exclude_none=True) if origin else "entered"
    document = applied(read_setup(setup.head.document.encode()), patch, note)
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
def bring_back(setup_id: int, parent_id: int, then: Revision) -> Revision:
    """An earlier state as a new one after the present.

    Raises:
        Stale: if the setup has moved on.
        Refused: if that state can no longer be read.
    """
    setup = _current(setup_id, parent_id)
    assert setup.head is not None
    document = read_setup(then.document.encode())
    if text_of(document) == setup.head.document:
        return setup.head
    return _advance(setup, setup.head, document, (), f"Brought back: {then.words or 'an earlier state'}"[:200])


@transaction.atomic
def copy(setup: Setup, wanted: str = "") -> Setup:
    """A setup like another, under the name wanted or one of its own.

    Raises:
        Refused: for a name that cannot be one.
    """
    assert setup.head is not None
    document = read_setup(setup.head.document.encode())
    name = free_name(wanted or f"{document.name[:70]}, copy")
    return create(applied(document, (replace("/name", name),), origin=None), f"Copied from {document.name}"[:200])


@transaction.atomic
def rename(setup: Setup, name: str) -> Revision:
    """A setup under another name, as a change like any other.

    Raises:
        Refused: for a name that cannot be one.
    """
    assert setup.head is not None
    return change(setup.pk, setup.head.pk, (replace("/name", name),), f"Renamed: {name}"[:200])


def free_name(wanted: str) -> str:
    """A name no setup has yet."""
    taken = set(Setup.objects.filter(name__startswith=wanted[:70]).values_list("name", flat=True))
    tries: list[Any] = [wanted, *(f"{wanted} {number}" for number in range(2, len(taken) + 3))]
    return next(name for name in tries if name not in taken)


@transaction.atomic
def load_demo() -> None:
    """The demo setups: those that are not there are brought, those that were changed are their owner's own from now on and stay."""
    for setup in Setup.objects.exclude(demo=""):
        if is_changed(setup):
            setup.demo = ""
            setup.save(update_fields=["demo"])
        elif setup.head is None or setup.head.digest != digest_of(text_of(_shipped(setup.demo))):
            setup.delete()  # as an earlier version of the app shipped it
    there = set(Setup.objects.values_list("demo", flat=True))
    shared = Home.objects.filter(spots__demo=DEMO_HOME[0], spots__deleted_at=None).first()
    shared = shared or Home.objects.filter(spots__demo=DEMO_HOME[1], spots__deleted_at=None).first() or Home.objects.create()
    for name in DEMO_FILES:
        if name in there:
            continue
        setup = create(_shipped(name), "Loaded with the demo", demo=name, home=shared if name in DEMO_HOME else None)
        if name == DEMO_HOME[0] and shared.chosen_id is None:
            choose(setup)
    Home.objects.filter(spots=None).delete()


def is_changed(setup: Setup) -> bool:
    """Whether anything has been done with a demo setup: a change, even one undone since, or a script."""
    return setup.revisions.count() > 1 or hasattr(setup, "script")


@cache
def _shipped(name: str) -> Document:
    return read_setup((DEMO / f"{name}.uphill.json").read_bytes())


@transaction.atomic
def add_spot(setup: Setup, build: Callable[[Document, str], Document], name: str) -> Setup:
    """Another spot of a setup's home, built from the setup's document.

    Args:
        build: makes the new document from the present one and a free name.

    Raises:
        Refused: if it cannot be built so.
    """
    assert setup.head is not None
    document = build(read_setup(setup.head.document.encode()), free_name(name))
    return create(document, f"A place beside {setup.name}"[:200], home=home_of(setup))


@transaction.atomic
def choose(setup: Setup) -> None:
    """The spot that its home's calls are held at."""
    home = home_of(setup)
    home.chosen = setup
    home.save()


def home_of(setup: Setup) -> Home:
    """The home a setup is a spot of; one of its own for setups that have none yet."""
    if setup.home is None:
        setup.home = Home.objects.create()
        setup.save(update_fields=["home"])
    return setup.home


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
    if revision.pk % TRIMMED_EVERY == 0:
        trim(setup.pk, timezone.now())
    return revision


def _stand_at(setup: Setup, revision: Revision) -> None:
    setup.head = revision
    setup.name = read_setup(revision.document.encode()).name
    setup.save()
