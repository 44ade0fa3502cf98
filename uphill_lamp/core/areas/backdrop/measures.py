"""Figures of Backdrop: what is in view that should not be, how near what is behind is, what there is to look at (docs/method/backdrop.md)."""

from __future__ import annotations

from uphill_lamp.core.areas.backdrop.behind import Behind, behind_of
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Band, Counts, Measure, Ramp, weighed
from uphill_lamp.core.scene.scene import scene_of

UNWANTED = Band(None, 0.0, None, 0.12)
HELD = Ramp(None, 0.0, None, 0.12, least=0.65)
NEAR = Band(None, 0.45, None, 0.80)
POINTS = Band(1, 2, 0, 5)
WEIGHTS = {
    "backdrop.unwanted": (3.0, "an unmade bed is what colleagues remark on first"),
    "backdrop.held": (1.0, "what should not be seen spoils all that is well behind it"),
    "backdrop.near": (1.0, "a wall at the shoulders looks like a passport picture"),
    "backdrop.points": (1.0, "one or two things say who speaks; many say nothing"),
}
COUNTS: dict[str, Counts] = {
    "backdrop.held": "factor", "backdrop.near": "quality", "backdrop.points": "quality",
}  # fmt: skip
POINT_SHARE = (0.005, 0.08)  # of the picture: what draws an eye and does not fill the wall
FROM_THIRD = 0.08
BESIDE_FACE = 0.10  # of the width: nearer to the face it is behind it


def points(setup: Setup, behind: Behind) -> list[str]:
    """Ids of what draws the eye as it should: wanted, neither tiny nor large, about a third of the way across, off the face."""
    chosen = []
    for thing in setup.backdrop:
        part = behind.parts.get(thing.id)
        if part is None or not thing.wanted or not POINT_SHARE[0] <= part.share <= POINT_SHARE[1]:
            continue
        third = min(abs(part.across - 1 / 3), abs(part.across - 2 / 3))
        if third <= FROM_THIRD and abs(part.across - behind.face_across) > BESIDE_FACE:
            chosen.append(thing.id)
    return chosen


def measures(setup: Setup) -> tuple[Measure, ...]:
    """All measures of Backdrop."""
    behind, unwanted = behind_of(setup), behind_of(setup).unwanted(setup)
    things = [f"/backdrop/{thing.id}/{field}" for thing in setup.backdrop for field in ("position/x_m", "width_m")]
    there = setup.origin_of(*(things or ["/room/depth_m"]))
    room = setup.origin_of("/room/depth_m", "/presenter/y_m", "/presenter/x_m")
    about = "How near what is behind you is: how large it comes out beside the same thing at your face."
    figures = [
        Measure(
            "backdrop.unwanted",
            "Unwanted in view",
            unwanted,
            "share",
            UNWANTED,
            there,
            "Share of the picture that shows what should not be seen.",
        ),
        Measure("backdrop.held", "Spoils the rest", unwanted, "share", HELD, there, "What all of Backdrop loses by that."),
    ]
    if behind.near_share is not None:
        figures.append(Measure("backdrop.near", "Wall behind", behind.near_share, "share", NEAR, room, about))
    if setup.preferences.background == "point_of_interest" and setup.backdrop:  # where nobody has said what is behind, nothing is missing
        figures.append(Measure("backdrop.points", "Things to look at", float(len(points(setup, behind))), "in view", POINTS, there,
                               "Wanted things about a third of the way across, neither tiny nor large."))  # fmt: skip
    return weighed(figures, WEIGHTS, COUNTS)


def come_away_m(setup: Setup) -> float:
    """How much further what is behind should be for the figure of nearness to be in its band [m]; 0 where it is."""
    share = behind_of(setup).near_share
    if share is None or NEAR.ideal_high is None or share <= NEAR.ideal_high:
        return 0.0
    face_m = float(scene_of(setup).pinhole.depth(scene_of(setup).face.eyes[None])[0])
    return face_m / NEAR.ideal_high - face_m / share
