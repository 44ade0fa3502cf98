"""What of the picture lies under which thing behind, whatever the light (docs/method/backdrop.md)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from uphill_lamp.core.areas.backdrop.outline import Outline, outline_of
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.in_view import FINE_GRID, InView, in_view_key, in_view_of, through_grid
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import View

BODY = ("head", "neck", "hair", "shirt")
MOST_KEPT = 64


@dataclass(frozen=True, eq=False)
class Part:
    """What is seen of one thing: its share of the picture, the middle of that from the left and from the top, all 0-1, the places on the
    grid where it is seen, shape (n, 2), and how far it is along the lens's axis [m]."""

    share: float
    across: float
    down: float
    places: FloatArray
    depth_m: float


@dataclass(frozen=True, eq=False)
class InPicture:
    """What is seen of things behind.

    Args:
        parts: what is seen of each thing behind, by its id; only of those that are seen.
        near_share: how large what is behind comes out beside the same thing at the face, 0-1; None where nothing is behind the head.
        face_across: where the face is across the picture, 0-1.
        windows: ids of the windows that are seen.
        shirt: share of the picture under what is worn on the chest, 0-1.
    """

    parts: Mapping[str, Part]
    near_share: float | None
    face_across: float
    windows: frozenset[str]
    shirt: float


@dataclass(frozen=True, eq=False)
class Behind:
    """What is behind the presenter, in a setup or in one that differs in nothing that bears on it: each worked out when it is asked for."""

    setup: Setup = field(repr=False)
    in_view: InView = field(repr=False)

    @cached_property
    def seen(self) -> InPicture:
        """What is seen of it over the picture."""
        return _seen(self.setup, self.in_view.fine)

    @cached_property
    def outline(self) -> Outline:
        """What meets the head's outline."""
        return outline_of(self.setup, self.in_view)

    def unwanted(self, setup: Setup) -> float:
        """Share of the picture under what is not wanted there, 0-1."""
        parts = self.seen.parts
        return sum(parts[thing.id].share for thing in setup.backdrop if not thing.wanted and thing.id in parts)


_kept: LockedLru[str, Behind] = LockedLru(MOST_KEPT)


def behind_of(setup: Setup) -> Behind:
    """What the main camera sees behind the presenter; kept while nothing of it moves."""
    return _kept.get_or_compute(in_view_key(setup), lambda: Behind(setup, in_view_of(setup)))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()


def _seen(setup: Setup, view: View) -> InPicture:
    pinhole, face = scene_of(setup).pinhole, scene_of(setup).face
    across, down = through_grid(*FINE_GRID)
    parts, depth_m = {}, pinhole.depth(view.place)
    met = [(index, view.things[index]) for index in np.flatnonzero(np.bincount(view.what)).tolist()]
    for index, thing in met:
        if thing.kind == "backdrop":
            here = view.what == index
            parts[thing.name] = Part(
                float(here.mean()),
                float(across[here].mean()),
                float(down[here].mean()),
                np.stack([across[here], down[here]], axis=1),
                float(np.median(depth_m[here])),
            )
    windows = frozenset(thing.name for _, thing in met if thing.kind == "window")
    spots = pinhole.project(np.array([face.eyes, face.crown, face.chin]))
    near_share = _near_share(across, down, ~view.mask(*BODY, "chair"), depth_m, spots, float(pinhole.depth(face.eyes[None])[0]))
    return InPicture(parts, near_share, float(np.nan_to_num(spots[0, 0], nan=0.5)), windows, float(view.mask("shirt").mean()))


def _near_share(across: FloatArray, down: FloatArray, free: Any, depth_m: FloatArray, spots: FloatArray, eyes_m: float) -> float | None:
    """Of what is beside the head, no further from it than the head is high: how far the face is against how far that is."""
    if np.isnan(spots).any() or eyes_m <= 0:
        return None
    high = abs(float(spots[2, 1] - spots[1, 1]))
    beside = free & (np.abs(across - spots[0, 0]) < high) & (down > spots[1, 1] - high / 2) & (down < spots[2, 1]) & (depth_m > eyes_m)
    return float(eyes_m / np.median(depth_m[beside])) if beside.any() else None
