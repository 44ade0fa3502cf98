"""Lines of Backdrop over the far side's picture: what should not be seen, the head's outline, the shadow's edge, what is brightest."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.backdrop import lit
from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.findings import unwanted_in_view
from uphill_lamp.core.areas.backdrop.measures import STRIP_TOP
from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.scene.in_view import FINE_GRID, GRID, through_grid
from uphill_lamp.core.scene.placing import Pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.core.scene.wording import in_stops, percent
from uphill_lamp.drawings.over_picture import WIDTH, label, spot
from uphill_lamp.drawings.sheet import thing
from uphill_lamp.drawings.svg import Node, SvgText, circle, drawing, group, line, path, rect

COLUMNS, ROWS = FINE_GRID
LEAST_PER_M = 20.0


def unwanted(appraisal: Appraisal, height: float) -> Node:
    """What should not be seen, hatched where it is, with its name."""
    parts, marks = behind_of(appraisal.setup).seen.parts, list[Node]()
    wide, high = WIDTH / COLUMNS, height / ROWS
    for item in unwanted_in_view(appraisal.setup):
        part = parts[item.id]
        strokes = [
            f"M{across * WIDTH - wide / 2:.1f},{down * height + high / 2:.1f}l{wide:.1f},{-high:.1f}" for across, down in part.places
        ]
        marks.append(path("".join(strokes), class_="unwanted"))
        x, y = min(max(part.across * WIDTH - 40, 6), WIDTH - 130), min(max(part.down * height, 18), height - 8)
        marks.append(label(x, y, f"{item.name}: {percent(part.share)}"))
    return group(*marks)


def outline(appraisal: Appraisal, height: float) -> Node:
    """The head's upper outline, knotted where something behind seems to grow from it, and the level edge that cuts through it."""
    met, size = behind_of(appraisal.setup).outline, (WIDTH, height)
    spots = met.spots * size
    if not len(spots):
        return group()
    marks = [circle(float(x), float(y), 4, class_="grows-here") for x, y in spots[met.marked]]
    if met.lined and (eyes := spot(appraisal, scene_of(appraisal.setup).face.eyes, height)):
        y = eyes[1] - met.line * _head_height(appraisal, height)
        marks.append(line(float(spots[:, 0].min()), y, float(spots[:, 0].max()), y, class_="cuts-here"))
    return group(path("M" + "L".join(f"{x:.1f},{y:.1f}" for x, y in spots), class_="head-outline"), *marks)


def shadow(appraisal: Appraisal, height: float) -> Node | None:
    """The edge of the body's shadow where it is a fault, dashed half way down to its deepest."""
    measure = appraisal.measures.get("backdrop.shadow")
    if measure is None or not measure.wanting:
        return None
    thrown = lit.Lit(appraisal.lit_scene, appraisal.metered).shadow()
    if thrown is None:
        return None
    level = float(thrown.shaded.min()) / 2
    rows, columns = thrown.shaded.shape
    wide, high = WIDTH / columns, height / rows
    edges = [
        f"M{(x0 + 0.5) * wide:.1f},{(y0 + 0.5) * high:.1f}L{(x1 + 0.5) * wide:.1f},{(y1 + 0.5) * high:.1f}"
        for (x0, y0), (x1, y1) in level_lines(thrown.shaded, level)
    ]
    row, column = np.unravel_index(int(thrown.shaded.argmin()), thrown.shaded.shape)
    x, y = min(max(float(column) * wide, 6), WIDTH - 130), min(max(float(row) * high, 18), height - 8)
    return group(path("".join(edges), class_="shadow-edge"), label(x, y, f"shadow: {in_stops(float(thrown.shaded.min()))}"))


