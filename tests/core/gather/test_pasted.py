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
