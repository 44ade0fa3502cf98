"""The kinds of field every part of the document is made of."""

from __future__ import annotations

import unicodedata
from datetime import date
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

Origin = Literal["assumed", "entered", "measured"]  # the weakest first
Wall = Literal["wall_x0", "wall_x1", "wall_y0", "wall_y1"]

# Marks that turn the direction of text round or hide in it: they could make a name read as something else.
HIDDEN_MARKS = frozenset("\u061c\u200b\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069\ufeff")


def _plain(text: str) -> str:
    for mark in text:
        if unicodedata.category(mark) in ("Cc", "Cs", "Co", "Zl", "Zp") or mark in HIDDEN_MARKS:
            raise ValueError("letters, figures and signs of any script, without control or direction marks")
    if text != text.strip():
        raise ValueError("no blanks at the beginning or the end")
    return text


Name = Annotated[str, Field(min_length=1, max_length=80), AfterValidator(_plain)]


class Part(BaseModel):
    """A part of the document: frozen, strict about types, refusing keys it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid", strict=True, allow_inf_nan=False)


class Thing(Part):
    """A listed part, with an ``id`` that never changes and a name a person gave it."""

    id: Annotated[
        str,
        Field(pattern=r"^[a-z][a-z0-9-]{0,39}$", description="Fixed handle: small letters, digits and hyphens."),
    ]
    name: Name


class OriginNote(Part):
    """Where a value comes from, with what is known of how: on which day, how near it may be, which take, which method."""

    kind: Origin
    on: Annotated[date | None, Field(description="Day it was told or measured")] = None
    tolerance: Annotated[float | None, Field(ge=0, le=1e6, description="How far off it may be, in the value's own unit")] = None
    take: Annotated[str | None, Field(max_length=80, description="What it was measured from")] = None
    method: Annotated[str | None, Field(max_length=80, description="How it was measured")] = None


def kind_of(origin: Origin | OriginNote) -> Origin:
    """Whether a value is assumed, entered or measured, however much more is known of it."""
    return origin if isinstance(origin, str) else origin.kind


def metres(least: float, most: float, about: str) -> object:
    """Field of a length in metres."""
    return Field(ge=least, le=most, description=f"{about} [m]")


Yaw = Annotated[float, Field(ge=-360, le=360, description="Compass-like turn seen from above: 0 looks along +y, + to +x [deg]")]
Share = Annotated[float, Field(ge=0, le=1, description="Share of the whole [no unit]")]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$", description="Colour as #rrggbb")]
Octaves = Annotated[
    tuple[float, float, float, float, float, float, float],
    Field(description="Values for the octaves 125 Hz to 8 kHz"),
]
CCT = Annotated[float, Field(ge=1000, le=20000, description="Correlated colour temperature [K]")]


class Point(Part):
    """A place in the room: x along the width, y along the depth, z up, from a floor corner."""

    x_m: Annotated[float, metres(-1, 13, "Along the width")]
    y_m: Annotated[float, metres(-1, 13, "Along the depth")]
    z_m: Annotated[float, metres(-0.5, 6, "Above the floor")]
