"""Pictures of an old website: which ones pages show, as the HTML standard says it, and what is made of one."""

import io
import struct
import zlib

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from openacorn.core.starter.pictures import WIDTHS, PictureError, find_pictures, prepare

PAGE = "https://old.example/about/us.html"


def jpeg(width: int, height: int, **options: object) -> bytes:
    out = io.BytesIO()
    picture = Image.linear_gradient("L").resize((width, height)).convert("RGB")
    picture.putpixel((0, 0), (255, 0, 0))
    picture.save(out, "JPEG", **options)
    return out.getvalue()


@pytest.mark.parametrize(
    ("html", "found"),
    [
        ('<img src="/a.jpg" alt=" The  shop ">', [("https://old.example/a.jpg", "The shop")]),
        ('<img src="b.jpg#top">', [("https://old.example/about/b.jpg", "")]),
        ('<base href="https://cdn.example/x/"><img src="b.jpg">', [("https://cdn.example/x/b.jpg", "")]),
        ('<img src="s.jpg" srcset="s.jpg 480w, l.jpg 1600w, m.jpg 800w">', [("https://old.example/about/l.jpg", "")]),
        ('<img srcset="one.jpg, two.jpg 2x">', [("https://old.example/about/two.jpg", "")]),
        (
            '<img src="data:image/gif;base64,R0lGOD" data-src="late.jpg" alt="Late">',
            [("https://old.example/about/late.jpg", "Late")],
        ),
        (
            '<figure><a href="#"><img src="c.jpg"></a><figcaption>Our <b>boat</b></figcaption></figure>',
            [("https://old.example/about/c.jpg", "Our boat")],
        ),
        ('<img src="a.jpg"><img src="a.jpg" alt="Said later">', [("https://old.example/about/a.jpg", "Said later")]),
        ('<img src="x.jpg" width="40" height="40"><img src="tracking-pixel.gif"><img src="mark.svg">', []),
        ('<img src="javascript:alert(1)"><img src="file:///etc/passwd"><img src="http://[bad"><img>', []),
    ],
)
def test_which_pictures_a_page_shows(html: str, found: list[tuple[str, str]]) -> None:
    """srcset, base and lazy attributes: WHATWG HTML §4.8.4; what pages do that load late is common practice."""
    assert [(picture.url, picture.alt) for picture in find_pictures([(PAGE, html)])] == found


def test_logos_come_first_however_small_they_are() -> None:
    html = '<img src="team.jpg"><img class="site-logo" src="mark.png" width="90">'
    assert [(picture.url[-8:], picture.logo) for picture in find_pictures([(PAGE, html)])] == [
        ("mark.png", True),
        ("team.jpg", False),
    ]


@given(st.text(max_size=200))
def test_no_page_is_too_strange(text: str) -> None:
    for picture in find_pictures([(PAGE, f'<img src="{text}"><img srcset="{text}" alt="{text}">{text}')]):
        assert picture.url.startswith(("http://", "https://"))


def test_a_photograph_is_turned_upright_sized_and_freed_of_what_the_camera_noted() -> None:
    """Orientation 6 of the Exif standard (JEITA CP-3451, 4.6.4): the first row is the right side."""
    exif = Image.Exif()
    exif[0x0112], exif[0x010F] = 6, "Camera with a serial number"
    made = prepare(jpeg(1200, 2000, exif=exif))
    assert (made.width, made.height, made.widths) == (1600, 960, WIDTHS)
    for (width, form), body in made.files.items():
        with Image.open(io.BytesIO(body)) as picture:
            assert (picture.format, picture.size) == (form.upper(), (width, round(width * 1200 / 2000)))
            assert dict(picture.getexif()) == {}
    assert len(made.files[480, "avif"]) < len(made.files[1600, "avif"])


@pytest.mark.parametrize(("width", "widths"), [(480, (480,)), (700, (480, 700)), (1600, WIDTHS), (4000, WIDTHS)])
def test_no_picture_is_blown_up(width: int, widths: tuple[int, ...]) -> None:
    assert prepare(jpeg(width, 300)).widths == widths


def test_what_one_can_see_through_stays_so() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (500, 300), (10, 20, 30, 0)).save(out, "PNG")
    with Image.open(io.BytesIO(prepare(out.getvalue()).files[480, "webp"])) as picture:
        assert picture.mode == "RGBA"


def huge_png() -> bytes:
    """A PNG whose header says 60,000 × 60,000 pixels (RFC 2083 §4.1.1), some hundred bytes long."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", 60_000, 60_000, 1, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("body", "why"),
    [
        (b"", "cannot be read"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "cannot be read"),
        (jpeg(800, 600)[:200], "cannot be read"),
        (jpeg(200, 200), "200 × 200 pixels"),
        (huge_png(), "million pixels|cannot be read"),
        (b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 800 800\n", "cannot be read"),
    ],
)
def test_what_cannot_be_used_says_why(body: bytes, why: str) -> None:
    with pytest.raises(PictureError, match=why):
        prepare(body)
