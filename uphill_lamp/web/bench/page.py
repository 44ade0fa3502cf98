"""What the bench's template needs, from a document and what is in hand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from django.http import HttpRequest
from django.urls import reverse
from django.utils import timezone

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.eyes.glances import looked_at, near_enough_m
from uphill_lamp.core.areas.frame.camera_notes import desk_words, lens_lines, lid_advice
from uphill_lamp.core.areas.light.glare import glare_words
from uphill_lamp.core.areas.registry import area_of, areas
from uphill_lamp.core.describing.furnishing import furnishing_counts
from uphill_lamp.core.describing.kinds import PART_WORDS, kinds_of
from uphill_lamp.core.describing.putting import from_drawer
from uphill_lamp.core.document import Refused
from uphill_lamp.core.document.devices import Camera
from uphill_lamp.core.document.finishes import FURNISHINGS
from uphill_lamp.core.document.setup import things
from uphill_lamp.core.judging import Measure
from uphill_lamp.core.scene.destination import slide_words
from uphill_lamp.core.scene.footprints import door_words
from uphill_lamp.core.scene.handling import BELONGS, GROUPS, WITHIN, screen_of
from uphill_lamp.core.scene.wording import length
from uphill_lamp.core.tape import Entry, fields_of, name_of, words_of
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.kinds import kind_sketch
from uphill_lamp.drawings.level_colours import key as level_colours
from uphill_lamp.drawings.lit_face import lit_face
from uphill_lamp.drawings.octaves import octave_chart
from uphill_lamp.drawings.overlay import overlay
from uphill_lamp.drawings.overlay_behind import grips
from uphill_lamp.drawings.plan import plan
from uphill_lamp.drawings.screen import screen
from uphill_lamp.drawings.side import side
from uphill_lamp.drawings.svg import SvgText
from uphill_lamp.web.bench.cards import FULL_PX
from uphill_lamp.web.check.state import state_of
from uphill_lamp.web.setups.models import Revision, Setup

DRAFT_PX = 208
OPEN_ENTRIES, MOST_ENTRIES = 3, 6  # of what to fix: so many stand open, and so many at most are told by their titles
MAIN_READINGS = 4
MAIN_ENTRIES = 6
FEWER_ENTRIES = (
    (("screens/", "shown/"), 0),
    ("microphones/", 3),
    ("windows/", 5),
    ("noises/", 3),
)  # beside a drawing of their own, or wide ones
FEW_OF = {"": 4, "presenter": 3, "computer": 3}


@dataclass(frozen=True)
class Stage:
    """A stage of the bench: address, name, key."""

    slug: str
    label: str
    key: int

    @property
    def is_bench(self) -> bool:
        """Whether it is shown on the bench, and not on a page of its own."""
        return self not in OWN_PAGES


# These have pages of their own.
OWN_PAGES = PLACE, STEPS, CHECK, GO = (
    Stage("place", "Place", 1),
    Stage("steps", "Steps", 7),
    Stage("check", "Check", 8),
    Stage("go", "Go", 9),
)


def stages() -> tuple[Stage, ...]:
    """All stages, in the order of their keys."""
    of_areas = (Stage(area.key, area.name.label, area.digit) for area in areas())
    return tuple(sorted((*OWN_PAGES, *of_areas), key=lambda stage: stage.key))


def bench_stage(slug: str) -> Stage | None:
    """The stage of an area, which is shown on the bench."""
    return next((stage for stage in stages() if stage.slug == slug and stage.is_bench), None)


def stage_of(area: str) -> Stage:
    """The stage of an area that there is."""
    stage = bench_stage(area)
    assert stage is not None, area
    return stage


def first_in_hand(appraisal: Appraisal, stage: str) -> str:
    """What a stage takes in hand when nothing has been picked."""
    area = area_of(stage)
    return (area.in_hand(appraisal.setup) if area else "") or f"cameras/{appraisal.setup.main_camera.id}"


def picked_thing(appraisal: Appraisal, picked: str) -> str:
    """The handle if there is such a thing, else nothing."""
    if (part := picked.partition("/")[0]) in BELONGS:
        picked = BELONGS[part].format(picked.partition("/")[2])
    try:
        name_of(appraisal.setup, picked)
    except Refused:
        return ""
    return picked


def pickable(appraisal: Appraisal) -> list[tuple[str, list[tuple[str, str]]]]:
    """Handle and name of everything that can be selected, by sort."""
    setup = appraisal.setup
    groups = [("", list(GROUPS.items()))]
    for part, words in PART_WORDS:
        handles = [(f"{part}/{item.id}", item.name) for item in dict(things(setup))[WITHIN.get(part, f"/{part}")]]
        if part == "screens":
            handles += [
                (f"shown/{screen.id}.{shown.id}", f"{shown.name} on {screen.name}") for screen in setup.screens for shown in screen.windows
            ]
        groups.append((words, handles))
    groups.append(("In the drawer", [(f"kit/{item.id}", item.name) for item in setup.kit]))
    return [(words, handles) for words, handles in groups if handles]


def tools(appraisal: Appraisal, picked: str) -> dict[str, Any]:
    """What can be done with what is selected as a whole: other kinds it could be, whether it can be copied, taken away, put into the room."""
    part, setup = picked.partition("/")[0], appraisal.setup
    if picked in GROUPS:
        return {"can_copy": False, "kinds": (), "can_take": False, "put_kind": None}
    if part == "kit":
        return {"can_copy": False, "kinds": (), "can_take": True, "put_kind": from_drawer(setup, picked.partition("/")[2])}
    return {"can_copy": part != "shown", "kinds": kinds_of(part) if part != "shown" else (), "can_take": True, "put_kind": None}


def picture_context(
    revision: Revision, digest: str, appraisal: Appraisal, stage: str, picked: str, *, draft: bool, in_words: bool = True
) -> dict[str, Any]:  # fmt: skip
    """What the picture and the drawings show: all that most previews of a drag bring, those not ``in_words``."""
    return {
        "appraisal": appraisal, "revision": revision, "digest": digest, "stage": stage_of(stage), "picked": picked,
        "overlay": overlay(appraisal, stage), "grips": grips(appraisal, picked) if stage == "backdrop" else "",
        "plan": plan(appraisal, stage, picked), "side": side(appraisal, stage, picked),
        "picture_px": DRAFT_PX if draft else FULL_PX, "alt": alt_text(appraisal) if in_words else "", "aspect": appraisal.setup.call.output_aspect,
        "levels_key": level_colours() if stage == "light" else (), "before": _before(revision, draft), "draft": draft,
        "units": appraisal.setup.preferences.units, "can_undo": revision.parent_id is not None,
        "can_redo": not draft and revision.children.exists(),
    }  # fmt: skip


def context(
    setup: Setup, revision: Revision, digest: str, appraisal: Appraisal, stage: str, picked: str, *,
    draft: bool = False, announced: str = "", faults: dict[str, tuple[str, str]] | None = None,
) -> dict[str, Any]:  # fmt: skip
    """Everything the bench fragment shows.

    Args:
        setup, revision: the rows; the revision is the one that changes are made on.
        digest, appraisal: of the document shown, which may be an unsaved preview.
        stage, picked: what the page is about and what is in hand.
        draft: whether a quick picture will do.
        announced: what has just been done, told to screen readers and shown.
        faults: what is wrong with a typed field, by key: (typed text, message).
    """
    entries = [_with_fault(entry, (faults or {}).get(entry.key)) for entry in fields_of(appraisal.setup, picked)]
    area = appraisal.area(stage)
    brief = picture_context(revision, digest, appraisal, stage, picked, draft=draft)
    return slope_context(setup, appraisal, stage_of(stage), picked) | brief | {
        **_readings([measure for measure in area.measures if measure.band or measure.id == "sound.level"] if area else []),
        "findings": appraisal.findings, "with_gains": False, "on_purpose": appraisal.on_purpose, "setup_id": setup.pk,
        "on_screen": _on_screen(appraisal, picked), "on_face": lit_face(appraisal) if stage == "light" and picked == "presenter" else None,
        "octaves": octave_chart(appraisal.heard) if stage == "sound" and appraisal.heard else None,
        "looks": looked_at(appraisal.setup) if picked.startswith(("screens/", "shown/")) else (),
        "advice": _advice(appraisal, picked), "lens": [] if draft else _lens(appraisal, picked),
        "lamp_id": picked.removeprefix("lights/") if picked.startswith("lights/") else "",
        "hand_name": name_of(appraisal.setup, picked), "hand_words": words_of(appraisal.setup, picked), **_entries(entries, picked),
        **({} if draft or picked != "room" else _furnishings(appraisal)),
        "pickable": () if draft else pickable(appraisal), "said": announced, **(tools(appraisal, picked) if not draft else {}),
    }  # fmt: skip


def within_setup(request: HttpRequest, setup: Setup, appraisal: Appraisal, stage: Stage, *, own: bool = False) -> dict[str, Any]:
    """What every page of a setup beside the bench shows round its own matter: the slope, undo and redo that lead back here.

    Args:
        stage: what the page belongs to.
        own: whether it is that stage's own page, and not one under it.
    """
    assert setup.head is not None
    return slope_context(setup, appraisal, stage) | {
        "revision": setup.head, "can_undo": setup.head.parent_id is not None, "can_redo": setup.head.children.exists(),
        "back": request.get_full_path() if request.method == "GET" else request.path, "is_within": not own,
    }  # fmt: skip


def slope_context(setup: Setup, appraisal: Appraisal, stage: Stage, picked: str = "") -> dict[str, Any]:
    """What the slope shows: the stages with their scores, the whole score, and the other spots of the home."""
    spots = Setup.objects.filter(home_id=setup.home_id).exclude(pk=setup.pk) if setup.home_id else ()
    return {
        "setup": setup, "appraisal": appraisal, "stage": stage, "picked": picked, "holds_down": _holds_down(appraisal),
        "stages": [(stage, score.score if (score := appraisal.area(stage.slug)) else None, _address(stage, setup, picked)) for stage in stages()],
        "spots": [(spot, _address(stage, spot)) for spot in spots], "is_chosen": setup.home is not None and setup.home.chosen_id == setup.pk,
        "check_state": state_of(setup, timezone.now()),
    }  # fmt: skip


def _address(stage: Stage, setup: Setup, picked: str = "") -> str:
    """Where a stage of a setup is shown, with what is selected there."""
    if stage in OWN_PAGES:
        return reverse(stage.slug, args=[setup.pk])
    return reverse("bench", args=[setup.pk, stage.slug]) + (f"?{urlencode({'picked': picked})}" if picked else "")


def _readings(measures: list[Measure]) -> dict[str, Any]:
    """The readings that weigh most, of alike ones those that are off first; the others to be folded, and how many of those are off."""
    heaviest = sorted(measures, key=lambda measure: (-measure.weight, not measure.wanting))[:MAIN_READINGS]
    more = [measure for measure in measures if measure not in heaviest]
    off = sum(measure.wanting for measure in more)
    scored = [measure for measure in measures if measure.weight]
    unknown = bool(scored) and not any(measure.counts in ("quality", "both") for measure in scored)
    return {"quality_unknown": unknown, "readings": heaviest, "more_readings": more, "more_off": off, "all_readings": [*heaviest, *more]}


def _entries(entries: list[Entry], picked: str) -> dict[str, Any]:
    """The first values of what is selected, the others to be folded; fewer where a drawing stands over them."""
    first = FEW_OF.get(picked) or next((fewer for parts, fewer in FEWER_ENTRIES if picked.startswith(parts)), MAIN_ENTRIES)
    plain = [entry for entry in entries if not entry.fold]
    folds: dict[str, list[Entry]] = {"": plain[first:]} if plain[first:] else {}
    for entry in entries:
        if entry.fold:
            folds.setdefault(entry.fold, []).append(entry)
    more = [entry for of_fold in folds.values() for entry in of_fold]
    return {
        "entries": plain[:first], "folds": list(folds.items()), "more_count": len(more), "more_faulty": any(entry.fault for entry in more),
        "all_entries": entries,
    }  # fmt: skip


def _furnishings(appraisal: Appraisal) -> dict[str, Any]:
    """Kinds of furniture and soft things with their counts, each with its sketch: those that are there first."""
    counts = furnishing_counts(appraisal.setup)
    kinds = sorted(counts, key=lambda kind: not counts[kind])
    rows = [(kind, FURNISHINGS[kind].label, counts[kind], kind_sketch(f"furnishings.{kind}")) for kind in kinds]
    return {"furnishings": rows, "furnished_count": sum(counts.values())}


def _before(revision: Revision, draft: bool) -> str:
    """Digest of what was before: the saved state while something is dragged, else the state before the last change; empty at the first."""
    before = revision if draft else revision.parent
    return before.digest if before else ""


def _on_screen(appraisal: Appraisal, picked: str) -> SvgText | None:
    """The screen in hand, or the one whose window is, drawn from the front."""
    if not picked.startswith(("screens/", "shown/")):
        return None
    return screen(appraisal, screen_of(appraisal.setup, picked), picked)


def _camera_in_hand(appraisal: Appraisal, picked: str) -> Camera | None:
    """The camera in hand, or the one on the laptop that is."""
    setup = appraisal.setup
    return next(
        (
            camera
            for camera in setup.cameras
            if picked in (f"cameras/{camera.id}", f"screens/{camera.on_screen}" if camera.mount == "laptop_lid" else "")
        ),
        None,
    )


def _advice(appraisal: Appraisal, picked: str) -> str:
    """A sentence about what is in hand: the lid, the desk's room, from where a window is near enough."""
    setup = appraisal.setup
    if picked == "":
        asked = "Live, to an audience, or a recording? It decides what is judged." if setup.origin_of("/call/use") == "assumed" else ""
        return " ".join(words for words in (asked, slide_words(setup.call)) if words)
    if picked == "desk":
        return desk_words(setup)
    if picked.startswith("doors/"):
        return door_words(setup, picked.partition("/")[2])
    if picked.startswith("shown/"):
        point = next(
            (look for look in looked_at(setup) if look.window and look.screen and picked == f"shown/{look.screen.id}.{look.window.id}"),
            None,
        )
        if point is None or point.glance.utility == 1:
            return ""
        return f"From {length(near_enough_m(setup, point), setup.preferences.units)} away a look at it would pass for eye contact."
    camera = _camera_in_hand(appraisal, picked)
    sentences = [lid_advice(setup, camera) if camera else "", glare_words(appraisal.lit_scene, picked.partition("/")[2])]
    return " ".join(sentence for sentence in sentences if sentence)


def _lens(appraisal: Appraisal, picked: str) -> list[tuple[str, str]]:
    camera = _camera_in_hand(appraisal, picked)
    return lens_lines(appraisal.setup, camera, appraisal.lit_scene.face_lx["front"]) if camera else []


def _with_fault(entry: Entry, fault: tuple[str, str] | None) -> Entry:
    if fault is None:
        return entry
    return replace(entry, text=fault[0], fault=fault[1])


def _holds_down(appraisal: Appraisal) -> str:
    lowest = sorted(appraisal.areas, key=lambda area: -area.weight * (100 - area.score))
    labels = {stage.slug: stage.label.lower() for stage in stages()}
    names = [labels[area.area] for area in lowest if area.score < 85][:2]
    return f"weakest: {' and '.join(names)}" if names else "no stage is weak"
