"""Everything that an audit loads once, loaded before the first."""

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, Pages, Visit, Weights
from openacorn.core.audit.extract.page import read_page

URL = "http://warm.example/"
SOURCE = """<title>Open</title><script src=/a.js></script><script>fbq('init', '1')</script><a href=/b>Book now</a><form><textarea>
</textarea></form><p>Book your table with us: (03) 5550 1234, open Monday to Friday 9 to 5. We are glad to see you soon."""


def warm_up() -> None:
    """Read and judge a page: tables, patterns and the model of languages are there then, and nobody's time is spent on them."""
    crawl = Crawl(Visit(URL, URL, "", (URL,), 200), Pages(read_page(SOURCE, URL, "")), Weights(len(SOURCE), (), 0))
    run_checks(assemble(ListingFacts("", URL, "", ""), crawl))
