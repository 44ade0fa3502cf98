"""Where the sun stands, by a well-kept solar library."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.surroundings import Place


@lru_cache(maxsize=512)
def _sun(latitude_deg: float, longitude_deg: float, local: datetime, timezone: str) -> tuple[float, float]:
    """Apparent elevation and azimuth [deg] (NREL's SPA)."""
    import pandas  # both take most of a second to import: only when a sun is wanted
    from pvlib import solarposition

    instant = local.replace(tzinfo=ZoneInfo(timezone))
    times = pandas.DatetimeIndex([pandas.Timestamp(instant).tz_convert("UTC")])
    positions = solarposition.get_solarposition(times, latitude_deg, longitude_deg, altitude=0.0, temperature=12.0)
    return float(positions["apparent_elevation"].iloc[0]), float(positions["azimuth"].iloc[0])


def sun_position_deg(place: Place) -> tuple[float, float]:
    """Apparent elevation and compass azimuth of the sun at the call [deg]."""
    return _sun(place.latitude_deg, place.longitude_deg, place.call_at, place.timezone)


def sun_positions_deg(latitude_deg: float, longitude_deg: float, instants: NDArray[np.datetime64]) -> tuple[FloatArray, FloatArray]:
    """Apparent elevations and compass azimuths of the sun at many instants in UTC, each of shape (T,) [deg].

    By the ephemeris of the same library, ten times as quick as its full algorithm and within 0.05 degrees of it.
    """
    import pandas
    from pvlib import solarposition

    times = pandas.DatetimeIndex(instants, tz="UTC")
    positions = solarposition.ephemeris(times, latitude_deg, longitude_deg, pressure=101325.0, temperature=12.0)
    return positions["apparent_elevation"].to_numpy(), positions["azimuth"].to_numpy()
