"""What is wrong behind the presenter, and why it matters."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing
from uphill_lamp.core.judging import Finding, Measure
from uphill_lamp.core.scene.wording import percent, sentence, the

FEW_NAMED = 2


def unwanted_in_view(setup: Setup) -> list[BackdropThing]:
    """What is seen and not wanted, what fills most of the picture first."""
    parts = behind_of(setup).parts
    seen = [thing for thing in setup.backdrop if not thing.wanted and thing.id in parts]
    return sorted(seen, key=lambda thing: -parts[thing.id].share)


def findings(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Backdrop, without their moves."""
    for tell in (_door, _unwanted, _near, _points):
        yield from tell(setup, measured)


def _made(name: str, title: str, why: str, ids: tuple[str, ...] = ()) -> Finding:
    return Finding(f"backdrop.{name}", "backdrop", title, why, ids or (f"backdrop.{name}",))


def _wanting(measured: Mapping[str, Measure], name: str) -> Measure | None:
    measure = measured.get(f"backdrop.{name}")
    return measure if measure is not None and measure.wanting else None


def _door(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """What no score weighs up."""
    parts = behind_of(setup).parts
    if any(thing.kind == "door" and thing.in_use and thing.id in parts for thing in setup.backdrop):
        why = "Whoever opens the door is in your picture, without being asked."
        yield Finding("backdrop.door", "backdrop", "Somebody may come in behind you", why, (), severity="clear")


def _unwanted(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure, seen = _wanting(measured, "unwanted"), unwanted_in_view(setup)
    if measure is None or not seen:
        return
    names = [the(thing.name) for thing in seen]
    subject = " and ".join(names) if len(names) <= FEW_NAMED else f"{', '.join(names[:FEW_NAMED])} and more"
    plural = len(names) > 1
    fills = f"{'They fill' if plural else 'It fills'} {percent(measure.value or 0.0)} of your picture"
    why = f"{fills}, and {'are' if plural else 'is'} what others remark on first."
    title = f"{sentence(subject)} {'are' if plural else 'is'} in the picture"
    yield _made("unwanted", title, why, ("backdrop.unwanted", "backdrop.held"))


def _near(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if _wanting(measured, "near") is not None:
        yield _made("near", "The wall is close behind you", "Room behind you sets you off, and your shadow falls where nobody sees it.")


def _points(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = _wanting(measured, "points")
    if measure is None:
        return
    if measure.value:
        yield _made("points", "Many things to look at behind you", "Where eyes wander from thing to thing, they are not with you.")
    else:
        yield _made("points", "Nothing to look at behind you", "One thing of yours, a third of the way across, says who speaks.")
