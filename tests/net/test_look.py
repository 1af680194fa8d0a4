"""What can be pointed at in a picture of a page on a phone: pages written for it, looked at by a real browser."""

import asyncio

import pytest
from PIL import Image

from openacorn.core.audit.checks.overflow import evaluate
from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.spots import PHONE_PX, Spot, SpotKind
from openacorn.net.probes.browser import BrowserProbe, spots_in
from openacorn.settings import Settings
from tests.net.serving import serving

FITTED = '<meta name="viewport" content="width=device-width, initial-scale=1"><title>Gull Vets</title>'
WIDE = '<div style="width:700px;background:#fc9">Our hours and prices in one table</div>'
NUMBER = "<p>Call us on (03) 5550 1234 today</p>"
PAGES = {
    "/fits": FITTED + "<h1>Gull Vets</h1><p>Come in.</p><p><a href='tel:+61355501234'>03 5550 1234</a></p>",
    "/wide": FITTED + NUMBER + WIDE + "<p style='font-size:8px'>This line is set in letters that nobody can read</p>",
    "/desk": f"<title>Gull Vets</title>{NUMBER}<p>We are here for all your animals from Monday to Friday</p>",
    "/below": FITTED + "<div style='height:2000px'></div>" + WIDE + NUMBER,
    "/covered": FITTED + NUMBER + WIDE + "<div style='position:fixed;inset:0;background:#fff'>We use cookies</div>",
    "/rude": FITTED + WIDE + "<script>document.createTreeWalker = () => { throw 1 }</script>",
}


async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    path = (await reader.readuntil(b"\r\n\r\n")).split()[1].decode()
    body = PAGES.get(path, "").encode()
    head = f"HTTP/1.1 {200 if body else 404} X\r\nContent-Type: text/html; charset=utf-8\r\nContent-Length: {len(body)}\r\nConnection: close\r\n\r\n"
    writer.write(head.encode() + body)
    await writer.drain()


@pytest.fixture(scope="module")
def looks() -> dict[str, tuple[Rendered, bytes]]:
    async def all_pages() -> dict[str, tuple[Rendered, bytes]]:
        probe = BrowserProbe(Settings(), allow_private=True)
        async with serving(answer) as base:
            seen = {path: await probe.look(base + path) for path in PAGES}
        return {path: (visit.rendered, visit.pictures["phone"]) for path, visit in seen.items()}

    return asyncio.run(all_pages())


@pytest.mark.world
@pytest.mark.browser
@pytest.mark.parametrize(
    ("path", "outcome", "kinds"),
    [("/fits", "ok", []), ("/wide", "gap", ["outside", "phone", "small"]), ("/desk", "gap", ["phone", "small"]), ("/below", "gap", []),
     ("/covered", "gap", []), ("/rude", "gap", [])],
)  # fmt: skip
def test_what_is_seen_is_pointed_at(
    path: str, outcome: str, kinds: list[str], looks: dict[str, tuple[Rendered, bytes]]
) -> None:
    rendered, _ = looks[path]
    assert evaluate(rendered).outcome == outcome
    assert sorted({str(spot.kind) for spot in rendered.spots}) == kinds


@pytest.mark.world
@pytest.mark.browser
def test_places_are_those_of_the_picture(
    looks: dict[str, tuple[Rendered, bytes]], tmp_path_factory: pytest.TempPathFactory
) -> None:
    """The coloured box is found in the picture by its colour: the frame is where it is, also on a page that is shown smaller."""
    rendered, body = looks["/wide"]
    path = tmp_path_factory.mktemp("look") / "phone.webp"
    path.write_bytes(body)
    with Image.open(path) as picture:
        assert picture.size == PHONE_PX
        points = picture.convert("RGB").load()
        assert points is not None
        coloured = [y for y in range(picture.height) if points[380, y][2] < 200]  # type: ignore[index]
    spot = next(spot for spot in rendered.spots if spot.kind is SpotKind.OUTSIDE)
    assert abs(spot.y - coloured[0]) <= 1
    assert abs(spot.y + spot.height - 1 - coloured[-1]) <= 1
    assert spot.x + spot.width == PHONE_PX[0]
    assert 0.3 < looks["/desk"][0].scale < 0.5


GOOD = {"kind": "small", "x": 1, "y": 2, "width": 30, "height": 4, "text": "x" * 900}


@pytest.mark.parametrize(
    "raw",
    [None, {}, "x", [None], [GOOD | {"kind": "joke"}], [GOOD | {"x": -1}], [GOOD | {"width": 900}], [GOOD | {"height": float("inf")}], [GOOD | {"y": "NaN"}], [{"x": 1}]],
)  # fmt: skip
def test_a_page_can_say_what_it_likes_of_itself(raw: object) -> None:
    assert spots_in(raw) == ()
    assert spots_in([GOOD] * 50)[0] == Spot(SpotKind.SMALL, 1, 2, 30, 4, "x" * 80)
    assert len(spots_in([GOOD] * 50)) == 12
