"""Soft things that take sound out of a room: which helps most for its trouble."""

from __future__ import annotations

from collections.abc import Iterator, Set
from dataclasses import dataclass

from uphill_lamp.core import cautions
from uphill_lamp.core.areas.sound.measures import DIRECT_TO_REVERBERANT, STI
from uphill_lamp.core.document.patch import add
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.field.sound.capsule import Heard, heard_by
from uphill_lamp.core.field.sound.clarity import shown_sti
from uphill_lamp.core.judging import FREE, Move, Retold
from uphill_lamp.core.offers import Offer, offered
from uphill_lamp.core.scene.wording import money
from uphill_lamp.core.standing.sight import HUNG_AHEAD, faces_window

BY_ROOM = {"sound.sti", "sound.direct_to_reverberant"}
CLEAR_ENOUGH = 0.75  # clarity at which a microphone at the mouth hears the voice whatever the room
OFFERED = 2  # the best so many for their trouble


@dataclass(frozen=True)
class SoftThing:
    """Something soft by its furnishing, what to do with it, how much trouble it is (ours, 1 little), and its price's name if it is bought."""

    kind: str
    count: int
    title: str
    detail: str
    trouble: float
    price: str = ""
    caution: str = ""
    enough: int = 1  # of its kind in the room: then there is no more of the same


THINGS = (
    SoftThing("duvet", 1, "Hang a duvet behind the screen, facing you", "If you have one: over a clothes horse or a door, out of the picture.", 1.0,
              caution=cautions.SOFT),
    SoftThing("duvet", 2, "Hang two duvets, one behind the screen and one beside you",
              "If you have them: over clothes horses or doors, out of the picture.", 2.0,
              caution=cautions.SOFT),
    SoftThing("wardrobe_clothes", 1, "Open a wardrobe full of clothes", "If one stands in the room: its doors wide, towards you.", 0.5),
    SoftThing("rug", 2, "Lay a thick rug under and behind you", "Some 4 m²; the thicker the better.", 2.0, "rug", enough=2),
    SoftThing("heavy_curtain", 2, "Hang a heavy curtain on the wall you face", "Some 6 m², in deep folds, a little off the wall.", 3.0, "heavy_curtain",
              cautions.CLOTH, enough=2),
    SoftThing("bookcase", 1, "Put a full bookcase against a bare wall",
              "If you can carry one in: books of uneven depth break up and swallow sound.", 3.0, enough=2),
)  # fmt: skip


def moves(setup: Setup, heard: Heard, wanting: Set[str]) -> Iterator[Move]:
    """The soft things that help most per unit of trouble; none where a time was measured, for it would have to be measured anew."""
    microphone = setup.microphone_in_use
    if microphone is None or not wanting & BY_ROOM or setup.room.measured_t60_s is not None or len(setup.room.furnishings) >= 40:
        return
    if microphone.at == "body" and heard.sti >= CLEAR_ENOUGH:  # at the mouth the room hardly matters
        return
    now = _worth(heard)
    helping = []
    for thing in THINGS:
        there = sum(item.count for item in setup.room.furnishings if item.kind == thing.kind)
        if there >= thing.enough or (thing.kind in HUNG_AHEAD and faces_window(setup)):
            continue
        had = offered(setup, thing.price, "") if thing.price else Offer(FREE, (), "")
        if had is None:
            continue
        item = {"id": _free(setup), "name": _name(setup, thing), "kind": thing.kind, "count": thing.count}
        room = setup.room.model_copy(update={"furnishings": (*setup.room.furnishings, _Item(thing.kind, thing.count))})
        then = heard_by(setup.model_copy(update={"room": room}), microphone)
        price = f"{money(had.cost.amount, had.cost.currency).capitalize()}." if had.cost.kind == "buy" else ""
        detail = " ".join(filter(None, (thing.detail, _clarity_words(heard, then), price)))
        move = Move(f"sound.soft.{thing.kind}_{thing.count}", thing.title, (add("/room/furnishings/-", item), *had.patch), had.cost,
                    (thing.caution,) if thing.caution else (), detail=detail, promises=(("sound.sti", then.sti),),
                    retold=_anew(thing.detail, price))  # fmt: skip
        helping.append(((_worth(then) - now) / thing.trouble, move))
    for _, move in sorted(helping, key=lambda pair: -pair[0])[:OFFERED]:
        yield move


def _clarity_words(before: Heard, after: Heard) -> str:
    was, now = shown_sti(before.sti), shown_sti(after.sti)
    return f"Clarity {f'rises from {was:.2f} to' if now > was else 'stays'} {now:.2f}."


def _anew(detail: str, price: str) -> Retold:
    def told_of(before: Setup, after: Setup) -> tuple[str, ...]:
        then, now = before.microphone_in_use, after.microphone_in_use
        heard = _clarity_words(heard_by(before, then), heard_by(after, now)) if then and now else ""
        return detail, heard, price

    return told_of


@dataclass(frozen=True)
class _Item:
    """As much of a furnishing as the room's sound reads."""

    kind: str
    count: int


def _worth(heard: Heard) -> float:
    return 2 * STI.utility(heard.sti) + DIRECT_TO_REVERBERANT.utility(heard.direct_to_reverberant_db)


def _free(setup: Setup) -> str:
    taken = {item.id for item in setup.room.furnishings}
    return next(name for name in (f"soft-{number}" for number in range(1, 60)) if name not in taken)


def _name(setup: Setup, thing: SoftThing) -> str:
    taken = {item.name for item in setup.room.furnishings}
    wanted = f"New {thing.kind.replace('_', ' ')}"
    return next(name for name in (wanted, *(f"{wanted} {number}" for number in range(2, 60))) if name not in taken)
