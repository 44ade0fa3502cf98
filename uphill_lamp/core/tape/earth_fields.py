"""Where on Earth a setup is, by the name of a town; and its compass, by the sun in a window."""

from __future__ import annotations

from datetime import datetime

from uphill_lamp.core.catalogue.prices import catalogue
from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.patch import Operation, Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import Window
from uphill_lamp.core.earth.towns import Town, currency_of, exact, found, mains_hz
from uphill_lamp.core.scene.placing import WALLS
from uphill_lamp.core.scene.resizing import compass_turned_to
from uphill_lamp.core.scene.sun import sun_position_deg
from uphill_lamp.core.tape.field import Measured, Value

LOWEST_DEG, HIGHEST_DEG = 1.0, 80.0  # below it the sun is not seen to shine in, above it nobody can tell from where
COMPASS = "Compass from the sun"


def town_field() -> Measured:
    """The town; choosing one brings its place, time zone, country, mains and money."""
    return Measured(
        "town",
        "Town",
        "text",
        lambda s: s.place.label,
        _put_town,
        paths=("/place/label",),
        about="Type its name: accents and case do not matter.",
    )


def _put_town(setup: Setup, value: Value) -> Patch:
    text = str(value).strip()
    if text == setup.place.label:
        return (replace("/place/label", text),)
    town = exact(text)
    if town is None:
        near = ", ".join(town.label for town in found(text)[:3])
        raise Refused(
            [
                Fault(
                    "/#town",
                    repr(text[:40]),
                    f"a town of 15 000 people or more{f', such as {near}' if near else ''}; or type latitude and longitude",
                )
            ]
        )
    return at_town(setup, town)


def at_town(setup: Setup, town: Town) -> Patch:
    """A setup moved to a town: mains and money are its country's, and what may be spent is told in that money."""
    operations: list[Operation] = [
        replace("/place/label", town.name), replace("/place/latitude_deg", town.latitude_deg), replace("/place/longitude_deg", town.longitude_deg),
        replace("/place/timezone", town.timezone), replace("/place/country", town.country),
    ]  # fmt: skip
    hertz = mains_hz(town.country)
    if setup.place.mains_hz not in hertz:
        operations.append(replace("/place/mains_hz", hertz[0]))
    money, now = currency_of(town.country), setup.preferences.currency
    rates = catalogue().rates
    if money != now and money in rates and now in rates:
        factor = rates[money] / rates[now]
        operations.append(replace("/preferences/currency", money))
        for field in ("budget", "money_per_point"):
            operations.append(replace(f"/preferences/{field}", round(min(getattr(setup.preferences, field) * factor, 100000.0), 2)))
    return tuple(operations)


def sun_fields(window: Window) -> tuple[Measured, ...]:
    """When the sun shines straight in through a window, or just along its wall: any one of them tells the compass."""
    ways = (("straight", "The sun shines straight in on", 0.0), ("from_left", "It just comes along the wall from the window's left on", -90.0),
            ("from_right", "It just comes along the wall from the window's right on", 90.0))  # fmt: skip

    def field(key: str, label: str, aside_deg: float) -> Measured:
        def put(setup: Setup, value: Value) -> Patch:
            return compass_turned_to(bearing_from_sun(setup, window, str(value), aside_deg))

        return Measured(f"sun_{key}", label, "moment", lambda s: "", put, paths=("/room/north_bearing_deg",), fold=COMPASS,
                        about="A date and time at which you saw it. Seen from inside.")  # fmt: skip

    return tuple(field(*way) for way in ways)


def bearing_from_sun(setup: Setup, window: Window, seen_at: str, aside_deg: float = 0.0) -> float:
    """The compass bearing of up the drawing, from when the sun was seen through a window [deg].

    Args:
        seen_at: local date and time, such as ``2026-06-21T12:00``.
        aside_deg: where the sun stood against straight out of the window, seen from inside: to the right is plus [deg].

    Raises:
        Refused: if that is no time, or the sun was not up, or too high to tell from where it shone.
    """
    path = f"/windows/{window.id}#sun"
    try:
        moment = datetime.fromisoformat(seen_at).replace(tzinfo=None)
    except ValueError:
        raise Refused([Fault(path, repr(seen_at[:40]), "a date and time, such as 2026-06-21 12:00")]) from None
    if not 1950 <= moment.year <= 2100:
        raise Refused([Fault(path, f"the year {moment.year}", "a year from 1950 to 2100")])
    high_deg, azimuth_deg = sun_position_deg(setup.place.model_copy(update={"call_at": moment}))
    if not LOWEST_DEG <= high_deg <= HIGHEST_DEG:
        stands = "it is not up then" if high_deg < LOWEST_DEG else "it stands overhead then"
        raise Refused([Fault(path, f"the sun {high_deg:.0f}° up: {stands}", "a time at which the sun shone in")])
    outward_deg = WALLS[window.wall][2] + 180.0
    return (azimuth_deg - outward_deg - aside_deg) % 360
