"""The presenter and what is asked of the setup."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from uphill_lamp.core.document.areas import BY_KEY
from uphill_lamp.core.document.fields import Colour, Name, Part, Point, Share, Thing, Yaw, metres


class HeadSize(Part):
    """Distances of a face and body; the defaults are those of an average adult."""

    eyes_to_crown_m: Annotated[float, metres(0.06, 0.2, "Eyes to the top of the head")] = 0.115
    eyes_to_chin_m: Annotated[float, metres(0.06, 0.2, "Eyes to the chin")] = 0.115
    breadth_m: Annotated[float, metres(0.1, 0.25, "Breadth of the head")] = 0.155
    shoulders_m: Annotated[float, metres(0.2, 0.8, "Breadth of the shoulders")] = 0.42
    eyes_to_shoulders_m: Annotated[float, metres(0.1, 0.35, "Eyes down to the shoulders")] = 0.19
    eyes_to_waist_m: Annotated[float, metres(0.3, 0.9, "Eyes down to the waist")] = 0.54
    pupils_m: Annotated[float, metres(0.04, 0.09, "Between the pupils")] = 0.063


class Garment(Thing):
    """Something worn, as far as a camera minds it."""

    kind: Literal["top", "jacket", "scarf", "jewellery", "hat"]
    colour: Colour
    reflectance: Share
    pattern: Literal["plain", "stripe", "check"] = "plain"
    pitch_m: Annotated[float, metres(0, 0.5, "Repeat of the pattern; 0 if plain")] = 0
    worn_at: Annotated[Literal["neck", "ears", "wrists"] | None, Field(description="Where jewellery is worn; the neck if not said")] = None


class Presenter(Part):
    """Who sits or stands there. Left and right are the presenter's own."""

    x_m: Annotated[float, metres(0, 12, "Middle of the eyes, along the width of the room")]
    y_m: Annotated[float, metres(0, 12, "Middle of the eyes, along the depth of the room")]
    eye_height_m: Annotated[float, metres(0.5, 2.2, "Eyes above the floor")]
    facing_yaw_deg: Yaw
    posture: Literal["sitting", "standing"]
    head: HeadSize = HeadSize()
    glasses: Literal["none", "plain", "anti_reflective"]
    skin_matt: Annotated[bool, Field(description="Forehead and nose are blotted or powdered")] = False
    glasses_tipped_deg: Annotated[float, Field(ge=0, le=15, description="How far their arms are raised behind the ears [deg]")] = 0
    glasses_transmittance: Annotated[
        float, Field(ge=0.02, le=1, description="Light that their lenses let through; 1 clear, 0.2 sunglasses [no unit]")
    ] = 1
    brim_m: Annotated[float, metres(0, 0.2, "How far a hat brim stands out; 0 without")] = 0
    skin_reflectance: Annotated[Share, Field(description="For the drawing only; no verdict uses it [no unit]")]
    hair_colour: Colour = "#4a3527"
    hair: Literal["short", "long", "tied", "covered", "none"] = "short"
    face: Literal["even", "round", "long", "square"] = "even"
    voice_effort: Literal["relaxed", "normal", "raised", "loud"]
    voice: Literal["female", "male"]
    clothing: Annotated[tuple[Garment, ...], Field(max_length=12)]
    handedness: Literal["right", "left"] = "right"
    chair: Annotated[
        Literal["none", "low_back", "high_back"], Field(description="The back of what is sat on, as far as a camera may see it")
    ] = "none"
    chair_colour: Annotated[Colour, Field(description="Of the chair's back")] = "#3a3d44"
    paper_notes: Annotated[Point | None, Field(description="Where notes on paper lie or hang")] = None


class Computer(Part):
    """What runs the call."""

    kind: Literal["laptop", "desktop", "phone", "tablet"]
    system: Literal["desktop", "mobile", "unknown"] = "unknown"
    age_years: Annotated[float, Field(ge=0, le=30, description="[years]")] = 4
    ports: Annotated[tuple[Literal["usb_a", "usb_c", "trs", "trrs", "hdmi", "phone_port", "mains"], ...], Field(max_length=24)]
    strained: Annotated[bool, Field(description="Blur, capture and encoding at once are too much for it")] = False
    listening: Annotated[Literal["loudspeakers", "headphones"], Field(description="How the presenter hears the far side")]
    loudspeaker_db_a: Annotated[float, Field(ge=30, le=100, description="The far side's voice 1 m from the loudspeakers [dB(A)]")] = 58
    separate_keyboard: Annotated[bool, Field(description="Keys of its own stand on the desk, apart from a laptop's")] = False
    noise_removal: Annotated[bool, Field(description="The system's own removal of noise, or the call's, is on")] = False
    loudspeakers_on: Annotated[str | None, Field(max_length=40, description="Id of the screen they sit in")] = None


