"""Towns of 15 000 people or more by name, offline (GeoNames, CC BY 4.0), and the mains and money of their countries."""

from __future__ import annotations

import csv
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path

HERE = Path(__file__).parent
MOST_SHOWN, MOST_TEXT = 12, 80
# Letters that no accent's removal makes plain.
PLAIN = str.maketrans({"ø": "o", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "æ": "ae", "œ": "oe", "ı": "i", "’": "'", "ʻ": "'"})
# Mains of 60 Hz, and of both; all others have 50 Hz (IEC 60038 and the lists of national supplies in IEC TR 60083).
SIXTY = frozenset(
    [
        "US",
        "CA",
        "MX",
        "GT",
        "BZ",
        "HN",
        "SV",
        "NI",
        "CR",
        "PA",
        "CU",
        "HT",
        "DO",
        "PR",
        "VI",
        "BS",
        "BM",
        "KY",
        "TC",
        "AI",
        "AG",
        "KN",
        "AW",
        "VG",
        "MS",
        "TT",
        "CO",
        "VE",
        "EC",
        "PE",
        "BR",
        "GY",
        "SR",
        "KR",
        "TW",
        "PH",
        "SA",
        "GU",
        "AS",
        "MP",
        "PW",
        "MH",
        "FM",
        "PF",
        "LR",
    ]
)
BOTH = frozenset({"JP"})


@dataclass(frozen=True)
class Town:
    """A town: its name, country (two letters), place [deg] and time zone."""

    name: str
    country: str
    latitude_deg: float
    longitude_deg: float
    timezone: str

    @property
    def label(self) -> str:
        """What it is called where it is chosen."""
        return f"{self.name}, {self.country}"


@cache
def towns() -> tuple[tuple[str, Town], ...]:
    """All towns with their plain names, the largest first."""
    with (HERE / "cities.csv").open(newline="") as file:
        rows = csv.DictReader(file)
        listed = [
            Town(row["name"], row["country"], float(row["latitude_deg"]), float(row["longitude_deg"]), row["timezone"]) for row in rows
        ]
    return tuple((plain(town.name), town) for town in listed)


def plain(text: str) -> str:
    """Letters without accents and case, so that ``Zürich`` and ``zurich`` are one."""
    folded = unicodedata.normalize("NFKD", text[:MOST_TEXT].casefold()).translate(PLAIN)
    return "".join(letter for letter in folded if not unicodedata.combining(letter)).strip()


def found(text: str, most: int = MOST_SHOWN) -> list[Town]:
    """Towns whose names begin with what was typed, then those that hold it, the largest first; a country's letters may follow a comma."""
    name, _, country = text.partition(",")
    wanted, letters = plain(name), country.strip().upper()
    if len(wanted) < 2:
        return []

    def fitting() -> Iterator[Town]:
        named = [(key, town) for key, town in towns() if wanted in key and town.country.startswith(letters)]
        yield from (town for key, town in named if key == wanted)
        yield from (town for key, town in named if key != wanted and key.startswith(wanted))
        yield from (town for key, town in named if not key.startswith(wanted))

    return [town for town, _ in zip(fitting(), range(most), strict=False)]


def exact(text: str) -> Town | None:
    """The town of a name, the largest of several; None for a name that is none."""
    name = plain(text.partition(",")[0])
    return next((town for town in found(text) if plain(town.name) == name), None)


def mains_hz(country: str) -> tuple[int, ...]:
    """The frequencies of a country's mains [Hz]."""
    return (50, 60) if country in BOTH else (60,) if country in SIXTY else (50,)


@cache
def _countries() -> dict[str, tuple[str, str]]:
    with (HERE / "countries.csv").open(newline="") as file:
        return {row["country"]: (row["name"], row["currency"]) for row in csv.DictReader(file)}


def country_name(country: str) -> str:
    """A country by its two letters; the letters where it is not known."""
    return _countries().get(country, (country, ""))[0]


@cache
def _sockets() -> dict[str, tuple[float, str]]:
    with (HERE / "sockets.csv").open(newline="") as file:
        return {row["country"]: (float(row["volts"]), row["plugs"]) for row in csv.DictReader(file)}


def mains_of(country: str) -> tuple[float, str] | None:
    """A country's mains [V], and the letters of the plugs that go into its sockets (IEC TR 60083); None where they are not known."""
    return _sockets().get(country)


def countries() -> tuple[tuple[str, str], ...]:
    """All countries by their letters and names, in the order of their names."""
    return tuple(sorted(((key, name) for key, (name, _) in _countries().items()), key=lambda pair: plain(pair[1])))


def currency_of(country: str) -> str:
    """A country's money by its three letters; empty where it is not known."""
    return _countries().get(country, ("", ""))[1]
