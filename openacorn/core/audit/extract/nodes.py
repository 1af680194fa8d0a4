"""What is read off a single element."""

from selectolax.lexbor import LexborNode

SNIPPET_CHARS = 140


def attribute(node: LexborNode | None, name: str) -> str | None:
    """Return an attribute's value without spaces around it, None if there is none or it is empty."""
    return None if node is None else (node.attributes.get(name) or "").strip() or None


def snippet(node: LexborNode, most: int = SNIPPET_CHARS) -> str:
    """Return the beginning of an element's source, on one line."""
    return " ".join((node.html or "").split())[:most]