class Call(Part):
    """What the picture and sound are for."""

    destination: Literal["call_tile", "webinar", "recorded_lesson", "vertical_clip", "square", "interview", "hands_on"]
    output_aspect: Annotated[float, Field(ge=0.4, le=2.5, description="Width by height [no unit]")]
    upload_mbit_s: Annotated[float, Field(ge=0, le=10000, description="[Mbit/s]")] = 8
    download_mbit_s: Annotated[float, Field(ge=0, le=10000, description="[Mbit/s]")] = 30
    slides: Literal["none", "beside", "corner", "screen_behind"] = "none"
    name_strip: bool = False
    sound_delay_s: Annotated[float, Field(ge=0, le=2, description="The sound is held back by [s]")] = 0
    recording: Annotated[bool, Field(description="Live, and kept as well")] = False
    use: Annotated[Literal["live", "audience", "recorded"], Field(description="A live call, live to an audience, or recorded")] = "live"
    picture: Annotated[bool, Field(description="Whether there is a picture at all; a call may be sound alone")] = True
    repeats: Literal["no", "weekly"] = "no"
    falls_out: Annotated[tuple[date, ...], Field(max_length=60, description="Days on which a weekly call is not held")] = ()
    plays_sound: Annotated[bool, Field(description="Something is played out loud while it is recorded")] = False
    kept_on: Annotated[Literal["computer", "camera"], Field(description="What a recording is kept on")] = "computer"


class OnPurpose(Part):
    """Something to fix that is meant to be so, until its figure moves by more than half its band."""

    finding: Annotated[str, Field(pattern=r"^[a-z][a-z0-9_.-]{0,79}$", description="Id of the finding")]
    reason: Annotated[str, Field(max_length=200)] = ""
    on: Annotated[date, Field(description="Day it was said")]
    values: Annotated[dict[str, float], Field(max_length=12, description="Its figures on that day, by the measure's id")] = {}


class Kit(Thing):
    """Something owned that is not in use, by its catalogue entry."""

    entry: Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
    thickness_m: Annotated[float | None, Field(ge=0.002, le=0.3, description="Of a book [m]")] = None
    count: Annotated[int, Field(ge=1, le=60)] = 1


Weight = Annotated[float, Field(ge=0, le=100)]


class Weights(Part):
    """How much each area counts in the whole."""

    sound: Weight = BY_KEY["sound"].weight
    light: Weight = BY_KEY["light"].weight
    frame: Weight = BY_KEY["frame"].weight
    eyes: Weight = BY_KEY["eyes"].weight
    backdrop: Weight = BY_KEY["backdrop"].weight


StepId = Annotated[str, Field(pattern=r"^[a-z][A-Za-z0-9_.@-]{0,119}$")]


class Preferences(Part):
    """The schools chosen, what counts, and what may be spent."""

    camera_height: Literal["eye_level", "slightly_above"] = "eye_level"
    shot: Literal["call_tile", "head_and_shoulders", "waist"] = "call_tile"
    side_position: Literal["centred", "third"] = "centred"
    look: Literal["even", "filled", "shaped", "dramatic", "coloured"] = "even"
    background: Literal["plain", "point_of_interest", "blurred"] = "point_of_interest"
    microphone_in_picture: bool = True
    headset_allowed: bool = True
    weights: Weights = Weights()
    budget: Annotated[float, Field(ge=0, le=100000, description="What may be spent, in the currency")] = 0
    currency: Annotated[str, Field(pattern=r"^[A-Z]{3}$", description="Three letters, such as GBP")] = "GBP"
    units: Literal["cm", "inch"] = "cm"
    money_per_point: Annotated[
        float, Field(ge=0, le=100000, description="A step that asks more for a point is not worth it, in the currency")
    ] = 25
    no_holes: Annotated[bool, Field(description="Nothing may be drilled: rented rooms, tiles")] = False
    rig_stays: Annotated[bool, Field(description="What is set up stays so between calls, and takes no minutes again")] = True
    minutes_each_time: Annotated[
        float | None, Field(ge=0, le=600, description="At most so long to set up before each call, where nothing stays [min]")
    ] = None
    never: Annotated[tuple[StepId, ...], Field(max_length=60, description="Steps not to be proposed")] = ()
    must: Annotated[tuple[StepId, ...], Field(max_length=60, description="Steps that are wanted whatever they cost")] = ()


class Port(Part):
    """One end of a cable."""

    device: Annotated[str, Field(max_length=40)]
    port: Annotated[str, Field(max_length=40)]


class Link(Thing):
    """A cable or adapter between two ports."""

    kind: Annotated[str, Field(max_length=40)]
    begin: Port
    end: Port
    length_m: Annotated[float, metres(0, 50, "Length")] = 1


class Chain(Part):
    """How microphone and camera reach the computer."""

    devices: Annotated[tuple[Name, ...], Field(max_length=30)] = ()
    links: Annotated[tuple[Link, ...], Field(max_length=60)] = ()
