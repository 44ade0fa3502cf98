"""Typical things: what stands in for a value nobody has entered yet.

Working values, one place for each. Lenses and sensors are those of common built-in cameras; microphone figures are mid-range
for their kind; lamps are the household lamps of the label.
"""

from __future__ import annotations

import math
from typing import Any

Json = dict[str, Any]


# What a computer of a kind usually has.
USUAL_PORTS: dict[str, list[str]] = {
    "laptop": ["usb_a", "usb_c", "trrs", "hdmi"], "desktop": ["usb_a", "usb_a", "usb_a", "usb_c", "trs", "hdmi"], "phone": ["phone_port"], "tablet": ["usb_c"],
}  # fmt: skip


def point(x_m: float, y_m: float, z_m: float) -> Json:
    """A Point as plain data, to the millimetre."""
    return {"x_m": round(x_m, 3), "y_m": round(y_m, 3), "z_m": round(z_m, 3)}


def covering(kind: str) -> Json:
    """What hangs before a pane: share of light let through, and whether the pane then glows evenly."""
    transmittance, diffuses = {"none": (1.0, False), "sheer": (0.5, True), "blind": (0.25, True), "blackout": (0.0, True)}[kind]
    return {"kind": kind, "transmittance": transmittance, "diffuses": diffuses}


def window(id_: str, name: str, wall: str, centre_m: float, **changes: Any) -> Json:
    """A domestic window, 1.2 m square above a sill of 0.9 m, double glazed."""
    return {
        "id": id_, "name": name, "wall": wall, "centre_m": round(centre_m, 3), "sill_m": 0.9, "width_m": 1.2, "height_m": 1.2,
        "glass_transmittance": 0.75, "covering": covering("none"), "obstruction_deg": 10.0,
    } | changes  # fmt: skip


def room(width_m: float = 3.2, depth_m: float = 3.6) -> Json:
    """A small furnished spare room with light walls."""
    return {
        "width_m": width_m, "depth_m": depth_m, "height_m": 2.4, "north_bearing_deg": 0.0,
        "surfaces": {"floor": "carpet_thin", "ceiling": "plaster_white", "wall_x0": "plaster_light", "wall_x1": "plaster_light",
                     "wall_y0": "plaster_light", "wall_y1": "plaster_light"},
        "furnishings": [
            {"id": "person", "name": "You", "kind": "person", "count": 1},
            {"id": "bookcase", "name": "Bookcase", "kind": "bookcase", "count": 1},
        ],
        "windows": [],
    }  # fmt: skip


def presenter(x_m: float, y_m: float, facing_yaw_deg: float, eye_height_m: float = 1.2) -> Json:
    """A seated adult on an ordinary chair."""
    return {
        "x_m": round(x_m, 3), "y_m": round(y_m, 3), "eye_height_m": eye_height_m, "facing_yaw_deg": facing_yaw_deg, "posture": "sitting",
        "glasses": "none", "skin_reflectance": 0.4, "voice_effort": "normal", "voice": "female",
        "clothing": [{"id": "top", "name": "Top", "kind": "top", "colour": "#3c5a73", "reflectance": 0.2}],
    }  # fmt: skip


def call_window(width_px: int, height_px: int, shows: str = "call") -> Json:
    """A call window that fills the middle of its screen."""
    return {
        "id": shows, "name": {"call": "Call", "notes": "Notes"}[shows], "shows": shows,
        "left_px": width_px // 6, "top_px": height_px // 6, "width_px": 2 * width_px // 3, "height_px": 2 * height_px // 3,
    }  # fmt: skip


def laptop(position: Json, yaw_deg: float, hinge_deg: float = 110.0) -> Json:
    """A laptop of 14 inches."""
    return {
        "id": "laptop", "name": "Laptop", "kind": "laptop", "position": position, "yaw_deg": yaw_deg, "hinge_deg": hinge_deg,
        "width_m": 0.31, "height_m": 0.174, "width_px": 1920, "height_px": 1080, "luminance_cd_m2": 250.0, "white_share": 0.5,
        "windows": [call_window(1920, 1080)],
    }  # fmt: skip


