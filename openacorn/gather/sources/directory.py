"""Any paginated directory, read by a recipe that a user made."""

from dataclasses import replace

from openacorn.clock import utc_now
from openacorn.core.audit.address import host_of
from openacorn.core.audit.extract.decode import decode_html
from openacorn.core.gather.file_columns import RowError, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe, address_of, form_of, log_in_of
from openacorn.core.gather.recipe_finder import proposals
from openacorn.core.gather.recipe_reader import PageRead, gone_fields, read_details, read_page
from openacorn.core.gather.search_results import business_on, is_social, named, site_of
from openacorn.gather.sources._source import (
    Drawing,
    Endpoint,
    LogIn,
    Reading,
    Request,
    Source,
    SourceFailure,
    SourceReply,
)

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
    drawing = Drawing(plan.item, plan.next, plan.limit) if plan.drawn else None
    return Request(
        _address(query, plan), {}, headers, plan.pace_s, robots=True, form=form, log_in=log_in, drawing=drawing
    )


def _address(query: Query, plan: Recipe) -> str:
    return query.cursor or address_of(plan, query.word, query.place, query.page, query.seen)


def read(query: Query, endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page; a row without a name is counted as unreadable."""
    plan = _plan(endpoint)
    source, url = text_of_page(reply), reply.url or _address(query, plan)
    page = read_page(plan, source, url)
    _check_layout(plan, page, source, url)
    found = _results(page, query, url) if plan.results else _listed(page, plan, query, endpoint.region or "")
    counts = bool(plan.more) or any("{page}" in text for text in (plan.address, *plan.form.values()))
    counted = not page.next and counts and bool(page.rows)
    more = bool(page.next) or counted
    last = query.page >= plan.limit
    return replace(found, more=more and not last, cursor=page.next, cut=more and last)


def _listed(page: PageRead, plan: Recipe, query: Query, country: str) -> Reading:
    """The rows of a list as listings."""
    listings, own_pages, unreadable = [], [], 0
    columns = {rule.field: rule.field for rule in plan.fields if rule.field != "source"}
    for place, row in enumerate(page.rows):
        try:
            listing = read_row(row, columns, query.source, "", country)
        except RowError:
            unreadable += 1
            continue
        listings.append(_placed(listing, query, query.seen + place + 1))
        own_pages.append(page.own_pages[place])
    pages = tuple(own_pages) if plan.details else ()
    return Reading(tuple(listings), more=False, unreadable=unreadable, own_pages=pages)


def _results(page: PageRead, query: Query, url: str) -> Reading:
    """Results of a web search as listings, one a site; the site is read for the rest."""
    found: dict[str, Listing] = {}
    for place, row in enumerate(page.rows):
        site = site_of(row, url)
        if site and site not in found:
            name = named(row.get("name", ""), site)
            listing = Listing(query.source, site, name or host_of(site), website=site)
            found[site] = _placed(listing, query, query.seen + place + 1)
    own_pages = tuple("" if is_social(site) else site for site in found)
    return Reading(tuple(found.values()), more=False, left_out=len(page.rows) - len(found), own_pages=own_pages)


def text_of_page(reply: SourceReply) -> str:
    """A page's source, in the encoding that it is written in."""
    return decode_html(reply.body, reply.headers.get("content-type", ""))[0]


SURELY_A_LIST, LEAST_ROWS = 0.85, 5


def _check_layout(plan: Recipe, page: PageRead, source: str, url: str) -> None:
    """Raises SourceFailure where the recipe no longer fits the site: nothing of such a page is kept."""
    remedy = "open its recipe under Directories and point at the list again"
    gone = gone_fields(plan, page.rows)
    if gone:
        raise SourceFailure(f"the site's layout has changed: no {', no '.join(gone)} in {len(page.rows)} rows", remedy)
    if page.rows or not plan.usual:
        return
    found = proposals(source, url, plan.title, plan.address)
    if found and found[0].sure >= SURELY_A_LIST and found[0].items >= LEAST_ROWS:
        raise SourceFailure(f"the site's layout has changed: its list of {found[0].items} is not where it was", remedy)


def own_page(url: str, endpoint: Endpoint) -> Request:
    """Ask for a listing's own page."""
    plan = _plan(endpoint)
    if plan.results:
        return Request(url, {}, robots=True)
    headers = {plan.header: endpoint.key} if plan.header and endpoint.key else {}
    return Request(url, {}, headers, plan.pace_s, robots=True, drawing=Drawing() if plan.drawn else None)


def complete(listing: Listing, endpoint: Endpoint, reply: SourceReply) -> Listing | None:
    """A listing with the details of its own page; what the list itself said stays where the page says nothing."""
    plan = _plan(endpoint)
    if plan.results:
        return business_on(listing, text_of_page(reply), reply.url or listing.website, utc_now(), endpoint.region)
    row = read_details(plan, text_of_page(reply), reply.url)
    try:
        found = read_row({"name": listing.name, **row}, {field: field for field in ("name", *row)}, listing.source, "")
    except RowError:
        return listing
    told = {field: getattr(found, field) for field in row if getattr(found, field) not in ("", None)}
    return replace(listing, **told)


def _placed(listing: Listing, query: Query, rank: int) -> Listing:
    known_by, town = listing.source_id or listing.printed_id, listing.town or query.place
    return replace(listing, source=query.source, source_id=known_by, town=town, rank=rank, status="open")


SOURCE = Source(
    id="directory",
    title="Directory",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    own_page=own_page,
    complete=complete,
    by="places",
    hint="any website with pages of results, read by a plan of yours",
)
