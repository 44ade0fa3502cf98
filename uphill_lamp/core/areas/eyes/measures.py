"""Figures of Eyes: the angle between the lens and the faces looked at, and the notes (docs/method/eyes.md)."""

from __future__ import annotations

from uphill_lamp.core.areas.eyes.glances import ASIDE, BESIDE_LENS, DOWN, UPWARD, WEIGHTS, LookedAt, faces, notes
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import Counts, Measure, weighed

COUNTS: dict[str, Counts] = dict.fromkeys(WEIGHTS, "both")  # eyes on the lens are as good as it gets


def measures(setup: Setup) -> tuple[Measure, ...]:
    """All measures of Eyes; none where no screen shows the call and there are no notes."""
    seen, read = faces(setup), notes(setup)
    figures: tuple[Measure, ...] = ()
    if seen is not None:
        figures += _three(
            setup,
            seen,
            "eyes.",
            ("Aside", "Below", "Above"),
            "you look at the chat" if setup.call.use == "audience" else "you look at the others",
        )
    if read is not None:
        figures += _three(setup, read, "eyes.notes_", ("Notes aside", "Notes below", "Notes above"), "you look at your notes")
    return weighed(figures, WEIGHTS, COUNTS)


def _three(setup: Setup, point: LookedAt, start: str, labels: tuple[str, str, str], what: str) -> tuple[Measure, ...]:
    paths = [f"{point.path}/top_px", f"/screens/{point.screen.id}/position/z_m"] if point.screen else [f"{point.path}/z_m"]
    origin = setup.origin_of(*paths, "/presenter/eye_height_m")
    beside = start == "eyes." and setup.call.use == "recorded"
    left, up = point.glance.left_deg, point.glance.up_deg
    return (
        Measure(f"{start}aside", labels[0], abs(left), "deg", BESIDE_LENS if beside else ASIDE, origin, f"How far beside the lens {what}."),
        Measure(f"{start}down", labels[1], max(0.0, -up), "deg", DOWN, origin, f"How far below the lens {what}."),
        Measure(f"{start}up", labels[2], max(0.0, up), "deg", UPWARD, origin, f"How far above the lens {what}."),
    )
