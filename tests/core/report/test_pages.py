"""Pages for owners: what was gathered stays text, on screen and on paper; colours can be read."""

from dataclasses import replace

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.finding import Evidence, Finding, Outcome
from openacorn.core.audit.spots import Spot, SpotKind
from openacorn.core.outreach.call_sheet import CallSheet, Number, Somebody
from openacorn.core.outreach.objections import ALWAYS
from openacorn.core.report.claims import Claim
from openacorn.core.report.letterhead import (
    INK,
    PAPER,
    READABLE,
    Letterhead,
    LetterheadError,
    contrast,
    readable,
    text_on,
)
from openacorn.core.report.on_paper import LIST_COLUMNS, SHEET_PARTS, call_sheets, printed_list
from openacorn.core.report.owners_page import (
    SECTIONS,
    GroupMark,
    OwnersFacts,
    PeerLine,
    Peers,
    PhoneLook,
    PictureMark,
    Unseen,
    picture_marks,
)
from openacorn.core.report.pdf import to_pdf
from openacorn.core.report.render import notice, owners_page

AT = "2026-11-26T09:00:00+00:00"
NASTY = '<script>alert(1)</script> {{ 7*7 }} & "x" <img src=https://evil.example/x onerror=y> Łódź'
CLAIM = Claim(
    "booking",
    "Booking online",
    "Customers cannot book.",
    "Why",
    "Do it",
    NASTY,
    (Evidence(NASTY, AT, NASTY),),
)
FACTS = OwnersFacts(
    name=NASTY, website="https://kelp.example/", looked_at=AT, pages=3,
    marks=(GroupMark("Speed", 40), GroupMark("Mobile", None)), claims=(CLAIM,), more=2, fine=("A secure connection",),
    unseen=(Unseen(NASTY, ("A quick home page",)),), peers=Peers("Vets", 4, 5, 9, (PeerLine("Booking online", 6, 9),)),
    first=("Do it",), look=PhoneLook("0f", AT, (PictureMark(1, 0.1, 0.2, 0.3, 0.05),)),
)  # fmt: skip
HEAD = Letterhead("Wrenfold Studio")


def page(facts: OwnersFacts = FACTS, sections: tuple[str, ...] = SECTIONS, **more: object) -> str:
    return owners_page(facts, HEAD, sections=sections, made_at=AT, look="/o/phone.webp", **more)  # type: ignore[arg-type]


def text_of(pdf: bytes) -> str:
    return " ".join(part.get_textpage().get_text_range() for part in pypdfium2.PdfDocument(pdf))


def test_what_was_gathered_stays_text_on_screen_and_on_paper() -> None:
    shown = page(token="abc", opened="1.x")
    for tag in ("<script", "<img src=https", "onerror=y>"):
        assert tag not in shown
    assert "&lt;script&gt;alert(1)" in shown
    assert "{{ 7*7 }}" in shown
    paper = text_of(to_pdf(page(printed=True)))
    assert "<script>alert(1)</script> {{ 7*7 }}" in paper
    assert "Łódź" in paper
    sheet = CallSheet(
        1, NASTY, "Vet", "Port Ellery", "", NASTY, "", "booking_shop", "Booking", "why", 12.0, NASTY, (Somebody(NASTY, "owner"),),
        (Number("+61355501234", "landline", ("10:00",)),), (CLAIM,), (), (NASTY,), ALWAYS, AT, False,
    )  # fmt: skip
    printed = call_sheets(HEAD, [sheet], left=3)
    assert "<script" not in printed
    assert "(03) 5550 1234" in printed
    for part, shown_in in (
        ("people", "Ask for"),
        ("claims", "What to say"),
        ("objections", "If they say"),
        ("result", "Result, and"),
    ):
        assert shown_in in printed
        assert shown_in not in call_sheets(HEAD, [sheet], parts=frozenset(SHEET_PARTS) - {part})
    row = dict.fromkeys(LIST_COLUMNS, NASTY) | {"name": NASTY, "phone": "+61355501234", "value": 12.4, "follow_up": ""}
    table = printed_list(HEAD, NASTY, "2026-11-30", [row], ["phone", "value", "notes"], left=2)
    assert "<script" not in table
    assert [
        words for words in ("(03) 5550 1234", ">12<", "Notes", "2 more are not printed") if words not in table
    ] == []
    assert "Stage" not in table
    assert "<script" not in notice(HEAD, NASTY, NASTY)


