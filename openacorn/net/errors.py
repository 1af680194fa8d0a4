"""Why a fetch failed.

FetchError ── every failure of one request, with its kind
"""

from openacorn.core.audit.evidence import Failure, TlsProblem


class FetchError(Exception):
    """`failure` is the kind, `detail` what the system said; `tls` is set when a certificate was the reason."""

    def __init__(self, failure: Failure, detail: str, tls: TlsProblem | None = None) -> None:
        super().__init__(f"{failure}: {detail}")
        self.failure = failure
        self.detail = detail
        self.tls = tls