def level_lines(grid: FloatArray, level: float) -> Iterator[tuple[tuple[float, float], tuple[float, float]]]:
    """Pieces of the line along which a grid, (rows, columns), has a level: their ends, by column and row."""
    for row, column in np.ndindex(grid.shape[0] - 1, grid.shape[1] - 1):
        corners = [(column, row), (column + 1, row), (column + 1, row + 1), (column, row + 1)]
        values = [float(grid[y, x]) - level for x, y in corners]
        crossed = [
            (x0 + (x1 - x0) * one / (one - other), y0 + (y1 - y0) * one / (one - other))
            for (x0, y0), (x1, y1), one, other in zip(corners, corners[1:] + corners[:1], values, values[1:] + values[:1], strict=True)
            if (one < 0) != (other < 0)
        ]
        yield from zip(crossed[::2], crossed[1::2], strict=True)


def brightest(appraisal: Appraisal, height: float) -> Node | None:
    """Where what is brightest behind is, where that is a fault."""
    measure = appraisal.measures.get("backdrop.brightest")
    if measure is None or not measure.wanting or measure.value is None:
        return None
    there = lit.Lit(appraisal.lit_scene, appraisal.metered)
    met = there.brightest()
    if met is None:
        return None
    across, down = through_grid(*GRID)
    x, y = float(across[met[1]]) * WIDTH, float(down[met[1]]) * height
    words_left = x > WIDTH / 2
    return group(
        circle(x, y, 9, class_="brightest-here"),
        label(
            x - 14 if words_left else x + 14,
            min(max(y + 4, 18), height - 8),
            f"{in_stops(measure.value)} over your face",
            "end" if words_left else "start",
        ),
    )


def strip(appraisal: Appraisal, height: float) -> Node | None:
    """Where a strip with the name lies over the picture."""
    if not appraisal.setup.call.name_strip:
        return None
    top = STRIP_TOP * height
    return group(rect(0, top, WIDTH, height - top, class_="strip-there"), label(8, top + 16, "Your name"))


def _head_height(appraisal: Appraisal, height: float) -> float:
    face = scene_of(appraisal.setup).face
    crown, chin = spot(appraisal, face.crown, height), spot(appraisal, face.chin, height)
    return chin[1] - crown[1] if crown and chin else 0.0


def grips(appraisal: Appraisal, picked: str) -> SvgText:
    """Over the picture, what one takes hold of: each thing behind where it is seen, to be shifted along its wall.

    Args:
        appraisal: what to draw.
        picked: handle of the thing in hand, or nothing.
    """
    setup, height = appraisal.setup, WIDTH / appraisal.setup.call.output_aspect
    parts, panes = behind_of(setup).seen.parts, dict(backdrop_panes(setup))
    held = [
        thing(
            setup, f"backdrop/{item.id}", item.name, picked, path(_runs(parts[item.id].places, height), class_="grip"),
            data_scale=_units_per_metre(appraisal, panes[item.id]),
        )
        for item in setup.backdrop
        if item.id in parts
    ]  # fmt: skip
    return drawing(WIDTH, height, "Things behind you, in the picture", *held, class_="grips", data_scale=100, data_view="picture").text()


def _runs(places: FloatArray, height: float) -> str:
    """The cells of the grid that a thing is seen in, row by row, as one outline."""
    wide, high, pieces = WIDTH / COLUMNS, height / ROWS, list[str]()
    for down in np.unique(places[:, 1]):
        across = np.sort(places[places[:, 1] == down, 0]) * COLUMNS
        for run in np.split(across, np.flatnonzero(np.diff(across) > 1.5) + 1):
            left, width = (run[0] - 0.5) * wide, len(run) * wide
            pieces.append(f"M{left:.1f},{down * height - high / 2:.1f}h{width:.1f}v{high:.1f}h{-width:.1f}z")
    return "".join(pieces)


def _units_per_metre(appraisal: Appraisal, pane: Pane) -> float:
    """How far a thing goes over the picture for a metre along its wall; at least a little, where the wall is seen end on."""
    ends = scene_of(appraisal.setup).pinhole.project(np.array([pane.middle - 0.1 * pane.right, pane.middle + 0.1 * pane.right]))
    across = abs(float(ends[1, 0] - ends[0, 0])) * WIDTH / 0.2
    return round(max(across, LEAST_PER_M), 1) if np.isfinite(across) else LEAST_PER_M
