"""Place, room, windows, desk, backdrop and noises: what the presenter sits in."""

from __future__ import annotations

from datetime import datetime
from functools import cache
from typing import Annotated, Literal, Self
from zoneinfo import available_timezones

from pydantic import AfterValidator, Field, model_validator

from uphill_lamp.core.document.fields import Colour, Name, Octaves, Part, Point, Share, Thing, Wall, Yaw, metres
from uphill_lamp.core.document.finishes import FINISHES, FURNISHINGS


@cache
def _zones() -> frozenset[str]:
    return frozenset(available_timezones())


def _known_zone(name: str) -> str:
    if name not in _zones():
        raise ValueError("the name of a time zone, such as Europe/London")
    return name


def _known_finish(name: str) -> str:
    if name not in FINISHES:
        raise ValueError("one of " + ", ".join(FINISHES))
    return name


MOST_FURNISHINGS_OF_A_KIND = 60


def _known_furnishing(name: str) -> str:
    if name not in FURNISHINGS:
        raise ValueError("one of " + ", ".join(FURNISHINGS))
    return name


def _wall_clock(moment: datetime) -> datetime:
    if moment.tzinfo is not None:
        raise ValueError("a local date and time without an offset, such as 2026-11-24T18:30:00")
    if not 1900 <= moment.year <= 2100:
        raise ValueError("a year from 1900 to 2100")
    return moment


class Place(Part):
    """Where on Earth and when the call is."""

    label: Name
    latitude_deg: Annotated[float, Field(ge=-90, le=90, description="North positive [deg]")]
    longitude_deg: Annotated[float, Field(ge=-180, le=180, description="East positive [deg]")]
    timezone: Annotated[str, Field(max_length=64), AfterValidator(_known_zone)]
    call_at: Annotated[datetime, AfterValidator(_wall_clock), Field(description="Local date and time of the call")]
    duration_s: Annotated[float, Field(ge=60, le=86400, description="How long the call lasts [s]")]
    sky: Literal["clear", "partly", "overcast"]
    mains_hz: Literal[50, 60]
    country: Annotated[str | None, Field(pattern=r"^[A-Z]{2}$", description="Two letters, such as GB")] = None


class OwnFinish(Part):
    """A surface described by its own values instead of a name from the table."""

    reflectance: Share
    absorption: Annotated[Octaves, Field(description="Absorption by octave, 0-1 [no unit]")]

    @model_validator(mode="after")
    def _within_one(self) -> Self:
        if not all(0 <= value <= 1 for value in self.absorption):
            raise ValueError("seven values from 0 to 1")
        return self


Finish = Annotated[str, Field(max_length=60), AfterValidator(_known_finish)] | OwnFinish


class Surfaces(Part):
    """The finish of each of the six surfaces."""

    floor: Finish
    ceiling: Finish
    wall_x0: Finish
    wall_x1: Finish
    wall_y0: Finish
    wall_y1: Finish


class Furnishing(Thing):
    """Things that soak up sound, counted."""

    kind: Annotated[str, Field(max_length=40), AfterValidator(_known_furnishing)]
    count: Annotated[int, Field(ge=1, le=MOST_FURNISHINGS_OF_A_KIND)]


class Covering(Part):
    """What hangs before a pane."""

    kind: Literal["none", "sheer", "blind", "blackout"]
    transmittance: Share
    diffuses: bool


class Window(Thing):
    """A pane flush in a wall."""

    wall: Wall
    centre_m: Annotated[float, metres(0, 12, "Middle of the pane along its wall, from the corner nearest the origin")]
    sill_m: Annotated[float, metres(0, 4.8, "Lower edge above the floor")]
    width_m: Annotated[float, metres(0.1, 12, "Width of the pane")]
    height_m: Annotated[float, metres(0.1, 5, "Height of the pane")]
    glass_transmittance: Share
    covering: Covering
    obstruction_deg: Annotated[float, Field(ge=0, le=90, description="Height of what stands outside [deg]")]


class Door(Thing):
    """A door in a wall, its foot on the floor."""

    wall: Wall
    centre_m: Annotated[float, metres(0, 12, "Middle of the door along its wall, from the corner nearest the origin")]
    width_m: Annotated[float, metres(0.3, 6, "Width")] = 0.8
    height_m: Annotated[float, metres(0.5, 5, "Height")] = 2.0
    colour: Colour = "#cfc6b4"
    stands_open: Annotated[bool, Field(description="Stands open during the call")] = False


