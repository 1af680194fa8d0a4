"""The truth about each site, from its features alone. Only tests and benchmarks read it, to measure how right an audit is."""

from dataclasses import dataclass
from typing import Protocol

from openacorn.sim.pages import LOOKS
from openacorn.sim.parts import title_text
from openacorn.sim.site import PLACEHOLDERS, SILENT, TLS_FAULTS, Site


@dataclass(frozen=True, slots=True)
class Answer:
    """`outcome`: what is so. `decidable`: does what a visit without a browser can see decide it?"""

    outcome: str
    decidable: bool = True


GAP, PARTIAL, OK, NOT_APPLICABLE = "gap", "partial", "ok", "not applicable"
PAGE_CHECKS = (
    "viewport", "title", "meta_description", "headings", "image_alt", "analytics", "ad_pixel", "email_found",
    "phone_found", "social_links", "structured_data", "load_time", "mixed_content", "page_weight", "compression", "caching",
    "large_images", "fixed_layout", "tap_phone", "indexable", "sitemap", "heading_order", "language", "text_amount",
    "structured_properties", "meta_pixel", "google_ads_tag", "other_pixels", "tag_manager", "session_recording", "publisher_ads",
    "conversion_tracking", "consent", "hours_found", "contact_form", "people_named", "video", "readability", "copyright_year",
    "booking", "shop", "privacy_page", "chat", "dated_markup", "platform",
)  # fmt: skip
VISIT_CHECKS = ("https", "certificate_days", "https_redirect", "hsts", "server_wait", "robots_open")
MAIL_CHECKS = ("mail_host", "spf", "dmarc")
LISTING_CHECKS = ("trade_and_town", "site_ownership", "phone_agrees", "address_found", "profile_theirs")
"""Checks that compare the pages with what the listings say."""
SHOWN_LOOKS = frozenset(LOOKS)
LONGEST_TITLE = 70
LIGHT_KB, LIGHT_WAIT_S = 130, 0.3


def _presence(site: Site) -> dict[str, Answer]:
    dead = {"nxdomain", "refused", "timeout", "redirect_loop", "error_404", "error_500"}
    if site.transport in dead:
        answers = Answer(GAP)
    elif site.transport in {"forbidden", "robots"}:
        answers = Answer(OK, decidable=False)
    else:
        answers = Answer(PARTIAL if site.transport in TLS_FAULTS else OK)
    readable = site.transport not in SILENT
    real = Answer(GAP if site.look in PLACEHOLDERS else OK, readable and site.look not in {"script", "frameset"})
    unseen_in_the_clear = site.transport == "redirect_loop" or (site.transport == "robots" and not site.forces_https)
    secure_seen = site.transport not in {"nxdomain", "refused", "timeout"}
    secure_seen = secure_seen and not (site.listed_scheme == "http" and unseen_in_the_clear)
    if site.transport in TLS_FAULTS or site.transport == "plain_http":
        https = GAP
    else:
        in_the_clear = site.listed_scheme == "http" and not site.forces_https and not site.redirect_to
        https = PARTIAL if in_the_clear else OK
    return _security(site, secure_seen) | {
        "answers": answers,
        "real_site": real,
        "https": Answer(https, secure_seen),
        "own_domain": Answer(GAP if _builder(site) else OK),
    }


def _builder(site: Site) -> bool:
    return site.host.endswith(("tidepages.example", "shopfront.example"))


def _in_the_clear(site: Site) -> bool:
    """Does the listed address end on a page that came over plain HTTP?"""
    plain = site.listed_scheme == "http" and not site.forces_https and not site.redirect_to
    return plain or site.transport == "plain_http"


def _security(site: Site, secure_seen: bool) -> dict[str, Answer]:
    answers = site.transport in {"ok", "redirect_other", "plain_http", *TLS_FAULTS}
    faulty, clear = site.transport in TLS_FAULTS, _in_the_clear(site)
    days = GAP if site.transport == "cert_expired" else PARTIAL if site.cert_soon and not faulty else OK
    redirect = NOT_APPLICABLE if faulty or site.transport == "plain_http" else OK if site.forces_https else GAP
    shut = site.transport == "robots"
    return {
        "certificate_days": Answer(NOT_APPLICABLE if clear else days, answers and secure_seen),
        "https_redirect": Answer(redirect, answers),
        "hsts": Answer(
            NOT_APPLICABLE if clear or faulty else OK if site.hsts and site.look in SHOWN_LOOKS else GAP, answers
        ),
        "server_wait": Answer(GAP if site.delay_s > 4 else OK, answers),
        "robots_open": Answer(
            GAP if shut else OK, site.transport not in {"nxdomain", "refused", "timeout", "redirect_loop", "error_500"}
        ),
    }


