"""New websites for businesses: begun from what is known, changed, shared, handed out as files."""

import io
import re
import secrets
import sqlite3
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any
from urllib.parse import urlsplit

from openacorn.business.store import audits, businesses, own_trades, pictures, pipeline
from openacorn.clock import now, utc_now
from openacorn.core.audit.checks.profile_theirs import is_makers
from openacorn.core.audit.evidence import Crawl
from openacorn.core.audit.reading_ease import reading_ease
from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES
from openacorn.core.starter.blocks import Passage, passages, read_blocks
from openacorn.core.starter.colours import SETS, leading_hue
from openacorn.core.starter.draft import PlacedPicture, Section, SiteDraft, SiteFacts
from openacorn.core.starter.outline import propose
from openacorn.core.starter.pictures import FORMS
from openacorn.core.starter.render import RenderOptions, SitePicture, render_site
from openacorn.core.starter.themes import all_themes, family_of, themes_for
from openacorn.core.writing.helper import Tone, Wish
from openacorn.errors import InvalidInput
from openacorn.outreach.owner_pages import REFUSED, TOKEN_BYTES
from openacorn.outreach.people import people_at
from openacorn.outreach.recipients import own_addresses
from openacorn.outreach.whereabouts import country_of, language_of_owner, language_of_site
from openacorn.settings import Settings
from openacorn.starter.old_site import own_crawl, own_pages
from openacorn.starter.pictures import placed
from openacorn.starter.store import site_pictures, starter_sites
from openacorn.starter.store.starter_sites import StarterSite

_FORM_TO = re.compile(r"https://[^\s\"<>]+|[^\s@\"<>/:?]+@[^\s@\"<>/:?]+\.[^\s@\"<>/:?]+")
MOST_SECTIONS, MOST_PARAGRAPHS = 40, 60
MOST_SOCIALS = 4
LEAST_JUDGED = 20
"""Spaces of a text whose ease of reading is computed."""

KEPT = 64
"""Websites whose files are kept, some 45 KB each."""


class SiteError(InvalidInput):
    """A website that cannot be made, changed or shared; the message says why."""

    where = "website"
    remedy = "choose otherwise; nothing was changed"


def old_pages(conn: sqlite3.Connection, business_id: int) -> tuple[list[Passage], int]:
    """(what the pages of the old website say, how many of them say anything)."""
    by_page = [read_blocks(html, url) for url, html in own_pages(conn, business_id)]
    return passages(block for blocks in by_page for block in blocks), sum(map(bool, by_page))


def _hours(row: Mapping[str, Any], crawl: Crawl | None) -> tuple[str, ...]:
    """Opening hours as listed, else as a page of the old website has them."""
    if row["hours"]:
        return tuple(part.strip() for part in str(row["hours"]).split(";") if part.strip())
    said = (page.content.hours for page in crawl.pages.all) if crawl and crawl.pages else ()
    return tuple(filter(None, said))[:1]


def _socials(contacts: Sequence[Mapping[str, Any]]) -> tuple[str, ...]:
    """Social profiles, without those of the old website's makers."""
    found = dict.fromkeys(str(item["value"]) for item in contacts if item["kind"] == "social")
    return tuple(profile for profile in found if not is_makers(profile))[:MOST_SOCIALS]


def site_facts(conn: sqlite3.Connection, row: Mapping[str, Any], settings: Settings) -> SiteFacts:
    """What is known of a business besides what its pages say."""
    audit = audits.get_evidence(conn, row["id"])
    contacts = audits.list_own_contacts(conn, row["id"])
    own = own_addresses(contacts, row["website"])
    trade = next((trade for trade in own_trades.trades_there(conn).trades if trade.id == row["trade"]), None)
    crawl = own_crawl(conn, row["id"], audit)
    home = crawl.pages.home if crawl and crawl.pages else None
    people = [person for person in people_at(conn, row, audit, contacts) if person.roles]
    return SiteFacts(
        name=row["name"], trade=trade.label.lower() if trade else "", trade_id=row["trade"], street=row["street"], town=row["town"],
        postcode=row["postcode"], country=country_of(row, settings.region), phone=row["phone"],
        email=row["email"] or next(iter(own), ""),
        hours=_hours(row, crawl), rating=row["rating"], reviews=row["reviews"], lat=row["lat"], lon=row["lon"],
        people=tuple((person.name, person.roles[0][0]) for person in people[:6]),
        socials=_socials(contacts), website=row["website"],
        description=(home.description or "") if home else "",
        language=language_of_site(audit) or language_of_owner(conn, row, audit, settings.region),
        sources="listings and registers",
    )  # fmt: skip


