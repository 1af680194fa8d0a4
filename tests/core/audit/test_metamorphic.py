"""What changes nothing for a visitor never turns what is there into a gap: at most into an unknown."""

import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, Pages, Visit, Weights
from openacorn.core.audit.extract.own_scripts import read_script
from tests.core.audit.reading import AT, URL, judged, page

FILL = "<p>" + "Kelp and tide are words of this coast, and they fill the page well. " * 8 + "</p>"
TAGS = (
    "<script>!function(f,b,e,v){}(window,document,'script','https://connect.facebook.net/en_US/fbevents.js');fbq('init','123456789012');</script>"
    "<script async src='https://www.googletagmanager.com/gtag/js?id=G-ABCDEF12'></script>"
    "<script src='https://counter.yadro.ru/hit'></script><script src='https://code.tidio.co/abc.js'></script>"
)
BODY = f"""<h1>Harbour Vets</h1>{FILL}<p>Call (03) 5550 1234. Open Monday to Friday 9am to 5pm.</p>
<a href="/privacy">Privacy policy</a> <a href="/cart">View cart</a> <a href="/x">Book now</a>
<a href="mailto:front@harbourvets.example">write</a> <a href="https://www.facebook.com/harbourvets">f</a>
<form action="/send"><input name="name"><input name="email" type="email"><textarea name="message"></textarea></form>
<iframe src="https://www.youtube.com/embed/abc"></iframe>{TAGS}"""
HEAD = '<title>Harbour Vets</title><meta name="viewport" content="width=device-width"><meta name="description" content="Vets by the harbour, every day of the week, for all that creeps and crawls.">'
THERE = ("phone_found", "hours_found", "privacy_page", "shop", "booking", "email_found", "social_links", "contact_form", "video", "analytics",
         "ad_pixel", "meta_pixel", "chat", "title", "viewport", "meta_description", "headings", "language")  # fmt: skip


def source(body: str = BODY, head: str = HEAD) -> str:
    return f'<!doctype html><html lang="en-AU"><head>{head}</head><body>{body}</body></html>'


def outcomes(html: str) -> dict[str, str]:
    return {check: str(finding.outcome) for check, finding in judged(html).items() if check in THERE}


def upper_names(html: str) -> str:
    return re.sub(r"<(/?)(\w+)", lambda m: f"<{m.group(1)}{m.group(2).upper()}", html)


def turned(html: str) -> str:
    """The attributes of each element in the opposite order."""
    attribute = re.compile(r'\s+[\w-]+="[^"]*"')
    return re.sub(
        r"<(\w+)((?:\s+[\w-]+=\"[^\"]*\")+)>",
        lambda m: f"<{m.group(1)}{''.join(reversed(attribute.findall(m.group(2))))}>",
        html,
    )


CHANGES = [
    lambda body: f"<main>{body}</main>",
    lambda body: f"<table><tr><td>{body}</td></tr></table>",
    lambda body: body + f'<div hidden style="display:none">{FILL}</div>',
    lambda body: body + '<script src="https://widgets.nobody-knows.net/w.js"></script>',
    lambda body: f"<script>var a = 1;</script>{body}",
    upper_names,
    turned,
    lambda body: body.replace('"', "'").replace("name='email' type='email'", "type=email name=email"),
    lambda body: re.sub(r">\s+<", "><", body),
]  # fmt: skip


def test_the_page_has_all_of_it() -> None:
    assert set(outcomes(source()).values()) == {"ok"}


@given(st.lists(st.sampled_from(CHANGES), min_size=1, max_size=3, unique=True))
def test_what_visitors_do_not_notice_makes_no_gap(changes: list[Any]) -> None:
    body = BODY
    for change in changes:
        body = change(body)
    assert {check: outcome for check, outcome in outcomes(source(body)).items() if outcome == "gap"} == {}


