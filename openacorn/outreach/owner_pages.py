"""Owners' pages: looked at again where that is due, made, shared; many at once as a run."""

import hashlib
import io
import secrets
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import orjson
from PIL import Image, UnidentifiedImageError

from openacorn.audit.auditor import audit_task_key
from openacorn.business.store import businesses, pictures, pipeline
from openacorn.clock import now, utc_now
from openacorn.core.audit.check import all_checks, owners_topics
from openacorn.core.gather.facts import DEFAULT
from openacorn.core.report.claims import MAX_AGE, too_old
from openacorn.core.report.letterhead import Letterhead, LetterheadError
from openacorn.core.report.owners_page import (
    SECTIONS,
    OwnersFacts,
    PeerLine,
    Peers,
    PhoneLook,
    compose,
    picture_marks,
)
from openacorn.errors import InvalidInput
from openacorn.outreach.pitch import Pitch, Pitcher
from openacorn.outreach.store import owner_pages
from openacorn.runs.store import sweeps, tasks
from openacorn.settings import Settings

SWEEP = "Owners' pages"
REFUSED = "refused"
TOKEN_BYTES = 18
"""144 bits: nobody finds an address by trying (OWASP asks for at least 64 bits of a session's; from memory)."""

LOGO_PX = (480, 160)
MOST_LOGO = 2_000_000
MOST_PIXELS = 16_000_000
"""A larger picture takes hundreds of megabytes to unpack, however small its file."""


class PageError(InvalidInput):
    """A page that cannot be made or shared; the message says why."""

    where = "page"
    remedy = "choose otherwise; nothing was changed"


@dataclass(frozen=True, slots=True)
class PageOrder:
    """What pages are asked for. again: look at every site again, however fresh; share: show them at once."""

    sections: tuple[str, ...] = SECTIONS
    service: str = ""
    again: bool = False
    share: bool = False
    by: str = ""


def check_sections(sections: Sequence[str]) -> None:
    """Raise PageError for an unknown section."""
    strange = [section for section in sections if section not in SECTIONS]
    if strange:
        raise PageError(f"there is no section {strange[0]!r}; choose from {', '.join(SECTIONS)}")


def queue_pages(conn: sqlite3.Connection, ids: Sequence[int], wanted: PageOrder) -> int:
    """A run that looks again at sites not seen lately and then makes everybody's page; returns its id. Raises PageError.

    Nobody who refused gets a page.
    """
    check_sections(wanted.sections)
    rows = [row for row in businesses.get_businesses(conn, ids) if row["relationship"] != REFUSED]
    if not rows:
        raise PageError("nobody is left to make a page for: they refused, or there are none")
    run_id = sweeps.add_run(conn, sweeps.gathering_nothing(conn, SWEEP, DEFAULT, utc_now()), utc_now())
    moment = now()
    due = [row for row in rows if wanted.again or too_old(row["audited_at"] or "", moment)]
    tasks.add_tasks(conn, run_id, "audit", map(audit_task_key, due))
    asked = {"sections": wanted.sections, "service": wanted.service, "share": wanted.share, "by": wanted.by}
    payloads = ((str(row["id"]), orjson.dumps({"business": row["id"], **asked}).decode()) for row in rows)
    tasks.add_tasks(conn, run_id, "page", payloads)
    return run_id


def _peers(pitch: Pitch) -> Peers | None:
    beside = pitch.peers
    if beside is None:
        return None
    topics = owners_topics()
    lines = tuple(PeerLine(topics[lack.check], lack.have, lack.of) for lack in beside.lacks if lack.check in topics)
    return Peers(pitch.trades or "businesses", pitch.row["reviews"], beside.no_more, beside.reviewed, lines[:5])


def _look(pitch: Pitch, picture: bytes | None, at: str) -> PhoneLook | None:
    """The site's picture on a phone, if there is one lately taken, with frames around what is claimed."""
    if picture is None or too_old(at, now()):
        return None
    crawl = pitch.audit.crawl if pitch.audit else None
    marks = picture_marks(pitch.selected.claims, pitch.findings, crawl.rendered if crawl else None)
    return PhoneLook(hashlib.sha256(picture).hexdigest(), at, marks)


