"""Sources made to be slow, cut to what can be parsed: parsing takes quadratic time in the depth of nesting."""

import re

MOST_OPEN = 10_000
"""Elements left open at once; browsers themselves stop at a depth of 512 (Chromium's limit, from memory)."""

_TAG = re.compile(r"<(/?)([a-zA-Z][a-zA-Z0-9]*)")
_VOID = frozenset("area base br col embed hr img input link meta param source track wbr".split())
_CLOSED_BY_NEXT = frozenset("p li dt dd tr td th option thead tbody tfoot".split())
"""Elements whose end may be left out (HTML standard, 13.1.2.4): the next one ends them."""


def bounded(html: str) -> tuple[str, bool]:
    """(the source, was it cut?). Whole in all but sources that open thousands of elements and never close them."""
    if html.count("<") - 2 * html.count("</") <= MOST_OPEN:
        return html, False
    left_open = 0
    for tag in _TAG.finditer(html):
        name = tag.group(2).lower()
        if name in _VOID or name in _CLOSED_BY_NEXT:
            continue
        left_open += -1 if tag.group(1) else 1
        if left_open > MOST_OPEN:
            return html[: tag.start()], True
    return html, False