class Room(Part):
    """A box room."""

    width_m: Annotated[float, metres(1.5, 12, "Along x")]
    depth_m: Annotated[float, metres(1.5, 12, "Along y")]
    height_m: Annotated[float, metres(1.9, 5, "Floor to ceiling")]
    north_bearing_deg: Annotated[float, Field(ge=0, lt=360, description="Compass bearing of the +y direction [deg]")]
    surfaces: Surfaces
    furnishings: Annotated[tuple[Furnishing, ...], Field(max_length=40)]
    windows: Annotated[tuple[Window, ...], Field(max_length=12)]
    doors: Annotated[tuple[Door, ...], Field(max_length=8)] = ()
    measured_t60_s: Annotated[Octaves | None, Field(description="Reverberation time by octave, from a clap [s]")] = None

    @model_validator(mode="after")
    def _possible_times(self) -> Self:
        if self.measured_t60_s and not all(0.03 <= value <= 20 for value in self.measured_t60_s):
            raise ValueError("reverberation times from 0.03 to 20 s")
        return self


class HeightRange(Part):
    """How low and how high an adjustable desk goes."""

    low_m: Annotated[float, metres(0.4, 1.6, "Lowest top")]
    high_m: Annotated[float, metres(0.4, 1.6, "Highest top")]


class Desk(Part):
    """The table the presenter works at; its yaw is the way the sitter faces across it."""

    x_m: Annotated[float, metres(0, 12, "Middle, along the width of the room")]
    y_m: Annotated[float, metres(0, 12, "Middle, along the depth of the room")]
    width_m: Annotated[float, metres(0.3, 4, "Along the sitter's left and right")]
    depth_m: Annotated[float, metres(0.2, 2, "Away from the sitter")]
    height_m: Annotated[float, metres(0.3, 1.6, "Top above the floor")]
    height_range: HeightRange | None = None
    yaw_deg: Yaw
    fixed: Annotated[bool, Field(description="It is built in, or cannot be turned or carried")] = False
    reflectance: Share = 0.35
    colour: Colour = "#a98d6a"


class BackdropThing(Thing):
    """Something behind the presenter."""

    kind: Literal[
        "plain_wall", "shelf", "bookcase", "plant", "picture", "clock", "door", "bed", "clutter", "screen", "green_screen", "folding_screen",
        "sheet", "curtain", "mirror", "clothes_rail", "board", "papers", "cloth",
    ]  # fmt: skip
    position: Point
    width_m: Annotated[float, metres(0.02, 12, "Width as seen from the front")]
    height_m: Annotated[float, metres(0.02, 5, "Height")]
    colour: Colour
    reflectance: Share
    luminance_cd_m2: Annotated[float, Field(ge=0, le=10000, description="Of its own light; 0 if it does not shine")] = 0
    wanted: bool
    in_use: Annotated[bool | None, Field(description="Of a door: somebody may come through it during the call; it stands ajar")] = None
    x_height_m: Annotated[
        float, Field(ge=0, le=0.5, description="Height of its small letters; 0 if there is nothing to read on it [m]")
    ] = 0
    held: Annotated[
        Literal["not_said", "stands", "leans", "clips", "hangs", "screwed"], Field(description="How it is held where it is")
    ] = "not_said"
    moves: Annotated[bool, Field(description="It moves while it is seen: a fan, an animal's place, people who pass")] = False
    put_up_min: Annotated[float, Field(ge=0, le=120, description="To put it up before each call; 0 where it stays [min]")] = 0
    private: Annotated[bool, Field(description="It is nobody's business: an address, medicine, a child's picture, others' papers")] = False


class Noise(Thing):
    """A sound that is not the voice."""

    position: Annotated[Point | None, Field(description="Absent: comes from everywhere")] = None
    curve: Literal["fan", "fridge", "street", "computer", "clocks", "people", "hum", "own"]
    level_db_a: Annotated[float, Field(ge=0, le=110, description="At 1 m, or in the room if from everywhere [dB(A)]")]
    octaves_db: Annotated[Octaves | None, Field(description="Shape of an own curve; only differences count [dB]")] = None
    steady: bool
    can_be_stopped: Annotated[bool, Field(description="Can be switched off or carried out for the call")] = False

    @model_validator(mode="after")
    def _own_has_octaves(self) -> Self:
        if (self.curve == "own") != (self.octaves_db is not None):
            raise ValueError("octaves_db with the curve 'own', and only then")
        if self.octaves_db and not all(-80 <= value <= 140 for value in self.octaves_db):
            raise ValueError("octave levels from -80 to 140 dB")
        return self
