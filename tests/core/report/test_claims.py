"""What may be told to an owner: nothing unknown, modelled, unseen or old; the most valuable first."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.check import Group, all_checks
from openacorn.core.audit.finding import Evidence, Finding, Outcome, Value
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report import measured
from openacorn.core.report.claims import MAX_AGE, MODELLED, line_holds, select_claims, weights
from openacorn.core.report.owners_page import MOST_CLAIMS, PLAIN, OwnersFacts, compose
from openacorn.core.report.page_sentences import PageSentences
from openacorn.core.score.fit import Fit
from openacorn.core.score.opportunity import score_service
from openacorn.core.score.reach import Reach
from openacorn.core.score.service import all_services

NOW = datetime(2026, 11, 26, 9, tzinfo=UTC)
CHECKS = all_checks()
GROUP_OF = {check.id: check.group for check in CHECKS}
TOLD = {check.id: check.owner for check in CHECKS if check.owner}


def found(outcome: Outcome, days: float = 0, *, bare: bool = False, value: Value = None) -> Finding:
    shown = Evidence("https://kelp.example/", (NOW - timedelta(days=days)).isoformat(), "x")
    return Finding(outcome, value, () if bare else (shown,), "seen so")


def composed(findings: dict[str, Finding]) -> OwnersFacts:
    selected = select_claims(CHECKS, findings, {}, NOW)
    return compose(
        CHECKS, findings, selected, name="Kelp", website="https://kelp.example/",
        looked_at=NOW.isoformat(), pages=3, peers=None,
    )  # fmt: skip


FINDINGS = st.dictionaries(
    st.sampled_from([check.id for check in CHECKS]),
    st.builds(found, st.sampled_from(list(Outcome)), st.floats(0, 40), bare=st.booleans()),
)


@given(FINDINGS)
def test_a_claim_is_known_seen_lately_and_never_modelled(findings: dict[str, Finding]) -> None:
    selected = select_claims(CHECKS, findings, {}, NOW)
    for claim in selected.claims:
        finding = findings[claim.check]
        assert finding.outcome in {Outcome.GAP, Outcome.PARTIAL}
        assert claim.text == (TOLD[claim.check].claim if finding.outcome is Outcome.GAP else TOLD[claim.check].partly)
        assert NOW - datetime.fromisoformat(claim.evidence[0].at) <= MAX_AGE
        assert claim.check != MODELLED
    claimed, left = {claim.check for claim in selected.claims}, {item.check for item in selected.withheld}
    wrong = {check for check, finding in findings.items() if finding.outcome in {Outcome.GAP, Outcome.PARTIAL}}
    assert claimed.isdisjoint(left)
    covered = {other for check in claimed for other in TOLD[check].instead_of}
    assert wrong == claimed | left | (covered & wrong)  # nothing is lost without a word


@given(FINDINGS)
def test_a_page_names_what_is_fine_and_what_was_not_seen(findings: dict[str, Finding]) -> None:
    facts = composed(findings)
    assert len(facts.claims) <= MOST_CLAIMS
    for outcome, result in (
        (Outcome.OK, list(facts.fine)),
        (Outcome.UNKNOWN, [t for u in facts.unseen for t in u.topics]),
    ):
        assert sorted(result) == sorted(
            TOLD[check].topic for check, finding in findings.items() if finding.outcome is outcome and check in TOLD
        )
    groups: dict[str, list[Outcome]] = {PLAIN[check.group]: [] for check in CHECKS}
    for check in CHECKS:
        if check.id in TOLD and check.id in findings:
            groups[PLAIN[check.group]].append(findings[check.id].outcome)
    for mark in facts.marks:
        outcomes = groups[mark.group]
        assert any(outcome is not Outcome.NOT_APPLICABLE for outcome in outcomes)
        known = [outcome for outcome in outcomes if outcome in {Outcome.OK, Outcome.GAP, Outcome.PARTIAL}]
        if mark.mark is not None:
            assert (mark.mark == 100) == (set(known) == {Outcome.OK}) or 99.5 <= 100 * known.count(Outcome.OK) / len(
                known
            ) < 100


def test_owners_are_told_in_words_of_their_own() -> None:
    """No jargon: the terms below are of the trade alone (common practice)."""
    assert MODELLED not in TOLD
    assert "server_wait" not in TOLD  # asked once, by a machine that may itself have been busy
    assert "search_rank" not in TOLD  # 6 of 1,848 claims were false when measured against the simulated coast
    assert set(PLAIN) == set(Group)
    jargon = {
        "html",
        "css",
        "viewport",
        "meta",
        "dns",
        "spf",
        "dmarc",
        "pixel",
        "schema",
        "robots",
        "https",
        "hsts",
        "seo",
        "cms",
        "tag",
    }
    for check, words in TOLD.items():
        assert words.remedy, check
        assert words.claim or words.partly, check
        selected = " ".join((words.topic, words.claim, words.partly, words.remedy, PLAIN[GROUP_OF[check]])).lower()
        assert not jargon & set(selected.replace(".", " ").replace(",", " ").split()), check
        assert set(words.instead_of) <= set(TOLD), check


@pytest.mark.parametrize(
    ("findings", "expected"),
    [
        ({"title": found(Outcome.OK)}, "We found nothing to mend."),
        (
            {"title": found(Outcome.OK), "video": found(Outcome.UNKNOWN)},
            "We found nothing wrong in what we could look at.",
        ),
        ({"title": found(Outcome.UNKNOWN)}, "We could not check enough to say anything."),
        ({"title": found(Outcome.GAP)}, "We found one thing that could be better."),
        ({"title": found(Outcome.GAP), "video": found(Outcome.GAP)}, "We found 2 things that could be better."),
        ({"title": found(Outcome.OK), "load_time": found(Outcome.GAP, value=9.0)}, "We found nothing to mend."),
        ({"title": found(Outcome.OK), "video": found(Outcome.GAP, 20)}, "We found nothing to mend."),
    ],
)
def test_the_page_in_one_sentence(findings: dict[str, Finding], expected: str) -> None:
    assert PageSentences(Translator()).verdict(composed(findings)) == expected


def test_what_speaks_for_the_service_worth_most_comes_first() -> None:
    outcomes = {check.id: Outcome.OK for check in CHECKS} | {
        "viewport": Outcome.GAP,
        "spf": Outcome.GAP,
        "video": Outcome.GAP,
    }
    offers = [score_service(service, outcomes, Fit(0.5, ()), Reach(0.5, ())) for service in all_services()]
    worth = {offer.service: offer.value or 0.0 for offer in offers}
    matters = weights(offers)
    assert sum(matters.values()) == pytest.approx(
        sum(
            max(value, 1.0)
            for s, value in worth.items()
            if any(t.severity for o in offers if o.service == s for t in o.need.terms)
        )
    )
    findings = {check: found(outcome) for check, outcome in outcomes.items()}
    assert select_claims(CHECKS, findings, matters, NOW).claims[0].check == "viewport"
    led = select_claims(CHECKS, findings, weights(offers, "domain_mail"), NOW)
    assert led.claims[0].check == "spf"


def test_an_opening_line_needs_fresh_facts_that_are_not_modelled() -> None:
    findings = {"booking": found(Outcome.GAP, 3), "video": found(Outcome.GAP, 15), MODELLED: found(Outcome.GAP)}
    assert line_holds(["booking"], findings, NOW)
    assert not line_holds(["booking", "video"], findings, NOW)
    assert not line_holds([MODELLED], findings, NOW)
    assert not line_holds(["title"], findings, NOW)


def test_a_check_whose_gaps_were_too_often_wrong_is_not_told(monkeypatch: pytest.MonkeyPatch) -> None:
    findings = {check.id: found(Outcome.GAP) for check in CHECKS}
    told = {claim.check for claim in select_claims(CHECKS, findings, {}, NOW).claims}
    assert "privacy_page" in told
    monkeypatch.setattr(measured, "precisions", lambda: {"privacy_page": 0.99, "title": 0.995})
    selected = select_claims(CHECKS, findings, {}, NOW)
    assert {claim.check for claim in selected.claims} == told - {"privacy_page"}
    assert next(item.reason for item in selected.withheld if item.check == "privacy_page").startswith(
        "was wrong too often"
    )