def _load_time(site: Site) -> Answer:
    kilobytes = site.css_kb + site.js_kb + site.images * site.image_kb
    if site.delay_s > 4 or kilobytes > 4000:
        return Answer(GAP)
    # what is neither clearly slow nor clearly light cannot be known without a browser
    return Answer(OK, kilobytes < LIGHT_KB and site.delay_s < LIGHT_WAIT_S and site.look not in {"script", "frameset"})


def _page(site: Site) -> dict[str, Answer]:
    shown = site.look not in {"script", "frameset"}
    script = site.look == "script"
    text = title_text(site)
    title = GAP if text is None else PARTIAL if site.title == "generic" or len(text) > LONGEST_TITLE else OK
    pictures = site.images + (site.phone_where == "image" and shown) + (site.mixed and shown)
    behind = site.manager or site.consent or script or site.stranger
    schema = {"jsonld": OK, "microdata": OK, "organization": PARTIAL, "broken": PARTIAL, "": GAP}[site.schema]
    alt = OK if site.images_bare == 0 else GAP if site.images_bare >= 0.5 * pictures else PARTIAL
    found = {
        "viewport": Answer({"ok": OK, "fixed": PARTIAL, "none": GAP}[site.viewport], site.look != "frameset"),
        "title": Answer(title, shown or site.title != "none"),
        "meta_description": Answer(
            {"ok": OK, "short": PARTIAL, "none": GAP}[site.description], shown or site.description != "none"
        ),
        "headings": Answer({0: GAP, 1: OK}.get(site.h1, PARTIAL), shown),
        "image_alt": Answer(alt if pictures else NOT_APPLICABLE, shown),
        "structured_data": Answer(schema, (shown and not (site.manager and site.schema == "")) or schema == OK),
        "load_time": _load_time(site),
    }
    analytics = OK if site.analytics not in {"", "ua"} or site.hidden_analytics else GAP
    pixel = OK if site.pixels or site.hidden_pixel else GAP
    decidable = (
        not behind and shown and (analytics == OK or not site.recording)
    )  # who records visits may count them too
    found["analytics"] = Answer(analytics, decidable)
    counts = analytics if analytics == OK or site.analytics == "ua" else NOT_APPLICABLE
    found["retired_analytics"] = Answer(counts, decidable)
    found["ad_pixel"] = Answer(pixel, not behind and shown)
    reachable = {"home", "contact"}
    found["email_found"] = Answer(OK if site.email_where in reachable else GAP, shown)
    found["phone_found"] = Answer(OK if site.phone_where in reachable else GAP, shown)
    found["social_links"] = Answer(OK if site.socials else GAP, shown)
    return found | _tags(site, behind) | _weights(site) | _words(site) | _offers(site)


def _tags(site: Site, behind: bool) -> dict[str, Answer]:
    """What is in the source can be read; what is not may be loaded unseen."""
    shown = site.look not in {"script", "frameset"}

    def there(seen: bool, hidden: bool = behind) -> Answer:
        return Answer(OK if seen else GAP, seen or (shown and not hidden))

    bundled_pixel = site.bundled and site.hidden_pixel
    pixels = bool(site.pixels) or bundled_pixel
    watching = site.analytics in {"ga4", "matomo"} or pixels or site.recording or site.bundled
    consent = OK if site.consent else GAP if watching else NOT_APPLICABLE
    conversion = OK if site.conversion else GAP if pixels else NOT_APPLICABLE
    return {
        "meta_pixel": there("Meta" in site.pixels or bundled_pixel),
        "google_ads_tag": there("Google Ads" in site.pixels),
        "other_pixels": there(bool(set(site.pixels) - {"Meta", "Google Ads"})),
        "session_recording": there(site.recording),
        "chat": there(site.chat),
        "tag_manager": there(site.manager),
        "publisher_ads": Answer(PARTIAL if site.publisher else OK, site.publisher or (shown and not behind)),
        "conversion_tracking": Answer(
            conversion, conversion == OK or (conversion == NOT_APPLICABLE and shown and not behind)
        ),
        "consent": Answer(consent, consent == OK or watching or (shown and not behind)),
    }