def facts_of(pitch: Pitch, look: PhoneLook | None = None) -> OwnersFacts:
    """What a business's page says."""
    audit = pitch.audit
    crawl = audit.crawl if audit else None
    site = crawl.visit.url if crawl and crawl.visit.answered else pitch.row["website"]
    return compose(
        all_checks(), pitch.findings, pitch.selected, name=pitch.row["name"],
        website=site, looked_at=audit.at if audit else "", pages=len(crawl.pages.all) if crawl and crawl.pages else 0,
        peers=_peers(pitch), look=look, language=pitch.language,
    )  # fmt: skip


def create_page(conn: sqlite3.Connection, payloads: Sequence[str], region: str | None = None) -> list[str]:
    """Make the pages that units of work ask for; return a note for each that was not made. region: the agency's country."""
    pitcher, notes = Pitcher(conn, region=region), []
    for payload in payloads:
        asked = orjson.loads(payload)
        for row in businesses.get_businesses(conn, [asked["business"]]):
            if row["relationship"] == REFUSED:
                notes.append(f"{row['name']}: no page, as they refused")
                continue
            picture, taken = (
                pictures.get_picture(conn, row["id"], "phone"),
                dict(pictures.list_pictures(conn, row["id"])),
            )
            pitch = pitcher.pitch(row, (), asked["service"])
            facts = facts_of(pitch, _look(pitch, picture, taken.get("phone", "")))
            token = secrets.token_urlsafe(TOKEN_BYTES)
            page = owner_pages.upsert_draft(conn, row["id"], asked["sections"], facts, utc_now(), token)
            if picture and facts.look:
                owner_pages.put_picture(conn, page, facts.look.picture, picture)
            if asked["share"]:
                share(conn, page, asked["by"])
    return notes


def share(conn: sqlite3.Connection, page_id: int, by: str) -> None:
    """Show a page at its address. Raises NotFound; PageError if its facts are too old, or it was withdrawn, or they refused."""
    page = owner_pages.get_page(conn, page_id)
    row = businesses.get_business(conn, page.business_id)
    if page.withdrawn_at:
        raise PageError("this page was withdrawn: make a new one, at a new address")
    if row["relationship"] == REFUSED:
        raise PageError(f"{row['name']} asked not to be contacted")
    if too_old(page.made_at, now()):
        raise PageError(f"its facts are more than {MAX_AGE.days} days old: refresh it first")
    owner_pages.share(conn, page_id, utc_now())
    pipeline.add_activity(conn, page.business_id, by, "shared the owner's page", utc_now(), "page")


def withdraw(conn: sqlite3.Connection, page_id: int, by: str) -> None:
    """Close a page's address. Raises NotFound."""
    page = owner_pages.get_page(conn, page_id)
    owner_pages.withdraw(conn, page_id, utc_now())
    pipeline.add_activity(conn, page.business_id, by, "withdrew the owner's page", utc_now(), "page")


def letterhead(conn: sqlite3.Connection, settings: Settings) -> Letterhead:
    """The agency's letterhead; its name alone before one was set."""
    return owner_pages.letterhead(conn) or Letterhead(settings.agency)


def logo_of(body: bytes) -> bytes:
    """A picture as a logo: PNG, at most LOGO_PX. Raises LetterheadError for what is no picture, or too large a one."""
    if len(body) > MOST_LOGO:
        raise LetterheadError(f"the picture is larger than {MOST_LOGO // 1_000_000} MB: save it smaller")
    try:
        with Image.open(io.BytesIO(body), formats=("PNG", "JPEG", "WEBP", "GIF")) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise LetterheadError(f"the picture has {picture.width:,} × {picture.height:,} points: make it smaller")
            picture.thumbnail(LOGO_PX)
            out = io.BytesIO()
            picture.convert("RGBA").save(out, "PNG")
    except LetterheadError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise LetterheadError(f"this is no picture that can be read (PNG, JPEG, WebP, GIF): {error}") from None
    return out.getvalue()
