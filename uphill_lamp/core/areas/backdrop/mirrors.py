"""What mirrors behind the presenter let the lens see of the rest of the room (docs/method/backdrop.md)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import Seen, backdrop_panes, view_of
from uphill_lamp.core.scene.wording import the

LOOKED = 7  # places of a mirror that are looked into
OFF_GLASS_M = 1e-3


def shown_by(setup: Setup, mirror: BackdropThing) -> list[Seen]:
    """What the lens sees in a mirror: things behind, windows, screens and the presenter, each once; bare walls are left out."""
    part = behind_of(setup).seen.parts.get(mirror.id)
    if mirror.kind != "mirror" or part is None:
        return []
    pinhole, normal = scene_of(setup).pinhole, dict(backdrop_panes(setup))[mirror.id].normal
    spots = part.places[np.linspace(0, len(part.places) - 1, LOOKED).round().astype(int)]
    rays = pinhole.ray(spots[:, 0], spots[:, 1])
    places = view_of(setup, pinhole, rays).place
    bounced, met = rays - 2 * (rays @ normal)[:, None] * normal, dict[tuple[str, str], Seen]()
    for place, ray in zip(places, bounced, strict=True):
        view = view_of(setup, replace(pinhole, place=place + OFF_GLASS_M * normal), ray[None])
        thing = view.things[view.what[0]]
        if thing.kind in ("head", "neck", "shirt"):
            thing = Seen("presenter", "", 0.0)
        if thing.kind in ("presenter", "backdrop", "window", "screen") and thing.name != mirror.id:
            met.setdefault((thing.kind, thing.name), thing)
    return list(met.values())


@dataclass(frozen=True)
class Told:
    """A mirror that shows what is not for others.

    Args:
        mirror: the mirror.
        names: what it shows of that, as it is called.
        private: whether any of it is nobody's business.
    """

    mirror: BackdropThing
    names: tuple[str, ...]
    private: bool


def telltale(setup: Setup) -> Told | None:
    """The first mirror in view that shows a screen, or a thing that is private or not wanted in view; None if none does."""
    by_id = {thing.id: thing for thing in (*setup.backdrop, *setup.screens)}
    for mirror in setup.backdrop:
        shown = [by_id[seen.name] for seen in shown_by(setup, mirror) if seen.kind in ("backdrop", "screen")]
        telling = [thing for thing in shown if not isinstance(thing, BackdropThing) or thing.private or not thing.wanted]
        if telling:
            private = any(isinstance(thing, BackdropThing) and thing.private for thing in telling)
            return Told(mirror, tuple(the(thing.name) for thing in telling), private)
    return None
