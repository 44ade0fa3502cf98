"""Screens, cameras, lights and microphones: what looks, shines and listens."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from uphill_lamp.core.document.fields import CCT, Part, Point, Share, Thing, Yaw, metres

Entry = Annotated[str | None, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$", description="Its kind in the catalogue, where it is known")]
ScreenId = Annotated[str, Field(max_length=40, description="Id of the screen it belongs to")]
Tilt = Annotated[float, Field(ge=-90, le=90, description="Up positive [deg]")]


class ScreenWindow(Thing):
    """A part of a screen and what it shows; pixels from the screen's top left, as the presenter sees it."""

    shows: Literal["call", "notes", "self", "slides", "chat", "lamp"]
    left_px: Annotated[int, Field(ge=0, le=16000)]
    top_px: Annotated[int, Field(ge=0, le=16000)]
    width_px: Annotated[int, Field(ge=1, le=16000)]
    height_px: Annotated[int, Field(ge=1, le=16000)]


class Screen(Thing):
    """A screen. A laptop's position is the middle of its hinge, any other's the middle of the picture."""

    kind: Literal["laptop", "monitor", "tablet", "phone", "prompter_glass", "projection"]
    position: Point
    yaw_deg: Annotated[Yaw, Field(description="The way the picture looks, seen from above [deg]")]
    hinge_deg: Annotated[float | None, Field(ge=20, le=180, description="Opening between keys and lid, laptops only [deg]")] = None
    tilt_deg: Annotated[Tilt | None, Field(description="Up positive, all but laptops [deg]")] = None
    width_m: Annotated[float, metres(0.05, 4, "Width of the picture")]
    height_m: Annotated[float, metres(0.05, 3, "Height of the picture")]
    bezel_m: Annotated[float, metres(0, 0.1, "Hinge or foot of the glass to the lower edge of the picture")] = 0.012
    width_px: Annotated[int, Field(ge=100, le=16000)]
    height_px: Annotated[int, Field(ge=100, le=16000)]
    luminance_cd_m2: Annotated[float, Field(ge=0, le=5000, description="Of full white [cd/m2]")]
    white_share: Annotated[Share, Field(description="How much of it is white on average [no unit]")]
    cct_k: CCT = 6500
    on: bool = True
    windows: Annotated[tuple[ScreenWindow, ...], Field(max_length=12)] = ()

    @model_validator(mode="after")
    def _hinge_or_tilt(self) -> Self:
        if (self.kind == "laptop") != (self.hinge_deg is not None) or (self.kind == "laptop") == (self.tilt_deg is not None):
            raise ValueError("hinge_deg for a laptop, tilt_deg for any other screen")
        return self


class Lens(Part):
    """Either the angle across the diagonal, or focal length and sensor; a depth of field needs the second."""

    diagonal_fov_deg: Annotated[float | None, Field(ge=4, le=150, description="Corner to corner [deg]")] = None
    focal_length_m: Annotated[float | None, metres(0.001, 0.4, "Focal length")] = None
    sensor_width_m: Annotated[float, metres(0.001, 0.06, "Sensor, longer side")]
    sensor_height_m: Annotated[float, metres(0.001, 0.05, "Sensor, shorter side")]
    f_number: Annotated[float, Field(ge=0.7, le=32, description="[no unit]")]
    haze_share: Annotated[
        float, Field(ge=0, le=0.5, description="Of the light, scattered over the picture by dirt or a poor lens [no unit]")
    ] = 0

    @model_validator(mode="after")
    def _one_angle(self) -> Self:
        if (self.diagonal_fov_deg is None) == (self.focal_length_m is None):
            raise ValueError("either diagonal_fov_deg or focal_length_m, not both")
        return self


class Focus(Part):
    """How the lens is focused."""

    kind: Literal["fixed", "auto", "manual"]
    distance_m: Annotated[float | None, metres(0.02, 100, "Set distance")] = None
    nearest_m: Annotated[float | None, metres(0.01, 5, "Nearest the lens can focus; typical for its kind if absent")] = None


class WhiteBalance(Part):
    """How the camera decides what is white."""

    kind: Literal["auto", "locked"]
    cct_k: CCT | None = None


