"""Comparisons of many pairs of listings at once, on columns."""

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt
from rapidfuzz import fuzz, process
from rapidfuzz.distance import JaroWinkler

from openacorn.core.match.normalise import ListingRecord, block_keys
from openacorn.core.trades.catalogue import is_trade

Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
Bytes = npt.NDArray[np.int8]

MANY = 20_000
"""Fewer texts are compared sooner by one thread than threads are begun, beside other work above all (measured in a run)."""

MAX_BLOCK = 60
"""Larger blocks are left out: a word so common tells nothing, and pairs grow with the square."""

EARTH_M = 6_371_008.8
HERE_M, NEAR_M, TOWN_M = 80.0, 400.0, 3000.0
CLOSE, CLOSE_WHOLE, ALIKE, PART, SHARED, WITHIN, BEGINS = 86.0, 90.0, 86.0, 70.0, 90.0, 100.0, 0.9
"""Similarities (0–100, rapidfuzz): telling words nearly the same; whole names nearly so (a slip in a dull word makes it look
telling); streets the same except for a slip; names that share a part, in order or not; all words of one in the other. BEGINS
(0–1, Jaro–Winkler): names that begin alike."""

SILENT = -1
"""The level of a field that one side lacks: it says nothing."""

FIELDS = ("name", "phone", "email", "site", "street", "place", "category")
LEVELS: dict[str, tuple[str, ...]] = {
    "name": ("same", "telling", "close", "part", "general", "unlike"),
    "phone": ("same", "other"),
    "email": ("same", "other"),
    "site": ("same", "other"),
    "street": ("same", "street", "number", "other"),
    "place": ("here", "near", "town", "far"),
    "category": ("same", "words", "other"),
}
"""Field → its levels, from most to least alike. name "telling": the same telling words among
other dull ones ("Grand Florist", "Grand Boatyard"); "general": the same words, none of which tells much; category "words":
unlike words, of which at least one names no trade we know."""


class ComparedColumns(NamedTuple):
    """Records as columns; texts as ids, -1 for unknown, with the texts behind them where they are compared letter by letter."""

    core: Ints
    full: Ints
    letters: Ints
    phone: Ints
    email: Ints
    domain: Ints
    page: Ints
    number: Ints
    street: Ints
    place: Ints
    category: Ints
    lat: Floats
    lon: Floats
    cores: list[str]
    fulls: list[str]
    spelled: list[str]
    streets: list[str]
    categories: list[str]
    places: list[str]


def _ids(values: Sequence[str]) -> tuple[Ints, list[str]]:
    """(id of each value, -1 for ""; the values by id)."""
    texts = [value for value in dict.fromkeys(values) if value]
    known = {value: number for number, value in enumerate(texts)} | {"": -1}
    return np.fromiter(map(known.__getitem__, values), np.int64, len(values)), texts


def columns_of(records: Sequence[ListingRecord]) -> ComparedColumns:
    """Turn records into columns."""
    by_field = zip(ListingRecord._fields, zip(*records, strict=True), strict=True) if records else ()
    values: dict[str, Sequence[Any]] = dict.fromkeys(ListingRecord._fields, ()) | dict(by_field)
    core, cores = _ids(values["core"])
    full, fulls = _ids(values["full"])
    letters, spelled = _ids(values["letters"])
    street, streets = _ids(values["street"])
    place, places = _ids([code or town for code, town in zip(values["postcode"], values["town"], strict=True)])
    category, categories = _ids(values["category"])
    return ComparedColumns(
        core=core, full=full, letters=letters, street=street, category=category, place=place,
        phone=_ids(values["phone"])[0], email=_ids(values["email"])[0], domain=_ids(values["domain"])[0],
        page=_ids(values["page"])[0], number=_ids(values["number"])[0],
        lat=np.radians(np.array(values["lat"], np.float64)), lon=np.radians(np.array(values["lon"], np.float64)),
        cores=cores, fulls=fulls, spelled=spelled, streets=streets, categories=categories, places=places,
    )  # fmt: skip


def candidate_pairs(records: Sequence[ListingRecord]) -> tuple[Ints, Ints]:
    """Positions (a, b), a before b, of records that share a block of at most MAX_BLOCK; each pair once."""
    known: dict[str, int] = {}
    keys: list[int] = []
    owners: list[int] = []
    for position, record in enumerate(records):
        for key in block_keys(record):
            keys.append(known.setdefault(key, len(known)))
            owners.append(position)
    owner = np.array(owners, np.int64)[np.argsort(np.array(keys, np.int64), kind="stable")]
    sizes = np.bincount(np.array(keys, np.int64), minlength=len(known)) if keys else np.zeros(0, np.int64)
    starts = np.concatenate(([0], np.cumsum(sizes)[:-1])) if len(sizes) else np.zeros(0, np.int64)
    codes = [np.zeros(0, np.int64)]
    for size in np.unique(sizes[(sizes > 1) & (sizes <= MAX_BLOCK)]).tolist():
        members = owner[starts[sizes == size][:, None] + np.arange(size)]
        left, right = np.triu_indices(size, 1)
        codes.append((members[:, left] * len(records) + members[:, right]).ravel())
    pairs = np.unique(np.concatenate(codes))
    return pairs // max(1, len(records)), pairs % max(1, len(records))


