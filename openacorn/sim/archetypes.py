"""The archetypes of the coast's websites: how often each occurs, and what it changes in a site's features."""

import random
from collections.abc import Callable

from openacorn.sim.site import Site

Change = Callable[[Site, random.Random], None]


def _set(**values: object) -> Change:
    def change(site: Site, _rng: random.Random) -> None:
        for name, value in values.items():
            setattr(site, name, value)

    return change


def _relic(site: Site, rng: random.Random) -> None:
    site.look, site.viewport, site.h1, site.schema = "relic", "none", 0, ""
    site.title = rng.choice(["ok", "generic", "generic"])
    site.description = rng.choice(["none", "none", "short"])
    site.images_bare = rng.randint(site.images // 2, site.images) if site.images else 0
    site.transport = rng.choice(["ok", "plain_http", "plain_http"])


def _script_built(site: Site, _rng: random.Random) -> None:
    site.look, site.analytics, site.pixels, site.schema = "script", "", [], ""
    site.hidden_analytics = site.hidden_pixel = True


def _manager(site: Site, rng: random.Random) -> None:
    site.manager, site.analytics, site.pixels = True, "", []
    site.hidden_analytics, site.hidden_pixel = True, rng.random() < 0.6


def _consent(site: Site, rng: random.Random) -> None:
    site.consent, site.analytics, site.pixels = True, "", []
    site.hidden_analytics, site.hidden_pixel = True, rng.random() < 0.5


def _redirect_other(site: Site, _rng: random.Random) -> None:
    site.transport, site.redirect_to = "redirect_other", "go-" + site.host


def _phone_image(site: Site, _rng: random.Random) -> None:
    site.phone_where = "image"
    if site.images == 0:
        site.images = 2


def _huge(site: Site, rng: random.Random) -> None:
    site.images, site.image_kb, site.js_kb = rng.randint(8, 10), 800, 300
    site.images_bare = min(site.images_bare, site.images)


ARCHETYPES: tuple[tuple[str, int, Change], ...] = (
    ("modern", 190, _set()),
    ("booking", 60, _set(look="booking")),
    ("shop", 50, _set(look="shop")),
    ("old_cms", 110, _set(look="cms")),
    ("table_relic", 60, _relic),
    ("builder", 55, _set()),
    ("plain_http", 45, _set(transport="plain_http")),
    ("cert_expired", 26, _set(transport="cert_expired")),
    ("cert_wrong_name", 18, _set(transport="cert_wrong_name")),
    ("cert_self_signed", 14, _set(transport="cert_self_signed")),
    ("nxdomain", 34, _set(transport="nxdomain")),
    ("refused", 20, _set(transport="refused")),
    ("timeout", 6, _set(transport="timeout")),
    ("parked", 26, _set(look="parked")),
    ("coming_soon", 24, _set(look="soon")),
    ("default_page", 18, _set(look="default")),
    ("redirect_other", 20, _redirect_other),
    ("redirect_loop", 10, _set(transport="redirect_loop")),
    ("forbidden", 16, _set(transport="forbidden")),
    ("robots", 10, _set(transport="robots")),
    ("error_404", 22, _set(transport="error_404")),
    ("error_500", 14, _set(transport="error_500")),
    ("script_built", 36, _script_built),
    ("very_slow", 14, _set(delay_s=4.6)),
    ("huge_home", 18, _huge),
    ("wrong_charset", 18, _set(charset="wrong")),
    ("missing_charset", 14, _set(charset="missing")),
    ("broken_markup", 24, _set(broken_markup=True)),
    ("frameset", 12, _set(look="frameset", viewport="none", h1=0, schema="", analytics="", pixels=[])),
    ("tag_manager", 70, _manager),
    ("consent_tags", 24, _consent),
    ("dead_analytics", 60, _set(analytics="ua")),
    (
        "hidden_email",
        40,
        lambda site, rng: setattr(site, "email_how", rng.choice(["at", "entity", "script", "protected"])),
    ),
    ("phone_image", 20, _phone_image),
)


SPEAKERS = ("de", "fr", "es", "it", "nl", "pl")


def draw_untidy(site: Site, rng: random.Random) -> None:
    """What keeps real sites from being read easily; drawn apart, as the coast got it last."""
    speaks, strange, bundles = rng.random() < 0.12, rng.random() < 0.08, rng.random() < 0.1
    tongue = rng.choice(SPEAKERS)
    if speaks and site.look in {"modern", "cms", "booking", "shop"} and not site.jargon:
        site.spoken = tongue
    site.stranger = strange and site.look not in {"script", "frameset"}
    if bundles and site.look in {"modern", "booking", "shop"} and not (site.manager or site.consent):
        site.bundled, site.hidden_analytics, site.hidden_pixel = True, True, "Meta" in site.pixels
        site.analytics, site.pixels = "", [net for net in site.pixels if net not in {"Meta", "Google Ads"}]
        site.conversion = False
    site.blocked = site.manager and rng.random() < 0.15
    site.log_in, site.numbers = rng.random() < 0.12, rng.random() < 0.2


def draw_features(site: Site, rng: random.Random) -> None:
    """Give a plain site its features, as they are spread over small businesses' sites (ours, for variety)."""
    roll = rng.random
    site.title = "ok" if roll() < 0.78 else rng.choice(["generic", "none", "long"])
    site.description = "ok" if roll() < 0.55 else rng.choice(["none", "none", "short"])
    site.viewport = "ok" if roll() < 0.82 else rng.choice(["none", "none", "fixed"])
    site.h1 = 1 if roll() < 0.68 else rng.choice([0, 2, 3])
    site.images = rng.choice([0, 2, 3, 4, 6])
    site.images_bare = 0 if roll() < 0.5 else rng.randint(0, site.images)
    site.analytics = rng.choice(["ga4", "ga4", "matomo", "plausible", "", "", ""])
    site.pixels = [
        net for net in ("Meta", "Google Ads", "LinkedIn", "TikTok", "Microsoft", "Pinterest") if roll() < 0.08
    ]
    site.email_where = rng.choice(["home", "contact", "contact", ""])
    site.email_how = rng.choice(["link", "link", "text"])
    site.phone_where = rng.choice(["home", "home", "contact", ""])
    site.phone_how = rng.choice(["link", "text"])
    site.socials = [
        net for net in ("facebook", "instagram", "linkedin", "youtube", "tiktok", "x", "pinterest") if roll() < 0.17
    ]
    site.share_buttons = roll() < 0.2
    site.schema = rng.choice(["jsonld", "microdata", "organization", "", "", ""]) if roll() > 0.04 else "broken"
    site.css_kb, site.js_kb = rng.randint(4, 40), rng.randint(5, 90)
    site.image_kb = rng.choice([6, 10, 14, 25, 60])
    site.gzip = roll() < 0.7
    site.seed = rng.randrange(10**6)


def draw_more(site: Site, rng: random.Random) -> None:
    """Features that came to the coast later, drawn apart so that what was there before stays as it was."""

    def chance(share: float) -> bool:
        return rng.random() < share

    site.hsts, site.mixed, site.cached, site.cert_soon = chance(0.3), chance(0.08), chance(0.5), chance(0.04)
    site.noindex, site.sitemap = chance(0.04), rng.choice(["", "robots", "usual"])
    site.fixed_width, site.address_shown = chance(0.06), chance(0.8)
    site.hours_where = rng.choice(["home", "contact", "", ""])
    site.form_where = rng.choice(["home", "contact", "contact", ""])
    site.people_where = rng.choice(["home", "about", "", ""])
    site.long_text, site.jargon = chance(0.3), chance(0.08)
    site.video, site.chat, site.book_link, site.privacy_link = chance(0.12), chance(0.12), chance(0.2), chance(0.4)
    site.recording, site.publisher = chance(0.08), chance(0.05)
    site.conversion = chance(0.4) and bool({"Meta", "Google Ads"} & set(site.pixels))
    site.social_maker, site.schema_full = chance(0.06) and bool(site.socials), chance(0.4)
    site.mx = chance(0.85)
    site.spf = rng.choice(["hard", "soft", "soft", "neutral", "open", "two", "", ""])
    site.dmarc = rng.choice(["reject", "none", "none", "two", "", "", ""])
    site.years_old = rng.choice([-1, 0, 0, 0, 3, 6])
    if site.manager or site.consent or site.look in {"script", "frameset"}:
        site.recording = site.publisher = site.conversion = site.chat = False
    if site.look == "relic":
        site.address_shown = True  # its contact page has always shown it
