"""Any paginated directory, read by a recipe that a user made."""

from dataclasses import replace

from openacorn.core.gather.file_columns import RowError, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe, address_of, form_of, log_in_of, read_page
from openacorn.gather.sources._source import Endpoint, LogIn, Reading, Request, Source, SourceFailure, SourceReply

CAP = 10_000
"""A directory shows all it has, page by page; the plan's page limit is what cuts."""

PAGE_SIZE = 20


def _plan(endpoint: Endpoint) -> Recipe:
    if endpoint.plan is None:
        raise SourceFailure("this directory has no recipe", "make one under Sources")
    return endpoint.plan


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for one page of a word at a place."""
    plan = _plan(endpoint)
    headers = {plan.header: endpoint.key} if plan.header and endpoint.key else {}
    form = {} if query.cursor else form_of(plan, query.word, query.place, query.page)
    log_in = LogIn(plan.log_in, log_in_of(plan, endpoint.key)) if plan.log_in else None
    return Request(_address(query, plan), {}, headers, plan.pace_s, robots=True, form=form, log_in=log_in)


def _address(query: Query, plan: Recipe) -> str:
    return query.cursor or address_of(plan, query.word, query.place, query.page, query.seen)


def _id_of(listing: Listing) -> str:
    """A directory that shows no ids is known by what it prints: name and place."""
    return listing.source_id or f"{listing.name.lower()} | {listing.street.lower()} {listing.postcode}"


def read(query: Query, endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page; a row without a name is counted as unreadable."""
    plan = _plan(endpoint)
    page = read_page(plan, reply.body.decode("utf-8", "replace"), _address(query, plan))
    listings, unreadable = [], 0
    columns = {rule.field: rule.field for rule in plan.fields if rule.field != "source"}
    for place, row in enumerate(page.rows):
        try:
            listing = read_row(row, columns, query.source, "")
        except RowError:
            unreadable += 1
            continue
        listings.append(_placed(listing, query, query.seen + place + 1))
    counts = bool(plan.more) or any("{page}" in text for text in (plan.address, *plan.form.values()))
    counted = not page.next and counts and bool(page.rows)
    more = bool(page.next) or counted
    last = query.page >= plan.limit
    return Reading(tuple(listings), more and not last, unreadable, page.next, cut=more and last)


def _placed(listing: Listing, query: Query, rank: int) -> Listing:
    town = listing.town or query.place
    return replace(listing, source=query.source, source_id=_id_of(listing), town=town, rank=rank, status="open")


SOURCE = Source(
    id="directory",
    title="Directory",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    by="places",
    hint="any website with pages of results, read by a plan of yours",
)