def monitor(position: Json, yaw_deg: float) -> Json:
    """A desk monitor of 24 inches."""
    return {
        "id": "monitor", "name": "Monitor", "kind": "monitor", "position": position, "yaw_deg": yaw_deg, "tilt_deg": 0.0,
        "width_m": 0.53, "height_m": 0.3, "width_px": 1920, "height_px": 1080, "luminance_cd_m2": 250.0, "white_share": 0.5,
        "windows": [call_window(1920, 1080)],
    }  # fmt: skip


def phone_screen(position: Json, yaw_deg: float, tilt_deg: float) -> Json:
    """A phone's glass, standing upright beside its front camera."""
    return {
        "id": "phone", "name": "Phone", "kind": "phone", "position": position, "yaw_deg": yaw_deg, "tilt_deg": tilt_deg,
        "width_m": 0.145, "height_m": 0.067, "width_px": 2340, "height_px": 1080, "luminance_cd_m2": 400.0, "white_share": 0.5,
        "windows": [call_window(2340, 1080)],
    }  # fmt: skip


def tablet(position: Json, yaw_deg: float) -> Json:
    """A tablet on a stand."""
    return {
        "id": "tablet", "name": "Tablet", "kind": "tablet", "position": position, "yaw_deg": yaw_deg, "tilt_deg": 15.0,
        "width_m": 0.23, "height_m": 0.16, "width_px": 2360, "height_px": 1640, "luminance_cd_m2": 400.0, "white_share": 0.5,
        "windows": [],
    }  # fmt: skip


def prompter(position: Json, yaw_deg: float) -> Json:
    """A prompter's glass, as its reader sees it."""
    return {
        "id": "prompter", "name": "Prompter glass", "kind": "prompter_glass", "position": position, "yaw_deg": yaw_deg, "tilt_deg": 0.0,
        "width_m": 0.25, "height_m": 0.18, "width_px": 1920, "height_px": 1080, "luminance_cd_m2": 120.0, "white_share": 0.15,
        "windows": [call_window(1920, 1080, "notes")],
    }  # fmt: skip


def projection(position: Json, yaw_deg: float) -> Json:
    """A large screen behind somebody, that shows slides."""
    return {
        "id": "projection", "name": "Screen behind me", "kind": "projection", "position": position, "yaw_deg": yaw_deg, "tilt_deg": 0.0,
        "width_m": 1.2, "height_m": 0.68, "width_px": 1920, "height_px": 1080, "luminance_cd_m2": 200.0, "white_share": 0.6, "windows": [],
    }  # fmt: skip


def towards(place: Json, x_m: float, y_m: float, z_m: float) -> tuple[float, float]:
    """Yaw and tilt from one place to another [deg]."""
    along = math.hypot(x_m - place["x_m"], y_m - place["y_m"])
    return round(math.degrees(math.atan2(x_m - place["x_m"], y_m - place["y_m"])), 1), round(
        math.degrees(math.atan2(z_m - place["z_m"], max(along, 1e-6))), 1
    )


