"""Five lines for somebody who is to be a guest: where to sit, light, earphones, stillness, how to join; by what the call is for."""

from __future__ import annotations

from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.session.calling import Next

SIT = {
    "call_tile": "Sit at a table, the lens as high as your eyes (books under the machine), an arm's length away.",
    "webinar": "Sit at a table, the lens as high as your eyes (books under the machine), an arm's length away, and nothing that moves behind you.",
    "recorded_lesson": "Sit at a table, the lens as high as your eyes, an arm's length away; leave room beside your head for what is shown.",
    "vertical_clip": "Stand the phone upright on books, its lens as high as your eyes, half an arm further away than you would hold it.",
    "square": "The lens as high as your eyes, an arm's length away, your face in the middle of the picture.",
    "interview": "Sit, the lens as high as your eyes, an arm and a half away; talk to the face on the screen, close beside the lens.",
    "hands_on": "Lens above your table looking down on your hands, or before you as high as your eyes: as you have been told.",
}
LIGHT = "Face the window, or have it beside you, never behind you; after dark a lamp behind the screen, the ceiling lamp off if it shines into your glasses."
LIVE_EARS = "Wear earphones, best with a cord: then nobody hears themselves. Doors and windows shut, other phones in flight mode."
RECORDED_EARS = "Be nearer to the microphone than an arm, in a room with curtains or beds. Doors and windows shut, phones in flight mode."
LIVE_STILL = "Ten minutes before, join and say a few words. Then look into the lens, and be still for 5 s before your first word and after your last."
RECORDED_STILL = "Record 10 s and listen to them. Then be still for 5 s before your first word and after your last: there it is cut."


def guest_card(setup: Setup, call: Next) -> tuple[str, ...]:
    """The five lines; the last with the hour there, and how to join."""
    recorded = setup.call.use == "recorded"
    sit = SIT[setup.call.destination] if setup.call.picture else "Sit where it is quiet and soft: a room with curtains, a bed, a rug."
    light = LIGHT if setup.call.picture else "There is no picture: light is as you like it."
    when = f"{call.begins:%A} {call.begins.day} {call.begins:%B %Y, %H:%M} ({setup.place.timezone})"
    by = setup.session.joins_by.strip()
    join = f"Send what you have recorded by {when}" if recorded else f"It begins on {when}. Join"
    return (
        sit, light, RECORDED_EARS if recorded else LIVE_EARS, RECORDED_STILL if recorded else LIVE_STILL,
        f"{join}: {by}." if by else f"{join} by what you are sent.",
    )  # fmt: skip


def text_of(lines: tuple[str, ...], title: str) -> str:
    """The card as plain text."""
    return "\n".join([title, "", *(f"{number}. {line}" for number, line in enumerate(lines, start=1))]) + "\n"
