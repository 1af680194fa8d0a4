"""The truth about each site, from its features alone. Only tests and benchmarks read it, to measure how right an audit is."""

from dataclasses import dataclass

from openacorn.sim.pages import title_text
from openacorn.sim.site import PLACEHOLDERS, SILENT, TLS_FAULTS, Site


@dataclass(frozen=True, slots=True)
class Answer:
    """`outcome`: what is so. `decidable`: does what a visit without a browser can see decide it?"""

    outcome: str
    decidable: bool = True


GAP, PARTIAL, OK, NOT_APPLICABLE = "gap", "partial", "ok", "not applicable"
PAGE_CHECKS = (
    "viewport", "title", "meta_description", "headings", "image_alt", "analytics", "ad_pixel", "email_found",
    "phone_found", "social_links", "structured_data", "load_time",
)  # fmt: skip
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
    builder = site.host.endswith(("tidepages.example", "shopfront.example"))
    return {
        "answers": answers,
        "real_site": real,
        "https": Answer(https, secure_seen),
        "own_domain": Answer(GAP if builder else OK),
    }


def _load_time(site: Site) -> Answer:
    kilobytes = site.css_kb + site.js_kb + site.images * site.image_kb
    if site.delay_s > 4 or kilobytes > 4000:
        return Answer(GAP)
    # what is neither clearly slow nor clearly light cannot be told without a browser
    return Answer(OK, kilobytes < LIGHT_KB and site.delay_s < LIGHT_WAIT_S and site.look not in {"script", "frameset"})


def _page(site: Site) -> dict[str, Answer]:
    shown = site.look not in {"script", "frameset"}
    script = site.look == "script"
    text = title_text(site)
    title = GAP if text is None else PARTIAL if site.title == "generic" or len(text) > LONGEST_TITLE else OK
    pictures = site.images + (site.phone_where == "image" and shown)
    behind = site.manager or site.consent or script
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
    found["analytics"] = Answer(analytics, not behind and shown)
    found["ad_pixel"] = Answer(pixel, not behind and shown)
    reachable = {"home", "contact"}
    found["email_found"] = Answer(OK if site.email_where in reachable else GAP, shown)
    found["phone_found"] = Answer(OK if site.phone_where in reachable else GAP, shown)
    found["social_links"] = Answer(OK if site.socials else GAP, shown)
    return found


def site_truth(site: Site) -> dict[str, Answer]:
    """Check id → what is so, for a listed website that is visited."""
    found = _presence(site) | {"website_listed": Answer(OK)}
    if site.transport in SILENT:
        return found | {check: Answer(GAP, decidable=False) for check in PAGE_CHECKS}
    if site.look in PLACEHOLDERS:
        return found | {check: Answer(NOT_APPLICABLE) for check in PAGE_CHECKS}
    return found | _page(site)


def no_site_truth() -> dict[str, Answer]:
    """Check id → what is so, when no website is listed."""
    everything = ("answers", "real_site", "https", "own_domain", *PAGE_CHECKS)
    return {"website_listed": Answer(GAP)} | {check: Answer(NOT_APPLICABLE) for check in everything}


def social_truth() -> dict[str, Answer]:
    """Check id → what is so, when the listed website is a page on a social network."""
    rest = ("answers", "real_site", "https", *PAGE_CHECKS)
    return {"website_listed": Answer(OK), "own_domain": Answer(GAP)} | {check: Answer(NOT_APPLICABLE) for check in rest}
