"""Handing out businesses: the first rule that fits, in turn by who has least."""

from collections import Counter

from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.geo.geodesy import Point
from openacorn.core.geo.territory import checked_territory
from openacorn.core.outreach.assignment import AssignmentRule, Unassigned, assign

HARBOUR = checked_territory([{"name": "Harbour", "lat": -37.0, "lon": 160.0, "radius_m": 5000.0}])
INSIDE, OUTSIDE = Point(-37.01, 160.01), Point(-36.0, 161.0)
NAMES = st.sampled_from(["Ada", "Bo", "Cy", "Dee"])


def test_the_first_rule_that_fits_counts() -> None:
    rules = [
        AssignmentRule(frozenset({"vets"}), HARBOUR, ("Ada",)),
        AssignmentRule(frozenset({"vets"}), None, ("Bo",)),
        AssignmentRule(frozenset(), HARBOUR, ("Cy",)),
    ]
    asked = [
        Unassigned(1, "vets", INSIDE), Unassigned(2, "vets", OUTSIDE), Unassigned(3, "vets", None),
        Unassigned(4, "bakers", INSIDE), Unassigned(5, "bakers", OUTSIDE), Unassigned(6, "", None),
    ]  # fmt: skip
    assert assign(asked, rules, {}) == {1: "Ada", 2: "Bo", 3: "Bo", 4: "Cy"}


@given(
    st.lists(NAMES, min_size=1, max_size=4, unique=True).map(tuple),
    st.integers(0, 60),
    st.dictionaries(NAMES, st.integers(0, 9)),
)
def test_turns_level_out_what_people_have(people: tuple[str, ...], count: int, load: dict[str, int]) -> None:
    """Whoever starts with least gets most; once there is enough to level out, nobody has two more than another."""
    found = assign(
        [Unassigned(number, "x", None) for number in range(count)], [AssignmentRule(frozenset(), None, people)], load
    )
    assert len(found) == count
    given_out = Counter(found.values())
    assert set(given_out) <= set(people)
    after = {name: load.get(name, 0) + given_out[name] for name in people}
    got = [after[name] for name in people if given_out[name]]
    assert all(after[name] >= max(got, default=0) - 1 for name in people), "nobody is passed over who has less"
    assert max(got, default=0) - min(got, default=0) <= 1 or count == 0


def test_whoever_has_a_business_elsewhere_gets_it_here() -> None:
    """One owner is not to be called by two people, whatever the rules say."""
    rules = [AssignmentRule(frozenset(), None, ("Ada", "Bo"))]
    asked = [Unassigned(number, "x", None) for number in (1, 2, 3)]
    assert assign(asked, rules, {}, {2: "Cy"}) == {1: "Ada", 2: "Cy", 3: "Bo"}
    assert assign(asked, [], {}, {2: "Cy"}) == {2: "Cy"}


@given(
    st.lists(st.tuples(st.sampled_from(["a", "b", "c"]), st.booleans()), max_size=30), st.permutations(["Ada", "Bo"])
)
def test_nobody_gets_what_no_rule_gives(asked: list[tuple[str, bool]], people: list[str]) -> None:
    rules = [
        AssignmentRule(frozenset({"a"}), None, tuple(people)),
        AssignmentRule(frozenset({"b"}), HARBOUR, (people[0],)),
    ]
    waiting = [Unassigned(number, trade, INSIDE if inside else OUTSIDE) for number, (trade, inside) in enumerate(asked)]
    expected = {number for number, (trade, inside) in enumerate(asked) if trade == "a" or (trade == "b" and inside)}
    assert set(assign(waiting, rules, {})) == expected
    assert assign(waiting, [AssignmentRule(frozenset(), None, ())], {}) == {}, (
        "a rule without people gives nothing away"
    )
