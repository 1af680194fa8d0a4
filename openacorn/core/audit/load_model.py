"""Load time modelled on a stated profile: round trips × RTT + bytes ÷ bandwidth + server wait."""

from openacorn.core.audit.evidence import FileKind, Visit, Weights

RTT_S = 0.150
BANDWIDTH_BYTES_S = 1_600_000 / 8
PROFILE = "150 ms, 1.6 Mbit/s"
"""The "slow 4G" profile that public page-speed tools throttle to (from memory)."""

SETUP_ROUND_TRIPS = {"http": 2, "https": 3}
"""DNS and TCP handshake; TLS 1.3 adds one (RFC 8446 §2)."""


def modelled_seconds(visit: Visit, weights: Weights) -> tuple[float, bool]:
    """Return (seconds until everything is loaded, False if it is only a lower bound because sizes are missing).

    One level of files after the HTML costs one round trip, and each redirect one more; files of a level travel
    together, sharing the bandwidth. Scripts that load late (async, defer) do not keep the page from being shown, so their
    unknown size leaves the time complete.
    """
    scheme = visit.url.split(":", 1)[0]
    trips = SETUP_ROUND_TRIPS.get(scheme, 3) + 1 + max(0, len(visit.chain) - 1)
    if any(file.blocking for file in weights.files):
        trips += 1
    if any(file.kind is FileKind.IMAGE or not file.blocking for file in weights.files):
        trips += 1
    known = weights.html_bytes + sum(file.size or 0 for file in weights.files)
    needed = [file for file in weights.files if file.blocking or file.kind is FileKind.IMAGE]
    complete = weights.unweighed == 0 and all(file.size is not None for file in needed)
    return trips * RTT_S + known / BANDWIDTH_BYTES_S + visit.wait_s, complete
