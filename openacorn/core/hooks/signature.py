"""Signatures of webhooks, as the Standard Webhooks specification 1.0.0 has them (symmetric, HMAC-SHA256)."""

import base64
import binascii
import hashlib
import hmac

PREFIX = "whsec_"
KEY_BYTES = 32
LEAST_BYTES, MOST_BYTES = 24, 64
"""Bytes of a key, as the specification recommends."""


def key_of(secret: str) -> bytes:
    """The key in a secret. Raises ValueError if it is none."""
    try:
        key = base64.b64decode(secret.removeprefix(PREFIX), validate=True)
    except binascii.Error:
        raise ValueError("a secret is whsec_ and base64") from None
    if not LEAST_BYTES <= len(key) <= MOST_BYTES:
        raise ValueError(f"a secret holds {LEAST_BYTES} to {MOST_BYTES} bytes")
    return key


def secret_of(key: bytes) -> str:
    """A key as users copy it."""
    return PREFIX + base64.b64encode(key).decode()


def headers_of(secret: str, message_id: str, at: int, body: bytes) -> dict[str, str]:
    """The headers of a delivery. at: seconds since 1970. Raises ValueError."""
    signed = b".".join((message_id.encode(), str(at).encode(), body))
    digest = hmac.new(key_of(secret), signed, hashlib.sha256).digest()
    return {
        "webhook-id": message_id, "webhook-timestamp": str(at), "webhook-signature": f"v1,{base64.b64encode(digest).decode()}"
    }  # fmt: skip