def _hue(conn: sqlite3.Connection, business_id: int) -> float | None:
    """The colour of the business's logo, else that of its old website's picture."""
    for logo in (
        picture for picture in site_pictures.list_pictures(conn, business_id) if picture.logo and picture.widths
    ):
        found = leading_hue(site_pictures.get_file(conn, business_id, logo.id, logo.widths[0], "webp"))
        if found is not None:
            return found
    look = pictures.get_picture(conn, business_id, "desk") or pictures.get_picture(conn, business_id, "phone")
    return leading_hue(look) if look else None


def begin(conn: sqlite3.Connection, business_id: int, by: str, settings: Settings) -> StarterSite:
    """Begin a website from what is known now, in place of the draft that there was; its versions stay. Raises NotFound."""
    row = businesses.get_business(conn, business_id)
    facts = site_facts(conn, row, settings)
    found, read = old_pages(conn, business_id)
    family = family_of(f"{facts.trade_id} {facts.trade}")
    theme = themes_for(family)[0]
    before = starter_sites.find_site(conn, business_id)
    shown = before.draft.pictures if before else ()
    draft = SiteDraft(facts, propose(facts, found, family), theme.id, theme.colours, read, shown)
    token = secrets.token_urlsafe(TOKEN_BYTES)
    starter_sites.save_draft(conn, business_id, draft, _hue(conn, business_id), token, utc_now(), by)
    return starter_sites.get_site(conn, business_id)


def change(
    conn: sqlite3.Connection, business_id: int, sections: Sequence[Section], pictures_: Sequence[PlacedPicture], theme: str,
    colours: str, form_to: str, by: str,
) -> StarterSite:  # fmt: skip
    """Save another outline, other copy or another look. Raises NotFound, SiteError."""
    site = starter_sites.get_site(conn, business_id)
    if theme not in {item.id for item in all_themes()}:
        raise SiteError(f"there is no theme {theme!r}")
    if colours not in SETS:
        raise SiteError(f"there are no colours {colours!r}; choose from {', '.join(SETS)}")
    if form_to and not _FORM_TO.fullmatch(form_to):
        raise SiteError("the contact form goes to an e-mail address, or to an address that begins with https://")
    if len(sections) > MOST_SECTIONS or any(len(section.paragraphs) > MOST_PARAGRAPHS for section in sections):
        raise SiteError(f"a website has at most {MOST_SECTIONS} sections of {MOST_PARAGRAPHS} paragraphs")
    if len({section.id for section in sections}) != len(sections):
        raise SiteError("two sections have one id")
    if strange := {item.id for item in pictures_} - {
        item.id for item in site_pictures.list_pictures(conn, business_id)
    }:
        raise SiteError(f"there is no picture {min(strange)} of this business")
    draft = replace(
        site.draft, sections=tuple(sections), pictures=tuple(pictures_), theme=theme, colours=colours, form_to=form_to
    )
    if draft != site.draft:
        starter_sites.save_draft(conn, business_id, draft, site.hue, site.token, utc_now(), by)
    return starter_sites.get_site(conn, business_id)


def restore(conn: sqlite3.Connection, business_id: int, number: int, by: str) -> StarterSite:
    """Go back to a version; what stood meanwhile stays one. Raises NotFound."""
    site = starter_sites.get_site(conn, business_id)
    earlier = starter_sites.get_version(conn, site.id, number)
    starter_sites.save_draft(conn, business_id, earlier, site.hue, site.token, utc_now(), by)
    return starter_sites.get_site(conn, business_id)


