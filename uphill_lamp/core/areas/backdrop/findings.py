"""What is wrong behind the presenter, and why it matters."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from uphill_lamp.core.areas.backdrop.behind import behind_of
from uphill_lamp.core.areas.backdrop.doors import open_in_view
from uphill_lamp.core.areas.backdrop.measures import letters_px, private_in_view, read_by_others
from uphill_lamp.core.areas.backdrop.mirrors import telltale
from uphill_lamp.core.areas.backdrop.worn import BRIM_STOPS, brim_stops, eyes_hidden, finest
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import BackdropThing, Window
from uphill_lamp.core.judging import Finding, Measure
from uphill_lamp.core.scene.wording import percent, sentence, the

FEW_NAMED = 2


def unwanted_in_view(setup: Setup) -> list[BackdropThing]:
    """What is seen and not wanted, what fills most of the picture first."""
    parts = behind_of(setup).seen.parts
    seen = [thing for thing in setup.backdrop if not thing.wanted and thing.id in parts]
    return sorted(seen, key=lambda thing: -parts[thing.id].share)


def findings(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Backdrop, without their moves."""
    for tell in (
        _private,
        _mirror,
        _door,
        _moving,
        _unwanted,
        _readable,
        _grows,
        _cut_line,
        _shimmer,
        _strong_colour,
        _strip,
        _near,
        _soft,
        _points,
    ):
        yield from tell(setup, measured)


def _made(name: str, title: str, why: str, ids: tuple[str, ...] = ()) -> Finding:
    return Finding(f"backdrop.{name}", "backdrop", title, why, ids or (f"backdrop.{name}",))


def _wanting(measured: Mapping[str, Measure], name: str) -> Measure | None:
    measure = measured.get(f"backdrop.{name}")
    return measure if measure is not None and measure.wanting else None


