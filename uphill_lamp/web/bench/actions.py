"""What a hand on the bench wishes, as a patch and in words."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from datetime import datetime
from typing import NamedTuple

import numpy as np
from django.utils import timezone

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.backdrop.putting import HELD_TO_WALL
from uphill_lamp.core.describing.changing_kind import changed_kind
from uphill_lamp.core.describing.furnishing import furnished
from uphill_lamp.core.describing.listing import Change
from uphill_lamp.core.describing.putting import copied, put
from uphill_lamp.core.describing.taking_away import taken_away
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup, overlapping_holes, things
from uphill_lamp.core.scene.handling import moved, screen_of, thing_at, turned
from uphill_lamp.core.scene.placing import screen_pane
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.scene.vectors import UP, Vector
from uphill_lamp.core.scene.view import backdrop_panes
from uphill_lamp.core.scene.wording import degrees
from uphill_lamp.core.tape import entered, name_of, said_value

Form = Mapping[str, str]
MOST_KIND = 60


class Action(NamedTuple):
    """What is to be done: the patch, its words, and what is in hand afterwards where that changes."""

    patch: Patch
    words: str
    picked: str | None = None


MOST_M, MOST_DEG = 15.0, 360.0


def action_of(appraisal: Appraisal, form: Form) -> Action:
    """The patch and its words for a posted form.

    Raises:
        Refused: for anything that is no action, or comes to nothing valid.
    """
    maker = ACTIONS.get(form.get("action", ""))
    if maker is None:
        raise Refused([Fault("/action", repr(form.get("action", ""))[:40], "one of " + ", ".join(ACTIONS))])
    return maker(appraisal, form)


def _number(form: Form, key: str, most: float) -> float:
    try:
        value = float(form.get(key, "0"))
    except ValueError:
        value = math.nan
    if not abs(value) <= most:
        raise Refused([Fault(f"/{key}", repr(form.get(key))[:40], f"a number from {-most:g} to {most:g}")])
    return value


def _moved(appraisal: Appraisal, form: Form) -> Action:
    """Right and up on a drawing, or raised, in metres."""
    setup, thing = appraisal.setup, form.get("thing", "")
    right_m, up_m = _number(form, "right", MOST_M), _number(form, "up", MOST_M)
    if form.get("view") == "side":
        by = -right_m * scene_of(setup).face.forward + up_m * UP
    elif form.get("view") == "screen":
        pane = screen_pane(screen_of(setup, thing))
        by = right_m * pane.right + up_m * pane.up
    elif form.get("view") == "picture":
        by = _along_wall(setup, thing, right_m, up_m)
    elif form.get("view") == "raise":
        by = up_m * UP
    else:
        by = np.array([right_m, up_m, 0.0])
    return Action(moved(setup, thing, by), f"Moved: {name_of(setup, thing)}")


def _along_wall(setup: Setup, thing: str, right_m: float, up_m: float) -> Vector:
    """A thing behind as it is shifted in the picture: along its wall, and up or down where it hangs, shape (3,) [m]."""
    item = next((item for item in setup.backdrop if thing == f"backdrop/{item.id}"), None)
    if item is None:
        raise Refused([Fault("/thing", thing[:40], "something behind you")])
    return right_m * dict(backdrop_panes(setup))[item.id].right + (up_m if item.kind in HELD_TO_WALL else 0.0) * UP


def _turned(appraisal: Appraisal, form: Form) -> Action:
    setup, thing, turn_deg = appraisal.setup, form.get("thing", ""), _number(form, "degrees", MOST_DEG)
    return Action(turned(setup, thing, turn_deg), f"Turned: {name_of(setup, thing)}, {degrees(abs(turn_deg))}")


def _entered(appraisal: Appraisal, form: Form) -> Action:
    setup, thing, key, text = appraisal.setup, form.get("thing", ""), form.get("field", ""), form.get("value", "")
    patch = entered(setup, thing, key, text)
    if clash := [fault for fault in overlapping_holes(applied(setup, patch)) if fault not in overlapping_holes(setup)]:
        raise Refused([Fault(f"/{thing}#{key}", clash[0].found, clash[0].expected)])
    words = f"Entered for {name_of(setup, thing)}: {said_value(setup, thing, key, text)}"
    shifted = _shifted_in(setup, patch) if thing == "room" else ""
    return Action(patch, words + (f"; shifted into the room: {shifted}" if shifted else ""))


def _shifted_in(setup: Setup, patch: Patch) -> str:
    """Names of what a smaller room had to shift."""
    handles = dict.fromkeys(str(change["path"]).split("/")[-3] for change in patch if "/position/" in str(change["path"]))
    names = [item.name for _, listed in things(setup) for item in listed if item.id in handles]
    names += [
        words
        for part, words in (("/presenter/", "you"), ("/desk/", "the desk"))
        if any(str(change["path"]).startswith(part) for change in patch)
    ]
    return ", ".join(dict.fromkeys(names))


def _put(appraisal: Appraisal, form: Form) -> Action:
    """Another thing of a kind, out of the drawer or not, where the plan was pressed or where it finds room."""
    wished = (_number(form, "x", MOST_M), _number(form, "y", MOST_M)) if form.get("x") and form.get("y") else None
    return _of(put(appraisal.setup, form.get("kind", "")[:MOST_KIND], wished, form.get("kit", "")[:MOST_KIND]))


def _copied(appraisal: Appraisal, form: Form) -> Action:
    return _of(copied(appraisal.setup, form.get("thing", "")))


def _of_kind(appraisal: Appraisal, form: Form) -> Action:
    return _of(changed_kind(appraisal.setup, form.get("thing", ""), form.get("kind", "")[:MOST_KIND]))


def _taken(appraisal: Appraisal, form: Form) -> Action:
    return _of(taken_away(appraisal.setup, form.get("thing", "")))


def _deleted(appraisal: Appraisal, form: Form) -> Action:
    return _of(taken_away(appraisal.setup, form.get("thing", ""), into_drawer=False))


def _furnished(appraisal: Appraisal, form: Form) -> Action:
    return _of(furnished(appraisal.setup, form.get("kind", "")[:MOST_KIND], more=form.get("more") == "1"))


def _meant(appraisal: Appraisal, form: Form) -> Action:
    """Something to fix that is meant to be so, with the reason and its figures of today."""
    setup, name = appraisal.setup, form.get("finding", "")
    finding = next((finding for finding in appraisal.findings if finding.id == name), None)
    if finding is None:
        raise Refused([Fault("/finding", repr(name)[:60], "something that is to be fixed now")])
    values = {
        measure: appraisal.measures[measure].value
        for measure in finding.measures
        if measure in appraisal.measures and appraisal.measures[measure].value is not None
    }
    entry = {"finding": name, "reason": form.get("reason", "").strip()[:200], "on": timezone.localdate().isoformat(), "values": values}
    kept = [purpose.model_dump(mode="json") for purpose in setup.on_purpose if purpose.finding != name]
    return Action((replace("/on_purpose", [*kept, entry]),), f"On purpose: {finding.title}")


def _answered(appraisal: Appraisal, form: Form) -> Action:
    """The answer to what is asked where something to fix rests on a guess."""
    finding = next((finding for finding in appraisal.findings if finding.id == form.get("finding")), None)
    question = appraisal.asks(finding) if finding else None
    answer = next((answer for answer in question.answers if answer.key == form.get("answer")), None) if question else None
    if question is None or answer is None:
        raise Refused([Fault("/answer", repr(form.get("answer", ""))[:60], "an answer to what is asked now")])
    return Action(answer.patch, f"{question.words} {answer.words}")


def _no_longer_meant(appraisal: Appraisal, form: Form) -> Action:
    name = form.get("finding", "")
    kept = [purpose.model_dump(mode="json") for purpose in appraisal.setup.on_purpose if purpose.finding != name]
    return Action((replace("/on_purpose", kept),), "No longer on purpose")


def _of(change: Change) -> Action:
    return Action(change.patch, change.words, change.handle)


def _done(appraisal: Appraisal, form: Form) -> Action:
    move = appraisal.move(form.get("move", ""))
    if move is None:
        raise Refused([Fault("/move", repr(form.get("move", ""))[:60], "a move that is offered now")])
    return Action(move.patch, move.title)


def _switched(appraisal: Appraisal, form: Form) -> Action:
    setup, thing = appraisal.setup, form.get("thing", "")
    light = thing_at(setup, thing)
    on = not getattr(light, "on", False)
    return Action((replace(f"/{thing}/on", on),), f"{light.name} {'on' if on else 'off'}")


def _lamps(appraisal: Appraisal, form: Form) -> Action:
    """All lamps off; all on again if none is."""
    lights = appraisal.setup.lights
    on = not any(light.on for light in lights)
    return Action(tuple(replace(f"/lights/{light.id}/on", on) for light in lights if light.on != on), f"All lamps {'on' if on else 'off'}")


def _looked(appraisal: Appraisal, form: Form) -> Action:
    """Units are a matter of looking: kept with the setup, marked as entered like all else."""
    units = form.get("value", "cm")
    return Action((replace("/preferences/units", units),), f"Units: {units}")


def _held(appraisal: Appraisal, form: Form) -> Action:
    """The call at another time, under another sky."""
    place = appraisal.setup.place
    at, sky = form.get("at", ""), form.get("sky", place.sky)
    try:
        when = datetime.fromisoformat(at)
    except ValueError:
        raise Refused([Fault("/place/call_at", repr(at)[:40], "a local date and time, such as 2026-11-24T18:30")]) from None
    patch = (replace("/place/call_at", when.isoformat()), replace("/place/sky", sky))
    return Action(patch, f"Call at {when:%H:%M} on {when.day} {when:%B %Y}, {sky} sky")


ACTIONS: dict[str, Callable[[Appraisal, Form], Action]] = {
    "move": _moved, "turn": _turned, "enter": _entered, "do": _done, "switch": _switched, "lamps": _lamps, "units": _looked, "when": _held,
    "put": _put, "copy": _copied, "furnish": _furnished,
    "kind": _of_kind, "take": _taken, "delete": _deleted, "purpose": _meant, "no_purpose": _no_longer_meant, "answer": _answered,
}  # fmt: skip
