"""What a visitor could read on a page."""

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.extract.decode import decode_html

UNSEEN = ["script", "style", "template", "noscript", "svg"]


def visible_text(body: bytes, content_type: str) -> str:
    """The page's text with single spaces; what scripts, styles and templates hold is left out."""
    source, _ = decode_html(body, content_type)
    tree = LexborHTMLParser(source)
    tree.strip_tags(UNSEEN)
    return " ".join(tree.body.text(separator=" ").split()) if tree.body is not None else ""