def test_every_section_can_be_left_out_and_nothing_stands_where_nothing_is() -> None:
    heads = {
        "look": "How your website looks on a phone", "marks": "Scores by area", "findings": "What matters most", "peers": "How others near you do", "first": "What we would do first",
        "fine": "What is fine", "unseen": "What we could not check", "reply": "Write to us",
    }  # fmt: skip
    assert tuple(sorted(heads)) == tuple(sorted(SECTIONS))
    for section, words in heads.items():
        assert words in page()
        assert f">{words}" not in page(sections=tuple(name for name in SECTIONS if name != section))
    empty = replace(FACTS, claims=(), more=0, marks=(), fine=(), unseen=(), peers=None, first=(), look=None)
    assert page(empty).count("<h2") == 1  # the reply form's
    assert "<form" not in page()  # a preview sends nothing
    assert page(token="t", opened="o").count("<form") == 2


def test_what_is_claimed_is_framed_where_it_can_be_seen() -> None:
    claims = [replace(CLAIM, check=check) for check in ("booking", "overflow", "tap_phone", "viewport")]
    findings = {"tap_phone": Finding(Outcome.GAP, "+61355501234", (), "")}
    spots = (
        Spot(SpotKind.SMALL, 0, 422, 39, 84), Spot(SpotKind.PHONE, 0, 0, 5, 5, "ABN 51 824 753 556"),
        Spot(SpotKind.PHONE, 195, 211, 78, 10, "(03) 5550 1234"), Spot(SpotKind.PHONE, 0, 600, 78, 10, "03 5550 1234"),
    )  # fmt: skip
    shown = Rendered("https://kelp.example/", AT, spots=spots)
    small, number = PictureMark(2, 0, 0.5, 0.1, 84 / 844), PictureMark(3, 0.5, 0.25, 0.2, 10 / 844)
    assert picture_marks(claims, findings, shown) == (small, number, replace(small, number=4))
    sticking_out = replace(shown, spots=(*spots, Spot(SpotKind.OUTSIDE, 0, 0, 390, 10)))
    assert (
        picture_marks(claims, findings, sticking_out)[0].width == 1.0
    )  # what sticks out shows it better than small letters
    assert picture_marks(claims, findings, None) == ()


def test_a_pdf_asks_nobody_for_anything(caplog: pytest.LogCaptureFixture) -> None:
    """A page that names other files gets none of them, and is made all the same."""
    sly = page(printed=True).replace(
        "</main>", '<img src="http://127.0.0.1:9/x.png"><img src="file:///etc/passwd"></main>'
    )
    assert "root:" not in text_of(to_pdf(sly))


@pytest.mark.parametrize(
    ("one", "other", "expected"),
    [  # WCAG 2.2's own extremes, and the greys of its "understanding" pages (from memory)
        ("#000000", "#ffffff", 21.0), ("#ffffff", "#ffffff", 1.0), ("#777777", "#ffffff", 4.48), ("#767676", "#ffffff", 4.54),
        ("#ff0000", "#ffffff", 4.0),
    ],
)  # fmt: skip
def test_contrast_is_that_of_the_standard(one: str, other: str, expected: float) -> None:
    assert contrast(one, other) == pytest.approx(expected, abs=0.005)


@given(st.integers(0, 0xFFFFFF))
def test_text_can_be_read_in_and_on_any_colour(number: int) -> None:
    colour = f"#{number:06x}"
    assert contrast(readable(colour), PAPER) >= READABLE
    assert contrast(text_on(colour), colour) >= min(READABLE, max(contrast(PAPER, colour), contrast(INK, colour)))


@pytest.mark.parametrize("colour", ["red", "#12345", "#12345g", "#1234567", "red;}body{display:none"])
def test_what_is_no_colour_is_refused(colour: str) -> None:
    with pytest.raises(LetterheadError, match="#rrggbb"):
        text_on(colour)
