"""What is wrong with what the light makes of what is behind, and why it matters."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from uphill_lamp.core.areas.backdrop.lit import Lit
from uphill_lamp.core.areas.backdrop.worn import outermost
from uphill_lamp.core.judging import Finding, Measure
from uphill_lamp.core.scene.wording import percent, sentence, the, times


def findings(lit: Lit, measured: Mapping[str, Measure]) -> Iterator[Finding]:
    """All findings of what is behind in its light, without their moves."""
    for name, tell in (
        ("brightest", _brightest),
        ("shadow", _shadow),
        ("edge", _edge),
        ("garment", _garment),
        ("busy", _busy),
        ("melts", _melts),
    ):
        measure = measured.get(f"backdrop.{name}")
        if measure is not None and measure.wanting and measure.value is not None:
            title, why = tell(lit, measure.value)
            yield Finding(f"backdrop.{name}", "backdrop", title, why, (f"backdrop.{name}",))


def _brightest(lit: Lit, stops: float) -> tuple[str, str]:
    return f"{_named(lit)} is {times(stops)} brighter than your face", "Eyes go to what is brightest in a picture, and come back to it."


def _named(lit: Lit) -> str:
    """What is brightest behind, in words."""
    met, setup = lit.brightest(), lit.setup
    name = lit.met(met[1])[1] if met else ""
    for thing in (*setup.backdrop, *setup.room.windows, *setup.screens, *setup.lights, *setup.reflectors):
        if thing.id == name:
            return sentence(the(thing.name))
    return {"ceiling": "The ceiling", "floor": "The floor"}.get(name, "The wall behind you")


def _shadow(lit: Lit, stops: float) -> tuple[str, str]:
    shadow = lit.shadow()
    light = next((light for light in lit.setup.lights if shadow and light.id == shadow.source), None)
    where = f"It darkens {percent(shadow.share)} of the picture. " if shadow else ""
    who = f"{sentence(the(light.name))} throws your shadow on what is behind you" if light else "Your shadow falls on what is behind you"
    return who, f"{where}A hard shadow at the shoulder looks like a second, darker head."


def _edge(lit: Lit, stops: float) -> tuple[str, str]:
    return "Your hair is as bright as the wall behind it", "Where they meet, nobody sees where your head ends: it sinks into the wall."


def _garment(lit: Lit, stops: float) -> tuple[str, str]:
    top = outermost(lit.setup)
    worn = the(top.name) if top else "what you wear"
    return (
        f"The camera goes by {worn}, not by your face",
        f"It shows your face {times(stops)} off what it would with something middling on.",
    )


def _busy(lit: Lit, stops: float) -> tuple[str, str]:
    return "Light and dark are restless behind you", "The more there is to look at behind a face, the less the face is looked at."


def _melts(lit: Lit, stops: float) -> tuple[str, str]:
    top = outermost(lit.setup)
    worn = sentence(the(top.name)) if top else "What you wear"
    return f"{worn} is as bright as the wall behind you", "A head that floats before the wall looks cut out."
