"""Addresses and people: whose they are, patterns guessed only where shown, verifiers' words, one person once."""

import pytest

from openacorn.core.audit.people import PersonMention, people, works_there
from openacorn.core.audit.verification import guesses, nature
from openacorn.core.gather.listing import Listing

OWN = "gull.example"


@pytest.mark.parametrize(
    ("address", "kinds"),
    [
        ("petra@gull.example", ("named", "own domain")),
        ("info@gull.example", ("role", "own domain")),
        ("gullvets@gmail.com", ("named", "free mail")),
        ("hello@studio.example", ("role", "another domain")),
    ],
)
def test_whose_an_address_is(address: str, kinds: tuple[str, str]) -> None:
    assert nature(address, OWN) == kinds


@pytest.mark.parametrize(
    ("people_there", "addresses", "guessed"),
    [
        (["Jo Ash", "Petra Reed"], ["jo.ash@gull.example"], {"Petra Reed": "petra.reed@gull.example"}),
        (["Jo Ash", "Petra Reed"], ["jash@gull.example", "info@gull.example"], {"Petra Reed": "preed@gull.example"}),
        (["Jo Ash", "Petra Reed"], ["info@gull.example"], {}),  # nobody shows a pattern
        (["Jo Ash", "Petra Reed"], ["jo.ash@gmail.com"], {}),
        (["Jo Ash"], ["jo.ash@gull.example"], {}),  # that one is known
    ],
)
def test_an_address_is_guessed_only_by_a_pattern_that_another_shows(
    people_there: list[str], addresses: list[str], guessed: dict[str, str]
) -> None:
    assert guesses(people_there, addresses, OWN) == guessed


def test_a_person_under_several_sources_is_one_the_best_role_first() -> None:
    answer = [
        PersonMention("Petra Reed", "Practice manager", "website"),
        PersonMention("Petra Anne Reed", "director", "register"),
        PersonMention("P. Reed", "Director", "directory", "https://people.example/p/7"),
        PersonMention("Jo Ash", "owner", "website"),
    ]
    first, second = people(answer, ["petra@gull.example", "info@gull.example"], OWN)
    assert (first.name, first.address) == ("Jo Ash", "jo@gull.example")
    assert first.guessed  # "first" is the pattern that petra@ shows
    assert [role for role, _ in second.roles] == ["director", "director", "practice manager"]
    assert (second.address, second.guessed) == ("petra@gull.example", False)
    assert second.profile == "https://people.example/p/7"


def _entry(person: str, company: str, town: str, domain: str = "") -> Listing:
    return Listing("people_directory", person, company, town=town, website=domain, extra={"person": person})


@pytest.mark.parametrize(
    ("domain", "there"),
    [
        (OWN, ["Jo", "Petra"]),  # by the domain, and by the name where no domain is told
        ("", ["Jo", "Petra", "Lark"]),  # without one, whoever is at that name in that town
    ],
)
def test_only_whoever_is_at_this_business_is_taken_from_a_directory(domain: str, there: list[str]) -> None:
    entries = [
        _entry("Jo", "Gull Veterinary Clinic Pty Ltd", "Larch Flat", OWN) if domain else _entry("Jo", "Gull Veterinary Clinic", "Larch Flat"),
        _entry("Petra", "Gull Veterinary Clinic", "Larch Flat"),
        _entry("Lark", "Gull Veterinary Clinic", "Larch Flat", "another-gull.example"),
        _entry("Fern", "Gull Veterinary Clinic", "Gannet Bay"),
        _entry("Milo", "Gull Florist", "Larch Flat"),
    ]  # fmt: skip
    found = works_there(entries, "Gull Veterinary Clinic", "Larch Flat", domain)
    assert [person.name for person in found] == there
