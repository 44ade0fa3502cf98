"""What a call or recording needs around the setup itself: what devices forget, what stays rigged, space, line, and who is at home."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from uphill_lamp.core.document.fields import Part

Forgotten = Literal["white", "exposure", "focus", "zoom", "level", "colour", "input", "gain"]


class Rig(Part):
    """How a device is between calls."""

    device: Annotated[
        str, Field(pattern=r"^/(cameras|lights|microphones|reflectors|screens)/[a-z][a-z0-9-]{0,39}$", description="Its path")
    ]
    forgets: Annotated[
        tuple[Forgotten, ...] | None, Field(max_length=8, description="What it has lost once it was off; its kind's if absent")
    ] = None
    left_rigged: Annotated[bool | None, Field(description="It stays where it is; its kind's, or as everything else, if absent")] = None
    minutes: Annotated[float | None, Field(ge=0, le=120, description="To put it up; its kind's if absent [min]")] = None
    battery_wh: Annotated[float | None, Field(ge=0, le=2000, description="It runs on a battery of so much; on mains if absent [Wh]")] = None
    draws_w: Annotated[float | None, Field(gt=0, le=500, description="What it draws; usual for its kind if absent [W]")] = None


class Session(Part):
    """The call as it is held: what is free, what else is on the line, and what may come in between."""

    rigs: Annotated[tuple[Rig, ...], Field(max_length=40)] = ()
    free_gb: Annotated[float | None, Field(ge=0, le=100_000, description="Free where a recording is kept [GB]")] = None
    files_end_at_4_gib: Annotated[bool, Field(description="The card takes no file over 4 GiB")] = False
    camera_ends_after_min: Annotated[float | None, Field(ge=1, le=1440, description="The camera stops recording by itself [min]")] = None
    codec: Literal["newer", "older"] = "newer"
    others_mbit_s: Annotated[float, Field(ge=0, le=10_000, description="What others at home send meanwhile [Mbit/s]")] = 0
    wireless: Annotated[bool, Field(description="The computer is on the network without a cable")] = True
    hours_of_calls: Annotated[float, Field(ge=0, le=24, description="Calls on the same day [h]")] = 1
    people_at_home: bool = True
    doorbell: bool = True
    pets: bool = False
    cold: Annotated[bool, Field(description="Under 10 °C where it runs on a battery")] = False
    carried: Annotated[bool, Field(description="This place is away from home: what is used here is carried there")] = False
    gear_from: Annotated[
        str | None,
        Field(pattern=r"^[A-Z]{2}$", description="Country whose plugs the devices have, where it is not the place's: such as GB"),
    ] = None
    joins_by: Annotated[str, Field(max_length=200, description="How a guest joins: a link or a number")] = ""
    wishes_refused: Annotated[
        tuple[Annotated[str, Field(max_length=80)], ...], Field(max_length=40, description="What the log raised and is not wanted")
    ] = ()
    counts: Annotated[bool, Field(description="Space, battery, line and readiness count in the whole score")] = False
