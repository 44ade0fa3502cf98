"""What stands where, worked out once per document and handed down."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields
from functools import cached_property
from typing import TypeVar, cast

import numpy as np

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.locked_lru import LockedLru
from uphill_lamp.core.scene.pinhole import Pinhole
from uphill_lamp.core.scene.placing import Face, Pane, Pose, camera_pose, desk_pane, face_of, pinhole_of, screen_pane, window_pane

T = TypeVar("T")
MOST_KEPT = 64


@dataclass(frozen=True, eq=False)
class Scene:
    """A document's room as geometry, for its main camera. Nothing in it can be written to."""

    setup: Setup

    @cached_property
    def face(self) -> Face:
        """The presenter's head."""
        return _fixed(face_of(self.setup))

    @cached_property
    def lens(self) -> Pose:
        """Where the main camera's lens is and where it looks."""
        return _fixed(camera_pose(self.setup, self.setup.main_camera))

    @cached_property
    def pinhole(self) -> Pinhole:
        """Its projection."""
        return _fixed(pinhole_of(self.setup))

    @cached_property
    def screens(self) -> dict[str, Pane]:
        """What each screen shows, by the screen's id; a lid or a stand decides how it leans."""
        return {screen.id: _fixed(screen_pane(screen)) for screen in self.setup.screens}

    @cached_property
    def windows(self) -> dict[str, Pane]:
        """The panes in the walls, by the window's id."""
        return {window.id: _fixed(window_pane(self.setup.room, window)) for window in self.setup.room.windows}

    @cached_property
    def desk(self) -> Pane:
        """The desk's top."""
        return _fixed(desk_pane(self.setup.desk))

    def once(self, name: str, work: Callable[[], T]) -> T:
        """What is worked out from the document alone, once: a part of it written out as a key, what rays can meet in it."""
        if name not in self._worked_out:
            self._worked_out[name] = work()
        return cast("T", self._worked_out[name])

    @cached_property
    def _worked_out(self) -> dict[str, object]:
        return {}


def _fixed(made: T) -> T:
    """The same, its arrays closed to writing: many read them."""
    for field in fields(made):  # type: ignore[arg-type]
        value = getattr(made, field.name)
        if isinstance(value, np.ndarray):
            value.flags.writeable = False
    return made


_kept: LockedLru[int, Scene] = LockedLru(MOST_KEPT)
_latest: Scene | None = None


def scene_of(setup: Setup) -> Scene:
    """The scene of a document: one and the same for as long as the document is at work."""
    global _latest
    scene: Scene | None = _latest  # most ask for the one that was asked for before; threads that cross lose a look-up, nothing else
    if scene is None or scene.setup is not setup:
        scene = _kept.get(id(setup))
        if scene is None or scene.setup is not setup:  # what is kept holds its document, so a number is never that of two
            scene = Scene(setup)
            _kept.put(id(setup), scene)
        _latest = scene
    return scene
