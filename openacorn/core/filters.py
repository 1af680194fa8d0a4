"""Which businesses to show: one value for table, counts, export and address bar."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from openacorn.core.audit.finding import Outcome


class FilterError(ValueError):
    """A filter that makes no sense; the message names the field and what it may be."""


WEBSITE_CHOICES = ("none", "listed")
MAX_DIGITS = 18
"""What fits into 64 bits whatever the digits are."""

STATE_CHOICES = ("held", "rejected", "all")


@dataclass(frozen=True, slots=True)
class Filter:
    """Empty fields do not restrict. Within a field any value will do; between fields all must hold."""

    text: str = ""
    trades: tuple[str, ...] = ()
    towns: tuple[str, ...] = ()
    website: str = ""
    offers: tuple[str, ...] = ()
    checks: Mapping[str, tuple[Outcome, ...]] = field(default_factory=dict)
    shortlist: int | None = None
    run: int | None = None
    state: str = "held"
    ids: tuple[int, ...] = ()


def _outcomes(check: str, raw: str) -> tuple[Outcome, ...]:
    try:
        return tuple(Outcome(word.strip()) for word in raw.split(",") if word.strip())
    except ValueError:
        choices = ", ".join(Outcome)
        raise FilterError(f"check.{check}={raw}: an outcome is one of {choices}") from None


def _whole(name: str, raw: str) -> int:
    if not raw.isascii() or not raw.isdigit():
        raise FilterError(f"{name}={raw}: must be a whole number")
    if len(raw) > MAX_DIGITS:
        raise FilterError(f"{name}={raw[:MAX_DIGITS]}…: no id is that large")
    return int(raw)


def parse_filter(params: Mapping[str, str], known_checks: Sequence[str]) -> Filter:
    """Read a filter from address parameters: q, trade, town, website, offer, check.<id>, shortlist, run, state, ids.

    Lists are separated by commas (towns by "|", as a name may hold a comma). Raises FilterError for what it does not know.
    """

    def words(key: str, mark: str = ",") -> tuple[str, ...]:
        return tuple(part for part in params.get(key, "").split(mark) if part)

    checks = {}
    for key, raw in params.items():
        if key.startswith("check."):
            check = key.removeprefix("check.")
            if check not in known_checks:
                raise FilterError(f"there is no check {check!r}")
            if outcomes := _outcomes(check, raw):
                checks[check] = outcomes
    website, state = params.get("website", ""), params.get("state") or "held"
    if website and website not in WEBSITE_CHOICES:
        raise FilterError(f"website={website}: must be one of {', '.join(WEBSITE_CHOICES)}")
    if state not in STATE_CHOICES:
        raise FilterError(f"state={state}: must be one of {', '.join(STATE_CHOICES)}")
    return Filter(
        text=params.get("q", "").strip(),
        trades=words("trade"),
        towns=words("town", "|"),
        website=website,
        offers=words("offer"),
        checks=checks,
        shortlist=_whole("shortlist", params["shortlist"]) if params.get("shortlist") else None,
        run=_whole("run", params["run"]) if params.get("run") else None,
        state=state,
        ids=tuple(_whole("ids", part) for part in words("ids")),
    )


def _either(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " or " + words[-1]


def sentence(
    chosen: Filter, trade_names: Mapping[str, str], check_titles: Mapping[str, str], service_titles: Mapping[str, str]
) -> str:
    """Return the filter in words, clauses joined by " · "; "Everything held" for an empty one."""
    clauses = []
    if chosen.trades:
        clauses.append(_either([trade_names.get(trade, trade) for trade in chosen.trades]))
    if chosen.towns:
        clauses.append("in " + _either(chosen.towns))
    if chosen.website:
        clauses.append("no website listed" if chosen.website == "none" else "website listed")
    clauses += [f"{check_titles.get(c, c)}: {_either([str(o) for o in wanted])}" for c, wanted in chosen.checks.items()]
    if chosen.offers:
        clauses.append("best offer " + _either([service_titles.get(offer, offer) for offer in chosen.offers]))
    if chosen.text:
        clauses.append(f"“{chosen.text}” in name, town or site")
    if chosen.shortlist is not None:
        clauses.append("on this shortlist")
    if chosen.run is not None:
        clauses.append(f"seen in run {chosen.run}")
    if chosen.ids:
        clauses.append(f"{len(chosen.ids)} picked")
    if chosen.state != "held":
        clauses.append("rejected only" if chosen.state == "rejected" else "with rejected")
    words = " · ".join(clauses) or "everything held"
    return words[0].upper() + words[1:]