def _private(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """What no score weighs up, and what stands first."""
    for thing in private_in_view(setup)[:1]:
        why = "A still of a call is taken in a second and kept for years. It is nobody's business, and nothing else makes up for it."
        yield Finding("backdrop.private", "backdrop", f"Everybody sees {the(thing.name)}", why, (), severity="grave", foremost=True)


def _mirror(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """What no score weighs up."""
    shows = telltale(setup)
    if shows is not None:
        why = "A mirror shows what stands where the camera does not look: what you took for hidden is in the picture."
        title = f"{sentence(the(shows.mirror.name))} shows the others {' and '.join(shows.names[:FEW_NAMED])}"
        yield Finding("backdrop.mirror", "backdrop", title, why, (), severity="grave" if shows.private else "clear", foremost=shows.private)


def presenter(setup: Setup, lit_scene: Any) -> Iterator[Finding]:
    """What hides the face, and no score holds.

    Args:
        lit_scene: the lit field of the setup.
    """
    if eyes_hidden(setup):
        why = "Eyes that nobody sees meet nobody: the others look at two black panes."
        yield Finding("backdrop.dark_glasses", "backdrop", "Your eyes cannot be seen through the dark glasses", why, (), severity="grave")
    stops = brim_stops(setup, lit_scene)
    if stops >= BRIM_STOPS:
        why = "The brim shades brow and eyes; a camera shows that darker than a room does."
        yield Finding(
            "backdrop.hat", "backdrop", f"The brim of your hat takes {stops:.1f} stops of light off your face", why, (), severity="clear"
        )


def _readable(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if _wanting(measured, "readable") is not None:
        thing = max(read_by_others(setup), key=lambda thing: letters_px(setup, thing))
        why = f"Its small letters are {letters_px(setup, thing):.0f} px high at the other end: who can read, reads."
        yield _made("readable", f"The others can read {the(thing.name)}", why)


def _shimmer(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    fine = finest(setup)
    if _wanting(measured, "shimmer") is not None and fine is not None:
        garment, px = fine
        why = f"A repeat of its pattern is {px:.1f} px at the other end. Under 3 px it crawls and flickers as you move; from 6 px on it is safe."
        yield _made("shimmer", f"The pattern of {the(garment.name)} shimmers", why)


def _strong_colour(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if (measure := _wanting(measured, "strong_colour")) is not None:
        why = "Colour is sent at a quarter of the pixels: strong red runs over its edges, and skin beside it looks pale."
        yield _made("strong_colour", f"Strong red fills {percent(measure.value or 0.0)} of your picture", why)


def _strip(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if (measure := _wanting(measured, "strip")) is not None:
        bar = "The strip with your name" if setup.call.name_strip else "The foot of the picture"
        does = "lies over your chin" if (measure.value or 0.0) < 0 else "touches your chin"
        yield _made("strip", f"{bar} {does}", "A bar across the chin cuts the mouth off: lips are read, too.")


def _door(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """What no score weighs up."""
    parts = behind_of(setup).seen.parts
    if any(thing.kind == "door" and thing.in_use and thing.id in parts for thing in setup.backdrop):
        why = "Whoever opens the door is in your picture, without being asked."
        yield Finding("backdrop.door", "backdrop", "Somebody may come in behind you", why, (), severity="clear")
    for door in open_in_view(setup)[:1]:
        why = "Whoever passes is in your picture, without being asked; and the eye goes through an open door before it stays with you."
        yield Finding("backdrop.open_door", "backdrop", f"{sentence(the(door.name))} stands open behind you", why, (), severity="clear")


def moving_in_view(setup: Setup) -> list[BackdropThing]:
    """What moves and is seen, what fills most of the picture first; a door that somebody may come through is told for itself."""
    parts = behind_of(setup).seen.parts
    return sorted((thing for thing in setup.backdrop if thing.moves and thing.id in parts), key=lambda thing: -parts[thing.id].share)


def _moving(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """What no score weighs up."""
    for thing in moving_in_view(setup)[:1]:
        why = "Eyes go to what moves, whether they want to or not; and what is sent turns coarse where much of a picture changes."
        yield Finding("backdrop.moving", "backdrop", f"{sentence(the(thing.name))} moves behind you", why, (), severity="clear")


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


def thing_of(setup: Setup, name: str) -> BackdropThing | Window | None:
    """A thing behind or a window by its id."""
    behind: list[BackdropThing | Window] = [*setup.backdrop, *setup.room.windows]
    return next((thing for thing in behind if thing.id == name), None)


def _grows(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    growing = [thing for name in behind_of(setup).outline.growing if (thing := thing_of(setup, name)) is not None]
    if _wanting(measured, "grows") is not None and growing:
        why = "A picture is flat: what stands behind your head and what is your head become one shape."
        yield _made("grows", f"{sentence(the(growing[0].name))} seems to grow out of your head", why)


def _cut_line(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    thing = thing_of(setup, behind_of(setup).outline.lined)
    if _wanting(measured, "cut_line") is not None and thing is not None:
        why = "A line behind the head draws the eye to the head's edge, away from the face."
        yield _made("cut_line", f"An edge of {the(thing.name)} cuts through your head", why)


def _near(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if _wanting(measured, "near") is not None:
        yield _made("near", "The wall is close behind you", "Room behind you sets you off, and your shadow falls where nobody sees it.")


def _soft(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    if (measure := _wanting(measured, "soft")) is not None:
        why = f"A point behind you is drawn {100 * (measure.value or 0.0):.1f} % of the picture wide; from 1.5 % on it looks soft."
        yield _made("soft", "What is behind you is not blurred", why)


def _points(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    measure = _wanting(measured, "points")
    if measure is None:
        return
    if measure.value:
        yield _made("points", "Many things to look at behind you", "Where eyes wander from thing to thing, they are not with you.")
    else:
        yield _made("points", "Nothing to look at behind you", "One thing of yours, a third of the way across, says who speaks.")
