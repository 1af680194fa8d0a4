"""A GeoJSON feature collection (RFC 7946): a point a business, null where it has no pin."""

from collections.abc import Iterable, Iterator, Sequence

import orjson

from openacorn.core.export.format import Column, ExportRecord, Format

PLACES = 7
"""Digits after the point: about a centimetre (RFC 7946 section 11.2 warns of more than is known)."""


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield the collection feature by feature."""
    yield b'{"type":"FeatureCollection","features":['
    before = b"\n"
    for record in records:
        lat, lon = record.whole.get("lat"), record.whole.get("lon")
        point = None
        if isinstance(lat, int | float) and isinstance(lon, int | float):
            point = {"type": "Point", "coordinates": [round(lon, PLACES), round(lat, PLACES)]}
        properties = {column.id: cell for column, cell in zip(columns, record.cells, strict=True)}
        feature = {"type": "Feature", "id": record.whole.get("id"), "geometry": point, "properties": properties}
        yield before + orjson.dumps(feature)
        before = b",\n"
    yield b"\n]}\n"


FORMAT = Format(id="geojson", title="GeoJSON", media_type="application/geo+json", suffix="geojson", write=write)
