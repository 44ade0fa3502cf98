"""Moves of Eyes with a prompter's glass before the lens: the notes on it, the call on it, and what has to feed it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.areas.eyes.glances import LookedAt
from uphill_lamp.core.document.patch import Patch, add, remove, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import FREE, Move
from uphill_lamp.core.offers import Offer, with_all
from uphill_lamp.core.scene.glass import STOPS
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import point_at, yaw_tilt_deg
from uphill_lamp.core.scene.wording import sentence, the

GLASS_M, GLASS_PX = (0.26, 0.18), (1280, 800)
FEEDS = ("old_phone", "second_screen")  # of the catalogue: what can lie under the glass and shine up into it
SHARE = 0.6  # of the glass that the call's window fills


def notes_on_glass(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """The notes on glass before the lens: no angle is left."""
    had, feed = _glass_and_feed(setup)
    if had is None or any(screen.kind == "prompter_glass" for screen in setup.screens):
        return
    pose, face = scene_of(setup).lens, scene_of(setup).face
    towards = (face.eyes - pose.place) / np.linalg.norm(face.eyes - pose.place)
    yaw_deg, tilt_deg = yaw_tilt_deg(towards)
    wide_px, high_px = GLASS_PX
    screen = {
        "id": "prompter", "name": "Prompter", "kind": "prompter_glass", "position": point_at(pose.place + 0.05 * towards).model_dump(),
        "yaw_deg": round(yaw_deg, 2), "tilt_deg": round(tilt_deg, 2), "width_m": GLASS_M[0], "height_m": GLASS_M[1], "width_px": wide_px,
        "height_px": high_px, "luminance_cd_m2": 120.0, "white_share": 0.05,
        "windows": [{"id": "notes", "name": "Notes", "shows": "notes", "left_px": 0, "top_px": 0, "width_px": wide_px, "height_px": high_px}],
    }  # fmt: skip
    gone = remove(point.path) if point.screen is not None else replace("/presenter/paper_notes", None)
    yield Move(
        "eyes.prompter",
        "Read the notes from a glass in front of the lens",
        (gone, add("/screens/-", screen), *had.patch),
        had.cost,
        detail=f"{had.words}. {sentence(feed)} lies under the glass and shows this app's prompter page, mirrored. "
        f"The glass takes about {STOPS:g} of a stop of your camera's light.",
    )


def call_on_glass(setup: Setup, point: LookedAt) -> Iterator[Move]:
    """The call's window on the glass that stands before the lens, where nothing is read from it."""
    screen, shown = point.screen, point.window
    glass = next((other for other in setup.screens if other.kind == "prompter_glass" and other.on), None)
    if screen is None or shown is None or glass is None or screen.id == glass.id or any(window.shows != "call" for window in glass.windows):
        return
    wide, high = (round(SHARE * pixels) for pixels in (glass.width_px, glass.height_px))
    place = {"left_px": (glass.width_px - wide) // 2, "top_px": (glass.height_px - high) // 2, "width_px": wide, "height_px": high}
    patch: Patch = (
        *(remove(f"/screens/{glass.id}/windows/{window.id}") for window in glass.windows),
        remove(f"/screens/{screen.id}/windows/{shown.id}"),
        add(f"/screens/{glass.id}/windows/-", shown.model_copy(update=place).model_dump(mode="json")),
    )
    yield Move("eyes.call_on_glass", f"Show the call on {the(glass.name)}", patch, FREE,
               detail="On what lies under the glass, mirrored left to right: you then look at the others and into the lens at once.")  # fmt: skip


def _glass_and_feed(setup: Setup) -> tuple[Offer | None, str]:
    """A prompter's glass with what lies under it, by name: a tablet that shows nothing else, a phone or screen of the drawer; bought along
    where there is none."""
    tablet = next((screen for screen in setup.screens if screen.kind == "tablet" and not screen.windows), None)
    if tablet is not None:
        return with_all(setup, ["prompter_glass"]), the(tablet.name)
    mine = next((item for entry in FEEDS for item in setup.kit if item.entry == entry), None)
    return with_all(setup, ["prompter_glass", FEEDS[0] if mine is None else str(mine.entry)]), "the phone" if mine is None else the(
        mine.name
    )
