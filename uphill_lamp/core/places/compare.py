"""Spots told apart: what each is like in a line or two, and two of them figure by figure."""

from __future__ import annotations

import math
from dataclasses import dataclass

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.frame.sway import sway_of
from uphill_lamp.core.judging import Measure
from uphill_lamp.core.scene.placing import wall_behind_m, window_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.core.scene.wording import length

_SIDES = ((45, "in front of you"), (135, "to your {side}"), (181, "behind you"))
EVEN_UTILITY = 0.01  # figures whose worth differs by less are alike


def facts(appraisal: Appraisal) -> list[tuple[str, str]]:
    """What a spot is like: window side, room behind, what is behind, how quiet; pairs of a name and words."""
    setup, face = appraisal.setup, scene_of(appraisal.setup).face
    units = setup.preferences.units
    sides = []
    for window in setup.room.windows:
        beyond = window_pane(setup.room, window).middle - face.eyes
        turn = math.degrees(math.atan2(float(beyond @ face.left), float(beyond @ face.forward)))
        sides.append(next(words for limit, words in _SIDES if abs(turn) < limit).format(side="left" if turn > 0 else "right"))
    behind = [
        thing.name
        for (_, pane), thing in zip(backdrop_panes(setup), setup.backdrop, strict=True)
        if float((pane.middle - face.eyes) @ face.forward) < 0
    ]
    quiet = f"{appraisal.heard.noise_db_a:.0f} dB(A) of noise at the microphone" if appraisal.heard else "no microphone in use"
    return [
        ("Window", ", ".join(dict.fromkeys(sides)) or "none"),
        ("Room behind", length(wall_behind_m(setup, face.eyes, -face.forward), units)),
        ("Behind you", ", ".join(behind) or "the bare wall"),
        ("Quiet", quiet),
        ("You", setup.presenter.posture),
    ]


def sway_words(appraisal: Appraisal) -> str:
    """How far one may sway before the frame is lost."""
    sway, units = sway_of(appraisal.setup), appraisal.setup.preferences.units
    if max(sway.left_m, sway.right_m) == 0:
        return "You are out of the wanted frame already."
    return (
        f"The frame holds while you sway {length(sway.left_m, units)} to your left, {length(sway.right_m, units)} to your right, "
        f"{length(sway.forward_m, units)} forward and {length(sway.back_m, units)} back."
    )


@dataclass(frozen=True, slots=True)
class Row:
    """One measure at two spots; ``better`` is 1 or 2, 0 where they are alike."""

    label: str
    first: Measure | None
    second: Measure | None
    better: int


def rows(first: Appraisal, second: Appraisal) -> list[Row]:
    """All scored measures of two spots side by side, the largest differences in worth first."""
    names = list(dict.fromkeys([*first.measures, *second.measures]))
    weighed = []
    for name in names:
        a, b = first.measures.get(name), second.measures.get(name)
        either = a or b
        if either is None or either.band is None:
            continue
        step = (b.utility or 0.0 if b else 0.0) - (a.utility or 0.0 if a else 0.0)
        weighed.append((-abs(step) * either.weight, Row(either.label, a, b, 0 if abs(step) < EVEN_UTILITY else 2 if step > 0 else 1)))
    return [row for _, row in sorted(weighed, key=lambda pair: pair[0])]
