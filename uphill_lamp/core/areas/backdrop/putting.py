"""What moves for what is behind share: what one person carries, and where a thing may be put."""

from __future__ import annotations

import numpy as np

from uphill_lamp.core import cautions
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.core.document.patch import Patch, applied, remove
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.judging import Move
from uphill_lamp.core.scene.placing import room_size
from uphill_lamp.core.scene.vectors import Vector
from uphill_lamp.core.scene.wording import the

CARRIED = ("clutter", "clothes_rail", "papers", "screen", "mirror", "plant", "picture", "clock", "cloth", "sheet", "green_screen",
           "folding_screen", "board", "plain_wall")  # kinds that one person carries out of the picture  # fmt: skip
HELD_TO_WALL = ("picture", "clock", "papers", "board")


def taken(thing: BackdropThing) -> Move:
    """A thing that one person carries, out of the picture."""
    down = "down" if thing.kind in HELD_TO_WALL else "away"
    return Move(f"backdrop.take_away.{thing.id}", f"Take {the(thing.name)} {down}", (remove(f"/backdrop/{thing.id}"),))


def tools(thing: BackdropThing) -> tuple[str, ...]:
    """Cautions where a thing is put elsewhere on its wall: what is screwed on wants new holes."""
    return (cautions.DRILLING,) if thing.held == "screwed" else ()


def after(setup: Setup, patch: Patch) -> Setup | None:
    """The setup with a patch done; None if that is no valid one."""
    try:
        return applied(setup, patch)
    except Refused:
        return None


def inside(setup: Setup, place: Vector) -> Vector:
    """The nearest place in the room, shape (3,) [m]."""
    size = room_size(setup.room)
    return np.asarray(np.clip(place, 0.02, size - 0.02))


def free_id(setup: Setup, wish: str) -> str:
    """An id for a thing behind that none has yet."""
    taken = {thing.id for thing in setup.backdrop}
    return next(name for name in (wish, *(f"{wish[:36]}-{number}" for number in range(2, 40))) if name not in taken)


def free_name(setup: Setup, wish: str) -> str:
    """A name for a thing behind that none has yet."""
    taken = {thing.name for thing in setup.backdrop}
    return next(name for name in (wish, *(f"{wish} {number}" for number in range(2, 40))) if name not in taken)