_CAMERAS: dict[str, Json] = {
    "built_in": {
        "lens": {"diagonal_fov_deg": 74.0, "sensor_width_m": 0.0036, "sensor_height_m": 0.002, "f_number": 2.4},
        "native_aspect": 16 / 9, "output_width_px": 1280, "output_height_px": 720, "fps": 30.0,
    },
    "webcam": {
        "lens": {"diagonal_fov_deg": 78.0, "sensor_width_m": 0.0048, "sensor_height_m": 0.0027, "f_number": 2.0},
        "native_aspect": 16 / 9, "output_width_px": 1920, "output_height_px": 1080, "fps": 30.0,
    },
    "phone_front": {
        "lens": {"diagonal_fov_deg": 80.0, "sensor_width_m": 0.0047, "sensor_height_m": 0.0035, "f_number": 2.2},
        "native_aspect": 4 / 3, "output_width_px": 1920, "output_height_px": 1080, "fps": 30.0,
    },
    "phone_rear": {
        "lens": {"diagonal_fov_deg": 79.0, "sensor_width_m": 0.0098, "sensor_height_m": 0.0055, "f_number": 1.8},
        "native_aspect": 4 / 3, "output_width_px": 1920, "output_height_px": 1080, "fps": 30.0,
    },
    "capture": {
        "lens": {"focal_length_m": 0.023, "sensor_width_m": 0.0235, "sensor_height_m": 0.0156, "f_number": 2.8},
        "native_aspect": 3 / 2, "output_width_px": 1920, "output_height_px": 1080, "fps": 30.0, "latency_s": 0.12,
    },
}  # fmt: skip


def camera(kind: str, mount: str, **changes: Any) -> Json:
    """A camera of a kind, the main one."""
    focus = {"kind": "fixed" if kind == "built_in" else "auto"}
    common = {"id": "camera", "name": "Camera", "focus": focus, "metering": "average", "white_balance": {"kind": "auto"}, "use": "main"}
    return common | {"kind": kind, "mount": mount} | _CAMERAS[kind] | changes


def lid_camera() -> Json:
    """The camera above a laptop's picture, seen from the hinge: picture, lower rim and a little."""
    return camera("built_in", "laptop_lid", name="Laptop camera", on_screen="laptop", lens_offset_m=0.195)


_LAMPS: dict[str, Json] = {
    "ceiling_lamp": {"kind": "bulb", "flux_lm": 1000.0, "cct_k": 2700.0, "stands": "ceiling", "drive": "mains", "heat": "warm"},
    "desk_lamp": {"kind": "cone", "beam_deg": 100.0, "flux_lm": 470.0, "cct_k": 2700.0, "stands": "desk", "heat": "warm"},
    "daylight_desk_lamp": {"kind": "cone", "beam_deg": 100.0, "flux_lm": 800.0, "cct_k": 5000.0, "cri": 92.0, "stands": "desk"},
    "floor_lamp": {"kind": "bulb", "flux_lm": 800.0, "cct_k": 2700.0, "stands": "floor", "heat": "warm"},
    "phone_torch": {"kind": "cone", "beam_deg": 120.0, "flux_lm": 60.0, "cct_k": 6000.0, "cri": 75.0, "stands": "desk", "drive": "dc"},
    "ring": {"kind": "ring", "width_m": 0.25, "flux_lm": 1000.0, "cct_k": 5000.0, "cri": 90.0, "stands": "desk", "drive": "dc"},
    "strip": {"kind": "strip", "width_m": 0.6, "height_m": 0.02, "flux_lm": 600.0, "cct_k": 4000.0, "cri": 85.0, "stands": "desk", "drive": "dc"},
    "accent": {"kind": "cone", "beam_deg": 90.0, "flux_lm": 200.0, "cct_k": 3000.0, "accent": True, "hue_deg": 200.0, "stands": "floor", "drive": "dc"},
    "small_panel": {"kind": "panel", "width_m": 0.2, "height_m": 0.15, "flux_lm": 900.0, "cct_k": 5000.0, "cri": 95.0, "stands": "desk", "drive": "dc"},
}  # fmt: skip


def light(entry: str, id_: str, name: str, position: Json, **changes: Any) -> Json:
    """A household lamp of a kind, switched on."""
    return {"id": id_, "name": name, "position": position, "on": True} | _LAMPS[entry] | changes


def shines_all_round(entry: str) -> bool:
    """Whether a household lamp of a kind has no aim."""
    return bool(_LAMPS[entry]["kind"] == "bulb")


