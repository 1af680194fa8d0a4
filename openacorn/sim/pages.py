"""Pages of the simulated websites, rendered from a site's features. Nothing here knows how they are read."""

import html
import re
from collections.abc import Callable

from openacorn.sim.parts import (
    SERVICES,
    contacts,
    form,
    head,
    headings,
    hours,
    images,
    microdata,
    more,
    people,
    sentences,
    socials,
    street,
    viewport,
)
from openacorn.sim.scripts import SHELLS
from openacorn.sim.site import PLACEHOLDERS, Site
from openacorn.sim.spoken import TONGUES


def modern(site: Site) -> str:
    """Sections, a menu, pictures between texts."""
    texts, pictures = sentences(site, 6), images(site)
    sections = "".join(
        f"<section><h2>{SERVICES[(site.seed + i) % len(SERVICES)]}</h2><p>{text}</p>{pictures[i] if i < len(pictures) else ''}</section>"
        for i, text in enumerate(texts)
    )
    rest = "".join(pictures[len(texts) :])
    words = TONGUES[site.spoken]
    menu = f'<nav><a href="/">{words.start}</a> <a href="/about">{words.about}</a> <a href="/contact">{words.contact}</a> <a href="/privacy">{words.privacy}</a></nav>'
    footer = f"<footer>{contacts(site, 'home')}<p>{street(site)}{site.town}</p>{socials(site)}</footer>"
    return f"<!doctype html><html lang={site.spoken}>{head(site)}<body><header>{menu}{headings(site)}</header><main>{microdata(site, sections)}{rest}</main>{footer}</body></html>"


def cms(site: Site) -> str:
    """An old theme: sidebar, posts, widgets."""
    posts = "".join(
        f'<div class="post"><h3>{SERVICES[i % 8]}</h3><div class="entry"><p>{text}</p></div></div>'
        for i, text in enumerate(sentences(site, 5))
    )
    side = f'<div id="sidebar"><ul><li><a href="/contact-us.php">{TONGUES[site.spoken].contact}</a></li><li><a href="/?page_id=2">{TONGUES[site.spoken].about}</a></li></ul>{contacts(site, "home")}{socials(site)}</div>'
    body = f'<div id="wrapper">{headings(site)}{microdata(site, posts)}{"".join(images(site))}{side}</div>'
    return f'<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Transitional//EN"><html xmlns="http://www.w3.org/1999/xhtml">{head(site)}<body class="home blog">{body}</body></html>'


def relic(site: Site) -> str:
    """Tables for layout, font elements, a visitor counter."""
    cells = "".join(
        f'<tr><td bgcolor="#eeeecc"><font face="Verdana" size="2">{text}</font></td></tr>'
        for text in sentences(site, 5)
    )
    return (
        f"<HTML>{head(site)}<BODY BGCOLOR=#ffffff><CENTER><TABLE WIDTH=760 BORDER=0><TR><TD><FONT SIZE=6>{html.escape(site.name)}</FONT></TD></TR>{cells}"
        f"<TR><TD>{''.join(images(site))}</TD></TR><TR><TD><A HREF=contact.htm>Contact</A> {contacts(site, 'home')} {socials(site)}</TD></TR></TABLE></CENTER></BODY></HTML>"
    )


def shop(site: Site) -> str:
    """A small shop: products with prices."""
    goods = "".join(
        f'<article class="product"><h2>{SERVICES[i % 8]}</h2><p>{text}</p><span class="price">$ {20 + i * 15}.00</span><button>{TONGUES[site.spoken].cart}</button></article>'
        for i, text in enumerate(sentences(site, 6))
    )
    return (
        f'<!doctype html><html lang="{site.spoken}-AU">{head(site)}<body>{headings(site)}<div class="grid">{microdata(site, goods)}</div>{"".join(images(site))}'
        f'<footer><a href="/contact">{TONGUES[site.spoken].contact}</a>{contacts(site, "home")}{socials(site)}</footer></body></html>'
    )


def booking(site: Site) -> str:
    """A site around a booking button."""
    rows = "".join(f"<li><strong>{SERVICES[i % 8]}</strong> {text}</li>" for i, text in enumerate(sentences(site, 4)))
    return (
        f"<!doctype html><html lang={site.spoken}>{head(site)}<body>{headings(site)}<a class=button href=/book>{TONGUES[site.spoken].book}</a><ul>{microdata(site, rows)}</ul>{''.join(images(site))}"
        f"<nav><a href='/find-us'>{'Find us' if site.spoken == 'en' else TONGUES[site.spoken].contact}</a> <a href='/our-story'>{TONGUES[site.spoken].about}</a></nav><footer>{contacts(site, 'home')}{socials(site)}</footer></body></html>"
    )


def script(site: Site) -> str:
    """An application: the source holds an empty element and a bundle."""
    shell = SHELLS[site.seed % len(SHELLS)][0]
    return f'<!doctype html><html lang=en>{head(site)}<body><noscript>Please switch on scripts.</noscript>{shell}<script type="module" src="/assets/index.js"></script></body></html>'