WORDS = [
    ("de", "Datenschutz", "Warenkorb", "Termin buchen", "Montag bis Freitag 9 bis 17 Uhr", "Wir freuen uns auf Ihren Besuch in unserer Praxis am Hafen. "),
    ("fr", "Politique de confidentialité", "Mon panier", "Prendre rendez-vous", "lundi au vendredi de 9h à 17h", "Nous sommes heureux de vous recevoir dans notre cabinet du port. "),
    ("es", "Política de privacidad", "Ver carrito", "Pedir cita", "lunes a viernes de 9:00 a 17:00", "Estamos encantados de recibirle en nuestra clínica del puerto. "),
    ("it", "Informativa sulla privacy", "Vai al carrello", "Prenota ora", "lunedì - venerdì 9:00 - 17:00", "Siamo felici di accogliervi nella nostra clinica vicino al porto. "),
    ("nl", "Privacyverklaring", "Winkelwagen", "Afspraak maken", "maandag t/m vrijdag 9.00 - 17.00", "Wij zijn blij u te mogen ontvangen in onze praktijk bij de haven. "),
    ("pl", "Polityka prywatności", "Koszyk", "Umów wizytę", "poniedziałek - piątek 9:00 - 17:00", "Cieszymy się, że możemy powitać Państwa w naszej przychodni przy porcie. "),
    ("sv", "Integritetspolicy", "Varukorg", "Boka tid", "måndag–fredag 9.00–17.00", "Vi är glada att få ta emot dig på vår klinik nere vid hamnen varje dag. "),
    ("cs", "Ochrana osobních údajů", "Nákupní košík", "Objednat se", "pondělí - pátek 9:00 - 17:00", "Jsme rádi, že vás můžeme přivítat v naší ordinaci u přístavu každý den. "),
    ("tr", "Gizlilik politikası", "Sepete ekle", "Randevu al", "Pazartesi - Cuma 9:00 - 17:00", "Limandaki kliniğimizde sizi ağırlamaktan her zaman mutluluk duyuyoruz. "),
    ("ru", "Политика конфиденциальности", "В корзину", "Записаться", "пн-пт 9:00-17:00", "Мы всегда рады видеть вас в нашей клинике у гавани в любой день недели. "),
    ("ja", "プライバシーポリシー", "カートを見る", "ご予約はこちら", "月～金 9:00～17:00", "港のそばの私たちの動物病院へようこそ。皆様のご来院を心よりお待ちしております。"),
    ("ko", "개인정보처리방침", "장바구니", "예약하기", "월~금 9:00~17:00", "항구 옆에 있는 저희 동물병원에 오신 것을 진심으로 환영합니다. "),
]  # fmt: skip


@pytest.mark.parametrize(
    ("language", "privacy", "cart", "book", "hours", "text"), WORDS, ids=lambda value: value if len(value) == 2 else ""
)
def test_the_words_of_other_languages_are_known(
    language: str, privacy: str, cart: str, book: str, hours: str, text: str
) -> None:
    body = f"<h1>{text}</h1><p>{text * 6}</p><p>{hours}</p><a href=/a>{privacy}</a><a href=/b>{cart}</a><button>{book}</button>"
    found = judged(f"<title>{text}</title>{body}")
    assert {
        check: str(found[check].outcome) for check in ("privacy_page", "shop", "booking", "hours_found")
    } == dict.fromkeys(("privacy_page", "shop", "booking", "hours_found"), "ok")


def test_in_a_language_that_we_do_not_know_nothing_is_missing_by_its_words() -> None:
    text = "Chúng tôi rất vui được đón tiếp quý khách tại phòng khám thú y gần bến cảng mỗi ngày trong tuần. "
    found = judged(f"<title>{text}</title><h1>{text}</h1><p>{text * 6}</p><a href=/a>Chính sách</a>")
    assert {str(found[check].outcome) for check in ("privacy_page", "shop", "booking", "hours_found")} == {"unknown"}


@pytest.mark.parametrize("check", ["analytics", "ad_pixel", "meta_pixel"])
def test_an_inline_script_moved_to_a_file_is_found_there_or_unknown(check: str) -> None:
    inline = "fbq('init','123456789012');(function(){ga.src='https://plausible.io/js/script.js'})();n.src='https://connect.facebook.net/en_US/fbevents.js'"
    plain = page(source(f"<h1>Harbour Vets</h1>{FILL}<script src=/bundle.js></script>"))

    def outcome(pages: Pages) -> str:
        crawl = Crawl(Visit(URL, URL, AT, (URL,), 200), pages, Weights(1, (), 0))
        return str(run_checks(assemble(ListingFacts("Harbour Vets", URL, "a listing", AT), crawl))[check].outcome)

    assert plain.own_scripts == ("https://harbourvets.example/bundle.js",)
    assert outcome(Pages(plain, scripts=(read_script(inline, f"{URL}bundle.js", AT),))) == "ok"
    assert outcome(Pages(plain, unread=plain.own_scripts)) == "unknown"
    assert outcome(Pages(plain)) == "gap"