def _weights(site: Site) -> dict[str, Answer]:
    shown = site.look not in {"script", "frameset"}
    kilobytes = site.css_kb + site.js_kb + site.images * site.image_kb
    foreign = site.stranger or site.consent or site.analytics in {"ga4", "plausible"} or "Google Ads" in site.pixels
    pictures = site.images + (site.phone_where == "image") + site.mixed if shown else 0
    size = GAP if site.images and site.image_kb >= 700 else PARTIAL if site.images and site.image_kb >= 300 else OK
    return {
        "page_weight": Answer(
            GAP if kilobytes >= 3000 else OK, kilobytes >= 3000 or (shown and not foreign and not site.mixed)
        ),
        "compression": Answer(OK if site.gzip else GAP, shown),
        "caching": Answer(OK if site.cached else GAP),
        "large_images": Answer(size if pictures else NOT_APPLICABLE, shown and not site.mixed),
        "mixed_content": Answer(NOT_APPLICABLE if _in_the_clear(site) else GAP if site.mixed else OK, shown),
    }


def _heading_order(site: Site) -> Answer:
    below = {"modern": (2, 6), "cms": (3, 5), "shop": (2, 6)}.get(site.look, (0, 0))
    if site.h1 + below[1] < 2:
        return Answer(NOT_APPLICABLE)
    return Answer(PARTIAL if site.h1 and below[0] > 2 else OK)


def _words(site: Site) -> dict[str, Answer]:
    shown = site.look not in {"script", "frameset"}
    full = site.schema_full and site.schema == "jsonld"
    properties = {"jsonld": OK if full else PARTIAL, "microdata": GAP}.get(site.schema, NOT_APPLICABLE)
    fixed = GAP if site.look == "relic" or site.fixed_width else OK
    year = {-1: NOT_APPLICABLE, 0: OK, 3: PARTIAL, 6: GAP}[site.years_old]
    spoken = site.look in {"modern", "booking", "script", "shop"}
    return {
        "text_amount": Answer(OK if site.long_text else PARTIAL, shown),
        "readability": Answer(GAP if site.jargon else OK, shown and site.spoken == "en"),
        "language": Answer(OK if spoken else GAP),
        "heading_order": Answer(_heading_order(site).outcome, shown),
        "indexable": Answer(GAP if site.noindex else OK, shown or site.noindex),
        "sitemap": Answer(OK if site.sitemap else GAP),
        "structured_properties": Answer(properties, shown),
        "fixed_layout": Answer(fixed, shown and (fixed == GAP or site.viewport != "none")),
        "copyright_year": Answer(year, shown),
        "dated_markup": Answer(GAP if site.look in {"relic", "frameset"} else OK, site.look != "script"),
        "platform": Answer(OK, site.look == "cms" or _builder(site)),
    }


def _offers(site: Site) -> dict[str, Answer]:
    """What customers can do on the pages read: the home page, the contact page, and the page about the people."""
    shown = site.look not in {"script", "frameset"}
    about = site.people_where == "about" and site.look in {"modern", "booking"}
    call = site.phone_where in {"home", "contact"}
    in_data = site.schema_full and site.schema in {"jsonld", "organization"}

    def there(seen: object) -> Answer:
        return Answer(OK if seen else GAP, shown)

    return {
        "hours_found": there(site.hours_where or in_data),
        "contact_form": there(site.form_where),
        "people_named": Answer(there(site.people_where == "home" or about).outcome, shown and site.spoken == "en"),
        "video": there(site.video),
        "booking": there(site.look == "booking" or site.book_link),
        "shop": there(site.look == "shop"),
        "privacy_page": there(site.look == "modern" or site.privacy_link),
        "tap_phone": Answer((OK if site.phone_how == "link" else GAP) if call else NOT_APPLICABLE, shown),
    }


