"""The rules for robots against the examples of RFC 9309 (sections 2.2.1 to 2.2.3, 2.5, 5.1 and 5.2; from memory of its text)."""

import pytest

from openacorn.net.client import Answer
from openacorn.net.probes.robots import AGENT, Robots, read_robots

SIMPLE = """
User-Agent: *
Disallow: *.gif$
Disallow: /example/
Allow: /publications/

User-Agent: foobot
Disallow:/
Allow:/example/page.html
Allow:/example/allowed.gif

User-Agent: barbot
User-Agent: bazbot
Disallow: /example/page.html

User-Agent: quxbot
"""
LONGEST = """
User-Agent: foobot
Allow: /example/page/
Disallow: /example/page/disallowed.gif
"""
SHUT = "User-agent: *\nAllow: /this/path/exactly$\nDisallow: /\n"


def rules(text: str, named: str = "") -> Robots:
    """The file as a site would serve it, with us standing for one of the robots it names."""
    text = text.replace(named, AGENT).replace(named.upper(), AGENT.upper()) if named else text
    return read_robots(Answer("u", 200, {}, text.encode(), 0, False, 0, 0, None))


CASES = [
    # 5.1: each group is its robot's alone; one with no rules may read everything; whoever is not named is under "*"
    (SIMPLE, "foobot", "/example/page.html", True),
    (SIMPLE, "foobot", "/example/allowed.gif", True),
    (SIMPLE, "foobot", "/publications/", False),
    (SIMPLE, "barbot", "/example/page.html", False),
    (SIMPLE, "barbot", "/example/other.html", True),
    (SIMPLE, "bazbot", "/example/page.html", False),
    (SIMPLE, "quxbot", "/example/page.html", True),
    (SIMPLE, "", "/example/page.html", False),
    (SIMPLE, "", "/publications/", True),
    (SIMPLE, "", "/picture.gif", False),
    (SIMPLE, "", "/picture.gif?large", True),
    # 5.2: the longest match decides, in whatever order the rules stand
    (LONGEST, "foobot", "/example/page/disallowed.gif", False),
    (LONGEST, "foobot", "/example/page/allowed.gif", True),
    # 2.2.2: percent-encoding is undone before paths are compared; the match begins at the first octet
    ("User-agent: *\nDisallow: /foo/bar?baz=quz\n", "", "/foo/bar?baz=quz", False),
    ("User-agent: *\nDisallow: /foo/bar/%62%61%7A\n", "", "/foo/bar/baz", False),
    ("User-agent: *\nDisallow: /foo/bar/ツ\n", "", "/foo/bar/%E3%83%84", False),
    ("User-agent: *\nDisallow: /foo/bar/%E3%83%84\n", "", "/foo/bar/%E3%83%84", False),
    ("User-agent: *\nDisallow: /foo\n", "", "/bar/foo", True),
    # 2.2.2: of an allow and a disallow alike, the allow is taken
    ("User-agent: *\nDisallow: /page\nAllow: /page\n", "", "/page", True),
    # 2.2.3: "#" begins a comment, "$" marks the end, "*" stands for anything
    ("User-agent: * # all\nDisallow: /this/*/exactly # here\n", "", "/this/path/exactly", False),
    (SHUT, "", "/this/path/exactly", True),
    (SHUT, "", "/this/path/exactly/not", False),
    # 2.2.1: names are compared without regard to case; groups of the same name are one
    ("USER-AGENT: FOOBOT\nDISALLOW: /a\n\nUser-agent: foobot\nDisallow: /b\n", "foobot", "/a", False),
    ("USER-AGENT: FOOBOT\nDISALLOW: /a\n\nUser-agent: foobot\nDisallow: /b\n", "foobot", "/b", False),
]


@pytest.mark.parametrize(("text", "named", "path", "allowed"), CASES)
def test_the_examples_of_the_standard(text: str, named: str, path: str, allowed: bool) -> None:
    assert rules(text, named).allows(f"https://example.com{path}") is allowed


def test_a_file_is_read_to_its_500_kibibytes_at_least() -> None:
    """2.5: a crawler must parse at least 500 KiB."""
    filler = "".join(f"Disallow: /filler/{number:07d}\n" for number in range(20_000))
    text = f"User-agent: *\n{filler}Disallow: /last\n"
    assert len(text) > 500 * 1024
    assert not rules(text).allows("https://example.com/last")