def share(conn: sqlite3.Connection, business_id: int, by: str) -> StarterSite:
    """Show the draft, as it stands, at its address; a new one after it was withdrawn. Raises NotFound, SiteError."""
    site = starter_sites.get_site(conn, business_id)
    row = businesses.get_business(conn, business_id)
    if row["relationship"] == REFUSED:
        raise SiteError(f"{row['name']} asked not to be contacted")
    token = secrets.token_urlsafe(TOKEN_BYTES) if site.withdrawn_at else site.token
    starter_sites.share(conn, site.id, utc_now(), token)
    pipeline.add_activity(conn, business_id, by, "shared the new website", utc_now(), "page")
    return starter_sites.get_site(conn, business_id)


def withdraw(conn: sqlite3.Connection, business_id: int, by: str) -> StarterSite:
    """Close its address. Raises NotFound."""
    site = starter_sites.get_site(conn, business_id)
    starter_sites.withdraw(conn, site.id, utc_now())
    pipeline.add_activity(conn, business_id, by, "withdrew the new website", utc_now(), "page")
    return starter_sites.get_site(conn, business_id)


def site_pictures_of(
    conn: sqlite3.Connection, business_id: int, draft: SiteDraft, *, final: bool
) -> tuple[SitePicture, ...]:
    """The pictures that a website shows. final: only those that its owner agreed to."""
    return (
        placed(site_pictures.list_pictures(conn, business_id), draft.pictures, agreed_only=final)
        if draft.pictures
        else ()
    )


def site_files(
    draft: SiteDraft, hue: float | None, shown: tuple[SitePicture, ...] = (), *, asks: bool
) -> Mapping[str, bytes]:
    """Path → file, without the files of its pictures. asks: show what is still to be asked of the owner."""
    return _files(draft, hue, shown, asks, now().year)


@lru_cache(maxsize=KEPT)
def _files(
    draft: SiteDraft, hue: float | None, shown: tuple[SitePicture, ...], asks: bool, year: int
) -> Mapping[str, bytes]:
    """Drawn once for a visitor who opens a page and asks for its style, its icon and the next page."""
    domain = urlsplit(draft.facts.website).netloc
    base = f"https://{domain}/" if domain else ""
    return render_site(draft, RenderOptions(year, base=base, asks=asks, hue=hue, pictures=shown))


def final_files(conn: sqlite3.Connection, site: StarterSite) -> dict[str, bytes]:
    """The whole website for its host: without what is still to be asked, with the pictures that its owner agreed to."""
    shown = site_pictures_of(conn, site.business_id, site.draft, final=True)
    files = dict(site_files(site.draft, site.hue, shown, asks=False))
    for picture in shown:
        for width in picture.widths:
            for form in FORMS:
                body = site_pictures.get_file(conn, site.business_id, int(picture.name), width, form)
                files[f"pictures/{picture.name}-{width}.{form}"] = body
    return files


def readability(draft: SiteDraft) -> dict[str, int]:
    """Section → how easily its text reads: Flesch's reading ease, of English text that is long enough to be judged."""
    if draft.facts.language.partition("-")[0] != "en":
        return {}
    texts = {
        section.id: " ".join(item.text for item in section.paragraphs if item.origin != "ask")
        for section in draft.sections
    }
    return {id_: round(reading_ease(text)) for id_, text in texts.items() if text.count(" ") >= LEAST_JUDGED}


def wish_for(draft: SiteDraft, text: str, tone: Tone) -> Wish:
    """What a writing helper is asked for a paragraph: whatever else the website says may be said."""
    facts = draft.facts
    language = facts.language.partition("-")[0]
    known = [facts.name, facts.trade, facts.town, facts.street, facts.phone, facts.email, *facts.hours]
    copy = [item.text for section in draft.sections for item in section.paragraphs if item.origin != "ask"]
    return Wish(
        text,
        tone,
        language if language in LANGUAGES else ENGLISH,
        "",
        list(dict.fromkeys(filter(None, [*known, *copy]))),
    )


def site_zip(files: Mapping[str, bytes]) -> bytes:
    """The files as a ZIP archive."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, body in sorted(files.items()):
            archive.writestr(path, body)
    return out.getvalue()