_MICROPHONES: dict[str, Json] = {
    "built_in": {"pattern": "omni", "sensitivity_dbv": -38.0, "self_noise_db_a": 30.0, "stand": "device"},
    "webcam": {"pattern": "omni", "sensitivity_dbv": -38.0, "self_noise_db_a": 30.0, "stand": "device"},
    "phone": {"pattern": "omni", "sensitivity_dbv": -38.0, "self_noise_db_a": 28.0, "stand": "device"},
    "earbud_cord": {"pattern": "omni", "sensitivity_dbv": -42.0, "self_noise_db_a": 30.0, "stand": "body"},
    "headset": {"pattern": "cardioid", "sensitivity_dbv": -42.0, "self_noise_db_a": 28.0, "stand": "body"},
    "lapel": {"pattern": "omni", "sensitivity_dbv": -40.0, "self_noise_db_a": 27.0, "stand": "body"},
    "usb_desk": {"pattern": "cardioid", "sensitivity_dbv": -36.0, "self_noise_db_a": 20.0, "stand": "desk_stand"},
    "xlr_dynamic": {"pattern": "cardioid", "sensitivity_dbv": -55.0, "self_noise_db_a": 18.0, "stand": "boom_arm"},
    "xlr_condenser": {"pattern": "cardioid", "sensitivity_dbv": -34.0, "self_noise_db_a": 12.0, "stand": "boom_arm"},
    "shotgun": {"pattern": "supercardioid", "sensitivity_dbv": -32.0, "self_noise_db_a": 14.0, "stand": "boom_arm"},
}  # fmt: skip

# Where a microphone sits that the body carries, from the middle of the lips.
WORN: dict[str, Json] = {
    "headset": {"forward_m": 0.015, "left_m": 0.035, "up_m": -0.02},
    "earbud_cord": {"forward_m": -0.03, "left_m": 0.06, "up_m": -0.13},
    "lapel": {"forward_m": 0.01, "left_m": 0.02, "up_m": -0.2},
}


def microphone(kind: str, id_: str, name: str, in_use: bool = True, **changes: Any) -> Json:
    """A microphone of a kind; worn ones come with the place they are worn at."""
    where: Json = {"at": "body", "from_mouth": WORN[kind]} if kind in WORN else {}
    return {"id": id_, "name": name, "kind": kind, "in_use": in_use} | _MICROPHONES[kind] | where | changes


_NOISES: dict[str, Json] = {
    "room": {"name": "Room and street", "curve": "street", "level_db_a": 33.0, "steady": True},
    "street": {"name": "Street", "curve": "street", "level_db_a": 35.0, "steady": True},
    "people": {"name": "People next door", "curve": "people", "level_db_a": 35.0, "steady": False},
    "hum": {"name": "Hum", "curve": "hum", "level_db_a": 30.0, "steady": True},
    "own": {"name": "Another noise", "curve": "own", "level_db_a": 40.0, "octaves_db": [0.0] * 7, "steady": True, "can_be_stopped": True},
    "fridge": {"name": "Fridge", "curve": "fridge", "level_db_a": 40.0, "steady": True, "can_be_stopped": True},
    "fan": {"name": "Fan", "curve": "fan", "level_db_a": 45.0, "steady": True, "can_be_stopped": True},
    "clocks": {"name": "Ticking clocks", "curve": "clocks", "level_db_a": 42.0, "steady": True, "can_be_stopped": True},
    "computer": {"name": "Computer fan", "curve": "computer", "level_db_a": 32.0, "steady": True},
}  # fmt: skip


def noise(entry: str, **changes: Any) -> Json:
    """A common noise."""
    return {"id": entry} | _NOISES[entry] | changes