def frameset(site: Site) -> str:
    """Two frames and nothing else."""
    return f'<html>{head(site)}<frameset cols="180,*"><frame src="/menu.htm"><frame src="/main.htm"></frameset></html>'


def parked(site: Site) -> str:
    """The domain is for sale."""
    forms = (
        f"<title>{site.host}</title><h1>{site.host}</h1><p>This domain is for sale! Make an offer today, or look at related searches.</p>",
        f"<title>{site.host} – parked</title><p>{site.host} is parked free, courtesy of Saltmarket Names.</p><ul><li>Insurance</li><li>Holidays</li></ul>",
        "<title>Expired</title><p>This domain has expired. If you are the owner, renew it now with your registrar.</p>",
    )
    return f"<!doctype html><html><head></head><body>{forms[site.seed % 3]}</body></html>"


def soon(site: Site) -> str:
    """Coming soon, for years."""
    forms = (
        "Our new website is coming soon. Watch this space!",
        "Under construction",
        "We are launching soon – please call us in the meantime.",
    )
    return f"<!doctype html><html><head><title>{html.escape(site.name)}</title>{viewport(site)}</head><body><h1>{html.escape(site.name)}</h1><p>{forms[site.seed % 3]}</p></body></html>"


def default(site: Site) -> str:
    """What the server shows before anyone puts a site there."""
    forms = (
        "<title>Welcome to nginx!</title><h1>Welcome to nginx!</h1><p>If you see this page, the web server is successfully installed and working. Further configuration is required.</p>",
        "<title>Apache2 Debian Default Page: It works</title><p>This is the default welcome page used to test the correct operation of the server after installation.</p>",
        "<title>Index of /</title><h1>Index of /</h1><pre>cgi-bin/</pre>",
        "<title>Account Suspended</title><h1>Account Suspended</h1><p>This account has been suspended. Contact your hosting provider for more information.</p>",
    )
    return f"<html><head></head><body>{forms[site.seed % 4]}</body></html>"


LOOKS: dict[str, Callable[[Site], str]] = {
    "modern": modern, "cms": cms, "relic": relic, "shop": shop, "booking": booking, "script": script,
    "frameset": frameset, "parked": parked, "soon": soon, "default": default,
}  # fmt: skip
CONTACT_PATHS = {"/contact", "/contact-us.php", "/contact.htm", "/find-us"}
ABOUT_PATHS = {"/about", "/our-story", "/"}


def contact_page(site: Site) -> str:
    """The inner page with whatever is not on the home page."""
    where = f"<h1>{TONGUES[site.spoken].contact}</h1><p>{street(site)}{site.town}</p>{contacts(site, 'contact')}<p>We are glad to hear from you.</p>{hours(site, 'contact')}{form(site, 'contact')}"
    return f"<!doctype html><html lang={site.spoken}><head><title>Contact {html.escape(site.name)}</title></head><body>{where}</body></html>"


def about_page(site: Site) -> str:
    """The inner page about the people."""
    lines = "".join(f"<p>{text}</p>" for text in sentences(site, 4)) + people(site, "about")
    return f"<!doctype html><html lang={site.spoken}><head><title>About {html.escape(site.name)}</title></head><body><h1>{TONGUES[site.spoken].about}</h1>{lines}</body></html>"


def _break(text: str) -> str:
    """What years of hand editing do: unclosed elements, stray ends, duplicate attributes, an early end of body."""
    return (
        text.replace("</p>", "")
        .replace("</section>", "</div>", 1)
        .replace("<p>", "<p class=x class=y>", 2)
        .replace("</main>", "</body>", 1)
    )


def render_body(site: Site) -> str:
    """What a page that a script builds shows once the script has run."""
    text = modern(site)
    return text[text.index("<body>") + len("<body>") : text.index("</body>")]


def render(site: Site, path: str) -> bytes | None:
    """Return the page at `path` in the site's encoding, None if there is none."""
    if path == "/":
        text = LOOKS[site.look](site)
        if site.look not in {*PLACEHOLDERS, "script", "frameset"}:
            text = re.sub("</body>", lambda end: more(site) + end.group(0), text, count=1, flags=re.IGNORECASE)
    elif path in CONTACT_PATHS:
        text = contact_page(site)
    elif path in ABOUT_PATHS:
        text = about_page(site)
    elif path in {"/menu.htm", "/main.htm"}:
        text = f"<html><body><p>{html.escape(site.name)}</p>{contacts(site, 'home')}</body></html>"
    else:
        return None
    if site.broken_markup:
        text = _break(text)
    # a wrong charset is declared UTF-8 (in the page) but written in the old Western encoding
    return text.encode("cp1252", "xmlcharrefreplace") if site.charset != "utf-8" else text.encode()
