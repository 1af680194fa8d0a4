"""Can customers buy online?"""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import action, nowhere
from openacorn.core.audit.tag_evidence import all_tags

SHOPS = frozenset({"Shopify", "WooCommerce", "Magento", "PrestaShop"})


def evaluate(pages: Pages) -> Finding:
    """A cart's words on links and buttons, or a shop system in the page."""
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        if kind == TagKind.PLATFORM and vendor in SHOPS:
            return ok(vendor, f"a shop made with {vendor}", Evidence(page.url, page.at, hit.snippet))
    return action(pages, "shop") or nowhere(
        pages, "no shop on the pages read", "shop system, or link or button to buy", in_words=True, framed=True
    )


CHECK = Check(
    id="shop",
    group=Group.CONTENT,
    title="Online shop",
    why="A small shop sells while you are closed, and vouchers sell themselves.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.3,
    rank=30,
)