_BACKDROP: dict[str, Json] = {
    "shelf": {"name": "Shelf", "width_m": 0.9, "height_m": 1.1, "colour": "#7a5a3c", "reflectance": 0.25, "wanted": True},
    "bookcase": {"name": "Bookcase", "width_m": 0.9, "height_m": 1.9, "colour": "#7a5a3c", "reflectance": 0.25, "wanted": True},
    "plant": {"name": "Plant", "width_m": 0.45, "height_m": 0.8, "colour": "#4d6b3f", "reflectance": 0.2, "wanted": True},
    "picture": {"name": "Picture", "width_m": 0.6, "height_m": 0.45, "colour": "#8a9a8c", "reflectance": 0.4, "wanted": True},
    "clock": {"name": "Wall clock", "width_m": 0.3, "height_m": 0.3, "colour": "#d8cdb4", "reflectance": 0.6, "wanted": True},
    "door": {"name": "Door", "width_m": 0.8, "height_m": 2.0, "colour": "#cfc6b4", "reflectance": 0.55, "wanted": False},
    "bed": {"name": "Bed", "width_m": 1.4, "height_m": 0.55, "colour": "#b9b2c4", "reflectance": 0.5, "wanted": False},
    "screen": {"name": "Lit screen", "width_m": 0.6, "height_m": 0.35, "colour": "#c8d4dc", "reflectance": 0.05, "luminance_cd_m2": 150.0,
               "wanted": False, "x_height_m": 0.003},
    "green_screen": {"name": "Green screen", "width_m": 2.0, "height_m": 2.0, "colour": "#3f9a4d", "reflectance": 0.35, "wanted": True},
    "plain_wall": {"name": "Plain board", "width_m": 1.5, "height_m": 1.8, "colour": "#cfc8ba", "reflectance": 0.6, "wanted": True},
    "clutter": {"name": "Clutter", "width_m": 0.8, "height_m": 0.6, "colour": "#8c7a6a", "reflectance": 0.3, "wanted": False},
    "folding_screen": {"name": "Folding screen", "width_m": 1.5, "height_m": 1.8, "colour": "#c2b59c", "reflectance": 0.5, "wanted": True},
    "sheet": {"name": "Hung sheet", "width_m": 1.6, "height_m": 2.0, "colour": "#e8e4da", "reflectance": 0.75, "wanted": True},
    "curtain": {"name": "Curtain behind", "width_m": 1.6, "height_m": 2.2, "colour": "#7f7388", "reflectance": 0.25, "wanted": True},
    "mirror": {"name": "Mirror", "width_m": 0.6, "height_m": 1.2, "colour": "#8f99a0", "reflectance": 0.4, "wanted": False},
    "clothes_rail": {"name": "Clothes rail", "width_m": 1.1, "height_m": 1.6, "colour": "#5f5a58", "reflectance": 0.15, "wanted": False},
    "board": {"name": "Whiteboard", "width_m": 1.2, "height_m": 0.9, "colour": "#f2f2ee", "reflectance": 0.75, "wanted": True, "x_height_m": 0.02},
    "papers": {"name": "Papers", "width_m": 0.7, "height_m": 0.6, "colour": "#f0eee6", "reflectance": 0.7, "wanted": False, "x_height_m": 0.0022},
    "cloth": {"name": "Coloured cloth", "width_m": 2.0, "height_m": 2.0, "colour": "#6f7f92", "reflectance": 0.2, "wanted": True},
}  # fmt: skip


def backdrop(kind: str, id_: str, position: Json, **changes: Any) -> Json:
    """Something behind the presenter."""
    return {"id": id_, "kind": kind, "position": position} | _BACKDROP[kind] | changes


def ahead(x_m: float, y_m: float, yaw_deg: float, forward_m: float, left_m: float = 0.0) -> tuple[float, float]:
    """The floor point forward and to the left of another as seen by one who faces ``yaw_deg``."""
    yaw = math.radians(yaw_deg)
    return (
        x_m + forward_m * math.sin(yaw) - left_m * math.cos(yaw),
        y_m + forward_m * math.cos(yaw) + left_m * math.sin(yaw),
    )