def _likeness(a: Ints, b: Ints, texts: Sequence[str], scorer: Any) -> Floats:
    """Similarity of texts by id, each distinct pair computed once; 0 where one is unknown."""
    codes, back = np.unique(np.minimum(a, b) * (len(texts) + 1) + np.maximum(a, b), return_inverse=True)
    low, high = codes // (len(texts) + 1), codes % (len(texts) + 1)
    known = low >= 0
    scores = np.zeros(len(codes))
    if known.any():
        left, right = [texts[i] for i in low[known]], [texts[i] for i in high[known]]
        workers = -1 if len(left) > MANY else 1
        scores[known] = process.cpdist(left, right, scorer=scorer, dtype=np.float32, workers=workers)
    return scores[back]


def _equality(a: Ints, b: Ints) -> Bytes:
    return np.where((a < 0) | (b < 0), SILENT, np.where(a == b, 0, 1)).astype(np.int8)


def _sites(columns: ComparedColumns, a: Ints, b: Ints) -> Bytes:
    """Own sites against own sites, pages on shared hosts against such: a site beside a social page contradicts nothing."""
    own = _equality(columns.domain[a], columns.domain[b])
    return np.where(own == SILENT, _equality(columns.page[a], columns.page[b]), own).astype(np.int8)


def _names(columns: ComparedColumns, a: Ints, b: Ints) -> Bytes:
    core_a, core_b = columns.core[a], columns.core[b]
    known = (core_a >= 0) & (core_b >= 0)
    order = _likeness(core_a, core_b, columns.cores, fuzz.ratio)
    part = _likeness(core_a, core_b, columns.cores, fuzz.token_set_ratio)
    whole = _likeness(columns.full[a], columns.full[b], columns.fulls, fuzz.ratio)
    whole = np.maximum(whole, _likeness(columns.letters[a], columns.letters[b], columns.spelled, fuzz.ratio))
    within = _likeness(columns.full[a], columns.full[b], columns.fulls, fuzz.token_set_ratio)
    begins = _likeness(columns.letters[a], columns.letters[b], columns.spelled, JaroWinkler.normalized_similarity)
    level = np.full(len(a), 5, np.int8)
    level[known & ((begins >= BEGINS) | (part >= SHARED) | (order >= PART))] = 3
    level[known & ((order >= CLOSE) | (whole >= CLOSE_WHOLE))] = 2
    level[known & (core_a == core_b)] = 1
    level[known & (core_a == core_b) & ((whole >= CLOSE_WHOLE) | (within >= WITHIN))] = 0
    level[~known & ((whole >= CLOSE) | (within >= WITHIN))] = 4
    level[(columns.full[a] < 0) | (columns.full[b] < 0)] = SILENT
    return level


def _streets(columns: ComparedColumns, a: Ints, b: Ints) -> Bytes:
    street_a, street_b, number_a, number_b = columns.street[a], columns.street[b], columns.number[a], columns.number[b]
    alike = (street_a == street_b) | (_likeness(street_a, street_b, columns.streets, fuzz.partial_ratio) >= ALIKE)
    level = np.where(alike, 2, 3).astype(np.int8)
    level[alike & ((number_a < 0) | (number_b < 0))] = 1
    level[alike & (number_a >= 0) & (number_a == number_b)] = 0
    level[(street_a < 0) | (street_b < 0)] = SILENT
    return level


def metres(columns: ComparedColumns, a: Ints, b: Ints) -> Floats:
    """Great-circle distance (haversine), nan where a pin is missing: half a percent is nothing beside a pin's own error."""
    lat_a, lat_b = columns.lat[a], columns.lat[b]
    half = (
        np.sin((lat_b - lat_a) / 2) ** 2
        + np.cos(lat_a) * np.cos(lat_b) * np.sin((columns.lon[b] - columns.lon[a]) / 2) ** 2
    )
    distance: Floats = 2 * EARTH_M * np.arcsin(np.sqrt(np.clip(half, 0, 1)))
    return distance


def _places(columns: ComparedColumns, a: Ints, b: Ints) -> Bytes:
    """By the pins where both have one; else another postcode or town says a little: suburbs go by several names."""
    away = metres(columns, a, b)
    level = np.digitize(away, (HERE_M, NEAR_M, TOWN_M)).astype(np.int8)
    by_name = _equality(columns.place[a], columns.place[b])
    alike = _likeness(columns.place[a], columns.place[b], columns.places, fuzz.token_set_ratio) >= WITHIN
    return np.where(np.isnan(away), np.where((by_name == 1) & ~alike, 2, SILENT), level).astype(np.int8)


def _categories(columns: ComparedColumns, a: Ints, b: Ints) -> Bytes:
    """The same trade or words; other trades; other words. Categories that share a word say nothing."""
    count = len(columns.categories)
    level = _equality(columns.category[a], columns.category[b])
    level[level == 1] = 2
    words = [None if is_trade(text) else set(text.split()) for text in columns.categories]
    other = np.flatnonzero(level == 2)
    codes, back = np.unique(columns.category[a[other]] * count + columns.category[b[other]], return_inverse=True)
    found = [_category_level(words[code // count], words[code % count]) for code in codes]
    if len(other):
        level[other] = np.array(found)[back]
    return level


def _category_level(a: set[str] | None, b: set[str] | None) -> int:
    """Level of two unequal categories, None for a trade of the catalogue."""
    if a is None or b is None:
        return 2 if a is b else 1
    return SILENT if a & b else 1


def compare(columns: ComparedColumns, a: Ints, b: Ints) -> dict[str, Bytes]:
    """Field → level of each pair (an index into LEVELS, or SILENT)."""
    return {
        "name": _names(columns, a, b),
        "phone": _equality(columns.phone[a], columns.phone[b]),
        "email": _equality(columns.email[a], columns.email[b]),
        "site": _sites(columns, a, b),
        "street": _streets(columns, a, b),
        "place": _places(columns, a, b),
        "category": _categories(columns, a, b),
    }
