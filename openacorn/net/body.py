"""Read a body no further than a limit, as it travels and as it unpacks: a small bomb must not become a large page."""

import zlib
from collections.abc import AsyncIterator
from dataclasses import dataclass

from openacorn.core.audit.evidence import Failure
from openacorn.net.errors import FetchError

CHUNK = 16_384


@dataclass(frozen=True, slots=True)
class Body:
    """`data` unpacked; `wire_bytes` as it came; `truncated` if a limit cut it."""

    data: bytes
    wire_bytes: int
    truncated: bool


def _unpacker(encoding: str) -> "zlib._Decompress | None":
    if encoding in {"gzip", "x-gzip"}:
        return zlib.decompressobj(zlib.MAX_WBITS | 16)
    if encoding == "deflate":
        return zlib.decompressobj()
    return None


async def read_body(chunks: AsyncIterator[bytes], encoding: str, limit: int) -> Body:
    """Return at most `limit` bytes of the unpacked body. Raises FetchError(PROTOCOL) if it does not unpack.

    Content codings of RFC 9110 §8.4.1: gzip and deflate (also raw, as some servers send it); we ask for no other.
    """
    unpack = _unpacker(encoding.strip().lower())
    parts: list[bytes] = []
    have = wire = 0
    async for chunk in chunks:
        wire += len(chunk)
        if unpack is None:
            piece = chunk[: limit - have]
        else:
            try:
                piece = unpack.decompress(chunk, limit - have)
            except zlib.error as error:
                if parts or encoding.strip().lower() != "deflate":
                    raise FetchError(Failure.PROTOCOL, f"the body is not valid {encoding}: {error}") from error
                unpack = zlib.decompressobj(-zlib.MAX_WBITS)
                try:
                    piece = unpack.decompress(chunk, limit - have)
                except zlib.error as second:
                    raise FetchError(Failure.PROTOCOL, f"the body is not valid {encoding}: {second}") from second
        parts.append(piece)
        have += len(piece)
        if have >= limit:
            return Body(b"".join(parts), wire, True)
    return Body(b"".join(parts), wire, False)
