"""What the main camera has before it, whatever the light: rays over its picture and round the head, cast at once, kept while nothing moves."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.apart import LOOKS, RESPONSE
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import View, view_of

GRID = (32, 18)  # columns and rows of rays that exposure is worked out from
FINE_GRID = (64, 36)  # and of those that tell what is seen of a thing
ANGLES_DEG = np.linspace(-100.0, 100.0, 41)  # of the head's upper outline, from straight up
RADII = np.arange(0.24, 0.87, 0.03)  # from the middle of the head, in head heights
INSIDE = 2  # steps from just past the outline to just inside of it
MOST_KEPT = 64
# What none of it hangs on: light, sound, wishes, looks, what the camera makes of what it sees.
_READS: Any = {
    **dict.fromkeys(("room", "desk", "presenter", "screens", "reflectors", "backdrop", "cameras"), True),
    "call": {"output_aspect"},
}
_APART: Any = {
    "room": {
        "furnishings": True, "measured_t60_s": True, "north_bearing_deg": True,
        "windows": {"__all__": {"name", "covering", "glass_transmittance", "obstruction_deg"}},
    },
    "screens": {"__all__": {"windows", "luminance_cd_m2", "white_share", "cct_k"}},
    "presenter": set(LOOKS),
    "backdrop": {"__all__": {"name", "luminance_cd_m2"}},
    "cameras": {"__all__": set(RESPONSE)},
}  # fmt: skip


@lru_cache(maxsize=4)
def through_grid(columns: int, rows: int) -> tuple[FloatArray, FloatArray]:
    """Places in the picture, row by row: from the left and from the top, both (columns * rows,) [no unit]; not to be written to."""
    across, down = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    return across.ravel(), down.ravel()


@dataclass(frozen=True)
class HeadInPicture:
    """The head in the picture: its middle and its height [shares of the picture's height], in a frame whose widths are scaled alike."""

    x: float
    y: float
    high: float
    eyes: float
    aspect: float

    def spots(self, right: FloatArray, up: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Places in the picture, of offsets in head heights."""
        return self.x + right * self.high / self.aspect, self.y - up * self.high


@dataclass(frozen=True, eq=False)
class Ring:
    """Rays round the head, by their angle: ``x``, ``y`` where they pass the picture and ``what`` they meet, all of shape (angles, radii).

    ``first`` (angles,) is the step that is just past the head, ``inner`` one that is just inside of it.
    """

    x: FloatArray
    y: FloatArray
    view: View

    @cached_property
    def what(self) -> NDArray[np.int64]:
        return self.view.what.reshape(self.x.shape)

    @cached_property
    def first(self) -> NDArray[np.int64]:
        past = ~self.view.mask("head", "neck", "shirt").reshape(self.x.shape)
        return np.where(past.any(axis=1), past.argmax(axis=1), len(RADII) - 1)

    @cached_property
    def inner(self) -> NDArray[np.int64]:
        return np.maximum(self.first - INSIDE, 0)

    def at(self, step: NDArray[np.int64]) -> FloatArray:
        """Where a step of each angle is in the picture, from the left and from the top, shape (angles, 2)."""
        rows = np.arange(len(self.x))
        return np.stack([self.x[rows, step], self.y[rows, step]], axis=1)

    @cached_property
    def rim(self) -> View | None:
        """What the rays along the outline meet, first those just inside of it and then as many just past it; None where none of it is in the
        picture."""
        seen = np.flatnonzero((np.abs(np.stack([self.at(self.inner), self.at(self.first)]) - 0.5) <= 0.5).all(axis=(0, 2)))
        if not len(seen):
            return None
        return self.view.some(np.concatenate([seen * len(RADII) + step[seen] for step in (self.inner, self.first)]))


@dataclass(frozen=True, eq=False)
class InView:
    """What is in view in a setup, or in one that differs in nothing that bears on it: each worked out when it is asked for."""

    setup: Setup = field(repr=False)

    @cached_property
    def head(self) -> HeadInPicture | None:
        """None where crown, chin or eyes are behind the lens."""
        face, pinhole = scene_of(self.setup).face, scene_of(self.setup).pinhole
        crown, chin, eyes = pinhole.project(np.array([face.crown, face.chin, face.eyes]))
        if np.isnan([crown, chin, eyes]).any() or abs(float(chin[1] - crown[1])) < 1e-3:
            return None
        middle = (crown + chin) / 2
        return HeadInPicture(float(middle[0]), float(middle[1]), float(chin[1] - crown[1]), float(eyes[1]), pinhole.field.aspect)

    @property
    def grid(self) -> View:
        """What the rays of the coarse grid meet. Who asks for it goes on to ask for the rest: all is cast with it."""
        return self._cast("grid", "fine", "ring")["grid"]

    @property
    def fine(self) -> View:
        """What the rays of the fine grid meet."""
        return self._cast("fine")["fine"]

    @cached_property
    def ring(self) -> Ring | None:
        """What the rays round the head meet; None where there is no head."""
        return Ring(*self._around, self._cast("ring")["ring"]) if self._around else None

    @cached_property
    def _around(self) -> tuple[FloatArray, FloatArray] | None:
        angle = np.radians(ANGLES_DEG)[:, None]
        return self.head.spots(RADII * np.sin(angle), RADII * np.cos(angle)) if self.head else None

    @cached_property
    def _views(self) -> dict[str, View]:
        return {}

    def _cast(self, *names: str) -> dict[str, View]:
        """Casts what has not been cast yet, in one."""
        through = {name: self._through(name) for name in names if name not in self._views}
        if through:
            pinhole = scene_of(self.setup).pinhole
            x, y = (np.concatenate([spots[axis].ravel() for spots in through.values()]) for axis in (0, 1))
            view, start = view_of(self.setup, pinhole, pinhole.ray(x, y)), 0
            for name, (across, _) in through.items():
                self._views[name] = view.some(slice(start, start + across.size))
                start += across.size
        return self._views

    def _through(self, name: str) -> tuple[FloatArray, FloatArray]:
        if name == "ring":
            return self._around or (np.zeros(0), np.zeros(0))
        return through_grid(*(GRID if name == "grid" else FINE_GRID))


_kept: LockedLru[str, InView] = LockedLru(MOST_KEPT)


def in_view_key(setup: Setup) -> str:
    """What tells what is in view of one setup from that of another."""
    return scene_of(setup).once("in view", lambda: setup.model_dump_json(include=_READS, exclude=_APART))


def in_view_of(setup: Setup) -> InView:
    """What is in view of the main camera; kept while nothing of it moves.

    Of what is worn the view says where it is met, but not what it reflects: that is the kept setup's.
    """
    return _kept.get_or_compute(in_view_key(setup), lambda: InView(setup))


def forget() -> None:
    """Empties the memory, for measuring."""
    _kept.forget()
