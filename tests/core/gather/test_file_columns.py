"""Columns guessed from headings and cells, and rows read by them."""

import pytest

from openacorn.core.gather.file_columns import ColumnsError, RowError, checked_columns, guess_columns, read_row

GUESSES = [
    ("plain", ["Name", "Phone", "Website"], {}, {"name": "Name", "phone": "Phone", "website": "Website"}),
    ("camel and units", ["businessName", "Post Code", "phone_number", "Latitude", "Lng"], {},
     {"name": "businessName", "postcode": "Post Code", "phone": "phone_number", "lat": "Latitude", "lon": "Lng"}),
    ("a partial heading", ["Client name (legal)", "Contact email 2"], {}, {"name": "Client name (legal)", "email": "Contact email 2"}),
    ("by content", ["A", "B", "C"], {"A": "Gull Vets", "B": "www.gullvets.example", "C": "(03) 5550 1234"}, {"website": "B", "phone": "C"}),
    ("German", ["Firma", "Straße", "PLZ", "Ort", "Telefon", "E-Mail"], {},
     {"name": "Firma", "street": "Straße", "postcode": "PLZ", "town": "Ort", "phone": "Telefon", "email": "E-Mail"}),
    ("French", ["Nom", "Adresse", "Code postal", "Ville", "Téléphone", "Site web"], {},
     {"name": "Nom", "street": "Adresse", "postcode": "Code postal", "town": "Ville", "phone": "Téléphone", "website": "Site web"}),
    ("Spanish", ["Razón social", "Dirección", "C.P.", "Localidad", "Teléfono", "Correo electrónico", "Página web"], {},
     {"name": "Razón social", "street": "Dirección", "postcode": "C.P.", "town": "Localidad", "phone": "Teléfono",
      "email": "Correo electrónico", "website": "Página web"}),
    ("Italian", ["Ragione sociale", "Indirizzo", "CAP", "Comune", "Cellulare", "Sito internet"], {},
     {"name": "Ragione sociale", "street": "Indirizzo", "postcode": "CAP", "town": "Comune", "phone": "Cellulare", "website": "Sito internet"}),
    ("Dutch", ["Bedrijfsnaam", "Straat", "Postcode", "Woonplaats", "Telefoonnummer", "E-mailadres"], {},
     {"name": "Bedrijfsnaam", "street": "Straat", "postcode": "Postcode", "town": "Woonplaats", "phone": "Telefoonnummer",
      "email": "E-mailadres"}),
    ("Polish", ["Nazwa firmy", "Ulica", "Kod pocztowy", "Miejscowość", "Telefon", "Strona www"], {},
     {"name": "Nazwa firmy", "street": "Ulica", "postcode": "Kod pocztowy", "town": "Miejscowość", "phone": "Telefon",
      "website": "Strona www"}),
    ("Russian", ["Название", "Адрес", "Индекс", "Город", "Телефон", "Сайт"], {},
     {"name": "Название", "street": "Адрес", "postcode": "Индекс", "town": "Город", "phone": "Телефон", "website": "Сайт"}),
    ("Japanese", ["店舗名", "住所", "郵便番号", "電話番号", "メールアドレス"], {},
     {"name": "店舗名", "street": "住所", "postcode": "郵便番号", "phone": "電話番号", "email": "メールアドレス"}),
    ("Greek", ["Επωνυμία", "Διεύθυνση", "Τ.Κ.", "Πόλη", "Τηλέφωνο"], {},
     {"name": "Επωνυμία", "street": "Διεύθυνση", "postcode": "Τ.Κ.", "town": "Πόλη", "phone": "Τηλέφωνο"}),
    ("dates and coordinates are no phones", ["A", "seen", "pos"], {"A": "Gull Vets", "seen": "2026-01-02", "pos": "160.0213"}, {}),
    ("mail is no website", ["who", "m"], {"who": "Gull", "m": "hello@gull.example"}, {"email": "m"}),
]  # fmt: skip


@pytest.mark.parametrize(
    ("headings", "row", "expected"), [case[1:] for case in GUESSES], ids=[case[0] for case in GUESSES]
)
def test_guesses(headings: list[str], row: dict[str, str], expected: dict[str, str]) -> None:
    guess = guess_columns(headings, [row] if row else [])
    assert guess.fields == expected
    assert set(guess.unused) == set(headings) - set(expected.values())


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"town": "T"}, "name or the website"),
        ({"name": "Nix"}, "no column 'Nix'"),
        ({"colour": "T"}, "no field 'colour'"),
    ],
)
def test_a_mapping_that_gives_no_listings_is_refused(fields: dict[str, str], says: str) -> None:
    with pytest.raises(ColumnsError, match=says):
        checked_columns(fields, ["T", "N"])


FIELDS = {"name": "n", "website": "w", "lat": "y", "lon": "x", "reviews": "r"}


def test_a_row_becomes_a_listing() -> None:
    answer = read_row({"n": " Gull   Vets ", "w": "", "y": "-37,02", "x": "160.02", "r": "1,204"}, FIELDS, "file", "7")
    assert (answer.name, answer.source, answer.source_id, answer.lat, answer.lon, answer.reviews) == (
        "Gull Vets",
        "file",
        "7",
        -37.02,
        160.02,
        1204,
    )
    assert read_row({"w": "https://www.gull.example/x"}, FIELDS, "file", "1").name == "gull.example"


@pytest.mark.parametrize(
    ("row", "says"),
    [({"n": "", "w": ""}, "neither a name"), ({"n": "A", "y": "north"}, "latitude 'north'"), ({"n": "A", "y": "99"}, "outside"), ({"w": "no address"}, "no name")],
)  # fmt: skip
def test_a_row_that_cannot_be_read_says_why(row: dict[str, str], says: str) -> None:
    with pytest.raises(RowError, match=says):
        read_row(row, FIELDS, "file", "1")
