"""Certificates: what a browser would say of the one shown."""

import ssl
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

from cryptography import x509
from cryptography.x509.oid import NameOID

from openacorn.core.audit.evidence import Certificate, TlsProblem

VERIFY_CODES = {
    9: TlsProblem.NOT_YET_VALID,
    10: TlsProblem.EXPIRED,
    18: TlsProblem.SELF_SIGNED,
    19: TlsProblem.UNTRUSTED,
    20: TlsProblem.UNTRUSTED,
    21: TlsProblem.UNTRUSTED,
    62: TlsProblem.WRONG_NAME,
    64: TlsProblem.WRONG_NAME,
}
"""OpenSSL's X509_V_ERR_* numbers (x509_vfy.h)."""


def contexts(ca_file: str | None) -> tuple[ssl.SSLContext, ssl.SSLContext]:
    """Return (a context that verifies as browsers do, one that does not). `ca_file` adds an issuer to the system's."""
    lax = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    lax.check_hostname = False
    lax.verify_mode = ssl.CERT_NONE
    return _strict(ca_file, Path(ca_file).stat().st_mtime_ns if ca_file else 0), lax


@lru_cache(maxsize=8)  # the system's authorities take a tenth of a second to load, more than a connection does
def _strict(ca_file: str | None, _changed: int) -> ssl.SSLContext:
    strict = ssl.create_default_context()
    if ca_file:
        strict.load_verify_locations(ca_file)
    return strict


def problem_of(error: BaseException) -> TlsProblem:
    """Return which problem a TLS error is about, looking through the HTTP library's wrapping."""
    seen: BaseException | None = error
    while seen is not None:
        code = getattr(seen, "verify_code", None)
        if isinstance(code, int):
            return VERIFY_CODES.get(code, TlsProblem.UNTRUSTED)
        seen = getattr(seen, "certificate_error", None) or seen.__cause__
    return TlsProblem.HANDSHAKE


@lru_cache(maxsize=1024)  # every answer of a site shows the same one
def read_certificate(der: bytes | None) -> Certificate | None:
    """Return what a certificate says of itself, unjudged; None if none was shown."""
    if not der:
        return None
    shown = x509.load_der_x509_certificate(der)
    organisation = shown.issuer.get_attributes_for_oid(NameOID.ORGANIZATION_NAME)
    names = organisation or shown.issuer.get_attributes_for_oid(NameOID.COMMON_NAME)
    issuer = str(names[0].value) if names else "an unnamed issuer"
    return Certificate(None, "", issuer, shown.not_valid_after_utc.isoformat())


def judged(shown: Certificate | None, problem: TlsProblem, system_says: str) -> Certificate:
    """Return the certificate with the verdict that verification passed on it, in words."""
    if shown is None:
        return Certificate(problem, system_says)
    words = {
        TlsProblem.EXPIRED: f"the certificate expired on {shown.not_after[:10]}",
        TlsProblem.SELF_SIGNED: "the certificate is signed by the site itself",
        TlsProblem.WRONG_NAME: "the certificate is made out to another name",
        TlsProblem.NOT_YET_VALID: "the certificate is not valid yet",
    }
    return replace(shown, problem=problem, detail=words.get(problem, f"browsers do not know the issuer {shown.issuer}"))
