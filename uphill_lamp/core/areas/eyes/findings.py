"""What is wrong in Eyes, why it matters, and the moves that mend it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from uphill_lamp.core.areas.eyes import gaze_moves as moves
from uphill_lamp.core.areas.eyes.glances import WORDS, looked_at, whom
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.judging import WANTING, Finding, Measure, Move
from uphill_lamp.core.scene.wording import degrees

FAR_OFF = 0.3  # a look this poor at slides or chat is worth a word


def findings(setup: Setup, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of Eyes, without their moves.

    Args:
        measured: the area's measures by id.
    """
    why = "The others feel looked past, however attentive you are."
    yield from _off(measured, "eyes.off_lens", ("eyes.aside", "eyes.down", "eyes.up"), "You look {} {} the lens", why)
    why = "Reading shows: the eyes leave the others and run along the lines."
    yield from _off(
        measured, "eyes.notes_off", ("eyes.notes_aside", "eyes.notes_down", "eyes.notes_up"), "Your notes lie {} {} the lens", why
    )
    if setup.call.use == "recorded" and not whom(setup) and any(point.shows == "call" for point in looked_at(setup)):
        why = "In a recording nobody looks back: whoever watches is behind the lens."
        yield Finding("eyes.speak_to_lens", "eyes", "The call's window draws your eyes off the lens", why, (), severity="clear")
    if setup.call.use == "audience" and any(point.shows == "chat" for point in looked_at(setup)):
        why = "Whoever speaks and reads does both worse; the audience sees the eyes run."
        yield Finding("eyes.chat_for_another", "eyes", "You speak and watch the chat at once", why, (), severity="slight")
    for shows in ("slides", "chat"):
        if shows == whom(setup):
            continue
        off = [point.glance for point in looked_at(setup) if point.shows == shows and point.glance.utility < FAR_OFF]
        if off:
            worst = max(off, key=lambda glance: glance.off_deg)
            title = f"You look {degrees(worst.off_deg)} off the lens at {WORDS[shows]}"
            yield Finding(f"eyes.{shows}_off", "eyes", title, "Each glance there is seen as a look away.", (), severity="slight")
    if any(point.shows == "self" for point in looked_at(setup)):
        yield Finding(
            "eyes.self_view",
            "eyes",
            "Your own picture is on the screen",
            "It is hard not to watch yourself instead of the lens.",
            (),
            severity="slight",
        )


def _off(measured: Mapping[str, Measure], name: str, ids: tuple[str, ...], title: str, why: str) -> Iterator[Finding]:
    wanting = [measured[name] for name in ids if name in measured and (measured[name].utility or 0.0) < WANTING]
    if wanting:
        worst = min(wanting, key=lambda measure: measure.utility or 0.0)
        where = {"down": "below", "up": "above", "aside": "beside"}[worst.id.rsplit("_", 1)[-1].rsplit(".", 1)[-1]]
        yield Finding(name, "eyes", title.format(degrees(worst.value or 0.0), where), why, tuple(measure.id for measure in wanting))


def moves_for(setup: Setup, finding: Finding) -> tuple[Move, ...]:
    """The moves that mend a finding of Eyes."""
    if finding.id == "eyes.off_lens":
        return tuple(moves.for_faces(setup))
    if finding.id == "eyes.notes_off":
        return tuple(moves.for_notes(setup))
    if finding.id == "eyes.speak_to_lens":
        return tuple(moves.close_windows(setup, "call", "eyes.close_call", "Close the call's window, and speak to the lens"))
    if finding.id == "eyes.chat_for_another":
        return tuple(moves.close_windows(setup, "chat", "eyes.chat_for_another", "Let somebody else watch the chat, and close it here"))
    if finding.id == "eyes.self_view":
        return tuple(moves.hide_self(setup))
    return tuple(moves.for_other(setup, "slides" if finding.id == "eyes.slides_off" else "chat"))