class Camera(Thing):
    """A camera. On a laptop's lid its place and aim follow from the lid; on a monitor its place follows."""

    kind: Literal["built_in", "webcam", "phone_front", "phone_rear", "capture"]
    mount: Literal["laptop_lid", "monitor_top", "tripod", "arm", "wall", "ceiling", "holder"]
    on_screen: ScreenId | None = None
    lens_offset_m: Annotated[float, metres(0, 0.6, "Lid: hinge to lens along the lid. Monitor: lens above the picture")] = 0
    position: Point | None = None
    yaw_deg: Annotated[Yaw | None, Field(description="Absent on a laptop's lid, which decides it [deg]")] = None
    tilt_deg: Annotated[Tilt | None, Field(description="Absent on a laptop's lid, which decides it [deg]")] = None
    roll_deg: Annotated[float, Field(ge=-180, le=180, description="Clockwise positive as its operator sees it [deg]")] = 0
    lens: Lens
    native_aspect: Annotated[float, Field(ge=0.4, le=2.5, description="Width by height of the sensor's picture")]
    output_width_px: Annotated[int, Field(ge=160, le=8000)]
    output_height_px: Annotated[int, Field(ge=120, le=8000)]
    fps: Annotated[float, Field(ge=5, le=240, description="Frames per second [1/s]")]
    anti_flicker: Annotated[Literal["own_choice", "50_hz", "60_hz"], Field(description="Its setting against lamps on the mains")] = (
        "own_choice"
    )
    orientation: Literal["landscape", "portrait"] = "landscape"
    zoom: Annotated[float, Field(ge=1, le=10, description="[no unit]")] = 1
    focus: Focus
    metering: Literal["average", "centre", "face", "locked"]
    locked_exposure_lx: Annotated[float | None, Field(ge=0.1, le=200000, description="Grey-card level exposed for [lx]")] = None
    white_balance: WhiteBalance
    latency_s: Annotated[float, Field(ge=0, le=2, description="Picture late by [s]")] = 0.05
    use: Literal["main", "bench_view", "spare"]
    entry: Entry = None
    framed_in: Annotated[
        Literal["nothing", "mirror", "second_screen"], Field(description="Where its picture is seen while it is set up, if not on itself")
    ] = "nothing"

    @model_validator(mode="after")
    def _mounted_wholly(self) -> Self:
        lid, top = self.mount == "laptop_lid", self.mount == "monitor_top"
        if (lid or top) != (self.on_screen is not None):
            raise ValueError("on_screen for a camera on a laptop's lid or a monitor, and only then")
        if (lid or top) == (self.position is not None):
            raise ValueError("position for a camera that stands by itself, and only then")
        if lid != (self.yaw_deg is None) or lid != (self.tilt_deg is None):
            raise ValueError("yaw_deg and tilt_deg for every camera but one on a laptop's lid")
        if (self.metering == "locked") != (self.locked_exposure_lx is not None):
            raise ValueError("locked_exposure_lx with metering 'locked', and only then")
        return self


class Diffuser(Part):
    """A cloth or box in front of a lamp, which then shines as an even area; or a shade all round a bulb."""

    transmittance: Share
    width_m: Annotated[float, metres(0.02, 3, "Width")]
    height_m: Annotated[float, metres(0.02, 3, "Height")]
    around: Annotated[bool, Field(description="A shade all round a bulb, which then shines as a ball of its size")] = False


class Photometry(Part):
    """Luminous intensities of a measured lamp by angle from its aim (type C)."""

    vertical_deg: Annotated[tuple[float, ...], Field(min_length=2, max_length=361, fail_fast=True)]
    horizontal_deg: Annotated[tuple[float, ...], Field(min_length=1, max_length=361, fail_fast=True)]
    candela: Annotated[tuple[Annotated[tuple[float, ...], Field(fail_fast=True)], ...], Field(min_length=1, max_length=361, fail_fast=True)]

    @model_validator(mode="after")
    def _square(self) -> Self:
        for angles in (self.vertical_deg, self.horizontal_deg):
            if any(b <= a for a, b in pairwise(angles)):
                raise ValueError("angles that rise from each to the next")
        if len(self.candela) != len(self.horizontal_deg) or any(len(row) != len(self.vertical_deg) for row in self.candela):
            raise ValueError("one row of candela per horizontal angle, one value per vertical angle")
        if any(value < 0 for row in self.candela for value in row):
            raise ValueError("no negative candela")
        return self


