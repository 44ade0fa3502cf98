"""What draws the eye behind as it should."""

from __future__ import annotations

from uphill_lamp.core.areas.backdrop.behind import Behind
from uphill_lamp.core.document.setup import Setup

POINT_SHARE = (0.005, 0.08)  # of the picture: what draws an eye and does not fill the wall
FROM_THIRD = 0.08
BESIDE_FACE = 0.10  # of the width: nearer to the face it is behind it


def points(setup: Setup, behind: Behind) -> list[str]:
    """Ids of what draws the eye as it should: wanted, neither tiny nor large, about a third of the way across, off the face."""
    chosen = []
    for thing in setup.backdrop:
        part = behind.seen.parts.get(thing.id)
        if part is None or not thing.wanted or not POINT_SHARE[0] <= part.share <= POINT_SHARE[1]:
            continue
        third = min(abs(part.across - 1 / 3), abs(part.across - 2 / 3))
        if third <= FROM_THIRD and abs(part.across - behind.seen.face_across) > BESIDE_FACE:
            chosen.append(thing.id)
    return chosen
