"""Large values are stored compressed: by Zstandard (RFC 8878), which takes a fifth of zlib's time for a page of 75 kB.

What an earlier version stored by zlib (RFC 1950) is read as well.
"""

import sys
import zlib

if sys.version_info >= (3, 14):
    from compression import zstd
else:
    from backports import zstd

LEVEL = 3
BEGINNINGS = (b"\x28\xb5\x2f\xfd", b"\x78")
"""First bytes of what Zstandard writes (RFC 8878, 3.1.1) and of what zlib writes (RFC 1950, 2.2)."""


class NotCompressed(ValueError):
    """Bytes that neither of the two has written, or that are damaged."""


def compress(data: bytes) -> bytes:
    """Compress a value for the store."""
    return zstd.compress(data, LEVEL)


def decompress(data: bytes) -> bytes:
    """The value again. Raises NotCompressed."""
    try:
        return zstd.decompress(data) if data.startswith(BEGINNINGS[0]) else zlib.decompress(data)
    except (zstd.ZstdError, zlib.error) as error:
        raise NotCompressed(str(error)) from None
