"""What the presenter looks at in a call, and how far each look misses the lens (docs/method/eyes.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from uphill_lamp.core.document.devices import Screen, ScreenWindow
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, harmonic
from uphill_lamp.core.scene.placing import window_centre
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, cross, unit, vector

# Viewers forgive a look a little below the lens, hardly any aside or above it (Chen 2002).
# How much each figure counts in Eyes; notes are looked at less than faces: half as much.
WEIGHTS = {
    "eyes.aside": (3.0, "a look aside is seen from one degree on"),
    "eyes.down": (2.0, "a little below passes for eye contact"),
    "eyes.up": (1.0, "rare at a desk"),
    "eyes.notes_aside": (1.5, "half of what the same look at a face counts"),
    "eyes.notes_down": (1.0, "half of what the same look at a face counts"),
    "eyes.notes_up": (0.5, "half of what the same look at a face counts"),
}
DOWN = Band(None, 5.0, None, 10.0)
ASIDE = Band(None, 1.5, None, 6.0)
BESIDE_LENS = Band(3.0, 12.0, 1.0, 20.0)  # a recorded interview: the other sits beside the lens
UPWARD = Band(None, 1.5, None, 6.0)
WORDS = {"call": "the others", "notes": "your notes", "self": "yourself", "slides": "the slides", "chat": "the chat"}


@dataclass(frozen=True, slots=True)
class Glance:
    """How far a look misses the lens [deg]: up and to the presenter's left positive."""

    left_deg: float
    up_deg: float

    @property
    def off_deg(self) -> float:
        """Both together, as far as it matters which spot is nearer the lens [deg]."""
        return math.hypot(self.left_deg, self.up_deg)

    @property
    def ways(self) -> dict[str, tuple[float, float]]:
        """Angle [deg] and utility (0-1) of each way it can miss: ``aside``, ``down``, ``up``."""
        aside, down, up = abs(self.left_deg), max(0.0, -self.up_deg), max(0.0, self.up_deg)
        return {"aside": (aside, ASIDE.utility(aside)), "down": (down, DOWN.utility(down)), "up": (up, UPWARD.utility(up))}

    @property
    def utility(self) -> float:
        """How good it is, 0-1: the worst of its three ways."""
        return min(utility for _, utility in self.ways.values())

    @property
    def weighted_utility(self) -> float:
        """How good it is as the area's score takes it: weighted harmonic mean of its three ways, 0.1-1."""
        return float(harmonic((WEIGHTS[f"eyes.{way}"][0], utility) for way, (_, utility) in self.ways.items()))

    @property
    def verdict(self) -> str:
        """What the far side makes of it."""
        if self.utility == 1:
            return "eye contact"
        return "a little off" if self.utility > 0.5 else "looks away"


@dataclass(frozen=True)
class LookedAt:
    """One thing looked at: a part of a screen, or notes on paper (``screen`` None)."""

    shows: str
    name: str
    screen: Screen | None
    window: ScreenWindow | None
    place: Vector
    glance: Glance

    @property
    def path(self) -> str:
        """Where the document says where it is."""
        if self.screen is None or self.window is None:
            return "/presenter/paper_notes"
        return f"/screens/{self.screen.id}/windows/{self.window.id}"


def glance_at(eyes: Vector, lens: Vector, target: Vector) -> Glance:
    """Angle at the eyes between the lens and a point looked at, split level and upright [deg].

    Args:
        eyes, lens, target: shape (3,) [m]; the split is in the frame whose axis points at the lens.
    """
    ahead = unit(lens - eyes)
    left = unit(cross(UP, ahead))
    if not left.any():  # the lens stands straight above or below
        left = np.array([1.0, 0.0, 0.0])
    above = cross(ahead, left)
    look = unit(target - eyes)
    along = float(look @ ahead)
    return Glance(
        math.degrees(math.atan2(float(look @ left), along)),
        math.degrees(math.atan2(float(look @ above), along)),
    )


def looked_at(setup: Setup) -> list[LookedAt]:
    """All that is looked at in a call, on screens that are on and on paper; slides behind one's back are not."""
    eyes, lens = scene_of(setup).face.eyes, scene_of(setup).lens.place
    listed = [
        LookedAt(shown.shows, shown.name, screen, shown, place, glance_at(eyes, lens, place))
        for screen in setup.screens
        if screen.on and screen.kind != "projection"
        for shown in screen.windows
        if shown.shows in WORDS
        for place in (window_centre(screen, shown),)
    ]
    paper = setup.presenter.paper_notes
    if paper is not None:
        listed.append(LookedAt("notes", "Notes on paper", None, None, vector(paper), glance_at(eyes, lens, vector(paper))))
    return listed


def whom(setup: Setup) -> str:
    """What part of a screen one speaks to: the others of a call, an audience's chat, or in a recording the one beside the lens, if there is one."""
    if setup.call.use == "audience":
        return "chat"
    return "call" if setup.call.use == "live" or setup.call.destination == "interview" else ""


def faces(setup: Setup) -> LookedAt | None:
    """The window of those one speaks to; None where no screen shows them, or nobody is there."""
    return next((point for point in looked_at(setup) if point.shows == whom(setup)), None)


def notes(setup: Setup) -> LookedAt | None:
    """The notes that lie furthest off the lens; None without notes."""
    listed = [point for point in looked_at(setup) if point.shows == "notes"]
    return min(listed, key=lambda point: point.glance.utility, default=None)


def near_enough_m(setup: Setup, point: LookedAt) -> float:
    """Distance from which a look at a point passes for eye contact, as far as height goes: d = offset/tan(5 degrees) [m]."""
    lens, eyes = scene_of(setup).lens.place, scene_of(setup).face.eyes
    away = unit(lens - eyes)
    beyond = point.place - lens
    offset_m = float(np.linalg.norm(beyond - (beyond @ away) * away))
    return offset_m / math.tan(math.radians(float(DOWN.ideal_high or 5.0)))


LEAST_NEAR, MOST_NEAR = 0.3, 1.5  # of the way: what a camera can tell apart, and no further than a little past the window


def near_lens(setup: Setup) -> float | None:
    """How far of the way from the lens to those one speaks to a look still counts as into the lens, by the ideal bands; None where no
    screen shows them."""
    seen = faces(setup)
    if seen is None:
        return None
    glance = seen.glance
    ways = [(abs(glance.left_deg), ASIDE), (-glance.up_deg, DOWN), (glance.up_deg, UPWARD)]
    near = min((float(band.ideal_high or 0.0) / off_deg for off_deg, band in ways if off_deg > 0), default=MOST_NEAR)
    return min(max(near, LEAST_NEAR), MOST_NEAR)