def listing_truth(site: Site, business: "Listed") -> dict[str, Answer]:
    """Check id → what is so of the pages beside what the listings say; only where the listing and its site belong together."""
    if site.transport in SILENT:
        return {check: Answer(GAP, decidable=False) for check in LISTING_CHECKS}
    if site.look in PLACEHOLDERS:
        return {check: Answer(NOT_APPLICABLE) for check in LISTING_CHECKS}
    shown = site.look not in {"script", "frameset"}
    if business.wrong_site:
        return {"site_ownership": Answer(GAP, shown)}
    titled = site.title in {"ok", "long"}
    headed = shown and site.h1 > 0
    call = site.phone_where in {"home", "contact"}
    town = titled or (headed and site.town in site.name)
    named = OK if town and (titled or headed) else PARTIAL if town or titled or headed else GAP
    profile = NOT_APPLICABLE if not site.socials else GAP if site.social_maker else OK
    found = {
        "trade_and_town": Answer(named, shown or titled),
        "site_ownership": Answer(OK, shown and (call or titled or headed or site.address_shown)),
        "profile_theirs": Answer(profile, shown),
    }
    if business.town != site.town:
        del found["trade_and_town"]  # a branch on its chain's site, which names the first one's town
    if business.phone == site.phone:
        found["phone_agrees"] = Answer(OK if call else NOT_APPLICABLE, shown)
    if business.street == site.street:
        described = site.schema in {"jsonld", "organization"}
        found["address_found"] = Answer(
            OK if site.address_shown else GAP, shown and (site.address_shown or not described)
        )
    return found


class Listed(Protocol):
    """What the truth needs of a business."""

    phone: str
    street: str
    town: str
    wrong_site: bool


def site_truth(site: Site) -> dict[str, Answer]:
    """Check id → what is so, for a listed website that is visited."""
    found = (
        _presence(site) | _mail(site) | {"website_listed": Answer(OK), "no_website_confirmed": Answer(NOT_APPLICABLE)}
    )
    if site.transport in SILENT:
        return found | {check: Answer(GAP, decidable=False) for check in PAGE_CHECKS}
    if site.look in PLACEHOLDERS:
        return found | {check: Answer(NOT_APPLICABLE) for check in PAGE_CHECKS}
    return found | _page(site)


def _mail(site: Site) -> dict[str, Answer]:
    if site.transport in SILENT:
        return {check: Answer(GAP, decidable=False) for check in MAIL_CHECKS}
    if _builder(site):
        return {check: Answer(NOT_APPLICABLE) for check in MAIL_CHECKS} | {"name_domain": Answer(PARTIAL)}
    spf = {"hard": OK, "soft": OK, "neutral": PARTIAL}.get(site.spf, GAP)
    dmarc = {"reject": OK, "none": PARTIAL}.get(site.dmarc, GAP)
    return {
        "name_domain": Answer(NOT_APPLICABLE),
        "mail_host": Answer(OK if site.mx else GAP),
        "spf": Answer(spf if site.mx else NOT_APPLICABLE),
        "dmarc": Answer(dmarc if site.mx else NOT_APPLICABLE),
    }


def unlisted_truth(site: Site, business: "Listed") -> dict[str, Answer]:
    """Check id → what is so, for a site that no listing gives: it can be found, and is then audited like any other."""
    return (
        site_truth(site)
        | listing_truth(site, business)
        | {"website_listed": Answer(GAP), "no_website_confirmed": Answer(PARTIAL)}
    )


def no_site_truth() -> dict[str, Answer]:
    """Check id → what is so, when no website is listed and there is none."""
    everything = ("answers", "real_site", "own_domain", *VISIT_CHECKS, *PAGE_CHECKS, *LISTING_CHECKS, *MAIL_CHECKS)
    none = {"website_listed": Answer(GAP), "no_website_confirmed": Answer(GAP), "name_domain": Answer(PARTIAL)}
    return none | {check: Answer(NOT_APPLICABLE) for check in everything}


def social_truth() -> dict[str, Answer]:
    """Check id → what is so, when the listed website is a page on a social network."""
    rest = ("answers", "real_site", *VISIT_CHECKS, *PAGE_CHECKS, *LISTING_CHECKS, *MAIL_CHECKS)
    shown = {
        "website_listed": Answer(OK),
        "own_domain": Answer(GAP),
        "no_website_confirmed": Answer(GAP),
        "name_domain": Answer(PARTIAL),
    }
    return shown | {check: Answer(NOT_APPLICABLE) for check in rest}