class Light(Thing):
    """A lamp."""

    kind: Literal["bulb", "cone", "panel", "strip", "ring", "file"]
    accent: Annotated[bool, Field(description="A deliberate coloured light on backdrop or side")] = False
    hue_deg: Annotated[float | None, Field(ge=0, lt=360, description="Of an accent [deg]")] = None
    position: Point
    aim_yaw_deg: Yaw = 0
    aim_tilt_deg: Tilt = 0
    flux_lm: Annotated[float, Field(ge=0, le=20000, description="At full power [lm]")]
    beam_deg: Annotated[float | None, Field(ge=5, le=180, description="Full angle of a cone [deg]")] = None
    width_m: Annotated[float | None, metres(0.005, 3, "Of a panel or strip; outer diameter of a ring")] = None
    height_m: Annotated[float | None, metres(0.005, 3, "Of a panel or strip")] = None
    photometry: Photometry | None = None
    cct_k: CCT
    cri: Annotated[float, Field(ge=0, le=100, description="Colour rendering [no unit]")] = 80
    duv: Annotated[float, Field(ge=-0.05, le=0.05, description="Off the white line [no unit]")] = 0
    on: bool
    dim: Annotated[Share, Field(description="1 at full power [no unit]")] = 1
    diffuser: Diffuser | None = None
    drive: Literal["mains", "dc"] = "mains"
    flicker_depth: Annotated[
        Share | None, Field(description="Ripple on the mains: (most - least) / (most + least); absent: usual of its kind")
    ] = None
    heat: Literal["cool", "warm", "hot"] = "cool"
    stands: Literal["desk", "floor", "clamp", "wall", "ceiling"]
    owned: bool = True
    entry: Entry = None

    @model_validator(mode="after")
    def _has_its_size(self) -> Self:
        if (self.kind == "cone") != (self.beam_deg is not None):
            raise ValueError("beam_deg for a cone, and only then")
        if self.kind in ("panel", "strip") and (self.width_m is None or self.height_m is None):
            raise ValueError("width_m and height_m for a panel or strip")
        if self.kind == "ring" and self.width_m is None:
            raise ValueError("width_m for a ring")
        if (self.kind == "file") != (self.photometry is not None):
            raise ValueError("photometry for a lamp from a file, and only then")
        if self.diffuser is not None and self.diffuser.around and self.kind != "bulb":
            raise ValueError("a shade all round a bulb only")
        if self.accent != (self.hue_deg is not None):
            raise ValueError("hue_deg for an accent, and only then")
        return self


class Reflector(Thing):
    """A white sheet or card hung upright beside the face, to throw light back at it; ``yaw_deg`` is the way its white side looks."""

    position: Point
    yaw_deg: Yaw
    tilt_deg: Tilt = 0
    width_m: Annotated[float, metres(0.05, 3, "Width")]
    height_m: Annotated[float, metres(0.05, 3, "Height")]
    reflectance: Share = 0.8


class FromMouth(Part):
    """Where a microphone held by the body is, from the middle of the lips."""

    forward_m: Annotated[float, metres(-0.2, 0.6, "In front")]
    left_m: Annotated[float, metres(-0.4, 0.4, "To the presenter's left")]
    up_m: Annotated[float, metres(-0.6, 0.3, "Above")]


class Input(Part):
    """What an XLR microphone is plugged into."""

    gain_max_db: Annotated[float, Field(ge=0, le=90, description="Most gain [dB]")] = 56
    full_scale_dbu: Annotated[float, Field(ge=-30, le=30, description="Level that fills the numbers at gain 0 [dBu]")] = 9
    ein_dbu: Annotated[float, Field(ge=-135, le=-60, description="Equivalent input noise, A-weighted [dBu]")] = -126
    phantom_48v: Annotated[bool, Field(description="Gives 48 V, switched on")] = True
    booster_db: Annotated[float, Field(ge=0, le=40, description="Clean gain of a booster before it [dB]")] = 0


BY_XLR = ("xlr_dynamic", "xlr_condenser", "shotgun")  # kinds that need an input of their own


class Microphone(Thing):
    """A microphone: held by the body, standing in the room, or part of a screen."""

    kind: Literal["built_in", "webcam", "earbud_cord", "headset", "lapel", "usb_desk", "xlr_dynamic", "xlr_condenser", "phone", "shotgun"]
    at: Literal["body", "room", "screen"]
    from_mouth: FromMouth | None = None
    position: Point | None = None
    on_screen: ScreenId | None = None
    aim_yaw_deg: Yaw = 0
    aim_tilt_deg: Tilt = 0
    pattern: Literal["omni", "subcardioid", "cardioid", "supercardioid", "figure_eight"]
    sensitivity_dbv: Annotated[float, Field(ge=-80, le=0, description="At 94 dB SPL [dBV]")]
    self_noise_db_a: Annotated[float, Field(ge=0, le=60, description="Equivalent noise [dB(A)]")]
    stand: Literal["body", "desk_stand", "boom_arm", "floor_stand", "device"]
    pop_filter: bool = False
    damped: Annotated[bool, Field(description="Stands on something soft, or hangs in a cradle")] = False
    input: Annotated[Input | None, Field(description="Of an XLR microphone; typical if absent")] = None
    in_use: bool
    entry: Entry = None

    @model_validator(mode="after")
    def _one_place(self) -> Self:
        given = {"body": self.from_mouth, "room": self.position, "screen": self.on_screen}
        if any((place is not None) != (where == self.at) for where, place in given.items()):
            raise ValueError("from_mouth for 'body', position for 'room', on_screen for 'screen', and none of the others")
        return self
