"""Pasted lists and address patterns."""

import pytest

from openacorn.core.gather.pasted import PatternError, expand_addresses, read_pasted

RESULTS = """Results for florist
Gull Florist
4.6 (1,120)
Florist · 14 Mill Lane
Open now
(03) 5550 1234
Website
Directions
Heron Flowers
Flower shop
22 Salt Rd, Gannet Bay
0355507777
heronflowers.example

3. Anchor Blooms - (03) 5550 8888 - hello@anchorblooms.example
Tide Florist\t80 Harbour Street, Quillhaven\twww.tideflorist.example
Next
"""


def test_a_copied_page_of_results_becomes_rows_that_tell_where_they_came_from() -> None:
    rows = read_pasted(RESULTS, ["Port Ellery", "Gannet Bay", "Quillhaven"], "AU")
    assert [(row.cells, row.lines) for row in rows] == [
        ({"name": "Gull Florist", "rating": "4.6", "reviews": "1120", "category": "Florist", "street": "14 Mill Lane", "phone": "+61355501234"}, [2, 3, 4, 6]),
        ({"name": "Heron Flowers", "category": "Flower shop", "street": "22 Salt Rd", "town": "Gannet Bay", "phone": "+61355507777", "website": "heronflowers.example"}, [9, 10, 11, 12, 13]),
        ({"name": "Anchor Blooms", "email": "hello@anchorblooms.example", "phone": "+61355508888"}, [15]),
        ({"name": "Tide Florist", "website": "www.tideflorist.example", "street": "80 Harbour Street", "town": "Quillhaven"}, [16]),
    ]  # fmt: skip


BLOCKS = [
    ("German", "DE", """Top 10 Friseure in Kiel

hallo@salon-moewe.example
Salon Möwe
4,6 ★ · 1.120 Bewertungen
Hauptstraße 12, 24103 Kiel
0431 5550123

Haar & Hafen
0431 5550199
www.haarundhafen.example
""", [("Salon Möwe", "+494315550123", "hallo@salon-moewe.example", "4.6", "1120"), ("Haar & Hafen", "+494315550199", "", "", "")]),
    ("French", "FR", """Les 10 meilleurs coiffeurs

Salon du Port
4,8 (214 avis)
03 53 01 00 11

Chez Maëlle
contact@maelle.example
03 53 01 00 12
""", [("Salon du Port", "+33353010011", "", "4.8", "214"), ("Chez Maëlle", "+33353010012", "contact@maelle.example", "", "")]),
    ("Spanish", "ES", """Peluquería El Faro
4,9/5 · 87 opiniones
910 05 10 11

hola@lasal.example
Peluquería La Sal
910 05 10 12
""", [("Peluquería El Faro", "+34910051011", "", "4.9", "87"), ("Peluquería La Sal", "+34910051012", "hola@lasal.example", "", "")]),
    ("Russian", "RU", """Парикмахерская Чайка
4,8 (96)
+7 495 555-01-23

Салон Волна
volna@salon.example
8 (495) 555-01-24
""", [("Парикмахерская Чайка", "+74955550123", "", "4.8", "96"), ("Салон Волна", "+74955550124", "volna@salon.example", "", "")]),
    ("Polish", "PL", """Salon Żuraw
4.7 ★ (33)
22 555 01 23

Fryzjer Łódka
biuro@lodka.example
22 555 01 24
""", [("Salon Żuraw", "+48225550123", "", "4.7", "33"), ("Fryzjer Łódka", "+48225550124", "biuro@lodka.example", "", "")]),
    ("Japanese", "JP", """美容室かもめ
4.5 (120)
03-5550-0123

理容なぎさ
info@nagisa.example
03-5550-0124
""", [("美容室かもめ", "+81355500123", "", "4.5", "120"), ("理容なぎさ", "+81355500124", "info@nagisa.example", "", "")]),
    ("Italian", "IT", """Salone Gabbiano
4,2 · 15 recensioni
02 5550 1234

Barbiere Scoglio
02 5550 1235
www.scoglio.example
""", [("Salone Gabbiano", "+390255501234", "", "4.2", "15"), ("Barbiere Scoglio", "+390255501235", "", "", "")]),
    ("Swedish", "SE", """Salong Måsen
4,4 (61 omdömen)
08-555 012 34

Klippoteket
hej@klippoteket.example
08-555 012 35
""", [("Salong Måsen", "+46855501234", "", "4.4", "61"), ("Klippoteket", "+46855501235", "hej@klippoteket.example", "", "")]),
]  # fmt: skip
"""Language, country, a pasted list in blocks, and (name, phone, e-mail, rating, reviews) of each; names are invented."""


@pytest.mark.parametrize(
    ("region", "text", "expected"), [case[1:] for case in BLOCKS], ids=[case[0] for case in BLOCKS]
)
def test_what_stands_in_a_block_belongs_to_its_name(region: str, text: str, expected: list[tuple[str, ...]]) -> None:
    rows = read_pasted(text, [], region)
    keys = ("name", "phone", "email", "rating", "reviews")
    assert [tuple(row.cells.get(key, "") for key in keys) for row in rows] == expected


def test_a_text_without_businesses_gives_none() -> None:
    assert (
        read_pasted(
            "Dear Ines,\nthank you for the flowers. They were lovely, and came just in time for the day.\n", [], "AU"
        )
        == []
    )


def test_address_patterns_are_written_out_once_each() -> None:
    text = "https://guild.example/member/{08..11}\ngull.example\n\ngull.example\n"
    assert expand_addresses(text) == [*(f"https://guild.example/member/{n:02d}" for n in range(8, 12)), "gull.example"]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no address"),
        ("a.example/{x}", "line 1.*a range is written"),
        ("a\nb/{9..2}", "line 2"),
        ("b/{1..99999}", "at most 10,000"),
    ],
)
def test_patterns_that_give_no_list_are_refused(text: str, says: str) -> None:
    with pytest.raises(PatternError, match=says):
        expand_addresses(text)
