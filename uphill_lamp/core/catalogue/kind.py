"""One kind of thing in the catalogue, and how its written cells are read."""

from __future__ import annotations

import math
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator

from uphill_lamp.core import cautions

Role = Literal[
    "support", "arm", "mount", "bulb", "lamp", "diffuser", "sheet", "covering", "glasses", "power", "microphone", "headphones", "input",
    "filter", "soft", "camera", "capture", "lens", "prompter", "screen", "keyboard", "cable", "adapter", "other",
]  # fmt: skip
CONNECTORS = (
    "usb_a", "usb_c", "usb_b", "usb_micro", "usb_mini", "trs", "trrs", "xlr_out", "hdmi", "hdmi_mini", "hdmi_micro", "phone_port", "mains",
)  # fmt: skip
ENTRY = r"^[a-z][a-z0-9_]{0,39}$"
MOST_PRICE = 100_000


def _no_formula(text: str) -> str:
    """A text that no spreadsheet would take for a formula, and no page for markup."""
    if text[:1] in "=+-@\t\r":
        raise ValueError("a text that does not begin with = + - or @")
    return text


Plain = Annotated[str, AfterValidator(_no_formula)]


# Kinds that no step, no wiring and no run sheet asks for yet, with what will: owning one changes nothing, and the catalogue says so.
NOTHING_YET = {
    "camera_menus": "cameras side by side: as it is its menus are sent along, so it is no step",
    "foam_box": "the sound of a microphone in a box",
    "usb_extension": "cables drawn as they lie, and how long they have to be",
}


class Kind(BaseModel):
    """A kind. ``ports`` are ends such as ``usb_a.plug``, or ways through such as ``hdmi.plug>usb_a.plug`` (takes, gives)."""

    model_config = ConfigDict(frozen=True, extra="forbid", str_strip_whitespace=True)

    entry: Annotated[str, Field(pattern=ENTRY, description="Its name in files and in a setup's drawer")]
    name: Annotated[Plain, Field(min_length=1, max_length=80)]
    role: Role
    price: Annotated[float, Field(ge=0, le=MOST_PRICE, description="Typical, in its currency")]
    currency: Annotated[str, Field(pattern=r"^[A-Z]{3}$")]
    priced_on: date
    mass_kg: Annotated[float, Field(ge=0, le=100, description="[kg]")] = 0
    power_w: Annotated[float, Field(ge=0, le=3000, description="What it draws [W]")] = 0
    ports: tuple[str, ...] = ()
    needs: Annotated[
        tuple[Annotated[str, Field(pattern=ENTRY)], ...], Field(max_length=12, description="Entries it does not work without")
    ] = ()
    attributes: dict[Annotated[str, Field(max_length=40)], Annotated[Plain, Field(max_length=80)]] = {}
    cautions: tuple[str, ...] = ()
    minutes_once: Annotated[float, Field(ge=0, le=600, description="To unpack it and put it together [min]")] = 10
    minutes_each_time: Annotated[float, Field(ge=0, le=600, description="To put it up again before a call, where it is put away [min]")] = 0
    own: bool = False

    @field_validator("ports")
    @classmethod
    def _known_ports(cls, ports: tuple[str, ...]) -> tuple[str, ...]:
        for port in ports:
            for end in port.split(">"):
                connector, _, sex = end.partition(".")
                if connector not in CONNECTORS or sex not in ("plug", "socket"):
                    raise ValueError(f"ends such as usb_a.plug, or usb_a.plug>usb_c.plug, of {', '.join(CONNECTORS)}; not {port[:40]!r}")
        return ports

    @field_validator("cautions")
    @classmethod
    def _known_cautions(cls, keys: tuple[str, ...]) -> tuple[str, ...]:
        for key in keys:
            if not isinstance(getattr(cautions, key.upper(), None), str):
                raise ValueError(f"cautions by their names, such as clamp or cables; not {key[:40]!r}")
        return keys

    def number(self, attribute: str, default: float = 0.0) -> float:
        """An attribute as a number; the default where it is missing or no finite number."""
        try:
            value = float(self.attributes[attribute])
        except (KeyError, ValueError):
            return default
        return value if math.isfinite(value) else default

    def figures(self, *names: str) -> dict[str, Any]:
        """Some attributes, those that are there, numbers as numbers."""
        attributes: dict[str, Any] = {}
        for name in names:
            if name in self.attributes:
                text = self.attributes[name]
                try:
                    attributes[name] = float(text)
                except ValueError:
                    attributes[name] = text
        return attributes

    @property
    def caution_words(self) -> tuple[str, ...]:
        """The cautions in plain words."""
        return tuple(getattr(cautions, key.upper()) for key in self.cautions)
