"""Numbers that are phones and numbers that are not, on pages of several countries."""

import pytest

from openacorn.core.audit.extract.phones import find_phones
from openacorn.core.geo.region import region_of_page

# text, country of the page, the number in it; seen on pages of the wild set or made after what stands there
PHONES = [
    ("Tél. : 04.66.93.80.04", "FR", "+33466938004"),
    ("Service client\n03 86 67 05 95 / 09 75 75 94 40", "FR", "+33386670595 +33975759440"),
    ("Serviço cliente\n308 802 547\nSegunda", "PT", "+351308802547"),
    ("Tel.: 971 504 472 - 971 504 002", "ES", "+34971504472 +34971504002"),
    ("Salg: 4590 8000", "DK", "+4545908000"),
    ("Pon - Pia 9:00 - 17:00\n0948 31 30 28", "SK", "+421948313028"),
    ("ログインに関してのお問い合わせは「03-5549-2566」(10時", "JP", "+81355492566"),
    ("请与010-84883777联系", "CN", "+861084883777"),
    ("звоните нам: (383) 258-29-73", "RU", "+73832582973"),
    ("Ireland, + 353 1 634 7887", None, "+35316347887"),
    ("KOSTENLOSE HOTLINE 0800 240 10 20", "DE", "+498002401020"),
    ("Order line:\n0345 602 4040", "GB", "+443456024040"),
    ("Tel:\n（03）5550-1234", "AU", "+61355501234"),
    ("Telefon: (0951)\n408 39 100", "DE", "+4995140839100"),
    ("Montag bis Freitag\n(0951)\n408 39 100\nE-Mail", "DE", "+4995140839100"),
]
NONE = [
    ("21.12.2015 09:24", "DK"), ("2008 2009 2010 2011", "AU"), ("1998-2004", "AU"), ("P.I. 02099550010 - C.F. 80088230018", "IT"),
    ("P. IVA: 04718980727", "IT"), ("CVR: 35545905", "DK"), ("Belegnummer: 41301408", "DE"), ("ABN 51 824 753 556", "AU"),
    ("Str.: 36 / 37 / 38 / 39", "DK"), ("42559 99,95 €", "DE"), ("USD 4,590,800.00", "AU"), ("Order 0355501234", "AU"),
    ("IBAN DE89 3704 0044 0532 0130 00", "DE"), ("ISBN 978-3-16-148410-0", "DE"), ("1 2 3 4 5 6 7 8 9", "AU"), ("Views: 45908000", "DK"), ("ERITYNEITÄ KÄYTTÄJIÄ\n501 341", "FI"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "region", "numbers"), PHONES)
def test_a_number_to_call_is_found(text: str, region: str | None, numbers: str) -> None:
    assert [found.value for found in find_phones(text, [], region)[0]] == numbers.split()


@pytest.mark.parametrize(("text", "region"), NONE)
def test_dates_prices_and_identifiers_are_no_phones(text: str, region: str) -> None:
    assert find_phones(text, [], region)[0] == ()


def test_what_looks_like_a_number_and_cannot_be_read_is_kept() -> None:
    assert find_phones("Phone: (555) 555-1234", [], "US") == ((), ("(555) 555-1234",))


@pytest.mark.parametrize(
    ("host", "declared", "language", "home", "region"),
    [
        ("a.de", "en-US", "en", "AU", "DE"), ("a.com", "pt-BR", "pt", None, "BR"), ("a.com", "en-US", "fr", "AU", "FR"),
        ("a.com", None, "en", "AU", "AU"), ("a.com", "de-AT", "de", "AU", "AT"), ("a.com", None, "", None, None),
    ],
)  # fmt: skip
def test_a_pages_country_comes_from_its_ending_its_tag_its_language_then_the_settings(
    host: str, declared: str | None, language: str, home: str | None, region: str | None
) -> None:
    assert region_of_page(host, declared, language, home) == region
