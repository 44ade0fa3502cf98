"""A screen drawn from the front with what it shows, and the zone round the lens in which a look counts as eye contact."""

from __future__ import annotations

import math

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.eyes.glances import ASIDE, DOWN, UPWARD, looked_at
from uphill_lamp.core.document.devices import Screen
from uphill_lamp.core.scene.placing import Pane, screen_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector, unit
from uphill_lamp.core.scene.wording import degrees
from uphill_lamp.drawings.lettering import width_px
from uphill_lamp.drawings.sheet import Sheet, thing, within
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, polygon, rect, words

WIDTH, HEIGHT, MARGIN, ABOVE = 344.0, 150.0, 6.0, 16.0


def screen_sheet(pane: Pane) -> Sheet:
    """The screen flat on the sheet, as its viewer sees it."""
    scale = min((WIDTH - 2 * MARGIN) / pane.width_m, (HEIGHT - MARGIN - ABOVE) / pane.height_m)
    return Sheet(pane.right, pane.up, scale, WIDTH / 2, ABOVE + scale * pane.height_m / 2, pane.middle)


def screen(appraisal: Appraisal, shown_on: Screen, picked: str) -> SvgText:
    """A screen with its windows.

    Args:
        appraisal: whose setup the screen belongs to.
        shown_on: the screen.
        picked: handle of the thing in hand, or nothing.
    """
    pane = screen_pane(shown_on)
    sheet = screen_sheet(pane)
    (left, top), (right, foot) = sheet.at(pane.at(0, 0)), sheet.at(pane.at(1, 1))
    box = (left, top, right, foot)
    return drawing(
        WIDTH, HEIGHT, f"What is where on the {shown_on.name}",
        rect(left, top, right - left, foot - top, rx=3, class_="glass"), _contact_zone(appraisal, pane, sheet, box),
        *_windows(appraisal, shown_on, pane, sheet, picked), _lens(appraisal, pane, sheet),
        class_="sheet-drawing on-screen", data_scale=sheet.scale, data_view="screen",
    ).text()  # fmt: skip


def _windows(appraisal: Appraisal, shown_on: Screen, pane: Pane, sheet: Sheet, picked: str) -> list[Node]:
    looks = {(point.screen.id, point.window.id): point for point in looked_at(appraisal.setup) if point.screen and point.window}
    drawn = []
    for shown in sorted(shown_on.windows, key=lambda window: window.shows == "call"):  # the call lies on top
        x, y = sheet.at(pane.at(shown.left_px / shown_on.width_px, shown.top_px / shown_on.height_px))
        wide, high = (
            shown.width_px / shown_on.width_px * pane.width_m * sheet.scale,
            shown.height_px / shown_on.height_px * pane.height_m * sheet.scale,
        )
        look = looks.get((shown_on.id, shown.id))
        angle = f" {degrees(look.glance.off_deg)}" if look else ""
        name = f"{shown.name}{angle}"
        state = f", {look.glance.verdict}" if look else ""
        drawn.append(
            thing(appraisal.setup, f"shown/{shown_on.id}.{shown.id}", f"{name}{state}", picked, rect(x, y, wide, high, rx=2,
                class_=f"shown shows-{shown.shows}"),
                  circle(x + wide / 2, y + high / 2, 2.5, class_="eye") if look else None,
                  words(x + 4, y + 12, name if width_px(name, 11) + 8 < wide else angle.strip(), class_="small") if wide > 24 and high > 14 else None)
        )  # fmt: skip
    return drawn


def _on_plane(setup_eyes: Vector, ray: Vector, pane: Pane) -> Vector | None:
    facing = float(ray @ pane.normal)
    if facing > -1e-6:
        return None
    return setup_eyes + ray * (float((pane.middle - setup_eyes) @ pane.normal) / facing)


def _lens(appraisal: Appraisal, pane: Pane, sheet: Sheet) -> Node | None:
    """Where the lens is, as seen from the eyes, held at the sheet's edge if it lies beyond."""
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    spot = _on_plane(face.eyes, scene_of(setup).lens.place - face.eyes, pane)
    if spot is None:
        return None
    x, y = sheet.at(spot)
    x, y = min(max(x, 6.0), WIDTH - 6), min(max(y, 6.0), HEIGHT - 6)
    return group(circle(x, y, 4.5, class_="camera"), words(min(x + 8, WIDTH - 30), y + 4, "lens", class_="small"), class_="lens-mark")


def _contact_zone(appraisal: Appraisal, pane: Pane, sheet: Sheet, box: tuple[float, float, float, float]) -> Node | None:
    """Where on the glass a look passes for eye contact."""
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    ahead = unit(scene_of(setup).lens.place - face.eyes)
    left = unit(np.cross(UP, ahead))
    if not left.any():
        return None
    above = np.cross(ahead, left)
    aside, down, up = (math.tan(math.radians(float(band.ideal_high or 0))) for band in (ASIDE, DOWN, UPWARD))
    corners = [
        _on_plane(face.eyes, ahead + across * left + high * above, pane)
        for across, high in ((aside, up), (-aside, up), (-aside, -down), (aside, -down))
    ]
    inside = [sheet.at(corner) for corner in corners if corner is not None]
    cut = within(inside, box) if len(inside) == 4 else []
    return polygon(cut, class_="contact-zone") if len(cut) > 2 else None
